"""The eased versions of a session, laid out behind its end on the same timeline.

A client may change over to the eased version of an exercise at any moment. What is played of it lies in its track, so a log
of stretches still says to the second what was done of either version.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from dimbo.core.programs.program import Settings

from .crediting import DONE, ItemWork, Progress, SideWork, Stay, Stretch, credit, played_s, progress
from .eased_version import eased_item
from .timeline import Beat, Cue, Item, timeline

APART_S = 1.0
"""Seconds of the timeline between the session and its tracks, and between two of them, so that every second is of one."""


@dataclass(frozen=True, slots=True)
class Track:
    """The eased version of one item: its place in the session, and its cues at their seconds of the timeline."""

    item: int
    eased: Item
    cues: tuple[Cue, ...]

    @property
    def start_s(self) -> float:
        return self.cues[0].start_s

    @property
    def end_s(self) -> float:
        return self.cues[-1].start_s + self.cues[-1].length_s


def tracks(items: Sequence[Item], cues: Sequence[Cue], settings: Settings) -> tuple[Track, ...]:
    """The tracks of a session, one behind the other, from the end of its ``cues`` on. An item that has no eased version, or
    is one, has no track."""
    end = (cues[-1].start_s + cues[-1].length_s if cues else 0.0) + APART_S
    out: list[Track] = []
    for n, item in enumerate(items):
        eased = eased_item(item)
        if eased is item or not (own := timeline([eased], settings)):
            continue
        laid = tuple(c._replace(start_s=round(end + c.start_s, 3), item=n) for c in own)
        out.append(Track(n, eased, laid))
        end = out[-1].end_s + APART_S
    return tuple(out)


def _one(track: Track, stretches: Sequence[Stretch], settings: Settings) -> ItemWork:
    return credit([track.eased], [c._replace(item=0) for c in track.cues], stretches, settings)[0]


def _both(full: SideWork | None, eased: SideWork) -> SideWork:
    """What was planned is what was done before the change, and the eased version from there on."""
    if full is None:
        return eased
    return SideWork(
        side=eased.side,
        planned_sets=full.done_sets + eased.planned_sets,
        done_sets=full.done_sets + eased.done_sets,
        planned_reps=full.done_reps + eased.planned_reps,
        done_reps=full.done_reps + eased.done_reps,
        planned_hold_s=round(full.done_hold_s + eased.planned_hold_s, 1),
        done_hold_s=round(full.done_hold_s + eased.done_hold_s, 1),
        planned_s=round(full.done_s + eased.planned_s, 1),
        done_s=round(full.done_s + eased.done_s, 1),
    )


def credit_eased(
    items: Sequence[Item],
    cues: Sequence[Cue],
    laid: Sequence[Track],
    stretches: Sequence[Stretch],
    settings: Settings,
    stays: Sequence[Stay] = (),
) -> tuple[tuple[ItemWork, ...], Mapping[int, Track]]:
    """What a played session amounts to with what was played of its tracks, and the tracks that were played, by item."""
    end = laid[0].start_s if laid else math.inf
    out = list(credit(items, cues, [s for s in stretches if s.from_s < end], settings, stays))
    played: dict[int, Track] = {}
    for track in laid:
        eased = _one(track, stretches, settings)
        if eased.done_s <= 0:
            continue
        played[track.item] = track
        full = out[track.item]
        before = {w.side: w for w in full.sides}
        out[track.item] = ItemWork(
            planned_s=round(full.done_s + eased.planned_s, 1),
            done_s=round(full.done_s + eased.done_s, 1),
            sides=tuple(_both(before.get(w.side), eased=w) for w in eased.sides),
            pauses=full.pauses + eased.pauses,
            paused_s=round(full.paused_s + eased.paused_s, 1),
        )
    return tuple(out), played


def progress_eased(
    items: Sequence[Item], cues: Sequence[Cue], laid: Sequence[Track], stretches: Sequence[Stretch], settings: Settings
) -> Progress:
    """Where a session goes on that was begun: as ``progress`` says, but what was done in its eased version is done, and what
    was stopped in it goes on there."""
    found = progress(items, cues, stretches, settings)
    done = set(found.done)
    stopped = stretches[-1].to_s if stretches else 0.0
    for track in laid:
        played = sum(
            min(s, c.length_s) for c, s in zip(track.cues, played_s(track.cues, stretches), strict=True) if c.beat is not Beat.CHANGE
        )
        if played >= DONE * track.eased.seconds(settings):
            done.add(track.item)
    first = next((n for n in range(len(items)) if n not in done), None)
    inside = next((t for t in laid if t.start_s < stopped < t.end_s), None)
    if first is None:
        return Progress(cues[-1].start_s + cues[-1].length_s if cues else 0.0, tuple(sorted(done)))
    if inside is not None and inside.item == first:
        return Progress(stopped, tuple(sorted(done)))
    at = found.at_s if first not in done and found.done == tuple(sorted(done)) else next(c.start_s for c in cues if c.item == first)
    return Progress(at, tuple(sorted(done)))
