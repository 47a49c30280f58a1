"""An etched section photographed and laid over the plan: scale and turn from marked points, beads traced and matched, penetration along the walls.

A photo's y runs down, the section's up. Points are pairs; a photo's in pixels, the section's in mm.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence

import numpy as np

from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.polygon import Point, area, overlap
from banister.core.remark import Figure, Place, Refused, Remark, fault, watch
from banister.core.value import Struct

SLANT, MOST_RMS_MM, SCALES_DIFFER = 1.02, 0.3, 0.02
"""Ratio of the two scales of a photo taken at a slant (about 11 degrees of tilt); a misfit that names its worst point; scales that do not agree."""
LEAST_IOU, OVERLAP_SHARE, LEAST_AREA_MM2 = 0.1, 0.05, 0.5
STEP_MM, INSIDE_MM, AT_EDGE_MM, DEEPEST_MM = 0.5, 0.15, 0.05, 15.0
"""Places along a wall, how far before it fused metal is looked for, what counts as up to it, and how deep it is followed."""
MOST_BEADS, MOST_POINTS = 80, 400


class Overlay(Struct, frozen=True):
    """How a photo lies over the section: w = a z + b, z = x - iy of a pixel, w of the section."""

    a: complex
    b: complex

    @property
    def mm_per_px(self) -> float:
        """Scale of the photo."""
        return abs(self.a)

    @property
    def turn_deg(self) -> float:
        """By how much the photo is turned to lie over the section, anticlockwise."""
        return math.degrees(math.atan2(self.a.imag, self.a.real))

    def section(self, pixel: Point) -> Point:
        """Where a pixel lies in the section."""
        w = self.a * complex(pixel[0], -pixel[1]) + self.b
        return w.real, w.imag

    def pixel(self, point: Point) -> Point:
        """The pixel over a point of the section."""
        z = (complex(*point) - self.b) / self.a
        return z.real, -z.imag


class Fitted(Struct, frozen=True):
    """An overlay with its misfit, mm (None from two points, which always fit), the number of the worst point
    (without which the others fit best), and how much it was taken at a slant."""

    overlay: Overlay
    rms_mm: float | None
    worst: int
    slant: float | None


def mark_points(joint: Joint) -> dict[str, Point]:
    """The corners of a joint that can be found again in a photo, by name: edges at the faces and at the root; those that meet are one."""
    groove = groove_of(joint.prep)
    found = {"face.left": groove.left_edge[-1], "face.right": groove.right_edge[-1], "root.left": groove.left_edge[0], "root.right": groove.right_edge[0]}
    if math.dist(found["root.left"], found["root.right"]) < 1.0:
        del found["root.right"]
    return found


def fitted(pixels: Sequence[Point], points: Sequence[Point]) -> Fitted:
    """The overlay by least squares from points marked in the photo and where they lie in the section; Refused for fewer than two, or one twice."""
    z = np.array([complex(x, -y) for x, y in pixels])
    w = np.array([complex(x, y) for x, y in points])
    if z.size < 2 or z.size != w.size or float((np.abs(z - z.mean()) ** 2).sum()) < 1.0 or float((np.abs(w - w.mean()) ** 2).sum()) < 1e-6:
        raise Refused(fault("etched.points", ""))
    overlay, off = _laid(z, w)
    rms = math.sqrt(off / (2 * z.size - 4)) if z.size > 2 else None
    without = [_laid(np.delete(z, i), np.delete(w, i))[1] for i in range(z.size)] if z.size > 3 else np.abs(w - overlay.a * z - overlay.b) * -1.0
    return Fitted(overlay, rms, int(np.argmin(without)), _slant(z, w))


def _laid(z: np.ndarray, w: np.ndarray) -> tuple[Overlay, float]:
    """The overlay of points by least squares, and the sum of the squares of what it misses them by."""
    spread = float((np.abs(z - z.mean()) ** 2).sum())
    a = complex((np.conj(z - z.mean()) * (w - w.mean())).sum() / spread) if spread > 0 else 1.0 + 0.0j
    b = complex(w.mean() - a * z.mean())
    return Overlay(a, b), float((np.abs(w - a * z - b) ** 2).sum())


def _slant(z: np.ndarray, w: np.ndarray) -> float | None:
    """Ratio of the scales along and across of the affine map through four points or more; None from fewer, or from a line of them."""
    if z.size < 4:
        return None
    known = np.column_stack((z.real, z.imag, np.ones(z.size)))
    if np.linalg.matrix_rank(known - known.mean(axis=0)) < 2:
        return None
    linear = np.linalg.lstsq(known, np.column_stack((w.real, w.imag)), rcond=None)[0][:2]
    scales = np.linalg.svd(linear, compute_uv=False)
    return float(scales[0] / scales[-1]) if scales[-1] > 0 else None


def by_faces(upper: Sequence[Point], lower: Sequence[Point], thickness_mm: float, pixel: Point, point: Point) -> Overlay:
    """The overlay from points along both faces of the plate, whose thickness is known, and one point to fix it; Refused for lines that are none."""
    if min(len(upper), len(lower)) < 2 or thickness_mm <= 0:
        raise Refused(fault("etched.faces", ""))
    lines = [np.array([complex(x, -y) for x, y in line]) for line in (upper, lower)]
    along = sum(complex(((line - line.mean()) ** 2).sum()) for line in lines)
    if abs(along) < 1.0:
        raise Refused(fault("etched.faces", ""))
    turn = math.atan2(along.imag, along.real) / 2
    apart = complex(lines[0].mean() - lines[1].mean()) * complex(math.cos(-turn), math.sin(-turn))
    if apart.imag < 0:  # the upper face lies below: the photo stands on its head
        turn, apart = turn + math.pi, -apart
    if abs(apart.imag) < 1.0:
        raise Refused(fault("etched.faces", ""))
    a = thickness_mm / apart.imag * complex(math.cos(-turn), math.sin(-turn))
    return Overlay(a, complex(*point) - a * complex(pixel[0], -pixel[1]))


def fit_remarks(found: Fitted, names: Sequence[str]) -> tuple[Remark, ...]:
    """What to know of an overlay: a slant, a point that does not fit."""
    remarks = []
    if found.slant is not None and found.slant > SLANT:
        remarks.append(watch("etched.slant", slant=Figure(round(100 * (found.slant - 1), 1), "percent")))
    if found.rms_mm is not None and found.rms_mm > MOST_RMS_MM:
        remarks.append(watch("etched.misfit", rms=Figure(found.rms_mm, "fine_length"), point=Figure(f"etched.mark.{names[found.worst]}", "word")))
    return tuple(remarks)


def thickness_remark(overlay: Overlay, by: Overlay) -> Remark | None:
    """That a scale from a ruler and one from the plate's thickness do not agree: the ruler did not lie in the plane of the section."""
    off = overlay.mm_per_px / by.mm_per_px - 1.0
    return watch("etched.scales", off=Figure(round(100 * abs(off), 1), "percent")) if abs(off) > SCALES_DIFFER else None


# --- beads --------------------------------------------------------------------------------------
def trace_fault(outline: Sequence[Point]) -> Remark | None:
    """What is wrong with a traced bead: too few points, no area, an outline that crosses itself."""
    bad = fault("etched.trace", "", most=Figure(MOST_POINTS, "count"))
    if not 3 <= len(outline) <= MOST_POINTS:
        return bad
    edges = list(itertools.pairwise((*outline, outline[0])))
    for (i, one), (j, other) in itertools.combinations(enumerate(edges), 2):
        if j - i in (1, len(edges) - 1):
            continue
        if (at := _crossing(*one, *other)) is not None:
            return fault("etched.crossed", "", x=Figure(at[0], "fine_length"), y=Figure(at[1], "fine_length"))
    return bad if abs(area(outline)) < LEAST_AREA_MM2 else None


def _crossing(a: Point, b: Point, c: Point, d: Point) -> Point | None:
    """Where two strokes cross, None where they do not."""
    u, v = (b[0] - a[0], b[1] - a[1]), (d[0] - c[0], d[1] - c[1])
    by = u[0] * v[1] - u[1] * v[0]
    if abs(by) < 1e-12:
        return None
    w = (c[0] - a[0], c[1] - a[1])
    s, t = (w[0] * v[1] - w[1] * v[0]) / by, (w[0] * u[1] - w[1] * u[0]) / by
    return (a[0] + s * u[0], a[1] + s * u[1]) if 0.0 < s < 1.0 and 0.0 < t < 1.0 else None


class Matched(Struct, frozen=True):
    """Traced beads by the planned bead each fits best (pass key to number from 0), and those left of either."""

    pairs: Mapping[str, int]
    planned_left: tuple[str, ...]
    traced_left: tuple[int, ...]


def matched(planned: Mapping[str, Sequence[Point]], traced: Sequence[Sequence[Point]], named: Mapping[int, str] | None = None) -> Matched:
    """Match greedily from the greatest share of common area; what was named by hand stays as it was named."""
    pairs = {key: i for i, key in (named or {}).items() if key in planned and 0 <= i < len(traced)}
    shares = sorted(((_iou(outline, trace), key, i) for key, outline in planned.items() for i, trace in enumerate(traced)), reverse=True)
    for share, key, i in shares:
        if share > LEAST_IOU and key not in pairs and i not in pairs.values():
            pairs[key] = i
    return Matched(pairs, tuple(key for key in planned if key not in pairs), tuple(i for i in range(len(traced)) if i not in pairs.values()))


def _iou(a: Sequence[Point], b: Sequence[Point]) -> float:
    """Common area over the area of both together."""
    shared = overlap(a, b)
    together = abs(area(a)) + abs(area(b)) - shared
    return shared / together if together > 0 else 0.0


def overlap_remarks(traced: Sequence[Sequence[Point]]) -> tuple[Remark, ...]:
    """Pairs of traced beads that lie over one another by more than a twentieth of the smaller."""
    found = []
    for (i, a), (j, b) in itertools.combinations(enumerate(traced), 2):
        share = overlap(a, b) / max(min(abs(area(a)), abs(area(b))), 1e-9)
        if share > OVERLAP_SHARE:
            found.append(watch("etched.overlap", one=Figure(i + 1, "count"), other=Figure(j + 1, "count"), share=Figure(round(100 * share), "percent")))
    return tuple(found)


# --- penetration --------------------------------------------------------------------------------
class Wall(Struct, frozen=True):
    """Penetration along one original edge: places on it with how deep fused metal reaches beyond, mm (None where none was found)."""

    side: str
    places: tuple[tuple[Point, float | None], ...]

    @property
    def depths(self) -> tuple[float, ...]:
        """What was found."""
        return tuple(depth for _, depth in self.places if depth is not None)

    @property
    def least(self) -> tuple[Point, float] | None:
        """Where it is least; None where nothing was found."""
        found = [(at, depth) for at, depth in self.places if depth is not None]
        return min(found, key=lambda one: one[1], default=None)

    @property
    def not_fused(self) -> tuple[Point, ...]:
        """Places no fused metal reaches."""
        return tuple(at for at, depth in self.places if depth is None)


def penetration(joint: Joint, traced: Sequence[Sequence[Point]]) -> tuple[Wall, Wall]:
    """How far the traced metal reaches into the left and the right plate, from the planned edge along its normal each half millimetre."""
    groove = groove_of(joint.prep)
    return _wall("left", groove.left_edge, -1.0, traced), _wall("right", groove.right_edge, 1.0, traced)


def _wall(side: str, edge: Sequence[Point], outward: float, traced: Sequence[Sequence[Point]]) -> Wall:
    places = []
    for (x0, y0), (x1, y1) in itertools.pairwise(edge):
        long = math.dist((x0, y0), (x1, y1))
        if long < 1e-9:
            continue
        normal = (outward * (y1 - y0) / long, -outward * (x1 - x0) / long)
        for i in range(max(1, int(long / STEP_MM))):
            share = (i + 0.5) / max(1, int(long / STEP_MM))
            at = (x0 + share * (x1 - x0), y0 + share * (y1 - y0))
            places.append((at, _reach(at, normal, traced)))
    return Wall(side, tuple(places))


def _reach(at: Point, normal: Point, traced: Sequence[Sequence[Point]]) -> float | None:
    """How far fused metal that lies just before a place reaches beyond it; None where none lies there."""
    held = sorted(stretch for outline in traced for stretch in _along(at, normal, outline))
    reach = -INSIDE_MM
    begun = False
    for begin, end in held:
        if begin <= reach + 1e-9 and end > reach:
            reach, begun = end, True
    return min(max(reach, 0.0), DEEPEST_MM) if begun and reach >= -AT_EDGE_MM else None


def _along(at: Point, normal: Point, outline: Sequence[Point]) -> list[tuple[float, float]]:
    """The stretches of a line that an outline holds, as distances from a place along the line's direction."""
    crossings = []
    for (x0, y0), (x1, y1) in itertools.pairwise((*outline, outline[0])):
        a = (x0 - at[0]) * normal[1] - (y0 - at[1]) * normal[0]
        b = (x1 - at[0]) * normal[1] - (y1 - at[1]) * normal[0]
        if (a > 0) != (b > 0):
            s = a / (a - b)
            x, y = x0 + s * (x1 - x0), y0 + s * (y1 - y0)
            crossings.append((x - at[0]) * normal[0] + (y - at[1]) * normal[1])
    crossings.sort()
    return list(zip(crossings[::2], crossings[1::2], strict=False))


def wall_remarks(wall: Wall) -> tuple[Remark, ...]:
    """Where a wall may not be fused."""
    gaps = wall.not_fused
    if not gaps:
        return ()
    low, high = min(y for _, y in gaps), max(y for _, y in gaps)
    word = Figure(f"etched.wall.{wall.side}", "word")
    return (watch("etched.not_fused", Place((), *gaps[0]), wall=word, low=Figure(low, "fine_length"), high=Figure(high, "fine_length")),)
