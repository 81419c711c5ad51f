"""The practice's own copy of the reasoning table."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import ValidationError

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.catalogue.intake_schema import ReasoningEntry
from dimbo.catalogue.intake_tables import misfit
from dimbo.store.database import Database, NotThere
from dimbo.store.intake import reasoning
from dimbo.store.people.accounts import Person
from dimbo.work.shared.errors import Refused, Why


@dataclass(frozen=True)
class Text:
    """One concern's entry as it holds in the practice; edited_by is None for the shipped text."""

    entry: ReasoningEntry
    edited_by: str | None
    edited_at: datetime | None


def every(db: Database, coach: Person) -> list[Text]:
    """All entries in the order of the concerns."""
    with db.of(coach) as conn:
        own = {o.concern: o for o in reasoning.own(conn)}
    out = []
    for concern, shipped in shipped_intake().written.items():
        o = own.get(concern)
        out.append(Text(ReasoningEntry.model_validate(o.document), o.edited_by, o.edited_at) if o else Text(shipped, None, None))
    return out


def save(db: Database, coach: Person, concern: str, document: dict[str, Any]) -> None:
    """Keep the practice's own entry for a concern. Raises Refused that says what does not fit."""
    try:
        entry = ReasoningEntry.model_validate({**document, "concern": concern})
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        raise Refused(Why.UNREADABLE, f"{where or 'The entry'}: {first['msg'].removeprefix('Value error, ')}.", where or None) from error
    tables = shipped_intake().tables
    sources = {*tables.tests, *(t.topic for t in tables.tests.values() if t.topic), *(c.id for c in tables.cautions)}
    if wrong := misfit(entry, shipped_catalogue(), sources):
        raise Refused(Why.UNREADABLE, f"{wrong.capitalize()}.", "document")
    with db.of(coach) as conn:
        reasoning.keep(conn, coach.practice_id, concern, entry.model_dump(mode="json", by_alias=True), coach.name)


def restore(db: Database, coach: Person, concern: str) -> None:
    """Back to the shipped text. Raises NotThere when it is the shipped text already."""
    with db.of(coach) as conn:
        if not reasoning.shipped_again(conn, concern):
            raise NotThere("This is the shipped text already.")
