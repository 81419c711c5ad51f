-- What a practice that was just opened does first. What shows by itself (a client, a program) is not kept; the rest is.
alter table practices add begun text[] not null default '{}';
update practices set begun = '{ways,colleague}';
grant update (begun) on practices to dimbo_app;
