"""The section of a joint as a display list: plates, beads with numbers, dimensions and handles, true to scale."""

from __future__ import annotations

import itertools
import math
from typing import TYPE_CHECKING

import numpy as np

from banister.core.drawing.convention import ISO, Labels
from banister.core.drawing.dimensions import dimensions
from banister.core.drawing.hatch import hatched
from banister.core.drawing.palette import ROLE_LETTERS
from banister.core.drawing.plates import extent_of, gouge_shape, melted_shapes, plate_shapes, reach_of
from banister.core.drawing.shapes import Drawing, Handle, Lines, Outline, Point, Polygon, Text
from banister.core.drawing.visible import visible_middle
from banister.core.drawing.warmth import bands, isotherms, levels_of, shaded
from banister.core.joint.groove import Groove, groove_of
from banister.core.joint.joint import Joint
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.sides import BACK, Side, sides_of
from banister.core.polygon import centroid
from banister.core.value import replace
from banister.core.words import Speech

if TYPE_CHECKING:
    from banister.core.heat.film import Warmth

HATCHES = {"root": 55.0, "hot": -55.0, "cap": 0.0}
LAYER_POINTS = 44


def section_drawing(joint: Joint, plan: Plan | None, say: Speech, outside: frozenset[str] = frozenset(), convention: str = ISO) -> Drawing:
    """The whole section; passes whose keys are in `outside` are hatched as outside a limit."""
    groove = groove_of(joint.prep)
    reach = reach_of(joint, groove)
    size = extent_of(joint, reach)
    shapes = _metal(joint, plan, outside, groove, reach, size)
    dims, handles = dimensions(joint, groove, Labels(say, convention), reach, size)
    return Drawing((*shapes, *dims), _box([*shapes, *dims], size), tuple(handles))


def welded_section(joint: Joint, issued: Plan, now: Plan, welded: tuple[str, ...], say: Speech, convention: str = ISO) -> Drawing:
    """What was welded as it lies, what is left as it is planned now, pale; the issued plan's beads as thin lines over both."""
    whole = section_drawing(joint, now, say, frozenset(), convention)
    to_come = {p.key for p in now.passes} - set(welded)
    shapes = tuple(replace(s, style="later") if isinstance(s, Polygon) and s.id in to_come else s for s in whole.shapes)
    planned = tuple(edge for p in issued.passes for edge in itertools.pairwise((*p.outline_mm, p.outline_mm[0])))
    return replace(whole, shapes=(*shapes, Lines(planned, "contour", "issued")), handles=())


def warm_section(joint: Joint, plan: Plan, still: Warmth, whole: Drawing, say: Speech) -> Drawing:
    """A section as a pass of its plan is done: plates coloured by the predicted temperature, what is not welded yet pale.

    Every isotherm has its figure: `spaced` leaves out those for which there is no room. A fillet keeps its plates as they are.
    """
    keys = [p.key for p in plan.passes]
    to_come = set(keys[keys.index(still.key) + 1 :])
    shapes = tuple(replace(s, style="later") if isinstance(s, Polygon) and s.id in to_come else s for s in whole.shapes)
    if joint.prep.kind.fillet:
        return replace(whole, shapes=shapes)
    plates = [s for s in shapes if isinstance(s, Polygon) and s.style == "plate"]
    xs, top = [x for s in plates for x, _ in s.points], max(y for s in plates for _, y in s.points)
    found = bands(still.x_mm, still.across_c, min(xs), max(xs), levels_of(say))
    after = max(i for i, s in enumerate(shapes) if s in plates) + 1
    warm = (*shaded(plates, found), *isotherms(found, top, joint.prep.thickness_mm, 0.0, say, is_inside=True))
    return replace(whole, shapes=(*shapes[:after], *warm, *shapes[after:]))


def bare_section(joint: Joint, plan: Plan | None, aspect: float) -> Drawing:
    """Plates and beads only, framed by the thickness so that joints alike in it come out at one scale."""
    groove = groove_of(joint.prep)
    reach = reach_of(joint, groove)
    found = _metal(joint, plan, frozenset(), groove, reach, extent_of(joint, reach))
    shapes = tuple(s for s in found if not isinstance(s, Text) and s.style != "melted")
    height, middle = joint.prep.welded_thickness_mm * 1.45, joint.prep.welded_thickness_mm * 0.47
    across = sum(groove.edges_x) / 2
    return Drawing(shapes, (across - height * aspect / 2, middle - height / 2, across + height * aspect / 2, middle + height / 2))


def handles_of(joint: Joint) -> tuple[Handle, ...]:
    """Where the handles of a joint lie, with nothing drawn."""
    groove = groove_of(joint.prep)
    reach = reach_of(joint, groove)
    return tuple(dimensions(joint, groove, Labels(), reach, extent_of(joint, reach))[1])


def _metal(joint: Joint, plan: Plan | None, outside: frozenset[str], groove: Groove, reach: Point, size: float) -> list[Outline]:
    """Plates, backing, beads with their numbers and the groove's own edges."""
    sides = {side.name: side for side in sides_of(inputs_of(joint))}
    shapes = plate_shapes(joint, groove, *reach)
    if not joint.prep.kind.fillet:
        shapes += melted_shapes(groove)
    if plan is not None:
        for p in plan.passes:
            shapes += bead_shapes(p, p.key in outside, size)
        shapes.append(_layer_tops(plan.passes, sides))
    if not joint.prep.kind.fillet:
        shapes.append(Lines(tuple(itertools.pairwise(groove.edge())), "groove.edge", "groove"))
    if BACK in sides:
        shapes.append(gouge_shape(sides[BACK]))
    if plan is not None:
        shapes += [_number(p, plan.passes[i + 1 :]) for i, p in enumerate(plan.passes)]
    return shapes


def _box(shapes: list[Outline], size: float) -> tuple[float, float, float, float]:
    """The frame of everything drawn, with room for the texts that stand out."""
    points: list[Point] = []
    for shape in shapes:
        if isinstance(shape, Polygon):
            points += shape.points
        elif isinstance(shape, Lines):
            points += [point for segment in shape.segments for point in segment]
        else:
            room = {"start": (0.0, 0.13), "end": (0.13, 0.0), "middle": (0.05, 0.05)}[shape.anchor]
            points += [(shape.at[0] - room[0] * size, shape.at[1] - 0.02 * size), (shape.at[0] + room[1] * size, shape.at[1] + 0.02 * size)]
    xs, ys = [x for x, _ in points], [y for _, y in points]
    return (min(xs) - 0.01 * size, min(ys) - 0.025 * size, max(xs) + 0.01 * size, max(ys) + 0.015 * size)


def bead_shapes(p: Pass, outside: bool, size: float) -> list[Outline]:
    """One bead: its metal, the hatch of its role, crossed where it is outside a limit, its edge."""
    shapes: list[Outline] = [Polygon(p.outline_mm, f"bead.{p.role}", p.key)]
    if p.role in HATCHES:
        shapes.append(Lines(hatched(p.outline_mm, HATCHES[p.role], 0.018 * size), f"hatch.{p.role}"))
    if outside:
        shapes.append(Lines(hatched(p.outline_mm, 45.0, 0.012 * size), "hatch.outside", p.key))
        shapes.append(Lines(hatched(p.outline_mm, -45.0, 0.012 * size), "hatch.outside"))
    closed = zip(p.outline_mm, (*p.outline_mm[1:], p.outline_mm[0]), strict=True)
    shapes.append(Lines(tuple(closed), "bead.edge"))
    return shapes


def _layer_tops(passes: tuple[Pass, ...], sides: dict[str, Side]) -> Lines:
    """The upper edge of every layer as it lies from its side, heavier than a bead's edge."""
    segments: list[tuple[Point, Point]] = []
    for layer in sorted({p.layer for p in passes}):
        beads = [p for p in passes if p.layer == layer]
        side = sides[beads[0].side]
        faces = [np.array([side.from_section(point) for point in p.outline_mm[: p.face_points]]) for p in beads]
        xs = np.linspace(min(f[0, 0] for f in faces), max(f[-1, 0] for f in faces), LAYER_POINTS)
        tops = np.max([np.interp(xs, f[:, 0], f[:, 1], left=-np.inf, right=-np.inf) for f in faces], axis=0)
        line = [side.in_section(point) for point in zip(xs.tolist(), tops.tolist(), strict=True)]
        segments += [(a, b) for a, b in itertools.pairwise(line) if math.isfinite(a[1] + b[1])]
    return Lines(tuple(segments), "layer.edge")


def pass_label(p: Pass) -> str:
    """Role letter and number, the bead's name in every view."""
    return f"{ROLE_LETTERS[p.role]}{p.number}"


def _number(p: Pass, later: tuple[Pass, ...]) -> Text:
    """The bead's name, on what the other side's beads leave of it."""
    seen = visible_middle(p, later)
    at, room = (centroid(p.outline_mm), None) if seen is None else seen
    return Text(at, pass_label(p), "number", 12.0, "middle", p.key, room=room)
