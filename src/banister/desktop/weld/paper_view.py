"""From paper: a pass, a temperature, a turn, a gouge or a torch that was noted by hand, entered later and marked so."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

from PySide6.QtCore import QDateTime
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QDateTimeEdit, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.follow.between import STEPS
from banister.core.follow.facts import POSSIBLE_C
from banister.core.follow.late import pass_entries, possible_c, timed
from banister.core.passing import Entry
from banister.core.plan.plan import Pass
from banister.core.remark import Figure, Refused
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import BAD, PLAIN, SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.fields import ChoiceField, FigureField, NameField
from banister.desktop.logbook import Logbook
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

PASS, TEMP = "pass", "temp"
WHATS = (PASS, TEMP, *STEPS)
TIME_FORMAT = "yyyy-MM-dd HH:mm"


class PaperDialog(Beside):
    """Enters what was noted on paper, one thing after another."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 560, 470)
        self.store, say = store, store.say
        self.logbook: Logbook = parent.logbook  # type: ignore[attr-defined]
        self._last: tuple[int, ...] = ()
        """Numbers of the records of the last entry."""
        self.setWindowTitle(say("paper.window"))
        self.whose, self.next, how, self.told = QLabel(), QLabel(), QLabel(say("paper.how")), QLabel()
        self.whose.setFont(font(16, QFont.Weight.DemiBold))
        self.next.setFont(font(16))
        tint(how, SOFT)
        self.what = ChoiceField(say("paper.what"), {what: say(f"paper.what.{what}") for what in WHATS})
        self.what.chosen.connect(lambda _: self._show_fields())
        self.rods = FigureField(say("paper.rods"), "count", lambda _: None, low=1)
        self.left = FigureField(say("paper.left"), "percent", lambda _: None, low=0, high=99)
        self.temp = FigureField(say("weld_step.temp"), "temperature", lambda _: None, low=POSSIBLE_C[0], high=POSSIBLE_C[1], optional=True)
        self.deep = FigureField(say("paper.depth"), "fine_length", lambda _: None, low=0, optional=True)
        self.when = QDateTimeEdit(QDateTime.currentDateTime())
        self.when.setDisplayFormat(TIME_FORMAT)
        self.when.setAccessibleName(say("paper.when"))
        self.by = NameField(say("rack.by"))
        when = QLabel(say("paper.when"))
        when.setBuddy(self.when)
        self.keep, self.back = QPushButton(say("paper.keep")), QPushButton(say("paper.back"))
        self.keep.clicked.connect(self.enter)
        self.back.clicked.connect(self.take_back)
        column = QVBoxLayout(self)
        fields = (self.what, self.rods, self.left, self.temp, self.deep, when, self.when, self.by)
        for part in (self.whose, how, self.next, *fields, self.keep, self.back, self.told):
            column.addWidget(part)
        for label in (self.whose, how, self.next, self.told):
            label.setWordWrap(True)
        column.addStretch(1)
        self.left.edit.setText("0")
        store.changed.connect(self.show_job)
        self._show_fields()

    @property
    def lit(self) -> Pass | None:
        """The pass that comes next, by what is told of the joint so far."""
        follower = self.store.following.follower(self.store.now)
        if follower is None:
            return None
        welded = self.store.welded
        if self.store.is_behind:
            return None
        rest = follower.plan.passes if welded is None else welded.now.rest
        return rest[0] if rest else None

    # --- entering ----------------------------------------------------------------------------
    def enter(self) -> None:
        """Keep what stands in the fields."""
        joint, say = self.store.joint, self.store.say
        for field in (self.rods, self.left, self.temp, self.deep):
            field.tell("")
        if joint is None:
            return
        when = self.when.dateTime().toPython()
        assert isinstance(when, datetime)
        ended = when.astimezone()
        if ended > datetime.now().astimezone():
            self._tell(say("paper.future"), bad=True)
            return
        try:
            entries = self._entries(ended)
        except Refused as refused:
            self._refuse(refused)
            return
        if entries:
            self._keep(joint.id, entries)

    def _entries(self, ended: datetime) -> Sequence[tuple[Entry, datetime]]:
        """The records of what is entered and when each happened."""
        what, p = self.what.key, self.lit
        if what == TEMP:
            return ((Entry(kind=TEMP, of_pass="" if p is None else p.key, data={"c": possible_c(self._value(self.temp))}), ended),)
        if what in STEPS:
            return ((Entry(kind="step", data={"what": what}), ended),)
        if p is None:
            return ()
        rods = round(self._value(self.rods))
        welded = self.store.welded
        asked = p.area_mm2 if welded is None else welded.known.of(p.rod.id).asked(p.area_mm2)
        found = pass_entries(p, asked, rods, self._value(self.left) / 100.0, self._optional(self.temp), self._optional(self.deep))
        return timed(found, p, ended, rods)

    def _keep(self, joint: str, entries: Sequence[tuple[Entry, datetime]]) -> None:
        by, kept = self.by.edit.text().strip(), list[int]()
        for entry, happened in entries:
            at = happened.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
            named = {"by": by} if by else {}
            record = self.logbook.write(entry.kind, joint, entry.of_pass, at=at, **entry.data, **named)
            if record is None:
                break
            kept.append(record.n)
        self._last = tuple(kept)
        if len(kept) < len(entries):
            self.take_back()
            self._tell(self.store.say("weld.not_kept"), bad=True)
            return
        self._tell(self.store.say("paper.kept"))
        for field in (self.rods, self.temp, self.deep):
            field.empty()
        self.left.edit.setText("0")

    def take_back(self) -> None:
        """The last entry counts no more; it stays in the journal as taken back."""
        for number in reversed(self._last):
            self.logbook.void(number, self.store.say("rack.void.why"))
        self._last = ()
        self._tell(self.store.say("weld.undone"))

    def _value(self, field: FigureField) -> float:
        """What is typed in a field; Refused, and said at it, where it is none."""
        try:
            return field.value()
        except Refused as refused:
            field.tell(self.store.say.sentence(refused.remarks[0]))
            raise

    def _optional(self, field: FigureField) -> float | None:
        return self._value(field) if field.edit.text().strip() else None

    def _refuse(self, refused: Refused) -> None:
        by_field = {"rods": self.rods, "left": self.left, "temp": self.temp}
        remark = refused.remarks[0]
        field = by_field.get(remark.place.field)
        if field is not None:
            field.tell(self.store.say.sentence(remark))

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Another pass is next, or another joint: what was noted of the one before is not entered there."""
        if old is not None and old.joint is not None and new.joint is not None and old.joint.id != new.joint.id:
            for field in (self.rods, self.temp, self.deep):
                field.empty()
            self._last = ()
            self._tell("")
        if new.differs(old, "joint", "records", "issued", "say", "followed"):
            self._show_fields()

    def _show_fields(self) -> None:
        say, what, p, joint = self.store.say, self.what.key, self.lit, self.store.joint
        self.whose.setText(joint.called if joint is not None else "")
        for field in (self.rods, self.left, self.deep):
            field.setVisible(what == PASS)
        self.temp.setVisible(what in (PASS, TEMP))
        for field in (self.rods, self.left, self.temp, self.deep):
            field.show_unit(say)
        if p is None:
            follower = self.store.following.follower(self.store.now)
            is_done = "weld_step.behind" if self.store.is_behind else "weld.all_done"
            self.next.setText(say("weld_step.not_issued" if follower is None else is_done))
        else:
            self.next.setText(say("weld_step.next", number=str(p.number), rod=Figure(p.rod.id, "rod"), amps=Figure(p.amps, "current")))
        self.keep.setEnabled(p is not None or what != PASS)
        self.back.setEnabled(bool(self._last))

    def _tell(self, text: str, bad: bool = False) -> None:
        tint(self.told, BAD if bad else PLAIN)
        self.told.setText(text)
        self.back.setEnabled(bool(self._last))
