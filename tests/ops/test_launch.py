"""What runs before anything is installed: it says what is missing and what to run, and never does a step twice."""

import errno
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
sys.path.insert(0, str(ROOT / "launch"))
import steps  # noqa: E402


@pytest.fixture
def bare(monkeypatch):
    """A machine without PostgreSQL, and with one browser of three."""
    monkeypatch.setattr(steps.Path, "glob", lambda self, pattern: iter(()))
    monkeypatch.setattr(
        steps.shutil, "which", lambda name: None if name in ("chromium", "WebKitWebDriver", "Xvfb", "pg_config") else f"/usr/bin/{name}"
    )


def test_missing_packages_are_named_for_what_is_asked(bare):
    assert steps._missing_packages({"postgres"}) == ["postgresql"]
    assert steps._missing_packages({"postgres", "browsers"}) == ["postgresql", "chromium", "webkit2gtk-driver", "xvfb"]
    assert steps._missing_packages(set()) == []


@pytest.mark.parametrize("may_install", [True, False])
def test_without_permission_one_line_says_what_to_run(bare, monkeypatch, may_install):
    monkeypatch.setattr(steps.os, "geteuid", lambda: 1000)
    monkeypatch.setattr(steps.subprocess, "run", lambda *a, **k: subprocess.CompletedProcess(a, 1))
    with pytest.raises(steps.CannotPrepare) as caught:
        steps._debian({"postgres"}, may_install)
    assert "sudo apt-get update && sudo apt-get install -y --no-install-recommends postgresql" in str(caught.value)


def test_no_install_never_touches_the_environment(monkeypatch, tmp_path):
    monkeypatch.setattr(steps, "VENV", tmp_path / ".venv")
    monkeypatch.setattr(steps, "_python", lambda: pytest.fail("installed although it must not"))
    with pytest.raises(steps.CannotPrepare, match="--no-install"):
        steps._python_environment(may_install=False)


@pytest.mark.parametrize(
    ("number", "says"),
    [(errno.ENOSPC, "disk is full"), (errno.EACCES, "No permission to write"), (errno.EROFS, "No permission")],
)
def test_what_the_machine_refuses_is_said_in_one_sentence(number, says):
    assert says in steps.explain(OSError(number, "x", "/somewhere"))


def test_a_failed_step_shows_the_end_of_what_was_said():
    with pytest.raises(steps.CannotPrepare, match="the last words"):
        steps._run([sys.executable, "-c", "import sys; print('the last words'); sys.exit(3)"])
    with pytest.raises(OSError, match="No space"):
        steps._run([sys.executable, "-c", "import sys; print('write: No space left on device'); sys.exit(1)"])


def test_a_changed_file_changes_the_fingerprint(monkeypatch, tmp_path):
    monkeypatch.setattr(steps, "ROOT", tmp_path)
    file, stamp = tmp_path / "a", tmp_path / "stamp"
    file.write_text("one")
    stamp.write_text(steps._fingerprint([file]))
    assert steps._fresh(stamp, steps._fingerprint([file]))
    file.write_text("two")
    assert not steps._fresh(stamp, steps._fingerprint([file]))


def test_unknown_commands_show_the_help():
    done = subprocess.run([str(ROOT / "dimbo"), "dance"], capture_output=True, text=True)
    assert done.returncode == 2 and "Usage: ./dimbo COMMAND" in done.stdout


def test_a_real_installation_is_told_what_to_configure():
    clean = {"PATH": "/usr/bin:/bin"}
    for command, variable in (("worker", "DIMBO_DATABASE_URL"), ("migrate", "DIMBO_OWNER_URL")):
        done = subprocess.run([sys.executable, "-m", "dimbo.ops.cli", command], capture_output=True, text=True, env=clean, cwd=ROOT)
        assert done.returncode == 1 and variable in done.stderr
