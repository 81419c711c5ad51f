"""Exercise cards and the pulse train of a dose."""

from __future__ import annotations

from typing import Literal

from .wire import Wire


class Named(Wire):
    id: str
    name: str


class TrainPhaseView(Wire):
    kind: str
    reps: int
    lead_s: float
    hold_s: float
    release_s: float
    directions: int


class TrainView(Wire):
    phases: list[TrainPhaseView]
    runs: list[Literal["right", "left", "both"]]
    rest_s: float
    total_s: float


class CautionView(Wire):
    about: str
    text: str
    effect: Literal["lock", "ease", "remind"]


class FaultView(Wire):
    fault: str
    remedy: str


class RungView(Wire):
    line: str
    train: TrainView
    sessions: int
    steep: bool


class CardView(Wire):
    id: str
    name: str
    family: str
    stage: str
    purpose: str
    concerns: list[Named]
    prime_movers: list[Named]
    helpers: list[Named]
    sides: str
    start_line: str
    target_line: str
    rungs: list[RungView]
    axes: list[str]
    ceiling_s: float
    ceiling_basis: str
    pressure: str
    needs: list[str]
    position: str
    foundation: bool
    after: list[Named]
    cues: list[str]
    felt_at: str
    faults: list[FaultView]
    eased: str
    stop_rule: str
    cautions: list[CautionView]


class CatalogueView(Wire):
    cards: list[CardView]
    concerns: list[Named]
    stages: list[str]
