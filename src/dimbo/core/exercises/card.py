"""An exercise card: everything that a coach prescribes from and a client is taught by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from dimbo.core.anatomy import HELPER_SHARE, PRIME_SHARE, Family, Muscle, Side, Stage

from .dose import Dose, Phase, Span
from .figure import Figure


class Axis(StrEnum):
    """An axis along which a dose can be raised."""

    HOLD = "hold"
    REPS = "reps"
    SETS = "sets"
    SESSIONS = "sessions"


class SideRule(StrEnum):
    """How an exercise is laid out on the sides."""

    TOGETHER = "together"
    EACH = "each"
    WEAK = "weak"
    """Each side apart, and the weak side may be given more."""


class CeilingBasis(StrEnum):
    CONTRACTION = "contraction"
    HANDS_ON = "hands-on"
    TIMES = "times"
    """Habits are counted, not timed."""


@dataclass(frozen=True, eq=False)
class DoseStyle:
    """What a dose line leaves unsaid for one exercise: phase kinds, usual lead, release, directions, rest.

    Compared by identity, so that a parsed line can be remembered for its card.
    """

    phases: tuple[Phase, ...]
    rest: Span
    side_rule: SideRule

    def phase(self, index: int) -> Phase:
        """The template of a phase; phases beyond the last take the last one's."""
        return self.phases[min(index, len(self.phases) - 1)]


@dataclass(frozen=True, slots=True)
class Rhythm:
    """What a movement is called while it is done, and the seconds from one soft beat of it to the next; 0 for none."""

    word: str
    every_s: float


@dataclass(frozen=True)
class Ceiling:
    """Most that one day may hold, on either side: seconds, or for habits times a day."""

    seconds: float
    basis: CeilingBasis
    why: str = ""
    """Its own reason; empty where it is that of its family."""

    def used_s(self, dose: Dose, side: Side, pace_s: float) -> float:
        """What one session of the dose takes of the ceiling on ``side``, in seconds (habits: times)."""
        if self.basis is CeilingBasis.TIMES:
            return float(sum(p.reps for p in dose.phases))
        if self.basis is CeilingBasis.CONTRACTION:
            return dose.loaded_s(side, pace_s)
        return dose.hands_on_s(side, pace_s)


MARK_WORDS = {
    "head-back": "head tilted back",
    "head-tilt": "head tilted to a side",
    "neck-turn": "head turned",
    "head-down": "head below the heart",
    "breath-hold": "breath held",
    "wide-open": "mouth opened wide",
    "jaw-forward": "jaw pushed forward",
    "strain": "effort of neck or jaw against a hand",
    "air-pressure": "cheeks or lips full of air",
    "palms-on-eyes": "palms over the eyes",
    "fast-blinks": "quick blinks or winks",
    "pinch": "skin between fingers",
    "lip-stretch": "lip stretched by hand",
    "puckers": "lips pushed forward in a pucker",
    "twist": "head turned while it is tilted or pulled",
}
"""Movements that some cautions forbid or ease wherever they occur, and what a coach reads of them."""
MARKS = tuple(MARK_WORDS)
LIP_PARTS = {"upper": "the upper lip", "corners": "the mouth corners", "lower": "the lower lip"}
"""Where a hand may stretch the lips."""
FINE_PLACES = frozenset({"lid-upper", "lid-lower", "lip-upper", "lip-lower", "mouth-middle"})
"""Places of a figure at which fingers must be clean: lids and lips."""
CEILING_WHY = {
    Family.CONTRACT: "Small muscles tire soon; what is done beyond it lines the skin and trains the neighbours.",
    Family.RESIST: "Against a finger the pull is greater, and so is what skin and joint bear; more of it irritates both.",
    Family.ALIGN: "Held longer than it can be held well, it becomes another posture.",
    Family.RELEASE: "Kneaded longer, tissue answers with soreness, and skin with redness.",
    Family.DRAIN: "What is to flow has flowed by then; more only rubs the skin.",
    Family.PRESS: "A point that has not let go by then is only irritated.",
    Family.TAP: "Longer, it no longer wakes, it numbs.",
    Family.STRETCH: "What has not lengthened by then is not pulled longer.",
    Family.MOBILISE: "Joints and bands are moved through their way, not worn.",
    Family.BREATHE: "Longer than this, some grow dizzy.",
    Family.HABIT: "More often, it becomes a worry and no habit.",
}
"""Why a day holds no more of an exercise, by family; a card may have a reason of its own."""
PRESSURES = ("none", "feather", "light", "firm")
"""How hard hands press, the lightest first; "none" is without hands."""


@dataclass(frozen=True, kw_only=True)
class Clip:
    """A short clip that shows an exercise, kept elsewhere by the SHA-256 of its file."""

    hash: str
    seconds: float
    sound: bool


@dataclass(frozen=True, eq=False, kw_only=True)
class Card:
    """An exercise of the catalogue. Texts are for client and coach alike."""

    id: str
    name: str
    family: Family
    stage: Stage
    purpose: str
    concerns: tuple[str, ...]
    prime_movers: tuple[str, ...]
    helpers: tuple[str, ...]
    style: DoseStyle
    start_line: str
    target_line: str
    axes: tuple[Axis, ...]
    ceiling: Ceiling
    setup_s: float
    settle_s: float
    pressure: str
    needs: tuple[str, ...]
    position: str
    foundation: bool
    after: tuple[tuple[str, str], ...]
    """Foundations that must be mastered first: id and name of each."""
    cues: tuple[str, ...]
    felt_at: str
    faults: tuple[tuple[str, str], ...]
    eased: str
    stop_rule: str
    care: tuple[str, ...] = ()
    """What to mind in any case. What a client's own cautions do to it stands in the table of cautions."""
    schools: Mapping[str, str] = field(default_factory=dict)
    """Notes of schools by approach profile."""
    figure: Figure = field(default_factory=Figure)
    regions: frozenset[str] = frozenset()
    """Regions that it works, moves or touches: of its muscles, of the places of its figure, and those that are written."""
    touches: frozenset[str] = frozenset()
    """Those of them on which hands lie."""
    muscles: Mapping[str, Muscle] = field(default_factory=dict)
    """Its prime movers and helpers by id, with name and region."""
    home: frozenset[str] = frozenset()
    """Regions of its prime movers."""
    marks: frozenset[str] = frozenset()
    """What cautions ask for beyond region and family; see MARKS."""
    stretches_lip: frozenset[str] = frozenset()
    """Where a hand stretches the lips: see LIP_PARTS; empty for nearly all."""
    start_sessions: int = 3
    target_sessions: int = 7
    version: int = 1
    own: bool = False
    """Whether it is a practice's own, and not one of those that ship."""
    rhythm: Rhythm | None = None
    """Word and beat of its movement, where they are not those of its kind."""
    longest_hold_s: float | None = None
    """Seconds that no hold of it may pass; None where only its ceiling counts."""
    longest_window_s: float | None = None
    """Seconds by the clock that no fixed window of it may pass, whatever the count pace; None where only its ceiling counts."""
    clip: Clip | None = None
    picture: str = ""
    """A picture of it, by the SHA-256 of its file; empty for none."""
    withdrawn: str = ""
    """Why it is not practised any more; empty for nearly all."""
    easier: Card | None = None
    """Its eased version where that is an exercise of its own (cues, figure, dose), not only a sentence."""
    is_eased: bool = False
    """Whether this is the eased version of a card."""
    shares: dict[str, float] = field(init=False, repr=False)

    def __post_init__(self) -> None:
        shares = dict.fromkeys(self.helpers, HELPER_SHARE) | dict.fromkeys(self.prime_movers, PRIME_SHARE)
        object.__setattr__(self, "shares", shares)

    def contraction_s(self, dose: Dose, side: Side, pace_s: float) -> float:
        """Contraction seconds of a session on ``side``; zero for families that do not contract."""
        return dose.loaded_s(side, pace_s) if self.family.contracts else 0.0

    def works_s(self, dose: Dose, side: Side, pace_s: float) -> float:
        """Seconds of work of a session on ``side``: of contraction, or of hands-on time for all that does not contract."""
        return dose.loaded_s(side, pace_s) if self.family.contracts else dose.hands_on_s(side, pace_s)

    @property
    def ceiling_why(self) -> str:
        """Why a day holds no more of it."""
        return self.ceiling.why or CEILING_WHY[self.family]

    @property
    def strength(self) -> bool:
        """Whether it is work for strength, which rests some days of every week."""
        return self.family in (Family.CONTRACT, Family.RESIST)

    @property
    def strong(self) -> bool:
        """Whether it strains: without an eased version of its own it is left out where it must be eased."""
        return self.family in (Family.CONTRACT, Family.RESIST, Family.STRETCH) or self.pressure == "firm"

    @property
    def oily(self) -> bool:
        return "oil" in self.needs

    @property
    def grips(self) -> bool:
        """Whether fingers hold the skin or a muscle against its pull, so that they must not slip."""
        return self.family is Family.RESIST and bool(self.touches)

    @property
    def slides(self) -> bool:
        """Whether hands slide over the skin under more than a feather's pressure, so that it wants oil."""
        soft = self.pressure in ("light", "firm") and self.family in (Family.RELEASE, Family.DRAIN)
        return soft and any(h.does == "stroke" and h.tool != "back" for h in self.figure.hands)

    @property
    def at_lid_or_lip(self) -> bool:
        """Whether fingers lie on lids or lips."""
        return any(FINE_PLACES & set(h.path) for h in self.figure.hands)

    @property
    def wants_clean_hands(self) -> bool:
        """Whether oil must be off the fingers: inside the mouth, for a grip that holds, on lids and lips."""
        return self.inside_mouth or self.grips or (self.at_lid_or_lip and not self.oily)

    @property
    def inside_mouth(self) -> bool:
        return "hands inside the mouth" in self.needs

    @property
    def key_cue(self) -> str:
        """The one cue that is enough once an exercise is known: what to do, after the hands are placed."""
        return self.cues[1] if len(self.cues) > 1 else self.cues[0]
