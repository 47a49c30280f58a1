"""How sure: a range for beads, rods and time as a bar with a waist at its middle; what matters most as weights on one beam."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Drawing, Lines, Polygon, Rect, Shape, Text
from banister.core.remark import Figure
from banister.core.sure.variants import OUTCOMES, TIME, Range, Sure
from banister.core.value import Struct
from banister.core.words import Speech

LEFT, RIGHT, ROW, BAR, WAIST = 18.0, 24.0, 74.0, 15.0, 4.0
BEAM_FOOT, BEAM_ARM, LARGEST_PX, SMALLEST_PX = 34.0, 26.0, 74.0, 12.0
ROUND_S = 300.0
"""Times are told to so much: the layers held are no nearer to planning anew."""


class SureView(Struct, frozen=True):
    """Size in pixels, and the outcome whose weights hang from the beam."""

    width: float
    height: float
    outcome: str = OUTCOMES[1]


class SureBeam(Struct, frozen=True):
    """The picture; where the row of each outcome lies (foot, top), and the weight of each input (left, right)."""

    drawing: Drawing
    rows: Mapping[str, tuple[float, float]]
    weights: Mapping[str, tuple[float, float]]


def figure_of(outcome: str, value: float) -> Figure:
    """An outcome as it is told, rounded to what the answer is good for."""
    return Figure(ROUND_S * round(value / ROUND_S), "duration") if outcome == TIME else Figure(str(round(value)), "name")


def range_said(outcome: str, found: Range, say: Speech) -> str:
    """The range nine variants in ten lie in."""
    low, high = (say.figure(figure_of(outcome, v)) for v in found.nine_in_ten)
    return low if low == high else say("sure.range", low=low, high=high)


def sure_beam(sure: Sure, say: Speech, view: SureView) -> SureBeam:
    """The picture for a size."""
    rows, shapes = dict[str, tuple[float, float]](), list[Shape]([Rect((0.0, 0.0, view.width, view.height), "ground")])
    for i, name in enumerate(OUTCOMES):
        top = view.height - 8.0 - i * ROW
        rows[name] = (top - ROW, top)
        shapes += _row(name, sure.outcomes[name], top, name == view.outcome, say, view)
    weights = dict[str, tuple[float, float]]()
    shapes += _beam(sure, view.outcome, weights, say, view, view.height - 8.0 - len(OUTCOMES) * ROW)
    return SureBeam(Drawing(tuple(shapes), (0.0, 0.0, view.width, view.height)), rows, weights)


def _row(name: str, found: Range, top: float, is_lit: bool, say: Speech, view: SureView) -> Iterator[Shape]:
    """The range in words, largest, and its bar under it: the waist at the middle, a tick where the plan stands."""
    low, high = found.nine_in_ten
    ends = (min(found.values[0], found.planned), max(found.values[-1], found.planned))
    spread = max(ends[1] - ends[0], 1e-6)
    along = Axis(ends[0] - 0.02 * spread, ends[1] + 0.02 * spread, LEFT, view.width - RIGHT)
    if is_lit:
        yield Rect((LEFT - 10, top - ROW + 4, view.width - RIGHT + 10, top - 1), "", "handle", f"lit:{name}")
    said = range_said(name, found, say)
    yield Text((LEFT, top - 17), said, "text", 20.0, "start", face=BOLD, id=f"range:{name}")
    also = say(f"sure.{name}", planned=figure_of(name, found.planned), sure=figure_of(name, found.at(0.95)))
    yield Text((LEFT + advance(said, 20.0, BOLD) + 14, top - 18), also, "soft", 13.0, "start", face=NARROW)
    middle = top - 46.0
    x0, xm, x1 = (along.kept(v) for v in (low, found.at(0.5), high))
    yield Lines((((LEFT, middle), (view.width - RIGHT, middle)),), "rule")
    yield Polygon(((x0, middle - BAR / 2), (xm, middle - WAIST / 2), (x1, middle - BAR / 2), (x1, middle + BAR / 2), (xm, middle + WAIST / 2),
                   (x0, middle + BAR / 2)), "bead.fill", f"bar:{name}")  # fmt: skip
    at = along.kept(found.planned)
    yield Lines((((at, middle - BAR), (at, middle + BAR)),), "limit", f"planned:{name}")


def _beam(sure: Sure, outcome: str, weights: dict[str, tuple[float, float]], say: Speech, view: SureView, top: float) -> Iterator[Shape]:
    """Weights hung from one beam, the heaviest at the left; their size is their share."""
    found = sure.outcomes[outcome]
    whole = sum(found.shares) if found.is_linear else 1.0
    shares = sorted(((share / max(whole, 1e-9), i) for i, share in enumerate(found.shares)), reverse=True)
    yield Text((LEFT, top - 20), say("sure.matters", outcome=say(f"sure.of.{outcome}")), "text", 15.0, "start", face=BOLD)
    yield Text((view.width - RIGHT, top - 20), say("sure.better"), "soft", 12.0, "end", face=NARROW)
    beam = top - BEAM_ARM - 14
    yield Lines((((LEFT, beam), (view.width - RIGHT, beam)),), "mark", "beam")
    pitch = (view.width - RIGHT - LEFT) / max(len(shares), 1)
    room = min(LARGEST_PX, beam - BEAM_FOOT - 30.0, pitch * 0.62)
    for n, (share, i) in enumerate(shares):
        one, x = sure.inputs[i], LEFT + (n + 0.5) * pitch
        size = max(SMALLEST_PX, room * share**0.5)
        weights[one.name] = (x - pitch / 2, x + pitch / 2)
        high = beam - 12.0
        yield Lines((((x, beam), (x, high)),), "mark")
        yield Polygon(((x - size / 2, high - size), (x + size / 2, high - size), (x + size * 0.4, high), (x - size * 0.4, high)),
                      "bead.fill" if share >= 0.01 else "later", f"weight:{one.name}")  # fmt: skip
        yield Text((x, high - size - 13), say.figure(Figure(round(100 * share), "percent")), "text", 13.0, face=NARROW_BOLD)
        yield Text((x, high - size - 28), say(f"sure.input.{one.name}"), "text", 12.5, face=NARROW)
        yield Text((x, high - size - 42), say("sure.measured" if one.measured else "sure.guessed"), "soft", 11.5, face=NARROW)
    if not found.is_linear:
        rest = max(0.0, 1.0 - sum(found.shares))
        yield Text((LEFT, 10.0), say("sure.rest", rest=Figure(round(100 * rest), "percent")), "soft", 12.0, "start", face=NARROW)
