"""The figure of an exercise: where the hands rest and move, and what mouth, eyes, brows, jaw and head do.

A figure is data, not a picture: places of the face by name, drawn by the interface on the face map. One side is
described; the other is its mirror image unless only one side works.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from dimbo.core.text import join_words

View = Literal["front", "behind", "side"]
MIDLINE = {
    "crown": "the crown",
    "hairline-middle": "the middle of the hairline",
    "forehead-middle": "the middle of the forehead",
    "between-brows": "between the brows",
    "nose-bridge": "the bridge of the nose",
    "nose-base": "under the nose",
    "upper-lip-middle": "above the middle of the upper lip",
    "mouth-middle": "the middle of the mouth",
    "lower-lip-middle": "below the lower lip",
    "chin": "the chin",
    "chin-tip": "the edge of the chin",
    "under-chin": "under the chin",
    "throat": "the throat",
    "notch": "the notch between the collarbones",
}
PAIRED = {
    "scalp": "the scalp above the forehead",
    "scalp-side": "the side of the scalp",
    "hairline": "the hairline",
    "forehead": "the forehead",
    "temple-high": "above the temple",
    "temple": "the temple",
    "above-brow": "above the brow",
    "brow-inner": "the inner end of the brow",
    "brow-middle": "the middle of the brow, on the bone",
    "brow-outer": "the outer end of the brow, on the bone",
    "eye-inner": "beside the inner eye corner",
    "eye-outer": "beside the outer eye corner",
    "lid-upper": "over the closed eye, hollow",
    "lid-lower": "the lower lid",
    "under-eye-inner": "the bone below the inner eye",
    "under-eye": "the bone below the eye",
    "under-eye-outer": "the bone below the outer eye",
    "cheekbone": "the cheekbone",
    "under-cheekbone": "under the cheekbone",
    "cheek": "the cheek",
    "beside-nose": "beside the nose",
    "nostril": "beside the nostril",
    "fold": "the fold from nose to mouth",
    "corner": "the mouth corner",
    "outside-corner": "just outside the mouth corner",
    "lip-upper": "the upper lip",
    "lip-lower": "the lower lip",
    "below-corner": "below the mouth corner",
    "chin-side": "beside the chin",
    "jaw": "the edge of the jaw",
    "under-jaw": "under the edge of the jaw",
    "jaw-angle": "the angle of the jaw",
    "chewing-muscle": "the chewing muscle, in front of the ear lobe",
    "ear-front": "in front of the ear",
    "ear-behind": "behind the ear",
    "ear-lobe": "the ear lobe",
    "ear-top": "the top of the ear",
    "ear-side": "above the ear",
    "neck-high": "the neck below the ear",
    "neck-side": "the side of the neck",
    "neck-low": "low on the side of the neck",
    "collarbone": "the collarbone",
    "collarbone-outer": "the outer collarbone",
    "shoulder": "the shoulder",
    "shoulder-top": "the top of the shoulder",
}
BEHIND = {
    "skull-edge": "under the edge of the skull",
    "nape": "the nape",
    "nape-low": "low on the nape",
    "shoulder": "the shoulder",
    "blade": "between the shoulder blades",
}
_ASIDE: tuple[str, ...] = ("crown", "forehead-middle", "lower-lip-middle", "chin", "chin-tip", "under-chin", "throat", "notch")
_ASIDE += ("temple", "cheek", "jaw-angle", "ear-lobe", "neck-side", "collarbone", "skull-edge", "nape", "nape-low")
SIDE = {name: (MIDLINE | PAIRED | BEHIND)[name] for name in _ASIDE}
"""Seen from the side: for what goes forward, back or tilts."""
PLACES: dict[str, dict[str, str]] = {"front": MIDLINE | PAIRED, "behind": BEHIND, "side": SIDE}
"""Places by view, each with the words that a client can follow."""


def _r(*regions: str) -> frozenset[str]:
    return frozenset(regions)


PLACE_REGIONS: dict[str, frozenset[str]] = {
    "crown": _r("scalp"),
    "hairline-middle": _r("forehead", "scalp"),
    "forehead-middle": _r("forehead"),
    "between-brows": _r("brow"),
    "nose-bridge": _r("nose"),
    "nose-base": _r("nose", "mouth"),
    "upper-lip-middle": _r("mouth"),
    "mouth-middle": _r("mouth"),
    "lower-lip-middle": _r("mouth", "chin"),
    "chin": _r("chin"),
    "chin-tip": _r("chin"),
    "under-chin": _r("under the chin"),
    "throat": _r("front of neck"),
    "notch": _r("front of neck"),
    "scalp": _r("scalp"),
    "scalp-side": _r("scalp"),
    "hairline": _r("forehead", "scalp"),
    "forehead": _r("forehead"),
    "temple-high": _r("temple"),
    "temple": _r("temple"),
    "above-brow": _r("forehead", "brow"),
    "brow-inner": _r("brow"),
    "brow-middle": _r("brow"),
    "brow-outer": _r("brow"),
    "eye-inner": _r("eye"),
    "eye-outer": _r("eye"),
    "lid-upper": _r("eye"),
    "lid-lower": _r("eye"),
    "under-eye-inner": _r("eye"),
    "under-eye": _r("eye", "cheek"),
    "under-eye-outer": _r("eye", "cheek"),
    "cheekbone": _r("cheek"),
    "under-cheekbone": _r("cheek"),
    "cheek": _r("cheek"),
    "beside-nose": _r("nose", "cheek"),
    "nostril": _r("nose"),
    "fold": _r("cheek"),
    "corner": _r("mouth"),
    "outside-corner": _r("mouth", "cheek"),
    "lip-upper": _r("mouth"),
    "lip-lower": _r("mouth"),
    "below-corner": _r("mouth", "chin"),
    "chin-side": _r("chin"),
    "jaw": _r("jaw"),
    "under-jaw": _r("under the chin", "jaw"),
    "jaw-angle": _r("jaw"),
    "chewing-muscle": _r("jaw"),
    "ear-front": _r("ear", "jaw"),
    "ear-behind": _r("ear"),
    "ear-lobe": _r("ear"),
    "ear-top": _r("ear"),
    "ear-side": _r("ear", "scalp"),
    "neck-high": _r("neck"),
    "neck-side": _r("neck"),
    "neck-low": _r("neck"),
    "collarbone": _r("neck", "shoulder"),
    "collarbone-outer": _r("shoulder"),
    "shoulder": _r("shoulder"),
    "shoulder-top": _r("shoulder"),
    "skull-edge": _r("neck", "scalp"),
    "nape": _r("neck"),
    "nape-low": _r("neck", "shoulder"),
    "blade": _r("shoulder"),
}
"""The regions in which each place lies. At a border it lies in both: a lock of either reaches what is done there."""
PALM_COVERS: dict[str, frozenset[str]] = {
    "lid-upper": _r("brow", "cheek"),
    "cheek": _r("eye"),
    "jaw": _r("cheek"),
}
"""Regions beside a place that a whole palm lies on as well."""

TOOLS = {
    "index": "index finger",
    "fingers": "flat fingers",
    "fingertips": "fingertips",
    "thumb": "thumb",
    "pinch": "thumb and finger",
    "palm": "palm",
    "knuckles": "flat knuckles",
    "back": "backs of the fingers",
    "fist": "soft fist",
}
DOES = {
    "still": "rests still",
    "press": "presses lightly",
    "circle": "circles",
    "stroke": "strokes",
    "tap": "taps",
    "walk": "walks",
    "pull": "draws gently",
}
MOUTHS = {
    "rest": "lips just touching",
    "smile": "corners lifted, lips closed",
    "oval": "a long narrow oval, lips over the teeth",
    "oval-lift": "the oval, corners lifted",
    "rolled": "lips rolled in",
    "rolled-smile": "lips rolled in, corners lifted",
    "pressed": "lips pressed flat",
    "open": "jaw hanging, a little open",
    "ah": "wide open",
    "oh": "tall and round",
    "ee": "wide, teeth apart",
    "oo": "small and soft",
    "lower-forward": "lower jaw and lip forward",
    "tongue-up": "tongue reaching up",
    "tongue-out": "tongue straight out",
    "palate": "lips just touching, the whole tongue at the palate",
    "palate-open": "jaw a little open, the whole tongue at the palate",
}
EYES = {
    "rest": "eyes open",
    "wide": "eyes wide",
    "closed": "eyes closed",
    "squint": "lower lids lifted",
    "up": "gaze up",
    "down": "gaze down",
    "near": "gaze at something near",
    "round": "eyes drawing a slow circle",
}
BROWS = {"rest": "brows at rest", "raised": "brows lifted", "drawn": "brows drawn together a little"}
HEADS = {
    "level": "head level",
    "back": "chin up",
    "left": "head turned a little to the left",
    "tilt": "ear toward the shoulder",
    "forward": "head forward",
    "in": "chin drawn in, head level",
}
HEAD_MARKS = {"back": "head-back", "tilt": "head-tilt", "left": "neck-turn"}
"""What cautions call the states of the head that they may forbid."""


@dataclass(frozen=True, slots=True)
class Hand:
    """A hand on the face: what touches, along which places, and what it does. ``other``: on the side that does not work."""

    tool: str
    path: tuple[str, ...]
    does: str
    other: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """What the client sees. A feature has one state, or two that it moves between."""

    view: View = "front"
    mouth: tuple[str, ...] = ("rest",)
    eyes: tuple[str, ...] = ("rest",)
    brows: tuple[str, ...] = ("rest",)
    head: tuple[str, ...] = ("level",)
    hands: tuple[Hand, ...] = ()
    moves: tuple[tuple[str, ...], ...] = ()
    """Paths along which the face itself moves."""
    one_side: bool = False
    breath: bool = False
    """Whether the breath is drawn, where breathing is what is done."""

    @property
    def touches(self) -> frozenset[str]:
        """Regions of the face on which hands lie, or over which they go."""
        out: set[str] = set()
        for hand in self.hands:
            for place in hand.path:
                out |= PLACE_REGIONS[place]
                if hand.tool == "palm":
                    out |= PALM_COVERS.get(place, frozenset())
        return frozenset(out)

    @property
    def moved(self) -> frozenset[str]:
        """Regions that the face itself moves, from and to."""
        return frozenset(r for path in self.moves for place in path for r in PLACE_REGIONS[place])

    @property
    def marks(self) -> frozenset[str]:
        """Movements of the head that some cautions forbid, as far as the figure shows them."""
        return frozenset(HEAD_MARKS[state] for state in self.head if state in HEAD_MARKS)


def misdrawn(figure: Figure) -> str | None:
    """What a figure names that cannot be drawn, as a sentence; None when everything can."""
    if figure.view not in PLACES:
        return f"there is no view “{figure.view}”"
    for name, states, known in (
        ("mouth", figure.mouth, MOUTHS),
        ("eyes", figure.eyes, EYES),
        ("brows", figure.brows, BROWS),
        ("head", figure.head, HEADS),
    ):
        for state in states:
            if state not in known:
                return f"{name}: there is no state “{state}”; choose from {join_words(list(known), 'or')}"
    if any(len(move) < 2 for move in figure.moves):
        return "a way of the movement goes from one place to another; choose both, or take it off"
    for path in [*(h.path for h in figure.hands), *figure.moves]:
        for place in path:
            if place not in PLACES[figure.view]:
                seen = "the side" if figure.view == "side" else figure.view
                return f"there is no place “{place}” seen from {seen}"
    for hand in figure.hands:
        if hand.tool not in TOOLS:
            return f"hands: there is no “{hand.tool}”; choose from {join_words(list(TOOLS), 'or')}"
        if hand.does not in DOES:
            return f"hands: “{hand.does}” is not known; choose from {join_words(list(DOES), 'or')}"
        if hand.does in ("stroke", "walk", "pull") and len(hand.path) < 2:
            return f"hands: {hand.does} needs a path of two places or more"
    return None


def _on(place: str) -> str:
    """A place as a hand lies on it: "on the temple", but "beside the nostril" as it is."""
    return f"on {place}" if place.startswith("the ") else place


def hands_in_short(figure: Figure) -> str:
    """Where the hands go, in a few words; empty when no hand is on the face."""
    out = []
    for hand in figure.hands:
        places = [PLACES[figure.view][p] for p in hand.path]
        where = _on(places[0]) if len(places) == 1 else f"from {places[0]} to {places[-1]}"
        out.append(f"{TOOLS[hand.tool].capitalize()} {where}{', on the other side' if hand.other else ''}.")
    return " ".join(out)


def hands_at_length(figure: Figure) -> str:
    """Where the hands go and what they do there, for the first time."""
    out = []
    for hand in figure.hands:
        places = [PLACES[figure.view][p] for p in hand.path]
        way = _on(places[0]) if len(places) == 1 else f"from {places[0]} {''.join(f'over {p} ' for p in places[1:-1])}to {places[-1]}"
        side = " of the other side" if hand.other else ""
        out.append(f"{TOOLS[hand.tool].capitalize()} {way}{side}; it {DOES[hand.does]}.")
    return " ".join(out)


def places_of_hands(figure: Figure) -> tuple[str, ...]:
    """The places along which the first hand goes, in words."""
    return tuple(PLACES[figure.view][p] for p in figure.hands[0].path) if figure.hands else ()


def words(figure: Figure) -> tuple[str, ...]:
    """The figure in words, for those who cannot see it and for print."""
    out = []
    for hand in figure.hands:
        places = [PLACES[figure.view][p] for p in hand.path]
        where = places[0] if len(places) == 1 else f"from {places[0]} to {places[-1]}"
        side = ", on the other side" if hand.other else ""
        out.append(f"{TOOLS[hand.tool].capitalize()}: {DOES[hand.does]}, {where}{side}.")
    for states, known, resting in (
        (figure.mouth, MOUTHS, "rest"),
        (figure.eyes, EYES, "rest"),
        (figure.brows, BROWS, "rest"),
        (figure.head, HEADS, "level"),
    ):
        if states != (resting,):
            out.append(f"{', then '.join(known[s] for s in states)}.".capitalize())
    if figure.breath:
        out.append("The breath goes in and out.")
    for move in figure.moves:
        out.append(f"Moves from {PLACES[figure.view][move[0]]} toward {PLACES[figure.view][move[-1]]}.")
    return tuple(out)
