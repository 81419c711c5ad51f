"""Who is in the demo. Everybody and everything here is invented; the faces are rendered."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from dimbo.vision.stand_in_camera import VIEW_STATES

PRACTICE = "Quayside Face Studio"
COACHES = (("Ottoline Brask", "ottoline@quayside.example"), ("Emeric Vantongeren", "emeric@quayside.example"))
PASSWORD = "harbour-lantern-24"


@dataclass(frozen=True)
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

WHOLE = tuple(VIEW_STATES)
"""Every view of the protocol but the neutral one."""


@dataclass(frozen=True)
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


STORIES = (
    Story(
        "Philippa Anjou-Reyes",
        1974,
        "Europe/Lisbon",
        15,
        "eye-less-open",
        "My right eye looks tired in every picture.",
        "aster",
        12,
        44,
        0.92,
        5,
        "philippa@mail.example",
        (
            Taken(49, "uneven", baseline=True, views=WHOLE, hint="A small mole under the left eye."),
            Taken(45, "uneven", baseline=True),
            Taken(3, "eased", views=("gentle-smile", "brows-raised", "profile-left")),
        ),
        True,
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
    ),
    Story(
        "Tobias Okonkwo-Lund",
        1988,
        "Africa/Lagos",
        12,
        "mouth-asymmetry",
        "I chew on one side and my smile has followed.",
        "birch",
        4,
        16,
        0.8,
        6,
        "tobias@mail.example",
        (
            Taken(20, "uneven", baseline=True, views=("gentle-smile", "profile-left")),
            Taken(18, "uneven", baseline=True),
            Taken(1, "uneven", views=("gentle-smile",), lid_mm=(0.0, 0.15)),
        ),
        True,
        hurt=("corner-lift-resist", "left", 4, "jaw joint"),
        template="even-smile",
        paused=(9, 3, "Travelling to Jos, back on Friday."),
        words=((1, False, "The corner lift pinched at my left jaw joint, so I stopped it there."),),
    ),
    Story(
        "Hanne Myklebost",
        1961,
        "Europe/Oslo",
        15,
        "flat-cheeks",
        "I would like to look as rested as I feel.",
        "cedar",
        8,
        37,
        0.95,
        4,
        "hanne@mail.example",
        (
            Taken(41, "uneven", baseline=True),
            Taken(38, "uneven", baseline=True),
            Taken(9, "uneven", shots=3, light=0.42),
        ),
        paused=(20, 9, "A week at the fjord without a mirror."),
        reviewed=99,
    ),
    Story(
        "Imara Desrosiers",
        1979,
        "America/Toronto",
        10,
        "low-brow",
        "The left brow sits lower since university.",
        "dahlia",
        4,
        23,
        0.85,
        5,
        None,
        (Taken(25, "uneven", baseline=True, hint="The parting is on the right."), Taken(2, "uneven", shots=2, flipped=True, how="selfie")),
        reviewed=2,
        sore=7,
    ),
    Story(
        "Casimir Holt",
        1958,
        "Europe/Vienna",
        20,
        "jowls",
        "My jaw line went soft after the retirement party.",
        "elder",
        8,
        30,
        0.7,
        6,
        None,
        (Taken(31, "uneven", shots=2, baseline=True), Taken(4, "uneven", shots=2, hour=17)),
        silent_days=5,
        reviewed=3,
        otherwise={2: "Two nights without sleep; the same week once more."},
    ),
    Story(
        "Leocadia Marsh",
        1983,
        "Europe/London",
        12,
        "nasolabial-fold",
        "The fold is deeper on the side I sleep on.",
        "fern",
        4,
        9,
        1.0,
        5,
        None,
        (Taken(10, "eased", baseline=True),),
        reviewed=99,
        note="Counting out loud helps.",
    ),
    Story(
        "Ragna Stavros",
        1955,
        "Europe/Athens",
        18,
        "loose-neck",
        "I hold my chin up in photographs now.",
        "gorse",
        8,
        51,
        0.88,
        5,
        None,
        (
            Taken(55, "uneven", baseline=True),
            Taken(52, "uneven", baseline=True),
            Taken(36, "uneven", lid_mm=(0.2, 0.0)),
            Taken(22, "uneven", lid_mm=(0.5, 0.0)),
            Taken(1, "eased"),
        ),
        template="neck-and-chin",
        reviewed=99,
        agreed_days_ago=352,
    ),
    Story(
        "Yun-seo Baptiste",
        1991,
        "Asia/Seoul",
        10,
        "jaw-tension",
        "I wake up with a tired jaw.",
        "hazel",
        4,
        31,
        0.85,
        4,
        None,
        (Taken(27, "even", shots=2, baseline=True),),
    ),
    Story(
        "Eluned Farrokhzad",
        1969,
        "Europe/Dublin",
        12,
        "downturned-corners",
        "People ask whether I am cross. I am not.",
        "aster",
        4,
        6,
        1.0,
        7,
        None,
        (),
        overdoes=(1, 2, 3, 4, 5),
        note="Did the lifts twice, to be quicker.",
    ),
    Story(
        "Mateusz Quillfeather",
        1976,
        "Europe/Warsaw",
        10,
        "under-chin",
        "Too many hours over a screen.",
        "elder",
        4,
        20,
        0.9,
        5,
        words=((1, False, "Is it normal that I yawn in the jaw exercise?"),),
    ),
    Story(
        "Oriane Tembo",
        1985,
        "Africa/Nairobi",
        15,
        "hooded-lid",
        "The left lid feels heavy by evening.",
        "dahlia",
        sittings=(Taken(1, "uneven", baseline=True),),
    ),
    Story(
        "Pernille Achterberg",
        1972,
        "Europe/Amsterdam",
        10,
        "flat-cheeks",
        "A colleague told me of the group.",
        "cedar",
        sittings=(Taken(13, "even", shots=2, baseline=True),),
        habit=1.0,
        effort=4,
    ),
    Story(
        "Bastian Wojtala-Hale",
        1980,
        "Europe/Warsaw",
        10,
        "jaw-tension",
        "I grind at night.",
        "elder",
        sittings=(Taken(13, "even", shots=2, baseline=True),),
        coach=1,
        habit=0.85,
        effort=5,
    ),
    Story(
        "Ngozi Larkspur",
        1990,
        "Africa/Lagos",
        10,
        "hooded-lid",
        "To wake up before the mirror does.",
        "birch",
        sittings=(Taken(13, "even", shots=2, baseline=True),),
        coach=1,
        habit=0.95,
        effort=5,
    ),
    Story("Tindra Vale", 1964, "Europe/Stockholm", 10, "loose-neck", "My daughter gave me this.", "gorse", coach=1, habit=0.4, effort=6),
    Story("Sunniva Castellane", 1996, "Europe/Paris", 8, "forehead-lines", "I lift my brows when I listen.", "hazel"),
    Story(
        "Anselm Rookwood",
        1966,
        "Europe/Dublin",
        10,
        "mouth-asymmetry",
        "Since Monday the left corner hangs. Can you train it up?",
        "birch",
    ),
)
