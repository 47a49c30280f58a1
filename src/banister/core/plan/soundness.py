"""What the simulated section tells: each check has a place, a figure and, where there is one, a pass."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from banister.core.beads.bead import Bead
from banister.core.beads.surface import Point, Surface
from banister.core.remark import OUTSIDE, WARNING, Finding, Place
from banister.core.joint.groove import Groove
from banister.core.plan.placing import Laid
from banister.core.plan.plan import SectionFigures

# All typical shop figures.
COLD_LAP_DEG = 95.0
COATED_CORES = 1.5
"""Coated diameter of a rod, in core diameters."""
POKES_MM = 0.3
CROSSED_MM2 = 1e-3
VALLEY_MM = 1.0
WALL_STRETCH_CORES = 1.75
"""Side wall one bead can be trusted to melt: its own thickness along a steep wall, with a margin."""
PEAKED = 0.27
HOLLOW = -0.12
"""Height of crown or hollow over the chord of the toes, as a share of the bead's width."""
TAIL_MM = 0.3
LONGEST_TAIL_MM = 1.5
MM2 = "mm\N{SUPERSCRIPT TWO}"
ON_WALL_MM = 0.05


@dataclass(frozen=True, slots=True)
class Valley:
    """A notch between two crowns, or between a crown and a wall: its bottom, depth and width."""

    x: float
    y: float
    depth: float
    width: float


def bead_findings(laid: Laid, pass_id: str, middle: Point) -> tuple[Finding, ...]:
    """What is wrong with one bead, seen by itself."""
    bead, option = laid.bead, laid.option
    place = Place(pass_id, *middle)
    found = []
    steepest = max(bead.contact_left_deg, bead.contact_right_deg)
    if steepest > COLD_LAP_DEG:
        found.append(Finding(
            "bead.cold_lap", WARNING, f"the face meets the metal at {steepest:.0f}\N{DEGREE SIGN}: slag can lie in the notch",
            "Hold the arc on that edge, or grind the notch open before the next bead.", place,
            steepest, "\N{DEGREE SIGN}", None, COLD_LAP_DEG, "typical"))  # fmt: skip
    if bead.poke_mm > POKES_MM:
        found.append(Finding(
            "bead.impossible", OUTSIDE, f"metal stands {bead.poke_mm:.1f} mm through this bead: it cannot lie there",
            "Release the pin, or pin another size or number of beads.", place, bead.poke_mm, "mm", None, POKES_MM, "geometry"))  # fmt: skip
    coated = COATED_CORES * option.rod.diameter_mm
    if laid.layer.role in ("fill", "cap") and bead.width_mm < coated:
        found.append(Finding(
            "bead.slot", WARNING, f"only {bead.width_mm:.1f} mm wide: narrower than the coated rod",
            "Grind the slot open, or take a smaller rod.", place, bead.width_mm, "mm", coated, None, "typical"))  # fmt: skip
    if "stretched" in option.origin:
        found.append(Finding(
            "bead.stretched", WARNING, "no plan fits the comfortable bead sizes: they are stretched here",
            "Offer one more rod size, or try the bead on scrap first.", place, bead.area_mm2,
            MM2, option.low, option.high, option.origin))  # fmt: skip
    if not option.low * 0.999 <= bead.area_mm2 <= option.high * 1.001:
        found.append(Finding(
            "bead.area", OUTSIDE, f"bead of {bead.area_mm2:.1f} {MM2} is outside "
            f"{option.low:.1f} to {option.high:.1f}", "Release the pin, or pin another size or rod.",
            place, bead.area_mm2, MM2, option.low, option.high, option.origin))  # fmt: skip
    return (*found, *_face_findings(bead, place))


def _face_findings(bead: Bead, place: Place) -> Iterator[Finding]:
    crown = _crown_share(bead)
    if crown > PEAKED:
        yield Finding(
            "bead.peaked", WARNING, f"a peaked bead: its crown stands {crown * bead.width_mm:.1f} mm over its toes",
            "Travel a little faster, weave a little wider, or grind the crown before the next bead.", place,
            crown, "of its width", None, PEAKED, "typical")  # fmt: skip
    if crown < HOLLOW:
        yield Finding(
            "bead.hollow", WARNING, f"a hollow bead: {-crown * bead.width_mm:.1f} mm below its toes; its middle can crack",
            "Travel slower, or split the layer.", place, crown, "of its width", HOLLOW, None, "typical")  # fmt: skip
    tail = thin_tail_mm(bead)
    if tail > LONGEST_TAIL_MM:
        yield Finding(
            "bead.tail", WARNING, f"{tail:.1f} mm of this bead is thinner than {TAIL_MM:g} mm: it may not wet there",
            "Aim nearer to that side, or make the bead narrower.", place, tail, "mm", None, LONGEST_TAIL_MM, "typical")  # fmt: skip


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


def crossed(pass_id: str, number: int, middle: Point, area: float) -> Finding:
    """A bead whose outline crosses itself: only a pin that asks for the impossible gets there."""
    return Finding(
        "bead.impossible", OUTSIDE, f"pass {number} cannot lie in this groove with {area:.0f} {MM2}",
        "Release the pin, or pin another size or number of beads.", Place(pass_id, *middle),
    )  # fmt: skip


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


def cap_valleys(surface: Surface, groove: Groove) -> list[Finding]:
    """Valleys of the cap deeper than a millimetre, each where it lies."""
    level = surface.sheared(groove.tilt)
    return [
        Finding("cap.valley", WARNING, f"a valley {v.depth:.1f} mm deep in the cap",
                "One more cap bead, or lay the beads closer.", Place(x_mm=v.x, y_mm=v.y + groove.tilt * v.x),
                v.depth, "mm", None, VALLEY_MM, "typical")
        for v in valleys(level, *groove.edges_x) if v.depth > VALLEY_MM
    ]  # fmt: skip


def slots(surface: Surface, groove: Groove, next_core_mm: float) -> list[Finding]:
    """Notches a finished layer leaves that are deep and too narrow for the rod that comes next."""
    t = groove.thickness_mm
    coated = COATED_CORES * next_core_mm
    return [
        Finding("layer.slot", WARNING, f"a notch {v.depth:.1f} mm deep and {v.width:.1f} mm wide is left for the next bead",
                f"Grind it open: the coated rod is {coated:.1f} mm thick.", Place(x_mm=v.x, y_mm=v.y),
                v.width, "mm", coated, None, "typical")
        for v in valleys(surface, groove.x_left(t), groove.x_right(t)) if v.depth > VALLEY_MM and v.width < coated
    ]  # fmt: skip


def section_figures(groove: Groove, laid: Sequence[Laid], before_cap: Surface | None) -> tuple[SectionFigures, list[Finding]]:
    """Depth left for the cap and the longest stretch of each wall that a single bead must melt."""
    stretches = {
        "left": _stretches(groove.left.height, laid, lambda bead: bead.left, groove.x_left),
        "right": _stretches(groove.right.height, laid, lambda bead: bead.right, groove.x_right),
    }
    found = [
        Finding("wall.stretch", WARNING, f"{length:.1f} mm of the {side} wall is left to one bead of a {core:g} mm core",
                "Make the layer thinner, or hold the arc on that wall.", Place(f"p{number}", *middle),
                length, "mm", None, WALL_STRETCH_CORES * core, "typical")
        for side, found in stretches.items() for length, core, number, middle in found
        if length > WALL_STRETCH_CORES * core
    ]  # fmt: skip
    longest = {side: max((s[0] for s in found), default=0.0) for side, found in stretches.items()}
    return SectionFigures(_depths(groove, before_cap), longest["left"], longest["right"]), found


def _stretches(
    head: float, laid: Sequence[Laid], toe: Callable[[Bead], Point], wall: Callable[[float], float]
) -> list[tuple[float, float, int, Point]]:
    """Every bead's stretch of a wall: length along it, core, pass number, and its middle."""
    below, found = 0.0, []
    for number, one in enumerate(laid, 1):
        x, y = toe(one.bead)
        past_edge = y >= head - 1e-6 and abs(x) >= abs(wall(head)) - ON_WALL_MM
        upto = head if past_edge else y
        if upto <= below or not (past_edge or abs(x - wall(y)) < ON_WALL_MM):
            continue
        length = math.hypot(upto - below, wall(upto) - wall(below))
        at = (below + upto) / 2
        found.append((length, one.option.rod.diameter_mm, number, (wall(at), at)))
        below = upto
    return found


def _depths(groove: Groove, before_cap: Surface | None) -> tuple[float, float, float]:
    """Least, mean and greatest depth below flush that the last fill leaves, between the walls."""
    if before_cap is None:
        return (0.0, 0.0, 0.0)
    t = groove.thickness_mm
    left = before_cap.at_or_below(t - 1e-6)
    right = -before_cap.mirrored().at_or_below(t - 1e-6).x
    filled = [t - y for x, y in zip(before_cap.x, before_cap.y, strict=True) if left.x < x < right and y < t - 1e-6]
    if not filled:
        return (0.0, 0.0, 0.0)
    return (min(filled), before_cap.below_level(t - 1e-9) / (right - left.x), max(filled))
