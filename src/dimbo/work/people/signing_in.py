"""Signing in and out, and who somebody is."""

from __future__ import annotations

import re
import secrets
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from dimbo.store.database import FULL, READ_ONLY, Conn, Database
from dimbo.store.people import accounts, sign_ins
from dimbo.store.people.accounts import Credentials, Person
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

from . import second_factor
from .passwords import is_right

TRIES, TRY_WINDOW = 8, timedelta(minutes=10)
"""Tries for one e-mail, or on one known device, before it must wait."""
ADDRESS_TRIES = ((40, TRY_WINDOW), (200, timedelta(days=1)))
"""Tries from one address, in a while and in a day. Devices on which the account was signed in before are not counted among them."""
SEEN_EVERY = timedelta(minutes=5)
Limits = tuple[tuple[int, timedelta], ...]
_EMAIL = re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+")
_WAIT = "Too many tries. Wait ten minutes, then sign in again."


@dataclass(frozen=True)
class Lasting:
    """How long a sign-in lasts: at most, and without being used."""

    days: int = 30
    idle_days: int = 14


@dataclass(frozen=True, kw_only=True)
class Asking:
    """Where a try comes from: its network address, the device's own token if it has one, and what the browser calls itself."""

    address: str
    device: str | None = None
    browser: str = ""


@dataclass(frozen=True)
class Tokens:
    """What the browser keeps: the sign-in, and the device's token, which outlasts it."""

    sign_in: str
    device: str


def check_email(email: str) -> str:
    """An address that mail can be sent to. Raises Refused."""
    email = email.strip()
    if len(email) > 200 or not email.isprintable() or not _EMAIL.fullmatch(email):
        raise Refused(Why.UNREADABLE, f"“{email[:60]}” is not an e-mail address. Write it like name@example.org.", "email")
    return email


def sign_in(db: Database, email: str, password: str, asking: Asking, now: datetime, lasts: Lasting, *, code: str = "") -> Tokens:
    """Check and start a sign-in. Every try is counted before the password is looked at; one that goes well is taken back.

    Tries on a device where the account was signed in before are counted apart, so that nobody else can lock its owner out.
    Raises Refused; with the field ``code`` when the password is right and the second factor is asked for.
    """
    email = email.strip()
    with db.anyone() as conn:
        found = accounts.credentials(conn, email)
        keys = _counted(conn, email, found, asking, now)
    if not is_right(password, kept=found.password_hash if found else None) or found is None:
        raise Refused(Why.NOT_YOURS, "E-mail or password is wrong. Capital letters count.")
    asks = found.totp_since is not None
    if asks and not code.strip():
        with db.anyone() as conn:
            sign_ins.take_back(conn, keys)
        raise SecondFactorAsked
    with db.practice(found.practice_id, found.client_id) as conn:
        if asks and not second_factor.passes(conn, found, code, now):
            raise Refused(Why.NOT_YOURS, "This code does not fit, or was used before. Type the newest, or a recovery code.", "code")
        sign_ins.take_back(conn, keys)
        sign_ins.forget_tries(conn, f"mail:{email.lower()}")
        return start(conn, found.id, asking, now, lasts)


class SecondFactorAsked(Refused):
    """The password is right, and the account asks for a code besides."""

    def __init__(self) -> None:
        super().__init__(Why.NEEDED, "Type the code that your authenticator shows, or a recovery code.", "code")


def _counted(conn: Conn, email: str, found: Credentials | None, asking: Asking, now: datetime) -> list[str]:
    """Count a try; returns the keys that it was counted under. Raises Refused when there were too many."""
    device = token_hash(asking.device) if asking.device else None
    if found and device and sign_ins.is_known(conn, device, found.id):
        keys: dict[str, Limits] = {f"device:{found.id}:{device.hex()[:16]}": ((TRIES, TRY_WINDOW),)}
    else:
        keys = {f"mail:{email.lower()[:200]}": ((TRIES, TRY_WINDOW),), f"from:{asking.address}": ADDRESS_TRIES}
    for key, limits in keys.items():
        for n, (most, window) in enumerate(limits):
            if not sign_ins.try_once(conn, key, most, now - window, count=n == 0):
                raise Refused(Why.TOO_MANY, _WAIT)
    return list(keys)


def start(conn: Conn, account_id: UUID, asking: Asking, now: datetime, lasts: Lasting) -> Tokens:
    """A sign-in of an account, within a transaction."""
    tokens = Tokens(secrets.token_urlsafe(32), device=asking.device or secrets.token_urlsafe(24))
    ends = now + timedelta(days=lasts.days)
    sign_ins.start(conn, account_id, token_hash(tokens.sign_in), ends, device=device_words(asking.browser))
    sign_ins.know(conn, token_hash(tokens.device), account_id)
    return tokens


_SYSTEMS = (("iphone", "iPhone"), ("ipad", "iPad"), ("android", "Android"), ("windows", "Windows"), ("mac os", "Mac"), ("linux", "Linux"))
_BROWSERS = (("edg/", "Edge"), ("firefox/", "Firefox"), ("chrome/", "Chrome"), ("safari/", "Safari"))


def device_words(browser: str) -> str:
    """What a browser calls itself, in the two words by which people know their devices."""
    text = browser.lower()
    system = next((name for sign, name in _SYSTEMS if sign in text), "")
    kind = next((name for sign, name in _BROWSERS if sign in text), "")
    return " on ".join(x for x in (kind, system) if x) or "another program"


def sign_out(db: Database, token: str) -> None:
    with db.anyone() as conn:
        sign_ins.end(conn, token_hash(token))


def who(db: Database, token: str | None, lasts: Lasting) -> Person | None:
    """The person behind a sign-in token, or nobody."""
    if not token:
        return None
    with db.glance() as conn:
        hashed = token_hash(token)
        found = sign_ins.person(conn, hashed, timedelta(days=lasts.idle_days))
        if found:
            with suppress(FULL, READ_ONLY):  # what is there can be read all the same
                sign_ins.touch(conn, hashed, SEEN_EVERY)
        return found
