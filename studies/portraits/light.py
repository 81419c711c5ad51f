"""Light on the painted head: key with soft shadow, sky, fill, occlusion, skin scattering, lashes, backdrop."""

from __future__ import annotations

from collections.abc import Mapping

import cv2
import numpy as np
from scipy.ndimage import gaussian_filter1d

from .head import BODY, EYE_LEFT, EYE_RIGHT, SHADOW_SIZE, SHADOW_SPAN, Buffers, Head
from .mesh import Array
from .paint import Surface
from .raster import F32, blur, linear, smoothstep


def soft_shadow(b: Buffers, eye: Array) -> Array:
    """Share of the key light that reaches each pixel (percentage-closer filtering of the depth map)."""
    sx = SHADOW_SIZE / 2 + (b.posed @ b.light_x) * SHADOW_SIZE / SHADOW_SPAN
    sy = SHADOW_SIZE / 2 - (b.posed @ b.light_y) * SHADOW_SIZE / SHADOW_SPAN
    depth, total, taps = b.posed @ b.light, np.zeros(sx.shape, F32), 0
    for radius in (2, 5, 9, 14, 20, 27):
        for k in range(6):
            angle = k * np.pi / 3 + radius
            seen = cv2.remap(
                b.shadow,
                (sx + radius * np.cos(angle)).astype(F32),
                (sy + radius * np.sin(angle)).astype(F32),
                cv2.INTER_NEAREST,
                borderMode=cv2.BORDER_CONSTANT,
                borderValue=-1e9,
            )
            total += seen - depth > 0.02 + 0.0035 * radius
            taps += 1
    lit = 1 - blur(total / taps, 1.5 * b.scale)
    return np.where(eye, 1 - (1 - lit) * 0.4, lit)


def occlusion(b: Buffers, drawn: Array) -> Array:
    """Darkening of hollows, from the depth minus its blurred self at four sizes."""
    depth = np.where(drawn, b.depth, b.depth[drawn].min() - 1).astype(F32)
    out, mask = np.ones(depth.shape, F32), drawn.astype(F32)
    for sigma, strength in ((3, 5.0), (9, 2.4), (26, 0.9), (70, 0.28)):
        around = blur(depth * drawn, sigma * b.scale / 2) / np.maximum(blur(mask, sigma * b.scale / 2), 1e-3)
        out *= np.exp(-np.clip(around - depth, 0, 0.5) * strength)
    return out


def lashes(b: Buffers, seed: int, long: float = 1.0) -> Array:
    """Lash lines and lashes along both lid margins, 0..1; ``long`` is how long and dense the lashes are, 0 for none that show."""
    sheet, rng, s = np.zeros(b.ids.shape, np.uint8), np.random.default_rng(seed + 3), b.scale
    for part, side in ((EYE_LEFT, 1), (EYE_RIGHT, -1)):
        mask = b.ids == part
        xs = np.where(mask.sum(0) > s)[0]
        if len(xs) < 20 * s:
            continue
        top = gaussian_filter1d(np.argmax(mask[:, xs], 0).astype(float), 2 * s)
        bottom = gaussian_filter1d((len(mask) - 1 - np.argmax(mask[::-1, xs], 0)).astype(float), 2 * s)
        along = (xs - xs[0]) / (xs[-1] - xs[0])
        outward = along if side == 1 else 1 - along
        for i in range(len(xs) - 1):
            a, c = (int(xs[i]), int(top[i])), (int(xs[i + 1]), int(top[i + 1]))
            cv2.line(sheet, a, c, 230, max(1, int(s * (0.8 + 1.6 * outward[i]))), cv2.LINE_AA)
            a, c = (int(xs[i]), int(bottom[i])), (int(xs[i + 1]), int(bottom[i + 1]))
            cv2.line(sheet, a, c, 60, max(1, int(s * 0.8)), cv2.LINE_AA)
        for _ in range(int(85 * min(long, 1.6))):
            i = rng.integers(2, len(xs) - 2)
            length = s * (5 + 9 * outward[i]) * rng.uniform(0.6, 1.1) * long
            angle = np.radians(np.interp(outward[i], [0, 0.5, 1], [120, 88, 38]) + rng.normal(0, 6))
            bend = angle + np.radians(24) * np.linspace(0, 1, 6) * (1 if outward[i] > 0.45 else -1)
            px = xs[i] + side * np.cumsum(np.r_[0, np.cos(bend[:-1])]) * length / 5
            py = top[i] - np.cumsum(np.r_[0, np.sin(bend[:-1])]) * length / 5 * 0.75
            points = np.round(np.stack([px, py], 1) * 16).astype(np.int32)
            cv2.polylines(sheet, [points], False, int(rng.uniform(150, 245)), 1 if s < 2 else 2, cv2.LINE_AA, 4)
        for _ in range(int(45 * min(long, 1.6))):
            i = rng.integers(4, len(xs) - 4)
            length = s * (2 + 3.5 * outward[i]) * rng.uniform(0.6, 1.1)
            angle = np.radians(np.interp(outward[i], [0, 0.5, 1], [-110, -88, -45]) + rng.normal(0, 8))
            end = (int(xs[i] + side * np.cos(angle) * length), int(bottom[i] - np.sin(angle) * length))
            cv2.line(sheet, (int(xs[i]), int(bottom[i]) + 1), end, int(rng.uniform(40, 90)), 1, cv2.LINE_AA)
    return blur(sheet, 0.55 * s).astype(F32) / 255


def loose_hairs(hair: Array, style: Mapping[str, object], scale: int, seed: int) -> Array:
    """A few stray hairs along the outline, so that the hair does not end like a cap; 0..1."""
    sheet, rng = np.zeros(hair.shape, np.uint8), np.random.default_rng(seed + 21)
    edge = blur((hair > 0.5).astype(F32), 3 * scale)
    ys, xs = np.where((edge > 0.35) & (edge < 0.6))
    h, w = hair.shape
    for q in rng.choice(len(xs), 420) if len(xs) else ():
        x0, y0 = xs[q], ys[q]
        on_top = y0 < h * 0.47 - scale * 345 * 0.45
        angle = np.arctan2(-(y0 - h * 0.45), x0 - w / 2) + np.pi / 2 * rng.choice([-1, 1]) * (1 if on_top else 0.12)
        angle, length = angle + rng.normal(0, 0.25), scale * rng.uniform(10, 34)
        bend = angle + np.linspace(0, 1, 8) * rng.normal(0, 0.7)
        px, py = x0 + np.cumsum(np.cos(bend)) * length / 8, y0 - np.cumsum(np.sin(bend)) * length / 8
        points = np.round(np.stack([px, py], 1) * 16).astype(np.int32)
        cv2.polylines(sheet, [points], False, int(rng.uniform(40, 150)), 1, cv2.LINE_AA, 4)
    return blur(sheet, 0.5 * scale).astype(F32) / 255 * 0.8


def shade(head: Head, b: Buffers, s: Surface, style: Mapping[str, object], seed: int) -> Array:
    """The finished linear image (h, w, 3) at rendering size."""
    h, w = b.ids.shape
    drawn, body, eye = b.ids >= 0, b.ids == BODY, (b.ids == EYE_LEFT) | (b.ids == EYE_RIGHT)
    n = s.normal
    lit, hollow = soft_shadow(b, eye), occlusion(b, drawn)
    fill_direction = np.array([0.75, 0.1, 0.65], F32)
    fill_direction /= np.linalg.norm(fill_direction)
    key = np.clip((n @ b.light + 0.25) / 1.25, 0, 1) * (lit * 0.95 + 0.05)
    sky = hollow * (0.16 + 0.20 * (0.5 + 0.5 * n[..., 1]))
    fill = hollow * np.clip((n @ fill_direction + 0.2) / 1.2, 0, 1)
    light = key[..., None] * np.array([1.02, 0.97, 0.90], F32) + sky[..., None] * np.array([0.93, 0.97, 1.05], F32)
    light += fill[..., None] * np.array([0.209, 0.213, 0.22], F32) + (hollow * np.clip(n[..., 2], 0, 1))[..., None] * 0.12

    skin = (body & (s.hair < 0.5) & (s.cloth < 0.5)).astype(F32)
    scattered = light.copy()
    for channel, sigma in enumerate((9, 4, 2.2)):  # light spreads in skin, red furthest
        spread = blur(light[..., channel] * skin, sigma * b.scale / 2)
        scattered[..., channel] = spread / np.maximum(blur(skin, sigma * b.scale / 2), 1e-3)
    light = np.where(skin[..., None] > 0.5, 0.25 * light + 0.75 * scattered, light)
    rim = blur((~eye).astype(F32), 3.5 * b.scale)
    lid_shadow = blur(np.roll((~eye).astype(F32), int(7 * b.scale), 0), 3 * b.scale)
    in_socket = (1 - 0.55 * np.clip(rim * 1.3, 0, 1) - 0.30 * np.clip(lid_shadow, 0, 1))[..., None] * 1.02
    colour = s.colour * np.where(eye[..., None], light * in_socket, light)

    half = b.light + np.array([0, 0, 1], F32)
    half /= np.linalg.norm(half)
    nh = np.clip(n @ half, 0, 1)
    x, y = b.rest[..., 0], b.rest[..., 1] - head.eye_y
    shine = 1 + 0.6 * np.exp(-((x / 0.14) ** 2) - ((y + 0.25) / 0.3) ** 2) + 0.5 * np.exp(-((x / 0.4) ** 2) - ((y - 0.4) / 0.2) ** 2)
    gloss = (0.05 * nh**14 + 0.055 * nh**42 * shine * (1 + 0.25 * s.mottle)) * lit * skin
    gloss *= 1 - 0.85 * np.clip(s.brow_shadow * 1.4, 0, 1)
    gloss += s.lips * body * (0.10 * nh**30 + 0.05 * nh**90) * lit * (1 + 0.5 * s.fine)
    gloss += 0.05 * (1 - np.clip(n[..., 2], 0, 1)) ** 5 * skin * hollow
    colour += gloss[..., None] * np.array([1, 0.97, 0.94], F32)

    along = np.zeros_like(b.normal)  # hair highlight after Kajiya and Kay (1989)
    along[..., 1], along[..., 2] = 0.15, -1
    along -= b.normal * np.einsum("ijk,ijk->ij", along, b.normal)[..., None]
    along /= np.maximum(np.linalg.norm(along, axis=2, keepdims=True), 1e-6)
    sine = np.sqrt(np.clip(1 - (along @ half + 0.06 * s.strands) ** 2, 0, 1))
    streaks = (0.055 * sine**26 + 0.03 * sine**90) * s.hair * (0.5 + 0.5 * lit) * np.clip(0.3 + b.normal[..., 2], 0, 1)
    hair_colour = linear(style["hair"])
    colour += streaks[..., None] * (hair_colour**0.5 * 1.2 + 0.15)

    for part, (cx, cy, _) in zip((EYE_LEFT, EYE_RIGHT), head.eye_centres, strict=True):
        where, dx, dy = b.ids == part, b.rest[..., 0] - cx, b.rest[..., 1] - cy
        glint = smoothstep(0.014, 0.008, np.hypot((dx + 0.019) * 1.15, (dy - 0.021) * 0.95))
        glint = glint + 0.28 * smoothstep(0.012, 0.006, np.hypot(dx - 0.026, dy + 0.024))
        colour[where] += (glint[where] * 0.75)[:, None]

    lash = (lashes(b, seed, float(style.get("lash", 1.0))) * 0.95)[..., None]
    colour = colour * (1 - lash) + linear((38, 26, 22)) * lash
    yy, xx = np.mgrid[0:h, 0:w].astype(F32)
    away = np.hypot((xx - w * 0.42) / w, (yy - h * 0.38) / h)
    backdrop = linear(style.get("bg", (186, 188, 186))) * (1.12 - 0.75 * away)[..., None]
    cloud = cv2.resize(np.random.default_rng(seed).normal(0, 1, (9, 7)).astype(F32), (w, h), interpolation=cv2.INTER_CUBIC)
    backdrop *= (1 + 0.025 * cloud)[..., None]
    cover = blur(drawn.astype(F32), 0.6 * b.scale)[..., None]
    colour = np.where(drawn[..., None], colour, backdrop)
    colour = colour * cover + backdrop * (1 - cover)
    stray = loose_hairs(s.hair * drawn, style, b.scale, seed)[..., None]
    return colour * (1 - stray) + hair_colour * 0.9 * stray


def develop(colour: Array, size: tuple[int, int], seed: int) -> Array:
    """Tone curve, reduction to the final size and film grain; returns 8-bit RGB."""
    toned = np.clip(colour, 0, None)
    toned = np.clip(toned / (1 + 0.18 * toned) * 1.12, 0, 1) ** (1 / 2.2)
    image = cv2.resize(toned.astype(F32), size, interpolation=cv2.INTER_AREA)
    rng = np.random.default_rng(seed + 11)
    image = image + rng.normal(0, 0.006, (size[1], size[0], 1)) + rng.normal(0, 0.004, image.shape)
    return (np.clip(image, 0, 1) * 255).astype(np.uint8)
