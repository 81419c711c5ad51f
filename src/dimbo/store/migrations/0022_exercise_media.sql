-- Clips and pictures of a practice's own exercises, each kept once by the hash of its file. Exercises name them by it.

create table exercise_media (
    practice_id uuid not null references practices,
    hash text not null check (hash ~ '^[0-9a-f]{64}$'),
    media_type text not null check (media_type in ('video/mp4', 'image/jpeg')),
    data bytea not null,
    still bytea,
    made_by text not null,
    made_at timestamptz not null default now(),
    primary key (practice_id, hash)
);
comment on column exercise_media.still is 'A picture of a clip, shown until it is played; null for pictures.';
-- Parts of a clip are read without the rest.
alter table exercise_media alter column data set storage external;

alter table exercise_media enable row level security;
alter table exercise_media force row level security;
-- Clients see what belongs to an exercise that was assigned to them; which that is, is asked beside it.
create policy own on exercise_media using (practice_id = current_practice());
do $$
begin
    execute format('create policy before_sign_in on exercise_media to %I using (current_setting(%L) = %L)',
        current_user, 'search_path', 'public, before_sign_in');
end $$;
revoke all on exercise_media from dimbo_app;
grant select, insert, delete on exercise_media to dimbo_app;
