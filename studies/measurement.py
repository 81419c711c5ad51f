"""How true the readings are: made-up heads of known truth, re-posed, against what is measured.

    .venv/bin/python -m studies.measurement

Prints the tables that docs/measurement.md quotes. A few minutes.
"""

from __future__ import annotations

import numpy as np

from dimbo.core.frame import head_frame
from dimbo.core.readings import COMMISSURE_HEIGHT, FISSURE_HEIGHT, READINGS, measure
from dimbo.vision.landmarks import locate
from dimbo.vision.stand_in_camera import NEUTRAL, Scene, Shot, identities, shoot

SEEDS = range(1, 7)


def true_difference(reading: str, shot: Shot) -> float:
    """Left minus right in millimetres, from the truth of the shot."""
    if reading == FISSURE_HEIGHT.id:
        return shot.height_mm("ps_left", "pi_left") - shot.height_mm("ps_right", "pi_right")
    return shot.height_mm("ch_left", "ch_right")


def measured(shot: Shot) -> dict[str, float]:
    marks = locate(shot.rgb)
    frame = head_frame(marks.points, marks.iris_px)
    return {r.id: measure(r, marks.points, frame).difference for r in READINGS.values()}


def main() -> None:
    rows = [(i, s, shot, measured(shot)) for i in identities() for s in NEUTRAL for seed in SEEDS for shot in [shoot(Scene(i, s, seed))]]
    print("| reading | heads x states x shots | slope | correlation | SD of error, mm | repeat SD, mm | even faces called uneven |")
    print("| --- | --- | --- | --- | --- | --- | --- |")
    for reading in (FISSURE_HEIGHT, COMMISSURE_HEIGHT):
        truth = np.array([true_difference(reading.id, shot) for *_, shot, _ in rows])
        found = np.array([m[reading.id] for *_, m in rows])
        repeats = np.sqrt(np.mean([found[k : k + len(SEEDS)].var(ddof=1) for k in range(0, len(found), len(SEEDS))]))
        band = reading.difference_noise.of_one(1)
        even = [abs(m[reading.id]) > band for _, state, _, m in rows if state == "even"]
        print(
            f"| `{reading.id}` | {len(identities())} x {len(NEUTRAL)} x {len(SEEDS)} | {np.polyfit(truth, found, 1)[0]:.2f} | "
            f"{np.corrcoef(truth, found)[0, 1]:.2f} | {(found - truth).std():.2f} | {repeats:.2f} | {sum(even)} of {len(even)} |"
        )


if __name__ == "__main__":
    main()
