"""Makes a fresh machine ready, step by step, then runs the command inside the project's own environment.

Standard library only: nothing is installed yet when this runs.
"""

from __future__ import annotations

import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent))

import steps

HELP = """Usage: ./dimbo COMMAND [options]

  demo      everything from nothing: install, build, database, demo data, web and worker
            --port N   address of the interface (default 8420)
            --fresh    make the demo data anew        --no-install   never install anything
  dev       the demo for those who change it: the web server starts anew with every change, the interface is served as it is written
  test      lint, types and all tests; ./dimbo test core (store, web, vision, e2e, lint, ui) for a part
  bench     the benchmarks, with ratios to a baseline of the same run; bench faults: ten minutes of faults and attacks
  simulate  whole courses of six programs with thirteen kinds of client, as a table
  stop      stop a running demo
  serve     the web server of a real installation   worker    its background worker
  migrate   bring its database up to date          check     whether it is set up as it should be
  backup    FILE: everything in one file     restore   FILE: back into an empty database; --erased LIST or --nobody-erased
  practice  create (a practice with its first coach), list
  coach     add (a colleague), reset-link (for a new password); both print links that work once

Real installations are configured by environment variables; docs/architecture.md lists them."""


def main(arguments: list[str]) -> int:
    command = arguments[0] if arguments else "help"
    if command not in steps.COMMANDS:
        print(HELP)
        return 0 if command in ("help", "--help", "-h") else 2
    options = arguments[1:]
    try:
        steps.prepare(command, may_install="--no-install" not in options)
    except steps.CannotPrepare as error:
        print(f"\n{error}", file=sys.stderr)
        return 1
    except OSError as error:
        print(f"\n{steps.explain(error)}", file=sys.stderr)
        return 1
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)  # without byte code everything starts three times slower
    python = str(steps.VENV / "bin" / "python")
    os.chdir(steps.ROOT)
    os.execv(python, [python, "-m", "dimbo.ops.cli", command, *(o for o in options if o != "--no-install")])
    return None


if __name__ == "__main__":
    try:
        sys.exit(main(sys.argv[1:]))
    except KeyboardInterrupt:
        sys.exit(130)
