"""One rod at the practice bench, as a value: the arc on and off, taps of pedal or key, then the ruler; what it comes to is a rod of the session."""

from __future__ import annotations

from banister.core.practice.book import ArcRead, RodRead
from banister.core.value import Struct, replace

READY, BURNING, READING = "ready", "burning", "reading"
EDGES, MARKS = "edges", "marks"
LEAST_TAP_S = 0.05


class Bout(Struct, frozen=True, kw_only=True):
    """Where a rod stands: since when it burns, when it was tapped, what the ruler says so far; `taps_are` edges of a weave or marks every 25 mm."""

    state: str = READY
    taps_are: str = EDGES
    begun_s: float = 0.0
    ended_s: float = 0.0
    taps_s: tuple[float, ...] = ()
    run_out_mm: float | None = None

    def on(self, now_s: float) -> Bout:
        """The arc burns; a rod whose ruler reading was left open is let go."""
        return self if self.state == BURNING else replace(self, state=BURNING, begun_s=now_s, ended_s=now_s, taps_s=(), run_out_mm=None)

    def off(self, now_s: float, target_mm: float | None) -> Bout:
        """The arc is out; the ruler begins at the mark that was aimed at."""
        return replace(self, state=READING, ended_s=now_s, run_out_mm=target_mm) if self.state == BURNING else self

    def tap(self, now_s: float) -> Bout:
        """A tap of the pedal, or of a mate's key, while the arc burns; one that bounces is none."""
        last = self.taps_s[-1] if self.taps_s else self.begun_s
        return replace(self, taps_s=(*self.taps_s, now_s)) if self.state == BURNING and now_s - last >= LEAST_TAP_S else self

    def ruler(self, step_mm: float) -> Bout:
        """The reading moved by so much."""
        return self if self.state != READING or self.run_out_mm is None else replace(self, run_out_mm=max(self.run_out_mm + step_mm, 1.0))

    def kept(self, arc: ArcRead | None) -> tuple[Bout, RodRead]:
        """The rod as it was read, and ready for the next."""
        apart = tuple(round(b - a, 3) for a, b in zip((self.begun_s, *self.taps_s)[int(self.taps_are == EDGES) :], self.taps_s[int(self.taps_are == EDGES) :],
                                                      strict=False))  # fmt: skip
        rod = RodRead(run_out_mm=self.run_out_mm, edges_s=apart if self.taps_are == EDGES else (), marks_s=apart if self.taps_are == MARKS else (), arc=arc)
        return replace(self, state=READY, taps_s=(), run_out_mm=None), rod

    @property
    def arc_s(self) -> float:
        """How long it burnt."""
        return self.ended_s - self.begun_s
