"""Files of the window: saving, opening, locks, recovery, exports, and the user's own files broken in every way."""

from __future__ import annotations

import json
import os
import subprocess
from pathlib import Path

import pytest
from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

import banister
from banister.core.joint.joint import edited
from banister.core.limits.windows import ROLES
from banister.core.value import replace
from banister.desktop.app.faults import report_of
from banister.desktop.app.files import PAPER, PRINT
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import HEAT, Direct, Errand
from banister.desktop.fields import QuietBox
from banister.desktop.steps.sheet.actions import paper_now
from banister.desktop.work.paper import printed, sheet_pages
from banister.job.codec import encoded
from banister.job.files import JobFile, read
from banister.job.journal import journal_path, read_journal
from banister.job.library import demo_job, shipped_rods
from banister.job.recovery import LeftWork, Recovery, left_work
from tests.desktop.conftest import REMEMBERED, Answers, choose, press, step, type_in


def notice(window: MainWindow) -> str:
    return window.notices.shown.text if window.notices.shown is not None else ""


def test_saving_opening_and_what_is_recent(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    dialogs.path = tmp_path / "my job"
    demo.store.edit_joint("Gap", root_gap_mm=3.5)
    assert demo.save()
    path = tmp_path / "my job.banister"
    assert read(path).job.joints[0].prep.root_gap_mm == 3.5 and not demo.store.session.dirty
    demo.close_job()
    demo.open_path(path)
    assert demo.store.joint.prep.root_gap_mm == 3.5 and path in demo.preferences.recent
    demo.store.edit_joint("Gap", root_gap_mm=4.0)
    dialogs.keep = "cancel"
    demo.close_job()
    assert demo.store.job is not None and "keep" in dialogs.asked


def test_a_broken_file_is_said_and_nothing_is_lost(demo: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "bad.banister"
    path.write_text('{"format": "banister-job", "version": 1, "job": {"name": 5}}')
    before = demo.store.job
    demo.open_path(path)
    assert demo.store.job == before and "$.job.name" in notice(demo) and demo.work.bar.isVisible()
    assert demo.work.bar.message.text() == notice(demo)


def test_a_locked_file_is_read_only_here_and_one_cannot_save_over_it(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    path = tmp_path / "a.banister"
    JobFile(path).save(demo_job())
    other = JobFile(path)
    other.open()
    demo.open_path(path)
    assert "another window" in notice(demo)
    demo.store.edit_joint("Gap", root_gap_mm=4.0)
    dialogs.path = path
    assert not demo.save() and demo.store.session.dirty and read(path).job == demo_job()
    other.close()


def test_unsaved_work_survives_a_crash_and_closing_leaves_none(demo: MainWindow, tmp_path: Path) -> None:
    demo.store.edit_joint("Gap", root_gap_mm=3.7)
    demo.files.keep_recovery()
    folder = tmp_path / "recovery"
    kept = demo.files.recovery.file
    assert read(kept).job.joints[0].prep.root_gap_mm == 3.7 and left_work(folder) == (), "a copy whose window lives is not offered"
    demo.store.undo()
    demo.files.keep_recovery()
    assert list(folder.iterdir()) == [], "undone to what is saved: the copy goes"
    demo.store.redo()
    demo.files.keep_recovery()
    demo.close()
    assert list(folder.iterdir()) == []


def crashed(folder: Path, path: Path | None, gap: float) -> LeftWork:
    """What a session leaves that was killed: its copy, its lock free."""
    recovery = Recovery(folder, path)
    recovery.keep(demo_job().with_joint(edited(demo_job().joints[0], root_gap_mm=gap)))
    os.close(recovery._lock)
    return LeftWork(recovery.file, None if path is None else path.resolve())


def pressed(window: MainWindow, word: str) -> None:
    action = next(a for a in window.notices.shown.actions if a.text == window.store.say(word))
    window.notices.act(action)


def test_an_offer_is_only_gone_once_it_is_answered(window: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    folder, path = tmp_path / "recovery", tmp_path / "a.banister"
    JobFile(path).save(demo_job())
    left = [crashed(folder, None, 3.5), crashed(folder, path, 3.6), crashed(folder, None, 3.8)]
    assert {one.file for one in left_work(folder)} == {one.file for one in left}, "every window had its own"
    window.offer_recovery()
    window.notices.dismiss()
    window.open_path(path)
    window.store.edit_joint("Gap", root_gap_mm=4.4)
    window.files.keep_recovery()
    window.files.start_from_nothing()
    window.open_path(path)
    assert all(one.file.exists() for one in left), "not by putting it away, opening, typing, closing"
    while "a.banister" not in window.notices.shown.text:
        window.notices.dismiss()
    window.store.edit_joint("Gap", root_gap_mm=4.2)
    pressed(window, "recovery.restore")
    assert window.store.joint.prep.root_gap_mm == 3.6 and window.store.session.dirty and not left[1].file.exists()
    assert read(window.files.recovery.file).job.joints[0].prep.root_gap_mm == 3.6, "kept as this window's own before it went"
    window.store.undo()
    assert window.store.joint.prep.root_gap_mm == 4.2, "what was typed since is an undo step away"
    window.offer_recovery()
    pressed(window, "recovery.discard")
    assert sum(one.file.exists() for one in left) == 1


def test_work_that_was_left_is_restored_with_nothing_open_and_as_far_as_it_goes(window: MainWindow, tmp_path: Path) -> None:
    folder, path = tmp_path / "recovery", tmp_path / "a.banister"
    JobFile(path).save(demo_job())
    crashed(folder, path, 3.6)
    window.offer_recovery()
    pressed(window, "recovery.restore")
    assert window.files.file.path == path and window.store.joint.prep.root_gap_mm == 3.6 and window.store.session.dirty
    window.files.close_job()
    left = crashed(folder, None, 3.9)
    data = left.file.read_bytes().replace(b'"position": "3G"', b'"position": "9Z"', 1)
    left.file.write_bytes(data)
    window.offer_recovery()
    assert "joints[0].piece.position" in notice(window) and str(left.file) in notice(window)
    pressed(window, "recovery.partly")
    assert [j.id for j in window.store.job.joints] == [j.id for j in demo_job().joints[1:]], "the joint that cannot be read is left out, the rest is there"
    torn = crashed(folder, None, 3.9)
    torn.file.write_bytes(data[:200])
    window.offer_recovery()
    assert "Not valid JSON" in notice(window) and torn.file.exists() and len(window.notices.shown.actions) == 1


def test_a_file_that_another_program_changed_is_never_overwritten(demo: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "a.banister"
    assert demo.files.save_as(lambda: path)

    def another(gap: float) -> bytes:
        data = encoded(demo_job().with_joint(edited(demo_job().joints[0], root_gap_mm=gap)))
        path.write_bytes(data)
        return data

    theirs = another(3.3)
    demo.store.edit_joint("Gap", root_gap_mm=4.1)
    assert not demo.save() and "Nothing was overwritten" in notice(demo) and path.read_bytes() == theirs
    pressed(demo, "file.compare")
    assert "job.joints[0].prep.root_gap_mm: 4.1 / 3.3" in notice(demo)
    demo.notices.dismiss()
    pressed(demo, "file.take_theirs")
    assert demo.store.joint.prep.root_gap_mm == 3.3
    demo.store.undo()
    assert demo.store.joint.prep.root_gap_mm == 4.1 and demo.save() and read(path).job.joints[0].prep.root_gap_mm == 4.1
    theirs = another(3.4)
    demo.store.edit_joint("Gap", root_gap_mm=4.3)
    assert not demo.save()
    pressed(demo, "file.keep_mine")
    assert path.read_bytes() == theirs and read(tmp_path / "a-mine-1.banister").job.joints[0].prep.root_gap_mm == 4.3
    assert demo.files.file.path.name == "a-mine-1.banister" and not demo.store.session.dirty


def test_a_report_that_is_handed_on_holds_no_path_of_the_user() -> None:
    report = report_of(f'File "{Path.home()}/jobs/a.py"\nFile "{Path(banister.__file__).parent}/core/x.py"')
    assert str(Path.home()) not in report and 'File "~/jobs/a.py"' in report and "/core/x.py" in report


def test_nothing_is_written_over_the_job_itself(demo: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "a.banister"
    assert demo.files.save_as(lambda: path)
    before = path.read_bytes()
    (tmp_path / "b.pdf").symlink_to(path)
    demo.files.write(tmp_path / "b.pdf", b"%PDF")
    assert path.read_bytes() == before and "job itself" in notice(demo)


def test_exports_from_the_window(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    step(demo, "sheet")
    heads = {"pdf": b"%PDF", "csv": b"joint,pass", "svg": b"<svg", "dxf": b"  0\nSECTION"}
    heads |= {"pdf-letter": heads["pdf"], "schedule": heads["csv"], "symbol": heads["svg"], "rail": heads["svg"], "rail-dxf": heads["dxf"]}
    for kind, head in heads.items():
        dialogs.path = tmp_path / f"out.{kind}"
        press(demo, "sheet", f"export.{kind}")
        assert dialogs.path.read_bytes().startswith(head) and "Written" in demo.work.note.text.text()
    press(demo, "sheet", "export.copy")
    assert not QApplication.clipboard().pixmap().isNull() and demo.work.note.text.text() == demo.store.say("export.copied")
    dialogs.path = tmp_path / "no" / "such" / "out.csv"
    press(demo, "sheet", "export.csv")
    assert str(dialogs.path) in notice(demo)


def test_a_window_that_is_left_waits_for_what_is_being_written(demo: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    making = list[Errand]()
    monkeypatch.setattr(type(demo.errands), "busy", property(lambda _: tuple(making)))
    for is_failed in (True, False):
        making.append(Errand(HEAT, "paper out.pdf", PAPER, sheet_pages, (), print) if is_failed else Errand(HEAT, PRINT, PRINT, printed, (), print))
        demo.close()
        assert demo.isVisible()
        making.clear()
        if is_failed:
            demo.errands.failed.emit(PAPER, "why")
        demo.errands.busy_changed.emit()
        QApplication.processEvents()
        assert demo.isVisible() == is_failed, "what could not be made is told, and the window stays"


def test_a_sheet_asked_for_before_its_heat_is_known_has_it_worked_out(demo: MainWindow, tmp_path: Path) -> None:
    paper = paper_now(demo.store)
    bare = replace(paper, shown=replace(paper.shown, heat=None, issued_on=""), joints=(demo.store.joint.id, "H1"))
    first, other = bare.sheets()
    assert first.heat is not None and first.judgement.is_whole and first.heat.schedule.passes == demo.store.now.heat.schedule.passes
    assert other.joint.id == "H1" and other.heat.times and other.judgement.is_whole


@pytest.mark.parametrize(("script", "word"), [("exit 0", "print.sent"), ("echo jam >&2; exit 3", "jam"), (None, "print.none")])
def test_printing_says_what_came_of_it(script: str | None, word: str, demo: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    if script is not None:
        (tmp_path / "lp").write_text(f"#!/bin/sh\n{script}\n")
        (tmp_path / "lp").chmod(0o755)
    monkeypatch.setenv("PATH", f"{tmp_path}:/usr/bin:/bin" if script is not None else str(tmp_path))
    demo.errands.remembered = {}
    step(demo, "sheet")
    press(demo, "sheet", "export.print")
    dialog = demo.opened["print"]
    assert dialog.chosen == (demo.store.joint.id,)
    dialog.buttons["send"].click()
    said = demo.work.note.text.text() if word == "print.sent" else notice(demo)
    assert (demo.store.say(word) if word in demo.store.say.words else word) in said


def test_the_print_dialog_takes_joints_paper_and_printer_and_tells_what_no_font_has(
    demo: MainWindow,
    dialogs: Answers,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    asked = '[ "$1" = -d ] && echo "system default destination: Laser" || printf "%s\\n" Bench Laser'
    for name, script in (("lp", f'echo "$@" > {tmp_path}/sent'), ("lpstat", asked)):
        (tmp_path / name).write_text(f"#!/bin/bash\n{script}\n")
        (tmp_path / name).chmod(0o755)
    monkeypatch.setenv("PATH", f"{tmp_path}:/usr/bin:/bin")
    demo.errands.remembered = {}
    demo.store.edit_joint("Name", name="Flange \u6e05 splice")
    step(demo, "sheet")
    demo.open_view("print")
    dialog = demo.opened["print"]
    assert "\u6e05" in dialog.lost.text() and not dialog.lost.isHidden()
    dialogs.path = tmp_path / "anyway.pdf"
    press(demo, "sheet", "export.pdf")
    assert "\u6e05" in notice(demo) and not dialogs.path.exists(), "told before"
    demo.notices.act(demo.notices.shown.actions[0])
    assert dialogs.path.read_bytes().startswith(b"%PDF")
    dialogs.path = tmp_path / "card.pdf"
    step(demo, "fitup").print_card()
    assert "\u6e05" in notice(demo) and not dialogs.path.exists(), "of every kind of page"
    demo.notices.act(demo.notices.shown.actions[0])
    assert dialogs.path.read_bytes().startswith(b"%PDF")
    assert [dialog.printer.box.itemData(i) for i in range(dialog.printer.box.count())] == ["", "Laser", "Bench"]
    dialog.choose_all()
    assert len(dialog.chosen) == len(demo.store.job.joints)
    choose(dialog.printer, "Bench")
    dialogs.path = tmp_path / "all.pdf"
    dialog.save()
    text = subprocess.run(["pdftotext", str(dialogs.path), "-"], capture_output=True, text=True, check=True).stdout
    assert all(joint.id in text for joint in demo.store.job.joints) and "page 1 of " in text
    demo.open_view("print")
    demo.opened["print"].printer.show_choice("Bench")
    demo.opened["print"].send()
    assert "-d Bench" in (tmp_path / "sent").read_text()
    demo.opened["print"].close()


BROKEN = {"rods.json": '{"rods": [{"id": "E70', "techniques.json": "[1, 2", "qualification.json": "\x00"}


@pytest.fixture
def own_files(tmp_path: Path) -> Path:
    folder = Path(os.environ["XDG_DATA_HOME"]) / "banister"
    folder.mkdir(parents=True)
    for name, text in BROKEN.items():
        (folder / name).write_text(text)
    return folder


def test_broken_files_of_the_user_are_named_and_the_shipped_ones_serve(own_files: Path, window: MainWindow) -> None:
    told = []
    while window.notices.shown is not None:
        told.append(notice(window))
        window.notices.dismiss()
    assert {name for name in BROKEN for text in told if name in text and "line 1" in text} == set(BROKEN)
    window.files.start_from_nothing()
    assert window.store.now.feasible and window.store.library.rods == shipped_rods()
    window.store.session.mark_saved()
    window.open_demo()
    assert any(r.code.startswith("cover.") for r in window.store.now.judgement.remarks)
    panel = step(window, "rods")
    panel.techniques.own_name.edit.setText("night shift way")
    press(window, "rods", "technique.save")
    assert "techniques.json" in panel.techniques.kept.text()
    press(window, "rods", "rods.keep")
    assert "rods.json" in panel.kept.text()
    assert {name: (own_files / name).read_text() for name in BROKEN} == BROKEN, "nothing of the user's is overwritten"


def test_own_rods_and_techniques_are_kept_and_serve_the_next_job(demo: MainWindow) -> None:
    panel, folder = step(demo, "rods"), Path(os.environ["XDG_DATA_HOME"]) / "banister"
    choose(panel.own.like, "E7018-3.2x350")
    panel.own.name.edit.setText("E8018")
    panel.own.button.click()
    mine = demo.store.job.rods_by_id["E8018-3.2x350"]
    assert mine.origin == "own" and mine.amps == demo.store.job.rods_by_id["E7018-3.2x350"].amps and panel.shown_rod.key == mine.id
    press(demo, "rods", "rods.keep")
    panel.techniques.own_name.edit.setText("night shift way")
    press(demo, "rods", "technique.save")
    assert "E8018" in (folder / "rods.json").read_text() and str(folder) in panel.kept.text()
    assert panel.techniques.technique.box.findText("night shift way") >= 0
    assert any("E8018" in panel.rod.box.itemText(i) or demo.store.library.rods[i].type == "E8018" for i in range(panel.rod.box.count()))


def test_a_rod_is_made_from_nothing_and_takes_the_place_of_another_in_one_act(demo: MainWindow, qtbot: QtBot) -> None:
    panel, store = step(demo, "rods"), demo.store
    panel.own.button.click()
    assert panel.own.diameter.fault.text() and "E9018-4.0x450" not in store.job.rods_by_id
    for field, text in ((panel.own.diameter, "5/32 in"), (panel.own.length, "450")):
        type_in(qtbot, field.edit, text)
    panel.own.button.click()
    assert "name" in panel.own.length.fault.text()
    panel.own.name.edit.setText("E9018")
    panel.own.button.click()
    rod = next(r for r in store.job.rods if r.type == "E9018")
    assert (rod.amps_low, rod.amps, rod.amps_high) == (round(30 * rod.diameter_mm), round(40 * rod.diameter_mm), round(55 * rod.diameter_mm))
    uses = store.joint.working.rods
    wanted = store.say("rods.candidate", role=store.say("role.cap"))
    row = panel.rows.itemAt(ROLES.index("cap")).widget()
    box = next(b for b in row.findChildren(QuietBox) if b.accessibleName() == wanted)
    old = box.currentData()
    box.activated.emit(box.findData(rod.id))
    assert [u.rod for u in store.joint.working.rods] == [rod.id if (u.role, u.rod) == ("cap", old) else u.rod for u in uses]
    store.undo()
    assert store.joint.working.rods == uses


def test_a_data_folder_that_cannot_be_written_gives_a_word(demo: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    panel, folder = step(demo, "rods"), demo.store.library.folder
    folder.parent.mkdir(parents=True, exist_ok=True)
    folder.write_text("a file where the folder should be")
    panel.techniques.own_name.edit.setText("night shift way")
    press(demo, "rods", "technique.save")
    press(demo, "rods", "rods.keep")
    assert str(folder) in panel.techniques.kept.text() and str(folder) in panel.kept.text()
    demo.files.recovery = Recovery(folder / "recovery", None)
    demo.store.edit_joint("Gap", root_gap_mm=3.6)
    demo.files.keep_recovery()
    assert demo.store.joint.prep.root_gap_mm == 3.6


@pytest.mark.parametrize("text", ["\x00\x01[General\n====", "[%General]\nrecent=@Invalid(\ngeometry=5\ndark=perhaps\nconvention=41\n"])
def test_broken_settings_are_said_or_passed_over_and_left(qtbot: QtBot, dialogs: Answers, tmp_path: Path, text: str) -> None:
    file = tmp_path / "broken.ini"
    file.write_text(text)
    preferences = Preferences(QSettings(str(file), QSettings.Format.IniFormat))
    made = MainWindow(Direct(REMEMBERED), dialogs, preferences, tmp_path / "recovery")
    made.show()
    made.open_demo()
    made.toggle_units()
    assert made.store.now.feasible and preferences.recent == []
    assert preferences.view().inches, "remembered at least while the window is open"
    if preferences.is_broken:
        assert str(file) in notice(made)
        made.close()
        assert file.read_text() == text
    made.close()
    made.deleteLater()


def test_recent_files_that_are_no_paths_are_passed_over(tmp_path: Path) -> None:
    settings = QSettings(str(tmp_path / "w.ini"), QSettings.Format.IniFormat)
    settings.setValue("recent", [7, "x" * 5000, str(tmp_path), str(tmp_path / "gone.banister"), "\x00"])
    preferences = Preferences(settings)
    assert preferences.recent == []
    (tmp_path / "a.banister").write_text(json.dumps({}))
    preferences.opened(tmp_path / "a.banister")
    assert preferences.recent == [tmp_path / "a.banister"]


def test_under_another_name_the_journal_begins_anew_at_once_and_never_in_anothers_place(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    demo.logbook.folder, first, second = tmp_path / "data", tmp_path / "first.banister", tmp_path / "second.banister"
    dialogs.path = first
    assert demo.save_as() and demo.store.records == () and "stays with demo" in demo.notices.shown.text
    assert demo.logbook.write("temp", "G1", c=100.0) is not None and len(demo.store.records) == 3
    demo.notices.clear()
    assert demo.save_as() and len(demo.store.records) == 3 and demo.notices.shown is None, "under its own name it stays"
    dialogs.path = second
    assert demo.save_as() and demo.store.records == () and "stays with first" in demo.notices.shown.text
    demo.logbook.write("temp", "G1", c=101.0)
    assert demo.store.records[0].d["before"] == read_journal(journal_path(first)).id
    before = first.read_bytes()
    dialogs.path = first
    demo.notices.clear()
    assert not demo.save_as() and first.read_bytes() == before and "a journal stands already" in demo.notices.shown.text
    demo.weld()
    dialogs.path = tmp_path / "third.banister"
    assert not demo.save_as() and not dialogs.path.exists()
    demo.opened["weld"].close()
    assert demo.save_as() and dialogs.path.exists()
