"""Step 3, the rods: which rod serves which pass, and what one rod really gave."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.joint.joint import edited
from banister.core.job import ROD_LIMITS
from banister.core.joint.working import ROLES, OwnRunOut, RodUse
from banister.core.material.steel import HYDROGEN_CLASSES
from banister.core.rods.rod import Rod
from banister.core.units import minutes, parsed_number
from banister.desktop.fields import ChoiceField, NameField, ValueField
from banister.desktop.panel import Panel, cleared
from banister.desktop.store import Store
from banister.desktop.theme import Theme
from banister.job.codec import FileFault
from banister.core.plan.plan import Plan
from banister.core.plan.technique import Technique, technique_of, technique_plan, with_technique
from banister.job.library import catalogue, save_own_catalogue, save_own_techniques, techniques

COMPARE = "Compare all schools on this joint"
ROLE_TITLES = {"root": "Root", "hot": "Hot pass", "fill": "Fill", "cap": "Cap"}
FIGURES = {"amps": "Usual current, flat (A)", "volts": "Arc voltage (V)", "burn_off_g_ah": "Melting rate (g/Ah)",
           "recovery": "Recovery (metal in the joint per core)", "stub_mm": "Stub thrown away (mm)"}  # fmt: skip


class RodsPanel(Panel):
    """Candidates by role, and the welder's own run-out."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.heading("Rods")
        self.rows = QVBoxLayout()
        self.column.addLayout(self.rows)
        self.role = ChoiceField("Add for", ROLE_TITLES)
        self.rod = ChoiceField("Rod", {})
        add = QPushButton("Add rod")
        add.clicked.connect(self._add)
        for widget in (self.role, self.rod, add):
            self.column.addWidget(widget)
        self.heading("Way of working", 14)
        self.school = ChoiceField("School", {t.id: t.title for t in techniques()})
        self.school_words = self.remark()
        self.school.chosen.connect(lambda _: self._show_school())
        self.own_school = NameField("As my own")
        apply, compare, save = QPushButton("Weld by this school"), QPushButton(COMPARE), QPushButton("Keep this joint's way")
        apply.clicked.connect(self.apply_school)
        compare.clicked.connect(self.compare_schools)
        save.clicked.connect(self.keep_school)
        save.setToolTip("Keep the joint's rods and choices as a school of your own, under the name above")
        self.compare_button, self._stop = compare, lambda: None
        for widget in (self.school, self.school_words, apply, compare, self.own_school, save):
            self.column.addWidget(widget)
        self.compared = self.remark()
        self._show_school()
        self.heading("My run-out", 14)
        self.remark("Burn one rod, measure the bead it made, type the length. The plan then follows your own figure "
                    "in this position. Empty goes back to typical.")  # fmt: skip
        self.own_rows = QVBoxLayout()
        self.column.addLayout(self.own_rows)
        self.heading("Figures of a rod", 14)
        self.shown_rod = ChoiceField("Rod", {})
        self.shown_rod.chosen.connect(lambda _: self.render_job())
        self.column.addWidget(self.shown_rod)
        self.figures: dict[str, ValueField] = {}
        for name, title in FIGURES.items():
            field = ValueField(title, parsed_number)
            field.committed.connect(partial(self._figure, name))
            self.figures[name] = field
            self.column.addWidget(field)
        self.hydrogen = ChoiceField("Hydrogen class", {"": "not stated"} | {h: h for h in HYDROGEN_CLASSES})
        self.hydrogen.chosen.connect(self._set_hydrogen)
        self.column.addWidget(self.hydrogen)
        self.rod_words = self.remark()
        self.name = NameField("As a new type")
        keep = QPushButton("Keep in my catalogue")
        keep.clicked.connect(self._keep)
        self.column.addWidget(self.name)
        self.column.addWidget(keep)
        self.kept = self.remark()
        self.column.addStretch(1)
        self._catalogue = catalogue()
        self._key: object = None

    def _show_school(self) -> None:
        found = self._school()
        self.school_words.setText("" if found is None else f"Buys: {found.buys}\nRisks: {found.risks}")

    def _school(self) -> Technique | None:
        return next((t for t in techniques() if t.id == self.school.box.currentData()), None)

    def apply_school(self) -> None:
        """The joint is welded by the chosen school, as one step."""
        job, joint, found = self.store.job, self.store.joint, self._school()
        if job is not None and joint is not None and found is not None:
            changed, named = with_technique(joint, found, (*job.rods, *self._catalogue))
            self.store.edit(job.with_rods(named).with_joint(changed), found.title)

    def compare_schools(self) -> None:
        """Plan the joint by every school beside the window; pressed again, the rest is left."""
        job, joint = self.store.job, self.store.joint
        self._stop()
        if job is None or joint is None:
            return
        rods = {rod.id: rod for rod in self._catalogue} | dict(job.rods_by_id)
        schools, lines = techniques(), list[str]()

        def arrived(i: int, plan: Plan | None) -> None:
            if plan is None or not plan.feasible:
                lines.append(f"{schools[i].title}: cannot be planned")
            else:
                lines.append(f"{schools[i].title}: {len(plan.passes)} beads, {minutes(plan.total_time_s)}, {sum(plan.rods_by_consumable().values())} rods, "
                             f"peak {self.store.units.energy(plan.peak_arc_energy_kj_mm)} {self.store.units.energy_unit}")  # fmt: skip
            self.compared.setText("\n".join(lines))
            self.compare_button.setText(f"{COMPARE} ({i + 1} of {len(schools)})")

        self.compared.setText("")
        items = [(joint, school, rods) for school in schools]
        self._stop = self.store.each(technique_plan, items, arrived, lambda: self.compare_button.setText(COMPARE))

    def keep_school(self) -> None:
        """Save the joint's rods and choices as a school of the user's own."""
        job, joint, name = self.store.job, self.store.joint, self.own_school.edit.text().strip()
        if job is None or joint is None:
            return
        if not name:
            self.compared.setText("Give it a name first.")
            return
        shipped = {t.id for t in techniques(Path("none"))}
        kept = [t for t in techniques() if t.id not in shipped and t.title != name]
        path = save_own_techniques((*kept, technique_of(joint, job.rods_by_id, name)))
        self.school.set_choices({t.id: t.title for t in techniques()})
        self.compared.setText(f"Kept in {path}")

    def _add(self) -> None:
        job, joint = self.store.job, self.store.joint
        if job is None or joint is None:
            return
        role, rod_id = self.role.box.currentData(), self.rod.box.currentData()
        rod = next(r for r in (*job.rods, *self._catalogue) if r.id == rod_id)
        if rod_id in joint.working.rods_for(role):
            return
        joint = edited(joint, rods=(*joint.working.rods, RodUse(role=role, rod=rod_id)))
        self.store.edit(job.with_rods((rod,)).with_joint(joint), f"Add {rod_id} for the {role}")

    def _drop(self, use: RodUse) -> None:
        joint = self.store.joint
        if joint is not None:
            self.store.edit_joint(f"Drop {use.rod} from the {use.role}", rods=tuple(u for u in joint.working.rods if u != use))

    def _own(self, rod_id: str, value: float) -> None:
        joint = self.store.joint
        if joint is None:
            return
        kept = tuple(o for o in joint.working.own_run_out if (o.rod, o.position) != (rod_id, joint.piece.position))
        if math.isnan(value):
            self.store.edit_joint(f"Clear my run-out of {rod_id}", own_run_out=kept)
        elif 20 <= value <= 1500:
            mine = OwnRunOut(rod=rod_id, position=joint.piece.position, run_out_mm=value)
            self.store.edit_joint(f"Set my run-out of {rod_id}", own_run_out=(*kept, mine))

    def _figure(self, name: str, value: float) -> None:
        low, high = ROD_LIMITS[name]
        job = self.store.job
        if not low <= value <= high:
            self.figures[name].say(f"enter {low:g} to {high:g}")
            return
        rod = self._rod()
        if job is not None and rod is not None:
            mine = replace(rod, **{name: value, "origin": "your own figure"})
            rods = tuple(mine if r.id == rod.id else r for r in job.rods)
            self.store.edit(replace(job, rods=rods), f"Set {FIGURES[name].lower()} of {rod.id}")

    def _set_hydrogen(self, name: str) -> None:
        job, rod = self.store.job, self._rod()
        if job is not None and rod is not None:
            rods = tuple(replace(r, hydrogen=name) if r.id == rod.id else r for r in job.rods)
            self.store.edit(replace(job, rods=rods), f"Set hydrogen class of {rod.id}")

    def _rod(self) -> Rod | None:
        job = self.store.job
        return None if job is None else job.rods_by_id.get(self.shown_rod.box.currentData())

    def _keep(self) -> None:
        rod = self._rod()
        if rod is None:
            return
        mine = replace(rod, type=self.name.edit.text().strip() or rod.type, origin="your own figure")
        try:
            shipped = {r.id: r for r in self._catalogue if r.origin == "your own figure"}
            path = save_own_catalogue(tuple((shipped | {mine.id: mine}).values()))
        except (OSError, FileFault) as error:
            self.kept.setText(f"not kept: {error}")
            return
        self._catalogue = catalogue()
        self._key = None
        self.kept.setText(f"{mine.id} kept in {path}")
        self.render_job()

    def render_job(self) -> None:
        """Show rods, run-outs and figures."""
        job, joint = self.store.job, self.store.joint
        if job is None or joint is None:
            return
        plan = self.store.plan
        key = (joint, id(plan), self.store.units)
        if key != self._key:
            self._key = key
            cleared(self.rows)
            for role in ROLES:
                self.rows.addWidget(self._role_row(role))
            cleared(self.own_rows)
            for rod_id in dict.fromkeys(use.rod for use in joint.working.rods):
                self.own_rows.addWidget(self._own_row(rod_id))
            self.rod.set_choices({r.id: f"{r.id}  {r.family}" for r in (*self._catalogue, *job.rods)})
            self.shown_rod.set_choices({r.id: r.id for r in job.rods})
        rod = self._rod()
        if rod is not None:
            for name, field in self.figures.items():
                field.show_value(f"{getattr(rod, name):g}", "")
            self.rod_words.setText(f"{rod.family}, {rod.polarity}, {rod.amps_low:g} to {rod.amps_high:g} A flat. Figures: {rod.origin}.")
            self.hydrogen.show_choice(rod.hydrogen)

    def _role_row(self, role: str) -> QWidget:
        joint, plan = self.store.joint, self.store.plan
        assert joint is not None
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        title = QLabel(ROLE_TITLES[role])
        title.setProperty("soft", True)
        column.addWidget(title)
        uses = [use for use in joint.working.rods if use.role == role]
        for use in uses:
            row = QHBoxLayout()
            used = 0 if plan is None else sum(p.rod_count for p in plan.passes if p.role == role and p.rod.id == use.rod)
            row.addWidget(QLabel(use.rod))
            row.addStretch(1)
            count = QLabel(f"{used} rods" if used else "not used")
            count.setProperty("soft", True)
            row.addWidget(count)
            drop = QPushButton("Drop")
            drop.clicked.connect(partial(self._drop, use))
            row.addWidget(drop)
            column.addLayout(row)
        if not uses:
            column.addWidget(QLabel("none" if role == "hot" else "none: the joint cannot be planned"))
        return box

    def _own_row(self, rod_id: str) -> QWidget:
        joint = self.store.joint
        assert joint is not None
        own = next((o.run_out_mm for o in joint.working.own_run_out if (o.rod, o.position) == (rod_id, joint.piece.position)), None)
        field = ValueField(f"{rod_id} in {joint.piece.position}", self.length, optional=True)
        field.show_value("" if own is None else self.store.units.long_length(own), self.store.units.length_unit)
        field.edit.setPlaceholderText("typical")
        field.committed.connect(partial(self._own, rod_id))
        return field
