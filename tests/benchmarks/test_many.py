"""Speed of a long weld list and of the film; as in test_speed."""

from __future__ import annotations

import time
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QSettings

from banister.core.joint.joint import edited
from banister.core.listing.welds import listed
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.theme import LIGHT_THEME, dress, load_fonts
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import Direct
from banister.job.library import demo_job
from tests.benchmarks.test_speed import held, timed
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
