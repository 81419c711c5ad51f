-- Practices, people, programs, practice logs, sittings. Every row belongs to a practice; row-level security
-- backs up the queries: dimbo.practice holds the practice of the transaction, dimbo.client (when set) the only
-- client whose rows may be seen. The application connects as dimbo_app, which owns nothing.

create function current_practice() returns uuid language sql stable parallel safe as
$$ select nullif(current_setting('dimbo.practice', true), '')::uuid $$;

create function current_client() returns uuid language sql stable parallel safe as
$$ select nullif(current_setting('dimbo.client', true), '')::uuid $$;

create table practices (
    id uuid primary key default gen_random_uuid(),
    name text not null check (length(name) between 1 and 120),
    pace_s numeric(3, 2) not null default 1.0 check (pace_s between 0.8 and 1.6),
    change_over_s numeric(4, 1) not null default 8,
    oil_change_over_s numeric(4, 1) not null default 20,
    created_at timestamptz not null default now()
);

create table clients (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    name text not null check (length(name) between 1 and 120),
    birth_year smallint check (birth_year between 1900 and 2100),
    time_zone text not null,
    minutes smallint check (minutes between 1 and 120),
    concerns text[] not null default '{}',
    story text not null default '' check (length(story) <= 4000),
    pace_s numeric(3, 2) check (pace_s between 0.8 and 1.6),
    portrait text,
    created_at timestamptz not null default now(),
    unique (practice_id, id)
);
create index on clients (practice_id, name);

create table accounts (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    role text not null check (role in ('coach', 'client')),
    client_id uuid,
    name text not null,
    email text not null,
    password_hash text not null,
    created_at timestamptz not null default now(),
    check ((role = 'client') = (client_id is not null)),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create unique index accounts_email on accounts (lower(email));
create unique index accounts_client on accounts (client_id) where client_id is not null;

-- Sign-in sessions: the cookie holds a token, the table its hash.
create table sign_ins (
    token_hash bytea primary key,
    account_id uuid not null references accounts on delete cascade,
    created_at timestamptz not null default now(),
    expires_at timestamptz not null
);

-- Failed sign-ins, for throttling by address and by e-mail.
create table failed_sign_ins (
    key text not null,
    at timestamptz not null default now()
);
create index on failed_sign_ins (key, at);

create table invitations (
    token_hash bytea primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    email text not null,
    expires_at timestamptz not null,
    used_at timestamptz,
    created_at timestamptz not null default now(),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);

-- A program is one document; every save is a version of it, and a save names the version it was made from.
create table programs (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    client_id uuid not null,
    title text not null check (length(title) between 1 and 120),
    version integer not null default 1,
    document jsonb not null,
    updated_at timestamptz not null default now(),
    unique (practice_id, id),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on programs (client_id);

create table program_versions (
    program_id uuid not null,
    practice_id uuid not null references practices,
    client_id uuid not null,
    version integer not null,
    title text not null,
    document jsonb not null,
    saved_by uuid not null references accounts,
    saved_at timestamptz not null default now(),
    primary key (program_id, version),
    foreign key (practice_id, program_id) references programs (practice_id, id)
);

-- An assignment keeps the version, the settings and the days it was made with.
create table assignments (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    client_id uuid not null,
    program_id uuid not null,
    program_version integer not null,
    start_date date not null,
    time_zone text not null,
    settings jsonb not null,
    ended_at timestamptz,
    created_by uuid not null references accounts,
    created_at timestamptz not null default now(),
    unique (practice_id, id),
    foreign key (program_id, program_version) references program_versions,
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on assignments (client_id, start_date);
create unique index assignments_one_running on assignments (client_id) where ended_at is null;

create table planned_days (
    assignment_id uuid not null references assignments on delete cascade,
    practice_id uuid not null references practices,
    client_id uuid not null,
    day date not null,
    week smallint not null,
    planned_s numeric(8, 1) not null,
    contraction_right_s numeric(8, 1) not null,
    contraction_left_s numeric(8, 1) not null,
    primary key (assignment_id, day)
);
create index on planned_days (client_id, day);

-- What was practised. The id is made by the client's device, so a log that is sent twice is kept once.
create table practice_logs (
    id uuid primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    assignment_id uuid not null,
    day date not null,
    started_at timestamptz not null,
    ended_at timestamptz not null,
    planned_s numeric(8, 1) not null,
    done_s numeric(8, 1) not null,
    effort smallint check (effort between 0 and 10),
    note text not null default '' check (length(note) <= 2000),
    received_at timestamptz not null default now(),
    check (ended_at >= started_at),
    foreign key (practice_id, assignment_id) references assignments (practice_id, id)
);
create index on practice_logs (client_id, day);
create index on practice_logs (assignment_id, day);

create table practice_log_lines (
    log_id uuid not null references practice_logs on delete cascade,
    practice_id uuid not null references practices,
    client_id uuid not null,
    place smallint not null,
    exercise_id text not null,
    dose text not null,
    planned_s numeric(8, 1) not null,
    done_s numeric(8, 1) not null,
    outcome text not null check (outcome in ('done', 'partly', 'skipped', 'hurt')),
    pain_side text check (pain_side in ('right', 'left', 'both')),
    pain_level smallint check (pain_level between 0 and 10),
    pain_where text not null default '' check (length(pain_where) <= 200),
    primary key (log_id, place)
);
create index on practice_log_lines (client_id, exercise_id) where outcome = 'hurt';

-- An exercise that hurt waits for the coach.
create table stopped_exercises (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    client_id uuid not null,
    exercise_id text not null,
    log_id uuid not null references practice_logs on delete cascade,
    stopped_at timestamptz not null,
    cleared_at timestamptz,
    cleared_by uuid references accounts,
    unique (log_id, exercise_id)
);
create index on stopped_exercises (client_id) where cleared_at is null;

create table sittings (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    client_id uuid not null,
    taken_on date not null,
    note text not null default '' check (length(note) <= 2000),
    created_at timestamptz not null default now(),
    unique (practice_id, id),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on sittings (client_id, taken_on);

-- Photographs are normalised on arrival (orientation, size, no metadata) and never altered after.
create table photographs (
    id uuid primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    sitting_id uuid not null,
    view text not null default 'front neutral',
    source_name text not null,
    source_hash bytea not null,
    image bytea not null,
    thumbnail bytea not null,
    width integer not null,
    height integer not null,
    taken_at timestamptz,
    state text not null default 'waiting' check (state in ('waiting', 'working', 'measured', 'refused')),
    step text not null default '',
    refusal text not null default '',
    created_at timestamptz not null default now(),
    unique (sitting_id, source_hash),
    foreign key (practice_id, sitting_id) references sittings (practice_id, id)
);
create index on photographs (sitting_id);
create index on photographs (client_id);

-- One analysis per photograph and version of the method; points in pixels, readings in millimetres.
create table analyses (
    photograph_id uuid not null references photographs on delete cascade,
    practice_id uuid not null references practices,
    client_id uuid not null,
    method text not null,
    points jsonb not null,
    iris_px real not null,
    quality jsonb not null,
    readings jsonb not null,
    made_at timestamptz not null default now(),
    primary key (photograph_id, method)
);

-- Row-level security: by practice everywhere, by client wherever a row is about one.
do $$
declare t text;
begin
    foreach t in array array['practices', 'clients', 'accounts', 'invitations', 'programs', 'program_versions',
        'assignments', 'planned_days', 'practice_logs', 'practice_log_lines', 'stopped_exercises', 'sittings',
        'photographs', 'analyses']
    loop
        execute format('alter table %I enable row level security', t);
    end loop;
    foreach t in array array['accounts', 'invitations', 'programs', 'program_versions', 'assignments', 'planned_days',
        'practice_logs', 'practice_log_lines', 'stopped_exercises', 'sittings', 'photographs', 'analyses']
    loop
        execute format('create policy own on %I using (practice_id = current_practice()'
            ' and (current_client() is null or client_id = current_client()))', t);
    end loop;
end $$;
create policy own on practices using (id = current_practice());
create policy own on clients using (practice_id = current_practice()
    and (current_client() is null or id = current_client()));

-- The few questions that are asked before the practice is known. They run with the owner's rights and answer no more
-- than is needed.
create function account_by_email(wanted text)
returns table (id uuid, practice_id uuid, role text, client_id uuid, name text, password_hash text)
language sql stable security definer set search_path = public as
$$ select id, practice_id, role, client_id, name, password_hash from accounts where lower(email) = lower(wanted) $$;

create function account_by_token(hash bytea)
returns table (id uuid, practice_id uuid, role text, client_id uuid, name text, practice_name text)
language sql stable security definer set search_path = public as
$$ select a.id, a.practice_id, a.role, a.client_id, a.name, p.name
   from sign_ins s join accounts a on a.id = s.account_id join practices p on p.id = a.practice_id
   where s.token_hash = hash and s.expires_at > now() $$;

create function invitation_by_token(hash bytea)
returns table (practice_id uuid, client_id uuid, email text, client_name text, practice_name text,
               expired boolean, used boolean)
language sql stable security definer set search_path = public as
$$ select i.practice_id, i.client_id, i.email, c.name, p.name, i.expires_at <= now(), i.used_at is not null
   from invitations i join clients c on c.id = i.client_id join practices p on p.id = i.practice_id
   where i.token_hash = hash $$;

create function email_taken(wanted text) returns boolean
language sql stable security definer set search_path = public as
$$ select exists (select from accounts where lower(email) = lower(wanted)) $$;

grant usage on schema public to dimbo_app;
grant select, insert, update, delete on all tables in schema public to dimbo_app;
revoke insert, update, delete on practices from dimbo_app;
revoke update, delete on program_versions, practice_logs, practice_log_lines from dimbo_app;
grant update (effort, note) on practice_logs to dimbo_app;
