"""Who is in the demo. Everybody and everything here is invented; the faces are rendered."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from dimbo.vision.terms import VIEW_STATES

PRACTICE = "Quayside Face Studio"
COACHES = (("Ottoline Brask", "ottoline@quayside.example"), ("Emeric Vantongeren", "emeric@quayside.example"))
ASSISTANT = ("Wilmer Askelund", "wilmer@quayside.example")
"""Looks after the second coach's clients."""
PASSWORD = "harbour-lantern-24"


@dataclass(frozen=True, kw_only=True)
class Taken:
    """One sitting. ``state`` is the portrait's; ``shots`` neutral ones are taken at ``hour`` o'clock; ``views`` are taken once
    each. ``light`` comes from the client's left when positive; ``lid_mm`` lifts the (right, left) lid."""

    days_ago: int
    state: str
    shots: int = 3
    baseline: bool = False
    views: tuple[str, ...] = ()
    hour: int = 8
    light: float = 0.0
    flipped: bool = False
    lid_mm: tuple[float, float] = (0.0, 0.0)
    how: str = "another person"
    hint: str = ""


GROUP = ("Pernille", "Bastian", "Ngozi", "Tindra")
"""First names of those who started a program together."""
GROUP_DAYS_AGO = 12
AGREEABLE = ("Philippa", "Ragna", "Hanne")
"""Who has agreed to comparisons, and to stand in the table without names."""

WHOLE = tuple(VIEW_STATES)
"""Every view of the protocol but the neutral one."""


@dataclass(frozen=True, kw_only=True)
class Written:
    """A letter to the client, so many days ago, and what the client wrote ``beside`` the first photographs."""

    days_ago: int
    opening: str
    adds: str
    beside: str


@dataclass(frozen=True, kw_only=True)
class Story:
    """A client and what their history shows. Weeks and days count back from today.

    ``habit`` is the share of planned
    days that are practised; ``effort`` the middle of what they report; ``overdoes`` are days ago.
    """

    name: str
    birth_year: int
    time_zone: str
    minutes: int
    concern: str
    story: str
    portrait: str
    weeks: int = 4
    started_days_ago: int | None = None
    habit: float = 0.9
    effort: int = 5
    email: str | None = None
    sittings: tuple[Taken, ...] = ()
    rated: bool = False
    """Whether the coach has rated the first and the newest sitting blind."""
    way_known: bool = True
    """Whether the coach has said that the first photograph is the right way round."""
    overdoes: tuple[int, ...] = ()
    hurt: tuple[str, str, int, str] | None = None
    """In the last session: exercise, side, level of 10, and where."""
    silent_days: int = 0
    note: str = ""
    words: tuple[tuple[int, bool, str], ...] = ()
    """Messages: days ago, whether the coach wrote, and the text."""
    second: str | None = None
    """The template of a second program that runs beside the first."""
    paused: tuple[int, int, str] | None = None
    """A pause that began so many days ago and lasted so many days, and why."""
    reviewed: int = 0
    """How many weeks of the course the coach has reviewed."""
    otherwise: Mapping[int, str] = field(default_factory=dict)
    """Weeks in which the coach held what was to advance, and why."""
    review_words: Mapping[int, str] = field(default_factory=dict)
    """Words to the client at the review of a week."""
    coach: int = 0
    """Which of the coaches took them on."""
    agreed_days_ago: int | None = None
    """When they agreed that photographs are kept, where that was long before the intake."""
    sore: int | None = None
    """Soreness told this morning."""
    template: str | None = None
    """The template that the program came from; None drafts it from the intake."""
    letter: Written | None = None


STORIES = (
    Story(
        name="Philippa Anjou-Reyes",
        birth_year=1974,
        time_zone="Europe/Lisbon",
        minutes=15,
        concern="eye-less-open",
        story="My right eye looks tired in every picture.",
        portrait="aster",
        weeks=12,
        started_days_ago=44,
        habit=0.92,
        effort=5,
        email="philippa@mail.example",
        sittings=(
            Taken(days_ago=49, state="uneven", baseline=True, views=WHOLE, hint="A small mole under the left eye."),
            Taken(days_ago=45, state="uneven", baseline=True),
            Taken(days_ago=3, state="eased", views=("gentle-smile", "brows-raised", "profile-left")),
        ),
        rated=True,
        overdoes=(30, 29, 28, 27, 26),
        reviewed=5,
        review_words={
            3: "Thank you for your zeal. Longer is not sooner here: we go one step back for a week, and then on.",
            4: "Even and calm again. We go on.",
        },
        note="The long hold is easier than two weeks ago.",
        words=(
            (5, False, "The wide-eye hold makes my forehead join in. Is that all right?"),
            (4, True, "Thank you for telling me. Rest a hand on the forehead and open half as far; still is what counts."),
        ),
        second="quiet-jaw",
        letter=Written(
            days_ago=27,
            opening="Two weeks are behind you, and you have found your time of day for it.",
            adds="Your pressure has become lighter without my saying so again. Keep the jaw loose while the lid works.",
            beside="I had slept badly the night before these.",
        ),
    ),
    Story(
        name="Tobias Okonkwo-Lund",
        birth_year=1988,
        time_zone="Africa/Lagos",
        minutes=12,
        concern="mouth-asymmetry",
        story="I chew on one side and my smile has followed.",
        portrait="birch",
        weeks=4,
        started_days_ago=16,
        habit=0.8,
        effort=6,
        email="tobias@mail.example",
        sittings=(
            Taken(days_ago=20, state="uneven", baseline=True, views=("gentle-smile", "profile-left")),
            Taken(days_ago=18, state="uneven", baseline=True),
            Taken(days_ago=1, state="uneven", views=("gentle-smile",), lid_mm=(0.0, 0.15)),
        ),
        rated=True,
        hurt=("corner-lift-resist", "left", 4, "jaw joint"),
        template="even-smile",
        paused=(9, 3, "Travelling to Jos, back on Friday."),
        words=((1, False, "The corner lift pinched at my left jaw joint, so I stopped it there."),),
    ),
    Story(
        name="Hanne Myklebost",
        birth_year=1961,
        time_zone="Europe/Oslo",
        minutes=15,
        concern="flat-cheeks",
        story="I would like to look as rested as I feel.",
        portrait="cedar",
        weeks=8,
        started_days_ago=37,
        habit=0.95,
        effort=4,
        email="hanne@mail.example",
        sittings=(
            Taken(days_ago=41, state="uneven", baseline=True),
            Taken(days_ago=38, state="uneven", baseline=True),
            Taken(days_ago=9, state="uneven", shots=3, light=0.42),
        ),
        paused=(20, 9, "A week at the fjord without a mirror."),
        reviewed=99,
    ),
    Story(
        name="Imara Desrosiers",
        birth_year=1979,
        time_zone="America/Toronto",
        minutes=10,
        concern="low-brow",
        story="The left brow sits lower since university.",
        portrait="dahlia",
        weeks=4,
        started_days_ago=23,
        habit=0.85,
        effort=5,
        email=None,
        sittings=(
            Taken(days_ago=25, state="uneven", baseline=True, hint="The parting is on the right."),
            Taken(days_ago=2, state="uneven", shots=2, flipped=True, how="selfie"),
        ),
        reviewed=2,
        sore=7,
    ),
    Story(
        name="Casimir Holt",
        birth_year=1958,
        time_zone="Europe/Vienna",
        minutes=20,
        concern="jowls",
        story="My jaw line went soft after the retirement party.",
        portrait="elder",
        weeks=8,
        started_days_ago=30,
        habit=0.7,
        effort=6,
        email=None,
        sittings=(Taken(days_ago=31, state="uneven", shots=2, baseline=True), Taken(days_ago=4, state="uneven", shots=2, hour=17)),
        silent_days=5,
        reviewed=3,
        otherwise={2: "Two nights without sleep; the same week once more."},
    ),
    Story(
        name="Leocadia Marsh",
        birth_year=1983,
        time_zone="Europe/London",
        minutes=12,
        concern="nasolabial-fold",
        story="The fold is deeper on the side I sleep on.",
        portrait="fern",
        weeks=4,
        started_days_ago=9,
        habit=1.0,
        effort=5,
        email=None,
        sittings=(Taken(days_ago=10, state="eased", baseline=True),),
        reviewed=99,
        note="Counting out loud helps.",
    ),
    Story(
        name="Ragna Stavros",
        birth_year=1955,
        time_zone="Europe/Athens",
        minutes=18,
        concern="loose-neck",
        story="I hold my chin up in photographs now.",
        portrait="gorse",
        weeks=8,
        started_days_ago=51,
        habit=0.88,
        effort=5,
        email=None,
        sittings=(
            Taken(days_ago=55, state="uneven", baseline=True),
            Taken(days_ago=52, state="uneven", baseline=True),
            Taken(days_ago=36, state="uneven", lid_mm=(0.2, 0.0)),
            Taken(days_ago=22, state="uneven", lid_mm=(0.5, 0.0)),
            Taken(days_ago=1, state="eased"),
        ),
        template="neck-and-chin",
        reviewed=99,
        agreed_days_ago=352,
    ),
    Story(
        name="Yun-seo Baptiste",
        birth_year=1991,
        time_zone="Asia/Seoul",
        minutes=10,
        concern="jaw-tension",
        story="I wake up with a tired jaw.",
        portrait="hazel",
        weeks=4,
        started_days_ago=31,
        habit=0.85,
        effort=4,
        email=None,
        sittings=(Taken(days_ago=27, state="even", shots=2, baseline=True),),
    ),
    Story(
        name="Eluned Farrokhzad",
        birth_year=1969,
        time_zone="Europe/Dublin",
        minutes=12,
        concern="downturned-corners",
        story="People ask whether I am cross. I am not.",
        portrait="aster",
        weeks=4,
        started_days_ago=6,
        habit=1.0,
        effort=7,
        email=None,
        sittings=(),
        overdoes=(1, 2, 3, 4, 5),
        note="Did the lifts twice, to be quicker.",
    ),
    Story(
        name="Mateusz Quillfeather",
        birth_year=1976,
        time_zone="Europe/Warsaw",
        minutes=10,
        concern="under-chin",
        story="Too many hours over a screen.",
        portrait="elder",
        weeks=4,
        started_days_ago=20,
        habit=0.9,
        effort=5,
        words=((1, False, "Is it normal that I yawn in the jaw exercise?"),),
    ),
    Story(
        name="Oriane Tembo",
        birth_year=1985,
        time_zone="Africa/Nairobi",
        minutes=15,
        concern="hooded-lid",
        story="The left lid feels heavy by evening.",
        portrait="dahlia",
        sittings=(Taken(days_ago=1, state="uneven", baseline=True),),
        way_known=False,
    ),
    Story(
        name="Pernille Achterberg",
        birth_year=1972,
        time_zone="Europe/Amsterdam",
        minutes=10,
        concern="flat-cheeks",
        story="A colleague told me of the group.",
        portrait="cedar",
        sittings=(Taken(days_ago=13, state="even", shots=2, baseline=True),),
        habit=1.0,
        effort=4,
    ),
    Story(
        name="Bastian Wojtala-Hale",
        birth_year=1980,
        time_zone="Europe/Warsaw",
        minutes=10,
        concern="jaw-tension",
        story="I grind at night.",
        portrait="elder",
        sittings=(Taken(days_ago=13, state="even", shots=2, baseline=True),),
        coach=1,
        habit=0.85,
        effort=5,
    ),
    Story(
        name="Ngozi Larkspur",
        birth_year=1990,
        time_zone="Africa/Lagos",
        minutes=10,
        concern="hooded-lid",
        story="To wake up before the mirror does.",
        portrait="birch",
        sittings=(Taken(days_ago=13, state="even", shots=2, baseline=True),),
        coach=1,
        habit=0.95,
        effort=5,
    ),
    Story(
        name="Tindra Vale",
        birth_year=1964,
        time_zone="Europe/Stockholm",
        minutes=10,
        concern="loose-neck",
        story="My daughter gave me this.",
        portrait="gorse",
        coach=1,
        habit=0.4,
        effort=6,
    ),
    Story(
        name="Sunniva Castellane",
        birth_year=1996,
        time_zone="Europe/Paris",
        minutes=8,
        concern="forehead-lines",
        story="I lift my brows when I listen.",
        portrait="hazel",
    ),
    Story(
        name="Anselm Rookwood",
        birth_year=1966,
        time_zone="Europe/Dublin",
        minutes=10,
        concern="mouth-asymmetry",
        story="Since Monday the left corner hangs. Can you train it up?",
        portrait="birch",
    ),
)
