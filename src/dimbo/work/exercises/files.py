"""An own exercise as one file, out and in again: a ZIP with the exercise as JSON, its clip and its picture.

docs/formats/exercise.md tells the format.
"""

from __future__ import annotations

import io
import json
import tempfile
import zipfile
from pathlib import Path
from typing import IO, Any

from dimbo.catalogue.schema import MOST_CLIP_S
from dimbo.store.database import Database
from dimbo.store.exercises import media
from dimbo.store.people.accounts import Person
from dimbo.work.shared.errors import Refused, Why

from . import media as shown
from . import writing

FORMAT, VERSION = "dimbo-exercise", 1
ENTRY, CLIP, PICTURE = "exercise.json", "clip.mp4", "picture.jpg"
MOST_BYTES, MOST_ENTRY_BYTES = 40 * 1024 * 1024, 200_000
"""What a file may bring, and its exercise without clip and picture."""
_STAMP = (2020, 1, 1, 0, 0, 0)
"""The same exercise gives the same file."""


def to_file(db: Database, coach: Person, exercise_id: str) -> tuple[IO[bytes], str]:
    """The file and its name. Raises NotThere."""
    found = writing.read(db, coach, exercise_id)
    document = {"format": FORMAT, "version": VERSION, "family": found.family, "exercise": found.entry}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as packed, db.of(coach) as conn:

        def put(name: str, data: bytes) -> None:
            packed.writestr(zipfile.ZipInfo(name, _STAMP), data)

        put(ENTRY, json.dumps(document, ensure_ascii=False, indent=1).encode())
        for key, name in (("clip", CLIP), ("picture", PICTURE)):
            if has := found.entry.get(key):
                put(name, media.part(conn, has["hash"], starts_at=0, length=media.known(conn, has["hash"]).size))
    out.seek(0)
    return out, f"{found.entry['name']}.exercise.zip"


def _refuse(words: str) -> Refused:
    return Refused(Why.UNREADABLE, words, "file")


def _member(packed: zipfile.ZipFile, name: str, most: int) -> bytes | None:
    """A file of the archive, bounded whatever it says of its size; None where it is not there. Raises Refused."""
    if name not in packed.namelist():
        return None
    with packed.open(name) as member:
        data = member.read(most + 1)
    if len(data) > most:
        raise Refused(Why.BOUNDS, f"{name} in this file is larger than an exercise can have.", "file")
    return data


def _document(packed: zipfile.ZipFile) -> dict[str, Any]:
    raw = _member(packed, ENTRY, MOST_ENTRY_BYTES)
    if raw is None:
        raise _refuse(f"This is no exercise: there is no {ENTRY} in it. Choose a file that was saved with “Save as a file”.")
    try:
        found = json.loads(raw)
    except (ValueError, RecursionError) as error:
        raise _refuse(f"{ENTRY} in this file is broken. Save the exercise as a file again.") from error
    if not isinstance(found, dict) or found.get("format") != FORMAT or not isinstance(found.get("exercise"), dict):
        raise _refuse(f"This is no exercise: {ENTRY} does not say “format”: “{FORMAT}”.")
    if found.get("version") != VERSION:
        raise Refused(Why.BOUNDS, f"The file is of version {found.get('version')}; this installation reads version {VERSION}.", "file")
    return found


def take_in(db: Database, coach: Person, file: IO[bytes]) -> str:
    """A new exercise of the practice's own from a file; returns its id. Its clip and picture are read as if they were sent alone, so
    nothing is taken as it comes. Raises Refused, Conflict."""
    try:
        with zipfile.ZipFile(file) as packed:
            document = _document(packed)
            clip, picture = (_member(packed, name, MOST_BYTES) for name in (CLIP, PICTURE))
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, OSError) as error:
        raise _refuse("This file is not a ZIP archive that can be read. Choose a file that was saved with “Save as a file”.") from error
    entry: dict[str, Any] = {**document["exercise"], "clip": None, "picture": None}
    if clip is not None:
        said = document["exercise"].get("clip")
        sound = isinstance(said, dict) and bool(said.get("sound"))
        with tempfile.NamedTemporaryFile(suffix=".mp4") as whole:
            whole.write(clip)
            whole.flush()
            kept = shown.take_clip(db, coach, Path(whole.name), CLIP, from_s=0.0, to_s=MOST_CLIP_S, sound=sound)
        entry["clip"] = {"hash": kept.hash, "seconds": kept.seconds, "sound": kept.sound}
    if picture is not None:
        entry["picture"] = {"hash": shown.take_picture(db, coach, picture, PICTURE).hash}
    return writing.create(db, coach, family=str(document.get("family", "")), document=entry)
