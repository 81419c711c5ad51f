"""From what came of it to what goes over the wire."""

from __future__ import annotations

from dimbo.catalogue import shipped_catalogue
from dimbo.core.results.clean_starts import MINUTES
from dimbo.core.results.gains import LEAST_SHOWN_ALIKE, MeanGain, clients_needed
from dimbo.core.results.helped import SECOND_START, Finding, OfReading, typical_sd
from dimbo.core.sittings.noise import Z95
from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.sittings.reading_table import READINGS
from dimbo.store.results.letters import StoredLetter
from dimbo.web.schemas import results as r
from dimbo.web.schemas.exercises import Named
from dimbo.work.results import letters
from dimbo.work.results.outcomes import Outcomes, SoFar
from dimbo.work.results.own_results import OwnResults, OwnSitting, Row, Shown

from .sittings import points_shown


def shown(x: Shown) -> r.ShownPhotograph:
    p = x.photograph
    return r.ShownPhotograph(
        id=p.id,
        width=p.width,
        height=p.height,
        flipped=bool(p.flipped),
        taken_at=x.judged.shot.taken_at if x.judged else p.taken_at,
        points=points_shown(p, {**(p.points or {}), **p.hand}),
    )


def _sitting(s: OwnSitting) -> r.OwnSittingView:
    return r.OwnSittingView(
        id=s.sitting.id,
        day=s.sitting.taken_on,
        first=s.first,
        photographs={view: shown(x) for view, x in s.shown.items()},
        said=[r.SaidView.model_validate(x) for x in s.said],
        practised=r.PractisedView.model_validate(s.practised) if s.practised else None,
        alike=dict(s.alike),
        note=s.note,
    )


def _row(row: Row) -> r.ResultRow:
    reading = READINGS[row.reading]
    return r.ResultRow(
        id=reading.id,
        name=reading.name,
        unit=reading.unit,
        view=reading.view,
        paired=reading.paired,
        more=reading.more,
        points=[
            r.ResultPoint(sitting=s.id, day=s.taken_on, value=v.value, band=v.band, real=v.real, excluded=excluded)
            for s, v, excluded in row.points
        ],
    )


def own_results(found: OwnResults) -> r.OwnResultsView:
    return r.OwnResultsView(
        name=found.client.name,
        views=[Named(id=v, name=VIEWS[v].name) for v in found.views],
        sittings=[_sitting(s) for s in found.sittings],
        rows=[_row(x) for x in found.rows],
    )


def _finding(f: Finding) -> r.FindingView:
    return r.FindingView.model_validate(f)


def _mean(m: MeanGain | None) -> r.MeanView | None:
    return r.MeanView.model_validate(m) if m else None


def _reading(x: OfReading, found: Outcomes) -> r.OutcomeReading:
    line = x.dose if x.dose and x.dose.gate else None
    return r.OutcomeReading(
        id=x.reading,
        name=READINGS[x.reading].name,
        needed=clients_needed(x.noise_sd or typical_sd(x.reading)),
        cases=[r.CaseDot(kind=c.kind.value, gain=c.gain, minutes=c.dose * MINUTES, band=Z95 * c.variance**0.5) for c in x.cases],
        gain=_mean(x.gain),
        alike=_mean(x.alike if x.alike and x.alike.clients >= LEAST_SHOWN_ALIKE else None),
        line=r.LineView.model_validate(line) if line else None,
        left=[r.LeftOut(why=why.value, clients=n) for why, n in found.left[x.reading].most_common()],
        says=[_finding(f) for f in x.says],
    )


def answered(found: Outcomes | SoFar) -> r.HelpedAnswer:
    if isinstance(found, SoFar):
        return r.HelpedAnswer(done=found.done, of=found.of, found=None)
    return r.HelpedAnswer(done=1, of=1, found=helped(found))


def helped(found: Outcomes) -> r.HelpedView:
    names = {k: c.name for k, c in shipped_catalogue().concerns.items()}
    p = found.practising
    return r.HelpedView(
        readings=[_reading(x, found) for x in found.readings],
        approaches=[
            r.ApproachPair(
                reading=READINGS[a.reading].name,
                first=a.first,
                second=a.second,
                counts=list(a.counts),
                starts=list(a.starts),
                coin=a.coin,
                finding=_finding(a.finding),
            )
            for a in found.approaches
        ],
        ratings=[
            r.RatingsOfConcern(concern=names[x.concern], fell=x.fell, same=x.same, rose=x.rose, finding=_finding(x.finding))
            for x in found.ratings
        ],
        practising=r.PractisingView(
            people=p.people,
            course=[r.StillShare.model_validate(s) for s in p.course],
            many=[r.StillShare.model_validate(s) for s in p.many],
            few=[r.StillShare.model_validate(s) for s in p.few],
            finding=_finding(p.finding),
            first_weeks=_finding(p.first_weeks),
        ),
        pictures=[
            r.ClientDrawing(
                client_id=x.client.id,
                name=x.client.name,
                reading=x.reading,
                reading_name=READINGS[x.reading].name,
                side=x.side.value if x.side else None,
                marks=[
                    r.MarkView(week=m.week, day=m.day, value=-m.value.value, band=m.value.band, chose=m.chose, excluded=m.excluded)
                    for m in x.marks
                ],
                extra=[r.ExtraWeek(week=w, minutes=m) for w, m in x.extra],
                counts=x.counts,
                would_show=x.would_show,
            )
            for x in found.pictures
        ],
        agreed=found.agreed,
        second_start=SECOND_START,
    )


def letter_row(x: StoredLetter) -> r.LetterRow:
    title = x.content["title"] if x.content else "To a clinician" if x.kind == letters.CLINICIAN else "Progress letter"
    return r.LetterRow(
        id=x.id,
        kind="clinician" if x.kind == letters.CLINICIAN else "report",
        title=title,
        by_name=x.by_name,
        changed_at=x.changed_at,
        sent_at=x.sent_at,
        by_mail=x.by_mail,
        opened_at=x.opened_at,
        has_pdf=x.has_pdf,
    )


def open_letter(x: letters.Open) -> r.OpenLetter:
    """A draft as it reads now; a letter that was sent as it was sent."""
    return r.OpenLetter(
        row=letter_row(x.stored),
        client_id=x.stored.client_id,
        draft=r.LetterDraft.model_validate(x.draft),
        letter=r.LetterView.model_validate(x.stored.content or x.letter),
        offered=[
            r.OfferedPair(
                choice=r.LetterPairChoice.model_validate(o.choice),
                view_name=VIEWS[o.choice.view].name,
                days=list(o.days),
                sentences=list(o.sentences),
            )
            for o in x.offered
        ],
        may_compare=x.may_compare,
        address=x.address,
    )


def own_letter(x: StoredLetter) -> r.OwnLetter:
    assert x.sent_at is not None, "only letters that were sent are the client's"
    return r.OwnLetter(
        id=x.id, sent_at=x.sent_at, opened=x.opened_at is not None, has_pdf=x.has_pdf, letter=r.LetterView.model_validate(x.content)
    )
