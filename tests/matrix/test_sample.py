"""A seeded part of the matrix; all of it by `python -m tests.matrix.run`."""

from __future__ import annotations

import itertools
import random

from banister.core.joint.faults import joint_faults
from banister.core.joint.working import ANSWERS
from tests.matrix.run import MATRIX, breadth, bridged, joints, verdicts


def test_a_seeded_sample_keeps_every_cap_rule() -> None:
    draw = random.Random(MATRIX["sample"]["seed"])
    sample = [making() for making in draw.sample(list(joints()), MATRIX["sample"]["count"])]
    found = [(bridged(joint), joint.name, verdict) for joint in sample for _, verdict in verdicts(joint, (draw.choice(ANSWERS),))]
    assert [row for row in found if row[2] not in ("planned", "refused")] == []
    inside = [verdict for is_in, _, verdict in found if is_in]
    assert len(inside) > 0.5 * len(sample)
    assert inside.count("planned") >= 0.8 * len(inside)


def test_a_seeded_sample_of_the_other_preparations_keeps_them_too() -> None:
    draw = random.Random(MATRIX["sample"]["seed"])
    drawn = (making() for making in draw.sample(list(breadth()), 40))
    sample = list(itertools.islice((joint for joint in drawn if not joint_faults(joint)), 8))
    assert len(sample) == 8
    found = [(joint.name, verdict) for joint in sample for _, verdict in verdicts(joint, (draw.choice(ANSWERS),))]
    assert [row for row in found if row[1] not in ("planned", "refused")] == []
    assert sum(verdict == "planned" for _, verdict in found) >= 0.8 * len(found)
