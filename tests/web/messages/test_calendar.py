"""The calendar feed, as calendar programs read it: with three parsers, by what they have already, over the life of a program."""

from datetime import UTC, datetime, time, timedelta
from email.utils import parsedate_to_datetime
from zoneinfo import ZoneInfo

import icalendar
import ics
import psycopg
import vobject

from dimbo.core.calendar.reminder_times import moment
from dimbo.store.people import clients
from dimbo.work.messages import feed
from tests.web.practising import by_hand, hand_in, todays


def feed_of(browser, client):
    made = client.post("/api/my-feed")
    assert made.status_code == 201
    path = made.json()["path"]
    got = browser().get(path)
    assert got.status_code == 200 and got.headers["content-type"].startswith("text/calendar")
    return path, icalendar.Calendar.from_ical(got.content)


def events(calendar):
    return {str(e["uid"]): e for e in calendar.walk("VEVENT")}


def test_the_feed_is_a_calendar_with_zone_ids_and_a_round_trip(browser, client, assigned, owner):
    day, _ = assigned
    assert client.put("/api/my-zone", json={"time_zone": "Europe/Lisbon"}).status_code == 204
    there = ZoneInfo("Europe/Lisbon")
    _, calendar = feed_of(browser, client)
    assert icalendar.Calendar.from_ical(calendar.to_ical()) == calendar
    assert [str(z["tzid"]) for z in calendar.walk("VTIMEZONE")] == ["Europe/Lisbon"]
    found = events(calendar)
    assert len(found) == owner.execute("select count(*) from planned_days").fetchone()[0]
    first = min(found.values(), key=lambda e: e["dtstart"].dt)
    assert first["dtstart"].dt == datetime.combine(day, time(8), there) == moment(day, time(8), there)
    assert str(first["summary"]).startswith("Face practice, ") and str(first["status"]) == "CONFIRMED"
    assert first["dtend"].dt > first["dtstart"].dt
    assert first.walk("VALARM")[0]["trigger"].dt == timedelta(minutes=-20)


def test_a_change_keeps_the_ids_and_raises_the_sequence(browser, coach, client, practice, assigned):
    day, assignment = assigned
    path, calendar = feed_of(browser, client)
    before = events(calendar)
    wish = {"start": day.isoformat(), "times": {"morning": "09:15"}, "remind_min": 20}
    assert coach.post(f"/api/assignments/{assignment}/change", json={"wish": wish}).status_code == 200
    after = events(icalendar.Calendar.from_ical(browser().get(path).content))
    assert set(after) == set(before)
    assert all(after[u]["dtstart"].dt.time() == time(9, 15) and after[u]["sequence"] > before[u]["sequence"] for u in after)
    pause = {"first": (day + timedelta(days=2)).isoformat(), "last": (day + timedelta(days=4)).isoformat()}
    assert coach.post(f"/api/clients/{practice.client_id}/pause", json=pause).status_code == 204
    paused = events(icalendar.Calendar.from_ical(browser().get(path).content))
    off = [e for e in paused.values() if str(e["status"]) == "CANCELLED"]
    assert {e["dtstart"].dt.date() for e in off} <= {day + timedelta(days=n) for n in (2, 3, 4)} and off
    assert set(paused) == set(before) and all(paused[u]["sequence"] > after[u]["sequence"] for u in {str(e["uid"]) for e in off})
    assert coach.post(f"/api/clients/{practice.client_id}/resume", json={"on": day.isoformat()}).status_code == 200
    back = events(icalendar.Calendar.from_ical(browser().get(path).content))
    assert all(str(e["status"]) == "CONFIRMED" for e in back.values())
    assert all(back[u]["sequence"] >= paused[u]["sequence"] and back[u]["dtstamp"].dt >= paused[u]["dtstamp"].dt for u in back)
    assert all(back[u]["sequence"] > paused[u]["sequence"] for u in {str(e["uid"]) for e in off})


def test_a_closed_address_is_gone_and_a_new_one_closes_the_old(browser, client, assigned):
    path, _ = feed_of(browser, client)
    newer, _ = feed_of(browser, client)
    assert newer != path
    old = browser().get(path)
    assert old.status_code == 410 and "closed" in old.text
    assert client.get("/api/my-feed").json()["open"] is True
    assert client.delete("/api/my-feed").status_code == 204
    assert browser().get(newer).status_code == 410
    assert client.delete("/api/my-feed").status_code == 422
    assert browser().get("/calendar/nonsense.ics").status_code == 404


def test_the_file_is_the_same_calendar(client, coach, practice, assigned):
    mine = client.get("/api/my-calendar.ics").content
    assert coach.get(f"/api/clients/{practice.client_id}/calendar.ics").content == mine
    assert events(icalendar.Calendar.from_ical(mine))


def test_another_parser_reads_the_same_moments_alarms_and_states(browser, coach, client, practice, assigned):
    day, _ = assigned
    pause = {"first": (day + timedelta(days=2)).isoformat(), "last": (day + timedelta(days=4)).isoformat()}
    path, _ = feed_of(browser, client)
    assert coach.post(f"/api/clients/{practice.client_id}/pause", json=pause).status_code == 204
    text = browser().get(path).text
    ours = {
        str(e["uid"]): (e["dtstart"].dt.astimezone(UTC), e["dtend"].dt.astimezone(UTC), str(e["status"]), len(e.walk("VALARM")))
        for e in icalendar.Calendar.from_ical(text).walk("VEVENT")
    }
    assert {state for _, _, state, _ in ours.values()} == {"CONFIRMED", "CANCELLED"}
    one = {e.uid: (e.begin.datetime, e.end.datetime, e.status, len(e.alarms)) for e in ics.Calendar(text).events}
    two = {
        e.uid.value: (e.dtstart.value.astimezone(UTC), e.dtend.value.astimezone(UTC), e.status.value, len(e.contents.get("valarm", [])))
        for e in vobject.readOne(text).vevent_list
    }
    assert one == ours and two == ours


def test_moments_stay_right_across_a_change_of_clocks_and_in_the_last_years(db, owner, client, coach, practice, assigned):
    """A parser that goes by the zone's data in the file, and not by its own, finds the same moments."""
    assert client.put("/api/my-zone", json={"time_zone": "America/Toronto"}).status_code == 204
    owner.execute('update plans set times = \'{"morning": "08:00"}\'')
    text = client.get("/api/my-calendar.ics").text
    there = ZoneInfo("America/Toronto")
    (zone,) = vobject.readOne(text).vtimezone_list
    starts = [e.dtstart.value for e in vobject.readOne(text).vevent_list]
    assert starts and all(s.astimezone(there).time() == time(8) for s in starts)
    stamps = [c.dtstart.value.year for c in (*zone.contents["standard"], *zone.contents["daylight"])]
    assert max(stamps) <= max(s.year for s in starts) + 1, "only of the years of the events"


def test_who_says_what_they_have_gets_nothing_twice(browser, coach, client, practice, assigned):
    day, assignment = assigned
    path, _ = feed_of(browser, client)
    first = browser().get(path)
    tag, changed = first.headers["etag"], first.headers["last-modified"]
    assert browser().get(path).content == first.content, "nothing changed, so nothing is told anew"
    for known in ({"if-none-match": tag}, {"if-none-match": f'"x", W/{tag}'}, {"if-modified-since": changed}):
        again = browser().get(path, headers=known)
        assert (again.status_code, again.content, again.headers["etag"]) == (304, b"", tag)
    wish = {"start": day.isoformat(), "times": {"morning": "09:15"}, "remind_min": 20}
    assert coach.post(f"/api/assignments/{assignment}/change", json={"wish": wish}).status_code == 200
    later = browser().get(path, headers={"if-none-match": tag})
    assert later.status_code == 200 and later.headers["etag"] != tag
    assert parsedate_to_datetime(later.headers["last-modified"]) >= parsedate_to_datetime(changed)
    assert browser().get(path, headers={"if-none-match": tag, "if-modified-since": later.headers["last-modified"]}).status_code == 200
    assert "X-PUBLISHED-TTL:PT6H" in later.text


def test_when_a_program_ends_its_sessions_are_cancelled_for_a_month_and_what_was_practised_stays(db, coach, client, practice, assigned):
    day, assignment = assigned
    today = todays(client)
    assert hand_in(client, by_hand(today))[0]["state"] == "kept"

    def told(now):
        with db.practice(practice.id) as conn:
            sheet = feed.calendar_of(conn, practice.id, clients.one(conn, practice.client_id), now)
        return {
            e["dtstart"].dt.date(): (str(e["status"]), int(e["sequence"]))
            for e in icalendar.Calendar.from_ical(sheet.content).walk("VEVENT")
        }

    now = datetime.now(UTC)
    before = told(now)
    assert {state for state, _ in before.values()} == {"CONFIRMED"}
    assert coach.post(f"/api/assignments/{assignment}/end", json={"follows": "rest"}).status_code == 204
    after = told(now)
    assert after[day] == before[day], "it was practised"
    gone = {d for d in before if d != day}
    assert gone and all(after[d] == ("CANCELLED", before[d][1] + 1) for d in gone)
    assert {d for d, (state, _) in told(now + timedelta(days=29)).items() if state == "CANCELLED"} == gone
    assert told(now + timedelta(days=31)) == {}


def test_no_alarm_for_whoever_wants_no_reminders_and_none_in_quiet_hours(client, assigned):
    def alarms():
        found = icalendar.Calendar.from_ical(client.get("/api/my-calendar.ics").content)
        return {a["trigger"].dt for e in found.walk("VEVENT") for a in e.walk("VALARM")}

    assert alarms() == {timedelta(minutes=-20)}
    quiet = {"on": True, "quiet": {"first": "21:00", "last": "07:50"}}
    assert client.put("/api/my-reminders", json=quiet).status_code == 204
    assert alarms() == {timedelta(minutes=-10)}
    assert client.put("/api/my-reminders", json=quiet | {"on": False}).status_code == 204
    assert alarms() == set()


def test_a_database_that_only_reads_still_answers_calendars(browser, client, assigned, cluster, database_name, app):
    path, before = feed_of(browser, client)
    with psycopg.connect(cluster.url("dimbo_owner", "postgres"), autocommit=True) as conn:
        conn.execute(f"alter database {database_name} set default_transaction_read_only = on".encode())
    app.state.context.db.pool.close()
    app.state.context.db.pool.__init__(cluster.url(database=database_name), min_size=1, max_size=4, open=True)
    got = browser().get(path)
    assert got.status_code == 200 and set(events(icalendar.Calendar.from_ical(got.content))) == set(events(before))
    assert client.get("/api/my-calendar.ics").status_code == 200
