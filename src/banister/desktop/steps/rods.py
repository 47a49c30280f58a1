"""Step 3, the rods: which rod serves which pass, and what one rod really gave."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.job import ROD_LIMITS
from banister.core.joint.joint import ROLES, OwnRunOut, RodUse
from banister.core.rods.rod import Rod
from banister.core.units import parsed_number
from banister.desktop.fields import ChoiceField, NameField, ValueField
from banister.desktop.panel import Panel, cleared
from banister.desktop.store import Store
from banister.desktop.theme import Theme
from banister.job.codec import FileFault
from banister.job.library import catalogue, save_own_catalogue

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

    def _add(self) -> None:
        job, joint = self.store.job, self.store.joint
        if job is None or joint is None:
            return
        role, rod_id = self.role.box.currentData(), self.rod.box.currentData()
        rod = next(r for r in (*job.rods, *self._catalogue) if r.id == rod_id)
        if rod_id in joint.rods_for(role):
            return
        joint = replace(joint, rods=(*joint.rods, RodUse(role=role, rod=rod_id)))
        self.store.edit(job.with_rods((rod,)).with_joint(joint), f"Add {rod_id} for the {role}")

    def _drop(self, use: RodUse) -> None:
        joint = self.store.joint
        if joint is not None:
            self.store.edit_joint(f"Drop {use.rod} from the {use.role}", rods=tuple(u for u in joint.rods if u != use))

    def _own(self, rod_id: str, value: float) -> None:
        joint = self.store.joint
        if joint is None:
            return
        kept = tuple(o for o in joint.own_run_out if (o.rod, o.position) != (rod_id, joint.position))
        if math.isnan(value):
            self.store.edit_joint(f"Clear my run-out of {rod_id}", own_run_out=kept)
        elif 20 <= value <= 1500:
            mine = OwnRunOut(rod=rod_id, position=joint.position, run_out_mm=value)
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
            for rod_id in dict.fromkeys(use.rod for use in joint.rods):
                self.own_rows.addWidget(self._own_row(rod_id))
            self.rod.set_choices({r.id: f"{r.id}  {r.family}" for r in (*self._catalogue, *job.rods)})
            self.shown_rod.set_choices({r.id: r.id for r in job.rods})
        rod = self._rod()
        if rod is not None:
            for name, field in self.figures.items():
                field.show_value(f"{getattr(rod, name):g}", "")
            self.rod_words.setText(f"{rod.family}, {rod.polarity}, {rod.amps_low:g} to {rod.amps_high:g} A flat. Figures: {rod.origin}.")

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
        uses = [use for use in joint.rods if use.role == role]
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
        own = next((o.run_out_mm for o in joint.own_run_out if (o.rod, o.position) == (rod_id, joint.position)), None)
        field = ValueField(f"{rod_id} in {joint.position}", self.length, optional=True)
        field.show_value("" if own is None else self.store.units.long_length(own), self.store.units.length_unit)
        field.edit.setPlaceholderText("typical")
        field.committed.connect(partial(self._own, rod_id))
        return field
