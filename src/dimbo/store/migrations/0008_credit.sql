-- A session counts by its exercises and their sides, each at most whole, and overdoing is about load: contraction, and hands
-- that work beyond a daily ceiling. What a log adds up to is kept with it. Of logs from before it is not known which of their
-- exercises contract; all their work counts as load, as it did.
alter table practice_logs rename column work_planned_s to load_planned_s;
alter table practice_logs rename column work_done_s to load_done_s;
alter table practice_logs add credit_s numeric(9, 1) not null default 0 check (credit_s >= 0);
alter table practice_log_lines
    add loads boolean not null default true,
    add over_s numeric(9, 1) not null default 0 check (over_s >= 0);

alter table practice_logs disable trigger user;
alter table practice_log_lines disable trigger user;
update practice_log_lines set over_s = greatest(work_done_s - work_planned_s, 0);
with sides as (
    select log_id, place, sum(planned_s) as planned_s, sum(least(done_s, planned_s)) as done_s from practice_log_sides group by log_id, place),
lines as (
    select n.log_id, case when s.planned_s > 0 then n.planned_s * s.done_s / s.planned_s else least(n.done_s, n.planned_s) end as credit_s
    from practice_log_lines n left join sides s on s.log_id = n.log_id and s.place = n.place)
update practice_logs l set credit_s = round(c.credit_s, 1)
from (select log_id, sum(credit_s) as credit_s from lines group by log_id) c where c.log_id = l.id;
alter table practice_logs enable trigger user;
alter table practice_log_lines enable trigger user;
