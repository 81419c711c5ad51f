-- Accounts that people manage themselves: where they are signed in, a second factor, links that are used once, and tries that are
-- counted before a password is looked at.

alter table accounts
    add time_zone text,
    add totp_secret text,
    add totp_since timestamptz,
    add totp_step bigint,
    add check (totp_since is null or totp_secret is not null);
comment on column accounts.time_zone is 'Of somebody who works in the practice; clients have theirs with the client.';
comment on column accounts.totp_since is 'Since when the second factor is asked for; null while it is being set up.';
comment on column accounts.totp_step is 'The last step of time whose code was taken, so that none is taken twice.';

create table recovery_codes (
    practice_id uuid not null references practices,
    account_id uuid not null,
    code_hash bytea not null,
    used_at timestamptz,
    primary key (account_id, code_hash),
    foreign key (practice_id, account_id) references accounts (practice_id, id) on delete cascade
);

-- Links that are used once: a colleague's invitation, a new password, a new address. Only the hash is kept.
create table account_links (
    token_hash bytea primary key,
    id uuid not null unique default gen_random_uuid(),
    practice_id uuid not null references practices,
    account_id uuid,
    kind text not null check (kind in ('colleague', 'password', 'address')),
    name text not null default '' check (length(name) <= 120),
    email text not null default '' check (length(email) <= 200),
    standing text check (standing in ('owner', 'coach', 'assistant')),
    made_at timestamptz not null default now(),
    expires_at timestamptz not null,
    used_at timestamptz,
    check ((kind = 'colleague') = (account_id is null)),
    foreign key (practice_id, account_id) references accounts (practice_id, id) on delete cascade
);
create index on account_links (practice_id, kind) where used_at is null;

alter table sign_ins
    add id uuid not null unique default gen_random_uuid(),
    add seen_at timestamptz not null default now(),
    add device text not null default '' check (length(device) <= 120);
create index on sign_ins (account_id);

-- Devices on which an account was signed in before: their tries are counted apart, so nobody can lock their owner out.
create table known_devices (
    token_hash bytea not null,
    account_id uuid not null references accounts on delete cascade,
    seen_at timestamptz not null default now(),
    primary key (token_hash, account_id)
);

do $$
declare t text;
begin
    foreach t in array array['recovery_codes', 'account_links']
    loop
        execute format('alter table %I enable row level security', t);
        execute format('create policy own on %I using (practice_id = current_practice())', t);
        execute format('create policy before_sign_in on %I for select to %I using (current_setting(%L) = %L)',
            t, current_user, 'search_path', 'public, before_sign_in');
    end loop;
end $$;
grant update (name) on practices to dimbo_app;
grant select, insert, update, delete on recovery_codes, account_links, known_devices to dimbo_app;

drop function account_by_token(bytea);
create function account_by_token(hash bytea, idle interval)
returns table (id uuid, practice_id uuid, role text, client_id uuid, name text, practice_name text, standing text, sees_all boolean)
language sql stable security definer set search_path = public, before_sign_in as
$$ select a.id, a.practice_id, a.role, a.client_id, a.name, p.name, a.standing, a.sees_all
   from sign_ins s join accounts a on a.id = s.account_id join practices p on p.id = a.practice_id
   where s.token_hash = hash and s.expires_at > now() and s.seen_at > now() - idle and a.disabled_at is null $$;
drop function account_by_email(text);
create function account_by_email(wanted text)
returns table (id uuid, practice_id uuid, role text, client_id uuid, name text, email text, password_hash text, totp_secret text,
               totp_since timestamptz, totp_step bigint)
language sql stable security definer set search_path = public, before_sign_in as
$$ select id, practice_id, role, client_id, name, email, password_hash, totp_secret, totp_since, totp_step from accounts
   where lower(email) = lower(wanted) and disabled_at is null $$;
create function account_link(hash bytea)
returns table (id uuid, practice_id uuid, account_id uuid, kind text, name text, email text, standing text, practice_name text,
               expired boolean, used boolean)
language sql stable security definer set search_path = public, before_sign_in as
$$ select l.id, l.practice_id, l.account_id, l.kind, coalesce(a.name, l.name), l.email, l.standing, p.name,
       l.expires_at <= now() or a.disabled_at is not null, l.used_at is not null
   from account_links l join practices p on p.id = l.practice_id left join accounts a on a.id = l.account_id
   where l.token_hash = hash $$;

-- Letters about an account go to somebody who may be no client. What they hold opens the account, so it goes once it is carried.
alter table outbox alter client_id drop not null, drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check
    check (kind in ('reminder', 'message', 'pain', 'urgent', 'health', 'account') and (client_id is not null or kind = 'account'));
create policy between_account_and_owner on outbox as restrictive for select using (kind <> 'account' or current_account() is null);
comment on policy between_account_and_owner on outbox is 'Read by the worker that carries them, and by nobody else.';
