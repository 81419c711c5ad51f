"""What may befall a picture: how far it moves the readings of the same pose, and what is said of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path

import cv2
import numpy as np

from dimbo.core.sittings.protocol import NEUTRAL as FRONT
from dimbo.core.sittings.quality import Seen, Standing, judge, standing
from dimbo.core.sittings.reading_table import READINGS
from dimbo.core.sittings.readings import Measured
from dimbo.core.sittings.shot import measured_on
from dimbo.vision.landmarks import locate
from dimbo.vision.stand_in_camera import Shot as Picture
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import FaceError, Scene
from studies.readings.people import UNSEEN
from studies.trials import HEADS, TRUE, rms, shot_of

AT_REST = (1, 2)
"""Seeds of the poses that every variant is held against."""
_HEAD_MM = (75.0, 110.0, 90.0)
_FACE_MM = 75.0

Change = Callable[[Picture], np.ndarray]


@dataclass(frozen=True)
class Variant:
    """What is changed of a picture: how it is taken (``scene``), or what becomes of its pixels."""

    scene: dict[str, object] = field(default_factory=dict)
    pixels: Change = field(default=lambda picture: picture.rgb)


def tinted(*gains: float) -> Change:
    return lambda picture: np.clip(picture.rgb * np.array(gains), 0, 255).astype(np.uint8)


def grey(picture: Picture) -> np.ndarray:
    return cv2.cvtColor(cv2.cvtColor(picture.rgb, cv2.COLOR_RGB2GRAY), cv2.COLOR_GRAY2RGB)


def packed(quality: int) -> Change:
    def change(picture: Picture) -> np.ndarray:
        _, file = cv2.imencode(".jpg", picture.rgb[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, quality])
        return np.ascontiguousarray(cv2.imdecode(file, cv2.IMREAD_COLOR)[..., ::-1])

    return change


def smaller(height: int) -> Change:
    def change(picture: Picture) -> np.ndarray:
        size = (round(picture.rgb.shape[1] * height / picture.rgb.shape[0]), height)
        return cv2.resize(picture.rgb, size, interpolation=cv2.INTER_AREA)

    return change


def rolled(degrees: float) -> Change:
    def change(picture: Picture) -> np.ndarray:
        h, w = picture.rgb.shape[:2]
        turn = cv2.getRotationMatrix2D((w / 2, h / 2), degrees, 1.0)
        return cv2.warpAffine(picture.rgb, turn, (w, h), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)

    return change


def _middle(picture: Picture) -> np.ndarray:
    return np.mean([picture.points[n] for n in ("en_right", "en_left")], axis=0) + np.array([0.0, 25 * picture.pixels_per_mm])


def cut(picture: Picture) -> np.ndarray:
    """A third of the face's width lies beyond the left edge."""
    return np.ascontiguousarray(picture.rgb[:, round(_middle(picture)[0] - _FACE_MM / 3 * picture.pixels_per_mm) :])


def covered(picture: Picture) -> np.ndarray:
    """Something of the skin's colour before the left eye."""
    out, px = picture.rgb.copy(), picture.pixels_per_mm
    x, y = (round(v) for v in picture.points["pu_left"])
    cheek = out[y + round(24 * px) : y + round(30 * px), x - round(6 * px) : x + round(6 * px)].reshape(-1, 3).mean(0)
    cv2.ellipse(out, (x, y), (round(19 * px), round(13 * px)), 0, 0, 360, [float(c) for c in cheek], -1, cv2.LINE_AA)
    return out


def _warped(picture: Picture, where: Callable[[np.ndarray, np.ndarray], tuple[np.ndarray, np.ndarray]]) -> np.ndarray:
    """Each pixel from where it was before, both in mm from the middle of the face."""
    h, w = picture.rgb.shape[:2]
    centre, px = _middle(picture), picture.pixels_per_mm
    yy, xx = np.mgrid[0:h, 0:w].astype(np.float32)
    x, y = where((xx - centre[0]) / px, (yy - centre[1]) / px)
    maps = ((v * px + c).astype(np.float32) for v, c in ((x, centre[0]), (y, centre[1])))
    return cv2.remap(picture.rgb, *maps, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)


def _depth(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """How far a place of the face stands before its outline, mm: an ellipsoid, and a nose."""
    a, b, c = _HEAD_MM
    return c * np.sqrt(np.clip(1 - (x / a) ** 2 - (y / b) ** 2, 0, None)) + 22 * np.exp(-(x**2) / 14**2 - y**2 / 20**2)


def nodded(degrees: float) -> Change:
    return lambda picture: _warped(picture, lambda x, y: (x, y - np.sin(np.radians(degrees)) * _depth(x, y)))


def taken_from(mm: float) -> Change:
    """Taken from so near: what stands out is larger, the eyes as large as before."""

    def where(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        far = mm + _HEAD_MM[2]
        share = (far - _depth(x, y)) / (far - float(_depth(np.array(31.0), np.array(-25.0))))
        return x * share, y * share

    return lambda picture: _warped(picture, where)


VARIANTS = {
    "under-exposed, × 0.4": Variant({"exposure": 0.4}),
    "under-exposed, × 0.15": Variant({"exposure": 0.15}),
    "over-exposed, × 1.3": Variant({"exposure": 1.3}),
    "warm light": Variant(pixels=tinted(1.06, 0.98, 0.74)),
    "warm and dim": Variant({"exposure": 0.7}, tinted(1.06, 0.98, 0.74)),
    "grey": Variant(pixels=grey),
    "soft, 1.5 pixels": Variant({"blur_px": 1.5}),
    "grain, × 4": Variant({"grain": 4.0}),
    "JPEG of quality 60": Variant(pixels=packed(60)),
    "640 pixels high": Variant(pixels=smaller(640)),
    "turned by 3°": Variant({"yaw_deg": 3.0}),
    "nodded by 4°": Variant(pixels=nodded(4.0)),
    "rolled by 5°": Variant(pixels=rolled(5.0)),
    "from 30 cm": Variant(pixels=taken_from(300.0)),
    "a third outside": Variant(pixels=cut),
    "one eye covered": Variant(pixels=covered),
    "light from the left, 0.45": Variant({"light": 0.45}),
    "light from the left, 0.6": Variant({"light": 0.6}),
}


def taken(scene: Scene, variant: Variant, folder: Path = HEADS) -> tuple[dict[str, Measured], Seen] | None:
    """Readings and quality of a picture to which a variant was done; None where no face can be followed."""
    rgb = variant.pixels(shoot(replace(scene, **variant.scene), folder))  # type: ignore[arg-type]
    try:
        shot = shot_of(locate(rgb), rgb)
    except FaceError:
        return None
    assert shot.seen
    return measured_on(shot, None)[1], shot.seen


def variants_part() -> None:
    """How far each variant moves the readings of a pose, in SDs of a single shot's band, where it is not refused, and what is said of
    it."""
    scenes = [Scene(identity=who, state="uneven", seed=seed) for who in UNSEEN for seed in AT_REST]
    plain = [found for scene in scenes if (found := taken(scene, Variant()))]
    print("\n| variant | eye opening | brow | mouth corner | not read | refused | remarks |\n| --- | --- | --- | --- | --- | --- | --- |")
    for name, variant in VARIANTS.items():
        moved: dict[str, list[float]] = {k: [] for k in TRUE}
        refused, lost, asked, remarks = 0, 0, 0, Counter[str]()
        for scene, (before, own) in zip(scenes, plain, strict=True):
            found = taken(scene, variant)
            checks = list(judge(found[1], FRONT, own=own)) if found else []
            if found is None or standing(checks) == Standing.RETAKE:
                refused += 1
                remarks.update(c.name for c in checks if c.weight == "stop")
                continue
            remarks.update(c.name for c in checks if c.weight == "watch" and c.id != "untimed")
            for key in TRUE:
                asked += key in before
                lost += key in before and key not in found[0]
                if key in before and key in found[0]:
                    moved[key].append((found[0][key].value - before[key].value) / (READINGS[key].noise.of_one(1) / 1.96))
        cells = [f"{rms(v):.2f}, at most {max(map(abs, v)):.1f}" if v else "" for v in moved.values()]
        listed = ", ".join(f"{k} ({n})" for k, n in remarks.most_common(3)) or "none"
        unread = f"{lost / asked:.0%}" if asked else ""
        print(f"| {name} | " + " | ".join(cells) + f" | {unread} | {refused} of {len(scenes)} | {listed} |", flush=True)
