-- What came of it: what a client writes beside photographs, letters, and coins thrown between two approaches.

create table own_notes (
    practice_id uuid not null references practices,
    client_id uuid not null,
    sitting_id uuid primary key,
    words text not null check (length(words) between 1 and 2000),
    written_at timestamptz not null,
    foreign key (practice_id, client_id) references clients (practice_id, id),
    foreign key (practice_id, client_id, sitting_id) references sittings (practice_id, client_id, id) on delete cascade
);
comment on table own_notes is 'What a client writes beside the photographs of a sitting; the coach reads it too.';

create table letters (
    id uuid primary key,
    practice_id uuid not null references practices,
    client_id uuid not null,
    kind text not null check (kind in ('report', 'clinician')),
    draft jsonb not null,
    content jsonb,
    pdf bytea,
    written_by uuid not null,
    by_name text not null,
    changed_at timestamptz not null,
    sent_at timestamptz,
    by_mail boolean not null default false,
    opened_at timestamptz,
    check ((sent_at is null) = (content is null)),
    unique (practice_id, client_id, id),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
comment on column letters.draft is 'What the coach chose and wrote; the rest is composed from the records until it is sent.';
comment on column letters.content is 'The whole letter as it was sent.';
comment on column letters.pdf is 'The same on paper; gone when the client takes back that photographs are kept, if it shows any.';
create index on letters (client_id, changed_at);

-- A letter that was sent is never altered: it may be opened, its pictures may go, and it may be erased with its client.
create function letters_stay() returns trigger language plpgsql as
$$ begin
    if tg_op = 'DELETE' then
        if old.sent_at is null or old.client_id = being_erased() then
            return old;
        end if;
    elsif old.sent_at is null
        or (new.pdf is null or new.pdf = old.pdf) and to_jsonb(new) - array['pdf', 'opened_at'] = to_jsonb(old) - array['pdf', 'opened_at']
    then
        return new;
    end if;
    raise exception 'letters that were sent stay as they are';
end $$;
create trigger letters_stay before update or delete on letters for each row execute function letters_stay();
create trigger letters_stay_all before truncate on letters for each statement execute function never();

create table coins (
    practice_id uuid not null references practices,
    client_id uuid not null,
    between text[] not null check (cardinality(between) = 2),
    fell text not null,
    thrown_at timestamptz not null,
    by_id uuid not null,
    check (fell = any (between)),
    primary key (client_id, thrown_at),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
comment on table coins is 'Which of two approaches a coin chose for a client before practice: only then can they be compared fairly.';

alter table outbox add letter_id uuid, add foreign key (practice_id, client_id, letter_id) references letters (practice_id, client_id, id);
alter table outbox drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check check (kind in
    ('reminder', 'message', 'letter', 'pain', 'urgent', 'health', 'keeping', 'account') and (client_id is not null or kind = 'account'));
comment on column outbox.letter_id is 'A letter that goes with it as a file.';

do $$
declare t text;
begin
    foreach t in array array['own_notes', 'letters', 'coins']
    loop
        execute format('alter table %I enable row level security', t);
        execute format('alter table %I force row level security', t);
        execute format('create policy own on %I using (practice_id = current_practice()'
            ' and (current_client() is null or client_id = current_client()))', t);
        execute format('create policy own_clients on %I as restrictive using (not sees_own_only()'
            ' or client_id in (select id from clients))', t);
    end loop;
    -- What photographs say is for those who may look at them.
    foreach t in array array['own_notes', 'letters']
    loop
        execute format('create policy looking on %I as restrictive using (may_look(client_id))', t);
    end loop;
end $$;
revoke all on own_notes, letters, coins from dimbo_app;
grant select, insert, update, delete on own_notes, letters to dimbo_app;
grant select, insert on coins to dimbo_app;
