-- Points of a profile set a second time without seeing the first: how far two settings differ is the noise of setting them.

alter table point_moves add column again boolean not null default false;
comment on column point_moves.again is 'Whether it was set again, unseen, to learn how far two settings differ; no reading is taken from it.';
