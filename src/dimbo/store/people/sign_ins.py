"""Where accounts are signed in, the tries to sign in, and the devices on which somebody was signed in before."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from dimbo.store.database import Conn, many, one_or_none

from .accounts import Person


@dataclass(frozen=True, kw_only=True)
class SignIn:
    """One place where an account is signed in. ``here`` is the one that asks."""

    id: UUID
    device: str
    created_at: datetime
    seen_at: datetime
    here: bool


def start(conn: Conn, account_id: UUID, token_hash: bytes, expires_at: datetime, device: str) -> None:
    conn.execute("delete from sign_ins where expires_at < now()")
    conn.execute(
        "insert into sign_ins (token_hash, account_id, expires_at, device) values (%s, %s, %s, %s)",
        (token_hash, account_id, expires_at, device),
    )


def end(conn: Conn, token_hash: bytes) -> None:
    conn.execute("delete from sign_ins where token_hash = %s", (token_hash,))


def end_one(conn: Conn, account_id: UUID, sign_in_id: UUID) -> bool:
    """False when it has ended already."""
    return conn.execute("delete from sign_ins where account_id = %s and id = %s", (account_id, sign_in_id)).rowcount == 1


def end_all(conn: Conn, account_id: UUID, *, but: bytes | None = None) -> int:
    """Sign an account out everywhere, but for one sign-in; returns how many ended."""
    done = conn.execute("delete from sign_ins where account_id = %s and token_hash is distinct from %s", (account_id, but))
    return done.rowcount


def of_account(conn: Conn, account_id: UUID, here: bytes) -> list[SignIn]:
    """Where an account is signed in, the last used first."""
    return many(
        conn,
        SignIn,
        """
        select id, device, created_at, seen_at, token_hash = %s as here
        from sign_ins
        where account_id = %s and expires_at > now()
        order by seen_at desc, id""",
        (here, account_id),
    )


def person(conn: Conn, token_hash: bytes, idle: timedelta) -> Person | None:
    """Whom a sign-in token belongs to, while it lasts and was used within ``idle``."""
    return one_or_none(conn, Person, "select * from account_by_token(%s, %s)", (token_hash, idle))


def touch(conn: Conn, token_hash: bytes, every: timedelta) -> None:
    """Note that a sign-in was used, at most once in a while."""
    conn.execute("update sign_ins set seen_at = now() where token_hash = %s and seen_at < now() - %s::interval", (token_hash, every))


def try_once(conn: Conn, key: str, most: int, since: datetime, *, count: bool = True) -> bool:
    """Count a try before it is looked at (unless it was counted already); False when there were ``most`` since then. Two tries
    at once are counted one after the other."""
    conn.execute("select pg_advisory_xact_lock(hashtext(%s))", (key,))
    row = conn.execute("select count(*) from failed_sign_ins where key = %s and at > %s", (key, since)).fetchone()
    if row and row[0] >= most + (not count):
        return False
    if count:
        conn.execute("delete from failed_sign_ins where at < now() - interval '1 day'")
        conn.execute("insert into failed_sign_ins (key) values (%s)", (key,))
    return True


def take_back(conn: Conn, keys: list[str]) -> None:
    """The newest try of each key went well and counts no more."""
    conn.execute(
        """
        delete from failed_sign_ins f
        using (select distinct on (key) key, ctid as place from failed_sign_ins where key = any(%s) order by key, at desc) last
        where f.key = last.key and f.ctid = last.place""",
        (keys,),
    )


def forget_tries(conn: Conn, key: str) -> None:
    conn.execute("delete from failed_sign_ins where key = %s", (key,))


def know(conn: Conn, token_hash: bytes, account_id: UUID) -> None:
    """An account was signed in on a device."""
    conn.execute(
        """
        insert into known_devices (token_hash, account_id)
        values (%s, %s)
        on conflict (token_hash, account_id) do update set seen_at = now()""",
        (token_hash, account_id),
    )


def is_known(conn: Conn, token_hash: bytes, account_id: UUID) -> bool:
    row = conn.execute(
        "select exists (select from known_devices where token_hash = %s and account_id = %s)", (token_hash, account_id)
    ).fetchone()
    return bool(row and row[0])
