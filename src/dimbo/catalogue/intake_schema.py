"""The schema of the intake's tables. docs/formats/intake-tables.md tells the same in words."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dimbo.core.anatomy import Family
from dimbo.core.intake.conclusions import MOST_SEVERE
from dimbo.core.safety.cautions import LONGEST_MONTHS

from .schema import Mark, Slug, Strict, Text

Role = Literal[
    "physician",
    "surgeon",
    "eye doctor",
    "dentist",
    "dermatologist",
    "neurologist",
    "physiotherapist",
    "midwife",
    "treating practitioner",
    "coach",
]
"""Whose word can release a lock."""


class ConcernEntry(Strict):
    id: Slug
    name: Text
    paired: bool
    muscles: tuple[Slug, ...] = Field(min_length=1)
    also: tuple[Text, ...] = ()
    levels: tuple[Text, ...] = Field(min_length=MOST_SEVERE, max_length=MOST_SEVERE)
    never_trained: tuple[Slug, ...] = ()
    never_marks: tuple[Mark, ...] = ()


class QuestionEntry(Strict):
    """``from`` names the caution, side test or topic that can answer it."""

    id: Slug
    ask: Text
    source: Slug | None = Field(default=None, alias="from")


class CauseEntry(Strict):
    id: Slug
    name: Text
    usual: int = Field(ge=-3, le=3)
    evidence: dict[Slug, dict[Literal["yes", "no", "unsure"], Annotated[int, Field(ge=-9, le=9)]]]
    because: Text
    helps: Text
    families: tuple[Family, ...] = ()
    few: Text | None = None
    """Why no more than one or two families help, where they are so few."""
    muscles: tuple[Slug, ...] = ()
    evening: bool = False
    """Whether what is soft belongs to the evening."""
    task: Slug | None = None
    """The habit that the first of its habits in words stands for."""
    busy_side: bool = False
    """Whether one side is busier, and gets more of what lets go."""
    avoid: Text
    habits: tuple[Text, ...] = Field(default=(), max_length=6)


class ReasoningEntry(Strict):
    concern: Slug
    questions: tuple[QuestionEntry, ...] = Field(max_length=10)
    causes: tuple[CauseEntry, ...] = Field(min_length=1, max_length=8)

    @model_validator(mode="after")
    def _refer(self) -> ReasoningEntry:
        known = {q.id for q in self.questions}
        for kind, ids in (("question", [q.id for q in self.questions]), ("cause", [c.id for c in self.causes])):
            if len(set(ids)) != len(ids):
                raise ValueError(f"two {kind}s have the same id")
        for cause in self.causes:
            for question in cause.evidence:
                if question not in known:
                    raise ValueError(f"cause “{cause.id}”: there is no question “{question}”")
        return self


class SpeaksEntry(Strict):
    topic: Literal["weaker-eye", "weaker-brow", "weaker-corner", "busier-jaw"]
    right: Literal["right", "left"]
    left: Literal["right", "left"]


class TaskEntry(Strict):
    text: Text
    times: int = Field(ge=1, le=20)
    when: tuple[Text, ...] = ()
    exercise: Slug | None = None


class SideTestEntry(Strict):
    id: Slug
    name: Text
    group: Literal["eye", "brow", "mouth", "jaw", "habit", "trait"]
    ask: Text
    steps: tuple[Text, ...] = Field(min_length=1)
    say: Text
    answers: tuple[Text, ...] = Field(min_length=2)
    speaks: SpeaksEntry | None = None
    task: TaskEntry | None = None
    reading: Slug | None = None


class TouchEntry(Strict):
    effect: Literal["lock", "ease", "remind"]
    regions: tuple[Text, ...] | Literal["noted"] = ()
    families: tuple[Family, ...] = ()
    pressures: tuple[Literal["feather", "light", "firm"], ...] = ()
    needs: tuple[Text, ...] = ()
    marks: tuple[Mark, ...] = ()
    exercises: tuple[Slug, ...] = ()
    hands: bool = False


class CautionEntry(Strict):
    id: Slug
    name: Text
    group: Literal["urgent", "clinician", "treatment", "skin", "body"]
    ask: Text
    touches: tuple[TouchEntry, ...] = Field(min_length=1)
    text: Text
    cleared_by: Literal["clinician", "coach"] | None = None
    roles: tuple[Role, ...] = ()
    lasts_months: int = Field(default=LONGEST_MONTHS, ge=1, le=LONGEST_MONTHS)
    kin: Text | None = None
    same_day: bool = False
    says: Text | None = None
    dated: bool = False
    noted_regions: bool = False
    ask_after_days: int | None = Field(default=None, ge=1, le=365)

    @model_validator(mode="after")
    def _can_be_released(self) -> CautionEntry:
        if any(t.effect == "lock" for t in self.touches) and not (self.cleared_by and self.says and self.roles):
            raise ValueError("a lock needs cleared_by, the roles that release it, and says what the clearance must say")
        if (self.group == "urgent") != (self.kin is not None):
            raise ValueError("a sudden sign, and nothing else, says under kin what it concerns")
        if any(t.regions == "noted" for t in self.touches) != self.noted_regions:
            raise ValueError("noted_regions and a touch with regions: noted belong together")
        return self


class ConsentEntry(Strict):
    id: Slug
    name: Text
    version: int = Field(ge=1)
    months: int = Field(ge=1, le=60)
    text: Text
    withdrawn: Text
    names: Text | None = None
    names_colleague: bool = False
