"""The fit-up: readings typed, read from a file and judged; a plan on their means."""

from __future__ import annotations

import itertools
import math
import zlib
from functools import cached_property, partial
from pathlib import Path

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.fitup.gauge import gauge_for
from banister.core.fitup.places import course_of
from banister.core.fitup.readings import POSSIBLE, QUANTITIES, fitup_faults, means
from banister.core.fitup.stretches import Stretch, stretch_said, stretches
from banister.core.fitup.tolerances import fit_of
from banister.core.joint.faults import joint_faults
from banister.core.joint.fitting import INSTRUMENTS, SAME_PLACE_MM, SETS, SIMULATED, FitUp, GapReading
from banister.core.joint.joint import Joint, edited
from banister.core.remark import INSIDE, OUTSIDE, SURE, WATCH, Figure, Refused, Remark
from banister.core.value import replace
from banister.core.words import capital
from banister.desktop.app.theme import Theme
from banister.desktop.errands import HEAT, Errand
from banister.desktop.fields import FigureField, NameField
from banister.desktop.panel import Panel, cleared, keeping_focus
from banister.desktop.place_field import PlaceField
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.fitup.tacks_part import TacksPart
from banister.desktop.steps.sheet.actions import plain_name, put_on_paper
from banister.desktop.store import Store
from banister.desktop.work.paper import card_pages
from banister.job.fitup_csv import fitup_csv, read_fitup
from banister.job.reading import FileFault

READ, TACK = "read", "tack"
MOST_STRETCHES = 8
UNEVEN = "uneven"


def _seed_of(joint: Joint) -> int:
    """The made joint the simulated gauge reads: another one for every joint, the same one every day."""
    return zlib.crc32(joint.id.encode())


class FitUpPanel(Panel):
    """What was measured, where, and what to do about it."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self._made: GapReading | None = None
        """What the simulated gauge put into the fields, at the place as it stands there."""
        self.heading(say("step.fitup"))
        self.work = self.choice("fitup_step.work", {key: say(f"fitup_step.work.{key}") for key in (READ, TACK)}, lambda key: store.look(tacking=key == TACK))
        self.bent = self.button("fitup_step.ring", lambda: store.look(ring=not store.view.ring), tip=True)
        with self.part() as self.reading:
            self._make_reading()
        self.turn = self.button("turn.open", lambda: self.window().open_view("turn"), tip=True)  # type: ignore[attr-defined]
        self.card = self.button("card.open", self.print_card, tip=True)
        self.remark(say("fitup_step.caution"))
        self.column.addStretch(1)

    @cached_property
    def tacks(self) -> TacksPart:
        """What stands here while tacks are at hand, made when they first are."""
        made = TacksPart(self.store, self.theme)
        self.column.insertWidget(self.column.indexOf(self.reading) + 1, made)
        for first, second in itertools.pairwise((made.closes.edit, self.turn, self.card)):
            QWidget.setTabOrder(first, second)
        return made

    def _make_reading(self) -> None:
        say = self.say
        self.remark(say("fitup_step.how"))
        self.place = PlaceField(say("fitup_step.place"))
        self.column.addWidget(self.place)
        self.fields: dict[str, FigureField] = {}
        for quantity, (_, kind) in QUANTITIES.items():
            low, high = POSSIBLE[quantity]
            field = FigureField(capital(say(f"fitup.{quantity}")), kind, lambda _: None, low=low, high=high, optional=True)
            field.edit.returnPressed.connect(self.take)
            self.fields[quantity] = field
            self.column.addWidget(field)
        self.drafts = (self.place, *self.fields.values())
        self.take_button = self.button("fitup_step.take", self.take, tip=True)
        self.button("fitup_step.gauge", self.read_simulated, tip=True)
        self.refused = self.refusal()
        self.bad, self.warn, self.quiet = self.remark(kind="bad"), self.remark(kind="warn"), self.remark()
        self.uneven = self.remark()
        self.on_means = self.button("fitup_step.means", self.plan_on_means, tip=True)
        self.heading(say("fitup_step.readings"), 14)
        self.rows = QVBoxLayout()
        self.column.addLayout(self.rows)
        self.heading(say("fitup_step.against"), 14)
        self.set = self.choice("fitup_step.set", {key: say(f"tolerance.{key or 'usual'}") for key in SETS}, lambda key: self._change(tolerances=key))
        self.under, self.over = (FigureField(say(f"fitup_step.{end}"), "fine_length", partial(self._tolerance, f"gap_{end}_mm"), low=0.0, optional=True)
                                 for end in ("under", "over"))  # fmt: skip
        for own in (self.under, self.over):
            self.column.addWidget(own)
        self.instrument = self.choice("fitup_step.instrument", {key: say(f"instrument.{key}") for key in INSTRUMENTS}, lambda key: self._change(instrument=key))
        self.by = NameField(say("fitup_step.by"))
        self.by.committed.connect(lambda text: self._change(by=text))
        self.column.addWidget(self.by)
        self.button("fitup_step.read", self.read)
        self.button("fitup_step.write", self.write)

    # --- intents -----------------------------------------------------------------------------
    def aim(self, s_mm: float) -> None:
        """The next reading is of this place, on a pipe where its clock says; what was read there already stands in the fields."""
        joint = self.store.joint
        if joint is None:
            return
        course, found, self._made = course_of(joint), joint.fitup.reading_at(s_mm), None
        self.place.edit.setModified(False)
        self.place.show_place(s_mm if found is not None else course.sayable(s_mm), self.say)
        for quantity, field in self.fields.items():
            field.edit.setModified(False)
            field.show_value(None if found is None else getattr(found, quantity), self.say)
        self.fields["gap"].edit.setFocus()
        self.fields["gap"].edit.selectAll()

    def take(self) -> None:
        """Take the typed reading into the joint, then aim at the place worth most to measure next."""
        joint, say = self.store.joint, self.say
        if joint is None:
            return
        course = course_of(joint)
        try:
            s_mm = course.within(self.place.value())
            values = {q: field.value() if field.edit.text().strip() else None for q, field in self.fields.items()}
        except Refused as refused:
            self.refused.tell(say.sentence(refused.remarks[0]))
            return
        if all(value is None for value in values.values()):
            self.refused.tell(say("fitup_step.nothing"))
            return
        before = joint.fitup.reading_at(s_mm)
        at = before.at if before is not None else self.place.edit.text().strip() if course.closed else f"{s_mm:g}"
        read = replace(GapReading(at=at, s_mm=s_mm), **values)  # type: ignore[arg-type]
        read = replace(read, note=self._note_of(read, joint))
        changed = joint.fitup.with_reading(read)
        if faults := tuple(fitup_faults(changed, course)):
            self.refused.tell(" ".join(say.sentence(f) for f in faults))
            return
        self.refused.tell("")
        self.store.edit_joint(say("edit.fitup.reading", at=course.figure(s_mm)), fitup=changed)
        after = fit_of(replace(joint, fitup=changed))
        if after.next_mm is not None:
            self.aim(float(round(after.next_mm)))

    def read_simulated(self) -> None:
        """What a simulated gauge reads at the place aimed at stands in the fields; it is taken like any other, and says what it is."""
        joint, say = self.store.joint, self.say
        if joint is None:
            return
        try:
            s_mm = course_of(joint).within(self.place.value()) if self.place.edit.text().strip() else fit_of(joint).next_mm or 0.0
        except Refused as refused:
            self.refused.tell(say.sentence(refused.remarks[0]))
            return
        self.refused.tell("")
        self.aim(s_mm)
        self._made = gauge_for(joint, _seed_of(joint)).read(s_mm)
        for quantity, field in self.fields.items():
            if (value := getattr(self._made, quantity)) is not None:
                field.show_value(value, say)
        self.fields["gap"].edit.selectAll()

    def _note_of(self, read: GapReading, joint: Joint) -> str:
        """What stands beside a reading: that it is simulated while its figures are those the simulated gauge put there, else the note that was there."""
        before = joint.fitup.reading_at(read.s_mm)
        made = self._made if self._made is not None and abs(self._made.s_mm - read.s_mm) < SAME_PLACE_MM else None
        for one in (made, before if before is not None and before.note == SIMULATED else None):
            if one is not None and (one.gap, one.face) == (read.gap, read.face):
                return SIMULATED
        return "" if before is None or before.note == SIMULATED else before.note

    def _drop(self, reading: GapReading) -> None:
        joint = self.store.joint
        if joint is not None:
            kept = tuple(r for r in joint.fitup.readings if r != reading)
            self._put(replace(joint.fitup, readings=kept), self.say("edit.fitup.drop", at=course_of(joint).figure(reading.s_mm)))

    def _change(self, **changes: str) -> None:
        joint = self.store.joint
        if joint is not None and replace(joint.fitup, **changes) != joint.fitup:  # type: ignore[arg-type]
            self._put(replace(joint.fitup, **changes), self.say("edit.fitup"))  # type: ignore[arg-type]

    def _tolerance(self, name: str, value: float) -> Remark | None:
        joint = self.store.joint
        if joint is None:
            return None
        entered: dict[str, float | None] = {name: None if math.isnan(value) else value}
        changed = replace(joint.fitup, **entered)  # type: ignore[arg-type]
        refusal = next(fitup_faults(changed, course_of(joint)), None)
        if refusal is None and changed != joint.fitup:
            self._put(changed, self.say("edit.fitup"))
        return refusal

    def _put(self, fitup: FitUp, name: str) -> None:
        self.store.edit_joint(name, fitup=fitup)

    def plan_on_means(self) -> None:
        """The means along the weld become the joint's own figures, as one step."""
        joint = self.store.joint
        if joint is None or not joint.fitup.readings:
            return
        found = means(joint.fitup, course_of(joint))
        faults = joint_faults(edited(joint, **found))
        self.refused.tell(" ".join(self.say.sentence(f) for f in faults))
        if not faults:
            self.store.edit_joint(self.say("edit.fitup.means"), **found)

    def read(self) -> None:
        """Readings from a CSV file; nothing is taken from one with faults."""
        window, joint, say = self.window(), self.store.joint, self.say
        if joint is None:
            return
        path = window.dialogs.document_path(window, say("fitup_step.read"), Path.home(), say, "csv")  # type: ignore[attr-defined]
        if path is None:
            return
        try:
            found = read_fitup(path, course_of(joint))
        except FileFault as broken:
            self.refused.tell("\n".join(say.faults(broken.remarks)))
            return
        self.refused.tell("")
        self._put(replace(joint.fitup, readings=found.readings), say("edit.fitup.read"))

    def write(self) -> None:
        """The readings as a CSV file that reads back the same."""
        window, joint, say = self.window(), self.store.joint, self.say
        if joint is None:
            return
        path = window.dialogs.save_path(window, say("export.write"), f"{plain_name(joint.id)}-fit-up.csv", "*.csv")  # type: ignore[attr-defined]
        if path is not None:
            window.files.write(path, fitup_csv(joint.fitup, course_of(joint)).encode())  # type: ignore[attr-defined]

    def print_card(self) -> None:
        """The preparation and fit-up card as a PDF."""
        window, joint, job, say = self.window(), self.store.joint, self.store.job, self.say
        if joint is None or job is None:
            return
        path = window.dialogs.save_path(window, say("card.open"), f"{plain_name(joint.id)}-fit-up.pdf", "*.pdf")  # type: ignore[attr-defined]
        if path is not None:
            put_on_paper(window, path, card_pages, joint, job.name, say, self.store.today.isoformat())

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show the readings and what they come to."""
        joint, say = new.joint, new.say
        self.work.show_choice(TACK if new.view.tacking else READ)
        self.reading.setVisible(not new.view.tacking)
        if new.view.tacking or "tacks" in vars(self):
            self.tacks.setVisible(new.view.tacking)
        self.bent.setText(say("fitup_step.batten" if new.view.ring else "fitup_step.ring"))
        self.bent.setVisible(joint is not None and joint.piece.form == "pipe")
        self.turn.setVisible(joint is not None and joint.piece.form == "pipe")
        if new.view.tacking:
            self.tacks.catch_up()
        if joint is None or not new.differs(old, "joint", "say", "plan"):
            return
        if old is None or old.joint is None or old.joint.id != joint.id:
            self.uneven.hide()
        self.place.show_course(course_of(joint), say)
        for quantity, field in self.fields.items():
            field.show_unit(say, QUANTITIES[quantity][1])
        with keeping_focus(self):
            cleared(self.rows)
            for reading in joint.fitup.readings:
                self.rows.addWidget(self._row(reading, joint))
            if not joint.fitup.readings:
                self.rows.addWidget(QLabel(say("fitup_step.none")))
        self._show_remarks(joint)
        self._ask_stretches(joint, new)
        self.set.show_choice(joint.fitup.tolerances)
        self.instrument.show_choice(joint.fitup.instrument)
        self.by.show_text(joint.fitup.by)
        self.under.show_value(joint.fitup.gap_under_mm, say)
        self.over.show_value(joint.fitup.gap_over_mm, say)
        self.on_means.setEnabled(bool(joint.fitup.readings))

    def _show_remarks(self, joint: Joint) -> None:
        say = self.say
        fit = fit_of(joint)
        unverified = f" ({say('certainty.unverified')})"
        for label, verdicts in ((self.bad, (OUTSIDE,)), (self.warn, (WATCH,)), (self.quiet, (INSIDE, "not judged"))):
            texts = [say.sentence(f) for f in fitup_faults(joint.fitup, fit.course)] if label is self.bad else []  # the weld was made shorter since
            texts += [say.sentence(r) + ("" if r.certainty == SURE else unverified) for r in fit.remarks if r.verdict in verdicts]
            label.setText("\n\n".join(texts))
            label.setVisible(bool(texts))

    def _ask_stretches(self, joint: Joint, now: Snapshot) -> None:
        """Have what the uneven joint does to the layers worked out; what was said before goes once that is known."""
        if now.plan is None or joint_faults(joint) or not joint.fitup.readings:
            self.store.stop(UNEVEN)
            self.uneven.hide()
            return
        request = joint, now.plan, joint.fitup
        self.store.errands.run(Errand(HEAT, UNEVEN, UNEVEN, stretches, request, partial(self._show_stretches, joint), failed=lambda _: self.uneven.hide()))

    def _show_stretches(self, joint: Joint, found: tuple[Stretch, ...]) -> None:
        if joint is not self.store.now.joint:
            return
        say, rest = self.say, len(found) - MOST_STRETCHES
        said = [stretch_said(one, joint, say) for one in found[:MOST_STRETCHES]]
        self.uneven.setText("\n".join([say("stretch.head"), *said, *([say("stretch.rest", n=rest)] if rest > 0 else [])]))
        self.uneven.setVisible(bool(found))

    def _row(self, reading: GapReading, joint: Joint) -> QWidget:
        say, box, row = self.say, QWidget(), QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        where = say.figure(course_of(joint).figure(reading.s_mm))
        read = [say.sized(kind, value) for q, (_, kind) in QUANTITIES.items() if (value := getattr(reading, q)) is not None]
        figures = ", ".join([*read, *([say("fitup_step.simulated") if reading.note == SIMULATED else reading.note] if reading.note else [])])
        edit, drop = QPushButton(where), QPushButton(say("fitup_step.drop"))
        edit.setToolTip(say("fitup_step.again"))
        edit.setAccessibleName(f"{where}: {figures}")
        edit.clicked.connect(lambda _checked=False: self.aim(reading.s_mm))
        drop.setAccessibleName(say("fitup_step.drop.which", at=Figure(where, "name")))
        drop.setToolTip(drop.accessibleName())
        drop.clicked.connect(lambda _checked=False: self._drop(reading))
        said = QLabel(figures)
        said.setWordWrap(True)
        row.addWidget(edit)
        row.addWidget(said, 1)
        row.addWidget(drop)
        box.setLayout(row)
        return box
