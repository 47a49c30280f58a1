"""The wheel holds every file the program reads and what a desktop asks for, and runs away from its source."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import xml.etree.ElementTree as ET
import zipfile
from configparser import ConfigParser
from pathlib import Path

import pytest

from banister.job.library import data_file

PROJECT = Path(__file__).parents[1]
SHARED = {"applications/banister.desktop", "icons/hicolor/scalable/apps/banister.svg", "mime/packages/banister.xml", "metainfo/banister.metainfo.xml"}


@pytest.fixture(scope="module")
def unpacked(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A wheel of a copy of the project, unpacked."""
    here = tmp_path_factory.mktemp("wheel")
    for name in ("src", "packaging"):
        shutil.copytree(PROJECT / name, here / "project" / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(PROJECT / name, here / "project")
    pip = (sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check")
    subprocess.run([*pip, "wheel", "--no-deps", "--no-build-isolation", "--no-index", "-w", here, here / "project"], check=True)
    (wheel,) = here.glob("*.whl")
    with zipfile.ZipFile(wheel) as archive:
        archive.extractall(here / "unpacked")
    return here / "unpacked"


def test_the_wheel_holds_all_data_and_what_a_desktop_asks_for(unpacked: Path) -> None:
    for folder, pattern in ((PROJECT / "src/banister", "*.py"), (PROJECT / "src/banister/data", "*")):
        wanted = {p.relative_to(PROJECT / "src") for p in folder.rglob(pattern) if p.is_file() and "__pycache__" not in p.parts}
        assert wanted <= {p.relative_to(unpacked) for p in unpacked.rglob("*")}
    (shared,) = unpacked.glob("*.data/data/share")
    assert {str(p.relative_to(shared)) for p in shared.rglob("*") if p.is_file()} == SHARED
    entry = ConfigParser(interpolation=None)
    entry.read(shared / "applications/banister.desktop", encoding="utf-8")
    types, told = ET.parse(shared / "mime/packages/banister.xml"), ET.parse(shared / "metainfo/banister.metainfo.xml")
    kind = next(e for e in types.iter() if e.tag.endswith("mime-type")).attrib["type"]
    assert entry["Desktop Entry"]["MimeType"] == f"{kind};" and told.findtext("provides/mediatype") == kind
    assert told.findtext("launchable") == "banister.desktop" and told.find("releases/release").attrib["version"] in next(unpacked.glob("*.dist-info")).name


def test_it_runs_away_from_its_source(unpacked: Path, tmp_path: Path) -> None:
    job = tmp_path / "demo.banister"
    shutil.copy(data_file("demo.banister"), job)
    said = subprocess.run(
        [sys.executable, "-c", "import banister, sys; print(banister.__file__); from banister.launch import main; sys.exit(main(sys.argv[1:]))",
         "plan", job, "--joint", "F2", "--pdf", tmp_path / "sheet.pdf"],
        cwd=tmp_path, env=os.environ | {"PYTHONPATH": str(unpacked)}, capture_output=True, text=True, check=True,
    )  # fmt: skip
    assert said.stdout.splitlines()[0] == str(unpacked / "banister" / "__init__.py") and (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
