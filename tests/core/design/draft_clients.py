"""Forty-eight made-up clients, each with what a careful colleague of the school would expect and what was said of the draft."""

from __future__ import annotations

from dimbo.core.anatomy import Family
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose import Apart
from dimbo.core.programs.program import When, read_cell

from .draft_cases import Case, Drawn, Expect, L, R, cautions, concern

F = Family
STRENGTH = (F.CONTRACT, F.RESIST)
HANDS = (F.RELEASE, F.PRESS, F.STRETCH)
SCHOOLS = ("balanced", "strength-first", "release-first", "drain-and-calm")


def has(*ids: str) -> Expect:
    return f"has {', '.join(ids)}", lambda d: set(ids) <= d.ids


def without(*families: Family) -> Expect:
    return f"nothing of {', '.join(families)}", lambda d: not d.of(*families)


def some(least: int, *families: Family, concern: str = "") -> Expect:
    return f"{least} or more of {', '.join(families)}", lambda d: len(d.of(*families, concern=concern)) >= least


def releases(muscle: str) -> Expect:
    return f"lets go of {muscle}", lambda d: d.moving(muscle, *HANDS)


def works(muscle: str) -> Expect:
    return f"works {muscle}", lambda d: d.moving(muscle, *STRENGTH, F.ALIGN)


def drains_last(d: Drawn) -> bool:
    drains = [i for i, n in enumerate(d.lines) if n.card.family is F.DRAIN]
    return bool(drains) and "neck" in d.lines[drains[-1]].card.regions


def more_on(side: object, *families: Family) -> Expect:
    def given(d: Drawn) -> bool:
        doses = [read_cell(n.cells[0], n.card).dose for n in d.of(*families)]
        plans = [x.sides for x in doses if x and isinstance(x.sides, Apart)]
        return any((p.right_sets > p.left_sets) if side is R else (p.left_sets > p.right_sets) for p in plans)

    return f"more on the {side}", given


def wholly(when: When, *families: Family) -> Expect:
    return f"{', '.join(families)} in the {when.value}", lambda d: d.of(*families) and all(n.when is when for n in d.of(*families))


def shown(d: Drawn, *yes: str) -> list[Card]:
    """The versions that a client with these cautions is shown."""
    held = cautions(*yes)
    return [held.of(n.card).version or n.card for n in d.lines]


CALM: Expect = ("ends calm", lambda d: [n for n in d.lines if n.stage.value != "through the day"][-1].card.family not in STRENGTH)
SAYS: Expect = ("says why it is short, and offers something", lambda d: "rate a further concern" in " ".join(d.draft.says))
DRAINED: Expect = ("ends its drains down the neck", drains_last)

cheeks = concern("flat-cheeks", "weak-elevators", 3, 3)
clenching = concern("jaw-tension", "overworked-chewers", 3, 3)
low_brow = concern("low-brow", "weak-frontalis", 1, 3)
narrow_eye = concern("eye-less-open", "weaker-side", 3, 1)
fluid = concern("under-eye-puffiness", "fluid", 3, 3)
hollow = concern("under-eye-hollow", "tone", 2, 2)
chewing_fold = concern("nasolabial-fold", "chewing-habit", 3, 1)
tight_fold = concern("nasolabial-fold", "tight-lip-levators", 2, 2)
lined_lips = concern("lip-lines", "pursing-habit", 2, 2)
frown = concern("frown-lines", "brow-tension", 2, 2)
lines = concern("forehead-lines", "overused-frontalis", 3, 3)
hooded = concern("hooded-lid", "weak-lid", 2, 2)
feet = concern("crows-feet", "squint-habit", 2, 2)
corners = concern("downturned-corners", "overactive-depressors", 2, 2)
jowls = concern("jowls", "platysma-pull", 3, 3)
chin_fluid = concern("under-chin", "fluid", 2, 2)
chin_posture = concern("under-chin", "posture", 2, 2)
neck = concern("neck-tension", "held-shoulders", 2, 2)
sleep = concern("neck-tension", "stress-sleep", 3, 3)
loose = concern("loose-neck", "posture", 2, 2)
smile = concern("mouth-asymmetry", "weaker-side", 2, 3)
lip = concern("thin-upper-lip", "weak-orbicularis-oris", 2, 2)
droop = concern("drooping-lower-lip", "mentalis-balance", 2, 2)
joint = concern("jaw-tension", "joint", 2, 2)
skin = concern("forehead-lines", "structure", 2, 2)


def taught(name: str, *concerns: object, remarks: tuple[str, str, str, str], minutes: int = 15) -> list[Case]:
    """One client in all four schools; what each expects follows from how it works."""
    expects: dict[str, tuple[Expect, ...]] = {
        "balanced": (some(1, *STRENGTH), some(1, F.RELEASE), CALM),
        "strength-first": (some(2, *STRENGTH), without(F.PRESS), CALM),
        "release-first": (some(3, *HANDS), without(*STRENGTH), CALM),
        "drain-and-calm": (some(2, F.DRAIN), some(2, F.BREATHE), without(*STRENGTH), DRAINED, CALM),
    }
    return [
        Case(name=name, concerns=tuple(concerns), school=s, minutes=minutes, expects=expects[s], remark=r)  # type: ignore[arg-type]
        for s, r in zip(SCHOOLS, remarks, strict=True)
    ]


CASES: tuple[Case, ...] = (
    *taught(
        "Cheeks without tone and a jaw that clenches",
        cheeks,
        clenching,
        remarks=(
            "Foundation, then the pair that builds on it; the jaw has an evening of its own. I would sign it.",
            "Lifts first and most; the jaw gets only what its cause asks for. That is how we work.",
            "Not one contraction, and still something for the cheeks: vowels and mirror. Yes.",
            "Opens at the collarbones and ends there; the mirror stands in for work. Good for a tired person.",
        ),
    ),
    *taught(
        "A fold from weak cheeks, corners that hang",
        concern("nasolabial-fold", "weak-elevators", 2, 2),
        concern("downturned-corners", "weak-elevators", 3, 3),
        remarks=(
            "Corners and cheeks share their foundation; one release each. Fine.",
            "The corner work is against the finger, as it should be at first.",
            "Releases what pulls down before anything is asked of the corners.",
            "Light, daily, and says nothing of lifting. Honest.",
        ),
    ),
    *taught(
        "One smile lower on the left, and an eye that tires",
        smile,
        hooded,
        remarks=(
            "No side without a reading: right. The margin will offer it after a sitting.",
            "Both work alone and against the finger; enough for a first month.",
            "Mirror and release. I would add nothing.",
            "Taps and mirror for both sides alike.",
        ),
    ),
    *taught(
        "Jowls and a neck held forward, forty minutes",
        concern("jowls", "weak-elevators", 2, 2),
        loose,
        minutes=40,
        remarks=(
            "Long, but every piece has its reason; the day rests where it should.",
            "Posture before strength. Good.",
            "This is a whole class of mine: shoulders, nape, jaw, face.",
            "A long calm hour would be cut here by half; it does not fill time for its own sake.",
        ),
    ),
    Case(
        name="Left brow low, right eye narrow, both measured",
        concerns=(low_brow, narrow_eye),
        bias=(("brow_height", L), ("fissure_height", R)),
        expects=(
            more_on(L, F.RESIST),
            more_on(R, F.RESIST),
            ("each its own reading", lambda d: all("fissure" not in n.why for n in d.of(F.RESIST) if "frontalis" in n.card.prime_movers)),
        ),
        remark="Two sides in one program, and each row says by which reading.",
    ),
    Case(
        name="The same, not measured",
        concerns=(low_brow, narrow_eye),
        expects=(("both sides alike", lambda d: not more_on(L, F.RESIST)[1](d) and not more_on(R, F.RESIST)[1](d)),),
        remark="An impression is no reading. Both sides alike until a sitting.",
    ),
    Case(
        name="Left brow rated low, the photographs say right",
        concerns=(low_brow,),
        bias=(("brow_height", R),),
        expects=(more_on(R, F.RESIST), ("not the rated side", lambda d: not more_on(L, F.RESIST)[1](d))),
        remark="The reading decides, and the reason says which reading.",
    ),
    Case(
        name="Left brow low, strength school",
        concerns=(low_brow,),
        school="strength-first",
        bias=(("brow_height", L),),
        expects=(("the weak side alone", lambda d: any(n.cells[0].startswith("L") for n in d.of(F.RESIST))),),
        remark="Weak side only, as this school wants it.",
    ),
    Case(
        name="A tight ring on the left, release school",
        concerns=(concern("eye-less-open", "weaker-side", 1, 1), concern("hooded-lid", "tight-orbital-ring", 1, 3)),
        school="release-first",
        expects=(more_on(L, F.RELEASE), releases("orbicularis_oculi"), without(*STRENGTH)),
        remark="The tight side is released longer, and nothing is trained against it.",
    ),
    Case(
        name="Clenching, tender, nothing else",
        concerns=(clenching,),
        yes=("jaw-tender",),
        expects=(releases("masseter"), wholly(When.EVENING, F.RELEASE), has("habit-soft-jaw"), without(*STRENGTH), SAYS),
        remark="Evening, because the day tightens it; eased, and it says why it is short.",
    ),
    Case(
        name="Clenching, tender, and cheeks wanted too, eight minutes",
        concerns=(clenching, cheeks),
        yes=("jaw-tender",),
        minutes=8,
        expects=(releases("masseter"), works("zygomaticus_major")),
        remark="The jaw keeps its release; the cheeks are what got shorter.",
    ),
    Case(
        name="A fold from the side that chews",
        concerns=(chewing_fold,),
        busy=R,
        expects=(releases("masseter"), more_on(R, F.RELEASE), works("zygomaticus_major"), has("habit-other-side"), CALM),
        remark="Chewing muscle on that side, elevators, and the habit that made it. Not one knead.",
    ),
    Case(
        name="A fold from tight lifters",
        concerns=(tight_fold,),
        expects=(releases("llsan"), without(*STRENGTH)),
        remark="Nothing that lifts the lip. Right.",
    ),
    Case(
        name="Morning fluid under the eyes",
        concerns=(fluid,),
        expects=(has("orbit-taps", "neck-side-drain"), wholly(When.MORNING, F.DRAIN), without(*STRENGTH), DRAINED),
        remark="Socket, then the neck, in the morning. As light as it must be.",
    ),
    Case(
        name="Morning fluid, five minutes",
        concerns=(fluid,),
        minutes=5,
        expects=(some(2, F.DRAIN), without(*STRENGTH), DRAINED),
        remark="The way out is kept even in five minutes.",
    ),
    Case(
        name="Fluid, strength school",
        concerns=(fluid,),
        school="strength-first",
        expects=(some(1, F.DRAIN), without(*STRENGTH)),
        remark="Even we do not train water away.",
    ),
    Case(
        name="Hollow under the eyes",
        concerns=(hollow,),
        expects=(works("orbicularis_oculi"), ("no drain at the eye", lambda d: not [n for n in d.of(F.DRAIN) if "eye" in n.card.regions])),
        remark="Work, and no draining of what is empty.",
    ),
    Case(
        name="Fluid under the eyes, and hollow cheeks",
        concerns=(fluid, cheeks),
        expects=(
            some(1, F.DRAIN),
            works("zygomaticus_major"),
            ("none trains the eye", lambda d: not d.moving("orbicularis_oculi", *STRENGTH)),
        ),
        remark="Opposite needs next to each other, and neither spoils the other.",
    ),
    Case(
        name="Lined lips from pursing",
        concerns=(lined_lips,),
        expects=(("no pucker", lambda d: not [n for n in d.lines if "puckers" in n.card.marks]), ("the habit", lambda d: d.of(F.HABIT))),
        remark="Flat lips and the habit.",
    ),
    Case(
        name="Frown from tension", concerns=(frown,), expects=(releases("corrugator"), without(*STRENGTH)), remark="Lets go; asks nothing."
    ),
    Case(
        name="Forehead lines from a brow that helps",
        concerns=(lines,),
        expects=(releases("frontalis"), ("no forehead work", lambda d: not d.moving("frontalis", *STRENGTH))),
        remark="Rest for the brow, and lids that open without it.",
    ),
    Case(
        name="Crow’s feet from squinting",
        concerns=(feet,),
        expects=(releases("orbicularis_oculi"),),
        remark="Release and the far look.",
    ),
    Case(
        name="Corners pulled down",
        concerns=(corners,),
        expects=(releases("depressor_anguli_oris"), ("pullers not trained", lambda d: not d.moving("depressor_anguli_oris", *STRENGTH))),
        remark="What pulls is let go of.",
    ),
    Case(
        name="Jowls from the platysma, 24 weeks",
        concerns=(jowls,),
        weeks=24,
        expects=(releases("platysma"), ("24 weeks", lambda d: d.draft.program.weeks == 24)),
        remark="Half a year without a rise that nobody needs.",
    ),
    Case(
        name="Fluid under the chin",
        concerns=(chin_fluid,),
        expects=(some(1, F.DRAIN), DRAINED, without(*STRENGTH)),
        remark="Leads away, and no more.",
    ),
    Case(name="Chin and posture", concerns=(chin_posture,), expects=(some(1, F.ALIGN),), remark="The head comes back first."),
    Case(
        name="Neck from held shoulders",
        concerns=(neck,),
        expects=(releases("trapezius"), some(1, F.MOBILISE)),
        remark="Shoulders before neck.",
    ),
    Case(
        name="Neck from short nights",
        concerns=(sleep,),
        expects=(some(2, F.BREATHE), ("evening", lambda d: When.EVENING in d.draft.program.parts), SAYS),
        remark="Breath in the evening, and the sentence that there is no more to do.",
    ),
    Case(
        name="A joint that hurts",
        concerns=(joint,),
        expects=(without(*STRENGTH, *HANDS),),
        remark="Breath only; the rest is the dentist’s.",
    ),
    Case(name="Nothing that training reaches", concerns=(skin,), expects=(without(*STRENGTH), SAYS), remark="Says so plainly."),
    Case(
        name="Thin upper lip, balanced",
        concerns=(lip,),
        expects=(works("orbicularis_oris"), ("no stretch of the lip", lambda d: not [n for n in d.lines if n.card.stretches_lip])),
        remark="Pressing, not pulling.",
    ),
    Case(
        name="Lower lip and chin, hands kept out of the mouth",
        concerns=(droop,),
        leave_out=frozenset({"hands inside the mouth"}),
        expects=(("no hand inside", lambda d: not [n for n in d.lines if n.card.inside_mouth]), releases("mentalis")),
        remark="The same work from outside.",
    ),
    Case(
        name="No oil in the house",
        concerns=(cheeks, fluid),
        leave_out=frozenset({"oil"}),
        expects=(("dry hands", lambda d: not [n for n in d.lines if n.card.oily]), some(1, F.DRAIN)),
        remark="Taps instead of strokes.",
    ),
    Case(
        name="A beard: no oil, no pinches",
        concerns=(concern("jowls", "platysma-pull", 2, 2), clenching),
        leave_out=frozenset({"oil", "pinch"}),
        expects=(("no oil, no pinch", lambda d: not [n for n in d.lines if n.card.oily or "pinch" in n.card.marks]), releases("masseter")),
        remark="Presses and warm hands. It works under a beard.",
    ),
    Case(
        name="Dentures: nothing inside the mouth, nothing wide",
        concerns=(lip, cheeks),
        leave_out=frozenset({"hands inside the mouth", "wide-open"}),
        expects=(
            ("nothing inside, nothing wide", lambda d: not [n for n in d.lines if n.card.inside_mouth or "wide-open" in n.card.marks]),
            works("zygomaticus_major"),
        ),
        remark="Cheeks against the palms instead of the oval.",
    ),
    Case(
        name="Contact lenses",
        concerns=(narrow_eye,),
        yes=("contact-lenses",),
        expects=(works("levator_palpebrae"),),
        remark="The same, and lenses out is said.",
    ),
    Case(
        name="Pregnant",
        concerns=(frown, neck),
        yes=("pregnancy",),
        school="release-first",
        expects=(without(F.PRESS), some(2, F.RELEASE)),
        remark="No points without a clinician’s word.",
    ),
    Case(
        name="Blood thinners, release school",
        concerns=(clenching, neck),
        yes=("blood-thinners",),
        school="release-first",
        expects=(
            ("nothing firm", lambda d: not [v for v in shown(d, "blood-thinners") if v.pressure == "firm"]),
            ("no pinch", lambda d: not [v for v in shown(d, "blood-thinners") if "pinch" in v.marks]),
        ),
        remark="Light or not at all.",
    ),
    Case(
        name="A neck disc",
        concerns=(loose, neck),
        yes=("neck-injury",),
        expects=(("no neck", lambda d: not [n for n in d.lines if n.card.regions & {"neck", "front of neck"}]),),
        remark="Nothing near the neck until it is cleared; the rest is named.",
    ),
    Case(
        name="Two minutes",
        concerns=(cheeks, neck),
        minutes=2,
        weeks=4,
        expects=(
            ("fits", lambda d: True),
            ("one or two things", lambda d: 1 <= len([n for n in d.lines if n.stage.value != "through the day"]) <= 4),
        ),
        remark="Loosen, lift, let go: two minutes are two minutes.",
    ),
    Case(
        name="Five minutes",
        concerns=(cheeks,),
        minutes=5,
        weeks=6,
        expects=(works("zygomaticus_major"), CALM),
        remark="The foundation alone, with a calm end.",
    ),
    Case(
        name="Two weeks only", concerns=(clenching, frown), weeks=2, expects=(releases("masseter"),), remark="No hurry because it is short."
    ),
    Case(
        name="Forty minutes, five concerns, one year of patience",
        concerns=(cheeks, jowls, loose, hooded, frown),
        minutes=40,
        weeks=24,
        expects=(works("zygomaticus_major"), works("levator_palpebrae"), releases("corrugator"), CALM),
        remark="The gravest first; the rest is there without crowding.",
    ),
    Case(
        name="Nobody asked for minutes",
        concerns=(cheeks, clenching),
        minutes=None,
        expects=(works("zygomaticus_major"), releases("masseter")),
        remark="Not endless, even so.",
    ),
)
