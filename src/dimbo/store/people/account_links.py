"""Links that open or change an account once: a colleague's invitation, a new password, a new address."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn, add, many, one_or_none


@dataclass(frozen=True, kw_only=True)
class AccountLink:
    """What a link is for. ``account_id`` is empty for somebody who is invited; ``standing`` is theirs."""

    id: UUID
    practice_id: UUID
    account_id: UUID | None
    kind: str
    name: str
    email: str
    standing: str | None
    practice_name: str
    expired: bool
    used: bool


@dataclass(frozen=True, kw_only=True)
class Invited:
    """A colleague who was invited and has not come yet."""

    id: UUID
    name: str
    email: str
    standing: str
    made_at: datetime
    expires_at: datetime


def make(conn: Conn, practice_id: UUID, kind: str, token_hash: bytes, expires_at: datetime, **about: object) -> None:
    """Keep a link; earlier unused ones of its kind, for the same account or address, end."""
    conn.execute(
        """
        delete from account_links
        where kind = %(kind)s and used_at is null
            and (account_id = %(account)s or (account_id is null and lower(email) = lower(%(email)s)))""",
        {"kind": kind, "account": about.get("account_id"), "email": about.get("email", "")},
    )
    add(conn, "account_links", {"practice_id": practice_id, "kind": kind, "token_hash": token_hash, "expires_at": expires_at, **about})


def by_token(conn: Conn, token_hash: bytes) -> AccountLink | None:
    """Asked before anybody is signed in."""
    return one_or_none(conn, AccountLink, "select * from account_link(%s)", (token_hash,))


def use(conn: Conn, link_id: UUID) -> bool:
    """Mark it used; False when somebody was faster."""
    done = conn.execute("update account_links set used_at = now() where id = %s and used_at is null and expires_at > now()", (link_id,))
    return done.rowcount == 1


def invited(conn: Conn) -> list[Invited]:
    """Colleagues whose invitation waits, the newest first; also those whose link has run out."""
    return many(
        conn,
        Invited,
        """
        select id, name, email, standing, made_at, expires_at
        from account_links
        where kind = 'colleague' and used_at is null
        order by made_at desc""",
    )


def end(conn: Conn, link_id: UUID) -> bool:
    """Take a link back; False when it was used or taken back already."""
    return conn.execute("delete from account_links where id = %s and used_at is null", (link_id,)).rowcount == 1


def end_of(conn: Conn, account_id: UUID) -> None:
    """End every unused link of an account: whoever asked for one may not be its owner."""
    conn.execute("delete from account_links where account_id = %s and used_at is null", (account_id,))


def pending_address(conn: Conn, account_id: UUID) -> str:
    """The address that an account is to get once it is confirmed; empty for none."""
    row = conn.execute(
        """
        select email
        from account_links
        where account_id = %s and kind = 'address' and used_at is null and expires_at > now()
        order by made_at desc limit 1""",
        (account_id,),
    ).fetchone()
    return str(row[0]) if row else ""
