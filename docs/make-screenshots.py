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
from banister.desktop.lane import DirectLane
from banister.desktop.theme import LIGHT_THEME, dress, load_fonts
from banister.desktop.window import MainWindow

FOLDER = Path(__file__).parent / "screenshots"


def main() -> None:
    """One picture of each main view."""
    app = QApplication([])
    load_fonts()
    dress(app, LIGHT_THEME)
    scratch = Path(tempfile.mkdtemp())
    window = MainWindow(DirectLane(), None, QSettings(str(scratch / "w.ini"), QSettings.Format.IniFormat), scratch)
    window.resize(1280, 800)
    window.show()

    def snap(name: str) -> None:
        for _ in range(3):
            app.processEvents()
        window.grab().save(str(FOLDER / f"{name}.png"))

    snap("start-light")
    window.open_demo()
    window.store.select(window.store.plan.passes[7])
    snap("passes-light")
    window.go_to("procedure")
    snap("procedure-light")
    window.go_to("passes")
    window.show_table()
    window.rail.set_scale("clock")
    window.set_theme(True)
    snap("passes-dark")
    window.go_to("sheet")
    window.show_table()
    window.store.show_joint("P4")
    snap("sheet-dark")
    window.set_theme(False)
    window.rail.set_scale("steps")
    window.toggle_units()
    window.store.show_joint("G1")
    window.go_to("joint")
    snap("joint-inch")
    window.toggle_units()
    window.store.show_joint("F2")
    window.go_to("limits")
    snap("limits-light")
    window.go_to("rods")
    snap("rods-light")
    window.store.edit_joint("Set square butt", preparation="square", root_face_mm=0.0)
    window.go_to("joint")
    snap("blocked-light")
    window.store.undo()
    window.store.show_joint("H1")
    window.go_to("joint")
    snap("both-sides")
    window.store.show_joint("F2")
    window.go_to("heat")
    window.rail.set_scale("clock")
    snap("heat-light")
    window.show_curves()
    window.curves.grab().save(str(FOLDER / "curves.png"))
    window.curves.close()
    window.show_map()
    window.preheat_map.grab().save(str(FOLDER / "preheat-map.png"))
    window.preheat_map.close()
    window.show_preheat_tables()
    window.preheat_tables.grab().save(str(FOLDER / "preheat-tables.png"))
    window.preheat_tables.close()
    window.show_board()
    window.store.edit(replace(window.store.job, shift=Shift(until_s=15.5 * 3600)), "Set shift")
    while window.board.halt.isVisible():
        app.processEvents()
    window.board.list.setCurrentRow(12)
    window.board.grab().save(str(FOLDER / "board.png"))
    window.board.close()
    window.rail.set_scale("steps")
    window.store.show_joint("H1")
    window.show_chooser()
    window.chooser.access.setCurrentIndex(1)
    window.chooser.compare()
    for _ in range(3):
        app.processEvents()
    window.chooser.grab().save(str(FOLDER / "chooser.png"))
    window.chooser.close()
    window.go_to("passes")
    window.resize(1024, 700)
    snap("small-window")


if __name__ == "__main__":
    main()
