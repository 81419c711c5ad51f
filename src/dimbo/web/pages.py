"""The built interface over HTTP: files packed where the browser takes them so, 304 for what it has, and one page for every address."""

from __future__ import annotations

import base64
import hashlib
import json
import re
from functools import lru_cache
from pathlib import Path

from fastapi import FastAPI, Request, Response
from starlette.staticfiles import StaticFiles

from .files import problem

FOREVER, ASK_AGAIN = "public, max-age=31536000, immutable", "no-cache"
PACKED = (("br", ".br"), ("gzip", ".gz"))
"""Codings in which the build has files beside themselves, the smaller first."""
_INLINE = re.compile(rb"<script>(.*?)</script>", re.DOTALL)


def content_policy(folder: Path) -> str:
    """What pages may load: their own files, and of scripts within the page only those of the built interface, by their hash."""
    index = folder / "index.html"
    inline = _INLINE.findall(index.read_bytes()) if index.exists() else []
    hashes = [f"'sha256-{base64.b64encode(hashlib.sha256(text).digest()).decode()}'" for text in inline]
    return "; ".join(
        (
            "default-src 'self'",
            "img-src 'self' blob: data:",
            "media-src 'self' blob:",
            "style-src 'self' 'unsafe-inline'",
            " ".join(("script-src 'self'", *hashes)),
            "frame-ancestors 'none'",
            "base-uri 'none'",
            "form-action 'self'",
        )
    )


def _taken(request: Request) -> set[str]:
    """Codings that a browser takes."""
    said = request.headers.get("accept-encoding", "").lower().split(",")
    return {part.split(";")[0].strip() for part in said if not re.search(r";\s*q=0(\.0*)?\s*$", part)}


@lru_cache(maxsize=4)
def _early(file: Path, _: float) -> tuple[tuple[re.Pattern[str], str], ...]:
    """For each address of the interface (a pattern), the header by which its browser fetches at once what it is going to need. The second
    argument is when the file was written, so that another build is read anew."""
    out = []
    for route, needs in json.loads(file.read_text()).items():
        pattern = re.compile(re.sub(r"\\\[\w+\\\]", "[^/]+", re.escape(route)))
        links = [f"<{f}>; rel={'modulepreload' if f.endswith('.js') else 'preload; as=style; crossorigin'}" for f in needs["files"]]
        links += [f"<{f}>; rel=preload; as=fetch; crossorigin" for f in needs["data"]]
        out.append((pattern, ", ".join(links)))
    return tuple(out)


def early(folder: Path, path: str) -> str:
    """The ``Link`` header of a page (RFC 8288); empty where nothing is known of its address."""
    file = folder / "_app" / "early.json"
    if not file.is_file():
        return ""
    return next((links for pattern, links in _early(file, file.stat().st_mtime) if pattern.fullmatch(path)), "")


def serve(app: FastAPI, folder: Path) -> None:
    """Answer with the built interface whatever no operation answers."""
    root = folder.resolve()
    static = StaticFiles(directory=root, check_dir=False)

    def answer(file: Path, request: Request, keep: str) -> Response:
        taken = _taken(request)
        name, path = next(
            ((coding, packed) for coding, ending in PACKED if coding in taken and (packed := Path(f"{file}{ending}")).is_file()), ("", file)
        )
        sent = static.file_response(path, path.stat(), request.scope)  # 304 for whoever has it
        sent.headers["Cache-Control"], sent.headers["Vary"] = keep, "Accept-Encoding"
        if name and sent.status_code == 200:
            sent.headers["Content-Encoding"] = name
        return sent

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str, request: Request) -> Response:
        if path.startswith("api/"):
            return problem(404, "There is no such address.", code="not-there")
        file = (root / path).resolve()
        if path and file.is_file() and file.is_relative_to(root):
            return answer(file, request, FOREVER if path.startswith("_app/immutable/") else ASK_AGAIN)
        index = root / "index.html"
        if not index.exists():
            return problem(503, "The interface is not built. Run ./dimbo demo, or npm run build in ui/.", code="away")
        sent = answer(index, request, ASK_AGAIN)
        if links := early(root, f"/{path}"):
            sent.headers["Link"] = links
        return sent
