"""The uneven joint in stretches: where a layer's run-out, or its number of beads, is another than planned.

The plan's levels are held; beads are added or dropped only in a layer that leaves its window with as many as planned. A bead
whose area leaves its window stays at the limit, and the next layer makes up for it.
"""

from __future__ import annotations

import itertools

import numpy as np

from banister.core.fitup.places import course_of
from banister.core.fitup.uneven import along, beads_along
from banister.core.joint.fitting import FitUp
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

PITCH_MM = 10.0
TOLD = 0.10
"""A run-out so much longer or shorter than planned is told."""
SINGLE = ("root", "hot")


class Stretch(Struct, frozen=True):
    """A part of the weld where a layer takes `beads` beads, each with the mean run-out of that part; what was planned beside it."""

    layer: int
    role: str
    from_s: float
    to_s: float
    beads: int
    planned_beads: int
    run_out_mm: float
    planned_run_out_mm: float


def stretches(joint: Joint, plan: Plan, fitup: FitUp) -> tuple[Stretch, ...]:
    """Every stretch of every layer of the front that is other than planned, root first; none without readings."""
    if not plan.feasible or not fitup.readings:
        return ()
    length = course_of(joint).length_mm
    places = np.arange(PITCH_MM / 2, length, PITCH_MM)
    found, made_up = list[Stretch](), np.zeros(len(places))
    for row in along(joint, plan, fitup, places.tolist()):
        first, n0 = row.passes[0], len(row.passes)
        planned = sum(p.area_mm2 for p in row.passes)
        areas = planned / np.array(row.ratios) + made_up
        low, high = first.area_window
        is_held = first.role in SINGLE or bool(((areas / n0 >= low - 1e-9) & (areas / n0 <= high + 1e-9)).all())
        counts = (n0,) if is_held else tuple(n for n in (n0 - 1, n0, n0 + 1) if n > 0)
        beads = np.array(beads_along(areas.tolist(), PITCH_MM, counts, first.area_window)[0])
        each = np.clip(areas / beads, low, high)
        made_up = areas - each * beads
        run_out = first.rod.deposit_mm3 / each
        told = [(n, _told(ratio)) for n, ratio in zip(beads.tolist(), (run_out / first.run_out_mm).tolist(), strict=True)]
        at = 0
        for (n, way), group in itertools.groupby(told):
            end = at + len(list(group))
            if n != n0 or way:
                found.append(Stretch(row.layer, first.role, at * PITCH_MM, min(end * PITCH_MM, length), n, n0, float(run_out[at:end].mean()), first.run_out_mm))
            at = end
    return tuple(found)


def _told(ratio: float) -> int:
    return 0 if abs(ratio - 1) < TOLD else 1 if ratio > 1 else -1


def stretch_said(stretch: Stretch, joint: Joint, say: Speech) -> str:
    """A stretch in words: from where to where, run-out instead of that planned, beads more or fewer."""
    course = course_of(joint)
    figures: dict[str, Figure | str | int | float] = {"layer": str(stretch.layer), "start": course.figure(stretch.from_s), "end": course.figure(stretch.to_s),
               "run_out": Figure(stretch.run_out_mm, "long_length"), "planned": Figure(stretch.planned_run_out_mm, "long_length")}  # fmt: skip
    more = stretch.beads - stretch.planned_beads
    return say("stretch.said", **figures) + (say("stretch.more" if more > 0 else "stretch.fewer") if more else "")
