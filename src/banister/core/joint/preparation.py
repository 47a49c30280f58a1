"""What is cut: the cross-section of a joint with what stands behind its root."""

from __future__ import annotations

from banister.core.joint.kinds import KINDS, Kind
from banister.core.value import Struct, replace


class Preparation(Struct, frozen=True, kw_only=True):
    """The edges and what is behind them. Lengths in mm, angles in degrees from the vertical, per side.

    `key` is one of KINDS. `thickness_mm` is the left plate; `right_thickness_mm` 0 means the same.
    `taper` n thins the thicker plate at 1:n down to the thinner one (0: no taper). `high_low_mm` raises
    the right plate. `front_share` is the front's share of a double groove's depth, root face left out.
    """

    key: str = "single-v"
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

    @property
    def kind(self) -> Kind:
        """The kind of preparation; KeyError for an unknown one."""
        return KINDS[self.key]

    @property
    def open_root(self) -> bool:
        """True where nothing holds the root bead."""
        return self.backing == "open"

    @property
    def two_sided(self) -> bool:
        """True where the back is welded as well."""
        return self.kind.double or self.second_side != "none"

    @property
    def thickest_mm(self) -> float:
        """The thicker plate."""
        return max(self.thickness_mm, self.right_thickness_mm)

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

    def mirrored(self) -> Preparation:
        """The same edges seen from their other end (single V and square only have one)."""
        return replace(self, bevel_left_deg=self.bevel_right_deg, bevel_right_deg=self.bevel_left_deg)
