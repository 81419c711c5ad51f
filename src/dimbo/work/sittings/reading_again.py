"""Photographs that an earlier version of the analysis read are read again in the background; both results are kept."""

from __future__ import annotations

from uuid import UUID

import structlog

from dimbo.store.database import AWAY, Database, NotThere
from dimbo.store.people import practices
from dimbo.store.sittings import photographs
from dimbo.vision.terms import METHOD, FaceError

from .analysing import analyse_pixels, keep

log = structlog.get_logger()
MOST_AT_ONCE = 12
"""So many are read in one go: new photographs wait no longer than that takes, some seconds."""


def read_some(db: Database, most: int | None = None) -> int:
    """Read some older photographs of any practice again, the newest first; returns how many were tried.

    Nothing waits for it, so no photograph says meanwhile that it is not measured.
    """
    most = most or MOST_AT_ONCE
    with db.anyone() as conn:
        ids = practices.ids(conn)
    tried = 0
    for practice_id in ids:
        with db.practice(practice_id) as conn:
            old = photographs.outdated(conn, METHOD, most - tried)
        for photograph_id in old:
            _read_again(db, practice_id, photograph_id=photograph_id)
        tried += len(old)
        if tried >= most:
            break
    return tried


def _read_again(db: Database, practice_id: UUID, photograph_id: UUID) -> None:
    try:
        with db.practice(practice_id) as conn:
            _, image = photographs.picture(conn, photograph_id, small=False)
        found = analyse_pixels(image)
        with db.practice(practice_id) as conn:
            keep(conn, practice_id, photograph_id=photograph_id, found=found)
    except NotThere:
        return  # it was deleted meanwhile
    except AWAY:
        raise
    except Exception as error:
        if not isinstance(error, FaceError):
            log.exception("cannot be read again", photograph=str(photograph_id))
        with db.practice(practice_id) as conn:
            photographs.not_read_by(conn, photograph_id, METHOD)
