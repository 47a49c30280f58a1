"""The joint as the user describes it: one frozen value made of parts, and how single fields of it are changed."""

from __future__ import annotations

from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any, TypeVar

from banister.core.joint.heating import HeatSettings, Reading
from banister.core.joint.piece import OnPiece, Piece
from banister.core.joint.preparation import Preparation
from banister.core.joint.working import Working
from banister.core.material.steel import BaseMetal

Value = TypeVar("Value")


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint(OnPiece):
    """A weld to be planned: its names, and the parts that different rooms of the program read.

    Planning reads `prep`, `piece` and `working`; heat reads `heat`, `metal` and `readings` as well.
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


PARTS = ("prep", "piece", "metal", "working", "choices", "heat")


def edited(value: Value, /, **changes: Any) -> Value:
    """A value with fields of its parts replaced, each named by itself: no two parts have a field of one name.

    >>> edited(Joint(id="J1", name=""), root_gap_mm=4.0, position="3G", rod_change_s=20.0).prep.root_gap_mm
    4.0
    """
    assert is_dataclass(value)
    own = {f.name for f in fields(value)}
    direct = {name: change for name, change in changes.items() if name in own}
    left = {name: change for name, change in changes.items() if name not in own}
    for part in (p for p in PARTS if p in own):
        inner = {name: change for name, change in left.items() if name in _names_in(getattr(value, part))}
        if inner:
            direct[part] = edited(direct.get(part, getattr(value, part)), **inner)
            left = {name: change for name, change in left.items() if name not in inner}
    if left:
        raise TypeError(f"{type(value).__name__} has no field {', '.join(left)}")
    return replace(value, **direct)  # type: ignore[type-var]


def field_of(value: object, name: str) -> Any:
    """A field of a value or of its parts, by its name."""
    assert is_dataclass(value)
    own = {f.name for f in fields(value)}
    if name in own:
        return getattr(value, name)
    return next(field_of(part, name) for p in PARTS if p in own and name in _names_in(part := getattr(value, p)))


def path_of(value: object, name: str) -> str:
    """Where a field stands in a value, as a file has it: `prep.root_gap_mm`."""
    assert is_dataclass(value)
    own = {f.name for f in fields(value)}
    if name in own:
        return name
    return next(f"{p}.{path_of(part, name)}" for p in PARTS if p in own and name in _names_in(part := getattr(value, p)))


def _names_in(part: object) -> frozenset[str]:
    """Fields of a part and of the parts in it."""
    assert is_dataclass(part)
    own = {f.name for f in fields(part)}
    inner = (_names_in(getattr(part, p)) for p in PARTS if p in own)
    return frozenset(own).union(*inner)
