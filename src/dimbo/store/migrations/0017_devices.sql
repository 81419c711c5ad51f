-- Notices on devices (web push), one link for all that is due, and what became of letters said once a person.

create table devices (
    id uuid primary key default gen_random_uuid(),
    practice_id uuid not null references practices,
    account_id uuid not null,
    client_id uuid,
    sign_in_id uuid not null references sign_ins (id) on delete cascade,
    endpoint text not null check (length(endpoint) <= 1000),
    p256dh text not null check (length(p256dh) <= 200),
    auth text not null check (length(auth) <= 100),
    name text not null default '' check (length(name) <= 120),
    made_at timestamptz not null default now(),
    reached_at timestamptz,
    unique (account_id, endpoint),
    foreign key (practice_id, account_id) references accounts (practice_id, id) on delete cascade,
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
comment on table devices is 'Where notices go, for as long as the sign-in lasts from which it was asked for.';
create index on devices (client_id);

-- The key by which this installation says to push services who it is; made when it is first needed, and one for all.
create table installation (
    only_one boolean primary key default true check (only_one),
    push_key text not null
);
grant select, insert on installation to dimbo_app;

-- A device belongs to whoever signed in there last, also where the one before is of another practice.
create function forget_device(wanted text, but uuid) returns void
language sql security definer set search_path = public, before_sign_in as
$$ delete from devices where endpoint = wanted and account_id <> but $$;
revoke all on function forget_device(text, uuid) from public;
grant execute on function forget_device(text, uuid) to dimbo_app;

create table due_links (
    token_hash bytea primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    made_by uuid not null,
    made_at timestamptz not null default now(),
    expires_at timestamptz not null,
    foreign key (practice_id, client_id) references clients (practice_id, id),
    foreign key (practice_id, made_by) references accounts (practice_id, id)
);
create unique index on due_links (client_id);

do $$
declare t text;
begin
    foreach t in array array['devices', 'due_links']
    loop
        execute format('alter table %I enable row level security', t);
        execute format('alter table %I force row level security', t);
        execute format('create policy own_clients on %I as restrictive using (not sees_own_only() or client_id is null'
            ' or client_id in (select id from clients))', t);
        execute format('create policy before_sign_in on %I to %I using (current_setting(%L) = %L)',
            t, current_user, 'search_path', 'public, before_sign_in');
    end loop;
end $$;
create policy own on devices using (practice_id = current_practice() and (current_client() is null or client_id = current_client()));
create policy own on due_links using (practice_id = current_practice() and (current_client() is null or client_id = current_client()));
revoke all on devices, due_links from dimbo_app;
grant select, insert, update, delete on devices, due_links to dimbo_app;

create function due_link(hash bytea)
returns table (practice_id uuid, client_id uuid, made_by uuid, client_name text, practice_name text, expired boolean)
language sql stable security definer set search_path = public, before_sign_in as
$$ select d.practice_id, d.client_id, d.made_by, c.name, p.name, d.expires_at <= now()
   from due_links d join clients c on c.id = d.client_id join practices p on p.id = d.practice_id
   where d.token_hash = hash $$;

alter table outbox add way text not null default '' check (way in ('', 'mail', 'device'));
comment on column outbox.way is 'How a letter that arrived did: by mail, or as a notice on a device.';
update outbox set way = 'mail' where state = 'delivered';

-- The right that 0007 forgot: a practice keeps its own emergency number.
grant update (emergency_number) on practices to dimbo_app;

-- Files that were begun and not finished end by themselves, and one client's take a bounded room.
create index on upload_pieces (practice_id, received_at);
