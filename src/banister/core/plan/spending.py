"""What a joint takes: time at the arc and beside it, electrodes to buy, energy from the mains, and its cost at the user's rates.

Arithmetic of any welding textbook; yields and the machine's efficiency are typical shop figures. Nothing of
fit-up, tacks, moving, inspection and overhead is in it.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from banister.core.plan.plan import Plan
from banister.core.remark import Figure, Remark, fault
from banister.core.value import Struct
from banister.core.words import Speech

MACHINE_EFFICIENCY = 0.75
"""Arc power over power from the mains (typical)."""
YIELD = {"SMAW": 0.60, "GTAW": 0.95}
"""Weld metal over electrodes bought, stubs and coating gone (typical)."""
MOST_RATE = 1e5


class Rates(Struct, frozen=True, kw_only=True):
    """The user's prices in a currency of their own: an hour of work, a kg of electrodes, a kWh. All 0: no cost is shown."""

    hour: float = 0.0
    rods_kg: float = 0.0
    kwh: float = 0.0

    @staticmethod
    def kind(name: str) -> str:
        """What kind of figure a price is: a kg's is told as a pound's where inches are worked in."""
        return "price_of_mass" if name == "rods_kg" else "money"

    @property
    def is_set(self) -> bool:
        """True where a cost can be told."""
        return self != Rates()


class Spent(Struct, frozen=True):
    """Arc time and all time in s, electrodes bought in kg, energy from the mains in kWh."""

    arc_s: float = 0.0
    total_s: float = 0.0
    rods_kg: float = 0.0
    energy_kwh: float = 0.0

    def __add__(self, other: Spent) -> Spent:
        return Spent(self.arc_s + other.arc_s, self.total_s + other.total_s, self.rods_kg + other.rods_kg, self.energy_kwh + other.energy_kwh)

    @property
    def operating_factor(self) -> float:
        """Arc time over all time; nan where there is none. A shop's factor has the time between joints in it and is lower."""
        return self.arc_s / self.total_s if self.total_s > 0 else math.nan

    def cost(self, rates: Rates) -> float:
        """Work, electrodes and energy at the user's rates."""
        return self.total_s / 3600 * rates.hour + self.rods_kg * rates.rods_kg + self.energy_kwh * rates.kwh


def energy_kwh(volts: float, amps: float, arc_s: float) -> float:
    """Energy from the mains: V I t over the machine's efficiency."""
    return volts * amps * arc_s / 3.6e6 / MACHINE_EFFICIENCY


def spent_on(plan: Plan, end_s: float | None) -> Spent:
    """What a plan takes, whole rods counted; `end_s` is the end of its schedule with waits, None where it is not computed."""
    rods_kg = sum(p.rod_count * p.rod.deposit_g / 1000 / YIELD[p.process] for p in plan.passes)
    energy = sum(energy_kwh(p.volts, p.amps, p.arc_time_s) for p in plan.passes)
    return Spent(plan.arc_time_s, plan.total_time_s if end_s is None else end_s, rods_kg, energy)


def spending_said(spent: Spent, rates: Rates, say: Speech) -> list[str]:
    """Energy, electrodes and the share of arc time, and the cost where rates are set."""
    lines = [say("spent.energy", energy=Figure(spent.energy_kwh, "mains"), rods=Figure(spent.rods_kg, "mass")),
             say("spent.factor", share=Figure(round(100 * spent.operating_factor), "percent"))]  # fmt: skip
    return [*lines, say("spent.cost", cost=Figure(round(spent.cost(rates), 2), "money"))] if rates.is_set else lines


def job_said(spent: Sequence[Spent], rates: Rates, say: Speech) -> list[str]:
    """The same of several joints together."""
    whole = sum(spent, Spent())
    energy, _, *cost = spending_said(whole, rates, say)
    share = say("spent.factor.job", share=Figure(round(100 * whole.operating_factor), "percent"))
    return [say("spent.job", lasts=Figure(whole.total_s, "duration")), energy, share, *cost]


def rates_faults(rates: Rates) -> Iterator[Remark]:
    """Rates that are none."""
    for name in rates.__struct_fields__:
        value = getattr(rates, name)
        if not (math.isfinite(value) and 0 <= value <= MOST_RATE):
            yield fault("rates.range", name, window=Figure((0.0, MOST_RATE), Rates.kind(name)))
