"""The four things that matter of the shown plan, large, at the head of a panel."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.summary import HEIGHT, Headline, headlines, summary
from banister.core.drawing.shapes import Drawing
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot


class SummaryView(ChartView):
    """Beads, rods, hours and what is outside; nothing where there is no plan."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.found: tuple[Headline, ...] = ()
        self.setFixedHeight(int(HEIGHT))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802
        """As wide as the panel."""
        return QSize(260, int(HEIGHT))

    def show_plan(self, now: Snapshot, is_wanted: bool = True) -> None:
        """Show the shown plan."""
        self.found = headlines(now.plan, now.heat, now.judgement, now.say)
        self.setVisible(bool(self.found) and is_wanted)
        self.setAccessibleName(now.say("headline.name"))
        self.setAccessibleDescription("; ".join(f"{one.figure} {one.label}" for one in self.found))
        self.redraw()

    def made(self) -> Drawing | None:
        """The picture."""
        return summary(self.found, float(self.width())) if self.found else None
