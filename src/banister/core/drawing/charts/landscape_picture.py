"""The landscape of a search for a preparation: what it costs over two figures, as contours, with the present joint and the best as points.

Between the preparations that were planned it is read off straight; a field with a corner that cannot be welded stays empty.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping

import numpy as np
from numpy.typing import NDArray

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import Axis, marks, round_step
from banister.core.drawing.hatch import hatched
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Dot, Drawing, Lines, Point, Rect, Shape, Text
from banister.core.plan.improve import Improving, Tried
from banister.core.units import minutes
from banister.core.value import Struct
from banister.core.words import Speech, capital

LEFT, RIGHT, TOP, FOOT = 74.0, 22.0, 34.0, 52.0
LEVELS, SHADES = 7, 7
FINE = 8
Floats = NDArray[np.float64]
RING = 9.0


class Field(Struct, frozen=True):
    """The costs on a fine net between the planned preparations, rows up; nan where a corner of the field is none."""

    xs: Floats
    ys: Floats
    costs: Floats


def landscape_picture(state: Improving, size: Point, say: Speech) -> Drawing:
    """The landscape as far as it is known; along one figure alone it is a curve."""
    box, shapes = (0.0, 0.0, *size), list[Shape]([Rect((0.0, 0.0, *size), "ground")])
    along = Axis(state.xs[0], max(state.xs[-1], state.xs[0] + 1e-6), LEFT, size[0] - RIGHT)
    if len(state.ys) < 2:
        return Drawing((*shapes, *_curve(state, along, size, say)), box)
    up = Axis(state.ys[0], state.ys[-1], FOOT, size[1] - TOP)
    field = _field(state)
    frame = ((along.start, up.start), (along.end, up.start), (along.end, up.end), (along.start, up.end))
    shapes.append(Lines(hatched(frame, 45.0, 9.0), "rule", "not weldable"))
    if np.isfinite(field.costs).any():
        low, high = float(np.nanmin(field.costs)), float(np.nanmax(field.costs))
        levels = [low + (high - low) * i / LEVELS for i in range(1, LEVELS)] if high > low + 1e-9 else []
        contours = {level: found for level in levels if (found := tuple(_crossings(field, level, along, up)))}
        shapes += [*_shades(field, along, up, low, high), *(Lines(found, "contour", f"contour:{level:.4f}") for level, found in contours.items())]
        shapes += _names(contours, state, along, up, say)
    shapes += _axes(state, along, up, say)
    shapes += _points(state, along, up, say)
    return Drawing(tuple(shapes), box)


def _field(state: Improving) -> Field:
    """Straight between the corners of every field of the grid."""
    nx, ny = len(state.xs), len(state.ys)
    coarse = np.array([state.cost(t) if t is not None and t.is_one else np.nan for t in state.grid]).reshape(ny, nx)
    across, up = np.arange((nx - 1) * FINE + 1) / FINE, np.arange((ny - 1) * FINE + 1) / FINE
    i, j = np.minimum(across.astype(int), nx - 2), np.minimum(up.astype(int), ny - 2)
    u, v = across - i, (up - j)[:, None]
    rows = np.where(u > 0, coarse[:, i] * (1 - u) + coarse[:, i + 1] * u, coarse[:, i])
    costs = np.where(v > 0, rows[j] * (1 - v) + rows[j + 1] * v, rows[j])
    return Field(np.interp(across, np.arange(nx), state.xs), np.interp(up, np.arange(ny), state.ys), costs)


def _shades(field: Field, along: Axis, up: Axis, low: float, high: float) -> Iterator[Shape]:
    """The paler the cheaper; fields of one shade beside one another are one."""
    c = field.costs
    mean = (c[:-1, :-1] + c[:-1, 1:] + c[1:, :-1] + c[1:, 1:]) / 4
    shades = np.where(np.isnan(mean), -1, np.minimum(SHADES * (np.nan_to_num(mean) - low) / max(high - low, 1e-9), SHADES - 1)).astype(int)
    for b, row in enumerate(shades.tolist()):
        at = 0
        for shade, group in itertools.groupby(row):
            end = at + len(list(group))
            if shade >= 0:
                yield Rect((along.at(field.xs[at]), up.at(field.ys[b]), along.at(field.xs[end]) + 0.5, up.at(field.ys[b + 1]) + 0.5), f"warm.{shade}")
            at = end


def _crossings(field: Field, level: float, along: Axis, up: Axis) -> Iterator[tuple[Point, Point]]:
    """Where a level crosses the triangles of the net."""
    c = field.costs
    corners = np.stack([c[:-1, :-1], c[:-1, 1:], c[1:, 1:], c[1:, :-1]])
    for b, a in np.argwhere((corners.min(axis=0) < level) & (corners.max(axis=0) > level)).tolist():
        whole = [(along.at(float(field.xs[a + i])), up.at(float(field.ys[b + j])), float(c[b + j, a + i])) for j, i in ((0, 0), (0, 1), (1, 1), (1, 0))]
        for triangle in ((whole[0], whole[1], whole[2]), (whole[0], whole[2], whole[3])):
            cut = [_cut(one, other, level) for one, other in itertools.combinations(triangle, 2) if (one[2] - level) * (other[2] - level) < 0]
            if len(cut) == 2:
                yield cut[0], cut[1]


def _cut(one: tuple[float, float, float], other: tuple[float, float, float], level: float) -> Point:
    share = (level - one[2]) / (other[2] - one[2])
    return one[0] + share * (other[0] - one[0]), one[1] + share * (other[1] - one[1])


def _names(contours: Mapping[float, tuple[tuple[Point, Point], ...]], state: Improving, along: Axis, up: Axis, say: Speech) -> Iterator[Shape]:
    """Every other contour named by how much it is over or under the present joint."""
    placed: list[Point] = []
    base = state.cost(state.present if state.present.is_one else state.best)
    for level, segments in [*contours.items()][::2]:
        inside = [a for a, _ in segments if along.start + 30 < a[0] < along.end - 30 and up.start + 14 < a[1] < up.end - 14]
        at = next((at for at in inside[len(inside) // 2 :] if all(abs(at[0] - x) > 60 or abs(at[1] - y) > 18 for x, y in placed)), None)
        if at is not None:
            placed.append(at)
            yield Text(at, _signed(100 * (level / base - 1), say), "text", 12, face=NARROW_BOLD)


def _signed(percent: float, say: Speech) -> str:
    return f"{'+' if percent > 0 else '-'} {say.sized('scatter', abs(percent), 0)}"


def _axes(state: Improving, along: Axis, up: Axis, say: Speech) -> Iterator[Shape]:
    x, y = state.bounds[0], state.bounds[1]
    yield Lines((((along.start, up.start), (along.end, up.start)), ((along.start, up.start), (along.start, up.end))), "soft")
    one = say.units.metric(x.kind, 1.0)
    for value in marks(along, round_step((along.high - along.low) / one / 8) * one):
        yield Text((along.at(value), up.start - 12), say.sized(x.kind, value), "soft", 12, face=NARROW)
    one = say.units.metric(y.kind, 1.0)
    for value in marks(up, round_step((up.high - up.low) / one / 6) * one):
        yield Text((along.start - 8, up.at(value)), say.sized(y.kind, value), "soft", 12, "end", face=NARROW)
    yield Text(((along.start + along.end) / 2, 12), capital(say(f"improve.{x.key}")), "soft", 12)
    yield Text((8, up.end + 18), capital(say(f"improve.{y.key}")), "soft", 12, "start", face=NARROW)


def _points(state: Improving, along: Axis, up: Axis, say: Speech) -> Iterator[Shape]:
    x, y = state.bounds[0].key, state.bounds[1].key
    for tried, name, style in ((state.present, "present", "select.outer"), (state.best, "best", "handle")):
        if name == "best" and (state.best is state.present or not state.best.is_one):
            continue
        at = along.kept(tried.of(x)), up.kept(tried.of(y))
        yield Dot(at, RING, "ground", style, name)
        yield Dot(at, RING - 5, style, "", f"{name} middle")
        others = [bound for bound in state.bounds[2:] if tried.of(bound.key) != state.present.of(bound.key)]
        word = ", ".join([say(f"improve.{name}"), *(f"{say(f'improve.{b.key}')} {say.sized(b.kind, tried.of(b.key))}" for b in others)])
        yield from _label(at, word, along, up)


def _label(at: Point, word: str, along: Axis, up: Axis) -> Iterator[Shape]:
    """The word beside a point, on the side where there is room, on its own ground."""
    wide = advance(word, 14, BOLD)
    ahead = at[0] + RING + wide + 14 < along.end
    x = at[0] + RING + 8 if ahead else at[0] - RING - 8 - wide
    y = min(max(at[1], up.start + 12), up.end - 12)
    yield Rect((x - 4, y - 10, x + wide + 4, y + 10), "ground", "rule")
    yield Text((x, y), word, "text", 14, "start", face=BOLD)


def _curve(state: Improving, along: Axis, size: Point, say: Speech) -> Iterator[Shape]:
    """One figure alone: minutes a metre over it."""
    found: list[Tried] = [t for t in state.grid if t is not None and t.is_one]
    if not found:
        return
    times = [t.time_s_m for t in found]
    up = Axis(0.0, 1.1 * max(times), FOOT, size[1] - TOP)
    x = state.bounds[0]
    yield Lines((((along.start, up.start), (along.end, up.start)), ((along.start, up.start), (along.start, up.end))), "soft")
    for value in marks(along, round_step((along.high - along.low) / 8)):
        yield Text((along.at(value), up.start - 12), say.sized(x.kind, value), "soft", 12, face=NARROW)
    for seconds in marks(up, round_step(up.high / 60 / 5) * 60):
        yield Text((along.start - 8, up.at(seconds)), minutes(seconds), "soft", 12, "end", face=NARROW)
    points = [(along.at(t.of(x.key)), up.at(t.time_s_m)) for t in found]
    yield Lines(tuple(itertools.pairwise(points)), "way", "curve")
    yield Text(((along.start + along.end) / 2, 12), capital(say(f"improve.{x.key}")), "soft", 12)
    for tried, name, style in ((state.present, "present", "select.outer"), (state.best, "best", "handle")):
        if tried.is_one:
            at = along.kept(tried.of(x.key)), up.kept(tried.time_s_m)
            yield Dot(at, RING - 3, "ground", style, name)
            yield from _label(at, say(f"improve.{name}"), along, up)
