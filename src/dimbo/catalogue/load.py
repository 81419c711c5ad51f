"""Loading and validating the catalogue; every error names its file and line."""

from __future__ import annotations

import re
from collections.abc import Container, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path
from typing import TypeVar

import yaml
from pydantic import ValidationError

from dimbo.core.anatomy import Family, Muscle, Side, Stage
from dimbo.core.exercises.card import Axis, Card, Ceiling, CeilingBasis, Clip, DoseStyle, Rhythm, SideRule
from dimbo.core.exercises.dose import DEFAULT_PACE_S, STRAIGHT, Direction, Dose, Phase, PhaseKind, Span
from dimbo.core.exercises.dose_line import parse
from dimbo.core.exercises.dose_tokens import DoseLineError
from dimbo.core.exercises.ladder import ladder
from dimbo.core.intake.conclusions import Concern
from dimbo.core.programs.daily_ceilings import fits, name_of, passed, takes, too_long
from dimbo.core.programs.program import Settings

from .intake_schema import ConcernEntry
from .schema import DirectionEntry, EasierEntry, ExerciseEntry, MuscleEntry, PhaseEntry, Strict
from .whole import gaps

SHIPPED = Path(__file__).parent / "data"
Entry = TypeVar("Entry", bound=Strict)


class _Loader(yaml.SafeLoader):
    """YAML in which only true and false are truth values, so that yes and no stay words."""


_Loader.yaml_implicit_resolvers = {
    first: [(tag, pattern) for tag, pattern in resolvers if tag != "tag:yaml.org,2002:bool"]
    for first, resolvers in yaml.SafeLoader.yaml_implicit_resolvers.items()
}
_Loader.add_implicit_resolver("tag:yaml.org,2002:bool", re.compile(r"^(?:true|false)$"), list("tf"))


class CatalogueError(ValueError):
    """Something in a data file is wrong; the message starts with ``file:line``."""

    def __init__(self, file: Path, line: int, message: str) -> None:
        super().__init__(f"{file.name}:{line}: {message}")
        self.file, self.line, self.message = file, line, message


@dataclass(frozen=True)
class Catalogue:
    """Everything that ships, by id."""

    muscles: Mapping[str, Muscle]
    concerns: Mapping[str, Concern]
    cards: Mapping[str, Card]
    entries: Mapping[str, tuple[Family, ExerciseEntry]]
    """Cards as they are written, with the family of the file that they stand in."""


@dataclass(frozen=True)
class Source(Iterable[yaml.Node]):
    """One YAML list with the node of each entry, so that an error can point at its line."""

    file: Path
    nodes: tuple[yaml.Node, ...]

    @classmethod
    def read(cls, file: Path) -> Source:
        try:
            root = yaml.compose(file.read_text(encoding="utf-8"), Loader=_Loader)
        except yaml.MarkedYAMLError as error:
            line = error.problem_mark.line + 1 if error.problem_mark else 1
            raise CatalogueError(file, line, f"not valid YAML: {error.problem}") from error
        if not isinstance(root, yaml.SequenceNode):
            raise CatalogueError(file, 1, "expected a list of entries")
        return cls(file, tuple(root.value))

    def __iter__(self) -> Iterator[yaml.Node]:
        return iter(self.nodes)

    def line(self, node: yaml.Node, path: tuple[int | str, ...] = ()) -> int:
        """The line of the deepest node along a path of keys and indices."""
        for step in path:
            if isinstance(node, yaml.MappingNode):
                found = next((v for k, v in node.value if k.value == step), None)
            elif isinstance(node, yaml.SequenceNode) and isinstance(step, int) and step < len(node.value):
                found = node.value[step]
            else:
                found = None
            if found is None:
                break
            node = found
        return int(node.start_mark.line) + 1

    def error(self, node: yaml.Node, message: str, *path: int | str) -> CatalogueError:
        return CatalogueError(self.file, self.line(node, path), message)

    def entry(self, node: yaml.Node, schema: type[Entry]) -> Entry:
        loader = _Loader("")
        try:
            return schema.model_validate(loader.construct_document(node))
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(p) for p in first["loc"])
            raise self.error(node, ": ".join(filter(None, (where, first["msg"].removeprefix("Value error, ")))), *first["loc"]) from error
        finally:
            loader.dispose()


def unique(source: Source, node: yaml.Node, known: Mapping[str, object], entry_id: str) -> None:
    if entry_id in known:
        raise source.error(node, f"id: “{entry_id}” is used twice", "id")


def _ways(given: Iterable[DirectionEntry | str]) -> tuple[Direction, ...]:
    def direction(way: DirectionEntry | str) -> Direction:
        if isinstance(way, str):
            return Direction(way)
        return Direction(way.name, frozenset(Side) if way.loads == "both" else frozenset({Side(way.loads)}))

    return tuple(direction(d) for d in given) or STRAIGHT


def _phase(entry: PhaseEntry) -> Phase:
    return Phase(kind=PhaseKind(entry.kind), lead=Span(entry.lead), release=Span(entry.release), directions=_ways(entry.directions))


def make_card(
    e: ExerciseEntry,
    family: Family,
    names: Mapping[str, str],
    muscles: Mapping[str, Muscle],
    *,
    version: int = 1,
    own: bool = False,
) -> Card:
    """A written card as the core understands it; ``names`` are those of the exercises that it may build on.

    Its regions are those of its muscles, of every place of its figure's hands and moves, and whatever is written besides:
    nothing that it touches can be left out by whoever writes it.
    """
    figure = e.figure.figure()
    regions = frozenset(e.regions) | {muscles[m].region for m in (*e.prime_movers, *e.helpers)}
    card = Card(
        id=e.id,
        name=e.name,
        family=family,
        stage=Stage(e.stage),
        purpose=e.purpose,
        concerns=e.concerns,
        prime_movers=e.prime_movers,
        helpers=e.helpers,
        style=DoseStyle(tuple(_phase(p) for p in e.phases), Span(e.rest), SideRule(e.sides)),
        start_line=e.start,
        target_line=e.target,
        axes=tuple(Axis(a) for a in e.axes),
        ceiling=Ceiling(e.ceiling.seconds, CeilingBasis(e.ceiling.basis), why=e.ceiling.why or ""),
        setup_s=e.setup,
        settle_s=e.settle,
        pressure=e.pressure,
        needs=e.needs,
        position=e.position,
        foundation=e.foundation,
        after=tuple((i, names.get(i, i)) for i in e.after),
        cues=e.cues,
        felt_at=e.felt_at,
        faults=tuple((f.fault, f.remedy) for f in e.faults),
        eased=e.eased,
        stop_rule=e.stop_rule,
        care=e.care,
        schools={str(k): v for k, v in e.schools.items()},
        figure=figure,
        regions=regions | figure.touches | figure.moved,
        touches=figure.touches,
        muscles={m: muscles[m] for m in (*e.prime_movers, *e.helpers)},
        home=frozenset(muscles[m].region for m in e.prime_movers),
        marks=frozenset(e.marks) | figure.marks | ({"lip-stretch"} if e.stretches_lip else frozenset()),
        stretches_lip=frozenset(e.stretches_lip or (("upper", "corners") if "lip-stretch" in e.marks else ())),
        start_sessions=e.sessions.start,
        target_sessions=e.sessions.target,
        version=version,
        own=own,
        rhythm=Rhythm(e.rhythm.word, e.rhythm.every) if e.rhythm else None,
        longest_hold_s=e.longest_hold,
        longest_window_s=e.longest_window,
        clip=Clip(**e.clip.model_dump()) if e.clip else None,
        picture=e.picture.hash if e.picture else "",
        withdrawn=e.withdrawn or "",
    )
    return replace(card, easier=_easier(card, e.easier, e)) if e.easier else card


def _easier(card: Card, e: EasierEntry, full: ExerciseEntry) -> Card:
    """The eased version of a card: the same exercise with cues and dose of its own, under the same ceiling; figure, marks and
    what else is not written are the card's."""
    figure = e.figure.figure() if e.figure else card.figure
    own = frozenset(full.regions if e.regions is None else e.regions) | {m.region for m in card.muscles.values()}
    ways = card.style.phases if e.directions is None else tuple(replace(p, directions=_ways(e.directions)) for p in card.style.phases)
    return replace(
        card,
        name=f"{card.name}, eased",
        clip=None,
        picture="",
        is_eased=True,
        style=replace(card.style, phases=ways),
        start_line=e.dose,
        target_line=e.dose,
        cues=e.cues,
        position=e.position or card.position,
        needs=card.needs if e.needs is None else e.needs,
        pressure=e.pressure or card.pressure,
        felt_at=e.felt_at or card.felt_at,
        figure=figure,
        regions=own | figure.touches | figure.moved,
        touches=figure.touches,
        marks=frozenset(full.marks if e.marks is None else e.marks) | figure.marks,
    )


def unsound(card: Card) -> tuple[str, str] | None:
    """What is wrong with a card's pressure and doses, as field and sentence: hands press at least like a feather; start and
    target can be read, lead from one to the other along the axes, and stay under the ceiling; the eased version asks less."""
    if card.family is Family.STRETCH and "twist" in card.marks:
        return "marks", "a stretch does not twist: turn first, and lengthen straight"
    doses = {}
    if card.touches and card.pressure == "none":
        return "pressure", "hands lie on it; choose feather, light or firm"
    for key, text in (("start", card.start_line), ("target", card.target_line)):
        try:
            doses[key] = parse(text, card.style)
        except DoseLineError as error:
            return key, error.message
        if over := _over(card, doses[key]):
            return key, over
    if card.easier is not None and (wrong := _unsound_easier(card.easier, doses["start"], card)):
        return "easier", wrong
    try:
        steps = ladder(
            doses["start"], target=doses["target"], axes=card.axes, pace_s=DEFAULT_PACE_S, fits=lambda d: fits(card, d, Settings())
        )
    except ValueError as error:
        return "target", str(error)
    if steps.rungs[-1].dose != doses["target"]:
        return "axes", "these axes do not lead from start to target"
    return None


def _unsound_easier(card: Card, start: Dose, full: Card) -> str:
    """What is wrong with an eased version against the start of the full one; empty when nothing is."""
    if card.touches and card.pressure == "none":
        return "hands lie on it; choose a pressure of feather, light or firm"
    try:
        dose = parse(card.start_line, card.style)
    except DoseLineError as error:
        return error.message
    if any(card.ceiling.used_s(dose, s, DEFAULT_PACE_S) > full.ceiling.used_s(start, s, DEFAULT_PACE_S) for s in Side):
        return f"{card.start_line} works longer than the start {full.start_line}"
    return _over(card, dose)


def _over(card: Card, dose: Dose) -> str:
    """The bound that a dose passes by itself, in words; empty when it passes none."""
    if (over := too_long(card, dose, DEFAULT_PACE_S)) is not None:
        return f"a {over.what} of it is {over.most:g} s at most, not {over.seconds:g} s"
    for found in passed(card, takes(card, dose, DEFAULT_PACE_S), Settings()):
        whose = f"the ceiling of {name_of(card, found.muscle)}, " if found.muscle else "the ceiling of "
        return f"{found.used:g} s a day passes {whose}{found.most:g} s"
    return ""


def dangling(
    e: ExerciseEntry, muscles: Mapping[str, Muscle], concerns: Mapping[str, Concern], exercises: Container[str]
) -> tuple[str, int, str] | None:
    """The first thing that a card names and that does not exist: field, place in it, and a sentence."""
    regions = {m.region for m in muscles.values()}
    known: dict[str, Container[str]] = {
        "prime_movers": muscles,
        "helpers": muscles,
        "concerns": concerns,
        "after": exercises,
        "regions": regions,
    }
    for key, table in known.items():
        for i, name in enumerate(getattr(e, key)):
            if name not in table:
                return key, i, f"there is no {'region ' if key == 'regions' else ''}“{name}”"
    return None


def load_catalogue(folder: Path = SHIPPED) -> Catalogue:
    """Read and validate every file. Raises CatalogueError with file and line of the first fault."""
    muscles: dict[str, Muscle] = {}
    source = Source.read(folder / "muscles.yaml")
    for node in source:
        m = source.entry(node, MuscleEntry)
        unique(source, node, muscles, m.id)
        muscles[m.id] = Muscle(id=m.id, name=m.name, region=m.region, action=m.action, works_against=m.against)
    for node, muscle in zip(source, list(muscles.values()), strict=True):
        for i, other in enumerate(muscle.works_against):
            if other not in muscles:
                raise source.error(node, f"against: there is no muscle “{other}”", "against", i)
    concerns: dict[str, Concern] = {}
    source = Source.read(folder / "concerns.yaml")
    for node in source:
        c = source.entry(node, ConcernEntry)
        unique(source, node, concerns, c.id)
        for i, name in enumerate(c.muscles):
            if name not in muscles:
                raise source.error(node, f"muscles: there is no muscle “{name}”", "muscles", i)
        for i, name in enumerate(c.never_trained):
            if name not in muscles:
                raise source.error(node, f"never_trained: there is no muscle “{name}”", "never_trained", i)
        concerns[c.id] = Concern(
            id=c.id,
            name=c.name,
            paired=c.paired,
            muscles=c.muscles,
            also=c.also,
            levels=c.levels,
            never_trained=c.never_trained,
            never_marks=c.never_marks,
        )

    entries: dict[str, ExerciseEntry] = {}
    places: list[tuple[Source, yaml.Node, ExerciseEntry, Family]] = []
    for file in sorted((folder / "exercises").rglob("*.yaml"), key=lambda f: (len(f.parts), f)):
        source = Source.read(file)
        named = file.stem if file.parent == folder / "exercises" else file.parent.name
        try:
            family = Family(named)
        except ValueError as error:
            raise CatalogueError(file, 1, f"there is no family “{named}”") from error
        for node in source:
            entry = source.entry(node, ExerciseEntry)
            unique(source, node, entries, entry.id)
            entries[entry.id] = entry
            places.append((source, node, entry, family))
    cards: dict[str, Card] = {}
    names = {i: e.name for i, e in entries.items()}
    for source, node, entry, family in places:
        if missing := dangling(entry, muscles, concerns, entries):
            key, place, wrong = missing
            raise source.error(node, f"{key}: {wrong}", key, place)
        card = make_card(entry, family, names, muscles)
        if wrong_dose := unsound(card):
            raise source.error(node, ": ".join(wrong_dose), wrong_dose[0])
        cards[card.id] = card
    return Catalogue(muscles, concerns, cards, {e.id: (family, e) for _, _, e, family in places})


@lru_cache(maxsize=1)
def shipped_catalogue() -> Catalogue:
    """The catalogue that ships, read once and found whole. Raises CatalogueError."""
    catalogue = load_catalogue()
    if missing := gaps(catalogue.muscles, catalogue.concerns, catalogue.cards.values()):
        raise CatalogueError(SHIPPED / "exercises", 1, "; ".join(missing))
    return catalogue
