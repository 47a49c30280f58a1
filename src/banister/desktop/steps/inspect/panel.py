"""Inspect: the result, what was seen and is measured of it, what was looked for, and the lines of the judgement, worst first."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton

from banister.core.inspect.counted import counted_lines
from banister.core.inspect.gauges import GAUGES
from banister.core.inspect.judged import OUTSIDE_MEMORY, REJECT
from banister.core.inspect.kinds import MEASURES, SIDES, kinds_on
from banister.core.inspect.observed import SEEN, TOES, Observation, observation_faults
from banister.core.inspect.said import lines_said, result_said, set_name
from banister.core.limits.acceptance import NONE_CHOSEN
from banister.core.record.inspected import inspected_welds
from banister.core.remark import Refused
from banister.core.value import replace
from banister.desktop.app.style import BAD, PLAIN, tint
from banister.desktop.app.theme import Theme
from banister.desktop.fields import FigureField, NameField
from banister.desktop.panel import Panel
from banister.desktop.place_field import PlaceField
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.inspect.entries import Entries
from banister.desktop.steps.inspect.inspecting import Inspection
from banister.desktop.steps.inspect.lines_part import LinesPart
from banister.desktop.steps.inspect.looked_part import LookedPart
from banister.desktop.store import Store

UNCERTAIN = ("", *GAUGES)


class InspectPanel(Panel):
    """What was seen of the shown joint, and what the contract's set says of it."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.heading(say("step.inspect"), 14)
        self.result = self.heading("", 18)
        self.left = self.remark()
        self.set = self.choice("inspect.by_set", {}, lambda key: store.look(inspect_set=key))
        self.guarded = self.tick("inspect.guarded", lambda on: store.look(inspect_guarded=on), tip=True)
        sides = {side: say(f"inspect.side.{side}") for side in SIDES}
        self.side = self.choice("inspect.side", sides, lambda key: store.look(inspect_side=key, inspect_seen=0))
        self.bent = self.button("inspect.ring", lambda: store.look(ring=not store.view.ring), tip=True)
        self._add_seen()
        self.entries = Entries(self, store, self.by)
        self.looked, self.lines = LookedPart(store, theme, self.entries), LinesPart(store, theme, self.entries)
        self.drafts = (self.place, *self.fields.values(), self.note, self.looked.why)
        for part in (self.looked, self.lines):
            self.column.addWidget(part)
        self.counted_head, self.counted = self.heading(say("counted.head"), 14), self.remark(kind="plain")
        self.remark(say("inspect.caution"))
        self.column.addStretch(1)

    @property
    def cursor_mm(self) -> float:
        """Where the cursor stands along the weld."""
        return min(self.store.view.inspect_mm, self.length_mm)

    @property
    def length_mm(self) -> float:
        """The length of the weld."""
        shown = self.store.inspection
        return 0.0 if shown is None else shown.course.length_mm

    def _add_seen(self) -> None:
        say = self.say
        self.seen_head = self.heading(say("inspect.new"), 14)
        self.kind = self.choice("inspect.kind", {}, lambda _: self._show_measures())
        self.place = PlaceField(say("inspect.place"))
        self.column.addWidget(self.place)
        self.toe = self.choice("inspect.toe", {toe: say(f"inspect.toe.{toe or 'none'}") for toe in TOES})
        self.fields = {what: FigureField(say(f"measured.{what}"), kind, lambda _: None, optional=True) for what, kind in MEASURES.items()}
        for field in self.fields.values():
            self.column.addWidget(field)
        self.gauge = self.choice("inspect.gauge", {gauge: say(f"gauge.{gauge}") if gauge else say("inspect.gauge.none") for gauge in UNCERTAIN})
        self.by, self.note = NameField(say("rack.by")), NameField(say("inspect.note"))
        self.column.addWidget(self.note)
        self.column.addWidget(self.by)
        self.refused = self.refusal()
        self.keep, self.fresh, self.back = (QPushButton(say(f"inspect.{key}")) for key in ("keep", "fresh", "take_back"))
        row = QHBoxLayout()
        for button, run in ((self.keep, self.keep_it), (self.fresh, self.new), (self.back, self.take_back)):
            button.clicked.connect(lambda _checked=False, run=run: run())
            row.addWidget(button)
        self.column.addLayout(row)
        self.views = [self.button(f"inspect.{word}_button", partial(self.open_view, view)) for word, view in (("why", "cause"), ("repair", "repair"))]
        for view in ("pieces", "etched"):
            self.button(f"inspect.{view}_button", partial(self.open_beside, view))

    def open_view(self, view: str) -> None:
        """Why, or the repair, of the observation selected."""
        if self.store.inspection is not None and self.store.inspection.seen(self.store.view.inspect_seen) is not None:
            self.window().open_view(view)  # type: ignore[attr-defined]

    def open_beside(self, view: str) -> None:
        """Test pieces, or an etched section, of the joint."""
        self.window().open_view(view)  # type: ignore[attr-defined]

    # --- writing -----------------------------------------------------------------------------
    def keep_it(self) -> None:
        """What stands in the fields is an observation: a new one, or in the place of the one selected."""
        joint, shown = self.store.joint, self.store.inspection
        if joint is None or shown is None:
            return
        one = self._typed(shown)
        if one is None:
            return
        faults = list(observation_faults(one, shown.kinds, shown.course.length_mm, shown.weld.t, shown.course.closed, joint.prep.kind.fillet))
        if faults:
            self._refuse([(f.place.field, self.say.sentence(f)) for f in faults])
            return
        record = self.entries.write(SEEN, **one.recorded())
        if record is not None:
            self.store.look(inspect_seen=record.n, inspect_mm=one.s_mm)
            self._show_seen(self.store.inspection)

    def _typed(self, shown: Inspection) -> Observation | None:
        """The observation the fields hold; None where a field holds none, which is said at it."""
        self._refuse([])
        found: dict[str, float | None] = {}
        wanted = shown.kinds[self.kind.key].measure if self.kind.key in shown.kinds else ()
        wrong: list[tuple[str, str]] = []
        for what, field in (("s_mm", self.place), *self.fields.items()):
            if what != "s_mm" and (what not in wanted or not field.edit.text().strip()):
                continue
            try:
                found[what] = field.value()
            except Refused as refused:
                wrong.append((what, self.say.sentence(refused.remarks[0])))
        if wrong:
            self._refuse(wrong)
            return None
        number, s_mm = found.pop("number", None), found.pop("s_mm") or 0.0
        whole = int(number) if number is not None and number == int(number) else number
        return Observation(
            kind=self.kind.key,
            side=self.store.view.inspect_side,
            s_mm=s_mm,
            toe=self.toe.key,
            gauge=self.gauge.key,
            number=whole,  # type: ignore[arg-type]
            note=self.note.edit.text().strip(),
            replaces=self.store.view.inspect_seen or None,
            **found,  # type: ignore[arg-type]
        )

    def _refuse(self, wrong: list[tuple[str, str]]) -> None:
        """Say at each field what is wrong with it, the rest under the fields."""
        by_field = {"s_mm": self.place, **self.fields}
        for field in by_field.values():
            field.tell("")
        rest = []
        for name, said in wrong:
            if name in by_field and by_field[name].isVisibleTo(self):
                by_field[name].tell(said)
            else:
                rest.append(said)
        self.refused.tell("\n".join(rest))

    def new(self) -> None:
        """The fields are free for another observation at the cursor."""
        self.store.look(inspect_seen=0)
        self._empty()
        self.place.show_place(self.cursor_mm, self.say)
        self.kind.box.setFocus(Qt.FocusReason.OtherFocusReason)

    def _empty(self) -> None:
        self.note.empty()
        for field in (self.place, *self.fields.values()):
            field.empty()

    def take_back(self) -> None:
        """The observation selected counts no more; it stays in the journal as taken back."""
        number = self.store.view.inspect_seen
        if number and self.entries.take_back(number):
            self.store.look(inspect_seen=0)

    def end_length(self, begins: bool, s_mm: float) -> None:
        """A bracket key: where a length begins, or ends."""
        if begins:
            self.place.show_place(s_mm, self.say)
            return
        try:
            begun = self.place.value()
        except Refused:
            return
        long = max(s_mm - begun, 0.0)
        self.fields["length"].put(long, self.say.units.text("long_length", long))

    # --- showing -----------------------------------------------------------------------------
    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        for part in (self.looked, self.lines):
            part.set_theme(theme)
        super().set_theme(theme)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """The result, the lines, the observation selected."""
        joint, shown, say = new.joint, self.store.inspection, new.say
        if joint is None or shown is None or not new.differs(old, "joint", "plan", "issued", "records", "say", "view"):
            return
        contract = joint.working.choices.acceptance
        own = [contract] if contract != NONE_CHOSEN else []
        order = [*own, *(name for name in shown.sets if name not in own)]
        first = {"": say("inspect.contract", set=set_name(shown.sets[contract], say))} if own else {"": say("inspect.no_set")}
        self.bent.setVisible(shown.course.closed)
        self.bent.setText(say("inspect.ring.flat" if new.view.ring else "inspect.ring"))
        self.set.set_choices(first | {name: set_name(shown.sets[name], say) for name in order if name not in own})
        self.set.show_choice(new.view.inspect_set)
        self.guarded.setChecked(new.view.inspect_guarded)
        self.side.setVisible(shown.weld.has_root)
        self.side.show_choice(new.view.inspect_side)
        self.result.setText(result_said(shown.judgement, shown.course, say) if shown.judgement.set.id else say("inspect.choose_set"))
        tint(self.result, BAD if shown.judgement.result in (REJECT, OUTSIDE_MEMORY) else PLAIN)
        self.left.setText("\n".join(lines_said(replace(shown.judgement, lines=()), {}, shown.weld, shown.course, say)))
        self.lines.show_lines(shown)
        if old is not None and old.view.inspect_seen and not new.view.inspect_seen:
            self._empty()  # what is no more selected does not stand ready as something new
        if old is None or new.view.inspect_seen != old.view.inspect_seen or new.differs(old, "joint", "say"):
            self._show_seen(shown)
        if new.job is not None and new.differs(old, "job", "records", "say"):
            lines = list(counted_lines(inspected_welds(new.job, new.standing, shown.sets), say))
            self.counted.setText("\n".join(lines))
            self.counted_head.setVisible(bool(lines))

    def _show_seen(self, shown: Inspection | None) -> None:
        """The observation selected in the fields, or the fields free."""
        joint, say, view = self.store.joint, self.say, self.store.view
        if joint is None or shown is None:
            return
        there = kinds_on(shown.kinds.values(), view.inspect_side, joint.prep.kind.fillet)
        self.kind.set_choices({kind.id: say(f"defect.{kind.id}") for kind in there})
        self.place.show_course(shown.course, say)
        for field in self.fields.values():
            field.show_unit(say)
        one = shown.seen(view.inspect_seen)
        self.seen_head.setText(say("inspect.new") if one is None else say("inspect.selected", n=str(one.id)))
        self.keep.setText(say("inspect.keep" if one is None else "inspect.replace"))
        for button in (self.back, *self.views):
            button.setEnabled(one is not None)
        if one is not None:
            self.kind.show_choice(one.kind)
            self.toe.show_choice(one.toe)
            self.gauge.show_choice(one.gauge)
            self.note.show_text(one.note)
            self.place.show_place(one.s_mm, say)
            for what, field in self.fields.items():
                value = one.measured(what)
                if value is None:
                    field.empty()
                else:
                    field.put(value, say.units.text(MEASURES[what], value))
        elif not self.place.edit.text():
            self.place.show_place(view.inspect_mm, say)
        self._show_measures()

    def _show_measures(self) -> None:
        """The fields the kind needs, and no others."""
        shown = self.store.inspection
        wanted = shown.kinds[self.kind.key].measure if shown is not None and self.kind.key in shown.kinds else ()
        for what, field in self.fields.items():
            field.setVisible(what in wanted)
        self.gauge.setVisible("depth" in wanted or "height" in wanted)
