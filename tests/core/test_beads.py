"""One bead and one layer: area kept, wetting as in an etched section, mirror symmetry."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from banister.core.beads.bead import LEAN, lay, levelled
from banister.core.beads.layer import LEFT, RIGHT, Dome, Level, place_layer, sides_in_order
from banister.core.beads.surface import Surface, Toe, groove_surface
from banister.core.joint.groove import groove_of
from tests.conftest import make_joint

PLATE = Surface([-20.0, 20.0], [0.0, 0.0])


def shoelace(points: tuple) -> float:
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, (*points[1:], points[0]), strict=True)) / 2


def metal_under(surface: Surface) -> float:
    points = list(zip(surface.x, surface.y, strict=True))
    return sum((b[0] - a[0]) * (a[1] + b[1]) / 2 for a, b in itertools.pairwise(points))


def level_bead(surface: Surface, area: float, lean: float = 0.0, contact: float = 40.0) -> tuple:
    left, right = levelled(surface, area, contact, 40.0, 90.0)
    return lay(surface, left, right, area, lean)


@settings(max_examples=60, deadline=None)
@given(st.floats(2, 45), st.floats(-9, 5), st.floats(2, 9), st.sampled_from([0.0, LEAN]))
def test_the_outline_and_the_surface_gain_exactly_the_area(area: float, x: float, width: float, lean: float) -> None:
    joint = make_joint(thickness_mm=18.0, bevel_left_deg=20.0, bevel_right_deg=35.0)
    surface = groove_surface(groove_of(joint.prep))
    bead, after = lay(surface, surface.at_x(x), surface.at_x(x + width), area, lean)
    assert abs(shoelace(bead.outline)) == pytest.approx(area, abs=1e-9)
    assert metal_under(after) - metal_under(surface) == pytest.approx(area, abs=1e-9)


@settings(max_examples=60, deadline=None)
@given(st.floats(8, 45), st.floats(0, 40), st.floats(25, 50), st.floats(0, 8), st.sampled_from([30.0, 40.0, 55.0]))
def test_one_bead_across_is_held_level_at_both_walls(area: float, left: float, right: float, gap: float, contact: float) -> None:
    joint = make_joint(thickness_mm=30.0, bevel_left_deg=left, bevel_right_deg=right, root_gap_mm=gap, root_face_mm=0.0)
    groove = groove_of(joint.prep)
    bead, _ = level_bead(groove_surface(groove), area, contact=contact)
    assert bead.left[1] == pytest.approx(bead.right[1], abs=1e-6)
    assert bead.left[0] == pytest.approx(groove.x_left(bead.left[1]), abs=1e-6) and bead.right[0] == pytest.approx(groove.x_right(bead.right[1]), abs=1e-6)
    depth = min(y for _, y in bead.face) - bead.left[1]
    assert -0.05 * bead.width_mm <= depth <= 1e-9 or (bead.contact_left_deg + bead.contact_right_deg) / 2 >= contact - 3.0


def test_convex_on_plate_and_flat_between_walls() -> None:
    plate, _ = lay(PLATE, PLATE.at_x(-5.0), PLATE.at_x(5.0), 18.0)
    groove, _ = level_bead(groove_surface(groove_of(make_joint(thickness_mm=20.0).prep)), 25.0)
    middle = len(plate.face) // 2
    assert plate.face[middle][1] > 2.0
    assert groove.face[0][1] - 0.05 * groove.width_mm <= groove.face[middle][1] < groove.face[0][1]


def test_a_crown_stands_square_to_its_chord() -> None:
    slope = Surface([-20.0, 20.0], [-10.0, 10.0])
    bead, _ = lay(slope, slope.at_x(-5.0), slope.at_x(5.0), 30.0)
    left, right = bead.left, bead.right
    over = [(y - left[1] - (right[1] - left[1]) * (x - left[0]) / 10.0, x) for x, y in bead.face]
    assert max(over)[1] < -0.4, "measured upright, the crown lies to the low side"
    upright = math.degrees(math.atan(1.8 * 16**2 / 255 - 0.5) + math.atan(0.5))
    assert bead.contact_left_deg < bead.contact_right_deg < upright - 5.0, "an upright parabola would overhang the high toe"
    assert abs(shoelace(bead.outline)) == pytest.approx(30.0)


def test_gravity_leans_to_the_low_side_and_keeps_the_area() -> None:
    level, leaning = (lay(PLATE, PLATE.at_x(-5.0), PLATE.at_x(5.0), 18.0, lean)[0] for lean in (0.0, LEAN))
    low = sum(y for x, y in leaning.face if x < 0) - sum(y for x, y in leaning.face if x > 0)
    assert low > 0.5
    assert abs(shoelace(leaning.outline)) == pytest.approx(abs(shoelace(level.outline)))


def test_metal_that_stands_through_the_face_draws_the_toe_in() -> None:
    bumpy = Surface([-10.0, -3.0, -2.0, -1.0, 10.0], [0.0, 0.0, 2.0, 0.0, 0.0])
    bead, after = lay(bumpy, bumpy.at_x(-6.0), bumpy.at_x(6.0), 6.0)
    assert bead.left[0] > -6.0
    assert all(b >= a for a, b in zip(after.x, after.x[1:], strict=False))


@pytest.mark.parametrize("count", [2, 3, 5])
@pytest.mark.parametrize("walls_first", [False, True])
def test_a_layer_comes_out_level_and_takes_the_area_it_was_given(count: int, walls_first: bool) -> None:
    joint = make_joint("bar", thickness_mm=30.0, root_gap_mm=6.0 * count)
    surface = groove_surface(groove_of(joint.prep))
    level = Level(2.8, 3.2)
    total = surface.below_level(2.8)
    sides = sides_in_order(count, LEFT, walls_first)
    placed = place_layer(surface, level, [None] * count, total, lambda i, a: a, sides, 16.0)
    beads, after = [one.bead for one in placed], placed[-1].surface
    assert sum(b.area_mm2 for b in beads) == pytest.approx(total)
    inner = [y for x, y in zip(after.x, after.y, strict=True) if abs(x) < groove_of(joint.prep).x_right(2.8) - 1]
    assert max(inner) - min(inner) < 1.5
    assert sum(inner) / len(inner) == pytest.approx(2.8, abs=0.35)
    areas = [b.area_mm2 for b in beads]
    assert max(areas) < 1.6 * min(areas)


def test_a_layer_begun_at_the_other_side_is_the_mirror_image() -> None:
    surface = groove_surface(groove_of(make_joint("bar", thickness_mm=30.0, root_gap_mm=18.0).prep))
    total = surface.below_level(2.6)
    sides = [sides_in_order(3, side, False) for side in (LEFT, RIGHT)]
    runs = [[one.bead for one in place_layer(surface, Level(2.6, 3.0), [None] * 3, total, lambda i, a: a, order, 14.0)] for order in sides]
    for a, b in zip(*runs, strict=True):
        mirrored = b.mirrored()
        assert a.left == pytest.approx(mirrored.left, abs=1e-6)
        assert a.area_mm2 == pytest.approx(b.area_mm2, abs=1e-6)


@given(st.floats(-9, 9), st.floats(0.1, 5))
def test_the_dome_mean_is_the_integral_of_its_profile(x0: float, span: float) -> None:
    dome = Dome(-10.0, 10.0, 20.0, 21.5, 4.0)
    x1 = min(x0 + span, 10.0)
    n = 4000

    def height(x: float) -> float:
        d = min(x + 10.0, 10.0 - x)
        return 21.5 if d >= 4.0 else 20.0 + 1.5 * (1 - (1 - d / 4.0) ** 2)

    numeric = sum(height(x0 + (x1 - x0) * (i + 0.5) / n) for i in range(n)) / n
    assert dome.mean(x0, x1) == pytest.approx(numeric, abs=1e-3)


def test_toes_are_found_on_vertical_walls() -> None:
    surface = groove_surface(groove_of(make_joint(key="square", thickness_mm=6.0, root_gap_mm=4.0, root_face_mm=0.0).prep))
    left, right = surface.level_toes(2.5)
    assert isinstance(left, Toe) and (left.x, left.y, right.x, right.y) == pytest.approx((-2.0, 2.5, 2.0, 2.5))
