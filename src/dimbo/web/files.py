"""Refusals, and answers that are files: what kind each is stands in the API's description, and no browser keeps a copy by itself,
except of what is asked for again and again by somebody who says what they have."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from email.utils import format_datetime, parsedate_to_datetime
from typing import IO
from urllib.parse import quote

from fastapi import Request, Response
from fastapi.responses import JSONResponse, StreamingResponse

from dimbo.work.shared.tables import WORKBOOK

PIECE = 256 * 1024


def _headers(name: str) -> dict[str, str]:
    """``name`` makes it a file to keep; letters that headers cannot hold are written beside it as UTF-8."""
    if not name:
        return {"Cache-Control": "no-store"}
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " -_.,") else "_" for c in name)
    said = f'attachment; filename="{plain}"' + ("" if plain == name else f"; filename*=UTF-8''{quote(name)}")
    return {"Cache-Control": "no-store", "Content-Disposition": said}


class _File(Response):
    def __init__(self, content: str | bytes, name: str = "", status_code: int = 200) -> None:
        super().__init__(content, status_code, headers=_headers(name))

    def known_by(self, tag: str, changed_at: datetime, request: Request) -> Response:
        """This file, or 304 for whoever has it already (RFC 9110, 13.1: a tag that was sent decides before a date)."""
        headers = {
            "ETag": tag,
            "Last-Modified": format_datetime(changed_at.astimezone(UTC), usegmt=True),
            "Cache-Control": "private, no-cache",
        }
        if _has(request, tag, changed_at):
            return Response(status_code=304, headers=headers)
        self.headers.update(headers)
        return self


class Mp4(Response):
    """A film, whole or the part that was asked for (RFC 9110, 14: one range of bytes; of several, the whole)."""

    media_type = "video/mp4"

    @classmethod
    def asked(cls, request: Request, size: int, tag: str, read: Callable[[int, int], bytes]) -> Response:
        """``read`` gives bytes from a place on, so many."""
        headers = {"Accept-Ranges": "bytes", "ETag": tag, "Cache-Control": "private, no-cache"}
        if request.headers.get("if-none-match") == tag:
            return Response(status_code=304, headers=headers)
        wanted = _range(request.headers.get("range", ""), size) if request.headers.get("if-range", tag) == tag else (0, size)
        if wanted is None:
            return Response(status_code=416, headers=headers | {"Content-Range": f"bytes */{size}"})
        start, end = wanted
        if wanted != (0, size):
            headers["Content-Range"] = f"bytes {start}-{end - 1}/{size}"
        headers["Content-Length"] = str(end - start)
        parts = (read(at, min(PIECE, end - at)) for at in range(start, end, PIECE))
        return StreamingResponse(parts, 200 if wanted == (0, size) else 206, headers=headers, media_type=cls.media_type)


_RANGE = re.compile(r"bytes=(\d*)-(\d*)")


def _range(said: str, size: int) -> tuple[int, int] | None:
    """The first byte that was asked for and the one after the last; the whole for what is no single range, None where there is nothing."""
    found = _RANGE.fullmatch(said.strip())
    if not found or not any(found.groups()):
        return 0, size
    first, last = found.groups()
    start = int(first) if first else max(0, size - int(last))
    end = min(size, int(last) + 1) if first and last else size
    return (start, end) if start < min(end, size) else None


def _has(request: Request, tag: str, changed_at: datetime) -> bool:
    if known := request.headers.get("if-none-match"):
        return known.strip() == "*" or tag in [t.strip().removeprefix("W/") for t in known.split(",")]
    try:
        since = parsedate_to_datetime(request.headers.get("if-modified-since", ""))
    except ValueError:
        return False
    return since.tzinfo is not None and changed_at.replace(microsecond=0) <= since


class Csv(_File):
    media_type = "text/csv; charset=utf-8"


class Workbook(_File):
    media_type = WORKBOOK


class Json(_File):
    media_type = "application/json"


class JsonSchema(_File):
    media_type = "application/schema+json"


class Pdf(_File):
    media_type = "application/pdf"


class Jpeg(_File):
    media_type = "image/jpeg"


class Png(_File):
    media_type = "image/png"


class Calendar(_File):
    media_type = "text/calendar; charset=utf-8"


class Zip(StreamingResponse):
    media_type = "application/zip"

    def __init__(self, file: IO[bytes], name: str, status_code: int = 200) -> None:
        """``file`` is closed when it has been sent."""
        super().__init__(_pieces(file), status_code, headers=_headers(name))


def _pieces(file: IO[bytes]) -> Iterator[bytes]:
    with file:
        while piece := file.read(PIECE):
            yield piece


def problem(status: int, message: str, code: str, field: str | None = None) -> JSONResponse:
    """A refusal, as schemas.Problem has it."""
    return JSONResponse({"code": code, "message": message, "field": field}, status_code=status)
