"""Letters word for word: improved, unchanged, not comparable; and what no letter says."""

from dataclasses import replace
from datetime import date

import pytest

from dimbo.core.results.letter import Done, Facts, Observed, PairSaid, Placed, Told, Words, report, to_clinician
from dimbo.core.results.plain_words import NO_CHANGE, SAME
from dimbo.core.results.practised import Practised
from dimbo.core.review.adherence import Adherence

FIRST, LAST = date(2026, 9, 1), date(2026, 11, 24)
PLACED = Placed(id="1", width=600, height=800, flipped=False, points={})
NEARER = "Your right eye opens more than in the first photographs. Your left and right are more alike."


def done(**what):
    practised = Practised(first=FIRST, last=LAST, sessions=40, days=38, done_s=12_000, right_s=1800, left_s=1500)
    plain = Done(practised=practised, sessions=Adherence(done=37.5, planned=42), effort=5, soreness=3, eased=(), pains=())
    return replace(plain, **what)


def facts(*sentences, **what):
    pairs = (
        (PairSaid(view="Front, neutral", before=PLACED, after=PLACED, days=(FIRST, LAST), sentences=sentences, alike=SAME),)
        if sentences
        else ()
    )
    plain = Facts(
        client="Maud Quenby",
        coach="Ottoline Brask",
        practice="Quayside",
        written=LAST,
        first=FIRST,
        last=LAST,
        programs=("Eyes",),
        done=done(),
        pairs=pairs,
        not_comparable=(),
        ratings=(),
    )
    return replace(plain, **what)


def said(letter):
    return [p for passage in letter.passages for p in passage.paragraphs]


def test_an_improved_course():
    letter = report(facts(NEARER), Words(opening="Twelve weeks.", adds="Keep the jaw loose.\n\nWell done."))
    assert letter.greeting == "Dear Maud," and letter.signed == "Ottoline Brask"
    assert said(letter)[:6] == [
        "Twelve weeks.",
        "From 1 September 2026 to 24 November 2026 you followed “Eyes”.",
        "You practised 40 sessions on 38 days, 200 minutes in all. Of 42 planned days you did 37.5.",
        "Muscles were tightened for 30 minutes on your right side and 25 minutes on your left.",
        "As you told it, effort was mostly 5 of 10 and soreness 3 of 10 at most.",
        "Keep the jaw loose.",
    ]
    shows = next(p for p in letter.passages if p.pairs)
    assert shows.paragraphs == () and shows.pairs[0].sentences == (NEARER,)


def test_no_change_is_a_real_answer_and_is_said_as_one():
    letter = report(facts(f"Eye opening: {NO_CHANGE}."), Words())
    assert "The photographs show no change beyond what taking them again would explain. That is a real answer" in " ".join(said(letter))
    assert [p.heading for p in letter.passages if p.told is Told.COACH] == [], "what the coach has not written is not there"


def test_what_cannot_be_compared_says_why_once():
    why = ("The light came from one side.", "The light came from one side.")
    letter = report(facts(not_comparable=why), Words())
    assert said(letter).count("The photographs of this time cannot be held against each other. The light came from one side.") == 1
    nothing = report(facts(), Words())
    assert any("says nothing of what can be seen" in p for p in said(nothing))


def test_what_was_eased_hurt_and_comes_next_is_told():
    eased = done(
        eased=((date(2026, 9, 15), "eased back", "Soreness 6 of 10."),), pains=("On 29 September 2026 Lid lift hurt; it was stopped.",)
    )
    letter = report(facts(NEARER, done=eased, follows="Eyes, further"), Words(next_steps="Two weeks of rest."))
    text = " ".join(said(letter))
    assert "In the week of 15 September 2026 it was eased back: Soreness 6 of 10." in text and "Lid lift hurt" in text
    assert said(letter)[-4:-2] == ["Two weeks of rest.", "Your next program is “Eyes, further”."]
    idle = done(practised=replace(done().practised, sessions=0))
    assert "In this time no session was practised." in said(report(facts(NEARER, done=idle), Words()))


def test_a_clinician_reads_what_was_told_in_the_order_of_days_and_no_opinion():
    observed = [Observed(day=date(2026, 10, 2), text="Numb cheek: yes."), Observed(day=date(2026, 9, 5), text="Headache: yes.")]
    letter = to_clinician(facts(NEARER), Words(addressee="Dear Dr Amberley,"), observed, held=("Numb cheek: no exercises.",), born=1968)
    assert letter.greeting == "Dear Dr Amberley," and letter.title == "About Maud Quenby, born in 1968"
    told = next(p for p in letter.passages if p.heading == "What was told or seen")
    assert told.paragraphs == ("5 September 2026: Headache: yes.", "2 October 2026: Numb cheek: yes.")
    assert not any(p.pairs for p in letter.passages) and NEARER not in said(letter)


@pytest.mark.parametrize("sentences", [(NEARER,), (f"Eye opening: {NO_CHANGE}.",), ()])
def test_every_letter_says_what_it_does_not_say_and_never_promises(sentences):
    letter = report(facts(*sentences), Words())
    assert letter.passages[-1].heading == "What this letter does not say" and "no diagnosis" in " ".join(letter.passages[-1].paragraphs)
    text = " ".join(said(letter)).lower()
    assert not any(
        word in text for word in ("because of", "thanks to", "will improve", "younger", "works", "proves", "cure", "treatment of")
    )
