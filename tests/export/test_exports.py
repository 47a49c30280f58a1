"""Sheets, tables and drawings: every cell as the JSON has it, embedded fonts, equal bytes, numbers readable for all."""

from __future__ import annotations

import csv
import io
import json
import re
import subprocess
from collections.abc import Callable
from datetime import date
from pathlib import Path

import pytest

from banister.cli.main import run
from banister.core.drawing.hatch import hatched
from banister.core.drawing.palette import DARK, LIGHT, PAPER
from banister.core.drawing.section import pass_label, section_drawing
from banister.core.drawing.shapes import Drawing, Lines, Polygon, Text
from banister.core.follow.facts import open_deviations
from banister.core.heat.line import heat_line
from banister.core.joint.joint import edited
from banister.core.journal import Record
from banister.core.plan.answers import plan_joint
from banister.core.remark import OUTSIDE, WATCH
from banister.core.sheet import Sheet
from banister.core.units import clock, minutes
from banister.core.words import Speech
from banister.export.sheet import pass_sheets
from banister.export.svg import svg_to_scale
from banister.job.library import data_file, demo_job, shipped_rows
from tests.conftest import SAY, SAY_INCH

DAY = date(2026, 11, 25)


def sheet_of(index: int, **changes: object) -> Sheet:
    job = demo_job()
    joint = edited(job.joints[index], **changes)
    plan = plan_joint(joint, job.rods_by_id)
    heat = heat_line(joint, plan) if plan.feasible else None
    return job.with_joint(joint).sheet_of(joint, plan, heat, shipped_rows(), DAY)


@pytest.fixture(scope="module")
def hinge() -> Sheet:
    return sheet_of(3)


@pytest.fixture(scope="module")
def girder() -> Sheet:
    return sheet_of(1)


def deviation(n: int, k: str, joint: str, **d: object) -> Record:
    return Record(n=n, t="2026-11-27T08:00:00Z", m=0.0, b="b", k=k, j=joint, d=d)


@pytest.fixture(scope="module")
def both(hinge: Sheet, girder: Sheet) -> bytes:
    """Two sheets on one day, with what is open of the first."""
    one, two = hinge.joint.id, girder.joint.id
    left = [deviation(n, "deviation", joint, rule="amps", value=180.0, limit=150.0) for n, joint in ((1, one), (2, one), (3, two))]
    found = open_deviations((*left, deviation(4, "disposition", two, of=3, **{"as": "accept", "why": "seen by Q2"})))
    assert found == {one: 2}
    return pass_sheets([hinge, girder], SAY, deviations=found, on="2026-11-29")


def tool(name: str, data: bytes, tmp_path: Path, *options: str) -> str:
    path = tmp_path / "s.pdf"
    path.write_bytes(data)
    return subprocess.run([name, *options, str(path), *(["-"] if name == "pdftotext" else [])], capture_output=True, text=True, check=True).stdout


# --- cell by cell -------------------------------------------------------------------------------
def documents(command: str, capsys: pytest.CaptureFixture) -> dict[str, dict]:
    run([command, str(data_file("demo.banister")), "--json"])
    return {joint["id"]: joint for joint in json.loads(capsys.readouterr().out)["joints"]}


PASS_COLUMNS: dict[str, tuple[str, Callable[[object], str]]] = {
    "pass": ("number", str), "role": ("role", str), "layer": ("layer", str), "consumable": ("consumable", str), "amps_A": ("amps", "{:g}".format),
    "volts_V": ("volts", "{:g}".format), "polarity": ("polarity", str), "technique": ("technique", str), "bead_area_mm2": ("area_mm2", "{:.2f}".format),
    "run_out_mm": ("run_out_mm", "{:.0f}".format), "travel_mm_min": ("travel_mm_min", "{:.0f}".format),
    "arc_energy_kJ_mm_k1": ("arc_energy_kj_mm", "{:.3f}".format), "heat_input_kJ_mm": ("heat_input_kj_mm", "{:.3f}".format),
    "heat_input_k": ("efficiency", "{:g}".format), "rods": ("rod_count", str), "arc_time_s": ("arc_time_s", "{:.0f}".format),
    "width_mm": ("width_mm", "{:.1f}".format), "state": ("state", str),
}  # fmt: skip
HEAT_COLUMNS: dict[str, tuple[str, Callable[[object], str]]] = {
    "pass": ("number", str), "start_s": ("start_s", "{:.0f}".format), "wait_s": ("wait_s", "{:.0f}".format), "reheat_s": ("reheat_s", "{:.0f}".format),
    "end_s": ("end_s", "{:.0f}".format), "temperature_c": ("temperature_c", "{:.0f}".format), "t85_s": ("t85_s", "{:.1f}".format),
}  # fmt: skip


@pytest.mark.parametrize(("command", "columns"), [("plan", PASS_COLUMNS), ("heat", HEAT_COLUMNS)])
def test_every_cell_of_a_table_is_the_jsons(command: str, columns: dict, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = tmp_path / "t.csv"
    run([command, str(data_file("demo.banister")), "--csv", str(path)])
    rows = list(csv.DictReader(io.StringIO(path.read_text())))
    joints = documents(command, capsys)
    found = [(key, p) for key, joint in joints.items() for p in (joint["alternatives"][joint["chosen"]]["passes"] if command == "plan" else joint["passes"])]
    between = [row for row in rows if not row["pass"]]
    rows = [row for row in rows if row["pass"]]
    assert len(rows) == len(found) > 50 and set(columns) <= set(rows[0])
    assert [row["role"] for row in between] == (["turn", "gouge"] if command == "plan" else []) and all(float(row["between_s"]) > 60 for row in between)
    for row, (key, p) in zip(rows, found, strict=True):
        assert row["joint"] == key
        for column, (name, shape) in columns.items():
            assert row[column] == ("" if p[name] is None else shape(p[name])), (column, row)


@pytest.mark.parametrize(("say", "paper"), [(SAY, "A4"), (SAY_INCH, "Letter")], ids=["mm", "inch"])
def test_every_cell_of_the_printed_tables_is_the_sheets(say: Speech, paper: str, girder: Sheet, tmp_path: Path) -> None:
    text = tool("pdftotext", pass_sheets([girder], say, paper), tmp_path, "-layout")
    first, heat = text.split(say("column.wait"))[0], text.split(say("column.wait"))[1]
    u = say.units
    heads = " ".join(f"{say(f'column.{key}')} {u.unit('energy')}" for key in ("arc_energy", "heat_input"))
    assert f"{heads} {say('column.rods')}" in " ".join(text.split()), "the columns follow one another as their cells do"
    for p in girder.plan.passes:
        (row,) = (line for line in first.splitlines() if line.split()[:1] == [pass_label(p)] and u.text("area", p.area_mm2) in line)
        after = row[row.index(u.text("area", p.area_mm2)) :]
        cells = [u.text("area", p.area_mm2), u.text("long_length", p.run_out_mm), u.text("speed", p.travel_mm_min), u.text("energy", p.arc_energy_kj_mm),
                 u.text("energy", p.heat_input_kj_mm), str(p.rod_count), minutes(p.arc_time_s)]  # fmt: skip
        assert after.split() == " ".join(cells).split() and f" {u.text('current', p.amps)} " in row and f" {u.text('voltage', p.volts)} " in row
    rows = {line.split()[0]: line for line in heat.splitlines() if line.strip()}
    for p, s in zip(girder.plan.passes, girder.heat.schedule.passes, strict=True):
        row = rows[pass_label(p)]
        assert clock(s.start_s) in row and u.text("temperature", s.temp_c) in row and f"{s.t85.seconds:.1f}" in row
        assert s.wait_s < 1 or minutes(s.wait_s).replace(" ", "") in row.replace(" ", "")


def test_everything_outside_and_to_watch_is_printed_and_the_tally_is_the_judges(girder: Sheet, tmp_path: Path) -> None:
    text = " ".join(tool("pdftotext", pass_sheets([girder], SAY), tmp_path, "-layout").split())
    counts = girder.judgement.counts
    assert counts[OUTSIDE] > 0 and f"{counts['inside']} inside, {counts[OUTSIDE]} outside, {counts['not judged']} not judged." in text
    assert "Outside: Pass" in text and "the joint falls to" in text
    for remark in girder.judgement.of(WATCH):
        assert " ".join(SAY.remedy(remark).split()[:4]) in text


def test_a_sheet_speaks_one_system_of_units_throughout(hinge: Sheet, both: bytes, tmp_path: Path) -> None:
    assert re.findall(r"\d (in|°F|kJ/in|in/min|lb)\b", tool("pdftotext", both, tmp_path, "-layout")) == []
    inch = tool("pdftotext", pass_sheets([hinge], SAY_INCH), tmp_path, "-layout")
    assert re.findall(r"\d (mm|°C|kJ/mm|mm/min|kg)\b", inch) == [] and " kJ/in" in inch


# --- the sheet ----------------------------------------------------------------------------------
def test_the_sheet_has_every_pass_its_fonts_and_its_cautions(hinge: Sheet, tmp_path: Path) -> None:
    data = pass_sheets([hinge], SAY)
    text = tool("pdftotext", data, tmp_path, "-layout")
    assert all(pass_label(p) in text for p in hinge.plan.passes)
    for words in ("not set", "not issued", "Check against your qualified procedure", "Prepared by", "Checked by", "Arc rays", "qualifies nothing", "k = 0.8"):
        assert words in text
    fonts = tool("pdffonts", data, tmp_path).splitlines()[2:]
    assert fonts and all(" yes yes " in line for line in fonts)


def test_equal_input_gives_equal_bytes(girder: Sheet) -> None:
    assert pass_sheets([girder], SAY) == pass_sheets([girder], SAY) != pass_sheets([girder], SAY_INCH)


def test_open_deviations_stand_on_the_sheet_of_their_joint(both: bytes, tmp_path: Path) -> None:
    said = tool("pdftotext", both, tmp_path)
    assert said.count("2 deviations from the procedure are open") == 1 and said.count("deviations from") == 1


def test_a_sheet_without_a_plan_says_why(tmp_path: Path) -> None:
    text = tool("pdftotext", pass_sheets([sheet_of(3, key="square", backing="open", name="A <long> & odd name " * 6)], SAY), tmp_path)
    assert "No plan" in text and "square butt" in text and "<long> &" in text


# --- drawings -----------------------------------------------------------------------------------
def luminance(colour: str) -> float:
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a: str, b: str) -> float:
    low, high = sorted((luminance(a), luminance(b)))
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("palette", [LIGHT, DARK, PAPER], ids=["light", "dark", "paper"])
def test_numbers_and_dimensions_keep_their_contrast(palette: dict[str, str]) -> None:
    for role in ("root", "hot", "fill", "cap"):
        assert contrast(palette["number"], palette[f"bead.{role}"]) >= 4.5
    assert contrast(palette["dimension"], palette["paper"]) >= 4.5
    assert contrast(palette["outside"], palette["paper"]) >= 4.5


def test_roles_are_told_without_colour() -> None:
    joint = edited(demo_job().joints[0], windows=())
    plan = plan_joint(joint, demo_job().rods_by_id)
    labels = {p.role: pass_label(p)[0] for p in plan.passes}
    assert len(set(labels.values())) == len(labels)
    strokes = {s.style for s in section_drawing(joint, plan, SAY).shapes if s.style.startswith("hatch.")}
    assert strokes == {"hatch.root", "hatch.hot", "hatch.cap"}


def test_the_drawing_carries_dimensions_in_the_units_worked_in() -> None:
    joint = demo_job().joints[0]
    metric, inch = ([s.text for s in section_drawing(joint, None, say).shapes if isinstance(s, Text)] for say in (SAY, SAY_INCH))
    assert "22 mm" in metric and "root gap b 3 mm" in metric and metric.count("30\N{DEGREE SIGN}") == 2
    assert "0.866 in" in inch and "root gap b 0.118 in" in inch and not any("mm" in text for text in inch)


def test_beads_of_the_drawing_are_the_plans_outlines() -> None:
    joint = demo_job().joints[1]
    plan = plan_joint(joint, demo_job().rods_by_id)
    drawn = {s.id: s.points for s in section_drawing(joint, plan, SAY).shapes if isinstance(s, Polygon) and s.style.startswith("bead.")}
    assert drawn == {p.key: p.outline_mm for p in plan.passes}


def test_hatching_stays_inside() -> None:
    square = ((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0))
    strokes = hatched(square, 45.0, 1.0)
    assert len(strokes) > 10
    assert all(-1e-9 <= v <= 10 + 1e-9 for a, b in strokes for v in (*a, *b))


def test_a_table_in_inches_and_with_a_decimal_comma_holds_the_same_figures(tmp_path: Path) -> None:
    found = {}
    for name, options in (("metric", []), ("inch", ["--inches"]), ("comma", ["--decimal", "comma"])):
        path = tmp_path / f"{name}.csv"
        run(["plan", str(data_file("demo.banister")), "--csv", str(path), *options])
        raw = path.read_bytes()
        assert raw.startswith(b"\xef\xbb\xbf") == (name == "comma")
        found[name] = list(csv.DictReader(io.StringIO(raw.decode("utf-8-sig")), delimiter=";" if name == "comma" else ","))
    assert {len(rows) for rows in found.values()} == {len(found["metric"])}
    for metric, inch, comma in zip(*found.values(), strict=True):
        assert {key: value.replace(",", ".") for key, value in comma.items()} == metric
        if metric["pass"]:
            assert float(inch["run_out_in"]) == pytest.approx(float(metric["run_out_mm"]) / 25.4, abs=0.06)
            assert float(inch["heat_input_kJ_in"]) == pytest.approx(float(metric["heat_input_kJ_mm"]) * 25.4, abs=0.02)
            assert float(inch["bead_area_in2"]) == pytest.approx(float(metric["bead_area_mm2"]) / 645.16, abs=2e-5)
    assert any("," in row["volts_V"] for row in found["comma"])


def test_a_section_as_svg_is_true_to_size() -> None:
    """Two points 100 mm apart lie as many times 100 mm apart as the title says."""
    drawing = Drawing((Lines((((0.0, 0.0), (100.0, 0.0)),), "rule"),), (0.0, 0.0, 100.0, 40.0))
    text = svg_to_scale(drawing, "A line")
    scale = int(re.search(r"A line, (\d+) : 1", text).group(1))
    wide_mm, box = float(re.search(r'width="([\d.]+)mm"', text).group(1)), float(re.search(r'viewBox="0 0 ([\d.]+)', text).group(1))
    start, end = (float(x) for x in re.search(r'd="M([\d.]+),[\d.]+ L([\d.]+),', text).groups())
    assert (end - start) / box * wide_mm == pytest.approx(100.0 * scale, abs=0.01) and scale == 2


def test_a_pdf_knows_its_language_its_pages_and_its_joints(both: bytes, tmp_path: Path) -> None:
    pages = int(re.search(r"Pages:\s+(\d+)", tool("pdfinfo", both, tmp_path)).group(1))
    text = tool("pdftotext", both, tmp_path, "-layout")
    assert text.count(f"of {pages}") == pages and f"page {pages} of {pages}" in text and text.count("Printed 2026-11-29.") == pages
    assert b"/Lang" in both and b"/Outlines" in both and both.count(b"/Title") >= 3
