"""Prints every judged draft with the reviewer's remark: ``python -m tests.core.design.drafts_page > docs/drafts.md``."""

from __future__ import annotations

import sys
from collections.abc import Iterator

from dimbo.core.design.fitting import day_s
from dimbo.core.text import clock

from .draft_cases import PLAIN, Case
from .draft_clients import CASES

HEAD = """# Drafts, judged

Made-up clients, the draft that each gets, and what a reviewer said of it. Printed by `python -m tests.core.design.drafts_page`; what is
expected of each, with its reason, stands in `tests/core/design/draft_clients.py` and is held by `test_drafts.py`. A dose is that of
the first week and of the last.
"""


def _told(case: Case) -> str:
    parts = [f"{v.concern.name.lower()} ({v.cause.name}), right {v.rating.right}, left {v.rating.left}" for v in case.concerns]
    parts += [f"yes to {k}" for k in case.yes]
    parts += [f"{k} shows {side.value}" for k, side in case.bias]
    parts += [f"chews on the {case.busy.value}"] if case.busy else []
    parts += [f"leaves out {k}" for k in sorted(case.leave_out)]
    return "; ".join(parts)


def _case(number: int, case: Case) -> Iterator[str]:
    drawn = case.drawn()
    program = drawn.draft.program
    first, last = (clock(day_s(program, w, PLAIN)) for w in (1, program.weeks))
    minutes = f"{case.minutes} min" if case.minutes else "minutes not asked"
    yield f"\n## {number}. {case.name}\n\n"
    yield f"{case.school}, {minutes}, {case.weeks} weeks. {_told(case)}.\n\n"
    days = f"{program.sessions[0]:g} to {program.sessions[-1]:g} days a week"
    yield f"> {case.remark}\n\nSession {first} in week 1, {last} in week {program.weeks}; {days}.\n\n"
    yield "| when | family | exercise | first | last |\n| --- | --- | --- | --- | --- |\n"
    for n in program.lines:
        when = "day" if n.stage.value == "through the day" else n.when.value
        yield f"| {when} | {n.card.family.value} | {n.card.name} | {n.cells[0]} | {n.cells[-1]} |\n"
    for said in drawn.draft.says:
        yield f"\n{said}\n"
    if drawn.draft.left_out:
        left = [f"{x.name} ({x.reason})" for x in drawn.draft.left_out]
        yield f"\nLeft out: {'; '.join(left[:6])}{f', and {len(left) - 6} more' if len(left) > 6 else ''}.\n"


def page() -> str:
    """The whole page."""
    return HEAD + "".join(text for number, case in enumerate(CASES, start=1) for text in _case(number, case))


if __name__ == "__main__":
    sys.stdout.write(page())
