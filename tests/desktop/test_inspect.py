"""Inspection in the real window: what is seen is kept at its place, refused at its field, judged at once, and never lost."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.core.drawing.shapes import Lines, Rect
from banister.core.inspect.kinds import FACE, LINES, ROOT
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.inspect.panel import InspectPanel
from banister.desktop.steps.inspect.strip_view import StripWidget
from banister.desktop.steps.registry import STEPS_BY_KEY, StepState
from tests.conftest import shapes_of, texts_of
from tests.desktop.conftest import choose, step


@pytest.fixture
def panel(demo: MainWindow, tmp_path: Path) -> Iterator[InspectPanel]:
    demo.logbook.folder = tmp_path / "data"
    demo.store.look(joint_id="F2", inspect_set="iso5817-c")
    found = step(demo, "inspect")
    assert isinstance(found, InspectPanel)
    yield found


@pytest.fixture
def strip(demo: MainWindow, panel: InspectPanel) -> StripWidget:
    found = demo.work.strip
    found.setFocus()
    QApplication.processEvents()
    return found


def filled(panel: InspectPanel, kind: str, **figures: str) -> None:
    panel.new()
    choose(panel.kind, kind)
    for name, text in figures.items():
        field = panel.place if name == "place" else panel.fields.get(name)
        if field is not None:
            field.edit.setText(text)
        else:
            choose(getattr(panel, name), text)


def words(strip: StripWidget) -> str:
    return " | ".join(texts_of(strip.drawing))


def test_what_is_seen_is_kept_judged_replaced_and_taken_back(demo: MainWindow, panel: InspectPanel, strip: StripWidget) -> None:
    store = demo.store
    assert "Not complete" in panel.result.text() and demo.work.section.isHidden() and strip.isVisible()
    assert STEPS_BY_KEY["inspect"].state(store.now) == StepState("nothing looked at")
    filled(panel, "5011", place="620", toe="right", length="22", depth="0.6", gauge="dial")
    assert panel.fields["depth"].isVisibleTo(panel) and not panel.fields["angle"].isVisibleTo(panel), "the fields the kind needs, and no others"
    panel.keep.click()
    (one,) = store.inspection.found.seen
    assert (one.kind, one.s_mm, one.length, one.depth, one.toe, one.gauge) == ("5011", 620.0, 22.0, 0.6, "right", "dial")
    assert panel.result.text() == "Reject: undercut, continuous, 0.6 mm at 620 mm, 0.5 mm allowed." and store.view.inspect_seen == one.id
    demo.toggle_units()
    panel.keep.click()
    (same,) = store.inspection.found.seen
    assert (same.s_mm, same.length, same.depth) == (620.0, 22.0, 0.6) and panel.place.edit.text() == "24.41", "kept again in inches, nothing of it moves"
    panel.take_back()
    demo.toggle_units()
    store.look(inspect_seen=one.id)
    assert "u | 0.6" in words(strip) and "section at 620 mm" in words(strip)
    shapes = shapes_of(strip.drawing)
    assert any(isinstance(s, Lines) and s.id == f"outside:{one.id}" and s.segments for s in shapes), "outside is hatched, not coloured only"
    panel.fields["depth"].edit.setText("0.4")
    panel.keep.click()
    (again,) = store.inspection.found.seen
    assert again.depth == 0.4 and again.replaces == one.id and any(r.n == one.id for r in store.records), "replaced; the old one stays in the journal"
    assert "0.5 mm" in panel.lines.list.item(0).text() and "accept" in panel.lines.list.item(0).text()
    panel.take_back()
    assert [o.depth for o in store.inspection.found.seen] == [0.6] and store.view.inspect_seen == 0, "what replaced it taken back, it is as it was"
    store.look(inspect_seen=one.id)
    assert panel.fields["depth"].edit.text() == "0.6"
    choose(panel.side, "root")
    assert store.view.inspect_seen == 0
    assert panel.fields["depth"].edit.text() == panel.fields["length"].edit.text() == "", "not ready to be kept on the other side"
    store.look(inspect_side="face", inspect_seen=one.id)
    panel.take_back()
    assert store.inspection.found.seen == ()


def test_what_cannot_be_is_said_at_its_field_and_writes_nothing(demo: MainWindow, panel: InspectPanel) -> None:
    count = len(demo.store.records)
    for figures, field, word in (({"depth": "-1"}, "depth", "from"), ({"depth": "x"}, "depth", "x"), ({"depth": "30"}, "depth", "burn-through"),
                                 ({"length": "901"}, "length", "Longer"), ({"place": "950"}, "place", "off the weld"),
                                 ({"depth": "0.62", "gauge": "dial"}, "depth", "Which gauge")):  # fmt: skip
        filled(panel, "5011", **figures)
        panel.keep.click()
        told = panel.place if field == "place" else panel.fields[field]
        assert word in told.fault.text(), (figures, told.fault.text(), panel.refused.text())
    assert len(demo.store.records) == count


def test_a_clean_weld_is_a_line_and_a_key(demo: MainWindow, panel: InspectPanel, strip: StripWidget, qtbot: QtBot) -> None:
    store = demo.store
    assert not panel.looked.undo_button.isEnabled()
    qtbot.keyClick(strip, Qt.Key.Key_A)
    assert panel.looked.undo_button.isEnabled()
    assert not store.inspection.found.unlooked(FACE, "crack", 900.0) and "root" in panel.left.text() and "face" not in panel.left.text()
    qtbot.keyClick(strip, Qt.Key.Key_B)
    assert store.view.inspect_side == ROOT and "seen from behind" in words(strip)
    row = strip.chart.rows["burn"]
    at = [QPoint(round(strip.chart.along.at(s)), round(strip.height() - row)) for s in (200.0, 500.0)]
    qtbot.mousePress(strip, Qt.MouseButton.LeftButton, pos=at[0])
    qtbot.mouseRelease(strip, Qt.MouseButton.LeftButton, pos=at[1])
    gaps = store.inspection.found.unlooked(ROOT, "burn", 900.0)
    assert [tuple(round(v, -1) for v in gap) for gap in gaps] == [(0.0, 200.0), (500.0, 900.0)], "dragged along, it was looked for there"
    panel.looked.why.edit.setText("bar left")
    panel.looked.cannot_see()
    assert panel.result.text().startswith("Accept by ISO 5817") and "no access (bar left)" in panel.left.text()
    demo.store.edit_joint("set", acceptance="iso5817-c")
    assert STEPS_BY_KEY["inspect"].state(demo.store.now) == StepState("accept"), "the stair goes by the contract's own set"
    panel.looked.undo_button.click()
    assert "Not complete" in panel.result.text(), "the last entry counts no more"
    assert not panel.looked.undo_button.isEnabled(), "and there is no other to take back"


def test_a_reading_near_its_limit_is_taken_again_where_that_is_wanted(demo: MainWindow, panel: InspectPanel) -> None:
    filled(panel, "5011", place="100", length="20", depth="0.5", gauge="dial")
    panel.keep.click()
    assert "accept" in panel.lines.list.item(0).text() and "%" in panel.lines.list.item(0).text(), "as read, with the chance that it is over"
    panel.guarded.click()
    assert "accept" not in panel.lines.list.item(0).text() and demo.store.view.inspect_guarded
    assert STEPS_BY_KEY["inspect"].state(demo.store.now).text != "measure again", "the contract's own verdict stays as read"
    panel.guarded.click()
    assert "accept" in panel.lines.list.item(0).text()


def test_keys_walk_the_strip_and_set_a_length(demo: MainWindow, panel: InspectPanel, strip: StripWidget, qtbot: QtBot) -> None:
    store = demo.store
    for _ in range(3):
        qtbot.keyClick(strip, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClick(strip, Qt.Key.Key_Left)
    assert store.view.inspect_mm == 29.0
    qtbot.keyClicks(strip, "n")
    choose(panel.kind, "5012")
    strip.setFocus()
    qtbot.keyClicks(strip, "[")
    for _ in range(2):
        qtbot.keyClick(strip, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClicks(strip, "]")
    assert (panel.place.edit.text(), panel.fields["length"].edit.text()) == ("29", "20")
    panel.fields["depth"].edit.setText("0.2")
    panel.keep.click()
    filled(panel, "601", place="400")
    panel.keep.click()
    first, second = store.inspection.found.seen
    strip.setFocus()
    store.look(inspect_seen=0)
    qtbot.keyClick(strip, Qt.Key.Key_Down)
    assert store.view.inspect_seen == first.id
    x0, x1 = strip.chart.boxes[second.id]
    weld = next(s for s in shapes_of(strip.drawing) if isinstance(s, Rect) and s.id == "weld")
    qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPoint(round((x0 + x1) / 2), round(strip.height() - (weld.box[1] + weld.box[3]) / 2)))
    assert store.view.inspect_seen == second.id and panel.kind.key == "601", "one selection everywhere"


def test_a_question_is_answered_and_a_figure_vouched_for(demo: MainWindow, panel: InspectPanel) -> None:
    store = demo.store
    store.look(inspect_set="aws-d1.1-cyclic")
    filled(panel, "5011", place="100", length="20", depth="0.5")
    panel.keep.click()
    panel.lines.list.setCurrentRow(0)
    assert "does tension run across" in panel.lines.list.item(0).text() and not panel.lines.yes.isHidden()
    panel.lines.answer(False)
    assert "accept" in panel.lines.list.item(0).text() and panel.lines.yes.isHidden()
    store.look(inspect_set="iso5817-c")
    filled(panel, "601", place="300")
    panel.keep.click()
    row = next(i for i in range(panel.lines.list.count()) if "Stray arc" in panel.lines.list.item(i).text())
    panel.lines.list.setCurrentRow(row)
    panel.lines.vouch()
    assert "Edition and mark" in panel.lines.refused.text()
    panel.lines.edition.edit.setText("2014")
    panel.by.edit.setText("K7")
    panel.lines.vouch()
    assert "vouched for by K7" in panel.lines.list.item(0).text() and panel.lines.list.item(0).text().startswith("Stray arc at 300 mm, face: reject")
    demo.toggle_theme()
    assert panel.lines.list.item(0).foreground().color().name() == demo.theme.bad


def test_nothing_on_the_strip_runs_over_its_edge(demo: MainWindow, panel: InspectPanel, strip: StripWidget) -> None:
    from banister.core.drawing.advances import advance
    from banister.core.drawing.shapes import Text

    for place, kind, figures in (("895", "5011", {"length": "5", "depth": "0.6"}), ("2", "502", {"height": "9.5"}), ("880", "2017", {"size": "2.2"})):
        filled(panel, kind, place=place, **figures)
        panel.keep.click()
    for size, side, inches in itertools.product(((1280, 800), (1024, 700), (1920, 1080)), LINES, (False, True)):
        demo.resize(*size)
        demo.store.look(inspect_side=side, inspect_mm=899.0, inches=inches)
        QApplication.processEvents()
        box = strip.drawing.box
        for shape in strip.drawing.shapes:
            if isinstance(shape, Text):
                wide = advance(shape.text, shape.size, shape.face)
                left = shape.at[0] - {"start": 0.0, "middle": wide / 2, "end": wide}[shape.anchor]
                assert left >= -1 and left + wide <= box[2] + 1, (size, side, shape.text)
