"""Windows of a qualified procedure: what they cover, what is inside, what nobody has set."""

from __future__ import annotations

import math
from collections.abc import Iterable

from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, Figure, Remark, fault, unknown_word
from banister.core.value import Struct

QUANTITIES = {
    "amps": "current", "volts": "voltage", "travel": "speed", "arc_energy": "energy", "heat_input": "energy",
    "run_out": "long_length", "weave": "length", "preheat": "set_temperature", "interpass": "set_temperature", "t85": "seconds",
}  # fmt: skip
"""What a window may speak about, and the kind of figure it is. Arc energy is k = 1, heat input has the process's own k."""
WIDEST = {
    "amps": (1.0, 2000.0), "volts": (1.0, 100.0), "travel": (1.0, 5000.0), "arc_energy": (0.01, 50.0), "heat_input": (0.01, 50.0),
    "run_out": (5.0, 5000.0), "weave": (0.5, 200.0), "preheat": (-60.0, 600.0), "interpass": (-60.0, 800.0), "t85": (0.1, 1000.0),
}  # fmt: skip
"""Bounds beyond these are slips of the hand or of the unit."""
ROLES = ("root", "hot", "fill", "cap")
"""What a pass may be, and a limit may be for."""
EVERY = "*"


class Window(Struct, frozen=True, kw_only=True):
    """A low and a high bound (either may be open) for a quantity; '*' covers every role or rod.

    `origin` is the number of the procedure it was taken from, '' for one entered in the job.
    """

    quantity: str
    role: str = EVERY
    rod: str = EVERY
    low: float | None = None
    high: float | None = None
    origin: str = ""

    def covers(self, role: str, rod: str) -> bool:
        """True if the window speaks about this role and rod (`E7018-4.0x450`, `E7018-4.0`, `E7018`)."""
        if self.role not in ("*", role):
            return False
        return self.rod == "*" or rod == self.rod or rod.startswith((self.rod + "-", self.rod + "x"))


class Bounds(Struct, frozen=True):
    """The intersection of all windows on one quantity; open sides are infinite."""

    low: float = -math.inf
    high: float = math.inf

    @property
    def is_set(self) -> bool:
        """False where no window speaks: then nothing is judged."""
        return self.low > -math.inf or self.high < math.inf

    def verdict(self, value: float) -> str:
        """Inside, outside or not judged; a thousandth of a per cent is rounding."""
        if not self.is_set:
            return NOT_JUDGED
        slack = 1e-5 * max(1.0, abs(value))
        return INSIDE if self.low - slack <= value <= self.high + slack else OUTSIDE

    def figure(self, kind: str) -> Figure:
        """The window as a figure of a kind."""
        return Figure((self.low if self.low > -math.inf else None, self.high if self.high < math.inf else None), kind)

    def middle(self, fallback: float) -> float:
        """The fallback if inside, else the nearer bound."""
        return min(max(fallback, self.low), self.high)


def tightest(windows: Iterable[Window], quantity: str) -> Bounds:
    """What all windows on a quantity together allow, whichever pass or rod they name: for what the whole joint has to keep."""
    return _together(w for w in windows if w.quantity == quantity)


def bounds(windows: Iterable[Window], quantity: str, role: str, rod: str) -> Bounds:
    """What the windows together allow for a quantity in a role with a rod."""
    return _together(w for w in windows if w.quantity == quantity and w.covers(role, rod))


def _together(windows: Iterable[Window]) -> Bounds:
    low, high = -math.inf, math.inf
    for window in windows:
        low = max(low, -math.inf if window.low is None else window.low)
        high = min(high, math.inf if window.high is None else window.high)
    return Bounds(low, high)


def window_faults(window: Window) -> tuple[Remark, ...]:
    """What cannot be right in a window, each with its field."""
    kind = QUANTITIES.get(window.quantity)
    if kind is None:
        return (unknown_word("quantity", window.quantity, QUANTITIES),)
    if window.role not in (EVERY, *ROLES):
        return (unknown_word("role", window.role, (EVERY, *ROLES)),)
    least, most = WIDEST[window.quantity]
    found = [
        fault("window.range", end, quantity=Figure(f"quantity.{window.quantity}", "word"), value=Figure(bound, kind), window=Figure((least, most), kind))
        for end, bound in (("low", window.low), ("high", window.high))
        if bound is not None and not (math.isfinite(bound) and least <= bound <= most)
    ]
    if not found and window.low is not None and window.high is not None and window.low > window.high:
        found.append(fault("window.order", "low", low=Figure(window.low, kind), high=Figure(window.high, kind)))
    return tuple(found)
