"""From the intake's values to what goes over the wire."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from datetime import datetime
from uuid import UUID

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.intake.conclusions import ConcernView, Conclusions, Tables
from dimbo.core.intake.import_columns import FIELDS
from dimbo.core.intake.reasoning import Cause
from dimbo.core.safety.cautions import Cautions, Effect, RegionState, care
from dimbo.core.safety.consent import Consent
from dimbo.store.intake.facts import Fact
from dimbo.web.schemas import exercises as c
from dimbo.web.schemas import intake as s
from dimbo.work.intake.client_import import SHOWN_ERRORS, SHOWN_ROWS, Fate, Plan, Row
from dimbo.work.intake.entering import OpenIntake
from dimbo.work.intake.fact_sentences import profile_words, tell


def tables(found: Tables) -> s.IntakeTablesView:
    return s.IntakeTablesView(
        concerns=[s.ConcernTableView.model_validate(x) for x in found.concerns.values()],
        reasoning=[s.ReasoningView.model_validate(x) for x in found.reasoning.values()],
        tests=[
            s.SideTestView(
                id=t.id,
                name=t.name,
                group=t.group,
                ask=t.ask,
                steps=list(t.steps),
                say=t.say,
                answers=list(t.answers),
                measured=t.reading is not None,
            )
            for t in found.tests.values()
        ],
        cautions=[s.CautionRuleView.model_validate(x) for x in found.cautions],
        consents=consent_texts(),
        regions=list(found.regions),
        muscles=[s.MuscleView.model_validate(m) for m in shipped_catalogue().muscles.values()],
    )


def consent_texts() -> list[s.ConsentTextView]:
    return [s.ConsentTextView.model_validate(x) for x in shipped_intake().consents.values()]


def consent(found: Consent) -> s.ConsentView:
    return s.ConsentView(
        id=found.text.id,
        state=found.state,
        in_force=found.in_force,
        settled=found.settled,
        sentence=found.sentence,
        until=found.until,
        person=found.person,
        account=found.account,
    )


def coaches(known: Mapping[UUID, str]) -> list[s.CoachName]:
    return [s.CoachName(id=i, name=name) for i, name in known.items()]


def urgent(cautions: Cautions) -> str:
    """What is said before anything else, with every urgent sign by name."""
    names = [h.rule.name for h in cautions.urgent]
    return f"{care(h.rule for h in cautions.urgent)} Reported: {'; '.join(names)}. No exercises, no massage." if names else ""


def held(cautions: Cautions) -> list[s.HeldView]:
    return [
        s.HeldView(
            caution=h.rule.id,
            name=h.rule.name,
            group=h.rule.group,
            state=h.state,
            effect=h.effect,
            locked=h.locked,
            reason=h.reason,
            remedy=h.remedy,
        )
        for h in cautions.held
    ]


def holds(regions: Iterable[RegionState]) -> dict[str, str]:
    """Muscles whose region is locked as a whole, or eased (or locked in part)."""
    muscles = shipped_catalogue().muscles.values()
    found = {r.region: r for r in regions if r.effect is not Effect.REMIND}
    return {
        m.id: "lock" if found[m.region].effect is Effect.LOCK and not found[m.region].partial else "ease"
        for m in muscles
        if m.region in found
    }


def _cause(x: Cause) -> s.CauseView:
    return s.CauseView.model_validate(x)


def _concern(v: ConcernView) -> s.SuggestionView:
    return s.SuggestionView(
        concern=v.concern.id,
        name=v.concern.name,
        paired=v.concern.paired,
        right=v.rating.right,
        left=v.rating.left,
        summary=v.suggestion.summary,
        clear=v.suggestion.clear,
        ranked=[s.WeighedView(cause=w.cause.id, name=w.cause.name, score=w.score, steps=list(w.steps)) for w in v.suggestion.ranked],
        cause=_cause(v.cause),
        chosen=v.chosen,
        differs=v.differs,
        derived=dict(v.derived),
    )


def conclusions(found: Conclusions) -> s.ConclusionsView:
    muscles = shipped_catalogue().muscles
    return s.ConclusionsView(
        urgent=urgent(found.cautions),
        held=held(found.cautions),
        regions=[s.RegionStateView.model_validate(r) for r in found.regions],
        holds=holds(found.regions),
        exercises=[
            s.ExerciseVerdictView(id=card.id, name=card.name, effect=v.effect, because=[h.rule.name for h in v.held])
            for card, v in found.exercises
            if v.effect
        ],
        concerns=[_concern(v) for v in found.concerns],
        families=[
            s.FamilyAdviceView(
                family=f.family,
                weight=f.weight,
                concerns=list(f.concerns),
                muscles=[c.Named(id=m, name=muscles[m].name) for m in f.muscles if m in muscles],
                locked=list(f.locked),
            )
            for f in found.families
        ],
        topics=[s.TopicView(id=t.id, side=t.side, conflict=t.conflict) for t in found.topics],
        habits=[s.HabitAskedView.model_validate(h) for h in found.habits],
        ask_next=[s.AskView.model_validate(a) for a in found.ask_next],
    )


def _link(found: OpenIntake, now: datetime) -> s.LinkState | None:
    sent = found.self_intake
    if sent is None:
        return None
    state = "reviewed" if sent.reviewed_at else "sent in" if sent.submitted_at else "expired" if sent.expires_at <= now else "open"
    return s.LinkState(state=state, expires_at=sent.expires_at, submitted_at=sent.submitted_at, begun=sent.revision > 0)


def intake(found: OpenIntake, now: datetime) -> s.IntakeView:
    client, entered = found.client, found.intake
    return s.IntakeView(
        client_id=client.id,
        today=found.today,
        opened_at=client.intake_opened_at,
        opened_by=client.intake_opened_by,
        finished_at=client.intake_finished_at,
        profile=s.ProfileView.model_validate(client),
        concerns=client.concerns,
        ratings={k: s.RatingView(right=r.right, left=r.left) for k, r in entered.ratings.items()},
        answers={f"{concern}.{question}": a for (concern, question), a in entered.answers.items()},
        causes=dict(entered.causes),
        results={k: s.ResultView(answer=r.answer, noted_on=r.noted_on, measured=r.measured) for k, r in entered.results.items()},
        cautions={
            k: s.CautionAnswerView(answer=a.answer, regions=sorted(a.regions), event_on=a.event_on, note=a.note)
            for k, a in entered.cautions.items()
        },
        clearances=[
            s.ClearanceView(
                caution=x.caution,
                by_name=x.by_name,
                role=x.role,
                given_on=x.given_on,
                says=x.says,
                regions=sorted(x.regions),
                valid_from=x.valid_from,
                until=x.until,
            )
            for x in entered.clearances
        ],
        consents=[consent(x) for x in found.consents],
        photographs=found.photographs,
        coaches=coaches(found.coaches),
        self_intake=_link(found, now),
        conclusions=conclusions(found.conclusions),
    )


def timeline(found: Iterable[Fact], known: Tables) -> list[s.TimelineEntry]:
    return [s.TimelineEntry(seq=f.seq, at=f.at, author=f.author, source=f.source, kind=f.kind, text=tell(f, known)) for f in found]


def _import_row(row: Row) -> s.ImportRow:
    concerns = shipped_catalogue().concerns
    words = {
        k: ", ".join(concerns[x].name for x in v) if k == "concerns" else profile_words(k, v) for k, v in row.values.items() if k in FIELDS
    }
    return s.ImportRow(line=row.line, fate=row.fate, values=words, remark=row.remark)


def import_preview(found: Plan) -> s.ImportPreview:
    sheet = found.sheet
    asked = [r for r in found.rows if r.fate is Fate.ASK]
    wrong = [r for r in found.rows if r.fate is Fate.WRONG]
    shown = [*asked, *wrong, *(r for r in found.rows if r.fate not in (Fate.ASK, Fate.WRONG))][: max(SHOWN_ROWS, len(asked))]
    marks = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar", "": ""}
    unreadable = Counter(e.place for e in found.errors)
    return s.ImportPreview(
        encoding=sheet.encoding,
        delimiter=marks[sheet.delimiter],
        named_in=sheet.named_in,
        fields=[s.ImportField(id=f, name=f.replace("_", " ")) for f in FIELDS],
        columns=[
            s.ImportColumn(header=h, field=f, samples=[r[i] for r in sheet.rows[:40] if r[i]][:3], unreadable=unreadable[i])
            for i, (h, f) in enumerate(zip(sheet.headers, found.columns, strict=True))
        ],
        rows=[_import_row(r) for r in sorted(shown, key=lambda r: r.line)],
        new=found.count(Fate.NEW),
        here=found.count(Fate.HERE),
        ask=found.count(Fate.ASK),
        none=found.count(Fate.NONE),
        wrong=found.count(Fate.WRONG),
        asks_order=any(e.order for e in found.errors),
        errors=[s.ImportError.model_validate(e) for e in found.errors[:SHOWN_ERRORS]],
        more_errors=max(0, len(found.errors) - SHOWN_ERRORS),
    )
