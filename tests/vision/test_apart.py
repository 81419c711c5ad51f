"""Image work in a process of its own."""

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from dimbo.vision import apart
from dimbo.vision.apart import Helper
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import PhotographError, Scene


@pytest.fixture
def helper():
    made = Helper()
    yield made
    made.end()


def test_it_answers_and_raises_as_the_function_itself(helper):
    photo = helper.call("photograph:read_photograph", shoot(Scene(identity="aster")).jpeg(), "a.jpg")
    assert photo.size == (900, 1200) and photo.jpeg[:2] == b"\xff\xd8"
    with pytest.raises(PhotographError, match=r"notes\.txt is not a photograph"):
        helper.call("photograph:read_photograph", b"no picture" * 100, "notes.txt")
    assert helper.call("photograph:read_photograph", shoot(Scene(identity="birch")).jpeg(), "b.jpg").taken_at is None


def test_one_that_left_or_was_ended_is_followed_by_another(helper):
    helper.call("photograph:read_photograph", shoot(Scene(identity="aster")).jpeg(), "a.jpg")
    first = helper._process.pid
    os.kill(first, signal.SIGKILL)
    assert helper.call("photograph:read_photograph", shoot(Scene(identity="aster")).jpeg(), "a.jpg").size == (900, 1200)
    assert helper._process.pid != first


def test_a_picture_that_its_process_hangs_over_is_refused_and_the_next_is_read(helper, monkeypatch):
    with monkeypatch.context() as soon, pytest.raises(PhotographError, match="broke off"):
        soon.setattr(apart, "MOST_S", 0.5)
        helper.call("apart:serve")  # waits for calls that nobody sends
    assert helper.call("photograph:read_photograph", shoot(Scene(identity="aster")).jpeg(), "a.jpg").size == (900, 1200)


def test_nothing_that_opens_something_goes_with_it(helper, monkeypatch):
    monkeypatch.setenv("DIMBO_DATABASE_URL", "postgresql://dimbo_app:sesame@db/dimbo")
    helper.call("photograph:read_photograph", shoot(Scene(identity="aster")).jpeg(), "a.jpg")
    assert b"sesame" not in Path(f"/proc/{helper._process.pid}/environ").read_bytes()


def test_it_ends_with_its_input():
    process = subprocess.Popen([sys.executable, "-m", apart.__name__], stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    process.communicate(b"", timeout=30)
    assert process.returncode == 0


SEEN = """
import sys
import dimbo.web.app
print([m for m in ("PIL", "pillow_heif", "cv2", "onnxruntime", "openpyxl") if m in sys.modules])
"""


def test_the_web_process_holds_no_image_library():
    assert subprocess.run([sys.executable, "-c", SEEN], capture_output=True, text=True, check=True).stdout.strip() == "[]"
