"""What was seen, counted: by kind over the inspected welds, per metre with its doubt; rejected welds as a share; the cap against its plan."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from statistics import fmean, stdev

from banister.core.inspect.judged import REJECT
from banister.core.inspect.kinds import FACE
from banister.core.inspect.observed import Inspected
from banister.core.inspect.rates import FEWEST, count_interval, share_interval
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech, capital

CAP_HEIGHT = "502"
MM_PER_M = 1000.0


class InspectedWeld(Struct, frozen=True):
    """A weld that was looked at: how long it is, what was found, its result; how high its cap was planned (None: not known)."""

    length_mm: float
    found: Inspected
    result: str
    cap_mm: float | None = None


class Counted(Struct, frozen=True):
    """A kind counted: how often, how long in all (None where no length was taken), per metre of inspected weld with its 95 % interval."""

    kind: str
    n: int
    length_mm: float | None
    per_m: float
    window_per_m: tuple[float, float]


class OverPlan(Struct, frozen=True):
    """Readings of the cap's height less the planned one: how many, their mean, their spread (None for one reading); mm."""

    n: int
    mean_mm: float
    sd_mm: float | None


def counted(welds: Sequence[InspectedWeld]) -> tuple[Counted, ...]:
    """Every kind that was seen, the most frequent first; nothing where nothing was inspected."""
    metres = sum(one.length_mm for one in welds) / MM_PER_M
    by_kind: dict[str, list[float | None]] = {}
    for weld in welds:
        for one in weld.found.seen:
            by_kind.setdefault(one.kind, []).append(one.length)
    return tuple(sorted((_of_kind(kind, lengths, metres) for kind, lengths in by_kind.items()), key=lambda one: (-one.n, one.kind)))


def _of_kind(kind: str, lengths: Sequence[float | None], metres: float) -> Counted:
    taken = [length for length in lengths if length is not None]
    low, high = count_interval(len(lengths))
    return Counted(kind, len(lengths), sum(taken) if taken else None, len(lengths) / metres, (low / metres, high / metres))


def over_plan(welds: Sequence[InspectedWeld]) -> OverPlan | None:
    """How the cap stands against its plan; None where no height was read, or none was planned."""
    apart = [one.height - weld.cap_mm for weld in welds if weld.cap_mm is not None for one in weld.found.seen
             if one.kind == CAP_HEIGHT and one.side == FACE and one.height is not None]  # fmt: skip
    return OverPlan(len(apart), fmean(apart), stdev(apart) if len(apart) > 1 else None) if apart else None


def counted_lines(welds: Sequence[InspectedWeld], say: Speech) -> Iterator[str]:
    """The counts in words; with few welds only counts."""
    metres = sum(one.length_mm for one in welds)
    if not welds:
        return
    yield say("counted.welds", n=len(welds), length=Figure(metres, "long_length"), rejected=str(sum(one.result == REJECT for one in welds)))
    if len(welds) >= FEWEST:
        low, high = share_interval(sum(one.result == REJECT for one in welds), len(welds))
        yield say("counted.share", window=Figure((round(100 * low), round(100 * high)), "percent"))
    for one in counted(welds):
        low, high = one.window_per_m
        rate = say("counted.per_m", rate=f"{one.per_m:.1f}", low=f"{low:.1f}", high=f"{high:.1f}")
        text = say("counted.kind", kind=capital(say(f"defect.{one.kind}")), number=str(one.n))
        long = "" if one.length_mm is None else f", {say('counted.long', length=Figure(one.length_mm, 'long_length'))}"
        yield f"{text}{long}, {rate}."
    cap = over_plan(welds)
    if cap is not None:
        apart = Figure(abs(cap.mean_mm), "fine_length")
        yield say("counted.cap.over" if cap.mean_mm >= 0 else "counted.cap.under", n=cap.n, apart=apart)
        if cap.sd_mm is not None:
            yield say("counted.cap.spread", spread=Figure(cap.sd_mm, "fine_length"))
