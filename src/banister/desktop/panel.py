"""What the panels of all steps share: headings, remarks, fields of the joint's figures, and when they are drawn."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QBoxLayout, QCheckBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.joint.figures import JointFigure
from banister.core.plan.notes import Note
from banister.core.remark import OUTSIDE
from banister.core.words import Speech, capital
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.fields import ChoiceField, Entry, FigureField, NameField, Refusal
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.job.library import Library
from banister.job.reading import FileFault


class Panel(QWidget):
    """A column at the right. `show_job` draws what differs between two snapshots; old is None for all of it."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(14, 14, 12, 14)
        self.column.setSpacing(8)
        self.shown: Snapshot | None = None
        self.drafts: tuple[FigureField | NameField, ...] = ()
        """Fields of something about the shown joint that a button takes: what is typed in them is of no other joint."""
        self._shown_of: tuple[object, str] = (None, "")
        """The history of the job and the joint that is shown."""
        self._explained: dict[str, QWidget] = {}

    @property
    def say(self) -> Speech:
        """How the window talks."""
        return self.store.say

    def catch_up(self) -> None:
        """Draw what the store holds, if it is not drawn already."""
        now = self.store.now
        if self.shown is not now and now.joint is not None:
            old, self.shown = self.shown, now
            self._know(now.joint.id)
            for word, box in self._explained.items():
                box.setVisible(word not in now.view.put_away)
            self.show_job(old, now)

    def _know(self, joint_id: str) -> None:
        """As another joint is shown, what was typed for the one before and not taken is given up, and why it was refused."""
        before, self._shown_of = self._shown_of, (self.store.session.history, joint_id)
        if before[0] is self._shown_of[0] and before[1] == joint_id:
            return
        for entry in self.findChildren(Entry):
            entry.setModified(False)
        for field in self.drafts:
            field.empty()
        for refusal in self.findChildren(Refusal):
            refusal.tell("")
        self.joint_left()

    def joint_left(self) -> None:
        """Another joint is shown: what was worked out for the one before on demand is no longer said."""

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs."""

    def set_theme(self, theme: Theme) -> None:
        """Another theme; what is not seen is drawn when it next is."""
        self.theme = theme
        self.shown = None
        if self.isVisible():
            self.catch_up()

    # --- what a column is made of -------------------------------------------------------------
    def heading(self, text: str, size: float = 17) -> QLabel:
        """A heading in the column."""
        label = QLabel(text)
        label.setFont(font(size, QFont.Weight.DemiBold))
        label.setWordWrap(True)
        self.column.addWidget(label)
        return label

    @contextmanager
    def part(self) -> Iterator[QWidget]:
        """A part of the column that is shown or hidden as one: what is made meanwhile stands in it."""
        outer, box = self.column, QWidget()
        self.column = QVBoxLayout(box)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(8)
        outer.addWidget(box)
        yield box
        self.column = outer

    def remark(self, text: str = "", kind: str = "soft") -> QLabel:
        """A quieter line in the column: soft, plain, warn or bad."""
        label = QLabel(text)
        tint(label, kind)
        label.setWordWrap(True)
        self.column.addWidget(label)
        return label

    def refusal(self) -> Refusal:
        """Where it is said in the column why something could not be taken."""
        found = Refusal()
        self.column.addWidget(found)
        return found

    def explained(self, word: str) -> None:
        """One line on a word of the program where it is first met, until it is put away for good."""
        self._explained[word] = box = QWidget()
        row = QHBoxLayout(box)
        row.setContentsMargins(0, 0, 0, 0)
        text, away = QLabel(self.say(f"explained.{word}")), QPushButton(self.say("explained.away"))
        text.setWordWrap(True)
        tint(text, SOFT)
        away.setToolTip(self.say("explained.away.tip"))
        away.setAccessibleName(self.say("explained.away.tip"))
        away.clicked.connect(lambda _checked=False: self._put_away(word))
        row.addWidget(text, 1)
        row.addWidget(away, 0, Qt.AlignmentFlag.AlignTop)
        self.column.addWidget(box)

    def hide_explained(self) -> None:
        """Something else stands in the panel now."""
        for box in self._explained.values():
            box.hide()

    def _put_away(self, word: str) -> None:
        view = self.store.view
        self.store.look(put_away=(*view.put_away, word))

    def button(self, key: str, run: Callable[[], object], tip: bool = False) -> QPushButton:
        """A button named by the words of a key, with those of `KEY.tip` where it has a tip."""
        button = QPushButton(self.say(key))
        if tip:
            button.setToolTip(self.say(f"{key}.tip"))
        button.clicked.connect(lambda _checked=False: run())
        self.column.addWidget(button)
        return button

    def keep_in_library(self, keep: Callable[[Library], Library], file: str, name: str, label: QLabel) -> None:
        """Keep something among the user's own files; where that cannot be, say why."""
        path, say = self.store.library.folder / file, self.say
        try:
            library = keep(self.store.library)
        except FileFault as fault:
            label.setText("\n".join([say("library.not", path=fault.file or str(path)), *say.faults(fault.remarks)]))
            return
        except OSError as error:
            label.setText(say("library.failed", path=str(path), why=error.strerror or str(error)))
            return
        self.store.library = library
        label.setText(say("library.kept", name=name, path=str(path)))

    def choice(self, key: str, choices: Mapping[str, str], chosen: Callable[[str], object] | None = None) -> ChoiceField:
        """A list named by the words of a key."""
        field = ChoiceField(self.say(key), dict(choices))
        if chosen is not None:
            field.chosen.connect(chosen)
        self.column.addWidget(field)
        return field

    def tick(self, key: str, clicked: Callable[[bool], object], tip: bool = False) -> QCheckBox:
        """A check box named by the words of a key."""
        box = QCheckBox(self.say(key))
        if tip:
            box.setToolTip(self.say(f"{key}.tip"))
        box.clicked.connect(lambda on: clicked(on))  # a partial would be called without the state
        self.column.addWidget(box)
        return box

    def figure(self, figure: JointFigure) -> FigureField:
        """The field of a figure of the joint."""
        field = FigureField(capital(self.say(figure.label)), figure.kind, partial(self.store.set_figure, figure.key), figure.step, figure.low, figure.high)
        self.column.addWidget(field)
        return field

    def words(self, group: str, keys: Mapping[str, object] | tuple[str, ...] | list[str]) -> dict[str, str]:
        """The words of several keys of a group, for a list of choices."""
        return {key: self.say(f"{group}.{key}") for key in keys}


def show_notes(bad: QLabel, warn: QLabel, notes: list[Note], say: Speech) -> None:
    """What is outside in one label, what to watch in the other, each under its word: colour alone tells nobody."""
    for label, word, is_bad in ((bad, "verdict.outside", True), (warn, "verdict.warning", False)):
        texts = [note.said(say) for note in notes if (note.remark.verdict == OUTSIDE) == is_bad]
        label.setText("\n\n".join([f"{capital(say(word))}: {texts[0]}", *texts[1:]]) if texts else "")
        label.setVisible(bool(texts))


@contextmanager
def keeping_focus(panel: QWidget) -> Iterator[None]:
    """Rows made anew: what bears the same name as what had the keys has them again."""
    held = panel.focusWidget()
    name = held.accessibleName() if held is not None and held.hasFocus() else ""
    old = set(panel.findChildren(QWidget)) if name else set()
    yield
    for widget in panel.findChildren(QWidget) if name else ():
        if widget not in old and widget.accessibleName() == name:
            widget.setFocus()
            return


def cleared(layout: QBoxLayout) -> None:
    """Remove and delete everything in a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget = item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
