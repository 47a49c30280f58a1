"""A joint as far as it may be seen while something is reckoned: nothing of the answer before it is said, then the plan's bead beside the guess."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.play_picture import Stage, aimed, fitting, metal_on, outlined, staged
from banister.core.drawing.shapes import BOLD, NARROW, Drawing, Point, Rect, Shape, Text
from banister.core.plan.plan import Pass
from banister.core.play.hand import Play
from banister.core.words import Speech

EDGE, TOP_ROW, ROW, FOOT_ROW, BESIDE = 18.0, 26.0, 25.0, 19.0, 32.0
ASKED_SIZE, SAID_SIZE = 19.0, 14.0
MOST_ROWS, MOST_SAID = 3, 8


@dataclass(frozen=True, slots=True)
class ReckonPicture:
    """The picture, and the stage it is drawn on."""

    drawing: Drawing
    stage: Stage


def reckon_picture(
    play: Play, asked: str, said: Sequence[str], own_mm: float | None, answer: Pass | None, say: Speech, size: Point
) -> ReckonPicture:
    """The joint with what lies, the question over it and what is said of the answer under it, for a size in pixels.

    `own_mm` is a place that is guessed; `answer` the plan's bead once it may be seen, in the side's own coordinates.
    """
    width, height = size
    room = width - 2 * EDGE
    asks, tells = wrapped(asked, room, ASKED_SIZE, BOLD)[:MOST_ROWS], [row for line in said for row in wrapped(line, room, SAID_SIZE, BOLD)]
    top, foot = height - TOP_ROW - ROW * len(asks), FOOT_ROW * len(tells[:MOST_SAID]) + EDGE
    stage = staged(play, (BESIDE, foot, width - BESIDE, top))
    shapes: list[Shape] = [Rect((0.0, 0.0, *size), "ground"), *metal_on(stage, (0.0, foot, width, top))]
    if answer is not None:
        shapes += outlined(stage, answer.outline_mm, "predicted.3", "answer", is_filled=True)
    if answer is not None and own_mm is not None:
        shapes += aimed(stage, answer.aim_mm[0], "way", say("reckon.plan"))
    if own_mm is not None:
        shapes += aimed(stage, own_mm, said=say("reckon.you"))
    shapes += _rows(asks, tells[:MOST_SAID], size)
    return ReckonPicture(Drawing(tuple(shapes), (0.0, 0.0, *size)), stage)


def _rows(asks: Sequence[str], tells: Sequence[str], size: Point) -> Iterator[Shape]:
    width, height = size
    for i, row in enumerate(asks):
        yield Text((EDGE, height - TOP_ROW - i * ROW), row, "text", ASKED_SIZE, "start", f"asked:{i}", face=BOLD)
    for i, row in enumerate(tells):
        at = (EDGE, EDGE / 2 + FOOT_ROW * (len(tells) - 1 - i) + 6)
        yield fitting(at, row, width - 2 * EDGE, (SAID_SIZE,), Text((0.0, 0.0), "", "text", id=f"said:{i}", face=BOLD if i == 0 else NARROW))


def wrapped(text: str, width: float, size: float, face: str) -> list[str]:
    """A text in rows of a width."""
    rows = list[str]()
    for word in text.split():
        if rows and advance(f"{rows[-1]} {word}", size, face) <= width:
            rows[-1] = f"{rows[-1]} {word}"
        else:
            rows.append(word)
    return rows
