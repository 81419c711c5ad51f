"""The sequencer: a proposal keeps every rule, keeps the coach's order where no rule speaks, and says why."""

from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue
from dimbo.core.programs.ordering import broken, propose
from dimbo.core.programs.program import Line

CARDS = list(shipped_catalogue().cards.values())


def row(number, card):
    return Line(id=f"row{number}", card=card, stage=card.stage, cells=("",))


@st.composite
def rows(draw):
    cards = draw(st.lists(st.sampled_from(CARDS), max_size=14, unique_by=lambda c: c.id))
    return [row(i, c) for i, c in enumerate(cards)]


def named(*ids):
    cards = {c.id: c for c in CARDS}
    return [row(i, cards[name]) for i, name in enumerate(ids)]


@given(rows())
def test_a_proposal_breaks_nothing_but_what_cannot_be_helped(lines):
    order = [p.line for p in propose(lines)]
    assert sorted(n.id for n in order) == sorted(n.id for n in lines)
    # Loosening with oil comes before work inside the mouth; then the hands are washed.
    assert {b.constraint.id for b in broken(order)} <= {"mouth-before-oil"}
    place = {n.card.id: i for i, n in enumerate(order)}
    for n in order:
        same_stage = [i for i, _ in n.card.after if i in place and order[place[i]].stage is n.stage]
        assert all(place[i] < place[n.card.id] for i in same_stage)


@given(rows())
def test_a_proposal_is_settled_and_says_why(lines):
    placed = propose(lines)
    assert [p.line for p in propose([p.line for p in placed])] == [p.line for p in placed]
    assert all(p.reason for p in placed)


def test_the_coachs_order_stays_where_no_rule_speaks():
    lines = named("cheek-drain", "orbit-taps")
    assert [p.line.id for p in propose(named("smile-mirror", "corner-lift-resist"))] == ["row0", "row1"]
    assert [p.line.card.id for p in propose(lines)] == ["orbit-taps", "cheek-drain"], "from the middle outward"


def test_reasons_name_what_builds_on_what():
    reasons = {p.line.card.id: p.reason for p in propose(named("cheek-pulse", "oval-lift"))}
    assert "Cheek pulses on the oval builds on it" in reasons["oval-lift"]
    assert "After Long oval cheek lift" in reasons["cheek-pulse"]


def test_a_place_that_breaks_a_rule_names_what_it_stands_behind():
    (found,) = broken(named("warm-palms", "settle-breath"))
    assert (found.line.card.id, found.behind.card.id, found.constraint.id) == ("settle-breath", "warm-palms", "stage-order")
