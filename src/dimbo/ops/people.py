"""./dimbo practice and ./dimbo coach: opening a practice and letting people in, without SQL and without a password on the way."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any

from .supervise import CannotStart

if TYPE_CHECKING:
    from dimbo.store.database import Database

DAYS = 14


def add_commands(commands: Any) -> None:  # noqa: ANN401 - argparse names no type for it
    """The commands and their options; what is not given is asked."""
    practice = commands.add_parser("practice", help="make a practice, or list them").add_subparsers(dest="action", required=True)
    create = practice.add_parser("create", help="make a practice with its first coach; prints a link that works once")
    create.add_argument("--name", help="of the practice")
    create.add_argument("--coach", help="name of the first coach, who owns the practice")
    create.add_argument("--email", help="of the first coach")
    practice.add_parser("list", help="every practice, and how many work and practise there")
    coach = commands.add_parser("coach", help="let somebody in").add_subparsers(dest="action", required=True)
    add = coach.add_parser("add", help="invite a colleague; prints a link that works once")
    add.add_argument("--practice", default="", help="its name or the beginning of its id; not needed when there is one")
    add.add_argument("--name")
    add.add_argument("--email")
    add.add_argument("--standing", choices=("owner", "coach", "assistant"), default="coach")
    reset = coach.add_parser("reset-link", help="print a link for a new password, for any account")
    reset.add_argument("--email")


def _asked(options: argparse.Namespace, name: str, question: str) -> str:
    """An option, or the answer to a question."""
    given: str | None = getattr(options, name)
    return given if given is not None else input(f"{question}: ")


def run(options: argparse.Namespace, owner_url: str, address: str, say: Callable[[str], None] = print) -> int:
    """Carry out a command of ``add_commands`` as the owner of the tables. Raises CannotStart when it is refused."""
    from dimbo.store.database import Database
    from dimbo.work.shared.errors import Refused

    db = Database(owner_url, most=1)
    db.open()
    try:
        _run(options, db, address, say)
    except Refused as error:
        raise CannotStart(f"{error.message}\nNothing was changed.") from error
    finally:
        db.close()
    return 0


def _run(options: argparse.Namespace, db: Database, address: str, say: Callable[[str], None]) -> None:
    from dimbo.work.people import opening

    now = datetime.now(UTC)
    match options.command, options.action:
        case "practice", "create":
            name = _asked(options, "name", question="Name of the practice")
            coach = _asked(options, "coach", question="Name of its first coach")
            email = _asked(options, "email", question="E-mail of the first coach")
            _, path = opening.create_practice(db, name, coach=coach, email=email, now=now)
            say(f"{name.strip()} is open. {coach.strip()} chooses a password here, once, within {DAYS} days:\n\n  {address}{path}\n")
        case "practice", "list":
            known = opening.every_practice(db)
            for p in known:
                say(f"{str(p.id)[:8]}  {p.name:40}  {p.staff} at work, {p.clients} clients, since {p.created_at:%d %B %Y}")
            if not known:
                say("There is no practice yet. Make one: ./dimbo practice create")
        case "coach", "add":
            name, email = _asked(options, "name", question="Name"), _asked(options, "email", question="E-mail")
            to, path = opening.add_coach(db, options.practice, name=name, email=email, standing=options.standing, now=now)
            say(f"{name.strip()} joins {to.name} here, once, within {DAYS} days:\n\n  {address}{path}\n")
        case _:
            path = opening.reset_link(db, _asked(options, "email", question="E-mail of the account"), now)
            say(f"A new password is chosen here, once, within two days:\n\n  {address}{path}\n")
