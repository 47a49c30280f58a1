"""The procedure document, the welder and the steel: what is covered, line by line."""

from __future__ import annotations

from functools import partial
from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLabel

from banister.core.job import Job, welded_to
from banister.core.joint.joint import Joint
from banister.core.limits.procedure import Override, procedure_faults
from banister.core.limits.qualification import ITEM_KINDS
from banister.core.material.steel import MOST_PERCENT, PRESETS, Part, Steel, combined_thickness_mm, elements, validity_remarks
from banister.core.remark import INSIDE, OUTSIDE, SURE, Figure, Refused, Remark
from banister.core.typed import typed
from banister.core.value import replace
from banister.core.words import Speech, capital
from banister.desktop.app.theme import Theme
from banister.desktop.fields import Entry, FigureField, NameField
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.procedure.actions import PROCEDURE, WELDER, import_document, write_document
from banister.desktop.store import Store

NONE = ""


class ProcedurePanel(Panel):
    """Chooses the documents and shows every essential variable with its verdict."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.heading(say("procedure.title"))
        self.procedure = self.choice("procedure.procedure", {NONE: say("procedure.none")}, self._choose_procedure)
        self.welder = self.choice("procedure.welder", {NONE: say("procedure.none")},
                                  lambda mark: store.edit_joint(say("edit.welder", mark=mark or say("procedure.none")), welder=mark))  # fmt: skip
        self.refused = self.refusal()
        self.button("procedure.import", lambda: import_document(self.window(), PROCEDURE), tip=True)
        self.button("procedure.import_welder", lambda: import_document(self.window(), WELDER), tip=True)
        self.button("procedure.write", lambda: write_document(self.window()), tip=True)
        self.heading(say("procedure.coverage"), 14)
        self.lines = self.remark()
        self.lines.setTextFormat(Qt.TextFormat.RichText)
        self._add_override()
        self.heading(say("procedure.steel"), 14)
        self.preset = self.choice("procedure.kind", {NONE: say("procedure.by_composition")} | {s.name: say(f"steel.{s.name}") for s in PRESETS},
                                  self._choose_preset)  # fmt: skip
        self.percent = self._composition()
        self.steel_words = self.remark()
        self.remark(say("procedure.note"))
        self.column.addStretch(1)

    def _add_override(self) -> None:
        say = self.say
        self.heading(say("override.title"), 14)
        self.remark(say("override.note"))
        self.variable = self.choice("override.variable", {item: say(f"item.{item}") for item in ITEM_KINDS}, lambda _: self._show_unit())
        self.low, self.high = (FigureField(say(f"override.{end}"), "length", lambda _: None, optional=True) for end in ("low", "high"))
        self.reason = NameField(say("override.reason"))
        self.drafts = (self.low, self.high, self.reason)
        for field in self.drafts:
            self.column.addWidget(field)
        self.button("override.set", self.override)

    def _show_unit(self) -> None:
        for field in (self.low, self.high):
            field.show_unit(self.say, ITEM_KINDS[self.variable.key])

    def _composition(self) -> dict[str, Entry]:
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        fields = {}
        for i, element in enumerate(elements()):
            edit = Entry(self.say("procedure.percent", element=element.capitalize()))
            edit.setMaximumWidth(64)
            edit.editingFinished.connect(partial(self._set_percent, element))
            grid.addWidget(QLabel(element.capitalize()), i // 3, 2 * (i % 3))
            grid.addWidget(edit, i // 3, 2 * (i % 3) + 1)
            fields[element] = edit
        self.column.addLayout(grid)
        return fields

    # --- intents -----------------------------------------------------------------------------
    def override(self) -> None:
        """Override a range of the joint's procedure; without a reason nothing is taken."""
        job, joint = self.store.job, self.store.joint
        procedure = None if job is None or joint is None else job.procedure_of(joint)
        if job is None or procedure is None:
            self.refused.tell(self.say("override.first"))
            return
        try:
            low, high = (field.value() if field.edit.text().strip() else None for field in (self.low, self.high))
        except Refused as refused:
            self.refused.tell(self.say.sentence(refused.remarks[0]))
            return
        own = Override(item=self.variable.key, low=low, high=high, reason=self.reason.edit.text())
        changed = replace(procedure, overrides=(*(o for o in procedure.overrides if o.item != own.item), own))
        if faults := procedure_faults(changed):
            self.refused.tell("\n".join(self.say.sentence(f) for f in faults))
            return
        self.refused.tell("")
        self.store.edit(job.with_procedure(changed), self.say("edit.override", item=self.say(f"item.{own.item}")))

    def _choose_procedure(self, number: str) -> None:
        job, joint = self.store.job, self.store.joint
        if job is not None and joint is not None:
            found = next((p for p in (*job.procedures, *self.store.library.procedures) if p.id == number), None)
            kept = job if found is None else job.with_procedure(found)
            name = self.say("edit.procedure", procedure=number) if found is not None else self.say("edit.procedure.none")
            self.store.edit(kept.with_joint(welded_to(joint, found)), name)

    def _choose_preset(self, name: str) -> None:
        said = self.say("edit.steel", steel=self.say(f"steel.{name}") if name else self.say("procedure.by_composition"))
        self.store.edit_joint(said, steel=next((s for s in PRESETS if s.name == name), Steel()))

    def _set_percent(self, element: str) -> None:
        joint, edit = self.store.joint, self.percent[element]
        if joint is None or not edit.is_new:
            return
        edit.mark(True)
        try:
            value = typed(edit.text() or "0", "percent", low=0.0, high=MOST_PERCENT[element])
        except Refused as refused:
            self.refused.tell(f"{element.capitalize()}: {self.say.sentence(refused.remarks[0])}")
            return
        if not 0 <= value <= MOST_PERCENT[element]:
            self.refused.tell(self.say("procedure.percent.range", element=element.capitalize(), window=Figure((0.0, MOST_PERCENT[element]), "percent")))
            return
        edit.mark(False)
        edit.keep()
        self.refused.tell("")
        if value != getattr(joint.metal.steel, element):
            step = self.say("edit.percent", element=element.capitalize(), value=Figure(value, "percent"))
            self.store.edit_joint(step, steel=replace(joint.metal.steel, name="", **{element: value}))

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show the documents and the coverage."""
        job, joint, say = new.job, new.joint, new.say
        if job is None or joint is None or not new.differs(old, "job", "joint", "judgement", "say"):
            return
        if new.differs(old, "joint"):
            self.refused.tell("")
        known = {p.id: p for p in (*self.store.library.procedures, *job.procedures)}
        none = {NONE: say("procedure.none")}
        self.procedure.set_choices(none | {p.id: f"{p.id} {p.title}".strip() for p in known.values()})
        self.procedure.show_choice(joint.procedure if job.procedure_of(joint) else NONE)
        self.welder.set_choices(none | {w.mark: w.mark for w in job.welders})
        self.welder.show_choice(joint.welder)
        self.lines.setText(self._coverage(job, joint, new))
        self.preset.show_choice(joint.metal.steel.name)
        for element, edit in self.percent.items():
            value = getattr(joint.metal.steel, element)
            edit.show_text(say.units.text("percent", value) if value else "")
            edit.mark(edit.is_wrong and edit.is_new)
        self.steel_words.setText(steel_said(joint, say))
        self._show_unit()

    def _coverage(self, job: Job, joint: Joint, now: Snapshot) -> str:
        covered = now.judgement.coverage if now.judgement is not None else ()
        if job.procedure_of(joint) is None and job.welder_of(joint) is None:
            named = joint.procedure
            return escape(now.say("procedure.missing", procedure=named) if named else now.say("procedure.nothing"))
        colours = {INSIDE: self.theme.good, OUTSIDE: self.theme.bad}
        return "".join(coverage_row(line, colours.get(line.verdict, self.theme.warn), now.say) for line in covered)


def coverage_row(line: Remark, colour: str, say: Speech) -> str:
    """One variable as a paragraph: verdict, what is used, what is allowed, the rule, and what would mend it."""
    source = f" <i>{escape(say.source(line))}</i>" if line.source else ""
    unsure = f" {escape(say('certainty.unverified'))}." if line.certainty != SURE else ""
    why = f"<br>{escape(capital(say.why(line)))}. {escape(say.remedy(line))}" if line.verdict != INSIDE and say.why(line) else ""
    verdict = escape(say(f"verdict.{line.verdict}"))
    return f"<p style='margin:0 0 7px 0'><b style='color:{colour}'>{verdict}</b> {escape(say.text(line))}.{source}{unsure}{why}</p>"


def steel_said(joint: Joint, say: Speech) -> str:
    """Carbon equivalents and combined thickness of a joint's steel."""
    steel, prep = joint.metal.steel, joint.prep
    if not steel.is_known:
        return say("steel.unknown")
    thin, thick = sorted((prep.thickness_mm, prep.right_thickness_mm or prep.thickness_mm))
    parts = [Part(thickness_mm=thin), Part(thickness_mm=thin if prep.taper else thick, thickness_far_mm=thick, slope=prep.taper)]
    if prep.kind.fillet:
        parts = [Part(thickness_mm=prep.thickness_mm)] * 3
    said = say("steel.said", cev=Figure(steel.cev, "equivalent"), cet=Figure(steel.cet, "equivalent"), pcm=Figure(steel.pcm, "equivalent"),
               combined=Figure(combined_thickness_mm(parts), "long_length"))  # fmt: skip
    return "\n".join([said, *(f"{say.sentence(r)} ({say.basis(r)})" for r in validity_remarks(steel))])
