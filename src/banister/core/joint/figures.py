"""Every figure of a joint that can be set: its kind, its limits, its steps and where it applies.

Fields, drag handles, command-line options, faults and the file's notes read this one table. The name
of a figure is the word `figure.KEY`, what to know of it `figure.KEY.help`.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from banister.core.joint.joint import Joint, field_of
from banister.core.joint.kinds import COMPOUND, ROUND, SQUARE
from banister.core.joint.piece import OnPiece
from banister.core.value import Struct

Applies = Callable[[OnPiece], bool]


class JointFigure(Struct, frozen=True):
    """One figure: `step` is what an arrow key adds, `drag` what a drag rounds to (0: it has no handle)."""

    key: str
    kind: str
    low: float
    high: float
    step: float
    applies: Applies
    drag: float = 0.0
    upright: bool = False
    option: str = ""

    @property
    def label(self) -> str:
        """The key of its name."""
        return f"figure.{self.key}"

    @property
    def window(self) -> tuple[float, float]:
        """What it may be."""
        return self.low, self.high

    def of(self, joint: OnPiece) -> float:
        """Its value in a joint, or in what planning sees of one."""
        return float(field_of(joint, self.key))

    def clamped(self, value: float) -> float:
        """The nearest value it may have."""
        return min(max(value, self.low), self.high)


def _always(joint: OnPiece) -> bool:
    return True


def _grooved(joint: OnPiece) -> bool:
    return not joint.prep.kind.fillet


def _fillet(joint: OnPiece) -> bool:
    return joint.prep.kind.fillet


def _cut(side: str, joint: OnPiece) -> bool:
    return _grooved(joint) and getattr(joint.prep.kind, side) != SQUARE


def _shaped(shape: str, joint: OnPiece) -> bool:
    return _grooved(joint) and shape in joint.prep.kind.shapes


def _held_by(backing: str, joint: OnPiece) -> bool:
    return _grooved(joint) and joint.prep.backing == backing


def _double(joint: OnPiece) -> bool:
    return joint.prep.kind.double


def _gouged(joint: OnPiece) -> bool:
    return _grooved(joint) and joint.prep.second_side == "gouge"


def _unlike(joint: OnPiece) -> bool:
    return _grooved(joint) and joint.prep.right_thickness_mm not in (0.0, joint.prep.thickness_mm)


def _two_sided(joint: OnPiece) -> bool:
    return _grooved(joint) and joint.prep.two_sided


def _from_the_bore(joint: OnPiece) -> bool:
    return joint.piece.form == "pipe" and joint.prep.two_sided


def _formed(form: str, joint: OnPiece) -> bool:
    return joint.piece.form == form


_bar, _ceramic = partial(_held_by, "bar"), partial(_held_by, "ceramic")
GROOVE_FIGURES = (
    JointFigure("thickness_mm", "fine_length", 2.0, 150.0, 1.0, _always, 0.5, True, "--thickness"),
    JointFigure("right_thickness_mm", "fine_length", 0.0, 150.0, 1.0, _grooved, 0.5, True, "--right-thickness"),
    JointFigure("high_low_mm", "fine_length", -10.0, 10.0, 0.5, _grooved, 0.0, True, "--high-low"),
    JointFigure("leg_left_mm", "fine_length", 2.0, 60.0, 0.5, _fillet, 0.5, False, "--leg-left"),
    JointFigure("leg_right_mm", "fine_length", 2.0, 60.0, 0.5, _fillet, 0.5, True, "--leg-right"),
    JointFigure("fillet_angle_deg", "angle", 60.0, 120.0, 5.0, _fillet, option="--fillet-angle"),
    JointFigure("root_gap_mm", "fine_length", 0.0, 25.0, 0.5, _always, 0.25, False, "--root-gap"),
    JointFigure("taper", "ratio", 0.0, 20.0, 1.0, _unlike, option="--taper"),
    JointFigure("bevel_left_deg", "angle", 0.0, 60.0, 1.0, partial(_cut, "left"), 0.5),
    JointFigure("bevel_right_deg", "angle", 0.0, 60.0, 1.0, partial(_cut, "right"), 0.5),
    JointFigure("knee_mm", "fine_length", 0.0, 150.0, 1.0, partial(_shaped, COMPOUND), 0.5, True, "--knee"),
    JointFigure("upper_bevel_deg", "angle", 0.0, 60.0, 1.0, partial(_shaped, COMPOUND), 0.5, False, "--upper-bevel"),
    JointFigure("root_radius_mm", "fine_length", 1.0, 30.0, 0.5, partial(_shaped, ROUND), 0.5, False, "--root-radius"),
    JointFigure("root_level_mm", "fine_length", 0.0, 20.0, 0.5, partial(_shaped, ROUND), option="--root-level"),
    JointFigure("front_share", "ratio", 0.1, 0.9, 0.05, _double, 0.05, True, "--front-share"),
    JointFigure("back_bevel_deg", "angle", 0.0, 60.0, 1.0, _double, 0.5, False, "--back-bevel"),
    JointFigure("root_face_mm", "fine_length", 0.0, 20.0, 0.5, lambda joint: joint.prep.kind.has_face, 0.25, True, "--root-face"),
    JointFigure("bar_thickness_mm", "fine_length", 2.0, 40.0, 1.0, _bar, option="--bar-thickness"),
    JointFigure("bar_width_mm", "fine_length", 5.0, 150.0, 5.0, _bar, option="--bar-width"),
    JointFigure("bar_gap_mm", "fine_length", 0.0, 10.0, 0.5, _bar, option="--bar-gap"),
    JointFigure("ceramic_width_mm", "fine_length", 4.0, 40.0, 1.0, _ceramic, option="--ceramic-width"),
    JointFigure("ceramic_depth_mm", "fine_length", 0.0, 5.0, 0.5, _ceramic, option="--ceramic-depth"),
    JointFigure("gouge_into_mm", "fine_length", 0.0, 15.0, 0.5, _gouged, option="--gouge-into"),
    JointFigure("gouge_radius_mm", "fine_length", 2.0, 20.0, 0.5, _gouged, option="--gouge-radius"),
    JointFigure("gouge_angle_deg", "angle", 0.0, 45.0, 5.0, _gouged, option="--gouge-angle"),
)
"""What shapes the cross-section, in the order a drawing office gives it."""
PIECE_FIGURES = (
    JointFigure("length_mm", "fine_length", 10.0, 100_000.0, 50.0, partial(_formed, "plate"), option="--length"),
    JointFigure("pipe_od_mm", "fine_length", 20.0, 5000.0, 1.0, partial(_formed, "pipe"), option="--pipe-od"),
    JointFigure("least_bore_mm", "length", 10.0, 5000.0, 50.0, _from_the_bore, option="--least-bore"),
)
CHOICE_FIGURES = (
    JointFigure("reveal_mm", "fine_length", 0.5, 1.5, 0.1, _always, option="--reveal"),
    JointFigure("cap_overlap_mm", "fine_length", 0.5, 2.0, 0.1, _always, option="--cap-overlap"),
    JointFigure("root_reinforcement_mm", "fine_length", 0.0, 3.0, 0.1, _always, option="--root-reinforcement"),
    JointFigure("rod_change_s", "seconds", 0.0, 600.0, 5.0, _always, option="--rod-change"),
    JointFigure("setting_change_s", "seconds", 0.0, 3600.0, 15.0, _always, option="--setting-change"),
    JointFigure("clean_bead_s", "seconds", 0.0, 3600.0, 5.0, _always, option="--clean-bead"),
    JointFigure("clean_per_m_s", "seconds_per_length", 0.0, 3600.0, 5.0, _always, option="--clean-per-m"),
    JointFigure("turn_s", "seconds", 0.0, 36_000.0, 60.0, lambda joint: joint.prep.two_sided and not joint.stands, option="--turn"),
    JointFigure("walk_round_s", "seconds", 0.0, 36_000.0, 30.0, lambda joint: joint.prep.two_sided and joint.stands, option="--walk-round"),
    JointFigure("gouge_per_m_s", "seconds_per_length", 0.0, 36_000.0, 10.0, _two_sided, option="--gouge-per-m"),
    JointFigure("spare_rods_percent", "percent", 0.0, 100.0, 5.0, _always, option="--spare-rods"),
)
HEAT_FIGURES = (
    JointFigure("width_left_mm", "length", 20.0, 5000.0, 10.0, _always),
    JointFigure("width_right_mm", "length", 20.0, 5000.0, 10.0, _always),
    JointFigure("air_c", "set_temperature", -40.0, 60.0, 1.0, _always),
    JointFigure("loss_factor", "ratio", 0.2, 10.0, 0.1, _always),
    JointFigure("measure_at_mm", "length", 2.0, 200.0, 5.0, _always),
    JointFigure("preheat_band_mm", "length", 20.0, 1000.0, 5.0, _always),
    JointFigure("margin_k", "temperature_difference", 0.0, 200.0, 5.0, _always),
    JointFigure("reheat_s", "seconds", 0.0, 7200.0, 60.0, _always),
    JointFigure("hydrogen_ml", "hydrogen", 1.0, 100.0, 1.0, _always),
)
FIGURES = {f.key: f for f in (*GROOVE_FIGURES, *PIECE_FIGURES, *CHOICE_FIGURES, *HEAT_FIGURES)}


def figures_of(joint: Joint) -> tuple[JointFigure, ...]:
    """The figures that shape a joint's cross-section, in the order a drawing office gives them."""
    return tuple(f for f in GROOVE_FIGURES if f.applies(joint))
