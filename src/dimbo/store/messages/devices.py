"""Devices that get notices (web push), for as long as the sign-in lasts from which it was asked for."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from dimbo.store.database import Conn, add, columns_of, many


@dataclass(frozen=True, kw_only=True)
class Device:
    """``endpoint`` is the address that a push service gave to the browser, with the keys by which only it can read."""

    id: UUID
    endpoint: str
    p256dh: str
    auth: str
    name: str
    made_at: datetime
    reached_at: datetime | None


_COLUMNS = "d.id, d.endpoint, d.p256dh, d.auth, d.name, d.made_at, d.reached_at"


@dataclass(frozen=True, kw_only=True)
class NewDevice:
    """A device as its browser tells of it."""

    endpoint: str
    p256dh: str
    auth: str
    name: str


def keep(conn: Conn, new: NewDevice, *, practice_id: UUID, account_id: UUID, client_id: UUID | None, sign_in: bytes) -> None:
    """Keep a device of an account, bound to its sign-in (the hash of the token); asked for again it is bound anew. Another account
    that was signed in there before gets nothing there any more."""
    conn.execute("select forget_device(%s, %s)", (new.endpoint, account_id))
    row = conn.execute("select id from sign_ins where token_hash = %s", (sign_in,)).fetchone()
    values = {"practice_id": practice_id, "account_id": account_id, "client_id": client_id, "sign_in_id": row[0] if row else None}
    then = """
        on conflict (account_id, endpoint) do update set sign_in_id = excluded.sign_in_id, p256dh = excluded.p256dh,
            auth = excluded.auth"""
    add(conn, "devices", values | columns_of(new), then)


def of_account(conn: Conn, account_id: UUID) -> list[Device]:
    return many(conn, Device, f"select {_COLUMNS} from devices d where d.account_id = %s order by d.made_at, d.id", (account_id,))


def to_reach(conn: Conn, client_id: UUID, *, to_coach: bool, idle: timedelta) -> list[Device]:
    """The devices of a client, or of the coach who took the client on, whose sign-in still lasts."""
    return many(
        conn,
        Device,
        f"""
        select {_COLUMNS}
        from devices d
        join sign_ins s on s.id = d.sign_in_id and s.expires_at > now() and s.seen_at > now() - %(idle)s::interval
        join accounts a on a.id = d.account_id and a.disabled_at is null
        join clients c on c.id = %(client)s
        where case when %(coach)s then d.account_id = c.coach_id else d.client_id = c.id end""",
        {"client": client_id, "coach": to_coach, "idle": idle},
    )


def forget(conn: Conn, device_id: UUID) -> bool:
    """False when it is not there."""
    return conn.execute("delete from devices where id = %s", (device_id,)).rowcount == 1


def forget_own(conn: Conn, account_id: UUID, endpoint: str) -> None:
    conn.execute("delete from devices where account_id = %s and endpoint = %s", (account_id, endpoint))


def reached(conn: Conn, device_id: UUID, at: datetime) -> None:
    conn.execute("update devices set reached_at = %s where id = %s", (at, device_id))


def push_key(conn: Conn, new: str) -> str:
    """The key of this installation; the first time it is ``new``."""
    conn.execute("insert into installation (push_key) values (%s) on conflict do nothing", (new,))
    return kept_push_key(conn)


def kept_push_key(conn: Conn) -> str:
    """Empty when none was needed yet."""
    row = conn.execute("select push_key from installation").fetchone()
    return str(row[0]) if row else ""
