"""How classes of rods are baked, held and kept out: typical and remembered; the maker's sheet governs."""

from __future__ import annotations

import math

from banister.core.rods.rod import Rod
from banister.core.value import Struct


class Care(Struct, frozen=True, kw_only=True):
    """A class: hours it may lie open, hours held that set the clock back, hours of a bake, re-bakes; `never_baked` for cellulosic."""

    key: str
    open_h: float = math.inf
    back_h: float = 4.0
    bake_h: float = 1.0
    rebakes: int = 99
    never_baked: bool = False
    clocked: bool = False


CLASSES = {
    "E70 basic": Care(key="E70 basic", open_h=4.0, bake_h=2.0, rebakes=1, clocked=True),
    "E80 basic": Care(key="E80 basic", open_h=2.0, bake_h=1.0, rebakes=1, clocked=True),
    "E90 basic": Care(key="E90 basic", open_h=1.0, bake_h=1.0, rebakes=1, clocked=True),
    "E100 basic": Care(key="E100 basic", open_h=0.5, bake_h=1.0, rebakes=1, clocked=True),
    "basic R": Care(key="basic R", open_h=9.0, bake_h=2.0, rebakes=1, clocked=True),
    "rutile": Care(key="rutile"),
    "cellulosic": Care(key="cellulosic", never_baked=True),
    "bare": Care(key="bare", never_baked=True),
}  # fmt: skip
"""Open hours of AWS D1.1 classes as remembered, unverified; each row is the user's to change."""


def class_of(rod: Rod) -> Care:
    """The class a rod is kept by until the user names another."""
    if rod.family != "basic":
        return CLASSES["cellulosic" if rod.family == "cellulosic" else "rutile" if rod.family == "rutile" else "bare"]
    if rod.type.endswith("R"):
        return CLASSES["basic R"]
    strength = int("".join(c for c in rod.type[1:] if c.isdigit())[:-2] or 70)
    for least, key in ((100, "E100 basic"), (90, "E90 basic"), (80, "E80 basic")):
        if strength >= least:
            return CLASSES[key]
    return CLASSES["E70 basic"]
