"""Work by exercise, side and day, of logs that stand."""

from __future__ import annotations

from uuid import UUID

from dimbo.core.results.practised import SideDay
from dimbo.store.database import Conn, Statement
from dimbo.store.practice.practice_logs import STANDS

_DAYS = f"""
    select
        l.day, n.exercise_id,
        coalesce(sum(s.done_s) filter (where s.side = 'right'), 0)::float8 as right_s,
        coalesce(sum(s.done_s) filter (where s.side = 'left'), 0)::float8 as left_s
    from practice_logs l
    join practice_log_lines n on n.log_id = l.id and n.loads
    join practice_log_sides s on s.log_id = n.log_id and s.place = n.place
    where l.client_id = %s and {STANDS.format("l")}
    group by l.day, n.exercise_id
    order by l.day, n.exercise_id"""
OF_CLIENT = Statement(SideDay, _DAYS)


def contraction_of(conn: Conn, client_id: UUID) -> list[SideDay]:
    """Seconds of contraction of a client, done by side, day by day and exercise by exercise."""
    return OF_CLIENT.all(conn, (client_id,))
