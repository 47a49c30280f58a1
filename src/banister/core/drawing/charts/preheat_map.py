"""The preheat map: what EN 1011-2 method B asks for over thickness and heat input, as a contour picture with one joint's place on it.

The method is linear in heat input, so a contour is a curve Q(d) in closed form, and the picture is exact.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from banister.core.drawing.charts.axis import Axis, marks, round_step
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Band, Clip, Dot, Drawing, Lines, Point, Rect, Shape, Text
from banister.core.heat.preheat import MAP_HEAT_INPUTS, MAP_THICKNESSES_MM, SHOP_C, method_b_c
from banister.core.units import DEGREE
from banister.core.words import Speech

LEFT, RIGHT, TOP, FOOT = 64.0, 18.0, 28.0, 46.0
LEVEL_STEP_C, LEVEL_STEP_F = 25.0, 50.0
POINTS = 160
SHADES = 7
RING = 9.0


def contour_kj_mm(level_c: float, thickness_mm: float, cet: float, hydrogen_ml: float) -> float:
    """The heat input at which method B asks for a preheat of `level_c`; more heat asks for less while 53 CET < 32."""
    none, one = (method_b_c(cet, thickness_mm, hydrogen_ml, heat) for heat in (0.0, 1.0))
    return (level_c - none) / (one - none)


def preheat_map(cet: float, hydrogen_ml: float, here: Point, size: Point, say: Speech) -> Drawing:
    """The map for a steel and a hydrogen content; `here` is a thickness in mm and a heat input in kJ/mm."""
    box = (0.0, 0.0, *size)
    frame = (LEFT, FOOT, size[0] - RIGHT, size[1] - TOP)
    along = Axis(MAP_THICKNESSES_MM[0], MAP_THICKNESSES_MM[-1], frame[0], frame[2])
    up = Axis(MAP_HEAT_INPUTS[0], MAP_HEAT_INPUTS[-1], frame[1], frame[3])
    levels = _levels(cet, hydrogen_ml, say)
    shapes = [
        Rect(box, "ground"), Clip(frame, tuple(_fields(levels, along, up, cet, hydrogen_ml))), *_names(levels, along, up, cet, hydrogen_ml, say),
        *_axes(along, up, frame[1], frame[0], size, say), *_here(here, along, up, cet, hydrogen_ml, say),
    ]  # fmt: skip
    return Drawing(tuple(shapes), box)


def _levels(cet: float, hydrogen_ml: float, say: Speech) -> list[float]:
    """Shop temperature, then every 25 degC (50 degF) up to the hottest corner."""
    u = say.units
    hottest = method_b_c(cet, MAP_THICKNESSES_MM[-1], hydrogen_ml, MAP_HEAT_INPUTS[0])
    step = u.metric("temperature_difference", LEVEL_STEP_F if u.inches else LEVEL_STEP_C)
    zero = u.metric("temperature", 0.0)
    above = [level + zero for level in marks(Axis(SHOP_C - zero, max(hottest, SHOP_C + 1) - zero, 0.0, 1.0), step) if level + zero > SHOP_C + 1]
    return [SHOP_C, *above]


def _curve(level: float, along: Axis, up: Axis, cet: float, hydrogen_ml: float) -> list[Point]:
    thicknesses = [along.low + i / (POINTS - 1) * (along.high - along.low) for i in range(POINTS)]
    return [(along.at(d), up.at(contour_kj_mm(level, d, cet, hydrogen_ml))) for d in thicknesses]


def _fields(levels: list[float], along: Axis, up: Axis, cet: float, hydrogen_ml: float) -> Iterator[Shape]:
    """From cold to hot: everything below a contour (less heat) asks for at least its level."""
    floor = [(x, up.start) for x, _ in _curve(levels[0], along, up, cet, hydrogen_ml)]
    yield Rect((along.start, up.start, along.end, up.end), "warm.0", id="field:none")
    for i, level in enumerate(levels):
        curve = [(x, max(y, up.start)) for x, y in _curve(level, along, up, cet, hydrogen_ml)]
        yield Band(tuple(floor), tuple(curve), f"warm.{min(i + 1, SHADES - 1)}", f"field:{level:g}")
    for level in levels:
        yield Lines(tuple(itertools.pairwise(_curve(level, along, up, cet, hydrogen_ml))), "contour", f"contour:{level:g}")


def _names(levels: list[float], along: Axis, up: Axis, cet: float, hydrogen_ml: float, say: Speech) -> Iterator[Shape]:
    """Each contour named where it crosses the picture, the names stepped apart."""
    last: Point | None = None
    for level in levels:
        inside = [p for p in _curve(level, along, up, cet, hydrogen_ml) if up.start + 12 < p[1] < up.end - 12 and along.start + 30 < p[0] < along.end - 30]
        if not inside:
            continue
        x, y = inside[len(inside) // 2]
        if last is not None and math.hypot(x - last[0], y - last[1]) < 34:
            continue
        last = (x, y)
        name = say("preheat_map.none") if level <= SHOP_C else say.sized("temperature", level)
        yield Text((x, y + 8), name, "text", 12.0, face=NARROW_BOLD)


def _axes(along: Axis, up: Axis, foot: float, left: float, size: Point, say: Speech) -> Iterator[Shape]:
    u = say.units
    yield Lines((((along.start, foot), (along.end, foot)), ((left, up.start), (left, up.end))), "soft")
    inch = u.metric("length", 1.0)
    step = round_step((along.high - along.low) / inch / 8) * inch
    for mm in marks(along, step):
        yield Text((along.at(mm), foot - 12), say.sized("length", mm), "soft", 12.0, face=NARROW)
    energy = 1.0 / u.metric("energy", 1.0)
    for heat in marks(up, round_step((up.high - up.low) * energy / 7) / energy):
        yield Text((left - 8, up.at(heat)), u.text("energy", heat), "soft", 12.0, "end", face=NARROW)
    yield Text(((along.start + along.end) / 2, 12), say("preheat_map.thickness"), "soft", 12.0)
    yield Text((6, size[1] - 8), u.unit("energy"), "soft", 12.0, "start", face=NARROW)


def _here(here: Point, along: Axis, up: Axis, cet: float, hydrogen_ml: float, say: Speech) -> Iterator[Shape]:
    x, y = along.kept(here[0]), up.kept(here[1])
    asks = method_b_c(cet, here[0], hydrogen_ml, here[1])
    yield Lines((((x, up.start), (x, y)), ((along.start, y), (x, y))), "turn")
    yield Dot((x, y), RING, "", "select.outer", "here")
    yield Dot((x, y), RING - 2.5, "ground", "cursor")
    words = say("preheat_map.none") if asks <= SHOP_C else f"{say.units.text('temperature', asks)} {DEGREE}{say.units.unit('temperature')[1:]}"
    ahead = x < (along.start + along.end) / 2
    yield Text((x + (RING + 6 if ahead else -RING - 6), y + 12), words, "text", 16.0, "start" if ahead else "end", face=BOLD)
