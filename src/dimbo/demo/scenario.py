"""Makes the demo by calling the same use cases as the application; seeded, so that a day always looks the same."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime, time, timedelta
from uuid import UUID, uuid5

import psycopg

from dimbo.catalogue import shipped_intake
from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.results.letter import Words
from dimbo.core.sittings.protocol import NEUTRAL, VIEWS
from dimbo.core.sittings.reading_table import HEADLINES
from dimbo.store.database import Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.practice import log_sums
from dimbo.store.programs import programs
from dimbo.store.programs.confirmed_values import Confirmation
from dimbo.store.sittings import photographs
from dimbo.store.sittings import sittings as stored_sittings
from dimbo.vision.stand_in_camera import shoot, true_points
from dimbo.vision.terms import VIEW_STATES, Scene
from dimbo.work.exercises import writing as exercises
from dimbo.work.intake import consenting, entering, looking, self_filling
from dimbo.work.intake.consenting import Word
from dimbo.work.intake.entering import Entry
from dimbo.work.people import passwords
from dimbo.work.plans import assigning, pausing
from dimbo.work.plans.assigning import Wish
from dimbo.work.practice import answering
from dimbo.work.programs import drafting, safety_settings, templates
from dimbo.work.results import letters, outcomes, own_results
from dimbo.work.sittings import measuring, rating, taking

from . import history
from .history import SPACE
from .intakes import SELF_FILLED, Said, intakes, nothing_to_tell
from .people import AGREEABLE, ASSISTANT, COACHES, GROUP, GROUP_DAYS_AGO, PASSWORD, PRACTICE, STORIES, Story, Written

__all__ = ["ASSISTANT", "COACHES", "PASSWORD", "client_logins", "ensure_demo"]


def client_logins() -> list[tuple[str, str]]:
    """Name and e-mail of the clients who can sign in."""
    return [(s.name, s.email) for s in STORIES if s.email]


def ensure_demo(app_url: str, owner_url: str, say: Callable[[str], None]) -> None:
    """Make the demo data unless there is a practice already."""
    with psycopg.connect(owner_url, autocommit=True) as conn:
        if conn.execute("select 1 from practices limit 1").fetchone():
            return
        row = conn.execute("insert into practices (name, begun) values (%s, '{ways,colleague}') returning id", (PRACTICE,)).fetchone()
    assert row
    db = Database(app_url, most=2)
    db.open()
    try:
        _Scenario(db, UUID(str(row[0])), datetime.now(UTC), say).make()
    finally:
        db.close()


class _Scenario:
    def __init__(self, db: Database, practice_id: UUID, now: datetime, say: Callable[[str], None]) -> None:
        self.db, self.practice_id, self.now, self.say = db, practice_id, now, say
        self.password_hash = passwords.hash_password(PASSWORD)

    def make(self) -> None:
        standings = ["owner", *(["coach"] * len(COACHES))]
        self.coaches = [
            self._account("coach", None, name, email=email, standing=standing)
            for (name, email), standing in zip(COACHES, standings, strict=False)
        ]
        self._assistant(of=self.coaches[1])
        coach = self.coaches[0]
        for number, story in enumerate(STORIES, start=1):
            self.say(f"client {number} of {len(STORIES)}, {story.name}")
            self._client(self.coaches[story.coach], story, number)
        self._own(coach)
        self._group(coach)
        self._confirmed(coach)

    def _group(self, coach: Person) -> None:
        """A template that several clients started together, with what they did since."""
        with self.db.practice(self.practice_id) as conn:
            people = [c for c in clients.every(conn) if c.name.split()[0] in GROUP]
        if not people:
            return
        host = people[0]
        program = drafting.create(self.db, coach, host.id, self.now, drafting.Wish(template="clear-mornings"))
        start = practice_day(self.now, zone(host.time_zone)) - timedelta(days=GROUP_DAYS_AGO)
        wish = Wish(start=start, times=(("morning", "07:00"),), remind_min=10)
        began = self.now - timedelta(days=GROUP_DAYS_AGO)
        assigning.assign_group(self.db, coach, program, [c.id for c in people], name="Clear mornings, winter", wish=wish, now=began)
        for number, c in enumerate(people, start=1):
            story = replace(next(s for s in STORIES if s.name == c.name), reviewed=99)
            client = Person(id=coach.id, practice_id=self.practice_id, role="client", client_id=c.id, name=c.name, practice_name=PRACTICE)
            history.practise(
                self.db, coach, client=client, story=story, today=practice_day(self.now, zone(c.time_zone)), rng=random.Random(100 + number)
            )

    def _confirmed(self, coach: Person) -> None:
        """A clinician beside the practice has confirmed two of the careful starting values; the others are still to be."""
        for value, days in (("jaw-range", 120), ("swallow-lift", 118)):
            at = self.now - timedelta(days=days)
            said = Confirmation(value, by_name="Dr Ilse Varga-Thorne", role="physician", confirmed_on=at.date())
            safety_settings.confirm(self.db, coach, uuid5(SPACE, f"confirmed {value}"), said, at)

    def _own(self, coach: Person) -> None:
        """An exercise of the practice's own, and a template kept from a client's program."""
        card = exercises.read(self.db, coach, "lip-seal")
        words = {
            "name": "Harbour lip rest",
            "purpose": "The lips rest together for the length of a slow breath; for clients who press too hard in the lip seal.",
            "target": "1×5 h6",
            "foundation": False,
        }
        exercises.create(self.db, coach, card.family, card.entry | words)
        with self.db.practice(self.practice_id) as conn:
            client = next(c for c in clients.every(conn) if c.name == STORIES[0].name)
            program = programs.of_client(conn, client.id)[0]
        about = "How we begin with one eye that opens less, at the Quay."
        templates.keep_program(self.db, coach, program.id, "Quayside eyes, twelve weeks", about=about, now=self.now)

    def _account(self, role: str, client_id: UUID | None, name: str, email: str, *, standing: str = "coach") -> Person:
        with self.db.practice(self.practice_id) as conn:
            made = accounts.create(
                conn, self.practice_id, role, client_id, name, email=email, password_hash=self.password_hash, standing=standing
            )
        return Person(id=made, practice_id=self.practice_id, role=role, client_id=client_id, name=name, practice_name=PRACTICE)

    def _assistant(self, of: Person) -> None:
        """Somebody who sees a coach's clients and takes on none."""
        name, email = ASSISTANT
        made = self._account("coach", None, name, email=email, standing="assistant")
        with self.db.practice(self.practice_id) as conn:
            accounts.change(conn, made.id, standing="assistant", sees_all=False, disabled_at=None)
            accounts.see_clients_of(conn, self.practice_id, account_id=made.id, coaches=[of.id])

    def _client(self, coach: Person, story: Story, number: int) -> None:
        with self.db.practice(self.practice_id) as conn:
            client_id = clients.create(
                conn,
                self.practice_id,
                story.name,
                birth_year=story.birth_year,
                time_zone=story.time_zone,
                minutes=story.minutes,
                concerns=[story.concern],
                goals=story.story,
                portrait=story.portrait,
                coach_id=coach.id,
            )
        if story.email:
            client = self._account("client", client_id, story.name, email=story.email)
        else:
            client = Person(
                id=coach.id, practice_id=self.practice_id, role="client", client_id=client_id, name=story.name, practice_name=PRACTICE
            )
        self._intake(coach, client_id, story)
        self._since(coach, client_id, story, lambda days_ago: days_ago > (story.started_days_ago or 0))
        self._sittings(coach, client_id, story, number)
        if story.started_days_ago is not None:
            self._course(coach, client=client, client_id=client_id, story=story, number=number)
        self._since(coach, client_id, story, lambda days_ago: days_ago <= (story.started_days_ago or 0))

    def _course(self, coach: Person, client: Person, client_id: UUID, story: Story, number: int) -> None:
        assert story.started_days_ago is not None
        began = self.now - timedelta(days=story.started_days_ago)
        program_id = self._program(coach, client_id, story, began)
        today = practice_day(self.now, zone(story.time_zone))
        start = today - timedelta(days=story.started_days_ago)
        wish = Wish(start=start, times=(("morning", "07:30"), ("evening", "20:30")), remind_min=15)
        assigning.assign(self.db, coach, program_id, wish, began)
        if story.second:
            beside = drafting.create(self.db, coach, client_id, began, drafting.Wish(template=story.second))
            evening = replace(wish, as_part="evening", start=today - timedelta(days=9), times=(("evening", "20:30"),))
            assigning.assign(self.db, coach, beside, evening, self.now - timedelta(days=9))
        if story.paused:
            ago, days, why = story.paused
            first = today - timedelta(days=ago)
            pausing.pause(
                self.db, coach, client_id, first, last=first + timedelta(days=days - 1), reason=why, now=self.now - timedelta(days=ago + 1)
            )
        history.practise(self.db, coach, client=client, story=story, today=today, rng=random.Random(number))
        self._asked_again(client, client_id, story, began)
        history.live(self.db, coach, client=client, story=story, now=self.now)
        if story.letter:
            self._letter(coach, client=client, client_id=client_id, told=story.letter)

    def _letter(self, coach: Person, client: Person, client_id: UUID, told: Written) -> None:
        """A letter after the first weeks, sent and read; and what the client wrote beside the first photographs."""
        then = self.now - timedelta(days=told.days_ago)
        letter = letters.begin(self.db, coach, client_id, letters.REPORT, then)
        draft = replace(letters.look(self.db, coach, letter, then).draft, pairs=(), words=Words(opening=told.opening, adds=told.adds))
        letters.keep(self.db, coach, letter, draft, then)
        letters.send(self.db, coach, letter, by_mail=False, now=then)
        letters.opened(self.db, client, letter, then + timedelta(hours=3))
        with self.db.practice(self.practice_id, client_id) as conn:
            first = stored_sittings.of_client(conn, client_id)[:1]
        for sitting in first:
            own_results.write_note(self.db, client, sitting.id, told.beside, then)

    def _asked_again(self, client: Person, client_id: UUID, story: Story, began: datetime) -> None:
        """Once a week, while there is practice, the client was asked whether something has changed in their health."""
        with self.db.practice(self.practice_id) as conn:
            last = log_sums.last_practised(conn, client_id)
        for week in range(1, 1 + (self.now - began).days // 7):
            at = began + timedelta(days=7 * week)
            if last and at.date() <= last:
                answering.nothing_changed(self.db, client, uuid5(SPACE, f"{story.name} asked {week}"), at)

    def _program(self, coach: Person, client_id: UUID, story: Story, at: datetime) -> UUID:
        """A program from the intake, or from the template of the story where the intake rates nothing."""
        if story.template:
            return drafting.create(self.db, coach, client_id, at, drafting.Wish(template=story.template))
        return drafting.create(self.db, coach, client_id, at, drafting.Wish(weeks=story.weeks))

    def _intake(self, coach: Person, client_id: UUID, story: Story) -> None:
        first = story.name.split()[0]
        if first in SELF_FILLED:
            token = self_filling.send(self.db, coach, client_id, self.now - timedelta(days=2))
            self_filling.save(self.db, token, self_filling.Draft.model_validate(SELF_FILLED[first]()), 0, self.now)
            every = [r.id for r in shipped_intake().tables.cautions]
            self_filling.submit(self.db, token, every, self.now - timedelta(hours=20))
        told = intakes(self.now.date()).get(first)
        if told is None:
            self._first_evening(coach, client_id, story)
            return
        began = self.now - timedelta(days=told.days_ago)
        entering.begin(self.db, coach, client_id, began)

        self._enter(coach, client_id, story, 0, said=(*told.said, ("profile", "status", {"value": told.status})), at=began)
        further = (looking.COMPARISON, outcomes.AGREED) if first in AGREEABLE else ()
        for choice in (*told.consents, *further):
            at = began
            if choice == looking.PHOTOGRAPHS and story.agreed_days_ago is not None:
                at = self.now - timedelta(days=story.agreed_days_ago)
            consenting.choose(self.db, coach, client_id, choice, Word(given=True, version=1), now=at)
        if told.finished:
            entering.finish(self.db, coach, client_id, began + timedelta(minutes=40))

    def _first_evening(self, coach: Person, client_id: UUID, story: Story) -> None:
        """Whoever starts with the group is asked about their health at its first evening, and nothing more."""
        at = self.now - timedelta(days=14)
        if story.name.split()[0] in GROUP:
            self._enter(coach, client_id, story, 0, said=nothing_to_tell(), at=at)
            consenting.choose(self.db, coach, client_id, looking.PRACTISE, Word(given=True, version=1), now=at)
        if story.sittings:
            consenting.choose(self.db, coach, client_id, looking.PHOTOGRAPHS, Word(given=True, version=1), now=at)

    def _since(self, coach: Person, client_id: UUID, story: Story, when: Callable[[int], bool]) -> None:
        """What came after the intake, in the days that ``when`` names."""
        told = intakes(self.now.date()).get(story.name.split()[0])
        if told is None:
            return
        for nth, (days_ago, fact) in enumerate(told.later, start=1):
            if when(days_ago):
                self._enter(coach, client_id, story, nth, said=(fact,), at=self.now - timedelta(days=days_ago))
        for days_ago, choice in told.withdrawn:
            if when(days_ago):
                consenting.choose(self.db, coach, client_id, choice, Word(given=False, version=1), now=self.now - timedelta(days=days_ago))

    def _enter(self, coach: Person, client_id: UUID, story: Story, nth: int, said: tuple[Said, ...], at: datetime) -> None:
        entries = [
            Entry(uuid5(SPACE, f"{story.name} {nth} {i}"), kind=kind, key=key, value=value) for i, (kind, key, value) in enumerate(said)
        ]
        entering.record(self.db, coach, client_id, entries, at)

    def _sittings(self, coach: Person, client_id: UUID, story: Story, number: int) -> None:
        for told in story.sittings:
            day = practice_day(self.now, zone(story.time_zone)) - timedelta(days=told.days_ago)
            kind = "baseline" if told.baseline else "follow-up"
            asked = taking.Arrangement(kind=kind, asked_views=(NEUTRAL, *told.views), how=told.how, hint=told.hint)
            sitting = taking.open_sitting(self.db, coach, client_id, day, self.now, arrangement=asked)
            views = [(NEUTRAL, told.state)] * told.shots + [(v, VIEW_STATES[v]) for v in told.views]
            for shot, (view, state) in enumerate(views):
                seed = 1000 * number + 10 * told.days_ago + shot
                lid = told.lid_mm if view == NEUTRAL else (0.0, 0.0)
                scene = Scene(identity=story.portrait, state=state, seed=seed, lid_mm=lid, light=told.light, flipped=told.flipped)
                taken = datetime.combine(day, time(told.hour, 40 + shot), zone(story.time_zone))
                photograph_id = uuid5(SPACE, f"{number} {told.days_ago} {shot}")
                name = f"{view} {shot + 1}.jpg"
                taking.take_in(
                    self.db, coach, sitting, photograph_id=photograph_id, name=name, data=shoot(scene).jpeg(taken), now=self.now, view=view
                )
                if VIEWS[view].face.is_profile:
                    measuring.set_points(self.db, coach, photograph_id, dict(true_points(story.portrait, state=state)), self.now)
                if told is story.sittings[0] and shot == 0 and story.way_known:
                    measuring.answer(self.db, coach, photograph_id, flipped=told.flipped, now=self.now)
        if len(story.sittings) > 1 and story.rated:
            self._rating(coach, client_id, story)
        if story.sittings and story.started_days_ago is not None:
            measuring.name_primary(self.db, coach, client_id, list(HEADLINES), self.now - timedelta(days=story.started_days_ago))

    def _rating(self, coach: Person, client_id: UUID, story: Story) -> None:
        """A finished round of blind rating: later photographs a little better, repeats rated alike."""
        with self.db.practice(self.practice_id) as conn:
            seen = stored_sittings.of_client(conn, client_id)
        wanted = rating.Wanted(kind=rating.SCORE, concern=story.concern, rater="coach", before=seen[0].id, after=seen[-1].id, view=NEUTRAL)
        round_id = rating.begin(self.db, coach, client_id, wanted, self.now)
        with self.db.practice(self.practice_id) as conn:
            later = {str(p.id) for p in photographs.of_client(conn, client_id) if p.sitting_id == seen[-1].id}
        look = rating.next_look(self.db, coach, round_id, self.now)
        while look:
            score = 2 if str(look.photographs[0]) in later else 3
            look = rating.answer(self.db, coach, round_id, look.place, value=score, now=self.now)
