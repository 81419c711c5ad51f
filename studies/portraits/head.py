"""A posed head: parts, hair volume, camera, and the per-pixel buffers that painting works on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np

from .mesh import Array, Part, load_base, morph, normals
from .raster import F32, blur, rasterise, sample, smoothstep

BODY, EYE_LEFT, EYE_RIGHT, BUN = 0, 1, 2, 5
SHADOW_SIZE, SHADOW_SPAN = 1400, 5.0
CAMERA_DISTANCE, CAMERA_SCALE = 16.0, 345.0
IRIS_RADIUS = 0.0585
"""Decimetres, so that the visible iris is 11.7 mm across, the scale of every reading."""


@dataclass
class Buffers:
    """Per pixel at rendering size: part, normal, rest position, posed position, texture, ear share."""

    ids: Array
    normal: Array
    rest: Array
    posed: Array
    u: Array
    v: Array
    ear: Array
    depth: Array
    shadow: Array
    light: Array
    light_x: Array
    light_y: Array
    scale: int


class Head:
    """One identity, ready to be posed and drawn."""

    def __init__(self, assets: Path, identity: Mapping[str, float]) -> None:
        base = load_base(assets)
        self.assets, self.identity = assets, morph(assets, base.vertices, identity)
        eye_height = self.identity[base.faces[base.groups == "helper-l-eye"]][..., 1].mean()
        above_chest = self.identity[base.faces][:, :, 1].min(1) > eye_height - 2.75

        def part(mask: Array, part_id: int) -> Part:
            return Part(base.vertices, base.faces[mask], base.uv[base.uv_faces[mask]], 2, part_id)

        self.parts = [
            part((base.groups == "body") & above_chest, BODY),
            part(base.groups == "helper-l-eye", EYE_LEFT),
            part(base.groups == "helper-r-eye", EYE_RIGHT),
        ]
        self.lip_mask, self.ear_mask = (
            blur(cv2.imread(str(assets / f"mpfb2/textures/mpfb_{name}.jpg"), 0), 1.2).astype(F32) / 255 for name in ("lips", "ears")
        )
        self.rest = [p.positions(self.identity) for p in self.parts]
        self.eye_centres = [self.rest[i].min(0) / 2 + self.rest[i].max(0) / 2 for i in (1, 2)]
        middle = sum(self.eye_centres) / 2
        self.eye_y, self.eye_z = middle[1], middle[2]
        body = self.parts[BODY]
        self.ear = np.zeros(len(self.rest[0]))
        ear_uv = sample(self.ear_mask, body.uv[..., 0].reshape(-1, 1), 1 - body.uv[..., 1].reshape(-1, 1))
        np.maximum.at(self.ear, body.faces.reshape(-1), ear_uv.ravel())

    def hair_depth(self, rest: Array, style: Mapping[str, object]) -> Array:
        """How far behind the hairline a point lies (dm); positive is hair."""
        x, y, z = rest[..., 0], rest[..., 1] - self.eye_y, rest[..., 2] - self.eye_z
        line = np.interp(
            y,
            [-0.75, -0.35, -0.24, -0.20, 0.0, 0.15, 0.32, 0.50, 0.64, 0.75, 0.85, 1.0],
            [-0.95, -0.75, -0.62, -0.47, -0.44, -0.37, -0.26, -0.13, -0.03, 0.10, 0.30, 0.62],
        )
        return line + style.get("hairline", 0) + 0.035 * np.cos(x * 7) * (y > 0.4) - z

    def pose(self, expression: Mapping[str, float], style: Mapping[str, object]) -> list[Array]:
        """Points of every part for an expression, with hair and shirt pushed out along the normals."""
        vertices, out = morph(self.assets, self.identity, expression), []
        for part, rest in zip(self.parts, self.rest, strict=True):
            points = part.positions(vertices)
            if part.part_id == BODY:
                n, y = normals(points, part.triangles), rest[:, 1] - self.eye_y
                hair = smoothstep(-0.02, 0.42, self.hair_depth(rest, style)) * (y > -0.75)
                hair = hair * (1 - smoothstep(0.1, 0.4, self.ear))
                volume = style.get("hairvol", 1.0) * (0.03 + 0.075 * smoothstep(0.35, 1.0, y))
                shirt = smoothstep(-1.28, -1.42, y - 0.10 * np.abs(rest[:, 0]))
                points = points + n * (hair * volume)[:, None] + n * (shirt * 0.05)[:, None]
            else:
                centre = (points.min(0) + points.max(0)) / 2
                points = centre + (points - centre) * 1.02
            out.append(points)
        return out


@dataclass(frozen=True)
class Camera:
    """Perspective camera; ``turn`` holds yaw, pitch and roll in degrees."""

    centre: Array
    rotation: Array
    width: int
    height: int
    scale: int

    @classmethod
    def for_head(cls, head: Head, turn: tuple[float, float, float], size: tuple[int, int], scale: int, drop: float = 0.0) -> Camera:
        a, b, g = np.radians(turn)
        ry = np.array([[np.cos(a), 0, np.sin(a)], [0, 1, 0], [-np.sin(a), 0, np.cos(a)]])
        rx = np.array([[1, 0, 0], [0, np.cos(b), -np.sin(b)], [0, np.sin(b), np.cos(b)]])
        rz = np.array([[np.cos(g), -np.sin(g), 0], [np.sin(g), np.cos(g), 0], [0, 0, 1]])
        centre = np.array([0, head.eye_y - 0.10 - drop, head.eye_z - 0.45])
        return cls(centre, rz @ rx @ ry, size[0] * scale, size[1] * scale, scale)

    def project(self, points: Array) -> tuple[Array, Array]:
        """Pixel coordinates (n, 2) at rendering size, and points in camera axes (n, 3)."""
        q = (points - self.centre) @ self.rotation.T
        f = CAMERA_DISTANCE * CAMERA_SCALE * self.scale / (CAMERA_DISTANCE - q[:, 2])
        return np.stack([self.width / 2 + q[:, 0] * f, self.height * 0.47 - q[:, 1] * f], 1), q

    def pixels_per_mm(self, points: Array) -> float:
        """Final pixels per millimetre at the depth of the given points."""
        z = ((points - self.centre) @ self.rotation.T)[:, 2].mean()
        return float(CAMERA_SCALE / 100 * CAMERA_DISTANCE / (CAMERA_DISTANCE - z))


def _bun(head: Head, size: float) -> tuple[Array, Array, Array]:
    """A knot of hair: points, triangles, and rest positions for the strand noise."""
    theta, phi = np.linspace(0, np.pi, 33), np.linspace(0, 2 * np.pi, 65)
    ball = np.stack(
        [np.sin(theta)[:, None] * np.cos(phi), np.sin(theta)[:, None] * np.sin(phi), np.cos(theta)[:, None] + 0 * phi], 2
    ).reshape(-1, 3)
    i, j = np.meshgrid(np.arange(32), np.arange(64), indexing="ij")
    k = (i * 65 + j).ravel()
    quads = np.stack([k, k + 65, k + 66, k + 1], 1)
    waves = 1 + 0.03 * np.sin(9 * np.arctan2(ball[:, 1], ball[:, 0]) + 5 * ball[:, 2])
    points = np.array([0, head.eye_y + 0.98, head.eye_z - 1.22]) + ball * np.array([0.42, 0.36, 0.40]) * size * waves[:, None]
    rest = np.stack([ball[:, 0], ball[:, 1] + head.eye_y, ball[:, 2]], 1)
    return points, np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]]), rest


def draw_buffers(head: Head, camera: Camera, posed: list[Array], style: Mapping[str, object]) -> Buffers:
    """Rasterise every part into camera buffers and into the key light's depth map."""
    h, w = camera.height, camera.width
    zbuffer, out, ids = np.full((h, w), -1e9), np.zeros((h, w, 12)), np.full((h, w), -1)
    light = np.array(style.get("light", (-0.42, 0.50, 0.78)))
    light = light / np.linalg.norm(light)
    light_x = np.cross([0, 1, 0.0], light)
    light_x /= np.linalg.norm(light_x)
    light_y = np.cross(light, light_x)
    shadow = np.full((SHADOW_SIZE, SHADOW_SIZE), -1e9)
    unused, unused_ids = np.zeros((SHADOW_SIZE, SHADOW_SIZE, 1)), np.zeros((SHADOW_SIZE, SHADOW_SIZE), int)

    pieces = []
    for part, points, rest in zip(head.parts, posed, head.rest, strict=True):
        n = normals(points, part.triangles)
        ear = head.ear[part.triangles][:, :, None] if part.part_id == BODY else np.zeros((*part.triangles.shape, 1))
        pieces.append((part.part_id, points, part.triangles, n, rest, np.concatenate([part.triangle_uv, ear], 2)))
    if style.get("bun"):
        points, triangles, rest = _bun(head, float(style["bun"]))
        ball_normals = normals(points, triangles)
        pieces.append((BUN, points, triangles, ball_normals, rest, np.zeros((*triangles.shape, 3))))

    for part_id, points, triangles, n, rest, extra in pieces:
        xy, q = camera.project(points)
        attributes = np.concatenate([(n @ camera.rotation.T)[triangles], rest[triangles], q[triangles], extra], 2)
        rasterise(xy, q[:, 2], triangles, attributes, zbuffer, out, ids, part_id)
        lit = SHADOW_SIZE / 2 + np.stack([q @ light_x, -(q @ light_y)], 1) * SHADOW_SIZE / SHADOW_SPAN
        rasterise(lit, q @ light, triangles, np.zeros((len(triangles), 3, 1)), shadow, unused, unused_ids, part_id)

    out = out.astype(F32)
    n = out[..., :3]
    n = n / np.maximum(np.linalg.norm(n, axis=2, keepdims=True), 1e-6)
    return Buffers(
        ids=ids,
        normal=n,
        rest=out[..., 3:6],
        posed=out[..., 6:9],
        u=out[..., 9],
        v=1 - out[..., 10],
        ear=out[..., 11],
        depth=zbuffer,
        shadow=shadow.astype(F32),
        light=light.astype(F32),
        light_x=light_x.astype(F32),
        light_y=light_y.astype(F32),
        scale=camera.scale,
    )
