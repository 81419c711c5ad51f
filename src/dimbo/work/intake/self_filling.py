"""The intake that a client fills in alone: the link, the draft, sending it in, and the coach's review of it."""

from __future__ import annotations

import json
import secrets
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID, uuid4, uuid5

from pydantic import BaseModel, ConfigDict, Field

from dimbo.catalogue import shipped_intake
from dimbo.core.intake.conclusions import Tables
from dimbo.core.safety.cautions import URGENT, CautionRule, care
from dimbo.core.text import join_words
from dimbo.store.database import Conflict, Conn, Database, NotThere
from dimbo.store.intake import reasoning as reasoning_store
from dimbo.store.intake import self_intakes
from dimbo.store.intake.self_intakes import LinkedIntake
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

from .consenting import OF_PHOTOGRAPHS, Word, decide
from .entering import Author, Entry, OpenIntake, coach_author, day_of, enter, open_intake, second_coaches, tables_with
from .fact_sentences import caution_words, profile_words, rating_words
from .intake_entries import CautionValue, check_caution, check_key, profile, shape
from .looking import concerned, consents_of

LINK_DAYS = 14
MOST_BYTES = 60_000
SELF_PROFILE = ("name", "email", "phone", "birth_year", "minutes", "days", "goals")
"""What a client tells of themselves."""
KEPT_NAME = "Your longer form stays; accepting notes how they like to be called."
_SECTIONS = {"profile": "profile", "ratings": "rating", "answers": "answer", "tests": "test", "cautions": "caution"}
"""Sections of the draft, and the kind of fact that each becomes."""


def send(db: Database, coach: Person, client_id: UUID, now: datetime, *, token: str = "") -> str:
    """A new link for a client; returns its token, which is ``token`` where one is made already. An earlier open link
    ends and its draft goes on."""
    token = token or secrets.token_urlsafe(24)
    with db.of(coach) as conn:
        clients.one(conn, client_id)
        self_intakes.create(
            conn, coach.practice_id, client_id, token_hash(token), by=coach.id, at=now, expires_at=now + timedelta(days=LINK_DAYS)
        )
    return token


def revoke(db: Database, coach: Person, client_id: UUID, now: datetime) -> None:
    """Take the open link back. Raises NotThere when there is none."""
    with db.of(coach) as conn:
        if not self_intakes.revoke(conn, client_id, now):
            raise NotThere("No link is open.")


class ConsentWord(BaseModel):
    """A client's word on one consent, to the version of the text that was read."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    given: bool
    version: int
    person: str = Field(default="", max_length=120)
    account: UUID | None = None


class Draft(BaseModel):
    """What a client has filled in so far, by section and key. Values are checked when it is sent in; a draft may hold
    what is not finished yet."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    profile: dict[str, str | int | list[int] | None] = Field(default_factory=dict)
    ratings: dict[str, dict[str, Any]] = Field(default_factory=dict)
    answers: dict[str, dict[str, Any]] = Field(default_factory=dict)
    tests: dict[str, dict[str, Any]] = Field(default_factory=dict)
    cautions: dict[str, dict[str, Any]] = Field(default_factory=dict)
    consents: dict[str, ConsentWord] = Field(default_factory=dict)

    def items(self) -> Iterator[tuple[str, str, dict[str, Any]]]:
        """Section, key and value of everything that becomes a fact."""
        for key, value in self.profile.items():
            yield "profile", key, {"value": value}
        for section in ("ratings", "answers", "tests", "cautions"):
            for key, entry in getattr(self, section).items():
                yield section, key, entry

    def asked(self, tables: Tables) -> Draft:
        """Without answers to questions that are not asked any more, since the tables have changed meanwhile."""
        known = {f"{concern}.{q.id}" for concern, entry in tables.reasoning.items() for q in entry.questions}
        return self.model_copy(update={"answers": {k: v for k, v in self.answers.items() if k in known}})

    def urgent(self) -> list[CautionRule]:
        """Urgent signs that were answered with yes."""
        return [
            r
            for r in shipped_intake().tables.cautions
            if r.group == URGENT and self.cautions.get(r.id, {}).get("answer") in ("yes", "unsure")
        ]


@dataclass(frozen=True)
class Filling:
    """What the link shows: the draft so far, and the tables to fill it in from."""

    link: LinkedIntake
    draft: Draft
    tables: Tables
    coaches: dict[UUID, str]
    """Whom the client can name as second coach."""
    photographs: bool
    """Whether what decides on photographs is asked: a link grants no more than its maker may see."""


def opened(db: Database, token: str) -> LinkedIntake:
    """The intake behind a link. Raises NotThere for an unknown link, Refused for one that ended."""
    with db.anyone() as conn:
        link = self_intakes.by_token(conn, token_hash(token))
    if link is None:
        raise NotThere("This link is not known. Check that it was copied whole, or ask your coach for a new one.")
    if link.revoked:
        raise Refused(Why.LINK, "This link was taken back. Ask your coach for a new one; what you wrote is kept.")
    if link.submitted:
        raise Refused(Why.ALREADY, "This intake has been sent in already. Thank you. Tell your coach if something should be changed.")
    if link.expired:
        raise Refused(Why.LINK, f"This link ended on {link.expires_at:%-d %B %Y}. Ask your coach for a new one; what you wrote is kept.")
    return link


def filling(db: Database, token: str, now: datetime) -> Filling:
    link = opened(db, token)
    with db.practice(link.practice_id, link.client_id) as conn:
        coaches = second_coaches(conn, clients.one(conn, link.client_id))
        asked = _may_decide_on_photographs(conn, link, now)
        return Filling(link, Draft.model_validate(link.document), tables_with(reasoning_store.own(conn)), coaches, photographs=asked)


def _may_decide_on_photographs(conn: Conn, link: LinkedIntake, now: datetime) -> bool:
    """Whether whoever sent the link may look at the client's photographs; else they could fill it in to let themselves in."""
    maker = accounts.at_work(conn, self_intakes.made_by(conn, link.id))
    client = clients.one(conn, link.client_id)
    return maker is not None and concerned(consents_of(conn, client, now), maker, client)


def _author(link: LinkedIntake) -> Author:
    return Author(link.practice_id, link.client_name, None, "self-intake")


def urgent_words(draft: Draft) -> str:
    """What is said before anything else when the draft reports an urgent sign; empty when it does not."""
    names = [r.name for r in draft.urgent()]
    return f"{care(draft.urgent())} You wrote: {'; '.join(names)}. Close this page and call for help first." if names else ""


def save(db: Database, token: str, draft: Draft, base: int, now: datetime) -> int:
    """Keep the draft as one types; returns its revision. An urgent sign locks at once, before anything is sent in;
    its id is the same each time, so that saving again adds nothing.

    Raises Conflict when another window has saved in between.
    """
    document = draft.model_dump(mode="json")
    if len(json.dumps(document)) > MOST_BYTES:
        raise Refused(Why.BOUNDS, "This is more text than an intake holds. Shorten the longest answer.")
    link = opened(db, token)
    urgent = [Entry(uuid5(link.id, f"urgent {r.id}"), "caution", key=r.id, value={"answer": "yes"}) for r in draft.urgent()]
    with db.practice(link.practice_id, link.client_id) as conn:
        if not self_intakes.save(conn, link.id, document, base):
            raise Conflict("This intake was changed in another window. Reload to go on with the newest.")
        if urgent:
            enter(conn, _author(link), link.client_id, urgent, now)
    return base + 1


def submit(db: Database, token: str, leaves: Collection[str], now: datetime) -> None:
    """Check everything and send it in, once. Consents are the client's own word and hold from now.

    ``leaves`` names the health questions that the client leaves open on purpose; the sudden signs are never left open.
    Raises Refused that names the field; then nothing is sent in and the draft stays.
    """
    link = opened(db, token)
    with db.practice(link.practice_id, link.client_id) as conn:
        tables = tables_with(reasoning_store.own(conn))
        client = clients.one(conn, link.client_id)
        today = day_of(client, now)
        draft = Draft.model_validate(link.document).asked(tables)
        if not str(draft.profile.get("name") or "").strip():
            raise Refused(Why.NEEDED, "Write how you would like to be called.", "profile.name")
        if draft.profile.get("birth_year") is None and client.birth_year is None:
            raise Refused(Why.NEEDED, "Write the year in which you were born; under 16 nobody practises.", "profile.birth_year")
        for section, key, value in draft.items():
            try:
                if section == "profile":
                    _own_field(key)
                    profile(key, value.get("value"), today)
                    continue
                shaped = shape(_SECTIONS[section], value)
                check_key(tables, _SECTIONS[section], key=key, value=shaped)
                if isinstance(shaped, CautionValue):
                    check_caution(tables, key, shaped, today)
            except Refused as error:
                raise Refused(error.why, error.message, f"{section}.{key}") from error
        _nothing_forgotten(draft, tables, leaves)
        if not self_intakes.submit(conn, link.id, now):
            raise Refused(Why.ALREADY, "This intake has been sent in already.")
        asked = _may_decide_on_photographs(conn, link, now)
        for choice, word in draft.consents.items():
            try:
                if choice in OF_PHOTOGRAPHS and not asked:
                    raise Refused(Why.NOT_YOURS, "This is asked by the coach who took you on. Leave it open here.")
                said = Word(given=word.given, version=word.version, person=word.person, account=word.account)
                decide(conn, _author(link), link.client_id, choice, said, now=now)
            except Refused as error:
                raise Refused(error.why, error.message, f"consents.{choice}") from error


def unanswered(draft: Draft, tables: Tables) -> list[CautionRule]:
    """Health questions that the draft does not answer, in the order in which they are asked."""
    return [r for r in tables.cautions if not draft.cautions.get(r.id, {}).get("answer")]


def _nothing_forgotten(draft: Draft, tables: Tables, leaves: Collection[str]) -> None:
    """Raises Refused for a health question that is neither answered nor left open on purpose."""
    open_ones = unanswered(draft, tables)
    urgent = next((r for r in open_ones if r.group == URGENT), None)
    if urgent:
        raise Refused(Why.CARE, f"Please answer: {urgent.ask}", f"cautions.{urgent.id}")
    forgotten = [r for r in open_ones if r.id not in set(leaves)]
    if forgotten:
        names = join_words([r.name.lower() for r in forgotten])
        what = "1 health question is" if len(forgotten) == 1 else f"{len(forgotten)} health questions are"
        said = f"{what} not answered: {names}. Answer them, or say that you leave them open; your coach then asks you before you begin."
        raise Refused(Why.CARE, said, f"cautions.{forgotten[0].id}")


def _own_field(key: str) -> None:
    if key not in SELF_PROFILE:
        raise Refused(Why.UNKNOWN, f"“{key}” is not asked here.", f"profile.{key}")


@dataclass(frozen=True, kw_only=True)
class ReviewItem:
    """One field side by side: what the client wrote and what stands now, in words."""

    id: str
    section: str
    label: str
    theirs: str
    current: str
    same: bool
    """Whether nothing is left to decide."""
    open: bool = False
    """Whether it is a health question that the client did not answer."""
    remark: str = ""


def called(current: str, told: str) -> bool:
    """Whether a name that a client told is only a shorter form of the one that the coach wrote in full: fewer words, each
    the beginning of one of its words. It is how they like to be called, and no correction."""
    full, short = current.casefold().split(), told.casefold().split()
    return len(short) < len(full) and all(any(word.startswith(part) or part[:3] == word[:3] for word in full) for part in short)


def review(opened: OpenIntake) -> list[ReviewItem]:
    """The client's own intake beside what stands, field by field; empty while none was sent in."""
    sent = opened.self_intake
    if sent is None or sent.submitted_at is None:
        return []
    tables, intake, out = opened.tables, opened.intake, []
    order = {k: i for i, k in enumerate((*SELF_PROFILE, *tables.concerns, *tables.tests, *(r.id for r in tables.cautions)))}
    draft = Draft.model_validate(sent.document).asked(tables)
    for section, key, value in draft.items():
        theirs, current, label = "", "", key
        if section == "profile":
            label = key.replace("_", " ")
            theirs, current = profile_words(key, value.get("value")), profile_words(key, getattr(opened.client, key, None))
        elif section == "ratings" and key in tables.concerns:
            label = tables.concerns[key].name
            theirs = rating_words(tables, key, value["right"], left=value["left"])
            current = rating_words(tables, key, intake.ratings[key].right, left=intake.ratings[key].left) if key in intake.ratings else ""
        elif section == "answers":
            concern, _, question = key.partition(".")
            entry = tables.reasoning.get(concern)
            asked = next((q.ask for q in entry.questions if q.id == question), key) if entry else key
            label = f"{tables.concerns[concern].name}: {asked}" if concern in tables.concerns else asked
            theirs, current = value.get("answer", ""), intake.answers.get((concern, question), "")
        elif section == "tests" and key in tables.tests:
            label = tables.tests[key].ask
            theirs, current = value.get("answer", ""), intake.results[key].answer if key in intake.results else ""
        elif section == "cautions":
            rule = next((r for r in tables.cautions if r.id == key), None)
            label = rule.ask if rule else key
            theirs = caution_words(value)
            if now := intake.cautions.get(key):
                day = now.event_on.isoformat() if now.event_on else None
                current = caution_words({"answer": now.answer, "regions": now.regions, "event_on": day, "note": now.note})
        if section == "profile" and key == "name" and called(current, told=theirs):
            out.append(
                ReviewItem(id="profile.name", section=section, label=label, theirs=theirs, current=current, same=True, remark=KEPT_NAME)
            )
        elif theirs:
            out.append(
                ReviewItem(id=f"{section}.{key}", section=section, label=label, theirs=theirs, current=current, same=theirs == current)
            )
    for rule in unanswered(draft, tables):
        now = intake.cautions.get(rule.id)
        current = caution_words({"answer": now.answer, "regions": now.regions}) if now else ""
        remark = "" if now else "Ask before a program is assigned."
        out.append(
            ReviewItem(
                id=f"cautions.{rule.id}",
                section="cautions",
                label=rule.ask,
                theirs="not answered",
                current=current,
                same=True,
                open=True,
                remark=remark,
            )
        )
    return sorted(out, key=lambda i: (list(_SECTIONS).index(i.section), order.get(i.id.partition(".")[2], 0)))


@dataclass(frozen=True)
class Accepted:
    """What became of accepting: the intake as it stands now, and what could not be taken over with the reason."""

    intake: OpenIntake
    refused: tuple[tuple[str, str], ...]
    """Field and sentence."""


def accept(db: Database, coach: Person, client_id: UUID, ids: Sequence[str], now: datetime) -> Accepted:
    """Take over the named fields of what the client sent in. What cannot be (a no that would silence a lock) stays as it is
    and is told; everything else is taken. A name that the coach wrote in full is never shortened. Raises NotThere, Refused.
    """
    with db.of(coach) as conn:
        draft = _sent(conn, client_id)
        found = {f"{section}.{key}": (section, key, value) for section, key, value in draft.items()}
        refused = []
        for wanted in dict.fromkeys(ids):
            if wanted not in found:
                raise Refused(Why.UNKNOWN, f"The client's intake has no field “{wanted}”.", "ids")
            try:
                with conn.transaction():
                    enter(conn, coach_author(coach, "self-intake"), client_id, [_taken_over(conn, client_id, *found[wanted])], now)
            except Refused as error:
                refused.append((wanted, error.message))
        return Accepted(open_intake(conn, client_id, now), tuple(refused))


def _taken_over(conn: Conn, client_id: UUID, section: str, key: str, value: dict[str, Any]) -> Entry:
    """A field of the client's as a fact; a shorter name becomes a note of how they like to be called."""
    told = str(value.get("value") or "").strip()
    if section == "profile" and key == "name" and called(clients.one(conn, client_id).name, told=told):
        return Entry(uuid4(), "note", key="", value={"text": f"Likes to be called {told}."})
    return Entry(uuid4(), _SECTIONS[section], key=key, value=value)


def close(db: Database, coach: Person, client_id: UUID, now: datetime) -> OpenIntake:
    """The review is done; what was not taken over stays readable in the client's own intake."""
    with db.of(coach) as conn:
        _sent(conn, client_id)
        sent = self_intakes.newest(conn, client_id)
        assert sent
        self_intakes.reviewed(conn, sent.id, now)
        return open_intake(conn, client_id, now)


def _sent(conn: Conn, client_id: UUID) -> Draft:
    sent = self_intakes.newest(conn, client_id)
    if sent is None or sent.submitted_at is None:
        raise NotThere("The client has not sent an intake in.")
    return Draft.model_validate(sent.document).asked(tables_with(reasoning_store.own(conn)))
