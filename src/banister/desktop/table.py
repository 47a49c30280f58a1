"""The table of passes, one row a pass, selected with the section and the rail."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from banister.core.drawing.section import pass_label
from banister.core.heat.shift import Shift
from banister.core.plan.plan import Pass
from banister.core.units import Units, clock, minutes
from banister.desktop.store import Store
from banister.desktop.theme import CONDENSED, Theme, font

if TYPE_CHECKING:
    from banister.core.heat.line import HeatLine


def headings(u: Units) -> tuple[str, ...]:
    """Column headings with their units."""
    return (
        "Pass", "Role", "Rod", "Current\nA", "Arc\nV", f"Run-out\n{u.length_unit}", f"Area\n{u.area_unit}",
        f"Travel\n{u.speed_unit}", f"E, k = 1\n{u.energy_unit}", f"Q, k = 0.8\n{u.energy_unit}", "Rods", "Arc time",
    )  # fmt: skip


def row_texts(p: Pass, u: Units) -> tuple[str, ...]:
    """A row's cells."""
    return (
        pass_label(p), p.role, p.rod.id, f"{p.amps:.0f}", f"{p.volts:.1f}", u.long_length(p.run_out_mm), u.area(p.area_mm2),
        u.speed(p.travel_mm_min), u.energy(p.arc_energy_kj_mm), u.energy(p.heat_input_kj_mm), str(p.rod_count), minutes(p.arc_time_s),
    )  # fmt: skip


HEAT_HEADINGS = (
    "Pass", "Rod", "Starts\nafter", "Time\nof day", "Wait\nfirst", "Joint\n\N{DEGREE SIGN}C", "t8/5\ns", "Wait, nine\nof ten", "Reheat\nfirst", "Read at",
)  # fmt: skip


def heat_texts(p: Pass, line: HeatLine | None, shift: Shift) -> tuple[str, ...]:
    """A row's cells of the schedule; blank while it is worked out."""
    found = None if line is None else next((i for i, s in enumerate(line.schedule.passes) if s.pass_id == p.id), None)
    if line is None or found is None or line.spread is None:
        return (pass_label(p), p.rod.id, *[""] * (len(HEAT_HEADINGS) - 2))
    from banister.core.heat.spread import band_in_words

    s = line.schedule.passes[found]
    wait, reheat = (minutes(v) if v >= 1 else "" for v in (s.wait_s, s.reheat_s))
    t85 = "" if s.t85 is None else f"{s.t85.seconds:.1f} ({s.t85.regime})"
    return (pass_label(p), p.rod.id, clock(s.start_s), shift.clock(s.start_s), wait, f"{s.temp_c:.0f}", t85,
            band_in_words(line.spread.wait_bands_s[found]), reheat, s.hottest_station)  # fmt: skip


class PassTable(QTableWidget):
    """Rows in the order of welding; on the heat step what the schedule says of them."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(0, len(headings(store.units)))
        self.store, self.theme = store, theme
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(24)
        self.setShowGrid(False)
        self.setFont(font(12.5, family=CONDENSED))
        self.horizontalHeader().setFont(font(11.5, family=CONDENSED))
        self.setAccessibleName("Table of passes")
        self.about_heat = False
        self._key: object = None
        self._quiet = False
        self.itemSelectionChanged.connect(self._picked)
        store.selection_changed.connect(self.show_selection)

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme, self._key = theme, None
        self.render_job()

    def render_job(self) -> None:
        """Show the plan's passes."""
        plan = self.store.plan
        key = (id(plan), self.store.units, self.store.outside, self.about_heat and (id(self.store.heat), self._shift()))
        if key == self._key or not self.isVisible():
            return
        self._key, self._quiet = key, True
        passes = plan.passes if plan is not None and plan.feasible else ()
        heads, rows = self._cells(passes)
        self.setColumnCount(len(heads))
        self.setHorizontalHeaderLabels(heads)
        self.setRowCount(len(passes))
        for row, (p, texts) in enumerate(zip(passes, rows, strict=True)):
            for column, text in enumerate(texts):
                item = QTableWidgetItem(text)
                if column >= (2 if self.about_heat else 3) and heads[column] != "Read at":
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                if column == 0:
                    item.setFont(font(13, QFont.Weight.DemiBold, CONDENSED))
                if p.id in self.store.outside:
                    item.setForeground(QColor(self.theme.bad))
                    item.setToolTip("a figure of this pass is outside a window: see the bars at the right")
                self.setItem(row, column, item)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.horizontalHeader().setStretchLastSection(True)
        self._quiet = False
        self.show_selection()

    def _shift(self) -> Shift:
        return Shift() if self.store.job is None else self.store.job.shift

    def _cells(self, passes: Sequence[Pass]) -> tuple[tuple[str, ...], list[tuple[str, ...]]]:
        """Headings, and a row of texts for every pass."""
        if self.about_heat:
            return HEAT_HEADINGS, [heat_texts(p, self.store.heat, self._shift()) for p in passes]
        return headings(self.store.units), [row_texts(p, self.store.units) for p in passes]

    def showEvent(self, event: object) -> None:  # noqa: N802
        """Catch up when the table comes into view."""
        self.render_job()

    def show_selection(self) -> None:
        """Mark the selected pass."""
        found = self.store.selected
        self._quiet = True
        if found is None or found.number > self.rowCount():
            self.clearSelection()
        else:
            self.selectRow(found.number - 1)
            self.scrollToItem(self.item(found.number - 1, 0))
        self._quiet = False

    def _picked(self) -> None:
        rows = self.selectionModel().selectedRows()
        plan = self.store.plan
        if not self._quiet and rows and plan is not None:
            self.store.select(plan.passes[rows[0].row()])

    def as_text(self) -> str:
        """The table as tab-separated text, for copying."""
        plan = self.store.plan
        heads, rows = self._cells(plan.passes if plan is not None else ())
        return "\n".join("\t".join(row) for row in (tuple(h.replace("\n", " ") for h in heads), *rows))
