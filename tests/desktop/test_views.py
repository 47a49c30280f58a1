"""How the window looks: it fits in a small and a large size, nothing is clipped, every glyph is there, every action has its word and key."""

from __future__ import annotations

import itertools
import re
from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPoint, Qt
from PySide6.QtGui import QFont, QRawFont
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QTableView, QWidget
from pytestqt.qtbot import QtBot
from shiboken6 import isValid

from banister.core.drawing.advances import CHARACTERS, advance
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, PLAIN, Drawing, Text
from banister.core.joint.heating import Reading
from banister.core.value import replace
from banister.desktop.app.frame import BELOW
from banister.desktop.app.help import HelpDialog, help_text
from banister.desktop.app.theme import FONTS
from banister.desktop.app.views import CLASSES, is_open
from banister.desktop.app.window import MainWindow
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.canvas.section_view import SectionView
from banister.desktop.steps.registry import STEPS
from banister.job.library import data_file
from tests.conftest import shapes_of, texts_of
from tests.core.test_charts import collisions, outside

pytestmark = pytest.mark.awaits("answers")


PAPER_FACES = {PLAIN: "IBMPlexSans-Regular", BOLD: "IBMPlexSans-SemiBold", NARROW: "IBMPlexSansCondensed-Regular", NARROW_BOLD: "IBMPlexSansCondensed-Medium"}


@pytest.mark.awaits("front", "others")
@pytest.mark.parametrize(("size", "dark"), [((960, 540), True), ((1280, 800), False)])
def test_views_fit_and_the_section_is_the_largest(demo: MainWindow, size: tuple[int, int], dark: bool) -> None:
    demo.resize(*size)
    demo.store.look(dark=dark)
    for i, one in enumerate(STEPS):
        joint = demo.store.job.joints[i % len(demo.store.job.joints)]
        demo.store.look(joint_id=joint.id, step=one.key, inches=bool(i % 2))
        demo.rail.set_scale(bool(i % 2))
        QCoreApplication.processEvents()
        assert (demo.width(), demo.height()) == size, "nothing pushes the window larger"
        step = one.key
        panel, room = demo.work.panel(step), demo.work._areas[step].viewport().width()
        assert panel.minimumSizeHint().width() <= room and panel.width() == room, (step, "nothing is cut at the side")
        area = demo.section.width() * demo.section.height()
        assert step in BELOW or size[1] < 700 or all(area > w.width() * w.height() for w in (demo.work.stair, demo.answers, demo.rail))
        assert clipped(demo.work) == [], (joint.id, one.key)
        assert not demo.section.isVisible() or collisions(words_in_pixels(demo.section)) == [], (joint.id, one.key)
        charts = [chart for chart in demo.findChildren(ChartView) if chart.isVisible() and chart.drawing is not None]
        assert {type(chart).__name__: found for chart in charts if (found := collisions(chart.drawing) + outside(chart.drawing))} == {}, (joint.id, one.key)
    assert demo.rail.theme is demo.theme and demo.theme.dark == dark


def words_in_pixels(section: SectionView) -> Drawing:
    """The words of a section, the numbers of its beads apart, where they lie in the widget."""
    words = [s for s in shapes_of(section.shown()) if isinstance(s, Text) and s.style != "number"]
    places = [section.frame_px.px(*s.at) for s in words]
    return Drawing(tuple(replace(s, at=(p.x(), s.lift - p.y()), lift=0.0) for s, p in zip(words, places, strict=True)), (0.0, 0.0, 1.0, 1.0))


def test_what_is_not_seen_takes_another_theme_when_it_next_is(demo: MainWindow) -> None:
    for step in ("limits", "passes"):
        demo.go_to(step)
    before = demo.theme
    demo.toggle_theme()
    assert demo.theme.dark != before.dark
    demo.go_to("limits")
    assert demo.work.grid.cells.item(0, 0).foreground().color().name() == demo.theme.text != before.text
    assert demo.work.panel("limits").shown is demo.store.now and demo.work.panel("limits").theme is demo.theme


WITH_UNITS = ("curves", "turn", "map", "list", "chooser")
"""Windows beside the work with figures of either unit in their heads or fields."""
METRIC, INCH = (
    re.compile(r"\d ?(mm\N{SUPERSCRIPT TWO}?|\N{DEGREE SIGN}C|kJ/mm|kg)(?!\w)|\bkg\b"),
    re.compile(r"\d ?(in\N{SUPERSCRIPT TWO}?|\N{DEGREE SIGN}F|kJ/in|lb)(?! \w| 6G)(?!\w)|\blb\b"),
)


def test_what_was_said_in_other_units_is_said_anew(demo: MainWindow) -> None:
    """With every step visited, and windows beside it open: no text of either unit is left behind."""
    demo.store.edit_joint("Read", readings=(Reading(at_s=3600.0, x_mm=10.0, temp_c=150.0),))
    for one in STEPS:
        demo.go_to(one.key)
    assert METRIC.search(demo.work.panel("heat").fit_text.text())
    for key in WITH_UNITS:
        demo.open_view(key)
    for inches in (True, False):
        demo.toggle_units()
        assert demo.store.view.inches == inches
        left = []
        for one in STEPS:
            demo.go_to(one.key)
            left += [(one.key, text) for text in said_on(demo) if (METRIC if inches else INCH).search(text)]
        left += [(key, text) for key in WITH_UNITS for text in said_on(demo.opened[key]) if (METRIC if inches else INCH).search(text)]
        assert left == []
    for key in WITH_UNITS:
        demo.opened[key].close()


def test_the_patterns_of_the_start_page_follow_the_units(window: MainWindow) -> None:
    assert "12 mm plate" in window.start.tiles[0].name
    window.toggle_units()
    assert "0.472 in plate" in window.start.tiles[0].name and window.start.tiles[0].accessibleName() == window.start.tiles[0].name


def said_on(widget: QWidget) -> set[str]:
    """Every text that is seen: of labels, buttons, lists, heads of tables and pictures."""
    seen = [w for w in widget.findChildren(QWidget) if w.isVisibleTo(widget)]
    found = {w.text() for w in seen if isinstance(w, QLabel | QAbstractButton)}
    found |= {w.itemText(i) for w in seen if isinstance(w, QComboBox) for i in range(w.count())}
    models = [w.model() for w in seen if isinstance(w, QTableView)]
    found |= {str(model.headerData(i, Qt.Orientation.Horizontal)) for model in models for i in range(model.columnCount())}
    return found | {text for w in seen if isinstance(getattr(w, "drawing", None), Drawing) for text in texts_of(w.drawing)}


def test_in_a_low_window_the_stair_folds_all_but_its_neighbours(demo: MainWindow) -> None:
    stair = demo.work.stair
    for height, folded in ((800, set()), (640, {i for i in range(len(STEPS)) if abs(i - 4) > 1})):
        demo.resize(1100, height)
        demo.go_to(STEPS[4].key)
        QCoreApplication.processEvents()
        assert {i for i in range(len(STEPS)) if stair.is_folded(i)} == folded
        tops = stair.tops_px()
        assert len(tops) == len(STEPS) + 1 and tops[-1] <= stair.height() + 1e-6, "all of them are seen"
        for i in (0, len(STEPS) - 1):
            QTest.mouseClick(stair, Qt.MouseButton.LeftButton, pos=QPoint(90, round((tops[i] + tops[i + 1]) / 2)))
            assert demo.store.view.step == STEPS[i].key
            tops = stair.tops_px()


def clipped(page: QWidget) -> list[str]:
    """Words of labels and buttons that have less room than they need."""
    found = []
    for widget in page.findChildren(QWidget):
        if not widget.isVisible() or not isinstance(widget, QLabel | QAbstractButton) or not widget.text():
            continue
        wraps = isinstance(widget, QLabel) and widget.wordWrap()
        needs = widget.heightForWidth(widget.width()) if wraps else widget.minimumSizeHint().width()
        if needs > (widget.height() if wraps else widget.width()) + 1:
            found.append(widget.text())
    return found


def test_the_shipped_fonts_have_every_glyph_the_program_says() -> None:
    shown = {c for path in (data_file("words/en.json"), data_file("words/en.md")) for c in Path(path).read_text(encoding="utf-8") if ord(c) > 126}
    shown |= set("\N{DEGREE SIGN}\N{SUPERSCRIPT TWO}\N{MULTIPLICATION SIGN}\N{RIGHTWARDS ARROW}\N{MINUS SIGN}\N{MIDDLE DOT}")
    assert "\N{RIGHTWARDS ARROW}" in shown and len(shown) >= 6
    assert [c for c in shown if c not in CHARACTERS] == [], "charts know the width of every one"
    for name in FONTS:
        raw = raw_font(name)
        assert [c for c in shown if not raw.supportsCharacter(ord(c))] == []
        assert not raw.supportsCharacter(0x1F600)


def raw_font(name: str) -> QRawFont:
    return QRawFont(str(data_file(f"fonts/{name}.ttf")), 1000.0, QFont.HintingPreference.PreferNoHinting)


@pytest.mark.parametrize("face", list(PAPER_FACES))
def test_charts_know_the_widths_of_the_shipped_fonts(face: str) -> None:
    raw, words = raw_font(PAPER_FACES[face]), "Hot pass 2: 115 \N{DEGREE SIGN}C, Wärme \N{RIGHTWARDS ARROW} 9"
    real = sum(at.x() for at in raw.advancesForGlyphIndexes(raw.glyphIndexesForString(words)))
    assert advance(words, 1000.0, face) == pytest.approx(real, abs=len(words))


def test_every_step_has_its_help_and_every_action_its_word_and_own_key(demo: MainWindow) -> None:
    for step in STEPS:
        demo.go_to(step.key)
        assert len(help_text(step.key, demo.store.say)) > 150
    demo.show_help()
    demo.show_keys()
    assert "Ctrl+Z" in demo.help_dialog.page.toPlainText()
    keys = [a.shortcut().toString() for a in demo.menus.actions.values() if not a.shortcut().isEmpty()]
    assert len(keys) == len(set(keys)) and all(a.text() for a in demo.menus.actions.values())
    demo.help_dialog.close()


def test_every_window_beside_the_work_closes_by_its_frame_or_by_esc_and_is_gone(demo: MainWindow, qtbot: QtBot) -> None:
    demo.store.look(joint_id="P4")
    demo.go_to("inspect")
    demo.store.look(inspect_seen=demo.store.inspection.found.seen[-1].id)
    ways = itertools.cycle((lambda view: view.close(), lambda view: qtbot.keyClick(view, Qt.Key.Key_Escape)))
    for key, close in zip((*CLASSES, "curves"), ways, strict=False):  # an odd number of them: the first both ways
        demo.open_view(key)
        view = demo.opened[key]
        close(view)
        assert not view.isVisible(), key
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        assert not isValid(view)


def test_what_can_be_under_way_can_be_told_to_have_failed(demo: MainWindow) -> None:
    entries = demo.store.say.words.entries
    under_way = {key for key in entries if key.startswith("busy.") and not key.endswith(".word")} - {"busy.cancel"}
    assert len(under_way) > 15 and [key for key in under_way if f"{key}.word" not in entries] == []


def test_help_is_one_window_however_often_it_is_asked_for(demo: MainWindow) -> None:
    for _ in range(3):
        demo.show_help()
    shown = [w for w in QApplication.topLevelWidgets() if isinstance(w, HelpDialog) and w.isVisible()]
    assert shown == [demo.help_dialog]
    demo.help_dialog.close()
    assert not is_open(demo.help_dialog)


def test_the_convention_of_drawing_is_one_switch_and_remembered(demo: MainWindow) -> None:
    before = texts_of(demo.section.drawing)
    demo.menus.actions["convention"].trigger()
    assert any("root gap b" in t for t in before) and any("root opening R" in t for t in texts_of(demo.section.drawing))
    assert demo.preferences.view().convention == "aws"
