"""Who is who when a joint is planned anew: a pass keeps its key for good, a new one takes a number never used before."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

import numpy as np

from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import areas, boxes_shared, overlaps, stacked
from banister.core.value import replace

KEPT_SHARE = 0.5
"""A pass is the one of before whose outline it holds more than half of."""
FEW_LEVELS, NEAR = 16, 0.3
"""Levels at which that is looked at first; where it comes out so near to half, in shares of half, it is looked at closely."""


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
    as_they_lay = set(found.values())
    moved, left = [p for p in passes if p.key not in found], [old for old in before if old.key not in as_they_lay]
    if not moved or not left:
        return found
    for _, now, then in sorted(_shares(left, moved), reverse=True):
        if now not in found and then not in found.values():
            found[now] = then
    return found


def _shares(left: Sequence[Pass], moved: Sequence[Pass]) -> Iterator[tuple[float, str, str]]:
    """How much more than is needed beads of before share with the one that holds enough of them: that, the key of now, the key then."""
    then, now = stacked([old.outline_mm for old in left]), stacked([p.outline_mm for p in moved])
    needed, most = KEPT_SHARE * areas(then), boxes_shared(then, now)
    alike = np.array([[(p.role, p.side) == (old.role, old.side) for p in moved] for old in left])
    likely = [[*np.flatnonzero(row)[np.argsort(-most[i, row], kind="stable")]] for i, row in enumerate(alike & (most > needed[:, None]))]
    looking = [i for i, row in enumerate(likely) if row]
    while looking:
        asked = [likely[i].pop(0) for i in looking]
        old, new = np.array(looking), np.array(asked)
        shares = overlaps(then[old], now[new], FEW_LEVELS) / needed[old]
        if (near := np.abs(shares - 1.0) < NEAR).any():
            shares[near] = overlaps(then[old[near]], now[new[near]]) / needed[old[near]]
        yield from ((float(share), moved[j].key, left[i].key) for i, j, share in zip(looking, asked, shares, strict=True) if share > 1.0)
        looking = [i for i, share in zip(looking, shares, strict=True) if share <= 1.0 and likely[i]]


def _renamed(plan: Plan, keys: Mapping[str, str]) -> Plan:
    passes = tuple(replace(p, key=keys[p.key], remarks=tuple(r.renamed(keys) for r in p.remarks)) for p in plan.passes)
    sequence = tuple(replace(phase, passes=tuple(keys[key] for key in phase.passes)) for phase in plan.sequence)
    return replace(plan, passes=passes, sequence=sequence, remarks=tuple(r.renamed(keys) for r in plan.remarks),
                   reasons=tuple(r.renamed(keys) for r in plan.reasons))  # fmt: skip


def _number(key: str) -> int:
    digits = key.removeprefix("p")
    return int(digits) if digits.isdecimal() else 0
