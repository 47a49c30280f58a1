"""The rack and the journal in the real window: lots and events written beside the job, refused, taken back; the demo kept as a copy."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.desktop.app.window import MainWindow
from banister.desktop.steps.rods.rack_part import RackPart
from banister.desktop.steps.rods.rack_view import rack_of
from banister.job.files import read
from banister.job.journal import Journal, journal_path, read_journal
from banister.job.traces import traces_folder
from tests.conftest import shapes_of, texts_of
from tests.desktop.conftest import Answers, choose, press, step, type_in


@pytest.fixture
def rack(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> RackPart:
    dialogs.path = tmp_path / "lock.banister"
    demo.logbook.folder = tmp_path / "data"
    found = step(demo, "rods")
    demo.store.look(racking=True)
    QApplication.processEvents()
    return found.rack


def test_the_demo_shows_its_journal_and_is_kept_as_a_copy_before_the_first_entry(demo: MainWindow, rack: RackPart, tmp_path: Path) -> None:
    assert rack.list.count() == 9 and "9 rods out" in " ".join(texts_of(demo.work.rack.drawing)) and demo.files.file is None
    choose(rack.lot, "OL-4471")
    rack.count.edit.setText("20")
    rack.acts["out"].click()
    kept = tmp_path / "data" / "demo" / "demo-1.banister"
    assert demo.files.file.path == kept and kept.exists()
    chain = read_journal(journal_path(kept))
    assert chain.whole and [r.k for r in chain.records[-2:]] == ["session", "care"] and chain.records[-1].d["count"] == 20
    assert rack.list.count() == 10 and "29 rods out" in " ".join(texts_of(demo.work.rack.drawing))
    states = [s.id for s in shapes_of(demo.work.rack.drawing) if getattr(s, "id", "").startswith("E7018-4.0x450:")]
    assert sum(name.endswith(":out") for name in states) == 20


def test_what_is_left_of_another_demo_is_not_written_over_and_a_failing_copy_is_said(demo: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    folder = demo.logbook.folder = tmp_path / "data"
    left = folder / "demo" / "demo-1.banister"
    traces_folder(left).mkdir(parents=True)
    journal_path(left.with_name("demo-2.banister")).write_text("somebody's")
    monkeypatch.setattr(demo.files, "save_as", lambda ask, with_journal: False)
    assert demo.logbook.write("note", text="one") is None and sorted(p.name for p in (folder / "demo").iterdir()) == [
        "demo-1.traces", "demo-2.banister-journal"]  # fmt: skip
    monkeypatch.undo()
    monkeypatch.setattr("shutil.copytree", lambda *_: (_ for _ in ()).throw(OSError(28, "No space left on device")))
    assert demo.logbook.write("note", text="one") is None and "No space left" in demo.notices.shown.text
    monkeypatch.undo()
    assert demo.logbook.write("note", text="one") is not None and demo.files.file.path.name == "demo-3.banister"
    assert demo.logbook.write("note", text="x" * 70_000) is None and "64 kB" in demo.notices.shown.text
    assert journal_path(left.with_name("demo-2.banister")).read_text() == "somebody's"


def test_a_journal_that_lost_its_end_is_said_when_the_job_is_opened(demo: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "job.banister"
    assert demo.files.save_as(lambda: path)
    demo.notices.clear()
    for text in ("one", "two", "three"):
        demo.logbook.write("note", text=text)
    demo.files.close_job()
    assert read(path).journal.n == len(read_journal(journal_path(path)).records), "the file knows what was written after it was saved"
    assert demo.files.open_path(path) and demo.notices.shown is None
    demo.files.close_job()
    journal_path(path).write_bytes(b"".join(journal_path(path).read_bytes().splitlines(keepends=True)[:-2]))
    assert demo.files.open_path(path) and "lost its end" in demo.notices.shown.text


def test_what_cannot_have_been_is_said_and_a_wrong_entry_is_taken_back(demo: MainWindow, rack: RackPart, qtbot: QtBot) -> None:
    assert demo.save_as()
    rack.name.edit.setText("OL-9")
    rack.rods.edit.setText("12")
    press(demo, "rods", "rack.add_lot")
    assert rack.lot.key == "OL-9" and [r.k for r in demo.store.records] == ["begun", "session", "lot"], "under another name a new journal begins"
    assert demo.store.records[0].d.get("before") is not None, "and names the one before"
    assert rack.acts["unseal"].isEnabled() and not rack.acts["out"].isEnabled()
    rack.count.edit.setText("12")
    rack.acts["unseal"].click()
    rack.count.edit.setText("5")
    rack.acts["out"].click()
    rack.count.edit.setText("6")
    rack.acts["use"].click()
    assert "not counted" in rack.list.item(rack.list.count() - 1).text()
    rack.list.setCurrentRow(2)
    press(demo, "rods", "rack.void")
    assert demo.store.records[-1].k == "correct" and not rack.acts["use"].isEnabled(), "nothing is out any more"
    rack.count.edit.setText("none")
    before = demo.store.records
    rack.acts["unseal"].click()
    assert demo.store.records is before
    qtbot.keyClick(demo.work.rack, Qt.Key.Key_Down)
    assert demo.work.rack.lit


def test_a_journal_that_another_window_writes_is_only_read(demo: MainWindow, rack: RackPart, dialogs: Answers) -> None:
    assert demo.save_as()
    other = Journal(journal_path(dialogs.path), "lock")
    rack.name.edit.setText("OL-9")
    rack.rods.edit.setText("12")
    rack.add_lot()
    assert rack.lot.key != "OL-9" and "nother window writes" in demo.notices.shown.text
    other.write("lot", rod="E7018-3.2x350", lot="OL-7", rods=4)
    other.close()
    rack.add_lot()
    assert [r.d.get("lot") for r in demo.store.records if r.k == "lot"] == ["OL-7", "OL-9"]
    assert demo.files.open_path(dialogs.path)
    demo.store.look(step="rods", racking=True)
    assert {stock.lot for stock in rack_of(demo.store.now).stocks} == {"OL-7", "OL-9"}


def test_a_quiver_that_is_none_is_refused_at_its_field(demo: MainWindow, rack: RackPart, qtbot: QtBot) -> None:
    """A quiver of fewer than none once walked to the oven for ever."""
    for text in ("-4", "0", "1e9", "501"):
        type_in(qtbot, rack.quiver.edit, "12")
        assert rack.quiver.fault.isHidden()
        type_in(qtbot, rack.quiver.edit, text)
        assert demo.work.rack.quiver == 12 and "1 to 500" in rack.quiver.fault.text() and not rack.quiver.fault.isHidden(), text


def test_the_rod_list_is_printed(demo: MainWindow, rack: RackPart, dialogs: Answers, tmp_path: Path) -> None:
    dialogs.path = tmp_path / "rods.pdf"
    press(demo, "rods", "rods.list")
    assert dialogs.path.read_bytes().startswith(b"%PDF")
