"""How a joint is to be welded: rods, windows, the planner's choices, what the user fixed."""

from __future__ import annotations

import math

from banister.core.limits.windows import Window
from banister.core.value import Struct

SPLITS = ("early", "usual", "late")
"""When a layer is split into more beads."""
BALANCED, QUICKEST, COOLEST, BETWEEN, FEWEST = "balanced", "quickest", "coolest", "between", "fewest"
ANSWERS = (BALANCED, QUICKEST, COOLEST, BETWEEN, FEWEST)
"""Easiest to hold, quickest, coolest, in between, fewest passes; each is the word `answer.KEY`."""
CAPPED = (QUICKEST, FEWEST)
"""Answers that can be asked for with no pass over an arc energy: `quickest:1.86` (kJ/mm, k = 1), a point of the front."""
MOST_PEAK_KJ_MM = 100.0
AT_ONCE = (BALANCED, QUICKEST, COOLEST, FEWEST)
"""Answers that are each one search; what lies in between needs the whole front."""


def capped(answer: str, peak_kj_mm: float) -> str:
    """An answer with no pass over an arc energy, which is rounded up so that the plan it was read from keeps it.

    >>> capped("quickest", 1.85512)
    'quickest:1.856'
    """
    return f"{answer}:{math.ceil(1000 * peak_kj_mm - 1e-6) / 1000:g}"


def cap_of(answer: str) -> tuple[str, float] | None:
    """The answer and the arc energy of a capped one; None for every other text.

    >>> cap_of("fewest:1.2"), cap_of("quickest"), cap_of("coolest:1.2"), cap_of("quickest:-1"), cap_of("quickest:nan")
    (('fewest', 1.2), None, None, None, None)
    """
    name, colon, text = answer.partition(":")
    if name not in CAPPED or not colon or not (text.isascii() and text.replace(".", "", 1).isdecimal()):
        return None
    peak = float(text)
    return (name, peak) if 0.0 < peak < MOST_PEAK_KJ_MM else None


def is_answer(text: str) -> bool:
    """True for the answers there are, and for one with a cap."""
    return text in ANSWERS or cap_of(text) is not None


class RodUse(Struct, frozen=True, kw_only=True):
    """A rod (by id) that may serve a role; several for one role are candidates."""

    role: str
    rod: str


class OwnRunOut(Struct, frozen=True, kw_only=True):
    """What one rod really gave this welder in a position, mm of bead."""

    rod: str
    position: str
    run_out_mm: float


class Pin(Struct, frozen=True, kw_only=True):
    """What the user fixed for the bead that holds the point (x, y), or for its whole layer.

    `beads` fixes the number of beads in that layer; the others fix this bead's size, rod or amps.
    """

    x_mm: float
    y_mm: float
    role: str
    side: str = "front"
    area_mm2: float | None = None
    rod: str | None = None
    amps: float | None = None
    beads: int | None = None


class Choices(Struct, frozen=True, kw_only=True):
    """The planner's rules that a user may set; each default is a typical shop figure."""

    reveal_mm: float = 1.0
    cap_overlap_mm: float = 1.0
    acceptance: str = "none"
    stringers_only: bool = False
    walls_first: bool = False
    start_right: bool = False
    split: str = "usual"
    extra_cap_bead: bool = False
    root_reinforcement_mm: float = 1.0
    rod_change_s: float = 15.0
    clean_bead_s: float = 20.0
    clean_per_m_s: float = 60.0
    turn_s: float = 600.0
    gouge_per_m_s: float = 240.0
    walk_round_s: float = 120.0
    setting_change_s: float = 60.0


class Working(Struct, frozen=True, kw_only=True):
    """Rods, windows and choices; `sequence` is the order of the sides, `chosen` the answer that is shown."""

    rods: tuple[RodUse, ...] = ()
    windows: tuple[Window, ...] = ()
    own_run_out: tuple[OwnRunOut, ...] = ()
    choices: Choices = Choices()
    pins: tuple[Pin, ...] = ()
    sequence: str = "one-side"
    chosen: str = BALANCED
    spare_rods_percent: float = 10.0

    def rods_for(self, role: str) -> tuple[str, ...]:
        """Ids of the candidate rods for a role, in the order given."""
        return tuple(use.rod for use in self.rods if use.role == role)
