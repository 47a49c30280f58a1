"""Why a bead is as it is, and what blocks a plan: remarks whose words stand in the table."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from banister.core.joint.kinds import SQUARE
from banister.core.joint.working import FEWEST
from banister.core.plan import rules
from banister.core.plan.chains import coolest, peak_energy
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.layers import Layer, LayerProgram, Wish
from banister.core.plan.rules import Option
from banister.core.plan.sides import SEAL_DEPTH_MM
from banister.core.remark import INSIDE, NO_PLACE, Figure, Remark, outside, watch
from banister.core.rods.rod import Rod

HALF_NOSE_DEG, NOSE_DEG = 45.0, 50.0
"""Included angles a closed half groove and a closed V want at the nose, so that the arc reaches both walls (shop figures)."""


def _mm(value: float) -> Figure:
    return Figure(value, "length")


def role_word(role: str) -> Figure:
    """A role as a figure of a remark."""
    return Figure(f"role.{role}", "word")


def origin_word(origin: str) -> Figure:
    """Where a range comes from, as a figure of a remark."""
    return Figure(f"origin.{origin}", "word")


def why_bead(joint: PlanInputs, program: LayerProgram, layer: Layer, before: Option | None = None) -> Remark:
    """Which rule made the bead so; where the layer below has another rod (`before`) that cannot lay this one, by how much it cannot."""
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
    total = layer.area_mm2 * layer.count
    if before is not None and where == "fill" and before.rod.id != o.rod.id and total < _least_of(before, width):
        forced = {"before": Figure(before.rod.id, "rod"), "needed": Figure(_least_of(before, width), "area"), "total": Figure(total, "area")}
        return Remark("why.fill.rod", INSIDE, figures | forced)
    return Remark(f"why.{where}.one" if layer.count == 1 else f"why.{where}.several", INSIDE, figures)


def _least_of(option: Option, width: float) -> float:
    """The least metal a rod lays in a layer of a width: as few beads as reach across, each as small as it may be."""
    beads = 1 if width <= option.across_mm else math.ceil(width / option.widest_pitch_mm)
    return rules.PLAN_ROOM[0] * option.low * beads


def bridging_remarks(joint: PlanInputs, program: LayerProgram) -> list[Remark]:
    """What the gap and the root face ask of the root rods, where it is outside the rule."""
    prep = joint.prep
    if prep.backing == "bar" and prep.bar_gap_mm > rules.GAP_UNDER_BAR_MM:
        return [watch("bar.gap", NO_PLACE, "typical", value=_mm(prep.bar_gap_mm), window=Figure((None, rules.GAP_UNDER_BAR_MM), "length"),
                      most=_mm(rules.GAP_UNDER_BAR_MM))]  # fmt: skip
    roots = program.options["root"]
    if not prep.open_root or any(all(rules.bridging_cores(joint, o.rod)) for o in roots):
        return []
    (low, high), heaviest = rules.bridged_cores(joint, roots[0].rod)
    d = rules.bridging_core_mm(roots[0].rod)
    gap_ok, face_ok = rules.bridging_cores(joint, roots[0].rod)
    found = []
    if not gap_ok:
        code = "root.gap.wide" if prep.root_gap_mm > high * d else "root.gap.tight"
        found.append(watch(code, NO_PLACE, "typical", value=_mm(prep.root_gap_mm), core=_mm(d), window=Figure((low * d, high * d), "length")))
    if not face_ok:
        most = heaviest * d
        found.append(watch("root.face", NO_PLACE, "typical", value=_mm(prep.root_face_mm), core=_mm(d), most=_mm(most), window=Figure((None, most), "length")))
    return found


def fillet_remarks(joint: PlanInputs) -> list[Remark]:
    """A fit-up gap takes its own size off the leg on the standing plate."""
    gap, free = joint.prep.root_gap_mm, rules.FILLET_GAP_FREE_MM
    if not joint.prep.kind.fillet or gap <= free:
        return []
    return [watch("fillet.gap", NO_PLACE, "typical", value=_mm(gap), free=_mm(free), window=Figure((None, free), "length"))]


def unfused_remarks(joint: PlanInputs) -> list[Remark]:
    """How much of a closed root face neither side melts: nothing gouges it, or a sealing run does not reach."""
    prep = joint.prep
    if not prep.kind.has_face or prep.backing != "closed" or prep.second_side == "gouge":
        return []
    left = prep.root_face_mm - (SEAL_DEPTH_MM if prep.second_side == "seal" else 0.0)
    return [watch("root.unfused", NO_PLACE, "geometry", value=_mm(left), window=Figure((None, 0.0), "length"))] if left > 0.05 else []


def blocked(joint: PlanInputs, program: LayerProgram) -> Remark:
    """Why no plan is allowed on a side: the stage that fails."""
    return _blocking(joint, program, Wish(FEWEST))


def over_cap(program: LayerProgram, balanced: Sequence[Layer], cap_kj_mm: float) -> Remark:
    """That no plan of a side was found with every pass under an arc energy, and what the coolest answer has."""
    return outside("answer.over_cap", value=Figure(peak_energy(coolest(program, balanced).layers), "energy"), limit=Figure(cap_kj_mm, "energy"))


def _blocking(joint: PlanInputs, program: LayerProgram, wish: Wish) -> Remark:
    if not program.roots(wish).state.size:
        return _root_blocked(joint, program)
    if not np.isfinite(program.caps(wish).cost).any():
        o = program.options["cap"][0]
        return outside("cap.blocked", NO_PLACE, o.origin, value=_mm(program.cap_width), area=Figure((o.low, o.high), "area"), rod=Figure(o.rod.id, "rod"))
    return _fill_blocked(joint, program)


def _root_blocked(joint: PlanInputs, program: LayerProgram) -> Remark:
    """What of a root fails, by name: gap, face, width at its top, or the bead's area."""
    prep, roots = joint.prep, program.options["root"]
    smallest = min((o.rod for o in roots), key=lambda rod: rod.diameter_mm)
    if prep.open_root:
        return _open_root_blocked(joint, smallest, roots)
    narrow = _narrow_root(joint, program, smallest.diameter_mm)
    if narrow is not None:
        return narrow
    low, high = min(o.low for o in roots), max(o.high for o in roots)
    thickest = min(program.groove.thickness_mm, rules.WEAVE_THICKNESS_CORES * max(o.rod.diameter_mm for o in roots))
    fits = float(program.groove.area_below(thickest)) + rules.root_metal_below(joint)
    return outside("root.area", NO_PLACE, roots[0].origin, value=Figure(fits, "area"), depth=_mm(thickest), window=Figure((low, high), "area"))


def _narrow_root(joint: PlanInputs, program: LayerProgram, core: float) -> Remark | None:
    """A groove with no room for the arc at the top of its root, None where there is room."""
    prep, closed = joint.prep, joint.prep.backing == "closed"
    deepest = min(rules.NOSE_MOST_MM, rules.NOSE_THICKNESS_CORES * core) if closed else rules.WEAVE_THICKNESS_CORES * core
    width = float(program.groove.width(min(deepest, program.groove.thickness_mm)))
    if closed and prep.kind.shapes == {SQUARE} and width < 1.0:
        return outside("root.square", NO_PLACE, "geometry")
    if not closed:
        needed = rules.ROD_FITS_CORES * core
        code = "root.bar" if prep.backing == "bar" else "root.ceramic"
        return outside(code, NO_PLACE, "typical", value=_mm(prep.root_gap_mm), core=_mm(core), needed=_mm(needed)) if width < needed else None
    included = sum(angle for shape, angle in ((prep.kind.left, prep.bevel_left_deg), (prep.kind.right, prep.bevel_right_deg)) if shape != SQUARE)
    wanted = HALF_NOSE_DEG if SQUARE in prep.kind.shapes else NOSE_DEG
    if included >= wanted or prep.kind.fillet:
        return None
    return outside("root.closed", NO_PLACE, "typical", value=Figure(included, "angle"), wanted=Figure(wanted, "angle"), core=_mm(core),
                   window=Figure((wanted, None), "angle"))  # fmt: skip


def _open_root_blocked(joint: PlanInputs, smallest: Rod, roots: Sequence[Option]) -> Remark:
    prep = joint.prep
    least, widest = rules.LEAST_GAP_CORES * smallest.diameter_mm, rules.WIDEST_GAP_CORES * max(rules.bridging_core_mm(o.rod) for o in roots)
    if prep.root_gap_mm > widest:
        return outside("root.gap.open", NO_PLACE, "typical", value=_mm(prep.root_gap_mm), most=_mm(widest), window=Figure((None, widest), "length"))
    if prep.root_gap_mm < least:
        bridged = rules.bridged_cores(joint, smallest)[0][0] * smallest.diameter_mm
        return outside("root.gap.none", NO_PLACE, "typical", value=_mm(prep.root_gap_mm), least=_mm(bridged),
                       window=Figure((least, None), "length"))  # fmt: skip
    thickest = rules.THICKEST_FACE_CORES * max(rules.bridging_core_mm(o.rod) for o in roots)
    if prep.kind.has_face and prep.root_face_mm > thickest:
        largest, light = max(rules.bridging_core_mm(o.rod) for o in roots), rules.bridged_cores(joint, smallest)[1] * rules.bridging_core_mm(smallest)
        return outside("root.face.thick", NO_PLACE, "typical", value=_mm(prep.root_face_mm), core=_mm(largest), most=_mm(light),
                       window=Figure((None, thickest), "length"))  # fmt: skip
    return outside("root.throat", NO_PLACE, "typical", value=_mm(prep.root_face_mm), throat=_mm(rules.throat_mm(joint)))


def _fill_blocked(joint: PlanInputs, program: LayerProgram) -> Remark:
    """No layers between root and cap: the window that leaves too little, or the groove's own shape."""
    options = program.options["fill"]
    clash = next((found for o in options if (found := rules.clashing_window(joint, o.rod, o.role)) is not None), None)
    rods = Figure(tuple(o.rod.id for o in options), "rods")
    if clash is not None:
        quantity, window = clash
        return outside("fill.blocked.window", NO_PLACE, "procedure", quantity=Figure(f"quantity.{quantity}", "word"), window=window, rods=rods)
    smallest = min((o.rod.diameter_mm for o in options), default=0.0)
    return outside("fill.blocked", NO_PLACE, "typical", rods=rods, needed=_mm(rules.ROD_FITS_CORES * smallest),
                   layer=Figure((rules.THICKNESS_CORES[0] * smallest, rules.WEAVE_THICKNESS_CORES * smallest), "length"))  # fmt: skip


def why_by_hand() -> Remark:
    """A bead nobody planned."""
    return Remark("why.by_hand", INSIDE)
