"""Where a client is: what is seen goes before what was noted."""

from itertools import product

import pytest

from dimbo.core.review.whereabouts import Whereabouts, whereabouts

STATUSES = ("enquiry", "active", "paused", "finished")
QUIET = {"archived": False, "running": False, "paused": False, "practised": False}


@pytest.mark.parametrize(
    ("status", "seen", "expected"),
    [
        ("active", {}, "beginning"),
        ("enquiry", {}, "enquiry"),
        ("enquiry", {"running": True, "practised": True}, "running"),
        ("finished", {"running": True, "practised": True}, "running"),
        ("active", {"running": True, "paused": True}, "paused"),
        ("active", {"practised": True}, "finished"),
        ("enquiry", {"practised": True}, "finished"),
        ("paused", {"practised": True}, "paused"),
        ("active", {"archived": True, "running": True}, "archived"),
    ],
)
def test_one_word_for_each(status, seen, expected):
    assert whereabouts(status, **(QUIET | seen)) == expected


def test_everybody_is_somewhere_and_only_an_archive_hides_a_program_that_runs():
    for status, archived, running, paused, practised in product(STATUSES, *([(False, True)] * 4)):
        at = whereabouts(status, archived=archived, running=running, paused=paused, practised=practised)
        assert at in Whereabouts
        assert not running or at in (Whereabouts.ARCHIVED if archived else Whereabouts.PAUSED if paused else Whereabouts.RUNNING,)
