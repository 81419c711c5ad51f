"""What other thresholds would say of the last whole weeks, before they are kept."""

from .test_reviewing import past

__all__ = ["past"]


def looked(coach, **values):
    answer = coach.post("/api/settings/review/preview", json={"values": values})
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_other_thresholds_are_tried_on_the_last_whole_weeks_and_nothing_is_kept(past, coach):
    p = past()
    p.practise(9, 8, 7, 6, 5)  # five of seven sessions
    assert p.review()["suggested"] == "hold"
    found = looked(coach, advance_share=0.6)
    (effect,) = found["effects"]
    assert found["looked_at"] == 1 and effect["client_id"] == str(p.id)
    assert (effect["before"], effect["after"]) == ("hold", "advance") and effect["because"].startswith("5 of 7 sessions")
    assert looked(coach, advance_share=0.8) == {"looked_at": 1, "effects": []}, "what holds already changes nothing"
    assert p.review()["suggested"] == "hold", "it was only tried"


def test_a_program_with_thresholds_of_its_own_is_not_moved_by_the_practices(past, coach):
    p = past(review={"advance_share": 0.9})
    p.practise(9, 8, 7, 6, 5)
    assert looked(coach, advance_share=0.6)["effects"] == []


def test_a_program_without_a_whole_week_is_not_looked_at(past, coach):
    past(days_ago=3)
    assert looked(coach, advance_share=0.6) == {"looked_at": 0, "effects": []}


def test_a_week_that_was_paused_throughout_is_passed_over_for_the_one_before(past, coach):
    p = past(days_ago=16)
    p.practise(16, 15, 14, 13, 12)  # five of seven; then a week of pause
    pause = {"first": p.day(9).isoformat(), "last": p.day(3).isoformat(), "reason": "away"}
    assert coach.post(f"/api/clients/{p.id}/pause", json=pause).status_code == 204
    found = looked(coach, advance_share=0.6)
    assert [(e["before"], e["after"]) for e in found["effects"]] == [("hold", "advance")]


def test_a_threshold_that_cannot_be_is_refused_by_name(coach):
    answer = coach.post("/api/settings/review/preview", json={"values": {"advance_share": 0.3}})
    assert answer.status_code == 422 and answer.json()["field"] == "advance_share"
