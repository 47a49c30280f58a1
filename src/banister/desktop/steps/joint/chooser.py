"""The joint chooser: every sensible preparation side by side, planned beside the window."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt
from PySide6.QtGui import QIcon, QPainter, QPalette, QPixmap
from PySide6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QProgressBar,
    QPushButton,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from banister.core.drawing.section import bare_section
from banister.core.drawing.shapes import Drawing
from banister.core.joint.joint import Joint, edited
from banister.core.plan.compare import BOTH_SIDES, ONE_SIDE, Compared, Shop, candidates
from banister.core.remark import Figure
from banister.core.rods.rod import Rod
from banister.core.rods.usual import usual_rods
from banister.core.units import minutes
from banister.core.words import Speech
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, bordered, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.painting import framed, paint
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import QuietBox
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.desktop.work.plans import all_compared

COMPARE = "compare"
PICTURE = QSize(178, 112)
SORT_KEY = Qt.ItemDataRole.UserRole
PRESENT = SORT_KEY + 2
BAR_PX, WORDS_PX = 4.0, 84
HEADS = ("preparation", "total", "arc", "metal", "rods", "passes", "shrinks", "pull", "fusion", "edges")
RISKS = ("low", "medium", "high")


class _Figure(QTableWidgetItem):
    """A cell that sorts by its figure, not by its text."""

    def __lt__(self, other: QTableWidgetItem) -> bool:
        """By the figure."""
        return bool(self.data(SORT_KEY) < other.data(SORT_KEY))


class _Bars(QStyledItemDelegate):
    """A bar at the foot of every cell with a figure, as long as its share of the greatest in its column; the present joint is marked."""

    def __init__(self, table: QTableWidget) -> None:
        super().__init__(table)
        self.table = table

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> None:
        """The cell, then its bar."""
        super().paint(painter, option, index)
        box, accent, line = QRectF(option.rect), option.palette.color(QPalette.ColorRole.Link), option.palette.color(QPalette.ColorRole.Mid)
        if index.column() == 0:
            if index.data(PRESENT):
                painter.fillRect(QRectF(box.left(), box.top() + 4, 5, box.height() - 8), accent)
            return
        value = index.data(SORT_KEY)
        items = (self.table.item(row, index.column()) for row in range(self.table.rowCount()))
        values = [item.data(SORT_KEY) for item in items if item is not None]
        if not isinstance(value, int | float) or not values or max(values) <= 0:
            return
        room = box.width() - 24
        painter.fillRect(QRectF(box.left() + 12, box.bottom() - 26, room, BAR_PX), line)
        painter.fillRect(QRectF(box.left() + 12, box.bottom() - 26, room * value / max(values), BAR_PX), accent)


class ChooserDialog(Beside):
    """Compares preparations for the shown joint; the one picked becomes the joint."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1180, 720)
        self.store, self.theme, say = store, theme, store.say
        self.found: list[Compared] = []
        self._sections: dict[str, Drawing] = {}
        self._icons: dict[str, QIcon] = {}
        """What was drawn of each candidate, and its picture in the colours shown: other units draw nothing anew."""
        self._of: tuple[Joint | None, tuple[Rod, ...]] = (None, ())
        """The joint that is compared."""
        self.setWindowTitle(say("chooser.window"))
        self.access, self.machining, self.progress = QuietBox(), QCheckBox(say("chooser.machining")), QProgressBar()
        for key in (ONE_SIDE, BOTH_SIDES):
            self.access.addItem(say(f"chooser.access.{key}"), key)
        self.access.setAccessibleName(say("chooser.access"))
        self.machining.setChecked(True)
        self.progress.setMaximumWidth(160)
        self.progress.setTextVisible(False)
        self.halt, self.title = QPushButton(say("chooser.stop")), QLabel()
        self.title.setFont(font(15))
        top = QHBoxLayout()
        top.addWidget(self.title, 1)
        for widget in (self.access, self.machining, self.progress, self.halt):
            top.addWidget(widget)
        self.table, self.refused = self._table(), _soft("")
        self.use, close = QPushButton(say("chooser.use")), QPushButton(say("chooser.close"))
        bottom = QHBoxLayout()
        bottom.addWidget(_soft(say("chooser.note")), 1)
        groove = QPushButton(say("improve.open"))
        groove.setToolTip(say("improve.open.tip"))
        groove.clicked.connect(lambda: parent.open_view("improve"))  # type: ignore[attr-defined]
        bottom.addWidget(groove)
        bottom.addWidget(self.use)
        bottom.addWidget(close)
        column = QVBoxLayout(self)
        column.addLayout(top)
        column.addWidget(self.table, 1)
        column.addWidget(self.refused)
        column.addLayout(bottom)
        self.access.activated.connect(lambda _: self.compare())
        self.machining.clicked.connect(lambda _: self.compare())
        self.halt.clicked.connect(self.stop)
        self.use.clicked.connect(self.take)
        close.clicked.connect(self.close)
        self.table.itemActivated.connect(lambda _: self.take())
        self.table.itemSelectionChanged.connect(lambda: self.use.setEnabled(bool(self.table.selectedItems())))
        self.use.setEnabled(False)
        store.changed.connect(self.show_job)
        self.compare()

    def _table(self) -> QTableWidget:
        say = self.store.say
        table = QTableWidget(0, len(HEADS))
        bordered(table)
        _say_heads(table, say)
        table.setIconSize(PICTURE)
        table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        table.verticalHeader().hide()
        table.verticalHeader().setDefaultSectionSize(PICTURE.height() + 6)
        table.setShowGrid(False)
        table.setAccessibleName(say("chooser.name"))
        table.setTabKeyNavigation(False)
        table.setItemDelegate(_Bars(table))
        return table

    # --- planning ----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Another joint, or this one changed, is compared anew: what is picked becomes the joint that is shown. Other units are shown."""
        if new.joint is not self._of[0] or (new.job is not None and new.job.rods != self._of[1]):
            self.compare()
        elif new.differs(old, "say"):
            self._say_anew()

    def compare(self) -> None:
        """Plan every candidate for the shown joint, the quickest first as they come."""
        joint, job = self.store.joint, self.store.job
        self._of = joint, job.rods if job is not None else ()
        if joint is None or job is None:
            return
        shipped = self.store.library.rods
        self._say_title(joint)
        shop = Shop(access=self.access.currentData(), machining=self.machining.isChecked())
        open_rods = joint.working.rods if joint.prep.open_root else usual_rods(shipped, joint, "open")
        held_rods = joint.working.rods if not joint.prep.open_root else usual_rods(shipped, joint, "bar")
        wanted = candidates(joint, shop, open_rods, held_rods)
        self.found, self._sections, self._icons = [], {}, {}
        self.table.setSortingEnabled(False)
        self.table.setRowCount(0)
        self.progress.setRange(0, len(wanted))
        self.progress.setValue(0)
        self.halt.show()
        self.progress.show()
        request = (tuple(wanted), self.store.library.rods_by_id | dict(job.rods_by_id))
        self.store.errands.run(Errand(SEARCH, COMPARE, "compare", all_compared, request, self._arrived, self._finished, lambda _: self._finished()))

    def stop(self) -> None:
        """Leave the rest unplanned."""
        self.store.stop(COMPARE)
        self._finished()

    def _arrived(self, result: Compared) -> None:
        self.found.append(result)
        self.progress.setValue(len(self.found))
        if not result.refusal:
            self._add(result)

    def _finished(self) -> None:
        self.halt.hide()
        self.progress.hide()
        self.table.setSortingEnabled(True)
        self.table.sortItems(1)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.table.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.Interactive)
        others = sum(self.table.columnWidth(i) for i in range(1, len(HEADS)))
        self.table.setColumnWidth(0, max(PICTURE.width() + WORDS_PX, self.table.viewport().width() - others))
        self._say_refused()

    # --- showing -----------------------------------------------------------------------------
    def _say_title(self, joint: Joint) -> None:
        self.title.setText(self.store.say("chooser.title", joint=joint.id, thickness=Figure(joint.prep.welded_thickness_mm, "length"),
                                          position=joint.piece.position, length=Figure(float(joint.weld_length_mm()), "long_length")))  # fmt: skip

    def _say_refused(self) -> None:
        say = self.store.say
        refused = [f"{say(c.candidate.word)}: {'; '.join(say.text(r) for r in c.refusal)}" for c in self.found if c.refusal]
        self.refused.setText(say("chooser.refused", what="; ".join(refused)) if refused else "")

    def set_theme(self, theme: Theme) -> None:
        """The small sections in the colours of another theme."""
        super().set_theme(theme)
        self.theme, self._icons = theme, {}
        self._say_anew()

    def _say_anew(self) -> None:
        """All of it in the present units and colours, in the order it has."""
        is_sorted = self.table.isSortingEnabled()
        self.table.setSortingEnabled(False)
        _say_heads(self.table, self.store.say)
        self.table.setRowCount(0)
        for c in self.found:
            if not c.refusal:
                self._add(c)
        self.table.setSortingEnabled(is_sorted)
        if self._of[0] is not None:
            self._say_title(self._of[0])
        if self.halt.isHidden():
            self._say_refused()

    def _add(self, c: Compared) -> None:
        plan, say, row = c.plan, self.store.say, self.table.rowCount()
        assert plan is not None
        title, present = say(c.candidate.word), self._is_present(c)
        title = say("chooser.present", preparation=title) if present else title
        cells: tuple[tuple[str, object], ...] = (
            (title, title), (minutes(plan.total_time_s), plan.total_time_s), (minutes(plan.arc_time_s), plan.arc_time_s),
            (say.units.text("mass", plan.weld_metal_kg), plan.weld_metal_kg), (str(c.rods), c.rods), (str(len(plan.passes)), len(plan.passes)),
            (say.window(*c.shrinkage_mm, "length"), c.shrinkage_mm[1]), (say.sized("signed_angle", c.pull.final_deg), abs(c.pull.final_deg)),
            (say(f"risk.{c.fusion_risk}"), RISKS.index(c.fusion_risk)), (say(f"edges.{c.machining}"), c.machining),
        )  # fmt: skip
        self.table.insertRow(row)
        for column, (text, key) in enumerate(cells):
            item = _Figure(text)
            item.setData(SORT_KEY, key)
            item.setData(SORT_KEY + 1, c.candidate.key)
            item.setData(PRESENT, present)
            if column:
                item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
            else:
                item.setIcon(self._icon(c))
            self.table.setItem(row, column, item)

    def _is_present(self, c: Compared) -> bool:
        """True for the preparation that the joint has now."""
        now, made = self.store.joint, c.candidate.joint
        return now is not None and made is not None and (now.prep.key, now.prep.backing, now.prep.second_side) == (
            made.prep.key, made.prep.backing, made.prep.second_side)  # fmt: skip

    def _icon(self, c: Compared) -> QIcon:
        """The section small and true to one scale: every candidate has the same thickness."""
        key, joint = c.candidate.key, c.candidate.joint
        assert joint is not None
        if key not in self._sections:
            self._sections[key] = bare_section(joint, c.plan, PICTURE.width() / PICTURE.height())
        if key not in self._icons:
            self._icons[key] = self._painted(self._sections[key])
        return self._icons[key]

    def _painted(self, drawing: Drawing) -> QIcon:
        picture = QPixmap(PICTURE)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        paint(painter, drawing, framed(drawing, QRectF(2, 2, PICTURE.width() - 4, PICTURE.height() - 4)), self.theme)
        painter.end()
        return QIcon(picture)

    def chosen(self) -> Compared | None:
        """The selected preparation."""
        rows = self.table.selectionModel().selectedRows()
        if not rows:
            return None
        key = rows[0].data(SORT_KEY + 1)
        return next((c for c in self.found if c.candidate.key == key), None)

    def take(self) -> None:
        """The selected preparation becomes the joint, as one step that can be undone."""
        picked, job, joint, say = self.chosen(), self.store.job, self.store.joint, self.store.say
        if picked is None or picked.candidate.joint is None or job is None or joint is None:
            return
        wanted = {use.rod for use in picked.candidate.joint.working.rods}
        job = job.with_rods(tuple(rod for rod in self.store.library.rods if rod.id in wanted))
        made = edited(picked.candidate.joint, id=joint.id, name=joint.name)
        self.store.changed.disconnect(self.show_job)  # it closes: what it made is not compared once more
        self.store.edit(job.with_joint(made), say("edit.preparation", preparation=say(picked.candidate.word)))
        self.close()


def _say_heads(table: QTableWidget, say: Speech) -> None:
    table.setHorizontalHeaderLabels([say(f"chooser.{head}", unit=say.units.unit("mass")) for head in HEADS])


def _soft(text: str) -> QLabel:
    label = QLabel(text)
    tint(label, SOFT)
    label.setWordWrap(True)
    return label
