"""Notes gather findings by kind; the examples in docstrings are true."""

from __future__ import annotations

import doctest
import importlib
from pathlib import Path

import banister
from banister.core.joint.working import Choices, Pin
from banister.core.plan.answers import plan_joint
from banister.core.plan.notes import notes_of, plan_remarks, remarks_on
from tests.conftest import SAY, make_joint, rods_by_id

RODS = rods_by_id()
SOURCE = Path(banister.__file__).parent


def test_every_remark_is_in_exactly_one_note_and_the_worst_speaks() -> None:
    joint = make_joint("bar", key="single-bevel", thickness_mm=30.0, bevel_right_deg=45.0, position="2G",
                       pins=(Pin(x_mm=0.0, y_mm=12.0, role="fill", area_mm2=60.0), Pin(x_mm=2.0, y_mm=24.0, role="fill", area_mm2=3.0)),
                       choices=Choices(stringers_only=True))  # fmt: skip
    plan = plan_joint(joint, RODS)
    found, notes = plan_remarks(plan), notes_of(plan)
    assert len(found) >= len(notes) > 1 and {n.remark.code for n in notes} == {r.code for r in found}
    for note in notes:
        same = [r for r in found if r.code == note.remark.code]
        assert note.remark.badness == max(r.badness for r in same)
        assert set(note.passes) == {plan.numbers[key] for r in same for key in r.place.passes}
    assert notes[0].said(SAY).startswith("Pass")
    for p in plan.passes:
        assert {key for r in remarks_on(plan, p) for key in r.place.passes} <= {p.key}


def test_examples_in_docstrings_hold() -> None:
    paths = [path for path in sorted(SOURCE.rglob("*.py")) if ">>>" in path.read_text(encoding="utf-8")]
    done = [doctest.testmod(importlib.import_module(".".join(("banister", *path.relative_to(SOURCE).with_suffix("").parts)))) for path in paths]
    assert sum(one.attempted for one in done) > 50 and not any(one.failed for one in done)
