"""What is said, word for word, and what is never said."""

from datetime import date

import numpy as np
import pytest

from dimbo.core.results.clean_starts import RAISERS, Gain, Kind
from dimbo.core.results.helped import NOTHING, of_approaches, of_ratings, of_readings

SD = 0.3


def gain(amount, dose=0.5, kind=Kind.UNEVEN, start=0.8):
    return Gain(
        kind=kind,
        gain=amount,
        dose=dose if kind is Kind.UNEVEN else 0.0,
        variance=SD**2,
        start=date(2026, 1, 5),
        end=date(2026, 4, 6),
        at_start=start,
        at_end=start - amount,
    )


def sentences(found):
    return [f.sentence for r in found for f in r.says]


def test_few_clients_are_told_how_many_are_needed():
    found = of_readings({"fissure_height": [gain(0.3)] * 12, "brow_height": []})
    said = sentences(found)
    assert said[0] == f"{NOTHING}: 12 clients; about 20 are needed."
    assert said[2].startswith(f"{NOTHING}: 0 clients; about ")
    assert not any(f.open or f.told for r in found for f in r.says)


def test_enough_clients_are_told_with_the_alike_beside_them():
    rng = np.random.default_rng(3)
    many = [gain(0.4 + x) for x in rng.normal(0, 0.2, 30)]
    alike = [gain(x, kind=Kind.ALIKE) for x in rng.normal(0, 0.2, 6)]
    told = of_readings({"fissure_height": [*many, *alike]})[0].says[0]
    assert told.told and told.sentence.startswith("In 30 clients the side trained more gained 0.")
    assert "in 6 trained alike the smaller side" in told.sentence
    nothing = of_readings({"fissure_height": [gain(x) for x in rng.normal(0, 0.2, 30)]})[0].says[0]
    assert nothing.open and not nothing.told and "no change of eye opening could be told" in nothing.sentence
    loss = of_readings({"fissure_height": [gain(-0.4 + x) for x in rng.normal(0, 0.2, 30)]})[0].says[0]
    assert "the side trained more lost 0." in loss.sentence, "losses are said as plainly"


def test_the_dose_is_told_only_within_what_there_was():
    rng = np.random.default_rng(5)
    doses = rng.uniform(0.2, 1.4, 80)
    cases = [gain(0.8 * d + e, dose=d) for d, e in zip(doses, rng.normal(0, 0.15, 80), strict=True)]
    cases += [gain(e, kind=Kind.ALIKE) for e in rng.normal(0, 0.15, 20)]
    said = of_readings({"brow_height": cases})[0].says[1]
    assert said.told and said.sentence.startswith("Those with 100 more extra minutes gained 0.8 mm more (0.")
    assert said.sentence.endswith(f"within the {max(doses) * 100:.0f} minutes that there were.")


def test_approaches_are_never_ranked_and_only_a_coin_lets_one_do_better():
    rng = np.random.default_rng(7)
    rows = [(gain(0.6 + e, start=s), "a", True) for e, s in zip(rng.normal(0, 0.1, 25), rng.normal(1, 0.3, 25), strict=True)]
    rows += [(gain(0.1 + e, start=s), "b", True) for e, s in zip(rng.normal(0, 0.1, 25), rng.normal(1, 0.3, 25), strict=True)]
    by_coin = of_approaches({"brow_height": rows})[0].finding
    assert by_coin.told and "chosen by a coin, a did better by 0." in by_coin.sentence
    chosen = of_approaches({"brow_height": [(g, name, False) for g, name, _ in rows]})[0].finding
    assert not chosen.told and "it may be the clients and not the approach" in chosen.sentence
    few = of_approaches({"brow_height": rows[:40]})[0].finding
    assert few.sentence == f"{NOTHING} of a beside b: 25 and 15 clients; 20 of each are needed."
    near, far = np.linspace(0.5, 0.7, 20), np.linspace(1.5, 1.9, 20)
    unlike = [(gain(0.1, start=s), name, True) for name, starts in (("a", near), ("b", far)) for s in starts]
    apart = of_approaches({"brow_height": unlike})
    assert not apart[0].finding.open, "starts that do not overlap are not held against each other"


def test_of_many_pairs_of_equal_approaches_hardly_any_is_told_apart():
    rng, said = np.random.default_rng(13), 0
    for _ in range(60):
        rows = [
            (gain(e, start=s), name, True) for name in "abcd" for e, s in zip(rng.normal(0, 0.3, 22), rng.normal(1, 0.3, 22), strict=True)
        ]
        said += any(a.finding.told for a in of_approaches({"brow_height": rows, "fissure_height": rows}))
    assert said <= 3


@pytest.mark.parametrize(
    ("changes", "ends"),
    [
        ([-1, 0], "it fell in 1, stayed in 1 and rose in 0 of 2 clients."),
        ([-1] * 6, "of those that moved 100 in a hundred fell (61 to 100)."),
        ([-1] * 9 + [1], "on average by 0.8 of 4 steps."),
    ],
)
def test_ratings_are_counted_then_bounded_then_averaged(changes, ends):
    assert of_ratings("folds", changes).finding.sentence.endswith(ends)


def test_words_that_are_never_said():
    rng = np.random.default_rng(9)
    for effect in (-0.5, 0.0, 0.5):
        cases = {
            k: [gain(effect + e, dose=d) for e, d in zip(rng.normal(0, 0.2, 60), rng.uniform(0.1, 1, 60), strict=True)]
            + [gain(e, kind=Kind.ALIKE) for e in rng.normal(0, 0.2, 20)]
            for k in RAISERS
        }
        text = " ".join(sentences(of_readings(cases))).lower()
        assert not any(w in text for w in ("works", "proves", "because", " will ", "best", "percent", "%"))
