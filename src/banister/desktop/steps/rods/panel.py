"""The rods: which rod serves which pass, techniques, and what one rod really gave."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial
from typing import Any

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.care.of_plan import needs_of
from banister.core.care.trips import longest_out_s
from banister.core.joint.faults import run_out_fault
from banister.core.joint.joint import Joint, edited
from banister.core.joint.working import OwnRunOut, RodUse
from banister.core.limits.windows import ROLES
from banister.core.material.steel import HYDROGEN_CLASSES
from banister.core.remark import Figure, Remark
from banister.core.rods.faults import ROD_LIMITS, rod_fault
from banister.core.rods.rod import Rod
from banister.core.value import replace
from banister.core.words import Speech, capital
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme
from banister.desktop.fields import FigureField, QuietBox
from banister.desktop.panel import Panel, cleared, keeping_focus
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.rods.own_rod import OwnRod
from banister.desktop.steps.rods.rack_part import SURE, RackPart
from banister.desktop.steps.rods.rack_view import RackWidget
from banister.desktop.steps.rods.technique_part import TechniquePart
from banister.desktop.steps.sheet.actions import plain_name, put_on_paper
from banister.desktop.store import Store
from banister.desktop.work.paper import rod_pages
from banister.job.library import OWN_FIGURE

CHOOSE, RACK = "choose", "rack"
FIGURES = ("amps", "amps_low", "amps_high", "volts", "burn_off_g_ah", "recovery", "stub_mm")


class RodsPanel(Panel):
    """Candidates by role, techniques, the welder's own run-out, and the figures of a rod."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self._rows_of: object = None
        """What the rows of the roles were made of: an edit of anything else leaves them."""
        self._own_of: object = None
        self._used: list[tuple[RodUse, QLabel]] = []
        self.heading(say("step.rods"))
        self.work = self.choice("fitup_step.work", {key: say(f"rods.work.{key}") for key in (CHOOSE, RACK)}, lambda key: store.look(racking=key == RACK))
        with self.part() as self.choosing:
            self._add_choice()
        self.rack = RackPart(store, theme)
        self.column.addWidget(self.rack)
        self.list_button = self.button("rods.list", self.print_list, tip=True)
        self.column.addStretch(1)

    def _add_choice(self) -> None:
        say = self.say
        self.explained("candidate")
        self.rows = QVBoxLayout()
        self.column.addLayout(self.rows)
        self.role = self.choice("rods.add_for", {role: capital(say(f"role.{role}")) for role in ROLES})
        self.rod = self.choice("rods.rod", {})
        self.button("rods.add", self._add)
        self.techniques = TechniquePart(self.store, self.theme)
        self.column.addWidget(self.techniques)
        self.heading(say("rods.run_out"), 14)
        self.remark(say("rods.run_out.note"))
        self.own_rows = QVBoxLayout()
        self.column.addLayout(self.own_rows)
        self._add_figures()

    def print_list(self) -> None:
        """What to take along, and the trips to the oven, as a PDF."""
        window, now, say = self.window(), self.store.now, self.say
        if now.joint is None or now.plan is None or now.job is None or not now.feasible:
            return
        path = window.dialogs.save_path(window, say("rods.list"), f"{plain_name(now.joint.id)}-rods.pdf", "*.pdf")  # type: ignore[attr-defined]
        if path is None:
            return
        sheet = now.job.sheet_of(now.joint, now.plan, now.heat, self.store.library.rows, self.store.today)
        view: RackWidget = window.work.rack  # type: ignore[attr-defined]
        trips, uses = view.fetched(now)
        request = (sheet, needs_of(now.joint, now.plan), SURE, trips, longest_out_s(uses, trips), uses, say)
        put_on_paper(window, path, rod_pages, *request)

    def _add_figures(self) -> None:
        say = self.say
        self.heading(say("rods.figures"), 14)
        self.shown_rod = self.choice("rods.rod", {}, lambda _: self._show_rod(self.store.now))
        self.figures: dict[str, FigureField] = {}
        for name in FIGURES:
            kind, low, high = ROD_LIMITS[name]
            field = FigureField(capital(say(f"rod.{name}")), kind, partial(self._figure, name), low=low, high=high)
            self.figures[name] = field
            self.column.addWidget(field)
        self.hydrogen = self.choice("rods.hydrogen", {"": say("rods.hydrogen.none")} | {h: h for h in HYDROGEN_CLASSES}, self._set_hydrogen)
        self.rod_words = self.remark()
        self.button("rods.keep", self._keep)
        self.kept = self.remark()
        self.heading(say("own_rod.title"), 14)
        self.own = OwnRod(say)
        self.own.made.connect(self.make_own)
        self.column.addWidget(self.own)

    # --- rods of the joint -------------------------------------------------------------------
    def _add(self) -> None:
        job, joint, role = self.store.job, self.store.joint, self.role.key
        rod = next((r for r in (*(job.rods if job is not None else ()), *self.store.library.rods) if r.id == self.rod.key), None)
        if job is None or joint is None or rod is None or rod.id in joint.working.rods_for(role):
            return
        joint = edited(joint, rods=(*joint.working.rods, RodUse(role=role, rod=rod.id)))
        self.store.edit(job.with_rods((rod,)).with_joint(joint), self._step("edit.rod.add", rod.id, role))

    def _drop(self, use: RodUse) -> None:
        joint = self.store.joint
        if joint is not None:
            self.store.edit_joint(self._step("edit.rod.drop", use.rod, use.role), rods=tuple(u for u in joint.working.rods if u != use))

    def _step(self, key: str, rod: str, role: str) -> str:
        return self.say(key, rod=Figure(rod, "rod"), role=self.say(f"role.{role}"))

    def _own(self, rod_id: str, value: float) -> Remark | None:
        joint, say = self.store.joint, self.say
        if joint is None:
            return None
        kept = tuple(o for o in joint.working.own_run_out if (o.rod, o.position) != (rod_id, joint.piece.position))
        if math.isnan(value):
            self.store.edit_joint(say("edit.run_out.clear", rod=Figure(rod_id, "rod")), own_run_out=kept)
            return None
        mine = OwnRunOut(rod=rod_id, position=joint.piece.position, run_out_mm=value)
        refusal = run_out_fault(value)
        if refusal is None:
            self.store.edit_joint(say("edit.run_out", rod=Figure(rod_id, "rod"), value=Figure(value, "long_length")), own_run_out=(*kept, mine))
        return refusal

    def _replace(self, use: RodUse, rod_id: str) -> None:
        """Another rod in the place of one, as one step; where the role has it already the old one goes."""
        job, joint = self.store.job, self.store.joint
        if job is None or joint is None or rod_id == use.rod:
            return
        known = self.store.library.rods_by_id | dict(job.rods_by_id)
        uses = tuple(dict.fromkeys(RodUse(role=use.role, rod=rod_id) if u == use else u for u in joint.working.rods))
        name = self.say("edit.rod.replace", old=Figure(use.rod, "rod"), rod=Figure(rod_id, "rod"), role=self.say(f"role.{use.role}"))
        self.store.edit(job.with_rods((known[rod_id],)).with_joint(edited(joint, rods=uses)), name)

    def make_own(self, rod: Rod) -> None:
        """A rod of the user's own comes into the job, its figures at hand."""
        job = self.store.job
        if job is None:
            return
        if rod.id in job.rods_by_id or rod.id in self.store.library.rods_by_id:
            self.kept.setText(self.say("own_rod.known", rod=Figure(rod.id, "rod")))
            return
        self.store.edit(job.with_rods((rod,)), self.say("edit.rod.own", rod=Figure(rod.id, "rod")))
        self.shown_rod.show_choice(rod.id)
        self._show_rod(self.store.now)
        self.kept.setText(self.say("own_rod.made", rod=Figure(rod.id, "rod")))

    # --- figures of a rod --------------------------------------------------------------------
    def _figure(self, name: str, value: float) -> Remark | None:
        job, rod = self.store.job, self._rod()
        refusal = rod_fault(name, value)
        if refusal is None and job is not None and rod is not None:
            changes: dict[str, Any] = {name: value, "origin": OWN_FIGURE}
            mine = replace(rod, **changes)
            self.store.edit(job.with_rod(mine), self.say("edit.rod.figure", figure=self.say(f"rod.{name}"), rod=Figure(rod.id, "rod")))
        return refusal

    def _set_hydrogen(self, name: str) -> None:
        job, rod = self.store.job, self._rod()
        if job is not None and rod is not None:
            self.store.edit(job.with_rod(replace(rod, hydrogen=name)), self.say("edit.rod.hydrogen", rod=Figure(rod.id, "rod")))

    def _rod(self) -> Rod | None:
        job = self.store.job
        return None if job is None else job.rods_by_id.get(self.shown_rod.key)

    def _keep(self) -> None:
        rod = self._rod()
        if rod is not None:
            mine = replace(rod, origin=OWN_FIGURE)
            self.keep_in_library(lambda library: library.keeping_rod(mine), "rods.json", mine.id, self.kept)
            self._show_lists(self.store.now)

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show rods, run-outs and figures."""
        joint = new.joint
        self.work.show_choice(RACK if new.view.racking else CHOOSE)
        self.choosing.setVisible(not new.view.racking)
        self.rack.setVisible(new.view.racking)
        if new.view.racking:
            self.rack.catch_up()
        else:
            self.techniques.catch_up()
        if joint is None or new.job is None:
            return
        uses = joint.working.rods
        if self._rows_of != (rows_of := (uses, new.job.rods, self.store.library, new.say)):
            self._rows_of, self._used = rows_of, []
            with keeping_focus(self):
                cleared(self.rows)
                for role in ROLES:
                    self.rows.addWidget(self._role_row(role, uses, new.say))
        self._show_used(new)
        if self._own_of != (own_of := (uses, joint.working.own_run_out, joint.piece.position, new.say)):
            self._own_of = own_of
            with keeping_focus(self):
                cleared(self.own_rows)
                for rod_id in dict.fromkeys(use.rod for use in uses):
                    self.own_rows.addWidget(self._own_row(rod_id, joint, new.say))
        if new.differs(old, "job", "say"):
            self._show_lists(new)

    def _show_lists(self, now: Snapshot) -> None:
        job, say = now.job, now.say
        assert job is not None
        self.rod.set_choices({r.id: f"{say.units.rod(r.id)}  {say(f'family.{r.family}')}" for r in (*self.store.library.rods, *job.rods)})
        self.shown_rod.set_choices({r.id: say.units.rod(r.id) for r in job.rods})
        self.own.show_rods(self.store.library.rods_by_id | dict(job.rods_by_id), say)
        self._show_rod(now)

    def _show_rod(self, now: Snapshot) -> None:
        rod, say = self._rod(), now.say
        if rod is None:
            return
        for name, field in self.figures.items():
            field.show_value(getattr(rod, name), say)
        origin = say(f"origin.{rod.origin}") if f"origin.{rod.origin}" in say.words else rod.origin
        amps = Figure((rod.amps_low, rod.amps_high), "current")
        self.rod_words.setText(say("rods.words", family=say(f"family.{rod.family}"), polarity=rod.polarity, amps=amps, origin=origin))
        self.hydrogen.show_choice(rod.hydrogen)

    def _show_used(self, now: Snapshot) -> None:
        """How many of each rod the plan burns, role by role."""
        passes = () if now.plan is None else now.plan.passes
        for use, label in self._used:
            used = sum(p.rod_count for p in passes if p.role == use.role and p.rod.id == use.rod)
            label.setText(now.say("rods.used", n=used) if used else now.say("rods.unused"))

    def _role_row(self, role: str, all_uses: Sequence[RodUse], say: Speech) -> QWidget:
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(_soft(capital(say(f"role.{role}"))))
        uses = [use for use in all_uses if use.role == role]
        for use in uses:
            row = QHBoxLayout()
            used = _soft("")
            self._used.append((use, used))
            row.addWidget(self._candidate(use, say), 1)
            row.addWidget(used)
            drop = QPushButton(say("rods.drop"))
            drop.setAccessibleName(say("rods.drop.which", rod=Figure(use.rod, "rod"), role=say(f"role.{role}")))
            drop.setToolTip(drop.accessibleName())
            drop.clicked.connect(partial(self._drop, use))
            row.addWidget(drop)
            column.addLayout(row)
        if not uses:
            column.addWidget(QLabel(say("rods.none.hot" if role == "hot" else "rods.none")))
        return box

    def _candidate(self, use: RodUse, say: Speech) -> QuietBox:
        """The rod of a role, to be replaced by choosing another."""
        box, job = QuietBox(), self.store.job
        known = self.store.library.rods_by_id | (dict(job.rods_by_id) if job is not None else {})
        for rod in known.values():
            box.addItem(say.units.rod(rod.id), rod.id)
        box.setCurrentIndex(box.findData(use.rod))
        box.setMinimumContentsLength(8)
        box.setAccessibleName(say("rods.candidate", role=say(f"role.{use.role}")))
        box.setToolTip(say("rods.candidate.tip"))
        box.activated.connect(lambda i: self._replace(use, str(box.itemData(i))))
        return box

    def _own_row(self, rod_id: str, joint: Joint, say: Speech) -> QWidget:
        position = joint.piece.position
        own = next((o.run_out_mm for o in joint.working.own_run_out if (o.rod, o.position) == (rod_id, position)), None)
        title = say("rods.own", rod=Figure(rod_id, "rod"), position=position)
        field = FigureField(title, "long_length", partial(self._own, rod_id), optional=True)
        field.show_value(own, say)
        field.edit.setPlaceholderText(say("rods.typical"))
        return field


def _soft(text: str) -> QLabel:
    label = QLabel(text)
    tint(label, SOFT)
    return label
