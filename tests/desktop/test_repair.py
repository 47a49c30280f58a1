"""From what was seen to its likely causes, to a repair that is planned and kept, to a record that is signed: in the real window."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication, QPushButton
from pytestqt.qtbot import QtBot

from banister.core.canonical import canonical
from banister.core.drawing.advances import advance
from banister.core.drawing.shapes import Drawing, Rect, Text
from banister.core.plan.answers import plan_joint
from banister.core.record.record import record_digest
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.inspect.cause_view import CauseDialog
from banister.desktop.steps.inspect.repair_view import RepairDialog
from banister.desktop.steps.record.panel import RecordPanel
from banister.desktop.steps.registry import STEPS_BY_KEY
from banister.job.files import read
from tests.conftest import shapes_of, texts_of
from tests.desktop.conftest import Answers, step


@pytest.fixture
def pipe(demo: MainWindow, tmp_path: Path) -> Iterator[MainWindow]:
    """The demo's pipe, welded and inspected, at its slag line."""
    demo.logbook.folder = tmp_path / "data"
    demo.store.look(joint_id="P4")
    step(demo, "inspect")
    select(demo, "301")
    demo.work.strip.setFocus()
    yield demo


def select(window: MainWindow, kind: str) -> int:
    number = next(one.id for one in window.store.inspection.found.seen if one.kind == kind)
    window.store.look(inspect_seen=number)
    return number


def opened(window: MainWindow, key: str, qtbot: QtBot, press: Qt.Key) -> CauseDialog | RepairDialog:
    qtbot.keyClick(window.work.strip, press)
    QApplication.processEvents()
    return window.opened[key]


def fits(drawing: Drawing) -> None:
    x0, y0, x1, y1 = drawing.box
    for shape in shapes_of(drawing):
        if isinstance(shape, Text) and shape.style != "number":
            wide = advance(shape.text, shape.size, shape.face)
            left = shape.at[0] - {"start": 0.0, "middle": wide / 2, "end": wide}[shape.anchor]
            assert left >= x0 - 1 and left + wide <= x1 + 1 and y0 <= shape.at[1] <= y1, shape.text


def test_causes_are_ranked_anew_by_what_is_answered_and_what_it_was_is_kept(pipe: MainWindow, qtbot: QtBot) -> None:
    number = select(pipe, "5011")
    view = opened(pipe, "cause", qtbot, Qt.Key.Key_W)
    picture, side = view.picture, view.side
    assert view.title.text() == "Undercut, continuous at 7:30: perhaps arc held too long" and "the first cannot" in view.alike.text()
    said = " | ".join(texts_of(picture.drawing))
    assert {"volts", "arc there"} <= {getattr(s, "id", "") for s in shapes_of(picture.drawing)}, "its recorded arc says so"
    assert "SIMULATED volts, rod 5, C8; hatched: here" in said and "C8 100 %" in said and len(picture.chart.cards) == 3
    assert "pace of the rod there" in side.look.text()
    next(b for b in view.findChildren(QPushButton) if b.text() == "fast" and b.isVisible()).click()
    assert "pace of the rod there fast (x" in " | ".join(texts_of(picture.drawing)) and view.answered == {"pace": "fast"}
    view.answer("volts", "normal")
    view.answer("amps", "high")
    assert "perhaps too much current" in view.title.text(), "what is typed counts before what the trace tells"
    low, high = list(picture.chart.cards.values())[1]
    second = list(picture.chart.cards)[1]
    qtbot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=QPoint(round(picture.chart.left) + 30, round(picture.height() - (low + high) / 2)))
    assert picture.marked == second and side.cause.text() == view.store.say(f"cause.{second}")
    qtbot.keyClick(picture, Qt.Key.Key_Up)
    assert picture.marked == "amps_high" and "current" in side.next_pass.text()
    qtbot.keyClick(picture, Qt.Key.Key_F)
    kept = pipe.store.records[-1]
    assert (kept.k, kept.d["of"], kept.d["cause"], kept.d["known"]["amps"]) == ("found", number, "amps_high", "high")
    assert side.was.text() == "Found and entered: too much current." and "first of the list 1 times" in side.counted.text()
    side.cue.click()
    assert (pipe.store.records[-1].k, pipe.store.records[-1].d) == ("cue", {"cause": "amps_high", "of": number})
    assert "Carried to the next pass: too much current" in side.carried.text() and not side.cue.isEnabled()
    view.forget()
    assert "perhaps arc held too long" in view.title.text(), "an answer is taken back in one step; what was found stays"
    assert side.was.isVisible()
    select(pipe, "301")
    assert "Slag inclusion at 10:12" in view.title.text() and not side.was.isVisible(), "another observation, other causes"
    fits(picture.drawing)
    pipe.logbook.void(number, "mistaken")
    pipe.store.look(inspect_seen=number)
    assert view.title.text() == "This observation was taken back." and not side.isVisible()
    select(pipe, "502")
    assert view.title.text() == "The table of causes says nothing of this kind." and not side.isVisible()


def test_a_repair_is_planned_measured_and_kept(pipe: MainWindow, qtbot: QtBot) -> None:
    view = opened(pipe, "repair", qtbot, Qt.Key.Key_R)
    side, fields = view.side, view.side.fields
    assert view.title.text() == "Dig from the face, 7.5 mm deep and 87 mm long" and "1 in 3" in view.under.text()
    assert "5.2 mm" in side.left.text() and "repaired before (1)" in side.rules.text(), "the demo's own repair of it counts"
    named = [s.text for s in shapes_of(view.picture.drawing) if isinstance(s, Text)]
    assert {"R1", "F2", "C3", "7.5", "5.2", "bottom 42 mm"} <= set(named)
    fits(view.picture.drawing)

    def dug(text: str) -> None:
        side.dug.edit.setText(text)
        side.dug.committed.emit(text)

    dug("9:50=6; 10:12=8.2; 10:35=6.5")
    boat = view.shown_way.boat
    assert "8.2 mm deep" in view.title.text() and boat.bottom_mm > 0 and not side.bad.isVisible(), "what was dug takes the place of what was planned"
    assert not any(hold.name == "into_sound_mm" for hold in view.picture.chart.holds), "what is measured is no choice"
    dug("10:05=8; 10:08=8")
    assert "does not reach over what was found" in side.rules.text()
    dug("10:05=8; 10:08=8.5")
    pipe.toggle_units()
    assert side.dug.edit.text() == "10:05=0.315; 10:08=0.335"
    side.dug.committed.emit(side.dug.edit.text())
    pipe.toggle_units()
    side.dug.committed.emit(side.dug.edit.text())
    assert side.dug.edit.text() == "10:05=8; 10:08=8.5" and view.dug[1][1] == 8.5, "left as it stands, it is taken once"
    dug("10:05=8; 10:08=8")
    dug("deep")
    assert side.bad.text() and "8 mm deep" in view.title.text(), "the plan stands"
    dug("")
    assert "7.5 mm deep" in view.title.text() and "1 in 3" in view.under.text()
    end = next(hold for hold in view.picture.chart.holds if hold.name == "beyond_mm" and hold.right > 0)
    start = QPoint(round(end.at[0]), view.picture.height() - round(end.at[1]))
    qtbot.mousePress(view.picture, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(view.picture, start + QPoint(40, 0))
    qtbot.mouseRelease(view.picture, Qt.MouseButton.LeftButton, pos=start + QPoint(40, 0))
    assert view.typed["beyond_mm"] == pytest.approx(10 + 40 * end.right, abs=0.8) and fields["beyond_mm"].edit.text() != "10"
    fields["beyond_mm"].edit.setText("10")
    fields["beyond_mm"].edit.editingFinished.emit()
    dug("8.2")
    assert "8.2 mm deep" in view.title.text()
    fields["run_out"].edit.setText("1")
    fields["run_out"].edit.editingFinished.emit()
    assert fields["run_out"].fault.text() and "8.2 mm deep" in view.title.text(), "square ends are refused, the plan stands"
    fields["run_out"].edit.setText("4")
    fields["run_out"].edit.editingFinished.emit()
    assert "1 in 4" in view.under.text()
    count = len(pipe.store.records)
    side.keep.click()
    assert "Type a name." in side.bad.text() and "Who allowed" in side.bad.text() and len(pipe.store.records) == count
    for name, text in (("by", "Q2"), ("allowed_by", "Q9"), ("proved_by", "Q3")):
        side.names[name].edit.setText(text)
    side.keep.click()
    kept = pipe.store.records[-1]
    own = pipe.store.job.joint("P4-R2")
    assert kept.d["joint"] == own.id and own.repair.record == kept.n and "P4-R2 is now a joint" in side.kept.text()
    way = view.shown_way
    plan = plan_joint(own, pipe.store.job.rods_by_id, pipe.store.joint.working.chosen)
    assert [(p.area_mm2, p.length_mm) for p in plan.passes] == [(p.area_mm2, p.length_mm) for p in way.plan.passes], "planned as it was shown"
    assert own.prep.thickness_mm == 8.2 and own.plate_thickness_mm == pipe.store.joint.prep.thickness_mm and own.piece.position == "3G"
    assert kept.k == "repair" and {key: kept.d[key] for key in ("depth", "by", "allowed_by", "proved_by")} == {
        "depth": 8.2, "by": "Q2", "allowed_by": "Q9", "proved_by": "Q3"}  # fmt: skip
    assert "Repair 2" in side.kept.text() and "2 times before" in side.rules.text(), "the next one needs a reason"
    pipe.store.look(inches=True)
    assert "0.323 in" in view.title.text()
    select(pipe, "5011")
    number = select(pipe, "301")
    assert view.repair.ways[0].boat.depth_mm == 7.5, "in inches a known figure is written shorter, and stays what it is"
    pipe.logbook.void(number, "mistaken")
    assert view.under.text() == "This observation was taken back." and not side.keep.isEnabled() and view.picture.drawing is None


def test_a_repair_is_a_joint_with_a_log_an_inspection_and_a_record_of_its_own(pipe: MainWindow, qtbot: QtBot, dialogs: Answers, tmp_path: Path) -> None:
    view = opened(pipe, "repair", qtbot, Qt.Key.Key_R)
    for name in ("by", "allowed_by"):
        view.side.names[name].edit.setText("Q2")
    view.side.keep.click()
    view.close()
    parent = texts_of(pipe.work.strip.drawing)
    assert "repair 1" in parent and "repair 2" in parent, "the strip shows it as a layer"
    pipe.store.look(joint_id="P4-R2", step="passes")
    assert "repair 2 of P4" in pipe.store.joint.name and pipe.store.now.plan.passes[0].length_mm < pipe.store.now.plan.passes[-1].length_mm
    drawn = texts_of(pipe.section.drawing)
    assert "7.5 mm" in drawn and "12.7 mm" in drawn and not any("gap" in text for text in drawn), "a hollow in a plate, no gap"
    pipe.store.issue()
    for p in pipe.store.now.issued.plan.passes:
        pipe.logbook.write("pass-begun", "P4-R2", p.key, rod=p.rod.id, amps=p.amps)
        pipe.logbook.write("rod", "P4-R2", p.key, arc_s=40.0)
        pipe.logbook.write("pass-ended", "P4-R2", p.key, left=0.3)
    n = len(pipe.store.now.issued.plan.passes)
    assert f"{n} passes welded" in STEPS_BY_KEY["weld"].state(pipe.store.now).text
    step(pipe, "inspect")
    assert pipe.store.inspection.course.length_mm == pytest.approx(pipe.store.joint.piece.length_mm) and not pipe.store.inspection.weld.has_root
    assert pipe.store.inspection.weld.t == 12.7, "a cap is judged by the plate's thickness"
    pipe.store.look(joint_id="P4")
    assert f"Welded as P4-R2: {n} of {n} passes" in step(pipe, "record").state.text()
    dialogs.path = tmp_path / "repaired.banister"
    assert pipe.files.save_as(lambda: dialogs.path) and read(dialogs.path).job == pipe.store.job


def test_the_weld_of_a_pipe_is_shown_as_a_ring(pipe: MainWindow, qtbot: QtBot) -> None:
    pipe.resize(1280, 860)
    QApplication.processEvents()
    strip = pipe.work.strip
    qtbot.keyClick(strip, Qt.Key.Key_O)
    assert strip.is_ring and {"12", "3", "6", "9", "face"} <= set(texts_of(strip.drawing))
    fits(strip.drawing)
    seen = pipe.store.inspection.found.seen
    for one in (o for o in seen if o.kind in ("5011", "511")):
        turn = math.radians(one.s_mm / strip.length_mm * 360.0)
        x, y = strip.round.bend.at((strip.round.strip.along.at(one.s_mm), strip.height() - 60.0))
        assert math.atan2(x - strip.round.bend.centre[0], y - strip.round.bend.centre[1]) % (2 * math.pi) == pytest.approx(turn)
        qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(strip.height() - y)))
        assert pipe.store.view.inspect_seen == one.id, "a mark is taken up where it is drawn"
    cx, cy = strip.round.bend.centre
    qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPoint(round(cx), round(strip.height() - cy + strip.round.bend.room - 30)))
    assert pipe.store.view.inspect_mm == pytest.approx(strip.length_mm / 2, abs=2.0) and pipe.store.view.inspect_seen == 0, "6 o'clock is below"
    pipe.store.look(joint_id="F2")
    assert not strip.is_ring, "a plate is no ring"


def test_what_goes_through_shows_both_remedies_and_what_is_not_known_is_asked(pipe: MainWindow, qtbot: QtBot) -> None:
    view = opened(pipe, "repair", qtbot, Qt.Key.Key_R)
    fields = view.side.fields
    fields["top_mm"].edit.setText("7")
    fields["top_mm"].edit.editingFinished.emit()
    assert "only" in view.side.through.text() and "gouge and weld the other side" in view.side.through.text() and "open root" in view.side.through.text()
    assert view.picture.drawing is None and not view.side.keep.isEnabled()
    fields["top_mm"].edit.setText("")
    fields["top_mm"].edit.editingFinished.emit()
    assert "7.5 mm deep" in view.title.text(), "an emptied field goes by what was seen"
    for name, text in (("top_mm", "12"), ("height_mm", "4")):
        fields[name].edit.setText(text)
        fields[name].edit.editingFinished.emit()
    assert "deeper than the part" in view.under.text()
    bare = pipe.logbook.write("observation", "P4", kind="3041", side="face", s_mm=300.0, length=8.0)
    pipe.store.look(inspect_seen=bare.n)
    assert "Enter the depth of its upper end" in view.under.text() and view.picture.drawing is None
    number = select(pipe, "5011")
    assert view.number == number and "3.7 mm deep" in view.title.text(), "another observation takes its place"
    boat = next(s for s in shapes_of(view.picture.drawing) if isinstance(s, Rect) and s.id == "defect:above")
    assert boat.box[2] > boat.box[0]


def test_a_record_is_signed_and_a_later_change_leaves_it_for_another_state(pipe: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    panel = step(pipe, "record")
    assert isinstance(panel, RecordPanel) and pipe.work.section.isHidden()
    page = texts_of(pipe.work.page.drawing)
    assert page.count("C8") == 2 and "161 \N{DEGREE SIGN}C" in page and "11-27 09:46" in page and "5.1" in page, "planned and welded stand side by side"
    fits(pipe.work.page.drawing)
    pipe.store.look(joint_id="G1")
    begun = " | ".join(texts_of(pipe.work.page.drawing))
    assert "not welded" in begun and "5 of 11" in panel.state.text() and pipe.store.welded.told.passes
    pipe.store.look(joint_id="F2")
    assert "nothing welded yet" in texts_of(pipe.work.page.drawing)
    pipe.store.look(joint_id="P4")
    assert "8 of 8 passes welded" in panel.state.text() and "Repair 1: from the face at 9:45" in panel.state.text() and "Nobody yet" in panel.signed.text()
    assert STEPS_BY_KEY["record"].state(pipe.store.now).text == "nothing signed"
    count = len(pipe.store.records)
    panel.sign()
    assert panel.refused.isVisible() and len(pipe.store.records) == count, "a name without a role is no signature"
    panel.name.edit.setText("Q2")
    panel.role.edit.setText("inspector")
    panel.sign()
    assert "Q2, inspector" in panel.signed.text() and "for this state" in panel.signed.text() and panel.name.edit.text() == ""
    dialogs.path = tmp_path / "p4.json"
    panel.write_record()
    written = dialogs.path.read_text(encoding="utf-8")
    record = json.loads(written)
    assert canonical(record) == written and record["signatures"][0]["digest"] == record_digest(record)
    dialogs.path = tmp_path / "p4.pdf"
    panel.write_traveller()
    assert record_digest(record).encode() in dialogs.path.read_bytes()
    pipe.logbook.write("observation", "P4", kind="601", side="face", s_mm=100.0)
    assert "for another state" in panel.signed.text()


def test_the_book_shows_until_when_every_mark_is_in_force(pipe: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    panel = step(pipe, "record")
    next(b for b in panel.findChildren(QPushButton) if b.text() == panel.say("record.book")).click()
    view = pipe.opened["book"]
    said = texts_of(view.picture.drawing)
    assert {"B3  SMAW", "K7  SMAW", "2026-12-17"} <= set(said), "the demo's mark that ends 20 days after its own today"
    fits(view.picture.drawing)
    marks = view.picture.marks
    at = next(at for at, row, on in view.picture.chart.discs if marks[row].welder.mark == "K7" and on.isoformat() == "2026-11-27")
    qtbot.mouseClick(view.picture, Qt.MouseButton.LeftButton, pos=QPoint(round(at[0]), round(view.picture.height() - at[1])))
    assert view.said.text().startswith("K7 on 2026-11-27: ") and "P4" in view.said.text()
    pipe.files.save_as(lambda: tmp_path / "one.banister")
    (tmp_path / "broken.banister").write_text("{", encoding="utf-8")
    view.read()
    assert "broken.banister" in view.unread.text() and "B3  SMAW" in texts_of(view.picture.drawing), "what cannot be read is named, the rest is shown"
