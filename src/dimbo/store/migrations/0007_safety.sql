-- A sudden sign, and a change of health, are told to the coach by a letter of their own.
alter table outbox drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check check (kind in ('reminder', 'message', 'pain', 'urgent', 'health'));
