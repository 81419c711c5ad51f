-- Whether photographs of a sitting came is the same whoever asks: colleagues do not see the photographs, and see when the next are due.

create function sitting_was_taken(of_sitting uuid) returns boolean language sql stable security definer
    set search_path = public, before_sign_in as
$$ select exists (select from photographs where sitting_id = of_sitting) $$;
revoke all on function sitting_was_taken(uuid) from public;
grant execute on function sitting_was_taken(uuid) to dimbo_app;
