"""At the joint, against the reference cases: guidance, marks, the own factor, the course of a pass; and properties of each."""

from __future__ import annotations

import itertools
import json
import math
import random
from pathlib import Path
from typing import Any

import pytest

from banister.core.follow.factor import DEPTH, PRIOR_F, Own, fused
from banister.core.follow.marks import asked_along, emissivity_of, from_mark, infrared_reads, must_reach
from banister.core.guide.aim import aim
from banister.core.guide.hand import beat, travel_deg, whip
from banister.core.guide.likely import Bead, arc_blow, likely_faults
from banister.core.passing import ARC, ARC_OFF, ARC_ON, BEGIN, CHANGE, EVENTS, READY, SPACE, STATES, STOPPED, TICK, Event, Passing, after, replayed

CASES = {case["id"]: case for case in json.loads((Path(__file__).parents[1] / "cases" / "at-the-joint.json").read_text(encoding="utf-8"))}


def case(name: str) -> tuple[dict[str, Any], dict[str, Any], dict[str, Any]]:
    found = CASES[name]
    return found["inputs"], found["expected"], found["tolerance"]


@pytest.mark.parametrize("name", ["aim-left-wall-30deg", "aim-flat-plate"])
def test_where_the_rod_points(name: str) -> None:
    given, wanted, tol = case(name)
    base = [tuple(point) for point in given["base"]]
    found = aim(base, tuple(given["edges_x"]), given["top_y"], given["core_mm"], given["family"], given["attitude"], given["most_deg"])
    assert abs(found.lean_deg - wanted["lean_deg"]) <= tol["lean_abs"] and found.has_room
    assert math.dist(found.corner, wanted["corner"]) <= tol["corner_abs"]
    mirrored = aim([(-x, y) for x, y in reversed(base)], (-given["edges_x"][1], -given["edges_x"][0]), given["top_y"], given["core_mm"], given["family"])
    assert mirrored.lean_deg == pytest.approx(-found.lean_deg, abs=0.01), "the mirror image leans the other way"


def test_a_narrow_slot_leaves_no_room_to_lean() -> None:
    base = ((-4.0, 10.0), (-3.0, 2.0), (3.0, 2.0))
    open_, slot = (aim(base, (-half, half), 30.0, 4.0, "basic") for half in (40.0, 5.0))
    assert open_.lean_deg > slot.lean_deg and open_.has_room
    assert not aim(base, (-3.2, 3.2), 30.0, 4.0, "basic").has_room


def test_weave_whip_and_travel() -> None:
    for name in ("beat-12-3.2", "beat-9-3.2"):
        given, wanted, tol = case(name)
        found = beat(given["width_mm"], given["core_mm"], given["travel_mm_s"], given["attitude"])
        for key, value in wanted.items():
            assert getattr(found, key) == pytest.approx(value, **tol)
    given, wanted, tol = case("whip")
    found_whip = whip(given["core_mm"], given["travel_mm_s"])
    assert {k: getattr(found_whip, k) for k in wanted} == {k: pytest.approx(v, **tol) for k, v in wanted.items()}
    assert travel_deg("basic", "vertical down") is None and travel_deg("basic", "vertical up") == (-15, -5)


def test_the_likeliest_faults_of_a_pass() -> None:
    wall = Bead(role="fill", at_wall=True, slot_coated=1.2, lean_deg=36.0, attitude="vertical up", weave=True, amps_share=0.9, hold_s=0.3)
    kinds = [one.kind for one in likely_faults(wall)]
    assert kinds == ["side_wall", "undercut_sag", "porous_start"]
    assert likely_faults(wall, flagged=("porous_start",))[1].score < likely_faults(wall, flagged=("undercut_sag",))[0].score
    assert likely_faults(Bead(role="root", gap_cores=1.4))[0].kind == "blow_through" and likely_faults(Bead(role="cap", last_of_cap=True))[0].kind == "cap_edge"
    near, far = arc_blow(20.0, 50.0, 260.0, 20.0, 12.0), arc_blow(400.0, 600.0, 100.0, 4.0, 12.0)
    assert near.is_told and not far.is_told and near.terms[0][0] == "end"


def test_marks_heat_and_low_spots() -> None:
    for name in ("must-reach", "must-reach-2"):
        given, wanted, tol = case(name)
        assert must_reach(*given.values()) == (pytest.approx(wanted["from_mm"], **tol), pytest.approx(wanted["to_mm"], **tol))
    given, wanted, tol = case("travel-from-mark")
    assert from_mark(*given.values()) == (pytest.approx(wanted["travel_mm_min"], **tol), pytest.approx(wanted["arc_energy_kj_mm"], **tol))
    given, wanted, tol = case("low-spot")
    found = asked_along(given["area_mm2"], given["depth_mm"], given["width_mm"], (given["low"], given["high"]), given["gain"])
    assert list(found) == pytest.approx(wanted["areas"], **tol)
    for name in ("ir-150-0.8-0.95", "ir-200-0.35-0.95", "ir-120-0.9-0.95"):
        given, wanted, tol = case(name)
        read = infrared_reads(given["true_c"], given["emissivity"], given["set"], given["air_c"])
        assert read == pytest.approx(wanted["c"], **tol)
        assert emissivity_of(read, given["set"], given["true_c"], given["air_c"]) == pytest.approx(given["emissivity"])


def test_the_own_factor_and_the_metal_are_told_apart_by_depths() -> None:
    given, wanted, tol = case("own-and-metal-31")
    own = Own()
    for look in given["seen"]:
        own = own.seen(look["y"], look["var"] + (given["bead_sd"] ** 2 if look["by"] == "rods" else 0.0), look["by"])
    assert (own.f, own.m) == (pytest.approx(wanted["f"], **tol), pytest.approx(wanted["m"], **tol))
    for name in ("fuse-29", "fuse-30"):
        given, wanted, tol = case(name)
        assert fused(*given.values()) == (pytest.approx(wanted["mean"], **tol), pytest.approx(wanted["sd"], **tol))
    rods_only = Own()
    for _ in range(12):
        rods_only = rods_only.next_pass().seen(0.2, 0.01, "rods")
    assert rods_only.sd_f < PRIOR_F and not rods_only.steers and rods_only.asked(20.0) == 20.0, "rods alone steer nothing"
    sure = rods_only.seen(0.0, 0.0015, DEPTH).seen(0.0, 0.0015, DEPTH)
    assert sure.steers and sure.asked(20.0) == pytest.approx(20.0 / math.exp(sure.f)) and sure.asked(20.0) >= 15.0


@pytest.mark.parametrize("name", sorted(name for name in CASES if name.startswith("state-")))
def test_a_pass_by_its_script(name: str) -> None:
    given, wanted, _ = case(name)
    p, states, kinds = Passing(has_meter=given["meter"]), [], []
    for event, t, data in given["events"]:
        p, entries = after(p, Event(name=event, t=float(t), data=data))
        states.append(p.state)
        kinds += [entry.kind for entry in entries]
    assert states == wanted["states"] and kinds == wanted["records"]
    assert p.key == wanted.get("pass", p.key)


def test_every_event_has_an_outcome_in_every_state() -> None:
    for state, event, meter in itertools.product(STATES, EVENTS, (True, False)):
        for data in (None, 1, 150.0, "p9", {"id": "p2", "low": 80.0, "high": 200.0, "temp": 100.0}):
            p, entries = after(Passing(state=state, has_meter=meter, key="p1", t=100.0), Event(name=event, t=50.0, data=data))
            assert p.state in STATES and p.t >= 100.0 and all(entry.kind for entry in entries)


def test_no_arc_time_is_lost_and_no_key_ends_an_arc() -> None:
    draw = random.Random(7)
    for _ in range(60):
        p, burnt, on, kept = Passing(has_meter=True), 0.0, None, 0.0
        p, _ = after(p, Event(name=BEGIN, t=0.0, data={"id": "p1", "low": 80.0, "high": 200.0, "temp": 120.0}))
        t = 0.0
        for _ in range(40):
            t += draw.choice((0.5, 3.0, 8.0, 100.0))
            name = draw.choice((ARC_ON, ARC_OFF, SPACE, "enter", TICK, "flag", "other-pass"))
            was = p.state
            p, entries = after(p, Event(name=name, t=t, data="p2" if name == "other-pass" else None))
            assert was != ARC or p.state == ARC or name == ARC_OFF, "under the arc only its going out counts"
            on = t if p.state == ARC and was != ARC else on
            burnt += t - on if was == ARC and p.state != ARC and on is not None else 0.0
            kept += sum(entry.data["arc_s"] for entry in entries if entry.kind == "rod")
        in_hand = p.arc_s if p.state in (ARC, "gap", CHANGE, STOPPED) else 0.0
        assert kept + in_hand == pytest.approx(burnt, abs=0.5)


def test_by_meter_and_by_key_a_pass_is_the_same() -> None:
    times = ((10.0, 80.0), (95.0, 165.0), (180.0, 230.0))
    by_meter = [Event(name=n, t=t) for on, off in times for n, t in ((ARC_ON, on), (ARC_OFF, off))]
    by_key = [Event(name=SPACE, t=t) for pair in times for t in pair]
    begun = Event(name=BEGIN, t=0.0, data={"id": "p1"})
    ended = [Event(name="enter", t=240.0, data=0.2)]
    first, second = (replayed(Passing(has_meter=meter), [begun, *events, *ended]) for meter, events in ((True, by_meter), (False, by_key)))
    assert first[1] == second[1] and [e.kind for e in first[1]] == ["pass-begun", "rod", "rod", "rod", "pass-ended"]
    assert first[1][1].data["arc_s"] == 70.0 and after(Passing(), begun)[0].state == READY, "no temperature known: ready, and said"
