from dimbo.ops.cluster import OWNER
from dimbo.store.migrate import migrate, pending


def test_a_second_run_changes_nothing(cluster, database_name):
    url = cluster.url(OWNER, database_name)
    assert migrate(url) == []
    assert pending(url) == []


def test_every_table_of_a_practice_is_guarded(owner):
    rows = owner.execute(
        "select c.relname from pg_class c where relkind = 'r' and relnamespace = 'public'::regnamespace "
        "and not relrowsecurity and relname not like 'procrastinate%'"
    ).fetchall()
    assert {r[0] for r in rows} == {"migrations", "sign_ins", "failed_sign_ins"}
