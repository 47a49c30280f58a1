"""The joint chooser: every sensible preparation side by side, planned beside the window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap
from PySide6.QtWidgets import (
    QAbstractItemView, QCheckBox, QComboBox, QDialog, QHBoxLayout, QHeaderView, QLabel, QProgressBar, QPushButton, QTableWidget,
    QTableWidgetItem, QVBoxLayout, QWidget,
)  # fmt: skip

from banister.core.joint.joint import edited
from banister.core.drawing.section import bare_section
from banister.core.plan.compare import BOTH_SIDES, ONE_SIDE, Compared, Shop, candidates, compared
from banister.core.units import minutes
from banister.desktop.painting import framed, paint
from banister.desktop.store import Store
from banister.desktop.theme import Theme, font
from banister.job.library import catalogue, usual_rods

PICTURE = QSize(178, 112)
SORT_KEY = Qt.ItemDataRole.UserRole
HEADS = ("Preparation", "Total time", "Arc time", "Metal\nkg", "Rods", "Beads", "Shrinks", "Pull\nindex", "Side wall\ncold?", "Edges")


class _Figure(QTableWidgetItem):
    """A cell that sorts by its figure, not by its text."""

    def __lt__(self, other: QTableWidgetItem) -> bool:
        """By the figure."""
        return bool(self.data(SORT_KEY) < other.data(SORT_KEY))


class ChooserDialog(QDialog):
    """Compares preparations for the shown joint; the one picked becomes the joint."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent)
        self.store, self.theme = store, theme
        self.found: list[Compared] = []
        self._stop: Callable[[], None] | None = None
        self.setWindowTitle("Compare preparations")
        self.resize(1180, 720)
        self.access = QComboBox()
        for key, text in ((ONE_SIDE, "one side can be reached"), (BOTH_SIDES, "both sides can be reached")):
            self.access.addItem(text, key)
        self.access.setAccessibleName("Access")
        self.machining = QCheckBox("edges can be machined")
        self.machining.setChecked(True)
        self.progress = QProgressBar()
        self.progress.setMaximumWidth(160)
        self.progress.setTextVisible(False)
        self.halt = QPushButton("Stop")
        self.title = QLabel()
        self.title.setFont(font(15))
        top = QHBoxLayout()
        for widget, stretch in ((self.title, 1), (self.access, 0), (self.machining, 0), (self.progress, 0), (self.halt, 0)):
            top.addWidget(widget, stretch)
        self.table = self._table()
        self.refused = QLabel()
        self.refused.setProperty("soft", True)
        self.refused.setWordWrap(True)
        words = QLabel("Pull ranks preparations and is uncertain by 100 %; shrinkage is the range of two schools; times have no waits for "
                       "cooling. Rods and windows are those of the joint. What a procedure qualifies is not asked here.")  # fmt: skip
        words.setProperty("soft", True)
        words.setWordWrap(True)
        self.use, close = QPushButton("Make it the joint"), QPushButton("Close")
        self.use.setDefault(True)
        bottom = QHBoxLayout()
        bottom.addWidget(words, 1)
        bottom.addWidget(self.use)
        bottom.addWidget(close)
        column = QVBoxLayout(self)
        column.addLayout(top)
        column.addWidget(self.table, 1)
        column.addWidget(self.refused)
        column.addLayout(bottom)
        self.access.activated.connect(self.compare)
        self.machining.clicked.connect(self.compare)
        self.halt.clicked.connect(self.stop)
        self.use.clicked.connect(self.take)
        close.clicked.connect(self.close)
        self.table.itemDoubleClicked.connect(lambda _item: self.take())
        self.table.itemSelectionChanged.connect(lambda: self.use.setEnabled(bool(self.table.selectedItems())))
        self.use.setEnabled(False)

    def _table(self) -> QTableWidget:
        table = QTableWidget(0, len(HEADS))
        table.setHorizontalHeaderLabels(HEADS)
        table.setIconSize(PICTURE)
        table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        table.verticalHeader().hide()
        table.verticalHeader().setDefaultSectionSize(PICTURE.height() + 6)
        table.setShowGrid(False)
        table.setAccessibleName("Preparations compared")
        return table

    def compare(self) -> None:
        """Plan every candidate for the shown joint, the quickest first as they come."""
        self.stop()
        joint, job = self.store.joint, self.store.job
        if joint is None or job is None:
            return
        u, shipped = self.store.units, catalogue()
        self.title.setText(f"{joint.id}: {u.with_unit(joint.prep.welded_thickness_mm)}, {joint.piece.position}, {u.with_unit(joint.weld_length_mm(), 0)} of weld")
        shop = Shop(access=self.access.currentData(), machining=self.machining.isChecked())
        open_rods = joint.working.rods if joint.prep.open_root else usual_rods(shipped, "open")
        held_rods = joint.working.rods if not joint.prep.open_root else usual_rods(shipped, "bar")
        wanted = candidates(joint, shop, open_rods, held_rods)
        rods = {rod.id: rod for rod in shipped} | dict(job.rods_by_id)
        self.found = []
        self.table.setSortingEnabled(False)
        self.table.setRowCount(0)
        self.progress.setRange(0, len(wanted))
        self.halt.show()
        self.progress.show()
        self._stop = self.store.each(compared, [(one, rods) for one in wanted], self._arrived, self._finished)
        if self.progress.value() == len(wanted):
            self._finished()

    def stop(self) -> None:
        """Leave the rest unplanned."""
        if self._stop is not None:
            self._stop()
        self._finished()

    def _arrived(self, i: int, result: Compared | None) -> None:
        self.progress.setValue(i + 1)
        if result is not None:
            self.found.append(result)
            if not result.refusal:
                self._add(result)

    def _finished(self) -> None:
        self._stop = None
        self.halt.hide()
        self.progress.hide()
        self.table.setSortingEnabled(True)
        self.table.sortItems(1)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.table.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        refused = [f"{c.candidate.title}: {self.store.units.sentence(c.refusal)}" for c in self.found if c.refusal]
        self.refused.setText("Not offered. " + "; ".join(refused) + "." if refused else "")

    def _add(self, c: Compared) -> None:
        plan, u, row = c.plan, self.store.units, self.table.rowCount()
        assert plan is not None
        low, high = c.shrinkage_mm
        risk = {"low": 0, "medium": 1, "high": 2}[c.fusion_risk]
        cells = (
            (c.candidate.title, c.candidate.title), (minutes(plan.total_time_s), plan.total_time_s), (minutes(plan.arc_time_s), plan.arc_time_s),
            (f"{plan.weld_metal_kg:.2f}", plan.weld_metal_kg), (str(c.rods), c.rods), (str(len(plan.passes)), len(plan.passes)),
            (f"{u.length(low)} to {u.with_unit(high)}", high), (f"{c.pull.final_deg:+.1f}\N{DEGREE SIGN}", abs(c.pull.final_deg)),
            (c.fusion_risk, risk), (c.machining, c.machining),
        )  # fmt: skip
        self.table.insertRow(row)
        for column, (text, key) in enumerate(cells):
            item = _Figure(text)
            item.setData(SORT_KEY, key)
            item.setData(SORT_KEY + 1, c.candidate.key)
            if column:
                item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
            else:
                item.setIcon(QIcon(self._picture(c)))
            self.table.setItem(row, column, item)

    def _picture(self, c: Compared) -> QPixmap:
        """The section small and true to one scale: every candidate has the same thickness."""
        assert c.candidate.joint is not None
        picture = QPixmap(PICTURE)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        drawing = bare_section(c.candidate.joint, c.plan, PICTURE.width() / PICTURE.height())
        paint(painter, drawing, framed(drawing, QRectF(2, 2, PICTURE.width() - 4, PICTURE.height() - 4)), self.theme)
        painter.end()
        return picture

    def chosen(self) -> Compared | None:
        """The selected preparation."""
        rows = self.table.selectionModel().selectedRows()
        if not rows:
            return None
        key = self.table.item(rows[0].row(), 0).data(SORT_KEY + 1)
        return next((c for c in self.found if c.candidate.key == key), None)

    def take(self) -> None:
        """The selected preparation becomes the joint, as one step that can be undone."""
        picked, job, joint = self.chosen(), self.store.job, self.store.joint
        if picked is None or picked.candidate.joint is None or job is None or joint is None:
            return
        wanted = {use.rod for use in picked.candidate.joint.working.rods}
        job = job.with_rods(tuple(rod for rod in catalogue() if rod.id in wanted))
        made = edited(picked.candidate.joint, id=joint.id, name=joint.name)
        self.store.edit(job.with_joint(made), f"Choose {picked.candidate.title}")
        self.close()

    def closeEvent(self, event: object) -> None:  # noqa: N802
        """Nothing goes on planning behind a closed dialog."""
        self.stop()
