"""A laid bead as a pass: its place in the section, what is remarked of it, and every figure that follows from rod, setting and area."""

from __future__ import annotations

from banister.core.plan import rules
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.placing import Laid
from banister.core.plan.plan import STRINGER, WEAVE, Pass, pass_figures
from banister.core.plan.soundness import bead_remarks
from banister.core.remark import Remark


def measured(joint: PlanInputs, side: str, laid: Laid, number: int, why: Remark, is_last: bool) -> Pass:
    """The pass of a bead on a side, in that side's own coordinates; `is_last` if none of its layer comes after it."""
    bead, option = laid.bead, laid.option
    place = joint.place
    middle = ((bead.left[0] + bead.right[0]) / 2, (bead.left[1] + bead.right[1]) / 2)
    height = sum(y for _, y in bead.outline) / len(bead.outline)
    across = bead.width_mm > rules.STRINGER_ACROSS_CORES * option.rod.diameter_mm
    return Pass(
        key=f"p{number}", number=number, role=laid.layer.role, layer=laid.layer_number, optimum_area_mm2=laid.layer.area_mm2, aim_mm=middle,
        width_mm=bead.width_mm, thickness_mm=bead.thickness_mm, outline_mm=bead.outline, face_points=len(bead.face),
        technique=WEAVE if across else STRINGER,
        progression=(joint.piece.root_progression if laid.layer.role == "root" else "") or joint.piece.progression if place.has_progression else "",
        side=side, state="pinned" if laid.pin is not None else "planned",
        why=why, area_window=(option.low, option.high), area_origin=option.origin, remarks=bead_remarks(laid, f"p{number}", middle, is_last),
        **pass_figures(option.rod, option.amps, option.volts, bead.area_mm2, joint.weld_length_mm(height), joint.runs),
    )  # fmt: skip
