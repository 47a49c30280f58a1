"""At the joint, against the reference cases: guidance, marks, the own factor, the course of a pass; and properties of each."""

from __future__ import annotations

import itertools
import json
import math
import random
from pathlib import Path
from typing import Any

import pytest

from banister.core.arc.analysis import ArcAnalysis, Setting, scanned
from banister.core.arc.change import rod_or_restart
from banister.core.follow.factor import DEPTH, PRIOR_F, Own, fused
from banister.core.follow.marks import asked_along, emissivity_of, from_mark, infrared_reads, must_reach
from banister.core.guide.aim import aim
from banister.core.guide.hand import beat, travel_deg, whip
from banister.core.guide.likely import Bead, arc_blow, likely_faults
from banister.core.guide.of_pass import guide_of
from banister.core.joint.joint import edited
from banister.core.passing import ARC, ARC_OFF, ARC_ON, BEGIN, CHANGE, EVENTS, READY, SPACE, STATES, STOPPED, TICK, Event, Passing, after, replayed
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.inputs import inputs_of
from banister.core.remark import Refused
from banister.core.value import asdict, replace
from banister.devices.line import DeviceClock, LineReader, crc, decoded, encoded
from banister.devices.line import Reading as Wire
from banister.devices.trace import read_trace
from tests.conftest import make_joint, rods_by_id

TRACES = Path(__file__).parents[1] / "cases"
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
        told = {**asdict(found), "per_min": 60.0 / found.cycle_s}
        assert {key: told[key] for key in wanted} == {key: pytest.approx(value, **tol) for key, value in wanted.items()}
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


def test_arc_blow_is_told_beforehand_at_the_ends_of_a_plate_only() -> None:
    joint = make_joint()
    plan = plan_answer(study_of(inputs_of(joint, tuple(rods_by_id().values()))), "balanced")
    first = plan.passes[0]
    hot = replace(first, amps=260.0)
    assert guide_of(joint, replace(plan, passes=(hot,)), hot).blow.is_told and not guide_of(joint, plan, replace(first, amps=60.0)).blow.is_told
    alternating = replace(hot, rod=replace(hot.rod, polarity="AC"))
    assert not guide_of(joint, replace(plan, passes=(alternating,)), alternating).blow.is_told
    pipe = edited(joint, form="pipe", pipe_od_mm=300.0, position="5G")
    assert not guide_of(pipe, replace(plan, passes=(hot,)), hot).blow.is_told, "a pipe has no end"


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


@pytest.mark.parametrize("name", sorted(name for name in CASES if name.startswith("rod-or-restart")))
def test_a_new_rod_or_the_same_one(name: str) -> None:
    given, wanted, tol = case(name)
    is_new, sure = rod_or_restart(given["gap_s"], given["burnt"], given["usual_change_s"])
    assert is_new == (wanted["is"] == "new") and sure == pytest.approx(wanted["probability"], **tol)


def analysed(name: str) -> tuple[ArcAnalysis, dict[str, Any], dict[str, Any]]:
    given, wanted, tol = case(name)
    setting = Setting(amps=given["amps"], volts=given["volts"], rod_amp_s=given["rod_amp_s"], electrode_positive=given["electrode_positive"],
                      family=next((f for f in ("basic", "rutile", "cellulosic") if f in name), "basic"))  # fmt: skip
    return scanned(iter(read_trace(TRACES / given["file"]).samples), setting), wanted, tol


@pytest.mark.parametrize("name", sorted(name for name in CASES if name.startswith("trace-")))
def test_a_recorded_arc_tells_its_rods(name: str) -> None:
    found, wanted, tol = analysed(name)
    assert len(found.all_rods) == wanted["rods"] and abs(found.restarts - wanted["restarts"]) <= tol["restarts_abs"]
    for key, attribute in (("arc_s", "arc_s"), ("energy_kj", "kj"), ("amp_s", "amp_s")):
        assert sum(getattr(rod, attribute) for rod in found.all_rods) == pytest.approx(wanted[key], **tol[key]), key
    for rod, truth in zip(found.all_rods, wanted["each"], strict=True):
        assert abs(rod.on_s - truth["on_s"]) <= tol["on_off_s"] and abs(rod.off_s - truth["off_s"]) <= tol["on_off_s"]
    kinds = [n.kind for n in found.notices]
    told = wanted["events"]
    if "drift" in told:
        (drift,) = (n for n in found.notices if n.kind == "drift")
        assert 120 <= drift.t <= 120 + 30 + 20 and drift.value == pytest.approx(told["drift"]["share"], abs=told["drift"]["share_abs"])
    elif "hole" in told:
        assert kinds.count("hole") == told["hole"]["count_over_1_s"]
    elif "polarity" in told:
        (polarity,) = (n for n in found.notices if n.kind == "polarity")
        assert polarity.t - found.all_rods[0].on_s <= told["polarity"]["within_arc_s"]
    elif "learner" not in name:
        assert kinds == [], "a clean arc is not complained of"


def test_what_is_no_sample_changes_nothing_and_memory_stays_flat() -> None:
    setting = Setting(amps=118.0, volts=23.5, rod_amp_s=8315.0, window=(100.0, 130.0))
    clean, dirty = ArcAnalysis(setting), ArcAnalysis(setting)
    for k in range(4000):
        t = 0.02 * k
        v, a = (72.0, 0.0) if k < 100 or k > 3600 else (23.5 + (k % 7) * 0.1, 118.0)
        clean.take(t, v, a)
        if k % 50 == 7:
            for junk in ((t - 1.0, 20.0, 100.0), (t - 0.01, float("nan"), 1.0), (t - 0.005, 400.0, 5.0), (t - 0.004, 30.0, 900.0)):
                dirty.take(*junk)
        dirty.take(t, v, a)
    clean.finish()
    dirty.finish()
    (one,), (other,) = clean.all_rods, dirty.all_rods
    assert other.arc_s == pytest.approx(one.arc_s, rel=0.002) and other.joules == pytest.approx(one.joules, rel=0.002) and dirty.spikes > 0
    assert one.arc_s == pytest.approx(70.0, abs=0.3) and clean.notices == []


def test_amps_outside_and_a_clamp_that_is_off_are_told_once() -> None:
    found = ArcAnalysis(Setting(amps=118.0, volts=23.5, rod_amp_s=8315.0, window=(100.0, 130.0)))
    draw = random.Random(3)
    for k in range(3000):
        t = 0.02 * k
        amps = 140.0 if t > 20.0 else 118.0
        found.take(t, 23.5, amps if t < 40.0 else 0.0) if t < 40.0 else found.take(t, 25.0 + draw.gauss(0.0, 2.0), 0.0)
    assert [n.kind for n in found.notices if n.kind in ("window", "clamp_off")] == ["window", "clamp_off"]


@pytest.mark.parametrize("name", sorted(name for name in CASES if name.startswith("wire-")))
def test_the_serial_line(name: str) -> None:
    given, wanted, _ = case(name)
    if name == "wire-check-value":
        assert crc(given["ascii"].encode()) == wanted["hex"]
    elif "bytes" in given:
        found = decoded(given["bytes"].encode().rstrip(b"\n"))
        assert found is not None and (found.kind, found.seq, found.ms, list(found.fields)) == (wanted["kind"], wanted["seq"], wanted["ms"], wanted["fields"])
        assert decoded(encoded(found).rstrip(b"\n")) == found
    else:
        assert [r.seq for r in LineReader().feed(bytes.fromhex(given["hex"]))] == wanted["seqs"]


def test_damage_is_never_believed_and_cuts_lose_nothing() -> None:
    draw, lines = random.Random(5), [encoded(Wire("A", k, 20 * k, (23.4 + k % 5, 118.0, 2741.0))) for k in range(400)]
    whole = b"".join(b"noise>?!\n" * (k % 3 == 0) + line for k, line in enumerate(lines))
    reader, got = LineReader(), list[int]()
    at = 0
    while at < len(whole):
        step = draw.randint(1, 40)
        got += [r.seq for r in reader.feed(whole[at : at + step])]
        at += step
    assert got == list(range(400)) and reader.lost == 0
    for line in lines[:200]:
        for _ in range(5):
            damaged = bytearray(line.rstrip(b"\n"))
            damaged[draw.randrange(len(damaged))] ^= 1 << draw.randrange(7)
            found = decoded(bytes(damaged))
            assert found is None or bytes(damaged) == line.rstrip(b"\n")
    flood = LineReader()
    assert list(flood.feed(b"x" * 200_000)) == [] and flood.waiting <= 240


def test_a_device_clock_follows_and_its_jumps_are_counted() -> None:
    clock = DeviceClock()
    for k in range(500):
        late = 0.05 if k % 3 else 0.0
        assert clock.host(20 * k, 100.0 + 0.02 * k + late) == pytest.approx(100.0 + 0.02 * k, abs=0.012)
    clock.host(20 * 500 + 5000, 100.0 + 10.0)
    assert clock.jumps == 1


def test_a_trace_with_faults_is_read_told_or_refused(tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    rows = [f"{0.1 * k:.1f},23.5,118" for k in range(100)]
    path.write_text("# banister-trace 1\nt_s,volts,amps\n" + "\n".join([*rows[:50], "5.1,wide,118", "1.0,2,3", *rows[50:]]))
    trace = read_trace(path)
    assert len(trace.samples) == 100 and [f.place.field for f in trace.faults] == ["line 53", "line 54"]
    for text in ("", "t_s,volts\n1,2\n", "t_s,volts,amps\n" + "a,b,c\n" * 9 + "1,2,3\n"):
        path.write_text(text)
        with pytest.raises(Refused):
            read_trace(path)
    path.write_bytes(b"\x1f\x8bbroken")
    with pytest.raises(Refused):
        read_trace(path)


def test_by_meter_and_by_key_a_pass_is_the_same() -> None:
    times = ((10.0, 80.0), (95.0, 165.0), (180.0, 230.0))
    by_meter = [Event(name=n, t=t) for on, off in times for n, t in ((ARC_ON, on), (ARC_OFF, off))]
    by_key = [Event(name=SPACE, t=t) for pair in times for t in pair]
    begun = Event(name=BEGIN, t=0.0, data={"id": "p1"})
    ended = [Event(name="enter", t=240.0, data=0.2)]
    first, second = (replayed(Passing(has_meter=meter), [begun, *events, *ended]) for meter, events in ((True, by_meter), (False, by_key)))
    assert first[1] == second[1] and [e.kind for e in first[1]] == ["pass-begun", "rod", "rod", "rod", "pass-ended"]
    assert first[1][1].data["arc_s"] == 70.0 and after(Passing(), begun)[0].state == READY, "no temperature known: ready, and said"
