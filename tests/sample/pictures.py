"""Draws the worst sections of the sample and as many ordinary ones on sheets of pictures, to be looked at.

    .venv/bin/python -m tests.sample.pictures FOLDER [COUNT]     of COUNT joints a kind (60 unless told)

The worst come first, a row of each fault of a section; what is measured stands under each picture.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QApplication

from banister.core.drawing.section import section_drawing
from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_joint
from banister.desktop.app.theme import LIGHT_THEME, font, load_fonts
from banister.desktop.canvas.painting import framed, paint
from tests.conftest import SAY
from tests.sample.run import RODS, Measured, measured, samples

ACROSS, DOWN, CELL = 4, 3, (400, 330)
WORST, ORDINARY = 3, 18
Found = list[tuple[Joint, Measured]]


def worst_first(found: Found) -> Iterator[tuple[Joint, Measured]]:
    """The three worst of each measure, then every so-manieth of the rest."""
    told: set[int] = set()
    for measure in ("tilt", "valley", "cap_valley", "peaked"):
        order = sorted(range(len(found)), key=lambda i: -float(getattr(found[i][1], measure)))
        for i in [i for i in order if i not in told][:WORST]:
            told.add(i)
            yield found[i]
    rest = [one for i, one in enumerate(found) if i not in told]
    yield from rest[:: max(1, len(rest) // ORDINARY)][:ORDINARY]


def said(joint: Joint, m: Measured) -> tuple[str, str]:
    """Two lines under a picture."""
    prep = joint.prep
    return (f"{prep.key} {prep.thickness_mm:g} {prep.backing} {joint.piece.position}",
            f"tilt {m.tilt:.2f}  valley {m.valley:.2f}  cap {m.cap_valley:.2f}  crown {m.peaked:.2f} w")  # fmt: skip


def sheet(shown: Sequence[tuple[Joint, Measured]]) -> QImage:
    """Some sections side by side."""
    image = QImage(ACROSS * CELL[0], DOWN * CELL[1], QImage.Format.Format_RGB32)
    image.fill(QColor(LIGHT_THEME.panel))
    painter = QPainter(image)
    for i, (joint, m) in enumerate(shown):
        x, y = (i % ACROSS) * CELL[0], (i // ACROSS) * CELL[1]
        drawing = section_drawing(joint, plan_joint(joint, RODS), SAY)
        paint(painter, drawing, framed(drawing, QRectF(x + 8, y + 8, CELL[0] - 16, CELL[1] - 54)), LIGHT_THEME)
        painter.setFont(font(12))
        painter.setPen(QColor(LIGHT_THEME.text))
        for row, line in enumerate(said(joint, m)):
            painter.drawText(QRectF(x + 8, y + CELL[1] - 42 + 18 * row, CELL[0] - 16, 18), Qt.AlignmentFlag.AlignLeft, line)
    painter.end()
    return image


def main(folder: str, count: int = 60) -> None:
    """Write the sheets."""
    app = QApplication([])
    load_fonts()
    joints = [joint for kind in samples(count).values() for joint in kind]
    with ProcessPoolExecutor(2) as pool:
        found = [(joint, m) for joint, m in zip(joints, pool.map(measured, joints, chunksize=10), strict=True) if m.planned]
    shown, size = tuple(worst_first(found)), ACROSS * DOWN
    for number, begin in enumerate(range(0, len(shown), size), 1):
        sheet(shown[begin : begin + size]).save(str(Path(folder) / f"sections-{number}.png"))
    app.quit()


if __name__ == "__main__":
    main(sys.argv[1], *map(int, sys.argv[2:3]))
