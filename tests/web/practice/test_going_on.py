"""A started session survives: it goes on where it stopped, on any device, counts once, and nothing that was told is lost."""

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.core.anatomy import Side
from dimbo.core.sessions.crediting import Stay, Stretch
from dimbo.core.sessions.session_report import ItemReport, PartReport, Report
from dimbo.work.practice import handing_in
from tests.web.conftest import new_program
from tests.web.histories import Past
from tests.web.practising import course_day, hand_in, log, todays


@pytest.fixture
def running(coach, practice):
    program = new_program(coach, practice.client_id)
    start = {"start": coach.get(f"/api/programs/{program}").json()["client_today"]}
    assert coach.post(f"/api/programs/{program}/assignment", json=start).status_code == 201
    return program


def part_of(client):
    days = client.post("/api/my-days").json()
    part = days["days"][0]["parts"][0]
    return part, days["sessions"].get(part["session"])


def half(client, share=0.5, **change):
    """The beginning of today's session, practised half an hour ago."""
    today = todays(client)
    begun = datetime.now(UTC) - timedelta(minutes=40)
    return today, log(today, (0, today["session"]["seconds"] * share), started=begun, **change)


def rest(client, today, earlier, **change):
    """What the first part left over, from where the server says that it goes on."""
    part, session = part_of(client)
    return log(today | {"session": session}, (part["begun"]["at_s"], session["seconds"]), continues=earlier, **change)


def test_a_session_that_was_ended_early_goes_on_where_it_stopped_and_counts_once(client, coach, practice, running):
    today, first = half(client, effort=3, note="Short of time.")
    hand_in(client, first)
    part, session = part_of(client)
    assert part["begun"]["log"] == first["id"] and part["begun"]["at_s"] == pytest.approx(session["seconds"] / 2, abs=30)
    assert 0.3 < part["done_share"] < 0.7
    second = rest(client, today, first["id"], effort=6, note="And the rest.")
    assert hand_in(client, second)[0]["state"] == "kept"
    day = course_day(coach, practice.client_id, today["day"])
    assert day["state"] == "done" and day["over_s"] == 0
    (stands,) = [x for x in coach.get(f"/api/clients/{practice.client_id}/logs/{today['day']}").json() if x["stands"]]
    assert [i["outcome"] for i in stands["items"]] == ["done"] * len(session["items"])
    assert (stands["effort"], stands["note"]) == (6, "Short of time. And the rest.")
    assert stands["pauses"] == 1, "the time between the two parts is one pause"
    part, _ = part_of(client)
    assert part["done_at"] and part["begun"] is None
    assert hand_in(client, second)[0]["state"] == "had", "sent again it changes nothing"


def test_both_parts_may_arrive_together_in_their_order(client, coach, practice, running):
    today, first = half(client)
    session = today["session"]
    second = log(today, (session["seconds"] / 2, session["seconds"]), continues=first["id"])
    assert [r["state"] for r in hand_in(client, first, second)] == ["kept", "kept"]
    assert course_day(coach, practice.client_id, today["day"])["state"] == "done"


def test_mostly_skipped_is_not_done_for_today(client, running):
    _, little = half(client, 0.2)
    hand_in(client, little)
    part, session = part_of(client)
    assert part["done_at"] is None and part["begun"]["at_s"] < session["seconds"] / 2
    _, more = half(client, 0.6)
    hand_in(client, more | {"continues": little["id"]})
    assert part_of(client)[0]["done_at"]


def test_pain_of_the_first_part_is_told_once_with_all_that_was_said(client, coach, practice, running):
    today = todays(client)
    hurt = today["session"]["items"][-1]["exercise"]
    told = {
        "hurt": True,
        "pain_side": "left",
        "pain_level": 6,
        "pain_where": "temple",
        "pain_since": "the last session",
    }
    begun = datetime.now(UTC) - timedelta(minutes=40)
    first = log(today, (0, today["session"]["seconds"] / 2), started=begun, items={hurt: told})
    hand_in(client, first)
    (row,) = [c for c in coach.get("/api/desk").json()["clients"] if c["id"] == str(practice.client_id)]
    assert "left side and temple, 6 of 10, since the last session" in row["alarms"][0]["text"]
    letters = [x for x in coach.get("/api/outbox").json() if x["kind"] == "pain"]
    assert len(letters) == 1 and "since the last session" in letters[0]["body"]
    coach.post(f"/api/clients/{practice.client_id}/stopped/{hurt}/clear", json={"note": "It was the grip."})
    second = log(today, (today["session"]["seconds"] / 2, today["session"]["seconds"]), continues=first["id"])
    assert hand_in(client, second)[0]["state"] == "kept"
    assert len([x for x in coach.get("/api/outbox").json() if x["kind"] == "pain"]) == 1
    assert hurt not in {x["name"] for s in client.post("/api/my-days").json()["sessions"].values() for x in s["left_out"]}, "cleared stays"


def test_staying_at_a_tender_spot_is_no_pause_and_no_overdoing_and_is_pointed_out_next_time(db, practice, coach):
    past = Past(db, practice, coach, days_ago=2, lines=(("chewer-circles", "release", ("15 s",) * 6),))
    session = past.planned(1)
    begun = datetime.now(UTC) - timedelta(days=1)
    at = round(session.cues[2].start_s + 5, 1)
    played = [Stretch(0.0, at, begun), Stretch(at, session.seconds, begun + timedelta(seconds=at + 10))]
    stay = Stay(at, 10.0, Side.LEFT, "the chewing muscle")
    items = [ItemReport(assignment_id=o.owner, line_id=o.item.line.id, stays=(stay,)) for o in session.items]
    parts = [
        PartReport(assignment_id=p.assignment.id, plan=p.planned.plan, week=p.planned.week, place=p.planned.place) for p in session.parts
    ]
    ended = begun + timedelta(seconds=session.seconds + 10)
    report = Report(
        id=uuid4(),
        day=past.day(1),
        part=session.part,
        source="player",
        parts=parts,
        items=items,
        stretches=played,
        started_at=begun,
        ended_at=ended,
        sent_at=ended,
        effort=4,
    )
    assert handing_in.hand_in(db, past.person, report, ended + timedelta(seconds=5)).new
    (seen,) = coach.get(f"/api/clients/{past.id}/logs/{past.day(1)}").json()
    assert seen["pauses"] == 0 and seen["items"][0]["stays"][0]["seconds"] == 10
    assert course_day(coach, past.id, str(past.day(1)))["over_s"] == 0
    from dimbo.work.practice.days import begin_day

    now = begin_day(db, past.person, datetime.now(UTC))
    told = next(iter(now.sessions.values())).tender["chewer-circles"]
    assert told == "Last time you stayed 10 s longer: your left side at the chewing muscle."


def test_staying_takes_of_the_days_ceiling(client, running, db, practice):
    from dimbo.catalogue import shipped_catalogue
    from dimbo.core.anatomy import Side, SideSeconds
    from dimbo.core.programs.daily_ceilings import stayed

    card = shipped_catalogue().cards["chewer-circles"]
    assert stayed(card, [(Side.LEFT, 10), (None, 5)]).exercises[card.id] == SideSeconds(5, 15)


@pytest.mark.parametrize("seconds", [0, -5, 601])
def test_a_stay_that_cannot_be_is_refused(client, running, seconds):
    today = todays(client)
    first = today["session"]["items"][0]["exercise"]
    body = {"sent_at": datetime.now(UTC).isoformat(), "entries": [log(today, items={first: {"stays": [{"at_s": 1, "seconds": seconds}]}})]}
    assert client.post("/api/hand-in", json=body).status_code == 422


@pytest.mark.parametrize("years", [-56, -3, 10, 40])
def test_a_clock_that_is_wrong_by_years_is_still_read(client, coach, practice, running, years):
    today = todays(client)
    off = timedelta(days=365 * years)
    begun = datetime.now(UTC) - timedelta(minutes=20) + off
    entry = log(today, started=begun)
    (kept,) = hand_in(client, entry, sent_at=datetime.now(UTC) + off)
    assert kept["state"] == "kept" and "clock" in kept["said"][0]
    assert course_day(coach, practice.client_id, today["day"])["state"] == "done"


@pytest.mark.parametrize("years", [-56, 10])
def test_a_clock_that_was_set_right_before_it_was_sent_costs_nothing(client, coach, practice, running, years):
    today = todays(client)
    begun = datetime.now(UTC) - timedelta(minutes=20) + timedelta(days=365 * years)
    assert hand_in(client, log(today, started=begun))[0]["state"] == "kept"
    assert course_day(coach, practice.client_id, today["day"])["state"] == "done"


def test_one_entry_that_trips_over_a_fault_holds_up_nothing(client, coach, practice, running, monkeypatch):
    today = todays(client)
    message = {"kind": "message", "id": str(uuid4()), "text": "Good evening.", "written_at": datetime.now(UTC).isoformat()}
    monkeypatch.setattr(handing_in, "_works", lambda *_: 1 / 0)
    bad, good = hand_in(client, log(today), message)
    assert (bad["state"], good["state"]) == ("later", "kept") and "tried again" in bad["said"][0]
    monkeypatch.undo()
    assert [r["state"] for r in hand_in(client, log(today), message)] == ["kept", "had"]


def test_a_part_of_another_plan_is_kept_beside_and_never_lost(client, coach, practice, running):
    today, first = half(client)
    hand_in(client, first)
    swapped = log(today, (0, 60), started=datetime.now(UTC) - timedelta(minutes=5), continues=str(uuid4()))
    assert hand_in(client, swapped)[0]["state"] == "kept"
    stands = [x for x in coach.get(f"/api/clients/{practice.client_id}/logs/{today['day']}").json() if x["stands"]]
    assert len(stands) == 2
