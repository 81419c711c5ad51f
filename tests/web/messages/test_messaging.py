"""Messages, the messenger's outbox, and reminders."""

from datetime import UTC, datetime, time, timedelta
from uuid import uuid4
from zoneinfo import ZoneInfo

import pytest

from dimbo.work.messages.messenger import Delivery
from dimbo.work.practice import reminding
from dimbo.work.practice.reminding import Carriers
from tests.midday import MIDDAY
from tests.postman import Postman
from tests.web.practising import hand_in, log, todays

THERE = ZoneInfo(MIDDAY)


def say(text, **about):
    return {"kind": "message", "id": str(uuid4()), "text": text, "written_at": datetime.now(UTC).isoformat()} | about


def test_words_go_both_ways_beside_an_exercise_and_a_session(coach, client, practice):
    said = say("The lids tremble. Is that fine?", exercise_id="bracket-open")
    assert [r["state"] for r in hand_in(client, said, said)] == ["kept", "had"]
    rows = coach.get("/api/desk").json()["clients"]
    assert rows[0]["unread"] == 1
    (seen,) = coach.get(f"/api/clients/{practice.client_id}/messages").json()
    assert (seen["by_coach"], seen["text"], seen["exercise_id"]) == (False, "The lids tremble. Is that fine?", "bracket-open")
    assert coach.get("/api/desk").json()["clients"][0]["unread"] == 1, "a page writes nothing by being read"
    assert coach.post(f"/api/clients/{practice.client_id}/messages/read").status_code == 204
    assert coach.get("/api/desk").json()["clients"][0]["unread"] == 0
    path = f"/api/clients/{practice.client_id}/messages"
    answer = {"id": str(uuid4()), "text": "Yes. Half as wide.", "about_day": "2026-11-20"}
    assert [coach.post(path, json=answer).status_code for _ in range(2)] == [204, 204]
    assert coach.post(path, json={"id": str(uuid4()), "text": " "}).json()["field"] == "text"
    heard = client.get("/api/my-days").json()["messages"]
    assert [m["read_at"] is None for m in heard] == [False, True]
    assert client.post("/api/my-messages/read").status_code == 204
    assert client.get("/api/my-days").json()["messages"][1]["read_at"] is not None
    assert [m["text"] for m in heard] == ["The lids tremble. Is that fine?", "Yes. Half as wide."]
    letters = coach.get("/api/outbox").json()
    assert {(x["to_coach"], x["kind"], x["state"]) for x in letters} == {(True, "message", "waiting"), (False, "message", "waiting")}
    assert [x["subject"] for x in client.get("/api/my-outbox").json()] == ["Coach of harbour wrote"]


def test_one_reminder_a_session_at_its_time(db, practice, assigned, coach, client):
    day, _ = assigned
    due = datetime.combine(day, time(7, 40), THERE)
    assert reminding.remind(db, practice.id, due - timedelta(minutes=1)) == 0
    assert [reminding.remind(db, practice.id, due + timedelta(minutes=n)) for n in (0, 1, 30)] == [1, 0, 0]
    (letter,) = client.get("/api/my-outbox").json()
    assert letter["subject"] == "Practice at 08:00" and "minutes, at 08:00" in letter["body"] and "/unsubscribe/" in letter["body"]
    assert letter["address"] == practice.client_email


def test_a_client_whose_time_has_not_come_costs_nothing_more(db, practice, assigned, monkeypatch):
    """One statement finds whoever may be due; only they are looked at."""
    day, _ = assigned
    looked = []
    real = reminding.standing
    monkeypatch.setattr(reminding, "standing", lambda *a: looked.append(a) or real(*a))
    due = datetime.combine(day, time(7, 40), THERE)
    for early in (timedelta(hours=20), timedelta(hours=2), timedelta(minutes=1)):
        assert reminding.remind(db, practice.id, due - early) == 0
    assert looked == []
    assert reminding.remind(db, practice.id, due) == 1 and len(looked) == 1
    assert reminding.remind(db, practice.id, due + timedelta(minutes=1)) == 0 and len(looked) == 1, "reminded already"


def test_letters_are_carried_outside_any_transaction_each_by_one_worker(db, practice, assigned):
    day, _ = assigned
    due = datetime.combine(day, time(7, 40), THERE)
    assert reminding.remind(db, practice.id, due) == 1

    class Slow(Postman):
        """A messenger that takes so long that another worker comes along, and tries to write meanwhile."""

        carried = 0

        def deliver(self, letter, now):
            assert reminding.carry(db, practice.id, Carriers(messenger=Postman()), now) == 0, "nobody else takes it"
            with db.practice(practice.id) as conn:
                conn.execute("set local lock_timeout = '1s'")
                conn.execute("update outbox set problem = 'seen' where id = %s", (letter.id,))
            Slow.carried += 1
            return Delivery("delivered")

    assert reminding.carry(db, practice.id, Carriers(messenger=Slow()), due) == 1 and Slow.carried == 1
    assert reminding.carry(db, practice.id, Carriers(messenger=Postman()), due + timedelta(hours=1)) == 0


def test_letters_of_a_worker_that_died_are_anybodys_after_a_while(db, practice, assigned):
    day, _ = assigned
    due = datetime.combine(day, time(7, 40), THERE)
    reminding.remind(db, practice.id, due)

    class Dead(Postman):
        def deliver(self, letter, now):
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        reminding.carry(db, practice.id, Carriers(messenger=Dead()), due)
    assert reminding.carry(db, practice.id, Carriers(messenger=Postman()), due + timedelta(minutes=1)) == 0
    assert reminding.carry(db, practice.id, Carriers(messenger=Postman()), due + reminding.LEASE) == 1


def test_nothing_is_reminded_of_that_is_done_paused_or_unwanted(db, practice, assigned, coach, client, owner):
    day, _ = assigned
    due = datetime.combine(day, time(7, 45), THERE)
    assert client.put("/api/my-reminders", json={"on": False}).status_code == 204
    assert reminding.remind(db, practice.id, due) == 0
    assert client.put("/api/my-reminders", json={"on": True}).status_code == 204
    coach.post(f"/api/clients/{practice.client_id}/pause", json={"first": day.isoformat()})
    assert reminding.remind(db, practice.id, due) == 0
    coach.post(f"/api/clients/{practice.client_id}/resume", json={"on": day.isoformat()})
    hand_in(client, log(todays(client)))
    assert reminding.remind(db, practice.id, due) == 0


def test_a_session_done_between_reminder_and_delivery_withholds_it(db, practice, assigned, client):
    day, _ = assigned
    due = datetime.combine(day, time(7, 40), THERE)
    assert reminding.remind(db, practice.id, due) == 1
    hand_in(client, log(todays(client)))
    assert reminding.carry(db, practice.id, Carriers(messenger=Postman()), due + timedelta(minutes=1)) == 1
    (letter,) = [x for x in client.get("/api/my-outbox").json() if x["kind"] == "reminder"]
    assert letter["state"] == "withheld" and "done already" in letter["problem"]


def test_a_reminder_that_comes_hours_late_is_not_sent(db, practice, assigned, client):
    day, _ = assigned
    due = datetime.combine(day, time(7, 40), THERE)
    reminding.remind(db, practice.id, due)
    assert reminding.carry(db, practice.id, Carriers(messenger=Postman()), due + timedelta(hours=3)) == 1
    (letter,) = client.get("/api/my-outbox").json()
    assert letter["state"] == "withheld" and "in time" in letter["problem"]


def test_quiet_hours_of_the_client_go_before_the_practices(db, practice, assigned, client, coach):
    day, _ = assigned
    own = {"on": True, "quiet": {"first": "22:00", "last": "09:00"}}
    assert client.put("/api/my-reminders", json=own).status_code == 204
    assert client.get("/api/my-reminders").json()["quiet"] == {"first": "22:00:00", "last": "09:00:00"}
    assert reminding.remind(db, practice.id, datetime.combine(day, time(7, 45), THERE)) == 0
    assert reminding.remind(db, practice.id, datetime.combine(day, time(9, 0), THERE)) == 1


def test_the_practices_own_text_is_used_and_checked(db, practice, assigned, coach, client):
    quiet = {"first": "21:00", "last": "06:00"}
    bad = coach.put("/api/reminding", json={"quiet": quiet, "text": "Dear {surname}"})
    assert bad.status_code == 422 and bad.json()["field"] == "text" and "{name}" in bad.json()["message"]
    assert coach.put("/api/reminding", json={"quiet": quiet, "text": "{name}, the mirror waits at {time}."}).status_code == 204
    day, _ = assigned
    reminding.remind(db, practice.id, datetime.combine(day, time(7, 40), THERE))
    assert client.get("/api/my-outbox").json()[0]["body"].startswith("Client, the mirror waits at 08:00.")


def test_other_quiet_hours_say_whose_reminders_move_before_they_are_kept(assigned, coach, client):
    def moved(first, last):
        body = {"quiet": {"first": first, "last": last}, "text": ""}
        return coach.post("/api/reminding/preview", json=body).json()

    assert moved("21:30", "07:00") == [], "the hours that hold move nothing"
    (later,) = moved("21:30", "07:50")
    assert (later["client"], later["part"]) == ("Client of harbour", "morning")
    assert (later["before"], later["after"]) == ("07:40:00", "07:50:00")
    assert coach.get("/api/reminding").json()["quiet"]["last"] == "07:00:00", "it was only asked"
    own = {"on": True, "quiet": {"first": "21:00", "last": "06:00"}}
    assert client.put("/api/my-reminders", json=own).status_code == 204
    assert moved("21:30", "07:50") == [], "a client with hours of their own keeps them"


def test_the_link_in_a_reminder_ends_them_without_signing_in(db, practice, assigned, client, browser):
    day, _ = assigned
    reminding.remind(db, practice.id, datetime.combine(day, time(7, 40), THERE))
    token = client.get("/api/my-outbox").json()[0]["body"].rsplit("/", 1)[1]
    stranger = browser()
    assert [stranger.post(f"/api/unsubscribe/{token}").json() for _ in range(2)] == [{"practice_name": "harbour"}] * 2
    assert client.get("/api/my-reminders").json()["on"] is False
    assert stranger.post("/api/unsubscribe/nonsense").status_code == 422


def test_letters_are_carried_until_they_arrive_or_fail(db, practice, coach, client, owner):
    for n in range(12):
        hand_in(client, say(f"Word {n}"))
    now = datetime.now(UTC) + timedelta(seconds=5)
    for minutes in range(0, 20, 2):
        reminding.work_off(db, Carriers(messenger=Postman()), now + timedelta(minutes=minutes))
    letters = coach.get("/api/outbox").json()
    assert len(letters) == 12 and {x["state"] for x in letters} == {"delivered"}
    owner.execute("update accounts set email = 'coach@gone.unreachable.example' where role = 'coach'")
    hand_in(client, say("Lost"))
    for minutes in range(0, 300, 5):
        reminding.work_off(db, Carriers(messenger=Postman()), now + timedelta(minutes=minutes))
    lost = coach.get("/api/outbox").json()[0]
    assert lost["state"] == "failed" and "Given up after 8 tries" in lost["problem"] and lost["tries"] == 8
