"""A trainee's own book: drills that were practised, what was read of every rod, targets and notes of an instructor. It is no job and judges nobody."""

from __future__ import annotations

from banister.core.value import Struct, replace


class Metric(Struct, frozen=True, kw_only=True):
    """A figure of a rod: its unit, the target band as it ships, how sure that is, what is needed to read it; `signed` where it may be under nought."""

    id: str
    unit: str
    target: tuple[float, float]
    certainty: str
    needs: tuple[str, ...]
    signed: bool = False


class Drill(Struct, frozen=True, kw_only=True):
    """What is practised, what is measured of it, and of how many rods a session says something."""

    id: str
    measure: tuple[str, ...]
    rods_for_a_judgement: int


class Drills(Struct, frozen=True, kw_only=True):
    """All drills and figures there are; `reckoning` are the figures of what is reckoned first: how far off, without sign."""

    metrics: dict[str, Metric]
    drills: dict[str, Drill]
    reckoning: dict[str, Metric]

    @property
    def figures(self) -> dict[str, Metric]:
        """Every figure that can have a target."""
        return {**self.metrics, **self.reckoning}


class ArcRead(Struct, frozen=True, kw_only=True):
    """What a meter told of one rod: V wandered and drifted, times it stuck or went out, seconds from edge to edge where the volts show them."""

    seconds: float
    wander_v: float
    drift_v: float
    lost: int = 0
    edge_s: float | None = None
    is_simulated: bool = False


class RodRead(Struct, frozen=True, kw_only=True):
    """What was read of one rod, mm and seconds; empty where it was not read.

    `widths_mm` at up to five places, `marks_s` from one 25 mm mark to the next, `edges_s` from edge to edge by pedal or key,
    `line_mm` the bead's edge off a straight edge at even steps, `pitch_mm` from bead to bead of a pad.
    """

    run_out_mm: float | None = None
    widths_mm: tuple[float, ...] = ()
    marks_s: tuple[float, ...] = ()
    edges_s: tuple[float, ...] = ()
    line_mm: tuple[float, ...] = ()
    restart_step_mm: float | None = None
    restart_gap_mm: float | None = None
    pitch_mm: float | None = None
    arc: ArcRead | None = None


class PracticeNote(Struct, frozen=True, kw_only=True):
    """What an instructor or the trainee wrote, on a day; of one rod (from 0) or of the whole session."""

    text: str
    by: str
    on: str
    rod: int | None = None


class Session(Struct, frozen=True, kw_only=True):
    """One drill on one day: the rod, position and machine it was practised with, the marks that were aimed at, every rod, notes."""

    on: str
    drill: str
    rod: str
    position: str
    machine: str = ""
    amps: float | None = None
    target_mm: float | None = None
    edge_s: float | None = None
    rods: tuple[RodRead, ...] = ()
    notes: tuple[PracticeNote, ...] = ()

    @property
    def series(self) -> tuple[str, str, str, str]:
        """What must be alike for two sessions to be compared."""
        return self.drill, self.rod, self.position, self.machine

    @property
    def is_simulated(self) -> bool:
        """True where any of it comes from a simulator."""
        return any(rod.arc is not None and rod.arc.is_simulated for rod in self.rods)


class OwnTarget(Struct, frozen=True, kw_only=True):
    """A target band an instructor set in the place of the one that ships."""

    metric: str
    low: float
    high: float
    by: str = ""


class Homework(Struct, frozen=True, kw_only=True):
    """A drill that was set: how many rods of it, by whom, when."""

    drill: str
    rods: int
    by: str = ""
    on: str = ""
    text: str = ""


class Guess(Struct, frozen=True, kw_only=True):
    """What was reckoned before the plan was shown: the question (a figure of `Drills.reckoning`), of which joint and pass (0: the whole joint).

    Guess and the plan's answer are beads, mm, minutes, or the ids of rods.
    """

    on: str
    question: str
    joint: str
    number: int = 0
    guess: float | str
    answer: float | str


class Book(Struct, frozen=True, kw_only=True):
    """All of a trainee's practice, sessions and guesses in the order of their days."""

    trainee: str
    sessions: tuple[Session, ...] = ()
    targets: tuple[OwnTarget, ...] = ()
    homework: tuple[Homework, ...] = ()
    guesses: tuple[Guess, ...] = ()

    def with_session(self, index: int, session: Session) -> Book:
        """A session changed, or one more where the index is that of none; kept in the order of the days."""
        kept = [*self.sessions]
        kept[index : index + 1] = [session]
        return replace(self, sessions=tuple(sorted(kept, key=lambda one: one.on)))

    def without_session(self, index: int) -> Book:
        """A session taken out."""
        return replace(self, sessions=self.sessions[:index] + self.sessions[index + 1 :])

    def with_guess(self, guess: Guess) -> Book:
        """A guess more."""
        return replace(self, guesses=tuple(sorted((*self.guesses, guess), key=lambda one: one.on)))

    def with_target(self, target: OwnTarget) -> Book:
        """A target set in the place of an earlier one of that figure."""
        return replace(self, targets=(*(t for t in self.targets if t.metric != target.metric), target))

    def target_of(self, metric: Metric) -> tuple[float, float]:
        """The band a figure is held against: the instructor's, else the one that ships."""
        return next(((t.low, t.high) for t in self.targets if t.metric == metric.id), metric.target)
