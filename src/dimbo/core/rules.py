"""What a rule is: something that Dimbo judges by, said once, with its numbers and where they come from.

Every judgement on a screen names its rule, and the list of rules in the documentation is printed from these values.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Rule:
    """A rule: its id, a name, and what it says; ``{names}`` in the text stand for thresholds."""

    id: str
    name: str
    says: str

    def with_numbers(self, numbers: Mapping[str, str] | None = None) -> str:
        """What it says, with its thresholds filled in."""
        return self.says.format(**numbers) if numbers else self.says


@dataclass(frozen=True, slots=True)
class Judgement:
    """What a rule says of something: the verdict, the rule, and the sentence with the numbers that it was judged by."""

    verdict: str
    rule: str
    because: str


def tenths(number: float) -> str:
    """A number with a tenth only where it has one."""
    return f"{number:.1f}".removesuffix(".0")
