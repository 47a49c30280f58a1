"""Who is who when a joint is planned anew: a pass keeps its key for good, a new one takes a number never used before."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import area, boxes_shared, overlap
from banister.core.value import replace

KEPT_SHARE = 0.5
"""A pass is the one of before whose outline it holds more than half of."""


def last_key(plan: Plan) -> int:
    """The highest number in the keys of a plan."""
    return max((_number(p.key) for p in plan.passes), default=0)


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

    Beads of one plan lie beside one another, so that no two hold more than half of the same: the likeliest is looked at first.
    """
    shares = []
    most = boxes_shared([old.outline_mm for old in before], [p.outline_mm for p in passes])
    for old, row in zip(before, most, strict=True):
        whole = area(old.outline_mm)
        needed = KEPT_SHARE * whole
        for i in sorted(np.flatnonzero(row > needed).tolist(), key=lambda i: -float(row[i])):
            p = passes[i]
            if (p.role, p.side) != (old.role, old.side):
                continue
            shared = whole if p.outline_mm == old.outline_mm else overlap(old.outline_mm, p.outline_mm)
            if shared > needed:
                shares.append((shared / needed, p.key, old.key))
                break
    found: dict[str, str] = {}
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
