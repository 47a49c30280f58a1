"""The joint as the user describes it: one frozen value, and what is wrong with it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from banister.core.finding import OUTSIDE, Finding
from banister.core.joint.positions import position
from banister.core.procedure.windows import Window

PREPARATIONS = {"single-v": "single V", "single-bevel": "single bevel", "square": "square butt"}
BACKINGS = {"open": "open root", "bar": "steel bar"}
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
    root_reinforcement_mm: float = 1.0
    rod_change_s: float = 15.0
    clean_bead_s: float = 20.0
    clean_per_m_s: float = 60.0
    spare_rods_percent: float = 10.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """A groove weld to be planned. Lengths in mm, angles in degrees from the vertical, per side."""

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
    backing: str = "open"
    bar_thickness_mm: float = 6.0
    bar_width_mm: float = 40.0
    form: str = "plate"
    length_mm: float = 500.0
    pipe_od_mm: float = 273.1
    position: str = "1G"
    progression: str = "up"
    procedure: str = ""
    procedure_revision: str = ""
    rods: tuple[RodUse, ...] = ()
    windows: tuple[Window, ...] = ()
    own_run_out: tuple[OwnRunOut, ...] = ()
    choices: Choices = Choices()
    pins: tuple[Pin, ...] = ()
    chosen: str = "balanced"

    def weld_length_mm(self, y_mm: float | None = None) -> float:
        """Length of the weld, for a pipe round the circle at height y (default: the face)."""
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


LIMITS = {
    "thickness_mm": ("thickness", 2.0, 150.0),
    "bevel_left_deg": ("bevel angle, left", 0.0, 60.0),
    "bevel_right_deg": ("bevel angle, right", 0.0, 60.0),
    "root_face_mm": ("root face", 0.0, 20.0),
    "root_gap_mm": ("root gap", 0.0, 25.0),
    "bar_thickness_mm": ("bar thickness", 2.0, 40.0),
    "bar_width_mm": ("bar width", 5.0, 150.0),
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
    "spare_rods_percent": ("spare rods", 0.0, 100.0),
}


def _range_faults(value: Joint | Choices, limits: dict[str, tuple[str, float, float]]) -> list[Finding]:
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
    if joint.preparation not in PREPARATIONS:
        faults.append(_fault("preparation", f"preparation '{joint.preparation}' is not known",
                             "Use one of: " + ", ".join(PREPARATIONS) + "."))  # fmt: skip
    if joint.backing not in BACKINGS:
        faults.append(_fault("backing", f"backing '{joint.backing}' is not known", "Use open or bar."))
    if joint.preparation != "square" and joint.root_face_mm > joint.thickness_mm:
        faults.append(_fault("root_face_mm", "the root face is thicker than the plate",
                             f"Enter at most {joint.thickness_mm:g} mm."))  # fmt: skip
    if joint.form not in ("plate", "pipe"):
        faults.append(_fault("form", f"'{joint.form}' is neither plate nor pipe", "Use plate or pipe."))
    else:
        faults += _form_faults(joint)
    if joint.progression not in ("up", "down"):
        faults.append(_fault("progression", f"progression '{joint.progression}' is not known", "Use up or down."))
    return tuple(faults)


def _form_faults(joint: Joint) -> list[Finding]:
    faults = []
    try:
        position(joint.position, joint.form)
    except KeyError:
        faults.append(_fault("position", f"position '{joint.position}' is not one for a {joint.form}",
                             "Plate: 1G 2G 3G 4G (PA PC PF PG PE). Pipe: 1G 2G 5G 6G (PA PC PH PJ H-L045 J-L045)."))  # fmt: skip
    if joint.form == "pipe" and joint.thickness_mm >= joint.pipe_od_mm / 2:
        faults.append(_fault("thickness_mm", "the wall is thicker than the pipe's radius",
                             f"Enter less than {joint.pipe_od_mm / 2:g} mm."))  # fmt: skip
    return faults
