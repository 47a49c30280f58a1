"""Simulated welders who lay another size than is asked, weld joint after joint as the program asks: by how much the metal misses.

.venv/bin/python -m tests.sample.welders [SEEDS]
"""

from __future__ import annotations

import math
import random
import sys
from collections.abc import Iterable, Mapping
from multiprocessing import Pool

import numpy as np

from banister.core.follow.facts import Learnt, PassFacts, Told, learnt
from banister.core.follow.rest import Followed, followed
from banister.core.joint.joint import Joint
from banister.core.plan.answers import Study, plan_answer, study_of
from banister.core.plan.inputs import inputs_of
from banister.core.plan.one_side import Lying
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.rules import root_metal_below
from banister.core.plan.sides import Side
from tests.conftest import make_joint, rods_by_id

SCATTER = 0.10
"""From bead to bead; a depth gauge reads to 0.3 mm."""
WELDED = {
    "girder": make_joint(thickness_mm=18.0, length_mm=600.0, position="3G"),
    "sheave": make_joint(thickness_mm=28.0, length_mm=500.0, backing="bar", root_gap_mm=8.0, root_face_mm=0.0),
    "counterweight": make_joint(thickness_mm=16.0, length_mm=600.0, position="2G", key="single-bevel"),
    "delivery pipe": make_joint(form="pipe", thickness_mm=12.5, pipe_od_mm=323.9, position="5G"),
}  # fmt: skip


def planned(joint: Joint) -> tuple[Study, Plan]:
    study = study_of(inputs_of(joint, tuple(rods_by_id().values())))
    assert isinstance(study, Study)
    return study, plan_answer(study, "balanced")


def metal(passes: tuple[Pass, ...]) -> float:
    return sum(p.area_mm2 for p in passes)


def weld(joint: Joint, welder: float, seed: int) -> tuple[float, float]:
    """Weld a joint pass by pass as it is asked; cap beads by which all the metal misses what was asked, followed and blind.

    Followed, what was asked is all the metal of the plan as it stands when its last layer is begun: a cap of other beads may
    ask for other metal within its limits.
    """
    study, plan = planned(joint)
    draw, target, sides = random.Random(seed), metal(plan.passes), {s.side.name: s.side for s in study.sides}
    facts, real, now, known = dict[str, PassFacts](), dict[str, float](), Followed(plan, ()), Learnt({}, {})
    blind = sum(p.area_mm2 * welder * math.exp(draw.gauss(0.0, SCATTER)) for p in plan.passes) - target
    lying: Lying = {}
    while now.rest:
        p = now.rest[0]
        if p.layer != now.plan.layers or all(q.layer != p.layer for q in now.plan.passes if q.key in now.welded):
            target = metal(now.plan.passes)
        asked = known.of(p.rod.id).asked(p.area_mm2)
        real[p.key] = asked * welder * math.exp(draw.gauss(0.0, SCATTER))
        rods = real[p.key] * p.length_mm / p.rod.deposit_mm3
        whole = math.ceil(rods)
        depth = depth_now(now, real, p, sides, draw) if (len(now.rest) == 1 or now.rest[1].layer != p.layer) and p.layer >= 3 else None
        facts[p.key] = PassFacts(p.key, p.rod.id, p.amps, asked, (60.0,) * whole, round(whole - rods, 2), p.length_mm, True, depth_mm=depth)
        known = learnt(Told(facts), now.plan, sides)
        now = followed(study, plan if not now.welded else now.plan, known.areas_mm2, lying=lying)
    bead = plan.passes[-1].area_mm2
    return (sum(real.values()) - target) / bead, blind / bead


def depth_now(now: Followed, real: Mapping[str, float], p: Pass, sides: Mapping[str, Side], draw: random.Random) -> float | None:
    """What a gauge reads after a layer: how far under the face the metal really stands."""
    groove = sides[p.side].groove
    heights = np.linspace(0.0, groove.thickness_mm, 600)
    filled = sum(real.values()) - root_metal_below(sides[p.side].joint)
    level = float(np.interp(filled, groove.area_below(heights), heights))
    return None if p.role == "cap" else max(groove.thickness_mm - level + draw.gauss(0.0, 0.3), 0.0)


def rms(values: Iterable[float]) -> float:
    found = list(values)
    return math.sqrt(sum(v * v for v in found) / len(found))


def _one(asked: tuple[str, float, int]) -> tuple[float, float]:
    name, welder, seed = asked
    return weld(WELDED[name], welder, seed)


def main(seeds: int = 8) -> None:
    """Print the table: cap beads, rms over the seeds."""
    cases = [(name, welder) for name in WELDED for welder in (0.8, 1.2)]
    with Pool(2) as pool:
        found = pool.map(_one, [(*case, seed) for case in cases for seed in range(seeds)])
    print(f"{'joint':16}{'welder':>8}{'followed':>10}{'blind':>8}   cap beads rms, {seeds} seeds")
    for i, (name, welder) in enumerate(cases):
        miss, blind = zip(*found[i * seeds : (i + 1) * seeds], strict=True)
        print(f"{name:16}{welder:8.1f}{rms(miss):10.2f}{rms(blind):8.2f}")


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:]))
