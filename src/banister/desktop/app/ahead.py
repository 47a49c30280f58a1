"""What the steps show is made before they are first visited, a piece at a time while nobody works: every visit comes at once."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import QObject, QTimer

from banister.desktop.app.frame import MADE_BELOW, WorkPage
from banister.desktop.steps.registry import STEPS
from banister.desktop.store import Store

QUIET_MS, BETWEEN_MS = 800, 60
"""Nothing is made until nothing has changed for so long; and between two pieces what is typed comes first."""
FILLED = ("limits", "procedure", "fitup", "rods", "inspect", "practice")
"""Steps that are filled as well: many rows, or files to read."""


class Ahead(QObject):
    """Waits for quiet with a job open, makes the next piece, and waits again until all is made."""

    def __init__(self, work: WorkPage, store: Store) -> None:
        super().__init__(work)
        self._work, self._store, self._left = work, store, _pieces(work, store)
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self._go_on)
        store.changed.connect(self._wait)

    def _wait(self) -> None:
        self._timer.start(QUIET_MS)

    def _go_on(self) -> None:
        if self._store.joint is None:
            return
        if self._store.errands.busy or not self._work.isActiveWindow():  # at the joint, say: no key there waits for this
            self._wait()
            return
        make = next(self._left, None)
        if make is None:
            self._store.changed.disconnect(self._wait)
            return
        make()
        self._timer.start(BETWEEN_MS)


def _pieces(work: WorkPage, store: Store) -> Iterator[Callable[[], object]]:
    """Each a few hundredths of a second: a module, a panel, what stands under the section, its many cells."""
    for step in STEPS:
        yield step.read
        yield partial(work.panel, step.key)
        if step.key in FILLED:
            yield work.panel(step.key).catch_up
    for key in MADE_BELOW:
        yield partial(getattr, work, key)
    yield lambda: work.grid.fill(store.now)
