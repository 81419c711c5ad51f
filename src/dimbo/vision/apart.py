"""Image work in a process of its own: for those that serve people and must neither hold image libraries nor fall with them.

A file that somebody sends is decoded here and nowhere in the web process: what a broken decoder takes down is this process, and the
next picture gets another. It reads calls from its input and answers on its output until the input ends, so it never outlives whoever
started it; after a while without a call it leaves by itself.
"""

from __future__ import annotations

import atexit
import importlib
import os
import pickle
import select
import struct
import subprocess
import sys
from datetime import datetime
from threading import Lock
from typing import IO, Any, cast

from .terms import Clip, ClipError, Cut, Half, Photograph, PhotographError, Scene

IDLE_S, MOST_S, CLIP_MOST_S = 120.0, 60.0, 150.0
"""After how long without a call it leaves, and how long one call may take; one with a clip."""
BROKE_OFF = "This photograph could not be read: reading it broke off. Save it as a plain JPEG and send it again."
_LENGTH = struct.Struct(">Q")


class _Ended(Exception):
    """The process is gone."""


class Helper:
    """One such process, started with the first call; calls wait for each other. ``most_s`` is how long a call may take, ``broke_off``
    what is raised when the process ends over it."""

    def __init__(self, most_s: float = MOST_S, broke_off: Exception | None = None) -> None:
        self._lock = Lock()
        self._most_s = most_s
        self._broke_off = broke_off or PhotographError(BROKE_OFF)
        self._process: subprocess.Popen[bytes] | None = None

    def call(self, function: str, *given: object, **named: object) -> object:
        """What ``module:function`` of this package answers, or raises.

        Raises ``broke_off`` when the process ends over it, or takes too long.
        """
        with self._lock:
            for fresh in (False, True):
                fresh = self._ensure() or fresh
                try:
                    done, answer = self._ask((function, given, named))
                except _Ended as error:
                    self.end()
                    if fresh:
                        raise self._broke_off from error
                    continue  # it may have left just before, for want of work
                if not done and isinstance(answer, Exception):
                    raise answer
                return answer
            raise AssertionError("a fresh process answers or ends")

    def _ensure(self) -> bool:
        """Whether the process had to be started."""
        if self._process is not None and self._process.poll() is None:
            return False
        self.end()
        plain = {k: v for k, v in os.environ.items() if not k.startswith("DIMBO_")}  # nothing that opens something goes with it
        self._process = subprocess.Popen([sys.executable, "-m", __name__], stdin=subprocess.PIPE, stdout=subprocess.PIPE, env=plain)
        return True

    def _ask(self, call: tuple[str, tuple[object, ...], dict[str, object]]) -> tuple[bool, object]:
        process = self._process
        assert process is not None and process.stdin is not None and process.stdout is not None
        try:
            _send(process.stdin, call)
        except (BrokenPipeError, OSError) as error:
            raise _Ended from error
        if not select.select([process.stdout], [], [], self._most_s)[0]:
            raise _Ended
        done, answer = _receive(process.stdout)
        return done, answer

    def end(self) -> None:
        """Have the process gone; the next call starts another."""
        if self._process is not None:
            self._process.kill()
            self._process.communicate()
            self._process = None


def _send(to: IO[bytes], what: object) -> None:
    data = pickle.dumps(what, protocol=pickle.HIGHEST_PROTOCOL)
    to.write(_LENGTH.pack(len(data)))
    to.write(data)
    to.flush()


def _receive(source: IO[bytes]) -> tuple[Any, ...]:
    head = source.read(_LENGTH.size)
    if len(head) < _LENGTH.size:
        raise _Ended
    (length,) = _LENGTH.unpack(head)
    data = source.read(length)
    if len(data) < length:
        raise _Ended
    answer: tuple[Any, ...] = pickle.loads(data)  # from our own process, over a pipe that nobody else holds
    return answer


_HELPER = Helper()
_CLIPS = Helper(CLIP_MOST_S, broke_off=ClipError("This clip could not be read: reading it broke off. Record it shorter or smaller."))
"""A process of their own, so that no photograph waits for a clip."""
atexit.register(_HELPER.end)
atexit.register(_CLIPS.end)


def read_photograph(data: bytes, name: str) -> Photograph:
    """``photograph.read_photograph``, apart."""
    return cast(Photograph, _HELPER.call("photograph:read_photograph", data, name))


def read_clip(path: str, cut: Cut, *, name: str, sound: bool) -> Clip:
    """``clip.read_clip``, apart."""
    return cast(Clip, _CLIPS.call("clip:read_clip", path, cut, name=name, sound=sound))


def compare_pictures(before: Half, after: Half, view: str, *, match_light: bool = False, note: str = "", reduced: bool = False) -> bytes:
    """``comparison.compare_pictures``, apart."""
    how = {"match_light": match_light, "note": note, "reduced": reduced}
    return cast(bytes, _HELPER.call("comparison:compare_pictures", before, after=after, view=view, **how))


def stand_in_shot(scene: Scene, taken_at: datetime) -> bytes:
    """``stand_in_camera.jpeg_of``, apart."""
    return cast(bytes, _HELPER.call("stand_in_camera:jpeg_of", scene, taken_at))


def serve() -> None:
    """Answer calls until the input ends."""
    source, to = sys.stdin.buffer, os.fdopen(os.dup(sys.stdout.fileno()), "wb")
    os.dup2(sys.stderr.fileno(), sys.stdout.fileno())  # what a library prints is no answer
    while select.select([source], [], [], IDLE_S)[0]:
        try:
            function, given, named = _receive(source)
        except _Ended:
            return
        module, _, name = function.partition(":")
        try:
            answer = (True, getattr(importlib.import_module(f"{__package__}.{module}"), name)(*given, **named))
        except Exception as error:  # told to whoever asked
            answer = (False, error)
        _send(to, answer)


if __name__ == "__main__":
    serve()
