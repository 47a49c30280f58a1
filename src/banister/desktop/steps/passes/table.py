"""The table of passes, one row a pass, selected with the section and the rail."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QGuiApplication, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from banister.core.drawing.section import pass_label
from banister.core.heat.shift import Shift
from banister.core.heat.spread import band_said
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass
from banister.core.units import clock, minutes
from banister.core.words import Speech
from banister.desktop.app.style import bordered
from banister.desktop.app.theme import CONDENSED, Theme, font
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

WITH_UNITS = (("amps", "current"), ("volts", "voltage"), ("run_out", "long_length"), ("area", "area"), ("travel", "speed"),
              ("arc_energy", "energy"), ("heat_input", "energy"))  # fmt: skip
TEXT_COLUMNS, HEAT_TEXT_COLUMNS = 3, 2


def headings(say: Speech) -> tuple[str, ...]:
    """Column headings with their units."""
    return (*(say(f"column.{key}") for key in ("pass", "role", "rod")), *(say(f"table.{key}", unit=say.units.unit(kind)) for key, kind in WITH_UNITS),
            say("column.rods"), say("column.arc_time"))  # fmt: skip


def row_texts(joint: Joint, p: Pass, say: Speech) -> tuple[str, ...]:
    """A row's cells."""
    values = (p.amps, p.volts, p.run_out_mm, p.area_mm2, p.travel_mm_min, p.arc_energy_kj_mm, p.heat_input_kj_mm)
    figures = (say.units.text(kind, value) for (_, kind), value in zip(WITH_UNITS, values, strict=True))
    return (pass_label(p), say(joint.role_word(p.role, p.side)), say.units.rod(p.rod.id), *figures, str(p.rod_count), minutes(p.arc_time_s))


HEAT_COLUMNS = ("pass", "rod", "starts", "time", "wait", "temp", "t85", "wait_band", "reheat", "station")


def heat_headings(say: Speech) -> tuple[str, ...]:
    """Column headings of the schedule."""
    return tuple(say(f"table.heat.{key}", unit=say.degree) for key in HEAT_COLUMNS)


def heat_texts(p: Pass, now: Snapshot) -> tuple[str, ...]:
    """A row's cells of the schedule; said to be not yet computed while it is worked out."""
    say, line = now.say, now.heat
    found = None if line is None else next((i for i, s in enumerate(line.schedule.passes) if s.key == p.key), None)
    head = (pass_label(p), say.units.rod(p.rod.id))
    if line is None or found is None:
        return (*head, say("heat.open") if line is None and p.number == 1 else "", *[""] * (len(HEAT_COLUMNS) - 3))
    s, shift = line.schedule.passes[found], now.job.shift if now.job is not None else Shift()
    wait, reheat = (minutes(v) if v >= 1 else "" for v in (s.wait_s, s.reheat_s))
    t85 = "" if s.t85 is None else f"{s.t85.seconds:.1f} ({s.t85.regime})"
    band = band_said(line.wait_bands_s[found], say) if line.wait_bands_s else ""
    return (*head, clock(s.start_s), shift.clock(s.start_s, say), wait, say.units.text("temperature", s.temp_c), t85, band, reheat,
            say(f"station.{s.hottest_station}"))  # fmt: skip


class PassTable(QTableWidget):
    """Rows in the order of welding; on the heat step what the schedule says of them."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(0, len(headings(store.say)))
        bordered(self)
        self.store, self.theme = store, theme
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setTabKeyNavigation(False)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(24)
        self.setShowGrid(False)
        self.setFont(font(12.5, family=CONDENSED))
        self.horizontalHeader().setFont(font(11.5, family=CONDENSED))
        self.setAccessibleName(store.say("table.name"))
        self._shown: Snapshot | None = None
        self._quiet = False
        self.itemSelectionChanged.connect(self._picked)

    @property
    def about_heat(self) -> bool:
        """True where the schedule is shown."""
        return self.store.view.step == "heat"

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme, self._shown = theme, None
        self.catch_up()

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs, once it can be seen."""
        if self.isVisible():
            self.catch_up()

    def catch_up(self) -> None:
        """Draw what the store holds."""
        old, new = self._shown, self.store.now
        if old is new:
            return
        self._shown = new
        heat_now, heat_then = new.view.step == "heat", old is not None and old.view.step == "heat"
        filled = new.differs(old, "plan", "say") or heat_now != heat_then or new.outside != (old.outside if old is not None else None)
        if filled or (heat_now and new.differs(old, "heat", "job")):
            self._fill(new)
        self.show_selection()

    def _fill(self, now: Snapshot) -> None:
        self._quiet = True
        heads, rows = self._cells(now)
        passes = now.plan.passes if now.plan is not None and now.joint is not None and now.feasible else ()
        outside = now.outside
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)  # measured once, not with every cell
        self.setColumnCount(len(heads))
        self.setHorizontalHeaderLabels(heads)
        self.setRowCount(len(passes))
        for row, (p, texts) in enumerate(zip(passes, rows, strict=True)):
            for column, text in enumerate(texts):
                self.setItem(row, column, self._item(text, column, p.key in outside))
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.horizontalHeader().setStretchLastSection(True)
        self._quiet = False

    def _item(self, text: str, column: int, is_outside: bool) -> QTableWidgetItem:
        item = QTableWidgetItem(text)
        words = HEAT_TEXT_COLUMNS if self.about_heat else TEXT_COLUMNS
        if column >= words and not (self.about_heat and column == len(HEAT_COLUMNS) - 1):
            item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if column == 0:
            item.setFont(font(13, QFont.Weight.DemiBold, CONDENSED))
        if is_outside:
            item.setForeground(QColor(self.theme.bad))
            item.setToolTip(self.store.say("table.outside"))
        return item

    def _cells(self, now: Snapshot) -> tuple[tuple[str, ...], list[tuple[str, ...]]]:
        """Headings, and a row of texts for every pass."""
        passes = now.plan.passes if now.plan is not None and now.joint is not None and now.feasible else ()
        if self.about_heat:
            return heat_headings(now.say), [heat_texts(p, now) for p in passes]
        return headings(now.say), [row_texts(now.joint, p, now.say) for p in passes if now.joint is not None]

    def showEvent(self, event: object) -> None:  # noqa: N802
        """Catch up when the table comes into view."""
        self.catch_up()

    def show_selection(self) -> None:
        """Mark the selected pass."""
        found = self.store.now.selected
        self._quiet = True
        if found is None or found.number > self.rowCount():
            self.clearSelection()
        else:
            self.selectRow(found.number - 1)
            self.scrollTo(self.model().index(found.number - 1, 0))
        self._quiet = False

    def _picked(self) -> None:
        rows, plan = self.selectionModel().selectedRows(), self.store.now.plan
        if not self._quiet and rows and plan is not None:
            self.store.select(plan.passes[rows[0].row()])

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Ctrl+C copies the whole table."""
        if event.matches(QKeySequence.StandardKey.Copy):
            QGuiApplication.clipboard().setText(self.as_text())
        else:
            super().keyPressEvent(event)

    def as_text(self) -> str:
        """The table as tab-separated text, for copying."""
        heads, rows = self._cells(self.store.now)
        return "\n".join("\t".join(row) for row in (tuple(h.replace("\n", " ") for h in heads), *rows))
