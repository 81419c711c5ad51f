-- Exercises of a practice's own, templates, what a practice decides, and the cards and parts of the day of an assignment.

-- An exercise of a practice's own; every save is a version. A retired one stays in old programs and is no longer offered.
create table own_exercises (
    practice_id uuid not null references practices,
    id text not null check (id ~ '^own-[a-z0-9-]{1,50}$'),
    version integer not null default 1,
    family text not null,
    entry jsonb not null,
    retired_at timestamptz,
    saved_by text not null,
    saved_at timestamptz not null default now(),
    primary key (practice_id, id)
);

create table own_exercise_versions (
    practice_id uuid not null,
    id text not null,
    version integer not null,
    family text not null,
    entry jsonb not null,
    saved_by text not null,
    saved_at timestamptz not null,
    primary key (practice_id, id, version),
    foreign key (practice_id, id) references own_exercises (practice_id, id)
);

create function keep_exercise_version() returns trigger language plpgsql as
$$ begin
    insert into own_exercise_versions (practice_id, id, version, family, entry, saved_by, saved_at)
    values (new.practice_id, new.id, new.version, new.family, new.entry, new.saved_by, new.saved_at)
    on conflict do nothing;
    return new;
end $$;
create trigger keep_version after insert or update on own_exercises for each row execute function keep_exercise_version();

-- The cards that an assignment was made with, each kept once by the hash of its text.
create table card_snapshots (
    practice_id uuid not null references practices,
    hash text not null,
    family text not null,
    entry jsonb not null,
    primary key (practice_id, hash)
);

create table templates (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    title text not null check (length(title) between 1 and 120),
    about text not null default '' check (length(about) <= 1000),
    version integer not null default 1,
    document jsonb not null,
    saved_by text not null,
    updated_at timestamptz not null default now(),
    unique (practice_id, id)
);
create index on templates (practice_id, title);

alter table practices add approach text not null default 'balanced', add limits jsonb not null default '{}';
alter table clients add approach text;

-- exercise id to the hash of its card; empty for assignments from before cards were kept.
alter table assignments add cards jsonb not null default '{}';

-- A day may have a morning and an evening session; place is the day's place among its week's days.
alter table planned_days add part text not null default 'morning' check (part in ('morning', 'evening')),
    add place smallint not null default 0;
alter table planned_days drop constraint planned_days_pkey, add primary key (assignment_id, day, part);
update planned_days d set place = r.place from (
    select assignment_id, day, row_number() over (partition by assignment_id, week order by day) - 1 as place from planned_days
) r where r.assignment_id = d.assignment_id and r.day = d.day;
alter table practice_logs add part text not null default 'morning' check (part in ('morning', 'evening'));

do $$
declare t text;
begin
    foreach t in array array['own_exercises', 'own_exercise_versions', 'templates']
    loop
        execute format('alter table %I enable row level security', t);
        execute format('create policy own on %I using (practice_id = current_practice() and current_client() is null)', t);
    end loop;
end $$;
-- A client's day is compiled from the cards of its assignment.
alter table card_snapshots enable row level security;
create policy own on card_snapshots using (practice_id = current_practice());

grant select, insert, update, delete on own_exercises, templates to dimbo_app;
grant select, insert on own_exercise_versions, card_snapshots to dimbo_app;
grant update (pace_s, change_over_s, oil_change_over_s, approach, limits) on practices to dimbo_app;
