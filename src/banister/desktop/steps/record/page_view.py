"""The record to look at, under its own step: what was planned and what was welded, side by side."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.record_page import RecordView, record_page
from banister.core.drawing.shapes import Drawing
from banister.core.journal import corrected
from banister.core.record.gathering import Gathered
from banister.core.under_way import Welded, welded_of
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import HEAT, Errand
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

KEY = "record"


class RecordPage(ChartView):
    """Shows the record that is gathered; how the joint lies after it was welded is worked out beside the window."""

    def __init__(self, store: Store, theme: Theme, gathered: Callable[[], Gathered | None]) -> None:
        super().__init__(theme)
        self.store, self._gathered = store, gathered
        self.welded: Welded | None = None
        self.setMinimumHeight(260)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(store.say("step.record"))

    def sizeHint(self) -> QSize:  # noqa: N802
        """A page with room for every pass of an ordinary joint."""
        return QSize(700, 480)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs, on its step only; follow what was welded anew where that differs."""
        if new.view.step != "record":
            return
        if old is None or old.view.step != "record" or new.differs(old, "joint", "issued", "records"):
            self._follow(new)
        if new.differs(old, "joint", "plan", "issued", "records", "say", "view"):
            self.redraw()

    def _follow(self, now: Snapshot) -> None:
        """Have the welded section worked out."""
        self.welded = None
        self.store.stop(KEY)
        if now.issued is not None and now.job is not None:
            request = (now.issued, now.job.rods_by_id, corrected(now.records).records)
            self.store.errands.run(Errand(HEAT, KEY, KEY, welded_of, request, self._arrived))

    def _arrived(self, found: Welded | None) -> None:
        self.welded = found
        self.redraw()

    def made(self) -> Drawing | None:
        """The page for the present size."""
        found = self._gathered() if self.store.view.step == "record" and self.width() >= 260 else None
        if found is None:
            return None
        welded = None if self.welded is None else self.welded.now
        return record_page(found.record, self.store.say, RecordView(float(self.width()), float(self.height()), found.joint, found.plan, welded))
