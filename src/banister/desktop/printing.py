"""Printing the pass sheet: the PDF goes to the system's printing command, or is opened to be printed."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.export.pdf import pass_sheets

if TYPE_CHECKING:
    from banister.desktop.window import MainWindow


def print_sheet(window: MainWindow, joint: Joint, plan: Plan) -> None:
    """Send the sheet to the default printer; say what to do where there is none."""
    job = window.store.job
    assert job is not None
    command = shutil.which("lp")
    if command is None:
        window.say("No printing command (lp) on this machine: save the sheet as PDF and print that.", True)
        return
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"{joint.id}.pdf"
        path.write_bytes(pass_sheets(job, [(joint, plan)], window.store.units, "A4", window.store.habit, {joint.id: window.store.covered}))
        done = subprocess.run([command, str(path)], capture_output=True, text=True, check=False, timeout=20)
    window.say(done.stdout.strip() or done.stderr.strip(), done.returncode != 0)
