-- Courses that can change, pause and run two at a time; exact logs; check-ins, habits, messages, reminders, calendar feeds.

-- Several clients who start together.
create table groups (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    name text not null check (length(name) between 1 and 80),
    made_by uuid not null references accounts,
    made_at timestamptz not null default now(),
    unique (practice_id, id)
);

drop index assignments_one_running;
create index assignments_running on assignments (client_id) where ended_at is null;
alter table assignments add group_id uuid, add foreign key (practice_id, group_id) references groups (practice_id, id);

-- What an assignment follows from a day on: its weeks are counted from the anchor, and each step names the week of the
-- program whose doses that week has, and how many rungs back. The first plan is the assignment itself; a change, the end of a pause or a
-- break makes another. Plans are never altered, so a log can always be read by the plan that it was practised with.
create table plans (
    assignment_id uuid not null,
    number smallint not null,
    practice_id uuid not null references practices,
    client_id uuid not null,
    from_day date not null,
    anchor date not null,
    steps jsonb not null,
    program_id uuid not null,
    program_version integer not null,
    settings jsonb not null,
    cards jsonb not null default '{}',
    weekdays smallint[] not null default '{}',
    times jsonb not null default '{}',
    remind_min smallint check (remind_min between 0 and 240),
    as_part text check (as_part in ('morning', 'evening')),
    end_date date,
    kind text not null check (kind in ('assigned', 'changed', 'resumed', 'break')),
    reason text not null default '' check (length(reason) <= 400),
    made_by uuid references accounts,
    made_at timestamptz not null default now(),
    primary key (assignment_id, number),
    foreign key (program_id, program_version) references program_versions,
    foreign key (practice_id, assignment_id) references assignments (practice_id, id) on delete cascade
);
insert into plans (assignment_id, number, practice_id, client_id, from_day, anchor, steps, program_id, program_version, settings, cards,
    kind, made_by, made_at)
select a.id, 1, a.practice_id, a.client_id, a.start_date, a.start_date,
    (select jsonb_agg(jsonb_build_array(w, 0) order by w) from generate_series(1, (v.document->>'weeks')::int) w),
    a.program_id, a.program_version, a.settings, a.cards, 'assigned', a.created_by, a.created_at
from assignments a join program_versions v on v.program_id = a.program_id and v.version = a.program_version;
alter table assignments drop column program_version, drop column settings, drop column cards, drop column time_zone;
alter table assignments add foreign key (practice_id, program_id) references programs (practice_id, id);

alter table planned_days add plan smallint not null default 1, add back smallint not null default 0,
    add foreign key (assignment_id, plan) references plans;

create table pauses (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    client_id uuid not null,
    first_day date not null,
    last_day date,
    reason text not null default '' check (length(reason) <= 400),
    made_by uuid not null references accounts,
    made_at timestamptz not null default now(),
    changes smallint not null default 0,
    changed_at timestamptz not null default now(),
    check (last_day is null or last_day >= first_day - 1),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on pauses (client_id, first_day);

-- Where a client lived from when on.
create table stays (
    client_id uuid not null,
    practice_id uuid not null references practices,
    since timestamptz not null default now(),
    time_zone text not null,
    primary key (client_id, since),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
insert into stays (client_id, practice_id, since, time_zone) select id, practice_id, created_at, time_zone from clients;
create function keep_stay() returns trigger language plpgsql as
$$ begin
    if tg_op = 'INSERT' or new.time_zone is distinct from old.time_zone then
        insert into stays (client_id, practice_id, since, time_zone) values (new.id, new.practice_id, clock_timestamp(), new.time_zone)
        on conflict do nothing;
    end if;
    return new;
end $$;
create trigger keep_stay after insert or update of time_zone on clients for each row execute function keep_stay();

-- Logs are never altered: a correction is a new log that names the one it replaces; a log of a session that is told
-- twice names the one that stands for it.
alter table practice_logs
    add plan smallint not null default 1,
    add source text not null default 'player' check (source in ('player', 'manual')),
    add session_id uuid,
    add form text check (form in ('yes', 'partly', 'no')),
    add pauses smallint not null default 0,
    add paused_s numeric(8, 1) not null default 0,
    add clock_off_s numeric(10, 1) not null default 0,
    add named_day date,
    add stretches jsonb not null default '[]',
    add replaces uuid references practice_logs,
    add replaced_by uuid references practice_logs;
create index on practice_logs (replaces) where replaces is not null;
revoke update (effort, note) on practice_logs from dimbo_app;

alter table practice_log_lines
    add eased boolean not null default false,
    add skip_reason text not null default '' check (length(skip_reason) <= 200),
    add pauses smallint not null default 0,
    add paused_s numeric(8, 1) not null default 0;
alter table practice_log_lines add work_planned_s numeric(8, 1), add work_done_s numeric(8, 1);

create table practice_log_sides (
    log_id uuid not null,
    place smallint not null,
    side text not null check (side in ('right', 'left')),
    practice_id uuid not null references practices,
    client_id uuid not null,
    planned_sets smallint not null,
    done_sets smallint not null,
    planned_reps smallint not null,
    done_reps smallint not null,
    planned_hold_s numeric(8, 1) not null,
    done_hold_s numeric(8, 1) not null,
    planned_s numeric(8, 1) not null,
    done_s numeric(8, 1) not null,
    primary key (log_id, place, side),
    foreign key (log_id, place) references practice_log_lines on delete cascade
);

create table check_ins (
    id uuid primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    day date not null,
    soreness smallint not null check (soreness between 0 and 10),
    places jsonb not null default '[]',
    said_at timestamptz not null,
    received_at timestamptz not null default now(),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on check_ins (client_id, day, said_at);

create table habit_ticks (
    id uuid primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    assignment_id uuid not null,
    exercise_id text not null,
    day date not null,
    amount smallint not null check (amount in (-1, 1)),
    said_at timestamptz not null,
    received_at timestamptz not null default now(),
    foreign key (practice_id, assignment_id) references assignments (practice_id, id)
);
create index on habit_ticks (client_id, day);

create table messages (
    id uuid primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    by_coach boolean not null,
    author uuid not null references accounts,
    text text not null check (length(text) between 1 and 2000),
    about_day date,
    exercise_id text,
    written_at timestamptz not null,
    received_at timestamptz not null default now(),
    read_at timestamptz,
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on messages (client_id, received_at);

-- What the messenger carries: one row a letter, kept for coach and client to look into. The key makes it go out once.
create table outbox (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    client_id uuid not null,
    to_coach boolean not null,
    address text not null,
    kind text not null check (kind in ('reminder', 'message', 'pain')),
    subject text not null,
    body text not null,
    key text not null,
    due_at timestamptz not null,
    state text not null default 'waiting' check (state in ('waiting', 'delivered', 'failed', 'withheld')),
    tries smallint not null default 0,
    next_try_at timestamptz not null,
    problem text not null default '',
    made_at timestamptz not null default now(),
    delivered_at timestamptz,
    unique (practice_id, key),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on outbox (practice_id, next_try_at) where state = 'waiting';
create index on outbox (client_id, made_at);

create table reminder_wishes (
    client_id uuid primary key,
    practice_id uuid not null references practices,
    token text not null unique,
    unsubscribed_at timestamptz,
    quiet_first time,
    quiet_last time,
    foreign key (practice_id, client_id) references clients (practice_id, id)
);

alter table practices
    add quiet_first time not null default '21:30',
    add quiet_last time not null default '07:00',
    add reminder_text text not null default '' check (length(reminder_text) <= 400);
grant update (quiet_first, quiet_last, reminder_text) on practices to dimbo_app;

create table feeds (
    token_hash bytea primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    made_at timestamptz not null default now(),
    revoked_at timestamptz,
    read_at timestamptz,
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create unique index feeds_one_open on feeds (client_id) where revoked_at is null;

do $$
declare t text;
begin
    foreach t in array array['plans', 'pauses', 'stays', 'practice_log_sides', 'check_ins', 'habit_ticks', 'messages', 'outbox',
        'reminder_wishes', 'feeds']
    loop
        execute format('alter table %I enable row level security', t);
        execute format('create policy own on %I using (practice_id = current_practice()'
            ' and (current_client() is null or client_id = current_client()))', t);
    end loop;
end $$;
alter table groups enable row level security;
create policy own on groups using (practice_id = current_practice());

create function feed_by_token(hash bytea) returns table (practice_id uuid, client_id uuid, revoked boolean)
language sql stable security definer set search_path = public as
$$ select f.practice_id, f.client_id, f.revoked_at is not null from feeds f where f.token_hash = hash $$;

create function wishes_by_token(wanted text) returns table (practice_id uuid, client_id uuid, practice_name text, unsubscribed boolean)
language sql stable security definer set search_path = public as
$$ select w.practice_id, w.client_id, p.name, w.unsubscribed_at is not null
   from reminder_wishes w join practices p on p.id = w.practice_id where w.token = wanted $$;

create function practice_ids() returns setof uuid language sql stable security definer set search_path = public as
$$ select id from practices $$;

-- Where a client and their coach are written to, asked in the client's own transaction too.
create function addresses_of(wanted uuid) returns table (client_email text, coach_email text, coach_name text)
language sql stable security definer set search_path = public as
$$ select coalesce((select a.email from accounts a where a.client_id = c.id), nullif(c.email, ''), ''), coalesce(k.email, ''),
       coalesce(k.name, '')
   from clients c left join lateral (select a.email, a.name from accounts a where a.practice_id = c.practice_id and a.role = 'coach'
       order by a.id = c.coach_id desc, a.created_at limit 1) k on true
   where c.id = wanted and c.practice_id = current_practice() and (current_client() is null or current_client() = wanted) $$;

grant select, insert on groups, plans, practice_log_sides, check_ins, habit_ticks, stays to dimbo_app;
grant select, insert, update on pauses, outbox, reminder_wishes, feeds to dimbo_app;
grant select, insert on messages to dimbo_app;
grant update (read_at) on messages to dimbo_app;
