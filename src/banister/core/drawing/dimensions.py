"""Dimensions and handles of a section, in the ISO or the AWS convention.

ISO letters (as in ISO 9692-1): t thickness, b gap, c root face, R radius, beta bevel angle, alpha
groove angle. AWS words (as in AWS A2.4, A3.0): T thickness, R root opening, f root face, r radius.
"""

from __future__ import annotations

import itertools
import math

from banister.core.drawing.convention import Labels
from banister.core.drawing.plates import below_mm, fillet_plate_mm
from banister.core.drawing.shapes import Handle, Lines, Outline, Point, Text
from banister.core.joint.groove import Groove
from banister.core.joint.joint import Joint
from banister.core.joint.kinds import BEVEL, COMPOUND, ROUND, SQUARE
from banister.core.words import in_degrees

TICK = 0.014
UNDER_PLATE = 8.0
"""Pixels a label stands lower than what it is under."""
BACKED = ("bar", "ceramic")
"""Backings that lie under both plates."""
Found = tuple[list[Outline], list[Handle]]


def dimensions(joint: Joint, groove: Groove, labels: Labels, reach: tuple[float, float], size: float) -> Found:
    """Lines, texts and handles; `reach` are the break lines, `size` the extent that sets ticks and offsets."""
    if joint.prep.kind.fillet:
        return _fillet(joint, labels, size)
    if joint.repair is not None:
        return _dug(joint, groove, labels, reach, size)
    shapes: list[Outline] = []
    handles: list[Handle] = []
    for found in (_gap(joint, labels, size), _thickness(joint, labels, reach, size)):
        shapes += found[0]
        handles += found[1]
    if joint.prep.kind.shapes != {SQUARE}:
        for found in (_face(joint, groove, labels, reach, size), _angles(joint, groove, labels, size), _radii(joint, labels, size)):
            shapes += found[0]
            handles += found[1]
    return shapes, handles


def _dug(joint: Joint, groove: Groove, labels: Labels, reach: tuple[float, float], size: float) -> Found:
    """The hollow of a repair: its depth, which may be drawn deeper, its sides and radius; and how thick the plate is."""
    assert joint.repair is not None
    shapes, handles = _thickness(joint, labels, reach, size)
    for more in (_angles(joint, groove, labels, size)[0], _radii(joint, labels, size)[0]):
        shapes += more
    plate, t = joint.repair.plate_mm, joint.prep.thickness_mm
    shapes += _vertical(reach[1] + 0.04 * size, t - plate, t, TICK * size, labels.sized(plate), "start")
    return shapes, handles


def _gap(joint: Joint, labels: Labels, size: float) -> Found:
    g, tick = joint.prep.root_gap_mm, TICK * size
    y0 = joint.prep.back_depth_mm if joint.prep.kind.double else 0.0
    below, start = -0.075 * size - below_mm(joint), -below_mm(joint) - 1.0 if joint.prep.kind.double else 0.0
    shapes = _horizontal(-g / 2, g / 2, below, tick, labels.sized(g, "gap"))
    shapes += [Lines((((s * g / 2, start), (s * g / 2, below - tick)),), "dimension") for s in (-1, 1)]
    return shapes, [Handle((g / 2, y0), "root_gap_mm")]


def _thickness(joint: Joint, labels: Labels, reach: tuple[float, float], size: float) -> Found:
    tick, t, other = TICK * size, joint.prep.thickness_mm, joint.prep.right_thickness_mm
    x = reach[0] - 0.04 * size
    shapes = _vertical(x, 0.0, t, tick, labels.sized(t), "end")
    handles = [Handle((x, t), "thickness_mm")]
    if other and other != t:
        x = reach[1] + 0.04 * size
        shapes += _vertical(x, joint.prep.high_low_mm, joint.prep.high_low_mm + other, tick, labels.sized(other), "start")
        handles.append(Handle((x, joint.prep.high_low_mm + other), "right_thickness_mm"))
    if joint.prep.high_low_mm:
        x = reach[1] + 0.03 * size
        label = labels.sized(abs(joint.prep.high_low_mm), "high_low")
        shapes += _vertical(x, 0.0, joint.prep.high_low_mm, tick, label, "start", max(0.0, joint.prep.high_low_mm) + 0.06 * size)  # clear of the face's
    return shapes, handles


def _face(joint: Joint, groove: Groove, labels: Labels, reach: tuple[float, float], size: float) -> Found:
    tick, g, f = TICK * size, joint.prep.root_gap_mm, joint.prep.root_face_mm
    y0 = (joint.prep.back_depth_mm if joint.prep.kind.double else 0.0) + joint.prep.high_low_mm
    shapes: list[Outline] = []
    outermost = max(x for x, _ in groove.right_edge)
    at = g / 2 + (0.55 * (outermost - g / 2) if joint.prep.kind.double else 0.6 * (reach[1] - g / 2))
    if f > 0:
        label = labels.sized(f, "face")
        if joint.prep.kind.double:
            shapes += _vertical(at, y0, y0 + f, tick, label, "start")
        else:  # under plate and backing: beside the dimension it would cross the line the plate breaks off at
            under = min(y0, -below_mm(joint) if joint.prep.backing in BACKED else 0.0) - tick
            shapes += [_upright(at, y0, y0 + f, tick), Lines((((at, y0), (at, under)),), "dimension"),
                       Text((at, under), label, "dimension", 12.0, "start", lift=-UNDER_PLATE)]  # fmt: skip
        shapes.append(Lines((((g / 2, y0 + f), (at, y0 + f)), ((g / 2, y0), (at, y0))), "dimension"))
    handles = [Handle((at, y0 + f), "root_face_mm")]
    if joint.prep.kind.double:
        handles.append(Handle((-g / 2, y0 + f), "front_share"))
        shapes += _depths(joint, groove, labels, y0, size)
    return shapes, handles


def _depths(joint: Joint, groove: Groove, labels: Labels, y0: float, size: float) -> list[Outline]:
    """Depth of either groove of a double preparation, at the left."""
    x, tick = min(x for x, _ in groove.left_edge) - 0.05 * size, TICK * size
    front = y0 + joint.prep.root_face_mm
    top = joint.prep.welded_thickness_mm
    depths = labels.sized(joint.prep.front_depth_mm), labels.sized(joint.prep.back_depth_mm)
    return [*_vertical(x, front, top, tick, depths[0], "end"), *_vertical(x, 0.0, y0, tick, depths[1], "end")]


def _angles(joint: Joint, groove: Groove, labels: Labels, size: float) -> Found:
    """Each bevel's angle from the vertical as an arc over the face, the groove angle between them."""
    shapes: list[Outline] = []
    handles: list[Handle] = []
    kind = joint.prep.kind
    sides = [(1, "bevel_right_deg", kind.right, groove.right_edge), (-1, "bevel_left_deg", kind.left, groove.left_edge)]
    for sign, field, shape, edge in sides:
        if shape == SQUARE:
            continue
        angle = getattr(joint.prep, field)
        knee = next((p for p in edge if p[1] >= joint.prep.knee_mm - 1e-9), None) if shape == COMPOUND else None  # a thinner plate may end below it
        if knee is not None:
            handles.append(Handle(knee, field) if sign > 0 else Handle(knee, "knee_mm"))
            if sign > 0:
                handles.append(Handle(edge[-1], "upper_bevel_deg"))
        else:
            handles.append(Handle(edge[-1], field))
        shapes += _angle(sign, angle, edge[-1], size, None if knee is None else joint.prep.upper_bevel_deg)
        if joint.prep.kind.double:
            at = (edge[0][0] + sign * 0.03 * size, edge[0][1])
            shapes.append(Text(at, in_degrees(joint.prep.back_bevel_deg), "dimension", 13.0, "start" if sign > 0 else "end", lift=-13.0))
    if kind.double:
        handles.append(Handle(groove.right_edge[0], "back_bevel_deg"))
    if kind.left != SQUARE and kind.right != SQUARE and BEVEL in kind.shapes:
        whole = joint.prep.bevel_left_deg + joint.prep.bevel_right_deg
        top = max(groove.left_edge[-1][1], groove.right_edge[-1][1])
        shapes.append(Text((0.0, top + 0.115 * size), f"{labels.word('angle')} {in_degrees(whole)}", "dimension", 13.0))
    return shapes, handles


def _angle(sign: int, angle: float, edge: Point, size: float, upper: float | None) -> list[Outline]:
    """The angle at a groove's edge: the bevel's line carried on, a vertical, and an arc between them."""
    shown = angle if upper is None else upper
    out = 0.085 * size
    along = _on_arc(edge, out, sign * shown)
    upright = (edge[0], edge[1] + out)
    arc = [_on_arc(edge, 0.8 * out, sign * shown * i / 8) for i in range(9)]
    text = in_degrees(angle) if upper is None else f"{in_degrees(angle)} / {in_degrees(upper)}"
    at = (edge[0] + sign * 0.02 * size + (out * math.sin(math.radians(shown)) * sign), edge[1] + 0.055 * size)
    return [
        Lines((*itertools.pairwise(arc), (edge, along), (edge, upright)), "dimension"),
        Text(at, text, "dimension", 13.0, "start" if sign > 0 else "end"),
    ]


def _radii(joint: Joint, labels: Labels, size: float) -> Found:
    if ROUND not in joint.prep.kind.shapes:
        return [], []
    r, y0 = joint.prep.root_radius_mm, joint.prep.back_depth_mm if joint.prep.kind.double else 0.0
    centre = (joint.prep.root_gap_mm / 2 + joint.prep.root_level_mm, y0 + joint.prep.root_face_mm + r)
    at, out = _on_arc(centre, r, 115.0), _on_arc(centre, r + 0.06 * size, 115.0)
    label = labels.sized(r, "radius")
    return [Lines(((at, out),), "dimension"), Text(out, label, "dimension", 12.0, "start")], [Handle(at, "root_radius_mm")]


def _fillet(joint: Joint, labels: Labels, size: float) -> Found:
    a, b, tick = joint.prep.leg_left_mm, joint.prep.leg_right_mm, TICK * size
    turn = math.radians(joint.prep.fillet_angle_deg)
    head = (b * math.cos(math.pi - turn), b * math.sin(math.pi - turn))
    below = -0.06 * size - fillet_plate_mm(joint)
    shapes = _horizontal(-a, 0.0, below, tick, labels.sized(a, "leg"))
    shapes += [Lines((((x, 0.0), (x, below - tick)),), "dimension") for x in (-a, 0.0)]
    x = min(-a, head[0]) - 0.07 * size
    shapes += _vertical(x, 0.0, head[1], tick, labels.sized(b, "leg"), "end")
    shapes.append(Lines(((head, (x - tick, head[1])), ((-a, 0.0), (x - tick, 0.0))), "dimension"))
    handles = [Handle((-a, 0.0), "leg_left_mm"), Handle(head, "leg_right_mm")]
    if joint.prep.root_gap_mm:
        right = 0.5 * fillet_plate_mm(joint)
        shapes += _vertical(right, 0.0, joint.prep.root_gap_mm, tick, labels.sized(joint.prep.root_gap_mm, "fit_up_gap"), "start")
    return shapes, handles


def _vertical(x: float, y0: float, y1: float, tick: float, label: str, anchor: str, room: float | None = None) -> list[Outline]:
    """A vertical dimension; a short one's label stands beside `room`, clear of the lines it measures to."""
    offset = -1.6 * tick if anchor == "end" else 1.6 * tick
    at = (x + offset, (y0 + (y1 if room is None else room)) / 2)
    return [_upright(x, y0, y1, tick), Text(at, label, "dimension", 12.0, anchor)]


def _upright(x: float, y0: float, y1: float, tick: float) -> Lines:
    return Lines((((x, y0), (x, y1)), *((((x - tick, y - tick), (x + tick, y + tick))) for y in (y0, y1))), "dimension")


def _horizontal(x0: float, x1: float, y: float, tick: float, label: str) -> list[Outline]:
    return [
        Lines((((x0, y), (x1, y)), *((((x - tick, y - tick), (x + tick, y + tick))) for x in (x0, x1))), "dimension"),
        Text(((x0 + x1) / 2, y), label, "dimension", 12.0, "middle", lift=-12.0),
    ]  # fmt: skip


def _on_arc(apex: Point, radius: float, angle_deg: float) -> Point:
    a = math.radians(angle_deg)
    return apex[0] + radius * math.sin(a), apex[1] + radius * math.cos(a)
