"""A window that was worked in for long beside one that has just opened what it saved: what they show differently is stale.

    python -m tests.faults.twin [MINUTES] [SEED]

Every round some edits, records, other joints, units, themes and windows beside the work; then the job is saved, a second window
opens a copy of it and is shown the same. Ends with 1 where a step or a window beside the work tells something else in them.
What was picked or typed but not taken is the first window's own, and left out (PICKED).
"""

from __future__ import annotations

import collections
import os
import random
import shutil
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QCoreApplication, QEvent, QSettings
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QListWidget, QTableWidget, QTextBrowser, QWidget
from shiboken6 import isValid

from banister.core.joint.heating import Reading
from banister.core.joint.working import AT_ONCE
from banister.core.limits.windows import Window
from banister.core.value import asdict, replace
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.style import dress
from banister.desktop.app.theme import LIGHT_THEME, load_fonts
from banister.desktop.app.views import CLASSES
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import Direct
from banister.desktop.steps.registry import STEPS
from banister.job.files import JobFile
from banister.job.journal import journal_path
from banister.job.library import data_file, demo_job
from banister.job.traces import traces_folder
from tests.desktop.conftest import Answers, choose

VALUES = {
    "root_gap_mm": (2.0, 3.0, 4.0, 9.0), "thickness_mm": (12.0, 20.0, 28.0, 50.0), "root_face_mm": (0.0, 1.5, 60.0), "high_low_mm": (0.0, 2.0),
    "air_c": (0.0, 25.0), "bevel_left_deg": (20.0, 30.0), "length_mm": (300.0, 900.0), "margin_k": (0.0, 40.0),
}  # fmt: skip
NAMES = ("Sill", "Sill, left")
WINDOWS = ("amps", "interpass", "preheat", "t85")
BESIDE = tuple(key for key in CLASSES if key not in ("devices", "improve", "board", "cause", "repair", "reckon"))
"""Those that take long, and those that stay with what they were opened on, are left out."""
STEPS_SHOWN = tuple(one.key for one in STEPS if one.key != "practice")
PICKED = ("after the first arc", "'Kind'", "'Toe'", "Read with", "By (mark)", "Take the last entry back")
NOW_S = 1_900_000_000.0
ROUND = 8


def texts(window: QWidget) -> collections.Counter[tuple[object, ...]]:
    """Every text that is seen in a window, or heard of what is."""
    found = collections.Counter[tuple[object, ...]]()
    for one in (w for w in window.findChildren(QWidget) if w.isVisible() and w.window() is window.window()):
        kind = type(one).__name__
        found.update([(kind, "heard", one.accessibleDescription())] if one.accessibleDescription() else [])
        if isinstance(one, QLabel | QAbstractButton):
            found[kind, one.text(), one.isEnabled()] += bool(one.text())
        elif isinstance(one, QComboBox):
            found[kind, one.accessibleName(), one.currentText(), tuple(one.itemText(i) for i in range(one.count())), one.isEnabled()] += 1
        elif isinstance(one, QLineEdit) and one.accessibleName():  # not the line inside a field of the time
            found[kind, one.accessibleName(), one.text(), one.isEnabled()] += 1
        elif isinstance(one, QListWidget):
            found[kind, tuple(one.item(i).text() for i in range(one.count()))] += 1
        elif isinstance(one, QTextBrowser):
            found[kind, one.toPlainText()] += 1
        elif isinstance(one, QTableWidget):
            found[kind, tuple(item.text() for i in range(one.rowCount()) for j in range(one.columnCount()) if (item := one.item(i, j)) is not None)] += 1
    return found


class Twin:
    """Somebody who works for long, and somebody who opens what was saved."""

    def __init__(self, seed: int, folder: Path) -> None:
        self.draw, self.folder, self.did, self.rounds, self.stale = random.Random(seed), folder, list[str](), 0, 0
        self.app = QApplication.instance() or QApplication([])
        load_fonts()
        dress(self.app, LIGHT_THEME)  # type: ignore[arg-type]
        self.brought: dict[Any, list[Any]] = {}
        self.job = folder / "used" / "job.banister"
        self.job.parent.mkdir()
        JobFile(self.job).save(demo_job())
        demo = data_file("demo.banister")
        shutil.copyfile(journal_path(demo), journal_path(self.job))
        shutil.copytree(traces_folder(demo), traces_folder(self.job))
        self.used = self.opened(self.job)
        self.acts: tuple[Callable[[], object], ...] = (
            self.figure, self.figure, self.name, self.window, self.reading, self.rod, self.record, self.welded, self.joint, self.joint, self.beside,
            self.beside, self.selected, self.observation, self.copied, self.used.store.undo, self.used.store.redo, self.used.store.issue,
            self.used.toggle_units, self.used.toggle_theme, self.step, self.answer,
        )  # fmt: skip

    def opened(self, job: Path) -> MainWindow:
        """A window on a job; what one of them had computed is known to the other."""
        settings = QSettings(str(job.with_suffix(".ini")), QSettings.Format.IniFormat)
        window = MainWindow(Direct(self.brought), Answers(), Preferences(settings), job.parent / "recovery")  # type: ignore[arg-type]
        window.store._clock = lambda: NOW_S
        window.files.open_path(job)
        window.show()
        return window

    # --- what is done -------------------------------------------------------------------------
    def figure(self) -> None:
        key = self.draw.choice(list(VALUES))
        self.used.store.set_figure(key, self.draw.choice(VALUES[key]))

    def name(self) -> None:
        self.used.store.edit_joint("Name", name=self.draw.choice(NAMES))

    def window(self) -> None:
        quantity, joint = self.draw.choice(WINDOWS), self.used.store.joint
        own = Window(quantity=quantity, low=self.draw.choice((None, 80.0)), high=self.draw.choice((150.0, 200.0)))
        self.used.store.edit_joint("Window", windows=(*(w for w in joint.working.windows if w.quantity != quantity), own))

    def reading(self) -> None:
        read = Reading(at_s=self.draw.choice((600.0, 3000.0)), x_mm=10.0, temp_c=self.draw.choice((90.0, 140.0)))
        self.used.store.edit_joint("Reading", readings=(read,))

    def rod(self) -> None:
        store = self.used.store
        store.edit(store.job.with_rod(replace(self.draw.choice(store.job.rods), burn_off_g_ah=self.draw.choice((7.5, 8.2, 9.0)))), "Rod")

    def answer(self) -> None:
        self.used.store.choose(self.draw.choice(AT_ONCE))

    def record(self) -> None:
        self.used.logbook.write("temp", self.used.store.joint.id, c=float(self.draw.randrange(50, 250)))

    def welded(self) -> None:
        """The next pass of the issued plan, beads a tenth too large."""
        now = self.used.store.now
        if now.issued is None:
            return
        done = set(now.told.ended) if now.told is not None else set()
        left = next((p for p in now.issued.plan.passes if p.key not in done), None)
        if left is not None:
            write = self.used.logbook.write
            write("pass-begun", now.joint.id, left.key, rod=left.rod.id, amps=left.amps)
            write("rod", now.joint.id, left.key, arc_s=60.0, run_out_mm=0.9 * left.run_out_mm)
            write("pass-ended", now.joint.id, left.key, left=0.0)

    def joint(self) -> None:
        self.used.store.look(joint_id=self.draw.choice(self.used.store.job.joints).id)

    def step(self) -> None:
        self.used.go_to(self.draw.choice(STEPS_SHOWN))

    def selected(self) -> None:
        plan = self.used.store.now.plan
        if plan is not None and plan.passes:
            self.used.store.select(self.draw.choice(plan.passes))

    def observation(self) -> None:
        shown = self.used.store.inspection
        if shown is not None and shown.found.seen:
            one = self.draw.choice(shown.found.seen)
            self.used.store.look(inspect_seen=one.id, inspect_mm=one.s_mm)

    def copied(self) -> None:
        """Another joint like this one, now and then; or one less."""
        joints = len(self.used.store.job.joints)
        if self.draw.random() < 0.2:
            self.used.menus.actions["copy_joint" if joints < 6 else "drop_joint"].trigger()

    def beside(self) -> None:
        """One more window beside the work, or one less."""
        there = self.there()
        if len(there) > 3:
            self.used.opened[self.draw.choice(there)].close()
        else:
            self.used.open_view(self.draw.choice(BESIDE))

    def there(self) -> list[str]:
        """The windows beside the work that are open."""
        return [key for key, view in self.used.opened.items() if key in BESIDE and isValid(view) and view.isVisible()]

    # --- what is shown ------------------------------------------------------------------------
    def settle(self) -> None:
        for _ in range(4):
            self.app.processEvents()  # type: ignore[attr-defined]
            QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    def compare(self) -> None:
        """Go through all steps, turn to other units, save, open the copy beside it, and go through all that is shown."""
        used, store = self.used, self.used.store
        for step in STEPS_SHOWN:
            used.go_to(step)
            self.settle()
        used.toggle_units()
        store.settle()
        store.look(joint_id=store.joint.id)  # what the last edit did is no more said
        while used.notices.shown is not None:
            used.notices.dismiss()
        if not used.save():
            raise RuntimeError("what is shown could not be saved")
        used.tell("")
        copy = self.folder / f"fresh-{self.rounds}" / self.job.name
        shutil.copytree(self.job.parent, copy.parent, ignore=shutil.ignore_patterns("recovery", "*.ini", "*lock*"))
        fresh = self.opened(copy)
        fresh.resize(used.size())
        fresh.store.look(**asdict(store.view))
        for step in ("passes", *STEPS_SHOWN):  # the first has what lies between the answers worked out
            for window in (used, fresh):
                window.go_to(step)
                if step == "inspect":
                    choose(window.work.panel(step).kind, "100")  # what was picked there stays; its fields are asked for by it
            self.settle()
            self.differences(step, used, fresh)
        for key in self.there():
            fresh.open_view(key)
            self.settle()
            self.differences(key, used.opened[key], fresh.opened[key])
            fresh.opened[key].close()
        fresh.close()
        fresh.deleteLater()
        self.settle()
        shutil.rmtree(copy.parent)
        self.rounds += 1

    def differences(self, where: str, used: QWidget, fresh: QWidget) -> None:
        old, new = texts(used), texts(fresh)
        told = [f"{who}: {what}" for who, found in (("used ", old - new), ("fresh", new - old)) for what in found]
        told = [one for one in told if not any(word in one for word in PICKED)]
        if told:
            self.stale += 1
            print(f"{where} of {self.used.store.joint.id} after {', '.join(self.did[-2 * ROUND :])}", *sorted(told), sep="\n    ")

    def go(self, minutes: float) -> int:
        """Until the time is up."""
        until = time.monotonic() + 60 * minutes
        while time.monotonic() < until:
            for act in self.drawn():
                act()
                self.settle()
            self.compare()
        print(f"{self.rounds} rounds, {self.stale} times something stale")
        return int(self.stale > 0)

    def drawn(self) -> Iterator[Callable[[], object]]:
        for _ in range(ROUND):
            act = self.draw.choice(self.acts)
            self.did.append(act.__name__)
            yield act


if __name__ == "__main__":
    minutes, seed = (float(sys.argv[1]) if len(sys.argv) > 1 else 10.0), (int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    with tempfile.TemporaryDirectory() as name:
        os.environ["XDG_DATA_HOME"] = str(Path(name) / "data")
        result = Twin(seed, Path(name)).go(minutes)
        sys.stdout.flush()
        os._exit(result)  # the first window stays open: nothing of it is asked about
