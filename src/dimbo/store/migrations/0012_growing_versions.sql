-- A sheet is saved with every touch. So that a morning's work is one version and not three hundred, the newest version goes on
-- growing while the same open sheet writes it; the revision counts every save, and is what a save is made over.
alter table programs add revision integer not null default 1, add saved_from uuid;
alter table templates add saved_from uuid;
alter table program_versions add open_until timestamptz;
update programs set revision = version;

-- Whatever the application does: a version that somebody practises, or that was finished, stays as it was.
create function only_an_open_version_grows() returns trigger language plpgsql as $$
begin
    if old.open_until is null or old.open_until < now() or exists (
        select from plans where program_id = old.program_id and program_version = old.version
    ) then
        raise exception 'version % of program % is finished', old.version, old.program_id;
    end if;
    return new;
end $$;
create trigger only_an_open_version_grows before update on program_versions
    for each row execute function only_an_open_version_grows();
grant update (title, document, saved_at) on program_versions to dimbo_app;
