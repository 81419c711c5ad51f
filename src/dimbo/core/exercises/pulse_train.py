"""The pulse train: how a dose looks. Phases in seconds and the runs they repeat in, ready to be drawn."""

from __future__ import annotations

from dataclasses import dataclass

from dimbo.core.anatomy import Side

from .dose import Dose, Phase, Together


@dataclass(frozen=True, slots=True, kw_only=True)
class TrainPhase:
    """One phase to scale: ``reps`` times lead, hold and release, in each of ``directions`` directions."""

    kind: str
    reps: int
    lead_s: float
    hold_s: float
    release_s: float
    directions: int


@dataclass(frozen=True, slots=True)
class Train:
    """Runs in order ("right", "left" or "both"), the phases of each, and the rest between them."""

    phases: tuple[TrainPhase, ...]
    runs: tuple[str, ...]
    rest_s: float
    total_s: float
    left_phases: tuple[TrainPhase, ...] | None = None
    """Those of the runs of the left side, where they are not the same."""

    def phases_of(self, run: str) -> tuple[TrainPhase, ...]:
        return self.left_phases if self.left_phases is not None and run == "left" else self.phases


def pulse_train(dose: Dose, pace_s: float) -> Train:
    """The train of a dose at a count pace; its total is the time of all runs and rests."""

    def drawn(phases: tuple[Phase, ...]) -> tuple[TrainPhase, ...]:
        return tuple(
            TrainPhase(
                kind=p.kind.value,
                reps=p.count(pace_s),
                lead_s=p.lead.seconds(pace_s),
                hold_s=p.hold.seconds(pace_s),
                release_s=p.release.seconds(pace_s),
                directions=len(p.directions),
            )
            for p in phases
        )

    sides: tuple[Side, ...] | None = None if isinstance(dose.sides, Together) else dose.sides.order()
    runs = tuple(s.value for s in sides) if sides is not None else ("both",) * dose.runs
    return Train(
        phases=drawn(dose.phases),
        runs=runs,
        rest_s=dose.rest.seconds(pace_s),
        total_s=round(dose.practice_s(pace_s), 3),
        left_phases=drawn(dose.left) if dose.left is not None else None,
    )
