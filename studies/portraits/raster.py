"""A z-buffer in software, and small image helpers that the painting steps share."""

from __future__ import annotations

import cv2
import numpy as np
from numba import njit

Array = np.ndarray
F32 = np.float32


@njit(cache=True)
def rasterise(xy, depth, triangles, attributes, zbuffer, out, ids, part_id):
    """Draw triangles: nearest depth wins; attributes (t, 3, k) are interpolated into ``out`` (h, w, k)."""
    height, width = zbuffer.shape
    k = attributes.shape[2]
    for t in range(triangles.shape[0]):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        x0, y0, x1, y1, x2, y2 = xy[a, 0], xy[a, 1], xy[b, 0], xy[b, 1], xy[c, 0], xy[c, 1]
        area = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)
        if abs(area) < 1e-9:
            continue
        left, right = max(int(np.floor(min(x0, x1, x2))), 0), min(int(np.ceil(max(x0, x1, x2))), width - 1)
        top, bottom = max(int(np.floor(min(y0, y1, y2))), 0), min(int(np.ceil(max(y0, y1, y2))), height - 1)
        for y in range(top, bottom + 1):
            for x in range(left, right + 1):
                px, py = x + 0.5, y + 0.5
                w1 = ((px - x0) * (y2 - y0) - (x2 - x0) * (py - y0)) / area
                w2 = ((x1 - x0) * (py - y0) - (px - x0) * (y1 - y0)) / area
                w0 = 1 - w1 - w2
                if w0 < -1e-6 or w1 < -1e-6 or w2 < -1e-6:
                    continue
                z = w0 * depth[a] + w1 * depth[b] + w2 * depth[c]
                if z > zbuffer[y, x]:
                    zbuffer[y, x], ids[y, x] = z, part_id
                    for j in range(k):
                        out[y, x, j] = w0 * attributes[t, 0, j] + w1 * attributes[t, 1, j] + w2 * attributes[t, 2, j]


def blur(image: Array, sigma: float) -> Array:
    """Gaussian blur; wide ones at reduced size, where nobody can tell."""
    factor = int(sigma // 5)
    if factor < 2:
        return cv2.GaussianBlur(image, (0, 0), sigma)
    h, w = image.shape[:2]
    small = cv2.resize(image, (max(w // factor, 8), max(h // factor, 8)), interpolation=cv2.INTER_AREA)
    small = cv2.GaussianBlur(small, (0, 0), sigma / factor, borderType=cv2.BORDER_REPLICATE)
    return cv2.resize(small, (w, h), interpolation=cv2.INTER_LINEAR)


def linear(rgb: tuple[float, float, float]) -> Array:
    """sRGB 0..255 to linear light 0..1."""
    return (np.array(rgb, F32) / 255) ** 2.2


def smoothstep(low: float, high: float, x: Array) -> Array:
    t = np.clip((x - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def noise_texture(seed: int, size: int, cells: int) -> Array:
    values = np.random.default_rng(seed).normal(0, 1, (cells, cells)).astype(F32)
    return cv2.resize(values, (size, size), interpolation=cv2.INTER_CUBIC)


def sample(texture: Array, u: Array, v: Array) -> Array:
    """Texture at (u, v) in 0..1, mirrored beyond; any array shape (long ones are folded for OpenCV)."""
    h, w = texture.shape[:2]
    if u.shape[0] > 30000:
        rows = -(-u.size // 2000)
        fold = [np.pad(a.ravel().astype(F32), (0, rows * 2000 - u.size)).reshape(rows, 2000) for a in (u, v)]
        return sample(texture, *fold).ravel()[: u.size].reshape(u.shape)
    reflect = lambda a, n: ((1 - np.abs((a % 2) - 1)) * (n - 1)).astype(F32)
    return cv2.remap(texture, reflect(u, w), reflect(v, h), cv2.INTER_LINEAR)
