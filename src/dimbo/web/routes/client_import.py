"""Importing clients from a CSV file: look first, then import."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile

from dimbo.core.intake.import_table import MOST_BYTES
from dimbo.web.context import Ctx, Senior
from dimbo.web.schemas import intake as s
from dimbo.web.views import intake as views
from dimbo.work.intake import client_import
from dimbo.work.shared.errors import Refused, Why

router = APIRouter(prefix="/api/import")


def _columns(text: str) -> list[str] | None:
    """Fields by column, separated by commas; nothing at all asks for a guess."""
    return text.split(",") if text else None


@router.post("/preview", operation_id="previewImport")
def preview(
    file: Annotated[UploadFile, File()], time_zone: Annotated[str, Form()], coach: Senior, ctx: Ctx, columns: Annotated[str, Form()] = ""
) -> s.ImportPreview:
    """What an import would do; nothing is stored."""
    found = client_import.plan(ctx.db, coach, file.file.read(MOST_BYTES + 1), _columns(columns), time_zone=time_zone, now=ctx.now)
    return views.import_preview(found)


@router.post("", operation_id="importClients", status_code=201)
def carry_out(
    file: Annotated[UploadFile, File()],
    time_zone: Annotated[str, Form()],
    columns: Annotated[str, Form()],
    expected: Annotated[int, Form(ge=0)],
    coach: Senior,
    ctx: Ctx,
) -> s.ImportPreview:
    matched = _columns(columns)
    if matched is None:
        raise Refused(Why.NOT_NOW, "Match the columns first.", "columns")
    data, name = file.file.read(MOST_BYTES + 1), file.filename or "clients.csv"
    return views.import_preview(
        client_import.carry_out(ctx.db, coach, data, matched, time_zone, file_name=name, expected=expected, now=ctx.now)
    )
