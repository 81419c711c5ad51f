"""./dimbo check: whether an installation is set up as it should be, in words, one line a matter."""

from __future__ import annotations

import os
import smtplib
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from pathlib import Path

import psycopg

from dimbo.store.database import unbound_role
from dimbo.store.migrate import MigrationError, connected, pending
from dimbo.work.messages.messenger import Mail, check_url

from .settings import Settings

OLDEST_SERVER, WORKER_SILENT_S, CLOCK_S = 15, 20, 5


class Mark(StrEnum):
    GOOD = "good"
    CARE = "care"
    BAD = "bad"


@dataclass(frozen=True, kw_only=True)
class Finding:
    """One matter: how it stands, and in words what it is or what to do."""

    mark: Mark
    about: str
    words: str


def check(settings: Settings) -> list[Finding]:
    """Everything that is looked at. What cannot be looked at, because the database does not answer, is left out."""
    return [*_application(settings), *_schema(settings), *_address(settings), *_mail(settings), *_erased(settings), *_pages(settings)]


def _application(settings: Settings) -> Iterator[Finding]:
    about = "DIMBO_DATABASE_URL"
    if not settings.database_url:
        yield Finding(mark=Mark.BAD, about=about, words="is not set. Write it like postgresql://dimbo_app:…@127.0.0.1/dimbo.")
        return
    try:
        with connected(settings.database_url.get_secret_value()) as conn:
            yield from _server(conn, settings.database_url.get_secret_value())
    except MigrationError as error:
        yield Finding(mark=Mark.BAD, about=about, words=str(error))


def _server(conn: psycopg.Connection[tuple[object, ...]], url: str) -> Iterator[Finding]:
    about = "DIMBO_DATABASE_URL"
    here = datetime.now(UTC)
    row = conn.execute("select current_user::text, clock_timestamp(), to_regclass('practices') is not null").fetchone()
    assert row
    role, there, made = row
    version = conn.info.server_version // 10000
    if unbound_role(url):
        yield Finding(
            mark=Mark.BAD, about=about, words=f"signs in as {role}, whom row-level security does not bind. Use the role dimbo_app."
        )
    else:
        yield Finding(mark=Mark.GOOD, about=about, words=f"answers as {role}.")
    good = version >= OLDEST_SERVER
    yield Finding(
        mark=Mark.GOOD if good else Mark.BAD,
        about="PostgreSQL",
        words=f"is version {version}." if good else f"is version {version}; {OLDEST_SERVER} is needed.",
    )
    assert isinstance(there, datetime)
    off = abs((there - here).total_seconds())
    if off <= CLOCK_S:
        yield Finding(mark=Mark.GOOD, about="Clocks", words="of this machine and the database agree.")
    else:
        yield Finding(
            mark=Mark.BAD,
            about="Clocks",
            words=f"of this machine and the database are {off:.0f} s apart; links and sign-ins go by them. Set them right.",
        )
    if made:
        yield _worker(conn)


def _worker(conn: psycopg.Connection[tuple[object, ...]]) -> Finding:
    row = conn.execute("select extract(epoch from now() - max(last_heartbeat))::float8 from procrastinate_workers").fetchone()
    beat = row[0] if row else None
    if isinstance(beat, float) and beat < WORKER_SILENT_S:
        return Finding(mark=Mark.GOOD, about="Worker", words=f"was heard {beat:.0f} s ago.")
    return Finding(
        mark=Mark.CARE, about="Worker", words="is not running: no photograph is measured and no letter goes out. Start ./dimbo worker."
    )


def _schema(settings: Settings) -> Iterator[Finding]:
    about = "DIMBO_OWNER_URL"
    if not settings.owner_url:
        yield Finding(mark=Mark.CARE, about=about, words="is not set here, so migrations were not looked at.")
        return
    try:
        waiting = pending(settings.owner_url.get_secret_value())
    except MigrationError as error:
        yield Finding(mark=Mark.BAD, about=about, words=str(error))
        return
    if waiting:
        yield Finding(mark=Mark.BAD, about="Migrations", words=f"wait ({', '.join(waiting)}). Run ./dimbo migrate.")
    else:
        yield Finding(mark=Mark.GOOD, about="Migrations", words="are all applied.")


def _address(settings: Settings) -> Iterator[Finding]:
    about = "DIMBO_BASE_URL"
    if not settings.base_url:
        yield Finding(mark=Mark.CARE, about=about, words=f"is not set; links in letters begin with {settings.address}.")
    elif not settings.base_url.startswith("https://"):
        yield Finding(mark=Mark.CARE, about=about, words="does not begin with https://, so passwords travel in the clear.")
    else:
        yield Finding(mark=Mark.GOOD, about=about, words=f"is {settings.address}.")
        if settings.host in ("127.0.0.1", "::1") and not settings.trusted_proxies:
            words = "is not set, so every visitor seems to come from the proxy, and one who guesses passwords slows down all."
            yield Finding(mark=Mark.CARE, about="DIMBO_TRUSTED_PROXIES", words=words)


def _mail(settings: Settings) -> Iterator[Finding]:
    about = "DIMBO_SMTP_URL"
    if not settings.smtp_url:
        yield Finding(mark=Mark.CARE, about=about, words="is not set: no letter is sent, and every one says so.")
    elif why := check_url(settings.smtp_url.get_secret_value()):
        yield Finding(mark=Mark.BAD, about=about, words=why)
    else:
        try:
            Mail(settings.smtp_url.get_secret_value(), sender=settings.mail_from, address=settings.address).knock()
            yield Finding(mark=Mark.GOOD, about=about, words="answers.")
        except (OSError, smtplib.SMTPException) as error:
            yield Finding(mark=Mark.BAD, about=about, words=f"cannot be used: {error}")


def _erased(settings: Settings) -> Iterator[Finding]:
    about, file = "DIMBO_ERASED_FILE", settings.erased_file
    if file is None:
        yield Finding(mark=Mark.CARE, about=about, words="is not set: whoever is erased comes back with an older backup.")
    elif _may_write(file):
        yield Finding(mark=Mark.GOOD, about=about, words=f"is {file}.")
    else:
        yield Finding(mark=Mark.BAD, about=about, words=f"({file}) cannot be written by this user.")


def _may_write(file: Path) -> bool:
    return os.access(file if file.exists() else file.parent, os.W_OK)


def _pages(settings: Settings) -> Iterator[Finding]:
    there = (settings.ui_folder / "index.html").exists()
    words = "is built." if there else "is not built. ./dimbo serve builds it when it starts."
    yield Finding(mark=Mark.GOOD if there else Mark.CARE, about="Interface", words=words)


def report(settings: Settings, say: Callable[[str], None]) -> int:
    """Say everything; 1 when something is bad, else 0."""
    found = check(settings)
    for f in found:
        say(f"{f.mark:5} {f.about} {f.words}")
    bad = sum(f.mark is Mark.BAD for f in found)
    say(f"\n{bad} to be mended first." if bad else "\nNothing stands in the way.")
    return 1 if bad else 0
