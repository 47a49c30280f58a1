"""The command line: batch use without a window."""

from __future__ import annotations

import argparse
import contextlib
import gc
import importlib
import os
import sys
from collections.abc import Sequence
from pathlib import Path

from banister import __version__
from banister.cli.desk import Desk
from banister.cli.errors import UNREADABLE, USAGE, UsageFault
from banister.cli.own_words import speak
from banister.core.joint.figures import FIGURES
from banister.core.remark import Refused, Remark
from banister.core.words import Speech
from banister.job.library import words
from banister.job.reading import FileFault

COMMANDS = (
    "new", "plan", "check", "heat", "board", "compare", "fitup", "turn", "stops", "take", "sure", "journal", "arc", "simulate",
    "inspect", "testpieces", "advise", "repair", "record", "verify", "continuity", "practice",
    "list", "import", "improve", "play", "reckon", "procedure", "techniques", "rods", "schema",
)  # fmt: skip
WRITTEN = ("pdf", "csv", "svg", "dxf", "symbol", "strip", "card")
"""Options that name a file to be written."""
MODULES = {"import": "take_in"}
"""Commands whose name no module can have."""


def parser(only: str | None = None) -> argparse.ArgumentParser:
    """The whole command line, or just the part one command needs: a batch call starts in a blink."""
    say = Speech(words())
    speak(say)
    top = argparse.ArgumentParser(
        prog="banister", description=say("cli.about"), epilog=say("cli.epilog"), formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    top.add_argument("--version", action="version", version=f"banister {__version__}", help=say("cli.argparse.version"))
    top.add_argument("--demo", action="store_true", help=say("cli.demo"))
    commands = top.add_subparsers(dest="command", metavar=say("cli.command"))
    for name in COMMANDS:
        if only in (None, name):
            importlib.import_module(f"banister.cli.{MODULES.get(name, name)}").add_parser(commands, say)
    return top


def option_of(refused: Refused, remark: Remark) -> str:
    """The option a refused value came from, as the head of a line: the one it was read from, or the one that sets its field."""
    notes = getattr(refused, "__notes__", ())
    figure = FIGURES.get(remark.place.field.rpartition(".")[2])
    option = notes[0] if notes else figure.option if figure is not None else ""
    return f"{option}: " if option else ""


def _no_more_output() -> None:
    """What cannot be written to the output is not tried again when the program ends."""
    with contextlib.suppress(OSError, ValueError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


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
    desk = Desk(getattr(known, "inches", False), wanted=[path for name in WRITTEN if isinstance(path := getattr(known, name, None), Path)])
    gc.freeze()
    gc.enable()
    try:
        code = int(known.run(known, desk))
        sys.stdout.flush()
        return code
    except UsageFault as usage:
        print(f"banister {known.command}: {desk.say(usage.key, **usage.figures)}", file=sys.stderr)
        return USAGE
    except Refused as refused:
        for remark in refused.remarks:
            print(f"banister {known.command}: {option_of(refused, remark)}{desk.say.sentence(remark)}", file=sys.stderr)
        return USAGE
    except FileFault as broken:
        desk.complain(broken)
        return UNREADABLE
    except BrokenPipeError:
        _no_more_output()
        return 0
    except (OSError, UnicodeError) as error:
        _no_more_output()
        why = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
        print(f"banister {known.command}: {desk.say('cli.failed', why=why)}", file=sys.stderr)
        return UNREADABLE
    except KeyboardInterrupt:
        print(f"\nbanister {known.command}: {desk.say('cli.interrupted')}", file=sys.stderr)
        return USAGE
