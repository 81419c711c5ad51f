"""Made-up clients for whom drafts are judged: what each comes with, and what a careful colleague expects of the draft, with the reason."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, date, datetime

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.anatomy import Family, Side
from dimbo.core.design.draft import Draft, DraftFrom, draft
from dimbo.core.design.weeks import About
from dimbo.core.intake.conclusions import ConcernView, Rating
from dimbo.core.intake.reasoning import suggest
from dimbo.core.programs.program import Line, Settings, When
from dimbo.core.safety.cautions import CautionAnswer, Cautions, stand
from dimbo.core.sittings.bias import Bias

CATALOGUE = shipped_catalogue()
TABLES = shipped_intake().tables
TODAY = date(2026, 3, 20)
NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)
R, L = Side.RIGHT, Side.LEFT
PLAIN = Settings()


def concern(concern_id: str, cause_id: str, right: int = 2, left: int = 2) -> ConcernView:
    """A concern that the coach works for one cause."""
    table = TABLES.reasoning[concern_id]
    cause = next(c for c in table.causes if c.id == cause_id)
    return ConcernView(
        concern=CATALOGUE.concerns[concern_id],
        rating=Rating(right, left=left),
        suggestion=suggest(table, {}),
        cause=cause,
        chosen=True,
        differs=False,
        derived={},
    )


def cautions(*yes: str) -> Cautions:
    answers = {r.id: CautionAnswer(caution=r.id, answer="yes" if r.id in yes else "no", at=NOON) for r in TABLES.cautions}
    return stand(TABLES.cautions, answers, (), TODAY)


@dataclass(frozen=True)
class Drawn:
    """A draft with easy questions about it."""

    draft: Draft

    @property
    def lines(self) -> tuple[Line, ...]:
        return self.draft.program.lines

    @property
    def ids(self) -> set[str]:
        return {n.card.id for n in self.lines}

    def of(self, *families: Family, concern: str = "", when: When | None = None) -> list[Line]:
        return [
            n
            for n in self.lines
            if n.card.family in families and (not concern or concern in n.card.concerns) and (when is None or when in n.when.parts)
        ]

    def moving(self, muscle: str, *families: Family) -> list[Line]:
        return [n for n in self.lines if n.card.family in families and muscle in n.card.shares]


Expect = tuple[str, Callable[[Drawn], object]]
"""What is expected, with the reason, and whether a draft has it."""


@dataclass(frozen=True, kw_only=True)
class Case:
    """A client. ``remark`` is what a reviewer said of the printed draft."""

    name: str
    concerns: tuple[ConcernView, ...]
    remark: str
    minutes: int | None = 15
    weeks: int = 12
    school: str = "balanced"
    yes: tuple[str, ...] = ()
    bias: tuple[tuple[str, Side], ...] = ()
    busy: Side | None = None
    leave_out: frozenset[str] = frozenset()
    expects: tuple[Expect, ...] = ()

    def drawn(self) -> Drawn:
        about = About(
            cautions=cautions(*self.yes),
            cards=CATALOGUE.cards,
            bias={k: Bias("on", side, f"{k} shows the {side} side beyond its noise.") for k, side in self.bias},
        )
        source = DraftFrom(
            concerns=self.concerns,
            about=about,
            minutes=self.minutes,
            weeks=self.weeks,
            approach=self.school,
            leave_out=self.leave_out,
            busy=self.busy,
        )
        return Drawn(draft(source, PLAIN, CATALOGUE.cards))
