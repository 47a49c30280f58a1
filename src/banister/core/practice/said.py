"""What a session says, in at most three sentences, and what the weeks say; nothing is praised, nobody is ranked."""

from __future__ import annotations

from banister.core.practice.book import Metric
from banister.core.practice.standing import Standing, Weeks
from banister.core.words import Speech, capital

MOST_SENTENCES = 3
KINDS = {"V": "arc_voltage", "%": "scatter", "mm": "fine_length", "": "count"}
"""The kind of figure by a metric's unit."""


def shown(metric: Metric, value: float, say: Speech) -> str:
    """A value of a figure with its unit."""
    return say.sized(KINDS[metric.unit], value)


def name_of(metric: Metric, say: Speech) -> str:
    """What a figure is called."""
    return say(f"practice.metric.{metric.id}")


def target_said(standing: Standing, say: Speech) -> str:
    """The band that is aimed at."""
    low, high = standing.target
    if low == high:
        return say("practice.target.at", value=shown(standing.metric, high, say))
    if not standing.metric.signed and low <= 0:
        return say("practice.target.most", value=shown(standing.metric, high, say))
    return say("practice.target.window", low=shown(standing.metric, low, say), high=shown(standing.metric, high, say))


def state_said(standing: Standing, say: Speech) -> str:
    """Beside the median: inside, by how much outside, or how many rods it takes to say anything."""
    n = len(standing.read)
    if n == 0:
        return say("practice.not_read")
    if not standing.says_something:
        return say("practice.too_few", n=str(n), wanted=str(standing.wanted_rods))
    if standing.over == 0.0:
        return say("practice.inside")
    median = standing.median
    assert median is not None
    way = "over" if median > standing.target[1] else "under"
    return say(f"practice.{way}", by=shown(standing.metric, standing.over, say))


def sentences(standings: tuple[Standing, ...], say: Speech) -> list[str]:
    """The largest distance from its target first, in units of the least change that would show; what is inside after it; how many say nothing yet."""
    telling = sorted((s for s in standings if s.says_something), key=lambda s: -s.weight)
    silent = [s for s in standings if not s.says_something]
    room = MOST_SENTENCES - bool(silent)
    found = [_sentence(s, say) for s in telling[:room]]
    if silent:
        found.append(say("practice.silent", n=len(silent)) if telling else say("practice.all_silent"))
    return found


def _sentence(s: Standing, say: Speech) -> str:
    median = s.median
    assert median is not None
    parts = [say("practice.is", figure=capital(name_of(s.metric, say)), value=shown(s.metric, median, say), target=target_said(s, say))]
    if s.earlier:
        parts.append(say("practice.was", value=shown(s.metric, s.earlier[0], say), n=len(s.earlier)))
    parts.append(say("practice.least", change=change_said(s.metric, s.least_change, say)))
    return " ".join(parts)


def change_said(metric: Metric, change: float, say: Speech) -> str:
    """A change as a share of the figure, or in its unit where it is signed."""
    return shown(metric, change, say) if metric.signed else say.sized("percent", round(100 * change))


def weeks_said(weeks: Weeks, say: Speech) -> str:
    """Better, worse or nothing shown: only where the interval leaves out nought."""
    if len(weeks.last) < 2:
        return say("practice.weeks.one")
    if weeks.line is None:
        return say("practice.weeks.few", n=len(weeks.last))
    ends = weeks.a_week()
    if ends is None:
        return say("practice.weeks.none", change=change_said(weeks.metric, weeks.least_change, say))
    low, high = sorted(abs(end) for end in ends)
    window = (say.sized(KINDS[weeks.metric.unit], low), say.sized(KINDS[weeks.metric.unit], high)) if weeks.metric.signed else \
        (say.sized("scatter", 100 * low), say.sized("scatter", 100 * high))  # fmt: skip
    direction = ("rising" if ends[0] > 0 else "falling") if weeks.metric.signed or weeks.metric.id == "overlap" else ("worse" if ends[0] > 0 else "better")
    return say(f"practice.weeks.{direction}", low=window[0], high=window[1])


def rod_said(standings: tuple[Standing, ...], rod: int, say: Speech) -> list[tuple[str, str]]:
    """The figures of one rod, name and value."""
    return [(name_of(s.metric, say), shown(s.metric, value, say)) for s in standings if rod < len(s.values) and (value := s.values[rod]) is not None]
