"""Who is who when a joint is planned anew: a pass keeps its key for good, a new one takes a number never used before."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import area, boxes_shared, overlap
from banister.core.value import replace

KEPT_SHARE = 0.5
"""A pass is the one of before whose outline it holds more than half of."""


def last_key(plan: Plan) -> int:
    """The highest number in the keys of a plan."""
    return highest(p.key for p in plan.passes)


def highest(keys: Iterable[str]) -> int:
    """The highest number in some keys."""
    return max(map(_number, keys), default=0)


def keyed(plan: Plan, before: Plan | None, used: int = 0) -> Plan:
    """The plan with the keys of the one before: same role, same side, same layer of it, and more than half of its outline.

    `used` is the highest number the joint ever gave, even if none of today's plans has it.
    """
    if before is None or not before.passes or not plan.passes:
        return plan
    found = _same(plan.passes, before.passes)
    fresh = max(used, last_key(before))
    keys: dict[str, str] = {}
    for p in plan.passes:
        if p.key in found:
            keys[p.key] = found[p.key]
        else:
            fresh += 1
            keys[p.key] = f"p{fresh}"
    return _renamed(plan, keys)


def _same(passes: Sequence[Pass], before: Sequence[Pass]) -> Mapping[str, str]:
    """Keys of before by those of now; where one bead now holds most of two, the larger share wins.

    Beads of one plan lie beside one another, so that no two hold more than half of the same: those that lie as they lay
    are found at once, and of the others the likeliest is looked at first.
    """
    lay = {(old.role, old.side, old.outline_mm): old.key for old in before}
    found = {p.key: lay[is_as] for p in passes if (is_as := (p.role, p.side, p.outline_mm)) in lay}
    moved, left = [p for p in passes if p.key not in found], [old for old in before if old.key not in found.values()]
    if not moved or not left:
        return found
    shares = []
    most = boxes_shared([old.outline_mm for old in left], [p.outline_mm for p in moved])
    for old, row in zip(left, most, strict=True):
        needed = KEPT_SHARE * area(old.outline_mm)
        for i in sorted(np.flatnonzero(row > needed).tolist(), key=lambda i: -float(row[i])):
            p = moved[i]
            if (p.role, p.side) == (old.role, old.side) and (shared := overlap(old.outline_mm, p.outline_mm)) > needed:
                shares.append((shared / needed, p.key, old.key))
                break
    for _, now, then in sorted(shares, reverse=True):
        if now not in found and then not in found.values():
            found[now] = then
    return found


def _renamed(plan: Plan, keys: Mapping[str, str]) -> Plan:
    passes = tuple(replace(p, key=keys[p.key], remarks=tuple(r.renamed(keys) for r in p.remarks)) for p in plan.passes)
    sequence = tuple(replace(phase, passes=tuple(keys[key] for key in phase.passes)) for phase in plan.sequence)
    return replace(plan, passes=passes, sequence=sequence, remarks=tuple(r.renamed(keys) for r in plan.remarks),
                   reasons=tuple(r.renamed(keys) for r in plan.reasons))  # fmt: skip


def _number(key: str) -> int:
    digits = key.removeprefix("p")
    return int(digits) if digits.isdecimal() else 0
