"""The page at the joint for tests: opened on the demo with a clock of its own, welded by its keys."""

from __future__ import annotations

import time

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.weld_picture import WeldPicture
from banister.core.drawing.shapes import Text
from banister.desktop.app.window import MainWindow
from banister.desktop.weld.page import WeldPage
from tests.conftest import texts_of


class Clock:
    """Time that passes as the test says."""

    def __init__(self) -> None:
        self.s = time.monotonic() + 10.0

    def __call__(self) -> float:
        return self.s


def opened(demo: MainWindow, clock: Clock) -> WeldPage:
    demo.weld()
    found = demo.opened["weld"]
    assert isinstance(found, WeldPage)
    found.bench.clock = clock
    found.bench.begin_next() if found.bench.passing.state != "stopped" else None
    assert found.isFullScreen()
    found.showNormal()
    found.resize(1280, 800)
    found.isFullScreen = lambda: True  # the screen of the tests is smaller than a notebook's
    QApplication.processEvents()
    found.draw()
    return found


def close(demo: MainWindow) -> None:
    from shiboken6 import isValid

    if isValid(demo.opened["weld"]):
        demo.opened["weld"].close()


def words(page: WeldPage) -> str:
    page.draw()
    return " | ".join(texts_of(page.picture.drawing))


def span(shape: Text) -> tuple[float, float]:
    wide = advance(shape.text, shape.size, shape.face)
    left = shape.at[0] - {"start": 0.0, "middle": wide / 2, "end": wide}[shape.anchor]
    return left, left + wide


def held_inside(page: WeldPage, picture: WeldPicture | None = None) -> list[Text]:
    """The texts of the page, or of a picture of it, none over its edge, no label running into its figure."""
    page.draw()
    drawing = (picture or page.picture).drawing
    x0, y0, x1, y1 = drawing.box
    texts = [shape for shape in drawing.shapes if isinstance(shape, Text)]
    for shape in texts:
        left, right = span(shape)
        assert left >= x0 - 1 and right <= x1 + 1 and y0 <= shape.at[1] <= y1, (page.bench.passing.state, shape.text)
    for label in (t for t in texts if t.id.startswith("label:")):
        figure = next(t for t in texts if t.id == f"figure:{label.id.removeprefix('label:')}")
        assert span(label)[1] < span(figure)[0], f"{label.text} runs into {figure.text}"
    return texts


def burn(page: WeldPage, qtbot: QtBot, clock: Clock, seconds: float, off: float = 12.0) -> None:
    for wait in (seconds, off):
        qtbot.keyClick(page, Qt.Key.Key_Space)
        clock.s += wait
        page.bench.happens("tick")


def weld_pass(page: WeldPage, qtbot: QtBot, clock: Clock, share: float = 1.0) -> None:
    """The lit pass by the keys, so that its rods come to a share of the area asked."""
    p = page.bench.lit
    rods = share * page.bench.asked_mm2(p) * p.length_mm / p.rod.deposit_mm3
    whole = p.rod.burn_time_s(p.amps)
    while rods > 1e-6:
        burn(page, qtbot, clock, whole * min(rods, 1.0))
        rods -= 1.0
    qtbot.keyClick(page, Qt.Key.Key_Return)
    assert page.bench.passing.state == "clean"
    qtbot.keyClick(page, Qt.Key.Key_Return)
    if page.bench.passing.state == "look":
        qtbot.keyClick(page, Qt.Key.Key_Return)
