"""Beads by hand: their areas and shapes, what a hand changes, what cannot lie, what a sound plan would do there."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator

import pytest

from banister.core.drawing.charts.play_picture import play_picture
from banister.core.drawing.shapes import Polygon
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.plan.rules import root_metal_below
from banister.core.play.hand import ByHand, Hand, Play, begun, by_hand, usual_hand
from banister.core.play.sound import sound_next
from banister.core.polygon import area
from banister.core.rods.rod import Rod
from banister.core.value import replace
from tests.conftest import SAY, make_joint, rods_by_id, shapes_of, texts_of

RODS = rods_by_id()
ROOT, FILL = RODS["E6010-3.2x350"], RODS["E7018-4.0x450"]
JOINTS = {
    "V": make_joint(), "bar": make_joint("bar"), "bevel": make_joint("bar", key="single-bevel", bevel_right_deg=35.0, thickness_mm=20.0),
    "both": make_joint(key="double-v", thickness_mm=28.0, second_side="gouge"),
    "fillet": make_joint("closed", key="fillet-tee", position="2F", thickness_mm=16.0),
}  # fmt: skip


def planned(name: str) -> Plan:
    return plan_joint(JOINTS[name], RODS)


def played(name: str, count: int = 0) -> Play:
    return begun(JOINTS[name], RODS, planned(name).passes, count)


@pytest.mark.parametrize("name", JOINTS)
def test_a_plan_taken_up_at_any_pass_has_its_metal_and_its_next_bead(name: str) -> None:
    plan = planned(name)
    assert plan.passes
    for count in range(len(plan.passes)):
        play = played(name, count)
        bare = play.side.surface()
        ends = bare.at_x(bare.x[0]), bare.at_x(bare.x[-1])
        under = play.surface.under_chord(play.surface.at_x(play.surface.x[0]), play.surface.at_x(play.surface.x[-1]))
        hangs = root_metal_below(play.side.joint) if play.begun_with else 0.0
        assert bare.under_chord(*ends) - under == pytest.approx(sum(p.area_mm2 for p in play.begun_with) - hangs, abs=1e-6)
        assert len(play.begun_with) + len(play.behind) == count and play.number == count + 1
        assert sound_next(play).next.number == count + 1 and sound_next(play).next.area_mm2 == plan.passes[count].area_mm2
    found, own = sound_next(replace(played(name), ahead=())).passes, [p for p in plan.passes if p.side == "front"]
    assert [(p.rod.id, round(p.area_mm2, 6)) for p in found] == [(p.rod.id, round(p.area_mm2, 6)) for p in own]


def test_area_follows_from_melting_rate_and_speed_alone() -> None:
    hand = Hand(FILL, 165.0, 140.0, 0.0)
    grams_a_minute = FILL.burn_off_g_ah * 165.0 / 60 * FILL.recovery
    found = by_hand(played("bar", 2), hand)
    assert found.bead is not None and found.found is not None
    assert found.bead.area_mm2 == pytest.approx(grams_a_minute / 7.85e-3 / 140.0) == pytest.approx(area(found.bead.outline))
    assert found.found.arc_energy_kj_mm == pytest.approx(FILL.volts * 165.0 * 60 / 140.0 / 1000)


def hands(count: int, seed: int) -> Iterator[tuple[Play, Hand, ByHand]]:
    """Beads of random hands, laid one on the other in random joints."""
    draw = random.Random(seed)
    while count:
        name = draw.choice([*JOINTS])
        play = played(name, draw.randrange(0, 5) if name != "fillet" else 0)
        for _ in range(8):
            rod: Rod = draw.choice([ROOT, FILL, RODS["E7018-3.2x350"]])
            usual = usual_hand(play, rod)
            hand = replace(usual, amps=usual.amps * draw.uniform(0.8, 1.15), travel_mm_min=usual.travel_mm_min * draw.uniform(0.7, 1.5),
                           aim_mm=draw.uniform(*play.reach_mm), width_mm=draw.choice([0.0, 0.0, draw.uniform(4, 20)]))  # fmt: skip
            found = by_hand(play, hand)
            yield play, hand, found
            count -= 1
            play = play.with_bead(found) if found.refusal is None else play


def test_no_hand_makes_nonsense_and_every_area_is_exact() -> None:
    refused = 0
    for play, hand, found in hands(240, 7):
        if found.refusal is not None:
            refused += 1
            continue
        assert found.bead is not None
        assert area(found.bead.outline) == pytest.approx(hand.area_mm2, rel=1e-6) and math.isfinite(found.crown_mm)
        assert found.bead.width_mm <= max(hand.rod.diameter_mm * 5, hand.width_mm) + 0.2 and found.bead.poke_mm <= 0.3
        assert play.with_bead(found).without_last() == play
    assert refused < 80


def test_faster_is_smaller_and_never_taller_fewer_amps_are_smaller_and_steeper() -> None:
    faster, colder = list[bool](), list[bool]()
    for play, hand, found in hands(160, 11):
        if found.refusal is not None or found.bead is None or hand.width_mm or play.gap_is_open:
            continue
        quick = by_hand(play, replace(hand, travel_mm_min=1.2 * hand.travel_mm_min))
        usual = replace(hand, amps=usual_hand(play, hand.rod, hand.aim_mm).amps)
        warm, cold = by_hand(play, usual), by_hand(play, replace(usual, amps=0.85 * usual.amps))
        if quick.bead is not None and quick.refusal is None:
            faster.append(quick.bead.area_mm2 < found.bead.area_mm2 and max(y for _, y in quick.bead.face) <= max(y for _, y in found.bead.face) + 0.05)
        if cold.bead is not None and warm.bead is not None and cold.refusal is None and min(warm.crown_mm, cold.crown_mm) > 0.1 * cold.bead.width_mm:
            means = [(b.contact_left_deg + b.contact_right_deg) / 2 for b in (warm.bead, cold.bead)]  # a hollow bead is stopped by its hollow
            colder.append(cold.bead.area_mm2 < warm.bead.area_mm2 and means[1] > means[0])
    assert len(faster) > 60 and faster.count(True) >= 0.97 * len(faster)
    assert len(colder) > 20 and colder.count(True) >= 0.97 * len(colder)


def test_an_open_root_falls_through_or_does_not_reach_and_then_holds() -> None:
    play = played("V")
    assert play.gap_is_open
    slow = usual_hand(play, ROOT)
    falls, beside = by_hand(play, replace(slow, travel_mm_min=600.0)), by_hand(play, replace(slow, width_mm=2.8))
    assert falls.refusal is not None and falls.refusal.code == "play.falls" and falls.bead is None
    assert beside.refusal is not None and beside.refusal.code == "play.gap"
    held = by_hand(play, slow)
    assert held.refusal is None and held.closes_gap and min(y for _, y in held.bead.outline) == pytest.approx(-1.0, abs=0.02)
    assert not play.with_bead(held).gap_is_open and play.with_bead(held).without_last().gap_is_open


def test_it_goes_on_until_the_groove_is_full_by_the_beads_of_a_sound_plan() -> None:
    play, count = played("bar", 0), len(planned("bar").passes)
    whole = begun(JOINTS["bar"], RODS, planned("bar").passes, count)
    assert whole.shape is not None and whole.shape.max > 0.5 and sound_next(whole).next is None
    assert play.shape is None and len(sound_next(played("bar", count - 1)).passes) == 1


def test_the_picture_says_what_is_wrong_where_it_is_wrong() -> None:
    play = played("bevel", 3)
    one = by_hand(play, replace(usual_hand(play, FILL), amps=105.0, aim_mm=-1.5))
    assert {"bead.cold_lap"} <= {r.code for r in one.remarks}
    picture = play_picture(play, one, sound_next(play).next, SAY, (900.0, 600.0))
    texts = texts_of(picture.drawing)
    assert any(t.startswith(("cold lap 9", "cold lap 1")) for t in texts) and any("not of fusion" in t for t in texts)
    assert any(t.startswith("a sound plan would lay F4") for t in texts)
    assert any(t.startswith("Fill 4: E7018-4.0x450, 105 A") for t in texts)
    ghost = next(s for s in shapes_of(picture.drawing) if isinstance(s, Polygon) and s.id == "ghost")
    x, y = picture.stage.px(one.bead.left)
    assert min(math.dist(p, (x, y)) for p in ghost.points) < 1e-6
    assert picture.stage.aim_mm(x, y) == pytest.approx(one.bead.left[0]) and picture.stage.aim_mm(-1e4, 0) == play.reach_mm[0]
