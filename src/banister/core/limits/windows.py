"""Windows of a qualified procedure: what they cover, what is inside, what nobody has set."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace

QUANTITIES = {
    "amps": "A",
    "volts": "V",
    "travel": "mm/min",
    "arc_energy": "kJ/mm",
    "heat_input": "kJ/mm",
    "run_out": "mm",
    "weave": "mm",
    "preheat": "\N{DEGREE SIGN}C",
    "interpass": "\N{DEGREE SIGN}C",
    "t85": "s",
}
TITLES = {
    "amps": "Current",
    "volts": "Voltage",
    "travel": "Travel speed",
    "arc_energy": "Arc energy (k = 1)",
    "heat_input": "Heat input (k = 0.8)",
    "run_out": "Run-out of one rod",
    "weave": "Finished bead width",
    "preheat": "Preheat, at least",
    "interpass": "Interpass, at most",
    "t85": "Cooling time t8/5",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """A low and a high bound (either may be open) for a quantity; '*' covers every role or rod.

    `origin` is the number of the procedure it was taken from, '' for one entered in the job.
    """

    quantity: str
    role: str = "*"
    rod: str = "*"
    low: float | None = None
    high: float | None = None
    origin: str = ""

    def covers(self, role: str, rod: str) -> bool:
        """True if the window speaks about this role and rod (`E7018-4.0x450`, `E7018-4.0`, `E7018`)."""
        if self.role not in ("*", role):
            return False
        return self.rod == "*" or rod == self.rod or rod.startswith((self.rod + "-", self.rod + "x"))


@dataclass(frozen=True, slots=True)
class Bounds:
    """The intersection of all windows on one quantity; open sides are infinite."""

    low: float = -math.inf
    high: float = math.inf

    @property
    def is_set(self) -> bool:
        """False where no window speaks: then nothing is judged."""
        return self.low > -math.inf or self.high < math.inf

    def verdict(self, value: float) -> str:
        """'inside', 'outside' or 'not judged'; a thousandth of a per cent is rounding."""
        if not self.is_set:
            return "not judged"
        slack = 1e-5 * max(1.0, abs(value))
        return "inside" if self.low - slack <= value <= self.high + slack else "outside"

    def middle(self, fallback: float) -> float:
        """The fallback if inside, else the nearer bound."""
        return min(max(fallback, self.low), self.high)


def tightest(windows: Iterable[Window], quantity: str) -> Bounds:
    """What all windows on a quantity together allow, whichever pass or rod they name: for what the whole joint has to keep."""
    return bounds((replace(w, role="*", rod="*") for w in windows), quantity, "*", "*")


def bounds(windows: Iterable[Window], quantity: str, role: str, rod: str) -> Bounds:
    """What the windows together allow for a quantity in a role with a rod."""
    low, high = -math.inf, math.inf
    for window in windows:
        if window.quantity == quantity and window.covers(role, rod):
            low = max(low, -math.inf if window.low is None else window.low)
            high = min(high, math.inf if window.high is None else window.high)
    return Bounds(low, high)
