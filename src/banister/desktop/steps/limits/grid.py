"""The windows as a grid under the section: typed as 90-125, copied, pasted, each over what the plan has."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, Qt
from PySide6.QtGui import QColor, QGuiApplication, QKeyEvent, QKeySequence, QPainter, QResizeEvent
from PySide6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from banister.core.drawing.charts.window_bar import cell_bar
from banister.core.judge.grid import ABOVE, Row, cell_text, cell_window, columns_of, plan_range, rows_of, with_cells
from banister.core.limits.windows import QUANTITIES, Bounds
from banister.core.plan.plan import Pass
from banister.core.remark import OUTSIDE, Figure, Refused
from banister.core.words import Speech, capital
from banister.desktop.app.style import BAD, SOFT, bordered, tint
from banister.desktop.app.theme import CONDENSED, Theme, font
from banister.desktop.canvas.painting import Frame, paint
from banister.desktop.fields import Entry
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

Cell = tuple[str, Row]
SEEN = Qt.ItemDataRole.UserRole
"""What the plan has in a cell that holds no window."""
ROW_PX = 30
LEAST_PX, SEEN_FROM_PX = 74, 640


class CellDelegate(QStyledItemDelegate):
    """Paints a window under its text, and hands what was typed to the grid."""

    def __init__(self, grid: WindowGrid) -> None:
        super().__init__(grid)
        self.grid = grid

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> None:
        """The text, then the bar at the foot of the cell."""
        super().paint(painter, option, index)
        (quantity, row), now = self.grid.cell_at(index.row(), index.column()), self.grid.store.now
        window = Bounds() if now.joint is None else cell_window(now.joint.working.windows, quantity, row)
        rect = option.rect
        seen_by_plan = plan_range(row.passes(now.plan), now.heat, quantity) if window.is_set else None
        drawing = cell_bar(window, seen_by_plan, (float(rect.width()), float(rect.height())))
        painter.save()
        if seen := index.data(SEEN):
            painter.setFont(font(12, family=CONDENSED))
            painter.setPen(QColor(self.grid.theme.soft))
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, seen)
        painter.translate(rect.topLeft())
        paint(painter, drawing, Frame(0.0, float(rect.height()), 1.0, 0.0, 0.0), self.grid.theme)
        painter.restore()

    def setModelData(self, editor: QWidget, model: object, index: QModelIndex | QPersistentModelIndex) -> None:  # noqa: N802
        """What was typed goes into the job, not only into the cell."""
        self.grid.put({self.grid.cell_at(index.row(), index.column()): editor.property("text")})

    def eventFilter(self, editor: object, event: object) -> bool:  # noqa: N802
        """Enter takes what was typed and goes one cell down, as people who type columns expect."""
        if isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.KeyPress and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.commitData.emit(editor)
            self.closeEditor.emit(editor, QAbstractItemDelegate.EndEditHint.NoHint)
            self.grid.down()
            return True
        return bool(super().eventFilter(editor, event))  # type: ignore[arg-type]


class Cells(QTableWidget):
    """The cells with their keys."""

    def __init__(self, grid: WindowGrid) -> None:
        super().__init__()
        bordered(self)
        self.grid = grid
        self.setTabKeyNavigation(False)
        trigger = QAbstractItemView.EditTrigger
        self.setEditTriggers(trigger.AnyKeyPressed | trigger.DoubleClicked | trigger.EditKeyPressed)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        self.setFont(font(13, family=CONDENSED))
        self.verticalHeader().setDefaultSectionSize(ROW_PX)
        self.verticalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.horizontalHeader().setMinimumSectionSize(LEAST_PX)
        self.horizontalHeader().setFont(font(12, family=CONDENSED))
        self.verticalHeader().setFont(font(12.5, family=CONDENSED))
        self.setItemDelegate(CellDelegate(grid))

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Copy, paste, copy down, clear; Enter begins to type."""
        if event.matches(QKeySequence.StandardKey.Copy):
            QGuiApplication.clipboard().setText(self.grid.selected_text())
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.grid.paste(QGuiApplication.clipboard().text())
        elif event.key() == Qt.Key.Key_Down and event.modifiers() == Qt.KeyboardModifier.AltModifier:
            self.grid.copy_down()
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.grid.put(dict.fromkeys(self.grid.selected(), ""))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.currentItem() is not None:
            self.editItem(self.currentItem())
        else:
            super().keyPressEvent(event)


class WindowGrid(QWidget):
    """Preheat, interpass and t8/5 above; a row for every role and rod, a column for every figure of a pass."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme, say = store, theme, store.say
        self.rows: tuple[Row, ...] = ()
        self.columns: tuple[str, ...] = ()
        self.wrong: dict[Cell, str] = {}
        """What was typed and is no window, by its cell: it stays until it is typed anew."""
        self._filled: Snapshot | None = None
        """What the cells were last filled from."""
        self.above = {quantity: Entry() for quantity in ABOVE}
        self.seen = {quantity: QLabel() for quantity in ABOVE}
        self.fault, self.hint = QLabel(), QLabel(say("grid.hint"))
        self.cells = Cells(self)
        self.cells.setAccessibleName(say("grid.name"))
        tint(self.fault, BAD)
        tint(self.hint, SOFT)
        for label in (self.fault, self.hint):
            label.setWordWrap(True)
        self.fault.hide()
        self.down_button = QPushButton(say("grid.down"))
        self.down_button.setToolTip(say("grid.down.tip"))
        self.down_button.clicked.connect(self.copy_down)
        foot = QHBoxLayout()
        foot.addWidget(self.hint, 1)
        foot.addWidget(self.down_button)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 4, 12, 4)
        column.setSpacing(4)
        column.addLayout(self._strip())
        column.addWidget(self.fault)
        column.addWidget(self.cells, 1)
        column.addLayout(foot)

    def _strip(self) -> QHBoxLayout:
        strip, say = QHBoxLayout(), self.store.say
        strip.setSpacing(6)
        for quantity, entry in self.above.items():
            label = QLabel(say(f"grid.{quantity}"))
            label.setBuddy(entry)
            entry.setMaximumWidth(96)
            entry.editingFinished.connect(partial(self._finish, quantity))
            entry.given_back.connect(partial(self._forget, quantity))
            tint(self.seen[quantity], SOFT)
            for widget in (label, entry, self.seen[quantity]):
                strip.addWidget(widget)
            strip.addSpacing(10)
        strip.addStretch(1)
        return strip

    # --- intents -----------------------------------------------------------------------------
    def put(self, cells: Mapping[Cell, str] | Mapping[Cell, Bounds]) -> None:
        """Take cells, typed or copied, as one step of the job; of those that are no window none is taken, and it is said which and why."""
        joint, say = self.store.joint, self.store.say
        if joint is None:
            return
        windows, faults = joint.working.windows, []
        for cell, what in cells.items():
            self.wrong.pop(cell, None)
            try:
                windows = with_cells(windows, {cell: what}, say.units)
            except Refused as refused:
                self.wrong[cell] = what if isinstance(what, str) else cell_text(what, QUANTITIES[cell[0]], say.units)
                faults.append(f"{self._cell_name(cell)}: {say.sentence(refused.remarks[0])}")
        self._tell(faults)
        if windows != joint.working.windows:
            name = say("edit.window", quantity=say(f"quantity.{next(iter(cells))[0]}")) if len(cells) == 1 else say("edit.windows")
            self.store.edit_joint(name, windows=windows)
        else:
            self.fill(self.store.now)

    def paste(self, text: str) -> None:
        """Cells from a spreadsheet, from the current one to the right and down; a single one fills what is selected."""
        lines = [line.split("\t") for line in text.rstrip("\n").split("\n")]
        top, left = max(self.cells.currentRow(), 0), max(self.cells.currentColumn(), 0)
        if lines == [[lines[0][0]]]:
            self.put(dict.fromkeys(self.selected(), lines[0][0]))
            return
        self.put({self.cell_at(top + i, left + j): cell for i, line in enumerate(lines) for j, cell in enumerate(line)
                  if top + i < len(self.rows) and left + j < len(self.columns)})  # fmt: skip

    def copy_down(self) -> None:
        """The uppermost selected cell of each column goes into all below it that are selected, or into the next one."""
        found, joint = self.cells.selectedIndexes(), self.store.joint
        if joint is None:
            return
        columns = {i.column() for i in found}
        cells: dict[Cell, Bounds] = {}
        for column in columns:
            rows = sorted(i.row() for i in found if i.column() == column)
            rows = rows if len(rows) > 1 else [rows[0], rows[0] + 1]
            top = cell_window(joint.working.windows, *self.cell_at(rows[0], column))
            cells |= {self.cell_at(row, column): top for row in rows[1:] if row < len(self.rows)}
        at, last = self.cells.currentColumn(), max((i.row() for i in found), default=0)
        self.put(cells)
        if len(found) == len(columns):
            self.cells.setCurrentCell(min(last + 1, len(self.rows) - 1), at)

    def down(self) -> None:
        """One cell further down."""
        self.cells.setCurrentCell(min(self.cells.currentRow() + 1, len(self.rows) - 1), self.cells.currentColumn())

    def selected(self) -> list[Cell]:
        """The selected cells."""
        return [self.cell_at(i.row(), i.column()) for i in self.cells.selectedIndexes()]

    def selected_text(self) -> str:
        """The selected cells as a spreadsheet takes them."""
        rows: dict[int, list[str]] = {}
        for i in sorted(self.cells.selectedIndexes(), key=lambda i: (i.row(), i.column())):
            rows.setdefault(i.row(), []).append(self._text(self.cell_at(i.row(), i.column())))
        return "\n".join("\t".join(row) for row in rows.values())

    def cell_at(self, row: int, column: int) -> Cell:
        """Which window a cell is."""
        return self.columns[column], self.rows[row]

    def _finish(self, quantity: str) -> None:
        if self.above[quantity].is_new:
            self.put({(quantity, Row()): self.above[quantity].text()})

    def _forget(self, quantity: str) -> None:
        self.wrong.pop((quantity, Row()), None)
        self._tell([])
        self.fill(self.store.now)

    # --- showing -----------------------------------------------------------------------------
    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        """In a narrow window what the plan has gives way to what can be typed."""
        super().resizeEvent(event)
        for label in self.seen.values():
            label.setVisible(self.width() > SEEN_FROM_PX)

    def set_theme(self, theme: Theme) -> None:
        """Another theme; off the screen it is filled when the step is gone to."""
        self.theme = theme
        if self.isVisible():
            self.fill(self.store.now)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs, while it is on screen."""
        if new.view.step != "limits" or new.joint is None:
            return
        filled = self._filled
        if filled is None or new.view.joint_id != filled.view.joint_id or new.differs(filled, "say"):
            self.wrong.clear()
            self._tell([])
        if filled is None or new.view.dark != filled.view.dark or new.differs(filled, "joint", "plan", "heat", "say"):
            self.fill(new)

    def fill(self, now: Snapshot) -> None:
        """Every row and column of the shown joint, on screen or not."""
        joint, say = now.joint, now.say
        if joint is None:
            return
        self._filled = now
        self.rows, self.columns = rows_of(joint), columns_of(joint)
        self.cells.setRowCount(len(self.rows))
        self.cells.setColumnCount(len(self.columns))
        self.cells.setHorizontalHeaderLabels([say(f"grid.{q}", unit=say.units.unit(QUANTITIES[q])) for q in self.columns])
        self.cells.setVerticalHeaderLabels([row_name(row, say) for row in self.rows])
        for i, row in enumerate(self.rows):
            passes = row.passes(now.plan)
            for j, quantity in enumerate(self.columns):
                self._fill_cell(i, j, (quantity, row), passes, now)
        for quantity, entry in self.above.items():
            cell, seen = (quantity, Row()), plan_range(Row().passes(now.plan), now.heat, quantity)
            if cell not in self.wrong:
                entry.show_text(self._text(cell))
            entry.mark(cell in self.wrong)
            entry.setAccessibleName(f"{say(f'grid.{quantity}')}, {say.units.unit(QUANTITIES[quantity])}")
            self.seen[quantity].setText("" if seen is None else say("grid.seen", seen=Figure(seen, QUANTITIES[quantity])))

    def _fill_cell(self, i: int, j: int, cell: Cell, passes: tuple[Pass, ...], now: Snapshot) -> None:
        say, (quantity, row) = now.say, cell
        text, kind = self.wrong.get(cell, self._text(cell)), QUANTITIES[quantity]
        seen = plan_range(passes, now.heat, quantity)
        item = self.cells.item(i, j)
        if item is None:
            item = QTableWidgetItem()
            self.cells.setItem(i, j, item)
        item.setText(text)
        item.setData(SEEN, "" if seen is None or text else cell_text(Bounds(*seen), kind, say.units))
        item.setTextAlignment(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)
        window = cell_window(now.joint.working.windows, quantity, row) if now.joint is not None else None
        is_bad = cell in self.wrong or (seen is not None and window is not None and any(window.verdict(v) == OUTSIDE for v in seen))
        item.setForeground(QColor(self.theme.bad if is_bad else self.theme.text))
        plan = say("grid.no_pass") if seen is None else say("grid.seen", seen=Figure(seen, kind))
        item.setToolTip(plan)
        item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{self._cell_name(cell)}: {text or say('window.none')}; {plan}")

    def _text(self, cell: Cell) -> str:
        joint, say = self.store.joint, self.store.say
        return "" if joint is None else cell_text(cell_window(joint.working.windows, *cell), QUANTITIES[cell[0]], say.units)

    def _cell_name(self, cell: Cell) -> str:
        quantity, row = cell
        return f"{capital(self.store.say(f'quantity.{quantity}'))}, {row_name(row, self.store.say)}"

    def _tell(self, faults: list[str]) -> None:
        self.fault.setText("\n".join(faults))
        self.fault.setVisible(bool(faults))


def row_name(row: Row, say: Speech) -> str:
    """Which passes and rods a row speaks of."""
    role = say(f"role.{row.role}")
    return f"{role} {say.units.rod(row.rod)}" if row.rod != "*" else role
