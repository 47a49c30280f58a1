"""How warm the joint is by its journal: what was read last, and how long it must still cool."""

from __future__ import annotations

import math
from collections.abc import Mapping

from banister.core.follow.facts import PassFacts
from banister.core.follow.warmth import seconds_after, warmth_of
from banister.core.heat.countdown import Coolings, Countdown
from banister.core.heat.thermal import Limits, fin_of
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.plan.plan import Plan
from banister.core.value import replace

TEMP_HOLDS_S = 900.0
"""A temperature read longer ago than this is not known any more."""


class Warm:
    """Reads the journal of a joint (its records after corrections) for its heat; the model is that of the issued plan, whatever the rest has become."""

    def __init__(self, joint: Joint, issued: Plan, limits: Limits | None) -> None:
        self._joint = joint
        is_limited = limits is not None and math.isfinite(limits.interpass_c)
        self._coolings = Coolings(joint, fin_of(joint, issued)) if is_limited else None
        self._counted: tuple[Record, Countdown | None] | None = None

    def temperature(self, standing: tuple[Record, ...], last: Record | None, since_s: float) -> tuple[float, float] | None:
        """The last temperature that was read and its age, s; None where it is too old or none was. `last` is the journal's last record, `since_s` ago."""
        found = [(r, float(r.d["c"])) for r in standing if r.k == "temp" and r.j == self._joint.id and isinstance(r.d.get("c"), int | float)]
        if not found or last is None:
            return None
        record, c = found[-1]
        age = since_s - seconds_after(last, record)
        return (c, age) if 0 <= age <= TEMP_HOLDS_S else None

    def ready_in(self, standing: tuple[Record, ...], last: Record | None, since_s: float, facts: Mapping[str, PassFacts], plan: Plan) -> Countdown | None:
        """When the joint is down to its interpass limit, its times as seconds from now; None where no limit is set, or nothing is welded.

        Worked out once after each record, by the journal's own clock: seconds from its last one.
        """
        if self._coolings is None or last is None:
            return None
        if self._counted is None or self._counted[0] is not last:
            warmth = warmth_of(standing, last, self._joint.id, facts, plan)
            self._counted = last, self._coolings.countdown(warmth.passes, warmth.readings, since_s)
        found = self._counted[1]
        return None if found is None else replace(found, early_s=found.early_s - since_s, likely_s=found.likely_s - since_s, late_s=found.late_s - since_s)
