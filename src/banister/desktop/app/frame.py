"""The frame of the work page: header, message bar, stair, section, settings and rail, and how they share the room."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from functools import cached_property, partial
from typing import TYPE_CHECKING, Protocol

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QFont, QPalette, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from banister.core.plan.notes import notes_of
from banister.desktop.app.stair import Stair
from banister.desktop.app.style import BAD, PLAIN, SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.rail_view import Rail
from banister.desktop.canvas.section_view import SectionView
from banister.desktop.errands import HEAT, PLAN, BusyLine, Errand
from banister.desktop.fields import QuietBox
from banister.desktop.notices import Notices
from banister.desktop.panel import Panel, cleared
from banister.desktop.snapshot import Snapshot, View
from banister.desktop.steps.passes.answers import AnswersStrip
from banister.desktop.steps.passes.table import PassTable
from banister.desktop.steps.registry import STEPS_BY_KEY
from banister.desktop.store import Store

if TYPE_CHECKING:
    from banister.desktop.steps.fitup.batten_view import BattenWidget
    from banister.desktop.steps.inspect.panel import InspectPanel
    from banister.desktop.steps.inspect.strip_view import StripWidget
    from banister.desktop.steps.limits.grid import WindowGrid
    from banister.desktop.steps.practice.board_view import PracticeBoard
    from banister.desktop.steps.record.page_view import RecordPage
    from banister.desktop.steps.rods.rack_view import RackWidget

NOTES_OVER_SECTION = 2
BELOW: dict[str, Callable[[View], str]] = {"limits": lambda _: "grid", "fitup": lambda _: "batten", "rods": lambda view: "rack" if view.racking else "",
         "inspect": lambda _: "strip", "record": lambda _: "page", "practice": lambda _: "practice"}  # fmt: skip
"""What stands under the section on a step, in the place of the table; '' for the table."""
MADE_BELOW = ("grid", "batten", "rack", "strip", "page", "practice")
"""All that may stand there but the table, each made when it is first looked at."""
FOLLOWED_ON = ("heat", "weld", "record")
"""Steps that show how what was welded is followed."""
NARROW_PX, LOW_PX, GRID_ALONE_PX = 1150, 760, 640
SIDE_PX, STAIR_PX = (304, 348), (166, 196)
RAIL_PX = {(True, False): 150, (True, True): 176, (False, False): 186, (False, True): 214}
"""Height of the rail in a low or a high window, with even steps or on the clock: there the temperature runs above the balusters."""


class Themed(Protocol):
    """A view that can be shown in another theme."""

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""


class Header(QWidget):
    """The job, which joint is shown, the file, units and theme."""

    def __init__(self, store: Store) -> None:
        super().__init__()
        self.store, say = store, store.say
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 6, 12, 6)
        self.job_name, self.file_name = QLabel(), QLabel()
        self.job_name.setFont(font(18, QFont.Weight.DemiBold))
        self.job_name.setMinimumWidth(60)
        self.joints = QuietBox()
        self.joints.setAccessibleName(say("header.joint"))
        self.joints.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.joints.setMinimumWidth(200)
        self.joints.setMaximumWidth(360)
        tint(self.file_name, SOFT)
        self.units, self.theme = QPushButton(), QPushButton()
        self.units.setToolTip(say("header.units.tip"))
        self.theme.setToolTip(say("header.theme.tip"))
        for widget, stretch in ((self.job_name, 0), (self.joints, 0), (self.file_name, 1), (self.units, 0), (self.theme, 0)):
            row.addWidget(widget, stretch)
        self.joints.activated.connect(lambda i: store.look(joint_id=self.joints.itemData(i)))

    def show_job(self, old: Snapshot | None, new: Snapshot, title: str) -> None:
        """Show names and toggles."""
        job, joint, say = new.job, new.joint, new.say
        if job is None or joint is None:
            return
        self.job_name.setText(self.job_name.fontMetrics().elidedText(job.name, Qt.TextElideMode.ElideRight, 420))
        self.job_name.setToolTip(job.name)
        self.file_name.setText(say("header.changed", file=title) if new.dirty else title)
        names = [j.called for j in job.joints]
        if names != [self.joints.itemText(i) for i in range(self.joints.count())]:
            self.joints.clear()
            for text, one in zip(names, job.joints, strict=True):
                self.joints.addItem(text, one.id)
        self.joints.setCurrentIndex([j.id for j in job.joints].index(joint.id))
        self.units.setText(say.units.unit("length"))
        self.theme.setText(say("header.light" if new.view.dark else "header.dark"))


class MessageBar(QFrame):
    """The notice that is shown, with its buttons."""

    def __init__(self, notices: Notices, store: Store) -> None:
        super().__init__()
        self.notices, self.store = notices, store
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 12, 4)
        self.message = QLabel()
        self.message.setWordWrap(True)
        self.message.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.buttons = QHBoxLayout()
        self.dismiss = QPushButton(store.say("notice.dismiss"))
        self.dismiss.clicked.connect(notices.dismiss)
        row.addWidget(self.message, 1)
        row.addLayout(self.buttons)
        row.addWidget(self.dismiss)
        notices.changed.connect(self.show_notice)
        self.hide()

    def show_notice(self) -> None:
        """Show the newest notice, or nothing."""
        notice = self.notices.shown
        cleared(self.buttons)
        self.setVisible(notice is not None)
        if notice is None:
            return
        self.message.setText(notice.text)
        tint(self.message, BAD if notice.bad else PLAIN)
        for action in notice.actions:
            button = QPushButton(action.text)
            button.clicked.connect(partial(self.notices.act, action))
            self.buttons.addWidget(button)


class NoteLine(QWidget):
    """What stands over the section: why an edit was refused, why there is no plan, what the last edit did, what to watch; what is computed."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.text, self.busy = QLabel(), QLabel()
        self.text.setWordWrap(True)
        self.text.setMinimumHeight(28)
        self.text.setFont(font(13, QFont.Weight.Medium))
        self.cancel = QPushButton(store.say("busy.cancel"))
        self.cancel.clicked.connect(self._cancel)
        self.again = QPushButton(store.say("plan.again"))
        self.again.clicked.connect(store.ask_again)
        self._errand: Errand | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 6, 14, 4)
        row.addWidget(self.text, 1)
        for widget in (self.busy, self.cancel, self.again):
            row.addWidget(widget)
            widget.hide()
        self._line = BusyLine(store.errands)
        self._line.shown.connect(self._show_busy)
        self.said = ""

    def tell(self, text: str) -> None:
        """A small good word, until the next edit."""
        self.said = text
        self.show_job(None, self.store.now)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show the most important of it."""
        if old is not None and (new.change != old.change or new.job is not old.job):
            self.said = ""
        say, plan = new.say, new.plan
        tone = self.theme.bad
        if new.refusal is not None:
            text = say.sentence(new.refusal)
        elif plan is not None and not plan.feasible:
            text = "\n".join(say("note.blocked", why=say.sentence(r)) for r in plan.reasons)
        elif plan is None:
            text, tone = say("note.stopped" if self._is_stopped(new) else "note.planning"), self.theme.warn
        elif self._is_stopped(new):
            text, tone = say("note.heat_stopped" if new.heat is None else "note.follow_stopped"), self.theme.warn
        elif self.said or new.change:
            text, tone = self.said or new.change, self.theme.changed
        else:  # on the step of the passes all of them stand in the panel
            notes = () if new.view.step == "passes" else notes_of(plan)[:NOTES_OVER_SECTION]
            text, tone = " ".join(note.said(say) for note in notes), self.theme.warn
        self.again.setVisible(self._is_stopped(new))
        colours = self.text.palette()
        colours.setColor(QPalette.ColorRole.WindowText, QColor(tone))
        self.text.setPalette(colours)
        self.text.setText(text)

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme = theme
        self.show_job(None, self.store.now)

    def _is_stopped(self, now: Snapshot) -> bool:
        """True where plan, heat or what was welded is missing and is not on its way: it was stopped, or failed."""
        missing = {PLAN} if now.plan is None else {HEAT} if now.feasible and now.heat is None else set()
        if not missing:
            return now.view.step in FOLLOWED_ON and self.store.following.is_stopped(now)
        return not missing & {errand.key for errand in self.store.errands.busy}

    def _show_busy(self, errand: Errand | None) -> None:
        if errand is self._errand:
            return
        self._errand = errand
        for widget in (self.busy, self.cancel):
            widget.setVisible(errand is not None)
        self.busy.setText("" if errand is None else self.store.say(f"busy.{errand.word}"))

    def _cancel(self) -> None:
        if self._errand is not None:
            self.store.stop(self._errand.key)


class WorkPage(QWidget):
    """Everything that is seen while a job is open."""

    panel_wanted = Signal(str)

    def __init__(self, store: Store, theme: Theme, notices: Notices) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.header, self.bar = Header(store), MessageBar(notices, store)
        self.section, self.rail, self.stair = SectionView(store, theme), Rail(store, theme), Stair(store, theme)
        self.answers, self.table, self.note = AnswersStrip(store, theme), PassTable(store, theme), NoteLine(store, theme)
        self.panels: dict[str, Panel] = {}
        self._areas: dict[str, QScrollArea] = {}
        column = _column(self)
        column.addWidget(self.header)
        column.addWidget(self.bar)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.stair)
        middle.addWidget(self._centre(), 1)
        middle.addWidget(self._side())
        column.addLayout(middle, 1)
        self._add_rail_buttons()
        column.addWidget(self.rail)
        self.stair.entered.connect(self.enter_panel)
        chain = [self.header.joints, self.header.units, self.header.theme, self.stair, self.section, self.table, *self.answers.tiles.values(),
                 self.table_button, self.rail_steps, self.rail_clock, self.rail]  # fmt: skip
        for first, second in itertools.pairwise(chain):
            QWidget.setTabOrder(first, second)

    def _centre(self) -> QWidget:
        centre = QWidget()
        column = _column(centre)
        self.split = QSplitter(Qt.Orientation.Vertical)
        self.below, self.table_wanted = QStackedWidget(), False
        self._below = ""
        """What shares the room with the section; '' for nothing."""
        self._shares = {"table": [600, 240], "grid": [260, 400], "batten": [360, 270]}
        self.split.addWidget(self.section)
        self.split.addWidget(self.below)
        self.below.addWidget(self.table)
        self.split.setChildrenCollapsible(False)
        self.split.setStretchFactor(0, 1)
        self.below.hide()
        column.addWidget(self.note)
        column.addWidget(self.split, 1)
        column.addWidget(self.answers)
        return centre

    def _side(self) -> QWidget:
        self.side, self.side_frame, line = QStackedWidget(), QWidget(), QWidget()
        line.setFixedWidth(1)
        line.setAutoFillBackground(True)
        line.setBackgroundRole(QPalette.ColorRole.Mid)
        row = QHBoxLayout(self.side_frame)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(line)
        row.addWidget(self.side)
        return self.side_frame

    def _add_rail_buttons(self) -> None:
        say = self.store.say
        self.table_button, self.rail_steps, self.rail_clock = (QPushButton(say(f"rail.{key}"), self.rail) for key in ("table", "steps", "clock"))
        row = QHBoxLayout()
        row.setContentsMargins(0, 3, 10, 0)
        row.addStretch(1)
        for key, button in (("table", self.table_button), ("steps", self.rail_steps), ("clock", self.rail_clock)):
            button.setCheckable(True)
            button.setToolTip(say(f"rail.{key}.tip"))
            row.addWidget(button)
        top = _column(self.rail)
        top.addLayout(row)
        top.addStretch(1)
        self.rail_steps.clicked.connect(partial(self.rail.set_scale, False))
        self.rail_clock.clicked.connect(partial(self.rail.set_scale, True))
        self.table_button.clicked.connect(self.show_table)
        self.rail.scale_changed.connect(self.share_room)
        self.show_toggles()

    # --- showing -----------------------------------------------------------------------------
    def panel(self, step: str) -> Panel:
        """The panel of a step, made when it is first asked for."""
        if step not in self.panels:
            self.panels[step] = STEPS_BY_KEY[step].made(self.store, self.theme)
            area = QScrollArea()
            area.setWidgetResizable(True)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            area.setFrameShape(QFrame.Shape.NoFrame)
            area.setWidget(self.panels[step])
            self.side.addWidget(area)
            self._areas[step] = area
        return self.panels[step]

    def show_job(self, old: Snapshot | None, new: Snapshot, title: str) -> None:
        """Draw what differs, the shown panel only."""
        self.header.show_job(old, new, title)
        self._show_below()
        for view in (self.section, self.answers, self.table, *self._made_below(), self.rail, self.stair, self.note):
            view.show_job(old, new)
        self.panel(new.view.step).catch_up()
        self.side.setCurrentWidget(self._areas[new.view.step])

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme = theme
        views: list[Themed] = [self.section, self.rail, self.stair, self.answers, self.table, *self._made_below(), self.note, *self.panels.values()]
        for view in views:
            view.set_theme(theme)

    def show_table(self) -> None:
        """Show or hide the table of passes."""
        self.table_wanted = not self.table_wanted
        self._show_below()
        self.show_toggles()

    @cached_property
    def grid(self) -> WindowGrid:
        """The grid of windows, made when it is first looked at, so that the window comes at once."""
        from banister.desktop.steps.limits.grid import WindowGrid

        made = WindowGrid(self.store, self.theme)
        self.below.addWidget(made)
        for first, second in itertools.pairwise([self.section, *made.above.values(), made.cells, made.down_button]):
            QWidget.setTabOrder(first, second)
        return made

    @cached_property
    def batten(self) -> BattenWidget:
        """The batten, made when it is first looked at."""
        from banister.desktop.steps.fitup.batten_view import BattenWidget

        made = BattenWidget(self.store, self.theme)
        self.below.addWidget(made)
        made.picked.connect(self._measure)
        made.pointed.connect(self.section.cut_at)
        return made

    @cached_property
    def rack(self) -> RackWidget:
        """The rack, made when it is first looked at."""
        from banister.desktop.steps.rods.rack_view import RackWidget

        made = RackWidget(self.store, self.theme)
        self.below.addWidget(made)
        return made

    @cached_property
    def strip(self) -> StripWidget:
        """The inspected weld, made when it is first looked at."""
        from banister.desktop.steps.inspect.strip_view import StripWidget

        made = StripWidget(self.store, self.theme)
        self.below.addWidget(made)
        made.new_wanted.connect(lambda: self._inspect_panel().new())
        made.ended.connect(lambda begins, s_mm: self._inspect_panel().end_length(begins, s_mm))
        made.looked.connect(lambda line, low, high: self._inspect_panel().looked.look_for(line, low, high))
        made.asked.connect(lambda view: self._inspect_panel().open_view(view))
        return made

    def _inspect_panel(self) -> InspectPanel:
        """The panel that goes with the strip."""
        from banister.desktop.steps.inspect.panel import InspectPanel

        panel = self.panel("inspect")
        assert isinstance(panel, InspectPanel)
        return panel

    @cached_property
    def page(self) -> RecordPage:
        """The record to look at, made when it is first looked at."""
        from banister.desktop.steps.record.page_view import RecordPage
        from banister.desktop.steps.record.panel import RecordPanel

        panel = self.panel("record")
        assert isinstance(panel, RecordPanel)
        made = RecordPage(self.store, self.theme, panel.gathered)
        self.below.addWidget(made)
        return made

    @cached_property
    def practice(self) -> PracticeBoard:
        """The session that is looked at, made when it is first wanted."""
        from banister.desktop.steps.practice.board_view import PracticeBoard
        from banister.desktop.steps.practice.panel import PracticePanel

        panel = self.panel("practice")
        assert isinstance(panel, PracticePanel)
        made = PracticeBoard(self.store, self.theme, panel.desk)
        self.below.addWidget(made)
        return made

    def _made_below(self) -> list[WindowGrid | BattenWidget | RackWidget | StripWidget | RecordPage | PracticeBoard]:
        """Those of them that were looked at already."""
        return [vars(self)[key] for key in MADE_BELOW if key in vars(self)]

    def _measure(self, s_mm: float) -> None:
        """A place of the batten was clicked: the next reading is of it."""
        from banister.desktop.steps.fitup.panel import FitUpPanel

        panel = self.panel("fitup")
        assert isinstance(panel, FitUpPanel)
        panel.aim(s_mm)

    def enter_panel(self) -> None:
        """The keys go to the first thing in the panel that can be worked."""
        panel = self.panel(self.store.view.step)
        for widget in panel.findChildren(QWidget):
            if widget.isVisible() and widget.isEnabled() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus and not isinstance(widget, QLabel):
                widget.setFocus(Qt.FocusReason.TabFocusReason)
                return

    def _show_below(self) -> None:
        """What stands under the section: what belongs to the step, else the table where it is wanted; each keeps its share of the room."""
        below_of = BELOW.get(self.store.view.step)
        own = below_of(self.store.view) if below_of is not None else ""
        below = own or ("table" if self.table_wanted else "")
        if below:
            self.below.setCurrentWidget(getattr(self, below))
        self.below.setVisible(bool(below))
        self.answers.setVisible(not own)
        self.rail.setVisible(own != "practice")
        is_alone = own in ("rack", "strip", "page", "practice") or (own == "batten" and self.batten.is_ring)
        is_alone = is_alone or (bool(own) and self.height() < GRID_ALONE_PX)
        if (sizes := self.split.sizes()) and all(sizes) and self._below:
            self._shares[self._below] = sizes
        self.section.setHidden(is_alone)
        shared = "" if is_alone else below
        if shared != self._below:
            if shared in self._shares:
                self.split.setSizes(self._shares[shared])
            self._below = shared

    def show_toggles(self) -> None:
        """Which toggles are on."""
        self.rail_steps.setChecked(not self.rail.on_clock)
        self.rail_clock.setChecked(self.rail.on_clock)
        self.table_button.setChecked(self.table_wanted)

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        """In a small window the rail, the stair and the settings give way to the section."""
        self.share_room()
        super().resizeEvent(event)

    def share_room(self) -> None:
        """Widths and heights for the size of the window."""
        wide = int(self.width() >= NARROW_PX)
        self.side_frame.setFixedWidth(SIDE_PX[wide])
        self.stair.setFixedWidth(STAIR_PX[wide])
        self._show_below()
        self.rail.setFixedHeight(RAIL_PX[self.height() < LOW_PX, self.rail.on_clock])
        self.show_toggles()


def _column(widget: QWidget) -> QVBoxLayout:
    column = QVBoxLayout(widget)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    return column
