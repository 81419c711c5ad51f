-- A sudden sign, and a change of health, are told to the coach by a letter of their own.
alter table outbox drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check check (kind in ('reminder', 'message', 'pain', 'urgent', 'health'));

-- Since when an exercise hurt, in the client's words; and where a release was held longer because it was tender: a list of
-- side, seconds, the place of the timeline, and the place of the face in words.
alter table practice_log_lines
    add pain_since text not null default '' check (length(pain_since) <= 60),
    add stays jsonb not null default '[]';

-- A phone's clock may be wrong by decades; a log is read all the same, and says by how much it was set right.
alter table practice_logs alter clock_off_s type numeric(14, 1);

-- What a coach removes lies out of every road's sight for 30 days and can be brought back; then the worker deletes it. Only a
-- transaction that lists, brings back or deletes it says that it wants to see it.
create function sees_removed() returns boolean language sql stable
as $$ select coalesce(current_setting('dimbo.removed', true), '') = 'on' $$;

do $$
declare t text;
begin
    foreach t in array array['photographs', 'programs', 'templates']
    loop
        execute format('alter table %I add removed_at timestamptz, add removed_by uuid references accounts', t);
        execute format('create index on %I (practice_id, removed_at) where removed_at is not null', t);
        execute format('drop policy own on %I', t);
    end loop;
    foreach t in array array['photographs', 'programs']
    loop
        execute format('create policy own on %I using (practice_id = current_practice() and (current_client() is null'
            ' or client_id = current_client()) and (removed_at is null or sees_removed()))', t);
    end loop;
end $$;
create policy own on templates using (practice_id = current_practice() and current_client() is null
    and (removed_at is null or sees_removed()));
-- The same file may come again while its removed copy is still kept.
alter table photographs drop constraint photographs_sitting_id_source_hash_key;
create unique index photographs_once on photographs (sitting_id, source_hash) where removed_at is null;

-- With a program that is deleted for good its versions go; one that was ever assigned cannot be.
alter table program_versions drop constraint program_versions_practice_id_program_id_fkey,
    add foreign key (practice_id, program_id) references programs (practice_id, id) on delete cascade;
-- What was put aside by mistake speaks again.
grant delete on settled_alarms to dimbo_app;

-- What the coach said comes after a program that was ended, and a word about it; both go back when the ending is taken back.
alter table assignments
    add follows text not null default '' check (follows in ('', 'next', 'rest', 'done')),
    add ended_from date;
comment on column assignments.ended_from is 'The first day that was no longer due; null for programs that were ended before this was kept.';

-- That health was asked again and nothing has changed; and who consented for somebody who is not of age.
alter table facts drop constraint facts_kind_check;
alter table facts add constraint facts_kind_check check (kind in ('rating', 'answer', 'cause', 'test', 'habit', 'caution', 'clearance',
    'consent', 'profile', 'note', 'intake', 'lock', 'release', 'photographs', 'asked'));
create index on facts (client_id, at desc) where kind in ('caution', 'asked');
-- What the coach found before something that hurt goes on.
alter table stopped_exercises add note text not null default '' check (length(note) <= 400);
-- The practice's own number for an emergency; none ships, because it differs from place to place.
alter table practices add emergency_number text not null default '' check (length(emergency_number) <= 40);

-- Careful starting values that a licensed clinician of the practice has confirmed: who, in which role, on which day. Kept for
-- good; the newest of a value holds.
create table confirmations (
    id uuid primary key,
    practice_id uuid not null references practices,
    value text not null check (length(value) <= 60),
    by_name text not null check (length(by_name) between 1 and 120),
    role text not null check (length(role) between 1 and 60),
    confirmed_on date not null,
    made_by uuid not null references accounts,
    made_at timestamptz not null
);
create index on confirmations (practice_id, value, made_at desc);
alter table confirmations enable row level security;
create policy own on confirmations using (practice_id = current_practice() and current_client() is null);
grant select, insert on confirmations to dimbo_app;
