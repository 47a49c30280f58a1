"""The groove as the unknown in the real window: searched as it opens, bounds typed, another goal, the best taken as one step."""

from __future__ import annotations

import pytest
from shiboken6 import isValid

from banister.core.plan.improve import BEVEL, GAP, value_of
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.joint.improve_view import ImproveDialog
from tests.conftest import texts_of
from tests.desktop.conftest import choose


@pytest.fixture
def dialog(demo: MainWindow) -> ImproveDialog:
    demo.store.look(joint_id="G1")
    demo.menus.actions["improve"].trigger()
    found = demo.opened["improve"]
    yield found
    if isValid(found):
        found.close()


def typed(dialog: ImproveDialog, key: str, end: int, text: str) -> None:
    field = dialog.fields[key][end]
    field.edit.setText(text)
    field.edit.editingFinished.emit()


def test_it_is_searched_bounded_taken_and_undone(demo: MainWindow, dialog: ImproveDialog) -> None:
    before = demo.store.job
    assert dialog.state.done == dialog.state.most and "a metre less" in dialog.gain.text() and "now" in texts_of(dialog.picture.drawing)
    assert "Bevel 2.5° less" in dialog.steps.text() and not dialog.progress.isVisible()
    typed(dialog, BEVEL, 0, "32.5")
    typed(dialog, GAP, 0, "99")
    assert dialog.fields[GAP][0].fault.text(), "what cannot be a gap is said at the field"
    assert dialog.state.best.of(BEVEL) >= 32.5 and dialog.state.xs[0] == 32.5
    typed(dialog, BEVEL, 1, "31")
    assert dialog.fields[BEVEL][0].edit.text() == "31", "the other end follows"
    typed(dialog, BEVEL, 1, "45")
    choose(dialog.goal, "metal")
    assert "weld metal" in dialog.title.text()
    wanted = dict(dialog.state.best.values)
    dialog.take()
    joint = demo.store.joint
    assert value_of(joint, BEVEL) == wanted[BEVEL] and joint.prep.root_gap_mm == wanted[GAP]
    demo.store.undo()
    assert demo.store.job == before


def test_a_fillet_has_nothing_to_choose_and_inches_are_shown(demo: MainWindow, dialog: ImproveDialog) -> None:
    demo.toggle_units()
    assert dialog.fields[GAP][0].unit.text() == "in" and " in" in dialog.now.text()
    demo.store.edit_joint("fillet", key="fillet-tee", thickness_mm=12.0)
    assert "no groove" in dialog.gain.text() and not dialog.use.isEnabled() and dialog.fields == {}
