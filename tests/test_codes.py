"""Every remark of the table of words is made by a case, reads as a sentence in both units, and says what to do where something is wrong."""

from __future__ import annotations

import math
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import date
from pathlib import Path
from typing import Any

import pytest

from banister.cli.main import run
from banister.core.beads.bead import lay
from banister.core.beads.surface import Surface
from banister.core.care.classes import CLASSES
from banister.core.care.life import lived
from banister.core.care.of_plan import trips_of
from banister.core.care.rack import hours_of, racked
from banister.core.care.trips import Use, trips
from banister.core.fitup.judged import Tolerance, judged_fit
from banister.core.fitup.places import Course, course_of
from banister.core.fitup.readings import fitup_faults
from banister.core.fitup.tacks import choice_faults, tack_faults, tack_remarks
from banister.core.fitup.tolerances import tolerance_set
from banister.core.fitup.turn import TurnRules, best_turn
from banister.core.follow.late import pass_entries, possible_c
from banister.core.follow.rest import followed
from banister.core.heat.advice import others
from banister.core.heat.line import heat_line
from banister.core.heat.preheat import OwnCell, by_method, cell_faults, preheat_methods
from banister.core.heat.schedule import schedule_of
from banister.core.heat.shift import Pause, Shift, shift_faults, typed_pause
from banister.core.inspect.observed import Observation, observation_faults
from banister.core.inspect.repair import Way, defect_faults, defect_of, dug_stations, range_fault, reach_remarks
from banister.core.inspect.repairs import KeptRepair, keeping_faults, rule_remarks
from banister.core.job import Job, job_faults
from banister.core.joint.boat import Boat, Defect
from banister.core.joint.faults import joint_faults
from banister.core.joint.fitting import SIMULATED, FitUp, GapReading, PipeEnd, Tack, TackRules, Turning
from banister.core.joint.groove import groove_of
from banister.core.joint.heating import Reading
from banister.core.joint.joint import Joint, edited
from banister.core.joint.repairing import RepairOf, repairing_faults
from banister.core.joint.stopping import StopChoices, StopPin
from banister.core.joint.working import Choices, OwnRunOut, Pin, RodUse
from banister.core.journal import Chain, Known, Record, differs_from_known
from banister.core.judge.judgement import Documents, judged
from banister.core.limits.procedure import Consumable, Override, Procedure, Span, Welder, WeldTest, procedure_faults, welder_faults
from banister.core.limits.windows import Window
from banister.core.material.steel import BaseMetal, Steel, validity_remarks
from banister.core.plan import rules
from banister.core.plan.answers import Study, plan_answer, plan_joint, study_of
from banister.core.plan.compare import BOTH_SIDES, Shop, candidates
from banister.core.plan.hints import hints_of, window_costs
from banister.core.plan.improve import Bound, Weights, improved
from banister.core.plan.inputs import inputs_of
from banister.core.plan.layers import Layer
from banister.core.plan.placing import Laid
from banister.core.plan.soundness import bead_remarks, cap_valleys, crossed, slots
from banister.core.plan.spending import Rates
from banister.core.plan.technique import Technique, technique_faults
from banister.core.play.hand import Hand, begun, by_hand
from banister.core.remark import OUTSIDE, WATCH, Figure, Refused, Remark, outside
from banister.core.rods.faults import rod_faults
from banister.core.sheet import differences, issued
from banister.core.sheet_faults import LIMITS, sheet_faults
from banister.core.stops.by_hand import evenly, moved
from banister.core.stops.runs import Forbidden, Run, stop_faults
from banister.core.stops.search import stop_map
from banister.core.typed import SPELT, beyond, typed, typed_clock_s
from banister.core.units import Units
from banister.core.value import replace
from banister.devices.trace import read_trace
from banister.job.acceptance import kinds
from banister.job.files import JobFile
from banister.job.library import blank_joint, demo_job, shipped_rods, shipped_rows, words
from banister.job.reading import parsed
from tests.codes_of_files import (
    causes_that_are_none,
    columns_that_cannot_be_read,
    etched_sections_that_do_not_fit,
    files_that_cannot_be_read,
    files_that_cannot_be_written,
    hands_of_no_day,
    journals_that_do_not_hold,
    lists_that_cannot_be,
    practice_that_cannot_be,
    refused,
    sets_that_are_none,
)  # fmt: skip
from tests.conftest import SAY, SAY_INCH, bench_rods, make_joint, rods_by_id
from tests.desktop.conftest import demo, dialogs, nothing_is_left, unshown, window  # noqa: F401  fixtures

RODS, ROWS = rods_by_id(), shipped_rows()
TODAY = date(2026, 6, 1)
MUST_SAY_WHAT_TO_DO = ("bead.", "cap.", "root.", "fill.", "rods.", "windows.", "wall.", "layer.", "heat.", "window.", "cover.", "joint.", "figure.")
KNOWING = ("heat.t85.none",)


class Noted(list[Remark]):
    """Stands for the class where remarks are made, and keeps them."""

    def __call__(self, *values: Any, **named: Any) -> Remark:
        self.append(Remark(*values, **named))
        return self[-1]

    def __instancecheck__(self, one: object) -> bool:
        return isinstance(one, Remark)


@contextmanager
def collected() -> Iterator[list[Remark]]:
    """Every remark that is made meanwhile."""
    made = Noted()
    with pytest.MonkeyPatch.context() as patch:
        for name, module in list(sys.modules.items()):
            if name.startswith("banister.core.") and getattr(module, "Remark", None) is Remark:
                patch.setattr(module, "Remark", made)
        yield made


# --- descriptions ------------------------------------------------------------------------------
def figures_that_cannot_be() -> None:
    wrong = make_joint(
        thickness_mm=-1.0, key="star", position="9G", pins=(Pin(x_mm=0.0, y_mm=0.0, role="fill", area_mm2=-4.0),),
        readings=(Reading(at_s=-5.0, x_mm=10.0, temp_c=9e9),),
        own_run_out=(OwnRunOut(rod="E7018-3.2x350", position="1G", run_out_mm=1.0),), steel=Steel(c=7.0),
        windows=(Window(quantity="amps", low=5e6), Window(quantity="volts", low=30.0, high=20.0)),
    )  # fmt: skip
    joint_faults(wrong)
    joint_faults(make_joint(position="6G"))
    job_faults(Job(name="Locks", rates=Rates(hour=-1.0), joints=(make_joint(), make_joint()), rods=(replace(shipped_rods()[0], diameter_mm=-3.0),)))


def figures_that_do_not_go_together() -> None:
    for fields in (
        {"form": "pipe", "position": "1G", "pipe_od_mm": 50.0, "thickness_mm": 30.0}, {"root_face_mm": 10.0, "thickness_mm": 8.0},
        {"key": "double-v", "root_face_mm": 19.0, "backing": "closed"}, {"key": "compound-v", "knee_mm": 0.5}, {"right_thickness_mm": 1.0, "taper": 0.0},
        {"key": "single-u", "root_radius_mm": 25.0, "thickness_mm": 12.0}, {"key": "double-v", "backing": "bar"},
        {"key": "double-v", "form": "pipe", "position": "1G", "pipe_od_mm": 300.0, "backing": "closed"},
        {"key": "fillet-tee", "backing": "closed", "position": "2F", "root_gap_mm": 9.0},
        {"key": "fillet-lap", "backing": "closed", "position": "2F", "root_gap_mm": 0.0, "leg_right_mm": 30.0},
        {"key": "fillet-tee", "backing": "closed", "position": "2F", "root_gap_mm": 0.0, "fillet_angle_deg": 60.0, "leg_left_mm": 4.0, "leg_right_mm": 12.0},
    ):  # fmt: skip
        joint_faults(make_joint(**fields))


def what_is_typed() -> None:
    for kind in SPELT:
        refused(typed, "many", kind)
    for text in ("1,500", "1/0", "1e999"):
        refused(typed, text, "length")
    beyond(-1.0, "fine_length", 0.0, math.inf)
    refused(typed_clock_s, "noon")
    refused(typed_pause, "12:00")


def shifts_that_cannot_be() -> None:
    shift_faults(Shift(begins_s=-1.0))
    shift_faults(Shift(begins_s=0.0, until_s=18 * 3600.0, welders=9, leaving_s=1e6, pauses=(Pause(from_s=3600.0, to_s=11 * 3600.0),)))


def documents_that_cannot_be() -> None:
    test = WeldTest(thickness_mm=0.0)
    procedure_faults(Procedure(id="", family="x", spans=(Span(item="thickness", low=9.0, high=2.0),), overrides=(Override(item="diameter", reason=" "),)))
    welder_faults(Welder(mark="K7", test=test, tested_on="soon"))
    technique_faults(Technique(id=""))
    validity_remarks(Steel(c=0.5))
    cell_faults((OwnCell(cell="none", least_c=20.0),))


# --- older programs -----------------------------------------------------------------------------
def sheets_of_an_older_program() -> None:
    """Read, not made anew: the remarks are noted by hand."""
    for sheet in JobFile(Path(__file__).parent / "job" / "old" / "v3.banister").open().issued:
        for p in sheet.plan.passes:
            outside(p.why.code, **p.why.figures)


def a_sheet_issued_again() -> None:
    job = demo_job()
    joint = job.joints[0]
    sheets = []
    for one in (joint, edited(joint, thickness_mm=30.0, windows=(Window(quantity="t85", low=60.0),))):
        plan = plan_joint(one, job.rods_by_id)
        sheets.append(issued(job.sheet_of(one, plan, heat_line(one, plan), ROWS, TODAY), TODAY.isoformat()))
    differences(*sheets)


# --- plans -------------------------------------------------------------------------------------
def planned(backing: str = "open", answer: str = "balanced", **fields: Any) -> None:
    plan_joint(make_joint(backing, **fields), RODS, answer)


def with_rods(*uses: tuple[str, str], **fields: Any) -> None:
    planned(rods=tuple(RodUse(role=role, rod=rod) for role, rod in uses), **fields)


def joints_that_cannot_be_planned() -> None:
    planned(key="square", thickness_mm=9.0, root_gap_mm=3.0)
    planned(root_gap_mm=11.0)
    planned(root_gap_mm=0.0)
    planned(root_face_mm=6.0)
    planned("closed", root_gap_mm=0.0, second_side="seal")
    planned("closed", key="square", root_gap_mm=0.0, root_face_mm=0.0)
    planned("closed", key="double-bevel", thickness_mm=8.0, root_gap_mm=0.0, bevel_left_deg=0.0, bevel_right_deg=45.0, back_bevel_deg=45.0, root_face_mm=1.0)
    planned("bar", root_gap_mm=1.0, bevel_left_deg=0.0, bevel_right_deg=0.0, thickness_mm=16.0)
    planned("ceramic", root_gap_mm=1.0, bevel_left_deg=0.0, bevel_right_deg=0.0, thickness_mm=16.0,
            windows=(Window(quantity="arc_energy", role="root", high=0.55),))  # fmt: skip
    planned("closed", root_gap_mm=0.0, bevel_left_deg=5.0, bevel_right_deg=5.0, thickness_mm=16.0, root_face_mm=1.0)
    planned(root_face_mm=9.0, thickness_mm=16.0)
    planned(windows=(Window(quantity="weave", high=4.0),), thickness_mm=22.0)
    planned(windows=(Window(quantity="arc_energy", role="fill", low=2.9),), thickness_mm=22.0)
    planned(
        windows=(
            Window(quantity="arc_energy", role="fill", low=1.5, high=1.51),
            Window(quantity="run_out", role="fill", low=900.0),
        ),
        thickness_mm=22.0,
    )
    planned(windows=(Window(quantity="arc_energy", role="root", high=0.55),))
    planned("ceramic", windows=(Window(quantity="arc_energy", role="root", high=0.55),))
    planned(windows=(Window(quantity="volts", role="fill", low=80.0),))
    planned(answer="quickest:0.3")
    basic = ("E7018-3.2x350",)
    with_rods(*((role, rod) for role in ("root", "fill") for rod in basic))
    with_rods(("root", "ER70S-2.4x1000"), ("fill", "ER70S-2.4x1000"), ("cap", "nothing"))
    with_rods(("root", "E6010-2.5x300"), ("fill", "E7018-5.0x450"), ("cap", "E7018-3.2x350"), thickness_mm=9.0, bevel_left_deg=5.0, bevel_right_deg=5.0)
    with_rods(("root", "E6010-3.2x350"), ("fill", "E7018-5.0x450"), ("cap", "E7018-5.0x450"), position="3G")
    with_rods(("root", "E6010-3.2x350"), ("fill", "E7018-3.2x350"), ("cap", "E7018-3.2x350"), position="3G", progression="down")


def a_little_more_that_saves_much() -> None:
    for fields in ({"thickness_mm": 14.25}, {"backing": "closed", "key": "fillet-tee", "position": "2F", "leg_left_mm": 5.3, "leg_right_mm": 5.3,
                                            "root_gap_mm": 0.0, "root_face_mm": 0.0}):  # fmt: skip
        inputs = inputs_of(make_joint(**fields), RODS.values())
        hints_of(inputs, study_of(inputs).sides)
    inputs = inputs_of(make_joint(thickness_mm=20.0, windows=(Window(quantity="weave", high=8.0),)), RODS.values())
    window_costs(inputs, study_of(inputs).sides)


def a_plan_with_pins_that_cannot_be() -> None:
    for pin in (Pin(x_mm=0.0, y_mm=0.0, role="cap", area_mm2=400.0), Pin(x_mm=0.0, y_mm=21.0, role="cap", area_mm2=1.0),
                Pin(x_mm=0.0, y_mm=8.0, role="root", area_mm2=400.0), Pin(x_mm=0.0, y_mm=8.0, role="fill", beads=9)):  # fmt: skip
        planned(pins=(pin,))


def faces_worth_a_remark() -> None:
    joint = inputs_of(make_joint(thickness_mm=20.0))
    groove = groove_of(joint.prep)
    option = rules.option_of(joint, RODS["E7018-3.2x350"], "fill", groove)

    def looked_at(surface: Surface, left: float, right: float, area: float, option: rules.Option = option, beads: int = 1) -> None:
        bead, _ = lay(surface, surface.at_x(left), surface.at_x(right), area)
        bead_remarks(Laid(bead, Layer("fill", option, beads, 0.0, 3.0, area, 0.0), 1, option), "p1", (0.0, 0.0))

    plate = Surface([-40.0, 40.0], [0.0, 0.0])
    valley = Surface([-30.0, -4.0, 0.0, 4.0, 30.0], [0.0, 0.0, -3.0, 0.0, 0.0])
    looked_at(plate, -2.0, 2.0, 30.0)
    looked_at(plate, -2.0, 2.0, 30.0, replace(option, stretched=True))
    looked_at(plate, -20.0, 20.0, 15.0)
    looked_at(valley, -4.0, 4.0, 5.0)
    looked_at(Surface([-40.0, -1.0, -0.9, 0.9, 1.0, 40.0], [0.0, 0.0, 9.0, 9.0, 0.0, 0.0]), -3.0, 3.0, 2.0)
    crossed("p1", (0.0, 0.0), 12.0)
    notched = Surface([-16.0, -8.0, -2.6, 0.0, 2.6, 8.0, 16.0], [20.0, 10.0, 12.0, 9.0, 12.0, 10.0, 20.0])
    slots(notched, groove, 5.0)
    cap_valleys(Surface([-30.0, -12.0, -6.0, 0.0, 6.0, 12.0, 30.0], [20.0, 20.0, 23.0, 20.5, 23.0, 20.0, 20.0]), groove)


def roots_and_walls_worth_a_remark() -> None:
    planned(root_gap_mm=5.2)
    planned(root_gap_mm=1.7)
    planned(root_face_mm=2.8)
    planned("bar", bar_gap_mm=3.0, thickness_mm=16.0)
    planned("closed", key="fillet-tee", position="2F", root_gap_mm=2.5, root_face_mm=0.0)
    for key in ("single-bevel", "single-v"):
        with_rods(("root", "E6010-4.0x350"), ("fill", "E7018-3.2x350"), ("cap", "E7018-3.2x350"), key=key, thickness_mm=12.0, root_gap_mm=1.0, position="3G",
                  bevel_left_deg=20.0, bevel_right_deg=20.0)  # fmt: skip


# --- the judge ---------------------------------------------------------------------------------
STEEL = BaseMetal(group="1.2", steel=Steel(c=0.30, mn=2.4, cr=0.5))
EVERY = tuple(
    Window(quantity=quantity, low=low, high=high) for quantity, low, high in (
        ("amps", 60.0, 200.0), ("volts", 18.0, 30.0), ("arc_energy", 0.3, 4.0), ("heat_input", 0.3, 4.0), ("travel", 20.0, 400.0),
        ("run_out", 20.0, 600.0), ("weave", 1.0, 30.0), ("preheat", 80.0, None), ("interpass", None, 220.0), ("t85", 5.0, 60.0))
)  # fmt: skip


def held(joint: Joint, procedure: Procedure | None = None, welder: Welder | None = None, heat: bool = True, within_s: float = 86400.0) -> None:
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan, within_s=within_s) if heat else None
    judged(joint, plan, schedule, Documents(procedure, welder, ROWS, (), TODAY))


def windows_kept_and_left() -> None:
    joint = make_joint(thickness_mm=14.0, windows=EVERY, metal=STEEL)
    held(joint)
    held(edited(joint, windows=(Window(quantity="preheat", low=80.0, high=90.0), Window(quantity="interpass", low=79.0, high=220.0))))
    held(joint, heat=False)
    held(make_joint(thickness_mm=14.0))
    held(edited(joint, windows=(Window(quantity="amps", high=60.0), Window(quantity="t85", low=60.0), Window(quantity="preheat", low=120.0))))
    held(edited(joint, windows=(Window(quantity="amps", low=290.0), Window(quantity="t85", high=1.0), Window(quantity="preheat", low=80.0))))
    short = (Window(quantity="interpass", high=60.0), Window(quantity="preheat", low=30.0), Window(quantity="t85", low=1.0))
    held(edited(joint, length_mm=120.0, windows=short), within_s=600.0)
    for level in ("iso5817-b", "iso5817-d"):
        held(edited(joint, choices=Choices(acceptance=level)))
    held(edited(joint, rods=(RodUse(role="root", rod="E309L-16-3.2x350"), *joint.working.rods)))
    held(edited(joint, stainless=True, windows=(Window(quantity="t85", low=1.0),)))
    held(edited(joint, preheat_band_mm=100.0, windows=(Window(quantity="preheat", low=60.0),), length_mm=2500.0))


def documents_that_cover_and_do_not() -> None:
    test = WeldTest(thickness_mm=12.0, diameter_mm=0.0, position="PA", heat_input_kj_mm=1.2, preheat_c=90.0, interpass_c=200.0, f_number=4)
    joint = make_joint(thickness_mm=14.0, windows=EVERY, metal=STEEL, procedure="W1", position="3G")
    whole = Procedure(
        id="W1", processes=("SMAW",), base_metal="1.1", positions=("3G",), progressions=("down",), backing="with", hydrogen="H5",
        most_bead_thickness_mm=2.0, qualified_by=test, consumables=(Consumable(type="E7018"),),
        spans=(Span(item="diameter", low=50.0), Span(item="heat_input", low=0.5, high=2.0)),
    )  # fmt: skip
    pipe = edited(joint, form="pipe", pipe_od_mm=273.0, position="5G")
    welder = Welder(mark="K7", test=test, last_used="2025-01-10")
    for one in (joint, pipe, edited(joint, windows=())):
        held(one, whole, welder)
    held(joint, Procedure(id="W1"), Welder(mark="K7", family="asme-ix", test=replace(test, position="1G", progression="up"), last_used="2027-01-01"))
    held(joint, replace(whole, hydrogen="none"), Welder(mark="K7", test=test))
    held(joint)
    held(pipe, replace(whole, family="asme-ix"), replace(welder, last_used=""))


# --- heat --------------------------------------------------------------------------------------
def heat_that_cannot_be() -> None:
    joint = make_joint(thickness_mm=14.0)
    plan = plan_joint(joint, RODS)
    for windows, fields in (
        ((Window(quantity="interpass", high=10.0),), {}), ((Window(quantity="preheat", low=200.0), Window(quantity="interpass", high=150.0)), {}),
        ((Window(quantity="preheat", low=140.0), Window(quantity="interpass", high=150.0)), {"margin_k": 30.0}),
        ((Window(quantity="preheat", low=140.0),), {"preheat_band_mm": 20.0}), ((Window(quantity="interpass", high=20.001),), {"length_mm": 150.0}),
        ((), {"stainless": True, "length_mm": 100.0}), ((), {"length_mm": 60.0}), ((), {"clean_bead_s": 0.0, "clean_per_m_s": 0.0, "length_mm": 60.0}),
    ):  # fmt: skip
        schedule_of(edited(joint, windows=windows, **fields), plan)
    schedule_of(edited(joint, length_mm=100.0, windows=(Window(quantity="interpass", high=60.0),)), plan, within_s=60.0)
    thick = make_joint("bar", thickness_mm=60.0, windows=(Window(quantity="interpass", high=20.001),))
    schedule_of(thick, plan_joint(thick, RODS))
    big = make_joint(thickness_mm=30.0, position="3G", metal=BaseMetal(stainless=True))
    schedule_of(big, plan_joint(big, RODS))


def preheat_asked_for() -> None:
    for cet, pcm, own in ((0.9, 0.9, None), (0.3, 0.25, {"annex medium 2 C": 90.0, "table B 2": 60.0}), (0.1, 0.1, None)):
        by_method(cet, pcm, 25.0, 5.0, 1.0, "medium", "B", own)
        by_method(cet, pcm, 200.0, 60.0, 9.0, "medium", "D", own)
    joint = make_joint(thickness_mm=30.0, metal=STEEL)
    plan = plan_joint(joint, RODS)
    preheat_methods(joint, plan)
    judged(edited(joint, windows=(Window(quantity="preheat", low=30.0),)), plan, None, Documents(own_cells=(OwnCell(cell="table B 2", least_c=90.0),)))


def other_ways_of_working() -> None:
    joint = make_joint(thickness_mm=14.0, length_mm=900.0, windows=EVERY[-3:-1])
    list(others(joint, plan_joint(joint, RODS), RODS))


def preparations_compared() -> None:
    rods = bench_rods("open"), bench_rods("bar")
    for t in (8.0, 14.0):
        for shop in (Shop(), Shop(access=BOTH_SIDES, machining=False), Shop(access=BOTH_SIDES)):
            candidates(edited(blank_joint("J1"), thickness_mm=t), shop, *rods)


def fit_up_turned_and_tacked() -> None:
    joint, course = make_joint(thickness_mm=22.0, length_mm=900.0), Course(900.0)
    readings = tuple(GapReading(at=str(s), s_mm=s, gap=gap, face=face, high_low=step, bevel_left=left, bevel_right=30.0)
                     for s, gap, face, step, left in ((100.0, 0.5, 5.0, 4.0, 20.0), (500.0, 3.0, 1.5, 0.0, 30.0), (800.0, 9.0, 0.0, 0.0, 45.0)))  # fmt: skip
    thin = FitUp(readings=tuple(replace(r, face=0.2) for r in readings))
    for fitup, own in ((FitUp(readings=readings), {}), (thin, {"face": Tolerance(under=0.5, over=0.5)}), (FitUp(readings=readings[1:2]), {})):
        judged_fit(joint, fitup, tolerance_set("structural-open", joint, own))
    judged_fit(joint, FitUp(readings=(replace(readings[1], gap=4.95),)), tolerance_set("structural-open", joint))
    judged_fit(joint, FitUp(readings=readings), tolerance_set("procedure", joint))
    judged_fit(joint, FitUp(readings=(replace(readings[1], note=SIMULATED),)), tolerance_set("procedure", joint))
    wrong = (*readings, readings[0], replace(readings[0], s_mm=1.0, gap=99.0), replace(readings[0], s_mm=5000.0))
    list(fitup_faults(FitUp(readings=wrong, instrument="eye", gap_under_mm=-1.0), course))
    for text, where in (("950", course), ("noon", Course(900.0, True))):
        refused(where.place, text)
    round_ = PipeEnd(angles_deg=tuple(range(0, 360, 45)), radii_mm=(100.0,) * 8, seam_deg=0.0)
    oval = PipeEnd(angles_deg=(0.0, 20.0, 40.0, 60.0, 80.0, 100.0, 200.0), radii_mm=(100.0,) * 7, diameters=True, seam_deg=0.0)
    best_turn(round_, oval)
    best_turn(round_, oval, TurnRules(seams_apart_deg=181.0))
    best_turn(round_, oval, TurnRules(seams_apart_deg=60.0, most_deg=20.0))
    refused(best_turn, PipeEnd(angles_deg=(0.0,), radii_mm=(1.0,)), round_)
    tacks = FitUp(tacks=(Tack(from_s=10.0, to_s=90.0, order=1), Tack(from_s=50.0, to_s=99.0, order=2), Tack(from_s=800.0, to_s=999.0, order=3, kind="spot")),
                  tack_rules=TackRules(most=1, longest_mm=60.0), closes_mm=9.0, turning=Turning(ends=(replace(round_, radii_mm=()),)))  # fmt: skip
    list(tack_faults(course, tacks))
    list(choice_faults(tacks))
    list(tack_remarks(joint, tacks))
    pipe = make_joint(form="pipe", pipe_od_mm=323.9, thickness_mm=12.7, position="5G")
    round_about = Course(course_of(pipe).length_mm, True)
    tilted = tuple(GapReading(at=f"{n} deg", s_mm=n / 360 * round_about.length_mm, gap=3.0 + 1.5 * math.cos(math.radians(n))) for n in range(0, 360, 45))
    judged_fit(pipe, FitUp(readings=tilted), tolerance_set("pipe-open", pipe))
    list(tack_remarks(pipe, FitUp(tacks=(Tack(from_s=-10.0, to_s=10.0, order=1),), turning=Turning(ends=(round_, round_)))))


def preparations_that_cannot_be_searched() -> None:
    joint, rods = make_joint(thickness_mm=12.0), rods_by_id()
    for bounds in ((), (Bound("luck", 1.0, 2.0),), (Bound("bevel", 50.0, 20.0),), (Bound("bevel", 2.0, 3.0),)):
        with suppress(Refused):
            list(improved(joint, rods, bounds, Weights()))


def beads_by_hand_that_cannot_lie() -> None:
    rods = rods_by_id()
    small, root = rods["E7018-3.2x350"], rods["E6010-3.2x350"]
    bevel = make_joint("bar", key="single-bevel", bevel_right_deg=35.0, thickness_mm=20.0)
    passes = plan_joint(bevel, rods).passes
    beads = ((bevel, passes, 1, Hand(small, 114.0, 144.0, -5.93, 12.0)), (bevel, passes, 1, Hand(root, 81.0, 127.0, -5.02)),
             (make_joint(), (), 0, Hand(root, 87.0, 600.0)), (make_joint(), (), 0, Hand(root, 87.0, 116.0, 0.0, 2.8)))  # fmt: skip
    laid = [by_hand(begun(joint, rods, plan, count), hand).refusal for joint, plan, count, hand in beads]
    assert [refusal and refusal.code for refusal in laid] == ["play.pokes", "play.edge", "play.falls", "play.gap"]
    by_hand(begun(bevel, rods, passes, 3), Hand(small, 130.0, 400.0, 3.0))


def traces_that_are_none() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "t.csv"
        for text in ("", "a,b\n", "t_s,volts,amps\n1,2,x\n"):
            path.write_text(text)
            refused(read_trace, path)
        path.write_text("t_s,volts,amps\n" + "".join(f"{k},20,100\n" for k in range(50)) + "9,2,x\n")
        read_trace(path)
        path.write_bytes(b"\x1f\x8bbroken")
        refused(read_trace, path)
        path.write_text("t_s,volts,amps\n1,2,3\n")
        refused(read_trace, path, 10)


def a_rest_that_cannot_be_planned() -> None:
    study = study_of(inputs_of(make_joint(thickness_mm=18.0, position="3G"), tuple(rods_by_id().values())))
    assert isinstance(study, Study)
    plan = plan_answer(study, "balanced")
    followed(study, plan, {p.key: 3.1 * p.area_mm2 for p in plan.passes[:3]})


def rods_on_the_rack() -> None:
    rod = next(iter(rods_by_id()))
    basic = next(r.id for r in rods_by_id().values() if r.family == "basic")

    def record(n: int, k: str, **d: object) -> Record:
        return Record(n=n, t=f"2026-11-27T0{n}:00:00.000Z", m=0.0, b="b", k=k, d=d)

    lots = [record(1, "lot", rod=basic, lot="A", rods=5), record(2, "lot", rod=rod, lot="A", rods=5), record(3, "lot", rod="none", lot="B", rods=0)]
    happened = ((4, "A", 5, "unseal"), (5, "A", 2, "out"), (6, "A", 9, "use"), (7, "C", 1, "out"))
    care = [record(n, "care", lot=lot, count=count, what=what) for n, lot, count, what in happened]
    rack = racked(lots, care, rods_by_id())
    assert set(rack.refused) == {2, 3, 6, 7} and rack.remarks(hours_of(care[1]) + 5.0)


def rods_and_their_stops() -> None:
    refused(stop_map, (Run(key="p1", length_mm=300.0, run_out_mm=70.0),), ())
    refused(stop_map, (Run(key="p1", length_mm=90_000.0, run_out_mm=200.0),), ())
    list(stop_faults(StopChoices(wanted_mm=-1.0, pins=(StopPin(key="p1", half="third", marks=(200.0, 100.0)),))))
    run_ = Run(key="p1", length_mm=400.0, run_out_mm=220.0, forbidden=(Forbidden(from_s=150.0, to_s=185.0, why="tack"),))
    for to_mm in (900.0, 170.0, 10.0):
        moved(run_, (200.0,), 0, to_mm)
    moved(Run(key="p1", length_mm=400.0, run_out_mm=390.0), (200.0,), 0, 390.0)
    refused(evenly, run_, 1)
    refused(evenly, run_, 30)
    many = plan_joint(make_joint(), RODS)
    refused(trips_of, replace(many, passes=many.passes * 500), schedule_of(make_joint(), many))
    refused(trips, [Use(start_s=9e3, end_s=9.1e3, open_s=600.0, key="1")], [(0.0, 60.0)])
    basic = CLASSES["E70 basic"]
    for care, events in (
        (basic, [(1, "unseal"), (0, "out")]), (basic, [(0, "unseal"), (0, "out"), (1, "use"), (2, "back")]), (basic, [(0, "use")]),
        (basic, [(0, "unseal"), (0, "out"), (9, "use")]), (basic, [(0, "unseal"), (0, "out"), (1, "back"), (2, "out")]),
        (basic, [(0, "unseal"), (0, "out"), (9, "back"), (9, "bake"), (9.5, "baked")]), (CLASSES["cellulosic"], [(0, "unseal"), (1, "bake")]),
    ):  # fmt: skip
        lived(care, [(float(t), event) for t, event in events])


def what_cannot_have_been_seen() -> None:
    for fields in ({"kind": "9"}, {"kind": "512"}, {"kind": "515"}, {"s_mm": 999.0}, {"depth": -1.0}, {"number": 1.5}, {"kind": "505", "angle": 190.0},
                   {"length": 999.0}, {"depth": 99.0}, {"gauge": "eye"}, {"depth": 0.62, "gauge": "dial"}, {"toe": "up"}):  # fmt: skip
        list(observation_faults(Observation(**{"kind": "5011", "s_mm": 10.0} | fields), kinds(), 480.0, 14.0, closed=False))


def repairs_that_cannot_be() -> None:
    for fields in ({"height_mm": 0.0}, {"top_mm": 20.0}, {"from_mm": 999.0}, {"length_mm": 460.0}):
        defect_faults(Defect(**{"top_mm": 3.0, "height_mm": 2.0, "from_mm": 100.0, "length_mm": 20.0} | fields), 14.0, 480.0, closed=False)
    with suppress(Refused):
        defect_of(Observation(kind="301", s_mm=10.0))
    range_fault("run_out", 1.0)
    list(keeping_faults(2, "", "", ""))
    boat = Boat(depth_mm=5.0, bottom_mm=40.0, from_mm=100.0)
    way, course = Way("face", boat, None, (), 0.0, 0.0), Course(480.0)  # type: ignore[arg-type]
    kept = KeptRepair(n=1, of=1, side="face", from_mm=100.0, length_mm=50.0, depth_mm=5.0, passes=2)
    list(reach_remarks(Defect(top_mm=3.0, height_mm=1.0, from_mm=60.0, length_mm=20.0), way, course))
    with suppress(Refused):
        dug_stations("40=12; 14", course, Units())
    for before in ((kept,), (kept, kept), (replace(kept, from_mm=170.0),)):
        list(rule_remarks(before, way, course, 14.0))
    list(repairing_faults(RepairOf(joint="P4", run_out=9.0, bottom_mm=-1.0, plate_mm=5.0), make_joint().prep))


def told_from_paper_that_cannot_be() -> None:
    p = plan_answer(study_of(inputs_of(make_joint(), tuple(rods_by_id().values()))), "balanced").passes[0]
    refused(pass_entries, p, p.area_mm2, 0)
    refused(pass_entries, p, p.area_mm2, 1, 1.0)
    refused(possible_c, 1200.0)
    run(["simulate", "oven", "--fault", "drift"])


def journals_that_are_not_what_the_job_knows() -> None:
    begun = Record(n=1, t="", m=0.0, b="b", k="begun")
    chain = Chain((begun,), "x")
    for known in (Known(id="other", n=1), Known(id=chain.id, n=9), Known(id=chain.id, n=1, mark="another")):
        differs_from_known(chain, known)
    differs_from_known(Chain(), Known(n=3))


def sheets_that_cannot_stand() -> None:
    """Everything wrong with an issued sheet that can be, at once and one by one."""
    job = demo_job()
    sheet = job.issued[0]
    first, *rest = sheet.plan.passes
    wrong = replace(first, amps=9999.0, number=7, key=rest[0].key, outline_mm=((0.0, 0.0), (1e18, 0.0), (1.0, 1.0)), arc_energy_kj_mm=9.0, arc_time_s=1.0)
    phases = (replace(sheet.plan.sequence[0], passes=("none",)),)
    heat = sheet.heat
    late = replace(heat.schedule.passes[0], start_s=1e300, temp_c=1e9)
    bad = replace(heat, times=(1.0,), schedule=replace(heat.schedule, passes=(late, *heat.schedule.passes[1:])))
    list(sheet_faults(replace(sheet, plan=replace(sheet.plan, passes=(wrong, *rest), sequence=phases), heat=bad)))
    list(sheet_faults(replace(sheet, plan=replace(sheet.plan, passes=sheet.plan.passes * 500))))
    for name in LIMITS:
        list(sheet_faults(replace(sheet, plan=replace(sheet.plan, passes=(replace(first, **{name: -1}), *rest)))))
    for name in ("role", "process", "progression", "technique"):
        strange = replace(first, **{name: "none such"})
        assert [r.code for r in sheet_faults(replace(sheet, plan=replace(sheet.plan, passes=(strange, *rest))))] == ["word.unknown"]
    strange = Remark("sheet.remark", "strange", {"code": Figure("x", "name")})
    list(sheet_faults(replace(sheet, judgement=replace(sheet.judgement, remarks=(strange,))), SAY))
    rod = shipped_rods()[0]
    rod_faults(replace(rod, amps_low=200.0, amps_high=100.0))
    rod_faults(replace(rod, length_mm=150.0, stub_mm=160.0))
    refused(parsed, b'{"a": 1, "a": 2}')


WITHOUT_FILES = (
    sheets_that_cannot_stand,
    journals_that_are_not_what_the_job_knows,
    repairs_that_cannot_be, what_cannot_have_been_seen, told_from_paper_that_cannot_be,
    fit_up_turned_and_tacked, rods_on_the_rack, rods_and_their_stops, a_rest_that_cannot_be_planned, traces_that_are_none,
    figures_that_cannot_be, figures_that_do_not_go_together, what_is_typed, shifts_that_cannot_be, documents_that_cannot_be, sheets_of_an_older_program,
    a_sheet_issued_again, a_little_more_that_saves_much, joints_that_cannot_be_planned, a_plan_with_pins_that_cannot_be, faces_worth_a_remark,
    roots_and_walls_worth_a_remark, windows_kept_and_left, documents_that_cover_and_do_not, heat_that_cannot_be, preheat_asked_for,
    other_ways_of_working, preparations_compared, preparations_that_cannot_be_searched, beads_by_hand_that_cannot_lie,
)  # fmt: skip
WITH_FILES = (
    etched_sections_that_do_not_fit, practice_that_cannot_be,
    causes_that_are_none, lists_that_cannot_be, sets_that_are_none, hands_of_no_day,
    files_that_cannot_be_read, files_that_cannot_be_written, columns_that_cannot_be_read, journals_that_do_not_hold,
)  # fmt: skip
PARTS = ("text", "remedy", "title", "why")


def of_every_kind(made: list[Remark]) -> dict[tuple[str, ...], Remark]:
    """A remark of each code with each set of kinds its figures come in; those still without a figure that others have are not yet told."""
    whole: dict[str, int] = {}
    for r in made:
        whole[r.code] = max(len(r.figures), whole.get(r.code, 0))
    return {(r.code, r.verdict, *sorted(f.kind for f in r.figures.values())): r for r in made if len(r.figures) == whole[r.code]}


def codes_of_the_table() -> set[str]:
    found = set()
    for key in words().entries:
        if key.startswith("remark."):
            code, part = key.removeprefix("remark.").rsplit(".", 1)
            assert part in PARTS, key
            found.add(code)
    return found


def test_every_code_is_made_and_reads_as_a_sentence(tmp_path: Path, demo: Any, capsys: pytest.CaptureFixture) -> None:  # noqa: F811
    with collected() as made:
        for case in WITHOUT_FILES:
            case()
        for with_files in WITH_FILES:
            with_files(tmp_path)
        demo.store.select(demo.store.now.plan.passes[0])
        demo.work.panel("passes")._pin("amps", 9000.0, (10.0, 300.0), "current")
    codes, table = {remark.code for remark in made}, codes_of_the_table()
    assert " ".join(sorted(table ^ codes)) == ""
    for remark in ({(r.code, r.verdict): r for r in made} | of_every_kind(made)).values():
        for say in (SAY, SAY_INCH):
            assert "{" not in say.sentence(remark) and say.text(remark)
        if remark.verdict in (OUTSIDE, WATCH) and remark.code.startswith(MUST_SAY_WHAT_TO_DO) and remark.code not in KNOWING:
            assert SAY.remedy(remark), f"{remark.code} is {remark.verdict} and says nothing to do"
