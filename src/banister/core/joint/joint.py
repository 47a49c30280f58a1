"""The joint as the user describes it: one frozen value made of parts, and how single fields of it are changed."""

from __future__ import annotations

from collections.abc import Hashable
from functools import cache
from operator import attrgetter
from typing import Any, TypeVar

from banister.core.joint.fitting import FitUp
from banister.core.joint.heating import HeatSettings, Reading
from banister.core.joint.piece import OnPiece, Piece
from banister.core.joint.preparation import Preparation
from banister.core.joint.repairing import RepairOf
from banister.core.joint.stopping import StopChoices
from banister.core.joint.working import Choices, Working
from banister.core.material.steel import BaseMetal
from banister.core.value import Struct, replace

Value = TypeVar("Value")


class Joint(OnPiece, Struct, frozen=True, kw_only=True):
    """A weld to be planned: its names, and the parts that different rooms of the program read.

    Planning reads `prep`, `piece` and `working`; heat reads `heat`, `metal` and `readings` as well.
    `fitup` is what was measured before welding, `stops` what was chosen for the ends of rods; no plan depends on either
    until the means of the readings are taken into `prep`. `repair` says of which joint it is the repair, where it is one.
    `alike` is how many of it there are, `week` when they are due (2026-W48; '' is not said).
    `procedure` is the number of a procedure document, `welder` a welder's mark; '' is none.
    """

    id: str
    name: str
    drawing: str = ""
    procedure: str = ""
    procedure_revision: str = ""
    welder: str = ""
    prep: Preparation = Preparation()
    piece: Piece = Piece()
    metal: BaseMetal = BaseMetal()
    working: Working = Working()
    heat: HeatSettings = HeatSettings()
    readings: tuple[Reading, ...] = ()
    fitup: FitUp = FitUp()
    stops: StopChoices = StopChoices()
    repair: RepairOf | None = None
    alike: int = 1
    week: str = ""

    @property
    def called(self) -> str:
        """What it is told apart by where people choose: its id, and its name."""
        return f"{self.id}  {self.name}".rstrip()

    @property
    def plate_thickness_mm(self) -> float:
        """How thick the metal is that is welded: at the weld, of a repair the plate round its hollow."""
        return self.prep.welded_thickness_mm if self.repair is None else self.repair.plate_mm


PARTS: dict[str, type] = {"prep": Preparation, "piece": Piece, "metal": BaseMetal, "working": Working, "choices": Choices, "heat": HeatSettings}
"""The parts whose fields are named by themselves."""


def edited(value: Value, /, **changes: Any) -> Value:
    """A value with fields of its parts replaced, each named by itself: no two parts have a field of one name.

    >>> edited(Joint(id="J1", name=""), root_gap_mm=4.0, position="3G", rod_change_s=20.0).prep.root_gap_mm
    4.0
    """
    homes, direct = _homes_of(value), dict[str, Any]()
    inner: dict[str, dict[str, Any]] = {}
    for name, change in changes.items():
        home = homes.get(name)
        if home is None:
            raise TypeError(f"{type(value).__name__} has no field {name}")
        if home:
            inner.setdefault(home, {})[name] = change
        else:
            direct[name] = change
    for part, fields_of_it in inner.items():
        direct[part] = edited(direct.get(part, getattr(value, part)), **fields_of_it)
    return replace(value, **direct)  # type: ignore[type-var]


def field_of(value: object, name: str) -> Any:
    """A field of a value or of its parts, by its name."""
    return attrgetter(path_of(value, name))(value)


def path_of(value: object, name: str) -> str:
    """Where a field stands in a value, as a file has it: `prep.root_gap_mm`."""
    kind: Hashable = type(value)  # type: ignore[assignment]
    return _path(kind, name)


def _homes_of(value: object) -> dict[str, str]:
    kind: Hashable = type(value)  # type: ignore[assignment]
    return _homes(kind)


@cache
def _path(kind: Any, name: str) -> str:
    home = _homes(kind)[name]
    return f"{home}.{_path(PARTS[home], name)}" if home else name


@cache
def _homes(kind: Any) -> dict[str, str]:
    """For every field of a class and of its parts the part it is in, '' for the class's own."""
    found = dict.fromkeys(kind.__struct_fields__, "")
    for part in [p for p in PARTS if p in found]:
        found |= {name: part for name in _homes(PARTS[part]) if name not in found}
    return found
