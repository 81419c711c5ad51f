"""Which column of somebody else's table is what: by the words of its heading in three languages, held against what stands in it.

Pure: headings and cells in, guesses out. A heading is read by whole words ("Timestamp" is not "time"); what stands in the column may
speak against its heading, and an address of mail is known without one.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Mapping, Sequence
from datetime import date

FIELDS: Mapping[str, tuple[str, ...]] = {
    "name": ("name", "client", "full name", "client name", "customer", "kundin", "kunde", "vollständiger name", "nom complet", "client e"),
    "first_name": ("first name", "given name", "forename", "vorname", "prénom", "prenom"),
    "last_name": ("last name", "surname", "family name", "nachname", "familienname", "zuname", "nom de famille", "nom"),
    "email": ("email", "e mail", "mail", "email address", "e mail address", "mailadresse", "e mail adresse", "courriel", "adresse e mail"),
    "phone": ("phone", "telephone", "mobile", "tel", "phone number", "cell", "telefon", "handy", "telefonnummer", "téléphone", "portable"),
    "birth_year": (
        "birth year",
        "year of birth",
        "born",
        "birthday",
        "date of birth",
        "birth date",
        "birth",
        "dob",
        "geburtsdatum",
        "geburtstag",
        "geburtsjahr",
        "geboren",
        "geb",
        "jahrgang",
        "date de naissance",
        "naissance",
        "année de naissance",
        "né e le",
    ),
    "time_zone": ("time zone", "timezone", "zone", "zeitzone", "fuseau horaire", "fuseau"),
    "minutes": ("minutes", "minutes a day", "minutes per day", "time", "minuten", "minuten am tag", "minuten pro tag", "minutes par jour"),
    "concerns": (
        "concerns",
        "concern",
        "problem",
        "focus",
        "anliegen",
        "schwerpunkt",
        "thema",
        "themen",
        "préoccupations",
        "préoccupation",
    ),
    "goals": ("goals", "goal", "wishes", "in own words", "ziele", "ziel", "wünsche", "objectifs", "objectif", "souhaits"),
    "status": ("status", "state", "stand", "statut", "état"),
    "note": ("note", "notes", "remarks", "comment", "comments", "notiz", "notizen", "bemerkung", "bemerkungen", "remarque", "remarques"),
}
"""Fields that can be imported, with the headings that mean them, in English, German and French."""
TOTALS = frozenset(("total", "totals", "sum", "count", "summe", "gesamt", "gesamtsumme", "anzahl", "insgesamt", "somme", "totaux"))
"""Words of a row that adds others up."""
COUNTED = frozenset(("clients", "kunden", "kundinnen", "of", "all", "aller", "der", "des"))
"""What is added up there."""
FITS, FITS_KNOWN = 0.6, 0.25
"""Share of the filled cells of a column that have to be what a part of its heading says, or its whole heading."""
WHOLE = 1000
"""How sure a heading is that is known word for word."""
YOUNGEST, OLDEST = 10, 100
"""Ages between which the century of a year of two digits is looked for."""


class UnclearError(ValueError):
    """A cell that cannot be read, or can be read in two ways; the message says what to do. ``order`` marks what the order of dates
    decides."""

    def __init__(self, message: str, *, order: bool = False) -> None:
        super().__init__(message)
        self.order = order


def plain(text: str) -> str:
    """Words in small letters without accents and signs, one space between them."""
    spread = unicodedata.normalize("NFKD", text.casefold().replace("ß", "ss"))
    return " ".join(re.findall(r"[a-z0-9]+", "".join(c for c in spread if not unicodedata.combining(c))))


_PHRASES = {plain(phrase): field for field, phrases in reversed(list(FIELDS.items())) for phrase in phrases}


def _meant(heading: str) -> dict[str, int]:
    """Fields that a heading may mean, with how many of its letters say so, or ``WHOLE``."""
    said = plain(heading)
    found: dict[str, int] = {}
    for phrase, field in _PHRASES.items():
        if said == phrase:
            found[field] = WHOLE
        elif f" {phrase} " in f" {said} ":
            found[field] = max(found.get(field, 0), len(phrase))
    return found


def knows_headings(cells: Sequence[str]) -> int:
    """How many cells of a row are headings that are known whole."""
    return sum(plain(c) in _PHRASES for c in cells if c)


def birth_year(text: str, today: date, *, year_first: bool | None = None) -> int:
    """The year of a date of birth in any usual way of writing; one of two digits is taken where only one century gives an age between
    ``YOUNGEST`` and ``OLDEST``. ``year_first`` says how dates of three short numbers are written. Raises UnclearError."""
    years = re.findall(r"(?<!\d)(?:19|20)\d\d(?!\d)", text)
    if len(years) == 1:
        return int(years[0])
    numbers = re.findall(r"\d+", text)
    if years or not numbers or any(len(n) > 2 for n in numbers):
        raise UnclearError(f"“{text[:30]}” holds no year of birth. Write four digits, such as 1974.")
    if len(numbers) == 3 and int(numbers[0]) > 31:
        short = int(numbers[0])
    elif len(numbers) == 3 and int(numbers[2]) <= 31 and int(numbers[0]) <= 31 and "-" in text:
        if year_first is None:
            raise UnclearError(f"“{text[:30]}” can be read in two ways. Say once how dates are written in this table.", order=True)
        short = int(numbers[0 if year_first else 2])
    elif len(numbers) in (1, 2, 3) and (len(numbers) > 1 or len(numbers[0]) == 2):
        short = int(numbers[-1])
    else:
        raise UnclearError(f"“{text[:30]}” holds no year of birth. Write four digits, such as 1974.")
    found = [y for y in (1900 + short, 2000 + short) if YOUNGEST <= today.year - y <= OLDEST]
    if len(found) != 1:
        raise UnclearError(f"“{text[:30]}” does not say the century. Write the year with four digits.")
    return found[0]


def minutes(text: str) -> int:
    """Minutes a day. Raises UnclearError."""
    found = re.fullmatch(
        r"(?:about |ca\.? |etwa |env\.? )?(\d{1,3})(?: ?(?:m|min|mins|minutes|minuten|'|′)\.?)?(?: ?(?:a day|am tag|par jour))?",
        text.strip().lower(),
    )
    if not found:
        raise UnclearError(f"“{text[:30]}” is no number of minutes.")
    return int(found[1])


def _reads(read: Callable[[], object]) -> bool:
    try:
        read()
    except UnclearError as error:
        return error.order
    return True


def _fits(field: str, *, text: str, today: date) -> bool:
    if field == "email":
        return "@" in text
    if field == "phone":
        return len(re.findall(r"\d", text)) >= 5
    if field == "birth_year":
        return _reads(lambda: birth_year(text, today))
    if field == "minutes":
        return _reads(lambda: minutes(text))
    if field in ("name", "first_name", "last_name"):
        return not re.fullmatch(r"[\d\s.,:/-]*", text)
    return True


def guess(headings: Sequence[str], columns: Sequence[Sequence[str]], today: date) -> list[str]:
    """For each column the field that it holds, or "": the surest heading first, each field once, none against what stands there.

    ``columns`` are the cells of each column. First and last name are taken together or not at all; with both, nothing else is the name.
    """
    filled = [[c for c in column if c] for column in columns]

    def holds(place: int, *, field: str, share: float) -> bool:
        cells = filled[place]
        return not cells or sum(_fits(field, text=c, today=today) for c in cells) >= share * len(cells)

    claims = sorted(
        ((sure, -place, field) for place, heading in enumerate(headings) for field, sure in _meant(heading).items()), reverse=True
    )
    out = [""] * len(headings)
    for sure, minus, field in claims:
        share = FITS_KNOWN if sure == WHOLE else FITS
        if not out[-minus] and field not in out and holds(-minus, field=field, share=share):
            out[-minus] = field
    for place, cells in enumerate(filled):
        if not out[place] and "email" not in out and cells and all("@" in c for c in cells):
            out[place] = "email"
    return _one_name(out)


def _one_name(out: list[str]) -> list[str]:
    if "first_name" in out and "last_name" not in out and "name" in out:
        return ["last_name" if f == "name" else f for f in out]  # beside a first name, the name is the rest of it
    if "first_name" in out and "last_name" in out:
        return ["" if f == "name" else f for f in out]
    return [
        "name" if f in ("first_name", "last_name") and "name" not in out else "" if f in ("first_name", "last_name") else f for f in out
    ]
