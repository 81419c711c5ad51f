"""./dimbo bench: prints a table; ./dimbo bench sheet, or the name of another row of ``ROWS``, for that one;
./dimbo bench faults for the campaign of faults."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass

from . import faults, figure, handing, intake, photo, sheet, sitting, year


@dataclass(frozen=True, kw_only=True)
class Row:
    """A benchmark: what is measured, against what, and the aim in words."""

    name: str
    what: str
    baseline: str
    aim: str
    make: Callable[[], tuple[Callable[[], object], Callable[[], object], Callable[[], None]]]
    rounds: int
    told: Callable[[], str] = lambda: ""
    """What the row says besides its time, once it has run."""


ROWS = (
    Row(
        name="sheet",
        what="compile and check a program, 12 weeks by 40 lines",
        baseline="the bare sums of its seconds in one loop",
        aim="under 10 ms",
        make=sheet.make,
        rounds=30,
    ),
    Row(
        name="edit",
        what="an edit of that program checked and kept over HTTP on loopback, as after every change on the sheet",
        baseline="compiling and checking it in the core",
        aim="p95 under 60 ms",
        make=sheet.edit,
        rounds=60,
    ),
    Row(
        name="photo",
        what="a photograph from file to readings and quality",
        baseline="decoding it, and the detector passes it uses",
        aim="at most 1.3 times",
        make=photo.make,
        rounds=12,
    ),
    Row(
        name="sitting",
        what="twelve shots of a sitting through the worker's analysis",
        baseline="decoding them, and the detector passes they use",
        aim="under 3 s, at most 1.3 times",
        make=sitting.shots,
        rounds=4,
    ),
    Row(
        name="sittings",
        what="GET the sittings page over HTTP on loopback",
        baseline="its own SQL on one connection",
        aim="at most 3 times",
        make=sitting.page,
        rounds=30,
    ),
    Row(
        name="desk",
        what="GET the desk of 300 clients with a year of daily logs over HTTP on loopback",
        baseline="its own SQL on one connection",
        aim="p95 under 150 ms, at most 3 times",
        make=year.the_desk,
        rounds=40,
        told=year.told,
    ),
    Row(
        name="course",
        what="GET the course of a client of 52 weeks over HTTP on loopback",
        baseline="its own SQL on one connection",
        aim="under 100 ms, at most 3 times",
        make=year.the_course,
        rounds=40,
        told=year.told,
    ),
    Row(
        name="conclude",
        what="conclude from an intake with everything filled in",
        baseline="reading each of its values once",
        aim="under 5 ms",
        make=intake.core,
        rounds=60,
    ),
    Row(
        name="session",
        what="compile a session of 20 exercises, of a program of 12 weeks, to its cues",
        baseline="the bare sums of its seconds in one loop",
        aim="under 2 ms",
        make=handing.session,
        rounds=200,
    ),
    Row(
        name="hand-in",
        what="500 queued logs handed in by 100 phones at once over HTTP on loopback",
        baseline="bare SQL inserts of the same logs on ten connections",
        aim="no loss, no double",
        make=handing.hand_in,
        rounds=8,
        told=handing.told,
    ),
    Row(
        name="figure",
        what=f"{figure.FRAMES} frames of the player with its figure, on a phone {figure.SLOWER} times slower",
        baseline="as many empty frames",
        aim="1.1 times (60 frames a second), script under 8 ms a frame",
        make=figure.make,
        rounds=16,
        told=figure.told,
    ),
    Row(
        name="intake",
        what="GET a client's intake over HTTP on loopback",
        baseline="its own SQL on one connection",
        aim="at most 2 times",
        make=intake.page,
        rounds=60,
    ),
)


def _times_ms(work: Callable[[], object], rounds: int) -> list[float]:
    times = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - began))
    return times


def _p95(times: list[float]) -> float:
    return sorted(times)[min(len(times) - 1, round(0.95 * len(times)))]


def _faults() -> int:
    """The long campaign of faults; 1 when something was lost, doubled, left waiting, too slow or too large."""
    found = faults.run()
    print(found.sentence())
    slow = [b for b in found.back_s if b[1] > faults.BACK_S]
    bad = found.lost or found.doubled or found.unjudged or found.wordless or slow or found.memory > faults.MOST_MEMORY
    return 1 if bad else 0


def run_bench(names: list[str]) -> int:
    """Run the named rows (all if none). Returns the exit code."""
    if names == ["faults"]:
        return _faults()
    unknown = [n for n in names if n not in {r.name for r in ROWS}]
    if unknown:
        print(f"There is no row {unknown[0]}; choose from {', '.join(r.name for r in ROWS)}, faults.")
        return 2
    for row in ROWS:
        if names and row.name not in names:
            continue
        work, baseline, close = row.make()
        try:
            work(), baseline()  # warm both
            # Turn about, so that a slow moment of the machine falls on both.
            rounds = max(row.rounds // 4, 1)
            pairs = [(_times_ms(work, rounds), _times_ms(baseline, rounds)) for _ in range(4)]
        finally:
            close()
        ms, base = (statistics.median(statistics.median(times) for times in turn) for turn in zip(*pairs, strict=True))
        slow = _p95([t for times, _ in pairs for t in times])
        print(
            f"{row.name:8} {ms:8.2f} ms   p95 {slow:8.2f} ms   {ms / base:6.2f} times {base:.2f} ms   aim {row.aim}\n"
            f"         {row.what}; against {row.baseline}",
            flush=True,
        )
        if said := row.told():
            print(f"         {said}", flush=True)
    return 0
