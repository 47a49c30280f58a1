"""Step 3, the procedure document, the welder and the steel: what is covered, line by line."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from html import escape

from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton

from banister.core.job import welded_to
from banister.core.joint.joint import Joint, edited
from banister.core.judge.coverage import INSIDE, OUTSIDE, Covered
from banister.core.limits.procedure import FAMILIES, Consumable, Override, Procedure, procedure_faults
from banister.core.limits.qualification import UNITS
from banister.core.material.steel import MOST_PERCENT, PRESETS, Part, Steel, combined_thickness_mm, elements, validity_findings
from banister.core.units import parsed_number
from banister.desktop.fields import ChoiceField, NameField, ValueField
from banister.desktop.panel import Panel
from banister.desktop.store import Store
from banister.desktop.theme import Theme
from banister.job.codec import FileFault
from banister.job.procedures import library, read_procedure, read_welder, write_procedure

NONE = ""


class ProcedurePanel(Panel):
    """Chooses the documents and shows every essential variable with its verdict."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self._library, _, unreadable = library()
        self.heading("Procedure and welder")
        self.procedure = ChoiceField("Procedure", {NONE: "none"})
        self.welder = ChoiceField("Welder", {NONE: "none"})
        self.column.addWidget(self.procedure)
        self.column.addWidget(self.welder)
        self.fault = self.remark("\n".join(unreadable), kind="bad")
        for text, tip, action in (
            ("Take in a procedure file", "A procedure document (JSON); its windows are laid over the joint's own", partial(self._open, "procedure")),
            ("Take in a welder file", "A welder's qualification (JSON)", partial(self._open, "welder")),
            ("Write this joint as a procedure file", "A document to fill in from your qualified procedure, begun from this joint", self._write),
        ):
            button = QPushButton(text)
            button.setToolTip(tip)
            button.clicked.connect(action)
            self.column.addWidget(button)
        self.heading("Coverage", 14)
        self.lines = self.remark()
        self.lines.setTextFormat(self.lines.textFormat().RichText)
        self.heading("Vouch for a range", 14)
        self.remark("Takes the place of a derived range in this procedure, with your reason on every check.")
        self.vouched = ChoiceField("Variable", {item: item.replace("_", " ") for item in UNITS})
        self.low, self.high = (ValueField(title, parsed_number, optional=True) for title in ("At least", "At most"))
        self.reason = NameField("Reason")
        vouch = QPushButton("Vouch for this range")
        vouch.clicked.connect(self.vouch)
        for widget in (self.vouched, self.low, self.high, self.reason, vouch):
            self.column.addWidget(widget)
        self.heading("Steel", 14)
        self.preset = ChoiceField("Kind", {NONE: "by composition"} | {s.name: s.name for s in PRESETS})
        self.column.addWidget(self.preset)
        self.percent = self._composition()
        self.steel_words = self.remark()
        self.remark("Generic compositions are typical; the mill certificate governs. The program reads documents, it qualifies nothing.")
        self.column.addStretch(1)
        self.procedure.chosen.connect(self._choose_procedure)
        self.welder.chosen.connect(lambda mark: self.store.edit_joint("Set welder", welder=mark))
        self.preset.chosen.connect(self._choose_preset)

    def _composition(self) -> dict[str, QLineEdit]:
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        fields = {}
        for i, element in enumerate(elements()):
            edit = QLineEdit()
            edit.setAccessibleName(f"{element.capitalize()}, mass per cent")
            edit.setMaximumWidth(64)
            edit.editingFinished.connect(partial(self._set_percent, element))
            grid.addWidget(QLabel(element.capitalize()), i // 3, 2 * (i % 3))
            grid.addWidget(edit, i // 3, 2 * (i % 3) + 1)
            fields[element] = edit
        self.column.addLayout(grid)
        return fields

    # --- intents -----------------------------------------------------------------------------
    def _open(self, kind: str) -> None:
        job, joint = self.store.job, self.store.joint
        path = self.store.dialogs.document_path(self, f"Take in a {kind} file") if self.store.dialogs is not None else None
        if path is None or job is None or joint is None:
            return
        try:
            if kind == "procedure":
                procedure = read_procedure(path)
                changed = job.with_procedure(procedure).with_joint(welded_to(joint, procedure))
                name = f"Weld to procedure {procedure.id}"
            else:
                welder = read_welder(path)
                changed = job.with_welder(welder).with_joint(edited(joint, welder=welder.mark))
                name = f"Welder {welder.mark}"
        except FileFault as fault:
            self._say("\n".join(fault.lines))
            return
        self._say("")
        self.store.edit(changed, name)

    def vouch(self) -> None:
        """Set an override in the joint's procedure; without a reason nothing is taken."""
        job, joint = self.store.job, self.store.joint
        procedure = None if job is None or joint is None else job.procedure_of(joint)
        if job is None or procedure is None:
            self._say("Take in a procedure first.")
            return
        try:
            low, high = (parsed_number(field.edit.text()) if field.edit.text().strip() else None for field in (self.low, self.high))
        except ValueError as error:
            self._say(str(error))
            return
        own = Override(item=self.vouched.box.currentData(), low=low, high=high, reason=self.reason.edit.text())
        changed = replace(procedure, overrides=(*(o for o in procedure.overrides if o.item != own.item), own))
        if faults := procedure_faults(changed):
            self._say("; ".join(f"{f.text}. {f.remedy}" for f in faults))
            return
        self._say("")
        self.store.edit(job.with_procedure(changed), f"Vouch for {own.item.replace('_', ' ')}")

    def _write(self) -> None:
        joint = self.store.joint
        if joint is None or self.store.dialogs is None:
            return
        path = self.store.dialogs.save_path(self, "Write a procedure file", f"{joint.procedure or 'procedure'}.json", "Procedures (*.json)")
        if path is None:
            return
        try:
            write_procedure(path, begun_from(joint, self.store.rod_types()))
            self._say("")
        except OSError as error:
            self._say(f"{path} was not written: {error.strerror}")

    def _choose_procedure(self, number: str) -> None:
        job, joint = self.store.job, self.store.joint
        if job is not None and joint is not None:
            found = next((p for p in (*job.procedures, *self._library) if p.id == number), None)
            kept = job if found is None else job.with_procedure(found)
            self.store.edit(kept.with_joint(welded_to(joint, found)), f"Weld to procedure {number}" if found else "No procedure document")

    def _choose_preset(self, name: str) -> None:
        self.store.edit_joint(f"Set steel: {name or 'by composition'}", steel=next((s for s in PRESETS if s.name == name), Steel()))

    def _set_percent(self, element: str) -> None:
        joint, edit = self.store.joint, self.percent[element]
        if joint is None:
            return
        try:
            value = parsed_number(edit.text() or "0")
        except ValueError as error:
            self._say(f"{element.capitalize()}: {error}")
            return
        if not 0 <= value <= MOST_PERCENT[element]:
            self._say(f"{element.capitalize()}: enter 0 to {MOST_PERCENT[element]:g} %")
            return
        self._say("")
        if value != getattr(joint.metal.steel, element):
            self.store.edit_joint(f"Set {element.capitalize()} {value:g} %", steel=replace(joint.metal.steel, name="", **{element: value}))

    def _say(self, text: str) -> None:
        self.fault.setText(text)
        self.fault.setVisible(bool(text))

    # --- showing -----------------------------------------------------------------------------
    def render_job(self) -> None:
        """Show the documents and the coverage."""
        job, joint = self.store.job, self.store.joint
        if job is None or joint is None:
            return
        self.fault.setVisible(bool(self.fault.text()))
        known = {p.id: p for p in (*self._library, *job.procedures)}
        self.procedure.set_choices({NONE: "none"} | {p.id: f"{p.id} {p.title}".strip() for p in known.values()})
        self.procedure.show_choice(joint.procedure if job.procedure_of(joint) else NONE)
        self.welder.set_choices({NONE: "none"} | {w.mark: w.mark for w in job.welders})
        self.welder.show_choice(joint.welder)
        self.lines.setText(self._coverage_words(joint))
        self.preset.show_choice(joint.metal.steel.name)
        for element, edit in self.percent.items():
            if not edit.hasFocus():
                value = getattr(joint.metal.steel, element)
                edit.setText(f"{value:g}" if value else "")
        self.steel_words.setText(self.store.units.sentence(_steel_words(joint)))

    def _coverage_words(self, joint: Joint) -> str:
        covered = self.store.covered
        if not covered:
            named = f"{escape(joint.procedure)} is named, but its document is not in the job: " if joint.procedure else ""
            return f"{named}nothing is judged. Take in a procedure file, or set windows under Limits."
        colours = {INSIDE: self.theme.good, OUTSIDE: self.theme.bad}
        return "".join(self._row(line, colours.get(line.verdict, self.theme.warn)) for line in covered)

    def _row(self, line: Covered, colour: str) -> str:
        u = self.store.units
        rule = f" <i>{escape(line.rule)}</i>" if line.rule else ""
        why = f"<br>{escape(line.why)}. {escape(line.remedy)}" if line.verdict != INSIDE else ""
        return (f"<p style='margin:0 0 7px 0'><b style='color:{colour}'>{line.verdict}</b> <b>{escape(line.item)}</b> {escape(u.sentence(line.value))}"
                f"<br>allowed: {escape(u.sentence(line.allowed))}{rule}{why}</p>")  # fmt: skip


def _steel_words(joint: Joint) -> str:
    steel = joint.metal.steel
    if not steel.is_known:
        return "No composition: carbon equivalents are not computed."
    far = joint.prep.right_thickness_mm or joint.prep.thickness_mm
    thin, thick = sorted((joint.prep.thickness_mm, far))
    parts = [Part(thickness_mm=thin), Part(thickness_mm=thin if joint.prep.taper else thick, thickness_far_mm=thick, slope=joint.prep.taper)]
    if joint.prep.kind.fillet:
        parts = [Part(thickness_mm=joint.prep.thickness_mm)] * 3
    notes = "".join(f"\n{f.text}. {f.remedy} ({f.basis})" for f in validity_findings(steel))
    return (f"CEV {steel.cev:.3f}, CET {steel.cet:.3f}, Pcm {steel.pcm:.3f}\nCombined thickness {combined_thickness_mm(parts):.0f} mm "
            f"(parts averaged over 75 mm){notes}")  # fmt: skip


def begun_from(joint: Joint, rod_types: dict[str, str]) -> Procedure:
    """A procedure document begun from a joint: what it states has to be replaced from the qualified one."""
    uses = dict.fromkeys((use.role, rod_types.get(use.rod, "")) for use in joint.working.rods)
    return Procedure(
        id=joint.procedure or "number", revision=joint.procedure_revision, title="begun from a joint: fill in from your qualified procedure",
        family=next(iter(FAMILIES)), base_metal=joint.metal.group, positions=(joint.piece.position,), progressions=(joint.piece.progression,),
        consumables=tuple(Consumable(role=role, type=kind) for role, kind in uses if kind), windows=joint.working.windows,
    )  # fmt: skip
