"""What a letter is composed of: the pairs that may be shown, what was done, what was rated, what was told."""

from __future__ import annotations

import statistics
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.calendar.time_zones import off_days
from dimbo.core.exercises.card import Card
from dimbo.core.results.letter import Done, Facts, Observed, PairSaid, Placed, Words
from dimbo.core.results.plain_words import conditions
from dimbo.core.results.practised import practised
from dimbo.core.review.adherence import days_of, session_adherence
from dimbo.core.sittings.comparison import Verdict
from dimbo.core.sittings.frame import CANTHI
from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.text import long_date
from dimbo.store.database import Conn
from dimbo.store.intake import facts as facts_store
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.practice import daily, hurts, log_sums
from dimbo.store.results import side_sums
from dimbo.store.review import reviews
from dimbo.store.sittings import rating
from dimbo.work.exercises.shelf import shelf
from dimbo.work.intake.fact_sentences import tell
from dimbo.work.sittings.measuring import Bench
from dimbo.work.sittings.rating import result

from .own_results import Shown, said_between, shown_of


@dataclass(frozen=True, kw_only=True)
class PairChoice:
    """Two sittings and a view, as the coach chooses them."""

    view: str
    before: UUID
    after: UUID


@dataclass(frozen=True, kw_only=True)
class Draft:
    """What the coach chooses and writes of a letter."""

    first: date
    last: date
    pairs: tuple[PairChoice, ...] = ()
    words: Words = field(default_factory=Words)


@dataclass(frozen=True, kw_only=True)
class Offered:
    """A pair that may be shown: sittings of the period that have the view, with what they would say."""

    choice: PairChoice
    days: tuple[date, date]
    sentences: tuple[str, ...]
    comparable: bool
    reasons: tuple[str, ...] = ()
    """Why not."""


def offered_pairs(found: Bench, draft: Draft) -> list[Offered]:
    """Pairs of the newest sitting of the period with the first one that was measured, view by view, and the pairs in between."""
    m = found.measurement
    base = m.baseline
    if base is None:
        return []
    out = []
    start = shown_of(found, UUID(base.id))
    later = [s for s in found.sittings if s.id != UUID(base.id) and base.taken_on <= s.taken_on <= draft.last]
    for s in reversed(later):
        shown = shown_of(found, s.id)
        for view in (v for v in VIEWS if v in shown and v in start):
            said = said_between(m, base.id, after=str(s.id), view=view)
            out.append(
                Offered(
                    choice=PairChoice(view=view, before=UUID(base.id), after=s.id),
                    days=(base.taken_on, s.taken_on),
                    sentences=tuple(x.sentence for x in said),
                    comparable=any(x.verdict != Verdict.NOT_COMPARABLE for x in said),
                    reasons=tuple(x.reason for x in said if x.reason),
                )
            )
    return out


def _placed(x: Shown) -> Placed:
    p, here = x.photograph, x.judged.shot.right_way.here if x.judged else {}
    points = {n: here[n] for n in (*CANTHI, "sn") if n in here}
    return Placed(id=str(p.id), width=p.width, height=p.height, flipped=bool(p.flipped), points=points)


def _pairs(found: Bench, draft: Draft) -> tuple[PairSaid, ...]:
    out = []
    for choice in draft.pairs:
        days = {s.id: s.taken_on for s in found.sittings}
        if choice.before not in days or choice.after not in days:
            continue  # a sitting that was removed meanwhile
        shown = [shown_of(found, s).get(choice.view) for s in (choice.before, choice.after)]
        if shown[0] is None or shown[1] is None:
            continue
        said = said_between(found.measurement, str(choice.before), after=str(choice.after), view=choice.view)
        if all(x.verdict == Verdict.NOT_COMPARABLE for x in said):
            continue  # it was chosen when it could be compared, or by another road
        judged = [x.judged for x in shown if x and x.judged]
        out.append(
            PairSaid(
                view=VIEWS[choice.view].name,
                before=_placed(shown[0]),
                after=_placed(shown[1]),
                days=(days[choice.before], days[choice.after]),
                sentences=tuple(x.sentence for x in said),
                alike=conditions(judged) if len(judged) == 2 else "",
            )
        )
    return tuple(out)


_WHAT = {"ease back": "eased back", "stop": "stopped"}


def _done(conn: Conn, found: Bench, draft: Draft, cards: Mapping[str, Card]) -> Done:
    client_id, until = found.client.id, draft.last + timedelta(days=1)
    rows = [r for r in log_sums.sessions_of(conn, client_id) if draft.first <= r.day <= draft.last]
    pauses = [p.pause for p in assignments.pauses(conn, client_id)]
    off = off_days(pauses, assignments.stays(conn, client_id))
    efforts = [r.effort for r in rows if r.effort is not None]
    sore = [c.soreness for c in daily.check_ins(conn, client_id) if draft.first <= c.day <= draft.last]
    eased = [r for r in reviews.of_client(conn, client_id) if draft.first <= r.first_day <= draft.last and r.decided.get("whole") in _WHAT]
    known = assignments.of_client(conn, client_id)
    hurt = [h for a in known for h in hurts.hurts_of(conn, a.id, first=draft.first, last=draft.last)]
    return Done(
        practised=practised(rows, side_sums.contraction_of(conn, client_id), first=draft.first, last=until),
        sessions=session_adherence(days_of(rows, draft.last, off), draft.last),
        effort=statistics.median(efforts) if efforts else None,
        soreness=max(sore, default=None),
        eased=tuple((r.first_day, _WHAT[r.decided["whole"]], str(r.suggested.get("because", "") or r.reason)) for r in eased),
        pains=tuple(_hurt(h, cards) for h in hurt),
    )


def _hurt(h: hurts.Hurt, cards: Mapping[str, Card]) -> str:
    name = cards[h.exercise_id].name if h.exercise_id in cards else h.exercise_id
    level = f", {h.level} of 10" if h.level is not None else ""
    where = ", ".join(x for x in (f"{h.side} side" if h.side in ("right", "left") else h.side or "", h.where) if x)
    return f"On {long_date(h.day)} {name} hurt{level}{f' ({where})' if where else ''}; it was stopped."


def letter_facts(conn: Conn, found: Bench, draft: Draft, *, coach: Person, now: datetime) -> Facts:
    cards = shelf(conn, coach.practice_id).cards
    known = assignments.of_client(conn, found.client.id)
    within = [a for a in known if a.start_date <= draft.last and (a.ended_from is None or a.ended_from > draft.first)]
    after = [a for a in known if a.start_date > draft.last and a.ended_at is None]
    pairs = _pairs(found, draft)
    offered = offered_pairs(found, draft)
    why = [reason for o in offered[:1] for reason in o.reasons]
    today = practice_day(now, zone(found.client.time_zone))
    return Facts(
        client=found.client.name,
        coach=coach.name,
        practice=coach.practice_name,
        written=today,
        first=draft.first,
        last=draft.last,
        programs=tuple(dict.fromkeys(a.title for a in sorted(within, key=lambda a: a.start_date))),
        done=_done(conn, found, draft, cards),
        pairs=pairs,
        not_comparable=tuple(why) if not pairs else (),
        ratings=_ratings(conn, found),
        follows=after[0].title if after else "",
    )


def _ratings(conn: Conn, found: Bench) -> tuple[str, ...]:
    """Of each concern the newest finished round, in words that say no more than its interval."""
    names = {k: c.name for k, c in shipped_catalogue().concerns.items()}
    out: dict[str, str] = {}
    for r in rating.of_client(conn, found.client.id):
        said = result(r)
        if said is None or r.concern in out:
            continue
        what = names[r.concern]
        if said.change:
            c = said.change
            moved = f"rated {'lower' if c.amount < 0 else 'higher'} in the later photographs, by {abs(c.amount):.1f} of 4 steps"
            out[r.concern] = f"{what}: {moved if c.beyond else 'no change that a rating could show'}."
        elif said.preference:
            p = said.preference
            out[r.concern] = (
                f"{what}: of {p.of} looks the later photograph was picked in {p.later}"
                f"{'.' if p.beyond else ', which picking at random could do as well.'}"
            )
    return tuple(out.values())


def observed(conn: Conn, found: Bench, draft: Draft, cards: Mapping[str, Card]) -> list[Observed]:
    tables = shipped_intake().tables
    tz = zone(found.client.time_zone)
    out = [
        Observed(day=f.at.astimezone(tz).date(), text=tell(f, tables))
        for f in facts_store.standing(conn, found.client.id)
        if f.kind == "caution" and f.value.get("answer") == "yes"
    ]
    for a in assignments.of_client(conn, found.client.id):
        out += [Observed(day=h.day, text=_hurt(h, cards)) for h in hurts.hurts_of(conn, a.id, first=draft.first, last=draft.last)]
    return out
