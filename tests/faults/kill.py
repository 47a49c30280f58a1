"""Kills the program itself while a joint is welded through its page, again and again, and holds the journal to what it had acknowledged.

    .venv/bin/python -m tests.faults.kill [TIMES]     100 times unless said

Every round opens the same job anew, welds on by the keys from where the round before was killed, and is killed by its number
at a moment drawn. It ends with 1 if a record that was shown as kept is not in the journal, or the journal does not hold.
"""

from __future__ import annotations

import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

from banister.job.journal import read_journal
from banister.job.library import data_file

JOINT = "F2"
LATEST_S = 0.6


def weld_on(job: Path) -> None:
    """The round's program: the real window and page, keys as fast as they go; tells how many records are kept after each."""
    from PySide6.QtCore import QSettings, Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from banister.desktop.app.preferences import Preferences
    from banister.desktop.app.window import MainWindow
    from banister.desktop.errands import Direct
    from tests.desktop.conftest import Answers

    app = QApplication([])
    settings = QSettings(str(job.with_suffix(".ini")), QSettings.Format.IniFormat)
    window = MainWindow(Direct(), Answers(), Preferences(settings), job.parent / "recovery")  # type: ignore[arg-type]
    window.files.open_path(job)
    window.store.look(joint_id=JOINT)
    window.weld()
    page = window.opened["weld"]
    keys = random.Random(os.getpid())
    while True:
        key = keys.choice((Qt.Key.Key_Space, Qt.Key.Key_Space, Qt.Key.Key_Space, Qt.Key.Key_Return))
        QTest.keyClick(page, key)
        page.bench.temp(keys.uniform(60.0, 240.0))
        app.processEvents()
        print(len(window.store.records), flush=True)


def one_round(job: Path, draw: random.Random) -> tuple[int, int]:
    """Records acknowledged before the kill, and records the journal holds after it."""
    command = [sys.executable, "-m", "tests.faults.kill", "--weld", str(job)]
    environment = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=environment) as process:
        assert process.stdout is not None
        told = process.stdout.readline()
        try:
            process.wait(draw.uniform(0.0, LATEST_S))
        except subprocess.TimeoutExpired:
            os.kill(process.pid, signal.SIGKILL)
        told += process.stdout.read()
        if process.wait() != -signal.SIGKILL:
            raise SystemExit("the program ended by itself")
    whole = told[: told.rfind(b"\n") + 1].split()
    chain = read_journal(job.with_suffix(".banister-journal"))
    if not chain.whole:
        raise SystemExit(f"the journal does not hold: {chain.fault}")
    return int(whole[-1]), len(chain.records)


def main(times: int) -> int:
    """All rounds; 0 if nothing was lost."""
    draw, lost = random.Random(1), 0
    with tempfile.TemporaryDirectory() as folder:
        job = Path(folder) / "bridge.banister"
        shutil.copy(data_file("demo.banister"), job)
        shutil.copy(data_file("demo.banister-journal"), job.with_suffix(".banister-journal"))
        for _ in range(times):
            acknowledged, kept = one_round(job, draw)
            lost += max(acknowledged - kept, 0)
        print(f"{times} kills, {kept} records in the journal, {lost} lost; {len(list(Path(folder).glob('*.torn-*')))} torn tails set aside")
    return 1 if lost else 0


if __name__ == "__main__":
    if sys.argv[1:2] == ["--weld"]:
        weld_on(Path(sys.argv[2]))
    raise SystemExit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 100))
