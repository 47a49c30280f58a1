"""DXF read back by the library that audits it: true millimetres, a layer a style, cut at clips, the same bytes twice."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import pytest

from banister.cli.main import run
from banister.core.drawing.section import section_drawing
from banister.core.drawing.shapes import Clip, Drawing, Lines, Polygon, Text
from banister.core.plan.answers import plan_joint
from banister.core.polygon import area
from banister.export.dxf import PIXEL_MM, chart_dxf, section_dxf
from banister.job.library import data_file, demo_job
from tests.conftest import SAY


def read_back(data: bytes) -> Any:
    import ezdxf  # takes half a second: only where it is used
    from ezdxf import units

    document = ezdxf.read(io.StringIO(data.decode("utf-8")))
    audit = document.audit()
    assert not audit.errors and not audit.fixes and document.units == units.MM
    return document


@pytest.mark.parametrize("joint_id", ["F2", "G1", "P4", "H1"])
def test_a_section_is_in_true_millimetres_with_every_bead(joint_id: str) -> None:
    job = demo_job()
    joint = job.joint(joint_id)
    plan = plan_joint(joint, job.rods_by_id)
    data = section_dxf(section_drawing(joint, plan, SAY), "Süll, 22 mm")
    assert data == section_dxf(section_drawing(joint, plan, SAY), "Süll, 22 mm")
    document = read_back(data)
    assert document.header.custom_vars.get("Title") == "Süll, 22 mm"
    space = document.modelspace()
    beads = [e for e in space.query("LWPOLYLINE") if e.dxf.layer.startswith("bead.") and e.closed]
    areas = sorted(abs(area([(x, y) for x, y, *_ in e.get_points()])) for e in beads)
    assert areas == pytest.approx(sorted(abs(area(p.outline_mm)) for p in plan.passes), rel=1e-6)
    from ezdxf import bbox

    edges = bbox.extents(e for e in space if e.dxf.layer == "groove.edge")
    assert edges.size.y == pytest.approx(joint.prep.thickness_mm, abs=0.02)


def test_a_chart_is_cut_at_its_clips_and_as_large_as_on_paper() -> None:
    line = Lines((((0.0, 50.0), (90.0, 50.0)), ((90.0, 50.0), (200.0, 50.0))), "dimension")
    block = Polygon(((-50.0, 10.0), (50.0, 10.0), (50.0, 40.0)), "plate")
    inside = Clip((10.0, 0.0, 100.0, 100.0), (line, block, Text((150.0, 50.0), "outside", "number"), Text((20.0, 20.0), "12", "number")))
    space = read_back(chart_dxf(Drawing((inside,), (0.0, 0.0, 200.0, 100.0)), "strip")).modelspace()
    (run_,) = [e for e in space.query("LWPOLYLINE") if e.dxf.layer == "dimension"]
    assert [p[0] / PIXEL_MM for p in run_.get_points()] == pytest.approx([10.0, 90.0, 100.0]), "one line, not three"
    (area_,) = [e for e in space.query("LWPOLYLINE") if e.dxf.layer == "plate"]
    assert min(p[0] for p in area_.get_points()) == pytest.approx(10.0 * PIXEL_MM)
    assert [t.dxf.text for t in space.query("TEXT")] == ["12"]


def test_the_command_line_writes_section_and_laths(tmp_path: Path) -> None:
    demo, section, laths = str(data_file("demo.banister")), tmp_path / "section.dxf", tmp_path / "laths.dxf"
    assert run(["plan", demo, "--joint", "P4", "--dxf", str(section)]) == 0
    run(["stops", demo, "--joint", "P4", "--dxf", str(laths)])
    for path in (section, laths):
        assert len(read_back(path.read_bytes()).modelspace()) > 20
