"""The section drawing: plates, bar, beads with numbers, dimensions and handles, true to scale."""

from __future__ import annotations

import math

import numpy as np

from banister.core.beads.bead import FACE_INTERVALS
from banister.core.drawing.hatch import hatched
from banister.core.drawing.palette import ROLE_LETTERS
from banister.core.drawing.shapes import Drawing, Handle, Lines, Point, Polygon, Shape, Text
from banister.core.joint.groove import Groove, groove_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.units import Units
import itertools

HATCHES = {"root": 55.0, "hot": -55.0, "cap": 0.0}
MELTED_MM = 1.2
PLATE_BEYOND = 0.32
TICK = 0.014
LAYER_POINTS = 44


def section_drawing(joint: Joint, plan: Plan | None, units: Units, outside: frozenset[str] = frozenset()) -> Drawing:
    """The whole section; passes named in `outside` are hatched as outside a limit."""
    groove = groove_of(joint)
    t = joint.thickness_mm
    x0, x1 = groove.x_left(t), groove.x_right(t)
    beyond = max(8.0, PLATE_BEYOND * (x1 - x0))
    left, right = x0 - beyond, x1 + beyond
    below = joint.bar_thickness_mm if joint.backing == "bar" else 1.5
    size = max(right - left, t + below)
    shapes: list[Shape] = [*_plates(joint, groove, left, right), *_melted(groove)]
    if plan is not None:
        for p in plan.passes:
            shapes += _bead(p, p.id in outside, size)
        shapes.append(_layer_tops(plan.passes))
    edge = groove.edge()
    shapes.append(Lines(tuple(itertools.pairwise(edge)), "groove.edge", "groove"))
    if plan is not None:
        shapes += [_number(p) for p in plan.passes]
    dims, handles = _dimensions(joint, groove, units, left, right, size)
    lines = [y for shape in dims if isinstance(shape, Lines) for a, b in shape.segments for y in (a[1], b[1])]
    box = (left - 0.085 * size, min(lines) - 0.035 * size, right + 0.01 * size, max(max(lines) + 0.03 * size, t + 3.5))
    return Drawing((*shapes, *dims), box, handles)


def _plates(joint: Joint, groove: Groove, left: float, right: float) -> list[Shape]:
    t = joint.thickness_mm
    shapes: list[Shape] = []
    if joint.backing == "bar":
        w, h = joint.bar_width_mm / 2, joint.bar_thickness_mm
        corners = ((-w, 0.0), (-w, -h), (w, -h), (w, 0.0))
        box = tuple((min(max(x, left), right), y) for x, y in corners)
        shapes.append(Polygon(box, "bar", "bar"))
        shapes.append(Lines(tuple(zip(box, (*box[1:], box[0]), strict=True)), "plate.edge"))
    for side, outer in ((tuple(reversed(groove.left_edge)), left), (groove.right_edge, right)):
        inner = side if outer == left else tuple(reversed(side))
        outline = ((outer, t), *inner, (outer, 0.0))
        shapes.append(Polygon(outline, "plate", "plate"))
        shapes.append(Lines((((outer, t), inner[0]), (inner[-1], (outer, 0.0))), "plate.edge"))
        shapes.append(_break_line(outer, t))
    return shapes


def _break_line(x: float, t: float) -> Lines:
    """A drawing office's break line where the plate goes on."""
    k = 0.05 * t
    points = ((x, t * 1.04), (x, t * 0.55), (x - k, t * 0.52), (x + k, t * 0.48), (x, t * 0.45), (x, -t * 0.04))
    return Lines(tuple(itertools.pairwise(points)), "plate.edge")


def _melted(groove: Groove) -> list[Shape]:
    """A typical melted margin beside each wall, labelled so: it is not computed."""
    shapes: list[Shape] = []
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


def _bead(p: Pass, outside: bool, size: float) -> list[Shape]:
    shapes: list[Shape] = [Polygon(p.outline_mm, f"bead.{p.role}", p.id)]
    if p.role in HATCHES:
        shapes.append(Lines(hatched(p.outline_mm, HATCHES[p.role], 0.018 * size), f"hatch.{p.role}"))
    if outside:
        shapes.append(Lines(hatched(p.outline_mm, 45.0, 0.012 * size), "hatch.outside", p.id))
        shapes.append(Lines(hatched(p.outline_mm, -45.0, 0.012 * size), "hatch.outside"))
    closed = zip(p.outline_mm, (*p.outline_mm[1:], p.outline_mm[0]), strict=True)
    shapes.append(Lines(tuple(closed), "bead.edge"))
    return shapes


def _layer_tops(passes: tuple[Pass, ...]) -> Lines:
    """The upper edge of every layer: the highest face of its beads, heavier than a bead's edge."""
    segments: list[tuple[Point, Point]] = []
    for layer in sorted({p.layer for p in passes}):
        faces = [np.array(p.outline_mm[: FACE_INTERVALS + 1]) for p in passes if p.layer == layer]
        xs = np.linspace(min(f[0, 0] for f in faces), max(f[-1, 0] for f in faces), LAYER_POINTS)
        tops = np.max([np.interp(xs, f[:, 0], f[:, 1], left=-np.inf, right=-np.inf) for f in faces], axis=0)
        line = list(zip(xs.tolist(), tops.tolist(), strict=True))
        segments += [(a, b) for a, b in itertools.pairwise(line) if math.isfinite(a[1] + b[1])]
    return Lines(tuple(segments), "layer.edge")


def label_point(p: Pass) -> Point:
    """Where a bead's number stands: the centroid of its outline."""
    points = p.outline_mm
    area = cx = cy = 0.0
    for (x0, y0), (x1, y1) in zip(points, (*points[1:], points[0]), strict=True):
        cross = x0 * y1 - x1 * y0
        area += cross
        cx += (x0 + x1) * cross
        cy += (y0 + y1) * cross
    return cx / (3 * area), cy / (3 * area)


def pass_label(p: Pass) -> str:
    """Role letter and number, the bead's name in every view."""
    return f"{ROLE_LETTERS[p.role]}{p.number}"


def _number(p: Pass) -> Text:
    return Text(label_point(p), pass_label(p), "number", 12.0, "middle", p.id)


def _dimensions(
    joint: Joint, groove: Groove, units: Units, left: float, right: float, size: float
) -> tuple[list[Shape], tuple[Handle, ...]]:
    t, g, f = joint.thickness_mm, joint.root_gap_mm, joint.root_face_mm
    tick = TICK * size
    shapes: list[Shape] = []
    handles = [Handle((g / 2, 0.0), "root_gap_mm", "root gap")]
    x = left - 0.04 * size
    shapes += _vertical(x, 0.0, t, tick, units.with_unit(t), "end")
    handles.append(Handle((x, t), "thickness_mm", "thickness"))
    below = -0.075 * size - (joint.bar_thickness_mm if joint.backing == "bar" else 1.5)
    shapes += _horizontal(-g / 2, g / 2, below, tick, f"root gap {units.with_unit(g)}")
    shapes += [Lines((((s * g / 2, 0.0), (s * g / 2, below - tick)),), "dimension") for s in (-1, 1)]
    if joint.preparation != "square":
        handles.append(Handle((groove.x_right(t), t), "bevel_right_deg", "bevel angle"))
        if joint.preparation == "single-v":
            handles.append(Handle((groove.x_left(t), t), "bevel_left_deg", "left bevel angle"))
        if f > 0:
            at = g / 2 + 0.3 * (right - g / 2)
            shapes += _vertical(at, 0.0, f, tick, f"face {units.with_unit(f)}", "start", max(f, 0.04 * size))
            shapes.append(Lines((((g / 2, f), (at, f)),), "dimension"))
        handles.append(Handle((g / 2, max(f, 0.03 * size)), "root_face_mm", "root face"))
        shapes += _angles(joint, groove, size)
    return shapes, tuple(handles)


def _vertical(x: float, y0: float, y1: float, tick: float, label: str, anchor: str, room: float | None = None) -> list[Shape]:
    """A vertical dimension; a short one's label stands beside `room`, clear of the lines it measures to."""
    offset = -1.6 * tick if anchor == "end" else 1.6 * tick
    return [
        Lines((((x, y0), (x, y1)), *((((x - tick, y - tick), (x + tick, y + tick))) for y in (y0, y1))), "dimension"),
        Text((x + offset, (y0 + (room or y1)) / 2), label, "dimension", 12.0, anchor),
    ]  # fmt: skip


def _horizontal(x0: float, x1: float, y: float, tick: float, label: str) -> list[Shape]:
    return [
        Lines((((x0, y), (x1, y)), *((((x - tick, y - tick), (x + tick, y + tick))) for x in (x0, x1))), "dimension"),
        Text(((x0 + x1) / 2, y), label, "dimension", 12.0, "middle", lift=-12.0),
    ]  # fmt: skip


def _angles(joint: Joint, groove: Groove, size: float) -> list[Shape]:
    """Each bevel's angle from the vertical, as an arc over the face."""
    t = joint.thickness_mm
    shapes: list[Shape] = []
    sides = [(1, joint.bevel_right_deg, groove.x_right(t))]
    if joint.preparation == "single-v":
        sides.append((-1, joint.bevel_left_deg, groove.x_left(t)))
    f = joint.root_face_mm
    for sign, angle, _edge in sides:
        apex = (sign * joint.root_gap_mm / 2, f)
        radius = (t - f) / math.cos(math.radians(angle)) + 2.6 + 0.02 * size
        arc = [_on_arc(apex, radius, sign * angle * i / 12) for i in range(13)]
        low = _on_arc(apex, (t - f) + 3.0, 0.0)
        shapes.append(Lines(tuple(itertools.pairwise(arc)), "dimension"))
        shapes.append(Lines(((low, arc[0]), (_on_arc(apex, (t - f) / math.cos(math.radians(angle)), sign * angle), arc[-1])), "dimension"))
        at = _on_arc(apex, radius, sign * angle * 0.55)
        text = f"{angle:g}\N{DEGREE SIGN}"
        shapes.append(Text(at, text, "dimension", 13.0, "middle", lift=-11.0))
    return shapes


def _on_arc(apex: Point, radius: float, angle_deg: float) -> Point:
    a = math.radians(angle_deg)
    return apex[0] + radius * math.sin(a), apex[1] + radius * math.cos(a)
