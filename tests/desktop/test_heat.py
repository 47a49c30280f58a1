"""Heat in the real window: the rail in true time, settings, readings, curves, map and tables."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from banister.core.heat.preheat import annex_cell
from banister.core.heat.shift import Shift
from banister.core.limits.windows import Window
from banister.core.units import clock
from banister.core.value import replace
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.heat.panel import OTHERS
from banister.desktop.steps.registry import STEPS
from banister.job.codec import decoded, encoded
from tests.conftest import texts_of
from tests.desktop.conftest import press, step, type_in


def test_the_rail_becomes_true_to_time_with_a_temperature_anywhere(demo: MainWindow, qtbot: QtBot) -> None:
    demo.rail.set_scale(True)
    schedule, posts, axis = demo.store.now.heat.schedule, demo.rail.chart.posts, demo.rail.chart.time
    for post, passed in zip(posts, schedule.passes, strict=True):
        assert (axis.value(post.x0), axis.value(post.x1)) == pytest.approx((passed.start_s, passed.end_s), abs=1.0)
    seconds, likely, low, high = demo.rail.read(posts[4].x0)
    assert seconds == pytest.approx(schedule.passes[4].start_s, abs=30.0) and low <= likely <= high
    assert likely == pytest.approx(schedule.passes[4].temp_c, abs=8.0) and demo.rail.read(2.0) is None
    still = demo.rail.grab().toImage()
    qtbot.mouseMove(demo.rail, QPoint(round(posts[4].x0), 60))
    qtbot.waitUntil(lambda: demo.rail.cursor_x is not None)
    assert demo.rail.grab().toImage() != still
    assert schedule.end_s > demo.store.now.plan.total_time_s


def test_what_cools_the_joint_is_typed_and_plans_nothing_anew(demo: MainWindow, qtbot: QtBot) -> None:
    panel, store = step(demo, "heat"), demo.store
    plan, before = store.now.plan, store.now.heat.schedule
    for name in ("width_left_mm", "width_right_mm"):
        type_in(qtbot, panel.fields[name].edit, "60")
    assert store.now.plan is plan and store.now.heat.schedule.waiting_s > before.waiting_s
    assert "Waits" in panel.text.text() and "90 % range" in panel.text.text()
    type_in(qtbot, panel.fields["air_c"].edit, "900")
    assert "-40 to 60" in panel.fields["air_c"].fault.text() and store.joint.heat.air_c == 20
    store.undo()
    store.undo()
    assert store.now.heat.schedule == before


def test_the_schedule_of_every_pass_in_the_table_and_when_selected(demo: MainWindow) -> None:
    demo.work.show_table()
    plain, table, store = demo.table.as_text(), demo.table, demo.store
    demo.go_to("heat")
    schedule = store.now.heat.schedule
    rows = [row.split("\t") for row in table.as_text().splitlines()[1:]]
    assert [row[0][1:] for row in rows] == [str(p.number) for p in store.now.plan.passes] and table.rowCount() == len(rows)
    for row, p in zip(rows, schedule.passes, strict=True):
        assert (row[2], row[5]) == (clock(p.start_s), f"{p.temp_c:.0f}") and row[6] == f"{p.t85.seconds:.1f} ({p.t85.regime})"
    assert [table.item(4, i).text() for i in range(table.columnCount())] == rows[4]
    store.select(store.now.plan.passes[6])
    said = demo.work.panel("heat").pass_text.text()
    assert "F7 starts" in said and f"t8/5 {schedule.passes[6].t85.seconds:.1f} s" in said
    store.edit(replace(store.job, shift=Shift(begins_s=9 * 3600.0)), "Later")
    assert table.as_text().splitlines()[1].split("\t")[3] == "9:00" and "9:00" in demo.work.panel("heat").text.text()
    demo.go_to("passes")
    assert demo.table.as_text() == plain


def test_limits_that_no_joint_can_meet_are_said_alike_everywhere(demo: MainWindow) -> None:
    panel, store = step(demo, "heat"), demo.store
    kept = tuple(w for w in store.joint.working.windows if w.quantity not in ("preheat", "interpass"))
    store.edit_joint("Low limit", windows=(*kept, Window(quantity="interpass", high=10.0)))
    assert "never cools" in panel.bad.text() and demo.work.stair.states[[one.key for one in STEPS].index("heat")].bad
    store.edit_joint("Crossed", windows=(*kept, Window(quantity="interpass", high=100.0), Window(quantity="preheat", low=120.0)))
    assert "no pass may start" in panel.bad.text() and demo.work.stair.states[[one.key for one in STEPS].index("heat")].bad
    demo.rail.set_scale(True)
    assert store.say("rail.foot.no_schedule") in texts_of(demo.rail.drawing)
    demo.store.look(step="passes", checking=True)
    assert "no pass may start" in demo.work.panel("passes").sheet.bad.text()


def test_readings_are_entered_fitted_and_dropped(demo: MainWindow) -> None:
    panel, store = step(demo, "heat"), demo.store
    for minute, temp in (("60", "150"), ("90", "140"), ("120", "150")):
        for field, text in ((panel.at, minute), (panel.where, "30"), (panel.temp, temp)):
            field.edit.setText(text)
        press(demo, "heat", "reading.add")
    assert len(store.joint.readings) == 3 and panel.fit_text.text().startswith("Best fit: heat loss")
    assert "average error" in panel.fit_text.text() and len(demo.rail.chart.posts) == len(store.now.plan.passes)
    press(demo, "heat", "reading.use_fit")
    assert store.joint.heat.loss_factor != 1.0
    panel.temp.edit.setText("hot")
    press(demo, "heat", "reading.add")
    assert "not a" in panel.fit_text.text() and len(store.joint.readings) == 3
    panel.readings.itemAt(0).widget().findChild(QPushButton).click()
    assert len(store.joint.readings) == 2


@pytest.mark.awaits("others")
def test_preheat_methods_and_other_ways_stand_beside_one_another(demo: MainWindow) -> None:
    panel, store = step(demo, "heat"), demo.store
    assert all(name in panel.methods.text() for name in ("EN 1011-2", "annex", "prequalified")) and "unverified" in panel.methods.text()
    assert "asks for" in panel.warnings.text()
    ways = panel.others.text()
    assert ways.count("waits") >= 6 and store.say("heat.others") == panel.others_head.text() and "30 °C higher" in ways and " K" not in ways
    demo.toggle_units()
    assert "54 °F higher" in panel.others.text() and "°C" not in panel.others.text()
    demo.toggle_units()
    assert panel.others.text() == ways
    store.edit_joint("Warmer air", air_c=35.0)
    assert panel.others.text() != ways and panel.others.text().count("waits") >= 6
    store.edit_joint("Stainless", stainless=True)
    assert panel.methods.text() == store.say("heat.methods.stainless") and "not verified" in panel.warnings.text()


def test_curves_are_drawn_and_the_time_is_dragged(demo: MainWindow, qtbot: QtBot) -> None:
    step(demo, "heat")
    press(demo, "heat", "heat.curves")
    curves = demo.opened["curves"]
    assert len(curves.curves[1]) == 3 and len(curves.profile[1]) == 3
    first = curves.moment.text()
    qtbot.mouseClick(curves.over, Qt.MouseButton.LeftButton, pos=QPoint(curves.over.width() - 40, 80))
    assert curves.moment.text() != first
    assert max(curves.curves[1][0][1]) > max(curves.curves[1][2][1]) > 60, "nearer is hotter"
    at_s = curves.at_s
    demo.toggle_theme()
    assert demo.opened["curves"] is curves and curves.over.theme.dark and curves.at_s == at_s, "what was picked in it stays"
    curves.close()


def test_the_preheat_map_shows_the_joints_steel_and_follows_it(demo: MainWindow) -> None:
    step(demo, "heat")
    press(demo, "heat", "heat.map")
    shown, store = demo.opened["map"], demo.store
    assert store.joint.metal.steel.is_known and f"CET {store.joint.metal.steel.cet:.3f}" in shown.title.text()
    before, dry = shown.map.drawing, shown.title.text()
    store.edit_joint("Wetter", hydrogen_ml=15.0)
    assert shown.map.drawing != before and shown.title.text() != dry
    store.edit_joint("Stainless", stainless=True)
    assert "tainless" in shown.title.text() and shown.map.drawing is None
    shown.close()


def test_cells_of_the_preheat_tables_are_of_the_job_and_from_the_users_copy(demo: MainWindow) -> None:
    panel, store = step(demo, "heat"), demo.store
    joint = store.joint
    assert "unverified" in panel.methods.text() and "AWS D1.1 annex asks" not in panel.warnings.text()
    press(demo, "heat", "heat.tables")
    shown = demo.opened["tables"]
    cell = annex_cell(joint.metal.steel.pcm, joint.heat.hydrogen_ml, joint.prep.thickness_mm, joint.heat.restraint)
    i, j = next((i, j) for i, row in enumerate(shown._keys()) for j, key in enumerate(row) if key == cell)
    assert shown.table.item(i, j).text().endswith("?")
    plan = store.now.plan
    shown.table.item(i, j).setText("284 F")
    assert shown.table.item(i, j).text() == "140" and [c.least_c for c in store.job.own_cells] == pytest.approx([140.0]) and store.now.plan is plan
    assert "from your copy" in panel.methods.text() and "AWS D1.1 annex asks for 140" in panel.warnings.text()
    for wrong, word in (("900", "400"), ("warm", "not a")):
        shown.table.item(i, j).setText(wrong)
        assert word in shown.fault.text() and shown.table.item(i, j).text() == "140"
    assert decoded(encoded(store.job)).job == store.job
    shown.table.item(i, j).setText("")
    assert shown.table.item(i, j).text().endswith("?") and store.job.own_cells == ()
    store.undo()
    assert shown.table.item(i, j).text() == "140"
    shown.forget()
    assert "annex: 140" not in panel.methods.text()
    shown.which.setCurrentIndex(3)
    shown.which.activated.emit(3)
    assert shown.table.rowCount() == 4 and not shown.table.item(0, 0).text().endswith("?") and shown.table.item(3, 0).text().endswith("?")
    shown.close()


def test_heat_kept_on_and_a_margin_mend_the_far_end(demo: MainWindow, qtbot: QtBot) -> None:
    panel, store = step(demo, "heat"), demo.store
    store.look(joint_id="G1")
    before = store.now.judgement.counts["outside"]
    assert "the joint falls to" in panel.bad.text() and before > 0
    panel.flags["preheat_held"].click()
    assert store.joint.heat.preheat_held and "the joint falls to" not in panel.bad.text() and store.now.judgement.counts["outside"] < before
    panel.flags["preheat_held"].click()
    type_in(qtbot, panel.fields["margin_k"].edit, "110")
    assert store.joint.heat.margin_k == 110 and "the joint falls to" not in panel.bad.text()


def test_what_was_read_at_the_joint_comes_to_the_heat(demo: MainWindow) -> None:
    demo.store.look(joint_id="G1")
    panel = step(demo, "heat")
    assert "Read at the joint (" in panel.read_there.text() and not panel.read_there.isHidden()
    factor = panel._there.factor
    assert factor is not None and f"{factor:.2f}"[:3] in panel.read_there.text()
    before = demo.store.joint.heat.loss_factor
    panel.use_there()
    assert demo.store.joint.heat.loss_factor == pytest.approx(factor, abs=0.01) != before
    demo.store.undo()
    demo.open_view("curves")
    read = demo.opened["curves"]._there()
    assert len(read) == len(panel._there.readings) and all(20 < c < 300 for _, c in read)
    demo.opened["curves"].close()
    demo.store.look(joint_id="F2")
    assert panel.read_there.isHidden() and panel.there_button.isHidden()


def test_other_ways_of_working_are_looked_for_anew_with_other_rods_under_an_issued_plan(demo: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    store = demo.store
    store.look(joint_id="G1")
    step(demo, "heat")
    asked, real, plan = list[str](), store.errands.run, store.now.plan
    monkeypatch.setattr(store.errands, "run", lambda errand: (asked.append(errand.key), real(errand)))
    rod = next(r for r in store.job.rods if r.id not in {p.rod.id for p in plan.passes})
    store.edit(store.job.with_rod(replace(rod, burn_off_g_ah=7.1)), "Rod")
    assert store.now.plan is plan and OTHERS in asked
