"""What the demo's clients said at their intakes. Days count back from today; everybody is invented."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from dimbo.catalogue import shipped_intake
from dimbo.core.safety.cautions import URGENT

Said = tuple[str, str, dict[str, Any]]
"""Kind, key and value of a fact."""


@dataclass(frozen=True, kw_only=True)
class IntakeStory:
    """An intake: how many days ago, what was entered, and what came later."""

    days_ago: int
    said: tuple[Said, ...]
    later: tuple[tuple[int, Said], ...] = ()
    consents: tuple[str, ...] = ("practise", "photographs")
    withdrawn: tuple[tuple[int, str], ...] = ()
    finished: bool = True
    status: str = "active"


def _rating(concern: str, right: int, left: int) -> Said:
    return "rating", concern, {"right": right, "left": left}


def _answers(concern: str, **answers: str) -> tuple[Said, ...]:
    return tuple(("answer", f"{concern}.{q.replace('_', '-')}", {"answer": a}) for q, a in answers.items())


def _test(test: str, answer: str) -> Said:
    return "test", test, {"answer": answer}


def _yes(caution: str, **more: object) -> Said:
    return "caution", caution, {"answer": "yes", **more}


def _profile(**fields: object) -> tuple[Said, ...]:
    return tuple(("profile", k, {"value": v}) for k, v in fields.items())


_RULES = shipped_intake().tables.cautions
URGENT_SIGNS = tuple(r.id for r in _RULES if r.group == URGENT)
OTHERS = tuple(r.id for r in _RULES if r.group != URGENT)


def _no(*but: str) -> tuple[Said, ...]:
    """Every caution answered with no, but these."""
    return tuple(("caution", c, {"answer": "no"}) for c in (*URGENT_SIGNS, *OTHERS) if c not in but)


def nothing_to_tell() -> tuple[Said, ...]:
    """A no to every caution."""
    return _no()


def intakes(today: date) -> Mapping[str, IntakeStory]:
    """Intakes by the client's first name."""

    def ago(days: int) -> str:
        return (today - timedelta(days=days)).isoformat()

    return {
        "Philippa": IntakeStory(
            days_ago=46,
            said=(
                *_no("contact-lenses"),
                _yes("contact-lenses"),
                _rating("eye-less-open", 3, left=1),
                _rating("crows-feet", 1, left=1),
                *_answers("eye-less-open", new_or_evening="no", brow_habit="no"),
                *_answers("crows-feet", screen_squint="yes"),
                _test("evening-droop", answer="left"),
                _test("wider-eye", answer="left"),
                _test("brow-alone", answer="both"),
                _test("chewing", answer="right"),
                _test("phone", answer="right"),
                _test("sleeping", answer="right"),
                _test("screen-hours", answer="5 to 8"),
                ("habit", "screen-hours", {"agreed": True}),
                *_profile(
                    days=[1, 2, 3, 4, 5, 6],
                    agreed=["the right eye as open as the left", "less squinting at the screen"],
                    phone="+351 55 0100 111",
                    email="philippa@mail.example",
                ),
            ),
            later=((3, ("note", "", {"text": "Second sitting. She thinks the eye feels lighter; we wait for week 8."})),),
        ),
        "Tobias": IntakeStory(
            days_ago=19,
            said=(
                *_no("jaw-tender"),
                _yes("jaw-tender", note="more on the left, after bread"),
                _rating("mouth-asymmetry", 1, left=3),
                _rating("jaw-tension", 1, left=2),
                *_answers("mouth-asymmetry", sudden="no"),
                *_answers("jaw-tension", locks_or_clicks="no", day_clench="yes", wakes_sore="unsure"),
                _test("chewing", answer="left"),
                _test("smile-level", answer="right"),
                _test("masseter-fuller", answer="left"),
                _test("bag", answer="left"),
                ("habit", "chewing", {"agreed": True}),
                *_profile(days=[1, 2, 4, 5, 7], agreed=["a smile that starts on both sides"]),
            ),
        ),
        "Hanne": IntakeStory(
            days_ago=39,
            said=(
                *_no("dry-eyes"),
                _yes("dry-eyes"),
                _rating("flat-cheeks", 2, left=2),
                _rating("under-eye-puffiness", 2, left=1),
                *_answers("flat-cheeks", smile_lifts="no"),
                *_answers("under-eye-puffiness", worse_morning="yes", after_salt="yes", constant="no"),
                *_profile(days=[1, 2, 3, 4, 5, 6, 7], agreed=["cheeks that carry", "mornings"]),
            ),
        ),
        "Imara": IntakeStory(
            days_ago=26,
            said=(
                *_no(),
                _rating("low-brow", 0, left=3),
                *_answers("low-brow", tight_around_eye="no"),
                _test("brow-alone", answer="right"),
                _test("brow-higher", answer="right"),
            ),
            later=((4, _yes("muscle-injection", regions=["forehead", "brow"], event_on=ago(5), note="told on the phone")),),
        ),
        "Casimir": IntakeStory(
            days_ago=210,
            said=(
                *_no("blood-thinners"),
                _yes("blood-thinners"),
                _rating("jowls", 3, left=3),
                *_answers("jowls", smile_lifts="no", neck_bands="no"),
            ),
            later=(
                (
                    205,
                    (
                        "clearance",
                        "blood-thinners",
                        {
                            "by_name": "Dr. Wenzel Ambros",
                            "role": "physician",
                            "given_on": ago(206),
                            "says": "Light and firm touch allowed while the values are stable; ask again in half a year.",
                            "until": ago(12),
                        },
                    ),
                ),
            ),
        ),
        "Leocadia": IntakeStory(
            days_ago=11,
            said=(
                *_no(),
                _rating("nasolabial-fold", 1, left=3),
                *_answers("nasolabial-fold", tender_beside_nose="no"),
                _test("chewing", answer="left"),
                _test("sleeping", answer="left"),
            ),
        ),
        "Ragna": IntakeStory(
            days_ago=53,
            said=(
                *_no("neck-stiff", "blood-pressure"),
                _yes("neck-stiff"),
                _yes("blood-pressure"),
                _rating("loose-neck", 3, left=3),
                *_answers("loose-neck", head_forward="no"),
            ),
            later=(
                (
                    52,
                    (
                        "clearance",
                        "blood-pressure",
                        {
                            "by_name": "Dr. Io Karras",
                            "role": "physician",
                            "given_on": ago(52),
                            "says": "Controlled since spring. Holds allowed while breathing.",
                        },
                    ),
                ),
            ),
        ),
        "Yun-seo": IntakeStory(
            days_ago=28, said=(*_no(), _rating("jaw-tension", 3, left=3), *_answers("jaw-tension", wakes_sore="yes", locks_or_clicks="no"))
        ),
        "Eluned": IntakeStory(
            days_ago=8, said=(*_no(), _rating("downturned-corners", 2, left=2), *_answers("downturned-corners", resting_face="yes"))
        ),
        "Mateusz": IntakeStory(
            days_ago=22,
            said=(
                *_no(),
                _rating("under-chin", 2, left=2),
                *_answers("under-chin", worse_morning="no", head_forward="yes", tongue_low="no"),
            ),
            withdrawn=((5, "photographs"),),
        ),
        "Oriane": IntakeStory(
            days_ago=2,
            said=(
                *(("caution", c, {"answer": "no"}) for c in URGENT_SIGNS),
                _rating("hooded-lid", 1, left=2),
                *_answers("hooded-lid", new_or_evening="no"),
                _test("evening-droop", answer="left"),
            ),
            finished=False,
        ),
        "Anselm": IntakeStory(
            days_ago=1,
            said=(_yes("sudden-face"), _rating("mouth-asymmetry", 0, left=3)),
            consents=(),
            finished=False,
            status="enquiry",
        ),
    }


SELF_FILLED: Mapping[str, Callable[[], dict[str, Any]]] = {
    "Sunniva": lambda: {
        "profile": {
            "name": "Sunniva",
            "email": "sunniva@mail.example",
            "birth_year": 1996,
            "minutes": 10,
            "days": [1, 2, 3, 5, 6],
            "goals": "A forehead that rests when I listen. And less tired eyes on calls.",
        },
        "ratings": {"forehead-lines": {"right": 2, "left": 2}, "under-eye-hollow": {"right": 1, "left": 1}},
        "answers": {"forehead-lines.talks-with-brows": {"answer": "yes"}, "forehead-lines.heavy-lids": {"answer": "no"}},
        "tests": {"sleeping": {"answer": "right"}, "screen-hours": {"answer": "over 8"}},
        "cautions": {
            **{c: {"answer": "no"} for c in URGENT_SIGNS},
            "contact-lenses": {"answer": "yes"},
            "eye-surgery": {"answer": "no"},
        },
        "consents": {"practise": {"given": True, "version": 1}, "photographs": {"given": True, "version": 1}},
    }
}
"""Intakes that clients filled in alone and that wait for the coach."""
