-- The weekly review, what was settled at the desk, and sums that make a day of practice quick to judge.

-- Work (contraction or hands-on time, both sides) of a log: the sums of its exercises, kept with it because a log never changes.
-- What lies above plan is added up exercise by exercise, so that what was left out elsewhere takes nothing away.
alter table practice_logs
    add work_planned_s numeric(8, 1) not null default 0,
    add work_done_s numeric(8, 1) not null default 0,
    add over_s numeric(8, 1) not null default 0;
update practice_logs l set work_planned_s = s.planned, work_done_s = s.done, over_s = s.above
from (select log_id, coalesce(sum(work_planned_s), 0) as planned, coalesce(sum(work_done_s), 0) as done,
          coalesce(sum(greatest(work_done_s - work_planned_s, 0)), 0) as above
      from practice_log_lines group by log_id) s
where s.log_id = l.id;

-- Hands-on time of a planned session, and its whole length with change-overs. Sessions laid out before have neither.
alter table planned_days
    add hands_on_s numeric(8, 1) not null default 0,
    add session_s numeric(8, 1) not null default 0;

-- Thresholds of the weekly review where a practice has its own.
alter table practices add review_rules jsonb not null default '{}';
grant update (review_rules) on practices to dimbo_app;

alter table plans drop constraint plans_kind_check;
alter table plans add constraint plans_kind_check check (kind in ('assigned', 'changed', 'resumed', 'break', 'review', 'repeat'));

-- What the rules said of a week, on which numbers, and what the coach decided. Never altered: a second look is another row.
create table reviews (
    id uuid primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    assignment_id uuid not null,
    first_day date not null,
    last_day date not null check (last_day >= first_day),
    week smallint not null,
    evidence jsonb not null,
    suggested jsonb not null,
    decided jsonb not null,
    reason text not null default '' check (length(reason) <= 400),
    words text not null default '' check (length(words) <= 1000),
    holds_from date,
    program_version integer,
    made_by uuid not null references accounts,
    made_at timestamptz not null,
    foreign key (practice_id, assignment_id) references assignments (practice_id, id)
);
create index on reviews (assignment_id, first_day, made_at);
create index on reviews (client_id, first_day);
create index on reviews (practice_id, made_at);

-- Alarms that a coach has seen and put aside; the key names the occurrence, so the next one speaks again.
create table settled_alarms (
    practice_id uuid not null references practices,
    client_id uuid not null,
    kind text not null,
    key text not null,
    settled_by uuid not null references accounts,
    settled_at timestamptz not null default now(),
    primary key (client_id, kind, key),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);

do $$
declare t text;
begin
    foreach t in array array['reviews', 'settled_alarms']
    loop
        execute format('alter table %I enable row level security', t);
        execute format('create policy own on %I using (practice_id = current_practice()'
            ' and (current_client() is null or client_id = current_client()))', t);
    end loop;
end $$;
grant select, insert on reviews, settled_alarms to dimbo_app;

create index on practice_logs (practice_id, day);
create index on assignments (practice_id) where ended_at is null;
create index on planned_days (practice_id, day);
create index on check_ins (practice_id, day);
create index on practice_log_lines (client_id, log_id);
create index on practice_log_lines (log_id) where outcome = 'hurt';
create index on facts (practice_id, kind, seq) where kind in ('caution', 'clearance', 'consent');
