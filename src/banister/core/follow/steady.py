"""A thermometer that tells twice a second, and what of it is worth keeping: a reading once it is held still, the next when it has moved or grown old."""

from __future__ import annotations

from dataclasses import dataclass, field

HELD_S, HELD_K = 2.0, 3.0
"""Readings that stay within so much for so long are one that was held (typical of a surface probe)."""
MOVED_K, OLD_S = 5.0, 60.0


@dataclass(slots=True)
class Steady:
    """Takes readings of one probe in time."""

    _waiting: list[tuple[float, float]] = field(default_factory=list)
    _kept: tuple[float, float] | None = None

    def take(self, t_s: float, c: float) -> float | None:
        """The temperature to keep, once it is held still and says something new; else None.

        >>> probe = Steady()
        >>> [probe.take(t / 2, 150.0) for t in range(6)]
        [None, None, None, None, 150.0, None]
        """
        self._waiting = [(t, read) for t, read in self._waiting if t_s - t <= HELD_S] + [(t_s, c)]
        reads = [read for _, read in self._waiting]
        if t_s - self._waiting[0][0] < HELD_S or max(reads) - min(reads) > HELD_K:
            return None
        held = sum(reads) / len(reads)
        if self._kept is not None and abs(held - self._kept[1]) < MOVED_K and t_s - self._kept[0] < OLD_S:
            return None
        self._kept = (t_s, held)
        return round(held, 1)
