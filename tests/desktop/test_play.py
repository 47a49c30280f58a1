"""Play and reckon in the real window: the mouse aims and lays, keys set the hand, questions are answered and kept; the job is not touched."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot
from shiboken6 import isValid

from banister.desktop.app.window import MainWindow
from banister.desktop.play.play_view import PlayDialog
from banister.desktop.play.reckon_view import ReckonDialog
from banister.job.practice import read_practice
from tests.conftest import texts_of
from tests.desktop.conftest import choose, type_in


@pytest.fixture
def dialog(demo: MainWindow) -> PlayDialog:
    demo.store.look(joint_id="G1")
    demo.menus.actions["play"].trigger()
    found = demo.opened["play"]
    yield found
    if isValid(found):
        found.close()


def said(dialog: PlayDialog) -> str:
    return " | ".join(texts_of(dialog.section.drawing))


def test_the_mouse_aims_and_lays_and_keys_set_the_hand(qtbot: QtBot, demo: MainWindow, dialog: PlayDialog) -> None:
    job, section = demo.store.job, dialog.section
    assert "Root 1: E7018-4.0x450" in said(dialog) and "0 by hand on 0 of the plan." in said(dialog)
    section.setFocus()
    amps, speed = dialog.hand.amps, dialog.hand.travel_mm_min
    for key in (Qt.Key.Key_Up, Qt.Key.Key_Right, Qt.Key.Key_Comma):
        qtbot.keyClick(section, key)
    assert dialog.hand.amps == amps + 5 and dialog.hand.travel_mm_min > speed and f"{dialog.hand.amps:.0f} A" == dialog.amps_said.text()
    qtbot.keyClick(section, Qt.Key.Key_Return)
    assert len(dialog.play.laid) == 1 and "F2" not in said(dialog) and "R1" in said(dialog)
    there = QPoint(section.width() // 2 + 40, section.height() // 2)
    qtbot.mousePress(section, Qt.MouseButton.LeftButton, pos=there)
    aimed = dialog.hand.aim_mm
    assert aimed == pytest.approx(section.picture.stage.aim_mm(there.x(), section.height() - there.y()))
    qtbot.mouseRelease(section, Qt.MouseButton.LeftButton, pos=there)
    assert len(dialog.play.laid) == 2 and dialog.play.laid[1].hand.aim_mm == aimed
    qtbot.keyClick(section, Qt.Key.Key_Backspace)
    assert len(dialog.play.laid) == 1
    dialog.anew_button.click()
    assert dialog.play.laid == () and not dialog.off_button.isEnabled() and demo.store.job is job and not demo.store.session.dirty


def test_it_goes_on_from_a_pass_and_shows_the_plan_beside(qtbot: QtBot, demo: MainWindow, dialog: PlayDialog) -> None:
    choose(dialog.start, "4")
    assert "Fill 5: " in said(dialog) and "0 by hand on 4 of the plan." in said(dialog)
    dialog.sound.click()
    assert "a sound plan would lay F5" in said(dialog) and dialog.section.sound.area_mm2 == demo.store.now.plan.passes[4].area_mm2
    dialog.lay()
    assert "a sound plan would lay F6" in said(dialog)
    dialog.width_field.edit.setText("9")
    dialog.width_field.edit.editingFinished.emit()
    assert "carried to 9 mm" in said(dialog) and dialog.section.ghost.bead.width_mm == pytest.approx(9.0, abs=0.3)
    dialog.amps.setValue(dialog.amps.minimum())
    assert "wants 130 to 220 A" in dialog.wrong.text()


def test_what_falls_through_cannot_be_laid_and_other_joints_and_units_follow(demo: MainWindow, dialog: PlayDialog) -> None:
    demo.store.look(joint_id="F2")
    assert dialog.title.text().startswith("F2")
    dialog.speed.setValue(dialog.speed.maximum())
    assert "falls through" in said(dialog) and not dialog.lay_button.isEnabled()
    dialog.lay()
    assert dialog.play.laid == ()
    choose(dialog.start, "1")
    dialog.lay()
    demo.store.edit_joint("named", name="Splice, west")
    assert len(dialog.play.laid) == 1 and "Splice, west" in dialog.title.text(), "a name takes no bead off"
    named = dialog.rod.box.currentText()
    demo.toggle_units()
    assert dialog.rod.box.currentText() != named and dialog.rod.key == dialog.hand.rod.id
    assert " in/min" in said(dialog) and dialog.speed_said.text().endswith("in/min") and " mm" not in said(dialog)
    demo.store.edit_joint("bad", root_gap_mm=90.0)
    assert dialog.cannot.isVisible() and dialog.cannot.text() and not dialog.lay_button.isEnabled() and not dialog.section.isVisible()


@pytest.fixture
def reckoning(demo: MainWindow, tmp_path: Path) -> ReckonDialog:
    demo.store.look(joint_id="F2")
    panel = demo.work.panel("practice")
    panel.catch_up()
    assert panel.desk.begin(tmp_path / "T1.banister-practice", "T1")
    demo.menus.actions["reckon"].trigger()
    found = demo.opened["reckon"]
    yield found
    if isValid(found):
        found.close()


def shown(dialog: ReckonDialog) -> str:
    beads = texts_of(dialog.section.drawing) if dialog.section.drawing is not None else []
    return " ".join((dialog.asks.text(), dialog.tells.text(), *beads))


def test_a_guess_is_asked_for_answered_and_kept(qtbot: QtBot, demo: MainWindow, reckoning: ReckonDialog, tmp_path: Path) -> None:
    job, passes = demo.store.job, len(demo.store.now.plan.passes)
    assert "how many beads" in shown(reckoning) and "F3" not in shown(reckoning)
    qtbot.keyClick(reckoning.guess.edit, Qt.Key.Key_Return)
    assert "first" in reckoning.fault.text() and not reckoning.desk.book.guesses
    qtbot.keyClicks(reckoning.guess.edit, "many")
    reckoning.tell()
    assert reckoning.fault.text() and not reckoning.desk.book.guesses, "what is no figure is said, and asked again"
    type_in(qtbot, reckoning.guess.edit, "14")
    assert f"The plan: {passes} beads. You: 14 beads" in shown(reckoning) and "F3" in shown(reckoning) and "T1" in reckoning.kept.text()
    kept = read_practice(tmp_path / "T1.banister-practice").guesses
    assert [(g.question, g.guess, g.answer) for g in kept] == [("reckon_beads", 14.0, float(passes))]
    qtbot.keyClick(reckoning.guess.edit, Qt.Key.Key_Return)
    assert reckoning.asked.key == "reckon_run_out" and reckoning.guess.label.text() == "Your figure, mm"
    type_in(qtbot, reckoning.guess.edit, "200")
    reckoning.ask_next()
    assert reckoning.asked.key == "reckon_place"
    section = reckoning.section
    qtbot.mouseClick(section, Qt.MouseButton.LeftButton, pos=QPoint(section.width() // 2, section.height() // 2))
    assert "you" in texts_of(section.drawing) and "the plan" not in texts_of(section.drawing)
    own = section.own_mm
    qtbot.keyClick(section, Qt.Key.Key_Period)
    assert section.own_mm == own + 0.5
    qtbot.keyClick(section, Qt.Key.Key_Return)
    assert "the plan" in texts_of(section.drawing) and len(read_practice(tmp_path / "T1.banister-practice").guesses) == 3
    reckoning.ask_next()
    assert reckoning.asked.key == "reckon_cool"
    reckoning.ask_next()
    assert reckoning.asked.key == "reckon_rod" and reckoning.rod.isVisible()
    reckoning.tell()
    assert reckoning.desk.book.guesses[-1].guess == reckoning.rod.key
    assert demo.store.job is job and "Reckoned beads: " in demo.work.panel("practice").reckoned.text()
    reckoning.desk.take_back()
    assert len(read_practice(tmp_path / "T1.banister-practice").guesses) == 3


def test_another_joint_other_units_and_one_without_a_plan(qtbot: QtBot, demo: MainWindow, reckoning: ReckonDialog) -> None:
    choose(reckoning.joint, "H1")
    assert shown(reckoning).startswith("H1, 1G")
    choose(reckoning.what, "reckon_run_out")
    qtbot.keyClicks(reckoning.guess.edit, "230")
    demo.toggle_units()
    assert " mm" not in shown(reckoning) and (reckoning.guess.label.text(), reckoning.guess.edit.text()) == ("Your figure, in", "9.06")
    type_in(qtbot, reckoning.guess.edit, "9")
    in_inches = reckoning.tells.text()
    demo.toggle_units()
    assert " mm" in reckoning.tells.text() and " mm" not in in_inches, "the answer follows the units too"
    asked = reckoning.asked
    demo.store.edit_joint("named", name="Splice, west")
    assert reckoning.asked is asked, "a name asks nothing anew"
    demo.store.look(joint_id="H1")
    demo.store.edit_joint("bad", root_gap_mm=90.0)
    assert "no plan" in reckoning.asks.text() and not reckoning.say_button.isVisible()
    reckoning.tell()
    assert len(reckoning.desk.book.guesses) == 1
