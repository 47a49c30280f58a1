"""The answers side by side, a card for each plan that is one; one is chosen by a click."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from banister.core.joint.working import ANSWERS, BETWEEN
from banister.core.plan.front import answer_said, cards
from banister.core.plan.plan import Plan
from banister.core.remark import Figure
from banister.core.words import Speech
from banister.desktop.app.theme import Theme, font_within
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

NARROW_PX = 130
"""A card narrower than this gives its margins to its figures."""


class AnswerTile(QAbstractButton):
    """One answer: its name, passes, time, peak energy."""

    def __init__(self, answer: str, say: Speech, theme: Theme) -> None:
        super().__init__()
        self.answer, self.say, self.theme = answer, say, theme
        self.plan: Plan | None = None
        self.others: tuple[str, ...] = ()
        """Answers that are this same plan."""
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setToolTip(say(f"answer.{answer}.tip", key=str(ANSWERS.index(answer) + 1)) if answer else say("answer.capped.tip"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802
        """One tile."""
        return QSize(180, 62)

    @property
    def refused(self) -> bool:
        """Whether nothing can be planned here, by any answer on this card."""
        return self.plan is not None and not self.plan.feasible

    @property
    def name(self) -> str:
        """What the card is called: its answer, and the others that are the same plan."""
        name = answer_said(self.answer, self.say)
        if not self.others:
            return name
        if self.refused:
            return self.say("answer.every")
        return self.say("answer.also", answer=name, others=", ".join(answer_said(other, self.say) for other in self.others))

    def lines(self) -> tuple[str, str]:
        """What the tile says under its name."""
        plan, say = self.plan, self.say
        if plan is None:
            return say("answer.planning"), ""
        if not plan.feasible:
            return say("answer.blocked"), ""
        return (say("answer.first", n=len(plan.passes), lasts=Figure(plan.total_time_s, "duration")),
                say("answer.second", n=plan.rods, peak=Figure(plan.peak_arc_energy_kj_mm, "energy")))  # fmt: skip

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Enter takes it, as Space does."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paint the tile."""
        painter, t = QPainter(self), self.theme
        box = self.rect().adjusted(1, 1, -1, -1)
        marked = self.isChecked() or self.hasFocus()
        painter.fillRect(box, QColor(t.accent_ground if self.isChecked() else t.panel))
        painter.setPen(QPen(QColor(t.accent if marked else t.line), 2 if marked else 1))
        painter.drawRect(box)
        side = 10 if self.width() > NARROW_PX else 5
        first, second = self.lines()
        shown = self.isChecked() and not self.refused and self.answer in ANSWERS  # one with a cap is only there when it is
        name = self.say("answer.shown", answer=self.name) if shown else self.name
        rows = ((name, 13, QFont.Weight.DemiBold, t.text, 3), (first, 13, QFont.Weight.Medium, t.bad if self.refused else t.text, 21),
                (second, 12, QFont.Weight.Normal, t.soft, 39))  # fmt: skip
        for text, size, weight, colour, top in rows:
            painter.setFont(font_within(text, size, self.width() - 2 * side, weight))
            painter.setPen(QColor(colour))
            whole = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, self.width() - 2 * side)
            painter.drawText(QRectF(side, top, self.width() - 2 * side, 20), Qt.AlignmentFlag.AlignVCenter, whole)


class AnswersStrip(QWidget):
    """The cards."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store = store
        self.tiles = {answer: AnswerTile(answer, store.say, theme) for answer in (*ANSWERS, "")}
        """A card for each answer, and the last for one with a cap that is chosen."""
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 6, 8, 6)
        row.setSpacing(6)
        for answer, tile in self.tiles.items():
            tile.clicked.connect(partial(self.choose, answer))
            row.addWidget(tile)

    def choose(self, answer: str) -> None:
        """Show another answer; '' for the one that is only there while it is shown."""
        if answer:
            self.store.choose(answer)
        self._show(self.store.now)

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        for tile in self.tiles.values():
            tile.theme = theme
            tile.update()

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show what is planned so far."""
        if new.differs(old, "plans", "joint", "say"):
            self._show(new)

    def _show(self, now: Snapshot) -> None:
        chosen = now.joint.working.chosen if now.joint is not None else ""
        found = cards(now.plans, chosen)
        first = {card.answers[0]: card for card in found}
        shared = {answer for card in found for answer in card.answers[1:]}
        self.tiles[""].answer = chosen if chosen not in ANSWERS else ""
        self.tiles[""].setVisible(bool(self.tiles[""].answer))
        for tile in self.tiles.values():
            answer = tile.answer
            if not answer:
                continue
            card = first.get(answer)
            tile.plan, tile.say, tile.others = now.plans.get(answer), now.say, () if card is None else card.answers[1:]
            tile.setChecked(chosen == answer or chosen in tile.others)
            tile.setVisible(answer not in shared and (card is not None or answer not in now.plans) and (answer != BETWEEN or answer in now.plans))
            tile.setAccessibleName(tile.name)
            tile.setAccessibleDescription(", ".join(filter(None, tile.lines())))
            tile.update()
