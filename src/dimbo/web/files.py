"""Refusals, and answers that are files: what kind each is stands in the API's description, and no browser keeps a copy by itself,
except of what is asked for again and again by somebody who says what they have."""

from __future__ import annotations

from collections.abc import Iterator
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
