-- A reminder says which session it is about in columns of its own; until now its key was read for it.
alter table outbox
    add session_day date,
    add session_part text check (session_part in ('morning', 'evening')),
    add check ((session_day is null) = (session_part is null));
update outbox set session_day = split_part(key, ':', 3)::date, session_part = split_part(key, ':', 4) where kind = 'reminder';
