"""Kinds of what is seen on a weld, what is measured on each, and the lines that are looked for on each side."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from banister.core.value import Struct

FACE, ROOT = "face", "root"
SIDES = (FACE, ROOT)
MEASURES = {"length": "length", "depth": "fine_length", "height": "fine_length", "width": "fine_length", "size": "fine_length", "angle": "angle",
            "total_thickness": "fine_length", "number": "count"}  # fmt: skip
"""What can be measured, and the kind of its figure; each is the word `measured.KEY`."""


class Kind(Struct, frozen=True, kw_only=True):
    """A kind of imperfection: id (its number in ISO 6520-1 where that is remembered, with how surely), what is measured, on which sides it is.

    `letter` is how it is marked on the strip. Its name is the word `defect.ID`.
    """

    id: str
    iso6520: str = ""
    certainty: str = "?"
    measure: tuple[str, ...] = ()
    side: tuple[str, ...] = SIDES
    letter: str = ""
    fillet: bool = False
    """Only on fillets."""


FACE_LINES: Mapping[str, tuple[str, ...]] = {
    "crack": ("100", "101", "102", "103", "104"),
    "pore": ("2017", "2013", "2014", "2016", "2024"),
    "fusion": ("401", "4011", "4012"),
    "crater": ("2025",),
    "undercut": ("5011", "5012"),
    "cap": ("502", "503", "512"),
    "toe": ("505",),
    "overlap": ("506",),
    "underfill": ("511", "509"),
    "restart": ("517",),
    "strike": ("601", "602", "603", "604", "605", "606"),
}
ROOT_LINES: Mapping[str, tuple[str, ...]] = {
    "crack": ("100", "101", "102", "103", "104"),
    "fusion": ("401", "4013"),
    "undercut": ("5011", "5012", "5013"),
    "penetration": ("402", "4021", "504"),
    "concavity": ("515",),
    "burn": ("510",),
    "pore": ("2017", "516"),
}
LINES = {FACE: FACE_LINES, ROOT: ROOT_LINES}
"""The lines that are looked for, by side; each is the word `looked.KEY` and one key."""
AT_FIT_UP = ("5071", "5072")
"""Measured when the joint was fitted up, not on the weld."""


def kinds_on(kinds: Iterable[Kind], side: str, is_fillet: bool) -> list[Kind]:
    """The kinds that can be seen on a side of a joint."""
    return [kind for kind in kinds if side in kind.side and (is_fillet or not kind.fillet)]


def line_of(kind: str, side: str) -> str:
    """The line a kind is looked for with; '' for none."""
    return next((line for line, kinds in LINES[side].items() if kind in kinds), "")


def letter_of(kind: Kind, kinds: Sequence[Kind]) -> str:
    """The letter of a kind: its own, else the one of the kind it is a case of, else its first figure."""
    family = next((other.letter for other in kinds if other.letter and kind.id.startswith(other.id)), "")
    return kind.letter or family or "x"
