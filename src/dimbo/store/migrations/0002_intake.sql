-- The intake: what is known of a client as dated facts, invitations to fill it in alone, and a practice's own
-- reasoning texts.

alter table clients
    add column email text not null default '' check (length(email) <= 200),
    add column phone text not null default '' check (length(phone) <= 60),
    add column days smallint[] not null default '{}',
    add column goals text not null default '' check (length(goals) <= 4000),
    add column agreed text[] not null default '{}' check (cardinality(agreed) <= 3),
    add column status text not null default 'active' check (status in ('enquiry', 'active', 'paused', 'finished')),
    add column intake_opened_at timestamptz,
    add column intake_opened_by text,
    add column intake_finished_at timestamptz;
update clients set goals = story;
alter table clients drop column story;

-- Everything that anybody said, chose, tested, rated, cleared or agreed to. Newest of a kind and key is what holds;
-- nothing is ever changed or taken away. The id is made where the fact was made, so that sending it twice is harmless.
create table facts (
    id uuid primary key,
    seq bigint generated always as identity,
    practice_id uuid not null references practices,
    client_id uuid not null,
    kind text not null check (kind in ('rating', 'answer', 'cause', 'test', 'habit', 'caution', 'clearance', 'consent',
        'profile', 'note', 'intake', 'lock', 'release', 'photographs')),
    key text not null check (length(key) <= 120),
    value jsonb not null,
    at timestamptz not null,
    author text not null,
    author_id uuid references accounts,
    source text not null check (source in ('coach', 'client', 'self-intake', 'import')),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on facts (client_id, kind, key, seq desc);
create index on facts (client_id, seq desc);

create function facts_stay() returns trigger language plpgsql as
$$ begin raise exception 'facts are only ever added to'; end $$;
create trigger facts_stay before update or delete on facts for each row execute function facts_stay();
create trigger facts_stay_all before truncate on facts for each statement execute function facts_stay();

-- An invitation to fill the intake in without an account. The token's hash is kept; the document is the client's draft.
create table self_intakes (
    id uuid primary key default gen_random_uuid(),
    token_hash bytea not null unique,
    practice_id uuid not null references practices,
    client_id uuid not null,
    created_at timestamptz not null default now(),
    created_by uuid not null references accounts,
    expires_at timestamptz not null,
    revoked_at timestamptz,
    document jsonb not null default '{}',
    revision integer not null default 0,
    submitted_at timestamptz,
    reviewed_at timestamptz,
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
create index on self_intakes (client_id, created_at desc);

create table reasoning_texts (
    practice_id uuid not null references practices,
    concern text not null,
    document jsonb not null,
    edited_by text not null,
    edited_at timestamptz not null default now(),
    primary key (practice_id, concern)
);

alter table facts enable row level security;
alter table self_intakes enable row level security;
alter table reasoning_texts enable row level security;
create policy own on facts using (practice_id = current_practice()
    and (current_client() is null or client_id = current_client()));
create policy own on self_intakes using (practice_id = current_practice()
    and (current_client() is null or client_id = current_client()));
create policy own on reasoning_texts using (practice_id = current_practice());

-- Asked before the practice is known.
create function self_intake_by_token(hash bytea)
returns table (id uuid, practice_id uuid, client_id uuid, client_name text, practice_name text, expires_at timestamptz,
               expired boolean, revoked boolean, submitted boolean, document jsonb, revision integer)
language sql stable security definer set search_path = public as
$$ select s.id, s.practice_id, s.client_id, c.name, p.name, s.expires_at, s.expires_at <= now(),
          s.revoked_at is not null, s.submitted_at is not null, s.document, s.revision
   from self_intakes s join clients c on c.id = s.client_id join practices p on p.id = s.practice_id
   where s.token_hash = hash $$;

grant select, insert on facts to dimbo_app;
grant select, insert, update on self_intakes to dimbo_app;
grant select, insert, update, delete on reasoning_texts to dimbo_app;
grant usage, select on all sequences in schema public to dimbo_app;
