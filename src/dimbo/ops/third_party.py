"""Writes the tables of other people's work from the lock files: python -m dimbo.ops.third_party

What stands between the marks of THIRD-PARTY.md is made; the rest is written by hand. A licence is what the package itself says; where
it says nothing that can be read, ``SAID`` has what its licence file says.
"""

from __future__ import annotations

import json
import tomllib
from importlib.metadata import Distribution, PackageNotFoundError, distribution

from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

from .settings import ROOT

BEGIN, END = "<!-- made from the lock files -->", "<!-- end -->"
SAID = {
    "aiosmtpd": "Apache-2.0",
    "protobuf": "BSD-3-Clause",
    "opencv-python-headless": "Apache-2.0",
    "pillow-heif": "BSD-3-Clause, with libheif inside: LGPL-3.0",
    "psycopg-binary": "LGPL-3.0-only, with libpq inside: PostgreSQL",
}
SHORT = {
    "Apache Software License": "Apache-2.0",
    "MIT License": "MIT",
    "BSD License": "BSD",
    "Mozilla Public License 2.0 (MPL 2.0)": "MPL-2.0",
    "GNU Lesser General Public License v3 (LGPLv3)": "LGPL-3.0",
    "Python Software Foundation License": "PSF-2.0",
    "ISC License (ISCL)": "ISC",
}


def running() -> dict[str, Distribution]:
    """Python packages that an installation runs on: what the project asks for, and what that asks for in turn."""
    out: dict[str, Distribution] = {}
    todo = [Requirement(w) for w in tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]]
    while todo:
        wanted = todo.pop()
        name = canonicalize_name(wanted.name)
        try:
            found = out.setdefault(name, distribution(name))
        except PackageNotFoundError:
            continue  # for another system, or left out by the lock file
        for need in map(Requirement, found.requires or ()):
            asked = not need.marker or any(need.marker.evaluate({"extra": e}) for e in (wanted.extras or {""}))
            if asked and (need.extras or canonicalize_name(need.name) not in out):
                todo.append(need)
    return out


def licence(found: Distribution) -> str:
    name = canonicalize_name(found.name)
    if name in SAID:
        return SAID[name]
    said: list[str] = found.metadata.get_all("License-Expression") or []
    classed = [c.rpartition(":: ")[2] for c in found.metadata.get_all("Classifier") or [] if c.startswith("License ::")]
    short = [text for text in found.metadata.get_all("License") or [] if 0 < len(text) < 60]
    if known := said or [" or ".join(SHORT.get(c, c) for c in classed)] * bool(classed) or short:
        return known[0]
    raise SystemExit(f"{found.name} says nothing of its licence: write it into SAID.")


def _for_pages() -> list[tuple[str, str]]:
    """Packages of which the built interface holds code: what the project asks for and ships."""
    asked = json.loads((ROOT / "ui/package.json").read_text())["devDependencies"]
    packages = json.loads((ROOT / "ui/package-lock.json").read_text())["packages"]
    return [(n, packages[f"node_modules/{n}"].get("license", "")) for n in sorted(asked) if n in SHIPPED]


SHIPPED = (
    "@fontsource-variable/atkinson-hyperlegible-next",
    "@fontsource-variable/bricolage-grotesque",
    "@internationalized/date",
    "@sveltejs/kit",
    "bits-ui",
    "idb",
    "openapi-fetch",
    "svelte",
    "tailwindcss",
)
"""Packages of the interface whose code or fonts reach the browser; the others only build it."""


def made() -> str:
    lines = ["| in the browser | licence |", "| --- | --- |", *(f"| {n} | {said} |" for n, said in _for_pages())]
    lines += ["", "| on the server | licence |", "| --- | --- |"]
    lines += [f"| {n} | {licence(d)} |" for n, d in sorted(running().items())]
    return "\n".join(lines)


def page() -> str:
    """THIRD-PARTY.md as it has to be."""
    text = (ROOT / "THIRD-PARTY.md").read_text()
    before, after = text.split(BEGIN)[0], text.split(END)[1]
    return f"{before}{BEGIN}\n\n{made()}\n\n{END}{after}"


if __name__ == "__main__":
    (ROOT / "THIRD-PARTY.md").write_text(page())
