"""Welding positions under both codes, and what each asks of the welder's hand.

Codes: AWS A3.0 / ASME IX (1G ... 6G) and ISO 6947 (PA, PC, PE, PF, PG, PH, PJ, H-L045, J-L045).
"""

from __future__ import annotations

from banister.core.value import Struct

FLAT, HORIZONTAL, VERTICAL_UP, VERTICAL_DOWN, OVERHEAD = (
    "flat", "horizontal", "vertical up", "vertical down", "overhead",
)  # fmt: skip


class Position(Struct, frozen=True):
    """A test position: `attitudes` are the ways the pool lies while it is welded; its name is the word `position.FORM.CODE`."""

    code: str
    form: str
    iso_up: str
    iso_down: str
    attitudes_up: tuple[str, ...]
    attitudes_down: tuple[str, ...]
    low_side_first: bool = False

    @property
    def word(self) -> str:
        """The key of its name."""
        return f"position.{self.form}.{self.code}"

    def iso(self, progression: str) -> str:
        """The ISO 6947 code for this progression."""
        return self.iso_down if progression == "down" else self.iso_up

    def attitudes(self, progression: str) -> tuple[str, ...]:
        """The pool attitudes met on the way round for this progression."""
        return self.attitudes_down if progression == "down" else self.attitudes_up

    @property
    def has_progression(self) -> bool:
        """True where uphill and downhill are different work."""
        return self.iso_up != self.iso_down


_ROUND_UP = (FLAT, VERTICAL_UP, OVERHEAD)
_ROUND_DOWN = (FLAT, VERTICAL_DOWN, OVERHEAD)
_POSITIONS = (
    Position("1G", "plate", "PA", "PA", (FLAT,), (FLAT,)),
    Position("2G", "plate", "PC", "PC", (HORIZONTAL,), (HORIZONTAL,), True),
    Position("3G", "plate", "PF", "PG", (VERTICAL_UP,), (VERTICAL_DOWN,)),
    Position("4G", "plate", "PE", "PE", (OVERHEAD,), (OVERHEAD,)),
    Position("1F", "fillet", "PA", "PA", (FLAT,), (FLAT,)),
    Position("2F", "fillet", "PB", "PB", (HORIZONTAL,), (HORIZONTAL,), True),
    Position("3F", "fillet", "PF", "PG", (VERTICAL_UP,), (VERTICAL_DOWN,)),
    Position("4F", "fillet", "PD", "PD", (OVERHEAD,), (OVERHEAD,)),
    Position("1F", "fillet-pipe", "PA", "PA", (FLAT,), (FLAT,)),
    Position("2F", "fillet-pipe", "PB", "PB", (HORIZONTAL,), (HORIZONTAL,), True),
    Position("4F", "fillet-pipe", "PD", "PD", (OVERHEAD,), (OVERHEAD,)),
    Position("5F", "fillet-pipe", "PH", "PJ", _ROUND_UP, _ROUND_DOWN),
    Position("1G", "pipe", "PA", "PA", (FLAT,), (FLAT,)),
    Position("2G", "pipe", "PC", "PC", (HORIZONTAL,), (HORIZONTAL,), True),
    Position("5G", "pipe", "PH", "PJ", _ROUND_UP, _ROUND_DOWN),
    Position(
        "6G", "pipe", "H-L045", "J-L045",
        (*_ROUND_UP, HORIZONTAL), (*_ROUND_DOWN, HORIZONTAL), True,
    ),
)  # fmt: skip


def positions(form: str) -> tuple[Position, ...]:
    """All positions for a plate, a pipe, a fillet or a fillet on a pipe."""
    return tuple(p for p in _POSITIONS if p.form == form)


def position(code: str, form: str) -> Position:
    """The position with this AWS code for a form; KeyError where there is none."""
    for candidate in _POSITIONS:
        if candidate.code == code and candidate.form == form:
            return candidate
    raise KeyError(code)


def resolve(code: str, form: str) -> tuple[str, str | None]:
    """AWS code and progression for a code of either family; KeyError for an unknown one.

    >>> resolve("PG", "plate")
    ('3G', 'down')
    """
    wanted = code.upper()
    for candidate in positions(form):
        if wanted == candidate.code:
            return candidate.code, None
        if wanted in (candidate.iso_up, candidate.iso_down):
            if not candidate.has_progression:
                return candidate.code, None
            return candidate.code, "up" if wanted == candidate.iso_up else "down"
    raise KeyError(code)
