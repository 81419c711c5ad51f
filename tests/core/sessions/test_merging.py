"""Two programs in one session."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.anatomy import STAGE_ORDER, Family, Side, SideSeconds, Stage
from dimbo.core.exercises.dose_line import parse
from dimbo.core.programs.daily_ceilings import Spent
from dimbo.core.programs.program import Line, Settings
from dimbo.core.sessions.merging import Owned, day_of, merged, spare, within_ceilings
from dimbo.core.sessions.timeline import Item
from tests.core.builders import card

SETTINGS = Settings()


def owned(owner, name, stage=Stage.WORK, text="1×5 h3", ceiling_s=600, family=Family.CONTRACT):
    c = card(name, stage=stage, ceiling_s=ceiling_s, family=family)
    return Owned(owner, Item(Line(id=f"{owner}-{name}", card=c, stage=stage, cells=(text,)), parse(text, c.style)))


def names(entries):
    return [f"{o.owner}{o.item.card.id}" for o in entries]


def test_stage_by_stage_and_the_first_program_leads():
    one = [owned(1, "a", Stage.PREPARE), owned(1, "b", Stage.WORK), owned(1, "c", Stage.CLOSE)]
    two = [owned(2, "x", Stage.LOOSEN), owned(2, "y", Stage.WORK), owned(2, "z", Stage.DRAIN)]
    assert names(merged(one, two)) == ["1a", "2x", "1b", "2y", "2z", "1c"]
    assert names(merged(one, [])) == ["1a", "1b", "1c"]


def test_what_warms_and_closes_is_done_once_and_work_is_not():
    breath = {"stage": Stage.PREPARE, "family": Family.BREATHE}
    one = [owned(1, "breath", **breath), owned(1, "lift"), owned(1, "palms", Stage.CLOSE, family=Family.RELEASE)]
    two = [owned(2, "breath", **breath), owned(2, "new", **breath), owned(2, "lift"), owned(2, "palms", Stage.CLOSE, family=Family.RELEASE)]
    assert names(merged(one, two)) == ["1breath", "2new", "1lift", "2lift", "1palms"]
    assert names(merged(one, two[:1])) == ["1breath", "2breath", "1lift", "1palms"], "a program of nothing else keeps its rows"


stages = st.sampled_from([s for s in Stage if s is not Stage.DAY])


@given(st.lists(stages, max_size=8), st.lists(stages, max_size=8))
def test_each_program_keeps_its_own_order_and_nothing_is_lost(one, two):
    a = [owned(1, f"a{n}", s) for n, s in enumerate(one)]
    b = [owned(2, f"b{n}", s) for n, s in enumerate(two)]
    together = merged(a, b)
    assert [o for o in together if o.owner == 1] == a
    assert [o for o in together if o.owner == 2] == b
    if one == sorted(one, key=STAGE_ORDER.get) and two == sorted(two, key=STAGE_ORDER.get):
        ranks = [STAGE_ORDER[o.item.line.stage] for o in together]
        assert ranks == sorted(ranks)


def test_what_would_pass_a_shared_ceiling_is_left_out():
    entries = [owned(1, "lift", ceiling_s=30), owned(2, "lift", ceiling_s=30), owned(2, "press")]
    kept, beyond = within_ceilings(entries, SETTINGS)
    assert names(kept) == ["1lift", "2press"] and names(b.owned for b in beyond) == ["2lift"]
    kept, beyond = within_ceilings(entries[2:], SETTINGS, Spent({"press": SideSeconds(590, 0)}))
    assert names(b.owned for b in beyond) == ["2press"] and beyond[0].passed.side is Side.RIGHT


def test_a_row_that_passes_its_ceiling_by_itself_is_never_played():
    """However it came into a plan: an import, an old card, another pace."""
    kept, beyond = within_ceilings([owned(1, "lift", text="3×15 h10", ceiling_s=30)], SETTINGS)
    assert kept == () and len(beyond) == 1


@given(st.integers(1, 6), st.integers(30, 400), st.floats(0, 300))
def test_what_may_be_repeated_never_passes_the_ceiling(reps, ceiling, before):
    items = [owned(1, "lift", text=f"1×{reps} h5", ceiling_s=ceiling).item]
    used = Spent({"lift": SideSeconds(before, before / 2)})
    left = spare(items, SETTINGS, used)["lift"].exercise
    planned = day_of(items, SETTINGS).exercises["lift"]
    for side in Side:
        assert left.of(side) >= 0
        total = planned.of(side) + used.exercises["lift"].of(side) + left.of(side)
        assert total == pytest.approx(max(ceiling, planned.of(side) + used.exercises["lift"].of(side)))
