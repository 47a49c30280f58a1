"""Speed of a long weld list, of the film, of practice and of the search for a preparation; as in test_speed."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
from PySide6.QtCore import QSettings

from banister.core.drawing.charts.practice_picture import PracticeView, practice_picture
from banister.core.joint.joint import edited
from banister.core.listing.welds import listed
from banister.core.plan.improve import TIME, WEIGHTS, improved, unknowns_of
from banister.core.practice.figures import arc_read, arc_wander
from banister.core.practice.standing import standings, weeks_of
from banister.core.value import replace
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.style import dress
from banister.desktop.app.theme import LIGHT_THEME, load_fonts
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import Direct
from banister.job.library import data_file, demo_job
from banister.job.practice import read_practice, shipped_drills
from tests.benchmarks.test_speed import held, timed
from tests.conftest import SAY
from tests.desktop.conftest import Answers


def test_three_hundred_welds_of_forty_kinds() -> None:
    """All in 10 s, the first of them in 1 s."""
    job = demo_job()
    base = (job.joint("F2"), job.joint("G1"))
    kinds = [edited(base[i % 2], thickness_mm=12.0 + 0.5 * i) for i in range(40)]
    joints = tuple(replace(kinds[i % 40], id=f"W{i}", fitup=job.joint("H1").fitup, readings=()) for i in range(300))
    job = replace(job, joints=joints, issued=())
    begun = time.perf_counter()
    found = listed(job)
    next(found)
    first = 1000 * (time.perf_counter() - begun)
    *_, whole = found
    held("the first of 300 welds", first, 1000.0)
    held("300 welds of 40 kinds", 1000 * (time.perf_counter() - begun), 10_000.0)
    assert len(whole.welds) == 300 and whole.kinds == 40


def test_a_frame_of_the_film(qtbot: object, qapp: object, tmp_path: Path) -> None:
    """Made and painted at 1280 x 800 in 33 ms: thirty a second."""
    load_fonts()
    dress(qapp, LIGHT_THEME)  # type: ignore[arg-type]
    window = MainWindow(Direct(), Answers(), Preferences(QSettings(str(tmp_path / "p.ini"), QSettings.Format.IniFormat)), tmp_path)  # type: ignore[arg-type]
    window.open_demo()
    window.open_view("film")
    view = window.opened["film"]
    view.resize(1280, 800)
    picture = view.picture
    times = iter([0.9 + 0.0005 * i for i in range(100)])

    def frame() -> None:
        picture.to(next(times) * picture.film.length_s)
        picture.repaint()

    held("a frame of the film", timed(frame, 60), 33.0)
    view.close()
    window.store.session.mark_saved()
    window.close()


def test_figures_of_a_rod_and_its_beat() -> None:
    """Of 65 s at 20 Hz: the figures in 20 ms without the beat, with it in 90 ms."""
    draw, t = np.random.default_rng(2), np.arange(0, 65, 0.05)
    volts = 23.5 + 0.4 * np.cos(2 * np.pi * t / 0.8) + 0.4 * draw.standard_normal(len(t))
    seconds = [float(np.median(volts[i * 20 : (i + 1) * 20])) for i in range(2, 64)]
    held("figures of a rod", timed(lambda: arc_wander(seconds), 20), 20.0)
    held("a rod with its beat", timed(lambda: arc_read([*zip(t.tolist(), volts.tolist(), strict=True)]), 10), 90.0)


def test_a_session_is_drawn_as_quick_as_an_edit() -> None:
    """Nine sessions, nine figures: worked out and drawn in 50 ms."""
    book, drills = read_practice(data_file("demo.banister-practice")), shipped_drills()

    def drawn() -> None:
        found = standings(book, 8, drills)
        practice_picture(book, 8, found, weeks_of(book, drills.metrics["edge_timing"], 8), PracticeView(760.0, 640.0), SAY)

    held("a session drawn", timed(drawn, 10), 50.0)


def test_the_first_answer_of_a_better_preparation() -> None:
    """In 1 s, and all of it in 10 s."""
    job = demo_job()
    joint, begun, first = job.joint("F2"), time.perf_counter(), 0.0
    for n, _ in enumerate(improved(joint, job.rods_by_id, unknowns_of(joint), WEIGHTS[TIME])):
        first = 1000 * (time.perf_counter() - begun) if n == 2 else first
    held("a first better preparation", first, 1000.0)
    held("a preparation searched", 1000 * (time.perf_counter() - begun), 10_000.0)
