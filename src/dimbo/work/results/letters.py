"""Letters: what came of a course, told to the client; and what was observed, told to a clinician."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date, datetime, timedelta
from uuid import UUID, uuid4

from pydantic_core import to_jsonable_python

from dimbo.catalogue import shipped_intake
from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.results.letter import Letter, PairSaid, Words, report, to_clinician
from dimbo.core.safety.cautions import STANDING_LINE, stand
from dimbo.core.text import long_date
from dimbo.printing.letter import PaperPicture, letter_pdf
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.intake import facts as facts_store
from dimbo.store.messages import messages
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.results import letters
from dimbo.store.results.letters import StoredLetter
from dimbo.store.sittings import photographs
from dimbo.vision.apart import compare_pictures
from dimbo.vision.terms import Half
from dimbo.work.exercises.shelf import shelf
from dimbo.work.intake.entering import caution_state
from dimbo.work.intake.looking import come_near
from dimbo.work.practice.days import own_client
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.sittings.exporting import half_of
from dimbo.work.sittings.measuring import Bench, load

from .letter_facts import Draft, Offered, PairChoice, letter_facts, observed, offered_pairs

REPORT, CLINICIAN = "report", "clinician"
LONGEST = 4000
DEFAULT_WEEKS = 12


@dataclass(frozen=True, kw_only=True)
class Open:
    """A letter as it is written: what was chosen, what may be, and the whole as the client will read it."""

    stored: StoredLetter
    draft: Draft
    letter: Letter
    offered: Sequence[Offered]
    may_compare: bool
    address: str
    """Where mail would go; empty when there is none."""


def _draft(stored: StoredLetter) -> Draft:
    d = stored.draft
    return Draft(
        first=date.fromisoformat(d["first"]),
        last=date.fromisoformat(d["last"]),
        pairs=tuple(PairChoice(view=p["view"], before=UUID(p["before"]), after=UUID(p["after"])) for p in d["pairs"]),
        words=Words(**d["words"]),
    )


def begin(db: Database, coach: Person, client_id: UUID, kind: str, now: datetime) -> UUID:
    """A new letter over the running course, or the last twelve weeks, with the newest pair that can be compared. Raises NotThere,
    Refused."""
    if kind not in (REPORT, CLINICIAN):
        raise Refused(Why.UNKNOWN, "Write to the client, or to a clinician.", "kind")
    with db.of(coach) as conn:
        client = come_near(conn, coach, client_id, now)
        today = practice_day(now, zone(client.time_zone))
        known = assignments.of_client(conn, client_id)
        running = [a.start_date for a in known if a.ended_at is None] or [a.start_date for a in known[:1]]
        first = min(min(running, default=today - timedelta(weeks=DEFAULT_WEEKS)), today)
        draft = Draft(first=first, last=today)
        if kind == REPORT:
            found = load(conn, coach, client_id, now, without=True)
            best = [o for o in offered_pairs(found, draft) if o.comparable]
            draft = Draft(first=first, last=today, pairs=tuple(o.choice for o in best[:1]))
        new = uuid4()
        letters.begin(
            conn,
            coach.practice_id,
            client_id,
            new=new,
            kind=kind,
            draft=to_jsonable_python(asdict(draft)),
            by=coach.id,
            name=coach.name,
            at=now,
        )
    return new


def _compose(conn: Conn, stored: StoredLetter, draft: Draft, coach: Person, now: datetime) -> tuple[Letter, Bench]:
    found = load(conn, coach, stored.client_id, now, without=True)
    facts = letter_facts(conn, found, draft, coach=coach, now=now)
    if stored.kind == REPORT:
        return report(facts, draft.words), found
    cards, tables = shelf(conn, coach.practice_id).cards, shipped_intake().tables
    known = facts_store.standing(conn, stored.client_id)
    held = [f"{h.rule.name}: {h.rule.text}" for h in stand(tables.cautions, *caution_state(known), facts.written).locks]
    return to_clinician(facts, draft.words, observed(conn, found, draft, cards), held=held, born=found.client.birth_year), found


def look(db: Database, coach: Person, letter_id: UUID, now: datetime) -> Open:
    """A letter as it is written. Raises NotThere."""
    with db.of(coach) as conn:
        stored = letters.one(conn, letter_id)
        come_near(conn, coach, stored.client_id, now)
        return _open(conn, stored, coach, now)


def _open(conn: Conn, stored: StoredLetter, coach: Person, now: datetime) -> Open:
    draft = _draft(stored)
    letter, found = _compose(conn, stored, draft, coach, now)
    return Open(
        stored=stored,
        draft=draft,
        letter=letter,
        offered=[o for o in offered_pairs(found, draft) if o.comparable] if stored.kind == REPORT else [],
        may_compare=found.may_compare,
        address=messages.addresses_of(conn, stored.client_id).client_email,
    )


def of_client(db: Database, coach: Person, client_id: UUID, now: datetime) -> tuple[str, list[StoredLetter]]:
    """The client's name and every letter, drafts too. Raises NotThere."""
    with db.of(coach) as conn:
        return come_near(conn, coach, client_id, now).name, letters.of_client(conn, client_id)


def keep(db: Database, coach: Person, letter_id: UUID, draft: Draft, now: datetime) -> Open:
    """Keep what the coach chose and wrote, and compose it anew. Raises Refused, NotThere."""
    if draft.last < draft.first:
        raise Refused(Why.CLASH, "The last day lies before the first one.", "last")
    for name, text in asdict(draft.words).items():
        if len(text) > LONGEST:
            raise Refused(Why.BOUNDS, f"At most {LONGEST} characters; this has {len(text)}.", name)
    with db.of(coach) as conn:
        stored = letters.one(conn, letter_id)
        client = come_near(conn, coach, stored.client_id, now)
        if stored.sent_at:
            raise Refused(Why.ALREADY, "This letter was sent and stays as it is. Write a new one.", "letter")
        if draft.last > practice_day(now, zone(client.time_zone)):
            raise Refused(Why.NOT_NOW, "The last day has not come yet. A letter tells what was.", "last")
        letters.keep(conn, letter_id, to_jsonable_python(asdict(draft)), now)
        return _open(conn, letters.one(conn, letter_id), coach, now)


def send(db: Database, coach: Person, letter_id: UUID, *, by_mail: bool, now: datetime) -> None:
    """Send a letter to the client's pages, and as a file by mail if wanted; sent twice it goes once. Raises Refused, NotThere."""
    with db.of(coach) as conn:
        stored = letters.one(conn, letter_id)
        come_near(conn, coach, stored.client_id, now)
        if stored.sent_at:
            return
        draft = _draft(stored)
        letter, found = _compose(conn, stored, draft, coach, now)
        pictures = [p for passage in letter.passages for p in passage.pairs]
        if pictures and not found.may_compare:
            said = f"{found.client.name} has not agreed that comparisons are made. Take the photographs out, or ask first."
            raise Refused(Why.NOT_AGREED, said, "pairs")
        address = messages.addresses_of(conn, stored.client_id).client_email
        by_mail = by_mail and stored.kind == REPORT  # the other is handed over by whoever it is about
        if by_mail and not address:
            raise Refused(Why.NEEDED, "No address is known. Send it to the client's pages, or note an address first.", "by_mail")
        halves = [_halves(conn, found, p) for p in pictures]
    paper = [
        PaperPicture(compare_pictures(before, after=after, view=p.view, note=p.alike, reduced=True), alt=_alt(p))
        for p, (before, after) in zip(pictures, halves, strict=True)
    ]
    made = letter_pdf(letter, paper, now)
    with db.of(coach) as conn:
        if not letters.send(
            conn, letter_id, content=to_jsonable_python(asdict(letter)), paper=made, by_name=coach.name, by_mail=by_mail, at=now
        ):
            return
        if stored.kind == REPORT and address:
            messages.post(conn, coach.practice_id, _notice(stored, coach, address=address, by_mail=by_mail, now=now))


def _halves(conn: Conn, found: Bench, p: PairSaid) -> tuple[Half, Half]:
    before, after = (half_of(found, i, photographs.picture(conn, i, small=False)[1]) for i in (UUID(p.before.id), UUID(p.after.id)))
    return before, after


def _alt(p: PairSaid) -> str:
    return f"Two photographs, {p.view}: {long_date(p.days[0])} and {long_date(p.days[1])}. {' '.join(p.sentences)}"


def _notice(stored: StoredLetter, coach: Person, *, address: str, by_mail: bool, now: datetime) -> messages.Letter:
    where = "It is attached, and on your pages" if by_mail else "It is on your pages"
    return messages.Letter(
        client_id=stored.client_id,
        to_coach=False,
        address=address,
        kind="letter" if by_mail else "message",
        subject=f"{coach.name} sends you a letter",
        body=f"{coach.name} has written to you about what came of your practice. {where}:\n\n/my-letters\n\n{STANDING_LINE}",
        key=f"letter:{stored.id}",
        due_at=now,
        letter_id=stored.id if by_mail else None,
    )


def drop(db: Database, coach: Person, letter_id: UUID, now: datetime) -> None:
    """Throw a draft away. Raises Refused for a letter that was sent, NotThere."""
    with db.of(coach) as conn:
        stored = letters.one(conn, letter_id)
        come_near(conn, coach, stored.client_id, now)
        if not letters.drop(conn, letter_id):
            raise Refused(Why.ALREADY, "This letter was sent and stays.", "letter")


def paper_of(db: Database, person: Person, letter_id: UUID, now: datetime) -> bytes:
    """A sent letter on paper, for the client and the coach. Raises NotThere."""
    with db.of(person) as conn:
        stored = letters.one(conn, letter_id)
        come_near(conn, person, stored.client_id, now)
        if stored.sent_at is None:
            raise NotThere("There is no such letter.")
        return letters.pdf(conn, letter_id)


def of_own(db: Database, person: Person) -> list[StoredLetter]:
    """The letters that a client was sent. Raises NotThere."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        return [x for x in letters.of_client(conn, client_id) if x.sent_at]


def opened(db: Database, person: Person, letter_id: UUID, now: datetime) -> None:
    """That the client opened a letter. Raises NotThere."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        letters.one(conn, letter_id)
        letters.opened(conn, letter_id, now)
