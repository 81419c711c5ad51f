"""The commands behind ./dimbo, inside the project's environment."""

from __future__ import annotations

import argparse
import asyncio
import ctypes
import os
import shutil
import signal
import sys
import time
from contextlib import suppress
from pathlib import Path
from types import FrameType

from dimbo.store.database import unbound_role
from dimbo.store.migrate import MigrationError

from . import logs, people
from .cluster import OWNER, ClusterError
from .settings import Settings
from .supervise import CannotStart, Supervisor, claim, stop_running

_MMAP_THRESHOLD, _ARENA_MAX = -3, -8
"""Names of glibc's malloc.h."""
GRACE_S = 5
"""How long a request may still take once the server is asked to end; the one that follows waits for its port."""


def _say(words: str) -> None:
    print(words, flush=True)


def _stop_on_signal(_: int, __: FrameType | None) -> None:
    raise KeyboardInterrupt


def demo(port: int, fresh: bool, *, changing: bool = False) -> int:
    """Cluster, migrations, demo data, web and worker; until Ctrl-C or ./dimbo stop. With ``changing`` the web server starts
    anew with every change of its code, and the interface is served by its own server as it is written."""
    from dimbo.demo.scenario import ASSISTANT, COACHES, PASSWORD, client_logins, ensure_demo
    from dimbo.store.migrate import migrate

    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, _stop_on_signal)
    claim(port)
    supervisor = Supervisor(port)
    try:
        if fresh:
            shutil.rmtree(supervisor.cluster.home, ignore_errors=True)
        began = time.monotonic()
        _say("  database")
        supervisor.cluster.start()
        for name in migrate(supervisor.cluster.url(OWNER)):
            _say(f"    migrated {name}")
        ensure_demo(supervisor.cluster.url(), owner_url=supervisor.cluster.url(OWNER), say=lambda words: _say(f"    {words}"))
        _say("  web and worker")
        if changing:
            supervisor.start_for_changing()
        else:
            supervisor.start_web_and_worker()
        address = f"http://127.0.0.1:{port + 1}" if changing else supervisor.address
        _say(f"\nDimbo is ready after {time.monotonic() - began:.0f} s: {address}\n")
        for name, email in COACHES:
            _say(f"  coach   {email:34} {PASSWORD}   ({name})")
        name, email = ASSISTANT
        _say(f"  helper  {email:34} {PASSWORD}   ({name}, assistant)")
        for name, email in client_logins():
            _say(f"  client  {email:34} {PASSWORD}   ({name})")
        _say("\nStop with Ctrl-C, or ./dimbo stop from another terminal.")
        supervisor.watch()
    except KeyboardInterrupt:
        _say("\nStopping; everything is saved.")
    finally:
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, signal.SIG_IGN)  # stopping is under way
        supervisor.stop()
    return 0


def _configured(settings: Settings, *, owner: bool = False) -> str:
    secret, name = (settings.owner_url, "DIMBO_OWNER_URL") if owner else (settings.database_url, "DIMBO_DATABASE_URL")
    url = secret.get_secret_value()
    if not url:
        raise CannotStart(f"Set {name} to the database, such as postgresql://dimbo_app:…@host/dimbo.")
    if not owner and (role := unbound_role(url)):
        raise CannotStart(f"{name} signs in as {role}, whom row-level security does not bind. Use the role dimbo_app.")
    return url


def _give_memory_back() -> None:
    """Have the C library give large blocks back as soon as they are free: pictures are decoded on many threads, and each would keep
    what its own needed, so that a dozen of them filled half a gigabyte. Other C libraries do as they do."""
    with suppress(OSError, AttributeError):
        libc = ctypes.CDLL("libc.so.6")
        libc.mallopt(ctypes.c_int(_MMAP_THRESHOLD), ctypes.c_int(2**20))
        libc.mallopt(ctypes.c_int(_ARENA_MAX), ctypes.c_int(2))


def serve(settings: Settings) -> int:
    import gc

    import uvicorn

    from dimbo.web.app import build_app

    _configured(settings)
    logs.set_up()
    _give_memory_back()
    app = build_app(settings)
    if settings.metrics_port:
        app.state.figures.serve(settings.metrics_port, host="127.0.0.1")
    gc.collect()
    gc.freeze()  # what is loaded once need not be looked at again by every collection
    uvicorn.run(
        app,
        host=settings.host,
        port=settings.port,
        log_config=None,
        access_log=False,
        server_header=False,
        timeout_graceful_shutdown=GRACE_S,
        proxy_headers=bool(settings.trusted_proxies),
        forwarded_allow_ips=settings.trusted_proxies or None,
    )
    sys.stdout.flush()
    os._exit(0)  # every request was answered or its time is over: no thread of one that hangs holds the port any longer


def _restore(settings: Settings, options: argparse.Namespace) -> int:
    from .backup import restore

    erased = options.erased or settings.erased_file
    if erased is None and not options.nobody_erased:
        raise CannotStart(
            "Whoever was erased after this backup would come back. Name the list that the worker keeps (--erased FILE, or "
            "DIMBO_ERASED_FILE), or say --nobody-erased when nobody was erased since."
        )
    again = restore(_configured(settings, owner=True), options.file, erased=None if options.nobody_erased else erased)
    _say(f"restored; {again} erased once more; nobody is signed in, and links that were sent have ended")
    return 0


def main(arguments: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="./dimbo")
    commands = parser.add_subparsers(dest="command", required=True)
    for name in ("serve", "worker", "migrate", "check", "stop"):
        commands.add_parser(name)
    people.add_commands(commands)
    commands.add_parser("backup").add_argument("file", type=Path)
    restoring = commands.add_parser("restore")
    restoring.add_argument("file", type=Path)
    erased = restoring.add_mutually_exclusive_group()
    erased.add_argument("--erased", type=Path)
    erased.add_argument("--nobody-erased", action="store_true")
    for name in ("demo", "dev"):
        run = commands.add_parser(name)
        run.add_argument("--port", type=int, default=8420)
        run.add_argument("--fresh", action="store_true")
    test = commands.add_parser("test")
    test.add_argument("part", nargs="*")
    commands.add_parser("simulate")
    bench = commands.add_parser("bench")
    bench.add_argument("row", nargs="*")
    options = parser.parse_args(arguments)
    settings = Settings()
    try:
        match options.command:
            case "demo" | "dev":
                return demo(options.port, options.fresh, changing=options.command == "dev")
            case "serve":
                return serve(settings)
            case "worker":
                from dimbo.work.messages.messenger import check_url
                from dimbo.worker import serve as work

                _configured(settings)
                if settings.smtp_url and (why := check_url(settings.smtp_url.get_secret_value())):
                    raise CannotStart(why)
                logs.set_up()
                asyncio.run(work(settings))
                return 0
            case "migrate":
                from dimbo.store.migrate import migrate

                done = migrate(_configured(settings, owner=True), lambda name: _say(f"applying {name}"))
                _say(f"{len(done)} applied" if done else "nothing to do")
                return 0
            case "backup":
                from .backup import backup

                size = backup(settings.backup_url.get_secret_value() or _configured(settings, owner=True), options.file)
                _say(
                    f"{options.file} holds everything, {size / 2**20:.1f} MB. Keep it apart from this machine, and as safe as the records."
                )
                return 0
            case "restore":
                return _restore(settings, options)
            case "check":
                from .checking import report

                return report(settings, _say)
            case "practice" | "coach":
                return people.run(options, _configured(settings, owner=True), address=settings.address)
            case "stop":
                _say("stopped" if stop_running() else "no demo runs here")
                return 0
            case "test":
                from .quality import run_tests

                return run_tests(options.part)
            case "simulate":
                from dimbo.bench.courses import main as simulate

                return simulate()
            case _:
                from dimbo.bench.run import run_bench

                return run_bench(options.row)
    except (CannotStart, ClusterError, MigrationError) as error:
        print(f"\n{error}", file=sys.stderr)
        return 1
    except OSError as error:
        words = "The disk is full. Free some space and start again; saved data is safe." if error.errno == 28 else str(error)
        print(f"\n{words}", file=sys.stderr)
        return 1


if __name__ == "__main__":
    sys.exit(main())
