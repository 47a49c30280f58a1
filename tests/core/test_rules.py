"""Positions, windows, comfortable sizes and options: limits, monotony and unit round trips."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from banister.core.joint.faults import joint_faults
from banister.core.joint.groove import Groove, groove_of
from banister.core.joint.joint import edited, path_of
from banister.core.joint.positions import FLAT, HORIZONTAL, OVERHEAD, VERTICAL_DOWN, VERTICAL_UP, position, positions, resolve
from banister.core.joint.working import RodUse
from banister.core.limits.acceptance import cap_limit_mm
from banister.core.limits.windows import Window, bounds
from banister.core.plan import rules
from banister.core.plan.inputs import inputs_of
from banister.core.plan.options import options_for
from banister.core.rods.ranges import comfortable_area, own_area, usual_amps
from banister.core.rods.rod import Rod, rods_needed
from tests.conftest import CASES, SAY, make_joint, rods_by_id

RODS = rods_by_id()
BASIC = RODS["E7018-3.2x350"]


@pytest.mark.parametrize(
    ("code", "form", "expected"),
    [("PA", "plate", ("1G", None)), ("pf", "plate", ("3G", "up")), ("PG", "plate", ("3G", "down")), ("PC", "pipe", ("2G", None)),
     ("PH", "pipe", ("5G", "up")), ("PJ", "pipe", ("5G", "down")), ("H-L045", "pipe", ("6G", "up")), ("6G", "pipe", ("6G", None))],
)  # fmt: skip
def test_both_position_codes_mean_the_same(code: str, form: str, expected: tuple) -> None:
    assert resolve(code, form) == expected


def test_every_position_reads_back_from_its_iso_code() -> None:
    for form in ("plate", "pipe"):
        for place in positions(form):
            for progression in ("up", "down"):
                code, said = resolve(place.iso(progression), form)
                assert code == place.code and said in (None, progression)
    with pytest.raises(KeyError):
        position("5G", "plate")


def test_windows_meet_and_the_narrower_one_holds() -> None:
    windows = (
        Window(quantity="amps", low=80, high=200), Window(quantity="amps", role="fill", low=100, high=180),
        Window(quantity="amps", rod="E7018-4.0", low=120, high=160), Window(quantity="volts", high=26),
    )  # fmt: skip
    assert (bounds(windows, "amps", "fill", "E7018-4.0x450").low, bounds(windows, "amps", "fill", "E7018-4.0x450").high) == (120, 160)
    assert bounds(windows, "amps", "cap", "E7018-3.2x350").high == 200
    assert bounds(windows, "amps", "cap", "E7018-4.0x450").low == 120
    assert not bounds(windows, "travel", "cap", "E7018-4.0x450").is_set
    assert bounds(windows, "travel", "cap", "x").verdict(1e9) == "not judged"


def test_a_window_for_4_0_does_not_cover_other_sizes() -> None:
    window = Window(quantity="amps", rod="E7018-4.0")
    assert window.covers("fill", "E7018-4.0x450") and window.covers("fill", "E7018-4.0x350")
    assert not window.covers("fill", "E7018-4.05x450") and not window.covers("fill", "E7016-4.0x450")
    assert Window(quantity="amps", rod="E7018").covers("cap", "E7018-1/8x356")


@given(st.floats(0.1, 300), st.floats(0.1, 300), st.floats(0.1, 300))
def test_verdicts_agree_with_the_bounds(a: float, b: float, value: float) -> None:
    low, high = sorted((a, b))
    found = bounds((Window(quantity="amps", low=low, high=high),), "amps", "fill", "r").verdict(value)
    assert found == "inside" or not low <= value <= high
    assert bounds((Window(quantity="amps", low=low, high=high),), "amps", "fill", "r").verdict(low) == "inside"


@pytest.mark.parametrize("attitude", [FLAT, HORIZONTAL, VERTICAL_UP, OVERHEAD])
def test_bigger_rods_lay_bigger_beads(attitude: str) -> None:
    sizes = [comfortable_area(RODS[f"E7018-{s}"], "fill", (attitude,), True) for s in ("2.5x350", "3.2x350", "4.0x450")]
    assert [r.low for r in sizes] == sorted(r.low for r in sizes)
    assert [r.high for r in sizes] == sorted(r.high for r in sizes)
    assert all(r.low < r.middle < r.high for r in sizes)


def test_table_cells_are_the_shop_figures_and_the_rest_says_it_is_estimated() -> None:
    flat = comfortable_area(BASIC, "fill", (FLAT,), True)
    assert (flat.low, flat.high, flat.origin) == (12.0, 21.0, "typical")
    assert comfortable_area(BASIC, "fill", (HORIZONTAL,), True).high == pytest.approx(21 * 0.92)
    inch = comfortable_area(RODS["E7018-1/8x356"], "fill", (FLAT,), True)
    assert inch.origin == "nearest_size" and inch.low == pytest.approx(12 * (3.175 / 3.2) ** 2)
    assert comfortable_area(RODS["E6013-3.2x350"], "fill", (FLAT,), True).origin == "from_basic"
    root = comfortable_area(RODS["E6010-3.2x350"], "root", (VERTICAL_DOWN,), True)
    assert (root.low, root.high) == (8.0, 12.0)
    assert comfortable_area(BASIC, "hot", (FLAT,), True).high == pytest.approx(16.5)


def test_currents_follow_the_position_and_stay_in_the_rods_range() -> None:
    for rod in RODS.values():
        flat, up = usual_amps(rod, (FLAT,)), usual_amps(rod, (VERTICAL_UP,))
        assert rod.amps_low <= up <= flat <= rod.amps_high


@given(st.floats(60, 400))
def test_own_run_out_centres_the_range_on_its_area(run_out: float) -> None:
    found = own_area(BASIC, run_out)
    assert found.middle == pytest.approx(BASIC.area_mm2(run_out))
    assert BASIC.run_out_mm(BASIC.area_mm2(run_out)) == pytest.approx(run_out)


@given(st.integers(1, 60), st.sampled_from(sorted(RODS)))
def test_exact_multiples_take_no_extra_rod(count: int, rod_id: str) -> None:
    rod = RODS[rod_id]
    assert rods_needed(count * rod.deposit_mm3, rod) == count
    assert rods_needed(count * rod.deposit_mm3 * 1.001, rod) == count + 1


@given(st.floats(20, 200), st.floats(15, 35), st.floats(4, 60))
def test_energy_is_in_proportion_to_bead_area(amps: float, volts: float, area: float) -> None:
    one = BASIC.arc_energy_kj_mm(area, amps, volts)
    assert BASIC.arc_energy_kj_mm(2 * area, amps, volts) == pytest.approx(2 * one)
    assert one == pytest.approx(volts * amps * 60 / (1000 * BASIC.travel_mm_min(area, amps)))
    assert BASIC.arc_energy_kj_mm(area, 2 * amps, volts) == pytest.approx(one)


def test_heat_travel_and_run_out_windows_are_one_window_of_area() -> None:
    def option(*windows: Window) -> rules.Option:
        joint = inputs_of(make_joint(thickness_mm=20.0, windows=windows))
        return rules.option_of(joint, BASIC, "fill", groove_of(joint.prep))

    free = option()
    low_energy = 14.0 * free.energy_per_area
    same = [
        option(Window(quantity="arc_energy", low=low_energy)), option(Window(quantity="heat_input", low=0.8 * low_energy)),
        option(Window(quantity="run_out", high=BASIC.run_out_mm(14.0))),
        option(Window(quantity="travel", high=BASIC.travel_mm_min(14.0, free.amps))),
    ]  # fmt: skip
    assert [o.low for o in same] == pytest.approx([14.0] * 4)
    assert all(o.high <= free.high + 1e-9 for o in same)


@pytest.mark.parametrize(
    ("gap", "face", "gap_ok", "face_ok"),
    [(3.0, 1.5, True, True), (1.5, 1.5, False, True), (5.0, 1.5, False, True), (3.0, 2.6, True, False)],
)
def test_what_a_rod_bridges(gap: float, face: float, gap_ok: bool, face_ok: bool) -> None:
    joint = inputs_of(make_joint(root_gap_mm=gap, root_face_mm=face))
    assert rules.bridging_cores(joint, RODS["E6010-3.2x350"]) == (gap_ok, face_ok)


def test_large_low_hydrogen_rods_stay_out_of_vertical() -> None:
    joint = make_joint(thickness_mm=20.0, position="3G")
    joint = edited(joint, rods=(*joint.working.rods, RodUse(role="fill", rod="E7018-5.0x450")))
    options, reasons = options_for(inputs_of(joint, tuple(RODS.values())), groove_of(joint.prep))
    assert not reasons and all(o.rod.diameter_mm <= 4.0 for o in options["fill"])
    flat = edited(joint, position="1G")
    assert any(o.rod.diameter_mm == 5.0 for o in options_for(inputs_of(flat, tuple(RODS.values())), groove_of(flat.prep))[0]["fill"])


@pytest.mark.parametrize("case", [c for c in CASES if c["fn"] == "b313_reinforcement"], ids=lambda c: c["id"])
def test_reinforcement_of_the_piping_code(case: dict) -> None:
    if case["inputs"].get("category", "normal") == "normal":
        thickness = next(v for k, v in case["inputs"].items() if k.startswith("t"))
        expected = next(v for v in case["expected"].values() if isinstance(v, (int, float)))
        assert cap_limit_mm("b31.3-normal", thickness, 20.0) == expected


@pytest.mark.parametrize(("level", "limit"), [("iso5817-b", 2.75), ("iso5817-c", 3.625), ("iso5817-d", 5.375)])
def test_excess_weld_metal_by_level(level: str, limit: float) -> None:
    assert cap_limit_mm(level, 12.0, 17.5) == limit
    assert cap_limit_mm("iso5817-b", 40.0, 45.0) == 5.0


@settings(deadline=None)
@given(st.floats(3, 60), st.floats(0, 10), st.floats(0, 45), st.floats(0, 45), st.floats(0.01, 0.99))
def test_groove_widths_integrate_to_the_area(t: float, gap: float, left: float, right: float, share: float) -> None:
    joint = make_joint(thickness_mm=t, root_gap_mm=gap, root_face_mm=min(1.5, t / 2), bevel_left_deg=left, bevel_right_deg=right)
    groove = groove_of(joint.prep)
    n = 400
    y = share * t
    strips = sum(float(groove.width(y * (i + 0.5) / n)) * y / n for i in range(n))
    assert float(groove.area_below(y)) == pytest.approx(strips, rel=1e-3, abs=1e-5), "a strip over the kink is off by (y/n)^2 / 2 at most"
    mirrored = groove.mirrored()
    assert isinstance(mirrored, Groove) and mirrored.area_mm2 == pytest.approx(groove.area_mm2)
    assert mirrored.x_left(y) == pytest.approx(-groove.x_right(y))


@pytest.mark.parametrize("value", [math.nan, math.inf, -1.0, 1e9])
@pytest.mark.parametrize("field", ["thickness_mm", "root_gap_mm", "bevel_right_deg", "length_mm", "pipe_od_mm"])
def test_impossible_figures_are_faults_of_their_field(field: str, value: float) -> None:
    joint = make_joint(form="pipe" if field == "pipe_od_mm" else "plate", **{field: value})
    faults = {f.place.field: f for f in joint_faults(joint)}
    told = faults[path_of(joint, field)]
    assert told.code == "figure.range" and "Enter" in SAY.remedy(told)


def test_a_figure_the_kind_does_not_have_is_no_fault_of_it() -> None:
    hidden = {"bevel_left_deg": 80.0, "leg_left_mm": 900.0, "root_radius_mm": 90.0, "bar_width_mm": 1.0, "gouge_radius_mm": 99.0}
    assert joint_faults(make_joint(key="square", thickness_mm=4.0, **hidden)) == ()
    assert {f.place.field for f in joint_faults(make_joint(**hidden))} == {"prep.bevel_left_deg"}
    assert {f.place.field for f in joint_faults(make_joint(key="square", bevel_left_deg=math.nan))} == {"prep.bevel_left_deg"}


def test_impossible_choices_are_faults_too() -> None:
    faults = joint_faults(make_joint(reveal_mm=9.0, rod_change_s=-1.0))
    assert {f.place.field for f in faults} == {"working.choices.reveal_mm", "working.choices.rod_change_s"}


def test_inch_sizes_are_not_their_metric_neighbours() -> None:
    metric, inch = RODS["E7018-5.0x450"], RODS["E7018-3/16x356"]
    assert isinstance(inch, Rod)
    assert metric.core_area_mm2 / inch.core_area_mm2 == pytest.approx(1.102, abs=0.001)
