"""Three hundred clients with a year of daily logs: the desk, and the course of one of them, against their own SQL."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime

import psycopg

from dimbo.catalogue import shipped_catalogue
from dimbo.store.database import Binding, Conn
from dimbo.store.intake import facts, self_intakes
from dimbo.store.messages import messages
from dimbo.store.people import accounts, clients
from dimbo.store.plans import assignments
from dimbo.store.practice import daily, hurts, log_sums
from dimbo.store.programs import programs
from dimbo.store.review import desk, reviews
from dimbo.store.sittings import photographs, sittings
from dimbo.work.review.desk import WINDOW_DAYS

from .installation import Installation

CLIENTS, DAYS = 300, 365
NAME = "Leocadia Marsh"
"""Whose program and logged exercises are copied."""

_FILL = """
create temp table model as
select c.practice_id, c.coach_id, a.id as assignment_id, p.program_id, p.program_version, p.settings, p.cards, a.created_by, v.document,
    v.title, l.id as log_id, l.planned_s, l.done_s, l.load_planned_s, l.load_done_s
from clients c join assignments a on a.client_id = c.id join plans p on p.assignment_id = a.id
join program_versions v on v.program_id = p.program_id and v.version = p.program_version
join practice_logs l on l.assignment_id = a.id where c.name = %(name)s order by p.number, l.day limit 1;

create temp table made as
select gen_random_uuid() as client_id, gen_random_uuid() as program_id, gen_random_uuid() as assignment_id, n
from generate_series(1, %(clients)s) n;

insert into clients (id, practice_id, name, time_zone, coach_id)
select client_id, practice_id, 'Client ' || lpad(n::text, 3, '0'), 'UTC', coach_id from made, model;
insert into programs (id, practice_id, client_id, title, document, version)
select m.program_id, practice_id, client_id, title, document, 1 from made m, model;
insert into program_versions (program_id, version, practice_id, client_id, title, document, saved_by)
select m.program_id, 1, practice_id, client_id, title, document, created_by from made m, model;
insert into assignments (id, practice_id, client_id, program_id, start_date, created_by, created_at)
select m.assignment_id, practice_id, client_id, m.program_id, current_date - %(days)s, created_by, now() - interval '1 year'
from made m, model;
insert into plans (assignment_id, number, practice_id, client_id, from_day, anchor, steps, program_id, program_version, settings, cards,
    kind, made_by)
select m.assignment_id, 1, practice_id, client_id, current_date - %(days)s, current_date - %(days)s,
    (select jsonb_agg(jsonb_build_array(1 + w %% 4, 0) order by w) from generate_series(0, 53) w), m.program_id, 1, settings, cards,
    'assigned', created_by
from made m, model;
insert into planned_days (assignment_id, practice_id, client_id, day, week, planned_s, contraction_right_s, contraction_left_s, hands_on_s,
    session_s, place)
select m.assignment_id, practice_id, client_id, current_date - %(days)s + d, 1 + (d / 7) %% 4, planned_s, 60, 60, 90, planned_s * 1.2,
    d %% 7
from made m, model, generate_series(0, %(days)s + 7) d;
create temp table logged as
select gen_random_uuid() as id, m.client_id, m.assignment_id, current_date - %(days)s + d as day, 2 + (m.n + d) %% 6 as effort,
    case when (m.n + d) %% 9 = 0 then 0.6 else 1 end as share, case when (m.n * 7 + d) %% 40 = 0 then 40 else 0 end as above
from made m, generate_series(0, %(days)s - 1) d where (m.n * 3 + d) %% 11 > 0;
insert into practice_logs (id, practice_id, client_id, assignment_id, day, started_at, ended_at, planned_s, done_s, effort, load_planned_s,
    load_done_s, over_s, credit_s)
select l.id, practice_id, client_id, l.assignment_id, day, day + time '07:30', day + time '07:45', planned_s, planned_s * share, effort,
    load_planned_s, load_planned_s * share + above, above, planned_s * share
from logged l, model;
insert into practice_log_lines (log_id, practice_id, client_id, place, exercise_id, dose, planned_s, done_s, outcome, work_planned_s,
    work_done_s)
select l.id, model.practice_id, l.client_id, n.place, n.exercise_id, n.dose, n.planned_s, n.planned_s * share,
    case when share = 1 then 'done' else 'partly' end, n.work_planned_s, n.work_planned_s * share
from logged l, model, practice_log_lines n where n.log_id = model.log_id;
insert into check_ins (id, practice_id, client_id, day, soreness, said_at)
select gen_random_uuid(), practice_id, client_id, day + 1, effort - 2, now() from logged, model where effort %% 2 = 0;
"""


def _filled() -> Installation:
    """The demo with three hundred clients more."""
    site = Installation()
    try:
        with psycopg.connect(site.owner_url, autocommit=True) as owner, psycopg.ClientCursor(owner) as cursor:
            for statement in _FILL.split(";\n"):
                if statement.strip():
                    cursor.execute(statement.encode(), {"name": NAME, "clients": CLIENTS, "days": DAYS})
            owner.execute("analyze")
    except BaseException:
        site.close()
        raise
    site.reconnect()
    return site


_told = ""


def told() -> str:
    return _told


def _plan(conn: Conn, sql: str, values: dict[str, object]) -> str:
    """How a statement finds its logs, from its plan."""
    rows = "\n".join(r[0] for r in conn.execute(f"explain {sql}".encode(), values).fetchall())
    return "reads all logs" if "Seq Scan on practice_log" in rows else "finds its logs by index"


def the_desk() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """The desk of the practice; its statements on one warm connection are the baseline."""
    global _told
    site = _filled()
    practice_id, _ = site.client(NAME)

    def bare_sql() -> None:
        conn = site.conn
        with conn.transaction():
            Binding(practice_id).enter(conn)
            clients.every(conn)
            values = desk.window_values(datetime.now(UTC), WINDOW_DAYS)
            with conn.pipeline():
                cursors = [statement.run(conn, values) for statement in desk.STATEMENTS.values()]
                for cursor in cursors:
                    cursor.fetchall()
            reviews.own_rules(conn)
            accounts.coaches(conn)

    with site.conn.transaction():
        Binding(practice_id).enter(site.conn)
        values = desk.window_values(datetime.now(UTC), WINDOW_DAYS)
        logs = site.conn.execute("select count(*) from practice_logs").fetchone()
        _told = f"{logs[0] if logs else 0} logs; it {_plan(site.conn, desk.STATEMENTS['sessions'].sql, values)}"
    return lambda: site.get("/api/desk"), bare_sql, site.close


def the_course() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """The course of a client of fifty-two weeks; its statements on one warm connection are the baseline."""
    global _told
    site = _filled()
    practice_id, client_id = site.client("Client 007")
    contracting = [i for i, c in shipped_catalogue().cards.items() if c.family.contracts]

    def bare_sql() -> None:
        conn = site.conn
        with conn.transaction():
            Binding(practice_id).enter(conn)
            clients.one(conn, client_id)
            for running in assignments.of_client(conn, client_id):
                hurts.hurts_of(conn, running.id, first=datetime.min.date(), last=datetime.max.date())
            for read in (
                log_sums.sessions_of,
                log_sums.tallies_of,
                log_sums.heads_of,
                log_sums.doses_of,
                assignments.pauses,
            ):
                read(conn, client_id)
            log_sums.works_of(conn, client_id, contracting)
            assignments.stays(conn, client_id)
            daily.check_ins(conn, client_id)
            reviews.of_client(conn, client_id)
            reviews.own_rules(conn)
            messages.unread_counts(conn)
            hurts.stopped(conn, client_id)
            programs.of_client(conn, client_id)
            sittings.of_client(conn, client_id)
            photographs.of_client(conn, client_id)
            sittings.primary(conn, client_id)
            facts.standing(conn, client_id)
            self_intakes.newest(conn, client_id)

    with site.conn.transaction():
        Binding(practice_id).enter(site.conn)
        _told = f"its sessions: it {_plan(site.conn, log_sums.OF_CLIENT.sql, {'client': client_id})}"
    return lambda: site.get(f"/api/clients/{client_id}"), bare_sql, site.close
