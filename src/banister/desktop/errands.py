"""Work beside the window: lanes with a process each, the newest errand of a key counts, faults are told and logged.

A lane's process is started once and kept; one that dies, or is stopped in the middle of something long, is
replaced, and the next errand runs as if nothing had happened.
"""

from __future__ import annotations

import contextlib
import itertools
import logging
import threading
import time
import traceback
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from typing import Any, Protocol

from PySide6.QtCore import QObject, QSocketNotifier, Qt, QTimer, Signal, SignalInstance
from shiboken6 import isValid

from banister.desktop.work.worker import BEGUN, END, PART, READY, parts, started

PLAN, HEAT, SEARCH = "plan", "heat", "search"
"""Lanes: plans are never kept waiting by schedules, nor either by a search."""
LANES = (PLAN, HEAT, SEARCH)
TURN_S = 0.02
"""What came is taken in turns no longer than this: a key is not kept waiting by twenty small pictures."""
LONG_S = 0.5
"""An errand running longer than this is stopped when a newer one of its key comes; a shorter one is let finish."""
MOST_STARTS = 3
"""A process that ends this often before it is ready is not started again until something is asked anew."""
log = logging.getLogger(__name__)

Arrived = Callable[[Any], None]
Failed = Callable[[str], None]


def _nothing() -> None:
    return None


@dataclass(slots=True)
class Errand:
    """Something to be done: `work(*request)`, a value or a generator of several; `word` names it to the user (the words `busy.WORD`)."""

    lane: str
    key: str
    word: str
    work: Callable[..., Any]
    request: tuple[Any, ...]
    arrived: Arrived
    ended: Callable[[], None] = _nothing
    failed: Failed | None = None
    token: int = 0
    asked_s: float = field(default_factory=time.monotonic)
    begun_s: float = 0.0
    """When it was handed to its process, on the monotonic clock."""
    tries: int = 0
    reached: bool = False
    """True once its process has said that it has it."""

    @property
    def is_awaited(self) -> bool:
        """False once the widget that asked is gone: a window can be closed sooner than its errand is done."""
        asker = getattr(getattr(self.arrived, "func", self.arrived), "__self__", None)
        return not isinstance(asker, QObject) or isValid(asker)


class Runs(Protocol):
    """What views and the store ask of errands."""

    together: Callable[[], contextlib.AbstractContextManager[None]]
    """What comes at once is brought inside it: the store tells it once."""

    @property
    def failed(self) -> SignalInstance:
        """Tells the word of an errand that went wrong, and the report."""

    @property
    def busy_changed(self) -> SignalInstance:
        """Tells that something was begun or done."""

    def run(self, errand: Errand) -> None:
        """Do it, in the place of an earlier one of its key."""

    def stop(self, key: str) -> None:
        """Nothing more comes of a key."""

    @property
    def busy(self) -> tuple[Errand, ...]:
        """What is asked for and not yet done, the oldest first."""

    def close(self) -> None:
        """Stop everything."""


class Errands(QObject):
    """Errands in processes beside the window."""

    failed = Signal(str, str)
    busy_changed = Signal()
    started = Signal(str, int, object, object)
    """From the thread that starts a process: its lane, the number of the start, the process and our end of its pipe (or the fault, and None)."""

    def __init__(self) -> None:
        super().__init__()
        self.together: Callable[[], contextlib.AbstractContextManager[None]] = contextlib.nullcontext
        self._lanes = {name: _Lane(name, self) for name in LANES}
        self._tokens = itertools.count(1)
        self.started.connect(self._started)

    def _started(self, lane: str, number: int, process: Any, connection: Connection | None) -> None:
        self._lanes[lane].came_up(number, process, connection)

    def run(self, errand: Errand) -> None:
        """Do it, in the place of an earlier one of its key."""
        errand.token = next(self._tokens)
        self._lanes[errand.lane].take(errand)
        self.busy_changed.emit()

    def stop(self, key: str) -> None:
        """Nothing more comes of a key; a process in the middle of it is replaced."""
        for lane in self._lanes.values():
            lane.drop(key)
        self.busy_changed.emit()

    @property
    def busy(self) -> tuple[Errand, ...]:
        """What is asked for and not yet done, the oldest first."""
        return tuple(sorted((e for lane in self._lanes.values() for e in lane.all), key=lambda e: e.asked_s))

    def warm(self) -> None:
        """Start the processes while nothing is asked yet."""
        for lane in self._lanes.values():
            lane.start()

    def worker_pids(self) -> dict[str, int]:
        """Process of every lane that is running, by name."""
        return {name: lane.pid for name, lane in self._lanes.items() if lane.pid}

    def close(self) -> None:
        """Stop everything."""
        for lane in self._lanes.values():
            lane.close()
        for thread in threading.enumerate():
            if thread.name.startswith("start "):
                thread.join(1.0)

    def told(self, errand: Errand, report: str) -> None:
        """An errand went wrong: logged, and said by whoever asked, else by the window."""
        log.error("errand %s failed\n%s", errand.key, report)
        if errand.failed is not None and errand.is_awaited:
            errand.failed(report)
        self.failed.emit(errand.word, report)


class _Lane:
    """One process and what waits for it."""

    def __init__(self, name: str, errands: Errands) -> None:
        self.name, self.errands = name, errands
        self.waiting: OrderedDict[str, Errand] = OrderedDict()
        self.running: Errand | None = None
        self._process: Any = None
        self._connection: Connection | None = None
        self._notifier: QSocketNotifier | None = None
        self._is_ready = False
        self._start_number, self._is_starting, self._failed_starts = 0, False, 0
        self._patience = QTimer(errands)
        self._patience.setSingleShot(True)
        self._patience.setInterval(int(1000 * LONG_S))
        self._patience.timeout.connect(self._lose_patience)

    @property
    def pid(self) -> int:
        """The process's number, 0 where there is none."""
        return int(self._process.pid or 0) if self._process is not None else 0

    @property
    def all(self) -> list[Errand]:
        """What runs and what waits; nothing of what was given up."""
        running = [self.running] if self.running is not None and self.running.key else []
        return [*running, *self.waiting.values()]

    def take(self, errand: Errand) -> None:
        """Queue an errand; the one of its key that runs already is let finish unless it takes long, and its result is not wanted."""
        self.waiting.pop(errand.key, None)
        self.waiting[errand.key] = errand
        if self.running is not None and self.running.key == errand.key:
            self._give_up()
        self._failed_starts = 0
        self.start()
        self._next()

    def drop(self, key: str) -> None:
        """Forget an errand."""
        self.waiting.pop(key, None)
        if self.running is not None and self.running.key == key:
            self._give_up()
        self._next()

    def _give_up(self) -> None:
        """Nothing of what runs is wanted: it may end by itself soon, else its process is replaced."""
        running = self.running
        if running is None:
            return
        if time.monotonic() - running.begun_s > LONG_S:
            self._replace_process()
        else:
            self.running = Errand(running.lane, "", running.word, running.work, (), lambda _: None, token=running.token, begun_s=running.begun_s)
            self._patience.start()

    def _lose_patience(self) -> None:
        if self.running is not None and not self.running.key:
            self._replace_process()

    def _replace_process(self) -> None:
        self._end_process()
        self.running = None
        self.start()

    # --- the process --------------------------------------------------------------------------
    def start(self) -> None:
        """Start the process unless it runs; a thread does it, for it takes a third of a second."""
        if self._process is not None or self._is_starting:
            return
        self._start_number, self._is_starting = self._start_number + 1, True
        threading.Thread(target=self._spawn, args=(self._start_number,), name=f"start {self.name}", daemon=True).start()

    def _spawn(self, number: int) -> None:
        try:
            process, ours = started(self.name)
        except (OSError, EOFError, RuntimeError) as error:
            process, ours = error, None
        with contextlib.suppress(RuntimeError):  # the window is gone meanwhile
            self.errands.started.emit(self.name, number, process, ours)

    def came_up(self, number: int, process: Any, connection: Connection | None) -> None:
        """A process was started, or could not be."""
        if number != self._start_number:
            if connection is not None:
                connection.close()
                process.kill()
            return
        self._is_starting = False
        if connection is None:
            log.error("no process for lane %s: %s", self.name, process)
            self._start_failed(str(process))
            return
        self._process, self._connection, self._is_ready = process, connection, False
        self._notifier = QSocketNotifier(connection.fileno(), QSocketNotifier.Type.Read)
        self._notifier.activated.connect(self._readable)

    def _start_failed(self, why: str) -> None:
        """Try again, and after some times tell all that wait."""
        self._failed_starts += 1
        if self._failed_starts < MOST_STARTS:
            self.start()
            return
        left = list(self.waiting.values())
        self.waiting.clear()
        for errand in left:
            self.errands.told(errand, f"the process of lane {self.name} does not come up: {why}")
        self.errands.busy_changed.emit()

    def _next(self) -> None:
        if self.running is not None or not self._is_ready or not self.waiting or self._connection is None:
            return
        if not self._process.is_alive():
            log.warning("the process of lane %s ended while nothing was asked", self.name)
            self._replace_process()
            return
        _, errand = self.waiting.popitem(last=False)
        errand.begun_s, errand.tries, errand.reached, self.running = time.monotonic(), errand.tries + 1, False, errand
        try:
            self._connection.send((errand.token, errand.work, errand.request))
        except OSError:
            log.warning("the process of lane %s ended as it was asked", self.name)
            self.waiting[errand.key] = errand
            self._replace_process()

    def _readable(self) -> None:
        connection, until_s = self._connection, time.monotonic() + TURN_S
        try:
            with self.errands.together():
                while connection is not None and connection is self._connection and connection.poll() and time.monotonic() < until_s:
                    self._received(*connection.recv())
        except (EOFError, OSError):
            self._died()

    def _received(self, token: int, what: str, value: Any) -> None:
        if what == READY:
            self._is_ready, self._failed_starts = True, 0
            self._next()
            return
        errand = self.running
        if errand is None or errand.token != token:
            return
        if what == BEGUN:
            errand.reached = True
            return
        if what == PART:
            if errand.is_awaited:
                errand.arrived(value)
            return
        if self.running is errand:
            self.running = None
        if what == END:
            if errand.is_awaited:
                errand.ended()
        else:
            self.errands.told(errand, value)
        self._next()
        self.errands.busy_changed.emit()

    def _died(self) -> None:
        """The process is gone: what it was at is told as failed, and a new one takes the rest, and what had not reached it yet."""
        errand, self.running = self.running, None
        came_up = self._is_ready
        self._end_process()
        log.error("the process of lane %s ended", self.name)
        if errand is not None and errand.key and not errand.reached and errand.tries < MOST_STARTS:
            self.waiting.setdefault(errand.key, errand)
            self.waiting.move_to_end(errand.key, last=False)
        elif errand is not None and errand.key:
            self.errands.told(errand, f"the process of lane {self.name} ended while it was at {errand.key}")
        if came_up:
            self.start()
        else:
            self._start_failed("it ended before it was ready")
        self.errands.busy_changed.emit()

    def _end_process(self) -> None:
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier.deleteLater()
        if self._connection is not None:
            self._connection.close()
        if self._process is not None:
            with contextlib.suppress(OSError):
                self._process.kill()
            self._process.join(0.2)
        self._process = self._connection = self._notifier = None
        self._is_ready = self._is_starting = False
        self._start_number += 1

    def close(self) -> None:
        """Stop for good."""
        self._patience.stop()
        self.waiting.clear()
        self.running = None
        self._end_process()


class Direct(QObject):
    """Errands done at once, in place: for tests. What was asked before is remembered, so that it is computed once."""

    failed = Signal(str, str)
    busy_changed = Signal()

    def __init__(self, remembered: dict[Any, list[Any]] | None = None) -> None:
        super().__init__()
        self.together: Callable[[], contextlib.AbstractContextManager[None]] = contextlib.nullcontext
        self.remembered = {} if remembered is None else remembered

    def run(self, errand: Errand) -> None:
        """Do it now."""
        import pickle

        key = pickle.dumps((errand.work, errand.request))
        try:
            if key not in self.remembered:
                self.remembered[key] = list(parts(errand.work(*errand.request)))
        except Exception:  # noqa: BLE001  as in the processes
            report = traceback.format_exc()
            if errand.failed is not None:
                errand.failed(report)
            self.failed.emit(errand.word, report)
            return
        for part in self.remembered[key]:
            errand.arrived(part)
        errand.ended()

    def stop(self, key: str) -> None:
        """Nothing runs."""

    @property
    def busy(self) -> tuple[Errand, ...]:
        """Nothing runs."""
        return ()

    def warm(self) -> None:
        """Nothing to start."""

    def close(self) -> None:
        """Nothing runs."""


class BusyLine(QObject):
    """Says what is being computed once it takes half a second."""

    shown = Signal(object)

    def __init__(self, errands: Runs, after_ms: int = 500) -> None:
        super().__init__()
        self.errands, self.after_s = errands, after_ms / 1000
        self._timer = QTimer(self)
        self._timer.setInterval(100)
        self._timer.timeout.connect(self._look)
        errands.busy_changed.connect(self._look, Qt.ConnectionType.QueuedConnection)  # never while what is shown is put together

    def _look(self) -> None:
        busy = self.errands.busy
        if busy and not self._timer.isActive():
            self._timer.start()
        if not busy:
            self._timer.stop()
        late = next((e for e in busy if e.key and time.monotonic() - e.asked_s >= self.after_s), None)
        self.shown.emit(late)
