-- Sittings that can be measured: views, links for clients, uploads in pieces, points set by hand, primary readings, blind rating.

alter table clients add column coach_id uuid references accounts;
comment on column clients.coach_id is 'The coach who took the client on; another coach sees photographs only with the client''s consent.';

alter table sittings
    add column kind text not null default 'follow-up' check (kind in ('baseline', 'follow-up')),
    add column asked_views text[] not null default '{front-neutral}',
    add column how text not null default '' check (how in ('', 'another person', 'timer', 'selfie', 'mirror')),
    add column hint text not null default '' check (length(hint) <= 200),
    add column link_hash bytea unique,
    add column link_expires_at timestamptz,
    add column handed_in_at timestamptz;
update sittings s set kind = 'baseline' where not exists
    (select from sittings e where e.client_id = s.client_id and (e.taken_on, e.created_at) < (s.taken_on, s.created_at));

alter table photographs
    add column view_confirmed boolean not null default false,
    add column flipped boolean,
    add column same_person boolean,
    add column taken_told text not null default 'file' check (taken_told in ('file', 'coach', 'device', 'nobody'));
update photographs set view = 'front-neutral', view_confirmed = true, taken_told = case when taken_at is null then 'nobody' else 'file' end;
alter table photographs alter column view set default 'front-neutral';
create index on photographs (client_id, source_hash);

-- An analysis keeps the automatic points; points set by hand lie beside it and win.
alter table analyses
    add column depth jsonb not null default '{}',
    add column trust jsonb not null default '{}',
    add column seen jsonb,
    add column face_print bytea;
alter table analyses drop column quality;

-- Every move of a point is kept; the newest holds, and no place means: back to the automatic one.
create table point_moves (
    id bigint generated always as identity primary key,
    photograph_id uuid not null references photographs on delete cascade,
    practice_id uuid not null references practices,
    client_id uuid not null,
    point text not null,
    x real,
    y real,
    moved_by uuid not null references accounts,
    moved_at timestamptz not null default now(),
    check ((x is null) = (y is null))
);
create index on point_moves (photograph_id, point, id desc);
create index on point_moves (client_id);

-- A file on its way, piece by piece; gone once it is whole.
create table upload_pieces (
    photograph_id uuid not null,
    practice_id uuid not null references practices,
    client_id uuid not null,
    starts_at integer not null check (starts_at >= 0),
    data bytea not null,
    received_at timestamptz not null default now(),
    primary key (practice_id, photograph_id, starts_at)
);

create table primary_readings (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    client_id uuid not null,
    readings text[] not null,
    named_by uuid not null references accounts,
    named_at timestamptz not null,
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on primary_readings (client_id, named_at desc);

-- A round of blind rating is stored once and answered once.
create table rating_rounds (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    client_id uuid not null,
    kind text not null check (kind in ('score', 'better of two')),
    concern text not null,
    rater text not null check (rater in ('coach', 'second rater', 'client')),
    earlier uuid[] not null,
    later uuid[] not null,
    items jsonb not null,
    begun_by uuid not null references accounts,
    begun_at timestamptz not null,
    finished_at timestamptz,
    unique (practice_id, id),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on rating_rounds (client_id, begun_at desc);

create table rating_answers (
    round_id uuid not null,
    practice_id uuid not null references practices,
    client_id uuid not null,
    place smallint not null,
    value smallint not null check (value between 0 and 4),
    answered_at timestamptz not null default now(),
    primary key (round_id, place),
    foreign key (practice_id, round_id) references rating_rounds (practice_id, id) on delete cascade
);

do $$
declare t text;
begin
    foreach t in array array['point_moves', 'upload_pieces', 'primary_readings', 'rating_rounds', 'rating_answers']
    loop
        execute format('alter table %I enable row level security', t);
        execute format('create policy own on %I using (practice_id = current_practice()'
            ' and (current_client() is null or client_id = current_client()))', t);
    end loop;
end $$;

-- Asked before the practice is known.
create function sitting_by_link(hash bytea)
returns table (sitting_id uuid, practice_id uuid, client_id uuid, client_name text, practice_name text, expired boolean)
language sql stable security definer set search_path = public as
$$ select s.id, s.practice_id, s.client_id, c.name, p.name, s.link_expires_at <= now()
   from sittings s join clients c on c.id = s.client_id join practices p on p.id = s.practice_id
   where s.link_hash = hash $$;

grant select, insert on point_moves, primary_readings, rating_answers to dimbo_app;
grant select, insert, delete on upload_pieces to dimbo_app;
grant select, insert on rating_rounds to dimbo_app;
grant update (finished_at) on rating_rounds to dimbo_app;
grant usage, select on all sequences in schema public to dimbo_app;
