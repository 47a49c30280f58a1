"""The verified reference cases: sure ones as truth, the others as coded as stated."""

from __future__ import annotations

import math

import pytest

from banister.core.joint.groove import cap_area_mm2, groove_of, groove_volume_mm3, pipe_volume_mm3
from banister.core.joint.joint import Joint
from banister.core.joint.wall import bevelled
from banister.core.joint.working import Choices
from banister.core.plan.spending import Rates, Spent, energy_kwh
from banister.core.plan.timing import changes_s, cleaning_s
from banister.core.rods.rod import EFFICIENCY, STEEL_G_MM3, Rod, arc_energy_kj_mm, rods_needed
from banister.core.value import replace
from tests.conftest import CASES, make_joint

KINDS = {"V": "single-v", "asymV": "single-v", "bevel": "single-bevel", "square": "square", "compound": "compound-v",
         "U": "single-u", "J": "single-j", "X": "double-v", "K": "double-bevel"}  # fmt: skip


def cases(fn: str) -> list:
    return [pytest.param(c, id=c["id"]) for c in CASES if c["fn"] == fn]


def joint_of(i: dict) -> Joint:
    half = i.get("alpha_deg", 0) / 2
    kind = KINDS[i["type"]]
    angle = i.get("beta_deg", i.get("beta1_deg", half))
    t, face = float(i["t_mm"]), float(i.get("f_mm", 0.0))
    depth = i.get("h1_mm", 0) + i.get("h2_mm", 0)
    return make_joint(
        key=kind, thickness_mm=t, root_gap_mm=float(i["g_mm"]), root_face_mm=face if kind != "square" else 0.0,
        bevel_left_deg=float(i.get("betaL_deg", angle)), bevel_right_deg=float(i.get("betaR_deg", angle)),
        back_bevel_deg=float(i.get("beta2_deg", 0.0)) if depth else 30.0, front_share=i["h1_mm"] / depth if depth else 0.5,
        knee_mm=float(i.get("hb_mm", face)), upper_bevel_deg=float(i["beta2_deg"]) if kind == "compound-v" else 10.0,
        root_radius_mm=float(i.get("r_mm", 6.0)), root_level_mm=float(i.get("e_mm", 0.0)), length_mm=float(i.get("L_mm", 1000)),
        form="pipe" if "OD_mm" in i else "plate", pipe_od_mm=float(i.get("OD_mm", 273.1)),
    )  # fmt: skip


def close(got: float, case: dict, key: str) -> None:
    tolerance = case["tolerance"]
    assert got == pytest.approx(case["expected"][key], rel=tolerance.get("rel", 1e-6), abs=tolerance.get("abs", 1e-9))


@pytest.mark.parametrize("case", cases("groove"))
def test_groove(case: dict) -> None:
    joint = joint_of(case["inputs"])
    groove = groove_of(joint.prep)
    expected = case["expected"]
    close(groove.area_mm2, case, "area_mm2")
    close(groove.centroid_height_mm, case, "zc_mm")
    if "top_width_mm" in expected:
        close(groove.top_width_mm, case, "top_width_mm")
    if "volume_mm3" in expected:
        volume = groove_volume_mm3(joint, groove)
        close(volume, case, "volume_mm3")
        mid = 2 * math.pi * (joint.piece.pipe_od_mm - joint.prep.thickness_mm) / 2 * groove.area_mm2
        assert 100 * (mid / volume - 1) == pytest.approx(expected["midwall_error_pct"], rel=1e-4, abs=1e-6)
    if "mass_g" in expected:
        close(STEEL_G_MM3 * groove_volume_mm3(joint, groove), case, "mass_g")


@pytest.mark.parametrize("case", cases("width_at"))
def test_width_at_a_height(case: dict) -> None:
    close(float(groove_of(joint_of(case["inputs"]).prep).width(case["inputs"]["z_mm"])), case, "width_mm")


@pytest.mark.parametrize("case", cases("hilo"))
def test_high_low_by_chord_closure(case: dict) -> None:
    groove = groove_of(replace(joint_of(case["inputs"]).prep, high_low_mm=case["inputs"]["m_mm"]))
    close(groove.area_mm2, case, "area_chord_mm2")
    close(math.degrees(math.atan(groove.tilt)), case, "mean_slope_deg")
    outline = groove.edge()
    shoelace = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(outline, (*outline[1:], outline[0]), strict=True)) / 2
    assert groove.area_mm2 == pytest.approx(shoelace)


@pytest.mark.parametrize("case", cases("cap"))
def test_parabolic_cap(case: dict) -> None:
    close(cap_area_mm2(case["inputs"]["W_mm"], case["inputs"]["h_mm"]), case, "parabola_mm2")


@pytest.mark.parametrize("case", cases("joint_total"))
def test_whole_joint_with_cap_and_root(case: dict) -> None:
    i = case["inputs"]
    joint = joint_of(i)
    groove = groove_of(joint.prep)
    cap = cap_area_mm2(groove.top_width_mm + 2 * i["cap_over_mm"], i["cap_h_mm"])
    root = cap_area_mm2(groove.gap_mm + 2 * i.get("root_over_mm", 0.0), i.get("root_h_mm", 0.0))
    close(cap, case, "cap_mm2")
    assert root == pytest.approx(case["expected"].get("root_mm2", root))
    if "OD_mm" in i:
        outer, inner = i["OD_mm"] / 2, i["OD_mm"] / 2 - i["t_mm"]
        volume = groove_volume_mm3(joint, groove) + pipe_volume_mm3(cap, outer + 0.4 * i["cap_h_mm"])
        volume += pipe_volume_mm3(root, inner - 0.4 * i["root_h_mm"])
        close(STEEL_G_MM3 * volume, case, "mass_g")


def rod_of(i: dict) -> Rod:
    return Rod(
        type=i["type"], family="basic", diameter_mm=i["d_mm"], length_mm=i["L_mm"], stub_mm=i["stub_mm"], amps=i["I_A"],
        amps_low=10, amps_high=600, volts=i["V_V"], burn_off_g_ah=i["km_g_per_Ah"], recovery=i["RN"], polarity="",
    )  # fmt: skip


@pytest.mark.parametrize("case", cases("electrode"))
def test_electrode(case: dict) -> None:
    i, rod = case["inputs"], rod_of(case["inputs"])
    close(rod.rod_g, case, "core_full_g")
    close(rod.core_used_g, case, "core_used_g")
    close(rod.deposit_g, case, "deposit_g")
    close(rod.burn_time_s(i["I_A"]), case, "burn_time_s")
    close(i["V_V"] * i["I_A"] * rod.burn_time_s(i["I_A"]) / 1000, case, "arc_energy_per_electrode_kJ")
    close(1 / rod.arc_energy_kj_mm(1.0, i["I_A"], i["V_V"]), case, "bead_area_per_arc_energy_mm2_per_kJmm")


@pytest.mark.parametrize("case", cases("runout"))
def test_run_out(case: dict) -> None:
    i, rod = case["inputs"], rod_of(case["inputs"])
    area = rod.area_mm2(i["ROL_mm"])
    close(area, case, "bead_area_mm2")
    close(rod.arc_energy_kj_mm(area, i["I_A"], i["V_V"]), case, "arc_energy_kJmm")
    close(EFFICIENCY["SMAW"] * rod.arc_energy_kj_mm(area, i["I_A"], i["V_V"]), case, "heat_input_kJmm")
    close(rod.travel_mm_min(area, i["I_A"]), case, "travel_mm_min")
    assert rods_needed(area * i["weld_mm"], rod) == case["expected"]["electrodes_ceil"]
    assert rod.run_out_mm(area) == pytest.approx(i["ROL_mm"])


@pytest.mark.parametrize("case", cases("heat_input"))
def test_heat_input(case: dict) -> None:
    i = case["inputs"]
    energy = arc_energy_kj_mm(i["V_V"], i["I_A"], i["v_mm_min"])
    close(energy, case, "arc_energy_kJmm")
    if i["process"] == "SMAW":
        close(EFFICIENCY["SMAW"] * energy, case, "heat_input_kJmm")


@pytest.mark.parametrize("case", cases("en1011_runout"))
def test_run_out_rule(case: dict) -> None:
    i = case["inputs"]
    rod = rod_of({"type": "E7018", "d_mm": float(i["d_mm"]), "L_mm": i["Lused_mm"] + 40.0, "stub_mm": 40.0, "I_A": 170.0, "V_V": 23.5,
                  "km_g_per_Ah": 8.2, "RN": i["RN_pct"] / 100})  # fmt: skip
    close(rod.run_out_rule_kj_mm(i["ROL_mm"]), case, "Q_kJmm")


@pytest.mark.parametrize("case", cases("cost"))
def test_cost(case: dict) -> None:
    """A metre of weld, from its deposition rate."""
    i = case["inputs"]
    weld_kg = i["area_mm2"] * 1000 * STEEL_G_MM3 / 1000
    arc_s = weld_kg / i["dep_rate_kg_h"] * 3600
    spent = Spent(arc_s, arc_s / i["operating_factor"], weld_kg / i["deposition_efficiency"], energy_kwh(i["V_V"], i["I_A"], arc_s))
    assert spent.operating_factor == pytest.approx(i["operating_factor"])
    assert spent.energy_kwh == pytest.approx(case["expected"]["energy_kWh_m"], rel=1e-6)
    rates = Rates(hour=i["labour_per_h"], rods_kg=i["electrode_per_kg"], kwh=i["price_kWh"])
    assert spent.cost(rates) == pytest.approx(case["expected"]["cost_per_m"], rel=1e-6)


@pytest.mark.parametrize("case", cases("operating_factor"))
def test_operating_factor(case: dict) -> None:
    """Against the planner's own reckoning of rods and cleaning; the case changes a rod after each but cleans once a metre."""
    i = case["inputs"]
    choices = Choices(rod_change_s=i["change_s"], clean_bead_s=0.0, clean_per_m_s=i["clean_s_per_m"])
    arc_s = i["electrodes"] * i["burn_s"]
    total_s = arc_s + changes_s(choices, i["electrodes"]) + cleaning_s(choices, 1000 * i["weld_m"]) + i["other_s"]
    assert total_s == case["expected"]["total_s"]
    assert Spent(arc_s, total_s).operating_factor == pytest.approx(case["expected"]["factor"], rel=1e-6)


def test_a_root_face_as_thick_as_the_plate_is_a_square_wall() -> None:
    assert bevelled(5.0, 5.0, 30.0).points() == ((0.0, 0.0), (0.0, 5.0))
