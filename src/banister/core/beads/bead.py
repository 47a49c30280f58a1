"""One bead on a surface: its face between two toes, area exact by construction.

The face is the chord of the toes plus a parabola, plus an odd term: a crown stands square to its chord,
and gravity leans a pool to the low side (x < 0). How far one bead across wets by itself follows from its
contact angle; a welder who holds the edges decides the toes.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from banister.core.beads.surface import Point, Surface, Toe
from banister.core.value import Struct, replace

FACE_INTERVALS = 16
_BULGE_AREA = (1 - 1 / FACE_INTERVALS**2) / 6
HOLLOWEST = -0.15
"""The deepest hollow of a face, as its bulge per width: a fifth of the width would be 0.05 of it deep (chosen by eye)."""
LEAST_WIDTH_MM, STEPS_UP = 0.5, 8
POOL_SLOPE, HIGHEST_POOL_MM = 0.4, 40.0
"""How a pool about an aim leans on what it is drawn to: symmetric on a flat plate, nearly level in a valley (chosen by eye)."""
POKE_MM = 1e-6
DRAW_IN = 0.04
DRAWS = 16
CAPILLARY_LENGTH_MM = 4.7
LEAN = 0.45
"""Share of gravity that leans a pool on a vertical wall, of the capillary term (chosen by eye on etched-looking sections)."""
SQUARE_TO_CHORD = 0.2
"""The crown stands square to the chord: an arc over a slope leans by a quarter of (B/w)^2 of the rise, a flat pool is
flattened by about as much again (a parabola added upright would lean to the high toe)."""
MOST_LEAN_MM = 1.0


class Bead(Struct, frozen=True):
    """A laid bead. `outline` is closed implicitly; contact angles in degrees at the two toes.

    `poke_mm` is how far metal under it still stands through its face: more than a trace, and no
    such bead can be laid there.
    """

    outline: tuple[Point, ...]
    face: tuple[Point, ...]
    area_mm2: float
    left: Point
    right: Point
    thickness_mm: float
    contact_left_deg: float
    contact_right_deg: float
    poke_mm: float = 0.0

    @property
    def width_mm(self) -> float:
        """Finished width, toe to toe."""
        return self.right[0] - self.left[0]

    def sheared(self, slope: float) -> Bead:
        """The bead with its height lowered by `slope` x."""

        def lowered(points: tuple[Point, ...]) -> tuple[Point, ...]:
            return tuple((x, y - slope * x) for x, y in points)

        ends = lowered((self.left, self.right))
        return replace(self, outline=lowered(self.outline), face=lowered(self.face), left=ends[0], right=ends[1])

    def mirrored(self) -> Bead:
        """The bead seen from the other end."""

        def flip(points: tuple[Point, ...]) -> tuple[Point, ...]:
            return tuple((-x, y) for x, y in reversed(points))

        face = flip(self.face)
        return Bead(
            face + flip(self.outline[len(face) :]), face, self.area_mm2,
            (-self.right[0], self.right[1]), (-self.left[0], self.left[1]),
            self.thickness_mm, self.contact_right_deg, self.contact_left_deg, self.poke_mm,
        )  # fmt: skip


def lean_amplitude(lean: float, width: float, rise: float) -> float:
    """Height of the face's odd term: gravity's, with the cube of the width, and the chord's, with the rise from left toe to right."""
    free = lean * (width / 2) ** 3 / (6 * CAPILLARY_LENGTH_MM**2) + SQUARE_TO_CHORD * rise
    return min(max(free, -MOST_LEAN_MM), MOST_LEAN_MM)


def face_height(left: Toe, right: Toe, bulge: float, odd: float, u: float) -> float:
    """Height of the face at share u of the way from the left toe to the right one."""
    z = 2 * u - 1
    return left.y + (right.y - left.y) * u + bulge * u * (1 - u) - odd * z * (1 - z * z)


def bulge_for_mean(left: Toe, right: Toe, odd: float, upto: float, mean: float) -> float:
    """The bulge that gives the face this mean height from the left toe to share `upto`."""
    chord = left.y + (right.y - left.y) * upto / 2
    z = 2 * upto - 1
    tilt = (0.25 - (z * z / 2 - z**4 / 4)) / (2 * upto)
    return (mean - chord - odd * tilt) / (upto / 2 - upto * upto / 3)


def area_of(surface: Surface, left: Toe, right: Toe, bulge: float) -> float:
    """Area between the face and the metal below it."""
    return surface.under_chord(left, right) + bulge * (right.x - left.x) * _BULGE_AREA


def lay(surface: Surface, left: Toe, right: Toe, area: float, lean: float = 0.0) -> tuple[Bead, Surface]:
    """Lay a bead of this area between two toes; where metal would poke through, its toe is drawn in."""
    for draw in range(DRAWS + 1):
        width = right.x - left.x
        bulge = (area - surface.under_chord(left, right)) / (width * _BULGE_AREA)
        odd = lean_amplitude(lean, width, right.y - left.y)
        poke, where = _deepest_poke(surface, left, right, bulge, odd)
        if poke <= POKE_MM or width < 1.0 or draw == DRAWS:
            break
        if where < 0.5:
            left = surface.onward(left, left.x + DRAW_IN * width, math.inf)
        else:
            right = _leftward(surface, right, right.x - DRAW_IN * width)
    bead, after = _made(surface, left, right, area, bulge, odd)
    return replace(bead, poke_mm=poke), after


def _leftward(surface: Surface, toe: Toe, x: float) -> Toe:
    """From a toe leftwards to x."""
    mirrored = surface.mirrored()
    last = len(surface.x) - 2
    found = mirrored.onward(Toe(last - toe.i, -toe.x, toe.y), -x, math.inf)
    return Toe(last - found.i, -found.x, found.y)


def _deepest_poke(surface: Surface, left: Toe, right: Toe, bulge: float, odd: float) -> tuple[float, float]:
    """How far metal stands through the face at most, and at which share of the width."""
    worst, where = 0.0, 0.5
    width = right.x - left.x
    for i in range(left.i + 1, right.i + 1):
        u = (surface.x[i] - left.x) / width
        if 0.0 < u < 1.0:
            over = surface.y[i] - face_height(left, right, bulge, odd, u)
            if over > worst:
                worst, where = over, u
    return worst, where


def _made(surface: Surface, left: Toe, right: Toe, area: float, bulge: float, odd: float) -> tuple[Bead, Surface]:
    n, width = FACE_INTERVALS, right.x - left.x
    face = [(left.x + width * i / n, face_height(left, right, bulge, odd, i / n)) for i in range(n + 1)]
    base = surface.between(left, right)
    end_left, end_right = _contacts(surface, left, right, bulge, odd)
    bead = Bead(
        tuple(face + base[-2:0:-1]), tuple(face), area, face[0], face[-1],
        _thickness(face, base), end_left, end_right,
    )  # fmt: skip
    return bead, surface.replaced(left, right, face)


def _contacts(surface: Surface, left: Toe, right: Toe, bulge: float, odd: float) -> tuple[float, float]:
    """Angles of face and metal, measured through the bead's outside, degrees."""
    width = right.x - left.x
    slope, chord = bulge / width, (right.y - left.y + 4 * odd) / width
    run_l, rise_l = surface.rise(left, -1)
    run_r, rise_r = surface.rise(right, +1)
    at_left = math.atan(slope + chord) + math.atan2(rise_l, run_l)
    at_right = math.atan(slope - chord) + math.atan2(rise_r, run_r)
    return math.degrees(at_left), math.degrees(at_right)


def _thickness(face: list[Point], base: list[Point]) -> float:
    """Greatest height of the face above the metal under it."""
    most, i = 0.0, 0
    for x, y in face[1:-1]:
        while i < len(base) - 2 and base[i + 1][0] < x:
            i += 1
        (x0, y0), (x1, y1) = base[i], base[i + 1]
        below = y1 if x1 <= x0 else y0 + (y1 - y0) * (x - x0) / (x1 - x0)
        most = max(most, y - below)
    return most


def levelled(surface: Surface, area: float, contact_deg: float, width_limit: float, highest: float) -> tuple[Toe, Toe]:
    """The toes of one bead across a groove, held level at both walls.

    From the lowest point upwards it rises in small steps and stops at the first level where the mean
    contact angle is at most `contact_deg`, the face is as hollow as a pool gets, the width reaches
    `width_limit` (there it is pinned and its crown rises) or the level `highest`; refined by bisection.
    """

    return _wetted(surface, surface.level_toes, area, contact_deg, width_limit, (min(surface.y), highest))


def pooled(surface: Surface, aim: Toe, area: float, contact_deg: float, width_limit: float) -> tuple[Toe, Toe]:
    """The toes of one bead about an aim, as a hand lays it anywhere: it wets outward until its mean contact angle is at most
    `contact_deg`, its face is as hollow as a pool gets, or `width_limit` holds it (at a contact angle of 0 only the last two do)."""

    def toes(q: float) -> tuple[Toe, Toe]:
        return surface.pool_toes(aim, q, POOL_SLOPE)

    left, right = _wetted(surface, toes, area, contact_deg, width_limit, (aim.y, aim.y + HIGHEST_POOL_MM))
    if right.x - left.x <= width_limit:
        return left, right
    if right.x - aim.x > aim.x - left.x:  # over a ridge a pool leaps: the hand holds its farther toe back
        return left, surface.onward(left, left.x + width_limit, math.inf)
    return _leftward(surface, right, right.x - width_limit), right


def _wetted(
    surface: Surface, toes: Callable[[float], tuple[Toe, Toe]], area: float, contact_deg: float, width_limit: float, heights: tuple[float, float]
) -> tuple[Toe, Toe]:
    """The toes at the first level between two heights where the bead stops to spread; `toes` gives those of a level."""

    def stops(q: float) -> bool:
        left, right = toes(q)
        width = right.x - left.x
        if width < LEAST_WIDTH_MM:
            return False
        if width >= width_limit:
            return True
        bulge = (area - surface.under_chord(left, right)) / (width * _BULGE_AREA)
        at_left, at_right = _contacts(surface, left, right, bulge, 0.0)
        return bulge / width <= HOLLOWEST or (at_left + at_right) / 2 <= contact_deg

    step = math.sqrt(area) / STEPS_UP
    low, highest = heights
    high = low + step
    while high < highest and not stops(high):
        low, high = high, high + step
    high = min(high, max(highest, low + 1e-3))
    for _ in range(11):
        middle = (low + high) / 2
        low, high = (low, middle) if stops(middle) else (middle, high)
    return toes(high)
