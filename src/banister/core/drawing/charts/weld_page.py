"""The page at the joint: what is shown on it, and where the parts of it stand.

Sizes go by the height of the page, so that the largest figures stand twelve millimetres tall on a notebook's screen.
"""

from __future__ import annotations

from banister.core.drawing.advances import fitting
from banister.core.drawing.shapes import PLAIN, Point, Text
from banister.core.follow.halves import HalfNow
from banister.core.guide.of_pass import Guide
from banister.core.heat.countdown import Countdown
from banister.core.heat.spread import band_said
from banister.core.joint.joint import Joint
from banister.core.passing import ARC, CHANGE, GAP, STOPPED, Passing
from banister.core.plan.plan import Pass, Plan
from banister.core.value import Struct
from banister.core.words import Speech

PRIMARY, SECOND, RAIL_TEXT, KEY_TEXT, NUMBER, HEAD_TEXT = 112.0, 63.0, 54.0, 46.0, 34.0, 54.0
"""Sizes of type on a page of 1080 lines."""
LOOKS = ("slag", "brushed", "undercut", "pores", "low")
UNDER_HOOD = (ARC, GAP, CHANGE, STOPPED)
Keys = dict[str, tuple[float, float, float, float]]
"""Where the keys of a page lie (x0, y0, x1, y1), by the key they stand for."""


class Page(Struct, frozen=True, kw_only=True):
    """What is shown: size, how the pass stands, the plan as it follows, the pass lit, its guidance, marks, and what the hand has set.

    `marks_mm` are the stops of the pass from its start; `left` the part left of the last rod, `depth_mm` the depth as it is set;
    `looked` the tiles that were tapped, `notice` the line over the keys. `simulated` where a simulator welds. `volts` and
    `amps` are what a meter sees, `rod_end_mm` the lengths between which this rod must end for its heat input; `ready_in`
    is when the joint is predicted to be down to its interpass limit, in seconds from now. `place_mm` is the place whose depth
    is set (None: the whole weld), `slow_mm` where the layer under the pass lies low. `due` is what is to be done to the work first.
    """

    width: float
    height: float
    passing: Passing
    now_s: float
    plan: Plan
    lit: Pass | None
    welded: tuple[str, ...] = ()
    guide: Guide | None = None
    marks_mm: tuple[float, ...] = ()
    asked_mm: float = 0.0
    left: float = 0.0
    depth_mm: float = 0.0
    looked: tuple[str, ...] = ()
    at_look: int = 0
    cue: str = ""
    """The remedy that was carried to this pass; it stands in the place of the likeliest fault."""
    deviations: int = 0
    notice: str = ""
    notice_bad: bool = False
    simulated: bool = False
    volts: float | None = None
    amps: float | None = None
    rod_end_mm: tuple[float | None, float | None] | None = None
    place_mm: float | None = None
    slow_mm: tuple[tuple[float, float], ...] = ()
    ready_in: Countdown | None = None
    temp_age_s: float | None = None
    holding: float = 0.0
    due: tuple[str, ...] = ()
    half: HalfNow | None = None
    """Of a fixed pipe: the half that is welded; marks count from its start."""


class PagePart:
    """A part of the page: where it begins and ends, and type that fits."""

    def __init__(self, joint: Joint, page: Page, say: Speech) -> None:
        self.joint, self.page, self.say = joint, page, say
        self.u = min(page.height / 1080.0, page.width / 1640.0)
        self.edge = 24.0 * self.u
        self.boxes: Keys = {}
        self.keys_top = 150.0 * self.u
        self.rail_top = self.keys_top + 160.0 * self.u
        self.temp_top = self.rail_top + (168.0 if page.notice else 100.0) * self.u
        self.body_top = page.height - 92.0 * self.u
        self.middle = page.width * 0.5

    def text(self, at: Point, text: str, size: float, style: str = "text", anchor: str = "start", face: str = PLAIN, name: str = "") -> Text:
        """Type of a size, as on a page of 1080 lines."""
        return Text(at, text, style, size * self.u, anchor, name, face=face)

    def fitted(self, at: Point, text: str, size: float, room: float, style: str = "text", face: str = PLAIN, name: str = "") -> Text:
        """A text that begins at a place, smaller where it would not have room."""
        return self.text(at, text, fitting(text, size, room / self.u, face), style, face=face, name=name)

    def rods_here(self) -> int:
        """Rods burnt in the run that is welded: of a fixed pipe those of its half."""
        half = self.page.half
        return self.page.passing.rods - (0 if half is None else half.rods_before)

    def wait(self) -> str:
        """The band of minutes it is still too hot, as the coolings predict; '' where it is not, or nothing is predicted."""
        found = self.page.ready_in
        return "" if found is None or found.contradicted or found.late_s <= 0 else band_said((max(found.early_s, 0.0), found.late_s), self.say)
