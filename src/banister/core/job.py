"""The document: one frozen value that holds joints, everything their plans depend on, and the sheets that were issued."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date

from banister.core.fitup.places import course_of
from banister.core.fitup.readings import fitup_faults
from banister.core.fitup.tacks import choice_faults, tack_faults
from banister.core.heat.line import HeatLine
from banister.core.heat.preheat import OwnCell, cell_faults
from banister.core.heat.shift import Shift, shift_faults
from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint, edited
from banister.core.judge.judgement import Documents, judged
from banister.core.limits.procedure import Procedure, Welder, procedure_faults, welder_faults, windows_of
from banister.core.limits.qualification import QualificationRows
from banister.core.plan.plan import PLANNER_VERSION, Plan
from banister.core.plan.spending import Rates, rates_faults
from banister.core.remark import Figure, Remark, at, fault
from banister.core.rods.faults import rod_faults
from banister.core.rods.rod import Rod
from banister.core.sheet import Heading, Sheet, changed_since, rods_of, stands, still_planned
from banister.core.stops.runs import stop_faults
from banister.core.value import Struct, replace


class Job(Struct, frozen=True, kw_only=True):
    """A job: joints to be welded and everything their plans depend on.

    `own_cells` are figures of the preheat tables from the user's own copy; they hold for every joint.
    """

    name: str
    site: str = ""
    prepared_by: str = ""
    checked_by: str = ""
    notes: str = ""
    joints: tuple[Joint, ...] = ()
    rods: tuple[Rod, ...] = ()
    procedures: tuple[Procedure, ...] = ()
    welders: tuple[Welder, ...] = ()
    own_cells: tuple[OwnCell, ...] = ()
    shift: Shift = Shift()
    rates: Rates = Rates()
    issued: tuple[Sheet, ...] = ()

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
        """The job with another joint."""
        return replace(self, joints=(*self.joints, joint))

    def without_joint(self, joint_id: str) -> Job:
        """The job without a joint and without what was issued of it."""
        return replace(self, joints=tuple(j for j in self.joints if j.id != joint_id), issued=tuple(s for s in self.issued if s.joint.id != joint_id))

    def procedure_of(self, joint: Joint) -> Procedure | None:
        """The procedure document a joint is welded to, if the job holds it."""
        return next((p for p in self.procedures if p.id == joint.procedure), None)

    def welder_of(self, joint: Joint) -> Welder | None:
        """The welder named for a joint, if the job holds the qualification."""
        return next((w for w in self.welders if w.mark == joint.welder), None)

    def welded_under(self, joint: Joint, number: str) -> Joint:
        """The joint under the procedure of a number; one the job holds no document of is a name without limits."""
        found = next((p for p in self.procedures if p.id == number), None)
        now = welded_to(joint, found)
        return now if found is not None else replace(now, procedure=number)

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

    def with_rod(self, rod: Rod) -> Job:
        """The job with this rod in the place of its namesake."""
        return replace(self, rods=tuple(rod if r.id == rod.id else r for r in self.rods))

    def documents_of(self, joint: Joint, rows: QualificationRows, today: date | None) -> Documents:
        """What a joint is held against beside its own windows."""
        return Documents(self.procedure_of(joint), self.welder_of(joint), rows, self.own_cells, today)

    @property
    def heading(self) -> Heading:
        """What stands over the sheets of this job."""
        return Heading(job=self.name, site=self.site, prepared_by=self.prepared_by, checked_by=self.checked_by)

    def sheet_of(self, joint: Joint, plan: Plan, heat: HeatLine | None, rows: QualificationRows, today: date | None) -> Sheet:
        """What is known of a joint now: its plan, the heat in it where that is computed, and what the judge says of both."""
        judgement = judged(joint, plan, heat.schedule if heat is not None else None, self.documents_of(joint, rows, today))
        return Sheet(heading=self.heading, joint=joint, plan=plan, heat=heat, judgement=judgement, planner_version=PLANNER_VERSION,
                     rods=rods_of(joint, plan, self.rods))  # fmt: skip

    def issued_for(self, joint: Joint) -> Sheet | None:
        """The sheet last issued of a joint, whether or not the joint changed since."""
        return next((s for s in self.issued if s.joint.id == joint.id), None)

    def standing_for(self, joint: Joint) -> Sheet | None:
        """The sheet issued of a joint while neither its plan nor its limits are others."""
        found = self.issued_for(joint)
        return found if found is not None and stands(found, joint, self.rods) else None

    def plan_issued_for(self, joint: Joint, answer: str = "") -> Plan | None:
        """The plan issued of a joint for an answer ('': the chosen one) while it would still be planned from what it was: that answer's plan."""
        found = self.issued_for(joint)
        is_it = found is not None and found.plan.answer == (answer or joint.working.chosen) and still_planned(found, joint, self.rods)
        return found.plan if found is not None and is_it else None

    def changed_since_issued(self, joint: Joint) -> tuple[str, ...]:
        """What of a joint is other than when it was issued (the words `changed.KEY`); empty if nothing, or never issued."""
        found = self.issued_for(joint)
        return () if found is None else changed_since(found, joint, self.rods)

    def issuing(self, sheet: Sheet) -> Job:
        """The job with this sheet in the place of the one issued of its joint before."""
        return replace(self, issued=(*(s for s in self.issued if s.joint.id != sheet.joint.id), sheet))


def welded_to(joint: Joint, procedure: Procedure | None) -> Joint:
    """The joint with a procedure's windows in the place of those of the one before; its own stay."""
    own = tuple(w for w in joint.working.windows if not w.origin)
    if procedure is None:
        return edited(joint, procedure="", procedure_revision="", windows=own)
    return edited(joint, procedure=procedure.id, procedure_revision=procedure.revision, windows=(*own, *windows_of(procedure)))


OFF_THE_WELD = ("fitup.outside", "tack.outside")
"""Findings at the fit-up, no faults of a file: a weld made shorter keeps what was measured on it, and says so."""


def _fitted_faults(joint: Joint) -> Iterator[Remark]:
    course = course_of(joint)
    yield from fitup_faults(joint.fitup, course)
    yield from tack_faults(course, joint.fitup)
    yield from choice_faults(joint.fitup)


def job_faults(job: Job) -> tuple[Remark, ...]:
    """Everything in a job that cannot be right, each with the path of the value."""
    found: list[Remark] = []
    seen: set[str] = set()
    for i, joint in enumerate(job.joints):
        if joint.id in seen or not joint.id:
            found.append(fault("joint.id", f"joints[{i}].id", id=Figure(joint.id, "name")))
        seen.add(joint.id)
        own = joint_faults(joint)
        found += [at(f, f"joints[{i}]") for f in own]
        if not own:
            found += [at(f, f"joints[{i}].fitup") for f in _fitted_faults(joint) if f.code not in OFF_THE_WELD]
            found += [at(f, f"joints[{i}].stops") for f in stop_faults(joint.stops)]
    for i, procedure in enumerate(job.procedures):
        found += [at(f, f"procedures[{i}]") for f in procedure_faults(procedure)]
    for i, welder in enumerate(job.welders):
        found += [at(f, f"welders[{i}]") for f in welder_faults(welder)]
    for i, rod in enumerate(job.rods):
        found += [at(f, f"rods[{i}]") for f in rod_faults(rod)]
    found += [at(f, "shift") for f in shift_faults(job.shift)]
    found += [at(f, "rates") for f in rates_faults(job.rates)]
    return (*found, *cell_faults(job.own_cells))
