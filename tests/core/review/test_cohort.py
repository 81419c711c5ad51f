"""What a class is for: each line at its border, the gravest first, and nothing where nothing is to be said."""

from dataclasses import replace
from datetime import date, timedelta

from dimbo.core.review.cohort import ClassMember, ahead, next_class

TODAY = date(2026, 3, 18)
QUIET = [ClassMember(name=n, practised=True, efforts=(5,)) for n in ("Ada", "Bo", "Cy", "Di")]


def said(members, **begins):
    return next_class(members, {k.replace("_", " "): TODAY + timedelta(days=n) for k, n in begins.items()}, TODAY)


def change(n, **what):
    return [replace(m, **what) if i < n else m for i, m in enumerate(QUIET)]


def test_a_quiet_week_says_nothing():
    assert said(QUIET) == [] and said([]) == []


def test_what_half_of_those_who_practised_left_out_is_begun_with():
    left = frozenset({"Circles"})
    assert said(change(1, left_out=left)) == []
    (line,) = said(change(2, left_out=left))
    assert line.startswith("2 of 4 left out Circles")
    away = [replace(m, practised=i < 2) for i, m in enumerate(change(4, left_out=left))]
    assert said(away)[0].startswith("2 of 2"), "who did not practise left nothing out"


def test_what_begins_within_a_week_is_shown_and_nothing_later_or_past():
    (line,) = said(QUIET, Cheek_press=7, Far_away=8, Long_known=0)
    assert line == "New in the next days: Cheek press. Show it once, slowly."


def test_how_hard_it_was_by_the_middle_of_all_efforts():
    assert said(change(2, efforts=(7,))) == []
    assert "8 of 10" in said(change(3, efforts=(8,)))[0]
    assert "held" in said(change(4, efforts=(3,)))[0]


def test_pain_comes_first_with_names_and_photographs_last():
    lines = said(change(2, hurt=frozenset({"Circles"}), overdone=True, photographs=TODAY + timedelta(days=7)))
    assert (
        lines[0].startswith("Circles hurt Ada and Bo")
        and "Ada and Bo do more" in lines[1]
        and lines[-1].startswith("Photographs of Ada and Bo")
    )
    assert said(change(1, photographs=TODAY + timedelta(days=8))) == []


def test_more_than_planned_on_two_days_is_ahead_and_is_no_praise():
    assert ahead(1) == "" and ahead(2) == "more than planned on 2 of the last 7 days"
