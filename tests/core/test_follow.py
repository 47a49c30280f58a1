"""The plan follows: facts from records, beads laid as facts, the rest planned anew; simulated welders who weld too much or too little."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping

import numpy as np
import pytest

from banister.core.follow.facts import Learnt, PassFacts, Told, learnt, told
from banister.core.follow.rest import Followed, followed, followed_said
from banister.core.journal import Record
from banister.core.joint.joint import Joint
from banister.core.plan.answers import Study, plan_answer, study_of
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.rules import root_metal_below
from banister.core.plan.sides import Side
from banister.core.polygon import area
from tests.conftest import SAY, make_joint, rods_by_id

JOINTS = {"girder": make_joint(thickness_mm=18.0, length_mm=600.0, position="3G"),
          "sheave": make_joint(thickness_mm=28.0, length_mm=500.0, backing="bar", root_gap_mm=8.0, root_face_mm=0.0)}  # fmt: skip


def planned(joint: Joint) -> tuple[Study, Plan]:
    study = study_of(inputs_of(joint, tuple(rods_by_id().values())))
    assert isinstance(study, Study)
    return study, plan_answer(study, "balanced")


def metal(passes: tuple[Pass, ...]) -> float:
    return sum(p.area_mm2 for p in passes)


def test_beads_welded_as_planned_change_nothing() -> None:
    for joint in JOINTS.values():
        study, plan = planned(joint)
        assert followed(study, plan, {}) == Followed(plan, ())
        for n in (1, len(plan.passes) // 2, len(plan.passes) - 1):
            now = followed(study, plan, {p.key: p.area_mm2 for p in plan.passes[:n]})
            assert [p.key for p in now.plan.passes] == [p.key for p in plan.passes] and now.welded == tuple(p.key for p in plan.passes[:n])
            assert metal(now.plan.passes) == pytest.approx(metal(plan.passes), rel=0.02) and now.rods_more in (-1, 0, 1)


def test_welded_beads_are_facts_and_the_rest_makes_up() -> None:
    study, plan = planned(JOINTS["girder"])
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
    one = found.passes["p1"]
    assert (one.rods_used, one.run_outs, one.depth_mm, one.is_ended, one.temps) == (pytest.approx(1.6), (171.0,), 9.5, True, ((4.0, 148.0),))
    assert found.ended == ("p1",) and found.deviations[0].as_ == "accept" and found.open == ()
    assert told(records[:8], "J1").open[0].value == 231.0 and told(records, "J2") == Told()


def weld(joint: Joint, welder: float, metal_ratio: float, scatter: float, seed: int, with_depth: bool) -> tuple[float, float]:
    """Weld a joint pass by pass as it is asked; cap beads by which all the metal misses what was asked, followed and blind."""
    study, plan = planned(joint)
    draw, target, sides = random.Random(seed), metal(plan.passes), {s.side.name: s.side for s in study.sides}
    facts, real, now, known = dict[str, PassFacts](), dict[str, float](), Followed(plan, ()), Learnt({}, {})
    blind = sum(p.area_mm2 * welder * math.exp(draw.gauss(0.0, scatter)) for p in plan.passes) - target
    while now.rest:
        p = now.rest[0]
        asked = known.of(p.rod.id).asked(p.area_mm2)
        real[p.key] = asked * welder * math.exp(draw.gauss(0.0, scatter))
        rods = real[p.key] * p.length_mm / (p.rod.deposit_mm3 * metal_ratio)
        whole = math.ceil(rods)
        depth = depth_now(now, real, p, sides, draw) if with_depth and (len(now.rest) == 1 or now.rest[1].layer != p.layer) and p.layer >= 3 else None
        facts[p.key] = PassFacts(p.key, p.rod.id, p.amps, asked, (60.0,) * whole, round(whole - rods, 2), p.length_mm, True, depth_mm=depth)
        known = learnt(Told(facts), now.plan, sides)
        now = followed(study, plan if not now.welded else now.plan, known.areas_mm2)
    bead = plan.passes[-1].area_mm2
    return (sum(real.values()) - target) / bead, blind / bead


def depth_now(now: Followed, real: Mapping[str, float], p: Pass, sides: Mapping[str, Side], draw: random.Random) -> float | None:
    """What a gauge reads after a layer: how far under the face the metal really stands."""
    groove = sides[p.side].groove
    heights = np.linspace(0.0, groove.thickness_mm, 600)
    filled = sum(real.values()) - root_metal_below(sides[p.side].joint)
    level = float(np.interp(filled, groove.area_below(heights), heights))
    return None if p.role == "cap" else max(groove.thickness_mm - level + draw.gauss(0.0, 0.3), 0.0)


@pytest.mark.parametrize("joint", sorted(JOINTS))
@pytest.mark.parametrize("welder", [0.8, 1.2])
def test_a_welder_who_lays_another_size_ends_near_the_right_cap(joint: str, welder: float) -> None:
    misses = [weld(JOINTS[joint], welder, 1.0, 0.10, seed, with_depth=True) for seed in range(3)]
    rms = math.sqrt(sum(m * m for m, _ in misses) / len(misses))
    blind = math.sqrt(sum(b * b for _, b in misses) / len(misses))
    assert blind > 2.0 and rms < 0.85, f"{joint} {welder}: {rms:.2f} cap beads rms, {blind:.2f} blind"
