"""The plan follows: facts from records, beads laid as facts, the rest planned anew; simulated welders who weld too much or too little."""

from __future__ import annotations

import json
import math
import random
from datetime import date

import pytest

from banister.core.follow.course import Follower
from banister.core.follow.factor import Own
from banister.core.follow.facts import PassFacts, Telling, Told, told
from banister.core.follow.hands import hands_of, kept_with, offered, read_back, recorded
from banister.core.follow.rest import Followed, followed, followed_said
from banister.core.follow.warmth import warmth_of
from banister.core.journal import Record, corrected
from banister.core.polygon import area
from banister.core.under_way import welded_by
from banister.core.value import replace
from tests.conftest import SAY
from tests.sample.welders import WELDED, metal, planned, rms, weld


def test_beads_welded_as_planned_change_nothing() -> None:
    for name in ("girder", "sheave"):
        study, plan = planned(WELDED[name])
        assert followed(study, plan, {}) == Followed(plan, ())
        for n in (1, len(plan.passes) // 2, len(plan.passes) - 1):
            now = followed(study, plan, {p.key: p.area_mm2 for p in plan.passes[:n]})
            assert [p.key for p in now.plan.passes] == [p.key for p in plan.passes] and now.welded == tuple(p.key for p in plan.passes[:n])
            assert metal(now.plan.passes) == pytest.approx(metal(plan.passes), rel=0.02) and now.rods_more in (-1, 0, 1)


def test_welded_beads_are_facts_and_the_rest_makes_up() -> None:
    study, plan = planned(WELDED["girder"])
    n = len(plan.passes) // 2
    for share in (0.8, 1.2):
        real = {p.key: share * p.area_mm2 for p in plan.passes[:n]}
        now = followed(study, plan, real)
        for p in now.plan.passes[:n]:
            assert p.state == "welded" and area(p.outline_mm) == pytest.approx(real[p.key], rel=0.03), "laid with the area it is known by"
        assert all(p.state != "welded" for p in now.rest) and len({p.key for p in now.plan.passes}) == len(now.plan.passes)
        cap = now.plan.cap
        assert cap is not None and cap.edge_min > -0.5 and cap.max < 4.0, "the cap comes out whatever the fill was"
        assert metal(now.plan.passes) == pytest.approx(metal(plan.passes), rel=0.06)
        assert (metal(now.rest) - metal(plan.passes[n:])) * (share - 1) < 0
        said = followed_said(now, share, n, SAY)
        assert ("bigger" in said) == (share > 1) and "%" in said


def record(n: int, k: str, p: str, **d: object) -> Record:
    return Record(n=n, t="2026-11-27T06:00:00.000Z", m=float(n), b="b", k=k, j="J1", p=p, d=d)


def test_facts_are_read_off_the_records() -> None:
    records = [record(1, "pass-begun", "p1", rod="E7018-3.2x350", amps=118.0, area=20.0), record(2, "rod", "p1", arc_s=70.0, run_out_mm=171.0),
               record(3, "rod", "p1", arc_s=40.0), record(4, "temp", "p1", c=148.0),
               record(5, "deviation", "p1", rule="interpass", value=231.0, limit=200.0), record(6, "pass-ended", "p1", left=0.4),
               record(7, "measure", "p1", depth_mm=9.5), record(8, "pass-begun", "p2"),
               record(9, "disposition", "", of=5, why="cooled since", **{"as": "accept"})]  # fmt: skip
    found = told(records, "J1")
    voided = (*records, record(10, "correct", "", of=2, void=True), record(11, "rod", "p2", arc_s=30.0))
    telling = Telling("J1")
    for n in range(1, len(voided) + 1):
        assert telling.of(corrected(voided[:n]).records) == told(corrected(voided[:n]).records, "J1"), "as it grows, and where something counts no more"
    one = found.passes["p1"]
    assert (one.rods_used, one.run_outs, one.depth_mm, one.is_ended, one.temps) == (pytest.approx(1.6), (171.0,), 9.5, True, ((4.0, 148.0),))
    assert found.ended == ("p1",) and found.deviations[0].as_ == "accept" and found.open == ()
    assert told(records[:8], "J1").open[0].value == 231.0 and told(records, "J2") == Told()


def test_a_welded_pass_that_the_plan_does_not_know_is_taken_as_the_next_and_never_welded_again() -> None:
    study, plan = planned(WELDED["girder"])
    keys = ["p1", "gone", *(p.key for p in plan.passes[2:5]), "lost"]
    records = [one for i, key in enumerate(keys) for one in (
        record(4 * i, "pass-begun", key, rod=plan.passes[i].rod.id, amps=plan.passes[i].amps, area=plan.passes[i].area_mm2),
        record(4 * i + 1, "rod", key, arc_s=60.0), record(4 * i + 2, "temp", key, c=90.0), record(4 * i + 3, "pass-ended", key, left=0.3))]  # fmt: skip
    follower = Follower(study, plan)
    assert follower.after(told(records[:4], "J1"))[0].taken_as == ()
    found = welded_by(follower, records, "J1", told(records, "J1"))
    assert len(found.now.welded) == len(keys) and dict(found.now.taken_as).keys() == {"gone", "lost"}
    assert found.now.rest[0].number == len(keys) + 1 and set(found.told.passes) == set(found.now.welded) == set(found.known.areas_mm2)
    assert len(warmth_of(found.records, found.records[-1], "J1", found.told.passes, found.now.plan).passes) == len(keys), "its heat is in the joint too"


@pytest.mark.parametrize(("joint", "seed"), [("girder", 4), ("sheave", 6)])
def test_a_pass_welded_ahead_of_its_turn_is_welded_once_and_never_lit_again(joint: str, seed: int) -> None:
    study, plan = planned(WELDED[joint])
    hand, follower, facts, now = random.Random(seed), Follower(study, plan), dict[str, PassFacts](), Followed(plan, ())
    while now.rest:
        p = hand.choice(now.rest[:6])
        assert p.key not in facts and len(facts) < 40, "a number that was used names no other pass"
        rods = hand.uniform(0.5, 1.5) * p.area_mm2 * p.length_mm / p.rod.deposit_mm3
        whole = math.ceil(rods)
        facts[p.key] = PassFacts(p.key, p.rod.id, p.amps, p.area_mm2, (60.0,) * whole, whole - rods, p.length_mm, True)
        now, known = follower.after(Told(facts))
        assert len(now.welded) == len(facts) == len(set(now.welded)) and set(now.welded) == set(known.areas_mm2), "its metal counts"
    assert now.taken_as and repr(Follower(study, plan).after(Told(facts))) == repr((now, known)), "read again it is the same"


def test_metal_that_is_known_to_lie_lies_as_if_it_were_laid_anew() -> None:
    study, plan = planned(WELDED["girder"])
    follower, facts, now, moved = Follower(study, plan), dict[str, PassFacts](), Followed(plan, ()), 0
    for share in (1.3, 0.8, 1.1, 0.9, 1.2, 0.7):
        p = now.rest[0]
        one = PassFacts(p.key, p.rod.id, p.amps, p.area_mm2, (60.0,) * 9, 9 - share * p.area_mm2 * p.length_mm / p.rod.deposit_mm3, p.length_mm, True)
        tried = [replace(one, flags=("pores",)), replace(one, depth_mm=12.0), one]  # taken back and told otherwise; the last holds
        found = [follower.stand(Told(facts | {p.key: other})) for other in tried]
        anew = [followed(study, now.plan, known.areas_mm2) for _, known in found]
        assert [stand for stand, _ in found] == anew and anew[0] == anew[2], "a flag moves no metal"
        facts, now, moved = facts | {p.key: one}, found[2][0], moved + (anew[1] != anew[0])
    assert moved >= 3, "a depth does, where it can be"


@pytest.mark.parametrize(("joint", "welder"), list(zip(sorted(WELDED), (1.2, 0.8, 1.2, 0.8), strict=True)))
def test_a_welder_who_lays_another_size_ends_near_the_right_cap(joint: str, welder: float) -> None:
    found = [weld(WELDED[joint], welder, seed) for seed in range(2)]
    miss, blind = (rms(values) for values in zip(*found, strict=True))
    assert blind > 2 * miss and miss < 0.5, f"{joint} {welder}: {miss:.2f} cap beads rms, {blind:.2f} blind"


def test_a_hand_is_known_from_job_to_job_and_grows_old() -> None:
    sure = Own(f=0.18, m=-0.02, p_ff=0.04**2, p_mm=0.03**2, p_fm=1e-4, looks=9, depths=3)
    day = date(2026, 6, 1)
    kept = hands_of({"E7018-3.2x350": sure, "E7018-4.0x450": Own(f=0.1, looks=2)}, "K7", "3G", day)
    assert [hand.rod for hand in kept] == ["E7018-3.2x350"] and hands_of({"E7018-3.2x350": sure}, "", "3G", day) == ()
    newer = (replace(kept[0], on="2026-09-01"),)
    assert kept_with(kept, newer) == newer and len(kept_with(kept, (replace(kept[0], position="2G"),))) == 2
    rods = ["E7018-3.2x350", "E6010-3.2x350"]
    assert offered(kept, "K7", rods, "3G", day) == {"E7018-3.2x350": sure}
    later = offered(kept, "K7", rods, "3G", date(2026, 12, 1))["E7018-3.2x350"]
    assert later.p_ff == pytest.approx(2 * sure.p_ff, rel=0.01) and later.f == sure.f, "half a year doubles the doubt"
    assert offered(kept, "K7", rods, "3G", date(2028, 6, 1)) == {}, "too old to go by"
    for other in (("K8", rods, "3G"), ("K7", rods[1:], "3G"), ("K7", rods, "2G")):
        assert offered(kept, *other, day) == {}
    back = read_back(json.loads(json.dumps(recorded({"E7018-3.2x350": sure}))))
    assert back == {"E7018-3.2x350": sure} and read_back({"x": {"f": "high"}, "y": {"z": 1.0}, "w": 3}) == {} and read_back(None) == {}


def test_a_hand_that_is_gone_by_steers_from_the_first_bead() -> None:
    study, plan = planned(WELDED["girder"])
    sure = Own(f=math.log(1.2), m=0.0, p_ff=0.04**2, p_mm=0.03**2, looks=9, depths=3)
    rod = plan.passes[0].rod.id
    follower = Follower(study, plan)
    _, blank = follower.after(Told())
    _, known = follower.after(Told(hands={rod: sure}))
    assert blank.of(rod).asked(20.0) == 20.0 and known.of(rod).asked(20.0) == pytest.approx(20.0 / 1.2)
    first = plan.passes[0]
    facts = {first.key: PassFacts(first.key, rod, first.amps, first.area_mm2 / 1.2, (60.0,), 0.4, first.length_mm, True)}
    assert follower.after(Told(facts))[1].own[rod] != follower.after(Told(facts, hands={rod: sure}))[1].own[rod], "one is not taken for the other"
