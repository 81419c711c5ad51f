"""Which side a program gives more, by the newest photographs: only beyond the noise, and never before a new side was asked about."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date

from dimbo.core.anatomy import Side

from .comparison import SittingValue
from .reading_table import READINGS
from .readings import Reading
from .sitting import Measurement, SittingRead


@dataclass(frozen=True, slots=True)
class Bias:
    """Advice to a program about practising the weaker side more: ``take`` is on, keep or off."""

    take: str
    side: Side | None
    because: str


def bias_advice(reading: Reading, value: SittingValue, side_now: Side | None) -> Bias:
    """Weak-side bias only for a difference beyond its own band; off again when the difference is back inside."""
    weak = value.smaller_side
    numbers = f"{abs(value.value):.1f} {reading.unit} between the sides, noise ±{value.band:.1f}"
    if weak:
        return Bias("keep" if side_now is weak else "on", weak, f"The {weak.value} {reading.less}: {numbers}.")
    if side_now:
        return Bias("off", side_now, f"{reading.name} is back inside the noise: {numbers}.")
    return Bias("off", None, f"{reading.name} shows no side: {numbers}.")


def agreed(reading: Reading, value: SittingValue, before: SittingValue | None, told: Side | None) -> Bias:
    """Bias advice that a second witness bears out: the sitting before, or a side test that somebody did.

    One sitting alone says so beyond its band of some faces whose sides are alike; what it says is kept, and nothing is trained for it yet.
    """
    said = bias_advice(reading, value, None)
    if said.take != "on" or said.side is None:
        return said
    if told is said.side or (before is not None and before.smaller_side is said.side):
        return said
    return Bias("off", said.side, f"{said.because} {ALONE}")


ALONE = "One sitting alone decides no side: a second one, or the side test, must say the same."


WAY_UNKNOWN = "Nobody has said yet whether the first photograph is the right way round; no side is given more until then."


def newly_sided(before: SittingValue | None, value: SittingValue) -> Side | None:
    """The side that stands beyond its noise now and did not at the sitting before; None without one before."""
    weak = value.smaller_side
    return weak if before is not None and weak is not None and before.smaller_side is not weak else None


def until_asked(reading: Reading, side: Side) -> Bias:
    """What is said of a side that is newly beyond its noise, until the sudden signs were asked."""
    new = f"That the {side.value} {reading.less} is new since the sitting before."
    said = f"{new} Ask the sudden signs first; no side is given more until then."
    return Bias("off", side, said)


@dataclass(frozen=True)
class Sides:
    """What a sitting says of the sides, by reading; ``new`` holds those that were not there at the sitting before."""

    bias: Mapping[str, Bias]
    new: Mapping[str, Side]
    taken_on: date | None
    by: Mapping[str, tuple[SittingRead, ...]] = field(default_factory=dict)
    """The sittings that say of a side that it is given more: the newest, and the one before where it was its witness."""

    def told(self, asked_on: date | None) -> Mapping[str, Bias]:
        """The advice, without a side that is newly beyond its noise while nobody has asked about health since that sitting;
        ``asked_on`` is the day in the client's zone on which somebody last did."""
        if not self.new or self.taken_on is None or (asked_on is not None and asked_on >= self.taken_on):
            return self.bias
        return {**self.bias, **{k: until_asked(READINGS[k], side) for k, side in self.new.items()}}


def _advice(m: Measurement, reading: Reading, value: SittingValue, before: SittingValue | None, told: Side | None) -> Bias:
    said = agreed(reading, value, before=before, told=told)
    if m.way_known or said.take == "off":
        return said
    return Bias("off", said.side, f"{said.because} {WAY_UNKNOWN}")


NO_SIDES = Sides({}, {}, None)


def sides_of(m: Measurement, keys: Iterable[str], at: SittingRead | None = None, told: Mapping[str, Side] | None = None) -> Sides:
    """What a sitting says of the sides of some readings; by default the newest that has values. ``told`` is the weaker side by reading as
    side tests say it."""
    read = [s for s in m.sittings if s.values]
    if at is not None:
        read = read[: read.index(at) + 1] if at in read else []
    if not read:
        return NO_SIDES
    newest, before = read[-1], read[-2] if len(read) > 1 else None
    earlier = before.values if before else {}
    # What the conditions of the sitting before would imitate bears nothing out; that a side is new is asked about all the same.
    witness = {k: v for k, v in earlier.items() if before and k not in before.excluded}
    # Where every shot was taken under conditions that imitate a change, nothing is said of a side.
    values = {k: newest.values[k] for k in keys if k in newest.values and k not in newest.excluded}
    bore_out = {k: before for k, v in values.items() if before and k in witness and witness[k].smaller_side is v.smaller_side}
    return Sides(
        bias={k: _advice(m, READINGS[k], value=v, before=witness.get(k), told=(told or {}).get(k)) for k, v in values.items()},
        new={k: side for k, v in values.items() if (side := newly_sided(earlier.get(k), value=v)) is not None},
        taken_on=newest.taken_on,
        by={k: (bore_out[k], newest) if k in bore_out else (newest,) for k, v in values.items() if v.real},
    )
