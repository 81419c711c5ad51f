"""The worker's side of a photograph: find the face, refine, judge, keep. docs/architecture.md shows its road."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from uuid import UUID

import numpy as np

from dimbo.core.sittings.protocol import NEUTRAL, VIEWS, Face, Pose, suggest_view
from dimbo.core.sittings.quality import Seen
from dimbo.core.sittings.shot import Shot
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.sittings import photographs
from dimbo.vision.landmarks import Landmarks, locate
from dimbo.vision.photograph import decode
from dimbo.vision.quality import face_print, look_at
from dimbo.vision.terms import METHOD, FaceError

CANNOT_BE_READ = "This photograph could not be read, for a fault of ours. Read it again, or take another."
TRIES = 3
"""How often an analysis is begun that a fault, or the end of the worker, broke off."""


@dataclass(frozen=True)
class Analysis:
    """One photograph analysed: points, numbers of its quality, and its small aligned picture."""

    marks: Landmarks
    seen: Seen
    face_print: bytes

    def shot(self, view: str) -> Shot:
        """As the core reads it, without a sitting."""
        m = self.marks
        return Shot(
            id="",
            sitting="",
            view=view,
            confirmed=True,
            points=m.points,
            depth=m.depth,
            trust=m.trust,
            hand={},
            iris_px=m.iris_px,
            seen=self.seen,
            width=0,
            taken_at=None,
            method=METHOD,
        )


def analyse_pixels(image: bytes, progress: Callable[[str], None] = lambda _: None) -> Analysis:
    """The whole way from a stored JPEG to points and numbers. Raises FaceError."""
    rgb = np.asarray(decode(image, "The photograph"))
    marks = locate(rgb, progress)
    progress("judging the shot")
    return Analysis(marks, look_at(rgb, marks), face_print(rgb, marks))


def analyse(db: Database, practice_id: UUID, photograph_id: UUID) -> None:
    """Analyse one stored photograph and keep the result; every step is told to those who wait.

    A photograph that was deleted while it waited, as by a withdrawn consent, is left alone. A view without a face from the
    front, such as a profile, is kept as it is: its points are set by hand.
    """

    def tell(state: str, words: str, refusal: str = "") -> None:
        with db.practice(practice_id) as conn:
            photographs.step(conn, photograph_id, state, words=words, refusal=refusal)

    tell("working", "opening")
    try:
        with db.practice(practice_id) as conn:
            _, image = photographs.picture(conn, photograph_id, small=False)
            known = photographs.one(conn, photograph_id)
    except NotThere:
        return
    try:
        found = analyse_pixels(image, lambda words: tell("working", words))
    except FaceError as error:
        turned_away = VIEWS[known.view].face is not Face.FRONT and known.view_confirmed
        if turned_away and error.nobody:
            tell("measured", "")
        else:
            tell("refused", "", str(error))
        return
    with db.practice(practice_id) as conn:
        eyes_seen = max(found.seen.eye_trust.values()) > 0.2
        if not known.view_confirmed:
            photographs.suggest_view(conn, photograph_id, suggest_view(found.seen.pose, own=_own_pose(conn, known), eyes_seen=eyes_seen))
        keep(conn, practice_id, photograph_id=photograph_id, found=found)
        photographs.step(conn, photograph_id, "measured", words="")


def keep(conn: Conn, practice_id: UUID, photograph_id: UUID, found: Analysis) -> None:
    """Keep what this version of the analysis found; results of earlier versions stay beside it."""
    photographs.keep_analysis(
        conn,
        practice_id,
        photograph_id=photograph_id,
        method=METHOD,
        points=found.marks.points,
        depth=found.marks.depth,
        trust=found.marks.trust,
        iris_px=found.marks.iris_px,
        seen=asdict(found.seen),
        face_print=found.face_print,
    )


def give_up(db: Database, practice_id: UUID, photograph_id: UUID) -> None:
    """Say of a photograph that it could not be read, after the tries that a fault is given; it never waits for good."""
    with db.practice(practice_id) as conn:
        photographs.step(conn, photograph_id, "refused", words="", refusal=CANNOT_BE_READ)


def _own_pose(conn: Conn, known: photographs.Photograph) -> Pose | None:
    """The pose of the client's first confirmed neutral photograph, if there is one."""
    for p in photographs.of_client(conn, known.client_id):
        if p.view == NEUTRAL and p.view_confirmed and p.seen and p.id != known.id:
            return Seen.kept(p.seen).pose
    return None
