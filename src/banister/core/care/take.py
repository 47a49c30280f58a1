"""How many rods to take along: draws of groove, deposit and every rod, at a chosen confidence.

Bead-to-bead scatter is left out on purpose: the groove's volume is fixed, the next bead makes up.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

DRAWS = 1000
GROOVE, DEPOSIT, ROD, SPOILT = 0.06, 0.05, 0.04, 0.02
"""Spread (sd) of groove and of deposit, of one rod's yield, and the share that is spoilt (typical)."""


class Spreads(Struct, frozen=True, kw_only=True):
    """What makes the need uncertain: sd of groove and deposit common to all, of a single rod, and the share spoilt."""

    groove: float = GROOVE
    deposit: float = DEPOSIT
    rod: float = ROD
    spoilt: float = SPOILT


USUAL = Spreads()


class Need(Struct, frozen=True):
    """Rods needed in every draw, sorted, and what the plan comes to without any spread."""

    draws: NDArray[np.int64]
    planned: int

    def at(self, confidence: float) -> int:
        """Rods that are enough with a confidence."""
        return int(self.draws[min(math.ceil(confidence * self.draws.size) - 1, self.draws.size - 1)])

    def range_of(self, share: float = 0.9) -> tuple[int, int]:
        """The range so large a share of the draws lies in."""
        edge = (1 - share) / 2
        return self.at(edge), self.at(1 - edge)


def need_of(rods_per_pass: Sequence[float], spreads: Spreads = USUAL, carried_on: bool = True, seed: int = 1) -> Need:
    """The need of passes given in rods; part rods are carried on to the next pass, or not."""
    units, draw = np.asarray(rods_per_pass, dtype=float), np.random.default_rng(seed)
    common = (1 + spreads.groove * draw.standard_normal(DRAWS)) / np.maximum(1 + spreads.deposit * draw.standard_normal(DRAWS), 0.5)
    own = 1 + spreads.rod * draw.standard_normal((DRAWS, units.size)) / np.sqrt(np.maximum(units, 1.0))
    used = np.maximum(common[:, None] * own, 0.05) * units
    whole = np.ceil(used.sum(axis=1) - 1e-9) if carried_on else np.ceil(used - 1e-9).sum(axis=1)
    spoilt = draw.negative_binomial(np.maximum(whole, 1), 1 - spreads.spoilt) if spreads.spoilt > 0 else np.zeros(DRAWS)
    planned = math.ceil(units.sum() - 1e-9) if carried_on else int(np.ceil(units - 1e-9).sum())
    return Need(np.sort((whole + spoilt).astype(np.int64)), planned)


def packets(rods: int, per_packet: int) -> int:
    """Packets for so many rods."""
    return math.ceil(rods / per_packet)
