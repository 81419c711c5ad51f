"""From what came of it to what goes over the wire."""

from __future__ import annotations

from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.sittings.reading_table import READINGS
from dimbo.web.schemas import results as r
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
        views=[r.ResultView(id=v, name=VIEWS[v].name) for v in found.views],
        sittings=[_sitting(s) for s in found.sittings],
        rows=[_row(x) for x in found.rows],
    )
