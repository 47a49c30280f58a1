"""Planning beside the window: one spawned process, only the newest request counts."""

from __future__ import annotations

import ctypes
import os
import signal
from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import TYPE_CHECKING, Any, Protocol

from PySide6.QtCore import QObject, QTimer, Signal

from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.rods.rod import Rod

if TYPE_CHECKING:
    from concurrent.futures import Future, ProcessPoolExecutor

Work = Callable[..., Any]
Arrived = Callable[[int, Any], None]
PR_SET_PDEATHSIG = 1
PAUSE_MS = 40


class Lane(Protocol):
    """Where plans are made that would hold up typing."""

    ready: Signal

    def ask(self, key: int, joint: Joint, rods: Mapping[str, Rod], answer: str) -> None:
        """Plan; `ready(key, joint, plan)` follows unless a newer key is asked for first."""

    def each(self, work: Work, items: Sequence[tuple[Any, ...]], arrived: Arrived, finished: Callable[[], None]) -> Callable[[], None]:
        """Call `work(*item)` for every item, in order; `arrived(i, result)` each time, `finished()` at the end.

        Returns what cancels the rest: then nothing more arrives.
        """

    def close(self) -> None:
        """Stop."""


class DirectLane(QObject):
    """Plans at once, in place: for tests and small machines."""

    ready = Signal(int, object, object)

    def ask(self, key: int, joint: Joint, rods: Mapping[str, Rod], answer: str) -> None:
        """Plan now."""
        self.ready.emit(key, joint, plan_joint(joint, rods, answer))

    def each(self, work: Work, items: Sequence[tuple[Any, ...]], arrived: Arrived, finished: Callable[[], None]) -> Callable[[], None]:
        """Do all of it now."""
        for i, item in enumerate(items):
            arrived(i, work(*item))
        finished()
        return lambda: None

    def close(self) -> None:
        """Nothing runs."""


def _end_with(parent: int) -> None:
    """In the spawned process: end when the window's process ends, however it ends (Linux prctl).

    A parent that ended while this process was starting sends no signal any more.
    """
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGTERM)
    if os.getppid() != parent:
        os._exit(0)


class ProcessLane(QObject):
    """Plans in a spawned process, started with the first request."""

    ready = Signal(int, object, object)
    _done = Signal(int, object, object)
    _part = Signal(object, int, object)

    def __init__(self) -> None:
        super().__init__()
        self._pool: ProcessPoolExecutor | None = None
        self._newest = 0
        self._asked: list[tuple[int, Joint, Mapping[str, Rod], str]] = []
        self._waiting: list[Future[Plan]] = []
        self._done.connect(self._deliver)
        self._part.connect(lambda errand, i, result: errand(i, result))
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE_MS)
        self._pause.timeout.connect(self._submit)

    def ask(self, key: int, joint: Joint, rods: Mapping[str, Rod], answer: str) -> None:
        """Queue a plan for the next pause in typing; what an older key still has queued is dropped."""
        if key != self._newest:
            for future in self._waiting:
                future.cancel()
            self._waiting.clear()
            self._asked.clear()
            self._newest = key
        self._asked.append((key, joint, rods, answer))
        self._pause.start()

    def _process(self) -> ProcessPoolExecutor:
        if self._pool is None:
            import multiprocessing
            from concurrent.futures import ProcessPoolExecutor

            self._pool = ProcessPoolExecutor(1, multiprocessing.get_context("spawn"), _end_with, (os.getpid(),))
        return self._pool

    def each(self, work: Work, items: Sequence[tuple[Any, ...]], arrived: Arrived, finished: Callable[[], None]) -> Callable[[], None]:
        """Queue every item in the process; results come back on the interface thread."""
        live, left = [True], [len(items)]

        def deliver(i: int, result: object) -> None:
            if live[0]:
                arrived(i, result)
                left[0] -= 1
                if not left[0]:
                    finished()

        def ended(i: int, done: Future[Any]) -> None:
            if not done.cancelled():
                self._part.emit(deliver, i, None if done.exception() else done.result())

        futures = [self._process().submit(work, *item) for item in items]
        for i, future in enumerate(futures):
            future.add_done_callback(partial(ended, i))

        def cancel() -> None:
            live[0] = False
            for future in futures:
                future.cancel()

        return cancel

    def _submit(self) -> None:
        for key, joint, rods, answer in self._asked:
            future = self._process().submit(plan_joint, joint, dict(rods), answer)
            self._waiting.append(future)
            future.add_done_callback(partial(self._finished, key, joint))
        self._asked.clear()

    def _finished(self, key: int, joint: Joint, done: Future[Plan]) -> None:
        if not done.cancelled() and done.exception() is None:
            self._done.emit(key, joint, done.result())

    def _deliver(self, key: int, joint: Joint, plan: Plan) -> None:
        if key == self._newest:
            self.ready.emit(key, joint, plan)

    def close(self) -> None:
        """Stop the process; a queued plan is dropped."""
        self._pause.stop()
        if self._pool is not None:
            self._pool.shutdown(wait=False, cancel_futures=True)
            self._pool = None
