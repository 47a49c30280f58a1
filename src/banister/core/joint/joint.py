"""The joint as the user describes it: one frozen value, and what is wrong with it."""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, overload

from banister.core.remark import OUTSIDE, Finding
from banister.core.joint.kinds import BACKINGS, KINDS, ROUND, SECOND_SIDES, SEQUENCES, Kind
from banister.core.joint.positions import Position, position
from banister.core.joint.wall import least_height_of_rounded
from banister.core.material.steel import Steel, steel_faults
from banister.core.limits.windows import Window

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

SPLITS = {"early": 0.85, "usual": 1.0, "late": 1.12}
"""When a layer is split into more beads: factors on the widest single bead (shop figures)."""
ROLES = ("root", "hot", "fill", "cap")


@dataclass(frozen=True, slots=True, kw_only=True)
class RodUse:
    """A rod (by id) that may serve a role; several for one role are candidates."""

    role: str
    rod: str


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnRunOut:
    """What one rod really gave this welder in a position, mm of bead."""

    rod: str
    position: str
    run_out_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Pin:
    """What the user fixed for the bead that holds the point (x, y), or for its whole layer.

    `beads` fixes the number of beads in that layer; the others fix this bead's size, rod or amps.
    """

    x_mm: float
    y_mm: float
    role: str
    side: str = "front"
    area_mm2: float | None = None
    rod: str | None = None
    amps: float | None = None
    beads: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Choices:
    """The planner's rules that a user may set; each default is a typical shop figure."""

    reveal_mm: float = 1.0
    cap_overlap_mm: float = 1.0
    acceptance: str = "none"
    stringers_only: bool = False
    walls_first: bool = False
    start_right: bool = False
    split: str = "usual"
    extra_cap_bead: bool = False
    root_reinforcement_mm: float = 1.0
    rod_change_s: float = 15.0
    clean_bead_s: float = 20.0
    clean_per_m_s: float = 60.0
    turn_s: float = 600.0
    gouge_per_m_s: float = 240.0
    spare_rods_percent: float = 10.0


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnCell:
    """A figure of a preheat table as it stands in the user's own copy: the cell's key (`core/heat/preheat.py`), degC."""

    cell: str
    least_c: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatSettings:
    """What cooling depends on beside the plan. Widths are of the plates either side (of a pipe: its lengths), mm.

    `loss_factor` multiplies the loss to still air (wind, draught, cover); it is corrected by measured
    temperatures. `measure_at_mm` is the interpass point beyond the groove's edge. A band
    `preheat_band_mm` beyond each edge is warmed `warm_over_k` over preheat, before the first pass and
    when it fell too cold; `preheat_held` keeps heat on while welding, so that the band never falls below
    preheat. `to_and_fro` runs every other pass of a plate from its end to its start. `own_cells` replace
    remembered cells of the preheat tables by what the user's own copy says.
    """

    width_left_mm: float = 200.0
    width_right_mm: float = 200.0
    air_c: float = 20.0
    loss_factor: float = 1.0
    measure_at_mm: float = 10.0
    preheat_band_mm: float = 75.0
    warm_over_k: float = 0.0
    preheat_held: bool = False
    to_and_fro: bool = False
    reheat_s: float = 300.0
    stainless: bool = False
    hydrogen_ml: float = 5.0
    restraint: str = "medium"
    category: str = "B"
    own_cells: tuple[OwnCell, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """A temperature measured at the joint: seconds after the first arc, mm beyond the groove's edge, degC."""

    at_s: float
    x_mm: float
    temp_c: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """A weld to be planned. Lengths in mm, angles in degrees from the vertical, per side.

    `thickness_mm` is the left plate; `right_thickness_mm` 0 means the same. `taper` n thins the
    thicker plate at 1:n down to the thinner one (0: no taper). `high_low_mm` raises the right plate.
    `front_share` is the front's share of a double groove's depth, root face left out.
    """

    id: str
    name: str
    drawing: str = ""
    base_metal: str = ""
    preparation: str = "single-v"
    thickness_mm: float = 20.0
    bevel_left_deg: float = 30.0
    bevel_right_deg: float = 30.0
    root_face_mm: float = 1.5
    root_gap_mm: float = 3.0
    knee_mm: float = 12.0
    upper_bevel_deg: float = 10.0
    root_radius_mm: float = 6.0
    root_level_mm: float = 0.0
    front_share: float = 0.5
    back_bevel_deg: float = 30.0
    leg_left_mm: float = 8.0
    leg_right_mm: float = 8.0
    fillet_angle_deg: float = 90.0
    right_thickness_mm: float = 0.0
    taper: float = 4.0
    high_low_mm: float = 0.0
    backing: str = "open"
    bar_thickness_mm: float = 6.0
    bar_width_mm: float = 40.0
    bar_gap_mm: float = 0.0
    ceramic_width_mm: float = 12.0
    ceramic_depth_mm: float = 1.5
    second_side: str = "none"
    gouge_into_mm: float = 1.5
    gouge_radius_mm: float = 5.0
    gouge_angle_deg: float = 20.0
    sequence: str = "one-side"
    form: str = "plate"
    length_mm: float = 500.0
    pipe_od_mm: float = 273.1
    position: str = "1G"
    progression: str = "up"
    root_progression: str = ""
    procedure: str = ""
    procedure_revision: str = ""
    welder: str = ""
    steel: Steel = Steel()
    rods: tuple[RodUse, ...] = ()
    windows: tuple[Window, ...] = ()
    own_run_out: tuple[OwnRunOut, ...] = ()
    choices: Choices = Choices()
    pins: tuple[Pin, ...] = ()
    heat: HeatSettings = HeatSettings()
    readings: tuple[Reading, ...] = ()
    chosen: str = "balanced"

    @property
    def kind(self) -> Kind:
        """The kind of preparation; KeyError for an unknown one."""
        return KINDS[self.preparation]

    @property
    def open_root(self) -> bool:
        """True where nothing holds the root bead."""
        return self.backing == "open"

    @property
    def welded_thickness_mm(self) -> float:
        """Thickness at the weld: the thinner plate's where the thicker one is tapered."""
        if not self.right_thickness_mm or not self.taper:
            return self.thickness_mm
        return min(self.thickness_mm, self.right_thickness_mm)

    @property
    def plate_heights_mm(self) -> tuple[float, float]:
        """Height of the left and the right edge as they are welded, tapered down to the thinner plate."""
        if not self.right_thickness_mm or self.taper:
            return self.welded_thickness_mm, self.welded_thickness_mm
        return self.thickness_mm, self.right_thickness_mm

    @property
    def front_depth_mm(self) -> float:
        """Depth of a double groove's front, root face left out; the whole depth of a single one."""
        depth = self.welded_thickness_mm - self.root_face_mm
        return depth * self.front_share if self.kind.double else depth

    @property
    def back_depth_mm(self) -> float:
        """Depth of a double groove's back; nought of a single one."""
        return self.welded_thickness_mm - self.root_face_mm - self.front_depth_mm

    @property
    def place(self) -> Position:
        """The welding position; KeyError for one that is not known for this kind of joint."""
        return position(self.position, "fillet" if self.kind.fillet else self.form)

    def attitudes(self, role: str) -> tuple[str, ...]:
        """The ways the pool lies while a role is welded; the root may go the other way than the rest."""
        progression = self.root_progression if role == "root" and self.root_progression else self.progression
        return self.place.attitudes(progression)

    @overload
    def weld_length_mm(self, y_mm: float | None = None) -> float: ...

    @overload
    def weld_length_mm(self, y_mm: Floats | float) -> Floats | float: ...

    def weld_length_mm(self, y_mm: Floats | float | None = None) -> Floats | float:
        """Length of the weld, for a pipe round the circle at height(s) y (default: the face)."""
        if self.form == "plate":
            return self.length_mm
        height = self.thickness_mm if y_mm is None else y_mm
        return 2 * math.pi * (self.pipe_od_mm / 2 - self.thickness_mm + height)

    def rods_for(self, role: str) -> tuple[str, ...]:
        """Ids of the candidate rods for a role, in the order given."""
        return tuple(use.rod for use in self.rods if use.role == role)

    def mirrored(self) -> Joint:
        """The same joint seen from its other end (single V and square only have one)."""
        return replace(self, bevel_left_deg=self.bevel_right_deg, bevel_right_deg=self.bevel_left_deg)


LEAST_INSIDE_OD_MM = 600.0
"""Pipe that can be entered or reached into (shop figure)."""
MOST_FILLET_GAP_MM = 5.0
"""Root opening of a fillet beyond which it is no fillet any more (AWS D1.1 fit-up; enter from your copy)."""
LIMITS = {
    "thickness_mm": ("thickness", 2.0, 150.0),
    "right_thickness_mm": ("right thickness", 0.0, 150.0),
    "taper": ("taper 1 in", 0.0, 20.0),
    "high_low_mm": ("high-low", -10.0, 10.0),
    "knee_mm": ("height of the knee", 0.0, 150.0),
    "upper_bevel_deg": ("upper bevel angle", 0.0, 60.0),
    "root_radius_mm": ("root radius", 1.0, 30.0),
    "root_level_mm": ("level stretch at the root", 0.0, 20.0),
    "front_share": ("front's share", 0.1, 0.9),
    "back_bevel_deg": ("bevel angle at the back", 0.0, 60.0),
    "leg_left_mm": ("left leg", 2.0, 60.0),
    "leg_right_mm": ("right leg", 2.0, 60.0),
    "fillet_angle_deg": ("angle between the plates", 60.0, 120.0),
    "bevel_left_deg": ("bevel angle, left", 0.0, 60.0),
    "bevel_right_deg": ("bevel angle, right", 0.0, 60.0),
    "root_face_mm": ("root face", 0.0, 20.0),
    "root_gap_mm": ("root gap", 0.0, 25.0),
    "bar_thickness_mm": ("bar thickness", 2.0, 40.0),
    "bar_width_mm": ("bar width", 5.0, 150.0),
    "bar_gap_mm": ("gap under the bar", 0.0, 10.0),
    "ceramic_width_mm": ("width of the ceramic's groove", 4.0, 40.0),
    "ceramic_depth_mm": ("depth of the ceramic's groove", 0.0, 5.0),
    "gouge_into_mm": ("gouged into sound metal", 0.0, 15.0),
    "gouge_radius_mm": ("gouge radius", 2.0, 20.0),
    "gouge_angle_deg": ("angle of the gouge's sides", 0.0, 45.0),
    "length_mm": ("weld length", 10.0, 100_000.0),
    "pipe_od_mm": ("pipe outside diameter", 20.0, 5000.0),
}
CHOICE_LIMITS = {
    "reveal_mm": ("depth left before the cap", 0.5, 1.5),
    "cap_overlap_mm": ("cap overlap past the edge", 0.5, 2.0),
    "root_reinforcement_mm": ("root reinforcement", 0.0, 3.0),
    "rod_change_s": ("rod change", 0.0, 600.0),
    "clean_bead_s": ("cleaning a bead", 0.0, 3600.0),
    "clean_per_m_s": ("cleaning a metre", 0.0, 3600.0),
    "turn_s": ("turning the work", 0.0, 36_000.0),
    "gouge_per_m_s": ("gouging and grinding a metre", 0.0, 36_000.0),
    "spare_rods_percent": ("spare rods", 0.0, 100.0),
}


HEAT_LIMITS = {
    "width_left_mm": ("width of the left plate", 20.0, 5000.0),
    "width_right_mm": ("width of the right plate", 20.0, 5000.0),
    "air_c": ("air temperature", -40.0, 60.0),
    "loss_factor": ("loss to the air", 0.2, 10.0),
    "measure_at_mm": ("measuring point from the groove's edge", 2.0, 200.0),
    "preheat_band_mm": ("preheated band beyond each edge", 20.0, 1000.0),
    "warm_over_k": ("warmed over preheat by", 0.0, 200.0),
    "reheat_s": ("reheating", 0.0, 7200.0),
    "hydrogen_ml": ("diffusible hydrogen", 1.0, 100.0),
}


def range_faults(joint: Joint, *fields: str) -> list[Finding]:
    """Faults of single figures that lie outside their limits."""
    return _range_faults(joint, {field: LIMITS[field] for field in fields})


def _range_faults(value: Joint | Choices | HeatSettings, limits: dict[str, tuple[str, float, float]]) -> list[Finding]:
    faults = []
    for field, (label, low, high) in limits.items():
        number = getattr(value, field)
        if not (math.isfinite(number) and low <= number <= high):
            faults.append(_fault(field, f"{label} {number:g} is outside {low:g} to {high:g}",
                                 f"Enter {low:g} to {high:g}."))  # fmt: skip
    return faults


def _fault(field: str, text: str, remedy: str) -> Finding:
    return Finding("joint." + field, OUTSIDE, text, remedy)


def joint_faults(joint: Joint) -> tuple[Finding, ...]:
    """Everything that makes the description contradictory; the finding's code ends in the field."""
    faults = _range_faults(joint, LIMITS) + _range_faults(joint.choices, CHOICE_LIMITS)
    faults += _range_faults(joint.heat, HEAT_LIMITS)
    if joint.heat.restraint not in ("low", "medium", "high") or joint.heat.category not in ("A", "B", "C", "D"):
        faults.append(_fault("heat", "restraint or category is not known", "Use low, medium or high; A, B, C or D."))
    faults += [
        _fault(f"readings[{i}]", "the reading is out of range", "Enter 0 to 200000 s, 0 to 500 mm, -40 to 1000 degrees.")
        for i, r in enumerate(joint.readings) if not (0 <= r.at_s <= 2e5 and 0 <= r.x_mm <= 500 and -40 <= r.temp_c <= 1000)
    ]  # fmt: skip
    if joint.choices.split not in SPLITS:
        faults.append(_fault("choices.split", f"split '{joint.choices.split}' is not known", "Use one of: " + ", ".join(SPLITS) + "."))
    words: dict[str, Collection[str]] = {"preparation": KINDS, "backing": BACKINGS, "second_side": SECOND_SIDES, "sequence": SEQUENCES}
    for field, known in words.items():
        value = getattr(joint, field)
        if value not in known:
            faults.append(_fault(field, f"{field.replace('_', ' ')} '{value}' is not known", "Use one of: " + ", ".join(known) + "."))
    if joint.form not in ("plate", "pipe"):
        faults.append(_fault("form", f"'{joint.form}' is neither plate nor pipe", "Use plate or pipe."))
    elif joint.preparation in KINDS:
        faults += _form_faults(joint)
    if joint.root_progression not in ("", "up", "down"):
        faults.append(_fault("root_progression", f"progression '{joint.root_progression}' is not known", "Use up or down."))
    if joint.progression not in ("up", "down"):
        faults.append(_fault("progression", f"progression '{joint.progression}' is not known", "Use up or down."))
    faults += steel_faults(joint.steel)
    return tuple(faults) if faults else tuple(_shape_faults(joint))


def _shape_faults(joint: Joint) -> list[Finding]:
    """Figures that are each possible but not together, with what would fit."""
    faults, kind, t = [], joint.kind, joint.welded_thickness_mm
    most_face = t - 2.0 if kind.double else t
    if kind.has_face and joint.root_face_mm > most_face:
        faults.append(_fault("root_face_mm", "the root face is thicker than the plate" if not kind.double else
                             "the root face leaves no groove either side", f"Enter at most {max(most_face, 0):g} mm."))  # fmt: skip
    if kind.left == "compound" and not joint.root_face_mm <= joint.knee_mm <= t:
        faults.append(_fault("knee_mm", "the knee lies outside the bevel", f"Enter {joint.root_face_mm:g} to {t:g} mm."))
    if ROUND in kind.shapes and not faults:
        faults += _radius_faults(joint)
    if kind.double and joint.backing in ("bar", "ceramic"):
        faults.append(_fault("backing", "a groove cut from both sides has no backing", "Use open or closed."))
    if kind.double and joint.form == "pipe" and joint.pipe_od_mm < LEAST_INSIDE_OD_MM:
        faults.append(_fault("preparation", f"a pipe of {joint.pipe_od_mm:g} mm cannot be welded from its inside",
                             f"Cut it from one side, or from {LEAST_INSIDE_OD_MM:g} mm up from both."))  # fmt: skip
    if kind.fillet and joint.root_gap_mm > MOST_FILLET_GAP_MM:
        faults.append(_fault("root_gap_mm", f"plates {joint.root_gap_mm:g} mm apart are not joined by a fillet",
                             f"Close the gap to {MOST_FILLET_GAP_MM:g} mm or less, or bevel the edge."))  # fmt: skip
    if kind.fillet and joint.form == "pipe":
        faults.append(_fault("form", "a fillet is planned on plate", "Use plate with the length of the seam."))
    return faults


def _radius_faults(joint: Joint) -> list[Finding]:
    angles = [a for shape, a in ((joint.kind.left, joint.bevel_left_deg), (joint.kind.right, joint.bevel_right_deg)) if shape == ROUND]
    needed = max(least_height_of_rounded(0.0, joint.root_radius_mm, angle) for angle in angles)
    depths = [joint.front_depth_mm]
    if joint.kind.double:
        depths.append(joint.welded_thickness_mm - joint.root_face_mm - joint.front_depth_mm)
    if needed <= min(depths):
        return []
    fits = min(depths) / least_height_of_rounded(0.0, 1.0, max(angles))
    return [_fault("root_radius_mm", f"an arc of {joint.root_radius_mm:g} mm does not fit into {min(depths):.1f} mm of depth",
                   f"Enter at most {fits:.1f} mm, or open the angle.")]  # fmt: skip


def _form_faults(joint: Joint) -> list[Finding]:
    faults = []
    try:
        joint.place  # noqa: B018
    except KeyError:
        what = "fillet" if joint.preparation in KINDS and joint.kind.fillet else joint.form
        faults.append(_fault("position", f"position '{joint.position}' is not one for a {what}",
                             "Plate: 1G 2G 3G 4G (PA PC PF PG PE). Pipe: 1G 2G 5G 6G (PA PC PH PJ H-L045 J-L045). "
                             "Fillet: 1F 2F 3F 4F (PA PB PF PG PD)."))  # fmt: skip
    if joint.form == "pipe" and joint.thickness_mm >= joint.pipe_od_mm / 2:
        faults.append(_fault("thickness_mm", "the wall is thicker than the pipe's radius",
                             f"Enter less than {joint.pipe_od_mm / 2:g} mm."))  # fmt: skip
    return faults
