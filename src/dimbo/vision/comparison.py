"""Two photographs side by side: aligned on the eye corners and the base of the nose, cropped alike, never retouched."""

from __future__ import annotations

import io
from collections.abc import Mapping

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont

from dimbo.core.safety.cautions import STANDING_LINE
from dimbo.core.sittings.frame import CANTHI, Point

from .photograph import decode
from .terms import Half

ANCHORS = (*CANTHI, "sn")
SIZE = (720, 880)
"""Pixels of each half."""
_FOOT = 92
_INK, _PAPER, _SOFT = (36, 27, 38), (245, 241, 233), (104, 92, 106)


def similarity(source: np.ndarray, target: np.ndarray) -> np.ndarray:
    """Least-squares similarity (2, 3) that brings points (n, 2) onto others: rotation, one scale, shift (Umeyama 1991)."""
    a, b = source - source.mean(0), target - target.mean(0)
    u, s, vt = np.linalg.svd(b.T @ a)
    d = np.array([1.0, np.sign(np.linalg.det(u @ vt))])
    turn = u @ np.diag(d) @ vt
    scale = float((s * d).sum() / (a**2).sum())
    return np.hstack([scale * turn, (target.mean(0) - scale * turn @ source.mean(0))[:, None]])


def _layout(points: Mapping[str, Point]) -> np.ndarray:
    """Where the anchors of the first photograph come to lie: level, eyes at two fifths of the height, eye line centred."""
    p = np.array([points[n] for n in ANCHORS])
    eyes = p[:4]
    along = eyes[3] - eyes[0]
    scale = SIZE[0] * 0.40 / float(np.linalg.norm(along))
    angle = -np.arctan2(along[1], along[0])
    turn = scale * np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    return (p - eyes.mean(0)) @ turn.T + np.array([SIZE[0] / 2, SIZE[1] * 0.42])


def _cut(half: Half, target: np.ndarray) -> np.ndarray:
    rgb = np.asarray(decode(half.jpeg, "The photograph"))
    if half.flipped:
        rgb = np.ascontiguousarray(rgb[:, ::-1])
    source = np.array([half.points[n] for n in ANCHORS])
    return np.asarray(cv2.warpAffine(rgb, similarity(source, target=target), SIZE, flags=cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE))


def _light_like(picture: np.ndarray, model: np.ndarray) -> np.ndarray:
    lab, wanted = (cv2.cvtColor(x, cv2.COLOR_RGB2LAB).astype(np.float32) for x in (picture, model))
    lab[..., 0] += wanted[..., 0].mean() - lab[..., 0].mean()
    return np.asarray(cv2.cvtColor(np.clip(lab, 0, 255).astype(np.uint8), cv2.COLOR_LAB2RGB))


def compare_pictures(before: Half, after: Half, view: str, *, match_light: bool = False, note: str = "", reduced: bool = False) -> bytes:
    """PNG without metadata, or a smaller JPEG: both halves under one grid of eye line and midline, with captions and a ``note``."""
    target = _layout(before.points)
    first, second = _cut(before, target), _cut(after, target)
    if match_light:
        second = _light_like(second, model=first)
    said = [note] if note else []
    sheet = Image.new("RGB", (SIZE[0] * 2 + 12, SIZE[1] + _FOOT + 24 * len(said)), _PAPER)
    pen = ImageDraw.Draw(sheet)
    big, small = ImageFont.load_default(26), ImageFont.load_default(19)
    for i, (half, picture) in enumerate(((before, first), (after, second))):
        x = i * (SIZE[0] + 12)
        sheet.paste(Image.fromarray(picture), (x, 0))
        eye = int(target[:4, 1].mean())
        pen.line([(x, eye), (x + SIZE[0], eye)], fill=(255, 255, 255), width=1)
        pen.line([(x + SIZE[0] // 2, 0), (x + SIZE[0] // 2, SIZE[1])], fill=(255, 255, 255), width=1)
        for text, at in (("client's right", x + 12), ("client's left", x + SIZE[0] - 132)):
            pen.rectangle((at - 6, 10, at + 124, 38), fill=_INK)
            pen.text((at, 13), text, font=small, fill=_PAPER)
        pen.text((x + 8, SIZE[1] + 8), half.when, font=big, fill=_INK)
        pen.text((x + 8, SIZE[1] + 40), f"{view}; {half.light}", font=small, fill=_SOFT)
    said.append(f"Aligned on the eye corners and the base of the nose. Not retouched. {STANDING_LINE}")
    if match_light:
        said[-1] += " Lightness of the second picture matched to the first."
    for line, words in enumerate(said):
        pen.text((8, SIZE[1] + 65 + 24 * line), words, font=small, fill=_INK)
    out = io.BytesIO()
    if reduced:
        sheet.resize((sheet.width * 5 // 8, sheet.height * 5 // 8), Image.Resampling.LANCZOS).save(out, "JPEG", quality=86)
    else:
        sheet.save(out, "PNG")
    return out.getvalue()
