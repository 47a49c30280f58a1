"""Planning beside the window: the newest request wins, and the process ends with the window."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import ClassVar

from pytestqt.qtbot import QtBot

from banister.desktop.lane import DirectLane, ProcessLane
from banister.desktop.store import Store
from banister.job.library import demo_job
from tests.conftest import make_joint, rods_by_id


def test_only_the_newest_request_is_answered(qtbot: QtBot) -> None:
    lane = ProcessLane()
    got: list[tuple[int, int]] = []
    lane.ready.connect(lambda key, joint, plan: got.append((key, len(plan.passes))))
    joint = make_joint("bar", thickness_mm=40.0)
    for key in (1, 2, 3):
        lane.ask(key, joint, rods_by_id(), "balanced")
    with qtbot.waitSignal(lane.ready, timeout=15_000):
        pass
    assert [key for key, _ in got] == [3]
    lane.close()


def test_a_thick_joint_is_planned_beside_and_the_window_told(qtbot: QtBot) -> None:
    lane = ProcessLane()
    store = Store(lane)
    thick = make_joint("bar", thickness_mm=50.0)
    store.open(demo_job().with_rods(tuple(rods_by_id().values())))
    store._slow = True
    store.edit(replace(store.job, joints=(thick,)), "One thick joint")
    assert store.plan is None
    qtbot.waitUntil(lambda: store.plan is not None, timeout=15_000)
    assert store.plan.feasible and len(store.plan.passes) > 30
    lane.close()


def test_a_killed_window_leaves_no_process() -> None:
    code = ("import os, sys; from PySide6.QtCore import QCoreApplication; app = QCoreApplication([])\n"
            "from banister.desktop.lane import ProcessLane; from tests.conftest import make_joint, rods_by_id\n"
            "lane = ProcessLane(); lane.ask(1, make_joint(), rods_by_id(), 'balanced'); lane._submit()\n"
            "print(next(iter(lane._pool._processes)), flush=True); import time; time.sleep(1.5); os._exit(9)")  # fmt: skip
    done = subprocess.run([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True, timeout=30, env=os.environ | {"PYTHONPATH": "."})
    child = int(done.stdout.split()[0])
    for _ in range(50):
        stat = Path(f"/proc/{child}/stat")
        if not stat.exists() or " Z " in stat.read_text():
            return
        time.sleep(0.1)
    raise AssertionError("the planning process outlived its window")


def test_one_joints_edit_leaves_the_others_plans_alone(qtbot: QtBot) -> None:
    store = Store(DirectLane())
    store.open(demo_job())
    for joint_id in ("F2", "G1"):
        store.show_joint(joint_id)
    kept = store.planned.plans["balanced"]
    store.show_joint("F2")
    store.edit_joint("Set root gap", root_gap_mm=3.5)
    planned = store.plan
    store.edit_joint("Set name", name="typed note", drawing="OL-9")
    assert store.joint.name == "typed note" and store.plan is planned
    store.show_joint("G1")
    assert store.planned.plans["balanced"] is kept


def test_a_run_of_edits_leaves_only_the_newest_schedule_in_the_queue() -> None:
    class Queue(DirectLane):
        asked: ClassVar[list[bool]] = []

        def each(self, work: object, items: object, arrived: object, finished: object) -> Callable[[], None]:
            i = len(self.asked)
            self.asked.append(True)
            return lambda: self.asked.__setitem__(i, False)

    lane = Queue()
    store = Store(lane)
    store.open(demo_job())
    for air in range(5):
        store.edit_joint("air", heat=replace(store.joint.heat, air_c=float(air)))
        store.ask_heat()
        store.ask_heat()
    assert lane.asked == [False, False, False, False, True]
