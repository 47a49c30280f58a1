"""Preheat, interpass and cooling time of every pass, read off the schedule, held against the windows and the steel's needs."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

from banister.core.heat.cooling import TOO_COLD_K
from banister.core.heat.preheat import OwnCell, preheat_methods
from banister.core.heat.schedule import Schedule, Started
from banister.core.heat.thermal import warmed_to_c
from banister.core.joint.joint import Joint
from banister.core.judge.limit import Limit, Measure
from banister.core.judge.passes import who, window_on
from banister.core.limits.windows import Bounds, tightest
from banister.core.plan.plan import Pass, Plan
from banister.core.remark import NOT_JUDGED, OUTSIDE, UNVERIFIED, Figure, Place, Remark, watch

ROUND_UP_C = 5


def judged_heat(joint: Joint, plan: Plan, schedule: Schedule | None) -> Iterator[Remark]:
    """Every window of heat against the schedule; without one they are not judged, never inside."""
    passes = {p.key: p for p in plan.passes}
    for quantity in ("preheat", "interpass"):
        window = tightest(joint.working.windows, quantity)
        if not window.is_set:
            yield Remark(f"heat.{quantity}.none", NOT_JUDGED, basis="windows")
        elif schedule is None:
            yield Remark(f"heat.{quantity}.open", NOT_JUDGED, {"window": window.figure("set_temperature")}, basis="windows")
        else:
            judge = _interpass if quantity == "interpass" else _preheat
            begun = {s.key for s in schedule.passes}
            for i, s in enumerate(schedule.passes):
                yield from judge(joint, passes[s.key], s, window, i == 0)
            yield from (_not_reached(quantity, p, window) for p in plan.passes if p.key not in begun)
    yield from _cooling_times(joint, plan, schedule)
    if schedule is not None:
        yield from schedule.remarks


def _interpass(joint: Joint, p: Pass, started: Started, window: Bounds, is_first: bool) -> Iterator[Remark]:
    """The hottest a pass starts at, and where a least is set the coldest it has cooled to since the one before."""
    place = Place((p.key,))
    if window.high < math.inf:
        held = Limit("heat.interpass", Bounds(high=window.high), "windows")
        yield held.held(Measure(started.temp_c, "temperature", place), **who(p), station=Figure(f"station.{started.hottest_station}", "word"))
    if window.low > -math.inf and not is_first:
        yield Limit("heat.interpass.cold", Bounds(low=window.low), "windows").held(Measure(started.preheat_point_c, "temperature", place), **who(p))


def _preheat(joint: Joint, p: Pass, started: Started, window: Bounds, is_first: bool) -> Iterator[Remark]:
    """How cold it gets before the arc has been there, and where a most is set what the first pass starts at."""
    if window.low > -math.inf:
        yield _kept_warm(joint, p, started, window)
    if window.high < math.inf and is_first:
        yield Limit("heat.preheat.over", Bounds(high=window.high), "windows").held(Measure(started.temp_c, "temperature", Place((p.key,))), **who(p))


def _kept_warm(joint: Joint, p: Pass, started: Started, window: Bounds) -> Remark:
    """The coldest the place where preheat is read gets before the arc has been there."""
    coldest = min(started.preheat_point_c, started.arrival_c)
    measure = Measure(coldest, "temperature", Place((p.key,)))
    remark = Limit("heat.preheat", Bounds(low=window.low - TOO_COLD_K), "windows").held(measure, **who(p))
    figures = dict(remark.figures) | {"window": Figure((window.low, None), "set_temperature")}
    enough = _warm_enough_c(joint, coldest, window.low)
    if remark.verdict == OUTSIDE and enough is not None:
        figures |= {"enough": Figure(enough, "temperature"), "warmed": Figure(warmed_to_c(joint), "temperature")}
        return Remark("heat.preheat.warmer", OUTSIDE, figures, remark.place, remark.basis)
    return Remark(remark.code, remark.verdict, figures, remark.place, remark.basis)


def _warm_enough_c(joint: Joint, coldest_c: float, least_c: float) -> float | None:
    """What to warm to instead, None where that would be too hot: what was warmed cools in proportion to how far it was over the air."""
    air, warmed, most = joint.heat.air_c, warmed_to_c(joint), tightest(joint.working.windows, "interpass").high
    if coldest_c <= air + 1 or warmed <= air:
        return None
    enough = air + (least_c - air) * (warmed - air) / (coldest_c - air)
    rounded = ROUND_UP_C * math.ceil(enough / ROUND_UP_C)
    return float(rounded) if warmed < rounded < most else None


def _not_reached(quantity: str, p: Pass, window: Bounds) -> Remark:
    return Remark(f"heat.{quantity}.unreached", NOT_JUDGED, who(p) | {"window": window.figure("set_temperature")}, Place((p.key,)), "windows")


def _cooling_times(joint: Joint, plan: Plan, schedule: Schedule | None) -> Iterator[Remark]:
    started = {} if schedule is None else {s.key: s for s in schedule.passes}
    for p in plan.passes:
        window = window_on(joint, p, "t85")
        if not window.is_set:
            continue
        found = started.get(p.key)
        if schedule is None or found is None or found.t85 is None:
            code = "heat.t85.open" if schedule is None else "heat.t85.unreached" if found is None else "heat.t85.none"
            yield Remark(code, NOT_JUDGED, who(p) | {"window": window.figure("seconds")}, Place((p.key,)), "windows")
            continue
        seconds = found.t85.seconds
        is_outside = window.verdict(seconds) == OUTSIDE
        code = "heat.t85" if not is_outside else "heat.t85.slow" if seconds > window.high else "heat.t85.fast"
        limit = Limit(code, window, "windows", "EN 1011-2 annex D")
        yield limit.held(Measure(seconds, "seconds", Place((p.key,))), **who(p))


def asked_by_methods(joint: Joint, plan: Plan, own_cells: Iterable[OwnCell]) -> Iterator[Remark]:
    """A warning for every method that asks for more preheat than the job's limit."""
    in_force = tightest(joint.working.windows, "preheat").low
    is_set = math.isfinite(in_force)
    has = max(in_force, joint.heat.air_c)
    for method in preheat_methods(joint, plan, own_cells):
        if method.least_c is not None and method.least_c > has + 0.5:
            figures = {"method": Figure(f"method.{method.method}", "word"), "value": Figure(method.least_c, "temperature"),
                       "sets": Figure(in_force, "set_temperature") if is_set else Figure("preheat.not_set", "word")}  # fmt: skip
            code = "preheat.method" if method.verified else "preheat.method.unverified"
            yield Remark(code, watch(code).verdict, figures, basis="steel", certainty="sure" if method.verified else UNVERIFIED)
