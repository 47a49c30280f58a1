"""The four things that matter of a plan, large: beads, rods, hours with waits, what is outside."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.drawing.advances import fitting
from banister.core.drawing.shapes import BOLD, NARROW, Drawing, Lines, Shape, Text
from banister.core.heat.line import HeatLine
from banister.core.judge.judgement import Judgement
from banister.core.plan.plan import Plan
from banister.core.remark import NOT_JUDGED, OUTSIDE, Figure
from banister.core.value import Struct
from banister.core.words import Speech

HEIGHT = 108.0
LARGE_PX, SMALL_PX, BETWEEN_PX = 23.0, 12.0, 12.0


class Headline(Struct, frozen=True):
    """One of the four: the figure, what it is, and how it is painted."""

    figure: str
    label: str
    style: str = "text"


def headlines(plan: Plan | None, heat: HeatLine | None, judgement: Judgement | None, say: Speech) -> tuple[Headline, ...]:
    """The four, () where there is no plan that can be welded."""
    if plan is None or not plan.feasible:
        return ()
    timed = heat is not None and heat.schedule.feasible
    ends = heat.schedule.end_s if heat is not None and timed else plan.total_time_s
    waits = say("headline.waits", waits=Figure(round(heat.schedule.waiting_s / 60), "minutes")) if heat is not None and timed else say("headline.no_waits")
    return (
        Headline(str(len(plan.passes)), say("headline.beads", layers=say("count.layers", n=plan.layers))), Headline(str(plan.rods), say("headline.rods")),
        Headline(say.figure(Figure(ends, "duration")), waits), _outside(judgement, say),
    )  # fmt: skip


def _outside(judgement: Judgement | None, say: Speech) -> Headline:
    """How much is outside; while the heat is not computed nobody knows that it is nothing."""
    if judgement is None:
        return Headline("?", say("headline.outside"), "soft")
    outside, left = judgement.counts[OUTSIDE], judgement.counts[NOT_JUDGED]
    label = say("headline.outside.left", left=str(left)) if left else say("headline.outside")
    if outside:
        return Headline(str(outside), label, "outside")
    return Headline("0", label) if judgement.is_whole else Headline("?", say("heat.open"), "soft")


def summary(found: tuple[Headline, ...], width: float) -> Drawing:
    """The four as a picture, two and two."""
    return Drawing(tuple(_shapes(found, width)), (0.0, 0.0, width, HEIGHT))


def _shapes(found: tuple[Headline, ...], width: float) -> Iterator[Shape]:
    rows = (HEIGHT - 18, HEIGHT / 2 - 18)
    for i, one in enumerate(found):
        x, y = (i % 2) * width * 0.44, rows[i // 2]
        room = width - x if i % 2 else width * 0.44 - BETWEEN_PX
        yield Text((x, y), one.figure, one.style, fitting(one.figure, LARGE_PX, room, BOLD), "start", face=BOLD)
        yield Text((x, y - 21), one.label, "outside" if one.style == "outside" else "soft", SMALL_PX, "start", face=NARROW)
    yield Lines((((0.0, 2.0), (width, 2.0)),), "rule")
