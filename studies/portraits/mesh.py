"""The parametric head as a mesh: loading, morphing, smooth subdivision and normals.

The data are the public-domain (CC0) base mesh, shape targets and face-unit targets in the folders
``mpfb2`` and ``faceunits01`` of the PyPI wheel named in README.md beside this file. Lengths are in
decimetres, x toward the subject's left, y up, z toward the viewer.
"""

from __future__ import annotations

import functools
import gzip
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import scipy.sparse as sp

Array = np.ndarray


@dataclass(frozen=True)
class BaseMesh:
    """Vertices (n, 3), texture coordinates (m, 2), quads into both (f, 4), and each quad's group."""

    vertices: Array
    uv: Array
    faces: Array
    uv_faces: Array
    groups: Array


def load_base(assets: Path) -> BaseMesh:
    """Read the base mesh; triangles are kept as quads with a doubled corner."""
    vertices, uv, faces, uv_faces, groups, group = [], [], [], [], [], ""
    for line in (assets / "mpfb2/3dobjs/base.obj").read_text().splitlines():
        kind, *rest = line.split() or [""]
        if kind == "v":
            vertices.append([float(v) for v in rest[:3]])
        elif kind == "vt":
            uv.append([float(v) for v in rest[:2]])
        elif kind == "g":
            group = rest[0]
        elif kind == "f":
            corners = [corner.split("/") for corner in rest]
            if len(corners) == 3:
                corners.append(corners[2])
            faces.append([int(c[0]) - 1 for c in corners])
            uv_faces.append([int(c[1]) - 1 for c in corners])
            groups.append(group)
    return BaseMesh(*(np.array(part) for part in (vertices, uv, faces, uv_faces, groups)))


@functools.cache
def load_target(assets: Path, name: str) -> tuple[Array, Array]:
    """One target: vertex indices (k,) and their offsets (k, 3). Raises FileNotFoundError if unknown."""
    unit = assets / f"faceunits01/targets/faceunits/{name}.target"
    shape = assets / f"mpfb2/targets/{name}.target.gz"
    text = unit.read_text() if unit.exists() else gzip.decompress(shape.read_bytes()).decode()
    rows = [r.split() for r in text.splitlines() if r and not r.startswith("#")]
    rows = [r for r in rows if len(r) == 4]
    return (
        np.array([int(r[0]) for r in rows], int),
        np.array([[float(v) for v in r[1:]] for r in rows], float).reshape(-1, 3),
    )


def morph(assets: Path, vertices: Array, weights: Mapping[str, float]) -> Array:
    """Vertices moved by the weighted sum of the named targets."""
    moved = vertices.copy()
    for name, weight in weights.items():
        if weight:
            index, offset = load_target(assets, name)
            moved[index] += weight * offset
    return moved


def _subdivision(faces: Array, count: int) -> tuple[sp.csr_matrix, Array, int]:
    """Catmull and Clark's rule (1978) as a matrix over the vertices, with the new faces."""
    n = len(faces)
    edges = np.stack([faces, np.roll(faces, -1, 1)], 2).reshape(-1, 2)
    unique, inverse = np.unique(np.sort(edges, 1), axis=0, return_inverse=True)
    inverse, ne = inverse.reshape(-1), len(unique)
    face_of = np.repeat(np.arange(n), 4)

    def sparse(values: Array, rows: Array, cols: Array, shape: tuple[int, int]) -> sp.csr_matrix:
        return sp.csr_matrix((values, (rows, cols)), shape=shape)

    face_points = sparse(np.full(4 * n, 0.25), face_of, faces.reshape(-1), (n, count))
    inner = np.bincount(inverse, minlength=ne) == 2
    edge_face = sparse(np.ones(4 * n), inverse, face_of, (ne, n))
    middle = sparse(np.full(2 * ne, 0.5), np.repeat(np.arange(ne), 2), unique.reshape(-1), (ne, count))
    edge_points = sp.diags(np.where(inner, 0.5, 1.0)) @ middle + sp.diags(np.where(inner, 0.25, 0.0)) @ (edge_face @ face_points)

    valence = np.maximum(np.bincount(unique.reshape(-1), minlength=count).astype(float), 1)
    vertex_face = sparse(np.ones(4 * n), faces.reshape(-1), face_of, (count, n))
    faces_at = np.maximum(np.asarray(vertex_face.sum(1)).ravel(), 1)
    vertex_edge = sparse(np.ones(2 * ne), unique.reshape(-1), np.repeat(np.arange(ne), 2), (count, ne))
    on_rim = np.zeros(count, bool)
    on_rim[unique[~inner].reshape(-1)] = True
    inside = (
        sp.diags(1 / valence) @ (sp.diags(1 / faces_at) @ vertex_face @ face_points)
        + sp.diags(2 / valence) @ (sp.diags(1 / valence) @ vertex_edge @ middle)
        + sp.diags((valence - 3) / valence)
    )
    rim = np.where(~inner)[0]
    rim_edge = sparse(np.ones(2 * len(rim)), unique[rim].reshape(-1), np.repeat(rim, 2), (count, ne))
    rim_at = np.maximum(np.asarray(rim_edge.sum(1)).ravel(), 1)
    border = sp.diags(np.full(count, 0.5)) + 0.5 * (sp.diags(1 / rim_at) @ rim_edge @ middle)
    vertex_points = sp.diags((~on_rim).astype(float)) @ inside + sp.diags(on_rim.astype(float)) @ border

    e, c = inverse.reshape(n, 4) + count, np.arange(n) + count + ne
    quads = [np.stack([faces[:, i], e[:, i], c, e[:, (i - 1) % 4]], 1) for i in range(4)]
    stacked = sp.vstack([vertex_points, edge_points, face_points]).tocsr()
    return stacked, np.stack(quads, 1).reshape(-1, 4), count + ne + n


class Part:
    """A smooth part of the head: ``positions(vertices)`` gives its points for any morph."""

    def __init__(self, vertices: Array, faces: Array, uv: Array, levels: int, part_id: int) -> None:
        self.used = np.unique(faces)
        renumber = -np.ones(len(vertices), int)
        renumber[self.used] = np.arange(len(self.used))
        faces, count = renumber[faces], len(self.used)
        operator = sp.identity(count).tocsr()
        for _ in range(levels):
            step, faces, count = _subdivision(faces, count)
            operator = step @ operator
            centre, mid = uv.mean(1), (uv + np.roll(uv, -1, 1)) / 2
            uv = np.stack([np.stack([uv[:, i], mid[:, i], centre, mid[:, (i - 1) % 4]], 1) for i in range(4)], 1).reshape(-1, 4, 2)
        self.operator, self.faces, self.uv, self.part_id = operator.tocsr(), faces, uv.astype(np.float32), part_id
        self.triangles = np.concatenate([faces[:, [0, 1, 2]], faces[:, [0, 2, 3]]])
        self.triangle_uv = np.concatenate([self.uv[:, [0, 1, 2]], self.uv[:, [0, 2, 3]]])

    def positions(self, vertices: Array) -> Array:
        return self.operator @ vertices[self.used]


def normals(points: Array, triangles: Array) -> Array:
    """Unit vertex normals (n, 3), weighted by the area of the triangles around each point."""
    a, b, c = (points[triangles[:, i]] for i in range(3))
    cross, out = np.cross(b - a, c - a), np.zeros_like(points)
    for i in range(3):
        np.add.at(out, triangles[:, i], cross)
    return out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12)
