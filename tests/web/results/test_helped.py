"""What helped over the wire: a young practice, the table without names, and a coin before practice."""

import csv
import io

from tests.web.practising import by_hand, hand_in, todays


def answer(coach):
    while not (found := coach.get("/api/helped").json())["found"]:
        assert found["done"] < found["of"]
    return found["found"]


def test_a_young_practice_is_told_that_nothing_can_be_said_and_what_would_help(coach, practice, pair):
    found = answer(coach)
    assert [r["id"] for r in found["readings"]] == ["fissure_height", "brow_height", "commissure_height"]
    assert all(s["sentence"].startswith("Nothing can be said yet") for r in found["readings"] for s in r["says"])
    assert all(r["line"] is None and r["alike"] is None for r in found["readings"])
    assert found["practising"]["course"] == [] and "second start" in found["second_start"]
    rows = list(csv.reader(io.StringIO(coach.get("/api/helped.csv").text.lstrip("\ufeff"))))
    assert rows[0][:3] == ["person", "reading", "trained"] and len(rows) == 1
    meant = coach.get("/api/helped-dictionary.csv").text
    assert all(column in meant for column in rows[0])


def test_a_coin_falls_before_practice_and_not_after(coach, client, practice, assigned):
    ask = lambda *between: coach.post(f"/api/clients/{practice.client_id}/coin", json={"between": list(between)})  # noqa: E731
    assert ask("balanced", "balanced").status_code == 422
    assert ask("balanced", "nothing").status_code == 422
    thrown = ask("balanced", "strength-first")
    assert thrown.status_code == 201 and thrown.json()["fell"] in ("balanced", "strength-first")
    hand_in(client, by_hand(todays(client)))
    late = ask("balanced", "strength-first")
    assert late.status_code == 422 and "before" in late.json()["message"]
