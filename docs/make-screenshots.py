"""Makes docs/screenshots from the demo: `.venv/bin/python docs/make-screenshots.py`."""

from __future__ import annotations

import os
import tempfile
from dataclasses import replace
from pathlib import Path

os.environ |= {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": "1", "QT_FONT_DPI": "96"}

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication

from banister.core.heat.shift import Shift
from banister.desktop.app.dialogs import QtDialogs
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.theme import LIGHT_THEME, dress, load_fonts
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import Direct

FOLDER = Path(__file__).parent / "screenshots"


SIZES = {"stops": (1120, 720), "curves": (980, 700), "board": (1200, 740), "chooser": (1180, 720), "tables": (860, 470)}
"""Of the windows beside the work: the screen of no monitor is small."""


def main() -> None:
    """One picture of each main view."""
    app = QApplication([])
    load_fonts()
    dress(app, LIGHT_THEME)
    scratch = Path(tempfile.mkdtemp())
    preferences = Preferences(QSettings(str(scratch / "w.ini"), QSettings.Format.IniFormat))
    window = MainWindow(Direct(), QtDialogs(), preferences, scratch)
    window.resize(1280, 800)
    window.show()

    def snap(name: str) -> None:
        for _ in range(3):
            app.processEvents()
        window.grab().save(str(FOLDER / f"{name}.png"))

    def view(key: str, name: str) -> None:
        window.open_view(key)
        window.opened[key].resize(*SIZES.get(key, (940, 640)))
        for _ in range(3):
            app.processEvents()
        window.opened[key].grab().save(str(FOLDER / f"{name}.png"))
        window.opened[key].close()

    store = window.store
    snap("start-light")
    window.open_demo()
    store.select(store.now.plan.passes[7])
    snap("passes-light")
    window.go_to("procedure")
    snap("procedure-light")
    window.go_to("passes")
    window.work.show_table()
    window.rail.set_scale(True)
    window.toggle_theme()
    snap("passes-dark")
    window.store.look(step="passes", checking=True)
    window.work.show_table()
    store.look(joint_id="P4")
    snap("sheet-dark")
    window.toggle_theme()
    window.rail.set_scale(False)
    window.toggle_units()
    store.look(joint_id="G1")
    window.go_to("joint")
    snap("joint-inch")
    window.toggle_units()
    store.look(joint_id="F2")
    window.go_to("limits")
    snap("limits-light")
    window.go_to("fitup")
    window.work.batten.point_to(420.0)
    snap("fitup-light")
    window.go_to("rods")
    snap("rods-light")
    store.edit_joint("Set square butt", key="square", root_face_mm=0.0)
    window.go_to("joint")
    snap("blocked-light")
    store.undo()
    store.look(joint_id="H1")
    window.go_to("joint")
    snap("both-sides")
    store.look(joint_id="F2")
    window.go_to("heat")
    window.rail.set_scale(True)
    snap("heat-light")
    view("curves", "curves")
    store.select(store.now.plan.passes[10])
    view("stops", "stops")
    store.select(None)
    view("map", "preheat-map")
    view("tables", "preheat-tables")
    store.edit(replace(store.job, shift=Shift(until_s=15.5 * 3600)), "Set shift")
    view("board", "board")
    window.rail.set_scale(False)
    store.look(joint_id="H1")
    window.open_view("chooser")
    chooser = window.opened["chooser"]
    chooser.resize(*SIZES["chooser"])
    chooser.access.setCurrentIndex(1)
    chooser.compare()
    app.processEvents()
    chooser.grab().save(str(FOLDER / "chooser.png"))
    chooser.close()
    window.go_to("passes")
    window.resize(1024, 700)
    snap("small-window")
    store.session.mark_saved()
    window.close()


if __name__ == "__main__":
    main()
