"""From a joint to its cooling model: what lies across it, where it is watched, and when heat comes there."""

from __future__ import annotations

import math
from functools import lru_cache

from banister.core.heat.fin import AUSTENITIC, STEEL, Across, Fin, Material, Stretch, loss
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.limits.windows import tightest
from banister.core.plan.plan import Plan
from banister.core.remark import NO_PLACE, Figure, Remark, outside
from banister.core.value import Struct
from banister.core.words import Speech

SHORT_MM = 200.0
LUMPED_OD_MM = 75.0
HOTTER_THAN_LIMIT_K = 30.0
"""The loss is taken that much over the limit at least; a small piece is warmed through by a pass, and cools from further up."""
BORE_LOSS = {"open": 1.0, "closed": 0.05, "filled": 0.0}
"""Share of the loss of a free face that a pipe's bore has: open to a draught, closed and still, filled with insulation (typical)."""
USUAL_INTERPASS_C, USUAL_STAINLESS_INTERPASS_C = 250.0, 150.0
NEAR_PREHEAT_MM, FAR_PREHEAT_MM, THICK_MM, PAST_POINT_MM = 50.0, 75.0, 50.0, 15.0


class Station(Struct, frozen=True):
    """A place along the weld: its name (the word `station.NAME`), and when (shares of a pass's time) which shares of its heat come there.

    `at_once` are the same where both halves of a fixed pipe are welded at once; () where that is no other.
    """

    name: str
    events: tuple[tuple[float, float], ...]
    at_once: tuple[tuple[float, float], ...] = ()

    @property
    def together(self) -> tuple[tuple[float, float], ...]:
        """When which shares of a pass's heat come there while two welders burn a half each."""
        return self.at_once or self.events


class Limits(Struct, frozen=True):
    """Preheat at least (None where none is set) and interpass at most, degC; `set_` false where nobody set the interpass limit."""

    preheat_c: float | None
    interpass_c: float
    set_: bool


def limits_of(joint: Joint) -> Limits:
    """The limits in force: the tightest of the job's windows, else no preheat and 250 degC (austenitic 150), typical."""
    preheat = tightest(joint.working.windows, "preheat").low
    interpass = tightest(joint.working.windows, "interpass").high
    is_set = math.isfinite(interpass)
    usual = USUAL_STAINLESS_INTERPASS_C if joint.metal.stainless else USUAL_INTERPASS_C
    return Limits(preheat if math.isfinite(preheat) else None, interpass if is_set else usual, is_set)


def preheat_point_mm(joint: Joint) -> float:
    """Where preheat is read beyond the groove's edge: 4 t, at most 50 mm; 75 mm over 50 mm of thickness (ISO 13916, unverified)."""
    t = joint.plate_thickness_mm
    return FAR_PREHEAT_MM if t > THICK_MM else min(4 * t, NEAR_PREHEAT_MM)


def band_half_mm(joint: Joint) -> float:
    """Half the preheated band, from the middle of the weld; a little past the place where preheat is read, at least."""
    return edge_mm(joint) + max(joint.heat.preheat_band_mm, preheat_point_mm(joint) + PAST_POINT_MM)


def warmed_to_c(joint: Joint) -> float:
    """What the band is warmed to: preheat and the margin above it, never below the air."""
    preheat = limits_of(joint).preheat_c
    return joint.heat.air_c if preheat is None else max(preheat + joint.heat.margin_k, joint.heat.air_c)


def heat_faults(joint: Joint) -> tuple[Remark, ...]:
    """What makes a schedule impossible."""
    limits, air = limits_of(joint), joint.heat.air_c
    figures = {"interpass": _set_c(limits.interpass_c), "air": _set_c(air)}
    found = []
    if limits.interpass_c <= air:
        found.append(outside("heat.air", NO_PLACE, "windows", **figures))
    if limits.preheat_c is None:
        return tuple(found)
    warmed = limits.preheat_c + joint.heat.margin_k
    figures |= {"preheat": _set_c(limits.preheat_c), "warmed": _set_c(warmed)}
    if limits.preheat_c >= limits.interpass_c:
        found.append(outside("heat.window", NO_PLACE, "windows", **figures))
    elif warmed >= limits.interpass_c:
        found.append(outside("heat.warming", NO_PLACE, "windows", **figures))
    if limits.preheat_c > air and joint.heat.preheat_band_mm < preheat_point_mm(joint):
        found.append(outside("heat.band", NO_PLACE, "windows", band=Figure(joint.heat.preheat_band_mm, "length"),
                             point=Figure(preheat_point_mm(joint), "length")))  # fmt: skip
    return tuple(found)


def _set_c(value: float) -> Figure:
    return Figure(value, "set_temperature")


def material_of(joint: Joint) -> Material:
    """Carbon steel, or austenitic stainless (not verified)."""
    return AUSTENITIC if joint.metal.stainless else STEEL


def across_of(joint: Joint) -> Across:
    """Plates with their widths and thicknesses, tapers as steps at half their run, and the bar.

    A tee or lap fillet has three ways for the heat: the plate that goes on past the weld leads it away
    to both sides, the upper or upright one to one; the two on the left count as two sheets.
    """
    left, right = joint.prep.thickness_mm, joint.prep.right_thickness_mm or joint.prep.thickness_mm
    at_weld = joint.plate_thickness_mm
    if joint.repair is not None:
        left = right = at_weld
    run = abs(left - right) * joint.prep.taper / 2
    heat = joint.heat
    if joint.prep.kind.fillet:
        t, through = joint.prep.thickness_mm / 1000, 1 if joint.prep.key == "fillet-corner" else 2
        return Across(left=(Stretch(width=heat.width_left_mm / 1000, thickness=t, sheets=through),),
                      right=(Stretch(width=heat.width_right_mm / 1000, thickness=t),))  # fmt: skip

    def side(own: float, width: float) -> tuple[Stretch, ...]:
        if own <= at_weld or run < 1.0 or run >= width - 5.0:
            return (Stretch(width=width / 1000, thickness=own / 1000),)
        return (Stretch(width=run / 1000, thickness=at_weld / 1000), Stretch(width=(width - run) / 1000, thickness=own / 1000))

    bar = joint.prep.backing == "bar"
    return Across(
        left=side(left, heat.width_left_mm), right=side(right, heat.width_right_mm), bar_width=joint.prep.bar_width_mm / 1000 if bar else 0.0,
        bar_thickness=joint.prep.bar_thickness_mm / 1000 if bar else 0.0, edges_lose_heat=True,
    )  # fmt: skip


def edge_mm(joint: Joint) -> float:
    """Distance of the groove's farther edge from the middle of the weld."""
    return max(abs(x) for x in groove_of(joint.prep).edges_x)


STATIONS = ("start", "middle", "end", "coupon", "circle", "opposite", "six", "three", "twelve", "nine")
"""Names of places along a weld whose temperature is watched."""


def stations_of(joint: Joint) -> tuple[Station, ...]:
    """Where along the weld the joint is watched."""
    if joint.piece.form == "pipe":
        return _pipe_stations(joint)
    if joint.piece.length_mm <= SHORT_MM:
        return (Station("coupon", ((0.5, 1.0),)),)
    return tuple(Station(name, ((share, 1.0),)) for name, share in (("start", 0.0), ("middle", 0.5), ("end", 1.0)))


def _pipe_stations(joint: Joint) -> tuple[Station, ...]:
    if joint.piece.pipe_od_mm < LUMPED_OD_MM:
        return (Station("circle", ((0.5, 1.0),)),)
    if len(joint.attitudes("fill")) > 1:
        first, last = ("twelve", "six") if joint.piece.progression == "down" else ("six", "twelve")
        return (Station(first, ((0.0, 0.5), (0.5, 0.5)), ((0.0, 1.0),)), Station("three", ((0.25, 1.0),), ((0.5, 1.0),)),
                Station(last, ((0.5, 0.5), (1.0, 0.5)), ((1.0, 1.0),)), Station("nine", ((0.75, 1.0),), ((0.5, 1.0),)))  # fmt: skip
    return (Station("start", ((0.0, 0.5), (1.0, 0.5))), Station("opposite", ((0.5, 1.0),)))


def loss_of(joint: Joint, surface_c: float) -> float:
    """h of both faces, W/m2K, with the joint's factor and the end faces of a short coupon; a pipe's bore is a face of its own."""
    inner = BORE_LOSS[joint.heat.bore] if joint.piece.form == "pipe" else 1.0
    h = loss(surface_c, joint.heat.air_c, inner) * joint.heat.loss_factor
    if joint.piece.form == "plate" and joint.piece.length_mm <= SHORT_MM:
        h *= 1 + joint.plate_thickness_mm / joint.piece.length_mm
    return h


def assumed_said(joint: Joint, say: Speech) -> str:
    """The piece the model takes the joint for: what a prediction stands on."""
    heat = joint.heat
    figures: dict[str, Figure | str] = {"left": Figure(heat.width_left_mm, "length"), "right": Figure(heat.width_right_mm, "length"), "air": _set_c(heat.air_c)}
    if joint.piece.form == "pipe":
        return say("assumed.pipe", bore=say(f"bore.{heat.bore}"), **figures)
    return say("assumed.plate", **figures)


def mean_over_limit_k(warms_k: float, over_air_k: float) -> float:
    """How far over the limit a piece is on average while it cools back to it: the logarithmic mean of a body that is even through.

    `warms_k` is what a pass warms the whole piece by, `over_air_k` how far the limit lies over the air.
    """
    if warms_k <= 0.0 or over_air_k <= 0.0:
        return 0.0
    return warms_k / math.log1p(warms_k / over_air_k) - over_air_k


def fin_of(joint: Joint, plan: Plan) -> Fin:
    """The model at the loss that holds while the plan is welded."""
    across, material = across_of(joint), material_of(joint)
    section = sum(s.width * s.thickness for side in (across.left, across.right) for s in side) + across.bar_width * across.bar_thickness
    joules = 1e6 * sum(p.heat_input_kj_mm for p in plan.passes) / max(len(plan.passes), 1)
    limit_c = limits_of(joint).interpass_c
    warmer_k = mean_over_limit_k(joules / (material.density * material.capacity * section), limit_c - joint.heat.air_c)
    h = loss_of(joint, limit_c + max(HOTTER_THAN_LIMIT_K, warmer_k))
    return _fin(across, material, h, max(edge_mm(joint), 2.0) / 1000)


@lru_cache(maxsize=32)
def _fin(across: Across, material: Material, h: float, heat_half_m: float) -> Fin:
    """Remembered: schedules, bands, maps and boards of one plan all ask for it."""
    return Fin(across, material, h, heat_half_m)


def valid_from_s(joint: Joint) -> float:
    """Seconds after an arc from which the model holds: max(60, d2 / a)."""
    return max(60.0, (joint.plate_thickness_mm / 1000) ** 2 / material_of(joint).diffusivity)
