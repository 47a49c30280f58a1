"""The rack: every rod of every lot as the journal tells it, in the order its rods are taken; counts, clocks, and what cannot have been.

A record of care concerns a number of rods: they are those of the lot that may do it, the one longest out first.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any

from banister.core.care.classes import Care, class_of
from banister.core.care.life import (
    BACK,
    BAKE,
    BAKED,
    BAKING,
    CHIPPED,
    EVENTS,
    HELD,
    MUST_BAKE,
    OUT,
    SEALED,
    TAKE_OUT,
    UNSEAL,
    USE,
    WET,
    Life,
    lived,
)  # fmt: skip
from banister.core.journal import Record
from banister.core.remark import Figure, Remark, fault, outside
from banister.core.rods.rod import Rod
from banister.core.value import Struct, field

FROM = {UNSEAL: (SEALED,), TAKE_OUT: (HELD,), BACK: (OUT,), USE: (OUT,), BAKE: (MUST_BAKE, OUT, HELD), BAKED: (BAKING,), WET: (OUT, HELD, SEALED),
        CHIPPED: (OUT, HELD)}  # fmt: skip
"""The states rods are in before an event, those first that are taken first."""
MOST_RODS = 2000


class Stock(Struct, frozen=True):
    """The rods of one lot: its id, what they are, how they are kept, the life of each."""

    lot: str
    rod: str
    care: Care
    lives: tuple[Life, ...]

    def count(self, *states: str) -> int:
        """How many are in some states."""
        return sum(life.state in states for life in self.lives)

    def longest_h(self, now_h: float) -> float:
        """Hours the rod longest out has on its clock, 0 where none is out."""
        return max((life.clock_h(now_h) for life in self.lives if life.state == OUT), default=0.0)


class Rack(Struct, frozen=True):
    """All lots in the order they came, events that were refused (by the number of their record), and what is wrong now."""

    stocks: tuple[Stock, ...] = ()
    refused: Mapping[int, Remark] = field(default_factory=dict)

    def of(self, rod: str) -> tuple[Stock, ...]:
        """The lots of a rod."""
        return tuple(stock for stock in self.stocks if stock.rod == rod)

    def count(self, rod: str, *states: str) -> int:
        """How many of a rod are in some states, over its lots."""
        return sum(stock.count(*states) for stock in self.of(rod))

    def remarks(self, now_h: float) -> tuple[Remark, ...]:
        """Rods out too long, now."""
        found = []
        for stock in self.stocks:
            over = [life for life in stock.lives if life.state == OUT and life.clock_h(now_h) > stock.care.open_h]
            if over:
                found.append(outside("rack.over", n=Figure(len(over), "count"), lot=Figure(stock.lot, "name"),
                                     most=Figure(3600.0 * stock.care.open_h, "duration")))  # fmt: skip
        return tuple(found)


def hours_of(record: Record) -> float:
    """When it happened, in hours: when it was entered, or the time it was entered for."""
    return datetime.fromisoformat(record.at or record.t).timestamp() / 3600.0


def racked(lots: Iterable[Record], care: Iterable[Record], rods: Mapping[str, Rod]) -> Rack:
    """The rack after all records, in the order things happened."""
    stocks: dict[str, Stock] = {}
    refused: dict[int, Remark] = {}
    for record in sorted((*lots, *care), key=lambda r: (hours_of(r), r.n)):
        wrong = _lot(stocks, record, rods) if record.k == "lot" else _event(stocks, record)
        if wrong is not None:
            refused[record.n] = wrong
    return Rack(tuple(stocks.values()), refused)


def _lot(stocks: dict[str, Stock], record: Record, rods: Mapping[str, Rod]) -> Remark | None:
    """A lot comes in, sealed; more of a lot that is there already join it."""
    lot, rod, count = str(record.d.get("lot", "")), str(record.d.get("rod", "")), _count(record.d, "rods")
    known = rods.get(rod)
    if known is None or not lot or count is None:
        return fault("rack.lot", f"record {record.n}", lot=Figure(lot, "name"), rod=Figure(rod, "name"))
    own = stocks.get(lot)
    if own is not None and own.rod != rod:
        return fault("rack.other", f"record {record.n}", lot=Figure(lot, "name"), rod=Figure(own.rod, "rod"))
    fresh = (Life(since_h=hours_of(record)),) * count
    stocks[lot] = Stock(lot, rod, class_of(known), (own.lives if own is not None else ()) + fresh)
    return None


def _event(stocks: dict[str, Stock], record: Record) -> Remark | None:
    """Rods of a lot are unsealed, taken out, brought back, burnt, baked or scrapped."""
    what, count, hour = str(record.d.get("what", "")), _count(record.d, "count"), hours_of(record)
    stock = stocks.get(str(record.d.get("lot", "")))
    if stock is None or what not in EVENTS or count is None:
        return fault("rack.event", f"record {record.n}", lot=Figure(str(record.d.get("lot", "")), "name"))
    able = [i for state in FROM[what] for i in _in_turn(stock, state, hour)]
    if len(able) < count:
        return fault("rack.more", f"record {record.n}", n=Figure(count, "count"), event=Figure(f"care.{what}", "word"), have=Figure(str(len(able)), "name"))
    lives = list(stock.lives)
    for i in able[:count]:
        life = lived(stock.care, [(hour, what)], lives[i])
        if life.refused is not None:
            return life.refused
        lives[i] = life
    stocks[stock.lot] = Stock(stock.lot, stock.rod, stock.care, tuple(lives))
    return None


def _in_turn(stock: Stock, state: str, hour: float) -> list[int]:
    """Rods in a state, the one longest out first."""
    found = [i for i, life in enumerate(stock.lives) if life.state == state]
    return sorted(found, key=lambda i: (-stock.lives[i].clock_h(hour), i))


def _count(data: Mapping[str, Any], key: str) -> int | None:
    value = data.get(key)
    return value if isinstance(value, int) and not isinstance(value, bool) and 0 < value <= MOST_RODS else None


def have_of(rack: Rack, rods: Sequence[str]) -> dict[str, int]:
    """Rods that can still be burnt, by rod: all that are not used or scrap."""
    return {rod: rack.count(rod, SEALED, HELD, OUT, MUST_BAKE, BAKING) for rod in rods}
