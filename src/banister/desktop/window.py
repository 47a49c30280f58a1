"""The main window: header, stair, section, settings and rail, all drawn from the store."""

from __future__ import annotations

import importlib
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QByteArray, QSettings, Qt
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QFont, QGuiApplication, QResizeEvent
from PySide6.QtWidgets import (
    QApplication, QComboBox, QFrame, QHBoxLayout, QLabel, QMainWindow, QPushButton, QScrollArea, QSplitter,
    QStackedWidget, QVBoxLayout, QWidget,
)  # fmt: skip

from banister.core.joint.joint import Joint
from banister.core.drawing.habit import AWS, ISO
from banister.core.joint.figures import in_short
from banister.core.judge.check import NOT_JUDGED, OUTSIDE_, tally
from banister.core.plan.notes import notes_of
from banister.core.units import minutes
from banister.desktop.answers import AnswersStrip
from banister.desktop.dialogs import Dialogs
from banister.desktop.documents import Documents
from banister.desktop.help import HelpDialog, help_text, keys_text
from banister.desktop.lane import Lane
from banister.desktop.menus import add_menus
from banister.desktop.panel import Panel
from banister.desktop.rail import CLOCK, STEPS, Rail
from banister.desktop.section_view import SectionView
from banister.desktop.stair import Stair, StepState
from banister.desktop.start_page import StartPage
from banister.desktop.store import Store
from banister.desktop.table import PassTable
from banister.desktop.theme import DARK_THEME, LIGHT_THEME, dress, font

PANELS = {
    "joint": "JointPanel", "limits": "LimitsPanel", "procedure": "ProcedurePanel", "rods": "RodsPanel", "passes": "PassesPanel",
    "heat": "HeatPanel", "sheet": "SheetPanel",
}  # fmt: skip
"""Panel of every step; a step's module is read when it is first shown, so that the window comes at once."""
STEP_KEYS = tuple(PANELS)
NOTES_OVER_SECTION = 2
LOW_WINDOW_PX = 760


class LazyPanels(dict[str, Any]):
    """The panels by step, each built when it is first asked for: the first window must not wait for five."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__()
        self.window = window
        self.areas: dict[str, QScrollArea] = {}

    def __missing__(self, step: str) -> Panel:
        """Build a panel and put it on the stack."""
        kind = getattr(importlib.import_module(f"banister.desktop.steps.{step}"), PANELS[step])
        panel: Panel = kind(self.window.store, self.window.theme)
        if step == "sheet":
            panel.wanted.connect(self.window.export)
        if step == "heat":
            w = self.window
            dialogs = {"curves": w.show_curves, "board": w.show_board, "map": w.show_map, "tables": w.show_preheat_tables}
            panel.wanted.connect(lambda key: dialogs[key]())
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(panel)
        self.window.side.addWidget(area)
        self[step], self.areas[step] = panel, area
        return panel


class MainWindow(QMainWindow):
    """Puts the views together and routes intents."""

    def __init__(self, lane: Lane, dialogs: Dialogs, settings: QSettings, recovery: Path | None = None) -> None:
        super().__init__()
        self.settings, self.dialogs, self.lane = settings, dialogs, lane
        self.theme = DARK_THEME if settings.value("dark", "false") == "true" else LIGHT_THEME
        self.store = Store(lane, dialogs)
        self.documents = Documents(self.store, settings, recovery)
        self.step = "joint"
        self.help_dialog: HelpDialog | None = None
        self._build()
        self.actions_by_name = add_menus(self)
        self._wire()
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.setMinimumSize(960, 620)
        geometry = settings.value("geometry")
        if isinstance(geometry, QByteArray):
            self.restoreGeometry(geometry)
        if settings.value("inches", "false") == "true":
            self.store.set_units(True)
        self.store.habit = AWS if settings.value("habit", ISO) == AWS else ISO
        self.render_job()

    # --- building ----------------------------------------------------------------------------
    def _build(self) -> None:
        store, theme = self.store, self.theme
        self.section, self.rail, self.stair = SectionView(store, theme), Rail(store, theme), Stair(theme)
        self.answers, self.table = AnswersStrip(store, theme), PassTable(store, theme)
        self.start = StartPage(theme)
        self.panels = LazyPanels(self)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.start)
        self.pages.addWidget(self._work_page())
        self.setCentralWidget(self.pages)

    def _work_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._header())
        self.bar = self._message_bar()
        column.addWidget(self.bar)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.stair)
        middle.addWidget(self._centre(), 1)
        middle.addWidget(self._side())
        column.addLayout(middle, 1)
        column.addWidget(self._rail_frame())
        return page

    def _header(self) -> QWidget:
        header = QWidget()
        row = QHBoxLayout(header)
        row.setContentsMargins(16, 6, 12, 6)
        self.job_name = QLabel()
        self.job_name.setFont(font(18, QFont.Weight.DemiBold))
        self.job_name.setMinimumWidth(60)
        self.joints = QComboBox()
        self.joints.setAccessibleName("Joint")
        self.joints.setMinimumWidth(200)
        self.joints.setMaximumWidth(360)
        self.file_name = QLabel()
        self.file_name.setProperty("soft", True)
        self.unit_button, self.theme_button = QPushButton("mm"), QPushButton("Dark")
        self.unit_button.setToolTip("Millimetres or inches for the whole window (Ctrl+U)")
        self.theme_button.setToolTip("Light for the desk, dark for the booth (Ctrl+D)")
        row.addWidget(self.job_name)
        row.addWidget(self.joints)
        row.addWidget(self.file_name, 1)
        row.addWidget(self.unit_button)
        row.addWidget(self.theme_button)
        return header

    def _message_bar(self) -> QWidget:
        bar = QFrame()
        row = QHBoxLayout(bar)
        row.setContentsMargins(16, 4, 12, 4)
        self.message = QLabel()
        self.message.setWordWrap(True)
        self.message.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.message_yes, self.message_no = QPushButton("Restore"), QPushButton("Dismiss")
        row.addWidget(self.message, 1)
        row.addWidget(self.message_yes)
        row.addWidget(self.message_no)
        bar.hide()
        return bar

    def _centre(self) -> QWidget:
        centre = QWidget()
        column = QVBoxLayout(centre)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.note = QLabel()
        self.note.setContentsMargins(14, 6, 14, 4)
        self.note.setWordWrap(True)
        self.note.setMinimumHeight(28)
        self.split = QSplitter(Qt.Orientation.Vertical)
        self.split.addWidget(self.section)
        self.split.addWidget(self.table)
        self.split.setChildrenCollapsible(False)
        self.split.setSizes([600, 240])
        self.table.hide()
        column.addWidget(self.note)
        column.addWidget(self.split, 1)
        column.addWidget(self.answers)
        return centre

    def _side(self) -> QWidget:
        self.side = QStackedWidget()
        frame = QFrame()
        frame.setProperty("panel", True)
        self.side_frame = frame
        column = QVBoxLayout(frame)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.side)
        return frame

    def _rail_frame(self) -> QWidget:
        frame = QWidget()
        self.rail_steps, self.rail_clock = QPushButton("Steps", self.rail), QPushButton("Clock", self.rail)
        self.table_button = QPushButton("Table", self.rail)
        for button in (self.rail_steps, self.rail_clock, self.table_button):
            button.setCheckable(True)
        self.table_button.setToolTip("Show the table of passes under the section (Ctrl+T)")
        self.rail_steps.setToolTip("Even steps")
        self.rail_clock.setToolTip("True time")
        row = QHBoxLayout()
        row.setContentsMargins(0, 3, 10, 0)
        row.addStretch(1)
        for button in (self.table_button, self.rail_steps, self.rail_clock):
            row.addWidget(button)
        top = QVBoxLayout(self.rail)
        top.setContentsMargins(0, 0, 0, 0)
        top.addLayout(row)
        top.addStretch(1)
        column = QVBoxLayout(frame)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.rail)
        self.rail_frame = frame
        return frame

    def _wire(self) -> None:
        self.store.changed.connect(self.render_job)
        self.stair.chosen.connect(self.go_to)
        self.documents.said.connect(self.say)
        self.documents.recent_changed.connect(lambda: self.start.show_recent(self.documents.recent))
        self.start.pattern_chosen.connect(self.documents.start_from)
        intents = {"demo": self.open_demo, "open": self.ask_open, "nothing": self.documents.start_from_nothing}
        self.start.wanted.connect(lambda key: intents[key]())
        self.start.recent_chosen.connect(lambda path: self.open_path(Path(path)))
        self.joints.activated.connect(lambda i: self.store.show_joint(self.joints.itemData(i)))
        self.unit_button.clicked.connect(self.toggle_units)
        self.theme_button.clicked.connect(self.toggle_theme)
        self.rail_steps.clicked.connect(partial(self.rail.set_scale, STEPS))
        self.rail_clock.clicked.connect(partial(self.rail.set_scale, CLOCK))
        self.rail.scale_changed.connect(self._show_toggles)
        self.rail.scale_changed.connect(lambda: self.rail_frame.setFixedHeight(self._rail_height(self.height() < LOW_WINDOW_PX)))
        self.table_button.clicked.connect(self.show_table)
        self.message_no.clicked.connect(self._dismiss)
        self.section.value_dragged.connect(lambda name, value: self.panels["joint"].set_value(name, value, "drag " + name))
        self.section.drag_ended.connect(self.store.settle)
        self.store.selection_changed.connect(self._selected)
        self.start.show_recent(self.documents.recent)

    # --- rendering ---------------------------------------------------------------------------
    def render_job(self) -> None:
        """Draw everything from the store."""
        job, joint = self.store.job, self.store.joint
        self.pages.setCurrentIndex(0 if job is None else 1)
        self.setWindowTitle("Banister" if job is None else f"{job.name}{'*' if self.store.dirty else ''} - Banister")
        if job is None or joint is None:
            return
        self.job_name.setText(self.job_name.fontMetrics().elidedText(job.name, Qt.TextElideMode.ElideRight, 420))
        self.job_name.setToolTip(job.name)
        self.file_name.setText(self.documents.title + (", changed" if self.store.dirty else ""))
        names = [f"{j.id}  {j.name}" for j in job.joints]
        if names != [self.joints.itemText(i) for i in range(self.joints.count())]:
            self.joints.clear()
            for text, one in zip(names, job.joints, strict=True):
                self.joints.addItem(text, one.id)
        self.joints.setCurrentIndex([j.id for j in job.joints].index(joint.id))
        if self.step == "heat" or self.rail.scale == CLOCK:
            self.store.ask_heat()
        self.section.render_job()
        self.answers.render_job()
        self._show_table()
        self.rail.update()
        self.panels[self.step].render_job()
        self.stair.show_steps(self._steps(joint), self.step)
        self._show_note()
        self._show_toggles()

    def _show_table(self) -> None:
        self.table.about_heat = self.step == "heat"
        self.table.render_job()

    def _show_note(self) -> None:
        plan = self.store.plan
        blocked = plan is not None and not plan.feasible
        if plan is None:
            text = "Planning."
        elif blocked:
            text = "\n".join(f"Cannot be planned: {f.text}. {f.remedy}" for f in plan.reasons)
        elif self.store.note:
            text = self.store.note
        else:
            text = "; ".join(note.text for note in notes_of(plan)[:NOTES_OVER_SECTION])
        colour = self.theme.bad if blocked else self.theme.changed if self.store.note else self.theme.warn
        self.note.setStyleSheet(f"color: {colour}; font-weight: 500;")
        self.note.setText(self.store.units.sentence(text))

    def _steps(self, joint: Joint) -> list[StepState]:
        u, plan = self.store.units, self.store.plan
        counts = tally(self.store.judged)
        limits = f"{counts[OUTSIDE_]} outside limits" if counts[OUTSIDE_] else f"{counts[NOT_JUDGED]} not judged" if counts[NOT_JUDGED] else "all inside"
        feasible = plan is not None and plan.feasible
        passes = "planning" if plan is None else f"{len(plan.passes)} beads, {plan.layers} layers" if feasible else "no plan"
        rods = sum(plan.rods_by_consumable().values()) if plan is not None and feasible else 0
        job = self.store.job
        taken = "taken" if job is not None and job.taken_for(joint) is not None else "not taken"
        return [
            StepState("joint", "Joint", in_short(joint, u)),
            StepState("limits", "Limits", limits, bool(counts[OUTSIDE_])),
            StepState("procedure", "Procedure", self._coverage_in_short(joint), any(c.verdict == OUTSIDE_ for c in self.store.covered)),
            StepState("rods", "Rods", f"{rods} to burn" if rods else "none planned"),
            StepState("passes", "Passes", passes, not feasible and plan is not None),
            StepState("heat", "Heat", self._heat_in_short()),
            StepState("sheet", "Sheet", taken),
        ]

    def _heat_in_short(self) -> str:
        heat = self.store.heat
        if heat is None:
            return "waits and preheat"
        takes = minutes(heat.schedule.end_s)
        takes = takes.removesuffix(" min") if " h " in takes else takes
        return f"{takes}, waits {heat.schedule.waiting_s / 60:.0f} min" if heat.schedule.feasible else "no schedule"

    def _coverage_in_short(self, joint: Joint) -> str:
        covered = self.store.covered
        if not covered:
            return f"{joint.procedure}, no document" if joint.procedure else "no document"
        outside = sum(c.verdict == OUTSIDE_ for c in covered)
        open_ = sum(c.verdict == NOT_JUDGED for c in covered)
        return f"{outside} outside" if outside else f"{open_} not judged" if open_ else "all inside"

    def _selected(self) -> None:
        if self.store.selected is not None and self.step in ("joint", "sheet"):
            self.go_to("passes")

    def _show_toggles(self) -> None:
        self.unit_button.setText("in" if self.store.units.inches else "mm")
        self.theme_button.setText("Light" if self.theme.dark else "Dark")
        self.rail_steps.setChecked(self.rail.scale == STEPS)
        self.rail_clock.setChecked(self.rail.scale == CLOCK)
        self.table_button.setChecked(not self.table.isHidden())

    # --- intents -----------------------------------------------------------------------------
    def go_to(self, step: str) -> None:
        """Work on another step."""
        self.step = step
        if step == "heat":
            self.store.ask_heat()
        self._show_table()
        self.panels[step].render_job()
        self.side.setCurrentWidget(self.panels.areas[step])
        if self.store.joint is not None:
            self.stair.show_steps(self._steps(self.store.joint), step)

    def toggle_units(self) -> None:
        """Millimetres or inches."""
        self.store.set_units(not self.store.units.inches)
        self.settings.setValue("inches", "true" if self.store.units.inches else "false")

    def toggle_habit(self) -> None:
        """The ISO or the AWS manner of dimensions and symbol."""
        self.store.set_habit(AWS if self.store.habit == ISO else ISO)
        self.settings.setValue("habit", self.store.habit)

    def toggle_theme(self) -> None:
        """Light or dark."""
        self.set_theme(not self.theme.dark)

    def set_theme(self, dark: bool) -> None:
        """Dress everything in a theme."""
        self.theme = DARK_THEME if dark else LIGHT_THEME
        self.settings.setValue("dark", "true" if dark else "false")
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        dress(app, self.theme)
        for view in (self.section, self.rail, self.stair, self.answers, self.table, self.start, *self.panels.values()):
            view.set_theme(self.theme)
        self.render_job()

    def show_table(self) -> None:
        """Show or hide the table of passes."""
        self.table.setVisible(self.table.isHidden())
        self._show_toggles()

    def say(self, text: str, bad: bool) -> None:
        """A message in place, with its way out; a small good one goes to the note line."""
        if not bad:
            self.store.note = text
            self._show_note()
            return
        if self.store.job is None:
            self.statusBar().showMessage(text)
            return
        self.message.setText(text)
        self.message.setStyleSheet(f"color: {self.theme.bad};")
        self.message_yes.hide()
        self.bar.show()

    def _dismiss(self) -> None:
        if self.message_yes.isVisible():
            self.documents.recovery.clear()
        self.bar.hide()

    def offer_recovery(self) -> None:
        """If a crashed session left work, offer it in place."""
        job = self.documents.recovered()
        if job is None:
            return
        if self.store.job is None:
            self.documents.restore(job)
            self.say("This is unsaved work from a session that ended early. Save it to keep it.", False)
            return
        self.message.setText("A session with this job ended early and left unsaved work.")
        self.message.setStyleSheet("")
        self.message_yes.show()
        self.message_yes.clicked.connect(lambda: (self.documents.restore(job), self.bar.hide()))
        self.bar.show()

    def open_demo(self) -> None:
        """Open the demo."""
        if self._may_leave():
            self.documents.open_demo()
            self.go_to("passes")

    def ask_open(self) -> None:
        """Ask for a job and open it."""
        if self._may_leave():
            path = self.dialogs.open_path(self)
            if path is not None:
                self.open_path(path)

    def open_path(self, path: Path) -> None:
        """Open a job file."""
        if self.documents.open_path(path):
            self.statusBar().clearMessage()
            self.bar.setVisible(bool(self.documents.file and self.documents.file.read_only))
            self.offer_recovery()

    def save(self) -> bool:
        """Save."""
        return self.documents.save(self._ask_save)

    def save_as(self) -> bool:
        """Save under another name."""
        return self.documents.save_as(self._ask_save)

    def _ask_save(self) -> Path | None:
        job = self.store.job
        name = "" if job is None else job.name.lower().replace(" ", "-") + ".banister"
        return self.dialogs.save_path(self, "Save the job", name, "Banister jobs (*.banister)")

    def export(self, kind: str) -> None:
        """PDF, CSV, SVG, print or copy of the shown joint."""
        joint, plan = self.store.joint, self.store.plan
        if joint is None or plan is None or self.section.drawing is None:
            return
        if kind == "copy":
            QGuiApplication.clipboard().setPixmap(self.section.grab())
            self.say("Section copied", False)
            return
        if kind == "copy-table":
            QGuiApplication.clipboard().setText(self.table.as_text())
            self.say("Table copied", False)
            return
        if kind == "print":
            from banister.desktop.printing import print_sheet

            print_sheet(self, joint, plan)
            return
        suffix = {"symbol": "svg", "schedule": "csv"}.get(kind, kind.split("-")[0])
        path = self.dialogs.save_path(self, "Write", f"{joint.id}.{suffix}", f"*.{suffix}")
        if path is None:
            return
        if kind == "svg":
            self.documents.write(path, self.section.as_svg().encode())
        elif kind == "symbol":
            from banister.core.drawing.symbol import symbol_drawing
            from banister.export.svg import svg

            self.documents.write(path, svg(symbol_drawing(joint, self.store.units, self.store.habit), f"{joint.name}, welding symbol").encode())
        else:
            self.documents.export(kind, path, joint, plan)

    def show_curves(self) -> None:
        """Temperatures over time and across the shown joint."""
        from banister.desktop.heat_curves import HeatCurves

        self.curves = HeatCurves(self, self.store, self.theme)
        self.curves.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.curves.show()

    def show_map(self) -> None:
        """Preheat over thickness and heat input for the shown joint's steel."""
        from banister.desktop.preheat_map import PreheatMap

        self.preheat_map = PreheatMap(self, self.store, self.theme)
        self.preheat_map.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.preheat_map.show()

    def show_preheat_tables(self) -> None:
        """The tables of preheat, cell by cell, for figures from the user's own copy."""
        from banister.desktop.preheat_tables import PreheatTables

        self.preheat_tables = PreheatTables(self, self.store, self.theme)
        self.preheat_tables.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.preheat_tables.show()

    def show_board(self) -> None:
        """Order the job's joints so that waits are used."""
        from banister.desktop.board_view import BoardDialog

        if self.store.job is not None:
            self.board = BoardDialog(self, self.store, self.theme)
            self.board.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            self.board.show()

    def show_chooser(self) -> None:
        """Compare preparations for the shown joint."""
        from banister.desktop.chooser import ChooserDialog

        if self.store.joint is not None:
            self.chooser = ChooserDialog(self, self.store, self.theme)
            self.chooser.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            self.chooser.show()
            self.chooser.compare()

    def show_help(self) -> None:
        """Help for the step in hand."""
        self._help(help_text(self.step))

    def show_keys(self) -> None:
        """The overview of keys."""
        self._help(keys_text(list(self.actions_by_name.values())))

    def _help(self, text: str) -> None:
        self.help_dialog = HelpDialog(self, text)
        self.help_dialog.show()

    def close_job(self) -> None:
        """Back to the start page."""
        if self._may_leave():
            self.documents.close_job()

    def _may_leave(self) -> bool:
        job = self.store.job
        if job is None or not self.store.dirty:
            return True
        answer = self.dialogs.keep_changes(self, job.name)
        return self.save() if answer == "save" else answer == "discard"

    # --- Qt ----------------------------------------------------------------------------------
    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        """In a small window the rail, the stair and the settings give way to the section."""
        narrow, low = self.width() < 1150, self.height() < LOW_WINDOW_PX
        self.side_frame.setFixedWidth(304 if narrow else 348)
        self.stair.setFixedWidth(166 if narrow else 196)
        self.rail_frame.setFixedHeight(self._rail_height(low))
        super().resizeEvent(event)

    def _rail_height(self, low: bool) -> int:
        """The rail is taller on the clock: the temperature runs above the balusters."""
        on_clock = self.rail.scale == CLOCK
        return (164 if on_clock else 150) if low else (220 if on_clock else 186)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:  # noqa: N802
        """Files may be dropped in."""
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:  # noqa: N802
        """Open what was dropped."""
        if self._may_leave():
            self.open_path(Path(event.mimeData().urls()[0].toLocalFile()))

    def closeEvent(self, event: QCloseEvent) -> None:  # noqa: N802
        """Leave only when nothing is lost."""
        if not self._may_leave():
            event.ignore()
            return
        self.settings.setValue("geometry", self.saveGeometry())
        self.documents.recovery.clear()
        if self.documents.file is not None:
            self.documents.file.close()
        self.lane.close()
        event.accept()
