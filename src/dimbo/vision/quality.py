"""Quality of a shot, measured from pixels and points, and said in plain words with what to change."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from dimbo.core.frame import Frame, head_frame

from .landmarks import Landmarks

# Thresholds and their reasons.
MIN_IRIS_PX = 12.0  # below this a pixel is a millimetre, and no lid can be placed
TURN_NOTE_DEG, TURN_REFUSE_DEG = 2.0, 5.0  # four degrees move a lid by up to 0.7 mm
ROLL_NOTE_DEG = 5.0  # roll is taken out, but beyond this the face was not held straight
LIGHT_NOTE = 0.12  # difference of the cheeks' lightness
LIPS_NOTE = 0.06  # opening of the lips against the mouth's width: a neutral face has them touching
SHARP_NOTE = 12.0  # variance of the second derivative on the face, at one size


@dataclass(frozen=True)
class Check:
    """One aspect of a shot: what was found, in words, and what to change (empty when it is fine)."""

    name: str
    found: str
    weight: str  # fine, watch or stop
    change: str = ""


def _light(rgb: np.ndarray, marks: Landmarks, frame: Frame) -> float:
    """Mean lightness of the left cheek over the right one, minus one."""
    means = []
    for side in ("right", "left"):
        eye, corner = np.array(marks.points[f"pu_{side}"]), np.array(marks.points[f"ch_{side}"])
        centre, r = eye + (corner - eye) * 0.5, max(int(6 / frame.mm_per_px), 4)
        x, y = int(centre[0]), int(centre[1])
        patch = rgb[max(y - r, 0) : y + r, max(x - r, 0) : x + r].astype(float)
        means.append(float(patch.mean()) if patch.size else 0.0)
    return means[1] / means[0] - 1 if means[0] > 0 else 1.0


def _sharpness(rgb: np.ndarray, marks: Landmarks) -> float:
    """Variance of the Laplacian around the eyes, at 4 px per millimetre or so."""
    xs = [marks.points[n][0] for n in ("ex_right", "ex_left")]
    ys = [marks.points[n][1] for n in ("bp_right", "pi_left")]
    pad = int((xs[1] - xs[0]) * 0.1)
    crop = rgb[max(int(min(ys)) - pad, 0) : int(max(ys)) + pad, max(int(xs[0]) - pad, 0) : int(xs[1]) + pad]
    if crop.size == 0:
        return 0.0
    grey = cv2.resize(cv2.cvtColor(crop, cv2.COLOR_RGB2GRAY), (360, max(int(360 * crop.shape[0] / crop.shape[1]), 8)))
    return float(cv2.Laplacian(grey, cv2.CV_64F).var())


def assess(rgb: np.ndarray, marks: Landmarks) -> list[Check]:
    """Every check of a front neutral view, the ones to act on first."""
    frame = head_frame(marks.points, marks.iris_px)
    yaw, roll = marks.yaw_deg, frame.roll_deg
    light, sharp = _light(rgb, marks, frame), _sharpness(rgb, marks)
    toward = "left" if yaw > 0 else "right"
    weight = "stop" if abs(yaw) > TURN_REFUSE_DEG else "watch" if abs(yaw) > TURN_NOTE_DEG else "fine"
    checks = [
        Check(
            "turn",
            f"{abs(yaw):.1f}° to the client's {toward}",
            weight,
            "" if weight == "fine" else "Face the lens; the nose points straight at it.",
        ),
        Check(
            "tilt",
            f"{abs(roll):.1f}°",
            "watch" if abs(roll) > ROLL_NOTE_DEG else "fine",
            "Hold the head straight." if abs(roll) > ROLL_NOTE_DEG else "",
        ),
        Check(
            "size",
            f"iris {marks.iris_px:.0f} pixels across",
            "stop" if marks.iris_px < MIN_IRIS_PX else "fine",
            "Come closer or use a better camera; at least 12 pixels." if marks.iris_px < MIN_IRIS_PX else "",
        ),
        Check(
            "sharp",
            "sharp" if sharp >= SHARP_NOTE else "soft",
            "fine" if sharp >= SHARP_NOTE else "watch",
            "" if sharp >= SHARP_NOTE else "Steady the camera and wipe the lens.",
        ),
        Check(
            "light",
            f"{'left' if light > 0 else 'right'} cheek {abs(light):.0%} brighter".replace("%", " %"),
            "watch" if abs(light) > LIGHT_NOTE else "fine",
            "Turn toward the window until both cheeks are alike." if abs(light) > LIGHT_NOTE else "",
        ),
    ]
    p = marks.points
    opening = abs(p["sto_lower"][1] - p["sto_upper"][1]) / max(abs(p["ch_left"][0] - p["ch_right"][0]), 1)
    checks.append(
        Check(
            "lips",
            "lips touching" if opening <= LIPS_NOTE else "lips apart",
            "fine" if opening <= LIPS_NOTE else "watch",
            "" if opening <= LIPS_NOTE else "Let the lips just touch.",
        )
    )
    order = {"stop": 0, "watch": 1, "fine": 2}
    return sorted(checks, key=lambda c: order[c.weight])


def accepted(checks: list[Check]) -> bool:
    """Whether a shot may be measured at all."""
    return all(c.weight != "stop" for c in checks)
