"""Why a bead is as it is, what blocks a plan, and what would free it: remarks whose words stand in the table."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from itertools import islice

from banister.core.joint.faults import geometry_faults
from banister.core.joint.joint import edited
from banister.core.joint.kinds import SQUARE
from banister.core.joint.working import FEWEST, ROLES, RodUse
from banister.core.plan import rules
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.layers import Layer, LayerProgram, Wish
from banister.core.plan.options import options_for
from banister.core.plan.sides import sides_of
from banister.core.remark import INSIDE, Figure, Place, Remark, outside, watch

MOST_REMEDIES = 4
TRIAL_STEP_MM, TRIAL_STATES = 0.2, 150
GAP_TRIALS_MM = (1.0, 2.0, 3.0, 4.0, 6.0, -1.0, -2.0, -3.0, -5.0)
BEVEL_TRIALS_DEG = (5.0, 10.0, 15.0)


def _mm(value: float) -> Figure:
    return Figure(value, "length")


def role_word(role: str) -> Figure:
    """A role as a figure of a remark."""
    return Figure(f"role.{role}", "word")


def origin_word(origin: str) -> Figure:
    """Where a range comes from, as a figure of a remark."""
    return Figure(f"origin.{origin}", "word")


def why_bead(joint: PlanInputs, program: LayerProgram, layer: Layer) -> Remark:
    """Which rule made the bead so."""
    o = layer.option
    figures = {"area": Figure((o.low, o.high), "area"), "origin": origin_word(o.origin)}
    if layer.role == "root" and joint.prep.open_root:
        return Remark("why.open_root", INSIDE, figures | {"throat": _mm(rules.throat_mm(joint))})
    if layer.role == "hot":
        return Remark("why.hot", INSIDE, figures)
    width = program.cap_width if layer.role == "cap" else float(program.groove.width(layer.y1))
    figures |= {"width": _mm(width), "across": _mm(o.across_mm), "core": _mm(o.rod.diameter_mm), "stringer": _mm(o.stringer_mm),
                "beads": Figure(layer.count, "count"), "pitch": _mm(width / layer.count)}  # fmt: skip
    where = "cap" if layer.role == "cap" else "fill"
    return Remark(f"why.{where}.one" if layer.count == 1 else f"why.{where}.several", INSIDE, figures)


def bridging_remarks(joint: PlanInputs, program: LayerProgram) -> list[Remark]:
    """What the gap and the root face ask of the root rods, where it is outside the rule."""
    prep = joint.prep
    if prep.backing == "bar" and prep.bar_gap_mm > rules.GAP_UNDER_BAR_MM:
        return [watch("bar.gap", Place(), "typical", value=_mm(prep.bar_gap_mm), window=Figure((None, rules.GAP_UNDER_BAR_MM), "length"),
                      most=_mm(rules.GAP_UNDER_BAR_MM))]  # fmt: skip
    roots = program.options["root"]
    if not prep.open_root or any(all(rules.bridging_cores(joint, o.rod)) for o in roots):
        return []
    (low, high), d = rules.BRIDGED_GAP_CORES, rules.bridging_core_mm(roots[0].rod)
    gap_ok, face_ok = rules.bridging_cores(joint, roots[0].rod)
    found = []
    if not gap_ok:
        code = "root.gap.wide" if prep.root_gap_mm > high * d else "root.gap.tight"
        found.append(watch(code, Place(), "typical", value=_mm(prep.root_gap_mm), core=_mm(d), window=Figure((low * d, high * d), "length")))
    if not face_ok:
        most = rules.BRIDGED_FACE_CORES * d
        found.append(watch("root.face", Place(), "typical", value=_mm(prep.root_face_mm), core=_mm(d), most=_mm(most), window=Figure((None, most), "length")))
    return found


def fillet_remarks(joint: PlanInputs) -> list[Remark]:
    """A fit-up gap takes its own size off the leg on the standing plate."""
    gap, free = joint.prep.root_gap_mm, rules.FILLET_GAP_FREE_MM
    if not joint.prep.kind.fillet or gap <= free:
        return []
    return [watch("fillet.gap", Place(), "typical", value=_mm(gap), free=_mm(free), window=Figure((None, free), "length"))]


def blocked(joint: PlanInputs, program: LayerProgram) -> Remark:
    """Why no plan is allowed on a side: the stage that fails."""
    return _blocking(joint, program, Wish(FEWEST))


def freeing(whole: PlanInputs, reasons: Iterable[Remark]) -> tuple[Remark, ...]:
    """Single changes of the whole joint after which it can be planned; rods are tried for the passes that failed."""
    stages = {reason.code.split(".")[0] for reason in reasons}
    roles = tuple(role for role in ROLES if role in stages or (role == "hot" and "fill" in stages))
    return tuple(islice(_freeing(whole, roles), MOST_REMEDIES))


def _blocking(joint: PlanInputs, program: LayerProgram, wish: Wish) -> Remark:
    if not program.roots(wish):
        return _root_blocked(joint, program)
    if not any(program.caps(wish)):
        o = program.options["cap"][0]
        return outside("cap.blocked", Place(), o.origin, value=_mm(program.cap_width), area=Figure((o.low, o.high), "area"), rod=Figure(o.rod.id, "rod"))
    return _fill_blocked(joint, program)


def _root_blocked(joint: PlanInputs, program: LayerProgram) -> Remark:
    prep, roots = joint.prep, program.options["root"]
    smallest = min(o.rod.diameter_mm for o in roots)
    if not prep.open_root:
        code = {"bar": "root.bar", "ceramic": "root.ceramic"}.get(prep.backing, "root.closed")
        return outside(code, Place(), "typical", value=_mm(prep.root_gap_mm), core=_mm(smallest), needed=_mm(rules.ROD_FITS_CORES * smallest))
    widest = rules.WIDEST_GAP_CORES * max(rules.bridging_core_mm(o.rod) for o in roots)
    if prep.root_gap_mm > widest:
        return outside("root.gap.open", Place(), "typical", value=_mm(prep.root_gap_mm), most=_mm(widest), window=Figure((None, widest), "length"))
    return outside("root.throat", Place(), "typical", value=_mm(prep.root_face_mm), throat=_mm(rules.throat_mm(joint)))


def _fill_blocked(joint: PlanInputs, program: LayerProgram) -> Remark:
    """No layers between root and cap: the window that leaves too little, or the groove's own shape."""
    options = program.options["fill"]
    clash = next((found for o in options if (found := rules.clashing_window(joint, o.rod, o.role)) is not None), None)
    rods = Figure(tuple(o.rod.id for o in options), "rods")
    if clash is not None:
        quantity, window = clash
        return outside("fill.blocked.window", Place(), "procedure", quantity=Figure(f"quantity.{quantity}", "word"), window=window, rods=rods)
    smallest = min((o.rod.diameter_mm for o in options), default=0.0)
    return outside("fill.blocked", Place(), "typical", rods=rods, needed=_mm(rules.ROD_FITS_CORES * smallest),
                   layer=Figure((rules.THICKNESS_CORES[0] * smallest, rules.WEAVE_THICKNESS_CORES * smallest), "length"))  # fmt: skip


def _plannable(joint: PlanInputs) -> bool:
    if geometry_faults(joint):
        return False
    for side in sides_of(joint):
        options, reasons = options_for(side.joint, side.groove)
        step = max(TRIAL_STEP_MM, side.groove.thickness_mm / TRIAL_STATES)
        if reasons or LayerProgram(side.joint, side.groove, options, step).solve(Wish(FEWEST)) is None:
            return False
    return True


def _freeing(joint: PlanInputs, roles: Sequence[str]) -> Iterator[Remark]:
    """Single changes, tried one after the other; those after which a plan exists."""
    for remark, changed in _changes(joint, roles):
        if _plannable(changed):
            yield remark


def _changes(joint: PlanInputs, roles: Sequence[str]) -> Iterator[tuple[Remark, PlanInputs]]:
    for quantity in sorted({window.quantity for window in joint.windows}):
        kept = tuple(w for w in joint.windows if w.quantity != quantity)
        yield outside("freed.window", quantity=Figure(f"quantity.{quantity}", "word")), replace(joint, windows=kept)
    for more in GAP_TRIALS_MM:
        gap = round(joint.prep.root_gap_mm + more, 1)
        if gap >= 0:
            yield outside("freed.gap", gap=_mm(gap)), edited(joint, root_gap_mm=gap)
    by_id = joint.rods_by_id
    for role in roles:
        types = {by_id[r].type for r in joint.rods_for(role) if r in by_id}
        for rod in joint.rods:
            if rod.type in types and rod.id not in joint.rods_for(role):
                uses = (*joint.uses, RodUse(role=role, rod=rod.id))
                yield outside("freed.rod", rod=Figure(rod.id, "rod"), role=role_word(role)), replace(joint, uses=uses)
    if joint.prep.kind.shapes != {SQUARE}:
        for more in BEVEL_TRIALS_DEG:
            right, left = joint.prep.bevel_right_deg + more, joint.prep.bevel_left_deg + more
            yield outside("freed.bevel", angle=Figure(right, "angle")), edited(joint, bevel_left_deg=left, bevel_right_deg=right)
