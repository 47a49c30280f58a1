"""What the window has to tell: the notice shown in the bar, with what can be done about it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from banister.core.value import Struct, field


class Action(Struct, frozen=True):
    """A button of a notice; the notice goes once it was pressed."""

    text: str
    run: Callable[[], object]


class Notice(Struct, frozen=True):
    """A message with its way out; `report` is a longer text that can be copied."""

    text: str
    bad: bool = True
    actions: tuple[Action, ...] = ()
    report: str = ""
    dismissed: Callable[[], object] = field(default=lambda: None)


class Notices(QObject):
    """Notices, the newest shown first; a dismissed one uncovers the one before."""

    changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._open: list[Notice] = []

    @property
    def shown(self) -> Notice | None:
        """The one that is shown."""
        return self._open[-1] if self._open else None

    def add(self, notice: Notice) -> None:
        """Show another one; the same text is not shown twice."""
        self._open = [n for n in self._open if n.text != notice.text]
        self._open.append(notice)
        self.changed.emit()

    def act(self, action: Action) -> None:
        """Do what a button says."""
        self._open = self._open[:-1]
        self.changed.emit()
        action.run()

    def dismiss(self) -> None:
        """The user has read it."""
        shown = self.shown
        self._open = self._open[:-1]
        self.changed.emit()
        if shown is not None:
            shown.dismissed()

    def clear(self) -> None:
        """Nothing is to be told any more."""
        self._open.clear()
        self.changed.emit()
