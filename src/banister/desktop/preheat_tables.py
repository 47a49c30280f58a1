"""The preheat tables cell by cell: what is remembered is marked, what stands in the user's copy takes its place."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont
from PySide6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QHeaderView, QLabel, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from banister.core.heat.preheat import (
    ANNEX_ROWS_MM, CATEGORIES, CATEGORY_ROWS_MM, GROUPS, REMEMBERED_C, RESTRAINTS,
    annex_cell, annex_key, category_cell, category_key, is_sure,
)  # fmt: skip
from banister.core.joint.joint import Joint, edited
from banister.core.joint.XX import OwnCell
from banister.core.units import parsed_celsius
from banister.desktop.store import Store
from banister.desktop.theme import Theme, font

TABLE = "prequalified table"
COLDEST_C, HOTTEST_C = -50.0, 400.0


class PreheatTables(QDialog):
    """One table at a time; a figure typed into a cell counts for every joint of the job, an emptied cell is as remembered."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent)
        self.store, self.theme = store, theme
        self.setWindowTitle("Preheat tables of AWS D1.1")
        self.resize(860, 470)
        self.which = QComboBox()
        self.which.setAccessibleName("Table")
        for restraint in RESTRAINTS:
            self.which.addItem(f"Hydrogen-control annex, restraint {restraint}", restraint)
        self.which.addItem("Prequalified minimum preheat and interpass", TABLE)
        self.which.setCurrentIndex(1)
        self.which.activated.connect(self.render_job)
        forget = QPushButton("Forget what was entered here")
        forget.clicked.connect(self.forget)
        top = QHBoxLayout()
        self.applies = QLabel()
        top.addWidget(self.which)
        top.addWidget(self.applies)
        top.addStretch(1)
        top.addWidget(forget)
        self.table = QTableWidget()
        self.table.setAccessibleName("Least preheat")
        self.table.itemChanged.connect(self._typed)
        self.table.setCornerButtonEnabled(False)
        for header in (self.table.horizontalHeader(), self.table.verticalHeader()):
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.fault = QLabel()
        self.fault.setProperty("bad", True)
        note = QLabel("A question mark: written from memory, unverified. Type what your copy says, in \N{DEGREE SIGN}C or as 280 F; bold figures are "
                      "yours and hold for all joints of this job. Empty a cell to go back. Your code and procedure decide.")  # fmt: skip
        note.setWordWrap(True)
        note.setProperty("soft", True)
        column = QVBoxLayout(self)
        column.addLayout(top)
        column.addWidget(self.table, 1)
        column.addWidget(self.fault)
        column.addWidget(note)
        store.changed.connect(self.render_job)
        self.render_job()

    def _keys(self) -> list[list[str]]:
        """Keys of the shown cells, by row and column."""
        which = self.which.currentData()
        if which == TABLE:
            return [[category_key(category, i) for i in range(len(CATEGORY_ROWS_MM))] for category in CATEGORIES]
        return [[annex_key(which, i, group) for group in GROUPS] for i in range(len(ANNEX_ROWS_MM))]

    def render_job(self) -> None:
        """Show the chosen table as the job has it."""
        joint = self.store.joint
        keys = self._keys()
        own = {} if joint is None else {c.cell: c.least_c for c in joint.heat.own_cells}
        here = "" if joint is None else self._cell_of(joint)
        self.table.blockSignals(True)
        self.table.setRowCount(len(keys))
        self.table.setColumnCount(len(keys[0]))
        if self.which.currentData() == TABLE:
            self.table.setVerticalHeaderLabels([f"category {c}" for c in CATEGORIES])
            self.table.setHorizontalHeaderLabels(_up_to(CATEGORY_ROWS_MM))
        else:
            self.table.setVerticalHeaderLabels(_up_to(ANNEX_ROWS_MM))
            self.table.setHorizontalHeaderLabels([f"group {g}" for g in GROUPS])
        for i, row in enumerate(keys):
            for j, key in enumerate(row):
                if self.table.item(i, j) is None:
                    self.table.setItem(i, j, QTableWidgetItem())
                _fill(self.table.item(i, j), key, own)
                self.table.item(i, j).setBackground(QColor(self.theme.accent_ground if key == here else self.theme.panel))
        self.applies.setText(f"Shaded: the cell for {joint.id}." if joint is not None and any(here in row for row in keys) else "")
        self.table.blockSignals(False)

    def _cell_of(self, joint: Joint) -> str:
        """The key of the shown table's cell that speaks about a joint, '' where none does."""
        thick = max(joint.prep.thickness_mm, joint.prep.right_thickness_mm)
        if self.which.currentData() == TABLE:
            return category_cell(joint.heat.category, thick)
        known = joint.metal.steel.is_known and self.which.currentData() == joint.heat.restraint
        return annex_cell(joint.metal.steel.pcm, joint.heat.hydrogen_ml, thick, joint.heat.restraint) if known else ""

    def _typed(self, item: QTableWidgetItem) -> None:
        key, text = self._keys()[item.row()][item.column()], item.text().strip().rstrip("?")
        try:
            value = parsed_celsius(text) if text else None
        except ValueError as error:
            self.fault.setText(str(error))
            self.render_job()
            return
        if value is not None and not COLDEST_C <= value <= HOTTEST_C:
            self.fault.setText(f"enter {COLDEST_C:g} to {HOTTEST_C:g} \N{DEGREE SIGN}C")
            self.render_job()
            return
        self.fault.setText("")
        self._set({key: value}, f"Preheat table: {key}")

    def forget(self) -> None:
        """Go back to what is remembered in the shown table."""
        self._set({key: None for row in self._keys() for key in row}, "Forget a preheat table")

    def _set(self, cells: dict[str, float | None], name: str) -> None:
        """Set or forget cells in every joint of the job, as one step."""
        job = self.store.job
        if job is None:
            return
        joints = []
        for joint in job.joints:
            kept = tuple(c for c in joint.heat.own_cells if c.cell not in cells)
            fresh = tuple(OwnCell(cell=key, least_c=value) for key, value in cells.items() if value is not None)
            joints.append(edited(joint, heat=replace(joint.heat, own_cells=(*kept, *fresh))))
        self.store.edit(replace(job, joints=tuple(joints)), name)
        self.render_job()


def _fill(item: QTableWidgetItem, key: str, own: dict[str, float]) -> None:
    item.setText(f"{own[key]:.0f}" if key in own else f"{REMEMBERED_C[key]:.0f}" + ("" if is_sure(key) else " ?"))
    item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
    item.setFont(font(14, QFont.Weight.DemiBold if key in own else QFont.Weight.Normal))


def _up_to(bounds: tuple[float, ...]) -> list[str]:
    """Names of thickness rows, in mm as the tables have them: up to a bound, the last one over the one before."""
    return [f"up to {b:g} mm" for b in bounds[:-1]] + [f"over {bounds[-2]:g} mm"]
