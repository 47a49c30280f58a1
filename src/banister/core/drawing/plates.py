"""The plates, what stands behind the root, and the typical melted margin, as shapes."""

from __future__ import annotations

import itertools
import math

from banister.core.drawing.shapes import Lines, Outline, Point, Polygon
from banister.core.joint.groove import Groove
from banister.core.joint.joint import Joint
from banister.core.plan.sides import Side

MELTED_MM = 1.2
PLATE_BEYOND = 0.32
CERAMIC_WALL_MM = 5.0


def reach_of(joint: Joint, groove: Groove) -> tuple[float, float]:
    """x of the left and the right break line of the drawing."""
    if joint.prep.kind.fillet:
        z = max(joint.prep.leg_left_mm, joint.prep.leg_right_mm)
        return -(joint.prep.leg_left_mm + 0.4 * z), fillet_plate_mm(joint) + 0.4 * z
    points = [x for x, _ in groove.edge()]
    x0, x1 = min(points), max(points)
    beyond = max(8.0, PLATE_BEYOND * (x1 - x0), PLATE_BEYOND * joint.prep.thickness_mm)
    step = _taper_run(joint)
    left, right = (step, 0.0) if joint.prep.thickness_mm > joint.prep.welded_thickness_mm else (0.0, step)
    return x0 - max(beyond, left + 5.0 if left else 0.0), x1 + max(beyond, right + 5.0 if right else 0.0)


def fillet_plate_mm(joint: Joint) -> float:
    """Thickness drawn of a fillet's plates: thick ones are broken off, or the weld would be lost in them."""
    share = 1.6 if joint.prep.key == "fillet-lap" else 0.7
    return min(joint.prep.thickness_mm, share * max(joint.prep.leg_left_mm, joint.prep.leg_right_mm))


def _taper_run(joint: Joint) -> float:
    return abs(joint.prep.thickness_mm - joint.prep.right_thickness_mm) * joint.prep.taper if joint.prep.right_thickness_mm else 0.0


def below_mm(joint: Joint) -> float:
    """How far the drawing goes below the underside."""
    if joint.repair is not None:
        return joint.repair.plate_mm - joint.prep.thickness_mm
    if joint.prep.backing == "bar":
        return joint.prep.bar_thickness_mm + joint.prep.bar_gap_mm
    if joint.prep.backing == "ceramic":
        return joint.prep.ceramic_depth_mm + CERAMIC_WALL_MM
    return 2.5 if joint.prep.kind.double or joint.prep.second_side != "none" else 1.5


def extent_of(joint: Joint, reach: tuple[float, float]) -> float:
    """The larger of the drawing's width and height, mm: it sets ticks and offsets."""
    if joint.prep.kind.fillet:
        return reach[1] - reach[0]
    top = max(joint.prep.thickness_mm, joint.prep.right_thickness_mm + joint.prep.high_low_mm)
    return max(reach[1] - reach[0], top + below_mm(joint))


def plate_shapes(joint: Joint, groove: Groove, left: float, right: float) -> list[Outline]:
    """Backing first, then both plates."""
    if joint.prep.kind.fillet:
        return _fillet_plates(joint, left, right)
    if joint.repair is not None:
        return _dug_plate(groove, left, right, joint.repair.plate_mm)
    shapes = _backing(joint, left, right)
    full = (joint.prep.thickness_mm, joint.prep.right_thickness_mm or joint.prep.thickness_mm)
    for edge, outer, whole, foot in ((groove.left_edge, left, full[0], 0.0), (groove.right_edge, right, full[1], joint.prep.high_low_mm)):
        shapes += _plate(edge, outer, whole + foot, foot, joint.prep.taper)
    return shapes


def _dug_plate(groove: Groove, left: float, right: float, plate_mm: float) -> list[Outline]:
    """One plate with the hollow of a repair in it: there is metal under it."""
    top, foot = groove.thickness_mm, groove.thickness_mm - plate_mm
    surface = ((left, top), *groove.edge(), (right, top))
    return [
        Polygon((*surface, (right, foot), (left, foot)), "plate", "plate"),
        Lines((*itertools.pairwise(surface), ((left, foot), (right, foot))), "plate.edge"),
        _break_line((left, foot), (left, top)),
        _break_line((right, foot), (right, top)),
    ]


def _plate(edge: tuple[Point, ...], outer: float, whole: float, foot: float, taper: float) -> list[Outline]:
    """One plate from its wall out to its break line; a thicker one rises at 1 in `taper`."""
    x, y = edge[-1]
    sign = 1 if outer > x else -1
    top: tuple[Point, ...] = ((x, y),)
    if whole > y + 1e-6 and taper:
        top = ((x, y), (x + sign * (whole - y) * taper, whole))
    upper = top[-1][1]
    outline = (*edge, *top[1:], (outer, upper), (outer, foot))
    return [
        Polygon(outline, "plate", "plate"),
        Lines((*itertools.pairwise((*top, (outer, upper))), ((edge[0]), (outer, foot))), "plate.edge"),
        _break_line((outer, foot), (outer, upper)),
    ]


def _backing(joint: Joint, left: float, right: float) -> list[Outline]:
    if joint.prep.backing == "bar":
        w, top = joint.prep.bar_width_mm / 2, -joint.prep.bar_gap_mm
        corners: tuple[Point, ...] = ((-w, top), (-w, top - joint.prep.bar_thickness_mm), (w, top - joint.prep.bar_thickness_mm), (w, top))
    elif joint.prep.backing == "ceramic":
        w, d = joint.prep.ceramic_width_mm / 2, joint.prep.ceramic_depth_mm
        hollow = tuple((w * u, -d * (1 - u * u)) for u in (i / 8 for i in range(8, -9, -1)))
        out = w + CERAMIC_WALL_MM
        corners = ((-out, 0.0), (-out, -d - CERAMIC_WALL_MM), (out, -d - CERAMIC_WALL_MM), (out, 0.0), *hollow)
    else:
        return []
    box = tuple((min(max(x, left), right), y) for x, y in corners)
    return [Polygon(box, "bar", "bar"), Lines(tuple(zip(box, (*box[1:], box[0]), strict=True)), "plate.edge")]


def _fillet_plates(joint: Joint, left: float, right: float) -> list[Outline]:
    """A level plate and one that stands (tee, corner) or lies (lap) on it, a fit-up gap between them."""
    t, gap = fillet_plate_mm(joint), joint.prep.root_gap_mm
    a = math.radians(180.0 - joint.prep.fillet_angle_deg)
    along, across = (math.cos(a), math.sin(a)), (math.sin(a), -math.cos(a))
    lap = joint.prep.key == "fillet-lap"
    height, out = (t, right) if lap else (1.5 * max(joint.prep.leg_right_mm, t), t)
    head = (height * along[0], height * along[1])
    foot = out / across[0]
    outline = ((0.0, 0.0), head, (head[0] + out * across[0], head[1] + out * across[1]), (foot, 0.0))
    stand = tuple((x, y + gap) for x, y in outline)
    base_right = foot if joint.prep.key == "fillet-corner" else right
    base = ((left, 0.0), (base_right, 0.0), (base_right, -t), (left, -t))
    cut = {2} if t < joint.prep.thickness_mm else set()
    broken_base = {3, 1} if lap else cut | ({3} if joint.prep.key == "fillet-corner" else {3, 1})
    shapes: list[Outline] = []
    for plate, broken in ((base, broken_base), (stand, {2} if lap else cut | {1})):
        shapes.append(Polygon(plate, "plate", "plate"))
        for i, (a_point, b_point) in enumerate(zip(plate, (*plate[1:], plate[0]), strict=True)):
            shapes.append(_break_line(a_point, b_point) if i in broken else Lines(((a_point, b_point),), "plate.edge"))
    return shapes


def _break_line(foot: Point, head: Point) -> Lines:
    """A drawing office's break line where the plate goes on."""
    (x, y), (dx, dy) = foot, (head[0] - foot[0], head[1] - foot[1])
    k = 0.05
    heights = ((0.0, 1.04), (0.0, 0.55), (-k, 0.52), (k, 0.48), (0.0, 0.45), (0.0, -0.04))
    points = tuple((x + share * dx + aside * dy, y + share * dy - aside * dx) for aside, share in heights)
    return Lines(tuple(itertools.pairwise(points)), "plate.edge")


def melted_shapes(groove: Groove) -> list[Outline]:
    """A typical melted margin beside each wall, labelled so: it is not computed."""
    shapes: list[Outline] = []
    for edge, sign in ((groove.left_edge, -1), (groove.right_edge, 1)):
        line = tuple((x + sign * MELTED_MM, y) for x, y in edge)
        segments = []
        for (ax, ay), (bx, by) in itertools.pairwise(line):
            n = max(1, int(math.hypot(bx - ax, by - ay) / 1.6))
            for i in range(n):
                u, v = i / n, (i + 0.5) / n
                segments.append(((ax + (bx - ax) * u, ay + (by - ay) * u), (ax + (bx - ax) * v, ay + (by - ay) * v)))
        shapes.append(Lines(tuple(segments), "melted", "melted"))
    return shapes


def gouge_shape(side: Side) -> Lines:
    """The groove of the second side, as the gouge leaves it."""
    points = [side.in_section(point) for point in side.groove.edge()]
    return Lines(tuple(itertools.pairwise(points)), "groove.edge", "gouge")
