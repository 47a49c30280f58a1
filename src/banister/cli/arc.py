"""`banister arc`: a recorded trace of an arc analysed: rods, arc time, energy, and what was amiss."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.arc.amiss import HOLE, UNSURE
from banister.core.arc.analysis import ArcAnalysis, Setting, scanned
from banister.core.remark import Figure, fault
from banister.core.rods.rod import Rod
from banister.core.words import Speech
from banister.devices.trace import Trace, read_trace
from banister.job.reading import FileFault

QUIET = (HOLE, UNSURE)
"""Notices that are about the meter, not about the weld."""


def add_parser(commands: Any, say: Speech) -> None:
    """Add `arc` to the command line."""
    p = described(commands, "arc", say)
    p.add_argument("trace", type=Path, metavar="TRACE")
    ask_rod_and_amps(p, say)
    p.add_argument("--window", metavar="LOW..HIGH", help=say("cli.arc.window"))
    p.add_argument("--negative", action="store_true", help=say("cli.arc.negative"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def ask_rod_and_amps(p: argparse.ArgumentParser, say: Speech) -> None:
    """Which rod burns, and at what."""
    p.add_argument("--rod", default="E7018-3.2x350", metavar="ID", help=say("cli.arc.rod"))
    p.add_argument("--amps", type=spelling.number, metavar="A", help=say("cli.arc.amps"))


def rod_and_amps(a: argparse.Namespace, desk: Desk) -> tuple[Rod, float]:
    """The rod of the catalogue that was asked for, and the amps, its own unless said."""
    rod = desk.library.rods_by_id.get(a.rod)
    if rod is None:
        raise UsageFault("cli.fault.arc.rod", text=a.rod)
    amps = rod.amps if a.amps is None else a.amps
    if not 10.0 <= amps <= 1000.0:
        raise UsageFault("cli.fault.arc.amps", text=f"{amps:g}")
    return rod, amps


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Analyse and print."""
    rod, amps = rod_and_amps(a, desk)
    try:
        trace = read_trace(a.trace)
    except OSError as error:
        raise FileFault(fault("file.unreadable", "", detail=Figure(error.strerror or str(error), "name")), file=str(a.trace)) from error
    setting = Setting(amps=amps, volts=rod.volts, rod_amp_s=rod.burn_time_s(amps) * amps, electrode_positive=not a.negative, family=rod.family,
                      window=_window(a.window))  # fmt: skip
    found = scanned(iter(trace.samples), setting)
    print(json.dumps(_document(found), indent=1) if a.json else "\n".join(_lines(found, trace, rod.deposit_g, desk.say)))
    return OUTSIDE if any(n.kind not in QUIET for n in found.notices) else INSIDE


def _window(text: str | None) -> tuple[float | None, float | None]:
    if text is None:
        return None, None
    low, dots, high = text.partition("..")
    try:
        if not dots:
            raise ValueError
        return float(low) if low else None, float(high) if high else None
    except ValueError:
        raise UsageFault("cli.fault.arc.window", text=text) from None


def _lines(found: ArcAnalysis, trace: Trace, deposit_g: float, say: Speech) -> list[str]:
    rows = [[say(f"cli.arc.{key}") for key in ("n", "on", "off", "arcs", "arc", "energy", "volts", "current", "burnt")]]
    for i, rod in enumerate(found.all_rods):
        rows.append([str(i + 1), f"{rod.on_s:.1f}", f"{rod.off_s:.1f}", str(rod.arcs), f"{rod.arc_s:.1f} s", f"{rod.kj:.1f} kJ", f"{rod.v_s / rod.arc_s:.1f} V",
                     f"{rod.amp_s / rod.arc_s:.0f} A", f"{100 * rod.burnt(found.rod_amp_s):.0f} %"])  # fmt: skip
    whole = sum(rod.burnt(found.rod_amp_s) for rod in found.all_rods)
    total = say("cli.arc.total", arc=f"{sum(r.arc_s for r in found.all_rods):.0f}", kj=f"{sum(r.kj for r in found.all_rods):.0f}",
                grams=f"{whole * deposit_g:.0f}", n=len(found.all_rods))  # fmt: skip
    lines = [*columns(rows, left=()), total]
    lines += [say(f"arc.{n.kind}", at=f"{n.t:.1f}", value=_value(n.kind, n.value)) for n in found.notices]
    lines += say.faults(trace.faults[:10])
    return [*lines, say("cli.arc.governs")]


def _value(kind: str, value: float) -> str:
    return f"{100 * value:+.0f} %" if kind == "drift" else f"{100 * value:.0f} %" if kind == "unsure" else f"{value:.1f}"


def _document(found: ArcAnalysis) -> dict[str, Any]:
    rods = found.all_rods
    return {
        "format": "banister-arc", "version": 1, "rods": len(rods), "restarts": found.restarts, "failed_strikes": found.failed,
        "arc_s": round(sum(r.arc_s for r in rods), 2), "energy_kj": round(sum(r.kj for r in rods), 2), "amp_s": round(sum(r.amp_s for r in rods), 1),
        "each": [{"on_s": round(r.on_s, 2), "off_s": round(r.off_s, 2), "arcs": r.arcs, "arc_s": round(r.arc_s, 2), "energy_kj": round(r.kj, 2),
                  "amp_s": round(r.amp_s, 1), "burnt": round(r.burnt(found.rod_amp_s), 3), "filled_s": round(r.filled_s, 2), "unsure": r.is_unsure}
                 for r in rods],
        "notices": [{"kind": n.kind, "t_s": round(n.t, 2), "value": round(n.value, 4)} for n in found.notices],
    }  # fmt: skip
