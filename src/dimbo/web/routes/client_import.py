"""Importing clients from a list, CSV or .xlsx: look first, decide what is unclear, then import."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, File, Form, UploadFile
from pydantic import Json

from dimbo.core.intake.import_table import MOST_BYTES
from dimbo.web.context import Ctx, Senior
from dimbo.web.schemas import intake as s
from dimbo.web.views import intake as views
from dimbo.work.intake import client_import
from dimbo.work.intake.client_import import Choices, Said
from dimbo.work.shared.errors import Refused, Why

router = APIRouter(prefix="/api/import", tags=["clients"])


def _choices(choices: Annotated[Json[s.ImportChoices] | None, Form()] = None) -> Choices:
    """What was decided, as JSON; nothing at all has everything guessed."""
    told = choices or s.ImportChoices()
    return Choices(
        columns=told.columns,
        year_first=told.year_first,
        rest=told.rest,
        left_out=frozenset((c.line, c.column) for c in told.left_out),
        left_out_columns=frozenset(told.left_out_columns),
        rows={r.line: Said(r.says) for r in told.rows},
    )


Chosen = Annotated[Choices, Depends(_choices)]


@router.post("/preview", operation_id="previewImport")
def preview(
    file: Annotated[UploadFile, File()], time_zone: Annotated[str, Form()], choices: Chosen, coach: Senior, ctx: Ctx
) -> s.ImportPreview:
    """What an import would do; nothing is stored. ``choices`` is JSON of ImportChoices."""
    found = client_import.plan(ctx.db, coach, file.file.read(MOST_BYTES + 1), choices, time_zone=time_zone, now=ctx.now)
    return views.import_preview(found)


@router.post("", operation_id="importClients", status_code=201)
def carry_out(
    file: Annotated[UploadFile, File()],
    time_zone: Annotated[str, Form()],
    choices: Chosen,
    expected: Annotated[int, Form(ge=0)],
    coach: Senior,
    ctx: Ctx,
) -> s.ImportPreview:
    """Import the new rows. ``choices`` is JSON of ImportChoices, with the columns; ``expected`` the number that the preview told."""
    if choices.columns is None:
        raise Refused(Why.NOT_NOW, "Match the columns first.", "columns")
    data, name = file.file.read(MOST_BYTES + 1), file.filename or "clients.csv"
    return views.import_preview(
        client_import.carry_out(ctx.db, coach, data, choices, time_zone, file_name=name, expected=expected, now=ctx.now)
    )
