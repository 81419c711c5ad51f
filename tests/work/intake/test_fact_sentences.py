"""The timeline tells every kind of fact in words, also when a table has changed since."""

from datetime import UTC, datetime
from uuid import uuid4

import pytest

from dimbo.catalogue import shipped_intake
from dimbo.store.intake.facts import Fact
from dimbo.work.intake.fact_sentences import caution_words, profile_words, tell

TABLES = shipped_intake().tables
CLEARANCE = {
    "by_name": "Dr. Ina Quell",
    "role": "eye doctor",
    "given_on": "2026-03-01",
    "says": "Allowed.",
    "regions": ["eye"],
    "valid_from": "2026-03-05",
    "until": "2026-09-01",
}


def told(kind, key="", **value):
    return tell(
        Fact(
            client_id=uuid4(),
            id=uuid4(),
            seq=1,
            kind=kind,
            key=key,
            value=value,
            at=datetime(2026, 3, 20, tzinfo=UTC),
            author="Coach",
            source="coach",
        ),
        TABLES,
    )


@pytest.mark.parametrize(
    ("text", "fact"),
    [
        ("Crow’s feet: right 0, none; left 3, clear at rest", ("rating", "crows-feet", {"right": 0, "left": 3})),
        ("Loose neck: 2, fine slackness", ("rating", "loose-neck", {"right": 2, "left": 2})),
        ("Is it worse in the morning? yes", ("answer", "under-eye-puffiness.worse-morning", {"answer": "yes"})),
        ("Is it worse in the morning? taken back", ("answer", "under-eye-puffiness.worse-morning", {"answer": ""})),
        ("Jowls and jaw outline: cause platysma pull", ("cause", "jowls", {"cause": "platysma-pull"})),
        ("Jowls and jaw outline: cause left to the answers", ("cause", "jowls", {"cause": ""})),
        ("Pointing test: left", ("test", "dominant-eye", {"answer": "left"})),
        ("Chewing side: habit task agreed", ("habit", "chewing", {"agreed": True})),
        ("Glaucoma: no", ("caution", "glaucoma", {"answer": "no"})),
        ("Locked: because", ("lock", "glaucoma", {"reason": "because"})),
        ("Released: because", ("release", "glaucoma", {"reason": "because"})),
        ("Keep photographs: agreed (text 1)", ("consent", "photographs", {"given": True, "version": 1})),
        ("Keep photographs: not agreed (text 1)", ("consent", "photographs", {"given": False, "version": 1})),
        (
            "Let my second coach see them: agreed, Emeric (text 1)",
            ("consent", "second-coach", {"given": True, "version": 1, "person": "Emeric"}),
        ),
        ("6 photographs deleted with what was measured", ("photographs", "deleted", {"count": 6})),
        ("Days: Mon, Wed", ("profile", "days", {"value": [1, 3]})),
        ("Phone: emptied", ("profile", "phone", {"value": ""})),
        ("Agreed: one; two", ("profile", "agreed", {"value": ["one", "two"]})),
        ("Asked about health: nothing has changed", ("asked", "health", {"answer": "nothing has changed"})),
        ("Asked about soreness: new pillow", ("asked", "soreness", {"answer": "new pillow"})),
        ("Chews gum.", ("note", "", {"text": "Chews gum."})),
        ("Imported from a.csv, line 7", ("intake", "imported", {"file": "a.csv", "line": 7})),
        ("Intake finished", ("intake", "finished", {})),
    ],
)
def test_every_kind_is_told_in_words(text, fact):
    kind, key, value = fact
    assert told(kind, key, **value) == text


def test_a_clearance_is_told_whole():
    text = told("clearance", "glaucoma", **CLEARANCE)
    for part in ("Glaucoma", "Dr. Ina Quell", "eye doctor", "2026-03-01", "Allowed.", "For eye.", "From 2026-03-05.", "Until 2026-09-01."):
        assert part in text


@pytest.mark.parametrize(
    "fact",
    [
        ("rating", "gone", {"right": 1, "left": 2}),
        ("answer", "gone.question", {"answer": "yes"}),
        ("cause", "gone", {"cause": "fate"}),
        ("test", "gone", {"answer": "left"}),
        ("caution", "gone", {"answer": "yes"}),
        ("clearance", "gone", CLEARANCE),
        ("consent", "gone", {"given": True, "version": 3}),
    ],
)
def test_what_the_tables_no_longer_know_is_still_told(fact):
    kind, key, value = fact
    assert told(kind, key, **value)


def test_an_answer_to_a_caution_says_where_when_and_what_else():
    words = caution_words({"answer": "yes", "regions": ["cheek", "brow"], "event_on": "2026-02-28", "note": "both sides"})
    assert words == "yes; brow and cheek; 28 February 2026; both sides"


def test_nothing_is_nothing():
    assert profile_words("minutes", None) == ""
