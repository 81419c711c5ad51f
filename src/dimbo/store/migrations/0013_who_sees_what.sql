-- Who works in a practice and as what, whose clients they see, and one gate for photographs: the database refuses what Python
-- would have refused before (work/intake/looking.py).

create function current_account() returns uuid language sql stable parallel safe as
$$ select nullif(current_setting('dimbo.account', true), '')::uuid $$;
comment on function current_account() is 'Of somebody who works in the practice; null for clients, for links and for the worker.';
create function sees_own_only() returns boolean language sql stable parallel safe as
$$ select coalesce(current_setting('dimbo.own_only', true), '') = 'on' $$;

alter table accounts
    add standing text not null default 'coach' check (standing in ('owner', 'coach', 'assistant', 'client')),
    add sees_all boolean not null default true,
    add disabled_at timestamptz;
comment on column accounts.sees_all is 'Whether every client of the practice is seen, or only the own ones and those of account_sees.';
update accounts set standing = 'client' where role = 'client';
-- Whoever was there first owns the practice, and took on the clients of whom nobody knows who did.
update accounts a set standing = 'owner' where a.role = 'coach' and not exists (select from accounts e
    where e.practice_id = a.practice_id and e.role = 'coach' and (e.created_at, e.id) < (a.created_at, a.id));
alter table accounts add check ((role = 'client') = (standing = 'client'));
update clients c set coach_id = (select a.id from accounts a where a.practice_id = c.practice_id and a.standing = 'owner')
where c.coach_id is null;

-- Whose clients somebody sees who does not see everybody: an assistant's coaches, or colleagues who stand in for each other.
create table account_sees (
    practice_id uuid not null references practices,
    account_id uuid not null,
    coach_id uuid not null,
    primary key (account_id, coach_id),
    foreign key (practice_id, account_id) references accounts (practice_id, id) on delete cascade,
    foreign key (practice_id, coach_id) references accounts (practice_id, id) on delete cascade
);
alter table account_sees enable row level security;
create policy own on account_sees using (practice_id = current_practice() and current_client() is null);
grant select, insert, delete on account_sees to dimbo_app;

create policy own_clients on clients as restrictive using (not sees_own_only() or coach_id is null or coach_id = current_account()
    or coach_id in (select s.coach_id from account_sees s where s.account_id = current_account()));
do $$
declare t text;
begin
    for t in
        select a.attrelid::regclass::text from pg_attribute a join pg_class c on c.oid = a.attrelid
        where a.attname = 'client_id' and c.relkind = 'r' and c.relrowsecurity and c.relnamespace = 'public'::regnamespace
            and c.relname <> 'accounts'
    loop
        execute format('create policy own_clients on %s as restrictive using (not sees_own_only() or client_id is null'
            ' or client_id in (select id from clients))', t);
    end loop;
end $$;

-- Photographs and all that is made from them: for the client, for the coach who took the client on, and for one coach whom the
-- client named by account. Expiry and age are judged in Python; here nobody else gets a row.
create function may_look(wanted uuid) returns boolean language sql stable as
$$ select current_account() is null
    or exists (select from clients c where c.id = wanted and c.coach_id = current_account())
    or coalesce((select (f.value ->> 'given')::boolean and f.value ->> 'account' = current_account()::text
        from facts f where f.client_id = wanted and f.kind = 'consent' and f.key = 'second-coach' order by f.seq desc limit 1), false) $$;
do $$
declare t text;
begin
    foreach t in array array['photographs', 'analyses', 'point_moves', 'upload_pieces', 'primary_readings', 'rating_rounds',
        'rating_answers']
    loop
        execute format('create policy looking on %I as restrictive using (may_look(client_id))', t);
    end loop;
    -- That a sitting was, and when, is part of the course and of when the next is due; nobody else writes one.
    execute 'create policy looking_new on sittings as restrictive for insert with check (may_look(client_id))';
    execute 'create policy looking_change on sittings as restrictive for update using (may_look(client_id))';
    execute 'create policy looking_gone on sittings as restrictive for delete using (may_look(client_id))';
end $$;

-- A link grants never more than its maker may see; that of nobody known ends.
alter table sittings add link_by uuid, add foreign key (practice_id, link_by) references accounts (practice_id, id);
update sittings set link_hash = null, link_expires_at = null where link_hash is not null;

drop function account_by_token(bytea);
create function account_by_token(hash bytea)
returns table (id uuid, practice_id uuid, role text, client_id uuid, name text, practice_name text, standing text, sees_all boolean)
language sql stable security definer set search_path = public, before_sign_in as
$$ select a.id, a.practice_id, a.role, a.client_id, a.name, p.name, a.standing, a.sees_all
   from sign_ins s join accounts a on a.id = s.account_id join practices p on p.id = a.practice_id
   where s.token_hash = hash and s.expires_at > now() and a.disabled_at is null $$;
drop function account_by_email(text);
create function account_by_email(wanted text)
returns table (id uuid, practice_id uuid, role text, client_id uuid, name text, password_hash text)
language sql stable security definer set search_path = public, before_sign_in as
$$ select id, practice_id, role, client_id, name, password_hash from accounts
   where lower(email) = lower(wanted) and disabled_at is null $$;
drop function sitting_by_link(bytea);
create function sitting_by_link(hash bytea)
returns table (sitting_id uuid, practice_id uuid, client_id uuid, client_name text, practice_name text, expired boolean, made_by uuid)
language sql stable security definer set search_path = public, before_sign_in as
$$ select s.id, s.practice_id, s.client_id, c.name, p.name, s.link_expires_at <= now(), s.link_by
   from sittings s join clients c on c.id = s.client_id join practices p on p.id = s.practice_id
   where s.link_hash = hash $$;

-- Where the coach is written to: never to somebody who has left.
create or replace function addresses_of(wanted uuid) returns table (client_email text, coach_email text, coach_name text)
language sql stable security definer set search_path = public, before_sign_in as
$$ select coalesce((select a.email from accounts a where a.client_id = c.id and a.disabled_at is null), nullif(c.email, ''), ''),
       coalesce(k.email, ''), coalesce(k.name, '')
   from clients c left join lateral (select a.email, a.name from accounts a where a.practice_id = c.practice_id
       and a.role = 'coach' and a.disabled_at is null
       order by a.id = c.coach_id desc, a.standing = 'owner' desc, a.created_at limit 1) k on true
   where c.id = wanted and c.practice_id = current_practice() and (current_client() is null or current_client() = wanted) $$;

-- Asked in a client's transaction too: who made a link, and whom a client can name.
create function account_at_work(wanted uuid)
returns table (id uuid, practice_id uuid, role text, client_id uuid, name text, practice_name text, standing text, sees_all boolean)
language sql stable security definer set search_path = public, before_sign_in as
$$ select a.id, a.practice_id, a.role, a.client_id, a.name, p.name, a.standing, a.sees_all
   from accounts a join practices p on p.id = a.practice_id
   where a.id = wanted and a.practice_id = current_practice() and a.role = 'coach' and a.disabled_at is null $$;
create function coaches_at_work() returns table (id uuid, name text)
language sql stable security definer set search_path = public, before_sign_in as
$$ select a.id, a.name from accounts a
   where a.practice_id = current_practice() and a.role = 'coach' and a.disabled_at is null order by a.created_at, a.id $$;
