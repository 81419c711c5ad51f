"""What a client's phone does, for tests: reading the day, and handing in what was practised."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from uuid import uuid4


def read(client) -> dict:
    answer = client.post("/api/my-days")
    assert answer.status_code == 200, answer.text
    return answer.json()


def todays(client) -> dict:
    """The client's day: its first session that is not done, or its last, with everything else that is said of the day."""
    days = read(client)
    if days["ask"] and days["ask"]["first"]:  # health is asked after a pause, and nothing has changed
        hand_in(client, {"kind": "asked", "id": str(uuid4()), "said_at": datetime.now(UTC).isoformat()})
        days = read(client)
    day = days["days"][0]
    part = next((p for p in day["parts"] if p["done_at"] is None), day["parts"][-1] if day["parts"] else None)
    session = days["sessions"].get(part["session"]) if part else None
    return days | day | {"session": session, "part": part, "done_at": part["done_at"] if part else None}


def stretches(started, *spans):
    """Played stretches back to back from a moment on."""
    out = []
    for a, b in spans:
        out.append({"from_s": a, "to_s": b, "at": started.isoformat()})
        started += timedelta(seconds=b - a)
    return out, started


def log(today, *spans, items=None, started=None, **change) -> dict:
    """A log of the day's session: played whole, or in the spans of its timeline; ``items`` change one row by exercise."""
    session = today["session"]
    spans = spans or ((0, session["seconds"]),)
    begun = started or datetime.now(UTC) - timedelta(seconds=sum(b - a for a, b in spans) + 30)
    played, ended = stretches(begun, *spans)
    return {
        "kind": "log",
        "id": str(uuid4()),
        "day": today["day"],
        "part": today["part"]["part"],
        "source": "player",
        "parts": today["part"]["parts"],
        "items": [
            {"assignment_id": i["assignment_id"], "line_id": i["line_id"]} | (items or {}).get(i["exercise"], {}) for i in session["items"]
        ],
        "stretches": played,
        "started_at": begun.isoformat(),
        "ended_at": ended.isoformat(),
        "effort": 5,
    } | change


def by_hand(today, share=1.0, **change) -> dict:
    """The day's session told without the player: every exercise by its planned counts, times ``share``."""
    session = today["session"]
    now = datetime.now(UTC)

    items = [
        {
            "assignment_id": i["assignment_id"],
            "line_id": i["line_id"],
            "counts": {side: {"sets": c["sets"], "reps": round(c["reps"] * share)} for side, c in i["counts"].items()},
        }
        for i in session["items"]
    ]
    return log(
        today,
        source="manual",
        stretches=[],
        started_at=(now - timedelta(seconds=session["seconds"])).isoformat(),
        ended_at=now.isoformat(),
        **change,
    ) | {"items": items}


def hand_in(client, *entries, sent_at=None):
    """Hand entries in; the answers."""
    body = {"sent_at": (sent_at or datetime.now(UTC)).isoformat(), "entries": list(entries)}
    answer = client.post("/api/hand-in", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()["results"]


def course_day(coach, client_id, day):
    """A day of the course as the coach sees it."""
    return next(d for d in coach.get(f"/api/clients/{client_id}").json()["days"] if d["day"] == day)
