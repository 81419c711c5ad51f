-- Older photographs are read again by themselves; one that a newer version of the analysis cannot read keeps its older result.

alter table photographs add column not_read_by text not null default '';
comment on column photographs.not_read_by is 'The version of the analysis that could not read what an earlier one had; it is not tried again.';
