-- A row belongs to the practice and to the client of whatever it hangs on: by keys, not by the care of whoever writes it.

-- What others hang on can be named together with its practice and client.
alter table accounts add unique (practice_id, id);
alter table programs add unique (practice_id, client_id, id);
alter table program_versions add unique (practice_id, client_id, program_id, version);
alter table assignments add unique (practice_id, client_id, id);
alter table plans add unique (practice_id, client_id, assignment_id, number);
alter table practice_logs add unique (practice_id, client_id, id);
alter table practice_log_lines add unique (practice_id, client_id, log_id, place);
alter table sittings add unique (practice_id, client_id, id);
alter table photographs add unique (practice_id, client_id, id);
alter table rating_rounds add unique (practice_id, client_id, id);

-- The looser keys go: whatever of these tables named its parent by less than all three.
do $$
declare r record;
begin
    for r in
        select c.conname, c.conrelid::regclass as child from pg_constraint c
        where c.contype = 'f' and c.conrelid::regclass::text not like 'procrastinate%'
            and c.confrelid = any (array['accounts', 'programs', 'program_versions', 'assignments', 'plans', 'practice_logs',
                'practice_log_lines', 'sittings', 'photographs', 'rating_rounds']::regclass[])
            and c.conrelid <> 'sign_ins'::regclass
    loop
        execute format('alter table %s drop constraint %I', r.child, r.conname);
    end loop;
end $$;

-- What hangs on something of a client.
alter table program_versions add foreign key (practice_id, client_id, program_id) references programs (practice_id, client_id, id)
    on delete cascade;
alter table assignments add foreign key (practice_id, client_id, program_id) references programs (practice_id, client_id, id);
alter table plans
    add foreign key (practice_id, client_id, assignment_id) references assignments (practice_id, client_id, id) on delete cascade,
    add foreign key (practice_id, client_id, program_id, program_version)
        references program_versions (practice_id, client_id, program_id, version);
alter table planned_days
    add foreign key (practice_id, client_id, assignment_id) references assignments (practice_id, client_id, id) on delete cascade,
    add foreign key (practice_id, client_id, assignment_id, plan) references plans (practice_id, client_id, assignment_id, number);
alter table practice_logs
    add foreign key (practice_id, client_id, assignment_id) references assignments (practice_id, client_id, id),
    add foreign key (practice_id, client_id, replaces) references practice_logs (practice_id, client_id, id),
    add foreign key (practice_id, client_id, replaced_by) references practice_logs (practice_id, client_id, id);
alter table practice_log_lines add foreign key (practice_id, client_id, log_id) references practice_logs (practice_id, client_id, id)
    on delete cascade;
alter table practice_log_sides add foreign key (practice_id, client_id, log_id, place)
    references practice_log_lines (practice_id, client_id, log_id, place) on delete cascade;
alter table stopped_exercises add foreign key (practice_id, client_id, log_id) references practice_logs (practice_id, client_id, id)
    on delete cascade;
alter table habit_ticks add foreign key (practice_id, client_id, assignment_id) references assignments (practice_id, client_id, id);
alter table reviews add foreign key (practice_id, client_id, assignment_id) references assignments (practice_id, client_id, id);
alter table photographs add foreign key (practice_id, client_id, sitting_id) references sittings (practice_id, client_id, id);
alter table analyses add foreign key (practice_id, client_id, photograph_id) references photographs (practice_id, client_id, id)
    on delete cascade;
alter table point_moves add foreign key (practice_id, client_id, photograph_id) references photographs (practice_id, client_id, id)
    on delete cascade;
alter table rating_answers add foreign key (practice_id, client_id, round_id) references rating_rounds (practice_id, client_id, id)
    on delete cascade;
alter table upload_pieces add foreign key (practice_id, client_id) references clients (practice_id, id);

-- Whoever made, saved, cleared or removed something belongs to the practice.
do $$
declare r record;
begin
    for r in
        select * from (values
            ('clients', 'coach_id'), ('program_versions', 'saved_by'), ('assignments', 'created_by'), ('groups', 'made_by'),
            ('plans', 'made_by'), ('pauses', 'made_by'), ('stopped_exercises', 'cleared_by'), ('reviews', 'made_by'),
            ('settled_alarms', 'settled_by'), ('confirmations', 'made_by'), ('facts', 'author_id'), ('messages', 'author'),
            ('self_intakes', 'created_by'), ('point_moves', 'moved_by'),
            ('primary_readings', 'named_by'), ('rating_rounds', 'begun_by'), ('templates', 'removed_by'),
            ('programs', 'removed_by'), ('photographs', 'removed_by')) as hands (child, hand)
    loop
        execute format('alter table %I add foreign key (practice_id, %I) references accounts (practice_id, id)', r.child, r.hand);
    end loop;
end $$;

-- The owner of the tables is bound as everybody is (migrate.py sees to it), so the functions that answer before sign-in need a
-- policy of their own. They are told by their search path, which ends with their call: settings of our own could be set on a
-- function by a superuser only. The policies are the owner's alone; the application can set what it likes.
do $$
declare
    f regprocedure;
    t text;
begin
    for f in select p.oid::regprocedure from pg_proc p join pg_namespace n on n.oid = p.pronamespace
        where n.nspname = 'public' and p.prosecdef and p.proname not like 'procrastinate%'
    loop
        execute format('alter function %s set search_path = public, before_sign_in', f);
    end loop;
    foreach t in array array['practices', 'clients', 'accounts', 'invitations', 'self_intakes', 'sittings', 'feeds', 'reminder_wishes']
    loop
        execute format('create policy before_sign_in on %I for select to %I using (current_setting(%L) = %L)',
            t, current_user, 'search_path', 'public, before_sign_in');
    end loop;
end $$;
