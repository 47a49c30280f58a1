"""A joint as far as it may be seen while something is reckoned: nothing of the answer before it is said, then the plan's bead beside the guess."""

from __future__ import annotations

from banister.core.drawing.charts.play_picture import Staged, aimed, metal_on, outlined, staged
from banister.core.drawing.shapes import Drawing, Point, Rect, Shape
from banister.core.plan.plan import Pass
from banister.core.play.hand import Play
from banister.core.words import Speech

EDGE, BESIDE = 14.0, 32.0


def reckon_picture(play: Play, own_mm: float | None, answer: Pass | None, say: Speech, size: Point) -> Staged:
    """The joint with what lies, for a size in pixels.

    `own_mm` is a place that is guessed; `answer` the plan's bead once it may be seen, in the side's own coordinates.
    """
    width, height = size
    stage = staged(play, (BESIDE, EDGE, width - BESIDE, height - EDGE))
    shapes: list[Shape] = [Rect((0.0, 0.0, *size), "ground"), *metal_on(stage, (0.0, 0.0, width, height))]
    if answer is not None:
        shapes += outlined(stage, answer.outline_mm, "predicted.3", "answer", is_filled=True)
    if answer is not None and own_mm is not None:
        shapes += aimed(stage, answer.aim_mm[0], "way", say("reckon.plan"))
    if own_mm is not None:
        shapes += aimed(stage, own_mm, said=say("reckon.you"))
    return Staged(Drawing(tuple(shapes), (0.0, 0.0, *size)), stage)
