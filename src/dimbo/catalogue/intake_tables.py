"""Loading the intake's tables: reasoning, side tests, cautions, consents. Errors name file and line."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from dimbo.core.anatomy import Family, Side
from dimbo.core.intake.conclusions import Tables
from dimbo.core.intake.reasoning import Cause, Question, Reasoning
from dimbo.core.intake.side_tests import HabitTask, SideTest
from dimbo.core.safety.cautions import CautionRule, Effect, Touch
from dimbo.core.safety.consent import ConsentText
from dimbo.core.sittings.reading_table import READINGS

from .intake_schema import CautionEntry, ConsentEntry, ReasoningEntry, SideTestEntry, TouchEntry
from .load import SHIPPED, Catalogue, Entry, Source, shipped_catalogue, unique


@dataclass(frozen=True)
class IntakeTables:
    """The shipped tables, and the reasoning entries as they are written (for a practice that edits its own)."""

    tables: Tables
    consents: Mapping[str, ConsentText]
    written: Mapping[str, ReasoningEntry]


def reasoning(entry: ReasoningEntry) -> Reasoning:
    """A written entry as the core understands it."""
    return Reasoning(
        entry.concern,
        tuple(Question(q.id, ask=q.ask, source=q.source) for q in entry.questions),
        tuple(
            Cause(
                id=c.id,
                name=c.name,
                usual=c.usual,
                evidence={q: {str(a): n for a, n in weights.items()} for q, weights in c.evidence.items()},
                because=c.because,
                helps=c.helps,
                families=tuple(f.value for f in c.families),
                few=c.few or "",
                evening=c.evening,
                busy_side=c.busy_side,
                task=c.task or "",
                muscles=c.muscles,
                avoid=c.avoid,
                habits=c.habits,
            )
            for c in entry.causes
        ),
    )


def _is_habit(catalogue: Catalogue, exercise: str) -> bool:
    return exercise in catalogue.cards and catalogue.cards[exercise].family is Family.HABIT


def misfit(entry: ReasoningEntry, catalogue: Catalogue, sources: Iterable[str]) -> str | None:
    """What an entry names that does not exist, as a sentence; None when everything does."""
    if entry.concern not in catalogue.concerns:
        return f"concern: there is no concern “{entry.concern}”"
    for cause in entry.causes:
        for muscle in cause.muscles:
            if muscle not in catalogue.muscles:
                return f"cause “{cause.id}”: there is no muscle “{muscle}”"
        if cause.task and not _is_habit(catalogue, cause.task):
            return f"cause “{cause.id}”: there is no habit “{cause.task}”"
    for q in entry.questions:
        if q.source and q.source not in sources:
            return f"question “{q.id}”: there is no caution, side test or topic “{q.source}”"
    return None


def _touch(t: TouchEntry) -> Touch:
    noted = t.regions == "noted"
    return Touch(
        effect=Effect(t.effect),
        regions=frozenset() if noted else frozenset(t.regions),
        noted=noted,
        families=frozenset(f.value for f in t.families),
        pressures=frozenset(t.pressures),
        needs=frozenset(t.needs),
        marks=frozenset(t.marks),
        exercises=frozenset(t.exercises),
        hands=t.hands,
    )


def _side_test(e: SideTestEntry) -> SideTest:
    speaks = {"right": Side(e.speaks.right), "left": Side(e.speaks.left)} if e.speaks else None
    task = HabitTask(e.task.text, e.task.times, e.task.when, exercise=e.task.exercise or "") if e.task else None
    return SideTest(
        id=e.id,
        name=e.name,
        group=e.group,
        ask=e.ask,
        steps=e.steps,
        say=e.say,
        answers=e.answers,
        topic=e.speaks.topic if e.speaks else None,
        speaks=speaks,
        task=task,
        reading=e.reading,
    )


def _caution(e: CautionEntry) -> CautionRule:
    return CautionRule(
        id=e.id,
        name=e.name,
        group=e.group,
        ask=e.ask,
        text=e.text,
        touches=tuple(_touch(t) for t in e.touches),
        cleared_by=e.cleared_by or "",
        says=e.says or "",
        dated=e.dated,
        noted_regions=e.noted_regions,
        ask_after_days=e.ask_after_days,
        roles=e.roles,
        lasts_months=e.lasts_months,
        kin=e.kin or "",
        same_day=e.same_day,
    )


def _read(folder: Path, name: str, schema: type[Entry], key: str = "id") -> tuple[Source, dict[str, Entry]]:
    source = Source.read(folder / name)
    out: dict[str, Entry] = {}
    for node in source:
        entry = source.entry(node, schema)
        unique(source, node, out, getattr(entry, key))
        out[getattr(entry, key)] = entry
    return source, out


def load_intake_tables(catalogue: Catalogue, folder: Path = SHIPPED) -> IntakeTables:
    """Read and validate every table. Raises CatalogueError with file and line of the first fault."""
    regions = tuple(dict.fromkeys(m.region for m in catalogue.muscles.values()))
    test_source, tests = _read(folder, "side_tests.yaml", SideTestEntry)
    for node, test in zip(test_source, tests.values(), strict=True):
        if test.reading and test.reading not in READINGS:
            raise test_source.error(node, f"reading: there is no reading “{test.reading}”", "reading")
    sources = {*tests, *(t.speaks.topic for t in tests.values() if t.speaks)}

    caution_source, cautions = _read(folder, "cautions.yaml", CautionEntry)
    sources |= set(cautions)
    source, written = _read(folder, "reasoning.yaml", ReasoningEntry, "concern")
    for node, entry in zip(source, written.values(), strict=True):
        if wrong := misfit(entry, catalogue, sources):
            raise source.error(node, wrong)
    for concern in catalogue.concerns:
        if concern not in written:
            raise source.error(source.nodes[-1], f"concern: “{concern}” has no entry")

    needs = {n for c in catalogue.cards.values() for n in c.needs}
    for node, caution in zip(caution_source, cautions.values(), strict=True):
        for place, touch in enumerate(caution.touches):
            named = [("regions", touch.regions if touch.regions != "noted" else (), regions)]
            named += [("needs", touch.needs, tuple(needs)), ("exercises", touch.exercises, tuple(catalogue.cards))]
            for field, given, known in named:
                for value in given:
                    if value not in known:
                        raise caution_source.error(node, f"touches: there is nothing “{value}” among the {field}", "touches", place, field)
    _, consents = _read(folder, "consents.yaml", ConsentEntry)
    return IntakeTables(
        Tables(
            concerns=catalogue.concerns,
            reasoning={e.concern: reasoning(e) for e in written.values()},
            tests={t.id: _side_test(t) for t in tests.values()},
            cautions=tuple(_caution(c) for c in cautions.values()),
            regions=regions,
        ),
        {
            c.id: ConsentText(
                id=c.id,
                name=c.name,
                version=c.version,
                months=c.months,
                text=c.text,
                withdrawn=c.withdrawn,
                names=c.names or "",
                names_colleague=c.names_colleague,
            )
            for c in consents.values()
        },
        written,
    )


@lru_cache(maxsize=1)
def shipped_intake() -> IntakeTables:
    """The tables that ship, read once."""
    return load_intake_tables(shipped_catalogue())
