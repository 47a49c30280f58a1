"""The lines of the judgement in the panel, worst first: the question a line asks, and a figure from memory that somebody vouches for."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QListWidget, QListWidgetItem

from banister.core.inspect.judged import NOT_MEASURED, REJECT, Line
from banister.core.inspect.observed import ASKED, VOUCHED
from banister.core.inspect.said import line_said
from banister.core.remark import Refused
from banister.desktop.app.style import bordered
from banister.desktop.app.theme import Theme
from banister.desktop.fields import FigureField, NameField
from banister.desktop.panel import Panel
from banister.desktop.steps.inspect.entries import Entries
from banister.desktop.steps.inspect.inspecting import Inspection
from banister.desktop.store import Store


class LinesPart(Panel):
    """What the set says of every observation, and what it wants to know."""

    def __init__(self, store: Store, theme: Theme, entries: Entries) -> None:
        super().__init__(store, theme)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.entries = entries
        say = self.say
        self.heading(say("inspect.lines"), 14)
        self.list = QListWidget()
        bordered(self.list)
        self.list.setAccessibleName(say("inspect.lines"))
        self.list.setWordWrap(True)
        self.list.setMinimumHeight(230)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(self._chosen)
        self.column.addWidget(self.list)
        self.yes, self.no = self.button("inspect.yes", lambda: self.answer(True)), self.button("inspect.no", lambda: self.answer(False))
        self.edition = NameField(say("inspect.edition"))
        self.own = FigureField(say("inspect.own_figure"), "fine_length", lambda _: None, low=0.0, optional=True)
        self.column.addWidget(self.edition)
        self.column.addWidget(self.own)
        self.vouch_button = self.button("inspect.vouch", self.vouch, tip=True)
        self.refused = self.refusal()
        self._lines: list[Line] = []
        self._shown_as: object = None
        """Texts and theme of what stands in the list."""

    # --- writing -----------------------------------------------------------------------------
    def answer(self, is_so: bool) -> None:
        """The question of the set that the marked line asks."""
        line = self._line()
        if line is not None and line.asks:
            self.entries.write(ASKED, flag=line.asks, **{"is": is_so})

    def vouch(self) -> None:
        """The figure from memory of the marked line stands in the user's own copy: so, or as typed."""
        line, shown = self._line(), self.store.inspection
        edition, by = self.edition.edit.text().strip(), self.entries.by
        if line is None or shown is None or line.item < 0:
            return
        self.refused.tell("" if edition and by else self.say("inspect.vouch_missing"))
        if not (edition and by):
            return
        try:
            value = self.own.value() if self.own.edit.text().strip() else None
        except Refused as refused:
            self.own.tell(self.say.sentence(refused.remarks[0]))
            return
        by_set = shown.judgement.set
        self.entries.write(
            VOUCHED, set=by_set.id, digest=by_set.digest, item=line.item, value=value, edition=edition, on=self.store.today.isoformat(),
        )  # fmt: skip

    def _line(self) -> Line | None:
        row = self.list.currentRow()
        return self._lines[row] if 0 <= row < len(self._lines) else None

    # --- showing -----------------------------------------------------------------------------
    def show_lines(self, shown: Inspection) -> None:
        """The lines of a judgement; the same ones stay as they are, the marked one too."""
        judgement = shown.judgement
        self._lines = list(judgement.lines)
        said = [line_said(line, judgement, shown.weld, shown.course, self.say) for line in self._lines]
        if (said, self.theme) != self._shown_as:
            self._shown_as = said, self.theme
            self.list.clear()
            for text, line in zip(said, self._lines, strict=True):
                item = QListWidgetItem(text)
                if line.verdict == REJECT:
                    item.setForeground(QColor(self.theme.bad))
                self.list.addItem(item)
        self._show_buttons()

    def _chosen(self, row: int) -> None:
        line = self._line()
        self._show_buttons()
        if line is not None and line.seen and self.list.hasFocus():
            self.store.look(inspect_seen=line.seen[0], inspect_mm=line.s_mm, inspect_side=line.side)

    def _show_buttons(self) -> None:
        line, shown = self._line(), self.store.inspection
        asks = line is not None and bool(line.asks)
        item = None if line is None or shown is None or line.item < 0 else shown.judgement.set.items[line.item]
        unsure = item is not None and not asks and not item.is_sure and line is not None and line.vouched is None and line.verdict != NOT_MEASURED
        for button in (self.yes, self.no):
            button.setVisible(asks)
        for part in (self.edition, self.own, self.vouch_button):
            part.setVisible(unsure)
        self.refused.tell("")
        self.own.show_unit(self.say)
