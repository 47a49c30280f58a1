"""Plans random joints as a shop has them and measures their sections off the outlines alone.

    .venv/bin/python -m tests.sample.run [COUNT]     200 a kind unless told; prints a table in per cent of joints

Three kinds: joints of every preparation, half grooves (one square wall), and horizontal ones. Drawn with a fixed seed.
Nothing of the planner's own measuring is used but the outlines, the rods and, for the last row, its remarks.
"""

from __future__ import annotations

import bisect
import random
import sys
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from functools import cache

from banister.core.joint.defaults import with_backing, with_preparation
from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint, edited
from banister.core.plan.answers import plan_joint
from banister.core.plan.notes import plan_remarks
from banister.core.plan.plan import Pass, Plan
from banister.job.library import blank_joint, shipped_rods
from tests.conftest import bench_rods

SEED, COUNT = 20261128, 200
RODS = {rod.id: rod for rod in shipped_rods()}
SHOP = ("single-v",) * 9 + ("single-bevel",) * 3 + ("compound-v", "single-u", "single-j", "double-v", "double-v", "double-bevel", "double-u")
HALF = ("single-bevel", "single-j", "double-bevel")
POSITIONS = ("1G", "1G", "2G", "3G", "3G", "4G")
SECTION = ("bead.", "wall.", "layer.", "cap.valley")
"""Remarks about the section itself, not about fit-up."""
GRID_MM = 0.05
Point = tuple[float, float]


def drawn(draw: random.Random, kinds: Sequence[str], positions: Sequence[str]) -> Joint:
    """A joint that a shop could have on the bench."""
    while True:
        key, position = draw.choice(kinds), draw.choice(positions)
        thickness = round(draw.choice((draw.uniform(8, 16), draw.uniform(12, 30), draw.uniform(20, 50))), 1)
        joint = with_preparation(edited(blank_joint("S", "sample"), thickness_mm=thickness, position=position), key)
        double = joint.prep.kind.double
        joint = with_backing(joint, draw.choice(("open", "open", "closed") if double else ("open", "open", "bar", "closed")))
        half, round_ = 0.0 in (joint.prep.bevel_left_deg, joint.prep.bevel_right_deg), key.endswith(("-u", "-j"))
        angle = draw.choice((12.0, 15.0, 20.0)) if round_ else draw.choice((40.0, 45.0, 50.0)) if half else draw.choice((22.5, 27.5, 30.0, 35.0))
        fields = {"bevel_right_deg": angle, "bevel_left_deg": 0.0 if half else angle, "back_bevel_deg": angle}
        if joint.prep.open_root:
            fields |= {"root_gap_mm": draw.choice((2.5, 3.0, 3.5, 4.0)), "root_face_mm": draw.choice((1.0, 1.5, 2.0))}
        elif joint.prep.backing == "bar":
            fields |= {"root_gap_mm": draw.choice((5.0, 7.0, 8.0, 10.0))}
        joint = edited(joint, rods=bench_rods(joint.prep.backing), **fields)
        if not joint_faults(joint):
            return joint


@cache
def samples(count: int) -> dict[str, list[Joint]]:
    """The three kinds, the same at every call."""
    draw = random.Random(SEED)
    kinds = {"shop": (SHOP, POSITIONS), "half grooves": (HALF, ("1G", "3G", "4G")), "2G": (SHOP, ("2G",))}
    return {name: [drawn(draw, *of) for _ in range(count)] for name, of in kinds.items()}


@dataclass
class Measured:
    """What the sections of a joint show at worst, mm and shares; counts of beads."""

    planned: bool
    tilt: float = 0.0
    valley: float = 0.0
    cap_valley: float = 0.0
    hollow: float = 0.0
    peaked: float = 0.0
    beads: int = 0
    slim: int = 0
    warned: bool = False
    codes: tuple[str, ...] = field(default_factory=tuple)


def upright(p: Pass, points: Iterable[Point]) -> tuple[Point, ...]:
    """Points as they are seen from the pass's own side, left to right."""
    found = [(x, -y) if p.side == "back" else (x, y) for x, y in points]
    return tuple(found)


def face_of(p: Pass) -> tuple[Point, ...]:
    return upright(p, p.outline_mm[: p.face_points])


def height(line: Sequence[Point], x: float) -> float:
    """Height of a line at x; the outermost points hold beyond its ends."""
    xs = [q[0] for q in line]
    i = min(max(bisect.bisect_right(xs, x), 1), len(xs) - 1)
    (x0, y0), (x1, y1) = line[i - 1], line[i]
    return y1 if x1 <= x0 else y0 + (y1 - y0) * min(max((x - x0) / (x1 - x0), 0.0), 1.0)


def surface_of(layer: Sequence[Pass]) -> list[Point]:
    """What a layer leaves: the highest face over every x."""
    faces = [face_of(p) for p in layer]
    left, right = min(f[0][0] for f in faces), max(f[-1][0] for f in faces)
    n = max(8, round((right - left) / GRID_MM))
    xs = [left + (right - left) * i / n for i in range(n + 1)]
    return [(x, max(height(f, x) for f in faces if f[0][0] <= x <= f[-1][0])) for x in xs if any(f[0][0] <= x <= f[-1][0] for f in faces)]


def deepest_valley(line: Sequence[Point]) -> float:
    """Depth of the deepest notch that a crown bounds on one side at least."""
    ys = [y for _, y in line]
    turns = [i for i in range(1, len(ys) - 1) if (ys[i] - ys[i - 1]) * (ys[i + 1] - ys[i]) < 0]
    crowns = [i for i in turns if ys[i] > ys[i - 1]]
    deepest = 0.0
    for i in (i for i in turns if ys[i] < ys[i - 1]):
        ridges = [ys[c] for c in (max((c for c in crowns if c < i), default=None), min((c for c in crowns if c > i), default=None)) if c is not None]
        if ridges:
            deepest = max(deepest, min(ridges) - ys[i])
    return deepest


def crown(p: Pass) -> float:
    """Greatest height of the face over the chord of its toes (hollow: negative), per width."""
    face = face_of(p)
    (x0, y0), (x1, y1) = face[0], face[-1]
    over = [y - y0 - (y1 - y0) * (x - x0) / (x1 - x0) for x, y in face]
    return max(over, key=abs) / (x1 - x0)


def thickness(p: Pass) -> float:
    """Greatest height of the face over the metal it lies on."""
    base = [(x, y) for x, y in reversed(upright(p, p.outline_mm[p.face_points - 1 :] + p.outline_mm[:1]))]
    return max(y - height(base, x) for x, y in face_of(p))


def is_slim(p: Pass) -> bool:
    """Thinner than a third of its core, or six times as wide as thick."""
    (x0, _), (x1, _) = face_of(p)[0], face_of(p)[-1]
    thick = thickness(p)
    return thick < 0.35 * p.rod.diameter_mm or (x1 - x0) / thick > 6.0


def measured(joint: Joint) -> Measured:
    """One joint, planned as the easiest answer."""
    plan = plan_joint(joint, RODS)
    if not plan.feasible:
        return Measured(False, codes=tuple(r.code for r in plan.reasons))
    layers: dict[tuple[str, int], list[Pass]] = {}
    for p in plan.passes:
        layers.setdefault((p.side, p.layer), []).append(p)
    found = Measured(True, beads=len(plan.passes), slim=sum(is_slim(p) for p in plan.passes), warned=_warned(plan))
    for layer in layers.values():
        line = surface_of(layer)
        if layer[0].role == "cap":
            found.cap_valley = max(found.cap_valley, deepest_valley(line))
        else:
            found.tilt = max(found.tilt, abs(line[-1][1] - line[0][1]))
            found.valley = max(found.valley, deepest_valley(line))
    found.hollow = min(crown(p) for p in plan.passes)
    found.peaked = max(crown(p) for p in plan.passes)
    return found


def _warned(plan: Plan) -> bool:
    return any(r.code.startswith(SECTION) for r in plan_remarks(plan))


ROWS: tuple[tuple[str, Callable[[Measured], bool]], ...] = (
    ("layer tilt > 1.5 mm", lambda m: m.tilt > 1.5), ("layer tilt > 1.0 mm", lambda m: m.tilt > 1.0),
    ("valley > 1.5 mm", lambda m: m.valley > 1.5), ("valley > 1.0 mm", lambda m: m.valley > 1.0), ("cap valley > 0.8 mm", lambda m: m.cap_valley > 0.8),
    ("hollow < -0.12 w", lambda m: m.hollow < -0.12), ("peaked > 0.27 w", lambda m: m.peaked > 0.27), ("a warning of the section", lambda m: m.warned),
)  # fmt: skip


def main(count: int = COUNT) -> None:
    """Print the table."""
    table: dict[str, list[Measured]] = {}
    with ProcessPoolExecutor(2) as pool:
        for name, joints in samples(count).items():
            table[name] = list(pool.map(measured, joints, chunksize=10))
    print(f"{'':28}" + "".join(f"{name:>16}" for name in table))
    print(f"{'planned of ' + str(count):28}" + "".join(f"{sum(m.planned for m in found):16}" for found in table.values()))
    for row, holds in ROWS:
        shares = [[holds(m) for m in found if m.planned] for found in table.values()]
        print(f"{row + ', %':28}" + "".join(f"{100 * sum(share) / len(share):16.1f}" for share in shares))
    print(f"{'slim, % of beads':28}" + "".join(f"{100 * sum(m.slim for m in found) / sum(m.beads for m in found):16.1f}" for found in table.values()))
    for name, found in table.items():
        reasons = [code for m in found for code in m.codes]
        print(f"{name}, refused: " + (", ".join(f"{code} {reasons.count(code)}" for code in sorted(set(reasons))) or "none"))


if __name__ == "__main__":
    main(*map(int, sys.argv[1:2]))
