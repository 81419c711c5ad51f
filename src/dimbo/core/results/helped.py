"""What a practice may say of what helped: sentences, each behind its gate, and else how many there are and what would help."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from dimbo.core.sittings.rating import wilson
from dimbo.core.sittings.reading_table import READINGS

from .clean_starts import Gain, Kind, noise_sd
from .gains import (
    LEAST_ALIKE,
    LEAST_BY_APPROACH,
    LEAST_SHOWN_ALIKE,
    LEAST_UNEVEN,
    Adjusted,
    DoseLine,
    MeanGain,
    by_approach,
    clients_needed,
    gain_by_dose,
    mean_gain,
    overlapping,
    told,
)
from .practising_on import LEAST_CLIENTS, LEAST_IN_GROUP, LEAST_STOPS, FirstWeeks, Followed, Share, course_of, still_practising
from .student import sign_test

NOTHING = "Nothing can be said yet"
SECOND_START = "A second start, taken after the side is chosen and before practice begins, makes a client count."
WEEK = 84
"""The day on which the share that still practises is named: the end of week 12."""


def _mm(value: float) -> str:
    return f"{0.0 if round(value, 1) == 0 else value:.1f}".replace("-", "−")


def _range(of: MeanGain | DoseLine | Adjusted, *, turned: bool = False) -> str:
    """An interval, or that of a loss as the loss is said."""
    low, high = (-of.high, -of.low) if turned else (of.low, of.high)
    return f"{_mm(low)} to {_mm(high)}"


def _clients(n: int) -> str:
    return "1 client" if n == 1 else f"{n} clients"


@dataclass(frozen=True, kw_only=True)
class Finding:
    """One statement; ``open`` when its gate is, ``told`` when its 99 % interval is clear of zero after Holm's correction."""

    sentence: str
    open: bool
    told: bool = False


@dataclass(frozen=True, kw_only=True)
class OfReading:
    """What is known of one reading. Numbers are there to be drawn; only the findings are said."""

    reading: str
    cases: Sequence[Gain]
    noise_sd: float
    gain: MeanGain | None
    alike: MeanGain | None
    dose: DoseLine | None
    says: Sequence[Finding]


def _split(cases: Sequence[Gain]) -> tuple[list[Gain], list[Gain]]:
    return [c for c in cases if c.kind is Kind.UNEVEN], [c for c in cases if c.kind is Kind.ALIKE]


def _gain_says(key: str, found: MeanGain | None, alike: MeanGain | None, *, count: int, sd: float, sure: bool) -> Finding:
    if found is None or not found.gate:
        needed = clients_needed(sd) if sd else LEAST_UNEVEN
        return Finding(sentence=f"{NOTHING}: {_clients(count)}; about {needed} are needed.", open=False)
    beside = ""
    if alike and alike.clients >= LEAST_SHOWN_ALIKE:
        moved = "gained" if alike.mean >= 0 else "lost"
        beside = (
            f"; in {alike.clients} trained alike the smaller side {moved} {_mm(abs(alike.mean))} ({_range(alike, turned=alike.mean < 0)})"
        )
    what = READINGS[key].name.lower()
    between = f"({_range(found)})"
    if not sure:
        return Finding(sentence=f"In {found.clients} clients no change of {what} could be told {between}{beside}.", open=True)
    moved = "gained" if found.mean > 0 else "lost"
    amount = f"{_mm(abs(found.mean))} mm ({_range(found, turned=found.mean < 0)})"
    return Finding(sentence=f"In {found.clients} clients the side trained more {moved} {amount} by week 12{beside}.", open=True, told=True)


def _dose_says(found: DoseLine | None, *, uneven: int, alike: int, sure: bool) -> Finding:
    if found is None or not found.gate:
        few = f"{_clients(uneven)} with one side more and {alike} alike; at least {LEAST_UNEVEN} and {LEAST_ALIKE} are needed"
        wide = ", and doses that differ more" if uneven >= LEAST_UNEVEN and alike >= LEAST_ALIKE else ""
        return Finding(sentence=f"{NOTHING} of the dose: {few}{wide}.", open=False)
    if not sure:
        return Finding(sentence="Whether more extra minutes go with more gain could not be told.", open=True)
    more = "more" if found.slope > 0 else "less"
    amount = _range(found, turned=found.slope < 0)
    return Finding(
        sentence=f"Those with 100 more extra minutes gained {_mm(abs(found.slope))} mm {more} ({amount}), within the "
        f"{found.most * 100:.0f} minutes that there were.",
        open=True,
        told=True,
    )


def of_readings(cases: Mapping[str, Sequence[Gain]]) -> list[OfReading]:
    """Every reading at once, so that looking at several does not tell by chance."""
    rows: list[tuple[str, Sequence[Gain], float, MeanGain | None, MeanGain | None, DoseLine | None]] = []
    for key, known in cases.items():
        uneven, alike = _split(known)
        sd = noise_sd(known)
        gain = mean_gain([c.gain for c in uneven], noise_sd(uneven)) if len(uneven) > 1 else None
        beside = mean_gain([c.gain for c in alike], noise_sd(alike)) if len(alike) > 1 else None
        doses = {c.dose for c in known}
        line = (
            gain_by_dose([c.gain for c in uneven], doses=[c.dose for c in uneven], alike=[c.gain for c in alike], noise_sd=sd)
            if len(doses) > 1 and len(known) > 2
            else None
        )
        rows.append((key, known, sd, gain, beside, line))
    gained = told([g.p for _, _, _, g, _, _ in rows if g and g.gate])
    dosed = told([n.p for *_, n in rows if n and n.gate])
    out = []
    for key, known, sd, gain, beside, line in rows:
        uneven, alike = _split(known)
        sure = gained.pop(0) if gain and gain.gate else False
        by_dose = dosed.pop(0) if line and line.gate else False
        says = [
            _gain_says(key, gain, alike=beside, count=len(uneven), sd=sd or typical_sd(key), sure=sure),
            _dose_says(line, uneven=len(uneven), alike=len(alike), sure=by_dose),
        ]
        out.append(OfReading(reading=key, cases=known, noise_sd=sd, gain=gain, alike=beside, dose=line, says=says))
    return out


def typical_sd(key: str, shots: int = 3) -> float:
    """The known SD of a gain by the shipped noise, two sittings of so many shots."""
    return READINGS[key].noise.of_change(shots, shots_after=shots) / 1.96


@dataclass(frozen=True, kw_only=True)
class Approach:
    """Two approaches, by name, beside each other by one reading; never ranked."""

    reading: str
    first: str
    second: str
    counts: tuple[int, int]
    starts: tuple[float, float]
    """Middle start of each, mm."""
    adjusted: Adjusted | None
    coin: bool
    """Whether a coin, noted before practice, chose for everybody."""
    finding: Finding


@dataclass(frozen=True, kw_only=True)
class _Pair:
    reading: str
    names: tuple[str, str]
    groups: tuple[Sequence[tuple[Gain, bool]], Sequence[tuple[Gain, bool]]]

    @property
    def counts(self) -> tuple[int, int]:
        return len(self.groups[0]), len(self.groups[1])

    @property
    def enough(self) -> bool:
        return min(self.counts) >= LEAST_BY_APPROACH

    @property
    def coin(self) -> bool:
        return all(by_coin for group in self.groups for _, by_coin in group)

    def starts(self) -> list[list[float]]:
        return [[g.at_start for g, _ in group] for group in self.groups]

    def adjusted(self) -> Adjusted | None:
        """Of equal starts, where there are enough and they overlap."""
        if not self.enough or not overlapping(*self.starts()):
            return None
        both = [g for group in self.groups for g, _ in group]
        first = [True] * self.counts[0] + [False] * self.counts[1]
        return by_approach([g.at_start for g in both], ends=[g.at_end for g in both], first=first)


def of_approaches(known: Mapping[str, Sequence[tuple[Gain, str, bool]]]) -> list[Approach]:
    """Every two approaches that some client had, by reading; ``known`` are gains with the approach and whether a coin chose it. What
    differs is told at 99 % after Holm's correction over all pairs."""
    pairs = []
    for reading, rows in known.items():
        names = sorted({name for _, name, _ in rows})
        for i, first in enumerate(names):
            for second in names[i + 1 :]:
                one, two = ([(g, coin) for g, name, coin in rows if name == which] for which in (first, second))
                pairs.append(_Pair(reading=reading, names=(first, second), groups=(one, two)))
    found = [(p, p.adjusted()) for p in pairs]
    sure = told([a.p for _, a in found if a])
    out = []
    for p, adjusted in found:
        middles = [sorted(s)[len(s) // 2] for s in p.starts()]
        out.append(
            Approach(
                reading=p.reading,
                first=p.names[0],
                second=p.names[1],
                counts=p.counts,
                starts=(middles[0], middles[1]),
                adjusted=adjusted,
                coin=p.coin,
                finding=_approach_says(p, adjusted, sure=sure.pop(0) if adjusted else False),
            )
        )
    return out


def _approach_says(p: _Pair, adjusted: Adjusted | None, *, sure: bool) -> Finding:
    first, second = p.names
    if not p.enough:
        few = f"{p.counts[0]} and {p.counts[1]} clients; {LEAST_BY_APPROACH} of each are needed"
        return Finding(sentence=f"{NOTHING} of {first} beside {second}: {few}.", open=False)
    if adjusted is None:
        return Finding(sentence=f"{first} and {second} had starts too unlike to be held against each other.", open=False)
    if not sure:
        alike = f"{first} and {second} ended alike as far as can be told ({_range(adjusted)} mm)"
        return Finding(sentence=f"Of equal starts, {alike}.", open=True)
    amount = f"{_mm(abs(adjusted.difference))} mm ({_range(adjusted, turned=adjusted.difference < 0)})"
    if not p.coin:
        why = "Who got which was not left to a coin, so it may be the clients and not the approach."
        return Finding(sentence=f"Of equal starts, {first} and {second} ended {amount} apart. {why}", open=True)
    did = first if adjusted.difference < 0 else second
    return Finding(sentence=f"Of equal starts, and chosen by a coin, {did} did better by {amount}.", open=True, told=True)


@dataclass(frozen=True, kw_only=True)
class Ratings:
    """Blind ratings of one concern from clean starts: in how many it fell, stayed and rose."""

    concern: str
    fell: int
    same: int
    rose: int
    p: float | None
    finding: Finding


WILSON_FROM, MEAN_FROM = 6, 10


def of_ratings(concern: str, changes: Sequence[float]) -> Ratings:
    """``changes`` of mean blind ratings, later less earlier, one a client."""
    fell, rose = sum(c < 0 for c in changes), sum(c > 0 for c in changes)
    same, moved = len(changes) - fell - rose, fell + rose
    p = sign_test(fell, of=moved) if moved else None
    said = f"Rated blind, it fell in {fell}, stayed in {same} and rose in {rose} of {_clients(len(changes))}"
    if moved >= WILSON_FROM:
        low, high = wilson(fell, of=moved)
        said += f"; of those that moved {round(100 * fell / moved)} in a hundred fell ({round(100 * low)} to {round(100 * high)})"
    if len(changes) >= MEAN_FROM:
        said += f"; on average by {_mm(-sum(changes) / len(changes))} of 4 steps"
    return Ratings(
        concern=concern,
        fell=fell,
        same=same,
        rose=rose,
        p=p,
        finding=Finding(sentence=f"{said}.", open=bool(changes), told=p is not None and p < 0.01),
    )


@dataclass(frozen=True, kw_only=True)
class PractisingOn:
    people: int
    course: Sequence[Share]
    finding: Finding
    first_weeks: Finding
    many: Sequence[Share]
    few: Sequence[Share]


def practising_on(people: Sequence[Followed], first: FirstWeeks) -> PractisingOn:
    """How long people keep practising, and by their first two weeks."""
    enough = len(people) >= LEAST_CLIENTS
    course = course_of(people) if enough else []
    if not enough:
        finding = Finding(
            sentence=f"{NOTHING}: {_clients(len(people))} followed for three weeks or more; {LEAST_CLIENTS} are needed.", open=False
        )
    else:
        at = still_practising(people, min(WEEK, course[-1].day if course else 0))
        band = f"{round(100 * at.low)} to {round(100 * at.high)}"
        finding = Finding(
            sentence=f"After {at.day // 7} weeks {round(100 * at.share)} in a hundred still practised ({band}); "
            f"{at.at_risk} were followed so far.",
            open=True,
        )
    many, few = len(first.many), len(first.few)
    if not first.gate:
        weeks = Finding(
            sentence=f"{NOTHING} of the first two weeks: {many} did most of their sessions and {few} fewer; {LEAST_IN_GROUP} of each and "
            f"{LEAST_STOPS} who stopped are needed.",
            open=False,
        )
        return PractisingOn(people=len(people), course=course, finding=finding, first_weeks=weeks, many=[], few=[])
    a, b = (still_practising(g, WEEK) for g in (first.many, first.few))
    weeks = Finding(
        sentence=f"Of those who did at least 8 of 10 planned sessions in the first two weeks, {round(100 * a.share)} in a hundred still "
        f"practised in week 12 ({round(100 * a.low)} to {round(100 * a.high)}); of the others {round(100 * b.share)} "
        f"({round(100 * b.low)} to {round(100 * b.high)}).",
        open=True,
    )
    return PractisingOn(
        people=len(people), course=course, finding=finding, first_weeks=weeks, many=course_of(first.many), few=course_of(first.few)
    )
