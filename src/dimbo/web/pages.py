"""The built interface over HTTP: files packed where the browser takes them so, 304 for what it has, and one page for every address."""

from __future__ import annotations

import base64
import hashlib
import re
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
        return answer(index, request, ASK_AGAIN)
