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
