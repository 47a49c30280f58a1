"""Rods to start from when a joint is described: by what holds the root, how the pool lies, wall and bore (a common technique, typical)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from banister.core.joint.joint import Joint
from banister.core.joint.positions import OVERHEAD, VERTICAL_DOWN, VERTICAL_UP
from banister.core.joint.working import RodUse
from banister.core.rods.rod import Rod

SMALL_PIPE_OD_MM, THIN_WALL_MM, THICK_UPHILL_MM, THICK_DOWNHILL_MM = 170.0, 8.0, 16.0, 12.0
SMALL, USUAL = (2.5, 3.2), (3.2, 4.0)
CELLULOSIC, BASIC, STAINLESS = "E6010", "E7018", "E308L-16"


def usual_rods(rods: Sequence[Rod], joint: Joint, backing: str = "") -> tuple[RodUse, ...]:
    """Rods for every role; `backing` in the place of the joint's own, sizes that are not in the catalogue passed over."""
    by_size = {(r.type, r.diameter_mm): r.id for r in reversed(rods) if not r.size_label}
    found = ((role, by_size.get((kind, size))) for role, kind, size in _wanted(joint, backing or joint.prep.backing))
    return tuple(RodUse(role=role, rod=rod) for role, rod in found if rod is not None)


def _wanted(joint: Joint, backing: str) -> Iterator[tuple[str, str, float]]:
    """Role, type and core diameter: cellulosic root and hot pass on an open root, basic above and on all that is held; all cellulosic downhill."""
    if joint.metal.stainless:
        yield from ((role, STAINLESS, size) for role in ("root", "fill", "cap") for size in SMALL)
        return
    if VERTICAL_DOWN in joint.attitudes("fill"):
        yield from _downhill(joint)
        return
    sizes = fill_sizes_mm(joint)
    if backing == "open":
        yield "root", CELLULOSIC, min(sizes) if is_small(joint) else 3.2
        yield "hot", CELLULOSIC, 3.2
    else:
        yield from (("root", BASIC, size) for size in sizes)
    yield from ((role, BASIC, size) for role in ("fill", "cap") for size in sizes)


def _downhill(joint: Joint) -> Iterator[tuple[str, str, float]]:
    thick = joint.prep.welded_thickness_mm >= THICK_DOWNHILL_MM
    yield "root", CELLULOSIC, 3.2 if is_small(joint) else 4.0
    for role in ("hot", "fill", "cap"):
        yield role, CELLULOSIC, 4.0
        if thick and role != "hot":
            yield role, CELLULOSIC, 5.0


def is_small(joint: Joint) -> bool:
    """A thin wall, or a pipe a small rod gets round better."""
    return joint.prep.welded_thickness_mm <= THIN_WALL_MM or (joint.piece.form == "pipe" and joint.piece.pipe_od_mm <= SMALL_PIPE_OD_MM)


def fill_sizes_mm(joint: Joint) -> tuple[float, float]:
    """Sizes of low-hydrogen rods a hand holds in this position; 4.0 overhead only where it is named."""
    attitudes = set(joint.attitudes("fill"))
    if OVERHEAD in attitudes or is_small(joint):
        return SMALL
    return SMALL if VERTICAL_UP in attitudes and joint.prep.welded_thickness_mm < THICK_UPHILL_MM else USUAL
