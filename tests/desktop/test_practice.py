"""The step of practice in the real window: a book of one's own, rods typed and timed, a meter, an instructor; nothing of it touches the job."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot
from shiboken6 import isValid

from banister.core.arc.simulated import SimulatedArc
from banister.core.drawing.shapes import Text
from banister.core.practice.book import RodRead
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.practice.bench import PracticeBench
from banister.desktop.steps.practice.click import Click
from banister.desktop.steps.practice.panel import PracticePanel
from banister.devices.trace import Sample, written
from banister.job.practice import read_practice
from tests.conftest import texts_of
from tests.desktop.conftest import Answers, choose, press, step, type_in


def rods_burnt(count: int) -> list[Sample]:
    """What a meter tells of simulated rods, half a minute apart."""
    found = SimulatedArc(118.0, 4200.0, 3.2, "basic", 3, rate_hz=20.0, inner_hz=500.0)
    samples = list[Sample]()
    for _ in range(count):
        found.strike(found.t + 5.0)
        while found.is_free is False:
            samples += found.until(found.t + 5.0)
        samples += found.until(found.t + 25.0)
    return samples


@pytest.fixture
def panel(demo: MainWindow) -> PracticePanel:
    found = step(demo, "practice")
    QApplication.processEvents()
    assert isinstance(found, PracticePanel)
    return found


@pytest.fixture
def own(panel: PracticePanel, demo: MainWindow, dialogs: Answers, tmp_path: Path) -> PracticePanel:
    """A book of one's own, just begun."""
    panel.close_book()
    panel.mark.edit.setText("T 4")
    dialogs.path = tmp_path / "own.banister-practice"
    press(demo, "practice", "practice.begin")
    assert panel.desk.book is not None and panel.desk.book.trainee == "T 4" and panel.fault.text() == ""
    return panel


def session(panel: PracticePanel, window: MainWindow, drill: str = "edges", target: str = "150", edge: str = "0.8") -> None:
    choose(panel.session_part.drill, drill)
    for field, text in ((panel.session_part.target, target), (panel.session_part.edge, edge)):
        field.edit.setText(text)
    panel.session_part.begin()


def test_the_demo_shows_a_simulated_trainee_walked_by_keys_and_leaves_the_job_alone(demo: MainWindow, panel: PracticePanel, qtbot: QtBot) -> None:
    before, board = demo.store.job, demo.work.practice
    assert board.isVisible() and not demo.work.section.isVisible() and not demo.work.rail.isVisible()
    shown = " ".join(texts_of(board.drawing))
    assert "SIMULATED" in shown and "Edges held" in shown and "a week" in shown and "kept nowhere" in panel.whose.text()
    qtbot.keyClick(board, Qt.Key.Key_Right)
    qtbot.keyClick(board, Qt.Key.Key_Right)
    qtbot.keyClick(board, Qt.Key.Key_Down)
    assert panel.desk.rod == 1 and panel.desk.chosen.metric.id == "beat_error" and "on the beat" in " ".join(texts_of(board.drawing)).lower()
    assert panel.rod_head.text() == "Rod 2" and "Edges held evenly: " in panel.rod_figures.text()
    assert "Count the edge" in panel.notes.text(), "what was written last holds until something else is"
    row = next(s for s in board.drawing.shapes if isinstance(s, Text) and s.id == "metric:arc_wander")
    qtbot.mouseClick(board, Qt.MouseButton.LeftButton, pos=QPoint(int(row.at[0]) + 5, board.height() - int(row.at[1])))
    assert panel.desk.metric == "arc_wander"
    assert demo.store.job is before and demo.store.now.dirty is False and "9 sessions" in demo.work.stair.states[10].text
    demo.go_to("passes")
    assert demo.work.rail.isVisible()


def test_a_beginner_with_ruler_and_clock_keeps_a_book(demo: MainWindow, own: PracticePanel, dialogs: Answers, qtbot: QtBot) -> None:
    session(own, demo)
    assert own.says.text() and not own.rod_part.fields["run_out_mm"].isVisibleTo(own), "the drill of edges asks for widths and edges only"
    fields = own.rod_part.fields
    for widths, edges in (("10 11,5 11", "0.8 0.9 0.7 0.8"), ("10.5 10.5 11", "0.8 0.8 0.8 0.85")):
        fields["edges_s"].edit.setText(edges)
        type_in(qtbot, fields["widths_mm"].edit, widths)
    kept = read_practice(dialogs.path)
    assert [rod.widths_mm for rod in kept.sessions[0].rods] == [(10.0, 11.5, 11.0), (10.5, 10.5, 11.0)] and own.rows.count() == 2
    assert "too few to say: 2 of 4 rods" in " ".join(texts_of(demo.work.practice.drawing)) and "Too few rods" in own.says.text()
    fields["widths_mm"].edit.setText("wide")
    own.rod_part.take()
    assert "length" in own.rod_part.refused.text() and read_practice(dialogs.path) == kept
    own.rod_part.edit(0)
    assert fields["widths_mm"].edit.text().split() == ["10", "11.5", "11"]
    type_in(qtbot, fields["widths_mm"].edit, "9 9 9")
    assert read_practice(dialogs.path).sessions[0].rods[0] == RodRead(widths_mm=(9.0, 9.0, 9.0), edges_s=(0.8, 0.9, 0.7, 0.8))
    own.rod_part.edit(1)
    demo.toggle_units()
    assert fields["widths_mm"].edit.text() == "0.413  0.413  0.433" and own.session_part.target.label.text() == "Mark to end at, in"
    type_in(qtbot, fields["edges_s"].edit, "0.8 0.8 0.8 0.9")
    demo.toggle_units()
    assert read_practice(dialogs.path).sessions[0].rods[1] == RodRead(widths_mm=(10.5, 10.5, 11.0), edges_s=(0.8, 0.8, 0.8, 0.9)), "what was not typed stays"
    own.desk.take_back()
    own._drop(1)
    own.desk.take_back()
    own.desk.take_back()
    assert read_practice(dialogs.path) == kept, "what was entered is taken back, in the file too"
    own.rod_part.edit(1)
    own.desk.drop_rod(0)
    assert own.rod_part.take_button.text() == demo.store.say("practice.take"), "another rod has its number now: nothing is changed by a mistake"
    own.desk.take_back()
    press(demo, "practice", "practice.drop_session")
    assert read_practice(dialogs.path).sessions == () and own.desk.session is None
    own.desk.take_back()
    assert read_practice(dialogs.path) == kept
    own.desk.look(index=0)
    own.desk.begin(dialogs.path, "other")
    assert "exists" in own.fault.text() and own.desk.book.trainee == "T 4"
    dialogs.path.write_bytes(dialogs.path.read_bytes().replace(b"T 4", b"T 5"))
    own.rod_part.edit(0)
    own.rod_part.take_button.click()
    own.desk.drop_rod(0)
    assert "nother program" in own.fault.text() and b"T 5" in dialogs.path.read_bytes(), "never over what another wrote"


def test_a_session_that_cannot_be_is_said_and_the_one_before_stays(demo: MainWindow, own: PracticePanel, dialogs: Answers) -> None:
    for begun in (0, 1):
        own.session_part.amps.edit.setText("99999")
        session(own, demo)
        assert own.fault.text() and len(own.desk.book.sessions) == begun and own.desk.index == (begun - 1 if begun else None)
        own.session_part.amps.edit.setText("104")
        session(own, demo)
        assert own.fault.text() == "" and own.desk.index == begun and len(read_practice(dialogs.path).sessions) == begun + 1
    demo.toggle_units()
    own.desk.look(index=0)
    own.session_part.begin()
    assert own.session_part.target.edit.text() == "5.91" and own.desk.session.target_mm == 150.0, "as the one before, not as that is rounded"


def test_the_book_is_there_the_next_time_and_is_given_on_only_when_asked(demo: MainWindow, own: PracticePanel, dialogs: Answers, tmp_path: Path) -> None:
    session(own, demo, drill="mark")
    first = dialogs.path
    dialogs.path = tmp_path / "copy.banister-practice"
    press(demo, "practice", "practice.give")
    assert read_practice(dialogs.path) == read_practice(first)
    dialogs.path = tmp_path / "rods.csv"
    press(demo, "practice", "practice.csv")
    assert dialogs.path.read_text(encoding="utf-8-sig").startswith("on,drill,rod")
    assert demo.preferences.practice == first
    own.desk.close()
    own.open_remembered()
    assert own.desk.book == read_practice(first)
    own.close_book()
    assert demo.preferences.practice is None and "No book is open" in " ".join(texts_of(demo.work.practice.drawing))


def test_an_instructor_sets_a_target_a_note_and_homework(demo: MainWindow, panel: PracticePanel) -> None:
    part = panel.instructor
    choose(part.figures_of, "edge_timing")
    part.high.edit.setText("8")
    part.target()
    assert "target at most 8 %" in " ".join(texts_of(demo.work.practice.drawing)) and "1.9 % over" in " ".join(texts_of(demo.work.practice.drawing))
    part.high.edit.setText("-3")
    part.target()
    assert panel.desk.book.targets[0].high == 8.0 and "low one first" in panel.fault.text()
    part.note()
    assert "note first" in part.refused.text()
    part.by.edit.setText("instructor")
    part.text.edit.setText("Slower at the edge.")
    panel.desk.look(rod=2)
    part.note()
    assert panel.desk.session.notes[-1].rod == 2 and "Slower at the edge." in panel.notes.text()
    part.rods.edit.setText("12")
    part.homework()
    assert "12 rods" in panel.set_work.text()


def test_a_recorded_trace_gives_the_rods_their_arc(demo: MainWindow, own: PracticePanel, dialogs: Answers, tmp_path: Path) -> None:
    session(own, demo)
    own.desk.put_rod(RodRead(widths_mm=(10.0, 11.0, 10.5)))
    dialogs.path = tmp_path / "arc.csv"
    dialogs.path.write_bytes(written(rods_burnt(2), is_simulated=True))
    press(demo, "practice", "practice.trace")
    rods = own.desk.session.rods
    assert len(rods) == 2 and rods[0].widths_mm and all(rod.arc is not None and rod.arc.seconds > 20 for rod in rods)
    assert all(rod.arc.is_simulated for rod in rods), "it stays what it was"
    dialogs.path = tmp_path / "none.csv"
    dialogs.path.write_text("no trace\n")
    press(demo, "practice", "practice.trace")
    assert own.rod_part.refused.text() and len(own.desk.session.rods) == 2


def test_a_trainee_needs_no_job_and_a_closed_book_stays_closed(window: MainWindow) -> None:
    window.start.wanted.emit("practice")
    panel = window.work.panel("practice")
    assert window.store.view.step == "practice" and "No book is open" in panel.whose.text()
    panel.look_at_example()
    panel.close_book()
    window.toggle_theme()
    assert panel.desk.book is None and not window.store.session.dirty


def test_the_bench_goes_with_the_window(demo: MainWindow, panel: PracticePanel) -> None:
    panel.go_to_bench()
    first = demo.opened["practice bench"]
    panel.go_to_bench()
    assert not isValid(first) or not first.isVisible()
    demo.close()
    page = demo.opened["practice bench"]
    assert not isValid(page) or not page.isVisible()


@pytest.fixture
def bench(demo: MainWindow, own: PracticePanel, qtbot: QtBot) -> PracticeBench:
    session(own, demo)
    press(demo, "practice", "practice.bench")
    page = demo.opened["practice bench"]
    page.now = 0.0
    page.clock = lambda: page.now
    yield page
    if isValid(page):
        page.close()


def test_a_rod_at_the_bench_by_key_pacer_taps_and_ruler(bench: PracticeBench, own: PracticePanel, qtbot: QtBot) -> None:
    assert "end at 150 mm" in texts_of(bench.picture.drawing)
    qtbot.keyClick(bench, Qt.Key.Key_Space)
    places = []
    for tap in range(9):
        bench.now = 0.8 * (tap + 1) + (0.02 if tap % 2 else 0.0)
        bench.tick()
        places.append(next(s.box[0] for s in bench.picture.drawing.shapes if getattr(s, "id", "") == "bar"))
        qtbot.keyClick(bench, Qt.Key.Key_Return)
    assert max(places) - min(places) > 0.5 * bench.width(), "the bar goes from edge to edge"
    bench.now = 62.0
    qtbot.keyClick(bench, Qt.Key.Key_Escape)
    assert bench.isVisible(), "nothing is left with an arc on"
    qtbot.keyClick(bench, Qt.Key.Key_Space)
    assert "150 mm" in texts_of(bench.picture.drawing)
    for key in (Qt.Key.Key_Up, Qt.Key.Key_Left, Qt.Key.Key_Left):
        qtbot.keyClick(bench, key)
    assert "158 mm" in texts_of(bench.picture.drawing) and "long by 8 mm" in texts_of(bench.picture.drawing)
    qtbot.keyClick(bench, Qt.Key.Key_Return)
    (rod,) = own.desk.session.rods
    assert rod.run_out_mm == 158.0 and len(rod.edges_s) == 8 and rod.edges_s[0] == pytest.approx(0.82, abs=0.001)
    assert "Kept: long by 8 mm" in texts_of(bench.picture.drawing)
    qtbot.keyClick(bench, Qt.Key.Key_Space)
    qtbot.keyClick(bench, Qt.Key.Key_Space)
    qtbot.keyClick(bench, Qt.Key.Key_Backspace)
    assert len(own.desk.session.rods) == 1, "let go"
    qtbot.keyClick(bench, Qt.Key.Key_Escape)
    assert not isValid(bench) or not bench.isVisible()


def test_what_happens_behind_the_bench_leaves_its_rods_where_they_belong(bench: PracticeBench, own: PracticePanel, demo: MainWindow) -> None:
    bench.space()
    session(own, demo, drill="mark", target="200")
    assert own.desk.index == 1
    bench.space()
    bench.enter()
    assert [len(one.rods) for one in own.desk.book.sessions] == [1, 0] and own.desk.book.sessions[0].drill == "edges"
    own.close_book()
    assert not isValid(bench) or not bench.isVisible()


def test_sound_that_cannot_be_played_is_said_and_the_light_stays(bench: PracticeBench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("shutil.which", lambda _: None)
    bench.click = Click(tmp_path)
    bench.switch_sound()
    assert not bench.sound and "no player" in " ".join(texts_of(bench.picture.drawing))
    played = list[str]()
    monkeypatch.setattr("shutil.which", lambda name: f"/usr/bin/{name}")
    monkeypatch.setattr("banister.desktop.steps.practice.click.QProcess.startDetached", lambda program, arguments: played.append(arguments[-1]))
    bench.click = Click(tmp_path)
    bench.switch_sound()
    bench.space()
    for i in range(1, 40):
        bench.now = i * 0.1
        bench.tick()
    assert len(played) == 4 and Path(played[0]).read_bytes().startswith(b"RIFF"), "one click a beat of 0.8 s"
    bench.space()


class Meter:
    """A meter that tells what it was given."""

    def __init__(self) -> None:
        self.state, self.is_simulated, self.left = "live", True, list[tuple[float, float, float, None]]()

    def open(self) -> None:
        """Nothing to open."""

    def close(self) -> None:
        """Nothing to close."""

    def poll(self, now_s: float) -> tuple[tuple[float, float, float, None], ...]:
        found, self.left = tuple(self.left), []
        return found


def test_a_meter_begins_and_ends_the_rod_by_itself(bench: PracticeBench, own: PracticePanel) -> None:
    meter = Meter()
    bench.meter = meter
    for t, volts, amps, _ in rods_burnt(1):
        bench.now = t
        meter.left.append((t, volts, amps, None))
        if len(meter.left) == 50:
            bench.tick()
    bench.tick()
    assert bench.bout.state == "reading"
    bench.enter()
    (rod,) = own.desk.session.rods
    assert rod.arc is not None and rod.arc.is_simulated and 0.0 < rod.arc.wander_v < 2.0 and "SIMULATED" in " ".join(texts_of(bench.picture.drawing))
    assert "arc wandered" in bench.said
