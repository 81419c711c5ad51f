"""From sittings, readings and rounds to what goes over the wire."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from dimbo.catalogue import shipped_intake
from dimbo.core.sittings.compared import Compared, SaidChange
from dimbo.core.sittings.comparison import sentence
from dimbo.core.sittings.frame import Point, mirrored
from dimbo.core.sittings.points import FRONT_POINTS, PROFILE_POINTS
from dimbo.core.sittings.profile_view import PROFILE_READINGS, SettingNoise, measure_profile, profile_changes, suggested
from dimbo.core.sittings.protocol import LIVE, SETTING, VIEWS, View
from dimbo.core.sittings.quality import THRESHOLDS, Check
from dimbo.core.sittings.rating import agreement_words
from dimbo.core.sittings.reading_table import PICKED, READINGS
from dimbo.core.sittings.readings import Measured, needed
from dimbo.core.sittings.shape import Asymmetry
from dimbo.core.sittings.shot import JudgedShot
from dimbo.core.sittings.sitting import Measurement, SittingRead
from dimbo.store.sittings.photographs import Photograph
from dimbo.store.sittings.rating import Round
from dimbo.store.sittings.sittings import Sitting
from dimbo.vision.terms import METHOD
from dimbo.web.schemas import sittings as v
from dimbo.work.sittings.measuring import Bench
from dimbo.work.sittings.rating import Look as RatingLook
from dimbo.work.sittings.rating import Result
from dimbo.work.sittings.taking import Taking

from .practice import changes, signs


def protocol(view: View) -> v.ProtocolView:
    return v.ProtocolView(id=view.id, name=view.name, say=view.say, shots=view.shots, face=view.face, use=view.use.value)


def readings(m: Measurement, read: SittingRead) -> list[v.ReadingView]:
    out = []
    for key, value in read.values.items():
        reading, noise = READINGS[key], m.noise[key]
        both = Measured(value.value, right=value.right, left=value.left)
        out.append(
            v.ReadingView(
                id=key,
                name=reading.name,
                definition=reading.definition,
                unit=reading.unit,
                view=reading.view,
                needs=needed(reading),
                region=reading.region,
                paired=reading.paired,
                value=value.value,
                right=value.right,
                left=value.left,
                index=both.index if reading.unit == "mm" else None,
                ratio=both.ratio if reading.against else None,
                band=value.band,
                shots=list(value.shots),
                shot_sd=noise.shot_sd,
                sitting_sd=noise.sitting_sd,
                method_sd=reading.method_sd,
                care=reading.care,
                provisional=value.provisional,
                real=value.real,
                smaller_side=value.smaller_side.value if value.smaller_side else None,
                sentence=sentence(reading, value),
            )
        )
    return out


def change(said: SaidChange) -> v.ChangeView:
    c = said.change
    reading = READINGS[c.reading]
    return v.ChangeView(
        id=c.reading,
        name=reading.name,
        unit=reading.unit,
        paired=reading.paired,
        before=c.before,
        after=c.after,
        amount=c.amount,
        mdc=c.mdc,
        holm_mdc=c.holm_mdc,
        p=None if c.reason else c.p,
        verdict=c.verdict.value,
        direction=c.direction.value if c.direction else None,
        primary=c.primary,
        reason=c.reason,
        sentence=said.sentence,
        sides=[v.SideChangeView(side=s.side.value, amount=s.amount, mdc=s.mdc, beyond=s.beyond) for s in c.sides],
        start=c.start
        and v.StartView(
            value=c.start.value,
            right=c.start.right,
            left=c.start.left,
            band=c.start.band,
            shots=list(c.start.shots),
            both=c.start.both,
        ),
    )


def _check(c: Check) -> v.ShotCheckView:
    why = THRESHOLDS[c.id].reason if c.id in THRESHOLDS else ""
    return v.ShotCheckView(id=c.id, name=c.name, found=c.found, weight=c.weight, change=c.change, why=why)


def profile(p: Photograph, setting: Mapping[str, SettingNoise]) -> list[v.ProfileReadingView]:
    """Angles of a profile as far as its points are set, with the noise of setting them; empty for any other view."""
    if not _profile(p):
        return []
    values, again = (measure_profile(_places(points)) for points in (p.hand, p.again))
    return [
        v.ProfileReadingView(
            id=r.id,
            name=r.name,
            definition=r.definition,
            unit=r.unit,
            value=values.get(r.id),
            again=again.get(r.id),
            band=setting[r.id].band,
            pictures=setting[r.id].pictures,
            needs=list(r.needs),
            lines=[list(x) for x in r.lines],
        )
        for r in PROFILE_READINGS.values()
    ]


def _places(points: Mapping[str, Sequence[float]]) -> dict[str, Point]:
    return {n: (xy[0], xy[1]) for n, xy in points.items()}


def _profiles(b: Bench, c: Compared) -> list[v.ProfileChangeView]:
    """What the profiles of two sittings say, a side at a time: of each the last picture whose points are set."""
    if c.before is None or c.after is None:
        return []
    out = []
    for view in (x for x in VIEWS.values() if x.face.is_profile):
        two = [[p for p in b.photographs if str(p.sitting_id) == s.id and p.view == view.id and p.hand] for s in (c.before, c.after)]
        if not all(two):
            continue
        out += [
            v.ProfileChangeView(
                id=x.reading.id,
                name=x.reading.name,
                view=view.id,
                view_name=view.name,
                unit=x.reading.unit,
                before=x.before,
                after=x.after,
                mdc=x.mdc,
                beyond=x.beyond,
                sentence=x.sentence,
            )
            for x in profile_changes(_places(two[0][-1].hand), after=_places(two[1][-1].hand), noise=b.setting)
        ]
    return out


def _suggested(b: Bench, p: Photograph) -> dict[str, list[float]]:
    """Where the missing points of a profile may be, by the newest other picture of the same side."""
    if not _profile(p):
        return {}
    others = [o for o in b.photographs if o.id != p.id and o.view == p.view and bool(o.flipped) == bool(p.flipped) and len(o.hand) > 1]
    return {n: list(xy) for n, xy in suggested(_places(p.hand), earlier=_places(others[-1].hand)).items()} if others else {}


def photograph(b: Bench, p: Photograph, judged: JudgedShot | None) -> v.PhotographView:
    return v.PhotographView(
        id=p.id,
        sitting_id=p.sitting_id,
        view=p.view,
        view_name=VIEWS[p.view].name,
        confirmed=p.view_confirmed,
        suggested=judged.suggested if judged and p.seen and judged.suggested != p.view else None,
        source_name=p.source_name,
        width=p.width,
        height=p.height,
        taken_at=judged.shot.taken_at if judged else p.taken_at,
        taken_told=p.taken_told,
        state=p.state,
        step=p.step,
        refusal=p.refusal,
        method=p.method,
        current_method=p.method in (None, METHOD),
        flipped=bool(p.flipped),
        asks_flip=bool(judged and judged.asks_flip),
        asks_way=bool(judged and judged.asks_way),
        asks_person=bool(judged and judged.asks_person),
        same_person=p.same_person,
        standing=judged.standing if judged and judged.checks else None,
        quality=[_check(c) for c in judged.checks] if judged else [],
        points=points_shown(p, p.hand if _profile(p) else {**(p.points or {}), **p.hand}),
        hand=points_shown(p, p.hand),
        unmeasured={k: x.why for k, x in judged.unmeasured.items() if not READINGS[k].by_hand} if judged else {},
        profile=profile(p, b.setting),
        suggested_points=points_shown(p, _suggested(b, p)),
    )


def points_shown(p: Photograph, points: Mapping[str, Sequence[float]]) -> dict[str, list[float]]:
    """Points on the picture as it is shown: a mirrored one is turned round."""
    placed = {n: (xy[0], xy[1]) for n, xy in points.items()}
    return {n: list(xy) for n, xy in (mirrored(placed, p.width) if p.flipped else placed).items()}


def _profile(p: Photograph) -> bool:
    return VIEWS[p.view].face.is_profile


def _asymmetry(found: Asymmetry | None) -> v.AsymmetryView | None:
    return v.AsymmetryView(percent=found.percent, shares=dict(found.shares)) if found else None


def sitting(b: Bench, s: Sitting) -> v.SittingRow:
    read = b.measurement.sitting(str(s.id))
    judged = {j.shot.id: j for j in read.shots}
    return v.SittingRow(
        id=s.id,
        taken_on=s.taken_on,
        kind=s.kind,
        note=s.note,
        how=s.how,
        hint=s.hint,
        own_note=b.notes.get(s.id, ""),
        asked_views=s.asked_views,
        handed_in_at=s.handed_in_at,
        photographs=[photograph(b, p, judged.get(str(p.id))) for p in sorted(b.of(s.id), key=lambda p: list(VIEWS).index(p.view))],
        readings=readings(b.measurement, read),
        asymmetry=_asymmetry(read.asymmetry),
    )


def brief(m: Measurement, s: Sitting, shots: Sequence[Photograph]) -> v.SittingBrief:
    read = m.sitting(str(s.id))
    own = sorted((p for p in shots if p.sitting_id == s.id), key=lambda p: (p.state != "measured", list(VIEWS).index(p.view)))
    return v.SittingBrief(
        id=s.id,
        taken_on=s.taken_on,
        kind=s.kind,
        photographs=[p.id for p in own],
        readings=[r for r in readings(m, read) if r.id in m.headlines],
    )


def comparison(c: Compared) -> v.ComparisonView:
    return v.ComparisonView(
        before=c.before.id if c.before else None,
        after=c.after.id if c.after else None,
        changes=[change(said) for said in c.changes],
        notes=[v.SittingNoteView.model_validate(n) for n in c.notes],
        bias=[
            v.BiasView(reading=k, take=a.take, side=a.side.value if a.side else None, because=a.because) for k, a in (c.bias or {}).items()
        ],
    )


def sittings(b: Bench, compared: Compared) -> v.SittingsView:
    m = b.measurement
    return v.SittingsView(
        client_id=b.client.id,
        client_name=b.client.name,
        may_keep=b.consent.in_force,
        may_compare=b.may_compare,
        consent=b.consent.sentence,
        sittings=[sitting(b, s) for s in b.sittings],
        comparison=comparison(compared),
        primary=list(m.primary),
        primary_locked=b.primary_locked,
        double_baseline=m.double_baseline is not None,
        ruler_mm=m.ruler,
        trends=[
            v.TrendView(
                id=k,
                name=READINGS[k].name,
                unit=READINGS[k].unit,
                per_four_weeks=t.per_four_weeks,
                low=t.low,
                high=t.high,
                verdict=t.verdict.value,
            )
            for k, t in m.trends.items()
        ],
        outdated=b.outdated,
        protocol=[protocol(x) for x in VIEWS.values()],
        points=[v.PointView(id=p.id, words=p.words, side=p.side.value if p.side else None) for p in FRONT_POINTS.values()],
        profile_points=[v.PointView(id=k, words=words, side=None) for k, words in PROFILE_POINTS.items()],
        choices=[v.ReadingChoice(id=k, name=READINGS[k].name, definition=READINGS[k].definition) for k in PICKED],
        by_hand=[
            v.ByHandReading(id=r.id, name=r.name, definition=r.definition, view=r.view, needs=needed(r))
            for r in READINGS.values()
            if r.by_hand
        ],
        profile_changes=_profiles(b, compared),
    )


def taking(t: Taking, judged: dict[str, JudgedShot], *, stand_in: bool) -> v.TakingView:
    def shot(p: Photograph) -> v.TakingShot:
        j = judged.get(str(p.id))
        first = next((c for c in j.checks if c.change), None) if j else None
        return v.TakingShot(
            id=p.id,
            view=p.view,
            confirmed=p.view_confirmed,
            source_name=p.source_name,
            state=p.state,
            step=p.step,
            refusal=p.refusal,
            standing=j.standing if j and j.checks else None,
            change=first.advice if first else "",
        )

    return v.TakingView(
        live=v.LiveLimits.model_validate(LIVE),
        sitting_id=t.sitting.id,
        client_id=t.client.id,
        client_name=t.client.name,
        practice_name=t.practice,
        taken_on=t.sitting.taken_on,
        kind=t.sitting.kind,
        hint=t.sitting.hint,
        may_keep=t.may_keep,
        consent=t.consent,
        views=[protocol(VIEWS[x]) for x in t.sitting.asked_views if x in VIEWS],
        setting=list(SETTING),
        shots=[shot(p) for p in t.photographs],
        ghosts=t.ghosts,
        baseline_clock=f"{t.baseline_clock:%H:%M}" if t.baseline_clock else None,
        stand_in_camera=stand_in,
        handed_in=t.sitting.handed_in_at is not None,
        health=v.HealthAsked(
            because=t.ask.because, signs=signs(t.emergency_number), changes=changes(()), regions=list(shipped_intake().tables.regions)
        )
        if t.ask
        else None,
        halt=t.halt,
    )


def look(found: RatingLook) -> v.LookView:
    return v.LookView(
        round_id=found.round_id,
        kind=found.kind,
        concern=found.concern,
        place=found.place,
        of=found.of,
        flipped=found.flipped,
    )


def round_view(r: Round, result: Result | None) -> v.RoundView:
    return v.RoundView(
        id=r.id,
        kind=r.kind,
        concern=r.concern,
        rater=r.rater,
        begun_at=r.begun_at,
        finished_at=r.finished_at,
        answered=len(r.answers),
        of=len(r.items),
        change=v.RatedChangeView.model_validate(result.change) if result and result.change else None,
        preference=v.PreferenceView.model_validate(result.preference) if result and result.preference else None,
        kappa=result.kappa if result else None,
        agreement=agreement_words(result.kappa if result else None),
        repeats=result.repeats if result else 0,
    )
