"""docs/safety.md: every caution with what it holds, whose word releases it and for how long, for a clinician to read.

``python -m dimbo.catalogue.safety_book > docs/safety.md``
"""

from __future__ import annotations

import sys
from collections.abc import Iterable, Mapping
from datetime import UTC, date, datetime

from dimbo.core.exercises.card import Card
from dimbo.core.safety.cautions import URGENT, CautionAnswer, CautionRule, Effect, stand, stop_words
from dimbo.core.text import join_words

from .intake_tables import shipped_intake
from .load import shipped_catalogue

_WHEN = datetime(2026, 1, 1, 12, tzinfo=UTC)
_GROUPS = {
    URGENT: "Sudden signs",
    "clinician": "The treating clinician's word comes first",
    "treatment": "After a treatment",
    "skin": "Skin that must not be touched now",
    "body": "The body now",
}


def outcome(rule: CautionRule, cards: Iterable[Card]) -> dict[Effect, list[Card]]:
    """What a yes to one caution does to each exercise: locked, eased or reminded of; exercises that stay free are left out.
    Where regions are noted with the answer, none are noted here, so all are reached."""
    found = stand([rule], {rule.id: CautionAnswer(caution=rule.id, answer="yes", at=_WHEN)}, (), date(2026, 1, 1))
    out: dict[Effect, list[Card]] = {e: [] for e in Effect}
    for card in cards:
        effect = found.of(card).effect
        if effect is not None:
            out[effect].append(card)
    return out


def _names(cards: list[Card], every: int) -> str:
    return "every exercise" if len(cards) == every else "; ".join(sorted(c.name for c in cards)) or "none"


def book(rules: Iterable[CautionRule], cards: Mapping[str, Card]) -> str:
    """The page, in Markdown."""
    lines = [
        "# What is asked, what it holds, and who releases it",
        "",
        "Printed from `catalogue/data/cautions.yaml` and the exercises; a test compares. It is written to be read and signed by a",
        "licensed clinician of the practice. Dimbo does not diagnose; local rules come first. “Not sure” holds what a yes holds.",
        "A clearance speaks of one event: a yes that is told again, or after a no, holds again.",
        "",
    ]
    grouped: dict[str, list[CautionRule]] = {}
    for rule in rules:
        grouped.setdefault(rule.group, []).append(rule)
    for group, members in grouped.items():
        lines += [f"## {_GROUPS[group]}", ""]
        for rule in members:
            found = outcome(rule, cards.values())
            lines += [f"### {rule.name}", "", f"“{rule.ask}” {rule.text}"]
            if rule.group == URGENT:
                lines += ["", f"Said at once: “{stop_words([rule])}”"]
            lines.append("")
            if rule.noted_regions:
                lines.append("- Only in the regions that are noted with the answer; while none are noted, everywhere:")
            for effect, word in ((Effect.LOCK, "Locked"), (Effect.EASE, "Eased"), (Effect.REMIND, "Reminded")):
                if found[effect]:
                    lines.append(f"- {word}, {len(found[effect])} of {len(cards)}: {_names(found[effect], len(cards))}.")
            if rule.roles:
                lines.append(
                    f"- Released by the word of {join_words(rule.roles, 'or')}, for {rule.lasts_months} months at most: {rule.says}"
                )
            if rule.ask_after_days:
                lines.append(f"- The coach is reminded to ask after {rule.ask_after_days} days; days alone release nothing.")
            lines.append("")
    lines += ["Read and confirmed by (name, role, day): ______________________________", ""]
    return "\n".join(lines)


if __name__ == "__main__":
    sys.stdout.write(book(shipped_intake().tables.cautions, shipped_catalogue().cards))
