"""Dimbo as a package: everything is in it, and it runs from there alone."""

import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
ALONE = """
import sys
from pathlib import Path
import dimbo
here = Path(dimbo.__file__).parents[1]
assert here == Path(sys.argv[1]), here
from fastapi.testclient import TestClient
from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.sittings.reading_table import READINGS
from dimbo.ops.settings import Settings
from dimbo.store.migrate import FOLDER
from dimbo.vision.terms import identities
from dimbo.web.app import build_app
page = TestClient(build_app(Settings(database_url="postgresql://nobody@127.0.0.1:1/none")))
assert "<title>Dimbo</title>" in page.get("/desk").text
assert page.get("/_app/kept.json").status_code == 200
assert len(shipped_catalogue().cards) > 90 and shipped_intake().tables.cautions and READINGS and len(identities()) > 5
print("alone", len(list(FOLDER.glob("*.sql"))))
"""


@pytest.fixture(scope="module")
def wheel(tmp_path_factory):
    out = tmp_path_factory.mktemp("wheel")
    done = subprocess.run([sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", out], cwd=ROOT, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    (made,) = out.glob("dimbo-*.whl")
    with zipfile.ZipFile(made) as packed:
        packed.extractall(out / "alone")
    return out / "alone"


def test_every_file_of_the_package_and_of_the_interface_is_in_it(wheel):
    def files(folder):
        return {f.relative_to(folder) for f in folder.rglob("*") if f.is_file() and "__pycache__" not in f.parts}

    assert files(ROOT / "src/dimbo") <= files(wheel / "dimbo")
    assert files(ROOT / "ui/build") == files(wheel / "dimbo/interface")
    told = (next(wheel.glob("*.dist-info")) / "entry_points.txt").read_text()
    assert "dimbo = dimbo.ops.cli:main" in told


def test_it_runs_from_there_alone(wheel, tmp_path):
    environment = {**os.environ, "PYTHONPATH": str(wheel)}
    done = subprocess.run([sys.executable, "-c", ALONE, str(wheel)], env=environment, cwd=tmp_path, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[-2000:]
    assert done.stdout.strip() == f"alone {len(list((ROOT / 'src/dimbo/store/migrations').glob('*.sql')))}"
    help_ = subprocess.run([sys.executable, "-m", "dimbo.ops.cli", "check"], env=environment, cwd=tmp_path, capture_output=True, text=True)
    assert "DIMBO_DATABASE_URL" in help_.stdout


def test_what_an_installation_needs_is_locked_alike():
    def pinned(name):
        return {line.split(" ")[0] for line in (ROOT / name).read_text().splitlines() if "==" in line}

    assert pinned("requirements.run.lock") < pinned("requirements.lock")
