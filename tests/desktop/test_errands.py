"""Work beside the window in real processes: the newest counts, faults are told, a killed worker is replaced, nothing is left behind."""

from __future__ import annotations

import itertools
import logging
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from functools import partial
from pathlib import Path

import pytest
from PySide6.QtCore import QObject, QSettings, QTimer
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot
from shiboken6 import delete

from banister.desktop.app.preferences import Preferences
from banister.desktop.app.style import dress
from banister.desktop.app.theme import LIGHT_THEME, load_fonts
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import HEAT, LANES, MOST_STARTS, PLAN, SEARCH, BusyLine, Direct, Errand, Errands
from banister.desktop.store import Store
from banister.job.library import demo_job, load, words
from tests.asked import counted, told, wrong
from tests.desktop.conftest import Answers

WAIT_MS = 20_000


@pytest.fixture
def errands(qapp: QApplication) -> Iterator[Errands]:
    made = Errands()
    yield made
    made.close()


class Asker(QObject):
    """Somebody who may be gone before the answer comes."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[int] = []

    def take(self, value: int) -> None:
        self.objectName()
        self.found.append(value)


def test_an_answer_to_a_window_that_is_closed_comes_to_nobody(errands: Errands, qtbot: QtBot) -> None:
    gone, there, done = Asker(), Asker(), list[int]()
    errands.run(Errand(SEARCH, "gone", "w", told, (1, 0.2), gone.take, lambda: gone.take(9)))
    errands.run(Errand(SEARCH, "there", "w", told, (2,), partial(there.take)))
    errands.run(Errand(SEARCH, "last", "w", told, (3,), done.append))
    delete(gone)
    qtbot.waitUntil(lambda: done == [3], timeout=20_000)
    assert gone.found == [] and there.found == [2]


def test_the_newest_of_a_key_is_answered_and_others_wait_their_turn(errands: Errands, qtbot: QtBot) -> None:
    got: list[int] = []
    for value in (1, 2, 3):
        errands.run(Errand(PLAN, "a", "plan", told, (value, 0.05), got.append))
    errands.run(Errand(PLAN, "b", "plan", told, (9,), got.append))
    qtbot.waitUntil(lambda: 9 in got, timeout=WAIT_MS)
    qtbot.waitUntil(lambda: errands.busy == (), timeout=WAIT_MS)
    assert got == [3, 9]


def test_what_came_at_once_is_taken_in_turns(errands: Errands, qtbot: QtBot) -> None:
    ready, got, between = list[int](), list[int](), QTimer()
    errands.run(Errand(SEARCH, "ready", "w", told, (1,), ready.append))
    qtbot.waitUntil(lambda: ready == [1], timeout=WAIT_MS)

    def drawn(value: int) -> None:
        time.sleep(0.03)
        got.append(value)

    seen = [0]
    errands.run(Errand(SEARCH, "pictures", "w", counted, (8, 0.0), drawn))
    time.sleep(0.2)  # all eight lie in the pipe
    between.timeout.connect(lambda: seen.append(len(got)))
    between.start(0)
    qtbot.waitUntil(lambda: len(got) == 8, timeout=WAIT_MS)
    between.stop()
    assert max(b - a for a, b in itertools.pairwise((*seen, 8))) <= 2, "a key would have been answered in between"


def test_a_long_errand_is_given_up_for_a_newer_one_and_a_plan_never_waits_behind_a_search(
    errands: Errands, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("banister.desktop.errands.LONG_S", 0.2)
    got: list[int] = []
    errands.run(Errand(SEARCH, "board", "board", counted, (1000, 0.05), got.append))
    qtbot.waitUntil(lambda: len(got) > 1, timeout=WAIT_MS)
    errands.run(Errand(PLAN, "plan", "plan", told, (-1,), got.append))
    qtbot.waitUntil(lambda: -1 in got, timeout=WAIT_MS)
    first = errands.worker_pids()[SEARCH]
    qtbot.wait(250)
    errands.run(Errand(SEARCH, "board", "board", told, (-2,), got.append))
    qtbot.waitUntil(lambda: -2 in got, timeout=WAIT_MS)
    assert got[-1] == -2 and errands.worker_pids()[SEARCH] != first


@pytest.mark.logs
def test_what_raises_is_told_and_logged_and_the_next_works(errands: Errands, qtbot: QtBot, caplog: pytest.LogCaptureFixture) -> None:
    got: list[int] = []
    reports: list[str] = []
    with qtbot.waitSignal(errands.failed, timeout=WAIT_MS) as failed:
        errands.run(Errand(PLAN, "plan", "plan", wrong, (7,), got.append, failed=reports.append))
    assert failed.args[0] == "plan" and "ZeroDivisionError: value 7" in failed.args[1] == reports[0]
    assert any(r.levelno == logging.ERROR and "value 7" in r.getMessage() for r in caplog.records)
    pid = errands.worker_pids()[PLAN]
    errands.run(Errand(PLAN, "plan", "plan", told, (5,), got.append))
    qtbot.waitUntil(lambda: got == [5], timeout=WAIT_MS)
    assert errands.worker_pids()[PLAN] == pid


@pytest.fixture
def running(qtbot: QtBot, qapp: QApplication, tmp_path: Path) -> Iterator[MainWindow]:
    """The window as main() makes it, with its worker processes."""
    load_fonts()
    dress(qapp, LIGHT_THEME)
    preferences = Preferences(QSettings(str(tmp_path / "w.ini"), QSettings.Format.IniFormat))
    made = MainWindow(Errands(), Answers(), preferences, tmp_path / "recovery")
    made.show()
    made.open_demo()
    qtbot.waitUntil(lambda: made.store.now.heat is not None and len(made.store.now.plans) >= 4, timeout=WAIT_MS)
    yield made
    made.close()
    made.deleteLater()


@pytest.mark.logs
def test_what_had_not_reached_a_killed_process_is_done_by_the_next(errands: Errands, qtbot: QtBot) -> None:
    got, failed = list[int](), list[str]()
    errands.failed.connect(lambda word, report: failed.append(word))
    errands.run(Errand(SEARCH, "ready", "w", told, (1,), got.append))
    qtbot.waitUntil(lambda: got == [1] and errands.busy == (), timeout=WAIT_MS)  # its end comes by itself, after its value
    pid = errands.worker_pids()[SEARCH]
    os.kill(pid, signal.SIGSTOP)
    qtbot.waitUntil(lambda: ") T " in Path(f"/proc/{pid}/stat").read_text(), timeout=WAIT_MS)  # it reads nothing any more
    errands.run(Errand(SEARCH, "a", "w", told, (2,), got.append))
    os.kill(pid, signal.SIGKILL)
    qtbot.waitUntil(lambda: got == [1, 2] and errands.busy == (), timeout=WAIT_MS)
    assert failed == [] and errands.worker_pids()[SEARCH] != pid


@pytest.mark.logs
def test_a_worker_killed_is_told_and_the_next_edit_is_planned(running: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    store = running.store
    run = store.errands.run

    def for_ever(errand: Errand) -> None:
        errand.work, errand.request = (told, (0, WAIT_MS)) if errand.key == PLAN else (errand.work, errand.request)
        run(errand)

    with monkeypatch.context() as held:
        held.setattr(store.errands, "run", for_ever)
        store.edit_joint("Thick", thickness_mm=45.0)
    qtbot.waitUntil(lambda: any(e.key == PLAN and e.reached for e in store.errands.busy), timeout=WAIT_MS)
    os.kill(store.errands.worker_pids()[PLAN], signal.SIGKILL)
    qtbot.waitUntil(lambda: running.notices.shown is not None, timeout=WAIT_MS)
    assert store.say("busy.plan.word") in running.notices.shown.text and running.notices.shown.actions
    qtbot.waitUntil(lambda: store.errands.busy == (), timeout=WAIT_MS)
    assert store.now.plan is None and running.work.note.again.isVisible()
    assert running.work.note.text.text() == store.say("note.stopped")
    running.work.note.again.click()
    qtbot.waitUntil(lambda: store.now.feasible, timeout=WAIT_MS)
    store.edit_joint("Thicker", thickness_mm=46.0)
    qtbot.waitUntil(lambda: store.now.feasible and store.now.heat is not None, timeout=WAIT_MS)
    for lane in LANES:
        if pid := store.errands.worker_pids().get(lane):
            os.kill(pid, signal.SIGKILL)
    store.edit_joint("Thin", thickness_mm=20.0)
    qtbot.waitUntil(lambda: len(store.now.plans) >= 4 and store.now.heat is not None and store.errands.busy == (), timeout=WAIT_MS)
    running.store.session.mark_saved()


def test_what_is_computed_is_said_after_half_a_second_and_can_be_stopped(running: MainWindow, qtbot: QtBot) -> None:
    store, note, got = running.store, running.work.note, list[int]()
    qtbot.waitUntil(lambda: store.errands.busy == () and not note.busy.isVisible(), timeout=WAIT_MS)
    asked_s = time.monotonic()
    store.errands.run(Errand(SEARCH, "board", "board", counted, (1000, 0.05), got.append))
    qtbot.waitUntil(note.busy.isVisible, timeout=WAIT_MS)
    assert time.monotonic() - asked_s >= 0.5
    assert note.busy.text() == store.say("busy.board") and note.cancel.isVisible()
    note.cancel.click()
    seen = len(got)
    qtbot.waitUntil(lambda: not note.busy.isVisible(), timeout=WAIT_MS)
    qtbot.wait(200)
    assert len(got) == seen and store.errands.busy == ()


def test_one_request_plans_the_answers_together_and_typing_asks_once_more(qapp: QApplication) -> None:
    asked: list[tuple[str, object]] = []

    class Noted(Direct):
        def run(self, errand: Errand) -> None:
            asked.append((errand.key, errand.request))
            super().run(errand)

    store = Store(Noted(), load(), words())
    store.open(demo_job(), None)
    assert [key for key, _ in asked] == [PLAN, HEAT] and len(asked[0][1][1]) == 3, "the chosen answer at once, the other three in one go"
    store.edit_joint("Name", name="long")
    store.look(inches=True)
    assert len(asked) == 2
    store.edit_joint("Air", air_c=10.0)
    assert [key for key, _ in asked[2:]] == [HEAT]
    store.open(None, None)


def test_the_busy_line_stays_silent_for_short_work(errands: Errands, qtbot: QtBot) -> None:
    line, waited = BusyLine(errands, 250), list[float]()
    line.shown.connect(lambda errand: waited.append(time.monotonic() - errand.asked_s) if errand is not None else None)
    got: list[int] = []
    errands.run(Errand(HEAT, "heat", "heat", told, (1,), got.append))
    qtbot.waitUntil(lambda: got == [1], timeout=WAIT_MS)
    errands.run(Errand(HEAT, "heat", "heat", told, (2, 0.1), got.append))
    qtbot.waitUntil(lambda: got == [1, 2], timeout=WAIT_MS)
    assert all(s >= line.after_s for s in waited), "what is shown has taken so long, however slow the machine"
    waited.clear()
    errands.run(Errand(HEAT, "heat", "heat", told, (3, 0.5), got.append))
    qtbot.waitUntil(lambda: got == [1, 2, 3], timeout=WAIT_MS)
    assert waited and min(waited) >= line.after_s


def test_a_killed_window_leaves_no_process() -> None:
    code = ("import os, sys, time; from PySide6.QtCore import QCoreApplication; app = QCoreApplication([])\n"
            "from banister.desktop.errands import Errands\n"
            "errands = Errands(); errands.warm()\n"
            "while len(errands.worker_pids()) < 3: app.processEvents(); time.sleep(0.01)\n"
            "print(*errands.worker_pids().values(), flush=True); time.sleep(0.3); os.kill(os.getpid(), 9)")  # fmt: skip
    done = subprocess.run([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True, timeout=60, check=False)
    children = [int(pid) for pid in done.stdout.split()]
    assert done.returncode == -signal.SIGKILL and len(children) == len(LANES)
    ends = time.monotonic() + 10
    while any(alive(pid) for pid in children):
        assert time.monotonic() < ends, "a worker outlived its window"
        time.sleep(0.1)


@pytest.mark.logs
def test_a_process_that_never_comes_up_is_told_and_not_started_for_ever(errands: Errands, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    starts: list[str] = []

    def none(name: str) -> None:
        starts.append(name)
        raise OSError(12, "Cannot allocate memory")

    with monkeypatch.context() as broken:
        broken.setattr("banister.desktop.errands.started", none)
        with qtbot.waitSignal(errands.failed, timeout=WAIT_MS) as failed:
            errands.run(Errand(HEAT, "heat", "heat", told, (1,), lambda _: None))
        qtbot.wait(100)
    assert starts == [HEAT] * MOST_STARTS and "Cannot allocate memory" in failed.args[1] and errands.busy == ()
    got: list[int] = []
    errands.run(Errand(HEAT, "heat", "heat", told, (2,), got.append))
    qtbot.waitUntil(lambda: got == [2], timeout=WAIT_MS)


def test_starting_a_process_does_not_keep_the_window_waiting(errands: Errands, qtbot: QtBot) -> None:
    errands.warm()
    assert errands.worker_pids() == {}, "they come up in threads of their own"
    qtbot.waitUntil(lambda: len(errands.worker_pids()) == len(LANES), timeout=WAIT_MS)


def alive(pid: int) -> bool:
    stat = Path(f"/proc/{pid}/stat")
    return stat.exists() and " Z " not in stat.read_text()
