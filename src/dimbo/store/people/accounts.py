"""Accounts, and the invitations of clients."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from psycopg.errors import UniqueViolation

from dimbo.store.database import Conflict, Conn, NotThere, add, add_all, many, new_id, one_or_none


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
    email: str
    password_hash: str
    totp_secret: str | None
    totp_since: datetime | None
    totp_step: int | None


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


def invite(conn: Conn, practice_id: UUID, client_id: UUID, email: str, token_hash: bytes, expires_at: datetime) -> None:
    """A new invitation; earlier unused ones of this client end."""
    conn.execute("delete from invitations where client_id = %s and used_at is null", (client_id,))
    conn.execute(
        "insert into invitations (token_hash, practice_id, client_id, email, expires_at) values (%s, %s, %s, %s, %s)",
        (token_hash, practice_id, client_id, email, expires_at),
    )


def invitation(conn: Conn, token_hash: bytes) -> Invitation | None:
    return one_or_none(conn, Invitation, "select * from invitation_by_token(%s)", (token_hash,))


@dataclass(frozen=True, kw_only=True)
class Account:
    """An account as its owner and the people page know it."""

    id: UUID
    role: str
    standing: str
    name: str
    email: str
    time_zone: str | None
    sees_all: bool
    sees: list[UUID]
    """Whose clients are seen besides the own ones, where not all are."""
    clients: int
    """How many clients this person has taken on."""
    disabled_at: datetime | None
    totp_since: datetime | None
    seen_at: datetime | None
    """When somebody last used the account; within five minutes."""


_ACCOUNT = """
    select a.id, a.role, a.standing, a.name, a.email, a.time_zone, a.sees_all, a.disabled_at, a.totp_since,
        array(select s.coach_id from account_sees s where s.account_id = a.id order by s.coach_id) as sees,
        (select count(*)::int from clients c where c.coach_id = a.id) as clients,
        (select max(i.seen_at) from sign_ins i where i.account_id = a.id) as seen_at
    from accounts a"""


def one(conn: Conn, account_id: UUID) -> Account:
    """Raises NotThere."""
    found = one_or_none(conn, Account, f"{_ACCOUNT} where a.id = %s", (account_id,))
    if found is None:
        raise NotThere("There is no such account.")
    return found


def staff(conn: Conn) -> list[Account]:
    """Everybody who works or has worked in the practice, the longest first."""
    return many(conn, Account, f"{_ACCOUNT} where a.role = 'coach' order by a.disabled_at nulls first, a.created_at, a.id")


def secrets_of(conn: Conn, account_id: UUID) -> Credentials:
    """What an account signs in with. Raises NotThere."""
    found = one_or_none(
        conn,
        Credentials,
        """
        select id, practice_id, role, client_id, name, email, password_hash, totp_secret, totp_since, totp_step
        from accounts
        where id = %s""",
        (account_id,),
    )
    if found is None:
        raise NotThere("There is no such account.")
    return found


CHANGEABLE = frozenset(
    ("name", "email", "password_hash", "time_zone", "standing", "sees_all", "disabled_at", "totp_secret", "totp_since", "totp_step")
)


def change(conn: Conn, account_id: UUID, **values: object) -> None:
    """Change columns of ``CHANGEABLE``. Raises Conflict when the e-mail belongs to another account, NotThere."""
    assert values and set(values) <= CHANGEABLE
    named = ", ".join(f"{column} = %({column})s" for column in values)
    try:
        done = conn.execute(f"update accounts set {named} where id = %(id)s".encode(), values | {"id": account_id})
    except UniqueViolation as error:
        raise Conflict("This e-mail address already has an account.") from error
    if done.rowcount == 0:
        raise NotThere("There is no such account.")


def see_clients_of(conn: Conn, practice_id: UUID, account_id: UUID, coaches: list[UUID]) -> None:
    """Whose clients an account sees besides its own."""
    conn.execute("delete from account_sees where account_id = %s", (account_id,))
    add_all(conn, "account_sees", [{"practice_id": practice_id, "account_id": account_id, "coach_id": c} for c in coaches])


def take_step(conn: Conn, account_id: UUID, step: int) -> bool:
    """Note that the code of a step of time was taken; False when it, or a later one, was taken before."""
    done = conn.execute(
        "update accounts set totp_step = %(step)s where id = %(id)s and (totp_step is null or totp_step < %(step)s)",
        {"step": step, "id": account_id},
    )
    return done.rowcount == 1


def set_recovery_codes(conn: Conn, practice_id: UUID, account_id: UUID, hashes: list[bytes]) -> None:
    """New recovery codes; earlier ones end."""
    conn.execute("delete from recovery_codes where account_id = %s", (account_id,))
    add_all(conn, "recovery_codes", [{"practice_id": practice_id, "account_id": account_id, "code_hash": h} for h in hashes])


def use_recovery_code(conn: Conn, account_id: UUID, code_hash: bytes) -> bool:
    done = conn.execute(
        "update recovery_codes set used_at = now() where account_id = %s and code_hash = %s and used_at is null", (account_id, code_hash)
    )
    return done.rowcount == 1


def recovery_codes_left(conn: Conn, account_id: UUID) -> int:
    row = conn.execute("select count(*)::int from recovery_codes where account_id = %s and used_at is null", (account_id,)).fetchone()
    return int(row[0]) if row else 0


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
