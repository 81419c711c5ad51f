"""Small builders and hypothesis strategies that the core's tests share."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import strategies as st

from dimbo.core.anatomy import Family, Side, Stage
from dimbo.core.exercises.card import Axis, Card, Ceiling, CeilingBasis, DoseStyle, SideRule
from dimbo.core.exercises.dose import STRAIGHT, ZERO, Apart, Direction, Dose, Phase, PhaseKind, Span, Together, Unit
from dimbo.core.programs.program import Line, Program

THREE_WAYS = (
    Direction("front"),
    Direction("turned left", frozenset({Side.RIGHT})),
    Direction("turned right", frozenset({Side.LEFT})),
)


def hold(reps: int, lead: float, held: float, release: float, *, unit: Unit = Unit.SECONDS, ways=STRAIGHT, window=None) -> Phase:
    return Phase(
        kind=PhaseKind.HOLD, reps=reps, lead=Span(lead), hold=Span(held, unit), release=Span(release), directions=ways, window=window
    )


def style(*phases: Phase, rest: float = 10, rule: SideRule = SideRule.TOGETHER) -> DoseStyle:
    return DoseStyle(phases or (hold(1, 1, 0, 2),), Span(rest), rule)


def card(
    card_id: str = "lift",
    *,
    family: Family = Family.CONTRACT,
    dose_style: DoseStyle | None = None,
    ceiling_s: float = 600,
    stage: Stage = Stage.WORK,
    basis: CeilingBasis = CeilingBasis.CONTRACTION,
    prime=("zygomaticus_major",),
    helpers=(),
    needs=(),
    after=(),
    setup_s: float = 0,
    settle_s: float = 0,
) -> Card:
    return Card(
        id=card_id,
        name=card_id.title(),
        family=family,
        stage=stage,
        purpose="For tests.",
        concerns=("flat-cheeks",),
        prime_movers=prime,
        helpers=helpers,
        style=dose_style or style(),
        start_line="1×5 h3",
        target_line="2×8 h8",
        axes=(Axis.HOLD, Axis.REPS, Axis.SETS),
        ceiling=Ceiling(ceiling_s, basis),
        setup_s=setup_s,
        settle_s=settle_s,
        pressure="none",
        needs=needs,
        position="Seated.",
        foundation=False,
        after=after,
        cues=("Lift.", "Let go."),
        felt_at="Cheek.",
        faults=(("Clenching", "Soften."),),
        eased="Less.",
        stop_rule="Pain? Stop.",
    )


def program(*rows: tuple[Card, tuple[str, ...]], minutes: int | None = None, sessions=None) -> Program:
    weeks = len(rows[0][1])
    lines = tuple(Line(id=f"line{i}", card=c, stage=c.stage, cells=cells) for i, (c, cells) in enumerate(rows))
    return Program(title="Test", weeks=weeks, sessions=sessions or (3,) * weeks, minutes=minutes, lines=lines)


tenths = st.integers(0, 400).map(lambda n: n / 10)
units = st.sampled_from(Unit)
spans = st.builds(Span, tenths, units)
some_span = st.builds(Span, st.integers(1, 400).map(lambda n: n / 10), units)
paces = st.sampled_from([0.8, 1.0, 1.2, 1.5, 1.6])
work_kinds = st.sampled_from([PhaseKind.HOLD, PhaseKind.REPS, PhaseKind.STROKES, PhaseKind.CIRCLES, PhaseKind.TAP])
together = st.builds(Together, st.integers(1, 6))
apart = st.tuples(st.integers(0, 4), st.integers(0, 4), st.booleans()).filter(lambda t: t[0] + t[1]).map(lambda t: Apart(*t))


@st.composite
def styles(draw: st.DrawFn) -> DoseStyle:
    rule = draw(st.sampled_from(SideRule))
    phases = draw(
        st.lists(
            st.builds(
                Phase,
                kind=work_kinds,
                reps=st.just(1),
                lead=spans,
                hold=st.just(ZERO),
                release=spans,
                directions=st.sampled_from([STRAIGHT, THREE_WAYS]),
            ),
            min_size=1,
            max_size=3,
        )
    )
    return DoseStyle(tuple(phases), draw(spans), rule)


@st.composite
def doses(draw: st.DrawFn, of: DoseStyle) -> Dose:
    """Any dose that the style can hold and that lasts some time."""
    phases = [draw(_phases(of.phase(index))) for index in range(draw(st.integers(1, 4)))]
    sides = draw(together if of.side_rule is SideRule.TOGETHER else apart)
    both = isinstance(sides, Apart) and sides.right_sets and sides.left_sets
    left = tuple(draw(_longer(p)) for p in phases) if both and draw(st.booleans()) else None
    return Dose(tuple(phases), sides, draw(spans), left=None if left == tuple(phases) else left)


def _longer(phase: Phase) -> st.SearchStrategy[Phase]:
    """The same phase for the other side, with another hold or number of repetitions, as far as its kind has them."""
    hold = replace(phase, hold=Span(min(phase.hold.amount + 3, 600), phase.hold.unit)) if phase.hold.amount and not phase.window else phase
    return st.sampled_from([phase, hold, phase if phase.reps == 1 else replace(phase, reps=phase.reps + 2)])


def _phases(template: Phase) -> st.SearchStrategy[Phase]:
    return _any_phase(template).filter(lambda p: all(p.seconds(k) > 0 for k in (0.8, 1.6)) and any(p.count(k) for k in (0.8, 1.6)))


@st.composite
def _any_phase(draw: st.DrawFn, template: Phase) -> Phase:
    ways = template.directions[: draw(st.integers(1, len(template.directions)))]
    shapes = {PhaseKind.HOLD: ["on breath"], PhaseKind.REPS: ["on breath"]}.get(template.kind, ["spots"])
    shape = draw(st.sampled_from(["reps", "timed", "window", "pause", *shapes]))
    if shape == "on breath":
        reps, out, back = draw(st.integers(1, 20)), draw(some_span), draw(some_span)
        return Phase(kind=template.kind, reps=reps, hold=out, release=back, directions=ways, on_breath=True)
    if shape == "spots":
        reps, at_each, lead = draw(st.integers(1, 20)), draw(some_span), draw(spans)
        return Phase(kind=PhaseKind.SPOTS, reps=reps, lead=lead, hold=at_each, directions=ways)
    if shape == "pause":
        return Phase(kind=PhaseKind.PAUSE, hold=draw(spans))
    if shape == "timed":
        return Phase(kind=template.kind, hold=draw(some_span), directions=ways)
    timing = {"lead": draw(spans), "release": draw(spans), "directions": ways}
    if shape == "window":
        return Phase(kind=template.kind, reps=1, hold=draw(some_span), window=draw(some_span), **timing)
    return Phase(kind=template.kind, reps=draw(st.integers(1, 60)), hold=draw(spans), **timing)
