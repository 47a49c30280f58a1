"""An etched section in the real window: a photo laid over the plan by clicks, beads traced, kept, found again; test pieces dragged and printed."""

from __future__ import annotations

import math
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPolygonF
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.core.inspect.etched import mark_points
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.inspect.etched_view import EtchedDialog, EtchedWidget
from banister.desktop.steps.inspect.pieces_view import PiecesDialog
from banister.job.photos import photo_told
from banister.job.reading import FileFault
from tests.conftest import shapes_of, texts_of
from tests.core.test_charts import collisions
from tests.desktop.conftest import Answers, choose, step

MM_PX, TURN, WIDE, HIGH = 0.04, math.radians(3.0), 1200, 900


def pixel(x: float, y: float) -> QPointF:
    """Where a point of the section lies in the photo."""
    c, s = math.cos(TURN), math.sin(TURN)
    return QPointF(WIDE / 2 + (x * c - y * s) / MM_PX, 0.75 * HIGH - (x * s + y * c) / MM_PX)


@pytest.fixture
def etched(demo: MainWindow, tmp_path: Path, dialogs: Answers, qtbot: QtBot) -> EtchedDialog:
    """The etched section of the demo's pipe, its photo chosen."""
    demo.logbook.folder = tmp_path / "data"
    demo.store.look(joint_id="P4")
    step(demo, "inspect")
    image = QImage(WIDE, HIGH, QImage.Format.Format_RGB32)
    image.fill(QColor("#777777"))
    painter = QPainter(image)
    for p in demo.store.now.welded_plan.passes:
        painter.drawPolygon(QPolygonF([pixel(*point) for point in p.outline_mm]))
    painter.end()
    dialogs.path = tmp_path / "etched.png"
    assert image.save(str(dialogs.path))
    demo.open_view("etched")
    view = demo.opened["etched"]
    view.side.choose.click()
    read(qtbot, view)
    return view


def read(qtbot: QtBot, view: EtchedDialog) -> EtchedDialog:
    """A window whose photo has been read."""
    qtbot.waitUntil(lambda: not view.reading.is_reading)
    return view


def click(qtbot: QtBot, picture: EtchedWidget, x: float, y: float) -> None:
    k, left, top = picture._fit
    at = pixel(x, y)
    qtbot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=QPoint(round(left + k * at.x()), round(top + k * at.y())))


def test_a_photo_is_laid_over_the_plan_traced_kept_and_found_again(demo: MainWindow, etched: EtchedDialog, qtbot: QtBot) -> None:
    picture, side, joint = etched.picture, etched.side, demo.store.joint
    assert picture.photo is not None and "left edge at the face" in side.next.text() and not side.keep.isEnabled()
    for name, (x, y) in mark_points(joint).items():
        assert picture.next_mark == name
        click(qtbot, picture, x, y)
    assert picture.overlay.mm_per_px == pytest.approx(MM_PX, rel=0.02) and picture.overlay.turn_deg == pytest.approx(-3.0, abs=0.3)
    before = picture.marks["root.right"]
    qtbot.keyClick(picture, Qt.Key.Key_Right)
    assert picture.marks["root.right"] == (before[0] + 1.0, before[1]), "the last mark by a pixel"
    side.trace.click()
    plan = demo.store.now.welded_plan
    for p in plan.passes[:3]:
        for x, y in p.outline_mm:
            click(qtbot, picture, x, y)
        click(qtbot, picture, 0.0, 0.0)
        qtbot.keyClick(picture, Qt.Key.Key_Backspace)
        qtbot.keyClick(picture, Qt.Key.Key_Return)
    assert [side.list.item(i).text() for i in range(3)] == ["bead 1: R1", "bead 2: H2", "bead 3: F3"] and "3 beads matched" in etched.title.text()
    said = side.said.text()
    assert "not traced: passes 4, 5, 6, 7, 8" in said and "left wall" in said
    assert {"planned:p1", "traced:0"} <= {getattr(s, "id", "") for s in shapes_of(picture.drawing)} and "1" in texts_of(picture.drawing)
    side.list.setCurrentRow(2)
    choose(side.is_pass, plan.passes[3].key)
    assert side.list.item(2).text() == "bead 3: F4", "by hand"
    side.keep.click()
    record = demo.store.records[-1]
    assert record.k == "etched" and record.d["photo"]["path"].endswith("etched.png") and len(record.d["traced"]) == 3
    etched.close()
    demo.open_view("etched")
    again = read(qtbot, demo.opened["etched"])
    assert again.side.file.text() == "etched.png: as it was taken in" and len(again.picture.traced) == 3 and again.named == {2: plan.passes[3].key}
    page = " ".join(step(demo, "record").state.text().split())
    assert f"Etched section {record.n}: 3 beads matched" in page
    for key, shown in ((Qt.Key.Key_Space, "photo"), (Qt.Key.Key_Space, "plan"), (Qt.Key.Key_Space, "both")):
        qtbot.keyClick(again.picture, key)
        assert again.picture.shown == shown


def test_a_thin_line_of_a_large_photo_is_whole_where_it_is_shown_small(etched: EtchedDialog, qtbot: QtBot, tmp_path: Path) -> None:
    image = QImage(4000, 1200, QImage.Format.Format_RGB32)
    image.fill(QColor("#888888"))
    painter = QPainter(image)
    painter.drawLine(1000, 0, 1800, 1200)
    painter.end()
    assert image.save(str(tmp_path / "large.png"))
    etched.open_photo(tmp_path / "large.png")
    picture = read(qtbot, etched).picture
    k, left, top = picture._fit
    shown = picture.grab().toImage()
    line = [(round(left + k * (1000 + y * 2 / 3)), round(top + k * y)) for y in range(20, 1180, 5)]
    assert k < 0.25 and all(any(shown.pixelColor(x + dx, y).red() < 0x86 for dx in (-2, -1, 0, 1, 2)) for x, y in line)


def test_a_crossed_outline_is_refused_and_a_photo_that_changed_is_said(demo: MainWindow, etched: EtchedDialog, qtbot: QtBot, dialogs: Answers) -> None:
    picture, side = etched.picture, etched.side
    choose(side.by_what, "faces")
    t = demo.store.joint.prep.thickness_mm
    for x, y in ((-12, t), (12, t), (-12, 0), (12, 0), mark_points(demo.store.joint)["face.left"]):
        click(qtbot, picture, x, y)
    assert picture.overlay.mm_per_px == pytest.approx(MM_PX, rel=0.02), "by both faces"
    side.trace.click()
    for x, y in ((-2, 4), (2, 9), (2, 4), (-2, 9)):
        click(qtbot, picture, x, y)
    qtbot.keyClick(picture, Qt.Key.Key_Return)
    assert "crosses itself" in side.bad.text() and not picture.traced and len(picture.tracing) == 4, "nothing of it is lost"
    side.keep.click()
    etched.close()
    dialogs.path.write_bytes(dialogs.path.read_bytes() + b"x")
    demo.open_view("etched")
    assert "another than was taken in" in read(qtbot, demo.opened["etched"]).side.file.text()
    demo.opened["etched"].close()
    dialogs.path.unlink()
    demo.open_view("etched")
    again = read(qtbot, demo.opened["etched"])
    assert "not where it was" in again.side.file.text() and again.picture.photo is None
    with pytest.raises(FileFault):
        photo_told(Path(__file__), None)
    again.open_photo(Path(__file__))
    assert again.side.file.text() == demo.store.say("etched.reading")
    assert "no picture" in read(qtbot, again).side.bad.text() and "not where it was" in again.side.file.text()
    again.open_photo(dialogs.path.with_name("none.png"))
    demo.store.look(joint_id="F2")
    QApplication.processEvents()
    assert not again.side.bad.text(), "what was asked for another joint is no longer wanted"


def test_test_pieces_are_cut_dragged_put_back_and_printed(demo: MainWindow, qtbot: QtBot, dialogs: Answers, tmp_path: Path) -> None:
    step(demo, "inspect")
    demo.open_view("pieces")
    view = demo.opened["pieces"]
    assert isinstance(view, PiecesDialog) and view.rules and view.picture.cuts
    demo.store.look(joint_id="G1")
    QApplication.processEvents()
    assert len(view.picture.cuts) == 4 and collisions(view.picture.chart.drawing) == [], "numbers of narrow pieces do not run together"
    demo.store.look(joint_id="F2")
    picture, best = view.picture, view.picture.cuts
    QApplication.processEvents()
    y = picture.height() // 2
    x0, x1 = (round(v) for v in picture.chart.slips[1])
    qtbot.mousePress(picture, Qt.MouseButton.LeftButton, pos=QPoint((x0 + x1) // 2, y))
    qtbot.mouseMove(picture, QPoint((x0 + x1) // 2 - 30, y))
    qtbot.mouseRelease(picture, Qt.MouseButton.LeftButton, pos=QPoint((x0 + x1) // 2 - 30, y))
    assert picture.cuts[0].from_mm < best[0].from_mm - 5 and "takes" in view.list.item(0).text() and "pieces take of" in view.title.text()
    qtbot.keyClick(picture, Qt.Key.Key_Down)
    lay = list[float]()
    while len(lay) < 2 or lay[-1] != lay[-2]:
        qtbot.keyClick(picture, Qt.Key.Key_Right)
        lay.append(picture.cuts[1].from_mm)
    held, beyond = picture.cuts[1:3]
    assert "goes no further" in view.title.text() and held.from_mm + held.width_mm <= beyond.from_mm, "its neighbour is there"
    qtbot.keyClick(picture, Qt.Key.Key_Left)
    assert picture.held == 2 and view.list.currentRow() == 1 and picture.cuts[1].from_mm == pytest.approx(lay[-1] - 0.5)
    dialogs.path = tmp_path / "pieces.pdf"
    view.sheet.click()
    assert dialogs.path.read_bytes().startswith(b"%PDF")
    qtbot.keyClick(picture, Qt.Key.Key_O)
    assert picture.cuts == best
    demo.store.look(joint_id="P4")
    assert view.rules and len(view.picture.cuts) >= 2, "a pipe has rules of its own"
