"""The table of passes, one row a pass, selected with the section and the rail."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from banister.core.drawing.section import pass_label
from banister.core.plan.plan import Pass
from banister.core.units import Units, minutes
from banister.desktop.store import Store
from banister.desktop.theme import CONDENSED, Theme, font


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


class PassTable(QTableWidget):
    """Rows in the order of welding."""

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
        key = (id(plan), self.store.units, self.store.outside)
        if key == self._key or not self.isVisible():
            return
        self._key, self._quiet = key, True
        passes = plan.passes if plan is not None and plan.feasible else ()
        self.setHorizontalHeaderLabels(headings(self.store.units))
        self.setRowCount(len(passes))
        for row, p in enumerate(passes):
            for column, text in enumerate(row_texts(p, self.store.units)):
                item = QTableWidgetItem(text)
                if column > 2:
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
        passes = plan.passes if plan is not None else ()
        rows = [tuple(h.replace("\n", " ") for h in headings(self.store.units)), *(row_texts(p, self.store.units) for p in passes)]
        return "\n".join("\t".join(row) for row in rows)
