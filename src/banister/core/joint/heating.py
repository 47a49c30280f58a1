"""What cooling and preheat depend on beside the plan, and what was measured."""

from __future__ import annotations

from banister.core.value import Struct

RESTRAINTS = ("low", "medium", "high")
CATEGORIES = "ABCD"
"""Categories of the prequalified preheat table of AWS D1.1."""
BORES = ("open", "closed", "filled")
"""What is in the bore of a pipe: open ends and a draught, still air between closed or far ends, or something that keeps heat in."""
READING_LIMITS = {"at_s": (0.0, 2e5), "x_mm": (0.0, 500.0), "temp_c": (-40.0, 1000.0)}


class HeatSettings(Struct, frozen=True, kw_only=True):
    """What cooling depends on beside the plan. Widths are of the plates either side (of a pipe: its lengths), mm.

    `loss_factor` multiplies the loss to still air (wind, draught, cover); it is corrected by measured
    temperatures. `measure_at_mm` is the interpass point beyond the groove's edge. A band
    `preheat_band_mm` beyond each edge is warmed `margin_k` over preheat, before the first pass and
    when it fell too cold; `preheat_held` keeps heat on while welding, so that the band never falls below
    preheat. `to_and_fro` runs every other pass of a plate from its end to its start.
    """

    width_left_mm: float = 200.0
    width_right_mm: float = 200.0
    air_c: float = 20.0
    loss_factor: float = 1.0
    measure_at_mm: float = 10.0
    preheat_band_mm: float = 75.0
    margin_k: float = 0.0
    preheat_held: bool = False
    to_and_fro: bool = False
    reheat_s: float = 300.0
    hydrogen_ml: float = 5.0
    restraint: str = "medium"
    category: str = "B"
    bore: str = "closed"


class Reading(Struct, frozen=True, kw_only=True):
    """A temperature measured at the joint: seconds after the first arc, mm beyond the groove's edge, degC."""

    at_s: float
    x_mm: float
    temp_c: float
