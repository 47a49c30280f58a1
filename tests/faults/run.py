"""Puts one-line faults into a copy of the program, one after the other, and names the test that catches each.

    .venv/bin/python -m tests.faults.run [WORD]     only faults whose name holds WORD

It ends with 1 if a fault is caught by no test, or if a line it wants to change is not there any more.
"""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[2]
TIMEOUT_S = 300


@dataclass(frozen=True)
class Fault:
    """A line of a file, what stands there by mistake, and where it ought to be noticed."""

    name: str
    file: str
    line: str
    wrong: str
    tests: tuple[str, ...]


EXPORTS, CHARTS, UNITS = "tests/export/test_exports.py", "tests/core/test_charts.py", "tests/core/test_units.py"
PASSES, CODES, GRID = "tests/desktop/test_passes.py", "tests/test_codes.py", "tests/desktop/test_grid.py"
RAIL_BOX = "Axis(lowest - COLDER_K, highest + HOTTER_K, self.temperature_box[{}], self.temperature_box[{}])"
NOT_REACHED = 'yield Remark(code, {}, who(p) | {{"window": window.figure("seconds")}}'
ARC, HEAT = 'u.text("energy", p.arc_energy_kj_mm)', 'u.text("energy", p.heat_input_kj_mm)'
JOINT = "tests/core/test_countdown.py"
GAP = ",\n                "
FAULTS = (
    Fault("PDF: arc energy and heat input swapped", "export/sheet.py", f"{ARC}{GAP}{HEAT}", f"{HEAT}{GAP}{ARC}", (EXPORTS,)),
    Fault("PDF: heads of the energy columns swapped", "export/sheet.py", '("arc_energy", "energy"), ("heat_input", "energy"))',
          '("heat_input", "energy"), ("arc_energy", "energy"))', (EXPORTS,)),
    Fault("CSV: volts print amps", "export/tables.py", 'f"{p.volts:g}"', 'f"{p.amps:g}"', (EXPORTS,)),
    Fault("PDF: the lines of what is outside are gone", "export/sheet.py", "*(self.line(text, BOLD) for text in lines), ", "", (EXPORTS,)),
    Fault("travel speed in inches wrong by 645", "core/units.py", '"in/min", MM_PER_INCH,', '"in/min", 1 / MM_PER_INCH,', (UNITS,)),
    Fault("an issued plan is ignored on opening", "desktop/derived.py", "if standing is not None:", "if standing is None:", (PASSES,)),
    Fault("limits typed in kJ/in are not converted", "core/typed.py", '"kj/in": 1 / MM_PER_INCH', '"kj/in": 1.0', (UNITS,)),
    Fault("limits typed in inch mode are not converted", "core/typed.py", "return units.metric(kind, float(number))", "return float(number)", (GRID,)),
    Fault("cold lap is never warned of", "core/plan/soundness.py", "if steepest > COLD_LAP_DEG:", "if steepest > 10 * COLD_LAP_DEG:", (CODES,)),
    Fault("the rail's temperature is upside down", "core/drawing/charts/rail.py", RAIL_BOX.format(1, 3), RAIL_BOX.format(3, 1), (CHARTS,)),
    Fault("the rail's limit band has no height", "core/drawing/charts/rail.py", "Rect((x0, bottom, x1, top),", "Rect((x0, bottom, x1, bottom),", (CHARTS,)),
    Fault("t8/5 counts as inside without a schedule", "core/judge/temperatures.py", NOT_REACHED.format("NOT_JUDGED"), NOT_REACHED.format("INSIDE"),
          ("tests/core/test_schedule.py",)),
    Fault("a band is as wide between readings as at them", "core/fitup/line.py", "self.wander * h * u * (1 - u) +", "", ("tests/core/test_fitup.py",)),
    Fault("marks do not follow the mark before", "core/journal.py", 'f"{before}\\n{body}"', 'f"{body}"', ("tests/job/test_journal.py",)),
    Fault("rods of a fixed pipe are counted round the ring", "core/plan/measured.py", "joint.weld_length_mm(height), joint.runs)",
          "joint.weld_length_mm(height))", ("tests/core/test_stops.py",)),
    Fault("a reading says nothing for the countdown", "core/heat/countdown.py", "self._weights * agreement\n", "self._weights * 1.0\n", (JOINT,)),
    Fault("the meter's charge is not believed", "core/follow/facts.py", "            return sum(seen)\n", "            return float(len(self.arc_s))\n",
          (JOINT,)),
    Fault("energy over the length is judged on no length", "core/follow/metered.py", "basis_k(p, quantity) / p.length_mm", "basis_k(p, quantity)", (JOINT,)),
    Fault("the end of a rod is told by no basis", "core/follow/metered.py", "else planned) * basis_k(p, quantity)", "else planned)", (JOINT,)),
    Fault("a line that is gone is held on to", "devices/driver.py", "            if not part:\n                self._drop()",
          "            if not part:\n                pass", ("tests/devices/test_meters.py",)),
)  # fmt: skip


def caught_by(fault: Fault, folder: Path) -> str:
    """The first test that fails with the fault in, '' if none does."""
    path = folder / "src" / "banister" / fault.file
    text = path.read_text(encoding="utf-8")
    if text.count(fault.line) != 1:
        sys.exit(f"{fault.name}: its line is not there once in {fault.file}")
    wrong = text.replace(fault.line, fault.wrong)
    if "INSIDE" in fault.wrong:
        wrong = wrong.replace("import NOT_JUDGED", "import INSIDE, NOT_JUDGED")
    path.write_text(wrong, encoding="utf-8")
    environment = os.environ | {"PYTHONPATH": str(folder / "src"), "QT_QPA_PLATFORM": "offscreen", "PYTHONDONTWRITEBYTECODE": "1"}
    command = [sys.executable, "-m", "pytest", "-q", "-x", "-n", "0", *fault.tests]
    done = subprocess.run(command, cwd=folder, env=environment, capture_output=True, text=True, timeout=TIMEOUT_S, check=False)
    path.write_text(text, encoding="utf-8")
    found = re.search(r"^(?:FAILED|ERROR) (\S+)", done.stdout, re.MULTILINE)
    return found[1] if found is not None else ""


def main(word: str = "") -> int:
    """Run the faults whose name holds a word; 1 if one is not caught."""
    missed = 0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for part in ("src", "tests", "pyproject.toml", "docs"):
            (shutil.copytree if (ROOT / part).is_dir() else shutil.copy)(ROOT / part, folder / part)
        for fault in FAULTS:
            if word in fault.name:
                test = caught_by(fault, folder)
                missed += not test
                print(f"{fault.name}: {test or 'NOT CAUGHT'}", flush=True)
    return min(missed, 1)


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:2]))
