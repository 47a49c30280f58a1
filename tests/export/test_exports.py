"""PDF and drawings: embedded fonts, every pass printed, equal bytes, numbers readable for all."""

from __future__ import annotations

import subprocess
from dataclasses import replace
from pathlib import Path

import pytest

from banister.core.drawing.hatch import hatched
from banister.core.drawing.palette import DARK, LIGHT, PAPER
from banister.core.drawing.section import pass_label, section_drawing
from banister.core.drawing.shapes import Polygon, Text
from banister.core.heat.schedule import schedule_of
from banister.core.joint.working import Choices
from banister.core.plan.answers import plan_joint
from banister.core.units import Units, clock, inch_fraction, minutes, parsed_length_mm
from banister.export.pdf import pass_sheets
from banister.job.library import demo_job

MM, INCH = Units(), Units(True)


def sheet(units: Units = MM, paper: str = "A4", **changes: object) -> tuple[bytes, object]:
    job = demo_job()
    joint = replace(job.joints[3], **changes)
    plan = plan_joint(joint, job.rods_by_id)
    return pass_sheets(job, [(joint, plan)], units, paper), plan


def tool(name: str, data: bytes, tmp_path: Path, *options: str) -> str:
    path = tmp_path / "s.pdf"
    path.write_bytes(data)
    return subprocess.run([name, *options, str(path), *(["-"] if name == "pdftotext" else [])], capture_output=True, text=True, check=True).stdout


@pytest.mark.parametrize(("units", "paper"), [(MM, "A4"), (INCH, "Letter")])
def test_the_sheet_has_every_pass_its_fonts_and_its_cautions(units: Units, paper: str, tmp_path: Path) -> None:
    data, plan = sheet(units, paper)
    text = tool("pdftotext", data, tmp_path, "-layout")
    assert all(pass_label(p) in text for p in plan.passes)
    for words in ("not set", "Check against your qualified procedure", "Prepared by", "Checked by", "Arc rays", "qualifies nothing", "k = 0.8"):
        assert words in text
    fonts = tool("pdffonts", data, tmp_path).splitlines()[2:]
    assert fonts and all(" yes yes " in line for line in fonts)


def test_the_sheet_carries_waits_preheat_interpass_and_cooling_times(tmp_path: Path) -> None:
    data, plan = sheet()
    text = tool("pdftotext", data, tmp_path, "-layout")
    joint = demo_job().joints[3]
    schedule = schedule_of(joint, plan)
    assert f"interpass at most {schedule.limits.interpass_c:g}" in text and "measure before every pass" in text
    rows = {line.split()[0]: line for line in text.split("Wait first")[1].splitlines() if line.strip()}
    for p, s in zip(plan.passes, schedule.passes, strict=True):
        row = rows[pass_label(p)]
        assert clock(s.start_s) in row and f"{s.t85.seconds:.1f}" in row and (s.wait_s < 1 or minutes(s.wait_s) in row)


def test_equal_input_gives_equal_bytes() -> None:
    assert sheet()[0] == sheet()[0]


def test_a_sheet_without_a_plan_says_why(tmp_path: Path) -> None:
    data, _ = sheet(preparation="square", backing="open", name="A <long> & odd name " * 6)
    text = tool("pdftotext", data, tmp_path)
    assert "No plan" in text and "square butt" in text and "<long> &" in text


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
    joint = replace(demo_job().joints[0], windows=(), choices=Choices())
    plan = plan_joint(joint, demo_job().rods_by_id)
    labels = {p.role: pass_label(p)[0] for p in plan.passes}
    assert len(set(labels.values())) == len(labels)
    strokes = {s.style for s in section_drawing(joint, plan, MM).shapes if s.style.startswith("hatch.")}
    assert strokes == {"hatch.root", "hatch.hot", "hatch.cap"}


def test_the_drawing_carries_dimensions_in_the_units_worked_in() -> None:
    joint = demo_job().joints[0]
    texts = {units: [s.text for s in section_drawing(joint, None, units).shapes if isinstance(s, Text)] for units in (MM, INCH)}
    assert "22 mm" in texts[MM] and "root gap b 3 mm" in texts[MM] and texts[MM].count("30\N{DEGREE SIGN}") == 2
    assert "7/8 in" not in texts[INCH] and any("in" in t for t in texts[INCH])


def test_beads_of_the_drawing_are_the_plans_outlines() -> None:
    joint = demo_job().joints[1]
    plan = plan_joint(joint, demo_job().rods_by_id)
    drawn = {s.id: s.points for s in section_drawing(joint, plan, MM).shapes if isinstance(s, Polygon) and s.style.startswith("bead.")}
    assert drawn == {p.id: p.outline_mm for p in plan.passes}


def test_hatching_stays_inside() -> None:
    square = ((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0))
    strokes = hatched(square, 45.0, 1.0)
    assert len(strokes) > 10
    assert all(-1e-9 <= v <= 10 + 1e-9 for a, b in strokes for v in (*a, *b))


@pytest.mark.parametrize(
    ("text", "mm"),
    [("2.4", 2.4), ("2,4 mm", 2.4), ("3/32", 2.38125), ("1/8 in", 3.175), ("1 1/4", 31.75), ('5/8"', 15.875), ("1.2 m", 1200.0), ("4 cm", 40.0)],
)
def test_lengths_as_people_write_them(text: str, mm: float) -> None:
    assert parsed_length_mm(text) == pytest.approx(mm)
    assert parsed_length_mm("2", inches=True) == 50.8


@pytest.mark.parametrize("text", ["", "abc", "3/0", "1..2", "1/2/3", "--3", "5 furlongs"])
def test_what_is_no_length_says_so(text: str) -> None:
    with pytest.raises(ValueError, match=r"length|zero"):
        parsed_length_mm(text)


def test_inch_fractions_read_back_within_a_tenth() -> None:
    for tenth in range(5, 800):
        mm = tenth / 10
        assert parsed_length_mm(inch_fraction(mm), inches=True) == pytest.approx(mm, abs=0.1 + 1e-9)
