"""From layers to beads: each planned layer is laid on the real surface the one before it left."""

from __future__ import annotations

import math
from collections.abc import Sequence

from banister.core.beads.bead import LEAN, Bead, lay, levelled
from banister.core.beads.layer import (
    LEFT,
    RIGHT,
    WASH_UP_MM,
    Dome,
    Level,
    Progress,
    Target,
    place_layer,
    sides_in_order,
)  # fmt: skip
from banister.core.beads.surface import Point, Surface, Toe
from banister.core.joint.groove import Groove
from banister.core.joint.positions import HORIZONTAL
from banister.core.joint.working import Pin
from banister.core.plan import rules
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.layers import Layer
from banister.core.plan.plan import CapShape
from banister.core.plan.rules import Option
from banister.core.value import Struct, replace

ROOT_PARABOLA_POINTS = 12
CAP_ROUNDS = 7
LEAST_ROOT_MM2 = 1.0
LEAST_EDGE_MM = 0.2
"""Bevel edge left visible under the last fill."""


class Laid(Struct, frozen=True):
    """A bead with the layer and setting it was laid for."""

    bead: Bead
    layer: Layer
    layer_number: int
    option: Option
    pin: Pin | None = None


class LayerBegun(Struct, frozen=True):
    """A layer some of whose beads are laid: what it was to be, and how far it has come.

    `areas` are the sizes that are fixed, in laying order; `pinned` is the bead that a pin speaks of.
    """

    layer: Layer
    number: int
    progress: Progress
    areas: tuple[float | None, ...]
    pinned: int | None = None
    pin: Pin | None = None


class Step(Struct, frozen=True):
    """A bead laid, the surface it leaves, and what is left of its layer (None when that is done)."""

    laid: Laid
    surface: Surface
    begun: LayerBegun | None = None


class Course(Struct, frozen=True):
    """What placing a layer needs to know of the joint."""

    joint: PlanInputs
    groove: Groove

    @property
    def low_side_first(self) -> bool:
        """True where gravity asks for a shelf: horizontal and inclined."""
        return self.joint.place.low_side_first

    @property
    def lean(self) -> float:
        """Share of gravity that leans a pool to the low side."""
        attitudes = self.joint.attitudes("fill")
        if HORIZONTAL not in attitudes:
            return 0.0
        return LEAN if len(attitudes) == 1 else LEAN / 2

    def start_side(self, layer_number: int) -> str:
        """From which side a layer begins: the low one, else alternating."""
        if self.low_side_first:
            return LEFT
        return LEFT if (layer_number % 2 == 1) != self.joint.choices.start_right else RIGHT

    def sides(self, count: int, layer_number: int) -> list[str]:
        """From which side each bead of a layer is laid; where there is a low side, each bead is the shelf of the next, walls first or not."""
        return sides_in_order(count, self.start_side(layer_number), self.joint.choices.walls_first and not self.low_side_first)


def place(course: Course, surface: Surface, layer: Layer, number: int, pin: Pin | None = None) -> list[Step]:
    """Lay one layer on a surface, bead by bead."""
    if layer.role == "cap":
        return _cap_on_chord(course, surface, layer, number, pin)
    if layer.role == "root" and course.joint.prep.backing in ("open", "ceramic"):
        return _open_root(course, surface, layer, number, pin)
    if layer.count == 1:
        option = _pinned(layer.option, pin)
        area = _area_for(layer.option, pin, surface.below_level(layer.y1))
        bead, surface = _across(course, surface, layer, option, area)
        return [Step(Laid(bead, layer, number, option, pin), surface)]
    return _beside(course, surface, _begun(course, surface, layer, number, _level_of(course, layer), surface.below_level(layer.y1), pin))


def place_welded(course: Course, surface: Surface, layer: Layer, number: int, areas: Sequence[float]) -> list[Step]:
    """The first beads of a layer as they were welded: their areas are facts; where the layer has more, it is left begun."""
    pin = Pin(x_mm=0.0, y_mm=0.0, role=layer.role, area_mm2=areas[0])
    if layer.role == "root" and course.joint.prep.backing in ("open", "ceramic"):
        return _open_root(course, surface, layer, number, pin)
    if layer.role == "cap":
        tilt = course.groove.tilt
        return _sheared(_cap_welded(course, surface.sheared(tilt), layer, number, areas), -tilt)
    if layer.count == 1:
        bead, after = _across(course, surface, layer, layer.option, areas[0])
        return [Step(Laid(bead, layer, number, layer.option), after)]
    return _known(course, surface, layer, number, _level_of(course, layer), surface.below_level(layer.y1), areas)


def _cap_welded(course: Course, surface: Surface, layer: Layer, number: int, areas: Sequence[float]) -> list[Step]:
    target = _dome_of(course, layer)
    if layer.count == 1:
        return _domed(course, surface, layer, number, layer.dome_mm, Pin(x_mm=0.0, y_mm=0.0, role="cap", area_mm2=areas[0]))
    total = surface.below_level(course.groove.face_mm - 1e-9) + _dome_area(layer.dome_mm, layer, target.right - target.left)
    return _known(course, surface, layer, number, target, total, areas)


def _known(course: Course, surface: Surface, layer: Layer, number: int, target: Target, total: float, areas: Sequence[float]) -> list[Step]:
    """Side by side, the first of them with known areas; what they leave of the layer is shared by those to come."""
    begun = _begun(course, surface, layer, number, target, total, None)
    known = (*areas, *(None,) * (layer.count - len(areas)))
    return _beside(course, surface, replace(begun, areas=known))[: len(areas)]


def place_rest(course: Course, surface: Surface, begun: LayerBegun) -> list[Step]:
    """Lay what is left of a layer that is begun."""
    if begun.layer.role != "cap":
        return _beside(course, surface, begun)
    tilt = course.groove.tilt
    return _sheared(_beside(course, surface.sheared(tilt), begun), -tilt)


def _level_of(course: Course, layer: Layer) -> Level:
    return Level(layer.y1, min(layer.y1 + WASH_UP_MM, course.groove.thickness_mm - LEAST_EDGE_MM))


def _area_for(option: Option, pin: Pin | None, wanted: float) -> float:
    if pin is not None and pin.area_mm2 is not None:
        return pin.area_mm2
    return min(max(wanted, option.low), option.high)


def _pinned(option: Option, pin: Pin | None) -> Option:
    """The option with a pinned current."""
    if pin is None or pin.amps is None:
        return option
    return replace(option, amps=pin.amps)


def _across(course: Course, surface: Surface, layer: Layer, option: Option, area: float) -> tuple[Bead, Surface]:
    """One bead across the groove, level at both walls, wetting as far as its contact angle and width limit allow."""
    contact = rules.contact_angle_deg(course.joint, layer.role, option.rod)
    widest = min(1.12 * max(float(course.groove.width(layer.y1)), 3.0), option.weave_limit_mm)
    left, right = levelled(surface, area, contact, widest, course.groove.thickness_mm - LEAST_EDGE_MM)
    return lay(surface, left, right, area, course.lean)


def _open_root(course: Course, surface: Surface, layer: Layer, number: int, pin: Pin | None) -> list[Step]:
    """The root without backing: a bead on an imagined floor, plus the metal that hangs below."""
    option = _pinned(layer.option, pin)
    area = _area_for(layer.option, pin, layer.area_mm2)
    below = rules.root_metal_below(course.joint)
    area = max(area, below + LEAST_ROOT_MM2)
    bead, surface = _across(course, surface, layer, option, area - below)
    return [Step(Laid(hung(course, bead, area), layer, number, option, pin), surface)]


def hung(course: Course, bead: Bead, area: float) -> Bead:
    """A bead over an open root with what hangs below it, of this area all in all."""
    width, depth = rules.root_below_mm(course.joint)
    half = width / 2
    n = ROOT_PARABOLA_POINTS
    scale = 1 / (1 - 1 / n**2)
    hang = []
    feet = course.groove.left.foot, course.groove.right.foot
    for i in range(n + 1):
        u = 2 * i / n - 1
        floor = feet[0] + (feet[1] - feet[0]) * (u + 1) / 2
        hang.append((half * u, floor - depth * scale * (1 - u * u)))
    right_foot = (course.joint.prep.root_gap_mm / 2, feet[1])
    corner = min(range(len(bead.face), len(bead.outline)), key=lambda i: math.dist(bead.outline[i], right_foot), default=len(bead.face) - 1)
    outline = (*bead.outline[: corner + 1], *reversed(hang), *bead.outline[corner + 1 :])
    return replace(bead, outline=outline, area_mm2=area)


def _begun(course: Course, surface: Surface, layer: Layer, number: int, target: Target, total: float, pin: Pin | None) -> LayerBegun:
    """A layer of several beads before its first: a pinned bead keeps its area and the others share the rest."""
    sides = course.sides(layer.count, number)
    where = None if pin is None else _pinned_index(pin, layer, target, surface, sides)
    areas = tuple(pin.area_mm2 if pin is not None and i == where else None for i in range(layer.count))
    left, right = target.toes(surface)
    return LayerBegun(layer, number, Progress(0, (left.x, right.x), total), areas, where, pin)


def _beside(course: Course, surface: Surface, begun: LayerBegun) -> list[Step]:
    """The beads that are left of a layer, side by side."""
    layer, option, areas = begun.layer, begun.layer.option, begun.areas
    sides = course.sides(layer.count, begun.number)
    target = _dome_of(course, layer) if layer.role == "cap" else _level_of(course, layer)

    def clamp(i: int, area: float) -> float:
        return area if areas[i] is not None else min(max(area, option.low), option.high)

    widest = min(rules.WIDEST_STRINGER * option.stringer_mm, option.weave_limit_mm)
    steps = []
    for placed in place_layer(surface, target, areas, begun.progress.rest_mm2, clamp, sides, widest, course.lean, begun.progress):
        pin = begun.pin if placed.progress.laid - 1 == begun.pinned else None
        left = replace(begun, progress=placed.progress) if placed.progress.laid < layer.count else None
        steps.append(Step(Laid(placed.bead, layer, begun.number, _pinned(option, pin), pin), placed.surface, left))
    return steps


def _pinned_index(pin: Pin, layer: Layer, target: Target, surface: Surface, sides: list[str]) -> int:
    """Which bead of the layer, in laying order, holds the pinned point."""
    left, right = target.toes(surface)
    strip = int((pin.x_mm - left.x) / (right.x - left.x) * layer.count)
    strip = min(max(strip, 0), layer.count - 1)
    free = list(range(layer.count))
    for i, side in enumerate(sides):
        taken = free.pop(0) if side == LEFT else free.pop()
        if taken == strip:
            return i
    return 0


def _cap_on_chord(course: Course, surface: Surface, layer: Layer, number: int, pin: Pin | None) -> list[Step]:
    """The cap where one face stands higher: laid on the section sheared until its chord is level."""
    tilt = course.groove.tilt
    return _sheared(_cap(course, surface.sheared(tilt), layer, number, pin), -tilt)


def _sheared(steps: list[Step], slope: float) -> list[Step]:
    if not slope:
        return steps
    return [replace(s, laid=replace(s.laid, bead=s.laid.bead.sheared(slope)), surface=s.surface.sheared(slope)) for s in steps]


def _cap(course: Course, surface: Surface, layer: Layer, number: int, pin: Pin | None) -> list[Step]:
    """The cap: the dome is raised or lowered until the heights are right, or the best is kept."""
    limit = rules.cap_limit(course.joint, course.groove)
    best: tuple[float, list[Step]] | None = None
    dome = min(layer.dome_mm, limit - 0.3)
    for _ in range(CAP_ROUNDS):
        steps = _domed(course, surface, layer, number, dome, pin)
        shape = _shape_on_level(course, steps[-1].surface)
        low = max(rules.cap_edge_height(course.joint) - shape.min, -shape.edge_min, 0.0)
        high = max(shape.max - limit, 0.0)
        if best is None or low + high < best[0]:
            best = (low + high, steps)
        if low + high <= 0.0:
            break
        dome += 0.6 * (low - high) + (0.05 if low > high else -0.05)
    assert best is not None
    return best[1]


def _domed(course: Course, surface: Surface, layer: Layer, number: int, dome: float, pin: Pin | None) -> list[Step]:
    """The cap at one dome height; its layer keeps the dome it was wished for, what is left of it the one it is laid to."""
    laid_to = replace(layer, dome_mm=dome)
    target = _dome_of(course, laid_to)
    total = surface.below_level(course.groove.face_mm - 1e-9) + _dome_area(dome, layer, target.right - target.left)
    if layer.count == 1:
        option = _pinned(layer.option, pin)
        area = _area_for(layer.option, pin, total)
        left = surface.at_x(target.left)
        mirror = surface.mirrored().at_x(-target.right)
        bead, surface = lay(surface, left, Toe(len(surface.x) - 2 - mirror.i, target.right, mirror.y), area, course.lean)
        return [Step(Laid(bead, layer, number, option, pin), surface)]
    steps = _beside(course, surface, _begun(course, surface, laid_to, number, target, total, pin))
    return [replace(step, laid=replace(step.laid, layer=layer)) for step in steps]


def _dome_of(course: Course, layer: Layer) -> Dome:
    t, over = course.groove.face_mm, course.joint.choices.cap_overlap_mm
    x0, x1 = course.groove.edges_x[0] - over, course.groove.edges_x[1] + over
    return Dome(x0, x1, t, t + layer.dome_mm, min(layer.option.stringer_mm, x1 - x0) / 2)


def _dome_area(dome: float, layer: Layer, width: float) -> float:
    return dome * (width - min(layer.option.stringer_mm, width) / 3)


def cap_shape(course: Course, surface: Surface, beads: Sequence[Bead] = ()) -> CapShape:
    """Heights of the finished surface over flush (the chord of the edges); overlap and toes of its beads."""
    shape = _shape_on_level(course, surface.sheared(course.groove.tilt))
    if not beads:
        return shape
    first, last = min(beads, key=lambda b: b.left[0]), max(beads, key=lambda b: b.right[0])
    left, right = course.groove.edges_x
    wedge = course.joint.prep.kind.fillet
    return replace(
        shape, overlap_left=left - first.left[0], overlap_right=last.right[0] - right,
        toe_left_deg=_toe_deg(first.face[0], first.face[1], (left, course.groove.face_mm) if wedge else None),
        toe_right_deg=_toe_deg(last.face[-1], last.face[-2], (right, course.groove.face_mm) if wedge else None),
    )  # fmt: skip


def _toe_deg(toe: Point, inward: Point, plate: Point | None) -> float:
    """Weld toe angle, through the outside, of the first piece of face; `plate` is where a fillet's wall leads from its root."""
    face = math.degrees(math.atan2(inward[1] - toe[1], abs(inward[0] - toe[0])))
    return 180.0 - face - (0.0 if plate is None else math.degrees(math.atan2(plate[1], abs(plate[0]))))


def _shape_on_level(course: Course, surface: Surface) -> CapShape:
    t = course.groove.face_mm
    left, right = course.groove.edges_x
    inside = min(rules.CAP_EDGE_MM, (right - left) / 4)
    edge = _heights(surface, left, right)
    inner = _heights(surface, left + inside, right - inside)
    return CapShape(min(inner) - t, max(inner) - t, min(edge) - t, 0.0, 0.0)


def _heights(surface: Surface, x0: float, x1: float) -> list[float]:
    found = [y for x, y in zip(surface.x, surface.y, strict=True) if x0 <= x <= x1]
    return [*found, surface.at_x(x0).y, surface.at_x(x1).y] if x1 > x0 else [math.nan]
