"""The plan follows: facts from records, beads laid as facts, the rest planned anew; simulated welders who weld too much or too little."""

from __future__ import annotations

import pytest

from banister.core.follow.facts import Told, told
from banister.core.follow.rest import Followed, followed, followed_said
from banister.core.journal import Record
from banister.core.polygon import area
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
    one = found.passes["p1"]
    assert (one.rods_used, one.run_outs, one.depth_mm, one.is_ended, one.temps) == (pytest.approx(1.6), (171.0,), 9.5, True, ((4.0, 148.0),))
    assert found.ended == ("p1",) and found.deviations[0].as_ == "accept" and found.open == ()
    assert told(records[:8], "J1").open[0].value == 231.0 and told(records, "J2") == Told()


@pytest.mark.parametrize("joint", sorted(WELDED))
@pytest.mark.parametrize("welder", [0.8, 1.2])
def test_a_welder_who_lays_another_size_ends_near_the_right_cap(joint: str, welder: float) -> None:
    found = [weld(WELDED[joint], welder, seed) for seed in range(2)]
    miss, blind = (rms(values) for values in zip(*found, strict=True))
    assert blind > 2 * miss and miss < 0.5, f"{joint} {welder}: {miss:.2f} cap beads rms, {blind:.2f} blind"
