"""Which bead areas and currents a hand can hold, by rod, role and the way the pool lies.

One table of typical shop figures. Cells that are missing are estimated from the nearest size in
proportion to core area and say so. Everything here can be overruled by the procedure's windows or
the welder's own run-out.
"""

from __future__ import annotations

from banister.core.joint.positions import (
    FLAT,
    HORIZONTAL,
    OVERHEAD,
    VERTICAL_DOWN,
    VERTICAL_UP,
)  # fmt: skip
from banister.core.rods.rod import Rod
from banister.core.value import Struct

TYPICAL, NEAREST_SIZE, FROM_FLAT, FROM_BASIC = "typical", "nearest_size", "from_flat", "from_basic"
ROUND_THE_CLOCK, OWN_RUN_OUT, THROAT, PROCEDURE = "round_the_clock", "own_run_out", "throat", "procedure"
"""Where a range comes from; each is the word `origin.KEY`."""
FLAT_MM2 = {2.5: (7.0, 15.0), 3.2: (12.0, 21.0), 4.0: (18.0, 32.0), 5.0: (24.0, 39.0)}
UPHILL_MM2 = {2.5: (13.0, 21.0), 3.2: (18.0, 35.0), 4.0: (26.0, 48.0)}
CELLULOSIC_DOWN_MM2 = {3.2: (7.0, 12.0), 4.0: (7.0, 14.0)}
OPEN_ROOT_MM2 = {True: (8.0, 12.0), False: (10.0, 18.0)}
HOT_CELLULOSIC_MM2 = {True: (8.0, 11.0), False: (9.0, 14.0)}
TIG_ROOT_MM2 = (12.0, 20.0)
REFERENCE_CORE_MM = 3.2
HORIZONTAL_UPPER = 0.92
OVERHEAD_FACTORS = (1.05, 1.20)
ROUND_THE_CLOCK_SPREAD = 0.20
AMPS_FACTOR = {FLAT: 1.0, HORIZONTAL: 0.95, VERTICAL_UP: 0.87, OVERHEAD: 0.87, VERTICAL_DOWN: 1.05}
OWN_SPREAD = 0.20
HOT_STEP = 1.10
"""A hot pass burns out what slag the root left: a tenth hotter (shop figure)."""


class AreaRange(Struct, frozen=True):
    """A comfortable range of bead areas, mm2, and where it came from."""

    low: float
    high: float
    origin: str = TYPICAL

    @property
    def middle(self) -> float:
        """Where a balanced plan would like to be."""
        return (self.low + self.high) / 2


def _cell(table: dict[float, tuple[float, float]], diameter: float) -> AreaRange:
    nearest = min(table, key=lambda size: abs(size - diameter))
    low, high = table[nearest]
    share = (diameter / nearest) ** 2
    origin = TYPICAL if abs(nearest - diameter) < 1e-9 else NEAREST_SIZE
    return AreaRange(low * share, high * share, origin)


def _scaled(pair: tuple[float, float], rod: Rod, down: bool = False) -> AreaRange:
    """A range of the reference size for another: in proportion to its core's area, downhill, where a pool must be outrun, to its diameter."""
    share: float = (rod.diameter_mm / REFERENCE_CORE_MM) ** (1 if down else 2)
    return AreaRange(pair[0] * share, pair[1] * share)


def _in_attitude(rod: Rod, role: str, attitude: str) -> AreaRange:
    down = attitude == VERTICAL_DOWN
    if rod.family == "cellulosic":
        if role == "root":
            return _scaled(OPEN_ROOT_MM2[down], rod, down)
        if role == "hot":
            return _scaled(HOT_CELLULOSIC_MM2[down], rod, down)
        if down:
            return _cell(CELLULOSIC_DOWN_MM2, rod.diameter_mm)
    found = _cell(UPHILL_MM2 if attitude == VERTICAL_UP else FLAT_MM2, rod.diameter_mm)
    if attitude == HORIZONTAL:
        found = AreaRange(found.low, found.high * HORIZONTAL_UPPER, found.origin)
    if attitude in (OVERHEAD, VERTICAL_DOWN):
        low, high = OVERHEAD_FACTORS
        found = AreaRange(found.low * low, found.high * high, FROM_FLAT)
    if rod.family != "basic" and found.origin == TYPICAL:
        found = AreaRange(found.low, found.high, FROM_BASIC)
    return found


def met_by(rod: Rod, attitudes: tuple[str, ...]) -> tuple[str, ...]:
    """The attitudes that count for a rod: a cellulosic one that goes downhill round a pipe goes downhill all the way."""
    return (VERTICAL_DOWN,) if rod.family == "cellulosic" and VERTICAL_DOWN in attitudes else attitudes


def comfortable_area(rod: Rod, role: str, attitudes: tuple[str, ...], on_open_root: bool) -> AreaRange:
    """The range for a rod in a role, for a position whose pool lies in these attitudes.

    Round a fixed pipe one setting must serve everywhere: the intersection of the attitudes. Where
    that is narrower than +-20 % of its middle (shop figure) it is widened to that, and says so.
    """
    if rod.family == "tig":
        return AreaRange(*TIG_ROOT_MM2)
    attitudes = met_by(rod, attitudes)
    found = [_in_attitude(rod, role, attitude) for attitude in attitudes]
    if role == "root" and on_open_root and rod.family != "cellulosic":
        found = [_scaled(OPEN_ROOT_MM2[False], rod)]
    low, high = max(r.low for r in found), min(r.high for r in found)
    origin = next((r.origin for r in found if r.origin != TYPICAL), TYPICAL)
    middle = (low + high) / 2
    if len(found) > 1 and high - low < 2 * ROUND_THE_CLOCK_SPREAD * middle:
        low, high = middle * (1 - ROUND_THE_CLOCK_SPREAD), middle * (1 + ROUND_THE_CLOCK_SPREAD)
        origin = ROUND_THE_CLOCK
    if role == "hot" and rod.family == "basic":
        high = (low + high) / 2
    return AreaRange(low, high, origin)


def own_area(rod: Rod, run_out_mm: float) -> AreaRange:
    """The range that follows from what one rod really gave this welder."""
    area = rod.area_mm2(run_out_mm)
    return AreaRange(area * (1 - OWN_SPREAD), area * (1 + OWN_SPREAD), OWN_RUN_OUT)


def usual_amps(rod: Rod, attitudes: tuple[str, ...], role: str = "") -> float:
    """Current to start from: the flat figure times the position factor, a hot pass a step hotter, inside the rod's range."""
    factor = min(AMPS_FACTOR[attitude] for attitude in met_by(rod, attitudes)) * (HOT_STEP if role == "hot" else 1.0)
    return float(round(min(max(rod.amps * factor, rod.amps_low), rod.amps_high)))
