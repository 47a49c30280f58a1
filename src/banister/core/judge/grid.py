"""The windows of a joint as a grid: a row for every role with its rods, a column for every figure of a pass.

A cell holds one window; what the plan has in that row is shown behind it. Windows on preheat, interpass and
t8/5 speak of the whole joint and stand above the grid.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence

from banister.core.heat.line import HeatLine
from banister.core.joint.joint import Joint
from banister.core.judge.passes import PER_PASS, pass_value
from banister.core.limits.windows import QUANTITIES, ROLES, WIDEST, Bounds, Window, window_faults
from banister.core.plan.plan import Pass, Plan
from banister.core.remark import Refused
from banister.core.typed import typed_window
from banister.core.units import Units
from banister.core.value import Struct

ABOVE = ("preheat", "interpass", "t85")
COLUMNS = ("amps", "volts", "travel", "run_out", "arc_energy", "heat_input", "weave")
ONE_BOUND = {"preheat": "low", "interpass": "high"}
"""What a single figure means where it is no window of one value: preheat at least, interpass at most."""


class Row(Struct, frozen=True):
    """The passes a row speaks of: '*' covers every role or rod."""

    role: str = "*"
    rod: str = "*"

    def passes(self, plan: Plan | None) -> tuple[Pass, ...]:
        """The passes of the row; none of a plan that cannot be welded."""
        if plan is None or not plan.feasible:
            return ()
        window = Window(quantity="", role=self.role, rod=self.rod)
        return tuple(p for p in plan.passes if window.covers(p.role, p.rod.id))


def rows_of(joint: Joint) -> tuple[Row, ...]:
    """Every pass, then each role with each of its rods, then what other windows name."""
    rows = [Row(), *(Row(role, rod) for role in ROLES for rod in joint.working.rods_for(role))]
    return tuple(dict.fromkeys([*rows, *(Row(w.role, w.rod) for w in joint.working.windows)]))


def columns_of(joint: Joint) -> tuple[str, ...]:
    """The figures of a pass; of those that stand above only the ones with a window of a role or a rod of its own."""
    own = {w.quantity for w in joint.working.windows if (w.role, w.rod) != ("*", "*")}
    return (*COLUMNS, *(quantity for quantity in ABOVE if quantity in own))


def cell_window(windows: Iterable[Window], quantity: str, row: Row) -> Bounds:
    """What the windows of exactly one row say of a quantity, whatever others say besides."""
    low, high = -math.inf, math.inf
    for w in windows:
        if (w.quantity, w.role, w.rod) == (quantity, row.role, row.rod):
            low, high = max(low, -math.inf if w.low is None else w.low), min(high, math.inf if w.high is None else w.high)
    return Bounds(low, high)


def cell_text(bounds: Bounds, kind: str, units: Units) -> str:
    """A window as it can be typed, one figure where both bounds are written alike.

    >>> cell_text(Bounds(90.0, 125.0), "current", Units()), cell_text(Bounds(high=125.0), "current", Units())
    ('90..125', '..125')
    """
    if not bounds.is_set:
        return ""
    low, high = (units.text(kind, end) if math.isfinite(end) else "" for end in (bounds.low, bounds.high))
    return low if low == high else f"{low}..{high}"


def with_cells(windows: Iterable[Window], cells: Mapping[tuple[str, Row], str | Bounds], units: Units) -> tuple[Window, ...]:
    """The windows with cells typed anew ('' to drop one), or copied from another of their quantity.

    An unchanged text changes nothing. Refused says what is wrong, of which quantity.
    """
    found = tuple(windows)
    for (quantity, row), cell in cells.items():
        if isinstance(cell, Bounds):
            found = _with_bounds(found, quantity, row, cell)
        elif cell.strip() != cell_text(cell_window(found, quantity, row), QUANTITIES[quantity], units):
            found = _with_bounds(found, quantity, row, _typed_bounds(cell, quantity, units))
    return found


def _typed_bounds(text: str, quantity: str, units: Units) -> Bounds:
    low, high = typed_window(text, QUANTITIES[quantity], units, *WIDEST[quantity])
    if low == high and quantity in ONE_BOUND:
        low, high = (low, None) if ONE_BOUND[quantity] == "low" else (None, high)
    return Bounds(-math.inf if low is None else low, math.inf if high is None else high)


def _with_bounds(windows: tuple[Window, ...], quantity: str, row: Row, bounds: Bounds) -> tuple[Window, ...]:
    low, high = (end if math.isfinite(end) else None for end in (bounds.low, bounds.high))
    made = Window(quantity=quantity, role=row.role, rod=row.rod, low=low, high=high)
    if faults := window_faults(made):
        raise Refused(*faults)
    is_same = [(w.quantity, w.role, w.rod) == (quantity, row.role, row.rod) for w in windows]
    if not bounds.is_set:
        return tuple(w for w, same in zip(windows, is_same, strict=True) if not same)
    at = is_same.index(True) if True in is_same else len(windows)
    return (*windows[:at], made, *(w for w, same in zip(windows[at:], is_same[at:], strict=True) if not same))


def plan_range(passes: Sequence[Pass], heat: HeatLine | None, quantity: str) -> tuple[float, float] | None:
    """The least and the greatest of a figure in the passes of a row; None where none is known."""
    values = [pass_value(p, quantity) for p in passes] if quantity in PER_PASS else list(_timed(heat, quantity, {p.key for p in passes}))
    return (min(values), max(values)) if values else None


def _timed(heat: HeatLine | None, quantity: str, keys: set[str]) -> Iterator[float]:
    """Preheat, interpass or t8/5 of the passes, read off the schedule."""
    for s in heat.schedule.passes if heat is not None and heat.schedule.feasible else ():
        if s.key in keys:
            if quantity == "t85":
                if s.t85 is not None:
                    yield s.t85.seconds
            else:
                yield s.preheat_point_c if quantity == "preheat" else s.temp_c
