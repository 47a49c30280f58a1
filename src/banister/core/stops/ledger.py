"""The ledger of rods: a piece takes the smallest part rod that is long enough; short rests are scrap."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

LEAST_SHARE = 0.3
"""A rest shorter than this share of a rod is scrap (typical)."""


def ledger(passes: Iterable[tuple[str, Sequence[float]]], least_share: float = LEAST_SHARE) -> dict[str, int]:
    """Whole rods taken of each lot for passes whose pieces are given in rods."""
    taken: dict[str, int] = {}
    rests: dict[str, list[float]] = {}
    for lot, pieces in passes:
        left = rests.setdefault(lot, [])
        for piece in pieces:
            fits = [rest for rest in left if rest >= piece - 1e-9]
            if fits:
                rod = min(fits)
                left.remove(rod)
            else:
                taken[lot] = taken.get(lot, 0) + 1
                rod = 1.0
            if rod - piece >= least_share - 1e-9:
                left.append(rod - piece)
    return taken
