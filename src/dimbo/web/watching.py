"""What is counted of requests, and the access log: by operation, never by address, so that neither holds a token or a name.

The figures are served in the Prometheus text format on a port of their own (``DIMBO_METRICS_PORT``), which is not for the world.
"""

from __future__ import annotations

import resource
import time
from collections.abc import Callable
from uuid import uuid4

import structlog
from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram, start_http_server
from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send
from structlog.contextvars import bind_contextvars, reset_contextvars

log = structlog.get_logger("access")
REQUEST_ID = "x-request-id"
"""Header of every answer, by which whoever runs the server finds what was said of it."""
OTHER = "page"
"""Whatever is no operation: the interface's own files and pages, and what is refused before it comes to one."""


class Figures:
    """The figures of one process."""

    def __init__(self) -> None:
        self.registry = CollectorRegistry()
        labels = ["operation", "status"]
        self.requests = Counter("dimbo_requests", "Answers, by operation and kind of status", labels, registry=self.registry)
        self.seconds = Histogram("dimbo_request_seconds", "Time from a request to its answer", ["operation"], registry=self.registry)
        self.running = Gauge("dimbo_requests_running", "Requests that are being answered", registry=self.registry)
        memory = Gauge("dimbo_memory_peak_bytes", "The most memory that this process has held", registry=self.registry)
        memory.set_function(lambda: resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024)

    def watch(self, stats: Callable[[], dict[str, int]]) -> None:
        """The connections of a pool as well, as it tells them."""
        size = Gauge("dimbo_database_connections", "Connections to the database", registry=self.registry)
        size.set_function(lambda: stats().get("pool_size", 0))
        waiting = Gauge("dimbo_database_waiting", "Requests that wait for a connection", registry=self.registry)
        waiting.set_function(lambda: stats().get("requests_waiting", 0))

    def serve(self, port: int, *, host: str) -> None:
        start_http_server(port, addr=host, registry=self.registry)


class Watch:
    """Counts and logs every request; outermost, so that what is refused early is counted too."""

    def __init__(self, app: ASGIApp, figures: Figures) -> None:
        self.app, self.figures = app, figures

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        began, status, request = time.perf_counter(), 500, uuid4().hex
        method = scope["method"]

        async def noting(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                MutableHeaders(scope=message)[REQUEST_ID] = request
            await send(message)

        self.figures.running.inc()
        bound = bind_contextvars(request=request)
        try:
            await self.app(scope, receive, noting)
        finally:
            took = time.perf_counter() - began
            self.figures.running.dec()
            name = operation_of(scope)
            self.figures.requests.labels(name, f"{status // 100}xx").inc()
            self.figures.seconds.labels(name).observe(took)
            if scope["path"].startswith("/api/"):
                log.info("request", operation=name, method=method, status=status, ms=round(took * 1000, 1))
            reset_contextvars(**bound)


def operation_of(scope: Scope) -> str:
    """The name of the operation that a request came to; one for everything that is none."""
    return getattr(scope.get("route"), "operation_id", None) or OTHER
