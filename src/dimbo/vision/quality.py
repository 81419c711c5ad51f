"""What a shot looks like in numbers, from pixels and points. ``core.quality`` holds them against thresholds."""

from __future__ import annotations

import math

import cv2
import numpy as np

from dimbo.core.sittings.frame import Frame, head_frame, place_all
from dimbo.core.sittings.quality import Seen
from dimbo.core.sittings.shape import PRINT_EDGE

from .landmarks import Landmarks

SHARP_REFERENCE = 22.0
"""Median gradient along eye edges of a sharp shot at one size (grey levels per pixel); sharpness is a share of it."""

EVERY = 2
"""Of the face's pixels so many across and down are one that its light and colour are told from: tens of thousands are left."""


def _light(rgb: np.ndarray, marks: Landmarks, frame: Frame) -> float:
    """Mean lightness of the left cheek over the right one, minus one; the cheeks are mirrored areas under the eyes."""
    means = []
    for side in ("right", "left"):
        eye, corner = np.array(marks.points[f"pu_{side}"]), np.array(marks.points[f"ch_{side}"])
        centre, r = eye + (corner - eye) * 0.5, max(int(6 / frame.mm_per_px), 4)
        x, y = int(centre[0]), int(centre[1])
        patch = rgb[max(y - r, 0) : y + r, max(x - r, 0) : x + r]
        means.append(float(cv2.cvtColor(patch, cv2.COLOR_RGB2LAB)[..., 0].mean()) if patch.size else 0.0)
    return means[1] / means[0] - 1 if means[0] > 0 else 0.0


def _eyes(rgb: np.ndarray, marks: Landmarks) -> np.ndarray:
    """The strip of both eyes in grey and at one size, 360 pixels across."""
    xs = [marks.points[n][0] for n in ("ex_right", "ex_left")]
    ys = [marks.points[n][1] for n in ("bp_right", "pi_left", "bp_left", "pi_right")]
    pad = int(abs(xs[1] - xs[0]) * 0.1)
    crop = rgb[max(int(min(ys)) - pad, 0) : int(max(ys)) + pad, max(int(min(xs)) - pad, 0) : int(max(xs)) + pad]
    if crop.size == 0:
        return np.zeros((90, 360), np.uint8)
    return cv2.resize(
        cv2.cvtColor(crop, cv2.COLOR_RGB2GRAY), (360, max(int(360 * crop.shape[0] / crop.shape[1]), 8)), interpolation=cv2.INTER_AREA
    )


def _sharpness(rgb: np.ndarray, marks: Landmarks) -> float:
    """Steepness of the strongest edges around the eyes against the contrast there; 1 is a sharp shot, 0 none."""
    eyes = _eyes(rgb, marks).astype(np.float32)
    contrast = float(np.percentile(eyes, 98) - np.percentile(eyes, 2))
    if contrast < 4:
        return 0.0
    steps = np.hypot(cv2.Sobel(eyes, cv2.CV_32F, 1, 0) / 8, cv2.Sobel(eyes, cv2.CV_32F, 0, 1) / 8)
    return float(np.percentile(steps, 98)) / contrast * 100 / SHARP_REFERENCE


def _inside(rgb: np.ndarray, corners: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The part of a picture in which a convex area lies, and which of its pixels are within; (0, 0) where it lies outside."""
    height, width = rgb.shape[:2]
    low = np.clip(corners.min(0), 0, (width, height))
    high = np.clip(corners.max(0) + 1, 0, (width, height))
    part = rgb[low[1] : high[1], low[0] : high[0]]
    area = np.zeros(part.shape[:2], np.uint8)
    if area.size:
        cv2.fillConvexPoly(area, corners - low, 1)
    return part, area.astype(bool)


def _lab(rgb: np.ndarray) -> np.ndarray:
    """L from 0 to 100, a and b; (h, w, 3) float32."""
    return cv2.cvtColor(rgb.astype(np.float32) / 255, cv2.COLOR_RGB2LAB) if rgb.size else np.zeros((0, 0, 3), np.float32)


def _white(rgb: np.ndarray, marks: Landmarks) -> float:
    """Lightness 0..100 of the whites of the eyes: of what lies between the lids beside the iris, the lighter part. White is as white on any
    skin, so it tells how much light there was."""
    found = []
    for side in ("right", "left"):
        names = (f"en_{side}", f"ps_{side}", f"ex_{side}", f"pi_{side}")
        seen, area = _inside(rgb, corners=np.array([marks.points[n] for n in names], np.int32))
        if area.sum() > 20:
            found.append(float(np.percentile(_lab(seen)[..., 0][area], 85)))
    return max(found, default=100.0)


def _cut(marks: Landmarks, size: tuple[int, int]) -> bool:
    """Whether the face runs over the edge of a picture of this (width, height): jaw, chin, brows or the outer corners of the eyes."""
    names = ("go_right", "go_left", "me", "bo_right", "bo_left", "ex_right", "ex_left")
    return any(not (0 <= marks.points[n][0] < size[0] and 0 <= marks.points[n][1] < size[1]) for n in names)


def look_at(rgb: np.ndarray, marks: Landmarks) -> Seen:
    """The numbers of one shot (h, w, 3) uint8 with its landmarks."""
    frame = head_frame(marks.points, marks.iris_px)
    outline = [marks.points[n] for n in ("go_right", "me", "go_left", "bo_left", "bo_right")]
    seen, area = _inside(rgb, corners=cv2.convexHull(np.array(outline, np.int32))[:, 0])
    seen, area = np.ascontiguousarray(seen[::EVERY, ::EVERY]), area[::EVERY, ::EVERY]
    face = cv2.cvtColor(seen, cv2.COLOR_RGB2GRAY)[area] if seen.size else np.zeros(0, np.uint8)
    colours = _lab(seen)[area][:, 1:]
    p = place_all(marks.points, marks.iris_px)
    unit = math.dist(p["en_right"], p["en_left"])
    mouth = math.dist(p["ch_right"], p["ch_left"])
    return Seen(
        yaw_deg=marks.yaw_deg,
        pitch_deg=marks.pitch_deg,
        roll_deg=frame.roll_deg,
        iris_px=marks.iris_px,
        sharp=_sharpness(rgb, marks),
        highlights=float((face >= 250).mean()) if face.size else 0.0,
        shadows=float((face <= 12).mean()) if face.size else 0.0,
        light=_light(rgb, marks, frame),
        lip_gap=abs(p["sto_lower"][1] - p["sto_upper"][1]) / max(mouth, 1e-6),
        mouth=mouth / unit,
        brow=(p["bp_right"][1] + p["bp_left"][1]) / 2 / unit,
        eye_open=(p["ps_right"][1] - p["pi_right"][1] + p["ps_left"][1] - p["pi_left"][1]) / 2 / 11.7,
        lips=(p["ls"][1] - p["li"][1]) / unit,
        temples=marks.temples,
        white=_white(rgb, marks),
        colour=float(np.hypot(*np.abs(colours).mean(0))) if len(colours) else 0.0,
        cut=_cut(marks, size=(rgb.shape[1], rgb.shape[0])),
        eye_trust={side: marks.trust.get(f"pu_{side}", 1.0) for side in ("right", "left")},
    )


def face_print(rgb: np.ndarray, marks: Landmarks) -> bytes:
    """A small grey picture of the face, level and centred, evened out in light: PRINT_EDGE squared bytes."""
    frame = head_frame(marks.points, marks.iris_px)
    size = 130.0 / frame.mm_per_px / PRINT_EDGE  # 130 mm of face
    axis, down = np.array(frame.to_left), -np.array(frame.up)
    centre = np.array(frame.origin) - 0.5 + down * 25 / frame.mm_per_px
    turn = np.stack([axis, down], 1) * size
    fine = PRINT_EDGE * 4  # four samples each way, averaged against aliasing
    turn = turn / 4
    shift = centre - turn @ np.full(2, (fine - 1) / 2)
    cut = cv2.warpAffine(
        cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY),
        np.hstack([turn, shift[:, None]]),
        (fine, fine),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )
    small = cv2.resize(cut, (PRINT_EDGE, PRINT_EDGE), interpolation=cv2.INTER_AREA).astype(np.float32)
    even = small - cv2.GaussianBlur(small, (0, 0), PRINT_EDGE / 6)
    return bytes(np.clip(even + 128, 0, 255).astype(np.uint8).tobytes())
