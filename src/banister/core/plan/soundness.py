"""What the simulated section tells: each check has a place, a figure and, where there is one, a pass."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence

from banister.core.beads.bead import Bead
from banister.core.beads.surface import Point, Surface
from banister.core.joint.groove import Groove
from banister.core.plan.placing import Laid
from banister.core.plan.plan import SectionFigures
from banister.core.remark import Figure, Place, Remark, outside, watch
from banister.core.value import Struct

# All typical shop figures.
COLD_LAP_DEG = 95.0
COATED_CORES = 1.5
"""Coated diameter of a rod, in core diameters."""
POKES_MM = 0.3
CROSSED_MM2 = 1e-3
VALLEY_MM = 1.0
WALL_STRETCH_CORES, ACROSS_STRETCH_CORES = 1.9, 2.4
"""Side wall one bead can be trusted to melt: its own thickness along a steep wall, with a margin; one bead across washes both walls."""
PEAKED, CAP_PEAKED = 0.27, 0.33
HOLLOW = -0.12
"""Height of crown or hollow over the chord of the toes, as a share of the bead's width."""
TAIL_MM = 0.3
LONGEST_TAIL_MM = 2.0
ON_WALL_MM = 0.05


class Valley(Struct, frozen=True):
    """A notch between two crowns, or between a crown and a wall: its bottom, depth and width."""

    x: float
    y: float
    depth: float
    width: float


def bead_remarks(laid: Laid, key: str, middle: Point, is_last: bool = True) -> tuple[Remark, ...]:
    """What is wrong with one bead, seen by itself; `is_last` if none of its layer comes after it, to cover its flank."""
    bead, option, place = laid.bead, laid.option, Place((key,), *middle)
    area, allowed = Figure(bead.area_mm2, "area"), Figure((option.low, option.high), "area")
    found = []
    steepest = max(bead.contact_left_deg, bead.contact_right_deg)
    if steepest > COLD_LAP_DEG:
        found.append(watch("bead.cold_lap", place, "typical", value=Figure(round(steepest), "angle"), window=Figure((None, COLD_LAP_DEG), "angle")))
    if bead.poke_mm > POKES_MM:
        found.append(outside("bead.poke", place, "geometry", value=Figure(bead.poke_mm, "length"), window=Figure((None, POKES_MM), "length")))
    coated = COATED_CORES * option.rod.diameter_mm
    if laid.layer.role in ("fill", "cap") and bead.width_mm < coated:
        found.append(watch("bead.slot", place, "typical", value=Figure(bead.width_mm, "length"), window=Figure((coated, None), "length")))
    if option.stretched:
        found.append(watch("bead.stretched", place, option.origin, value=area, window=allowed))
    if not option.low * 0.999 <= bead.area_mm2 <= option.high * 1.001:
        found.append(outside("bead.area", place, option.origin, value=area, window=allowed))
    return (*found, *_face_remarks(bead, laid.layer.role, place, is_last))


def _face_remarks(bead: Bead, role: str, place: Place, is_last: bool) -> Iterator[Remark]:
    crown, most = _crown_share(bead), CAP_PEAKED if role == "cap" else PEAKED
    height = Figure(abs(crown) * bead.width_mm, "length")
    if is_last and crown > most:
        yield watch("bead.peaked", place, "typical", height=height, value=Figure(crown, "ratio"), window=Figure((None, most), "ratio"))
    if crown < HOLLOW:
        yield watch("bead.hollow", place, "typical", height=height, value=Figure(crown, "ratio"), window=Figure((HOLLOW, None), "ratio"))
    tail = thin_tail_mm(bead) if role == "fill" else 0.0
    if tail > LONGEST_TAIL_MM:
        yield watch("bead.tail", place, "typical", value=Figure(tail, "length"), thin=Figure(TAIL_MM, "length"),
                    window=Figure((None, LONGEST_TAIL_MM), "length"))  # fmt: skip


def _crown_share(bead: Bead) -> float:
    """Greatest height of the face over the chord of its toes (negative: hollow), per width."""
    (x0, y0), (x1, y1) = bead.left, bead.right
    over = [y - y0 - (y1 - y0) * (x - x0) / (x1 - x0) for x, y in bead.face]
    return max(over, key=abs) / bead.width_mm


def thin_tail_mm(bead: Bead) -> float:
    """How far from the nearer toe the bead is thinner than 0.3 mm, the longer of its two tails."""
    base = [bead.left, *reversed(bead.outline[len(bead.face) :]), bead.right]
    thick = (x for x, y in bead.face if y - _height_at(base, x) >= TAIL_MM)
    thick_back = (x for x, y in reversed(bead.face) if y - _height_at(base, x) >= TAIL_MM)
    first, last = next(thick, bead.right[0]), next(thick_back, bead.left[0])
    return max(first - bead.left[0], bead.right[0] - last)


def _height_at(base: Sequence[Point], x: float) -> float:
    for (x0, y0), (x1, y1) in itertools.pairwise(base):
        if x0 <= x <= x1 and x1 > x0:
            return y0 + (y1 - y0) * (x - x0) / (x1 - x0)
    return base[-1][1]


def crossed(key: str, middle: Point, area: float) -> Remark:
    """A bead whose outline crosses itself: only a pin that asks for the impossible gets there."""
    return outside("bead.crossed", Place((key,), *middle), "geometry", value=Figure(area, "area"))


def valleys(surface: Surface, x0: float, x1: float) -> list[Valley]:
    """Notches between x0 and x1 that a crown bounds on one side at least; outside is taken as wall."""
    inner = [(x, y) for x, y in zip(surface.x, surface.y, strict=True) if x0 <= x <= x1]
    turns = [i for i in range(1, len(inner) - 1) if (inner[i][1] - inner[i - 1][1]) * (inner[i + 1][1] - inner[i][1]) < 0]
    crowns = [i for i in turns if inner[i][1] > inner[i - 1][1]]
    found = []
    for i in (i for i in turns if inner[i][1] < inner[i - 1][1]):
        before = max((c for c in crowns if c < i), default=None)
        after = min((c for c in crowns if c > i), default=None)
        ridges = [inner[c][1] for c in (before, after) if c is not None]
        if ridges:
            level = min(ridges)
            left = next((x for x, y in reversed(inner[:i]) if y >= level), x0)
            right = next((x for x, y in inner[i:] if y >= level), x1)
            found.append(Valley(*inner[i], level - inner[i][1], right - left))
    return found


def cap_valleys(surface: Surface, groove: Groove) -> list[Remark]:
    """Valleys of the cap deeper than a millimetre, each where it lies."""
    level = surface.sheared(groove.tilt)
    return [
        watch("cap.valley", Place(x_mm=v.x, y_mm=v.y + groove.tilt * v.x), "typical", value=Figure(v.depth, "length"),
              window=Figure((None, VALLEY_MM), "length"))
        for v in valleys(level, *groove.edges_x) if v.depth > VALLEY_MM
    ]  # fmt: skip


def slots(surface: Surface, groove: Groove, next_core_mm: float) -> list[Remark]:
    """Notches a finished layer leaves that are deep and too narrow for the rod that comes next."""
    t = groove.thickness_mm
    coated = COATED_CORES * next_core_mm
    return [
        watch("layer.slot", Place(x_mm=v.x, y_mm=v.y), "typical", depth=Figure(v.depth, "length"), value=Figure(v.width, "length"),
              coated=Figure(coated, "length"), window=Figure((coated, None), "length"))
        for v in valleys(surface, groove.x_left(t), groove.x_right(t)) if v.depth > VALLEY_MM and v.width < coated
    ]  # fmt: skip


def section_figures(groove: Groove, laid: Sequence[Laid], before_cap: Surface | None) -> tuple[SectionFigures, list[Remark]]:
    """Depth left for the cap and the longest stretch of each wall that a single bead must melt."""
    stretches = {
        "left": _stretches(groove.left.height, laid, lambda bead: bead.left, groove.x_left),
        "right": _stretches(groove.right.height, laid, lambda bead: bead.right, groove.x_right),
    }
    found = [
        watch(f"wall.stretch.{side}", Place((f"p{number}",), *middle), "typical", value=Figure(length, "length"), core=Figure(core, "length"),
              window=Figure((None, most), "length"))
        for side, found in stretches.items() for length, core, most, number, middle in found if length > most
    ]  # fmt: skip
    longest = {side: max((s[0] for s in found), default=0.0) for side, found in stretches.items()}
    return SectionFigures(_depths(groove, before_cap), longest["left"], longest["right"]), found


def _stretches(head: float, laid: Sequence[Laid], toe: Callable[[Bead], Point], wall: Callable[[float], float]) -> list[tuple[float, float, float, int, Point]]:
    """Every bead's stretch of a wall: length along it, core, the most that is good, pass number, and its middle."""
    below, found = 0.0, []
    for number, one in enumerate(laid, 1):
        x, y = toe(one.bead)
        past_edge = y >= head - 1e-6 and abs(x) >= abs(wall(head)) - ON_WALL_MM
        upto = head if past_edge else y
        if upto <= below or not (past_edge or abs(x - wall(y)) < ON_WALL_MM):
            continue
        length = math.hypot(upto - below, wall(upto) - wall(below))
        at = (below + upto) / 2
        core = one.option.rod.diameter_mm
        most = core * (ACROSS_STRETCH_CORES if one.layer.count == 1 else WALL_STRETCH_CORES)
        found.append((length, core, most, number, (wall(at), at)))
        below = upto
    return found


def _depths(groove: Groove, before_cap: Surface | None) -> tuple[float, float, float]:
    """Least, mean and greatest depth below flush that the last fill leaves, over the fill itself: from its one toe to the other."""
    if before_cap is None:
        return (0.0, 0.0, 0.0)
    t = groove.thickness_mm
    left = before_cap.at_or_below(t - 1e-6)
    right = -before_cap.mirrored().at_or_below(t - 1e-6).x
    filled = [(x, t - y) for x, y in zip(before_cap.x, before_cap.y, strict=True) if left.x < x < right and y < t - 1e-6]
    if not filled:
        return (0.0, 0.0, 0.0)
    depths, wide = [depth for _, depth in filled], filled[-1][0] - filled[0][0]
    under = sum((b - a) * (d0 + d1) / 2 for (a, d0), (b, d1) in itertools.pairwise(filled))
    return (min(depths), under / wide if wide > 0 else depths[0], max(depths))
