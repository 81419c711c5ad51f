"""The worker: analyses photographs from the queue, one on each core in a thread of its own, and minds the reminders."""

from __future__ import annotations

import asyncio
import contextlib
import os
import signal
import threading
from datetime import UTC, datetime, timedelta
from email.utils import parseaddr
from uuid import UUID

import structlog
from procrastinate import App, JobContext, PsycopgConnector, RetryStrategy
from procrastinate.exceptions import AlreadyEnqueued
from procrastinate.jobs import Status

from dimbo.ops.settings import Settings
from dimbo.store.database import Database
from dimbo.work.messages import pushing
from dimbo.work.messages.messenger import Mail, Messenger, NoMail
from dimbo.work.messages.pushing import WebPush
from dimbo.work.practice import reminding
from dimbo.work.practice.reminding import Carriers
from dimbo.work.records import keeping, ledger
from dimbo.work.shared.queue import ANALYSE, FORGET, KEEP, NOTE_ERASED, READ_AGAIN, REMIND
from dimbo.work.sittings import analysing, reading_again

from .work import removing

log = structlog.get_logger()
BEAT_S, STALLED_S, REST_S, GRACE_S = 3.0, 12.0, 2.0, 8.0
"""How often a worker says that it lives; after how long without a word its jobs are anybody's; the rest after a fault; how long a
job may still take once the worker is told to stop."""

AT_ONCE = min(4, len(os.sched_getaffinity(0)))
"""So many jobs are done side by side: as many as there are cores, and no more than share one interpreter well."""

BEHIND = -10
"""What nobody waits for is done behind everything else in the queue."""


def build(settings: Settings, db: Database, carriers: Carriers) -> App:
    """The queue application with its tasks bound to a database and to those who carry letters. What comes by the clock never runs beside
    itself."""
    app = App(connector=PsycopgConnector(conninfo=settings.database_url.get_secret_value(), min_size=1, max_size=3))

    @app.task(name=ANALYSE, pass_context=True, retry=RetryStrategy(max_attempts=analysing.TRIES, wait=2))
    async def analyse(context: JobContext, practice_id: str, photograph_id: str) -> None:
        try:
            await asyncio.to_thread(analysing.analyse, db, UUID(practice_id), UUID(photograph_id))
        except Exception:
            if context.job.attempts + 1 >= analysing.TRIES:
                await asyncio.to_thread(analysing.give_up, db, UUID(practice_id), UUID(photograph_id))
            raise
        log.info("photograph analysed", photograph=photograph_id)

    @app.periodic(cron="* * * * *")
    @app.task(name=REMIND, queueing_lock=REMIND, lock=REMIND)
    async def remind(timestamp: int) -> None:
        """Every minute: put due reminders into the outbox, and carry what waits there."""
        tried = await asyncio.to_thread(reminding.work_off, db, carriers, datetime.now(UTC))
        if tried:
            log.info("letters carried", letters=tried)

    @app.periodic(cron="17 * * * *")
    @app.task(name=FORGET, queueing_lock=FORGET, lock=FORGET)
    async def forget(timestamp: int) -> None:
        """Every hour: delete for good what was removed 30 days ago."""
        gone = await asyncio.to_thread(removing.forget, db, datetime.now(UTC))
        if gone:
            log.info("removed for good", rows=gone)

    @app.periodic(cron="23 4 * * *")
    @app.task(name=KEEP, queueing_lock=KEEP, lock=KEEP)
    async def keep(timestamp: int) -> None:
        """Every night: tell whose photographs or record are soon older than they are kept, and delete what is."""
        done = await asyncio.to_thread(keeping.mind, db, datetime.now(UTC))
        if done:
            log.info("told or deleted for age", clients=done)

    @app.periodic(cron="*/5 * * * *")
    @app.task(name=READ_AGAIN, queueing_lock=READ_AGAIN, lock=READ_AGAIN, priority=BEHIND)
    async def read_older(timestamp: int = 0) -> None:
        """Read photographs again that an earlier version of the analysis read: some at a time, and behind everything else."""
        tried = await asyncio.to_thread(reading_again.read_some, db)
        if tried:
            log.info("older photographs read again", photographs=tried)
            with contextlib.suppress(AlreadyEnqueued):
                await read_older.defer_async()

    @app.periodic(cron="41 * * * *")
    @app.task(name=NOTE_ERASED, lock=NOTE_ERASED)
    async def note_erased(timestamp: int = 0) -> None:
        """With every erasure, and every hour in case the list could not be written: keep outside the database who was erased."""
        if settings.erased_file:
            await asyncio.to_thread(ledger.write_down, db, settings.erased_file, datetime.now(UTC))

    return app


def carriers_of(settings: Settings, db: Database) -> Carriers:
    """Who carries letters, as an installation is set up."""
    contact = f"mailto:{parseaddr(settings.mail_from)[1]}"
    return Carriers(
        messenger=messenger_of(settings),
        pusher=WebPush(lambda: pushing.private_key(db), contact=contact, stand_in=settings.stand_in_push),
        idle=timedelta(days=settings.session_idle_days),
    )


def messenger_of(settings: Settings) -> Messenger:
    """Who carries letters by mail."""
    if not settings.smtp_url:
        return NoMail()
    return Mail(settings.smtp_url.get_secret_value(), sender=settings.mail_from, address=settings.address)


async def take_up(app: App, db: Database) -> int:
    """Take up again the jobs of workers that are gone; returns how many. One that was begun too often is given up, and its
    photograph says so."""
    count = 0
    for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_S):
        count += 1
        if job.task_name == ANALYSE and job.attempts + 1 >= analysing.TRIES:
            about = {k: UUID(str(v)) for k, v in job.task_kwargs.items()}
            await asyncio.to_thread(analysing.give_up, db, about["practice_id"], photograph_id=about["photograph_id"])
            await app.job_manager.finish_job(job, Status.FAILED, delete_job=False)
        else:
            await app.job_manager.retry_job(job)
    return count


async def _keep_taking_up(app: App, db: Database) -> None:
    while True:
        await asyncio.sleep(BEAT_S)
        try:
            if taken := await take_up(app, db):
                log.warning("jobs of a worker that is gone are taken up", jobs=taken)
        except Exception as error:  # the database is away: looked again at the next beat
            log.warning("stalled jobs cannot be looked for", error=str(error) or type(error).__name__)


def _stop(told: asyncio.Event) -> None:
    """Stop, and be gone after a while whatever a thread still waits for: a database that accepts nobody is waited for forever."""
    told.set()
    gone = threading.Timer(GRACE_S + REST_S, os._exit, [0])
    gone.daemon = True
    gone.start()


async def serve(settings: Settings) -> None:
    """``run`` until told to stop, whatever becomes of the database meanwhile: who is told to stop while it is away does not begin
    anew."""
    told = asyncio.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        asyncio.get_running_loop().add_signal_handler(number, _stop, told)
    while not told.is_set():
        working, stopping = asyncio.create_task(run(settings)), asyncio.create_task(told.wait())
        await asyncio.wait({working, stopping}, return_when=asyncio.FIRST_COMPLETED)
        stopping.cancel()
        if not working.done():
            working.cancel()
        try:
            await working
            return
        except asyncio.CancelledError:
            return
        except Exception as error:
            if not told.is_set():
                log.error("the worker begins anew", error=str(error) or type(error).__name__)
                await asyncio.sleep(REST_S)


async def run(settings: Settings, *, wait: bool = True) -> None:
    """Work until told to stop; with ``wait=False``, until the queue is empty."""
    db = Database(settings.database_url.get_secret_value(), most=AT_ONCE + 2)
    db.open()
    try:
        app = build(settings, db, carriers_of(settings, db))
        async with app.open_async():
            taking_up = asyncio.create_task(_keep_taking_up(app, db)) if wait else None
            try:
                await app.run_worker_async(
                    wait=wait,
                    concurrency=AT_ONCE,
                    install_signal_handlers=False,
                    shutdown_graceful_timeout=GRACE_S,
                    fetch_job_polling_interval=1.0,
                    update_heartbeat_interval=BEAT_S,
                    stalled_worker_timeout=STALLED_S,
                    delete_jobs="successful",
                    listen_notify=wait,
                )
            finally:
                if taking_up:
                    taking_up.cancel()
    finally:
        db.close()
