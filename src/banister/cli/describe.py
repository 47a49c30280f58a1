"""What the parsers of all commands share."""

from __future__ import annotations

import argparse
from typing import Any

from banister.core.words import Speech


def described(commands: Any, name: str, say: Speech) -> argparse.ArgumentParser:
    """A command's parser with its help, its examples, and the option of every command that prints."""
    p: argparse.ArgumentParser = commands.add_parser(
        name, help=say(f"cli.{name}.help"), epilog=say(f"cli.{name}.epilog"), formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    p.add_argument("--inches", action="store_true", help=say("cli.inches"))
    return p


def described_action(actions: Any, command: str, name: str, say: Speech) -> argparse.ArgumentParser:
    """The parser of an action of a command; the command's own option may stand behind it too."""
    p: argparse.ArgumentParser = actions.add_parser(name, help=say(f"cli.{command}.{name}"))
    p.add_argument("--inches", action="store_true", default=argparse.SUPPRESS, help=say("cli.inches"))
    return p
