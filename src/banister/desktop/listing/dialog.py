"""The weld list: every weld in a row that is sorted, filtered and typed over; totals as a picture, what to buy; read from and written to CSV."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont, QShowEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QSplitter,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from banister.core.drawing.charts.totals_bars import Bar, totals_bars
from banister.core.drawing.shapes import Drawing
from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint
from banister.core.listing.said import group_said, purchase_rows, purchase_said
from banister.core.listing.totals import (
    GROUPS,
    LEAST_PACKET_KG,
    MOST_PACKET_KG,
    MOST_SPARE_PERCENT,
    NONE,
    PACKET_KG,
    SPARE_PERCENT,
    Total,
    purchases,
    totals,
)  # fmt: skip
from banister.core.listing.welds import WELDED, Listed, listed
from banister.core.remark import Remark
from banister.core.units import minutes
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import BAD, SOFT, bordered, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import ChoiceField, FigureField, NameField
from banister.desktop.listing.model import COLUMNS, WeldModel, WeldOrder, preparation_names
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.job.reading import FileFault
from banister.job.weld_csv import read_welds, taken_in, weld_csv

KEY = "list"


class BarsWidget(ChartView):
    """Totals as bars."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.bars: tuple[Bar, ...] = ()
        self.setMinimumSize(360, 140)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("weld_list.totals"))

    def made(self) -> Drawing | None:
        """The bars for the present size."""
        return totals_bars(self.bars, self.store.say, float(self.width()), float(self.height())) if self.bars else None


class TypedCell(QStyledItemDelegate):
    """A cell that is typed in keeps what is typed while the list is planned anew."""

    def setEditorData(self, editor: QWidget, index: Any) -> None:  # noqa: N802
        """What the cell holds, until something else is typed."""
        if not (isinstance(editor, QLineEdit) and editor.isModified()):
            super().setEditorData(editor, index)


class PreparationCell(QStyledItemDelegate):
    """A preparation is chosen from those there are."""

    def __init__(self, parent: QWidget, model: WeldModel) -> None:
        super().__init__(parent)
        self.model = model

    def createEditor(self, parent: QWidget, option: QStyleOptionViewItem, index: Any) -> QWidget:  # noqa: N802
        """A box of all of them, the present one chosen; taken as soon as another is picked."""
        box = QComboBox(parent)
        box.addItems([*preparation_names(self.model.say)])
        box.setCurrentText(str(index.data()))
        box.activated.connect(lambda _: self._picked(box))
        return box

    def _picked(self, box: QComboBox) -> None:
        self.commitData.emit(box)
        self.closeEditor.emit(box)

    def setModelData(self, editor: QWidget, model: Any, index: Any) -> None:  # noqa: N802
        """What was picked."""
        assert isinstance(editor, QComboBox)
        model.setData(index, editor.currentText())


class ListDialog(Beside):
    """All welds of the job; planned beside the window, those that are alike once."""

    def __init__(self, parent: Any, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1240, 760)
        self.store, self.dialogs, self.files, say = store, parent.dialogs, parent.files, store.say
        self.found = self.so_far = Listed((), 0, 0)
        self.spare, self.packet = SPARE_PERCENT, PACKET_KG
        self.buying: dict[str, FigureField] = {}
        self.setWindowTitle(say("weld_list.window"))
        self.title, self.progress, self.bad = QLabel(), QLabel(), QLabel()
        self.title.setFont(font(18, QFont.Weight.DemiBold))
        tint(self.progress, SOFT)
        tint(self.bad, BAD)
        self.bad.setWordWrap(True)
        self.model = WeldModel(say)
        self.order = WeldOrder(self.model)
        self.model.typed.connect(self._typed)
        self.model.refused.connect(self.bad.setText)
        column = QVBoxLayout(self)
        column.addWidget(self.title)
        column.addLayout(self._tools())
        column.addWidget(self.bad)
        split = QSplitter(Qt.Orientation.Vertical)
        split.addWidget(self._table())
        split.addWidget(self._below(theme))
        split.setStretchFactor(0, 3)
        split.setStretchFactor(1, 1)
        split.setSizes([440, 240])
        column.addWidget(split, 1)
        store.changed.connect(self.show_job)
        self.plan()

    def _tools(self) -> QHBoxLayout:
        say, row = self.store.say, QHBoxLayout()
        self.filter = NameField(say("weld_list.filter"), narrow=True)
        self.filter.edit.setPlaceholderText(say("weld_list.filter.how"))
        self.filter.edit.textChanged.connect(self._filtered)
        self.by = ChoiceField(say("weld_list.by"), {key: say(f"weld_list.by.{key}") for key in (NONE, *GROUPS)})
        self.by.chosen.connect(lambda _: self._show_totals())
        row.addWidget(self.filter, 2)
        row.addWidget(self.by, 1)
        row.addWidget(self.progress)
        self.cancel = QPushButton(say("busy.cancel"))
        self.cancel.clicked.connect(self._stop)
        self.cancel.hide()
        row.addWidget(self.cancel)
        for word, run in (("go", self.go_to_weld), ("import", self.read_list), ("export", self.write_list)):
            button = QPushButton(say(f"weld_list.{word}"))
            button.clicked.connect(lambda _checked=False, run=run: run())
            row.addWidget(button)
        return row

    def _table(self) -> QTableView:
        self.table = QTableView()
        bordered(self.table)
        self.table.setModel(self.order)
        self.table.setItemDelegate(TypedCell(self.table))
        self.table.setItemDelegateForColumn([column.key for column in COLUMNS].index("preparation"), PreparationCell(self.table, self.model))
        self.table.setSortingEnabled(True)
        self.table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setAccessibleName(self.store.say("weld_list.window"))
        self.table.verticalHeader().hide()
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        self.table.setAlternatingRowColors(True)
        return self.table

    def _below(self, theme: Theme) -> QWidget:
        say, found = self.store.say, QWidget()
        row, buying = QHBoxLayout(found), QVBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        self.bars, self.buy, self.buy_said = BarsWidget(self.store, theme), QTableWidget(), QLabel()
        bordered(self.buy)
        self.buy.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.buy.verticalHeader().hide()
        self.buy.setAccessibleName(say("weld_list.purchase"))
        tint(self.buy_said, SOFT)
        self.buy_said.setWordWrap(True)
        fields = QHBoxLayout()
        spare, packet = (0.0, MOST_SPARE_PERCENT), (LEAST_PACKET_KG, MOST_PACKET_KG)
        for name, kind, window in (("spare", "percent", spare), ("packet", "mass", packet)):
            field = self.buying[name] = FigureField(say(f"weld_list.{name}"), kind, partial(self._set, name), 1.0, *window)
            fields.addWidget(field)
        self._show_buying()
        buying.addLayout(fields)
        buying.addWidget(self.buy, 1)
        buying.addWidget(self.buy_said)
        row.addWidget(self.bars, 3)
        row.addLayout(buying, 2)
        return found

    # --- planning -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Plan anew what changed."""
        if new.job is not None and (old is None or old.job is not new.job):
            self.model.take_job(new.job)
        if old is None or old.job is not new.job or old.records is not new.records:
            self.plan()
        elif new.differs(old, "say"):
            self._show()
        if new.differs(old, "say"):
            self._show_buying()

    def plan(self) -> None:
        """Have the list planned beside the window; welds that are alike are planned once."""
        job = self.store.job
        if job is not None:
            request = (job, self.store.standing)
            self.cancel.show()
            self.store.errands.run(Errand(SEARCH, KEY, KEY, listed, request, self._arrived, self._settled, lambda _: self._settled()))

    def _arrived(self, found: Listed) -> None:
        is_whole = len(found.welds) == found.of
        self.so_far = found
        self.progress.setText("" if is_whole else self.store.say("weld_list.planning", done=str(len(found.welds)), of=str(found.of)))
        if is_whole or not self.found.welds:
            self.found = found
            self._show()

    def _settled(self) -> None:
        self.progress.setText("")
        self.cancel.hide()

    def _stop(self) -> None:
        self.store.stop(KEY)
        self._settled()
        self.found = self.so_far
        self.progress.setText(self.store.say("weld_list.stopped", done=str(len(self.found.welds)), of=str(self.found.of)))
        self._show()

    def stop(self) -> None:
        """What is asked for stays unanswered."""
        self.store.stop(KEY)

    # --- showing ------------------------------------------------------------------------------
    def _show(self) -> None:
        chosen = self._chosen()
        at = self.table.verticalScrollBar().value()
        if self.store.job is not None and self.model.show_welds(self.store.job, self.found.welds, self.store.say):
            self._select(chosen)
            self.table.verticalScrollBar().setValue(at)
        self._size()
        self._show_totals()

    def _size(self) -> None:
        """Columns as wide as what is in them, once it is seen in its own font; then they are the user's."""
        if self.isVisible() and not self.table.property("sized") and self.found.welds:
            self.table.resizeColumnsToContents()
            self.table.setProperty("sized", True)

    def showEvent(self, event: QShowEvent) -> None:  # noqa: N802
        """Columns are sized when they can be measured."""
        super().showEvent(event)
        self._size()

    def _filtered(self, text: str) -> None:
        self.order.filter_by(text)
        self._show_totals()

    def _show_totals(self) -> None:
        """What the welds shown come to."""
        say, welds, job = self.store.say, self.order.shown, self.store.job
        self.bars.bars = tuple(self._bar(total) for total in totals(welds, self.by.key or NONE))
        self.bars.redraw()
        whole = totals(welds, NONE)
        if whole:
            t = whole[0]
            takes = {"rods": str(t.rods), "kg": say.sized("mass", t.metal_kg), "time": minutes(t.seconds)}
            self.title.setText(say("weld_list.title", n=t.welds, **takes))
        else:
            self.title.setText(say("weld_list.window"))
        rods = {} if job is None else job.rods_by_id
        rows = purchase_rows(purchases([w for w in welds if w.state != WELDED], rods, self.spare, self.packet), say)
        self.buy.setColumnCount(len(rows[0]))
        self.buy.setHorizontalHeaderLabels(rows[0])
        self.buy.setRowCount(len(rows) - 1)
        for i, row in enumerate(rows[1:]):
            for j, cell in enumerate(row):
                self.buy.setItem(i, j, QTableWidgetItem(cell))
        self.buy.resizeColumnsToContents()
        self.buy_said.setText(purchase_said(self.spare, self.packet, say))

    def _show_buying(self) -> None:
        for name, field in self.buying.items():
            field.show_value(getattr(self, name), self.store.say)

    def _bar(self, total: Total) -> Bar:
        say = self.store.say
        said = say("weld_list.bar", time=minutes(total.seconds), rods=str(total.rods), kg=say.sized("mass", total.metal_kg))
        return Bar(group_said(total.name, self.by.key or NONE, say), total.seconds, said)

    def _set(self, name: str, value: float) -> Remark | None:
        setattr(self, name, value)
        self._show_totals()
        return None

    def _chosen(self) -> str:
        row = self.table.currentIndex().row()
        shown = self.order.shown
        return shown[row].joint.id if 0 <= row < len(shown) else ""

    def _select(self, joint: str) -> None:
        row = next((i for i, weld in enumerate(self.order.shown) if weld.joint.id == joint), -1)
        if row >= 0:
            self.table.selectRow(row)

    # --- doing --------------------------------------------------------------------------------
    def _typed(self, joint: Joint, column: str) -> None:
        """A cell was typed over: an edit of the job like any other, with undo."""
        job, say = self.store.job, self.store.say
        if job is None:
            return
        if faults := joint_faults(joint):
            self.bad.setText(say.sentence(faults[0]))
            return
        self.bad.setText("")
        self.store.edit(job.with_joint(joint), say("weld_list.edit", field=say(f"weld_list.{column}"), joint=joint.id))

    def go_to_weld(self) -> None:
        """The weld of the row selected, in the main window."""
        if joint := self._chosen():
            self.store.look(joint_id=joint)

    def write_list(self) -> None:
        """The welds shown as CSV."""
        path = self.dialogs.save_path(self, self.store.say("export.write"), "welds.csv", "*.csv")
        if path is not None:
            self.files.write(path, weld_csv(self.order.shown).encode())

    def read_list(self) -> None:
        """Take a list in, whole or not at all; one step to undo."""
        job, say = self.store.job, self.store.say
        path = self.dialogs.document_path(self, say("weld_list.import"), self.files.folder, say, "csv")
        if job is None or path is None:
            return
        try:
            joints = read_welds(path, self.store.library.rods, {joint.id: joint for joint in job.joints})
        except FileFault as broken:
            self.bad.setText("\n".join(say.faults(broken.remarks)[:8]))
            return
        now, added, changed = taken_in(job, joints, self.store.library.rods)
        self.bad.setText("")
        self.store.edit(now, say("weld_list.read", added=str(added), changed=str(changed)))
