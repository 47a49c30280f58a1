"""How the practice bench is opened: the pacer of the session's drill, rod and position, and the meter that was chosen for the joint."""

from __future__ import annotations

import contextlib
from typing import TYPE_CHECKING

from banister.core.joint.kinds import FORMS
from banister.core.joint.positions import FLAT, position
from banister.core.practice.book import Session
from banister.core.practice.pacer import Pacer, own_pacer, pacer_for
from banister.core.rods.rod import Rod
from banister.desktop.steps.practice.bench import PracticeBench
from banister.desktop.steps.practice.click import Click
from banister.desktop.steps.practice.desk import PracticeDesk
from banister.desktop.weld.opening import driver_chosen
from banister.devices.kinds import ARC
from banister.job.practice import shipped_drills

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow


def bench_page(window: MainWindow, desk: PracticeDesk) -> PracticeBench:
    """The page for the session that is looked at."""
    session, job = desk.session, window.store.job
    assert session is not None
    rod = None if job is None else job.rods_by_id.get(session.rod)
    return PracticeBench(desk, window.store.say, pacer_of(session, rod), Click(window.files.folder), driver_chosen(window, ARC))


def attitude_in(code: str) -> str:
    """How the pool lies in a position as it was typed; flat where it is none that is known."""
    for form in FORMS:
        with contextlib.suppress(KeyError):
            return position(code, form).attitudes_up[0]
    return FLAT


def pacer_of(session: Session, rod: Rod | None) -> Pacer | None:
    """The beat that was typed; else that of the drill at the speed that burns the rod on its mark; None where neither is known."""
    attitude = attitude_in(session.position)
    if session.edge_s is not None:
        return own_pacer(session.edge_s, attitude)
    if rod is None or session.target_mm is None:
        return None
    weave = "edge_timing" in shipped_drills().drills[session.drill].measure
    return pacer_for(rod.diameter_mm, 60.0 * session.target_mm / rod.burn_time_s(session.amps or rod.amps), attitude, weave)
