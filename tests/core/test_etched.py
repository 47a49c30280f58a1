"""Photos of etched sections over the plan: scale and turn against reference cases, beads matched, penetration exact on a known margin."""

from __future__ import annotations

import itertools
import json
import math
import random
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from banister.core.fitup.places import Course
from banister.core.inspect.cutting import cut_as_asked, cuts_asked, moved, taken
from banister.core.inspect.etched import (
    MOST_RMS_MM,
    Overlay,
    by_faces,
    fit_remarks,
    fitted,
    mark_points,
    matched,
    overlap_remarks,
    penetration,
    thickness_remark,
    trace_fault,
    wall_remarks,
)  # fmt: skip
from banister.core.inspect.etched_kept import Etched, compared, etched_of, etched_said
from banister.core.inspect.pieces import CutPlan, Zone, kept_clear
from banister.core.journal import Record
from banister.core.plan.answers import plan_joint
from banister.core.remark import Refused
from banister.job.library import demo_job
from banister.job.test_pieces import piece_table
from tests.conftest import SAY, SAY_INCH

CASES = json.loads((Path(__file__).parents[1] / "cases" / "inspection.json").read_text(encoding="utf-8"))
JOB = demo_job()
JOINT = JOB.joint("F2")
PLAN = plan_joint(JOINT, JOB.rods_by_id)
OUTLINES = {p.key: p.outline_mm for p in PLAN.passes}


@pytest.mark.parametrize("case", [pytest.param(c, id=c["id"]) for c in CASES if c["fn"] == "similarity"])
def test_scale_and_turn_from_points(case: Any) -> None:
    given_, wanted = case["inputs"], case["expected"]
    found = fitted(given_["px"], given_["mm"])
    assert found.overlay.mm_per_px == pytest.approx(wanted["mm_per_px"], rel=1e-6) and found.overlay.turn_deg == pytest.approx(wanted["turn_deg"], rel=1e-6)
    assert found.rms_mm is None if wanted["rms_mm"] is None else found.rms_mm == pytest.approx(wanted["rms_mm"], rel=1e-6)
    at = found.overlay.section((1000, 500))
    assert at == pytest.approx(wanted["of_px_1000_500"], rel=1e-6) and found.overlay.pixel(at) == pytest.approx((1000, 500))


@given(st.floats(0.005, 0.08), st.floats(-180, 180), st.floats(-500, 500), st.floats(-500, 500))
@settings(max_examples=40)
def test_corners_and_faces_give_the_overlay_a_photo_was_taken_with(scale: float, turn: float, dx: float, dy: float) -> None:
    a = scale * complex(math.cos(math.radians(turn)), math.sin(math.radians(turn)))
    true = Overlay(a, complex(dx, dy))
    points = mark_points(JOINT)
    found = fitted([true.pixel(p) for p in points.values()], list(points.values()))
    assert found.overlay.mm_per_px == pytest.approx(scale) and found.rms_mm == pytest.approx(0.0, abs=1e-6) and found.slant == pytest.approx(1.0)
    t = JOINT.prep.thickness_mm
    upper, lower = [true.pixel((x, t)) for x in (-30.0, 30.0)], [true.pixel((x, 0.0)) for x in (-28.0, 31.0)]
    faces = by_faces(upper, lower, t, true.pixel(points["face.left"]), points["face.left"])
    assert faces.mm_per_px == pytest.approx(scale) and faces.section(true.pixel((3.0, 7.0))) == pytest.approx((3.0, 7.0), abs=1e-6)
    assert thickness_remark(faces, true) is None and thickness_remark(Overlay(1.03 * faces.a, faces.b), true).code == "etched.scales"


def test_a_slant_and_a_wrong_corner_are_said_and_too_little_is_refused() -> None:
    points = mark_points(JOINT)
    names = list(points)
    tilted = fitted([(40 * x, -36 * y) for x, y in points.values()], list(points.values()))
    assert tilted.slant == pytest.approx(40 / 36) and "etched.slant" in [r.code for r in fit_remarks(tilted, names)]
    wrong = [(40 * x + (60 if name == "face.right" else 0), -40 * y) for name, (x, y) in points.items()]
    off = fitted(wrong, list(points.values()))
    (misfit,) = [r for r in fit_remarks(off, names) if r.code == "etched.misfit"]
    assert off.rms_mm > MOST_RMS_MM and "right edge at the face" in SAY.sentence(misfit)
    for pixels in ([(1.0, 1.0)], [(5.0, 5.0), (5.0, 5.0)]):
        with pytest.raises(Refused):
            fitted(pixels, list(points.values())[: len(pixels)])
    with pytest.raises(Refused):
        by_faces([(0, 0), (9, 0)], [(0, 0), (9, 0)], 20.0, (0, 0), (0, 0))


def test_beads_are_matched_though_shifted_and_uneven() -> None:
    rng = random.Random(4)
    traced = [tuple((x + 0.4, y + 0.3 + rng.uniform(-0.05, 0.05)) for x, y in outline) for outline in OUTLINES.values()]
    order = list(range(len(traced)))
    rng.shuffle(order)
    found = matched(OUTLINES, [traced[i] for i in order])
    keys = list(OUTLINES)
    assert {key: order[i] for key, i in found.pairs.items()} == {key: keys.index(key) for key in keys}, "every one, whatever the order"
    assert found.planned_left == found.traced_left == ()
    fewer = matched(OUTLINES, traced[1:])
    assert fewer.planned_left == (keys[0],)
    more = matched({key: OUTLINES[key] for key in keys[1:]}, traced)
    assert more.traced_left == (0,)
    assert matched(OUTLINES, traced, {0: keys[5]}).pairs[keys[5]] == 0, "what was named by hand stays"


def test_an_outline_that_crosses_itself_and_beads_over_one_another_are_said() -> None:
    square = ((0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0))
    assert trace_fault(square) is None
    bow = trace_fault(((0.0, 0.0), (4.0, 4.0), (4.0, 0.0), (0.0, 6.0)))
    assert bow is not None and bow.code == "etched.crossed" and "2.4" in SAY.sentence(bow)
    assert trace_fault(square[:2]).code == "etched.trace"
    (over,) = overlap_remarks([square, tuple((x + 3.0, y) for x, y in square)])
    assert "25 %" in SAY.sentence(over) and overlap_remarks([square, tuple((x + 4.0, y) for x, y in square)]) == ()


@pytest.mark.parametrize("margin", [0.0, 0.4, 1.3])
def test_penetration_is_exact_on_a_known_margin(margin: float) -> None:
    left, right = (tuple((sign * margin + x, y) for x, y in edge) for sign, edge in _edges())
    fused = (*left, *reversed(right))
    normal = math.cos(math.radians(JOINT.prep.bevel_left_deg))
    for wall in penetration(JOINT, [fused]):
        sloped = [depth for (_, y), depth in wall.places if JOINT.prep.root_face_mm + 2 < y < JOINT.prep.thickness_mm - 2]
        assert sloped == pytest.approx([margin * normal] * len(sloped), abs=1e-6) and wall_remarks(wall) == ()
        assert wall.least is not None and wall.least[1] == pytest.approx(min(wall.depths))


def _edges() -> list[tuple[float, tuple[tuple[float, float], ...]]]:
    from banister.core.joint.groove import groove_of

    groove = groove_of(JOINT.prep)
    return [(-1.0, groove.left_edge), (1.0, groove.right_edge)]


def test_where_metal_ends_short_of_the_wall_it_is_said_not_to_be_fused() -> None:
    traced = [outline if key != PLAN.passes[4].key else tuple((0.8 * x, y) for x, y in outline) for key, outline in OUTLINES.items()]
    walls = penetration(JOINT, traced)
    bare = [at for wall in walls for at in wall.not_fused]
    low, high = min(y for _, y in OUTLINES[PLAN.passes[4].key]), max(y for _, y in OUTLINES[PLAN.passes[4].key])
    said = [SAY.sentence(remark) for wall in walls for remark in wall_remarks(wall)]
    assert bare and all(low - 0.6 <= y <= high + 0.6 for _, y in bare) and said and all("not fused here?" in line for line in said)


def test_what_is_kept_reads_back_and_says_the_same() -> None:
    one = Etched({"path": "s.png", "size": 3, "sha256": "00"}, Overlay(0.02 + 0.001j, 1 + 2j), {"face.left": (10.0, 20.0)},
                 tuple(tuple((round(x, 2), round(y, 2)) for x, y in outline) for outline in OUTLINES.values()), {0: "p1"}, None, "Q2")  # fmt: skip

    def record(n: int, **d: object) -> Record:
        return Record(n=n, t="", m=0.0, b="b", k="etched", j="F2", d=d)

    told = json.loads(json.dumps(one.recorded()))
    (back,) = etched_of((record(3, **told), record(4, **(told | {"a": ["x", 0]})), record(5, **(told | {"traced": [[[1, float("nan")]]]}))), "F2")
    assert back.overlay == one.overlay and back.traced == one.traced and back.named == one.named and back.n == 3
    said, by_inch = (etched_said(back, compared(back, JOINT, PLAN), PLAN, say) for say in (SAY, SAY_INCH))
    assert " mm a pixel" in said[0] and " in a pixel" in by_inch[0] and not any("mm" in line for line in by_inch)
    assert f"pass {len(OUTLINES)}: " in " ".join(said) and "0 % more" in " ".join(said) and "left wall: least 0 mm" in " ".join(said)


# --- test pieces moved by hand --------------------------------------------------------------------
@given(st.lists(st.tuples(st.integers(1, 4), st.floats(-100, 700)), max_size=12), st.booleans())
@settings(max_examples=60)
def test_pieces_moved_by_hand_never_meet_nor_leave_the_plate(moves: list[tuple[int, float]], closed: bool) -> None:
    course = Course(600.0, closed)
    asked = piece_table().asked(("side bend",) * 4)
    found = cut_as_asked(asked, course, ())
    assert isinstance(found, CutPlan)
    cuts = cuts_asked(asked, found)
    for number, at in moves:
        cuts = moved(cuts, number, at, course, asked.kerf_mm)
        begin = sorted(cuts, key=lambda cut: cut.from_mm)
        gaps = [b.from_mm - a.from_mm - a.width_mm for a, b in itertools.pairwise(begin)]
        gaps += [begin[0].from_mm + 600.0 - begin[-1].from_mm - begin[-1].width_mm] if closed else []
        assert min(gaps) >= asked.kerf_mm - 1e-6
        assert closed or (begin[0].from_mm >= 0.0 and begin[-1].from_mm + begin[-1].width_mm <= 600.0)


def test_what_a_piece_takes_is_told_by_what_it_is() -> None:
    course = Course(600.0, True)
    zones = (*kept_clear([100.0], [(200.0, 220.0)], [(595.0, 605.0)]), Zone(0.0, 600.0))
    asked = piece_table().asked(("side bend",))
    cut = cuts_asked(asked, CutPlan((105.0,), (0,), 0.0))[0]
    assert taken(cut, zones, course) == {"stop": 5.0}
    assert taken(moved((cut,), 1, 185.0, course, 3.0)[0], zones, course) == {"tack": 5.0}
    assert taken(moved((cut,), 1, 598.0, course, 3.0)[0], zones, course) == pytest.approx({"seen": 7.0}), "over 12 o'clock"
