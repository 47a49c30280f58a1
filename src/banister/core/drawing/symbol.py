"""The welding symbol of a joint, drawn by rule by the ISO or the AWS convention.

ISO 2553 (system A): the arrow side stands on the full line, the other side on the broken one. AWS
A2.4: the arrow side hangs below the one line, the other side stands above it. Sizes are those of the
symbol, not of the joint; check a drawing's symbol against your copy of the standard.
"""

from __future__ import annotations

import itertools
import math

from banister.core.drawing.convention import ISO
from banister.core.drawing.shapes import Drawing, Lines, Outline, Point, Polygon, Text
from banister.core.joint.joint import Joint
from banister.core.joint.kinds import BEVEL, COMPOUND, ROUND, SQUARE
from banister.core.words import Speech, in_degrees

HEIGHT, MIDDLE, END = 7.0, 26.0, 46.0
BROKEN = 1.8
FITS_INSIDE = 3
"""Letters of a gap that stand inside the sign without touching it; a longer one stands beside it."""
TEXT = 11.0
STYLE = "dimension"
BOX = (-14.0, -17.0, 78.0, 17.0)


def symbol_drawing(joint: Joint, say: Speech, convention: str = ISO) -> Drawing:
    """The symbol as a display list in its own millimetres."""
    arrow, other = (1.0, -1.0) if convention == ISO else (-1.0, 1.0)
    shapes: list[Outline] = [_lines(((-12.0, -13.0), (0.0, 0.0), (END, 0.0))), *_arrow_head()]
    two_lines = convention == ISO and not _alike(joint)
    if two_lines:
        shapes.append(_broken_line())
    base = {arrow: 0.0, other: -BROKEN if two_lines else 0.0}
    shapes += _weld(joint, say, arrow, base[arrow], front=True)
    shapes += _other_side(joint, say, other, base[other])
    if joint.piece.form == "pipe":
        shapes.append(_lines(tuple((1.6 * math.cos(a), 1.6 * math.sin(a)) for a in _turn(24))))
    shapes += _tail(joint, say, convention)
    return Drawing(tuple(shapes), BOX)


def _alike(joint: Joint) -> bool:
    """True if both sides are alike: ISO then leaves the broken line out."""
    return joint.prep.kind.double and joint.prep.front_share == 0.5 and joint.prep.back_bevel_deg == joint.prep.bevel_right_deg


def _weld(joint: Joint, say: Speech, side: float, base: float, front: bool) -> list[Outline]:
    """The preparation's sign on one side of the line, with angle, gap and depth."""
    kind = joint.prep.kind
    if kind.fillet:
        z = f"{'z' if side > 0 else ''}{_mm(say, joint.prep.leg_left_mm)}"
        if joint.prep.leg_right_mm != joint.prep.leg_left_mm:
            z += f" x {_mm(say, joint.prep.leg_right_mm)}"
        corners = ((MIDDLE - 4.0, base), (MIDDLE - 4.0, base + side * HEIGHT), (MIDDLE + 4.0, base))
        return [_lines((*corners, corners[0])), _text(MIDDLE - 6.0, base + side * 3.0, z, "end")]
    shapes: list[Outline] = [_lines(run) for run in _sign(joint, side, base)]
    top = base + side * (HEIGHT + 1.0)
    arc = tuple((MIDDLE + 4.5 * u, top + side * 1.6 * (1 - u * u)) for u in (i / 5 for i in range(-5, 6)))
    shapes.append(_lines(arc))
    angle = _included(joint, front)
    if angle:
        shapes.append(_text(MIDDLE, base + side * (HEIGHT + 5.6), in_degrees(angle)))
    if front:
        gap = _mm(say, joint.prep.root_gap_mm)
        aside = 2.2 if SQUARE in kind.shapes and kind.left != kind.right else 0.0
        if len(gap) <= FITS_INSIDE:
            shapes.append(_text(MIDDLE + aside, base + side * 5.2, gap))
        else:
            shapes.append(_text(MIDDLE - 6.5, base + side * (8.6 if kind.double else 4.5), f"b {gap}", "end"))
    if kind.double:
        depth = joint.prep.front_depth_mm if front else joint.prep.back_depth_mm
        shapes.append(_text(MIDDLE - 6.5, base + side * 3.0, _mm(say, depth), "end"))
    elif front and ROUND in kind.shapes:
        shapes.append(_text(MIDDLE + 6.5, base + side * 4.5, f"R{_mm(say, joint.prep.root_radius_mm)}", "start"))
    return shapes


def _sign(joint: Joint, side: float, base: float) -> list[tuple[Point, ...]]:
    """Strokes of the preparation: left wall and right wall, each from the line outwards."""
    left, right = joint.prep.kind.left, joint.prep.kind.right
    if left == right == SQUARE:
        return [((MIDDLE + x, base), (MIDDLE + x, base + side * HEIGHT)) for x in (-1.6, 1.6)]
    strokes: list[tuple[Point, ...]] = []
    if ROUND in (left, right):
        strokes.append(((MIDDLE, base), (MIDDLE, base + side * 2.5)))
    for shape, sign in ((left, -1.0), (right, 1.0)):
        strokes.append(_stroke(shape, sign, side, base))
    return strokes


def _stroke(shape: str, sign: float, side: float, base: float) -> tuple[Point, ...]:
    head = base + side * HEIGHT
    if shape == SQUARE:
        return ((MIDDLE, base), (MIDDLE, head))
    if shape == BEVEL:
        return ((MIDDLE, base), (MIDDLE + sign * 4.5, head))
    if shape == COMPOUND:
        return ((MIDDLE, base), (MIDDLE + sign * 3.0, base + side * 3.5), (MIDDLE + sign * 4.2, head))
    return tuple((MIDDLE + sign * 4.5 * math.sin(a), base + side * (2.5 + 4.5 * (1 - math.cos(a)))) for a in (i * math.pi / 16 for i in range(9)))


def _included(joint: Joint, front: bool) -> float:
    """The groove angle of a side: both bevels together, or the one there is."""
    kind = joint.prep.kind
    if not front:
        return joint.prep.back_bevel_deg * sum(shape != SQUARE for shape in (kind.left, kind.right))
    return (joint.prep.bevel_left_deg if kind.left != SQUARE else 0.0) + (joint.prep.bevel_right_deg if kind.right != SQUARE else 0.0)


def _other_side(joint: Joint, say: Speech, side: float, base: float) -> list[Outline]:
    if joint.prep.kind.double:
        return _weld(joint, say, side, base, front=False)
    if joint.prep.backing in ("bar", "ceramic"):
        corners = ((MIDDLE - 4.0, base), (MIDDLE - 4.0, base + side * 3.6), (MIDDLE + 4.0, base + side * 3.6), (MIDDLE + 4.0, base))
        return [_lines((*corners, corners[0])), _text(MIDDLE, base + side * 1.8, "M" if joint.prep.backing == "bar" else "MR")]
    if joint.prep.second_side != "none" and not joint.prep.kind.fillet:
        half = tuple((MIDDLE + 3.4 * math.cos(a), base + side * 3.4 * math.sin(a)) for a in _turn(12, math.pi))
        return [Polygon(half, "bar"), _lines((*half, half[0]))] if joint.prep.second_side == "seal" else [_lines((*half, half[0]))]
    return []


def _tail(joint: Joint, say: Speech, convention: str) -> list[Outline]:
    """The fork with process, procedure and what no sign says."""
    said = ["111" if convention == ISO else "SMAW"]
    if joint.procedure:
        said.append(joint.procedure)
    if joint.prep.second_side == "gouge" or joint.prep.kind.double:
        said.append(say("symbol.back_gouge"))
    return [
        _lines(((END + 4.0, 4.0), (END, 0.0), (END + 4.0, -4.0))),
        *(_text(END + 5.0, 6.0 * ((len(said) - 1) / 2 - i), word, "start") for i, word in enumerate(said)),
    ]  # fmt: skip


def _arrow_head() -> list[Outline]:
    tip, back = (-12.0, -13.0), math.atan2(13.0, 12.0)
    wings = tuple((tip[0] + 3.2 * math.cos(back + w), tip[1] + 3.2 * math.sin(back + w)) for w in (0.28, -0.28))
    return [Polygon((tip, *wings), "layer.edge"), _lines((wings[0], tip, wings[1]))]


def _broken_line() -> Lines:
    dashes = tuple(((x, -BROKEN), (min(x + 2.2, END), -BROKEN)) for x in (i * 3.4 for i in range(int(END / 3.4) + 1)) if x < END)
    return Lines(dashes, STYLE)


def _turn(n: int, upto: float = 2 * math.pi) -> list[float]:
    return [upto * i / n for i in range(n + 1)]


def _lines(points: tuple[Point, ...]) -> Lines:
    return Lines(tuple(itertools.pairwise(points)), STYLE)


def _text(x: float, y: float, text: str, anchor: str = "middle") -> Text:
    return Text((x, y), text, STYLE, TEXT, anchor)


def _mm(say: Speech, value: float) -> str:
    return say.units.text("length", value)
