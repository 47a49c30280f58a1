"""Test pieces on the weld of the shown joint: by a rule, dragged where that is wanted, printed at their true size."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QPushButton, QVBoxLayout

from banister.core.drawing.charts.pieces_strip import PiecesStrip, PiecesView, key_said, pieces_strip
from banister.core.drawing.shapes import Drawing
from banister.core.fitup.places import course_of
from banister.core.inspect.cutting import SURE, Asked, cut_as_asked, cuts_asked, moved, notes_said, taken, taken_said, zones_of
from banister.core.inspect.pieces import Cut, CutPlan, Short, Zone
from banister.core.remark import Figure
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, bordered, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import ChoiceField
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.sheet.actions import plain_name, put_on_paper
from banister.desktop.store import Store
from banister.desktop.work.paper import cut_pages
from banister.job.test_pieces import PieceRule, piece_table

KEY = "pieces"
STEP_MM, LEAP_MM = 0.5, 5.0


class PiecesWidget(ChartView):
    """The strip; a piece is dragged, or taken hold of by Tab's neighbours and moved by the arrows."""

    moved = Signal(int, float)
    best_wanted = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.cuts: tuple[Cut, ...] = ()
        self.zones: tuple[Zone, ...] = ()
        self.held = 0
        self.chart: PiecesStrip | None = None
        self._grip = 0.0
        self.setMinimumSize(560, 260)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("pieces.window"))

    def made(self) -> Drawing | None:
        """The strip for the present size."""
        joint = self.store.joint
        if joint is None or self.width() < 200:
            return None
        self.chart = pieces_strip(self.cuts, self.zones, course_of(joint), self.store.say, PiecesView(float(self.width()), float(self.height()), self.held))
        return self.chart.drawing

    def _cut(self) -> Cut | None:
        return next((cut for cut in self.cuts if cut.number == self.held), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Take hold of a piece."""
        if self.chart is None:
            return
        self.held = self.chart.piece_at(self.point(event.position()))
        cut = self._cut()
        self._grip = 0.0 if cut is None else self.chart.along.value(event.position().x()) - cut.from_mm
        self.redraw()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The piece goes along."""
        if self.held and self.chart is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self.moved.emit(self.held, self.chart.along.value(event.position().x()) - self._grip)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Left and right move the piece held (Shift by 5 mm), up and down hold another, O puts all to the best places."""
        key, cut = Qt.Key(event.key()), self._cut()
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key)
        other = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key)
        if key == Qt.Key.Key_O:
            self.best_wanted.emit()
        elif other is not None and self.cuts:
            self.held = min(max(self.held + other, 1), len(self.cuts))
            self.moved.emit(self.held, self.cuts[self.held - 1].from_mm)
        elif way is not None and cut is not None:
            self.moved.emit(self.held, cut.from_mm + way * (LEAP_MM if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else STEP_MM))
        else:
            super().keyPressEvent(event)


class PiecesDialog(Beside):
    """Cuts test pieces on the strip of the shown joint's weld."""

    def __init__(self, parent: Any, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1080, 640)
        self.store, self.dialogs, self.files = store, parent.dialogs, parent.files
        say = store.say
        self.setWindowTitle(say("pieces.window"))
        self.rules: dict[str, PieceRule] = {}
        self.asked: Asked | None = None
        self.title, self.key_line, self.notes = QLabel(), QLabel(), QLabel()
        self.title.setFont(font(18, QFont.Weight.DemiBold))
        for label in (self.key_line, self.notes):
            tint(label, SOFT)
            label.setWordWrap(True)
        self.rule = ChoiceField(say("pieces.rule"), {})
        self.rule.chosen.connect(lambda _: self.cut())
        self.picture, self.list = PiecesWidget(store, theme), QListWidget()
        bordered(self.list)
        self.picture.moved.connect(self.move_piece)
        self.picture.best_wanted.connect(self.cut)
        self.list.setAccessibleName(say("pieces.window"))
        self.list.currentRowChanged.connect(self._hold)
        best, self.sheet = QPushButton(say("pieces.best")), QPushButton(say("pieces.print"))
        best.clicked.connect(lambda _checked=False: self.cut())
        self.sheet.clicked.connect(lambda _checked=False: self.write_pages())
        row, column = QHBoxLayout(), QVBoxLayout(self)
        row.addWidget(self.rule, 1)
        row.addWidget(best)
        row.addWidget(self.sheet)
        column.addWidget(self.title)
        column.addLayout(row)
        column.addWidget(self.picture, 2)
        column.addWidget(self.key_line)
        column.addWidget(self.list, 1)
        column.addWidget(self.notes)
        store.changed.connect(self.show_job)
        self._begin()

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Cut anew for another joint, plan, or after more was seen."""
        if new.differs(old, "joint", "plan", "issued", "records"):
            self._begin()
        elif new.differs(old, "say"):
            self._show()

    def _begin(self) -> None:
        joint, plan, say = self.store.now.joint, self.store.now.welded_plan, self.store.say
        self.picture.zones, self.picture.cuts, self.asked = (), (), None
        if joint is None or plan is None:
            self.stop()
            self.title.setText(say("pieces.no_plan"))
            self.list.clear()
            self.notes.setText("")
            self.sheet.setEnabled(False)
            self.picture.redraw()
            return
        self.rules = {str(rule.number): rule for rule in piece_table().offered(joint)}
        self.rule.set_choices({key: self._rule_name(rule) for key, rule in self.rules.items()})
        self.title.setText(say("pieces.title.none") if not self.rules else "")
        self.store.errands.run(Errand(SEARCH, KEY, "stops", zones_of, (joint, plan, self.store.standing), self._clear_of))

    def _rule_name(self, rule: PieceRule) -> str:
        say = self.store.say
        name = say("pieces.rule.name", family=rule.family, purpose=say(f"testpieces.{rule.purpose}"))
        return name if rule.certainty == SURE else f"{name} ({say('certainty.unverified')})"

    def _clear_of(self, zones: tuple[Zone, ...]) -> None:
        self.picture.zones = zones
        self.cut()

    def stop(self) -> None:
        """What is asked for stays unanswered."""
        self.store.stop(KEY)

    # --- cutting ------------------------------------------------------------------------------
    def cut(self) -> None:
        """All pieces at the best places of the rule."""
        joint, rule, say = self.store.joint, self.rules.get(self.rule.key), self.store.say
        if joint is None or rule is None:
            self.picture.redraw()
            return
        self.asked = piece_table().asked(rule.pieces, rule)
        found = cut_as_asked(self.asked, course_of(joint), self.picture.zones)
        self.picture.cuts, self.picture.held = (cuts_asked(self.asked, found), 0) if isinstance(found, CutPlan) else ((), 0)
        self._show()
        if isinstance(found, Short):
            self.title.setText(say("pieces.short", by=Figure(found.by_mm, "long_length")))

    def move_piece(self, number: int, from_mm: float) -> None:
        """A piece begins elsewhere, as far as its neighbours and the ends of the weld let it."""
        joint, before = self.store.joint, self.picture.cuts
        if joint is None or self.asked is None:
            return
        self.picture.cuts = moved(before, number, from_mm, course_of(joint), self.asked.kerf_mm)
        self._show()
        if self.picture.cuts == before and all(cut.from_mm != from_mm for cut in before if cut.number == number):
            self.title.setText(self.store.say("pieces.stuck", n=str(number)))

    def _hold(self, row: int) -> None:
        if 0 <= row < len(self.picture.cuts):
            self.picture.held = self.picture.cuts[row].number
            self.picture.redraw()

    def _show(self) -> None:
        """The strip, a line for every piece, what to know."""
        joint, say, picture = self.store.joint, self.store.say, self.picture
        if joint is None or self.asked is None:
            return
        course, cuts = course_of(joint), picture.cuts
        bad = sum(bool(taken(cut, picture.zones, course)) for cut in cuts)
        self.title.setText(say("pieces.title.takes", n=str(bad), of=str(len(cuts))) if bad else say("pieces.title.clear", n=str(len(cuts))))
        self.list.blockSignals(True)
        self.list.clear()
        self.list.addItems([taken_said(cut, picture.zones, course, say) for cut in cuts])
        self.list.setCurrentRow(picture.held - 1)
        self.list.blockSignals(False)
        self.key_line.setText(key_said(say, max(self.width() - 40.0, 200.0)))
        self.notes.setText(" ".join(notes_said(self.asked, say)))
        self.sheet.setEnabled(bool(cuts))
        picture.redraw()

    def write_pages(self) -> None:
        """The pieces as they lie, at their true size over tiled pages."""
        joint, say = self.store.joint, self.store.say
        if joint is None or not self.picture.cuts:
            return
        path = self.dialogs.save_path(self, say("export.write"), f"{plain_name(joint.id)}-pieces.pdf", "*.pdf")
        if path is not None:
            put_on_paper(self.parent(), path, cut_pages, joint, self.picture.cuts, self.picture.zones, say)
