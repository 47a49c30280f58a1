"""The record to look at, under its own step: what was planned and what was welded, side by side."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.record_page import RecordView, record_page
from banister.core.drawing.shapes import Drawing
from banister.core.record.gathering import Gathered
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store


class RecordPage(ChartView):
    """Shows the record that is gathered, with the joint as it was drawn and as it was welded."""

    def __init__(self, store: Store, theme: Theme, gathered: Callable[[], Gathered | None]) -> None:
        super().__init__(theme)
        self.store, self._gathered = store, gathered
        self.setMinimumHeight(260)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(store.say("step.record"))

    def sizeHint(self) -> QSize:  # noqa: N802
        """A page with room for every pass of an ordinary joint."""
        return QSize(700, 480)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs, on its step only."""
        if new.view.step != "record":
            return
        if new.differs(old, "joint", "plan", "issued", "records", "say", "view", "followed"):
            self.redraw()

    def made(self) -> Drawing | None:
        """The page for the present size."""
        found = self._gathered() if self.store.view.step == "record" and self.width() >= 260 else None
        if found is None:
            return None
        welded = self.store.welded
        now = None if welded is None else welded.now
        return record_page(found.record, self.store.say, RecordView(float(self.width()), float(self.height()), found.joint, found.plan, now))
