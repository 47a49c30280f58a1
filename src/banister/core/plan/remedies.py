"""What would free a joint that cannot be planned: single changes, what a welder would do first, each tried through to its beads."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from itertools import islice

from banister.core.joint.defaults import with_backing_figures
from banister.core.joint.faults import geometry_faults
from banister.core.joint.joint import edited
from banister.core.joint.kinds import SQUARE
from banister.core.joint.working import BALANCED, FEWEST, RodUse
from banister.core.limits.windows import ROLES
from banister.core.plan import rules
from banister.core.plan.climb import solve
from banister.core.plan.explain import role_word
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.layers import LayerProgram, Wish
from banister.core.plan.one_side import SideStudy, side_plan
from banister.core.plan.options import options_for
from banister.core.plan.sides import Side, sides_of
from banister.core.remark import Figure, Remark, outside
from banister.core.rods.rod import Rod
from banister.core.value import replace

MOST_REMEDIES = 3
TRIAL_STEP_MM, TRIAL_STATES = 0.2, 150
GAP_TRIALS_MM = (1.0, -1.0, 2.0, -2.0, 3.0, -3.0, 4.0, -5.0, 6.0)
FIT_UP = ("root.face", "root.gap")
BEVEL_TRIALS_DEG = (5.0, 10.0, 15.0)
Change = tuple[Remark, PlanInputs]


def freeing(whole: PlanInputs, reasons: Sequence[Remark]) -> tuple[Remark, ...]:
    """Changes after which the whole joint can be planned; only those that touch what failed are tried."""
    stages = {reason.code.split(".")[0] for reason in reasons}
    roles = tuple(role for role in ROLES if role in stages and role != "hot")
    fit_up = any(reason.code.startswith(FIT_UP) for reason in reasons)
    return tuple(islice(_freeing(whole, roles, fit_up), MOST_REMEDIES))


def _freeing(joint: PlanInputs, roles: Sequence[str], fit_up: bool) -> Iterator[Remark]:
    """One change of each kind at most, the first of its kind that works; what is wrong with face or gap is mended there first."""
    sizes = [_rods(joint, role) for role in roles]
    shapes = [_face(joint, roles), _gaps(joint, roles)]
    kinds = [_windows(joint), *([*shapes, *sizes] if fit_up else [*sizes, *shapes, _bevels(joint)]), _backings(joint, roles)]
    for kind in kinds:
        found = next((remark for remark, changed in kind if _works(changed)), None)
        if found is not None:
            yield found


def _plannable(joint: PlanInputs) -> bool:
    """True where the layer program finds a plan for every side."""
    return all(_study(side, FEWEST) is not None for side in sides_of(joint))


def _works(joint: PlanInputs) -> bool:
    """True where the beads of every side can be laid too."""
    if geometry_faults(joint):
        return False
    for side in sides_of(joint):
        study = _study(side, BALANCED)
        if study is None or not side_plan(study, BALANCED).feasible:
            return False
    return True


def _study(side: Side, answer: str) -> SideStudy | None:
    """A side looked at in coarse steps; None where no layers go from root to cap."""
    options, reasons = options_for(side.joint, side.groove)
    if reasons:
        return None
    program = LayerProgram(side.joint, side.groove, options, max(TRIAL_STEP_MM, side.groove.thickness_mm / TRIAL_STATES))
    layers = solve(program, Wish(answer))
    return None if layers is None else SideStudy(side, program, tuple(layers))


def _mm(value: float) -> Figure:
    return Figure(value, "length")


def _windows(joint: PlanInputs) -> Iterator[Change]:
    for quantity in sorted({window.quantity for window in joint.windows}):
        kept = tuple(w for w in joint.windows if w.quantity != quantity)
        yield outside("freed.window", quantity=Figure(f"quantity.{quantity}", "word")), replace(joint, windows=kept)


def _rods(joint: PlanInputs, role: str) -> Iterator[Change]:
    """Other sizes of the types in use, offered all at once first: if all of them do not help, none does.

    Those of the system in use (metric or inch) come first, of them the smaller ones.
    """
    by_id = joint.rods_by_id
    types = {by_id[r].type for r in joint.rods_for(role) if r in by_id}
    offered = [rod for rod in joint.rods if rod.type in types and rod.id not in joint.rods_for(role)]
    if not offered or not _plannable(_with_rods(joint, role, offered)):
        return
    used = [by_id[r].diameter_mm for r in joint.rods_for(role) if r in by_id]
    middle = sum(used) / len(used)
    in_inches = all(by_id[r].size_label for r in joint.rods_for(role) if r in by_id)
    for rod in sorted(offered, key=lambda rod: (bool(rod.size_label) != in_inches, rod.diameter_mm > middle, abs(rod.diameter_mm - middle))):
        yield outside("freed.rod", rod=Figure(rod.id, "rod"), role=role_word(role)), _with_rods(joint, role, [rod])


def _with_rods(joint: PlanInputs, role: str, rods: Iterable[Rod]) -> PlanInputs:
    return replace(joint, uses=(*joint.uses, *(RodUse(role=role, rod=rod.id) for rod in rods)))


def _face(joint: PlanInputs, roles: Sequence[str]) -> Iterator[Change]:
    """Less root face, where the root is what fails."""
    roots = [joint.rods_by_id[r] for r in joint.rods_for("root") if r in joint.rods_by_id]
    if "root" not in roles or not joint.prep.kind.has_face or not roots:
        return
    ground = math.floor(10 * max(rules.bridged_cores(joint, rod)[1] * rules.bridging_core_mm(rod) for rod in roots) + 1e-6) / 10
    for face in (ground, 1.0):
        if face < joint.prep.root_face_mm - 1e-9:
            yield outside("freed.face", face=_mm(face)), edited(joint, root_face_mm=face)


def _gaps(joint: PlanInputs, roles: Sequence[str]) -> Iterator[Change]:
    """Another gap, the nearest first, for an open root only one that a root rod bridges; a closed joint has none."""
    if joint.prep.backing == "closed" or "root" not in roles:
        return
    roots = [joint.rods_by_id[r] for r in joint.rods_for("root") if r in joint.rods_by_id]
    for more in GAP_TRIALS_MM:
        gap = round(joint.prep.root_gap_mm + more, 1)
        changed = edited(joint, root_gap_mm=max(gap, 0.0))
        if gap >= 0 and (not joint.prep.open_root or any(rules.bridging_cores(changed, rod)[0] for rod in roots)):
            yield outside("freed.gap", gap=_mm(gap)), changed


def _bevels(joint: PlanInputs) -> Iterator[Change]:
    prep = joint.prep
    if prep.kind.fillet or prep.kind.shapes == {SQUARE}:
        return
    for more in BEVEL_TRIALS_DEG:
        fields = {key: getattr(prep, key) + more for key in ("bevel_left_deg", "bevel_right_deg", "back_bevel_deg") if getattr(prep, key) > 0.0}
        yield outside("freed.bevel", angle=Figure(prep.bevel_right_deg + more, "angle")), edited(joint, **fields)


def _backings(joint: PlanInputs, roles: Sequence[str]) -> Iterator[Change]:
    """A bar behind an open root that fails; a single groove only."""
    if "root" in roles and joint.prep.open_root and not joint.prep.kind.double:
        yield outside("freed.bar"), edited(joint, **with_backing_figures(joint.prep, "bar"))
