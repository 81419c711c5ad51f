"""./dimbo backup and ./dimbo restore: everything that an installation holds, in one file, and back into an empty database.

Photographs are rows, so the database is everything. The file is PostgreSQL's own archive (pg_dump, custom format). What was
signed in when it was made does not revive: sign-ins, links and tries end with a restore.
"""

from __future__ import annotations

import os
import subprocess
from pathlib import Path
from urllib.parse import urlsplit

import psycopg

from dimbo.store.database import Binding
from dimbo.store.migrate import migrate
from dimbo.store.records import erasures
from dimbo.store.records.erasures import Erasure
from dimbo.work.records import ledger

from .cluster import APP, binaries
from .supervise import CannotStart

_END = b"truncate sign_ins, failed_sign_ins, account_links, known_devices, devices, due_links"
"""What holds for the moment only, and would let somebody in who was let out since."""


def _tool(name: str, *, url: str, options: list[str]) -> subprocess.CompletedProcess[str]:
    """Run a program of the database's server; the password goes by the environment, where no list of processes shows it."""
    where = urlsplit(url)
    place = ["--host", where.hostname or "", "--port", str(where.port or 5432), "--username", where.username or ""]
    environment = {**os.environ, "PGPASSWORD": where.password or "", "PGDATABASE": where.path.lstrip("/"), "PGCONNECT_TIMEOUT": "10"}
    return subprocess.run([str(binaries() / name), *place, *options], env=environment, capture_output=True, text=True)


def _name(url: str) -> str:
    return urlsplit(url).path.lstrip("/")


def _why(done: subprocess.CompletedProcess[str]) -> str:
    return "\n".join(done.stderr.strip().splitlines()[-3:])


def backup(url: str, file: Path) -> int:
    """Write everything to a file and read its list of contents; returns its size in bytes. Raises CannotStart, and then there is
    no file."""
    if file.exists():
        raise CannotStart(f"{file} is there already. Name a new file, such as one with today's date.")
    _must_see_all(url)
    part = file.with_name(f"{file.name}.part")
    part.touch(0o600)
    try:
        done = _tool("pg_dump", url=url, options=["--format=custom", "--no-owner", f"--file={part}"])
        if done.returncode:
            raise CannotStart(f"The backup was not made:\n{_why(done)}")
        listed = subprocess.run([str(binaries() / "pg_restore"), "--list", str(part)], capture_output=True, text=True)
        if listed.returncode or "TABLE DATA public photographs" not in listed.stdout:
            raise CannotStart("The backup cannot be read back, so it was thrown away. Is the disk full?")
        part.rename(file)
    finally:
        part.unlink(missing_ok=True)
    return file.stat().st_size


def _must_see_all(url: str) -> None:
    """Row-level security binds the owner of the tables as well; a backup by a bound role would lack every row."""
    with psycopg.connect(url, connect_timeout=10) as conn:
        row = conn.execute("select rolname, rolsuper or rolbypassrls from pg_roles where rolname = current_user").fetchone()
    if row and not row[1]:
        raise CannotStart(
            f"The role {row[0]} is bound by row-level security and would save no rows. Make a role for backups, as a superuser:\n"
            f"  create role dimbo_backup login bypassrls password '…' in role pg_read_all_data;\nand set DIMBO_BACKUP_URL to it."
        )


def restore(url: str, file: Path, erased: Path | None) -> int:
    """Bring a backup back into an empty database, as the owner of the tables to be, and erase once more whoever stands in the list
    of those who were erased; returns how many that were. Raises CannotStart; then the database is as empty as before."""
    again = _listed(erased)
    if not file.is_file():
        raise CannotStart(f"There is no file {file}.")
    with psycopg.connect(url, connect_timeout=10) as conn:
        if conn.execute("select 1 from pg_tables where schemaname = 'public' limit 1").fetchone():
            raise CannotStart(f"The database {_name(url)} is not empty. Restore into a new one: createdb --owner=… {_name(url)}_restored")
        if not conn.execute("select 1 from pg_roles where rolname = %s", (APP,)).fetchone():
            raise CannotStart(f"The role {APP} is missing. Make it as a superuser: create role {APP} login password '…';")
    done = _tool(
        "pg_restore", url=url, options=["--single-transaction", "--exit-on-error", "--no-owner", f"--dbname={_name(url)}", str(file)]
    )
    if done.returncode:
        raise CannotStart(f"The backup was not restored; the database is as empty as before:\n{_why(done)}")
    migrate(url)
    with psycopg.connect(url) as conn:
        conn.execute(_END)
    return _erase_again(url, again)


def _listed(erased: Path | None) -> list[Erasure]:
    """Who is to be erased again, read before anything is done."""
    if erased is None:
        return []
    try:
        return list(ledger.read(erased))
    except (OSError, ValueError) as error:
        raise CannotStart(f"The list of those who were erased cannot be read: {error}") from error


def _erase_again(url: str, listed: list[Erasure]) -> int:
    count = 0
    for e in listed:
        with psycopg.connect(url) as conn:
            Binding(e.practice_id).enter(conn)
            if conn.execute("select 1 from clients where id = %s", (e.erased_client,)).fetchone():
                erasures.erase(conn, e.erased_client, by_whom=e.by_whom, reason=e.reason, at=e.erased_at)
                count += 1
    return count
