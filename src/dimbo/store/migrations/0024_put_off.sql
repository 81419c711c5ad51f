-- An alarm may be put off to a day; without one it was put aside as seen.

alter table settled_alarms add column until date;
comment on column settled_alarms.until is 'The day on which it speaks again; null where it was put aside as seen.';
grant update (until, settled_by, settled_at) on settled_alarms to dimbo_app;
