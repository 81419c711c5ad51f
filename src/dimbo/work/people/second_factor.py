"""The optional second factor: a code that changes every 30 seconds (TOTP, RFC 6238), and recovery codes for a lost device."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime

import pyotp
import segno

from dimbo.store.database import Conn, Database
from dimbo.store.people import accounts
from dimbo.store.people.accounts import Credentials, Person
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

from .passwords import is_right

RECOVERY_CODES = 8
STEP_S = 30
AROUND = 1
"""Steps before and after now that are taken as well: clocks differ."""
_LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"


@dataclass(frozen=True)
class Setup:
    """What an authenticator takes: the secret in letters, and a picture of it (SVG)."""

    secret: str
    picture: str


def begin(db: Database, person: Person, password: str) -> Setup:
    """A new secret, not asked for until its first code was typed. Raises Refused."""
    with db.of(person) as conn:
        known = accounts.secrets_of(conn, person.id)
    if known.totp_since is not None:
        raise Refused(Why.ALREADY, "A second factor is in use. Switch it off first to set up another.")
    _with_password(known, password)
    secret = pyotp.random_base32()
    with db.of(person) as conn:
        accounts.change(conn, person.id, totp_secret=secret, totp_step=None)
    link = pyotp.TOTP(secret).provisioning_uri(name=known.email, issuer_name=person.practice_name)
    return Setup(secret, picture=segno.make(link, error="m").svg_inline(omitsize=True, border=2, dark="#171512", light="#ffffff"))


def switch_on(db: Database, person: Person, code: str, now: datetime) -> list[str]:
    """Ask for the factor from now on; returns the recovery codes, which are shown once. Raises Refused."""
    with db.of(person) as conn:
        known = accounts.secrets_of(conn, person.id)
        if known.totp_secret is None or known.totp_since is not None:
            raise Refused(Why.NOT_NOW, "Begin to set up the second factor first.", "code")
        if not _takes(conn, known, code, now):
            raise Refused(Why.UNREADABLE, "This code does not fit. Check that the device's clock is right, and type the newest.", "code")
        accounts.change(conn, person.id, totp_since=now)
        codes = [_recovery_code() for _ in range(RECOVERY_CODES)]
        accounts.set_recovery_codes(conn, person.practice_id, account_id=person.id, hashes=[token_hash(plain(c)) for c in codes])
    return codes


def switch_off(db: Database, person: Person, password: str) -> None:
    """Raises Refused."""
    with db.of(person) as conn:
        known = accounts.secrets_of(conn, person.id)
    _with_password(known, password)
    with db.of(person) as conn:
        accounts.change(conn, person.id, totp_secret=None, totp_since=None, totp_step=None)
        accounts.set_recovery_codes(conn, person.practice_id, account_id=person.id, hashes=[])


def passes(conn: Conn, known: Credentials, code: str, now: datetime) -> bool:
    """Whether a code opens the account: the device's, each once, or a recovery code, each once."""
    if _takes(conn, known, code, now):
        return True
    return len(plain(code)) > 6 and accounts.use_recovery_code(conn, known.id, token_hash(plain(code)))


def plain(code: str) -> str:
    """A code as it is compared: without spaces and dashes, in small letters."""
    return "".join(c for c in code.lower() if c.isalnum())


def _takes(conn: Conn, known: Credentials, code: str, now: datetime) -> bool:
    if known.totp_secret is None:
        return False
    here = int(now.timestamp()) // STEP_S
    made = pyotp.TOTP(known.totp_secret)
    fits = [s for s in range(here - AROUND, here + AROUND + 1) if secrets.compare_digest(made.generate_otp(s), plain(code))]
    return bool(fits) and accounts.take_step(conn, known.id, fits[0])


def _recovery_code() -> str:
    return "-".join("".join(secrets.choice(_LETTERS) for _ in range(5)) for _ in range(2))


def _with_password(known: Credentials, password: str) -> None:
    if not is_right(password, kept=known.password_hash):
        raise Refused(Why.NOT_YOURS, "This is not your password.", "password")
