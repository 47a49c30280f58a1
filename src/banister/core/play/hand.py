"""Beads by hand: rod, amps, speed, aim and width make one bead on the surface as it lies, by the planner's own bead.

It is a picture of shape, not of fusion: whether metal fuses is not reckoned anywhere.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from banister.core.beads.bead import LEAST_WIDTH_MM, Bead, lay, pooled
from banister.core.beads.surface import Surface, Toe
from banister.core.joint.joint import Joint
from banister.core.judge.passes import judged_pass
from banister.core.plan import rules
from banister.core.plan.explain import why_by_hand
from banister.core.plan.inputs import inputs_of
from banister.core.plan.layers import Layer
from banister.core.plan.measured import measured
from banister.core.plan.placing import LEAST_ROOT_MM2, Course, Laid, cap_shape, hung
from banister.core.plan.plan import CapShape, Pass
from banister.core.plan.sides import Side, sides_of
from banister.core.plan.soundness import POKES_MM, slots
from banister.core.remark import OUTSIDE, WATCH, Figure, Place, Remark, watch
from banister.core.rods.ranges import usual_amps
from banister.core.rods.rod import Rod
from banister.core.value import Struct, replace

WIDEST_CORES, LEAST_WIDTH_CORES = 5.0, 0.8
"""Widths of a bead that a hand can make of a rod, in its cores (shop figures)."""
STEEPEST_DEG, COLDER_DEG = 85.0, 90.0
"""Amps under the usual ones let a pool stand steeper: by 90 degrees for each whole share missing, up to 85 (typical, a teaching figure)."""
MOST_BEADS = 200
AIM_BEYOND_MM = 6.0
"""How far beside the groove a bead may be aimed."""
COVERS_MM = 0.05


class Hand(Struct, frozen=True):
    """What the hand does: rod, amps, travel speed, the aim across the joint in the side's own x, and the width the pool is carried to.

    A width of 0: the pool finds its own.
    """

    rod: Rod
    amps: float
    travel_mm_min: float
    aim_mm: float = 0.0
    width_mm: float = 0.0

    @property
    def run_out_mm(self) -> float:
        """What one rod gives at this speed."""
        return self.travel_mm_min * self.rod.burn_time_s(self.amps) / 60

    @property
    def area_mm2(self) -> float:
        """Bead area that follows from speed and melting rate."""
        return self.rod.area_mm2(self.run_out_mm)


class ByHand(Struct, frozen=True):
    """A bead as it comes out: the pass (its key is none of a plan's), the surface it leaves, what is wrong with it and with what it leaves.

    Where it cannot be laid so `refusal` says why, and there may be no bead.
    """

    hand: Hand
    found: Pass | None
    bead: Bead | None
    surface: Surface
    remarks: tuple[Remark, ...] = ()
    refusal: Remark | None = None
    closes_gap: bool = False

    @property
    def crown_mm(self) -> float:
        """Greatest height of the face over the chord of its toes; negative for a hollow one."""
        if self.bead is None:
            return 0.0
        (x0, y0), (x1, y1) = self.bead.left, self.bead.right
        return max((y - y0 - (y1 - y0) * (x - x0) / (x1 - x0) for x, y in self.bead.face), key=abs)


class Play(Struct, frozen=True):
    """One side of a joint with what lies on it: passes it was begun with, then beads by hand; in the side's own coordinates.

    `behind` are passes of the other side, which are only seen; `ahead` is what the plan it was begun from would lay next.
    """

    joint: Joint
    side: Side
    begun_with: tuple[Pass, ...]
    begun_on: Surface
    behind: tuple[Pass, ...] = ()
    ahead: tuple[Pass, ...] = ()
    laid: tuple[ByHand, ...] = ()

    @property
    def surface(self) -> Surface:
        """What the next bead is laid on."""
        return self.laid[-1].surface if self.laid else self.begun_on

    @property
    def passes(self) -> tuple[Pass, ...]:
        """Every bead that lies."""
        return (*self.begun_with, *(one.found for one in self.laid if one.found is not None))

    @property
    def number(self) -> int:
        """What the next bead is counted as: one more than lie on both sides."""
        return len(self.behind) + len(self.passes) + 1

    @property
    def gap_is_open(self) -> bool:
        """True until something bridges an open root."""
        prep = self.side.joint.prep
        is_open = prep.backing in ("open", "ceramic") and prep.root_gap_mm > 0
        return is_open and not self.begun_with and not any(one.closes_gap for one in self.laid)

    @property
    def course(self) -> Course:
        """What laying on this side needs to know."""
        return Course(self.side.joint, self.side.groove)

    @property
    def reach_mm(self) -> tuple[float, float]:
        """From where to where a bead may be aimed."""
        left, right = self.side.groove.edges_x
        return left - AIM_BEYOND_MM, right + AIM_BEYOND_MM

    @property
    def shape(self) -> CapShape | None:
        """Heights over flush once nothing between the edges lies under it."""
        found = cap_shape(self.course, self.surface)
        return found if found.edge_min >= -COVERS_MM else None

    def with_bead(self, one: ByHand) -> Play:
        """A bead more."""
        return replace(self, laid=(*self.laid, one))

    def without_last(self) -> Play:
        """The last bead by hand taken off."""
        return replace(self, laid=self.laid[:-1])

    def bare(self) -> Play:
        """As it was begun."""
        return replace(self, laid=())


def begun(joint: Joint, rods: Mapping[str, Rod], plan: Sequence[Pass] = (), count: int = 0) -> Play:
    """A joint with the first passes of a plan on it (in the section's coordinates, in order), on the side that is next."""
    sides = sides_of(inputs_of(joint, rods.values()))
    name = plan[min(count, len(plan) - 1)].side if plan else sides[0].name
    own = next(one for one in sides if one.name == name)
    mine, behind = (tuple(_on_side(p, own) for p in plan[:count] if (p.side == name) is here) for here in (True, False))
    ahead = tuple(_on_side(p, own) for p in plan[count:] if p.side == name)
    return Play(joint, own, mine, surface_with(own, mine), behind, ahead)


def _on_side(p: Pass, side: Side) -> Pass:
    return replace(p, outline_mm=tuple(map(side.from_section, p.outline_mm)), aim_mm=side.from_section(p.aim_mm))


def surface_with(side: Side, passes: Sequence[Pass]) -> Surface:
    """The surface of a side with passes on it, laid face by face as their outlines tell; in the side's own coordinates."""
    surface = side.surface()
    for p in passes:
        face = list(p.outline_mm[: p.face_points])
        surface = surface.replaced(surface.nearest(face[0]), surface.nearest(face[-1]), face)
    return surface


def role_at(play: Play, aim_mm: float) -> str:
    """What a bead aimed there is: the first the root, after it a hot pass where one is meant, the cap where the metal stands near flush, else fill."""
    if not play.passes:
        return "root"
    depth = play.side.groove.face_mm - play.surface.at_x(aim_mm).y
    if depth <= rules.REVEAL_MM[1]:
        return "cap"
    return "hot" if len(play.passes) == 1 and play.side.joint.rods_for("hot") else "fill"


def usual_hand(play: Play, rod: Rod, aim_mm: float = 0.0) -> Hand:
    """The rod at its usual current there and in the middle of what a hand can hold."""
    joint, role = play.side.joint, role_at(play, aim_mm)
    option = rules.option_of(joint, rod, role, play.side.groove)
    return Hand(rod, option.amps, rod.travel_mm_min(option.middle, option.amps), aim_mm)


def by_hand(play: Play, hand: Hand) -> ByHand:
    """The bead this hand lays, with its figures and remarks; nothing is changed by it."""
    joint, course, surface = play.side.joint, play.course, play.surface
    role, limit = role_at(play, hand.aim_mm), WIDEST_CORES * hand.rod.diameter_mm
    contact = _contact_deg(play, role, hand)
    aim = surface.at_x(min(max(hand.aim_mm, play.reach_mm[0]), play.reach_mm[1]))
    held = min(hand.width_mm, limit) if hand.width_mm > 0 else limit

    def toes(area: float) -> tuple[Toe, Toe]:
        return pooled(surface, aim, area, 0.0 if hand.width_mm > 0 else contact, held)

    left, right = toes(hand.area_mm2)
    below, refusal = 0.0, None
    gap = joint.prep.root_gap_mm / 2 - COVERS_MM
    if play.gap_is_open and right.x > -gap and left.x < gap:
        below = rules.root_metal_below(joint)
        if hand.area_mm2 < below + LEAST_ROOT_MM2:
            refusal = _refused("play.falls", aim, area=Figure(hand.area_mm2, "area"), wanted=Figure(below + LEAST_ROOT_MM2, "area"))
            return ByHand(hand, None, None, surface, refusal=refusal)
        left, right = toes(hand.area_mm2 - below)
        if left.x > -gap or right.x < gap:
            refusal = _refused("play.gap", aim, gap=Figure(joint.prep.root_gap_mm, "length"))
    bead, after = lay(surface, left, right, hand.area_mm2 - below, course.lean) if right.x - left.x >= LEAST_WIDTH_MM else (None, surface)
    if bead is None or bead.width_mm < LEAST_WIDTH_CORES * hand.rod.diameter_mm:
        return ByHand(hand, None, None, surface, refusal=_refused("play.edge", aim))
    if bead.poke_mm > POKES_MM:
        refusal = refusal or _refused("play.pokes", aim, poke=Figure(bead.poke_mm, "length"))
    bead = hung(course, bead, hand.area_mm2) if below else bead
    option = replace(rules.option_of(joint, hand.rod, role, play.side.groove), amps=hand.amps)
    layer = Layer(role, option, 1, aim.y, aim.y, hand.area_mm2, 0.0, 0.0)
    laid = Laid(bead, layer, len(play.passes) + 1, option)
    found = replace(measured(joint, play.side.name, laid, play.number, why_by_hand(), is_last=False), key=f"hand{play.number}")
    seen = (watch("play.area", r.place, r.basis, **r.figures) if r.code == "bead.area" else r for r in found.remarks if r.code != "bead.poke")
    remarks = (*seen, *slots(after, play.side.groove, hand.rod.diameter_mm), *(r for r in judged_pass(play.joint, found) if r.verdict in (OUTSIDE, WATCH)))
    return ByHand(hand, found, bead, after, remarks, refusal, below > 0)


def _contact_deg(play: Play, role: str, hand: Hand) -> float:
    """How steeply the pool stands: the table's figure, steeper for amps under the usual ones."""
    joint = play.side.joint
    usual = usual_amps(hand.rod, joint.attitudes(role), role)
    return min(rules.contact_angle_deg(joint, role, hand.rod) + COLDER_DEG * max(1.0 - hand.amps / usual, 0.0), STEEPEST_DEG)


def _refused(code: str, aim: Toe, **figures: Figure) -> Remark:
    return watch(code, Place(x_mm=aim.x, y_mm=aim.y), "geometry", **figures)
