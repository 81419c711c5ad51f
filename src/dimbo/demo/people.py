"""Who is in the demo. Everybody and everything here is invented; the faces are rendered."""

from __future__ import annotations

from dataclasses import dataclass

PRACTICE = "Quayside Face Studio"
COACHES = (("Ottoline Brask", "ottoline@quayside.example"), ("Emeric Vantongeren", "emeric@quayside.example"))
PASSWORD = "harbour-lantern-24"


@dataclass(frozen=True)
class Story:
    """A client and what their history shows. Weeks and days count back from today.

    ``states`` are the portrait's states at each sitting: (days ago, state, shots). ``habit`` is the share of planned
    days that are practised; ``effort`` the middle of what they report; ``overdoes`` counts back from the last practised day.
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
    states: tuple[tuple[int, str, int], ...] = ()
    overdoes: tuple[int, ...] = ()
    hurt: tuple[str, str, int, str] | None = None
    """In the last session: exercise, side, level of 10, and where."""
    silent_days: int = 0
    note: str = ""


STORIES = (
    Story(
        "Philippa Anjou-Reyes",
        1974,
        "Europe/Lisbon",
        15,
        "eye-less-open",
        "My right eye looks tired in every picture.",
        "aster",
        8,
        44,
        0.92,
        5,
        "philippa@mail.example",
        ((45, "uneven", 3), (3, "eased", 3)),
        overdoes=(12, 14),
        note="The long hold is easier than two weeks ago.",
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
        ((18, "uneven", 3),),
        hurt=("thumb-hook-smile", "left", 4, "jaw joint"),
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
        ((38, "uneven", 3), (9, "uneven", 2)),
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
        ((25, "uneven", 3), (2, "eased", 1)),
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
        ((31, "uneven", 2),),
        silent_days=5,
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
        ((10, "eased", 3),),
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
        ((52, "uneven", 3), (22, "uneven", 3), (1, "eased", 3)),
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
        26,
        0.75,
        4,
        None,
        ((27, "even", 2),),
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
        overdoes=(1, 2),
        note="Did the lifts twice, to be quicker.",
    ),
    Story("Mateusz Quillfeather", 1976, "Europe/Warsaw", 10, "under-chin", "Too many hours over a screen.", "elder", 4, 20, 0.6, 5),
    Story(
        "Oriane Tembo",
        1985,
        "Africa/Nairobi",
        15,
        "hooded-lid",
        "The left lid feels heavy by evening.",
        "dahlia",
        states=((1, "uneven", 3),),
    ),
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
