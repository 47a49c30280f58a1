"""From a joint to its cooling model: what lies across it, where it is watched, and when heat comes there."""

from __future__ import annotations

import math
from dataclasses import dataclass

from banister.core.remark import OUTSIDE, Finding
from banister.core.heat.fin import AUSTENITIC, STEEL, Across, Fin, Material, Stretch, loss
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.limits.windows import tightest

SHORT_MM = 200.0
LUMPED_OD_MM = 75.0
HOTTER_THAN_LIMIT_K = 30.0
USUAL_INTERPASS_C, USUAL_STAINLESS_INTERPASS_C = 250.0, 150.0
NEAR_PREHEAT_MM, FAR_PREHEAT_MM, THICK_MM, PAST_POINT_MM = 50.0, 75.0, 50.0, 15.0


@dataclass(frozen=True, slots=True)
class Station:
    """A place along the weld: its name, and when (shares of a pass's time) which shares of its heat come there."""

    name: str
    events: tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Limits:
    """Preheat at least and interpass at most, degC; `set_` false where nobody set the interpass limit."""

    preheat_c: float
    interpass_c: float
    set_: bool


def limits_of(joint: Joint) -> Limits:
    """The limits in force: the tightest of the job's windows, else no preheat and 250 degC (austenitic 150), typical."""
    preheat = tightest(joint.windows, "preheat").low
    interpass = tightest(joint.windows, "interpass").high
    is_set = math.isfinite(interpass)
    usual = USUAL_STAINLESS_INTERPASS_C if joint.heat.stainless else USUAL_INTERPASS_C
    return Limits(preheat if math.isfinite(preheat) else -273.0, interpass if is_set else usual, is_set)


def preheat_point_mm(joint: Joint) -> float:
    """Where preheat is read beyond the groove's edge: 4 t, at most 50 mm; 75 mm over 50 mm of thickness (ISO 13916, unverified)."""
    t = joint.welded_thickness_mm
    return FAR_PREHEAT_MM if t > THICK_MM else min(4 * t, NEAR_PREHEAT_MM)


def band_half_mm(joint: Joint) -> float:
    """Half the preheated band, from the middle of the weld; a little past the place where preheat is read, at least."""
    return edge_mm(joint) + max(joint.heat.preheat_band_mm, preheat_point_mm(joint) + PAST_POINT_MM)


def warmed_to_c(joint: Joint) -> float:
    """What the band is warmed to: preheat and what the job goes over it; far below air where no preheat is set."""
    return limits_of(joint).preheat_c + joint.heat.warm_over_k


def heat_faults(joint: Joint) -> tuple[Finding, ...]:
    """What makes a schedule impossible, in plain words."""
    limits, air = limits_of(joint), joint.heat.air_c
    found = []
    if limits.interpass_c <= air:
        found.append(_fault("heat.air", f"the interpass limit {limits.interpass_c:g} \N{DEGREE SIGN}C is not above the air at {air:g} \N{DEGREE SIGN}C: "
                            "the joint never cools to it", "Raise the limit, or weld where it is cooler."))  # fmt: skip
    if limits.preheat_c >= limits.interpass_c:
        found.append(_fault("heat.window", f"preheat {limits.preheat_c:g} \N{DEGREE SIGN}C is not below interpass {limits.interpass_c:g} \N{DEGREE SIGN}C: "
                            "no pass may start", "Lower the preheat or raise the interpass limit."))  # fmt: skip
    elif warmed_to_c(joint) >= limits.interpass_c:
        found.append(_fault("heat.warming", f"warming to {warmed_to_c(joint):g} \N{DEGREE SIGN}C is not below interpass {limits.interpass_c:g} "
                            "\N{DEGREE SIGN}C", "Warm less over the preheat."))  # fmt: skip
    if limits.preheat_c > air and joint.heat.preheat_band_mm < preheat_point_mm(joint):
        found.append(_fault("heat.band", f"the preheated band of {joint.heat.preheat_band_mm:g} mm does not reach the place where preheat is read, "
                            f"{preheat_point_mm(joint):g} mm from the groove's edge", "Warm a wider band."))  # fmt: skip
    return tuple(found)


def _fault(code: str, text: str, remedy: str) -> Finding:
    return Finding(code, OUTSIDE, text, remedy, basis="the job's windows")


def material_of(joint: Joint) -> Material:
    """Carbon steel, or austenitic stainless (not verified)."""
    return AUSTENITIC if joint.heat.stainless else STEEL


def across_of(joint: Joint) -> Across:
    """Plates with their widths and thicknesses, tapers as steps at half their run, and the bar.

    A tee or lap fillet has three ways for the heat: the plate that goes on past the weld leads it away
    to both sides, the upper or upright one to one; the two on the left count as two sheets.
    """
    left, right = joint.thickness_mm, joint.right_thickness_mm or joint.thickness_mm
    at_weld = joint.welded_thickness_mm
    run = abs(left - right) * joint.taper / 2
    heat = joint.heat
    if joint.kind.fillet:
        t, through = joint.thickness_mm / 1000, 1 if joint.preparation == "fillet-corner" else 2
        return Across(left=(Stretch(width=heat.width_left_mm / 1000, thickness=t, sheets=through),),
                      right=(Stretch(width=heat.width_right_mm / 1000, thickness=t),))  # fmt: skip

    def side(own: float, width: float) -> tuple[Stretch, ...]:
        if own <= at_weld or run < 1.0 or run >= width - 5.0:
            return (Stretch(width=width / 1000, thickness=own / 1000),)
        return (Stretch(width=run / 1000, thickness=at_weld / 1000), Stretch(width=(width - run) / 1000, thickness=own / 1000))

    bar = joint.backing == "bar"
    return Across(
        left=side(left, heat.width_left_mm), right=side(right, heat.width_right_mm), bar_width=joint.bar_width_mm / 1000 if bar else 0.0,
        bar_thickness=joint.bar_thickness_mm / 1000 if bar else 0.0, edges_lose_heat=True,
    )  # fmt: skip


def edge_mm(joint: Joint) -> float:
    """Distance of the groove's farther edge from the middle of the weld."""
    return max(abs(x) for x in groove_of(joint).edges_x)


def stations_of(joint: Joint) -> tuple[Station, ...]:
    """Where along the weld the joint is watched."""
    if joint.form == "pipe":
        return _pipe_stations(joint)
    if joint.length_mm <= SHORT_MM:
        return (Station("whole coupon", ((0.5, 1.0),)),)
    return tuple(Station(name, ((share, 1.0),)) for name, share in (("start", 0.0), ("middle", 0.5), ("end", 1.0)))


def _pipe_stations(joint: Joint) -> tuple[Station, ...]:
    if joint.pipe_od_mm < LUMPED_OD_MM:
        return (Station("whole circle", ((0.5, 1.0),)),)
    if len(joint.attitudes("fill")) > 1:
        return (Station("6 o'clock", ((0.0, 0.5), (0.5, 0.5))), Station("3 o'clock", ((0.25, 1.0),)),
                Station("12 o'clock", ((0.5, 0.5), (1.0, 0.5))), Station("9 o'clock", ((0.75, 1.0),)))  # fmt: skip
    return (Station("start", ((0.0, 0.5), (1.0, 0.5))), Station("opposite", ((0.5, 1.0),)))


def loss_of(joint: Joint, surface_c: float) -> float:
    """h of both faces, W/m2K, with the joint's factor and the end faces of a short coupon."""
    h = loss(surface_c, joint.heat.air_c) * joint.heat.loss_factor
    if joint.form == "plate" and joint.length_mm <= SHORT_MM:
        h *= 1 + joint.welded_thickness_mm / joint.length_mm
    return h


def fin_of(joint: Joint) -> Fin:
    """The model at the loss that holds while the plan is welded."""
    h = loss_of(joint, limits_of(joint).interpass_c + HOTTER_THAN_LIMIT_K)
    return Fin(across_of(joint), material_of(joint), h, max(edge_mm(joint), 2.0) / 1000)


def valid_from_s(joint: Joint) -> float:
    """Seconds after an arc from which the model holds: max(60, d2 / a)."""
    return max(60.0, (joint.welded_thickness_mm / 1000) ** 2 / material_of(joint).diffusivity)
