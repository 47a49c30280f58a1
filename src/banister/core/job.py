"""The document: one frozen value that holds joints, the rods they use, and the plans that were taken."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from banister.core.remark import OUTSIDE, Finding, Place
from banister.core.heat.preheat import REMEMBERED_C
from banister.core.heat.shift import Shift, shift_faults
from banister.core.joint.joint import ROLES, Joint, joint_faults
from banister.core.plan.layers import ANSWERS
from banister.core.plan.plan import Plan
from banister.core.limits.acceptance import ACCEPTANCE
from banister.core.limits.procedure import Procedure, Welder, procedure_faults, welder_faults
from banister.core.limits.windows import QUANTITIES
from banister.core.rods.rod import Rod


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """A plan that was taken: the joint as it then was, the planner's version, and the plan itself.

    An issued sheet never changes because the planner improved; planning again is an action.
    """

    joint: Joint
    planner_version: str
    plan: Plan


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """A job: joints to be welded and everything their plans depend on."""

    name: str
    site: str = ""
    prepared_by: str = ""
    checked_by: str = ""
    notes: str = ""
    joints: tuple[Joint, ...] = ()
    rods: tuple[Rod, ...] = ()
    procedures: tuple[Procedure, ...] = ()
    welders: tuple[Welder, ...] = ()
    taken: tuple[Taken, ...] = ()
    shift: Shift = Shift()

    @property
    def rods_by_id(self) -> Mapping[str, Rod]:
        """The job's rods by their id."""
        return {rod.id: rod for rod in self.rods}

    def joint(self, joint_id: str) -> Joint:
        """The joint with this id; KeyError where there is none."""
        for joint in self.joints:
            if joint.id == joint_id:
                return joint
        raise KeyError(joint_id)

    def with_joint(self, joint: Joint) -> Job:
        """The job with the joint of the same id replaced."""
        return replace(self, joints=tuple(joint if j.id == joint.id else j for j in self.joints))

    def adding(self, joint: Joint) -> Job:
        """The job with another joint; figures from the user's copy of a table hold for it as for the others."""
        own = self.joints[0].heat.own_cells if self.joints else joint.heat.own_cells
        return replace(self, joints=(*self.joints, replace(joint, heat=replace(joint.heat, own_cells=own))))

    def procedure_of(self, joint: Joint) -> Procedure | None:
        """The procedure document a joint is welded to, if the job holds it."""
        return next((p for p in self.procedures if p.id == joint.procedure), None)

    def welder_of(self, joint: Joint) -> Welder | None:
        """The welder named for a joint, if the job holds the qualification."""
        return next((w for w in self.welders if w.mark == joint.welder), None)

    def with_procedure(self, procedure: Procedure) -> Job:
        """The job with this document added or put in the place of its namesake; its joints take its windows."""
        kept = tuple(p for p in self.procedures if p.id != procedure.id)
        job = replace(self, procedures=(*kept, procedure))
        return replace(job, joints=tuple(welded_to(j, procedure) if j.procedure == procedure.id else j for j in job.joints))

    def with_welder(self, welder: Welder) -> Job:
        """The job with this qualification added or put in the place of its namesake."""
        return replace(self, welders=(*(w for w in self.welders if w.mark != welder.mark), welder))

    def with_rods(self, rods: tuple[Rod, ...]) -> Job:
        """The job with these rods added where it lacks them."""
        known = self.rods_by_id
        return replace(self, rods=self.rods + tuple(rod for rod in rods if rod.id not in known))

    def taken_for(self, joint: Joint) -> Taken | None:
        """The plan taken for a joint, if the joint is still what it was then."""
        found = self.taken_before(joint)
        return found if found is not None and same_work(found.joint, joint) else None

    def taken_before(self, joint: Joint) -> Taken | None:
        """The plan last taken for a joint, whether or not it changed since."""
        return next((t for t in self.taken if t.joint.id == joint.id), None)

    def taking(self, joint: Joint, plan: Plan, version: str) -> Job:
        """The job with this plan taken for the joint."""
        kept = tuple(t for t in self.taken if t.joint.id != joint.id)
        stored = Taken(joint=joint, planner_version=version, plan=replace(plan, surface=None))
        return replace(self, taken=(*kept, stored))


def welded_to(joint: Joint, procedure: Procedure | None) -> Joint:
    """The joint with a procedure's windows in the place of those of the one before; its own stay."""
    own = tuple(w for w in joint.windows if not w.origin)
    if procedure is None:
        return replace(joint, procedure="", procedure_revision="", windows=own)
    taken = tuple(replace(w, origin=procedure.id) for w in procedure.windows)
    return replace(joint, procedure=procedure.id, procedure_revision=procedure.revision, windows=(*own, *taken))


def same_work(a: Joint, b: Joint) -> bool:
    """True if two joints differ in nothing a plan depends on: names, drawing numbers, steel and welder only."""
    return replace(a, name=b.name, drawing=b.drawing, base_metal=b.base_metal, steel=b.steel, welder=b.welder, heat=b.heat, readings=b.readings) == b


ROD_LIMITS = {
    "diameter_mm": (1.0, 10.0),
    "length_mm": (100.0, 1000.0),
    "stub_mm": (0.0, 200.0),
    "amps": (10.0, 600.0),
    "amps_low": (5.0, 600.0),
    "amps_high": (5.0, 600.0),
    "volts": (8.0, 60.0),
    "burn_off_g_ah": (2.0, 30.0),
    "recovery": (0.3, 3.0),
}


def rod_faults(rod: Rod, where: str) -> list[Finding]:
    """Figures of a rod that cannot be right; `where` locates it."""
    found = []
    for field, (low, high) in ROD_LIMITS.items():
        value = getattr(rod, field)
        if not (math.isfinite(value) and low <= value <= high):
            found.append(_fault(f"{where}.{field}", f"{value:g} is outside {low:g} to {high:g}"))
    return found


def job_faults(job: Job) -> tuple[Finding, ...]:
    """Everything in a job that cannot be right, each with the path of the value."""
    found: list[Finding] = []
    seen: set[str] = set()
    for i, joint in enumerate(job.joints):
        where = f"joints[{i}]"
        if joint.id in seen or not joint.id:
            found.append(_fault(f"{where}.id", f"id '{joint.id}' is empty or used twice"))
        seen.add(joint.id)
        found += [_fault(f"{where}.{f.code.removeprefix('joint.')}", f.text, f.remedy) for f in joint_faults(joint)]
        found += _setting_faults(joint, where)
    for i, procedure in enumerate(job.procedures):
        found += [_fault(f"procedures[{i}].{f.code}", f.text, f.remedy) for f in procedure_faults(procedure)]
    for i, welder in enumerate(job.welders):
        found += [_fault(f"welders[{i}].{f.code}", f.text, f.remedy) for f in welder_faults(welder)]
    for i, rod in enumerate(job.rods):
        found += rod_faults(rod, f"rods[{i}]")
    found += [_fault(f"shift.{field}", text) for field, text in shift_faults(job.shift)]
    return tuple(found)


def _setting_faults(joint: Joint, where: str) -> list[Finding]:
    found = []
    if joint.chosen not in ANSWERS:
        found.append(_fault(f"{where}.chosen", f"'{joint.chosen}' is not one of {', '.join(ANSWERS)}"))
    if joint.choices.acceptance not in ACCEPTANCE:
        found.append(_fault(f"{where}.choices.acceptance", f"'{joint.choices.acceptance}' is not known"))
    for i, use in enumerate(joint.rods):
        if use.role not in ROLES:
            found.append(_fault(f"{where}.rods[{i}].role", f"'{use.role}' is not a role"))
    for i, own in enumerate(joint.heat.own_cells):
        if own.cell not in REMEMBERED_C or not (math.isfinite(own.least_c) and -50 <= own.least_c <= 400):
            found.append(_fault(f"{where}.heat.own_cells[{i}]", f"'{own.cell}' is no cell of the preheat tables, or its figure is outside -50 to 400"))
    for i, window in enumerate(joint.windows):
        bounds = [b for b in (window.low, window.high) if b is not None]
        if window.quantity not in QUANTITIES:
            found.append(_fault(f"{where}.windows[{i}].quantity", f"'{window.quantity}' is not known"))
        if any(not math.isfinite(b) or b < -100 or b > 1e5 for b in bounds) or bounds != sorted(bounds):
            found.append(_fault(f"{where}.windows[{i}]", "the bounds are not a window", "Put the lower one first."))
    for i, run in enumerate(joint.own_run_out):
        if not (math.isfinite(run.run_out_mm) and 20 <= run.run_out_mm <= 1500):
            found.append(_fault(f"{where}.own_run_out[{i}].run_out_mm", "run-out is outside 20 to 1500 mm"))
    for i, pin in enumerate(joint.pins):
        sizes = [v for v in (pin.x_mm, pin.y_mm, pin.area_mm2, pin.amps) if v is not None]
        if any(not math.isfinite(v) or abs(v) > 1e4 for v in sizes) or (pin.area_mm2 or 1) <= 0 or not 1 <= (pin.beads or 1) <= 60:
            found.append(_fault(f"{where}.pins[{i}]", "a pinned value is out of range"))
    return found


def _fault(path: str, text: str, remedy: str = "") -> Finding:
    return Finding(path, OUTSIDE, text, remedy, Place())
