"""What was looked for, in the panel: the whole side at once, or that it cannot be seen, and why."""

from __future__ import annotations

from banister.core.inspect.observed import LOOKED, NO_ACCESS
from banister.desktop.app.theme import Theme
from banister.desktop.fields import NameField
from banister.desktop.panel import Panel
from banister.desktop.steps.inspect.entries import Entries
from banister.desktop.steps.inspect.strip_view import lines_of
from banister.desktop.store import Store


class LookedPart(Panel):
    """Stretches that were looked at; a line of the strip is dragged along for one of them."""

    def __init__(self, store: Store, theme: Theme, entries: Entries) -> None:
        super().__init__(store, theme)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.entries = entries
        self.heading(self.say("inspect.looked"), 14)
        self.remark(self.say("inspect.looked.how"))
        self.none_seen = self.button("inspect.none_seen", self.look_at_all, tip=True)
        self.why = NameField(self.say("inspect.why"))
        self.column.addWidget(self.why)
        self.hidden_button = self.button("inspect.cannot_see", self.cannot_see)
        self.refused = self.refusal()
        self.undo_button = self.button("paper.back", entries.take_last_back)
        self.undo_button.setEnabled(False)
        entries.has_last.connect(self.undo_button.setEnabled)

    def look_at_all(self) -> None:
        """Every line of the side was looked for over its whole length."""
        if self.store.inspection is not None:
            self.look_for("", 0.0, self.store.inspection.course.length_mm)

    def look_for(self, line: str, from_mm: float, to_mm: float) -> None:
        """A stretch was looked at for a line, or for all of the side."""
        side = self.store.view.inspect_side
        self.entries.write(LOOKED, side=side, lines=lines_of(side, line), **{"from": round(from_mm, 1), "to": round(to_mm, 1)})

    def cannot_see(self) -> None:
        """The side cannot be seen, and why."""
        why = self.why.edit.text().strip()
        self.refused.tell("" if why else self.say("inspect.why_missing"))
        if why and self.entries.write(NO_ACCESS, side=self.store.view.inspect_side, why=why) is not None:
            self.why.empty()
