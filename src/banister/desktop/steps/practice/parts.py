"""Parts of the practice panel: a rod's readings, a new session, what an instructor sets."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from banister.core.practice.book import ArcRead, Book, Homework, OwnTarget, PracticeNote, RodRead, Session
from banister.core.practice.said import KINDS, name_of
from banister.core.remark import Refused, Remark
from banister.core.typed import several_written, typed, typed_several, written
from banister.core.value import replace
from banister.core.words import Speech, capital
from banister.desktop.app.theme import Theme
from banister.desktop.errands import HEAT, Errand
from banister.desktop.fields import NameField, UnitsField
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.practice.desk import PracticeDesk
from banister.desktop.store import Store
from banister.desktop.work.trace import arcs_of
from banister.job.practice import PracticeFile

TRACE = "trace"
SINGLE = {"run_out_mm": "long_length", "pitch_mm": "fine_length", "restart_step_mm": "fine_length", "restart_gap_mm": "fine_length"}
SEVERAL = {"widths_mm": "fine_length", "marks_s": "fine_seconds", "edges_s": "fine_seconds", "line_mm": "fine_length"}
ASKED = {
    "run_out_error": ("run_out_mm",), "width_spread": ("widths_mm",), "pace_spread": ("marks_s",), "edge_timing": ("edges_s",), "beat_error": ("edges_s",),
    "straightness": ("line_mm",), "restart_step": ("restart_step_mm",), "restart_gap": ("restart_gap_mm",), "overlap": ("pitch_mm", "widths_mm"),
}  # fmt: skip
"""What is typed for a figure."""


class _Part(Panel):
    """A part of the panel: a column of its own."""

    def __init__(self, store: Store, theme: Theme, desk: PracticeDesk) -> None:
        super().__init__(store, theme)
        self.desk = desk
        self.column.setContentsMargins(0, 0, 0, 0)

    def name(self, key: str) -> NameField:
        """A field of plain text."""
        field = NameField(self.say(key))
        self.column.addWidget(field)
        return field

    def figures(self, key: str, kind: str) -> UnitsField:
        """A line of figures of a kind."""
        field = UnitsField(self.say(key), kind)
        self.column.addWidget(field)
        return field


class RodPart(_Part):
    """What ruler and clock say of a rod: only what its drill asks for; several figures are typed one behind the other."""

    def __init__(self, store: Store, theme: Theme, desk: PracticeDesk) -> None:
        super().__init__(store, theme, desk)
        self.head = self.heading(self.say("practice.read"), 14)
        self.how = self.remark(self.say("practice.read.how"))
        self.fields = {key: self.figures(f"practice.field.{key}", kind) for key, kind in (SINGLE | SEVERAL).items()}
        for field in self.fields.values():
            field.edit.returnPressed.connect(self.take)
        self.take_button = self.button("practice.take", self.take, tip=True)
        self.refused = self.refusal()
        self._edited: int | None = None
        self._of: tuple[int | None, int] = (None, 0)
        """The session shown, and how many rods it had."""

    def show_units(self, say: Speech) -> None:
        """The unit stands behind the name."""
        for key, field in self.fields.items():
            field.title = say(f"practice.field.{key}")
            field.show_units(say)

    def show_desk(self) -> None:
        """The fields the drill asks for."""
        session = self.desk.session
        if session is None:
            return
        asked = {name for metric in self.desk.drills.drills[session.drill].measure for name in ASKED.get(metric, ())}
        for key, field in self.fields.items():
            field.setVisible(key in asked)
        of, before = (self.desk.index, len(session.rods)), self._of
        self._of = of
        if of[0] != before[0] or (of != before and self._edited is not None):  # its number may be another rod's now
            self._edited = None
            self._clear()
        self.take_button.setText(self.say("practice.take" if self._edited is None else "practice.change", number=str((self._edited or 0) + 1)))

    def edit(self, number: int) -> None:
        """A rod that was read stands in the fields, and is changed by taking it."""
        session, units = self.desk.session, self.say.units
        if session is None:
            return
        self._edited, rod = number, session.rods[number]
        for key, field in self.fields.items():
            value = getattr(rod, key)
            several = value if isinstance(value, tuple) else () if value is None else (value,)
            field.edit.setModified(False)
            field.show_text(several_written(several, field.kind, units))
        self.desk.look(rod=number)

    def take(self) -> None:
        """Take what is typed as a rod, or in the place of the one that is changed."""
        session, units, found = self.desk.session, self.say.units, dict[str, object]()
        if session is None:
            return
        before = RodRead() if self._edited is None else session.rods[self._edited]
        try:
            for key, field in self.fields.items():
                text = field.edit.text().strip()
                if field.isHidden() or (self._edited is not None and not field.edit.is_new):  # what is left as it was read stays that very figure
                    continue
                found[key] = (None if not text else typed(text, field.kind, units)) if key in SINGLE else typed_several(text, field.kind, units)
        except Refused as refused:
            self.refused.tell(self.say.sentence(refused.remarks[0]))
            return
        rod = replace(before, **found)  # type: ignore[arg-type]
        if rod == RodRead():
            self.refused.tell(self.say("fitup_step.nothing"))
            return
        number, self._edited = self._edited, None
        if not self.desk.put_rod(rod, number):
            self._edited = number
            return
        self.refused.tell("")
        self._clear()
        self.desk.look(rod=len(self.desk.session.rods) - 1 if number is None and self.desk.session is not None else number)

    def read_trace(self, path: Path) -> None:
        """The arcs of a recorded trace, a rod each: the rods that have none yet get theirs, and more are added."""
        if self.desk.index is not None:
            taken = partial(self._take_arcs, self.desk.file, self.desk.index)
            self.store.errands.run(Errand(HEAT, TRACE, TRACE, arcs_of, (path,), taken))

    def _take_arcs(self, file: PracticeFile | None, index: int, found: tuple[ArcRead, ...] | Remark | OSError) -> None:
        """They are of the session that was looked at when they were asked for."""
        book, say = self.desk.book, self.say
        if book is None or self.desk.file is not file or index >= len(book.sessions):
            return
        if isinstance(found, Remark):
            self.refused.tell(say.sentence(found))
        elif isinstance(found, OSError):
            self.refused.tell(say("devices.not_read", why=found.strerror or str(found)))
        elif not found:
            self.refused.tell(say("practice.trace.none"))
        else:
            session, left = book.sessions[index], [*found]
            rods = [replace(rod, arc=left.pop(0)) if rod.arc is None and left else rod for rod in session.rods]
            rods += [RodRead(arc=arc) for arc in left]
            if self.desk.put(book.with_session(index, replace(session, rods=tuple(rods)))):
                self.refused.tell("")

    def _clear(self) -> None:
        for field in self.fields.values():
            field.empty()


class SessionPart(_Part):
    """A new session: the drill, what it is welded with, the mark to end at, the pacer's beat."""

    def __init__(self, store: Store, theme: Theme, desk: PracticeDesk) -> None:
        super().__init__(store, theme, desk)
        say = self.say
        self.heading(say("practice.new"), 14)
        drills = desk.drills.drills
        self.drill = self.choice("practice.new.drill", {key: say(f"practice.drill.{key}.title") for key in drills}, lambda _: self._tell_drill())
        self.what = self.remark()
        self.rod = self.choice("practice.new.rod", {})
        self.position, self.machine, self.amps = self.name("practice.new.position"), self.name("practice.new.machine"), self.name("practice.new.amps")
        self.target, self.edge = self.figures("practice.new.target", "long_length"), self.name("practice.new.edge")
        self._as_before: float | None = None
        """The mark of the session before, which is shown: that very one until another is typed."""
        self.button("practice.new.begin", self.begin)
        self.refused = self.refusal()
        self._tell_drill()

    def show_job(self, new: Snapshot) -> None:  # type: ignore[override]
        """The rods of the job, the position and the planned run-out of its joint."""
        self._tell_drill()
        self.target.show_units(new.say)
        if new.job is None or new.joint is None:
            return
        self.rod.set_choices({rod.id: new.say.units.rod(rod.id) for rod in new.job.rods})
        if not self.position.edit.text():
            self.position.show_text(new.joint.piece.position)

    def show_desk(self) -> None:
        """As the session before: what is practised again is not typed again."""
        session = self.desk.session
        if session is None or self.machine.edit.isModified() or self.target.edit.isModified():
            return
        units, self._as_before = self.say.units, session.target_mm
        self.drill.show_choice(session.drill)
        self.rod.show_choice(session.rod)
        for field, text in ((self.position, session.position), (self.machine, session.machine),
                            (self.amps, "" if session.amps is None else units.text("current", session.amps)),
                            (self.target, "" if session.target_mm is None else written(session.target_mm, "long_length", units)),
                            (self.edge, "" if session.edge_s is None else units.text("fine_seconds", session.edge_s))):  # fmt: skip
            field.show_text(text)
        self._tell_drill()

    def _tell_drill(self) -> None:
        key, say = self.drill.key, self.say
        self.what.setText("\n".join(capital(say(f"practice.drill.{key}.{part}")) for part in ("do", "needs", "watch")))

    def begin(self) -> None:
        """Begin it today."""
        say, units = self.say, self.say.units
        try:
            amps, target, edge = (typed(text, kind, units) if (text := field.edit.text().strip()) else None for field, kind in (
                (self.amps, "current"), (self.target, "long_length"), (self.edge, "fine_seconds")))  # fmt: skip
            target = target if self.target.edit.is_new else self._as_before
        except Refused as refused:
            self.refused.tell(say.sentence(refused.remarks[0]))
            return
        made = Session(on=self.store.today.isoformat(), drill=self.drill.key, rod=self.rod.key, position=self.position.edit.text().strip()[:20],
                       machine=self.machine.edit.text().strip()[:40], amps=amps, target_mm=target, edge_s=edge)  # fmt: skip
        self.refused.tell("")
        self.desk.begin_session(made)


class InstructorPart(_Part):
    """What an instructor sets: a note on the rod or the session, a target of their own, homework."""

    def __init__(self, store: Store, theme: Theme, desk: PracticeDesk) -> None:
        super().__init__(store, theme, desk)
        say = self.say
        self.heading(say("practice.instructor"), 14)
        self.by, self.text = self.name("practice.by"), self.name("practice.text")
        self.button("practice.note.keep", self.note, tip=True)
        names = {key: capital(name_of(m, say)) for key, m in desk.drills.figures.items()}
        self.figures_of = self.choice("practice.own_target", names, lambda _: self.show_desk())
        self.low, self.high = self.figures("practice.low", ""), self.figures("practice.high", "")
        self.button("practice.target.keep", self.target)
        self.drill = self.choice("practice.homework", {key: say(f"practice.drill.{key}.title") for key in desk.drills.drills})
        self.rods = self.name("practice.homework.rods")
        self.button("practice.homework.keep", self.homework)
        self.refused = self.refusal()

    def show_desk(self) -> None:
        """The target that holds for the figure."""
        book, metric = self.desk.book, self.desk.drills.figures.get(self.figures_of.key)
        if book is None or metric is None:
            return
        for field, value in zip((self.low, self.high), book.target_of(metric), strict=True):
            field.show_units(self.say, KINDS[metric.unit])
            field.show_text(written(value, KINDS[metric.unit], self.say.units))

    def note(self) -> None:
        """A note on the rod that is looked at, else on the session."""
        session, text = self.desk.session, self.text.edit.text().strip()
        if session is None or not text:
            self.refused.tell(self.say("practice.text.missing"))
            return
        made = PracticeNote(text=text[:500], by=self.by.edit.text().strip()[:60], on=self.store.today.isoformat(), rod=self.desk.rod)
        if self.desk.put_session(replace(session, notes=(*session.notes, made))):
            self.text.empty()
            self.refused.tell("")

    def target(self) -> None:
        """A band of the instructor's own for a figure."""
        book, metric = self.desk.book, self.desk.drills.figures.get(self.figures_of.key)
        if book is None or metric is None:
            return
        try:
            low, high = (typed(field.edit.text(), field.kind, self.say.units) if field.edit.is_new else value
                         for field, value in zip((self.low, self.high), book.target_of(metric), strict=True))  # fmt: skip
        except Refused as refused:
            self.refused.tell(self.say.sentence(refused.remarks[0]))
            return
        self._put(book.with_target(OwnTarget(metric=metric.id, low=low, high=high, by=self.by.edit.text().strip()[:60])))

    def homework(self) -> None:
        """Rods of a drill until the next time."""
        book = self.desk.book
        if book is None:
            return
        try:
            rods = round(typed(self.rods.edit.text(), "count", self.say.units))
        except Refused as refused:
            self.refused.tell(self.say.sentence(refused.remarks[0]))
            return
        made = Homework(drill=self.drill.key, rods=rods, by=self.by.edit.text().strip()[:60], on=self.store.today.isoformat())
        self._put(replace(book, homework=(*(h for h in book.homework if h.drill != made.drill), made)))

    def _put(self, book: Book) -> None:
        if self.desk.put(book):
            self.refused.tell("")
