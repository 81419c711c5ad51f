"""Accounts, sign-ins and invitations."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from psycopg.errors import UniqueViolation

from dimbo.store.database import Conflict, Conn, add, new_id, one_or_none


@dataclass(frozen=True, kw_only=True)
class Person:
    """Who is signed in. ``client_id`` is set for clients only."""

    id: UUID
    practice_id: UUID
    role: str
    """Whose pages: coach or client."""
    client_id: UUID | None
    name: str
    practice_name: str
    standing: str = "coach"
    """What somebody is in the practice: owner, coach, assistant or client."""
    sees_all: bool = True
    """Whether all clients are seen, or the own ones and those of some colleagues."""


@dataclass(frozen=True, kw_only=True)
class Credentials:
    id: UUID
    practice_id: UUID
    role: str
    client_id: UUID | None
    name: str
    password_hash: str


@dataclass(frozen=True, kw_only=True)
class Invitation:
    practice_id: UUID
    client_id: UUID
    email: str
    client_name: str
    practice_name: str
    expired: bool
    used: bool


def credentials(conn: Conn, email: str) -> Credentials | None:
    return one_or_none(conn, Credentials, "select * from account_by_email(%s)", (email,))


def email_taken(conn: Conn, email: str) -> bool:
    return conn.execute("select email_taken(%s)", (email,)).fetchone() == (True,)


def create(
    conn: Conn,
    practice_id: UUID,
    role: str,
    client_id: UUID | None,
    name: str,
    email: str,
    password_hash: str,
    *,
    standing: str = "coach",
) -> UUID:
    """A new account; ``standing`` is what somebody who works in the practice is. Raises Conflict when the e-mail already has one."""
    values = {
        "practice_id": practice_id,
        "role": role,
        "client_id": client_id,
        "name": name,
        "email": email,
        "password_hash": password_hash,
        "standing": "client" if role == "client" else standing,
    }
    try:
        return new_id(add(conn, "accounts", values, "returning id"))
    except UniqueViolation as error:
        raise Conflict("This e-mail address already has an account. Sign in with it.") from error


def start_sign_in(conn: Conn, account_id: UUID, token_hash: bytes, expires_at: datetime) -> None:
    conn.execute("delete from sign_ins where expires_at < now()")
    conn.execute("insert into sign_ins (token_hash, account_id, expires_at) values (%s, %s, %s)", (token_hash, account_id, expires_at))


def end_sign_in(conn: Conn, token_hash: bytes) -> None:
    conn.execute("delete from sign_ins where token_hash = %s", (token_hash,))


def person(conn: Conn, token_hash: bytes) -> Person | None:
    """Whom a sign-in token belongs to, while it lasts."""
    return one_or_none(conn, Person, "select * from account_by_token(%s)", (token_hash,))


def failures(conn: Conn, key: str, since: datetime) -> int:
    row = conn.execute("select count(*) from failed_sign_ins where key = %s and at > %s", (key, since)).fetchone()
    return int(row[0]) if row else 0


def note_failure(conn: Conn, keys: list[str]) -> None:
    conn.execute("delete from failed_sign_ins where at < now() - interval '1 day'")
    conn.execute("insert into failed_sign_ins (key) select unnest(%s::text[])", (keys,))


def forget_failures(conn: Conn, key: str) -> None:
    conn.execute("delete from failed_sign_ins where key = %s", (key,))


def invite(conn: Conn, practice_id: UUID, client_id: UUID, email: str, token_hash: bytes, expires_at: datetime) -> None:
    """A new invitation; earlier unused ones of this client end."""
    conn.execute("delete from invitations where client_id = %s and used_at is null", (client_id,))
    conn.execute(
        "insert into invitations (token_hash, practice_id, client_id, email, expires_at) values (%s, %s, %s, %s, %s)",
        (token_hash, practice_id, client_id, email, expires_at),
    )


def invitation(conn: Conn, token_hash: bytes) -> Invitation | None:
    return one_or_none(conn, Invitation, "select * from invitation_by_token(%s)", (token_hash,))


def coaches(conn: Conn) -> dict[UUID, str]:
    """The coaches and assistants of a practice by id, also those who have left."""
    return dict(conn.execute("select id, name from accounts where role = 'coach' order by created_at").fetchall())


def at_work(conn: Conn, account_id: UUID) -> Person | None:
    """Somebody who works in the practice now, asked in any transaction of it; None for those who have left."""
    return one_or_none(conn, Person, "select * from account_at_work(%s)", (account_id,))


def coaches_now(conn: Conn) -> dict[UUID, str]:
    """Those who work in the practice now, by id."""
    return dict(conn.execute("select id, name from coaches_at_work()").fetchall())


def use_invitation(conn: Conn, token_hash: bytes) -> bool:
    """Mark it used; False when somebody was faster."""
    done = conn.execute(
        "update invitations set used_at = now() where token_hash = %s and used_at is null and expires_at > now()", (token_hash,)
    )
    return done.rowcount == 1
