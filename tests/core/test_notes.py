"""Notes gather findings by kind; the examples in docstrings are true."""

from __future__ import annotations

import doctest
import importlib

import pytest

from banister.core.joint.working import Choices, Pin
from banister.core.plan.answers import plan_joint
from banister.core.plan.notes import findings_on, notes_of
from banister.core.units import Units
from tests.conftest import make_joint, rods_by_id

RODS = rods_by_id()
WITH_EXAMPLES = ("core.units", "core.plan.notes", "core.joint.positions", "export.pdf")


def test_every_finding_is_in_exactly_one_note_and_the_worst_speaks() -> None:
    joint = make_joint("bar", preparation="single-bevel", thickness_mm=30.0, bevel_right_deg=45.0, position="2G",
                       pins=(Pin(x_mm=0.0, y_mm=12.0, role="fill", area_mm2=60.0),), choices=Choices(stringers_only=True))  # fmt: skip
    plan = plan_joint(joint, RODS)
    found = [*plan.findings, *(f for p in plan.passes for f in p.findings)]
    notes = notes_of(plan)
    assert {n.finding.code for n in notes} == {f.code for f in found} and len(notes) == len({f.code for f in found})
    severities = [n.finding.severity for n in notes]
    assert severities == sorted(severities)
    for note in notes:
        same = [f for f in found if f.code == note.finding.code]
        if note.finding.max is not None:
            assert note.finding.value == max(f.value for f in same)
        named = {f"p{n}" for n in note.passes}
        assert named == {f.place.pass_id for f in same if f.place.pass_id}
    for p in plan.passes:
        assert [f for f in findings_on(plan, p) if f.place.pass_id != p.id] == []


def test_a_sentence_in_inches_keeps_everything_but_its_lengths() -> None:
    text = "root gap 1.6 mm, 12.7 to 25.4 mm wide, 645.2 mm\N{SUPERSCRIPT TWO}, 1.5 kJ/mm, 60 mm/min, pass 3"
    assert Units().sentence(text) == text
    assert Units(inches=True).sentence(text) == (
        "root gap 1/16 in, 1/2 to 1 in wide, 1.0001 in\N{SUPERSCRIPT TWO}, 1.5 kJ/mm, 60 mm/min, pass 3")  # fmt: skip


@pytest.mark.parametrize("name", WITH_EXAMPLES)
def test_examples_in_docstrings_hold(name: str) -> None:
    done = doctest.testmod(importlib.import_module("banister." + name))
    assert done.attempted > 0 and done.failed == 0
