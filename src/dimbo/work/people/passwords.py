"""Passwords: which are taken, and hashing them without letting anybody use up the machine with it."""

from __future__ import annotations

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from zxcvbn import zxcvbn

from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.turns import Turns

LEAST, MOST = 10, 200
GUESSED = 2
"""The least score of zxcvbn (0 to 4) that is taken: fewer than about a hundred million guesses are too few."""
LOOKED_AT = 72
"""Signs that are looked at for being guessable; longer ones take too long and gain nothing."""
AT_ONCE, WAITING = 2, 12
"""Hashes computed at once in one process, and tries that may wait for one. Each takes about 64 MB and a tenth of a second."""

_HASHER = PasswordHasher()
_NOBODY = _HASHER.hash("nobody has this password")


_POOL = Turns(AT_ONCE, WAITING, words="Too many people are signing in at this moment. Wait a little, then try again.")


def check_password(password: str, *about: str) -> None:
    """Raises Refused for a password that is too short, too long, common, or made of ``about``: name, e-mail, practice."""
    if len(password) < LEAST:
        raise Refused(Why.BOUNDS, f"Use at least {LEAST} characters; four words are easy to keep.", "password")
    if len(password) > MOST:
        raise Refused(Why.BOUNDS, f"Use at most {MOST} characters.", "password")
    parts = [(text, "".join(text.split()), *text.replace("@", " ").replace(".", " ").split()) for text in about]
    told = [part for each in parts for part in each if len(part) > 2]
    if zxcvbn(password[:LOOKED_AT], user_inputs=told)["score"] < GUESSED:
        raise Refused(Why.UNREADABLE, "This password is easily guessed. Take four words that do not belong together.", "password")


def hash_password(password: str, *about: str) -> str:
    """argon2id, after ``check_password``. Raises Refused."""
    check_password(password, *about)
    with _POOL.turn():
        return _HASHER.hash(password)


def is_right(password: str, kept: str | None) -> bool:
    """Whether a password is the one that was kept; takes as long for somebody who is not known."""
    with _POOL.turn():
        try:
            _HASHER.verify(kept or _NOBODY, password)
        except (VerifyMismatchError, InvalidHashError):
            return False
    return kept is not None
