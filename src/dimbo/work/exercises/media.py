"""Clips and pictures of own exercises: taken in, made small, shown to the practice and to whoever has the exercise in a program."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from pathlib import Path

from dimbo.catalogue.schema import MOST_CLIP_S
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.exercises import media
from dimbo.store.exercises.media import Medium
from dimbo.store.people.accounts import Person
from dimbo.vision import apart
from dimbo.vision.terms import MOST_CLIP_BYTES, ClipError, Cut, PhotographError
from dimbo.work.shared.errors import Refused, Why

CLIP, PICTURE = "video/mp4", "image/jpeg"
MOST_ROOM = 2 * 1024**3
"""Bytes that the clips and pictures of a practice take at most: some hundred minutes."""


@dataclass(frozen=True, kw_only=True)
class Kept:
    """A file as it was kept: its SHA-256, and for a clip its seconds and whether it has sound."""

    hash: str
    seconds: float = 0.0
    sound: bool = False


def take_clip(db: Database, coach: Person, file: Path, name: str, *, from_s: float, to_s: float, sound: bool) -> Kept:
    """Cut a clip, make it small and keep it. Raises Refused."""
    if file.stat().st_size > MOST_CLIP_BYTES:
        raise Refused(Why.BOUNDS, f"{name} is larger than {MOST_CLIP_BYTES // 2**20} MB. Record it shorter or smaller.", "file")
    if not 0 <= from_s < to_s:
        raise Refused(Why.CLASH, "The clip must end after it begins. Move one of the two ends.", "to_s")
    if to_s - from_s > MOST_CLIP_S + 0.05:
        raise Refused(Why.BOUNDS, f"A clip lasts at most {MOST_CLIP_S:g} seconds. Move its ends closer together.", "to_s")
    try:
        clip = apart.read_clip(str(file), Cut(from_s=from_s, seconds=to_s - from_s), name=name, sound=sound)
    except ClipError as error:
        raise Refused(Why.UNREADABLE, str(error), "file") from error
    with db.of(coach) as conn:
        _room_for(conn, clip.mp4)
        media.keep(conn, coach.practice_id, clip.hash, media_type=CLIP, data=clip.mp4, still=clip.still, by=coach.name)
    return Kept(hash=clip.hash, seconds=clip.seconds, sound=clip.sound)


def take_picture(db: Database, coach: Person, data: bytes, name: str) -> Kept:
    """Keep a picture, upright, bounded and without what its file tells besides. Raises Refused."""
    try:
        picture = apart.read_photograph(data, name)
    except PhotographError as error:
        raise Refused(Why.UNREADABLE, str(error), "file") from error
    found = hashlib.sha256(picture.jpeg).hexdigest()
    with db.of(coach) as conn:
        _room_for(conn, picture.jpeg)
        media.keep(conn, coach.practice_id, found, media_type=PICTURE, data=picture.jpeg, still=None, by=coach.name)
    return Kept(hash=found)


def _room_for(conn: Conn, data: bytes) -> None:
    """Raises Refused."""
    if media.room(conn) + len(data) > MOST_ROOM:
        raise Refused(
            Why.BOUNDS,
            f"Clips and pictures take {MOST_ROOM // 2**30} GB already. Take one off an exercise; it goes after two days.",
            "file",
        )


def _may_see(conn: Conn, person: Person, file_hash: str) -> None:
    """A coach sees all of the practice; a client what belongs to an exercise that was assigned. Raises NotThere."""
    if person.client_id is not None and not media.assigned_to(conn, person.client_id, file_hash):
        raise NotThere("There is no such clip or picture.")


def known(db: Database, person: Person, file_hash: str) -> Medium:
    """Raises NotThere."""
    with db.of(person) as conn:
        _may_see(conn, person, file_hash)
        return media.known(conn, file_hash)


def part(db: Database, person: Person, file_hash: str, *, starts_at: int, length: int) -> bytes:
    """Bytes of a file. Raises NotThere."""
    with db.of(person) as conn:
        _may_see(conn, person, file_hash)
        return media.part(conn, file_hash, starts_at=starts_at, length=length)


def still(db: Database, person: Person, file_hash: str) -> bytes:
    """The still of a clip, or the picture itself. Raises NotThere."""
    with db.of(person) as conn:
        _may_see(conn, person, file_hash)
        return media.still(conn, file_hash)
