-- What calendars were told of each session: revisions and stamps only grow, because they are kept and not worked out anew.

create table calendar_events (
    practice_id uuid not null references practices,
    client_id uuid not null,
    day date not null,
    part text not null check (part in ('morning', 'evening')),
    said jsonb not null,
    cancelled boolean not null,
    revision int not null check (revision >= 0),
    changed_at timestamptz not null,
    primary key (client_id, day, part),
    foreign key (practice_id, client_id) references clients (practice_id, id)
);
comment on table calendar_events is 'Sessions as calendars were last told of them.';
comment on column calendar_events.said is 'Titles, minutes, clock, zone and alarm, as core.calendar.events.Session has them.';

alter table calendar_events enable row level security;
alter table calendar_events force row level security;
create policy own_clients on calendar_events as restrictive using (not sees_own_only() or client_id in (select id from clients));
create policy own on calendar_events
    using (practice_id = current_practice() and (current_client() is null or client_id = current_client()));
revoke all on calendar_events from dimbo_app;
grant select, insert, update, delete on calendar_events to dimbo_app;
