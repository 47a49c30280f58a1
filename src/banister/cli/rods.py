"""`banister rods`: the catalogue that jobs choose from."""

from __future__ import annotations

import argparse
from typing import Any

from banister.job.library import catalogue, own_catalogue_path


def add_parser(commands: Any) -> None:
    """Add `rods` to the command line."""
    p = commands.add_parser("rods", help="list the rod catalogue and where your own rods go")
    p.set_defaults(run=run)


def run(a: argparse.Namespace) -> int:
    """Print the catalogue."""
    print("id                 family      amps          volts  g/Ah  recovery  polarity")
    for r in catalogue():
        amps = f"{r.amps_low:g}-{r.amps_high:g} ({r.amps:g})"
        print(f"{r.id:18} {r.family:11} {amps:13} {r.volts:5.1f} {r.burn_off_g_ah:5.1f} {r.recovery:9.2f}  {r.polarity}")
    print("All typical: the maker's data sheet governs. Your own rods:", own_catalogue_path())
    return 0
