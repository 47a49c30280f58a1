"""What can be compared: every sensible preparation for a thickness planned, with figures instead of habit; the joint planned by a technique."""

from __future__ import annotations

from collections.abc import Mapping

from banister.core.joint.defaults import in_place, with_backing, with_preparation
from banister.core.joint.faults import joint_faults
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import KINDS, ROUND, SQUARE
from banister.core.joint.working import RodUse
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.plan.pull import Pull, angular_index_deg, pull_of, transverse_shrinkage_mm
from banister.core.plan.rules import SQUARE_OPEN_UP_TO_MM
from banister.core.plan.technique import Technique, with_technique
from banister.core.remark import Figure, Remark, outside
from banister.core.rods.rod import Rod
from banister.core.value import Struct, replace

ONE_SIDE, BOTH_SIDES = "one", "both"
# All typical shop figures.
DOUBLE_FROM_MM = 12.0
ROUND_FROM_MM = 20.0
COMPOUND_FROM_MM = 22.0
SQUARE_BOTH_UP_TO_MM = 10.0
STEEP_WALL_DEG = (10.0, 18.0)
NARROW_MM = (7.0, 10.0)
"""Bevel angle, and width half-way up, below which the side wall is likely and very likely to stay cold."""
_ORDER = ("square", "single-v", "single-bevel", "compound-v", "single-u", "single-j", "double-v", "double-bevel", "double-u")


class Shop(Struct, frozen=True, kw_only=True):
    """What the joint is to be made for: access from one or both sides, and whether edges can be machined."""

    access: str = ONE_SIDE
    machining: bool = True


class Candidate(Struct, frozen=True):
    """A preparation to be planned, or why it is not offered."""

    key: str
    joint: Joint | None
    refusal: tuple[Remark, ...] = ()

    @property
    def word(self) -> str:
        """The key of its name."""
        return f"candidate.{self.key}"


class Compared(Struct, frozen=True):
    """A preparation with its plan and the figures it is compared by; `plan` is None if it was not offered."""

    candidate: Candidate
    plan: Plan | None
    area_mm2: float = 0.0
    shrinkage_mm: tuple[float, float] = (0.0, 0.0)
    pull: Pull = Pull(0.0, 0.0)
    static_pull_deg: float = 0.0
    fusion_risk: str = ""
    machining: str = ""

    @property
    def rods(self) -> int:
        """Whole rods."""
        return 0 if self.plan is None else self.plan.rods

    @property
    def refusal(self) -> tuple[Remark, ...]:
        """Why it is not offered or cannot be planned; empty if it can."""
        return self.candidate.refusal if self.plan is None else self.plan.reasons


def candidates(joint: Joint, shop: Shop, open_rods: tuple[RodUse, ...], held_rods: tuple[RodUse, ...]) -> tuple[Candidate, ...]:
    """Every preparation for the thickness, position and length of a joint, offered or refused with its reason.

    `open_rods` serve open roots, `held_rods` roots on a bar or on sound metal.
    """
    base = edited(joint, pins=(), right_thickness_mm=0.0, high_low_mm=0.0, own_run_out=joint.working.own_run_out)
    if base.prep.kind.fillet:
        base = in_place(with_preparation(base, "single-v"))
    if base.prep.kind.double or not base.prep.open_root:
        base = with_backing(edited(base, key="single-v"), "open")
    found = []
    for key in _ORDER:
        refusal = _refusal(key, base.prep.welded_thickness_mm, shop)
        open_joint = edited(with_preparation(edited(base, backing="open", second_side="none"), key), rods=open_rods)
        if key == "square" and shop.access == BOTH_SIDES:
            open_joint = edited(open_joint, second_side="gouge", root_gap_mm=2.0)
        found.append(Candidate(key, None if refusal else open_joint, refusal))
        if key in ("single-v", "single-bevel"):
            held = edited(with_backing(with_preparation(edited(base, backing="open", second_side="none"), key), "bar"), rods=held_rods)
            found.append(Candidate(key + "-bar", held))
        if key == "single-v" and shop.access == BOTH_SIDES:
            closed = edited(with_backing(with_preparation(edited(base, backing="open"), key), "closed"), rods=held_rods)
            found.append(Candidate(key + "-gouged", closed))
    return tuple(found)


def _refusal(key: str, t: float, shop: Shop) -> tuple[Remark, ...]:
    kind = KINDS[key]
    if kind.double and shop.access == ONE_SIDE:
        return (outside("compare.access"),)
    if ROUND in kind.shapes and not shop.machining:
        return (outside("compare.machining"),)
    least = DOUBLE_FROM_MM if kind.double else 0.0
    if ROUND in kind.shapes:
        least = max(least, ROUND_FROM_MM * (1.5 if kind.double else 1.0))
    least = COMPOUND_FROM_MM if key == "compound-v" else least
    if t < least:
        why = "round" if ROUND in kind.shapes else "double" if kind.double else "compound"
        return (outside(f"compare.thin.{why}", least=Figure(least, "length")),)
    most = SQUARE_BOTH_UP_TO_MM if shop.access == BOTH_SIDES else SQUARE_OPEN_UP_TO_MM
    if key == "square" and t > most:
        return (outside("compare.square", most=Figure(most, "length")),)
    return ()


def compared(candidate: Candidate, rods: Mapping[str, Rod]) -> Compared:
    """A candidate planned for its chosen answer, with the figures it is compared by."""
    joint = candidate.joint
    if joint is None:
        return Compared(candidate, None)
    if faults := joint_faults(joint):
        return Compared(replace(candidate, refusal=faults), None)
    plan, groove = plan_joint(joint, rods, joint.working.chosen), groove_of(joint.prep)
    t = joint.prep.welded_thickness_mm
    area = sum(p.area_mm2 for p in plan.passes)
    return Compared(
        candidate, plan, groove.area_mm2, transverse_shrinkage_mm(area, t, joint.prep.root_gap_mm), pull_of(plan.passes, t),
        angular_index_deg(groove.area_mm2, groove.centroid_height_mm, t), fusion_risk(joint), _machining(joint),
    )  # fmt: skip


def fusion_risk(joint: Joint, upright: bool = True) -> str:
    """How likely a side wall stays cold: by the steepest wall and the width half-way up its groove; `upright` False leaves out a wall that is not cut."""
    angles = [a for shape, a in ((joint.prep.kind.left, joint.prep.bevel_left_deg), (joint.prep.kind.right, joint.prep.bevel_right_deg)) if shape != SQUARE]
    steepest = min([*angles, 0.0 if upright and SQUARE in joint.prep.kind.shapes else 90.0])
    groove = groove_of(joint.prep)
    t = joint.prep.welded_thickness_mm
    narrow = float(groove.width(0.75 * t if joint.prep.kind.double else 0.5 * t))
    if steepest < STEEP_WALL_DEG[0] or narrow < NARROW_MM[0]:
        return "high"
    return "medium" if steepest < STEEP_WALL_DEG[1] or narrow < NARROW_MM[1] else "low"


def _machining(joint: Joint) -> str:
    """How the edges are made: the word `edges.KEY`."""
    if ROUND in joint.prep.kind.shapes:
        return "machined"
    if joint.prep.kind.shapes == {SQUARE}:
        return "none"
    return "ground_both" if joint.prep.kind.double else "ground"


def technique_plan(joint: Joint, technique: Technique, rods: Mapping[str, Rod]) -> Plan:
    """The joint planned by a technique, for its chosen answer."""
    changed, named = with_technique(joint, technique, tuple(rods.values()))
    return plan_joint(changed, dict(rods) | {rod.id: rod for rod in named}, changed.working.chosen)
