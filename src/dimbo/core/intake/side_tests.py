"""Small side tests and one-sided habits: what each says about a topic, and where they disagree."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date

from dimbo.core.anatomy import Side
from dimbo.core.text import join_words


@dataclass(frozen=True, slots=True)
class HabitTask:
    """A small task that a one-sided habit can become. ``{side}`` and ``{other}`` stand for the noted side and its
    opposite; without a side, ``when`` lists the answers that call for it."""

    text: str
    times: int
    when: tuple[str, ...] = ()
    exercise: str = ""
    """The exercise (id) that stands for it in a program; empty where none does."""

    def for_answer(self, answer: str) -> str | None:
        """The task in words, or None when the answer calls for none."""
        if self.when:
            return self.text if answer in self.when else None
        if answer in ("neither", "both"):
            return None
        side = Side(answer)
        return self.text.replace("{side}", side.value).replace("{other}", side.other.value)


@dataclass(frozen=True, slots=True, kw_only=True)
class SideTest:
    """A test with what to do, what to say to the client, and what each answer says about its topic.

    ``speaks`` maps an answer to the client's own side; ``reading`` names the measured reading that answers the same.
    """

    id: str
    name: str
    group: str
    ask: str
    steps: tuple[str, ...]
    say: str
    answers: tuple[str, ...]
    topic: str | None = None
    speaks: Mapping[str, Side] | None = None
    task: HabitTask | None = None
    reading: str | None = None


@dataclass(frozen=True, slots=True)
class TestResult:
    """A dated result. ``measured`` tells that a photograph gave it and not the coach's eye."""

    __test__ = False

    test: str
    answer: str
    noted_on: date
    measured: bool = False


TOPICS: Mapping[str, str] = {
    "weaker-eye": "the eye that opens less",
    "weaker-brow": "the weaker brow",
    "weaker-corner": "the weaker mouth corner",
    "busier-jaw": "the busier side of the jaw",
}


@dataclass(frozen=True, slots=True)
class Topic:
    """What the tests of one topic say together. ``side`` is None while nothing is noted, and when they disagree."""

    id: str
    side: Side | None
    votes: tuple[tuple[SideTest, Side], ...]
    conflict: str | None


def topics(tests: Iterable[SideTest], results: Mapping[str, TestResult]) -> dict[str, Topic]:
    """Every topic that at least one result speaks of. When tests disagree, the sentence names each with its side; a
    measured result is named last, for it decides with the coach."""
    votes: dict[str, list[tuple[SideTest, Side, bool]]] = {}
    for test in tests:
        result = results.get(test.id)
        if result and test.topic and test.speaks and (side := test.speaks.get(result.answer)):
            votes.setdefault(test.topic, []).append((test, side, result.measured))
    out = {}
    for topic, found in votes.items():
        sides = {side for _, side, _ in found}
        conflict = None
        if len(sides) > 1:
            by_side = [
                f"{join_words([t.name.lower() for t, s, _ in found if s is side])} "
                f"{'says' if sum(s is side for _, s, _ in found) == 1 else 'say'} {side.value}"
                for side in Side
                if side in sides
            ]
            measured = any(m for _, _, m in found)
            decides = "The measured photograph decides, with you." if measured else "A photograph at the next sitting decides, with you."
            conflict = f"About {TOPICS[topic]} the tests disagree: {'; '.join(by_side)}. {decides}"
        out[topic] = Topic(topic, next(iter(sides)) if len(sides) == 1 else None, tuple((t, s) for t, s, _ in found), conflict)
    return out


def side_of(source: str, tests: Mapping[str, SideTest], results: Mapping[str, TestResult], known: Mapping[str, Topic]) -> Side | None:
    """The side that a test or a topic names: what a question with ``from`` is answered by."""
    if source in known:
        return known[source].side
    test, result = tests.get(source), results.get(source)
    return test.speaks.get(result.answer) if test and result and test.speaks else None
