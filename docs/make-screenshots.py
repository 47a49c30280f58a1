"""Makes docs/screenshots from the demo: `.venv/bin/python docs/make-screenshots.py`."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from banister.core.value import replace

os.environ |= {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": "1", "QT_FONT_DPI": "96"}

from PySide6.QtCore import QSettings
from PySide6.QtGui import QColor, QPainter, QPixmap
from PySide6.QtWidgets import QApplication

from banister.core.heat.shift import Shift
from banister.desktop.app.dialogs import QtDialogs
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.style import dress
from banister.desktop.app.theme import LIGHT_THEME, load_fonts
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import Direct

FOLDER = Path(__file__).parent / "screenshots"


SIZES = {"stops": (1120, 720), "curves": (980, 700), "board": (1200, 740), "chooser": (1180, 720), "tables": (860, 470),
         "cause": (1120, 700), "repair": (1200, 740), "list": (1180, 560), "film": (1180, 640), "pieces": (1120, 560), "improve": (1180, 680),
         "play": (1180, 720)}  # fmt: skip
"""Of the windows beside the work: the screen of no monitor is small."""


def stacked(pictures: list[QPixmap]) -> QPixmap:
    """Pictures one under the other."""
    whole = QPixmap(max(p.width() for p in pictures), sum(p.height() for p in pictures) + 12 * (len(pictures) - 1))
    whole.fill(QColor("#9aa0a4"))
    painter, y = QPainter(whole), 0
    for picture in pictures:
        painter.drawPixmap(0, y, picture)
        y += picture.height() + 12
    painter.end()
    return whole


def weld_page(window: MainWindow, stacked_: Callable[[list[QPixmap]], QPixmap]) -> QPixmap:
    """The page at the joint before the arc, under it, and at the look after it, with a simulated welder."""
    app, now = QApplication.instance(), [0.0]
    window.weld(simulate=(10.0, 1.1, ""))
    page = window.opened["weld"]
    page.resize(1280, 800)
    page._timer.stop()
    page._listening.stop()
    page.bench.clock = lambda: now[0]
    page.bench.begin_next()
    page.welder.meter.arc.t = now[0]
    page.bench.temp(118.0)
    found = []

    def until(*states: str) -> None:
        for _ in range(5000):
            now[0] += 1.0
            page._tick()
            if page.bench.passing.state in states and (states != ("change",) or page.welder.rods_left <= 1e-6):
                return

    def taken() -> None:
        page.draw()
        app.processEvents()
        found.append(page.grab())

    taken()
    until("arc")
    for _ in range(40):
        now[0] += 1.0
        page._tick()
    taken()
    until("change")
    page.bench.enter()
    taken()
    page.close()
    return stacked_(found)


def bench_pages(window: MainWindow) -> list[QPixmap]:
    """The practice bench under the arc, and with the ruler after it."""
    app, now, found = QApplication.instance(), [0.0], []
    panel = window.work.panel("practice")
    panel.go_to_bench()
    page = window.opened["practice bench"]
    page._timer.stop()
    page.clock = lambda: now[0]
    page.space()
    for seconds, act in ((21.3, page.draw), (62.0, page.space)):
        now[0] = seconds
        act()
        app.processEvents()
        found.append(page.grab())
    page.let_go()
    page.close()
    return found


def play_pages(window: MainWindow) -> list[QPixmap]:
    """A bead by hand beside the plan's, and a place that was reckoned."""
    app = QApplication.instance()
    window.open_view("play")
    play = window.opened["play"]
    play.resize(*SIZES["play"])
    app.processEvents()
    play.begin(6)
    play.sound.setChecked(True)
    play.aim(-3.0)
    play.amps.setValue(96)
    play.speed.setValue(92)
    app.processEvents()
    found = [play.grab()]
    play.close()
    window.open_view("reckon")
    reckon = window.opened["reckon"]
    reckon.resize(*SIZES["play"])
    app.processEvents()
    reckon.what.box.setCurrentIndex(2)
    reckon.ask()
    reckon.guess_place(-3.0)
    reckon.tell()
    app.processEvents()
    found.append(reckon.grab())
    reckon.close()
    return found


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

    def shown() -> QPixmap:
        for _ in range(3):
            app.processEvents()
        return window.grab()

    def snap(name: str) -> None:
        shown().save(str(FOLDER / f"{name}.png"))

    def opened(key: str) -> QPixmap:
        window.open_view(key)
        window.opened[key].resize(*SIZES.get(key, (940, 640)))
        for _ in range(3):
            app.processEvents()
        picture = window.opened[key].grab()
        window.opened[key].close()
        return picture

    def film_picture() -> QPixmap:
        window.open_view("film")
        film = window.opened["film"]
        film.resize(*SIZES["film"])
        app.processEvents()
        film.picture.to(0.63 * film.picture.film.length_s)
        picture = film.grab()
        film.close()
        return picture

    store = window.store
    start = shown()
    window.open_demo()
    store.select(store.now.plan.passes[7])
    snap("passes-light")
    window.go_to("procedure")
    procedure = shown()
    window.go_to("passes")
    window.work.show_table()
    window.rail.set_scale(True)
    window.toggle_theme()
    table = shown()
    window.work.show_table()
    window.rail.set_scale(False)
    store.look(joint_id="H1")
    store.select(None)
    window.work.panel("passes").front.picked.emit(store.now.front[9].answer)
    stacked([table, shown()]).save(str(FOLDER / "passes-dark.png"))
    store.undo()
    window.rail.set_scale(True)
    window.store.look(step="passes", checking=True)
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
    stacked([shown(), procedure]).save(str(FOLDER / "limits.png"))
    window.go_to("fitup")
    window.work.batten.point_to(420.0)
    snap("fitup-light")
    store.look(tacking=True, tack=2)
    tacks = shown()
    store.look(tacking=False, tack=0)
    window.go_to("rods")
    chosen = shown()
    store.look(racking=True)
    stacked([chosen, shown()]).save(str(FOLDER / "rods.png"))
    store.look(racking=False, joint_id="P4", ring=True)
    window.go_to("fitup")
    window.work.batten.point_to(store.joint.fitup.readings[5].s_mm)
    stacked([tacks, shown(), opened("turn")]).save(str(FOLDER / "fitup-more.png"))
    store.look(ring=False, joint_id="F2")
    store.edit_joint("Set square butt", key="square", root_face_mm=0.0)
    window.go_to("joint")
    blocked = shown()
    store.undo()
    store.look(joint_id="H1")
    window.go_to("joint")
    stacked([shown(), blocked]).save(str(FOLDER / "joint-more.png"))
    store.look(joint_id="F2")
    window.go_to("heat")
    window.rail.set_scale(True)
    snap("heat-light")
    stacked([film_picture(), opened("curves"), opened("map"), opened("tables")]).save(str(FOLDER / "heat-more.png"))
    store.select(store.now.plan.passes[10])
    stops = opened("stops")
    store.select(None)
    stacked([stops, opened("sure")]).save(str(FOLDER / "stops.png"))
    store.edit(replace(store.job, shift=Shift(until_s=15.5 * 3600)), "Set shift")
    stacked([opened("board"), opened("list")]).save(str(FOLDER / "board.png"))
    window.rail.set_scale(False)
    store.look(joint_id="H1")
    window.open_view("chooser")
    chooser = window.opened["chooser"]
    chooser.resize(*SIZES["chooser"])
    chooser.access.setCurrentIndex(1)
    chooser.compare()
    app.processEvents()
    compared = chooser.grab()
    chooser.close()
    store.look(joint_id="F2")
    stacked([compared, opened("improve")]).save(str(FOLDER / "chooser.png"))
    store.look(joint_id="P4")
    window.go_to("inspect")
    seen = store.inspection.found.seen
    store.look(inspect_seen=seen[0].id, inspect_mm=seen[0].s_mm)
    strip, why = shown(), opened("cause")
    store.look(inspect_seen=seen[-1].id)
    repair, pieces = opened("repair"), opened("pieces")
    store.look(ring=True)
    stacked([strip, shown(), why, pieces, repair]).save(str(FOLDER / "inspect.png"))
    store.look(ring=False)
    window.go_to("record")
    stacked([shown(), opened("book")]).save(str(FOLDER / "record.png"))
    store.look(joint_id="G1")
    window.go_to("weld")
    stacked([shown(), weld_page(window, stacked)]).save(str(FOLDER / "weld.png"))
    window.go_to("practice")
    session = shown()
    bench = bench_pages(window)
    store.look(joint_id="F2")
    stacked([session, *bench, *play_pages(window)]).save(str(FOLDER / "practice.png"))
    store.look(joint_id="H1")
    window.go_to("passes")
    window.resize(1024, 700)
    stacked([start, shown()]).save(str(FOLDER / "start-light.png"))
    store.session.mark_saved()
    window.close()


if __name__ == "__main__":
    main()
