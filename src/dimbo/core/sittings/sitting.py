"""A client's sittings as a whole: which shots count for what, each sitting's values, and what changed between two of them.

One rule everywhere: a shot counts for a reading when its view is the reading's and is confirmed, the shot need not be
retaken, and every point between which it is measured is trusted or was set by hand. Shots under conditions that would
imitate a change are shown but not compared.
"""

from __future__ import annotations

import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime

from dimbo.core.anatomy import Side

from .comparison import Change, SittingValue, Trend, compare, judge_all, not_comparable, pooled, sitting_value, trend
from .frame import Point, place_all, ruler_mm
from .noise import Noise, own_noise
from .protocol import NEUTRAL, VIEWS, Face, suggest_view
from .quality import Check, Seen, Standing, judge, standing, wrong_face
from .reading_table import HEADLINES, READINGS
from .readings import Measured
from .shape import FLIP_EVIDENCE, FLIP_PIXELS, OTHER_FACE, Asymmetry, face_ratios, fits_flipped, landmark_asymmetry, unlike
from .shot import JudgedShot, Shot, Unmeasured, measured_on, ratio_to_iris

DOUBLE_BASELINE_DAYS = 7
MIN_SHOTS = 3


@dataclass(frozen=True, kw_only=True)
class SittingRead:
    """One sitting: its shots, values by reading, and whether other shots would say more."""

    id: str
    taken_on: date
    kind: str
    shots: tuple[JudgedShot, ...]
    values: Mapping[str, SittingValue]
    excluded: Mapping[str, str]
    """Readings whose every shot was taken under conditions that imitate a change, with the reason."""

    @property
    def asymmetry(self) -> Asymmetry | None:
        """The median over its neutral shots that count, as a whole and by region; None without any."""
        own = [j.placed for j in self.shots if j.counts and j.shot.view == NEUTRAL and j.placed]
        found = [landmark_asymmetry(placed) for placed in own]
        if not found:
            return None
        shares = {r: statistics.median(a.shares[r] for a in found) for r in found[0].shares}
        return Asymmetry(statistics.median(a.percent for a in found), shares)

    @property
    def methods(self) -> frozenset[str]:
        """The versions of the analysis by which it was read."""
        read = [s.shot for s in self.shots if s.counts and s.readings]
        newest = [s for s in read if s.current] or read
        return frozenset(s.method for s in newest)

    def counted(self, view: str) -> int:
        return sum(s.counts and s.shot.view == view for s in self.shots)


@dataclass(frozen=True, kw_only=True)
class Measurement:
    """Everything that a client's photographs say."""

    sittings: tuple[SittingRead, ...]
    ruler: float | None
    noise: Mapping[str, Noise]
    side_noise: Mapping[str, Noise]
    primary: tuple[str, ...]
    double_baseline: tuple[str, str] | None
    own: Seen | None = None
    own_at: datetime | None = None
    trends: Mapping[str, Trend] = field(default_factory=dict)
    chosen_by: Mapping[str, frozenset[str]] = field(default_factory=dict)
    """By reading, the sittings that chose a side which some plan gives more."""
    way_known: bool = True
    """Whether somebody has said of one neutral photograph that it is the right way round, or mirrored: all others are held against it."""

    def sitting(self, sitting_id: str) -> SittingRead:
        """Raises KeyError."""
        for s in self.sittings:
            if s.id == sitting_id:
                return s
        raise KeyError(sitting_id)

    @property
    def headlines(self) -> tuple[str, ...]:
        """The readings that are looked at first: those that were named before practice began, else the usual ones."""
        return self.primary or HEADLINES

    @property
    def baseline(self) -> SittingRead | None:
        """The first sitting that has a value."""
        return next((s for s in self.sittings if s.values), None)

    def changes(self, before: SittingRead, after: SittingRead) -> list[Change]:
        """Every reading that both sittings have, with its final verdict."""
        found = []
        for key, reading in READINGS.items():
            if key not in before.values or key not in after.values:
                continue
            noise = self.noise[key]
            a, b = self._start(before, key=key, against=after), after.values[key]
            reason = after.excluded.get(key) or before.excluded.get(key) or ""
            if not reason and len(before.methods | after.methods) > 1:
                reason = "the two were read by different versions of the analysis, and one is still being read again"
            if reason:
                mdc = noise.band(a.spread + b.spread)
                found.append(not_comparable(reading, a.value, after=b.value, mdc=mdc, reason=reason[0].upper() + reason[1:] + "."))
            else:
                found.append(compare(reading, a, after=b, noise=noise, side_noise=self.side_noise.get(key)))
        return judge_all(READINGS, found, self.primary)

    def _start(self, before: SittingRead, key: str, against: SittingRead) -> SittingValue:
        """The value that a later one is held against: of a double baseline, both sittings as one."""
        own, pair = before.values[key], self.double_baseline
        clean = self._clean_start(before, key=key, against=against)
        if clean is not None:
            return replace(clean.values[key], stands_in=clean.taken_on)
        if pair is None or before.id not in pair or against.id in pair:
            return own
        other = self.sitting(next(i for i in pair if i != before.id))
        if key not in other.values or key in other.excluded or other.methods != before.methods:
            return own
        return pooled(READINGS[key], own, two=other.values[key], noise=self.noise[key])

    def _clean_start(self, before: SittingRead, key: str, against: SittingRead) -> SittingRead | None:
        """The latest baseline that took no part in choosing a side by this reading, where the one compared did: what was chosen for looking
        weak looks less so the next time, whatever is practised."""
        took = self.chosen_by.get(key, frozenset())
        if before.id not in took or before.kind != "baseline":
            return None
        start = [s for s in self.sittings if s.kind == "baseline" and s.id not in took and s.taken_on < against.taken_on]
        usable = [s for s in start if key in s.values and key not in s.excluded and s.methods == before.methods]
        return usable[-1] if usable else None


def _middle(placed: Sequence[Mapping[str, Point]]) -> dict[str, Point]:
    """Median place of every point over several shots."""
    names = set.intersection(*(set(p) for p in placed)) if placed else set()
    return {n: (statistics.median(p[n][0] for p in placed), statistics.median(p[n][1] for p in placed)) for n in names}


def _checks(shot: Shot, first: Shot | None) -> tuple[Check, ...]:
    """Quality of a shot against the client's first accepted neutral shot, which has nothing to be held against itself."""
    wrong = wrong_face(shot.seen, shot.view)
    if wrong:
        return (wrong,)
    if shot.seen is None or VIEWS[shot.view].face is not Face.FRONT:
        return ()
    other = first if first and first.id != shot.id else None
    return tuple(
        judge(
            shot.seen,
            shot.view,
            own=other.seen if other else None,
            taken_at=shot.taken_at,
            baseline_at=other.taken_at if other else None,
        )
    )


@dataclass(frozen=True)
class SittingFacts:
    """What is known of a sitting without its shots."""

    id: str
    taken_on: date
    kind: str


def read(
    sittings: Sequence[SittingFacts],
    shots: Sequence[Shot],
    primary: Sequence[str] = (),
    alike: Mapping[str, tuple[float, float]] | None = None,
    chosen_by: Mapping[str, frozenset[str]] | None = None,
) -> Measurement:
    """Judge every shot, measure it, and sum each sitting up.

    ``sittings`` are in order of time. ``alike`` holds, for a shot, how well its pixels correlate with the client's first
    accepted neutral shot as they are and flipped. ``chosen_by`` are the sittings, by reading, that chose a side of some plan.
    """
    turned = [s.right_way for s in shots]
    order = {s.id: i for i, s in enumerate(sittings)}
    turned.sort(key=lambda s: order[s.sitting])
    neutral = [s for s in turned if s.view == NEUTRAL and s.confirmed and s.seen and s.same_person is not False]
    usable = [s for s in neutral if standing(list(_checks(s, first=None))) != Standing.RETAKE]
    first = usable[0] if usable else None
    own, own_at = (first.seen, first.taken_at) if first else (None, None)
    own_shots = [s for s in turned if s.seen and s.confirmed and s.same_person is not False]
    frontal = [s for s in own_shots if VIEWS[s.view].face is Face.FRONT and s.view != "eyes-closed"]
    accepted = [s for s in frontal if standing(list(_checks(s, first=first))) != Standing.RETAKE]
    ruler = ruler_mm([ratio_to_iris(s) for s in accepted]) if accepted else None
    ratios = face_ratios(place_all(first.frontal, first.iris_px, ruler=ruler)) if first else {}

    judged: dict[str, list[JudgedShot]] = {s.id: [] for s in sittings}
    for facts in sittings:
        mine = [s for s in turned if s.sitting == facts.id]
        rest = _middle([place_all(s.frontal, s.iris_px, ruler=ruler) for s in accepted if s.sitting == facts.id and s.view == NEUTRAL])
        for shot in mine:
            judged[facts.id].append(_judge_shot(shot, ruler, rest or None, ratios, first))
    way_known = first is None or any(s.settled_flip for s in usable)
    if first and not way_known:
        judged[first.sitting] = [replace(j, asks_way=j.shot.id == first.id) for j in judged[first.sitting]]
    noise, side_noise, double = _noise(sittings, judged)
    summed = tuple(_sum_up(f, judged[f.id], noise) for f in sittings)
    summed = _ask_flips(summed, noise, alike or {})
    trends = {}
    for key in primary or HEADLINES:
        row = [(s.taken_on, s.values[key]) for s in summed if key in s.values and key not in s.excluded]
        slope = trend([d for d, _ in row], [v.value for _, v in row], bands=[v.retaking for _, v in row])
        if slope:
            trends[key] = slope
    return Measurement(
        sittings=summed,
        ruler=ruler,
        noise=noise,
        side_noise=side_noise,
        primary=tuple(primary),
        double_baseline=double,
        own=own,
        own_at=own_at,
        trends=trends,
        way_known=way_known,
        chosen_by=chosen_by or {},
    )


def _judge_shot(
    shot: Shot, ruler: float | None, rest: Mapping[str, Point] | None,
    ratios: Mapping[str, float], first: Shot | None,
) -> JudgedShot:  # fmt: skip
    checks = _checks(shot, first=first)
    eyes_seen = not shot.seen or max(shot.seen.eye_trust.values(), default=1.0) > 0.2
    mine = first.seen.pose if first and first.seen and first.id != shot.id else None
    suggested = suggest_view(shot.seen.pose if shot.seen else None, own=mine, eyes_seen=eyes_seen)
    asks_person = False
    if shot.seen and shot.view == NEUTRAL and first and shot.id != first.id and shot.same_person is None:
        asks_person = unlike(face_ratios(place_all(shot.frontal, shot.iris_px, ruler=ruler)), own=ratios) > OTHER_FACE
    stands = standing(list(checks))
    if shot.same_person is False:
        stands = Standing.RETAKE
        checks = (
            Check(
                id="person",
                name="person",
                found="another person, you said",
                weight="stop",
                change="Remove it, or keep it with its own client.",
            ),
            *checks,
        )
    placed: dict[str, Point] = {}
    found: dict[str, Measured] = {}
    not_here: dict[str, Unmeasured] = {}
    if shot.seen and VIEWS[shot.view].face is Face.FRONT and not wrong_face(shot.seen, shot.view):
        placed, found, not_here = measured_on(shot, ruler, rest)
    return JudgedShot(
        shot=shot,
        checks=checks,
        standing=stands,
        placed=placed,
        readings=found,
        unmeasured=not_here,
        suggested=suggested,
        asks_person=asks_person,
    )


def _noise(
    sittings: Sequence[SittingFacts], judged: Mapping[str, Sequence[JudgedShot]]
) -> tuple[dict[str, Noise], dict[str, Noise], tuple[str, str] | None]:
    baselines = [s for s in sittings if s.kind == "baseline" and any(j.counts and j.readings for j in judged[s.id])]
    double = None
    if len(baselines) > 1 and (baselines[1].taken_on - baselines[0].taken_on).days <= DOUBLE_BASELINE_DAYS:
        double = (baselines[0].id, baselines[1].id)
    noise, side_noise = {}, {}
    for key, reading in READINGS.items():

        def values(sitting: str, side: Side | None = None, key: str = key) -> list[float]:
            got = [j.readings[key] for j in judged[sitting] if j.counts and key in j.readings]
            return [v for m in got if (v := m.value if side is None else getattr(m, side.value)) is not None]

        pair = (values(double[0]), values(double[1])) if double else None
        noise[key] = own_noise(reading.noise, [values(s.id) for s in sittings], pair if pair and all(pair) else None)
        if reading.side_noise:
            groups = [values(s.id, side) for s in sittings for side in Side]
            pairs = [(values(double[0], side), values(double[1], side)) for side in Side] if double else []
            whole = [p for p in pairs if all(p)]
            side_noise[key] = own_noise(reading.side_noise, groups, whole[0] if whole else None)
    return noise, side_noise, double


def _sum_up(facts: SittingFacts, shots: Sequence[JudgedShot], noise: Mapping[str, Noise]) -> SittingRead:
    values, excluded = {}, {}
    apart = any(j.shot.current for j in shots if j.counts and j.readings)  # some are read again already: the others do not count with them
    for key, reading in READINGS.items():
        counted = [j for j in shots if j.counts and key in j.readings and (j.shot.current or not apart)]
        clean = [j for j in counted if not j.imitating(reading)]
        if counted:
            values[key] = sitting_value(reading, [j.readings[key] for j in clean or counted], noise[key])
            if not clean:
                excluded[key] = counted[0].imitating(reading)
    return SittingRead(id=facts.id, taken_on=facts.taken_on, kind=facts.kind, shots=tuple(shots), values=values, excluded=excluded)


def _ask_flips(
    sittings: tuple[SittingRead, ...], noise: Mapping[str, Noise], alike: Mapping[str, tuple[float, float]]
) -> tuple[SittingRead, ...]:
    """Ask of each shot after the first sitting whether it is mirrored, when differences and pixels both say so."""
    out: list[SittingRead] = []
    known: dict[str, float] = {}
    for sitting in sittings:
        shots = []
        for j in sitting.shots:
            asks = False
            if known and not j.shot.settled_flip and j.shot.view == NEUTRAL:
                differences = {k: v.value for k, v in j.readings.items() if READINGS[k].paired}
                better = fits_flipped(differences, own=known, noise={k: noise[k].of_change(1, shots_after=1) / 1.96 for k in differences})
                as_is, flipped = alike.get(j.shot.id, (0.0, 0.0))
                asks = (better > FLIP_EVIDENCE and flipped - as_is > FLIP_PIXELS) or flipped - as_is > 3 * FLIP_PIXELS
            shots.append(replace(j, asks_flip=asks))
        open_questions = [j for j in shots if j.counts and (j.asks_flip or j.asks_person)]
        excluded = dict(sitting.excluded)
        for j in open_questions:
            for key in j.readings:
                if j.asks_person:
                    excluded[key] = "one photograph may show somebody else; answer the question first"
                elif READINGS[key].has_sides:
                    excluded.setdefault(key, "one photograph may be mirrored; answer the question first")
        out.append(replace(sitting, shots=tuple(shots), excluded=excluded))
        if not known:
            known = {k: v.value for k, v in sitting.values.items() if READINGS[k].paired and v.real}
    return tuple(out)
