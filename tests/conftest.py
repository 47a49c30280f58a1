"""Shared fixtures: the reference cases, the shipped rods, and joints to plan."""

from __future__ import annotations

import gc
import itertools
import json
import os
from collections.abc import Iterator, Sequence
from functools import lru_cache
from pathlib import Path

import numpy as np
import pytest
from hypothesis import settings

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # the matrices are small: more threads only spin
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("QT_SCALE_FACTOR", "1")
os.environ.setdefault("QT_FONT_DPI", "96")

from banister.core.drawing.shapes import Clip, Drawing, Shape, Text
from banister.core.heat.board_search import ONE_BY_ONE
from banister.core.heat.board_walk import longest_first, one_by_one, ready_first
from banister.core.heat.spread import drawn
from banister.core.joint.joint import Joint, edited
from banister.core.joint.working import RodUse
from banister.core.plan.plan import Pass
from banister.core.polygon import Point
from banister.core.rods.rod import Rod
from banister.core.units import Units
from banister.core.words import Speech
from banister.job.codec import decoded
from banister.job.library import shipped_rods, words

gc.set_threshold(50_000, 20, 100)  # what a test leaves behind is looked for after it
settings.register_profile("quiet", deadline=None, max_examples=40)  # a busy machine is no fault
settings.register_profile("long", deadline=None, max_examples=1000)  # pytest --hypothesis-profile=long
settings.load_profile("quiet")
CASES = json.loads((Path(__file__).parent / "cases" / "formulas.json").read_text(encoding="utf-8"))
SAY, SAY_INCH = Speech(words()), Speech(words(), Units(inches=True))


OWN_FOLDERS = ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME")
NUMBERS = itertools.count(1)


@pytest.fixture(autouse=True)
def own_folders(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test reads or writes the user's own folders: it has others, named here and made by whoever writes there."""
    folder = tmp_path_factory.getbasetemp() / f"own-{next(NUMBERS)}"
    for name in OWN_FOLDERS:
        monkeypatch.setenv(name, str(folder / name.lower()))


SHORT: dict[str, dict[str, object]] = {
    "core.heat.board_search": {
        "RULES": {"longest chain first": longest_first, ONE_BY_ONE: one_by_one}, "BASES": (ready_first,), "MOST_CHOICES": 1, "MOST_TRIED": 1,
        "ROUNDS": 1, "TRIES": 1,
    },
    "core.heat.line": {"POINTS": 20},
    "core.heat.readings": {"SEARCHES": (np.geomspace(0.25, 4.0, 31), np.geomspace(0.9, 1.1, 21))},
    "core.plan.front": {"MOST_CAPS": 7},
    "core.plan.improve": {"ACROSS": 3, "UP": 3, "MOST_ROUNDS": 1},
    "core.stops.search": {"SEEDS": 1, "MOST_NODES": 100, "TIGHTENED": 1},
    "core.sure.variants": {"MOST_ANEW": 6},
    "cli.heat": {"THOUSAND": 16},
}  # fmt: skip
"""How far searches go outside the tests of the core."""


decoded_once = lru_cache(maxsize=16)(decoded)
"""What files say is tested in those of the job: everywhere else the same bytes are read once."""


@pytest.fixture(autouse=True, scope="module")
def searches_are_short(request: pytest.FixtureRequest) -> Iterator[None]:
    """What searches and draws come to is tested in the core: everywhere else the first steps of them do."""
    with pytest.MonkeyPatch.context() as patch:
        if request.path.parent.name != "core":
            for module, figures in SHORT.items():
                for name, most in figures.items():
                    patch.setattr(f"banister.{module}.{name}", most)
            patch.setattr(drawn, "__defaults__", (4, 1))
        if request.path.parent.name != "job":
            patch.setattr("banister.job.files.decoded", decoded_once)
        yield


def shapes_of(drawing: Drawing) -> list[Shape]:
    """Every shape of a drawing, those inside clips too."""
    found, left = [], list(drawing.shapes)
    while left:
        shape = left.pop(0)
        left[:0] = shape.shapes if isinstance(shape, Clip) else ()
        found += [] if isinstance(shape, Clip) else [shape]
    return found


def texts_of(drawing: Drawing) -> list[str]:
    """Every text of a drawing."""
    return [shape.text for shape in shapes_of(drawing) if isinstance(shape, Text)]


def rods_by_id() -> dict[str, Rod]:
    return {rod.id: rod for rod in shipped_rods()}


@pytest.fixture(scope="session")
def rods() -> dict[str, Rod]:
    return rods_by_id()


def bench_rods(backing: str) -> tuple[RodUse, ...]:
    """The same rods for every position: 3.2 cellulosic root and hot pass on an open root, 3.2 and 4.0 basic for all else."""
    root = [("root", "E6010-3.2x350"), ("hot", "E6010-3.2x350")] if backing == "open" else [("root", "E7018-3.2x350"), ("root", "E7018-4.0x450")]
    rest = [(role, rod) for role in ("fill", "cap") for rod in ("E7018-3.2x350", "E7018-4.0x450")]
    return tuple(RodUse(role=role, rod=rod) for role, rod in (*root, *rest))


def metal_over(passes: Sequence[Pass], below: list[Point]) -> float:
    """Area between a line from left to right and the upper edges of the beads as they are drawn, by strips between all their corners."""
    line = np.array(below)
    edges = np.array([edge for p in passes for edge in itertools.pairwise((*p.outline_mm, p.outline_mm[0]))])
    (x0, y0), (x1, y1) = edges[:, 0].T, edges[:, 1].T
    corners = np.unique([*x0, *line[:, 0]])
    middle = ((corners[1:] + corners[:-1]) / 2)[:, None]
    crosses = (np.minimum(x0, x1) < middle) & (middle < np.maximum(x0, x1))
    heights = np.where(crosses, y0 + (middle - x0) / np.where(x1 == x0, 1.0, x1 - x0) * (y1 - y0), -np.inf)
    bare = np.interp(middle[:, 0], *line.T)
    return float(np.sum(np.diff(corners) * (np.maximum(heights.max(axis=1), bare) - bare)))


def make_joint(backing: str = "open", **fields: object) -> Joint:
    """A joint with the usual rods; on a bar the root face is nought unless said."""
    if backing == "bar":
        fields = {"root_face_mm": 0.0, "root_gap_mm": 8.0} | fields
    return edited(Joint(id="J1", name="Joint"), backing=backing, **{"rods": bench_rods(backing)} | fields)
