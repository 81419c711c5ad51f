"""The application factory."""

from __future__ import annotations

import json
import re
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from functools import partial
from threading import Thread
from typing import Any

import structlog
from fastapi import FastAPI, HTTPException, Request, Response
from fastapi.exceptions import RequestValidationError
from starlette.datastructures import Headers, MutableHeaders
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp, Message, Receive, Scope, Send
from structlog.contextvars import get_contextvars

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.ops.settings import Settings
from dimbo.store.database import AWAY, FULL, READ_ONLY, UNSTORABLE, Conflict, Database, NotThere
from dimbo.vision.terms import MOST_CLIP_BYTES
from dimbo.work.shared.errors import Refused, Why

from . import pages
from .context import OWN_HEADER, SAFE, Context
from .description import describe
from .files import Json, problem
from .routes import (
    account,
    client_import,
    desk,
    exercises,
    intake,
    messages,
    people,
    plans,
    practice,
    program_files,
    programs,
    rating,
    records,
    results,
    review,
    sittings,
)
from .schemas import HealthView, Problem
from .watching import Figures, Watch

log = structlog.get_logger()
KIB, MIB = 1024, 1024 * 1024
BODIES: tuple[tuple[re.Pattern[str], int], ...] = (
    (re.compile(r"/api/sittings/[^/]+/photographs"), 26 * MIB),
    (re.compile(r"/api/(sittings|taking)/[^/]+/uploads/[^/]+"), MIB + 64 * KIB),
    (re.compile(r"/api/exercise-media"), MOST_CLIP_BYTES + MIB),
    (re.compile(r"/api/exercises/import"), 41 * MIB),
    (re.compile(r"/api/import(/preview)?"), 9 * MIB),
    (re.compile(r"/api/clients/[^/]+/programs/import(/preview)?"), 3 * MIB),
    (re.compile(r"/api/(sign-in|sign-out|forgotten|invitations/.*|joining/.*|new-passwords/.*|addresses/.*|unsubscribe/.*)"), 8 * KIB),
    (re.compile(r"/api/(self-intakes|taking)/.*"), 256 * KIB),
    (re.compile(r".*", re.DOTALL), 2 * MIB),
)
"""How many bytes a request may bring, by its path; the first that fits. Held before anything of it is parsed, signed in or not."""
PACKED_ALREADY = (".jpg", ".mp4", ".png", ".pdf", ".zip", ".xlsx")
FAULT = "This did not work, for a fault of ours. Try again; if it fails again, tell whoever runs the server this number:"
WORKER_SILENT_S = 20
"""After so long without a word from any worker none is up."""


def _headers(settings: Settings) -> tuple[tuple[str, str], ...]:
    """What every answer carries."""
    secure = (("strict-transport-security", "max-age=31536000; includeSubDomains"),) if settings.secure else ()
    return (
        ("x-content-type-options", "nosniff"),
        ("referrer-policy", "same-origin"),
        ("content-security-policy", pages.content_policy(settings.ui_folder)),
        ("permissions-policy", "camera=(self), screen-wake-lock=(self), microphone=(self), geolocation=(), payment=(), usb=()"),
        ("cross-origin-opener-policy", "same-origin"),
        *secure,
    )


def _kind_of(fault: str) -> Why:
    """The kind of a refusal by the schema, from the validator's own name for it."""
    if fault == "missing":
        return Why.NEEDED
    return Why.BOUNDS if fault.startswith(("string_too", "too_", "greater", "less")) else Why.UNREADABLE


_BY_STATUS = {413: Why.BOUNDS, 401: "signed-out", 403: "not-allowed", 404: "not-there", 405: "not-there"}


def _handlers(app: FastAPI) -> None:
    @app.exception_handler(Refused)
    async def refused(_: Request, error: Refused) -> Response:
        return problem(429 if error.why is Why.TOO_MANY else 422, error.message, code=error.why, field=error.field)

    @app.exception_handler(NotThere)
    async def not_there(_: Request, error: NotThere) -> Response:
        return problem(404, str(error), code="not-there")

    @app.exception_handler(Conflict)
    async def conflict(_: Request, error: Conflict) -> Response:
        return problem(409, str(error), code="conflict")

    @app.exception_handler(HTTPException)
    async def http(_: Request, error: HTTPException) -> Response:
        return problem(error.status_code, str(error.detail), code=_BY_STATUS.get(error.status_code, Why.UNREADABLE))

    @app.exception_handler(RequestValidationError)
    async def invalid(_: Request, error: RequestValidationError) -> Response:
        first = error.errors()[0]
        field = ".".join(str(p) for p in first["loc"] if p not in ("body", "query", "path"))
        return problem(422, f"{field or 'The request'}: {first['msg']}", code=_kind_of(first["type"]), field=field or None)

    @app.exception_handler(UNSTORABLE)
    async def unstorable(_: Request, error: Exception) -> Response:
        log.warning("value cannot be stored", error=str(error))
        message = "Something in the text cannot be stored, such as an invisible sign. Type it anew; nothing was saved."
        return problem(422, message, code=Why.UNREADABLE)

    async def no_database(_: Request, error: Exception) -> Response:
        log.error("database unreachable", error=str(error))
        return problem(503, "The database does not answer. Nothing was saved; try again in a moment.", code="away")

    for kind in AWAY:
        app.add_exception_handler(kind, no_database)

    @app.exception_handler(FULL)
    async def full(_: Request, error: Exception) -> Response:
        log.error("disk full", error=str(error))
        return problem(503, "The server's disk is full. Nothing was saved; whoever runs the server has to make room.", code="away")

    @app.exception_handler(READ_ONLY)
    async def read_only(_: Request, error: Exception) -> Response:
        log.error("database only reads", error=str(error))
        return problem(503, "The database only reads at this moment. Nothing was saved; try again later.", code="away")


def _too_large(most: int) -> str:
    size = f"{most // MIB} MB" if most >= MIB else f"{most // KIB} kB"
    return f"This is more than can be taken in at once; at most {size}. Nothing was kept."


def _bounded(receive: Receive, most: int) -> Receive:
    """A body that tells no length, or a wrong one, is counted while it comes."""
    came = 0

    async def bounded() -> Message:
        nonlocal came
        message = await receive()
        came += len(message.get("body", b""))
        if came > most:
            raise HTTPException(413, _too_large(most))
        return message

    return bounded


class _Guard:
    """Refuses what does not come from Dimbo's own pages, and sets the headers that every answer carries.

    Plain ASGI: the framework's own kind of middleware costs more than most pages here.
    """

    def __init__(self, app: ASGIApp, headers: tuple[tuple[str, str], ...]) -> None:
        self.app, self.headers = app, headers

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        api = scope["path"].startswith("/api")
        head = scope["method"] == "HEAD"
        if head:  # is answered as GET is, without what would be read
            scope["method"] = "GET"

        async def with_headers(message: Message) -> None:
            if head and message["type"] == "http.response.body":
                message = {**message, "body": b""}
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in self.headers:
                    headers.setdefault(name, value)
                if api:
                    headers.setdefault("cache-control", "no-store")
            await send(message)

        if scope["method"] not in SAFE:
            sent = Headers(scope=scope)
            site = sent.get("sec-fetch-site", "same-origin")
            if OWN_HEADER not in sent or site not in ("same-origin", "none"):
                await problem(403, "This request does not come from Dimbo's own pages.", code="not-allowed")(scope, receive, with_headers)
                return
        most = next(size for path, size in BODIES if path.fullmatch(scope["path"]))
        length = Headers(scope=scope).get("content-length", "0")
        if not length.isdigit() or int(length) > most:
            await problem(413, _too_large(most), code=Why.BOUNDS)(scope, receive, with_headers)
            return
        await self.app(scope, _bounded(receive, most), with_headers)


class _Faults:
    """Answers in words where a fault of ours broke a request off, and notes it under the number that the answer tells."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        begun = False

        async def noting(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self.app(scope, receive, noting)
        except Exception:
            if begun or scope["type"] != "http":
                raise
            log.exception("fault")
            number = get_contextvars().get("request", "")
            await problem(500, f"{FAULT} {number}", code="fault")(scope, receive, send)


class _Packed:
    """Packs what answers say, unless it is packed already; the interface's files are packed when it is built."""

    def __init__(self, app: ASGIApp) -> None:
        self.app, self.packing = app, GZipMiddleware(app, minimum_size=KIB, compresslevel=5)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        packs = scope["type"] == "http" and scope["path"].startswith("/api") and not scope["path"].endswith(PACKED_ALREADY)
        await (self.packing if packs else self.app)(scope, receive, send)


def from_environment() -> FastAPI:
    """The application as the environment configures it, for a server that makes it itself."""
    Thread(target=_warm, daemon=True).start()
    return build_app(Settings())


def _warm() -> None:
    """Read what ships before somebody waits for it: some seconds of the first page otherwise."""
    shipped_catalogue()
    shipped_intake()


def build_app(settings: Settings) -> FastAPI:
    """The whole application on a database; ``settings`` say which."""
    db = Database(settings.database_url.get_secret_value())

    @asynccontextmanager
    async def life(_: FastAPI) -> AsyncIterator[None]:
        db.open(wait=False)
        yield
        db.close()

    refusals: dict[int | str, dict[str, Any]] = {"4XX": {"model": Problem, "description": "Refused"}}
    app = FastAPI(title="Dimbo", version="1", lifespan=life, docs_url=None, redoc_url=None, openapi_url=None, responses=refusals)
    app.state.context = Context(db, settings)
    _handlers(app)
    app.add_middleware(_Faults)
    app.add_middleware(_Packed)
    app.add_middleware(_Guard, headers=_headers(settings))
    figures = Figures()
    figures.watch(db.pool.get_stats)
    app.state.figures = figures
    app.add_middleware(Watch, figures=figures)
    for place in (
        account,
        client_import,
        desk,
        exercises,
        intake,
        messages,
        people,
        plans,
        practice,
        program_files,
        programs,
        rating,
        records,
        results,
        review,
        sittings,
    ):
        app.include_router(place.router)

    @app.get("/api/health", operation_id="health", tags=["health"])
    def health(response: Response) -> HealthView:
        """Whether web, database and worker live, for whoever watches them; 503 when nothing can be kept."""
        try:
            writes, beat = db.state()
        except AWAY:
            writes, beat = None, None
        found = HealthView(
            database="away" if writes is None else "up" if writes else "only reads",
            worker="up" if beat is not None and beat < WORKER_SILENT_S else "away",
        )
        response.status_code = 200 if found.database == "up" else 503
        return found

    @app.get("/api/openapi.json", operation_id="description", tags=["health"], response_class=Json)
    def description() -> Json:
        """This description, for programs that make a client of it."""
        return Json(json.dumps(app.openapi(), ensure_ascii=False))

    app.openapi = partial(describe, app)  # type: ignore[method-assign]
    pages.serve(app, settings.ui_folder)
    return app
