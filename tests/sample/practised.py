"""A simulated hand that practises: seeded, getting steadier over the weeks or not. Nothing of it is measured, and every rod says so.

`python -m tests.sample.practised` writes the example that ships.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, field
from datetime import date, timedelta

from banister.core.practice.book import ArcRead, Book, Guess, Homework, PracticeNote, RodRead, Session
from banister.core.practice.reckon import BEADS, PLACE, RUN_OUT
from banister.core.value import replace
from banister.job.library import data_file
from banister.job.practice import practice_bytes

RODS, MARKS, EDGES, WIDTHS, LINE = 6, 7, 24, 5, 7
ROD_SD, DAY_SD = 0.35, 0.15


@dataclass(slots=True)
class SimulatedHand:
    """How wide a hand scatters on its first day, and by how much less a day (a share); `seed` draws the rest."""

    seed: int
    wander_v: float = 0.85
    uneven_percent: float = 15.0
    run_out_percent: float = 11.0
    width_mm: float = 1.8
    a_day: float = 0.015
    _draw: random.Random = field(init=False)

    def __post_init__(self) -> None:
        self._draw = random.Random(self.seed)

    def session(self, on: date, days: int, drill: str, rod: str, position: str, amps: float, target_mm: float, edge_s: float, rods: int = RODS) -> Session:
        """A session so many days after the first."""
        skill = math.exp(-self.a_day * days + self._draw.gauss(0.0, DAY_SD))
        return Session(on=on.isoformat(), drill=drill, rod=rod, position=position, amps=amps, target_mm=target_mm, edge_s=edge_s,
                       rods=tuple(self._rod(skill, target_mm, edge_s) for _ in range(rods)))  # fmt: skip

    def _rod(self, skill: float, target_mm: float, edge_s: float) -> RodRead:
        draw = self._draw
        own = skill * math.exp(draw.gauss(0.0, ROD_SD))
        uneven = self.uneven_percent / 100 * own
        edges = tuple(round(max(edge_s * (1 + draw.gauss(0.02, uneven)), 0.2), 2) for _ in range(EDGES))
        widths = tuple(round(2 * (11.0 + draw.gauss(0.0, self.width_mm / 2.3 * own))) / 2 for _ in range(WIDTHS))
        arc = ArcRead(seconds=round(draw.uniform(58.0, 66.0), 1), wander_v=round(self.wander_v * own, 2), drift_v=round(abs(draw.gauss(0.0, 1.1 * own)), 2),
                      lost=int(draw.random() < 0.12 * own), is_simulated=True)  # fmt: skip
        return RodRead(run_out_mm=round(target_mm * (1 + draw.gauss(0.02, self.run_out_percent / 100 * own))), edges_s=edges, widths_mm=widths,
                       line_mm=tuple(round(draw.gauss(0.0, 0.8 * own), 1) for _ in range(LINE)),
                       marks_s=tuple(round(max(6.0 * math.exp(draw.gauss(0.0, 0.08 * own)), 0.5), 1) for _ in range(MARKS)), arc=arc)  # fmt: skip


def simulated_book(hand: SimulatedHand, trainee: str, first: date, days: tuple[int, ...], drill: str = "edges", rod: str = "E7018-3.2x350",
                   position: str = "3G") -> Book:  # fmt: skip
    """A book of sessions on these days after the first."""
    return Book(trainee=trainee, sessions=tuple(hand.session(first + timedelta(days=n), n, drill, rod, position, 104.0, 150.0, 0.83) for n in days))


def example() -> Book:
    """Nine sessions of the demo's K7, a note of an instructor, and what is set until the next time."""
    book = simulated_book(SimulatedHand(7), "K7", date(2026, 10, 7), (0, 3, 7, 10, 16, 21, 24, 31, 35))
    noted = book.sessions[7]
    note = PracticeNote(text="Count the edge, not the middle. Two sessions with the pedal, then leave it.", by="instructor", on=noted.on)
    work = (Homework(drill="mark", rods=12, by="instructor", on="2026-11-11"),)
    return replace(book.with_session(7, replace(noted, notes=(note,))), homework=work, guesses=reckoned(date(2026, 10, 7), (0, 7, 16, 24, 31, 35)))


def reckoned(first: date, days: tuple[int, ...]) -> tuple[Guess, ...]:
    """Guesses of beads and run-outs that come nearer over the days, and a few of places."""
    draw, found = random.Random(11), list[Guess]()
    for day in days:
        on, far = (first + timedelta(days=day)).isoformat(), 0.30 * math.exp(-0.02 * day)
        for _ in range(3):
            beads, run_out = draw.randint(8, 22), float(draw.randint(140, 320))
            found.append(Guess(on=on, question=BEADS, joint="F2", guess=float(round(beads * math.exp(draw.gauss(0.0, far)))), answer=float(beads)))
            found.append(Guess(on=on, question=RUN_OUT, joint="G1", number=draw.randint(2, 9), answer=run_out,
                               guess=float(round(run_out * math.exp(draw.gauss(0.0, far)), -1))))  # fmt: skip
        found.append(Guess(on=on, question=PLACE, joint="G1", number=draw.randint(2, 9), guess=round(draw.gauss(2.0, 2.0), 1), answer=2.0))
    return tuple(found)


if __name__ == "__main__":
    data_file("demo.banister-practice").write_bytes(practice_bytes(example()))
