"""Qualified ranges against the reference cases, and what coverage makes of them."""

from __future__ import annotations

from datetime import date

import pytest

from banister.core.joint.groove import groove_of
from banister.core.joint.joint import edited
from banister.core.judge.coverage import covered, letters_of
from banister.core.judge.judgement import Judgement
from banister.core.limits.procedure import FAMILIES, Consumable, Override, Procedure, Span, Welder, WeldTest, procedure_faults
from banister.core.limits.qualification import PROCEDURE, SURE, WELDER, derived, qualified
from banister.core.limits.windows import Window
from banister.core.material.steel import Part, Steel, combined_thickness_mm, validity_remarks
from banister.core.plan.answers import plan_joint
from banister.core.plan.pull import angular_index_deg, transverse_shrinkage_mm
from banister.core.remark import NOT_JUDGED, OUTSIDE, Remark
from banister.core.value import replace
from banister.job.library import shipped_rows
from tests.conftest import CASES, SAY, make_joint, rods_by_id
from tests.core.test_reference_cases import joint_of

RULES, RODS, TODAY = shipped_rows(), rods_by_id(), date(2026, 11, 23)


def cases(fn: str) -> list:
    return [pytest.param(c["inputs"], c["expected"], c["certainty"].startswith("sure"), id=c["id"]) for c in CASES if c["fn"] == fn]


def span(family: str, kind: str, item: str, **test: object) -> object:
    made = WeldTest(**({"thickness_mm": 10.0} | test))
    return next(d for d in derived(family, kind, made, RULES) if d.item == item)


def bounds_match(found: object, expected: dict, sure: bool) -> None:
    for key, got in (("min_mm", found.low), ("max_mm", found.high)):
        if key in expected:
            wanted = float("inf") if expected[key] == "unlimited" else expected[key]
            assert got == pytest.approx(wanted)
    assert found.rule
    assert (found.certainty == SURE) <= sure, "a rule is marked surer than its source"


@pytest.mark.parametrize(("i", "expected", "sure"), cases("ix_procedure_T"))
def test_procedure_thickness_asme(i: dict, expected: dict, sure: bool) -> None:
    bounds_match(span("asme-ix", PROCEDURE, "thickness", thickness_mm=i["T_mm"], impact=i["impact"]), expected, sure)


@pytest.mark.parametrize(("i", "expected", "sure"), cases("iso15614_t"))
def test_procedure_thickness_iso(i: dict, expected: dict, sure: bool) -> None:
    bounds_match(span("iso15614-1", PROCEDURE, "thickness", thickness_mm=i["t_mm"], layers=4 if i["multi"] else 1), expected, sure)


@pytest.mark.parametrize(("i", "expected", "sure"), cases("d11_wps_T"))
def test_procedure_thickness_aws(i: dict, expected: dict, sure: bool) -> None:
    bounds_match(span("aws-d1.1", PROCEDURE, "thickness", thickness_mm=i["T_mm"]), expected, sure)


@pytest.mark.parametrize(
    ("fn", "family", "item", "key"),
    [("ix_welder_t", "asme-ix", "thickness", "t_mm"), ("iso9606_s", "iso9606-1", "thickness", "s_mm"),
     ("ix_welder_OD", "asme-ix", "diameter", "OD_mm"), ("iso9606_D", "iso9606-1", "diameter", "D_mm")],
)  # fmt: skip
def test_welder_ranges(fn: str, family: str, item: str, key: str) -> None:
    found = [c for c in CASES if c["fn"] == fn]
    assert found
    for c in found:
        value = {"thickness": "thickness_mm", "diameter": "diameter_mm"}[item]
        test = {value: c["inputs"][key], "layers": c["inputs"].get("layers", 3)}
        bounds_match(span(family, WELDER, item, **test), c["expected"], c["certainty"].startswith("sure"))


@pytest.mark.parametrize(("i", "expected", "sure"), cases("pos_ix"))
def test_welder_positions_asme(i: dict, expected: dict, sure: bool) -> None:
    form, position = i["coupon"].split()
    test = {"position": position, "diameter_mm": 141.3 if form == "pipe" else 0.0}
    assert span("asme-ix", WELDER, "position", **test).covers == tuple(expected["plate_or_pipe_over_610"].split(","))
    if form == "plate":
        assert span("asme-ix", WELDER, "position on pipe", **test).covers == tuple(expected["pipe_73_to_610"].split(","))


@pytest.mark.parametrize(("i", "expected", "sure"), cases("pos_d11"))
def test_welder_positions_aws(i: dict, expected: dict, sure: bool) -> None:
    form, position = i["coupon"].split()
    found = span("aws-d1.1", WELDER, "position", position=position, diameter_mm=141.3 if form == "pipe" else 0.0)
    assert found.covers == tuple(expected["groove"].split(","))


@pytest.mark.parametrize(("i", "expected", "sure"), cases("pos_iso9606"))
def test_welder_positions_iso(i: dict, expected: dict, sure: bool) -> None:
    found = span("iso9606-1", WELDER, "position", position=i["test"])
    assert found.covers == tuple(expected["groove"].split(",")) and found.certainty != SURE


@pytest.mark.parametrize(("i", "expected", "sure"), cases("fno_ix"))
def test_filler_groups_asme(i: dict, expected: dict, sure: bool) -> None:
    found = span("asme-ix", WELDER, "filler", f_number=i["F"], backing=i["backing"])
    assert {c.replace(" with backing", "b").replace(" without backing", "") for c in found.covers} == set(expected["covers"].split(","))


@pytest.mark.parametrize(("i", "expected", "sure"), cases("hi_rule_iso15614"))
def test_heat_input_iso(i: dict, expected: dict, sure: bool) -> None:
    found = span("iso15614-1", PROCEDURE, "heat_input", heat_input_kj_mm=i["Q_test_kJmm"], impact=True, hardness=True)
    assert (found.low, found.high) == (expected["min_if_hardness_kJmm"], expected["max_if_impact_kJmm"])


@pytest.mark.parametrize(("i", "expected", "sure"), cases("ix_preheat"))
def test_preheat_asme(i: dict, expected: dict, sure: bool) -> None:
    test = {"preheat_c": i["pqr_preheat_C"], "interpass_c": i["pqr_interpass_C"], "impact": True}
    assert span("asme-ix", PROCEDURE, "preheat", **test).low == expected["min_preheat_C"]
    assert span("asme-ix", PROCEDURE, "interpass", **test).high == expected["max_interpass_if_impact_C"]


@pytest.mark.parametrize(("tested", "shown"), [(90.0, "35 °C"), (60.0, "5 °C"), (20.0, "any")])
def test_a_preheat_row_never_starts_below_freezing(tested: float, shown: str) -> None:
    assert shown in SAY.figure(span("asme-ix", PROCEDURE, "preheat", preheat_c=tested).figure)


@pytest.mark.parametrize(("i", "expected", "sure"), cases("carbon_eq"))
def test_carbon_equivalents(i: dict, expected: dict, sure: bool) -> None:
    steel = Steel(**{element.lower(): share for element, share in i["wt_pct"].items()})
    assert (steel.cev, steel.cet, steel.pcm) == pytest.approx((expected["CEV"], expected["CET"], expected["Pcm"]))
    assert bool(validity_remarks(replace(steel, mn=2.5)))


@pytest.mark.parametrize(("i", "expected", "sure"), cases("combined_thickness"))
def test_combined_thickness(i: dict, expected: dict, sure: bool) -> None:
    parts = [Part(thickness_mm=p["t0_mm"], thickness_far_mm=p.get("t1_mm"), slope=p.get("slope_n", 0.0), change_at_mm=p.get("x0_mm", 0.0)) for p in i["parts"]]
    assert [p.mean_mm for p in parts] == pytest.approx(expected["part_means_mm"])
    assert combined_thickness_mm(parts, i["simultaneous_opposed_fillets"]) == pytest.approx(expected["combined_mm"])


@pytest.mark.parametrize(("i", "expected", "sure"), cases("shrinkage"))
def test_shrinkage_range(i: dict, expected: dict, sure: bool) -> None:
    low, high = transverse_shrinkage_mm(i["area_mm2"], i["t_mm"], i["g_mm"])
    assert (low, high) == pytest.approx((expected["blodgett_mm"], expected["spraragen_mm"]), rel=1e-3)


@pytest.mark.parametrize(("i", "expected", "sure"), cases("angular_index"))
def test_angular_index(i: dict, expected: dict, sure: bool) -> None:
    groove = groove_of(joint_of(i).prep)
    assert angular_index_deg(groove.area_mm2, groove.centroid_height_mm, i["t_mm"]) == pytest.approx(expected["theta_deg"], rel=1e-4)


JOINT = edited(make_joint(thickness_mm=22.0, position="3G"), procedure="P-1", group="group 1")
TEST = WeldTest(thickness_mm=16.0, position="3G", preheat_c=80.0, interpass_c=200.0, heat_input_kj_mm=3.4, impact=True, f_number=4, layers=6)
FULL = Procedure(
    id="P-1", family="asme-ix", processes=("SMAW",), base_metal="group 1", positions=("PF", "6G"), progressions=("up",), backing="without",
    consumables=(Consumable(role="root", f_number=3), Consumable(role="hot", type="E6010"), Consumable(role="fill", type="E7018"),
                 Consumable(role="cap", f_number=4)),
    qualified_by=TEST,
)  # fmt: skip
PLAN = plan_joint(JOINT, RODS)


def lines_of(procedure: Procedure | None = FULL, welder: Welder | None = None, joint: object = JOINT, today: date = TODAY) -> dict[str, Remark]:
    return {SAY.title(line): line for line in covered(joint, PLAN, procedure, welder, RULES, today)}


def test_every_essential_variable_has_one_line_with_its_rule_and_reason() -> None:
    lines = lines_of()
    assert {"thickness", "position", "progression", "base metal", "process", "consumable, root", "backing", "heat input", "preheat", "interpass"} <= set(lines)
    assert all(SAY.why(line) and SAY.figure(line.figures["allowed"]) for line in lines.values())
    assert lines["thickness"].verdict == "inside" and "QW-451.1" in lines["thickness"].source
    assert lines["preheat"].verdict == "not judged" and SAY.remedy(lines["preheat"])
    held = edited(JOINT, windows=(Window(quantity="preheat", low=100.0), Window(quantity="interpass", high=240.0)))
    judged = lines_of(joint=held)
    assert judged["preheat"].verdict == judged["interpass"].verdict == "inside"
    assert lines_of(joint=edited(held, windows=(Window(quantity="preheat", low=20.0),)))["preheat"].verdict == "outside"


@pytest.mark.parametrize(
    ("changes", "item"),
    [({"positions": ("1G",)}, "position"), ({"progressions": ("down",)}, "progression"), ({"base_metal": "group 8"}, "base metal"),
     ({"processes": ("GTAW",)}, "process"), ({"consumables": (Consumable(role="fill", type="E6013"),)}, "consumable, fill"),
     ({"backing": "with"}, "backing"), ({"hydrogen": "H5"}, "hydrogen class"), ({"most_bead_thickness_mm": 2.0}, "bead thickness"),
     ({"spans": (Span(item="thickness", low=3.0, high=12.0),)}, "thickness"), ({"qualified_by": replace(TEST, heat_input_kj_mm=0.6)}, "heat input")],
)  # fmt: skip
def test_each_variable_can_be_outside_alone_and_says_what_mends_it(changes: dict, item: str) -> None:
    before = {k: v.verdict for k, v in lines_of().items()}
    after = lines_of(replace(FULL, **changes))
    assert after[item].verdict == "outside" and SAY.remedy(after[item])
    assert {k for k, v in after.items() if v.verdict == "outside"} - {k for k, v in before.items() if v == "outside"} == {item}
    if item in ("heat input", "hydrogen class", "bead thickness", "consumable, fill"):
        assert after[item].place.passes and set(after[item].place.passes) <= {p.key for p in PLAN.passes}


@pytest.mark.parametrize(("family", "k"), [("asme-ix", "1"), ("aws-d1.1", "1"), ("iso15614-1", "0.8")])
def test_heat_input_is_held_in_the_basis_of_the_procedures_own_standard(family: str, k: str) -> None:
    most = max(p.heat_input_kj_mm for p in PLAN.passes)
    spans = (Span(item="heat_input", low=0.0, high=1.1 * most),)
    line = lines_of(replace(FULL, family=family, spans=spans))["heat input"]
    shown = [p.volts * p.amps * 60 / p.travel_mm_min / 1000 * float(k) for p in PLAN.passes]
    assert line.figures["k"].value == (k,) and line.figures["value"].value == pytest.approx((min(shown), max(shown)))
    assert line.verdict == ("outside" if k == "1" else "inside")


@pytest.mark.parametrize("family", list(FAMILIES))
@pytest.mark.parametrize("thickness", [1.0, 6.0, 16.0, 60.0])
def test_an_unverified_rule_never_makes_a_line_inside_nor_outside(family: str, thickness: float) -> None:
    test = replace(TEST, thickness_mm=thickness, hardness=True)
    procedure = replace(FULL, family=family, qualified_by=test, positions=())
    sure = {d.item for d in qualified(procedure, RULES) if d.certainty == SURE}
    for line in lines_of(procedure).values():
        item = line.code.removeprefix("cover.")
        if item in ("thickness", "position", "heat_input", "preheat", "interpass") and item not in sure:
            assert line.verdict == "not judged" and (line.certainty != SURE or SAY.figure(line.figures["allowed"]) == "not set")


def test_an_override_with_its_reason_takes_the_place_of_a_derived_range() -> None:
    own = Override(item="thickness", low=3.0, high=30.0, reason="second test, plate 9")
    vouched = replace(FULL, qualified_by=replace(TEST, thickness_mm=5.0), overrides=(own,))
    line = lines_of(vouched)["thickness"]
    assert line.verdict == "inside" and "second test" in SAY.source(line)
    (told,) = procedure_faults(replace(vouched, overrides=(Override(item="thickness", low=3.0, high=30.0, reason=" "),)))
    assert told.place.field == "overrides[0].reason" and told.code == "procedure.reason"


def test_the_welder_is_checked_in_the_same_manner() -> None:
    welder = Welder(mark="K7", family="asme-ix", test=replace(TEST, f_number=None), last_used="2026-08-30")
    lines = lines_of(None, welder)
    assert lines["welder K7: thickness"].verdict == "inside" and lines["welder K7: position"].verdict == "inside"
    assert lines["welder K7: progression"].verdict == "inside" and lines["welder K7: continuity"].verdict == "inside"
    assert lines_of(None, replace(welder, test=replace(TEST, thickness_mm=8.0)))["welder K7: thickness"].verdict == "outside"
    assert lines_of(None, replace(welder, test=replace(TEST, position="1G")))["welder K7: position"].verdict == "outside"
    assert lines_of(None, replace(welder, test=replace(TEST, progression="down")))["welder K7: progression"].verdict == "outside"


@pytest.mark.parametrize(("backing", "verdict"), [(False, NOT_JUDGED), (True, OUTSIDE)])
def test_an_f4_test_does_not_reach_an_f3_open_root(backing: bool, verdict: str) -> None:
    welder = Welder(mark="W", family="asme-ix", test=replace(TEST, f_number=4, backing=not backing), last_used="2026-08-30")
    without = lines_of(None, welder)["welder W: filler"]
    assert (without.verdict == OUTSIDE) == (welder.test.backing is False) and SAY.remedy(without)
    if without.verdict == OUTSIDE:
        assert without.certainty == SURE and without.place.passes == tuple(p.key for p in PLAN.passes if p.role == "root")


@pytest.mark.parametrize(
    ("last", "today", "verdict"),
    [("2026-05-23", "2026-11-23", "inside"), ("2026-05-22", "2026-11-23", "outside"), ("", "2026-11-23", "not judged"),
     ("2026-08-31", "2027-02-28", "inside"), ("2026-08-31", "2027-03-01", "outside"), ("2027-01-01", "2026-11-23", "outside")],
)  # fmt: skip
def test_continuity_runs_six_calendar_months(last: str, today: str, verdict: str) -> None:
    line = lines_of(None, Welder(mark="W", family="asme-ix", test=TEST, last_used=last), today=date.fromisoformat(today))["welder W: continuity"]
    assert line.verdict == verdict and (verdict == "inside" or SAY.remedy(line))


def test_the_worst_verdict_rules_and_nothing_is_never_fine() -> None:
    assert Judgement().worst == NOT_JUDGED and Judgement(tuple(lines_of().values())).worst in (OUTSIDE, NOT_JUDGED)
    assert letters_of(JOINT) == {"V"} and letters_of(edited(JOINT, form="pipe", position="6G")) == {"F", "H", "V", "O"}
