-- Somebody may be taken out of a group, or join it later; their program goes on as it is. Which group it was is kept, so that they can be
-- put back into that one and no other.

alter table assignments add left_group_id uuid, add foreign key (practice_id, left_group_id) references groups (practice_id, id);
grant update (group_id, left_group_id) on assignments to dimbo_app;
