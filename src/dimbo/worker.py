"""The worker: analyses photographs from the queue, one at a time in a thread of its own, and minds the reminders."""

from __future__ import annotations

import asyncio
from datetime import UTC, datetime
from uuid import UUID

import structlog
from procrastinate import App, PsycopgConnector, RetryStrategy

from dimbo.ops.settings import Settings
from dimbo.store.database import Database
from dimbo.work.messages.messenger import Mail, Messenger, NoMail
from dimbo.work.practice import reminding
from dimbo.work.shared.queue import ANALYSE, FORGET, REMIND
from dimbo.work.sittings import analysing

from .work import removing

log = structlog.get_logger()


def build(database_url: str, db: Database, messenger: Messenger) -> App:
    """The queue application with its tasks bound to a database and to whoever carries letters."""
    app = App(connector=PsycopgConnector(conninfo=database_url, min_size=1, max_size=3))

    @app.task(name=ANALYSE, retry=RetryStrategy(max_attempts=3, wait=2))
    async def analyse(practice_id: str, photograph_id: str) -> None:
        await asyncio.to_thread(analysing.analyse, db, UUID(practice_id), UUID(photograph_id))
        log.info("photograph analysed", photograph=photograph_id)

    @app.periodic(cron="* * * * *")
    @app.task(name=REMIND, queueing_lock=REMIND)
    async def remind(timestamp: int) -> None:
        """Every minute: put due reminders into the outbox, and carry what waits there."""
        tried = await asyncio.to_thread(reminding.work_off, db, messenger, datetime.now(UTC))
        if tried:
            log.info("letters carried", letters=tried)

    @app.periodic(cron="17 * * * *")
    @app.task(name=FORGET, queueing_lock=FORGET)
    async def forget(timestamp: int) -> None:
        """Every hour: delete for good what was removed 30 days ago."""
        gone = await asyncio.to_thread(removing.forget, db, datetime.now(UTC))
        if gone:
            log.info("removed for good", rows=gone)

    return app


def messenger_of(settings: Settings) -> Messenger:
    """Who carries letters, as an installation is set up."""
    return Mail(settings.smtp_url, sender=settings.mail_from, address=settings.address) if settings.smtp_url else NoMail()


async def run(settings: Settings, *, wait: bool = True) -> None:
    """Work until told to stop; with ``wait=False``, until the queue is empty."""
    database_url = settings.database_url
    db = Database(database_url, most=3)
    db.open()
    try:
        app = build(database_url, db, messenger_of(settings))
        async with app.open_async():
            await app.run_worker_async(
                wait=wait,
                concurrency=1,
                install_signal_handlers=wait,
                fetch_job_polling_interval=1.0,
                delete_jobs="successful",
                listen_notify=wait,
            )
    finally:
        db.close()
