"""The lid margins: where the open eye ends above and below the iris centre.

A map says of each pixel how much it belongs to the open eye. Inside the iris the question is "iris or skin", outside it
"white of the eye or skin", so that the edge of the iris itself leaves no edge in the map. What is thin and dark is a lash and
no iris; a bright hole in the iris is its highlight; and where iris and lashes are of two colours, what has the colour of the lashes
beside the iris is none of it, however thick they are. A parabola is laid where the map steps most: searched coarsely over a
grid, arched over the iris as far as the map says, then fitted column by column. Where a second line would fit nearly as well, there is
little trust in the first. Lashes so thick that no skin shows between them, before an iris of their own colour, count as iris: they
raise the margin by their thickness, on every day alike.

Lengths are millimetres on the face and areas square millimetres; heights are y in crop pixels, downwards.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from .crop import PX_PER_MM, Crop, peaks, sample, tukey

Table = tuple[np.ndarray, np.ndarray]
"""The detector's own lid as heights over places: x (n,) rising, y (n,), crop pixels."""
_MM2 = PX_PER_MM**2
"""Pixels in a square millimetre."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ColourTuning:
    """From where the colours of the eye and of the skin are learnt. Tuned on three heads that
    ``studies.truth`` uses for nothing."""

    beside: float = 1.5
    """Iris radii to each side of the iris centre within which colours are learnt; further out lie the corners with their own."""
    inside_lid_mm: float = 0.8
    """So far inside the detector's lids a pixel is surely eye: the detector's lids are off by up to half a millimetre."""
    white_from: float = 1.12
    """Iris radii from which on it is the white: the dark rim of the iris blurs outwards by a tenth."""
    least_white_mm2: float = 0.94
    least_iris_mm2: float = 0.63
    least_skin_mm2: float = 0.94
    """With less the medians are those of a few lashes or of a highlight."""
    above_mm: tuple[float, float] = (2.2, 4.5)
    below_mm: tuple[float, float] = (3.0, 7.0)
    """Bands of skin beyond the detector's lids, clear of lashes above and of the tear trough's fold below."""
    noise: tuple[float, float, float] = (16.0, 4.0, 4.0)
    """Variance of the skin that is taken for granted (L, a, b): a small patch would else claim to know its colour exactly."""
    least_apart: float = 0.25
    """Squared distance of white and skin, in spreads of the skin, below which the two cannot be told apart."""
    lash_mm: float = 1.2
    """What is dark and thinner across is a lash and no iris."""
    highlight_mm: float = 3.0
    """A bright hole up to this size in the iris is the cornea's highlight."""
    lash_band: tuple[float, float, float, float] = (0.0, 2.0, 1.05, 1.6)
    """Where lashes are seen before skin: from and to so many mm above the detector's lid, so many iris radii to its sides."""
    darkest: float = 40.0
    """Percentage of that band, by lightness, which are lashes and no skin between them."""
    least_band_mm2: float = 1.2
    weigh_light: float = 0.25
    """Weight of lightness beside that of colour where lashes are told from the iris: shade changes it, and lids throw shade."""
    other_colour: tuple[float, float] = (6.0, 14.0)
    """Distance of the colours of lashes and iris at which they begin to be told apart, and are."""
    pupil: float = 0.6
    """What is darker than this share of both is the pupil, and belongs to the eye."""
    rim: float = 0.12
    """Width of the soft border between the two questions, in iris radii."""
    rim_zone: float = 0.15
    rim_mm: float = 0.8
    """So many iris radii from the edge of the iris, gaps up to this size are its rim's."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SearchTuning:
    """How a lid margin is searched and fitted. Tuned as ``ColourTuning``."""

    span: float = 2.2
    """Iris radii to each side of the iris centre over which a lid is followed, as far as there is an eye: the detector's curve, bent by
    a parabola, holds so far."""
    corner_mm: float = 2.5
    """Nothing is followed nearer to a corner of the eye than this."""
    in_iris: float = 0.6
    """Weight of a column within the iris, but while its arch is looked for: lashes are as dark as an iris, so the white on both sides
    tells more of which edge it is; how high its middle stands only the iris tells."""
    smooth_mm: tuple[float, float] = (0.5, 0.3)
    """Smoothing along and across the lid; more across would round the margin off."""
    reach_mm: float = 3.4
    """How far the margin may lie from the detector's lid, up or down."""
    slopes_mm: tuple[float, float] = (1.2, 0.3)
    bends_mm: tuple[float, float] = (1.4, 0.35)
    """Largest and step of what the grid adds to the detector's lid at the end of its span: tilt, and sag."""
    arches_mm: tuple[float, float, float] = (-1.2, 2.0, 0.2)
    """Least and most by which the middle of an upper lid is looked for above that line, and the step."""
    arch_wide: float = 1.35
    """Width of such an arch, in iris radii."""
    arch_usual_mm: tuple[float, float] = (1.0, 1.6)
    """Up to here an arch is the lid's own; further off it is more likely a thick row of lashes, and at the second nothing is trusted."""
    arch_like_mm: float = 1.5
    """Spread of what is believed beforehand of it."""
    near_mm: float = 2.6
    like_mm: float = 1.2
    """Spread of what is believed beforehand: of the shift, and of tilt and sag together."""
    most_step: float = 0.12
    """A step counts at most so much a pixel: lashes and highlights step harder than a lid, and must not outvote it."""
    fit_mm: float = 0.6
    """How far from the coarse line each column's step is looked for."""
    believed_mm: float = 0.6
    """Spread of the belief in the coarse line at that."""
    rounds: int = 8
    strict_mm: float = 0.6
    """The fit lets go of columns ever nearer to it, round by round, down to this."""
    evidence_mm: float = 0.5
    """Columns count as evidence by how near they lie to the margin."""
    enough: float = 0.04
    """More evidence than this outweighs no other edge."""
    apart_mm: float = 0.9
    """From which distance on a second line is another edge, and no other course of the same one."""
    rival: tuple[float, float] = (0.7, 0.95)
    """Share of the best line's score at which another edge begins to take its trust, and takes all of it."""
    ridge: tuple[float, float, float] = (1e-4, 0.02, 0.05)
    """Pull of height, tilt and sag towards the coarse line, so that few columns cannot bend it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Columns:
    """Where a lid is looked for: x in crop pixels, the same in iris radii from the iris centre, and whether the iris is there.

    All are (n,).
    """

    xs: np.ndarray
    along: np.ndarray
    in_iris: np.ndarray


COLOURS = ColourTuning()
UPPER, LOWER = SearchTuning(), SearchTuning(span=1.6, in_iris=1.0, fit_mm=0.9, arches_mm=(0.0, 0.0, 0.2))
"""There are no lashes to speak of below: there the iris tells as much as the white."""
LEAST_COLUMNS = 15
"""With fewer, as of an eye that is turned away, there is no lid to follow."""
_COLUMNS = 61
"""Columns over the span: about one a crop pixel, which is all the picture holds."""


def eye_maps(
    crop: Crop, centre: np.ndarray, radius: float, upper: Table, lower: Table, tuning: ColourTuning = COLOURS
) -> tuple[np.ndarray, np.ndarray] | None:
    """Two maps (h, w) float32, 0..1: how much each pixel belongs to the open eye, against the skin above and below.

    ``centre`` (2,) and ``radius`` of the iris are crop pixels. Lashes count as skin: their length is not the lid's. None where
    there is too little white of the eye, or too little skin, to learn its colour from.
    """
    lab, mm, of = crop.lab, PX_PER_MM, tuning
    light = np.ascontiguousarray(lab[..., 0])
    yy, xx = np.arange(crop.height, dtype=np.float32)[:, None], np.arange(crop.width, dtype=np.float32)[None]
    rho = np.sqrt((xx - np.float32(centre[0])) ** 2 + (yy - np.float32(centre[1])) ** 2)
    top, bottom = np.interp(xx[0], *upper), np.interp(xx[0], *lower)
    near = np.abs(xx - centre[0]) < of.beside * radius
    core = (yy > top + of.inside_lid_mm * mm) & (yy < bottom - of.inside_lid_mm * mm) & near
    white = core & (rho > of.white_from * radius)
    if white.sum() < of.least_white_mm2 * _MM2:
        return None
    sclera = _whitest(lab[white])
    iris = _iris_light(light, rho=rho / radius, core=core & (np.abs(yy - centre[1]) < 0.5 * radius), of=of)
    inside = np.clip((np.float32(radius) - rho) / np.float32(of.rim * radius) + np.float32(0.5), 0, 1)

    reach = (1 + of.rim) * radius + (of.highlight_mm + of.lash_mm) * mm  # from further out nothing reaches into the iris
    left, up = (max(int(c - reach), 0) for c in centre)
    iris_part = np.s_[up : int(centre[1] + reach) + 1, left : int(centre[0] + reach) + 1]
    # The dark rim of the iris answers neither question; below, where white shows under it, it must not look like the edge of a lid.
    rim = ((np.abs(rho / radius - 1) < of.rim_zone) & (yy > centre[1]))[iris_part]

    def against(band: np.ndarray, own: np.ndarray | float = 1.0) -> np.ndarray | None:
        around = lab[band & near]
        if len(around) < of.least_skin_mm2 * _MM2:
            return None
        skin = np.median(around, 0)
        # The direction in which white and skin differ most for how much skin differs from itself (Fisher's discriminant).
        spread = np.cov((around - skin).T) + np.diag(of.noise)
        axis = np.linalg.solve(spread, sclera - skin)
        apart = float(axis @ (sclera - skin))
        if apart < of.least_apart:
            return None
        white_share = np.clip((lab @ axis.astype(np.float32) - np.float32(axis @ skin)) / np.float32(apart), 0, 1)
        lash = np.clip((sclera[0] - light) / np.float32(max(0.55 * sclera[0], 1)), 0, 1)
        outside = white_share * np.clip(1.6 - 1.6 * lash, 0, 1)
        darker = np.clip((skin[0] - light[iris_part]) / np.float32(max(skin[0] - iris, 6.0)), 0, 1)
        out = ((1 - inside) * outside).astype(np.float32)
        out[iris_part] += inside[iris_part] * _without_lashes(darker, of) * own
        out[iris_part] = np.where(rim, cv2.morphologyEx(out[iris_part], cv2.MORPH_CLOSE, _disc(of.rim_mm)), out[iris_part])
        return out

    (near_a, far_a), (near_b, far_b) = of.above_mm, of.below_mm
    lid, side = (top - yy) / mm, np.abs(xx - centre[0]) / radius
    lashes = (lid > of.lash_band[0]) & (lid < of.lash_band[1]) & (side > of.lash_band[2]) & (side < of.lash_band[3])
    strip = core & (rho < 0.85 * radius) & (rho > 0.35 * radius) & (np.abs(yy - centre[1]) < 0.5 * radius)
    of_iris = _of_the_iris(lab[iris_part], lashes=lab[lashes], strip=lab[strip], of=of)
    above = against((yy < top - near_a * mm) & (yy > top - far_a * mm), of_iris)
    below = against((yy > bottom + near_b * mm) & (yy < bottom + far_b * mm))
    return None if above is None or below is None else (above, below)


def _of_the_iris(lab: np.ndarray, lashes: np.ndarray, strip: np.ndarray, of: ColourTuning) -> np.ndarray | float:
    """How much each pixel of ``lab`` (h, w, 3) has the colour of the iris and not that of the lashes, 0..1 (h, w); 1 where the two are of
    one colour.

    ``lashes`` are the colours (n, 3) where they stand before skin, ``strip`` those of the iris that no lid covers.
    """
    if len(lashes) < of.least_band_mm2 * _MM2 or len(strip) < of.least_iris_mm2 * _MM2:
        return 1.0
    lash = np.median(lashes[lashes[:, 0] <= np.percentile(lashes[:, 0], of.darkest)], 0)
    iris, weight = np.median(strip, 0), np.array([of.weigh_light, 1.0, 1.0], np.float32)
    far = float(np.linalg.norm((iris - lash) * weight))
    low, high = of.other_colour
    told = float(np.clip((far - low) / (high - low), 0, 1))
    if not told:
        return 1.0
    axis = (iris - lash) * weight**2
    share = np.clip(((lab @ axis) - float(lash @ axis)) / np.float32(far**2), 0, 1)
    share[lab[..., 0] < of.pupil * min(iris[0], lash[0])] = 1.0
    whole = cv2.morphologyEx(share.astype(np.float32), cv2.MORPH_CLOSE, _disc(of.highlight_mm))
    return np.asarray(1 - told * (1 - whole))


def _without_lashes(dark: np.ndarray, of: ColourTuning) -> np.ndarray:
    """A map of what is dark (h, w) without what is thin across, such as lashes, and with its small bright holes, such as the highlight of
    the cornea, filled."""
    thin = round(of.lash_mm * PX_PER_MM) | 1
    wide = cv2.morphologyEx(dark.astype(np.float32), cv2.MORPH_OPEN, np.ones((1, thin), np.uint8))
    return cv2.morphologyEx(wide, cv2.MORPH_CLOSE, _disc(of.highlight_mm))


def _disc(mm: float) -> np.ndarray:
    """What fills holes up to so many millimetres across."""
    across = round(mm * PX_PER_MM) | 1
    return cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (across, across))


def _whitest(colours: np.ndarray) -> np.ndarray:
    """Median colour (3,) of the whiter half of colours (n, 3): what is left are veins, shadows and lashes."""
    whiteness = colours[:, 0] - 0.8 * np.hypot(colours[:, 1], colours[:, 2])
    return np.median(colours[whiteness >= np.median(whiteness)], 0)


def _iris_light(light: np.ndarray, rho: np.ndarray, core: np.ndarray, of: ColourTuning) -> float:
    """Median lightness of the iris, from a strip (``core``) that no lid covers; ``rho`` is the distance in radii. A narrow eye
    has no such strip, and the middle of the iris must do."""
    inner = (rho < 0.85) & core
    if inner.sum() < of.least_iris_mm2 * _MM2:
        inner = rho < 0.6
    return float(np.median(light[inner]))


def lid_height(
    eye_map: np.ndarray, centre: np.ndarray, radius: float, base: Table, *, upper: bool, tuning: SearchTuning | None = None
) -> tuple[float, float]:
    """Height of a lid margin at the iris centre, and the mean step of the map across it, 0..1 a pixel.

    The step is its evidence; less where another edge competes.
    """
    tuning = tuning or (UPPER if upper else LOWER)
    smooth = cv2.GaussianBlur(eye_map, (0, 0), sigmaX=tuning.smooth_mm[0] * PX_PER_MM, sigmaY=tuning.smooth_mm[1] * PX_PER_MM)
    # Sobel's kernel sums to 8, so this is the step a pixel; down into the eye at the upper lid, out of it at the lower.
    step = np.clip((1 if upper else -1) * cv2.Sobel(smooth, cv2.CV_32F, 0, 1, ksize=3) / 8.0, 0, None)
    along = np.linspace(-tuning.span, tuning.span, _COLUMNS)
    xs = centre[0] + along * radius
    inset = tuning.corner_mm * PX_PER_MM
    kept = (xs > base[0][0] + inset) & (xs < base[0][-1] - inset)
    if kept.sum() < LEAST_COLUMNS or not along[kept][0] < 0 < along[kept][-1]:
        return float(np.interp(centre[0], *base)), 0.0
    columns = Columns(xs=xs[kept], along=along[kept], in_iris=np.abs(along[kept]) < 1.05)
    line, rival = _search(step, columns, base=base, of=tuning)
    line, arch_mm = _arched(step, columns, line=line, of=tuning)
    height, evidence = _fit(step, columns, line=line, of=tuning)
    (low, high), (usual, most) = tuning.rival, tuning.arch_usual_mm
    doubt = np.clip((high - rival) / (high - low), 0, 1) * np.clip((most - abs(arch_mm)) / (most - usual), 0, 1)
    return height, min(evidence, tuning.enough) * float(doubt)


def _search(step: np.ndarray, at: Columns, base: Table, of: SearchTuning) -> tuple[np.ndarray, float]:
    """The line (n,) over the columns along which the map steps most, among the detector's lid shifted, tilted and sagged; and the share of
    its score that the best line has which lies clearly apart from it."""
    mm, height = PX_PER_MM, step.shape[0]
    start = np.interp(at.xs, *base)
    shift = np.arange(-of.reach_mm * mm, of.reach_mm * mm + 0.1, 1.0)
    slopes, bends = (np.arange(-most, most + 0.01, by) * mm for most, by in (of.slopes_mm, of.bends_mm))
    every = slice(0, len(at.xs), 2)  # every other column: the grid needs no more, and takes half the time
    t, weight = at.along[every], np.where(at.in_iris[every], of.in_iris, 1.0)
    places = np.repeat(at.xs[every][:, None], height, 1), np.repeat(np.arange(height)[None], len(t), 0)
    strips = np.minimum(sample(step, x=places[0], y=places[1]), of.most_step)
    shape = (slopes[:, None, None] * t + bends[None, :, None] * t**2).reshape(-1, len(t))
    rows = np.rint(start[every] + shift[:, None, None] + shape[None]).astype(np.intp).clip(0, height - 1)
    score = strips[np.arange(len(t)), rows] @ (weight / weight.sum())
    score = score * np.exp(-0.5 * (shift / (of.near_mm * mm)) ** 2)[:, None]
    score = score * np.exp(-0.5 * (slopes[:, None] ** 2 + bends[None] ** 2) / (of.like_mm * mm) ** 2).reshape(1, -1)
    i, m = np.unravel_index(int(score.argmax()), score.shape)
    line = start + shift[i] + slopes[m // len(bends)] * at.along + bends[m % len(bends)] * at.along**2
    best = score.max(1)
    peak = np.r_[False, (best[1:-1] >= best[:-2]) & (best[1:-1] >= best[2:]), False]
    rivals = best[peak & (np.abs(shift - shift[i]) > of.apart_mm * mm)]
    return line, float(rivals.max() / best[i]) if len(rivals) and best[i] > 0 else 0.0


def _arched(step: np.ndarray, at: Columns, line: np.ndarray, of: SearchTuning) -> tuple[np.ndarray, float]:
    """The line with so much more of an arch over the iris as it steps most along, and how much that is in mm.

    The middle of a lid rises and falls further than its ends, and no parabola through the white beside the iris shows it.
    """
    arch = np.exp(-((at.along / of.arch_wide) ** 2))
    weight = np.maximum(arch, 0.15)
    low, high, by = of.arches_mm
    amounts = np.arange(low, high + 1e-6, by) * PX_PER_MM
    rows = line - amounts[:, None] * arch
    steps = np.minimum(sample(step, x=np.repeat(at.xs[None], len(amounts), 0), y=rows), of.most_step)
    score = steps @ (weight / weight.sum()) * np.exp(-0.5 * (amounts / (of.arch_like_mm * PX_PER_MM)) ** 2)
    most = float(amounts[int(score.argmax())])
    return line - most * arch, most / PX_PER_MM


def _fit(step: np.ndarray, at: Columns, line: np.ndarray, of: SearchTuning) -> tuple[float, float]:
    """Height in the middle, and evidence, of a parabola through each column's strongest step near ``line``.

    Weighted least squares with Tukey's biweight, whose width shrinks from round to round (as in a graduated fit, so that the
    first rounds see all columns and the last only those that agree), and a small ridge.
    """
    mm = PX_PER_MM
    reach = np.arange(-of.fit_mm * mm, of.fit_mm * mm + 0.1, 1.0)
    across = sample(step, x=np.repeat(at.xs[:, None], len(reach), 1), y=line[:, None] + reach)
    found, strength = peaks(across * np.exp(-0.5 * (reach / (of.believed_mm * mm)) ** 2))
    share = np.where(at.in_iris, of.in_iris, 1.0)
    offset, weight = reach[0] + found, np.minimum(strength, of.most_step) * share
    powers = np.stack([np.ones_like(at.along), at.along, at.along**2], 1)
    bend = np.zeros(3)
    for k in range(of.rounds):
        width = max(of.fit_mm * mm * (of.rounds - k) / of.rounds, of.strict_mm * mm)
        w = weight * tukey(offset - powers @ bend, width)
        bend = np.linalg.solve((powers * w[:, None]).T @ powers + np.diag(of.ridge), (powers * w[:, None]).T @ offset)
    evidence = float((weight * tukey(offset - powers @ bend, of.evidence_mm * mm)).sum() / share.sum())
    return float(np.interp(0.0, at.along, line) + bend[0]), evidence
