"""The section's display list as text: what is drawn, in which order, and where."""

from __future__ import annotations

import math

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from banister.core.drawing.advances import advance
from banister.core.drawing.framing import framing
from banister.core.drawing.section import section_drawing
from banister.core.drawing.shapes import PLAIN, Drawing, Lines, Polygon, Text
from banister.core.joint.defaults import with_preparation
from banister.core.joint.faults import joint_faults
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import edited
from banister.core.joint.kinds import KINDS
from banister.core.plan.answers import plan_joint
from banister.core.polygon import centroid, holds
from tests.conftest import SAY, SAY_INCH, make_joint, rods_by_id

RODS = rods_by_id()


def as_text(drawing: Drawing) -> list[str]:
    rows = []
    for s in drawing.shapes:
        if isinstance(s, Text):
            rows.append(f"text {s.style} '{s.text}'")
        elif isinstance(s, Polygon):
            rows.append(f"polygon {s.style} {s.id}")
        elif s.style in ("groove.edge", "layer.edge", "melted"):
            rows.append(f"lines {s.style}")
    return rows


def test_a_bare_groove_reads_so() -> None:
    drawing = section_drawing(make_joint("bar", thickness_mm=20.0), None, SAY)
    assert as_text(drawing) == [
        "polygon bar bar", "polygon plate plate", "polygon plate plate", "lines melted", "lines melted", "lines groove.edge",
        "text dimension 'root gap b 8 mm'", "text dimension '20 mm'", "text dimension '30\N{DEGREE SIGN}'", "text dimension '30\N{DEGREE SIGN}'",
        "text dimension '\N{GREEK SMALL LETTER ALPHA} 60\N{DEGREE SIGN}'",
    ]  # fmt: skip
    assert [h.id for h in drawing.handles] == ["root_gap_mm", "thickness_mm", "root_face_mm", "bevel_right_deg", "bevel_left_deg"]


def test_beads_lie_over_plates_and_numbers_over_beads() -> None:
    joint = make_joint(thickness_mm=12.0)
    plan = plan_joint(joint, RODS)
    rows = as_text(section_drawing(joint, plan, SAY))
    last_plate = max(i for i, r in enumerate(rows) if r.startswith("polygon plate"))
    beads = [i for i, r in enumerate(rows) if r.startswith("polygon bead")]
    numbers = [i for i, r in enumerate(rows) if r.startswith("text number")]
    assert last_plate < min(beads) and max(beads) < min(numbers)
    assert [rows[i].split("'")[1] for i in numbers] == [("RHFC"[["root", "hot", "fill", "cap"].index(p.role)]) + str(p.number) for p in plan.passes]


@pytest.mark.parametrize("prep", ["single-v", "single-bevel", "square"])
@pytest.mark.parametrize("backing", ["open", "bar"])
def test_everything_drawn_lies_inside_the_frame(prep: str, backing: str) -> None:
    joint = make_joint(backing, key=prep, thickness_mm=5.0, root_gap_mm=3.0 if backing == "open" else 8.0)
    joint = edited(joint, root_face_mm=0.0 if prep == "square" or backing == "bar" else 1.0)
    plan = plan_joint(joint, RODS)
    drawing = section_drawing(joint, plan if plan.feasible else None, SAY_INCH)
    x0, y0, x1, y1 = drawing.box
    for s in drawing.shapes:
        points = s.points if isinstance(s, Polygon) else [p for seg in s.segments for p in seg] if isinstance(s, Lines) else [s.at]
        assert all(x0 - 0.6 <= x <= x1 + 0.6 and y0 <= y <= y1 for x, y in points), s


ROUND_FIGURES = {
    "thickness_mm": (10.0, 16.0, 20.0, 22.0, 40.0), "right_thickness_mm": (0.0, 12.0, 16.0), "taper": (0.0, 4.0), "high_low_mm": (0.0, 1.5, -1.5),
    "root_gap_mm": (0.0, 3.0, 6.0), "root_face_mm": (0.0, 1.5, 2.0), "root_radius_mm": (5.0, 6.0, 8.0), "root_level_mm": (0.0, 2.0, 5.0),
    "bevel_left_deg": (0.0, 12.0, 30.0), "bevel_right_deg": (0.0, 12.0, 45.0), "knee_mm": (8.0, 12.0), "front_share": (0.5, 0.75),
    "leg_left_mm": (6.0, 12.0), "fillet_angle_deg": (60.0, 90.0),
}  # fmt: skip


@settings(max_examples=150, deadline=None)
@given(key=st.sampled_from(sorted(KINDS)), figures=st.fixed_dictionaries({}, optional={key: st.sampled_from(of) for key, of in ROUND_FIGURES.items()}))
@example(key="double-u", figures={"high_low_mm": 1.5})
@example(key="double-bevel", figures={"thickness_mm": 40.0, "right_thickness_mm": 12.0, "taper": 0.0, "root_face_mm": 0.0})
@example(key="compound-v", figures={"thickness_mm": 40.0, "right_thickness_mm": 16.0, "taper": 0.0, "bevel_left_deg": 12.0})
def test_round_figures_that_meet_are_drawn_like_others(key: str, figures: dict[str, float]) -> None:
    """What no random figure hits: an arc cut off right at its end, a plate that ends at the knee, an upright leg."""
    joint = edited(with_preparation(make_joint(thickness_mm=figures.get("thickness_mm", 22.0)), key), **figures)
    if not joint_faults(joint):
        drawing = section_drawing(joint, None, SAY)
        assert all(math.isfinite(v) for v in drawing.box) and not any(math.isnan(v) for h in drawing.handles for v in h.at)


@pytest.mark.parametrize("key", sorted(KINDS))
def test_its_words_stand_whole_in_a_room_however_small(key: str) -> None:
    joint = with_preparation(make_joint(thickness_mm=22.0), key)
    for say in (SAY, SAY_INCH):
        drawing = section_drawing(edited(joint, high_low_mm=0.0 if KINDS[key].fillet else 1.5), None, say)
        whole = drawing.box[2] - drawing.box[0]
        for wide in (360.0, 470.0, 700.0, 1200.0):
            k, left = framing(drawing, wide, 5000.0)
            for text in (s for s in drawing.shapes if isinstance(s, Text)):
                x, long = left + k * (text.at[0] - drawing.box[0]), advance(text.text, text.size, text.face or PLAIN)
                begin = x - {"start": 0.0, "end": long}.get(text.anchor, long / 2)
                assert begin >= -1.0 and begin + long <= wide + 1.0, (text.text, wide)
            assert k * whole > 0.6 * wide, "and the metal is not made small for them"


def test_numbers_stand_inside_their_beads_and_layer_lines_cross_the_groove() -> None:
    joint = make_joint("bar", thickness_mm=30.0)
    plan = plan_joint(joint, RODS)
    groove = groove_of(joint.prep)
    for p in plan.passes:
        x, y = centroid(p.outline_mm)
        assert min(a for a, _ in p.outline_mm) < x < max(a for a, _ in p.outline_mm)
        assert min(b for _, b in p.outline_mm) < y < max(b for _, b in p.outline_mm)
    tops = next(s for s in section_drawing(joint, plan, SAY).shapes if s.style == "layer.edge")
    spans = [abs(b[0] - a[0]) for a, b in tops.segments]
    widths = sum(float(groove.width(max(y for _, y in p.outline_mm))) for p in plan.passes if plan.passes[p.number - 2].layer != p.layer)
    assert sum(spans) == pytest.approx(widths, rel=0.12)


def test_a_fillet_fills_its_drawing_whatever_the_plates_thickness() -> None:
    shares = []
    for thickness in (16.0, 60.0):
        joint = edited(with_preparation(make_joint(thickness_mm=thickness), "fillet-tee"), leg_left_mm=14.0, leg_right_mm=14.0, position="2F")
        x0, y0, x1, y1 = section_drawing(joint, None, SAY).box
        shares.append(14.0 / max(x1 - x0, y1 - y0))
    assert min(shares) > 0.25 and shares[1] > 0.9 * shares[0]


@pytest.mark.parametrize("preparation", ["single-u", "double-v"])
def test_a_number_stands_on_what_the_gouge_leaves_of_its_bead(preparation: str) -> None:
    joint = make_joint(key=preparation, thickness_mm=40.0, second_side="gouge", root_radius_mm=6.0)
    plan = plan_joint(joint, RODS)
    texts = {s.id: s for s in section_drawing(joint, plan, SAY).shapes if isinstance(s, Text) and s.style == "number"}
    front = [p for p in plan.passes if p.side != plan.passes[-1].side]
    moved = [p for p in front if texts[p.key].room is not None]
    assert moved and moved[0].role == "root"
    for p in front:
        at = texts[p.key].at
        assert holds(p.outline_mm, *at) and not any(holds(q.outline_mm, *at) for q in plan.passes if q.side != p.side)
    assert all(texts[p.key].room is None and texts[p.key].at == centroid(p.outline_mm) for p in plan.passes if p not in moved)
