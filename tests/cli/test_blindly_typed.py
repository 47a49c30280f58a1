"""Figures no one means, in every option that is a figure: told, never a traceback, never a nan in what is printed."""

from __future__ import annotations

from pathlib import Path

import pytest

from banister.cli.main import run
from banister.job.library import data_file

DEMO = str(data_file("demo.banister"))
WILD = ("0", "-1", "nan", "inf", "-inf", "1e999", "1e-300", "9" * 400)
FIGURES = {
    ("list", DEMO): ("--spare", "--packet"), ("take", DEMO, "--joint", "F2"): ("--confidence", "--quiver"), ("stops", DEMO, "--joint", "F2"): ("--wanted",),
    ("turn", "RADII", "RADII"): ("--seam-a", "--apart", "--most", "--limit"), ("testpieces", DEMO, "--joint", "P4"): ("--rule",),
    ("repair", "JOB", "142", "--joint", "P4"): ("--top", "--height", "--dug"), ("plan", DEMO, "--joint", "F2"): ("--rates",),
    ("sure", DEMO, "--joint", "G1"): ("--draws", "--seed"),
}  # fmt: skip


@pytest.mark.parametrize("arguments", FIGURES, ids=lambda arguments: arguments[0])
def test_wild_figures_are_told(arguments: tuple[str, ...], tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    radii, job = tmp_path / "r.csv", tmp_path / "d.banister"
    radii.write_text("angle_deg,radius_mm\n" + "".join(f"{a},{100 + a % 7}\n" for a in range(0, 360, 40)))
    job.write_bytes(data_file("demo.banister").read_bytes())
    job.with_name("d.banister-journal").write_bytes(data_file("demo.banister-journal").read_bytes())
    given = [{"RADII": str(radii), "JOB": str(job)}.get(a, a) for a in arguments]
    for option in FIGURES[arguments]:
        for value in WILD:
            try:
                code = run([*given, f"{option}={value}"])
            except SystemExit as stopped:
                code = stopped.code
            said = capsys.readouterr()
            assert code in (0, 1, 2, 3) and "nan" not in said.out.split() and "inf" not in said.out.split(), (option, value)
            assert code != 2 or option.strip("-") in said.err.lower(), (option, value, said.err)
