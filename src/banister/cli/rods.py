"""`banister rods`: the catalogue that jobs choose from."""

from __future__ import annotations

import argparse
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.core.words import Speech


def add_parser(commands: Any, say: Speech) -> None:
    """Add `rods` to the command line."""
    described(commands, "rods", say).set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print the catalogue."""
    say, u = desk.say, desk.say.units
    rows = [(say("column.rod"), say("column.family"), u.unit("current"), u.unit("voltage"), u.unit("burn_off"), say("column.recovery"), say("column.polarity"))]
    for r in desk.library.rods:
        name = r.id if not u.inches else f"{r.id}  {u.rod(r.id)}"
        amps = f"{r.amps_low:g}-{r.amps_high:g} ({r.amps:g})"
        rows.append((name, say(f"family.{r.family}"), amps, f"{r.volts:.1f}", f"{r.burn_off_g_ah:.1f}", f"{r.recovery:.2f}", r.polarity))
    print("\n".join(columns(rows, left=(0, 1, 2, 6))))
    print(say("cli.rods.foot", path=str(desk.library.folder / "rods.json")))
    return 0
