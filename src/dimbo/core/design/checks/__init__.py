"""The checks of a program: what a careful colleague would write in the margin.

All of them run in one pass over the compiled program. A new check is one new entry in ``CHECKS``.
"""

from __future__ import annotations

from dimbo.core.design.checks import body, causes, client, daily, dose, sequence, session
from dimbo.core.design.weeks import Compiled, work_out
from dimbo.core.exercises.approach import approach
from dimbo.core.programs.program import Program, Settings

from .base import Check, Fix, Note, Weight

STOP, WATCH, REMARK = Weight.STOP, Weight.WATCH, Weight.REMARK

CHECKS: tuple[Check, ...] = (
    Check(
        id="caution",
        title="Cautions",
        weight=STOP,
        why="A lock refuses assignment, eased exercises are shown eased, the rest is remembered. From the table of cautions.",
        find=client.cautions,
    ),
    Check(
        id="unasked",
        title="Asked before moved",
        weight=STOP,
        why="The sudden signs and every caution that touches an exercise are answered, and practising is agreed to, before it "
        "is practised.",
        find=client.unasked,
    ),
    Check(
        id="withdrawn",
        title="Withdrawn exercise",
        weight=STOP,
        why="What was found unsafe or unfounded is not assigned again.",
        find=client.withdrawn,
    ),
    Check(id="unreadable", title="Dose that cannot be read", weight=STOP, why="Every cell is empty or a dose line.", find=dose.unreadable),
    Check(id="empty-week", title="Week without practice", weight=STOP, why="Every week has something to practise.", find=client.no_weeks),
    Check(
        id="ceiling",
        title="Daily ceiling",
        weight=STOP,
        why="What one day asks of an exercise, all rows, rounds, morning and evening together, stays under its ceiling.",
        find=daily.ceiling,
    ),
    Check(
        id="muscle-ceiling",
        title="Daily ceiling of a muscle",
        weight=STOP,
        why="What one day asks of a muscle on a side, all its exercises together, stays under the ceiling of its region.",
        find=daily.muscle_ceiling,
    ),
    Check(
        id="longest-hold",
        title="Longest hold or window",
        weight=STOP,
        why="Some exercises say how long they may be held at most, or how long a fixed window of them may last by the clock.",
        find=daily.longest_hold,
    ),
    Check(
        id="strength-days",
        title="Days of strength",
        weight=STOP,
        why="An exercise of strength rests some days of every week; a starting value, see the practice settings.",
        find=body.strength_days,
    ),
    Check(
        id="ceiling-beside",
        title="Ceiling over all programs",
        weight=WATCH,
        why="Programs of one client share the daily ceilings.",
        find=daily.ceiling_beside,
    ),
    Check(
        id="school",
        title="School conflict",
        weight=STOP,
        why="An approach forbids what it holds harmful, such as stretching the upper lip.",
        find=client.school,
    ),
    Check(
        id="budget",
        title="Minutes",
        weight=WATCH,
        why="The longest session of a week fits the minutes that the client really has.",
        find=dose.over_budget,
    ),
    Check(id="days", title="Days", weight=WATCH, why="No week asks for more days than the client has.", find=client.days),
    Check(
        id="steep-line",
        title="Rise of an exercise",
        weight=WATCH,
        why="The load of a line rises by no more than about 30 % a week; a lighter week is passed over.",
        find=dose.steep_line,
    ),
    Check(
        id="steep-session",
        title="Rise of a session",
        weight=WATCH,
        why=f"The contraction of a session rises by no more than 25 % a week; "
        f"one of less than {dose.GROWTH_FLOOR_S:g} s counts as that much.",
        find=dose.steep_session,
    ),
    Check(
        id="one-axis",
        title="One axis at a time",
        weight=WATCH,
        why="Hold, repetitions and sets are not raised together.",
        find=dose.one_axis,
    ),
    Check(
        id="rest-days",
        title="Rest days at first",
        weight=WATCH,
        why="In the early weeks no muscle is strained on days in a row.",
        find=body.rest_days,
    ),
    Check(
        id="foundation",
        title="Foundations",
        weight=WATCH,
        why="What an exercise builds on is in the program, and above it.",
        find=session.foundations,
    ),
    Check(
        id="order",
        title="Order",
        weight=WATCH,
        why="Stages in order; shoulders, neck, face; foundations and large muscles first; mouth before oil; drains outward.",
        find=session.order,
    ),
    Check(
        id="prepared",
        title="Preparation",
        weight=WATCH,
        why="A session with work begins with breath, posture, loosening or taps.",
        find=session.prepared,
    ),
    Check(id="loosened", title="Loosening", weight=REMARK, why="What is worked hard is loosened or woken before.", find=session.loosened),
    Check(
        id="released",
        title="Release",
        weight=WATCH,
        why="A hard contraction is never the last thing done to a muscle.",
        find=session.released,
    ),
    Check(
        id="drained",
        title="Way to the collarbone",
        weight=WATCH,
        why="What drains in the face is led down the side of the neck.",
        find=session.drained,
    ),
    Check(
        id="undrained",
        title="Drain behind release",
        weight=REMARK,
        why=f"Behind {sequence.MOVES_FLUID_S / 60:g} minutes of release in the face a drain leads away what was moved.",
        find=sequence.undrained,
    ),
    Check(
        id="oil-missing",
        title="Oil before what slides",
        weight=WATCH,
        why="Hands that slide over skin under pressure have oil on them.",
        find=sequence.oil_missing,
    ),
    Check(
        id="neck-first",
        title="Neck before face",
        weight=REMARK,
        why="Before a face is loosened in several places, neck or shoulders are.",
        find=sequence.neck_first,
    ),
    Check(
        id="against-cause",
        title="Cause and work",
        weight=WATCH,
        why="Strength is not drafted for fluid, drainage not for what is weak, and no pucker for lined lips.",
        find=causes.against_cause,
    ),
    Check(
        id="ends-calm",
        title="Calm end",
        weight=WATCH,
        why="No session ends on hard work; the second half of an evening is calm.",
        find=session.ends_calm,
    ),
    Check(id="twice-a-day", title="Twice a day", weight=REMARK, why="Strength work is done once a day.", find=body.both_parts),
    Check(
        id="balance",
        title="Elevators and depressors",
        weight=WATCH,
        why="What pulls the corners down does not work several times as much as what lifts them.",
        find=body.balance,
    ),
    Check(
        id="bias",
        title="Right and left",
        weight=WATCH,
        why="One side gets more only while a reading is beyond its noise, and then the side that it names.",
        find=body.bias,
    ),
    Check(
        id="expectations",
        title="Expectations",
        weight=WATCH,
        why="The client is told when a change can be looked for, and nothing is promised.",
        find=client.expectations,
    ),
)
"""Every check, the gravest first."""

_GRAVITY = {weight: place for place, weight in enumerate(Weight)}


def check(compiled: Compiled) -> list[Note]:
    """Everything that the margin says, stops first. The program's approach decides which checks are silent."""
    silent = approach(compiled.program.approach).silent
    found = [n for c in CHECKS if c.id not in silent for n in c.find(compiled) if n.rule not in silent]
    return sorted(found, key=lambda n: _GRAVITY[n.weight])


def gentle(program: Program, settings: Settings) -> Program:
    """The program with lines that wait a week wherever a session would rise too fast."""
    for _ in range(program.weeks * 2):
        note = next((n for n in dose.steep_session(work_out(program, settings)) if n.fix), None)
        if note is None or note.fix is None:
            break
        program = note.fix.apply(program)
    return program


__all__ = ["CHECKS", "Check", "Fix", "Note", "Weight", "check", "gentle"]
