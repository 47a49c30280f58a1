"""All text comes from the table of words: with every entry in brackets, nothing outside them is left but figures, units, codes and the user's own."""

from __future__ import annotations

import re
import string
import subprocess
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QListWidget,
    QMainWindow,
    QTableWidget,
    QTextBrowser,
    QWidget,
)  # fmt: skip

import banister.job.library as library
from banister.cli.main import COMMANDS, run
from banister.core.units import KINDS
from banister.core.value import replace
from banister.core.words import ROUND_FIGURE, Entry
from banister.desktop.app.window import MainWindow
from banister.desktop.derived import FRONT
from banister.desktop.steps.heat.panel import OTHERS
from banister.desktop.steps.registry import STEPS
from banister.job.acceptance import shipped_sets
from banister.job.journal import read_journal
from banister.job.library import data_file, demo_job
from banister.job.practice import read_practice
from tests.conftest import SAY, SAY_INCH
from tests.desktop.conftest import Answers, demo, dialogs, nothing_is_left, remembered_together, unshown, window  # noqa: F401  fixtures
from tests.desktop.test_files import own_files  # noqa: F401  fixture


def bracketed(entry: Entry) -> Entry:
    """What an entry says itself in brackets; what is put into it stays outside."""
    if not isinstance(entry, str):
        return {form: bracketed(text) for form, text in entry.items()}
    if not any(name for _, name, _, _ in parts_of(entry)):
        return f"\u2039{entry}\u203a"
    return "".join((f"\u2039{said}\u203a" if said else "") + within(name) for said, name, _, _ in parts_of(entry))


def within(name: str | None) -> str:
    """A figure that is put in; one that stands in the entry itself is of the table as well."""
    metric, _, inch = (name or "").removeprefix("=").partition("|")
    return f"{{=\u2039{metric}\u203a|\u2039{inch}\u203a}}" if inch else f"{{{name}}}" if name else ""


def parts_of(entry: str) -> list[tuple[str, str | None, str | None, str | None]]:
    try:
        return list(string.Formatter().parse(entry))
    except ValueError:
        return [(entry, None, None, None)]


@pytest.fixture
def brackets(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    real_flat, real_pages = library.flat, library.pages

    def flat(groups: dict[str, Any], prefix: str = "") -> dict[str, Entry]:
        found = real_flat(groups, prefix)
        return found if prefix else {key: bracketed(entry) for key, entry in found.items()}

    monkeypatch.setattr(library, "flat", flat)
    monkeypatch.setattr(library, "pages", lambda text: {key: bracketed(page) for key, page in real_pages(text).items()})
    library.words.cache_clear()
    yield
    library.words.cache_clear()


UNITS = sorted({unit for kind in KINDS.values() for unit in (kind.metric, kind.inch) if unit} | {"h", "min", "s"}, key=len, reverse=True)
JOB = demo_job()
BOOK = read_practice(data_file("demo.banister-practice"))
RECORDS = read_journal(data_file("demo.banister-journal")).records
OWN = {
    JOB.name, JOB.site, JOB.prepared_by, JOB.checked_by, JOB.notes, *(v for j in JOB.joints for v in (
        j.id, j.name, j.drawing, j.procedure, j.procedure_revision, j.welder, j.metal.group, *(r.note for r in j.fitup.readings))),
    *(v for p in JOB.procedures for v in (p.id, p.title, p.base_metal, p.revision, *p.positions)), *(w.mark for w in JOB.welders),
    *(str(r.d[key]) for r in RECORDS for key in ("by", "why", "note") if key in r.d), *(i.clause for found in shipped_sets().values() for i in found.items),
    *(v for s in BOOK.sessions for n in s.notes for v in (n.text, n.by)),
}  # fmt: skip
CODES = (
    r"ASME IX|AWS D1\.1|EN ISO|EN|ISO|QW(-\d+(\.\d+)?)?(\(b\))?", r"E[\dR]\w+(-\w+)?-[\d./]+(x\d+)?", r"E\d{4}(-\w+)?|ER\w+(-\w+)?",
    "[1-6]G|[1-6]F|P[A-J]|H-L045|J-L045",
    "SMAW|GTAW", "DCEP|DCEN|AC", r"((Ctrl|Shift|Alt)\+)*(Ins|Del|Return|PgDown|F\d+|[A-Z\d-])(?=:)", r"[RHFC]?\d+", r"[23]D", r"H\d+",
    "Mn|Si|Cr|Mo|Ni|Cu|Nb|Al|Ti", "[A-Zkx]",
)  # fmt: skip
"""What means the same in every language: rod types, positions, processes, polarities, pass labels, symbols."""


DIGEST = "(?:[0-9a-f]{4} ){15}[0-9a-f]{4}"


UNITS_AND_CODES = [re.compile(rf"(?<![A-Za-z\d])(?:{pattern})(?![A-Za-z\d])|(?<=\d)(?:{pattern})(?![A-Za-z])") for pattern in (*map(re.escape, UNITS), *CODES)]


def left_over(text: str, own: re.Pattern[str]) -> str:
    """What of a text is neither words of the table, nor the user's own, nor a figure, a unit or a code."""
    text = re.sub(r"<[^>]*>", " ", text) if text.startswith("<p") else text
    text = re.sub(DIGEST, " ", text)
    before = None
    while before != text:
        before, text = text, re.sub(r"\u2039[^\u2039\u203a]*\u203a", " ", text)
    if not re.search("[A-Za-z]", text):
        return ""
    for pattern in (own, *UNITS_AND_CODES):
        text = pattern.sub(" ", text)
    return " ".join(re.findall(r"[A-Za-z]\w*", text))


def foreign(texts: set[str]) -> list[str]:
    cut, names = ("…", "..."), "|".join(re.escape(one) for one in sorted((o for o in OWN if len(o) > 1), key=len, reverse=True))
    own = re.compile(rf"(?<!\w)(?:{names})(?!\w)")
    whole = (text.rstrip("….") + "›" * (text.count("‹") - text.count("›")) if text.endswith(cut) else text for text in texts if len(text) > 1)
    return sorted(f"{text!r}: {left}" for text in whole if (left := left_over(text, own)))


def texts_on(widget: QWidget) -> Iterator[str]:
    """Every text a widget and its children show or say."""
    for one in (widget, *widget.findChildren(QWidget)):
        yield from (one.toolTip(), one.accessibleName(), one.accessibleDescription(), one.windowTitle(), one.statusTip())
        if isinstance(one, QLabel | QAbstractButton):
            yield one.text()
        if isinstance(one, QComboBox):
            yield from (one.itemText(i) for i in range(one.count()))
        if isinstance(one, QLineEdit):
            yield one.placeholderText()
        if isinstance(one, QListWidget):
            yield from (one.item(i).text() for i in range(one.count()))
        if isinstance(one, QTextBrowser):
            yield one.toPlainText()
        if isinstance(one, QTableWidget):
            heads = [one.horizontalHeaderItem(i) for i in range(one.columnCount())] + [one.verticalHeaderItem(i) for i in range(one.rowCount())]
            cells = [one.item(row, column) for row in range(one.rowCount()) for column in range(one.columnCount())]
            for item in (*heads, *cells):
                if item is not None:
                    yield from (item.text(), item.toolTip())
        if isinstance(one, QMainWindow):
            yield from (text for action in one.findChildren(type(one.menuBar().actions()[0])) for text in (action.text(), action.toolTip()))


@pytest.fixture
def painted(monkeypatch: pytest.MonkeyPatch) -> set[str]:
    """Every text that is painted."""
    found: set[str] = set()
    real = QPainter.drawText

    def drawn(self: QPainter, *arguments: Any) -> Any:
        found.update(a for a in arguments if isinstance(a, str))
        return real(self, *arguments)

    monkeypatch.setattr(QPainter, "drawText", drawn)
    return found


OF_EVERY_JOINT = ("joint", "passes", "heat", "fitup", "inspect", "record")
"""Steps whose words differ from joint to joint."""


@pytest.mark.awaits("answers", "front", "others")
@pytest.mark.usefixtures("brackets", "own_files")
def test_the_window_says_nothing_that_is_not_in_the_table(painted: set[str], window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    for name in ("MOST_CHOICES", "ROUNDS", "TRIES"):
        monkeypatch.setattr(f"banister.core.heat.board_search.{name}", 1)
    texts = set(texts_on(window))
    window.open_demo()
    window.work.show_table()
    for joint in window.store.job.joints:
        window.store.look(joint_id=joint.id)
        window.store.select(window.store.now.plan.passes[-1])
        for step in STEPS if joint is window.store.job.joints[0] else (one for one in STEPS if one.key in OF_EVERY_JOINT):
            window.go_to(step.key)
            window.rail.set_scale(step.key == "heat")
            texts |= set(texts_on(window))
            window.grab()
        window.errands.left_out |= {FRONT, OTHERS}  # the same words for every joint
    window.store.look(joint_id="P4", step="inspect")
    for one in window.store.inspection.found.seen:
        window.store.look(inspect_seen=one.id, inspect_mm=one.s_mm)
        texts |= set(texts_on(window))
        for key in ("cause", "repair"):
            window.open_view(key)
            texts |= set(texts_on(window.opened[key]))
            window.opened[key].grab()
            window.opened[key].close()
    window.open_view("book")
    texts |= set(texts_on(window.opened["book"]))
    window.opened["book"].close()
    window.store.look(joint_id=window.store.job.joints[-1].id, step="passes")
    window.store.issue()
    window.store.edit_joint("own words", root_gap_mm=4.0, high_low_mm=3.0)
    OWN.add("own words")
    job = window.store.job
    window.store.edit(replace(job, shift=replace(job.shift, left_out=tuple(joint.id for joint in job.joints[2:]))), "own words")
    texts |= set(texts_on(window))
    for key in ("curves", "map", "tables", "board", "chooser", "stops", "print", "play", "reckon", "film"):
        window.open_view(key)
        texts |= set(texts_on(window.opened[key]))
        window.opened[key].grab()
        window.opened[key].close()
    window.show_help()
    texts |= set(texts_on(window.help_dialog))
    window.show_keys()
    texts |= set(texts_on(window.help_dialog))
    QApplication.processEvents()
    for one in window.findChildren(QWidget):
        if one.isWindow() and one is not window:
            one.close()
    assert len(texts) > 300 and len(painted) > 100
    assert foreign({t for t in texts | painted if not t.startswith("/")}) == []


def test_what_cannot_be_is_said_over_the_drawing_without_the_path_of_its_field(painted: set[str], window: MainWindow) -> None:  # noqa: F811
    window.open_demo()
    window.store.look(joint_id="H1")
    window.store.edit_joint("thin", right_thickness_mm=8.0, taper=0.0)
    painted.clear()
    window.section.grab()
    assert [t for t in painted if "ends under the root" in t] == [window.store.say.sentence(window.store.now.plan.reasons[0])]


def without_options(text: str) -> str:
    """Help without the command language itself: options, what stands for their values, choices, commands, examples as typed."""
    text = re.sub(r"\{[^}]*\}|--?[a-z][\w-]*|\b[A-Z]*x[A-Z]+\b|'[^']*'|\b[A-Z]+(?:_[A-Z]+)*\b|\b[A-Z]+(?=:)|\bH:MM\b", " ", text)
    return re.sub(rf"^\s*({'|'.join((*COMMANDS, 'derive', 'list', 'attach', 'welder', 'format'))})(?=\s|$)|\bbanister\b", " ", text, flags=re.MULTILINE)


@pytest.mark.usefixtures("brackets")
@pytest.mark.parametrize("arguments", [[command, "--help"] for command in COMMANDS] + [["--help"], ["plan"], ["heat", "x", "--air"], ["plan", "--answer", "y"]])
def test_help_of_the_command_line_comes_from_the_table(arguments: list[str], monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture) -> None:
    monkeypatch.setenv("COLUMNS", "400")
    run(arguments)
    out, err = capsys.readouterr()
    text = re.sub(r"\b(plan|heat)(?=: )|usage.*", " ", out + err)
    assert "\u203a" in out + err and foreign({without_options(text)}) == []


IDS = {t.id for t in library.shipped_techniques()}


@pytest.mark.usefixtures("brackets")
@pytest.mark.parametrize(
    "arguments",
    [["plan"], ["plan", "--joint", "H1", "--inches"], ["check"], ["check", "--all"], ["heat"], ["heat", "--joint", "F2", "--what-if"],
     ["heat", "--joint", "F2", "--map", "--inches"], ["board", "--quick"], ["compare", "--joint", "H1", "--job"], ["techniques"], ["rods"],
     ["stops", "--joint", "P4", "--inches"], ["take", "--joint", "F2", "--trips"]],
)  # fmt: skip
def test_the_command_line_prints_nothing_that_is_not_in_the_table(arguments: list[str], capsys: pytest.CaptureFixture) -> None:
    run([*arguments, *([] if arguments[0] == "rods" else [str(data_file("demo.banister"))])])
    out, err = capsys.readouterr()
    text = re.sub(r"/tmp/\S+", " ", out + err)
    for technique in sorted(IDS, key=len, reverse=True):
        text = re.sub(rf"(?<![\w-]){technique}(?![\w-])", " ", text)
    assert len(out) > 100 and foreign({text}) == []


@pytest.mark.usefixtures("brackets")
@pytest.mark.parametrize("command", ["plan", "board"])
def test_paper_says_nothing_that_is_not_in_the_table(command: str, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    pdf = tmp_path / "s.pdf"
    run([command, str(data_file("demo.banister")), "--pdf", str(pdf), *(["--quick"] if command == "board" else [])])
    capsys.readouterr()
    text = subprocess.run(["pdftotext", "-raw", str(pdf), "-"], capture_output=True, text=True, check=True).stdout
    text = re.sub(r"\b(\w+,? )*\w+\.\.\.", " ", text.replace("\n", " "))  # names of the user's own that are shortened
    assert len(text) > 1000 and foreign({text}) == []


MILLIMETRES = {"mm": 1.0, "in": 25.4, "\N{DEGREE SIGN}C": 1.0, "\N{DEGREE SIGN}F": 1 / 1.8}
IN_MILLIMETRES = ("cli.", "remark.typed.")
"""What is typed on the command line is metric, and examples of how to type a figure show both."""


def sizes(said: str) -> list[float]:
    """The figures of a round figure, in millimetres or degrees Celsius of difference."""
    *figures, unit = re.split(r" to | x | (?=mm|in|\N{DEGREE SIGN})", said)
    return [float(Fraction(figure)) * MILLIMETRES[unit] for figure in figures]


def test_a_round_figure_in_a_sentence_is_said_in_either_unit() -> None:
    entries = {key: text for key, entry in library.words().entries.items() for text in (entry.values() if isinstance(entry, dict) else [entry])}
    loose = [key for key, text in entries.items() if re.search(r"\d\s*(mm|kJ|\N{DEGREE SIGN}C)\b", ROUND_FIGURE.sub("", text))]
    assert [key for key in loose if not key.startswith(IN_MILLIMETRES)] == ["help.joint"]
    pairs = [pair for text in entries.values() for pair in ROUND_FIGURE.findall(text)]
    assert len(pairs) > 20
    for metric, inch in pairs:
        assert sizes(inch) == pytest.approx(sizes(metric), rel=0.25), (metric, inch)
    assert "Tack 5/8 to 1 in long" in SAY_INCH("gap.closing.pipe", wider="") and "Tack 15 to 25 mm long" in SAY("gap.closing.pipe", wider="")
