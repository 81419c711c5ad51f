"""Messages between coach and client, and the outbox that the messenger carries."""

from __future__ import annotations

from dataclasses import dataclass, fields
from datetime import date, datetime, time
from uuid import UUID

from dimbo.core.calendar.reminder_times import Quiet
from dimbo.store.database import Conn, Statement, add, columns_of, insert, many, one_or_none


@dataclass(frozen=True, kw_only=True)
class Message:
    id: UUID
    by_coach: bool
    author: str
    text: str
    about_day: date | None
    exercise_id: str | None
    written_at: datetime
    read_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class NewMessage:
    id: UUID
    by_coach: bool
    author: UUID
    text: str
    about_day: date | None
    exercise_id: str | None
    written_at: datetime


def write(conn: Conn, practice_id: UUID, client_id: UUID, said: NewMessage) -> bool:
    """False when it is here already."""
    values = {"practice_id": practice_id, "client_id": client_id} | columns_of(said)
    return add(conn, "messages", values, "on conflict (id) do nothing").rowcount == 1


def of_client(conn: Conn, client_id: UUID, most: int = 200) -> list[Message]:
    """The newest messages of a client, the oldest of them first."""
    return many(
        conn,
        Message,
        """
        select * from (
            select m.id, m.by_coach, coalesce(a.name, '') as author, m.text, m.about_day, m.exercise_id, m.written_at, m.read_at
            from messages m
            left join accounts a on a.id = m.author
            where m.client_id = %s
            order by m.received_at desc
            limit %s) newest
        order by written_at""",
        (client_id, most),
    )


def mark_read(conn: Conn, client_id: UUID, by_coach: bool, at: datetime) -> None:
    """What one of the two wrote has been read by the other."""
    conn.execute("update messages set read_at = %s where client_id = %s and by_coach = %s and read_at is null", (at, client_id, by_coach))


def unread_counts(conn: Conn) -> dict[UUID, int]:
    """Messages of clients that no coach has read, by client."""
    return dict(
        conn.execute("select client_id, count(*)::int from messages where not by_coach and read_at is null group by client_id").fetchall()
    )


@dataclass(frozen=True, kw_only=True)
class Letter:
    """Something for the messenger; ``key`` makes it go out once. Letters about an account are of no client."""

    client_id: UUID | None
    to_coach: bool
    address: str
    kind: str
    subject: str
    body: str
    key: str
    due_at: datetime
    session_day: date | None = None
    """Of a reminder: the session that it is about."""
    session_part: str | None = None
    letter_id: UUID | None = None
    """A letter that goes with it as a file."""


@dataclass(frozen=True, kw_only=True)
class Posted:
    """A letter in the outbox."""

    id: UUID
    client_id: UUID | None
    to_coach: bool
    address: str
    kind: str
    subject: str
    body: str
    key: str
    due_at: datetime
    state: str
    tries: int
    problem: str
    made_at: datetime
    delivered_at: datetime | None
    session_day: date | None
    session_part: str | None
    letter_id: UUID | None
    way: str
    """How it arrived: mail, device, or empty while it has not."""


_POSTED = ", ".join(f.name for f in fields(Posted))


_POST = insert(
    "outbox",
    [*(f.name for f in fields(Letter)), "practice_id", "next_try_at"],
    "on conflict (practice_id, key) do nothing",
)


def post(conn: Conn, practice_id: UUID, letter: Letter) -> bool:
    """Put a letter into the outbox; False when one with its key is there already."""
    return conn.execute(_POST, columns_of(letter) | {"practice_id": practice_id, "next_try_at": letter.due_at}).rowcount == 1


def post_new(conn: Conn, practice_id: UUID, letter: Letter) -> None:
    """Put a letter with a key of its own into the outbox, also one that whoever posts it may not read."""
    add(conn, "outbox", columns_of(letter) | {"practice_id": practice_id, "next_try_at": letter.due_at})


CLAIM = Statement(
    Posted,
    f"""
    update outbox
    set next_try_at = %(back_at)s
    where id in (
        select id from outbox
        where state = 'waiting' and next_try_at <= %(now)s
        order by next_try_at limit %(most)s
        for update skip locked
    )
    returning {_POSTED}""",
)


def claim_due(conn: Conn, now: datetime, *, back_at: datetime, most: int = 50) -> list[Posted]:
    """Letters whose time has come, for this worker alone; one that dies over them leaves them due again at ``back_at``."""
    return sorted(CLAIM.all(conn, {"now": now, "back_at": back_at, "most": most}), key=lambda p: (p.due_at, p.id))


def tried(conn: Conn, letter_id: UUID, *, state: str, way: str, problem: str, next_try_at: datetime, delivered_at: datetime | None) -> None:
    """What became of a try. The text of a letter about an account opens that account, so it goes once it is carried or given up."""
    conn.execute(
        """
        update outbox
        set state = %(state)s, way = %(way)s,
            problem = %(problem)s, tries = tries + 1, next_try_at = %(again)s, delivered_at = %(delivered)s,
            body = case when kind = 'account' and %(state)s <> 'waiting' then '' else body end
        where id = %(id)s""",
        {"state": state, "way": way, "problem": problem, "again": next_try_at, "delivered": delivered_at, "id": letter_id},
    )


def outbox(conn: Conn, client_id: UUID | None, to_coach: bool | None = None, most: int = 60) -> list[Posted]:
    """Letters of one client or of all, the newest first, but those about accounts: they are between an account and its owner."""
    return many(
        conn,
        Posted,
        f"""
        select {_POSTED}
        from outbox
        where kind <> 'account' and (%(c)s::uuid is null or client_id = %(c)s) and (%(t)s::boolean is null or to_coach = %(t)s)
        order by made_at desc
        limit %(m)s""",
        {"c": client_id, "t": to_coach, "m": most},
    )


@dataclass(frozen=True, kw_only=True)
class Undelivered:
    """Letters to somebody that failed since the last that arrived."""

    client_id: UUID
    name: str
    to_coach: bool
    address: str
    letters: int
    problem: str
    since: datetime


def undelivered(conn: Conn) -> list[Undelivered]:
    """Whom letters do not reach, the longest first; each client and their coach once."""
    return many(
        conn,
        Undelivered,
        """
        select o.client_id, c.name, o.to_coach, (array_agg(o.address order by o.made_at desc))[1] as address,
            count(*)::int as letters, (array_agg(o.problem order by o.made_at desc))[1] as problem, min(o.made_at) as since
        from outbox o
        join clients c on c.id = o.client_id and c.archived_at is null
        where o.kind <> 'account' and o.state = 'failed' and o.made_at > coalesce(
            (select max(d.made_at) from outbox d where d.client_id = o.client_id and d.to_coach = o.to_coach
                and d.state = 'delivered'), '-infinity')
        group by o.client_id, c.name, o.to_coach
        order by since, c.name""",
    )


@dataclass(frozen=True)
class Wishes:
    """What a client wants of reminders; None follows the practice."""

    token: str
    unsubscribed_at: datetime | None
    quiet_first: time | None
    quiet_last: time | None


NO_WISHES = Wishes(token="", unsubscribed_at=None, quiet_first=None, quiet_last=None)


def wishes(conn: Conn, client_id: UUID) -> Wishes:
    """A client's wishes; without any they follow the practice, and have no token yet."""
    sql = "select token, unsubscribed_at, quiet_first, quiet_last from reminder_wishes where client_id = %s"
    return one_or_none(conn, Wishes, sql, (client_id,)) or NO_WISHES


def kept_wishes(conn: Conn, practice_id: UUID, client_id: UUID, new_token: str) -> Wishes:
    """A client's wishes with the token that can end the reminders; the first time they are kept with ``new_token``."""
    conn.execute(
        "insert into reminder_wishes (client_id, practice_id, token) values (%s, %s, %s) on conflict do nothing",
        (client_id, practice_id, new_token),
    )
    return wishes(conn, client_id)


def wish(conn: Conn, client_id: UUID, unsubscribed_at: datetime | None, quiet_first: time | None, quiet_last: time | None) -> None:
    conn.execute(
        "update reminder_wishes set unsubscribed_at = %s, quiet_first = %s, quiet_last = %s where client_id = %s",
        (unsubscribed_at, quiet_first, quiet_last, client_id),
    )


@dataclass(frozen=True)
class TokenOwner:
    """Whose link a token is."""

    practice_id: UUID
    client_id: UUID
    practice_name: str
    unsubscribed: bool


def wishes_by_token(conn: Conn, token: str) -> TokenOwner | None:
    return one_or_none(conn, TokenOwner, "select * from wishes_by_token(%s)", (token,))


@dataclass(frozen=True)
class Reminding:
    """What a practice decides about reminders. An empty text means the shipped one."""

    name: str
    quiet_first: time
    quiet_last: time
    reminder_text: str

    def quiet(self, own: Wishes) -> Quiet:
        """The quiet hours that hold for a client: their own, else the practice's."""
        return Quiet(own.quiet_first or self.quiet_first, last=own.quiet_last or self.quiet_last)


def reminding(conn: Conn) -> Reminding:
    found = one_or_none(
        conn, Reminding, "select name, quiet_first, quiet_last, reminder_text from practices where id = current_practice()", ()
    )
    assert found
    return found


def set_reminding(conn: Conn, quiet_first: time, quiet_last: time, text: str) -> None:
    conn.execute(
        "update practices set quiet_first = %s, quiet_last = %s, reminder_text = %s where id = current_practice()",
        (quiet_first, quiet_last, text),
    )


@dataclass(frozen=True)
class Addresses:
    """Where a client and their coach are written to; empty where none is known."""

    client_email: str
    coach_email: str
    coach_name: str


def addresses_of(conn: Conn, client_id: UUID) -> Addresses:
    return one_or_none(conn, Addresses, "select * from addresses_of(%s)", (client_id,)) or Addresses("", coach_email="", coach_name="")
