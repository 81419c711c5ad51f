"""Every rule that Dimbo judges by, in one list; the page ``docs/rules.md`` is printed from it."""

from __future__ import annotations

import sys
from collections.abc import Mapping, Sequence

from dimbo.core.design.checks import CHECKS
from dimbo.core.programs.muscle_ceilings import JAW_RANGE_NAME, JAW_RANGE_S, JAW_RANGE_WHY, MUSCLES
from dimbo.core.programs.program import LIMITS
from dimbo.core.safety.starting_values import STARTING_VALUES

from .review import adherence, alarm_kinds, breaks, cohort, review_remarks, soreness, thresholds, weekly
from .rules import Rule
from .safety import health_questions, pain

_BIAS = Rule(
    "review-bias",
    name="Weaker side",
    says="Practising the weaker side more is put on only for a difference between the sides beyond the noise of its reading, kept "
    "while it stays beyond, and taken off when it is back inside.",
)
_EARNED = Rule(
    "review-earned",
    name="Earned weeks",
    says="An earned program goes to its next week when the review says so. Until then its week comes again, so nobody is without a plan.",
)
_DOSES = Rule(
    "review-doses",
    name="What a verdict does",
    says="Advance: next week's dose as the program has it. Hold: this week's again. Ease back: one rung lower for a week, then "
    "this week's. The later doses move on, and the program keeps its length.",
)
_WEEK = Rule(
    "review-week",
    name="The week's own verdict",
    says="Days a week, what works no muscle and what would begin follow the verdict on the week. A lighter week is no rung; what a "
    "break lays out stands; where the rows together would rise by more than a session may, or pass "
    "a daily ceiling, the one that rises most waits.",
)

BOOK: Mapping[str, Sequence[Rule]] = {
    "Adherence": tuple(adherence.RULES.values()),
    "Weekly review": (*weekly.RULES.values(), _DOSES, _WEEK, _EARNED, _BIAS),
    "Beside the verdict": tuple(review_remarks.RULES.values()),
    "Asked again": tuple(health_questions.RULES.values()),
    "Pain and soreness": (*pain.RULES.values(), *soreness.RULES.values()),
    "After a break": tuple(breaks.RULES.values()),
    "Desk": tuple(k.rule for k in alarm_kinds.KINDS.values()),
    "Groups": (cohort.RULE,),
    "Margin of the program": tuple(Rule(c.id, name=c.title, says=c.why) for c in CHECKS),
}
"""All rules by where they speak."""

EVERY: Mapping[str, Rule] = {r.id: r for rules in BOOK.values() for r in rules}
"""All rules by id."""


def said(rule_id: str, rules: thresholds.ReviewRules = thresholds.SHIPPED) -> str:
    """What a rule says, with thresholds filled in; raises KeyError for an unknown one."""
    return EVERY[rule_id].with_numbers(thresholds.in_words(rules))


def page() -> str:
    """The rules as a page, with the thresholds that ship."""
    out = ["# Rules", "", "Printed from the rules themselves (`python -m dimbo.core.rule_book`); a test compares.", ""]
    for section, rules in BOOK.items():
        out += [f"## {section}", "", "| rule | name | what it says |", "| --- | --- | --- |"]
        out += [f"| `{r.id}` | {r.name} | {said(r.id).replace('|', '/')} |" for r in rules]
        out.append("")
    out += ["## Thresholds of the weekly review", "", "A practice and a program may have their own.", ""]
    out += ["| threshold | name | ships as | may be | what it decides |", "| --- | --- | --- | --- | --- |"]
    words = thresholds.in_words(thresholds.SHIPPED)
    for key, limit in thresholds.REVIEW_LIMITS.items():
        out.append(f"| `{key}` | {limit.name} | {words[key]} | {limit.least:g} to {limit.most:g} {limit.unit} | {limit.about} |")
    out += ["", "## Most work of a muscle", ""]
    out += ["Contraction of one muscle on one side in one day, all exercises, rounds and programs together: starting values, which a"]
    out += ["practice may set under Practice settings. An exercise has a ceiling of its own besides, on its card.", ""]
    out += ["| muscles of | ships as | may be | why |", "| --- | --- | --- | --- |"]
    for m in MUSCLES.values():
        limit = LIMITS[m.setting]
        out.append(f"| {m.region} | {m.seconds:g} s | {limit.least:g} to {limit.most:g} s | {m.why} |")
    out.append(f"| {JAW_RANGE_NAME} | {JAW_RANGE_S:g} s | 30 to 900 s | {JAW_RANGE_WHY} |")
    out += ["", "## Careful starting values", ""]
    out += ["They ship on the cautious side; a licensed clinician of the practice should confirm them. Who has, and when, stands under"]
    out += ["Practice settings, Safety; one that is a setting can only be loosened after that.", ""]
    out += ["| value | ships as | why |", "| --- | --- | --- |"]
    out += [f"| {v.name} | {v.ships} | {v.why} |" for v in STARTING_VALUES.values()]
    return "\n".join(out) + "\n"


if __name__ == "__main__":
    sys.stdout.write(page())
