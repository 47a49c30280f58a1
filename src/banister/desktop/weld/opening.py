"""How the page at the joint is opened: on the issued plan, its journal open for writing; or as a trial that is kept nowhere."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any, TypeVar

from PySide6.QtCore import Qt

from banister.core.follow.stopped import stops_as_welded
from banister.core.journal import Record
from banister.core.remark import Refused
from banister.core.stops.of_plan import JointStops
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.weld.bench import Bench
from banister.desktop.weld.listening import Listening
from banister.desktop.weld.metering import Metering
from banister.desktop.weld.page import WeldPage
from banister.desktop.weld.simulated import FastClock, SimulatedWelder
from banister.devices.driver import Driver
from banister.devices.kinds import ARC, KEYS, OVEN, THERMOMETER, Kind
from banister.devices.lines import driver_of

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow

Told = TypeVar("Told")
STOPS = "weld stops"
TRIAL_SIZE = (1280, 800)


class Trial:
    """Records of a trial: kept in the page alone, gone with it."""

    def __init__(self, records: tuple[Record, ...], clock: Callable[[], float]) -> None:
        self.records, self._clock = records, clock

    def write(self, kind: str, joint: str = "", key: str = "", /, **data: Any) -> Record | None:
        """One record, in the page alone."""
        t = datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%S.000Z")
        record = Record(n=len(self.records) + 1, t=t, m=self._clock(), b="trial", k=kind, j=joint, p=key, d=data)
        self.records = (*self.records, record)
        return record

    def void(self, number: int, why: str) -> Record | None:
        """An entry of the trial counts no more."""
        return self.write("correct", of=number, why=why, void=True)


def weld_page(window: MainWindow, simulate: tuple[float, float, str] | None) -> WeldPage | None:
    """The page for the shown joint; None where it cannot be opened, which is said."""
    store = window.store
    now = store.now
    follower = store.following.follower(now)
    if now.joint is None or now.issued is None or follower is None:
        return None
    limits = now.issued.heat.schedule.limits if now.issued.heat is not None else None
    welder: SimulatedWelder | None = None
    if simulate is None:
        bench = Bench(now.joint, follower, limits, window.logbook, lambda: store.records, time.monotonic, store.say)
        bench.tell_caution()
        meter = driver_chosen(window, ARC)
        metering = None if meter is None else Metering(meter, bench, window.logbook.keep_trace)
    else:
        speed, hand, fault = simulate
        clock = FastClock(time.monotonic, speed)
        trial = Trial(store.records, clock)
        welder = SimulatedWelder(hand, speed, fault)
        bench = Bench(now.joint, follower, limits, trial, lambda: trial.records, clock, store.say, simulated=True)
        metering = Metering(welder.meter, bench)
    page = WeldPage(bench, metering, welder, left=lambda: store.look(step="weld"))
    if simulate is None:
        page.listens(Listening(bench, driver_chosen(window, THERMOMETER), driver_chosen(window, KEYS), driver_chosen(window, OVEN), page.pressed))
    page.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    page.resize(*TRIAL_SIZE)

    def laid(found: JointStops | None) -> None:
        bench.stops = found

    request = (now.joint, now.issued.plan, bench.facts)
    store.errands.run(Errand(SEARCH, STOPS, "stops", stops_as_welded, request, laid, failed=lambda _: None))
    return page


def driver_chosen(window: MainWindow, kind: Kind[Told]) -> Driver[Told] | None:
    """The driver of a device that was chosen; None for none, or where a recorded trace cannot be told again, which is said."""
    line = window.store.view.line_of(kind.device)
    if line is None:
        return None
    try:
        return driver_of(kind, line.path, line.baud)
    except Refused as refused:
        window.tell(window.store.say.sentence(refused.remarks[0]))
    except OSError as error:
        window.tell(window.store.say("devices.not_read", why=error.strerror or str(error)))
    return None
