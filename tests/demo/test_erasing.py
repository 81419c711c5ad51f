"""A whole life erased: nothing of the person is left in any table, index, job or cache, everybody else is untouched, and an older
backup does not bring them back."""

from __future__ import annotations

import json
import os
import subprocess
from datetime import UTC, datetime
from uuid import uuid4

import psycopg
import pytest

from dimbo.demo import people, scenario
from dimbo.ops.backup import backup, restore
from dimbo.ops.cluster import OWNER, binaries
from dimbo.ops.supervise import CannotStart
from dimbo.store.database import Database
from dimbo.store.records import erasures, whole
from dimbo.work.records import ledger, taking_out
from dimbo.work.sittings import analysing

WHO = ("Philippa", "Tobias")
NOW = datetime.now(UTC)
# What the demo's stories do not have by themselves, one row each; the columns that are not named have defaults.
FILLED = {
    "invitations": "(token_hash, practice_id, client_id, email, expires_at) values (%(t)s, %(p)s, %(c)s, 'old@mail.example', now())",
    "pauses": "(practice_id, client_id, first_day, made_by) values (%(p)s, %(c)s, current_date, %(k)s)",
    "self_intakes": "(token_hash, practice_id, client_id, created_by, expires_at) values (%(t)s, %(p)s, %(c)s, %(k)s, now())",
    "settled_alarms": "(practice_id, client_id, kind, key, settled_by) values (%(p)s, %(c)s, 'unread', '1', %(k)s)",
    "upload_pieces": "(photograph_id, practice_id, client_id, starts_at, data) values (gen_random_uuid(), %(p)s, %(c)s, 0, '\\x00')",
    "keeping_notices": "(practice_id, client_id, what, told_on, goes_on) values (%(p)s, %(c)s, 'record', current_date, current_date)",
    "trail": "(practice_id, client_id, at, by_id, by_name, what, key) values (%(p)s, %(c)s, now(), %(k)s, 'Ottoline', 'looked', '1')",
    "calendar_events": "(practice_id, client_id, day, part, said, cancelled, revision, changed_at) "
    "values (%(p)s, %(c)s, current_date, 'morning', '{}', false, 1000, now())",
    "own_notes": "(practice_id, client_id, sitting_id, words, written_at) select %(p)s, %(c)s, id, 'mine', now() from sittings "
    "where client_id = %(c)s limit 1",
    "letters": "(id, practice_id, client_id, kind, draft, content, written_by, by_name, changed_at, sent_at) values "
    "(gen_random_uuid(), %(p)s, %(c)s, 'report', '{}', '{}', %(k)s, 'Ottoline', now(), now())",
    "coins": "(practice_id, client_id, between, fell, thrown_at, by_id) values (%(p)s, %(c)s, '{a,b}', 'a', now(), %(k)s)",
    "due_links": "(token_hash, practice_id, client_id, made_by, expires_at) values (%(t)s, %(p)s, %(c)s, %(k)s, now())",
    "stopped_exercises": "(practice_id, client_id, exercise_id, log_id, stopped_at) select %(p)s, %(c)s, 'lid-lift', id, now() "
    "from practice_logs where client_id = %(c)s limit 1",
}


@pytest.fixture(scope="module")
def demo(cluster):
    """Two of the demo's stories in a database of their own; its name, and the ids of both clients."""
    name, kept = f"e{uuid4().hex}", scenario.STORIES
    scenario.STORIES = [s for s in people.STORIES if s.name.split()[0] in WHO]
    try:
        with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
            conn.execute(f"create database {name} template dimbo".encode())
        scenario.ensure_demo(cluster.url(database=name), cluster.url(OWNER, name), lambda _: None)
        with psycopg.connect(cluster.url(OWNER, name), autocommit=True) as conn:
            known = conn.execute("select id, practice_id, coach_id, name from clients order by name").fetchall()
            for n, (client, practice, coach, _) in enumerate(known):
                for table, rest in FILLED.items():
                    there = conn.execute(f"select 1 from {table} where client_id = %s".encode(), (client,)).fetchone()
                    if not there:
                        values = {"p": practice, "c": client, "k": coach, "t": bytes([n])}
                        conn.execute(f"insert into {table} {rest}".encode(), values)
        yield name, [(k[0], k[1], k[3]) for k in known]
    finally:
        scenario.STORIES = kept
        with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
            conn.execute(f"drop database if exists {name} with (force)".encode())


def dump(url: str) -> str:
    """Everything in a database as text."""
    environment = {**os.environ, "PGPASSWORD": url.split(":")[2].split("@")[0]}
    return subprocess.run(
        [str(binaries() / "pg_dump"), "--data-only", url], env=environment, capture_output=True, text=True, check=True
    ).stdout


def rows_of(conn, client):
    tables = {t for t in taking_out.MEANINGS if t != whole.ITSELF}
    return {t: conn.execute(f"select count(*) from {t} where client_id = %s".encode(), (client,)).fetchone()[0] for t in tables}


def test_nothing_is_left_anywhere_and_an_older_backup_brings_nobody_back(cluster, demo, tmp_path):
    name, ((client, practice, who), (other, _, _)) = demo
    owner, db, file = cluster.url(OWNER, name), Database(cluster.url(database=name), most=2), tmp_path / "before"
    db.open()
    with psycopg.connect(owner, autocommit=True) as conn:
        seen = "select id from photographs where client_id = %s and view = 'front-neutral' limit 1"
        analysing.analyse(db, practice, conn.execute(seen, (client,)).fetchone()[0])
        conn.execute(
            "insert into sign_ins (token_hash, account_id, expires_at) select '\\x01', id, now() + interval '1 day' from accounts "
            "where client_id = %s",
            (client,),
        )
        conn.execute(
            "insert into devices (practice_id, account_id, client_id, sign_in_id, endpoint, p256dh, auth) select a.practice_id, a.id, "
            "a.client_id, s.id, 'https://push.example/1', '', '' from accounts a join sign_ins s on s.account_id = a.id "
            "where a.client_id = %s",
            (client,),
        )
        assert conn.execute("select count(*) from procrastinate_jobs").fetchone()[0] > 5, "they wait to be measured"
        assert {t for t, n in rows_of(conn, client).items() if not n} == set(), "there must be something to find in every table"
        photographs = [str(r[0]) for r in conn.execute("select id from photographs where client_id = %s", (client,)).fetchall()]
        mail = conn.execute("select email from accounts where client_id = %s", (client,)).fetchone()[0]
        conn.execute("insert into failed_sign_ins (key) values (%s), (%s)", (f"mail:{mail}", f"forgot:{mail}"))
        conn.execute(
            "insert into outbox (practice_id, to_coach, address, kind, subject, body, key, due_at, next_try_at) "
            "values (%s, true, %s, 'account', 'A new password', '', %s, now(), now())",
            (practice, mail.upper(), f"account:{uuid4()}"),
        )
        before = rows_of(conn, other)
    backup(owner, file)
    held = dump(owner)
    words = [str(client), who, who.split()[0], mail, *photographs[:3]]
    assert all(w in held for w in words)

    with db.practice(practice) as conn:
        erasures.erase(conn, client, by_whom="client", reason="own wish", at=NOW)
    left = dump(owner)
    assert left.count(str(client)) == 1, "the tombstone"
    assert [w for w in words[1:] if w.lower() in left.lower()] == []
    with psycopg.connect(owner, autocommit=True) as conn:
        assert rows_of(conn, other) == before
        assert set(rows_of(conn, client).values()) == {0}

    listed = tmp_path / "erased.jsonl"
    assert ledger.write_down(db, listed, NOW) == 1 and ledger.write_down(db, listed, NOW) == 0
    assert who.split()[0] not in listed.read_text()
    db.close()
    for erased, there in ((None, True), (listed, False)):
        again = f"r{uuid4().hex}"
        with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
            conn.execute(f"create database {again}".encode())
        try:
            count = restore(cluster.url(OWNER, again), file, erased=erased)
            text = dump(cluster.url(OWNER, again))
            assert (count, who in text) == (0 if there else 1, there)
        finally:
            with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
                conn.execute(f"drop database {again} with (force)".encode())


def test_the_list_is_read_whole_or_the_line_is_named(tmp_path):
    file = tmp_path / "erased.jsonl"
    line = {"client": str(uuid4()), "practice": str(uuid4()), "at": NOW.isoformat(), "by": "owner", "reason": "mistake"}
    text = json.dumps(line)
    file.write_text(f"{text}\n{text}\n" + text[:40])
    assert [str(e.erased_client) for e in ledger.read(file)] == [line["client"]], "once, and a line that was cut off is written again"
    file.write_text(f"{text}\nnonsense\n{text}\n")
    with pytest.raises(ValueError, match="Line 2"):
        list(ledger.read(file))
    with pytest.raises(CannotStart, match="Line 2"):
        restore("postgresql://nobody@127.0.0.1:1/nowhere", tmp_path / "any", erased=file)
    with pytest.raises(CannotStart, match="cannot be read"):
        restore("postgresql://nobody@127.0.0.1:1/nowhere", tmp_path / "any", erased=tmp_path / "absent")
