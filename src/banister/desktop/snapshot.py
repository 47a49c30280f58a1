"""Everything a view may show, as one value: views compare the old one with the new one and draw what differs."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from banister.core.drawing.convention import ISO
from banister.core.heat.line import HeatLine
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.judge.judgement import Judgement
from banister.core.plan.front import FrontPoint
from banister.core.plan.plan import Pass, Plan
from banister.core.remark import Remark
from banister.core.sheet import Sheet
from banister.core.value import Struct, field
from banister.core.words import Speech
from banister.devices.speeds import DEFAULT_BAUD

if TYPE_CHECKING:
    from banister.core.follow.facts import Told


class DeviceLine(Struct, frozen=True):
    """Where a device is: the word of its kind, the path of its line (or of a recorded trace), its speed."""

    device: str
    path: str
    baud: int = DEFAULT_BAUD


class View(Struct, frozen=True):
    """How and what of the job is looked at; nothing of it is saved in the job."""

    joint_id: str = ""
    anchor: tuple[float, float, str] | None = None
    inches: bool = False
    convention: str = ISO
    dark: bool = False
    step: str = "joint"
    tacking: bool = False
    """On the fit-up the tacks are at hand, not the readings."""
    tack: int = 0
    """The tack selected, by its place in the order; 0 for none."""
    ring: bool = False
    """On the fit-up of a pipe the batten is bent to a ring."""
    checking: bool = False
    """On the step of the passes issue and check are at hand, not the beads."""
    racking: bool = False
    """On the step of the rods the rack is at hand, not the choice."""
    practised: tuple[str, int] = ("", 0)
    """Whose practice book is open, and how many sessions it has; '' for none."""
    put_away: tuple[str, ...] = ()
    """Words whose explanation is not shown any more."""
    inspect_side: str = "face"
    inspect_mm: float = 0.0
    """Where the cursor of the inspection stands along the weld."""
    inspect_seen: int = 0
    """The observation selected, by its record; 0 for none."""
    inspect_set: str = ""
    """The set that is looked through; '' for the contract's own."""
    inspect_guarded: bool = False
    """Readings near a limit are to be taken again, in what is looked through; the contract's own verdict compares the reading."""
    lines: tuple[DeviceLine, ...] = ()
    """The lines devices are on, at most one for a kind."""

    def line_of(self, device: str) -> DeviceLine | None:
        """The line a kind of device is on; None for none."""
        return next((line for line in self.lines if line.device == device), None)

    def lines_with(self, device: str, line: DeviceLine | None) -> tuple[DeviceLine, ...]:
        """The lines with another one, or none, for a kind of device."""
        return (*(one for one in self.lines if one.device != device), *(() if line is None else (line,)))


class Snapshot(Struct, frozen=True):
    """The job, the shown joint with what is known of it, and how it is looked at.

    `plan` is the chosen answer, None while it is planned; `heat` None while it is not computed. `issued` is the
    sheet last issued of the joint, `stands` whether the joint is still what it was. `change` says what the
    last edit did, `refusal` why one could not be.
    """

    say: Speech
    view: View = View()
    job: Job | None = None
    joint: Joint | None = None
    plans: Mapping[str, Plan] = field(default_factory=dict)
    plan: Plan | None = None
    heat: HeatLine | None = None
    judgement: Judgement | None = None
    issued: Sheet | None = None
    stands: bool = False
    selected: Pass | None = None
    dirty: bool = False
    change: str = ""
    refusal: Remark | None = None
    front: tuple[FrontPoint, ...] = ()
    hints: tuple[Remark, ...] = ()
    records: tuple[Record, ...] = ()
    """The journal of the job."""
    standing: tuple[Record, ...] = ()
    """Its records after corrections."""
    told: Told | None = None
    """What they tell of the passes of the shown joint; None where no pass of it was begun."""
    followed: object = None
    """Another one where more of what was welded is followed than before."""

    @property
    def feasible(self) -> bool:
        """True once there is a plan that can be welded."""
        return self.plan is not None and self.plan.feasible

    @property
    def welded_plan(self) -> Plan | None:
        """The plan that is welded to: the issued one, else the one that stands; None where there is none."""
        return self.issued.plan if self.issued is not None else self.plan if self.feasible else None

    @property
    def outside(self) -> frozenset[str]:
        """Keys of the passes with something outside."""
        return frozenset() if self.judgement is None else self.judgement.passes_outside

    def differs(self, old: Snapshot | None, *names: str) -> bool:
        """True where any of the named parts is another than in an older snapshot; equal small values count as the same."""
        return old is None or any(_other(getattr(old, name), getattr(self, name)) for name in names)


BY_VALUE = (str, bool, View, Speech, type(None))


def _other(a: object, b: object) -> bool:
    return a != b if isinstance(a, BY_VALUE) and isinstance(b, BY_VALUE) else a is not b
