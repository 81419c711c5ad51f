-- What is held of a client: who looked at it and took it out, how long it is kept, and how it is erased.

-- ------------------------------------------------------------ the trail
create table trail (
    id bigint generated always as identity primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    at timestamptz not null,
    by_id uuid not null,
    by_name text not null,
    what text not null check (what in ('looked', 'compared', 'took out', 'deleted photographs', 'archived', 'restored', 'kept longer')),
    subject text not null default '' check (length(subject) <= 200),
    key text not null,
    unique (client_id, key),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
comment on table trail is 'Who looked at which photograph and when, and what else was done with a client''s records. Only ever added to.';
create index on trail (client_id, at desc);

-- ------------------------------------------------------------ how long things are kept
alter table clients
    add archived_at timestamptz,
    add kept_until date;
comment on column clients.kept_until is 'Nothing is deleted for its age before this day.';
alter table practices
    add keep_photographs_months smallint check (keep_photographs_months between 1 and 600),
    add keep_records_months smallint check (keep_records_months between 1 and 600),
    add kept_by_law text not null default '' check (length(kept_by_law) <= 600);
grant update (keep_photographs_months, keep_records_months, kept_by_law) on practices to dimbo_app;

create table keeping_notices (
    practice_id uuid not null references practices,
    client_id uuid not null,
    what text not null check (what in ('photographs', 'record')),
    told_on date not null,
    goes_on date not null,
    primary key (client_id, what),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
comment on table keeping_notices is 'Who was told that their photographs or whole record are deleted for their age, and when that is.';
alter table outbox drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check
    check (kind in ('reminder', 'message', 'pain', 'urgent', 'health', 'keeping', 'account') and (client_id is not null or kind = 'account'));

do $$
declare t text;
begin
    foreach t in array array['trail', 'keeping_notices']
    loop
        execute format('alter table %I enable row level security', t);
        execute format('alter table %I force row level security', t);
        execute format('create policy own on %I using (practice_id = current_practice()'
            ' and (current_client() is null or client_id = current_client()))', t);
        execute format('create policy own_clients on %I as restrictive using (not sees_own_only()'
            ' or client_id in (select id from clients))', t);
    end loop;
end $$;
revoke all on trail, keeping_notices from dimbo_app;
grant select, insert on trail to dimbo_app;
grant select, insert, update, delete on keeping_notices to dimbo_app;

-- Whoever was archived and says or does something, or gets a program, is on the desk again: nothing is said to nobody.
create function comes_back() returns trigger language plpgsql as
$$ begin
    update clients set archived_at = null where id = new.client_id and archived_at is not null;
    return null;
end $$;
create trigger comes_back after insert on messages for each row when (not new.by_coach) execute function comes_back();
create trigger comes_back after insert on practice_logs for each row execute function comes_back();
create trigger comes_back after insert on check_ins for each row execute function comes_back();
create trigger comes_back after insert on facts for each row when (new.source in ('client', 'self-intake')) execute function comes_back();
create trigger comes_back after update of submitted_at on self_intakes for each row execute function comes_back();
create trigger comes_back after update of handed_in_at on sittings for each row when (new.handed_in_at is not null)
    execute function comes_back();
create trigger comes_back after insert on assignments for each row execute function comes_back();

-- ------------------------------------------------------------ erasing
-- The tombstone: that there was a record, since when it is gone and why. No name.
create table erasures (
    erased_client uuid primary key,
    practice_id uuid not null references practices,
    erased_at timestamptz not null,
    by_whom text not null check (by_whom in ('client', 'owner', 'age')),
    reason text not null check (reason in ('own wish', 'asked for', 'mistake', 'kept long enough')),
    noted_at timestamptz
);
comment on column erasures.noted_at is 'When it was written into the list outside the database, by which a restored backup erases again.';
alter table erasures enable row level security;
alter table erasures force row level security;
create policy own on erasures using (practice_id = current_practice() and current_client() is null);
revoke all on erasures from dimbo_app;
grant select on erasures to dimbo_app;
grant update (noted_at) on erasures to dimbo_app;

create function being_erased() returns uuid language sql stable as
$$ select nullif(current_setting('dimbo.erasing', true), '')::uuid $$;

create or replace function facts_stay() returns trigger language plpgsql as
$$ begin
    if tg_op = 'DELETE' and old.client_id = being_erased() then
        return old;
    end if;
    raise exception '% are only ever added to', tg_table_name;
end $$;
create trigger trail_stays before update or delete on trail for each row execute function facts_stay();
create function never() returns trigger language plpgsql as
$$ begin raise exception '% are only ever added to', tg_table_name; end $$;
create trigger trail_stays_all before truncate on trail for each statement execute function never();
create trigger facts_stay_whole before truncate on facts for each statement execute function never();
drop trigger facts_stay_all on facts;

-- Erases everything of a client: every table that has a client, in whatever order their keys allow, so that none that is added
-- later is forgotten; then the account with its sign-ins, letters to it, and queued work on the photographs.
create function erase_client(wanted uuid, whose text, why text, moment timestamptz) returns void
language plpgsql security definer set search_path = public, pg_temp as
$$
declare
    t text;
    waiting text[];
    later text[];
    addresses text[];
    owner uuid;
    was_account text := current_setting('dimbo.account', true);
    was_client text := current_setting('dimbo.client', true);
    was_own text := current_setting('dimbo.own_only', true);
    was_removed text := current_setting('dimbo.removed', true);
begin
    -- Asked in so many words, because the owner of the tables may be somebody whom row-level security does not bind.
    select c.practice_id into owner from clients c
    where c.id = wanted and c.practice_id = current_practice() and (current_client() is null or current_client() = wanted);
    if owner is null then
        raise no_data_found using message = 'There is no such client.';
    end if;
    perform set_config('dimbo.account', '', true), set_config('dimbo.client', '', true), set_config('dimbo.own_only', '', true),
        set_config('dimbo.removed', 'on', true), set_config('dimbo.erasing', wanted::text, true);

    select coalesce(array_agg(distinct lower(a)), '{}') into addresses from (
        select email from accounts where client_id = wanted union all select email from clients where id = wanted
        union all select email from invitations where client_id = wanted) known (a) where a <> '';
    delete from failed_sign_ins where key in (select prefix || a from unnest(addresses) a, unnest(array['mail:', 'forgot:']) prefix);
    delete from outbox where kind = 'account' and client_id is null and lower(address) = any(addresses);
    delete from procrastinate_jobs where status <> 'doing'
        and args ->> 'photograph_id' in (select id::text from photographs where client_id = wanted);

    select array_agg(c.relname::text) into waiting from pg_attribute a join pg_class c on c.oid = a.attrelid
    where a.attname = 'client_id' and not a.attisdropped and c.relkind = 'r' and c.relnamespace = 'public'::regnamespace;
    while waiting <> '{}' loop
        later := '{}';
        foreach t in array waiting loop
            begin
                execute format('delete from %I where client_id = $1', t) using wanted;
            exception when foreign_key_violation then
                later := later || t;
            end;
        end loop;
        if later = waiting then
            raise exception 'These tables hold on to each other: %', later;
        end if;
        waiting := later;
    end loop;
    delete from clients where id = wanted;

    insert into erasures (erased_client, practice_id, erased_at, by_whom, reason) values (wanted, owner, moment, whose, why);
    perform set_config('dimbo.account', was_account, true), set_config('dimbo.client', was_client, true),
        set_config('dimbo.own_only', was_own, true), set_config('dimbo.removed', was_removed, true), set_config('dimbo.erasing', '', true);
end $$;
revoke all on function erase_client(uuid, text, text, timestamptz) from public;
grant execute on function erase_client(uuid, text, text, timestamptz) to dimbo_app;
