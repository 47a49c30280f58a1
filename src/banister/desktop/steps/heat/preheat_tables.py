"""The preheat tables cell by cell: what is remembered is marked, what stands in the user's copy takes its place."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont
from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QLabel, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from banister.core.heat.preheat import (
    ANNEX_ROWS_MM,
    CATEGORY_ROWS_MM,
    GROUPS,
    REMEMBERED_C,
    OwnCell,
    annex_cell,
    annex_key,
    category_cell,
    category_key,
    cell_faults,
    is_sure,
)  # fmt: skip
from banister.core.joint.heating import CATEGORIES, RESTRAINTS
from banister.core.joint.joint import Joint
from banister.core.remark import Figure, Refused
from banister.core.typed import typed
from banister.core.value import replace
from banister.core.words import Speech
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import BAD, SOFT, bordered, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.fields import QuietBox
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

TABLE = "prequalified table"
UNSURE = "?"


class PreheatTables(Beside):
    """One table at a time; a figure typed into a cell counts for every joint of the job, an emptied cell is as remembered."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 860, 470)
        self.store, self.theme, say = store, theme, store.say
        self.setWindowTitle(say("tables.window"))
        self.which = QuietBox()
        self.which.setAccessibleName(say("tables.which"))
        for restraint in RESTRAINTS:
            self.which.addItem(say("tables.annex", restraint=say(f"restraint.{restraint}")), restraint)
        self.which.addItem(say("tables.table"), TABLE)
        self.which.setCurrentIndex(1)
        self.which.activated.connect(lambda _: self._fill())
        forget = QPushButton(say("tables.forget"))
        forget.clicked.connect(self.forget)
        top = QHBoxLayout()
        self.applies, self.fault, note = QLabel(), QLabel(), QLabel(say("tables.note"))
        top.addWidget(self.which)
        top.addWidget(self.applies)
        top.addStretch(1)
        top.addWidget(forget)
        self.table = QTableWidget()
        bordered(self.table)
        self.table.setAccessibleName(say("tables.name"))
        self.table.itemChanged.connect(self._typed)
        self.table.setCornerButtonEnabled(False)
        for header in (self.table.horizontalHeader(), self.table.verticalHeader()):
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        tint(self.fault, BAD)
        note.setWordWrap(True)
        tint(note, SOFT)
        column = QVBoxLayout(self)
        column.addLayout(top)
        column.addWidget(self.table, 1)
        column.addWidget(self.fault)
        column.addWidget(note)
        store.changed.connect(self.show_job)
        self.show_job(None, store.now)

    def _keys(self) -> list[list[str]]:
        """Keys of the shown cells, by row and column."""
        which = self.which.currentData()
        if which == TABLE:
            return [[category_key(category, i) for i in range(len(CATEGORY_ROWS_MM))] for category in CATEGORIES]
        return [[annex_key(which, i, group) for group in GROUPS] for i in range(len(ANNEX_ROWS_MM))]

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show the chosen table as the job has it."""
        if new.differs(old, "job", "joint", "say"):
            self._fill()

    def set_theme(self, theme: Theme) -> None:
        """The cell of the joint is shaded in the colours of another theme."""
        super().set_theme(theme)
        self.theme = theme
        self._fill()

    def _fill(self) -> None:
        job, joint, say, keys = self.store.job, self.store.joint, self.store.say, self._keys()
        own = {} if job is None else {c.cell: c.least_c for c in job.own_cells}
        here = "" if joint is None else self._cell_of(joint)
        is_table = self.which.currentData() == TABLE
        self.table.blockSignals(True)
        self.table.setRowCount(len(keys))
        self.table.setColumnCount(len(keys[0]))
        names = [say("tables.category", category=c) for c in CATEGORIES] if is_table else [say("tables.group", group=g) for g in GROUPS]
        rows = _up_to(CATEGORY_ROWS_MM if is_table else ANNEX_ROWS_MM, say)
        self.table.setVerticalHeaderLabels(names if is_table else rows)
        self.table.setHorizontalHeaderLabels(rows if is_table else names)
        for i, row in enumerate(keys):
            for j, key in enumerate(row):
                item = QTableWidgetItem()
                _show(item, key, own, say)
                item.setBackground(QColor(self.theme.accent_ground if key == here else self.theme.panel))
                self.table.setItem(i, j, item)
        shaded = joint is not None and any(here in row for row in keys)
        self.applies.setText(say("tables.shaded", joint=joint.id) if shaded and joint is not None else "")
        self.table.blockSignals(False)

    def _cell_of(self, joint: Joint) -> str:
        """The key of the shown table's cell that speaks about a joint, '' where none does."""
        thick = joint.prep.thickest_mm
        if self.which.currentData() == TABLE:
            return category_cell(joint.heat.category, thick)
        known = joint.metal.steel.is_known and self.which.currentData() == joint.heat.restraint
        return annex_cell(joint.metal.steel.pcm, joint.heat.hydrogen_ml, thick, joint.heat.restraint) if known else ""

    def _typed(self, item: QTableWidgetItem) -> None:
        key, text, say = self._keys()[item.row()][item.column()], item.text().strip().rstrip(UNSURE), self.store.say
        try:
            value = typed(text, "temperature", say.units) if text.strip() else None
        except Refused as refused:
            self.fault.setText(say.sentence(refused.remarks[0]))
            self._fill()
            return
        if value is not None and (faults := cell_faults((OwnCell(cell=key, least_c=value),))):
            self.fault.setText(say.sentence(faults[0]))
            self._fill()
            return
        self.fault.setText("")
        self._set({key: value}, say("edit.cell"))

    def forget(self) -> None:
        """Go back to what is remembered in the shown table."""
        self._set({key: None for row in self._keys() for key in row}, self.store.say("edit.cells.forget"))

    def _set(self, cells: dict[str, float | None], name: str) -> None:
        """Set or forget cells of the job, as one step."""
        job = self.store.job
        if job is None:
            return
        kept = tuple(c for c in job.own_cells if c.cell not in cells)
        fresh = tuple(OwnCell(cell=key, least_c=value) for key, value in cells.items() if value is not None)
        self.store.edit(replace(job, own_cells=(*kept, *fresh)), name)
        self._fill()


def _show(item: QTableWidgetItem, key: str, own: dict[str, float], say: Speech) -> None:
    shown = say.units.text("temperature", own.get(key, REMEMBERED_C[key]))
    item.setText(shown if key in own or is_sure(key) else f"{shown} {UNSURE}")
    item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
    item.setFont(font(14, QFont.Weight.DemiBold if key in own else QFont.Weight.Normal))


def _up_to(bounds: tuple[float, ...], say: Speech) -> list[str]:
    """Names of thickness rows: up to a bound, the last one over the one before."""
    return [*(say("tables.up_to", most=Figure(b, "length")) for b in bounds[:-1]), say("tables.over", least=Figure(bounds[-2], "length"))]
