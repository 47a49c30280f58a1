"""The cooling model against closed forms and the stated acceptance values; preheat and t8/5 cases."""

from __future__ import annotations

import math

import numpy as np
import pytest

from banister.core.heat.cooling_time import cooling_time
from banister.core.heat.fin import Across, Fin, Material, Stretch, loss
from banister.core.heat.preheat import REMEMBERED_C, annex_cell, annex_group, by_method, category_cell, disagreement_said, method_b_c, susceptibility_index
from tests.conftest import CASES, SAY

TRIAL = Material(conductivity=45.0, capacity=550.0, density=7850.0)


def plates(left: float, right: float, d: float, **fields: float) -> Across:
    return Across(left=(Stretch(width=left, thickness=d),), right=(Stretch(width=right, thickness=d),), edges_lose_heat=False, **fields)


def fin(across: Across, h: float = 30.0, material: Material = TRIAL) -> Fin:
    return Fin(across, material, h, 5e-3)


def rise(model: Fin, amplitudes: np.ndarray, x: float, seconds: float) -> float:
    return float(model.reading(x) @ model.after(amplitudes, seconds))


def test_one_pass_on_an_infinite_plate() -> None:
    model = fin(plates(2.0, 2.0, 0.020))
    state = model.heated(np.zeros(model.rates.size), 0.96e6)
    for seconds, wanted in ((60, 95.5), (120, 75.0), (300, 48.0)):
        assert rise(model, state, 0.025, seconds) == pytest.approx(wanted, abs=max(0.5, 0.01 * wanted))
        erf = [math.erf((0.025 + s * 0.005) / (2 * math.sqrt(TRIAL.diffusivity * seconds))) for s in (1, -1)]
        strip = 0.96e6 / (TRIAL.density * TRIAL.capacity * 0.020 * 0.010) * (erf[0] - erf[1]) / 2
        exact = strip * math.exp(-30.0 * seconds / (TRIAL.density * TRIAL.capacity * 0.020))
        assert rise(model, state, 0.025, seconds) == pytest.approx(exact, rel=0.01)


def test_unlike_widths_reflect_at_their_edges() -> None:
    model = fin(plates(0.100, 0.150, 0.020))
    state = model.heated(np.zeros(model.rates.size), 0.96e6)
    for x, seconds, wanted in ((0.025, 120, 75.0), (0.025, 600, 37.2), (-0.050, 120, 52.6), (-0.050, 600, 42.5)):
        assert rise(model, state, x, seconds) == pytest.approx(wanted, abs=max(0.5, 0.01 * wanted))


def test_waits_after_three_passes() -> None:
    model = fin(plates(0.150, 0.150, 0.020))
    state = model.uniform(80.0)
    for _ in range(2):
        state = model.after(model.heated(state, 0.96e6), 300.0)
    just_before = rise(model, state, 0.025, 0.0)
    state = model.heated(state, 0.96e6)
    reading = model.reading(0.025)
    assert model.last_fall_s(reading, state, 180.0) == pytest.approx(229, rel=0.01)
    assert model.last_fall_s(reading, state, 130.0) == pytest.approx(742, rel=0.01)
    assert 20 + rise(model, state, 0.025, 299.0) == pytest.approx(188, abs=1.0)
    assert just_before > 80


def test_steps_and_a_bar_share_the_heat_evenly_in_the_end() -> None:
    across = Across(left=(Stretch(width=0.100, thickness=0.012),), right=(Stretch(width=0.150, thickness=0.030),), bar_width=0.040,
                    bar_thickness=0.006, edges_lose_heat=False)  # fmt: skip
    model = fin(across, h=0.0)
    state = model.heated(np.zeros(model.rates.size), 1e6)
    section = 0.100 * 0.012 + 0.150 * 0.030 + 0.040 * 0.006
    assert model.capacities.sum() == pytest.approx(TRIAL.density * TRIAL.capacity * section, rel=1e-9)
    assert rise(model, state, 0.08, 1e6) == pytest.approx(39.0, abs=0.4)


def test_a_preheated_band_spreads() -> None:
    model = fin(plates(2.0, 2.0, 0.020))
    state = model.band(130.0, 0.075)
    for x, seconds, wanted in ((0.025, 300, 94.2), (0.025, 900, 59.0), (0.075, 300, 75.2)):
        assert 20 + rise(model, state, x, seconds) == pytest.approx(wanted, abs=0.8)


def test_an_even_plate_cools_exponentially() -> None:
    model = fin(plates(0.2, 0.2, 0.012), h=40.0)
    state = model.uniform(230.0)
    assert model.last_fall_s(model.reading(0.05), state, 130.0) == pytest.approx(739, rel=0.01)
    assert 20 + rise(model, state, 0.05, 1800.0) == pytest.approx(77.3, abs=0.5)


def test_the_last_crossing_counts_not_the_first() -> None:
    model = fin(plates(2.0, 2.0, 0.040), h=0.0)
    state = model.heated(np.zeros(model.rates.size), 1.6e6)
    times = np.arange(10.0, 600.0, 1.0)
    curve = np.array([rise(model, state, 0.050, t) for t in times])
    assert curve.max() == pytest.approx(44.8, abs=0.5) and times[curve.argmax()] == pytest.approx(120, abs=6)
    assert model.last_fall_s(model.reading(0.050), state, 0.9 * curve.max()) == pytest.approx(248, rel=0.02)
    assert model.last_fall_s(model.reading(0.050), state, -1.0) == math.inf
    assert model.last_fall_s(model.reading(0.050), state, 500.0) == 0.0


@pytest.mark.parametrize(("surface", "h"), [(50, 17.2), (100, 22.5), (150, 27.6), (200, 33.0), (250, 39.0), (300, 45.8), (350, 53.3)])
def test_loss_to_still_air(surface: float, h: float) -> None:
    assert loss(surface) == pytest.approx(h, abs=0.15)


def test_energy_is_conserved_without_loss_and_histories_add_up() -> None:
    model = fin(plates(0.15, 0.25, 0.016), h=0.0)
    state = model.after(model.heated(model.heated(np.zeros(model.rates.size), 4e5), 6e5), 400.0)
    assert float(model.capacities @ model.profile(state)) == pytest.approx(1e6, rel=1e-9)
    one, two = model.heated(np.zeros(model.rates.size), 4e5), model.heated(np.zeros(model.rates.size), 6e5)
    assert model.after(one + two, 400.0) == pytest.approx(state)


def cases(fn: str) -> list:
    return [pytest.param(c["inputs"], c["expected"], id=c["id"]) for c in CASES if c["fn"] == fn]


@pytest.mark.parametrize(("i", "e"), cases("t85"))
def test_cooling_time(i: dict, e: dict) -> None:
    found = cooling_time(i["Q_kJmm"], i["d_mm"], i["T0_C"], i["F2"], i["F3"])
    assert (found.thin_s, found.thick_s, found.transition_mm) == pytest.approx((e["t85_2D_s"], e["t85_3D_s"], e["d_transition_mm"]), rel=1e-6)
    assert found.seconds == pytest.approx(e["t85_s"]) and found.regime == e["regime"]
    assert cooling_time(1.0, 20.0, 500.0) is None


@pytest.mark.parametrize(("i", "e"), cases("preheat_EN_B"))
def test_preheat_method_b(i: dict, e: dict) -> None:
    assert method_b_c(i["CET"], i["d_mm"], i["HD_ml100g"], i["Q_kJmm"]) == pytest.approx(e["Tp_C"], abs=1e-4)


@pytest.mark.parametrize(("i", "e"), cases("d11_annex"))
def test_preheat_annex(i: dict, e: dict) -> None:
    index = susceptibility_index(i["Pcm"], i["H_ml100g"])
    assert index == pytest.approx(e["SI"], rel=1e-5)
    assert (annex_group(index) or "beyond G") == e["group"]
    cell = annex_cell(i["Pcm"], i["H_ml100g"], i["t_mm"], i["restraint"])
    assert (REMEMBERED_C[cell] if cell else None) == (pytest.approx(e["Tmin_C"], rel=1e-5) if "Tmin_C" in e else None)


@pytest.mark.parametrize(("i", "e"), cases("d11_category"))
def test_preheat_table(i: dict, e: dict) -> None:
    assert REMEMBERED_C[category_cell(i["cat"], i["t_mm"])] == e["Tmin_C"]


@pytest.mark.parametrize(("i", "e"), cases("preheat_compare"))
def test_preheat_methods_side_by_side(i: dict, e: dict) -> None:
    en, annex, table = by_method(e["CET"], e["Pcm"], i["t_mm"], i["HD_ml100g"], i["Q_kJmm"], i["restraint"], i["cat"])
    assert en.least_c == pytest.approx(e["Tp_EN_B_C"], rel=1e-5) and annex.least_c == pytest.approx(e["T_D11_annex_C"], rel=1e-5)
    assert table.least_c == e["T_D11_cat_C"] and en.verified and not annex.verified
    assert any("unverified" in SAY.text(note) for note in annex.notes)


def test_a_cell_from_the_users_copy_takes_the_remembered_ones_place_and_no_other() -> None:
    inputs = (0.32, 0.24, 30.0, 5.0, 1.0, "medium")
    _, annex, table = by_method(*inputs, "B")
    cell = annex_cell(0.24, 5.0, 30.0, "medium")
    _, own, same = by_method(*inputs, "B", {cell: 125.0})
    assert (own.least_c, own.verified) == (125.0, True) and not any("unverified" in SAY.text(note) for note in own.notes)
    assert own.inputs == annex.inputs and same == table
    thicker = by_method(0.32, 0.24, 60.0, 5.0, 1.0, "medium", "B", {cell: 125.0})[1]
    assert not thicker.verified and thicker.least_c != 125.0
    assert table.verified and not by_method(*inputs, "D")[2].verified and by_method(*inputs, "D", {category_cell("D", 30.0): 20.0})[2].verified


def test_where_methods_disagree_is_said_with_the_one_that_asks_for_most() -> None:
    apart = by_method(0.335, 0.273, 22.0, 5.0, 1.5, "medium", "B")
    assert "64 °C apart" in disagreement_said(apart, SAY) and "method B asks for the most" in disagreement_said(apart, SAY)
    low = by_method(0.225, 0.159, 20.0, 5.0, 1.5, "medium", "C")
    assert disagreement_said(low, SAY) == "" and disagreement_said(apart[:1], SAY) == ""


def test_the_wait_is_the_last_crossing_by_bisection_of_a_fine_scan() -> None:
    draw = np.random.default_rng(3)
    fine = np.concatenate((np.linspace(0.0, 5.0, 501), np.geomspace(5.0, 1e5, 20_000)))
    waits = 0
    for _ in range(40):
        model = fin(plates(*draw.choice([0.06, 0.15, 0.5], 2), draw.choice([0.006, 0.012, 0.04])), draw.choice([10.0, 30.0, 60.0]))
        state = model.uniform(draw.choice([0.0, 80.0]))
        for _ in range(draw.integers(1, 5)):
            state = model.after(model.heated(state, draw.uniform(3e5, 3e6)), draw.uniform(20.0, 600.0))
        parts = model.reading(draw.choice([0.01, 0.03, 0.06])) * state
        limit = draw.uniform(20.0, max(parts.sum(), 40.0) * 1.05)
        over = np.flatnonzero(parts @ np.exp(-model.rates[:, None] * fine) > limit)
        low, high = (fine[over[-1]], fine[over[-1] + 1]) if over.size else (0.0, 0.0)
        for _ in range(50 if over.size else 0):
            middle = (low + high) / 2
            low, high = (middle, high) if parts @ np.exp(-model.rates * middle) > limit else (low, middle)
        waits += over.size > 0
        assert model.last_fall_s(np.ones(parts.size), parts, limit) == pytest.approx(low, abs=0.05)
    assert waits > 15


def test_heat_of_a_tee_goes_three_ways() -> None:
    """In wide plates a third of it each way, so two thirds of a plate's rise; in small ones it is shared by all three."""

    def tee(left: float, right: float, h: float) -> Fin:
        both = (Stretch(width=left, thickness=0.012, sheets=2),)
        return fin(Across(left=both, right=(Stretch(width=right, thickness=0.012),), edges_lose_heat=False), h)

    def risen(model: Fin, x: float, seconds: float) -> float:
        return rise(model, model.heated(np.zeros(model.rates.size), 1e6), x, seconds)

    for x in (-0.05, 0.02, 0.08):
        assert risen(tee(2.0, 2.0, 30.0), x, 200.0) == pytest.approx(2 / 3 * risen(fin(plates(2.0, 2.0, 0.012)), x, 200.0), rel=0.01)
        assert risen(tee(0.10, 0.15, 0.0), x, 4e4) == pytest.approx(1e6 / (7850 * 550 * 0.012 * 0.35), rel=0.01)
