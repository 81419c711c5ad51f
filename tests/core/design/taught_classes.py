"""Classes as they are taught, line by line, three and more of each school: exercise, dose, and whether it flows on from the one before."""

from __future__ import annotations

from dataclasses import dataclass

from dimbo.catalogue import shipped_catalogue
from dimbo.core.design.checks.client import USUAL_EXPECTATIONS
from dimbo.core.programs.program import Circuit, Line, Program

CARDS = shipped_catalogue().cards


@dataclass(frozen=True, kw_only=True)
class Taught:
    """A class. ``minutes`` is what its teacher has for it; a row is ``exercise: dose``, with a leading > where it flows on."""

    name: str
    school: str
    minutes: int
    rows: tuple[str, ...]
    twice: tuple[str, ...] = ()

    def program(self) -> Program:
        lines = []
        for number, row in enumerate(self.rows):
            exercise, dose = (part.strip() for part in row.lstrip("> ").split(":", 1))
            card = CARDS[exercise]
            line_id = f"{exercise}-{number}" if any(n.id == exercise for n in lines) else exercise
            lines.append(Line(id=line_id, card=card, stage=card.stage, cells=(dose,), flows=row.startswith(">")))
        circuits = (Circuit(self.twice, 2),) if self.twice else ()
        return Program(
            title=self.name,
            weeks=1,
            sessions=(3.0,),
            minutes=self.minutes,
            lines=tuple(lines),
            circuits=circuits,
            approach=self.school,
            expectations=USUAL_EXPECTATIONS,
        )


CLASSES: tuple[Taught, ...] = (
    Taught(name="Whole-face massage that flows", school="release-first", minutes=14, rows=(
        "elbow-wheels: 1×10", "shoulder-knead: R 30 s L 30 s", "nape-strip: R1 L1 ×4",
        "forehead-crosswise: 1×10", "> brow-up-strokes: 1×12", "> nose-bridge-strokes: 1×8",
        "> cheek-knuckle-roll: R1 L1 ×8", "> cheek-up-palms: 1×8", "> corner-to-jaw-sweep: 1×6",
        "> nose-cheek-drain: 1×6", "> jaw-drain: 1×6", "> neck-side-drain: R1 L1 ×5", "warm-palms: 20 s",
    )),
    Taught(name="Fold walk, longer on the left", school="release-first", minutes=13, rows=(
        "shrug-drop: 1×4", "nape-knead: R1 L1 ×3", "ear-root-circles: 30 s", "chewer-circles: 20 s",
        "under-cheekbone-press: 20 s", "fold-walk: R1 ×4 spots h5 / L1 ×6 spots h8", "cheek-walk: R 30 s, L 45 s",
        "lip-flutter: 10 s", "neck-side-drain: R1 L1 ×5", "warm-palms: 20 s",
    )),
    Taught(name="Evening jaw, spot by spot", school="release-first", minutes=9, rows=(
        "settle-breath: 5 in 4 out 6", "nape-thumb-walk: 5 spots h6", "temple-comb: 1×8", "jaw-hollow-press: 20 s",
        "chewer-press-open: 1×3 h4", "ear-rim-knead: 5 spots h3", "under-chin-walk: 5 spots h5", "evening-breath: 5 in 4 out 8",
    )),
    Taught(name="Cheek strength with its foundation", school="strength-first", minutes=13, rows=(
        "tall-seat: 1×1 h20", "face-rain: 20 s", "oval-lift: 2×8 h5", "cheek-pulse: 2×12 h0.5",
        "thumb-hook-smile: 1×5 h1 + 2 h5", "cheek-palm-resist: 2×5 h5", "palm-lean-lift: 1×4 h5", "lip-flutter: 10 s",
    )),
    Taught(name="Pyramid of lifts: ten, eight, six", school="strength-first", minutes=9, rows=(
        "tall-seat: 1×1 h20", "jaw-soften: 1×5", "oval-lift: 1×10 h2 + 8 h3 + 6 h4", "corner-smile-each: R2 L3 ×4 h3 alt",
        "palm-lean-lift: 1×3 h5", "lip-flutter: 10 s",
    )),
    Taught(name="A minute by the clock inside the lips", school="strength-first", minutes=9, rows=(
        "settle-breath: 5 in 4 out 6", "vowel-wide: 1×10", "lip-seal: 1×3 h5", "upper-lip-press: 60 s h2", "lower-lip-press: 60 s h2",
        "inner-corner-resist: 60 s h1", "lip-flutter: 10 s",
    )),
    Taught(name="Lifts on the breath out", school="balanced", minutes=10, rows=(
        "settle-breath: 5 in 4 out 6", "cheek-walk: R1 L1 ×20 s", "oval-lift: 1×8 out 6 in 4", "corner-hook-hold: 1×6 out 4 in 4",
        "palm-lean-lift: 1×3 h5", "mouth-ring-glide: 1×5", "warm-palms: 20 s",
    )),
    Taught(name="Chin and neck on the breath", school="balanced", minutes=12, rows=(
        "wall-head: 1×1 h20", "settle-breath: 5 in 4 out 6", "elbow-wheels: 1×10", "tongue-press: 1×6 out 5 in 4",
        "oval-lift: 1×5 h3", "under-chin-push: 1×6 out 5 in 4", "under-chin-soften: 1×4", "palm-lean-lift: 1×3 h5",
        "neck-side-drain: R1 L1 ×5", "warm-palms: 20 s",
    )),
    Taught(name="Lids and brows, one side more", school="balanced", minutes=11, rows=(
        "settle-breath: 5 in 4 out 6", "scalp-comb: 1×6", "orbit-release: 1×4", "eye-compass: 1×3",
        "brow-hold-down: R1 L1 ×6 h3", "bracket-open: R1 ×2 h6 / L1 ×2 h9", "brow-level: 1×3 h5",
        "lid-soften: 15 s", "lid-corner-rest: 20 s", "warm-palms: 20 s",
    )),
    Taught(name="Morning way out for fluid", school="drain-and-calm", minutes=8, rows=(
        "settle-breath: 5 in 4 out 6", "collarbone-pumps: 1×8", "forehead-drain: 1×6", "> under-eye-sweep: R1 L1 ×6",
        "> nose-cheek-drain: 1×6", "> jaw-drain: 1×6", "> neck-side-drain: R1 L1 ×5", "warm-palms: 20 s",
    )),
    Taught(name="Taps and rest for tired eyes", school="drain-and-calm", minutes=7, rows=(
        "settle-breath: 6 in 4 out 6", "rim-points: 4 spots h5", "lid-warm-rest: 30 s",
        "scalp-taps: 20 s", "forehead-taps: 20 s", "orbit-taps: 20 s", "ear-gate: R1 L1 ×10 s", "quiet-face: 45 s",
    )),
    Taught(name="Slow evening with a hum", school="drain-and-calm", minutes=10, rows=(
        "humming-breath: 6 in 4 out 6", "ear-root-circles: 30 s", "temple-rounds: 20 s", "whole-face-way: 1×9",
        "quiet-face: 60 s", "evening-breath: 6 in 4 out 8",
    )),
    Taught(name="The middle twice, in the mirror", school="balanced", minutes=13, rows=(
        "settle-breath: 5 in 4 out 6", "five-vowels: 1×4", "smile-mirror: 1×4 h3", "> lips-level: 1×3 h5",
        "> even-blink: 1×6", "> straight-opening: 1×5", "palm-lean-lift: 1×3 h5",
        "lip-flutter: 10 s", "rest-face: 1×2 h15", "warm-palms: 20 s",
    ), twice=("smile-mirror", "lips-level", "even-blink", "straight-opening")),
)  # fmt: skip
