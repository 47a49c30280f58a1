"""`banister new | plan | check | heat | board | compare | procedure | techniques | rods | schema`: everything the window plans, with no window."""

from __future__ import annotations

import argparse
import importlib
import sys
from collections.abc import Sequence

from banister import __version__
from banister.cli.errors import UNREADABLE, USAGE, UsageFault
from banister.job.codec import FileFault

COMMANDS = ("new", "plan", "check", "heat", "board", "compare", "procedure", "techniques", "rods", "schema")
_EPILOG = """\
examples:
  banister                         open the window with the patterns to start from
  banister job.banister            open a job in the window
  banister --demo                  open the demo job
  banister new --prep single-v --thickness 22 --bevel-angle 30 --root-gap 3 \\
      --root-face 1.5 --backing open --position 3G --length 900 -o flange.banister
  banister plan flange.banister --pdf sheet.pdf
  banister check flange.banister
  banister compare --thickness 35 --access both --position 2G
  banister procedure derive test.json

exit codes: 0 done, everything inside; 1 something outside or not plannable;
3 something not judged; 2 wrong usage; 4 a file cannot be read or written.

Banister plans. It does not qualify a procedure and replaces no code, inspector or
welding engineer: check every figure against your qualified procedure.
"""


def parser(only: str | None = None) -> argparse.ArgumentParser:
    """The whole command line, or just the part one command needs: a batch call starts in a blink."""
    top = argparse.ArgumentParser(
        prog="banister", description="Planner for multi-pass groove welds.", epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    top.add_argument("--version", action="version", version=f"banister {__version__}")
    top.add_argument("--demo", action="store_true", help="open the demo job in the window")
    commands = top.add_subparsers(dest="command", metavar="command")
    for name in COMMANDS:
        if name == "schema":
            commands.add_parser("schema", help="print the JSON schema of the job file").set_defaults(run=_schema)
        elif only in (None, name):
            importlib.import_module(f"banister.cli.{name}").add_parser(commands)
    return top


def _schema(arguments: argparse.Namespace) -> int:
    import json

    from banister.job.codec import schema

    print(json.dumps(schema(), indent=2))
    return 0


def run(arguments: Sequence[str]) -> int:
    """Run one batch command; every fault becomes a plain message and an exit code."""
    top = parser(arguments[0] if arguments and arguments[0] in COMMANDS else None)
    try:
        known = top.parse_args(arguments)
    except SystemExit as done:
        return int(done.code or 0)
    if known.command is None:
        top.print_usage(sys.stderr)
        return USAGE
    try:
        return int(known.run(known))
    except UsageFault as fault:
        print(f"banister {known.command}: {fault}", file=sys.stderr)
        return USAGE
    except FileFault as fault:
        for line in fault.lines:
            print(f"banister: {line}", file=sys.stderr)
        return UNREADABLE
    except BrokenPipeError:
        sys.stderr.close()
        return 0
