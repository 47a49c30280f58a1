"""Inspection, against the reference cases and brute force: windows, gauges, rates, sets, and that nothing is accepted on a figure from memory."""

from __future__ import annotations

import itertools
import json
import math
import random
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from banister.core.arc.simulated import LONG, SimulatedArc
from banister.core.canonical import canonical, digest
from banister.core.fitup.places import Course
from banister.core.inspect.arc_there import arc_there, stretch_at
from banister.core.inspect.causes import CauseTable, pass_shares, ranked
from banister.core.inspect.counted import InspectedWeld, counted, counted_lines, over_plan
from banister.core.inspect.evidence import Welded, evidence_of
from banister.core.inspect.gauges import GAUGES, Gauge, chance_over, repeating_helps
from banister.core.inspect.judged import ACCEPT, AGAIN, GUARDED, NOT_COMPLETE, NOT_JUDGED, NOT_MEASURED, OUTSIDE_MEMORY, REJECT, Rules, Weld, judged
from banister.core.inspect.kinds import AT_FIT_UP, FACE, LINES, ROOT
from banister.core.inspect.observed import Inspected, Looked, Observation, Vouched, observation_faults
from banister.core.inspect.pieces import CutPlan, Short, Zone, cut_plan, cuts_of, kept_clear, round_pipe
from banister.core.inspect.rates import count_interval, share_interval
from banister.core.inspect.repair import Way, dug_stations, range_fault
from banister.core.inspect.repairs import KeptRepair, before, keeping_faults, rule_remarks
from banister.core.inspect.sets import FLAGS
from banister.core.inspect.windows import least_mean, stretches_over, worst_length, worst_points
from banister.core.joint.boat import RANGES, Boat, Defect, Dig, boat_for, dug_boat, from_the_other_side, goes_through, lengths_mm, width_mm
from banister.core.journal import Record
from banister.core.limits.acceptance import ACCEPTANCE
from banister.core.plan.answers import plan_joint
from banister.core.remark import Refused
from banister.core.units import Units
from banister.core.value import replace
from banister.job.acceptance import kinds, shipped_sets
from banister.job.causes import shipped_causes
from banister.job.library import demo_job
from tests.conftest import SAY
from tests.sample.welders import WELDED, planned

CASES = json.loads((Path(__file__).parents[1] / "cases" / "inspection.json").read_text(encoding="utf-8"))
SETS = shipped_sets()
WELD = Weld(t=14.0, s=14.0, b=19.0, br=5.0, length_mm=480.0)


def cases(fn: str) -> list[Any]:
    return [pytest.param(case, id=case["id"]) for case in CASES if case["fn"] == fn]


# --- windows ----------------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("worst_length"))
def test_lengths_in_the_worst_window(case: Any) -> None:
    i = case["inputs"]
    found = worst_length([tuple(pair) for pair in i["intervals_mm"]], i["window_mm"], i["weld_mm"], i["closed"], i["union"])
    assert found.value == pytest.approx(case["expected"]["length_mm"], **case["tolerance"])


@pytest.mark.parametrize("case", cases("worst_points"))
def test_points_in_the_worst_window(case: Any) -> None:
    i = case["inputs"]
    assert worst_points([tuple(p) for p in i["points"]], i["window_mm"], i["weld_mm"], i["closed"]).value == pytest.approx(case["expected"]["sum"])


@pytest.mark.parametrize("case", cases("least_mean"))
def test_the_least_mean(case: Any) -> None:
    i = case["inputs"]
    assert least_mean(i["s_mm"], i["h_mm"], i["window_mm"]).value == pytest.approx(case["expected"]["mean_mm"], **case["tolerance"])


@given(st.lists(st.tuples(st.floats(0, 990), st.floats(0.5, 300)), max_size=8), st.floats(5, 1200), st.booleans(), st.booleans())
def test_windows_are_those_of_a_search_over_every_place(found: list[tuple[float, float]], window: float, closed: bool, union: bool) -> None:
    weld = 1000.0
    intervals = [(a, a + length if closed else min(a + length, weld)) for a, length in found]

    def held(a: float) -> float:
        laid = [(x + k * weld, y + k * weld) for k in ((-1, 0, 1, 2) if closed else (0,)) for x, y in intervals]
        if union:
            edges = sorted({e for pair in laid for e in pair} | {a, a + window})
            return sum(y - x for x, y in itertools.pairwise(edges) if a <= x and y <= a + window and any(p <= x and y <= q for p, q in laid))
        return sum(max(min(y, a + window) - max(x, a), 0.0) for x, y in laid)

    worst = worst_length(intervals, window, weld, closed, union)
    if window >= weld:
        assert worst.value <= sum(b - a for a, b in intervals) + 1e-6
        return
    last = weld if closed else weld - window
    breaks = [e + k * weld - w for a, b in intervals for e in (a, b) for w in (0.0, window) for k in (-1, 0, 1)]
    tried = [0.0, last, *(a for a in breaks if 0 <= a <= last)]
    assert worst.value == pytest.approx(max(map(held, tried)), abs=1e-6) and held(worst.from_mm) == pytest.approx(worst.value, abs=1e-6)


@given(st.lists(st.tuples(st.floats(0, 999), st.floats(0.5, 4)), min_size=1, max_size=9), st.floats(5, 400), st.booleans())
def test_points_are_those_of_every_start(points: list[tuple[float, float]], window: float, closed: bool) -> None:
    laid = [(s + k * 1000.0, d) for k in ((0, 1) if closed else (0,)) for s, d in points]
    wanted = max(sum(d for s, d in laid if a <= s <= a + window) for a, _ in laid)
    assert worst_points(points, window, 1000.0, closed).value == pytest.approx(wanted)


def test_a_stretch_ends_where_the_line_crosses_however_little_it_does() -> None:
    assert stretches_over([0.0, 10.0, 20.0], [0.0, 2e-309, 1.0], 1e-309) == [(pytest.approx(5.0), 20.0)]


@given(st.lists(st.integers(0, 5000).map(lambda um: um / 1000), min_size=3, max_size=9), st.floats(20, 500), st.randoms())
def test_the_least_mean_is_that_of_a_fine_search(heights: list[float], window: float, draw: random.Random) -> None:
    s = np.cumsum([draw.uniform(5, 90) for _ in heights])
    worst = least_mean(s, heights, window)
    if window >= s[-1] - s[0]:
        return
    fine = np.linspace(s[0], s[-1], 4001)
    area = np.concatenate([[0.0], np.cumsum(np.diff(fine) * (np.interp(fine[1:], s, heights) + np.interp(fine[:-1], s, heights)) / 2)])
    starts = fine[fine <= s[-1] - window]
    means = (np.interp(starts + window, fine, area) - np.interp(starts, fine, area)) / window
    assert worst.value == pytest.approx(float(means.min()), abs=0.02) and worst.value <= means.min() + 0.003
    limit = float(np.median(heights))
    over = sum(b - a for a, b in stretches_over(s, heights, limit))
    assert over == pytest.approx(float(np.mean(np.interp(fine, s, heights) > limit) * (s[-1] - s[0])), abs=2.0 + 0.002 * (s[-1] - s[0]))


# --- gauges and rates -------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("p_over"))
def test_the_chance_that_it_is_over(case: Any) -> None:
    i = case["inputs"]
    gauge = Gauge(id="x", resolution_mm=i["resolution"], u_systematic_mm=i["u_systematic"], u_repeat_mm=i["u_repeat"])
    assert chance_over(i["reading"], i["limit"], gauge, i["readings"]) == pytest.approx(case["expected"]["p"], **case["tolerance"])


def test_repeating_helps_only_against_what_repeats() -> None:
    cap = GAUGES["cap"]
    assert not repeating_helps(3.0, 3.0, cap) and repeating_helps(3.5, 3.0, cap)
    assert cap.can_read(3.5) and not cap.can_read(3.1) and GAUGES["slide"].can_read(3.1)


@pytest.mark.parametrize("case", cases("poisson_95"))
def test_counts_with_their_doubt(case: Any) -> None:
    assert count_interval(case["inputs"]["count"]) == pytest.approx(tuple(case["expected"]["interval"]), **case["tolerance"])


def test_shares_with_their_doubt() -> None:
    low, high = share_interval(3, 20)
    assert 0.05 < low < 0.06 and 0.36 < high < 0.37, "Wilson (1927)"
    assert share_interval(0, 40)[0] == 0.0 and share_interval(40, 40)[1] == 1.0


# --- sets -------------------------------------------------------------------------------------
def seen(d: dict[str, Any]) -> Observation:
    return Observation(id=1, **{"s_mm" if key == "s" else key: value for key, value in d.items()})


@pytest.mark.parametrize("case", cases("judged"))
def test_lines_of_a_set(case: Any) -> None:
    i = case["inputs"]
    weld = Weld(length_mm=i["weld_mm"], **i["joint"])
    found = judged(Inspected((seen(i["observation"]),), flags=i["flags"]), weld, SETS[i["set"]])
    words = {"accept": ACCEPT, "reject": REJECT, "not judged": NOT_JUDGED}
    lines = sorted(found.lines, key=lambda line: line.sum is not None)
    wanted = [[words[v], pytest.approx(x), pytest.approx(y)] for v, x, y in case["expected"]["lines"]]
    assert [[line.verdict, line.value, line.limit] for line in lines] == wanted


def test_nine_sets_and_every_measure_is_asked_by_its_kind() -> None:
    known = kinds()
    assert len(SETS) == 9 and sum(len(one.items) for one in SETS.values()) == 160
    assert sum(item.is_sure for one in SETS.values() for item in one.items) == 53
    for one in SETS.values():
        for item in one.items:
            needed = {item.measure} - {""} | {s.of for s in item.sums if s.of != "count"}
            for kind in item.kinds:
                assert needed <= set(known[kind].measure), (one.id, kind)
                looked = {kind for lines in LINES.values() for kinds_ in lines.values() for kind in kinds_}
                assert kind in looked or kind in AT_FIT_UP, f"{one.id}: {kind} is nowhere looked for"
    for side, lines in LINES.items():
        for kinds_ in lines.values():
            assert all(side in known[kind].side for kind in kinds_)
    assert len(LINES[FACE]) == 11 and len(LINES[ROOT]) == 7


@pytest.mark.parametrize("name", sorted(SETS))
def test_plan_and_inspection_read_one_cap_limit(name: str) -> None:
    assert set(ACCEPTANCE) - {"none"} == set(SETS)
    for t, b in itertools.product((5.0, 6.0, 6.1, 13.0, 13.1, 24.9, 25.0, 25.1, 60.0), (6.0, 19.0, 44.0)):
        high = seen({"kind": "502", "s": 0.0, "height": 99.0})
        for girth in (False, True):
            lines = judged(Inspected((high,), flags={"circumferential": girth}), replace(WELD, t=t, s=t, b=b), SETS[name]).lines
            if lines[0].item < 0:
                assert name == "asme-viii-1" and t > 50
                continue
            assert [line.limit for line in lines] == [pytest.approx(ACCEPTANCE[name].height(t, b, girth))], (t, b, girth)
            assert {line.verdict for line in lines} == {REJECT if ACCEPTANCE[name].is_sure else OUTSIDE_MEMORY}


OBSERVED = st.builds(
    Observation, id=st.integers(1, 999), kind=st.sampled_from(sorted(kinds())), side=st.sampled_from((FACE, ROOT)), s_mm=st.floats(0, 480),
    length=st.none() | st.floats(0, 200), depth=st.none() | st.floats(0, 4), height=st.none() | st.floats(0, 9), size=st.none() | st.floats(0, 9),
    angle=st.none() | st.floats(0, 180), total_thickness=st.none() | st.floats(5, 20), number=st.none() | st.integers(1, 9),
    gauge=st.sampled_from(("", *GAUGES)),
)  # fmt: skip


@given(st.lists(OBSERVED, max_size=5), st.sampled_from(sorted(SETS)), st.floats(0.6, 60), st.dictionaries(st.sampled_from(FLAGS), st.booleans()))
def test_nothing_is_accepted_on_a_figure_from_memory(found: list[Observation], name: str, t: float, flags: dict[str, bool]) -> None:
    weld = replace(WELD, t=t, s=t)
    for near in (GUARDED, "as_read"):
        result = judged(Inspected(tuple(found), flags=flags), weld, SETS[name], Rules(near))
        for line in result.lines:
            item = SETS[name].items[line.item] if line.item >= 0 else None
            if line.verdict in (ACCEPT, REJECT):
                assert item is not None and (item.is_sure if line.sum is None else item.sums_are_sure)
            if line.verdict == ACCEPT:
                assert line.value is not None and math.isfinite(line.value) and line.limit is not None
        assert result.result != ACCEPT, "nothing was looked for"


def whole(*seen_: Observation, **also: Any) -> Inspected:
    looked = tuple(Looked(side, tuple(LINES[side]), 0.0, 480.0) for side in LINES)
    return Inspected(seen_, looked, **also)


def test_a_clean_weld_is_a_line_and_a_key() -> None:
    by = SETS["iso5817-c"]
    assert judged(Inspected(), WELD, by).result == NOT_COMPLETE and judged(whole(), WELD, by).result == ACCEPT
    short = replace(whole(), looked=tuple(replace(one, to_mm=300.0) if one.side == FACE else one for one in whole().looked))
    left = judged(short, WELD, by)
    assert left.result == NOT_COMPLETE and all(one.gaps == ((300.0, 480.0),) and one.side == FACE for one in left.unlooked) and len(left.unlooked) == 11
    joined = replace(short, looked=(*short.looked, Looked(FACE, tuple(LINES[FACE]), 300.2, 480.0)))
    assert judged(joined, WELD, by).result == ACCEPT, "half a millimetre between two stretches is none"
    hidden = judged(replace(whole(), looked=whole().looked[:1], no_access={ROOT: "bar left"}), WELD, by)
    assert hidden.result == ACCEPT and hidden.is_but_for, "but for the root: never a plain accept"


def test_flags_gauges_and_what_is_vouched_for() -> None:
    cyclic, undercut = SETS["aws-d1.1-cyclic"], Observation(id=4, kind="5011", s_mm=10.0, length=30.0, depth=0.5)
    (asked,) = judged(whole(undercut), WELD, cyclic).lines
    assert asked.verdict == NOT_MEASURED and asked.asks == "across_tension", "a question, never a default"
    assert [judged(whole(undercut, flags={"across_tension": is_so}), WELD, cyclic).result for is_so in (True, False)] == [REJECT, ACCEPT]
    near = replace(undercut, depth=0.3, gauge="dial")
    assert judged(whole(near, flags={"across_tension": True}), WELD, cyclic, Rules(GUARDED)).result == AGAIN
    read = judged(whole(near, flags={"across_tension": True}), WELD, cyclic)
    assert read.result == REJECT and 0.5 < (read.lines[0].chance or 0.0) < 0.95, "as read prints the chance"
    due = {"dial": replace(GAUGES["dial"], calibrated_until="2025-01-01")}
    kept = replace(near, depth=0.1)
    assert judged(whole(kept, flags={"across_tension": True}), WELD, cyclic, Rules(gauges=due)).result == AGAIN
    c = SETS["iso5817-c"]
    toe = Observation(id=5, kind="505", s_mm=10.0, angle=120.0)
    at = next(i for i, item in enumerate(c.items) if "505" in item.kinds)
    assert judged(whole(toe), WELD, c).result == NOT_JUDGED
    copy = Vouched("iso5817-c", c.digest, at, None, "2014", "K7", "2026-11-27")
    assert judged(whole(toe, vouched=(copy,)), WELD, c).result == ACCEPT
    assert judged(whole(toe, vouched=(replace(copy, value=130.0),)), WELD, c).result == REJECT
    assert judged(whole(toe, vouched=(replace(copy, digest="0" * 64),)), WELD, c).result == NOT_JUDGED, "vouched for another text of the set"
    steep = replace(toe, angle=60.0)
    assert judged(whole(steep), WELD, c).result == OUTSIDE_MEMORY


def test_what_cannot_be_is_refused_at_its_field() -> None:
    known = kinds()

    def codes(**fields: Any) -> list[tuple[str, str]]:
        one = Observation(**{"kind": "5011", "s_mm": 10.0} | fields)
        return [(remark.code, remark.place.field) for remark in observation_faults(one, known, 480.0, 14.0, fields.get("side") == "ring")]

    assert codes() == [] and codes(depth=0.5, length=20.0, gauge="dial") == []
    assert codes(depth=math.nan) == [("seen.negative", "depth")] and codes(length=-1.0) == [("seen.negative", "length")]
    assert codes(s_mm=500.0) == [("seen.place", "s_mm")] and codes(s_mm=math.inf) == [("seen.place", "s_mm")]
    assert codes(length=481.0) == [("seen.long", "length")] and codes(depth=15.0) == [("seen.through", "depth")]
    assert codes(number=1.5) == [("seen.whole", "number")] and codes(kind="505", angle=190.0) == [("seen.angle", "angle")]
    assert codes(height=3.1, kind="502", gauge="cap") == [("seen.between", "height")] and codes(height=3.1, kind="502", gauge="cap", readings=3) == []
    assert codes(kind="9") == [("seen.kind", "kind")] and codes(kind="512") == [("seen.fillet", "kind")]
    assert codes(kind="515", side=FACE) == [("seen.side", "side")]
    assert codes(gauge="eye") == [("seen.gauge", "gauge")] and codes(toe="up") == [("seen.toe", "toe")]


# --- canonical --------------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("canonical"))
def test_one_text_for_one_value(case: Any) -> None:
    assert canonical(case["inputs"]["value"]) == case["expected"]["text"] and digest(case["inputs"]["value"]) == case["expected"]["sha256"]


@given(st.floats(allow_nan=False, allow_infinity=False))
def test_numbers_read_back_as_they_were(value: float) -> None:
    text = canonical(value)
    assert float(text) == value and "E" not in text and not text.startswith(".") and "e0" not in text
    other = json.dumps(value)
    assert float(other) == float(text)


def test_what_has_no_canonical_text_is_refused() -> None:
    for wrong in (math.nan, math.inf, 2**53 + 1, {1: 2}, {"\u00fc": 1, "u\u0308": 2}, {1.5}):
        with pytest.raises(ValueError):
            canonical(wrong)
    assert canonical({"\ue000": 1, "\U00010000": 2}) == '{"\U00010000":2,"\ue000":1}', "keys by UTF-16 code unit"


# --- test pieces ------------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("cut_plan"))
def test_pieces_are_cut_with_the_least_overlap(case: Any) -> None:
    i = case["inputs"]
    zones = [Zone(a, b, w) for a, b, w in i["zones"]]
    found = cut_plan(i["widths_mm"], i["length_mm"], zones, i["discard_mm"], i["kerf_mm"], i.get("order", "as listed"), i["step_mm"])
    assert (found.cost if isinstance(found, CutPlan) else None) == case["expected"]["cost"]


MARKS = st.lists(st.tuples(st.integers(0, 22), st.integers(1, 5), st.integers(1, 3)), max_size=4)


@given(st.lists(st.sampled_from([10.0, 15.0, 20.0]), min_size=1, max_size=3), MARKS)
def test_a_cut_plan_is_the_best_of_every_placement(widths: list[float], marks: list[tuple[int, int, int]]) -> None:
    zones = [Zone(5.0 * a, 5.0 * (a + n), float(w)) for a, n, w in marks]
    length, discard, kerf, step = 120.0, 10.0, 5.0, 5.0
    found = cut_plan(widths, length, zones, discard, kerf, "as listed", step)
    grid = np.arange(discard, length - discard + 1e-9, step)

    def costs(i: int, free: float) -> float:
        if i == len(widths):
            return 0.0
        tries = [sum(z.weight * max(min(a + widths[i], z.to_mm) - max(a, z.from_mm), 0.0) for z in zones) + costs(i + 1, a + widths[i] + kerf)
                 for a in grid if a >= free - 1e-9 and a + widths[i] <= length - discard + 1e-9]  # fmt: skip
        return min(tries, default=math.inf)

    wanted = costs(0, discard)
    assert (found.cost if isinstance(found, CutPlan) else math.inf) == pytest.approx(wanted)
    if isinstance(found, CutPlan):
        for (a, wa), (b, _) in itertools.pairwise(zip(found.starts_mm, widths, strict=True)):
            assert b - a - wa >= kerf - 1e-9
        assert found.starts_mm[0] >= discard and found.starts_mm[-1] + widths[-1] <= length - discard + 1e-9


def test_what_is_kept_clear_counts_by_what_it_is() -> None:
    zones = kept_clear([100.0], [(200.0, 220.0)], [(300.0, 314.0), (400.0, 400.0)])
    assert {(z.from_mm, z.to_mm, z.weight) for z in zones} == {(90.0, 110.0, 1.0), (190.0, 230.0, 2.0), (300.0, 314.0, 3.0)}
    found = cut_plan([20.0], 400.0, zones)
    assert isinstance(found, CutPlan) and found.cost == 0.0 and cuts_of(found, ["macro"], [20.0])[0].from_mm == found.starts_mm[0]


def test_a_zone_that_is_wanted_lies_whole_in_a_piece_and_what_does_not_fit_is_said() -> None:
    restart = Zone(150.0, 160.0, wanted=True)
    found = cut_plan([20.0, 30.0], 300.0, (restart, Zone(100.0, 140.0, 1.0)))
    assert isinstance(found, CutPlan) and any(a <= 150.0 and a + w >= 160.0 for a, w in zip(found.starts_mm, (20.0, 30.0), strict=True))
    assert found.cost == 0.0 and cut_plan([8.0], 300.0, (restart,)) == Short(0.0), "no piece is wide enough"
    short = cut_plan([100.0, 120.0], 250.0)
    assert isinstance(short, Short) and short.by_mm == pytest.approx(23.0 + 0.0)
    free = cut_plan([10.0, 40.0], 120.0, (Zone(25.0, 60.0, 1.0),), order="any")
    assert isinstance(free, CutPlan) and free.cost <= cut_plan([10.0, 40.0], 120.0, (Zone(25.0, 60.0, 1.0),)).cost  # type: ignore[union-attr]
    ring = round_pipe([38.0] * 4, [45.0, 135.0, 225.0, 315.0], 1017.5, (Zone(120.0, 130.0, 1.0),))
    assert isinstance(ring, CutPlan) and ring.cost == 0.0 and not ring.starts_mm[0] <= 125.0 <= ring.starts_mm[0] + 38.0
    assert isinstance(round_pipe([400.0] * 3, [0.0, 120.0, 240.0], 1017.5), Short)


# --- the boat ---------------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("boat"))
def test_the_boat_of_a_repair(case: Any) -> None:
    i, wanted = case["inputs"], case["expected"]
    boat = Boat(depth_mm=i["depth_mm"], bottom_mm=i["bottom_mm"], dig=Dig(radius_mm=i["radius_mm"], side_deg=i["side_deg"], run_out=i["run_out"]))
    assert {key: getattr(boat, key) for key in wanted} == {key: pytest.approx(value, **case["tolerance"]) for key, value in wanted.items()}


@pytest.mark.parametrize("case", cases("equivalent_lengths"))
def test_passes_of_a_repair_get_longer_upwards(case: Any) -> None:
    i, wanted = case["inputs"], case["expected"]
    boat = Boat(depth_mm=i["depth_mm"], bottom_mm=i["bottom_mm"], dig=Dig(radius_mm=i["radius_mm"], side_deg=i["side_deg"], run_out=i["run_out"]))
    found = lengths_mm(boat, i["areas_mm2"])
    assert found == pytest.approx(wanted["lengths_mm"], **case["tolerance"])
    assert sum(a * length for a, length in zip(i["areas_mm2"], found, strict=True)) == pytest.approx(wanted["total_mm3"], **case["tolerance"])


@given(st.floats(2, 25), st.floats(20, 200), st.floats(2, 5), st.floats(4, 8), st.floats(10, 35), st.lists(st.floats(8, 40), min_size=1, max_size=12))
def test_repair_metal_is_boat_and_cap(depth: float, bottom: float, run_out: float, radius: float, side: float, areas: list[float]) -> None:
    boat = Boat(depth_mm=depth, bottom_mm=bottom, dig=Dig(radius_mm=radius, side_deg=side, run_out=run_out))
    share = boat.area_mm2 * 1.1 / sum(areas)
    scaled = [a * share for a in areas]
    metal = sum(a * length for a, length in zip(scaled, lengths_mm(boat, scaled), strict=True))
    assert metal == pytest.approx(boat.volume_mm3 + 0.1 * boat.area_mm2 * boat.length_mm, rel=1e-9)
    fine = np.linspace(0.0, depth, 4001)
    widths = np.array([width_mm(float(y), boat.dig) for y in fine])
    assert boat.area_mm2 == pytest.approx(float(np.trapezoid(widths, fine)), rel=2e-3), "its area is its width over the depth"


def test_a_defect_is_dug_into_sound_metal_and_beyond_its_ends() -> None:
    slag = Defect(top_mm=9.0, height_mm=3.0, from_mm=100.0, length_mm=35.0)
    boat = boat_for(slag)
    assert (boat.depth_mm, boat.bottom_mm, boat.from_mm) == (14.5, 55.0, 90.0) and boat.length_mm == 142.0
    assert boat_for(replace(slag, is_crack=True)).bottom_mm == 135.0
    assert from_the_other_side(slag, 22.0).top_mm == 10.0 and not goes_through(boat, 22.0) and goes_through(boat, 18.0)


# --- causes -----------------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("ranked"))
def test_causes_are_ranked_by_what_is_known(case: Any) -> None:
    i = case["inputs"]["table"]
    table = CauseTable(levels={}, ratios=i["ratio"], shares={"x": i["share"]}, cap=i["cap"], temper=i["temper"])
    found = ranked(table, i["share"], case["inputs"]["seen"])
    wanted = {key: pytest.approx(value, **case["tolerance"]) for key, value in case["expected"]["chance"].items()}
    assert {one.cause: one.chance for one in found.likely} == wanted


def planted(table: CauseTable, draw: random.Random, shuffled: CauseTable | None = None) -> tuple[bool, bool, bool, bool, float]:
    """A planted cause that shows by what marks it three times in four, all else as usual: did the adviser name it, would base rates."""
    group = draw.choice(sorted(table.shares))
    shares = table.shares[group]
    causes = sorted(shares)
    own_shares = [shares[c] * math.exp(draw.gauss(0.0, 0.7)) for c in causes]
    cause = draw.choices([*causes, "else"], [*own_shares, 1.0 - sum(shares.values())])[0]
    seen: dict[str, str] = {}
    for one, levels in table.levels.items():
        if draw.random() < 0.3:
            continue
        own = table.ratios.get(cause, {}).get(one, {})
        mark = max(own, key=lambda level: own[level], default="")
        if mark and own[mark] >= 2.5 and draw.random() < 0.75:
            seen[one] = mark
        else:
            seen[one] = draw.choices(sorted(levels), [levels[level] for level in sorted(levels)])[0]
    advised = [one for one in ranked(shuffled or table, shares, seen).likely if one.cause != "else"]
    base = sorted(causes, key=lambda c: -shares[c])
    named = [one.cause for one in advised]
    return named[0] == cause, cause in named[:3], base[0] == cause, cause in base[:3], max(one.chance for one in advised)


def test_the_adviser_beats_base_rates_and_a_shuffled_table_does_not() -> None:
    """This shows that the arithmetic holds, not that the table is true."""
    table = shipped_causes()
    names, draw = sorted(table.ratios), random.Random(3)
    mixed = names.copy()
    draw.shuffle(mixed)
    shuffled = replace(table, ratios={a: table.ratios[b] for a, b in zip(names, mixed, strict=True)})
    n = 300
    told = [planted(table, random.Random(seed)) for seed in range(n)]
    wrong = [planted(table, random.Random(seed), shuffled) for seed in range(n)]
    first, three, base, base_three = (sum(row[i] for row in told) / n for i in range(4))
    assert first >= base + 0.15 and three >= base_three + 0.12, (first, base, three, base_three)
    assert sum(row[0] for row in wrong) / n - base < 0.03
    assert max(row[4] for row in told) < 0.99


def test_what_speaks_for_and_against_and_what_to_look_at_next() -> None:
    table = shipped_causes()
    shares = table.shares[table.group_of("5011")]
    bare = ranked(table, shares, {})
    assert next(one.cause for one in bare.likely if one.cause != "else") == max(shares, key=lambda c: shares[c]) and bare.next_look
    told = ranked(table, shares, {"volts": "long", "side": "one", "amps": "normal"})
    arc = next(one for one in told.likely if one.cause == "long_arc")
    assert arc.speaks_for[0].evidence == "volts" and arc.speaks_for[0].factor == pytest.approx(7**0.8) and "volts" not in told.unknown
    assert next(one for one in told.likely if one.cause == "amps_high").against
    assert bare.alike == "first" and ranked(table, shares, {"amps": "high"}).alike == "rest", "one far ahead is not said to be like the others"
    known = {one: max(levels, key=lambda level: levels[level]) for one, levels in table.levels.items()}
    assert ranked(table, shares, known).next_look == "" and ranked(table, shares, known).unknown == ()
    for group, kinds_ in table.kinds.items():
        assert sum(table.shares[group].values()) < 1 and all(kind in kinds() for kind in kinds_)


@pytest.mark.parametrize("fault", ["", LONG])
def test_an_arc_held_long_is_seen_where_it_was_and_nowhere_else(fault: str) -> None:
    arc = SimulatedArc(118.0, 118.0 * 70.0, 3.2, "basic", 4, inner_hz=500.0, faults=frozenset({fault} - {""}))
    arc.strike(0.5)
    samples = np.array([s[:3] for s in arc.until(80.0)])
    levels = {share: dict(arc_there(samples, share, 170.0)) for share in (0.15, 0.35, 0.67)}
    assert levels[0.15]["volts"] == levels[0.35]["volts"] == "normal"
    assert levels[0.67]["volts"] == ("long" if fault else "normal"), "from forty to fifty-five of seventy seconds"
    begin, end = stretch_at(0.67, 170.0)
    assert end - begin == pytest.approx(2 * max(10 / 170, 0.08)) and dict(arc_there(samples[:30], 0.5, 170.0)) == {}


def test_rods_out_of_the_oven_too_long_are_evidence() -> None:
    job = demo_job()
    joint = job.joint("G1")
    plan, rod = plan_joint(joint, job.rods_by_id), "E7018-4.0x450"
    p = next(p for p in plan.passes if p.rod.id == rod)

    def at(n: int, hour: float, k: str, **d: object) -> Record:
        return Record(n=n, t=datetime.fromtimestamp(3600 * hour, UTC).isoformat(), m=0.0, b="b", k=k, j="G1" if k == "pass-begun" else "", p=p.key, d=d)

    for hours, level in ((1.0, "within"), (3.5, "near"), (5.0, "over")):
        lot = (at(1, 0, "lot", lot="A", rod=rod, rods=20), at(2, 0, "care", lot="A", count=20, what="unseal"), at(3, 0, "care", lot="A", count=9, what="out"))
        records = (*lot, at(4, hours, "pass-begun", rod=rod))
        one = Observation(id=9, kind="2017", side="face", s_mm=600.0)
        found = evidence_of(one, p, joint, plan, Welded(records=records, rods=job.rods_by_id))
        assert found["exposure"] == level and "exposure" not in evidence_of(one, p, joint, plan, Welded(records=records[3:], rods=job.rods_by_id))


def test_a_place_in_the_section_names_its_pass() -> None:
    study, plan = planned(WELDED["girder"])
    assert study is not None
    for p in plan.passes:
        x = sum(a for a, _ in p.outline_mm) / len(p.outline_mm)
        y = sum(b for _, b in p.outline_mm) / len(p.outline_mm)
        shares = pass_shares(plan.passes, (x, y))
        assert sum(shares.values()) == pytest.approx(1.0) and p.key in sorted(shares, key=lambda key: -shares[key])[:3]


# --- repairs of a place -------------------------------------------------------------------------
def dug(from_mm: float, length: float, depth: float, side: str = FACE, n: int = 1) -> KeptRepair:
    return KeptRepair(n=n, of=1, side=side, from_mm=from_mm, length_mm=length, depth_mm=depth, passes=3)


def way(from_mm: float, length: float, depth: float, side: str = FACE) -> Way:
    """A way in of a boat that is so long at the surface."""
    boat = Boat(depth_mm=depth, bottom_mm=length - 6 * depth, from_mm=from_mm + 3 * depth)
    return Way(side, boat, None, (), 0.0, 0.0)  # type: ignore[arg-type]


@given(st.floats(0, 900), st.floats(0, 900), st.floats(60, 120), st.floats(60, 120))
@example(396.77690533368394, 516.776905333684, 120.0, 120.0)
def test_one_place_is_what_overlaps_round_a_pipe_too(a: float, b: float, long_a: float, long_b: float) -> None:
    closed, open_ = Course(900.0, True), Course(900.0, False)
    covered = {round(a + i) % 900 for i in range(int(long_a) + 1)} & {round(b + i) % 900 for i in range(int(long_b) + 1)}
    found = before((dug(a, long_a, 5.0),), way(b, long_b, 5.0), closed, 20.0)
    if not _nearly(a, b, long_a, long_b):
        assert bool(found) == bool(covered)
    if max(a, b) <= min(a + long_a, b + long_b):
        assert before((dug(a, long_a, 5.0),), way(b, long_b, 5.0), open_, 20.0)


def _nearly(a: float, b: float, long_a: float, long_b: float) -> bool:
    """True where the ends lie so near each other that whole millimetres cannot tell."""
    return min(abs((a + long_a - b + 450) % 900 - 450), abs((b + long_b - a + 450) % 900 - 450)) < 3.0


def test_repairs_from_both_sides_are_one_place_where_they_meet_in_the_section() -> None:
    course, kept = Course(900.0, False), (dug(100.0, 80.0, 8.0),)
    assert before(kept, way(120.0, 80.0, 5.0), course, 20.0), "from the same side"
    assert not before(kept, way(120.0, 80.0, 11.0, ROOT), course, 20.0) and before(kept, way(120.0, 80.0, 12.0, ROOT), course, 20.0)
    assert [r.code for r in rule_remarks(kept, way(120.0, 80.0, 5.0), course, 20.0)] == ["repair.again.named"]
    assert [r.code for r in rule_remarks((*kept, dug(110.0, 60.0, 6.0)), way(120.0, 80.0, 5.0), course, 20.0)] == ["repair.again.refused"]
    assert [r.code for r in rule_remarks(kept, way(229.0, 80.0, 5.0), course, 20.0)] == ["repair.near"]
    assert not list(rule_remarks(kept, way(231.0, 80.0, 5.0), course, 20.0))
    for times, missing in ((0, ["by"]), (1, ["by", "allowed_by"]), (2, ["by", "allowed_by", "reason"]), (7, ["by", "allowed_by", "reason"])):
        assert [r.place.field for r in keeping_faults(times, " ", "", "")] == missing
        assert not list(keeping_faults(times, "Q2", "Q9", "agreed"))


def test_how_a_boat_is_dug_has_its_bounds() -> None:
    for name, (low, high) in RANGES.items():
        assert range_fault(name, low) is None and range_fault(name, high) is None
        assert range_fault(name, low - 0.1).place.field == name and range_fault(name, high + 0.1) is not None


# --- counted ------------------------------------------------------------------------------------
def test_what_was_seen_is_counted_with_its_doubt() -> None:
    pores = tuple(Observation(kind="2017", s_mm=100.0 * i, size=1.0, id=i) for i in range(1, 4))
    low = Observation(kind="5011", s_mm=50.0, length=14.0, id=9)
    caps = tuple(Observation(kind="502", s_mm=10.0 * i, height=2.0 + 0.5 * i, id=20 + i) for i in range(1, 4))
    welds = (InspectedWeld(1500.0, Inspected(seen=(*pores, low)), REJECT, 2.0), InspectedWeld(500.0, Inspected(seen=caps), ACCEPT, 2.0))
    by_kind = {one.kind: one for one in counted(welds)}
    assert [one.n for one in counted(welds)] == [3, 3, 1] and by_kind["5011"].length_mm == 14.0 and by_kind["2017"].length_mm is None
    assert by_kind["2017"].per_m == 1.5 and by_kind["2017"].window_per_m == pytest.approx([v / 2.0 for v in count_interval(3)])
    cap = over_plan(welds)
    assert (cap.n, cap.mean_mm, cap.sd_mm) == (3, pytest.approx(1.0), pytest.approx(0.5)) and over_plan(welds[:1]) is None
    few = " ".join(counted_lines(welds, SAY))
    assert "2 welds inspected, 2000 mm in all; 1 rejected." in few and "95 %" not in few and "3 readings, 1 mm over the plan" in few
    assert "Rejected welds: 2 to 25 %" in " ".join(counted_lines(welds[:1] * 2 + welds[1:] * 23, SAY)) and list(counted_lines((), SAY)) == []


def test_a_boat_is_as_deep_and_as_long_as_was_measured_and_no_longer() -> None:
    boat = boat_for(Defect(top_mm=4.0, height_mm=2.0, from_mm=200.0, length_mm=30.0))
    stations = ((180.0, 6.0), (195.0, 9.0), (215.0, 10.0), (240.0, 7.0))
    found = dug_boat(boat, stations)
    n, begins, ends = boat.dig.run_out, found.from_mm, found.from_mm + found.bottom_mm

    def depth(s: float, low: float, high: float) -> float:
        return 10.0 - max(low - s, s - high, 0.0) / n

    assert found.depth_mm == 10.0 and all(depth(s, begins, ends) >= d - 1e-9 for s, d in stations)
    assert any(depth(s, begins + 0.1, ends) < d for s, d in stations) and any(depth(s, begins, ends - 0.1) < d for s, d in stations), "the least such boat"
    assert dug_boat(boat, ((205.0, 11.5),)) == replace(boat, depth_mm=11.5)
    course = Course(900.0)
    assert dug_stations("40=12.5; 80 = 14 mm", course, Units()) == ((40.0, 12.5), (80.0, 14.0)) and dug_stations("", course, Units()) == ()
    for wrong in ("40=0.1", "12; 14", "40=12; 14", "2000=12", "x=3"):
        with pytest.raises(Refused):
            dug_stations(wrong, course, Units())
