"""Exercise cards and the program sheet, from the core's values to what goes over the wire."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import Any

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.anatomy import Side, SideSeconds
from dimbo.core.calendar.schedule import days_in_words
from dimbo.core.design.sheet import Sheet
from dimbo.core.design.weeks import SessionPlan, Week, passes_minutes
from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.exercises.card import Card, DoseStyle
from dimbo.core.exercises.dose import Dose
from dimbo.core.exercises.dose_line import parse, print_line
from dimbo.core.exercises.figure import Figure, words
from dimbo.core.exercises.pulse_train import pulse_train
from dimbo.core.programs.program import Settings
from dimbo.core.programs.progression import card_ladder
from dimbo.core.safety.cautions import GRAVITY, CautionRule, Effect
from dimbo.core.sessions.timeline import stretches
from dimbo.web import schemas as s


def named(ids: Iterable[str], table: Mapping[str, Any]) -> list[s.Named]:
    """Ids with their names; what the table does not have is left out."""
    return [s.Named(id=i, name=getattr(table[i], "name", i)) for i in ids if i in table]


def train(dose: Dose, pace_s: float) -> s.TrainView:
    return s.TrainView.model_validate(pulse_train(dose, pace_s))


@lru_cache(maxsize=16_384)
def _shown(text: str, style: DoseStyle, pace_s: float) -> tuple[str, s.TrainView]:
    """Canonical line and pulse train of a cell that can be read; remembered, because the same cells come back with every
    key of the sheet."""
    dose = parse(text, style)
    return print_line(dose, style), train(dose, pace_s)


def figure(f: Figure) -> s.FigureView:
    return s.FigureView(
        view=f.view,
        mouth=list(f.mouth),
        eyes=list(f.eyes),
        brows=list(f.brows),
        head=list(f.head),
        hands=[s.HandView(tool=h.tool, path=list(h.path), does=h.does, other=h.other) for h in f.hands],
        moves=[list(m) for m in f.moves],
        one_side=f.one_side,
        breath=f.breath,
        words=list(words(f)),
    )


def clip(c: Card) -> s.ClipView | None:
    return s.ClipView(hash=c.clip.hash, seconds=c.clip.seconds, sound=c.clip.sound) if c.clip else None


def _cautions(c: Card) -> list[s.CautionView]:
    """What each caution of the table would do to an exercise, the gravest first."""
    found: list[tuple[Effect, CautionRule]] = []
    for rule in shipped_intake().tables.cautions:
        reaching = [
            t.effect
            for t in rule.touches
            if rule.group != "urgent" and t.reaches(c, c.regions if t.noted else frozenset(), released=frozenset())
        ]
        if reaching:
            found.append((max(reaching, key=lambda e: GRAVITY[e]), rule))
    found.sort(key=lambda pair: -GRAVITY[pair[0]])
    return [s.CautionView(about=rule.name, text=rule.text, effect=effect.value) for effect, rule in found]


def brief(c: Card, retired: bool = False) -> s.CardBrief:
    shipped = shipped_catalogue()
    forbidden = [a.id for a in APPROACHES.values() if a.forbids(c)]
    return s.CardBrief(
        id=c.id,
        name=c.name,
        family=c.family,
        stage=c.stage,
        purpose=c.purpose,
        concerns=named(c.concerns, shipped.concerns),
        prime_movers=named(c.prime_movers, shipped.muscles),
        helpers=named(c.helpers, shipped.muscles),
        regions=sorted(c.regions),
        needs=list(c.needs),
        schools=[a.id for a in APPROACHES.values() if a.id in c.schools or c.family in a.first],
        forbidden_by=forbidden,
        foundation=c.foundation,
        sides=c.style.side_rule,
        own=c.own,
        retired=retired,
    )


def card(c: Card, settings: Settings, retired: bool = False) -> s.CardView:
    steps = card_ladder(c, settings)
    return s.CardView(
        **brief(c, retired).model_dump(),
        start_line=c.start_line,
        target_line=c.target_line,
        rungs=[
            s.RungView(line=print_line(r.dose, c.style), train=train(r.dose, settings.pace_s), sessions=r.sessions, steep=r.steep)
            for r in steps.rungs
        ],
        axes=list(c.axes),
        ceiling_s=c.ceiling.seconds,
        ceiling_basis=c.ceiling.basis,
        ceiling_why=c.ceiling_why,
        pressure=c.pressure,
        position=c.position,
        after=[s.Named(id=i, name=n) for i, n in c.after],
        cues=list(c.cues),
        felt_at=c.felt_at,
        faults=[s.FaultView(fault=a, remedy=b) for a, b in c.faults],
        eased=c.eased,
        easier=s.EasierView(dose=c.easier.target_line, cues=list(c.easier.cues)) if c.easier else None,
        stop_rule=c.stop_rule,
        care=list(c.care),
        school_notes=[s.SchoolNote(school=APPROACHES[i].name, note=n) for i, n in c.schools.items()],
        cautions=_cautions(c),
        figure=figure(c.figure),
        clip=clip(c),
        picture=c.picture,
        version=c.version,
    )


def _segments(plan: SessionPlan, settings: Settings) -> list[dict[str, object]]:
    return [
        {"line_id": item.line.id, "start_s": round(start, 1), "length_s": round(length, 1)}
        for item, (start, length) in zip(plan.items, stretches(plan.items, settings), strict=True)
    ]


_NONE = SideSeconds(0.0, left=0.0)


def _week(w: Week, compiled: Sheet, settings: Settings) -> dict[str, object]:
    muscles = shipped_catalogue().muscles
    ids = sorted({*w.muscles, *w.hands_on}, key=lambda m: -sum((x.right + x.left) for x in [w.muscles.get(m, _NONE)]))

    def of(table: Mapping[str, SideSeconds], muscle: str, side: Side) -> float:
        return round(table.get(muscle, _NONE).of(side), 1)

    return {
        "number": w.number,
        "sessions": w.sessions,
        "days": days_in_words(w.sessions),
        "seconds": round(w.seconds, 1),
        "over": passes_minutes(w.seconds, compiled.program.minutes, settings),
        "total_s": round(w.total_s, 1),
        "right_s": round(w.contraction.right, 1),
        "left_s": round(w.contraction.left, 1),
        "lighter": w.number in compiled.program.lighter,
        "muscles": [
            {
                "id": m,
                "muscle": muscles[m].name,
                "right_s": of(w.muscles, m, Side.RIGHT),
                "left_s": of(w.muscles, m, Side.LEFT),
                "hands_right_s": of(w.hands_on, m, Side.RIGHT),
                "hands_left_s": of(w.hands_on, m, Side.LEFT),
                "session_right_s": of(w.session_muscles, m, Side.RIGHT),
                "session_left_s": of(w.session_muscles, m, Side.LEFT),
                "session_hands_right_s": of(w.session_hands_on, m, Side.RIGHT),
                "session_hands_left_s": of(w.session_hands_on, m, Side.LEFT),
            }
            for m in ids
        ],
        "plans": [
            {
                "when": p.when,
                "days": len(p.on),
                "seconds": round(p.seconds, 1),
                "right_s": round(p.contraction.right, 1),
                "left_s": round(p.contraction.left, 1),
                "segments": _segments(p, settings),
            }
            for p in w.plans
        ],
    }


def sheet(compiled: Sheet, settings: Settings) -> s.SheetView:
    """A compiled sheet; pulse trains are sent once, and cells point at them.

    The parts are plain dictionaries, which one validation turns into views: making hundreds of them singly is slow.
    """
    program = compiled.program
    over = {(n.line, w) for n in compiled.notes if n.rule == "ceiling" for w in n.weeks}
    trains: list[s.TrainView] = []
    place: dict[int, int] = {}
    lines = []
    for line in program.lines:
        cells = []
        for week, (text, cell) in enumerate(zip(line.cells, compiled.cells[line.id], strict=True), start=1):
            canonical, at = None, None
            if cell.dose is not None:
                canonical, drawn = _shown(text, line.card.style, settings.pace_s)
                at = place.setdefault(id(drawn), len(trains))
                if at == len(trains):
                    trains.append(drawn)
            cells.append(
                {
                    "text": text,
                    "canonical": canonical,
                    "error": s.CellErrorView.model_validate(cell.error) if cell.error else None,
                    "train": at,
                    "over_ceiling": (line.id, week) in over,
                }
            )
        lines.append(
            {
                "id": line.id,
                "exercise": line.card.id,
                "name": line.card.name,
                "family": line.card.family,
                "stage": line.stage,
                "sides": line.card.style.side_rule,
                "own": line.card.own,
                "when": line.when,
                "days": list(line.days) if line.days is not None else None,
                "note": line.note,
                "why": line.why,
                "flows": line.flows,
                "rounds": program.rounds_of(line.id),
                "cells": cells,
            }
        )
    notes = [
        {
            "rule": n.rule,
            "weight": n.weight.value,
            "text": n.text,
            "remedy": n.remedy,
            "line": n.line,
            "weeks": list(n.weeks),
            "fix": n.fix.label if n.fix else None,
            "ways": [w.value for w in n.ways],
        }
        for n in compiled.notes
    ]
    return s.SheetView.model_validate(
        {
            "lines": lines,
            "trains": trains,
            "weeks": [_week(w, compiled, settings) for w in compiled.weeks],
            "notes": notes,
            "parts": list(program.parts),
            "assignable": compiled.assignable,
            "pace_s": settings.pace_s,
        }
    )
