-- Which sittings chose the side that a plan gives more: a change is not held against a start that was chosen for looking weak.

alter table plans add column sides jsonb not null default '[]';
comment on column plans.sides is 'Readings by which a side is given more: the side, value and band then, the sittings that said so, and whether another start was seen.';
