"""The checks of a program: what a careful colleague would write in the margin.

All of them run in one pass over the compiled program. A new check is one new entry in ``CHECKS``.
"""

from __future__ import annotations

from dimbo.core.design.checks import body, client, daily, dose, session
from dimbo.core.design.weeks import Compiled, work_out
from dimbo.core.exercises.approach import approach
from dimbo.core.programs.program import Program, Settings

from .base import Check, Fix, Note, Weight

STOP, WATCH, REMARK = Weight.STOP, Weight.WATCH, Weight.REMARK

CHECKS: tuple[Check, ...] = (
    Check(
        "caution",
        "Cautions",
        STOP,
        "A lock refuses assignment, eased exercises are shown eased, the rest is remembered. From the table of cautions.",
        client.cautions,
    ),
    Check(
        "unasked",
        "Asked before moved",
        STOP,
        "The sudden signs and every caution that touches an exercise are answered, and practising is agreed to, before it is practised.",
        client.unasked,
    ),
    Check("withdrawn", "Withdrawn exercise", STOP, "What was found unsafe or unfounded is not assigned again.", client.withdrawn),
    Check("unreadable", "Dose that cannot be read", STOP, "Every cell is empty or a dose line.", dose.unreadable),
    Check("empty-week", "Week without practice", STOP, "Every week has something to practise.", client.no_weeks),
    Check(
        "ceiling",
        "Daily ceiling",
        STOP,
        "What one day asks of an exercise, all rows, rounds, morning and evening together, stays under its ceiling.",
        daily.ceiling,
    ),
    Check(
        "muscle-ceiling",
        "Daily ceiling of a muscle",
        STOP,
        "What one day asks of a muscle on a side, all its exercises together, stays under the ceiling of its region.",
        daily.muscle_ceiling,
    ),
    Check("longest-hold", "Longest hold", STOP, "Some exercises say how long they may be held at most.", daily.longest_hold),
    Check(
        "strength-days",
        "Days of strength",
        STOP,
        "An exercise of strength rests some days of every week; a starting value, see the practice settings.",
        body.strength_days,
    ),
    Check("ceiling-beside", "Ceiling over all programs", WATCH, "Programs of one client share the daily ceilings.", daily.ceiling_beside),
    Check("school", "School conflict", STOP, "An approach forbids what it holds harmful, such as stretching the upper lip.", client.school),
    Check("budget", "Minutes", WATCH, "The longest session of a week fits the minutes that the client really has.", dose.over_budget),
    Check("days", "Days", WATCH, "No week asks for more days than the client has.", client.days),
    Check(
        "steep-line",
        "Rise of an exercise",
        WATCH,
        "The load of a line rises by no more than about 30 % a week; a lighter week is passed over.",
        dose.steep_line,
    ),
    Check(
        "steep-session",
        "Rise of a session",
        WATCH,
        f"The contraction of a session rises by no more than 25 % a week; one of less than {dose.GROWTH_FLOOR_S:g} s counts as that much.",
        dose.steep_session,
    ),
    Check("one-axis", "One axis at a time", WATCH, "Hold, repetitions and sets are not raised together.", dose.one_axis),
    Check("rest-days", "Rest days at first", WATCH, "In the early weeks no muscle is strained on days in a row.", body.rest_days),
    Check("foundation", "Foundations", WATCH, "What an exercise builds on is in the program, and above it.", session.foundations),
    Check(
        "order",
        "Order",
        WATCH,
        "Stages in order; shoulders, neck, face; foundations and large muscles first; mouth before oil; drains outward.",
        session.order,
    ),
    Check("prepared", "Preparation", WATCH, "A session with work begins with breath, posture, loosening or taps.", session.prepared),
    Check("loosened", "Loosening", REMARK, "What is worked hard is loosened or woken before.", session.loosened),
    Check("released", "Release", WATCH, "A hard contraction is never the last thing done to a muscle.", session.released),
    Check("drained", "Way to the collarbone", WATCH, "What drains in the face is led down the side of the neck.", session.drained),
    Check("ends-calm", "Calm end", WATCH, "No session ends on hard work; the second half of an evening is calm.", session.ends_calm),
    Check("twice-a-day", "Twice a day", REMARK, "Strength work is done once a day.", body.both_parts),
    Check(
        "balance",
        "Elevators and depressors",
        WATCH,
        "What pulls the corners down does not work several times as much as what lifts them.",
        body.balance,
    ),
    Check(
        "bias",
        "Right and left",
        WATCH,
        "One side gets more only while a reading is beyond its noise, and then the side that it names.",
        body.bias,
    ),
    Check(
        "expectations",
        "Expectations",
        WATCH,
        "The client is told when a change can be looked for, and nothing is promised.",
        client.expectations,
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
