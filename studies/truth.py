"""How true the readings are: made-up heads of known truth, photographed again and again, against what is measured.

    .venv/bin/python -m studies.truth [part ...]

Parts: ``slope``, ``moves``, ``ways``, ``profile``, ``bias``, ``variants``, ``alarms``, ``detect``, ``turn``; all of them by default.
Prints the tables that docs/measurement.md quotes; some forty minutes on two cores. Everything follows from seeds. The heads are the
study's twelve that nothing is tuned on (``readings/people.py``, ``UNSEEN``); ``profile`` and ``turn`` have the heads that ship.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from pathlib import Path

import cv2
import numpy as np

from dimbo.core.sittings.comparison import compare, sitting_value
from dimbo.core.sittings.protocol import NEUTRAL as FRONT
from dimbo.core.sittings.reading_table import READINGS
from dimbo.vision.landmarks import locate
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from studies.further import moves_part, profile_part, ways_part
from studies.readings.people import UNSEEN
from studies.trials import GROUPS, TRUE, Trial, posed, read_marks, rms, sitting_scenes, trials, uneven_scenes, within_head
from studies.variants import variants_part

SIZES_MM = (0.25, 0.5, 0.75, 1.0, 1.5)
TURNED = Path(__file__).parent / "turned"
LIGHTS = (0.0, 0.45, -0.45, 0.6, -0.6)
"""Light from the front, and from either side."""


def slope_table(found: Sequence[Trial]) -> list[tuple[str, str, int, float, float, float, float]]:
    """Reading, head, trials, slope, bias, SD of error, coverage of the band of one shot.

    Slope and coverage are taken around each head's own bias: only differences within one client are ever compared.
    """
    rows = []
    for key in TRUE:
        reading = READINGS[key]
        for who in (*sorted({t.scene.identity for t in found}), *GROUPS):
            in_group = GROUPS.get(who, lambda _: False)
            mine = [t for t in found if (who == t.scene.identity or in_group(t.scene.identity)) and key in t.found]
            if len(mine) < 4:
                continue
            true, got = np.array([t.true[key] for t in mine]), np.array([t.found[key].value for t in mine])
            error, whose = got - true, [t.scene.identity for t in mine]
            covered = float(np.mean(np.abs(within_head(whose, error)) <= reading.noise.of_one(1)))
            slope = float(np.polyfit(within_head(whose, true), within_head(whose, got), 1)[0])
            rows.append((key, who, len(mine), slope, float(error.mean()), float(error.std()), covered))
    return rows


def alarms(sittings: Sequence[Sequence[Trial]]) -> dict[str, tuple[int, int]]:
    """False alarms and comparisons per reading, between each sitting and the next of the same unchanged head."""
    out = {}
    for key, reading in READINGS.items():
        values = [[t.found[key] for t in s if key in t.found] for s in sittings]
        pairs = [(a, b) for a, b in zip(values, values[1:] + values[:1], strict=True) if a and b]
        wrong = sum(compare(reading, sitting_value(reading, a), sitting_value(reading, b)).direction is not None for a, b in pairs)
        if pairs:
            out[key] = (wrong, len(pairs))
    return out


def spread(sittings: Sequence[Sequence[Trial]], key: str, side: str = "value") -> tuple[float, float]:
    """Shot SD within sittings and sitting SD between them, of one unchanged head."""
    groups = [[getattr(t.found[key], side) for t in s if key in t.found] for s in sittings]
    groups = [g for g in groups if len(g) > 1]
    if len(groups) < 3 or groups[0][0] is None:
        return float("nan"), float("nan")
    within = float(np.sqrt(np.mean([np.var(g, ddof=1) for g in groups])))
    between = float(np.var([np.median(g) for g in groups], ddof=1)) - within**2 / 3
    return within, float(np.sqrt(max(between, 0)))


def _sided() -> list[str]:
    return [k for k, r in READINGS.items() if r.view == FRONT and r.has_sides]


def _bias_part() -> None:
    """Even faces: every difference of the sides that is read is the method's own. One shot looks ahead, the others to either side: what a
    turn does belongs to the noise of a shot."""
    poses = ((1, -1.0), (2, 0.0), (3, 1.0))
    found = trials([posed(w, "even", seed, light=light, yaw_deg=turn) for w in UNSEEN for light in LIGHTS for seed, turn in poses])
    print("\n| reading | light from the front | largest | from one side, 0.45 | largest | 0.6 | largest | not read |")
    print("| --- | --- | --- | --- | --- | --- | --- | --- |")
    for key in _sided():
        cells, read, of = [], 0, 0
        for strength in (0.0, 0.45, 0.6):
            mine = [t for t in found if abs(t.scene.light) == strength]
            per = {(t.scene.identity, t.scene.light): [u for u in mine if _like(u, t)] for t in mine}
            means = [float(np.mean(values)) for group in per.values() if (values := [u.found[key].value for u in group if key in u.found])]
            cells += [f"{rms(means):.2f}", f"{max(map(abs, means)):.2f}" if means else "-"]
            read, of = read + sum(key in t.found for t in mine), of + len(mine)
        print(f"| `{key}` | " + " | ".join(cells) + f" | {1 - read / of:.0%} |", flush=True)


def _like(one: Trial, other: Trial) -> bool:
    return (one.scene.identity, one.scene.light) == (other.scene.identity, other.scene.light)


def _alarm_part(count: int) -> None:
    print(f"\n| reading | shot SD | sitting SD | false alarms, {count} pairs a head | share |\n| --- | --- | --- | --- | --- |")
    per_head = {}
    for identity in UNSEEN:
        scenes = [s for n in range(count) for s in sitting_scenes(identity, n)]
        found = trials(scenes)
        per_head[identity] = [found[3 * n : 3 * n + 3] for n in range(count)]
    wrong_all = pairs_all = 0
    for key, reading in READINGS.items():
        if reading.view != FRONT or reading.by_hand:
            continue
        sds = np.array([spread(s, key) for s in per_head.values()])
        side = np.array([spread(s, key, "right") for s in per_head.values()]) if reading.paired else None
        counted = [alarms(s).get(key, (0, 0)) for s in per_head.values()]
        wrong, pairs = sum(w for w, _ in counted), sum(p for _, p in counted)
        wrong_all, pairs_all = wrong_all + wrong, pairs_all + pairs
        shot, sitting = (np.sqrt(np.nanmean(sds[:, k] ** 2)) for k in (0, 1))
        one = [] if side is None else [np.sqrt(np.nanmean(side[:, k] ** 2)) for k in (0, 1)]
        more = f" (one side {one[0]:.2f}, {one[1]:.2f})" if one else ""
        print(f"| `{key}` | {shot:.2f} | {sitting:.2f}{more} | {wrong} of {pairs} | {wrong / max(pairs, 1):.1%} |")
    print(f"| all | | | {wrong_all} of {pairs_all} | {wrong_all / pairs_all:.1%} |")


def _detect_part(count: int) -> None:
    print("\n| true change of one lid, mm | found beyond noise | toward the right sign |\n| --- | --- | --- |")
    reading = READINGS["fissure_height"]
    for size in SIZES_MM:
        hit = sign = of = 0
        for identity in UNSEEN:
            before = trials([s for n in range(count) for s in sitting_scenes(identity, 40 + n)])
            after = trials([s for n in range(count) for s in sitting_scenes(identity, 80 + n, lid_mm=(size, 0.0))])
            for n in range(count):
                a, b = ([t.found[reading.id] for t in group[3 * n : 3 * n + 3] if reading.id in t.found] for group in (before, after))
                if a and b:
                    c = compare(reading, sitting_value(reading, a), sitting_value(reading, b))
                    hit, sign, of = hit + (c.direction is not None), sign + (c.amount < 0), of + 1
        print(f"| {size} | {hit} of {of} | {sign} of {of} |")


def turned() -> list[tuple[str, float, float, dict[str, tuple[float, float, float]]]]:
    """Head, true turn, estimated turn, and of each reading: value at no turn, plain and turned back, at this turn."""
    out = []
    for facts_file in sorted(TURNED.glob("*.json")):
        facts = json.loads(facts_file.read_text())
        identity, angle = facts["identity"], float(facts["state"].split("@")[1])
        straight = shoot(Scene(identity=identity, state="uneven", seed=0, repose=0, grain=0)).rgb
        base = read_marks(locate(straight), straight)
        rgb = np.ascontiguousarray(cv2.imread(str(facts_file.with_suffix(".jpg")))[:, :, ::-1])
        marks = locate(rgb)
        plain, mended = read_marks(marks, rgb, turn_back=False), read_marks(marks, rgb)
        shared = [k for k in base if k in plain and k in mended]
        out.append((identity, angle, marks.yaw_deg, {k: (base[k].value, plain[k].value, mended[k].value) for k in shared}))
    return out


def _turn_part() -> None:
    rows = turned()
    print("\n| reading | error at 2°, plain | turned back | error at 4°, plain | turned back |\n| --- | --- | --- | --- | --- |")
    for key in READINGS:
        cells = []
        for angle in (2, 4):
            mine = [r[3][key] for r in rows if abs(r[1]) == angle and key in r[3]]
            for k in (1, 2):
                cells.append(f"{np.sqrt(np.mean([(v[k] - v[0]) ** 2 for v in mine])):.2f}" if mine else "-")
        if "-" not in cells:
            print(f"| `{key}` | " + " | ".join(cells) + " |")
    error = np.array([r[2] - r[1] for r in rows])
    print(f"\nEstimated turn against the true one: mean {error.mean():+.2f}°, SD {error.std():.2f}° over {len(rows)} pictures.")


def main(parts: Sequence[str]) -> None:
    if "slope" in parts:
        print("| reading | head | shots | slope | bias | SD of error | inside the band of one shot |")
        print("| --- | --- | --- | --- | --- | --- | --- |")
        for key, who, n, slope, bias, sd, covered in slope_table(trials(uneven_scenes(list(UNSEEN), range(1, 7)))):
            print(f"| `{key}` | {who} | {n} | {slope:.2f} | {bias:+.2f} | {sd:.2f} | {covered:.0%} |", flush=True)
    for part, run in (
        ("moves", moves_part),
        ("ways", ways_part),
        ("profile", profile_part),
        ("bias", _bias_part),
        ("variants", variants_part),
        ("alarms", lambda: _alarm_part(20)),
        ("detect", lambda: _detect_part(1)),
        ("turn", _turn_part),
    ):
        if part in parts:
            run()


PARTS = ("slope", "moves", "ways", "profile", "bias", "variants", "alarms", "detect", "turn")

if __name__ == "__main__":
    main(sys.argv[1:] or PARTS)
