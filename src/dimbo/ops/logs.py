"""What processes say of themselves: one JSON object a line on standard output, or in words where somebody looks on.

Each has the moment (UTC), the level, what happened (``event``), what it is about, and the id of the request where there is one.
What libraries say goes the same way.
"""

from __future__ import annotations

import logging
import sys
from typing import TextIO

import structlog
from structlog.types import Processor

_ALWAYS: list[Processor] = [
    structlog.contextvars.merge_contextvars,
    structlog.stdlib.add_log_level,
    structlog.processors.TimeStamper(fmt="iso", utc=True),
]


_TRACED = structlog.processors.ExceptionRenderer(structlog.tracebacks.ExceptionDictTransformer(show_locals=False))
"""Where an error came from, without the values that stood there: cookies, names and health facts among them."""


def set_up(out: TextIO | None = None) -> None:
    """Have everything said on ``out`` (standard output) from now on."""
    out = out or sys.stdout
    watched = out.isatty()
    last: list[Processor] = (
        [structlog.dev.ConsoleRenderer(exception_formatter=structlog.dev.plain_traceback)] if watched else [_TRACED, _json()]
    )
    structlog.configure(
        processors=[*_ALWAYS, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
        logger_factory=structlog.stdlib.LoggerFactory(),
        cache_logger_on_first_use=True,
    )
    handler = logging.StreamHandler(out)
    handler.setFormatter(
        structlog.stdlib.ProcessorFormatter(
            foreign_pre_chain=[*_ALWAYS, structlog.stdlib.add_logger_name],
            processors=[structlog.stdlib.ProcessorFormatter.remove_processors_meta, *last],
        )
    )
    logging.basicConfig(handlers=[handler], level=logging.INFO, force=True)
    for loud in ("procrastinate", "httpx", "PIL", "pywebpush", "urllib3"):
        logging.getLogger(loud).setLevel(logging.WARNING)


def _json() -> Processor:
    return structlog.processors.JSONRenderer(ensure_ascii=False)
