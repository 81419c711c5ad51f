-- Somebody may be taken out of a group, or join it later; their program goes on as it is.

grant update (group_id) on assignments to dimbo_app;
