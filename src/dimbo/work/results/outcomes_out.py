"""The table without names behind what helped, only of those who agreed to it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import datetime

from dimbo.core.results.clean_starts import MINUTES, Gain
from dimbo.store.database import Database
from dimbo.store.people.accounts import Person
from dimbo.work.shared.tables import Cell, Dialect, Table, as_csv, as_workbook

from .outcomes import Known, known_of

COLUMNS = {
    "person": "number of the client in this table alone, from 1, in no order",
    "reading": "id of the reading: eye opening, brow, mouth corner",
    "trained": "one side more, or both sides alike",
    "approach": "approach of the first program",
    "coin": "true when a coin, noted before practice, chose the approach",
    "start_mm": "difference of the sides at the clean start, positive where the side that looked smaller when it was chosen is smaller",
    "end_mm": "the same at the first comparable sitting 10 to 16 weeks after practice began",
    "gain_mm": "how much the side that looked smaller has gained",
    "extra_min": "minutes of contraction that side did beyond the other, over exercises whose prime mover raises the reading",
    "noise_sd_mm": "standard deviation of such a gain of an unchanged face",
    "weeks": "whole weeks from the clean start to the end",
}


def as_csv_file(db: Database, person: Person, now: datetime, dialect: Dialect) -> bytes:
    """One row for each client and reading that counts."""
    return as_csv(_table(known_of(db, person, now)), dialect)


def workbook(db: Database, person: Person, now: datetime) -> bytes:
    """The same as a sheet, with its dictionary as another."""
    return as_workbook([_table(known_of(db, person, now)), dictionary()])


def dictionary() -> Table:
    """What every column means."""
    return Table(name="outcomes dictionary", columns=("column", "meaning"), rows=list(COLUMNS.items()))


def _table(known: Sequence[Known]) -> Table:
    return Table(name="outcomes", columns=tuple(COLUMNS), rows=_rows(known))


def _rows(known: Sequence[Known]) -> Iterator[Sequence[Cell]]:
    """Without names, and not in the order of names: by an order that tells nothing of who is who."""
    agreed = sorted((k for k in known if k.agreed), key=lambda k: k.client.id.int)
    for number, k in enumerate(agreed, start=1):
        for reading, g in k.found.items():
            if isinstance(g, Gain):
                yield (
                    number,
                    reading,
                    g.kind.value,
                    k.approach,
                    k.coin,
                    g.at_start,
                    g.at_end,
                    g.gain,
                    g.dose * MINUTES,
                    g.variance**0.5,
                    (g.end - g.start).days // 7,
                )
