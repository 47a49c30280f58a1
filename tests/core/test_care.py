"""Rods as things: their life, how many to take along, trips to the oven; against cases and every set of trips there is."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest

from banister.core.care.classes import CLASSES, class_of
from banister.core.care.life import SCRAP, USED, lived
from banister.core.care.of_plan import MOST_RODS
from banister.core.care.rack import have_of, hours_of, racked
from banister.core.care.take import Spreads, need_of, packets
from banister.core.care.trips import Use, evened, longest_out_s, trips
from banister.core.drawing.charts.rack_picture import slot_states
from banister.core.journal import Record, folded
from banister.core.ranked import ranked
from banister.core.remark import Refused
from tests.conftest import SAY, rods_by_id
from tests.core.test_fitup import case


@pytest.mark.parametrize("name", ["care-in-time", "care-open-too-long", "care-second-rebake", "care-wet", "care-cellulosic"])
def test_the_life_of_a_rod(name: str) -> None:
    given, wanted, _ = case(name)
    life = lived(CLASSES[given["rod_class"]], [(float(t), event) for t, event in given["events"]])
    state = "refused" if life.refused is not None else life.state
    if name == "care-wet":
        assert life.state == SCRAP and life.refused is not None, "wet is scrap, and an oven does not bring it back"
    else:
        assert state == wanted["state"]
    if life.refused is not None:
        assert SAY.sentence(life.refused)


def test_clocks_bakes_and_what_cannot_be() -> None:
    basic = CLASSES["E70 basic"]
    held_briefly = lived(basic, [(0, "unseal"), (1, "out"), (2, "back"), (3, "out")])
    assert held_briefly.refused is not None and held_briefly.refused.code == "care.held"
    baked = lived(basic, [(0, "unseal"), (1, "out"), (6, "back"), (6, "bake"), (8, "baked"), (9, "out"), (12.5, "use")])
    assert baked.state == USED and baked.bakes == 1
    for events, code in (([(0, "unseal"), (1, "out"), (6, "back"), (6, "bake"), (7, "baked")], "care.short"), ([(1, "unseal"), (0, "out")], "care.order"),
                         ([(0, "use")], "care.state"), ([(0, "unseal"), (1, "out"), (2, "use"), (3, "back")], "care.gone")):  # fmt: skip
        found = lived(basic, events)
        assert found.refused is not None and found.refused.code == code
    classes = {rod.type: class_of(rod).key for rod in rods_by_id().values()}
    assert classes["E7018"] == "E70 basic" and classes["E6010"] == "cellulosic"


def test_rods_to_take_along() -> None:
    for name in ("rods-95", "rods-exact-multiple"):
        given, wanted, tol = case(name)
        spreads = Spreads(groove=given["spread_groove"], deposit=given["spread_deposit"], rod=given["spread_rod"], spoilt=given["spoilt"])
        need = need_of(given["rods_per_pass"], spreads, given["part_rods_carried_on"])
        assert need.at(given["confidence"]) == pytest.approx(wanted["rods"], **tol)
    need = need_of([4.4] * 6)
    assert need.planned == 27 and list(need.draws) == sorted(need.draws) and need.at(0.5) <= need.at(0.95) <= need.at(0.99)
    assert need_of([4.4] * 6, carried_on=False).at(0.95) >= need.at(0.95) and (need.draws == need_of([4.4] * 6).draws).all()
    assert packets(42, 20) == 3


def uses_of(given: dict) -> tuple[list[Use], list[tuple[float, float]]]:
    return ([Use(start_s=a, end_s=b, open_s=x, key=str(i)) for i, (a, b, x) in enumerate(given["needs_h"])], [tuple(w) for w in given["allowed_h"]])


@pytest.mark.parametrize("name", ["trips-mixed-classes", "trips-capacity-3"])
def test_fewest_trips(name: str) -> None:
    given, wanted, _ = case(name)
    uses, allowed = uses_of(given)
    found = trips(uses, allowed, given["capacity"])
    assert len(found) == wanted["trips"]
    even, longest = evened(uses, allowed, given["capacity"])
    assert len(even) == len(found) and longest <= longest_out_s(uses, found) + 1e-9
    for trip in even:
        assert all(trip.at_s <= uses[i].start_s + 1e-6 and uses[i].end_s - trip.at_s <= uses[i].open_s + 1e-6 for i in trip.uses)
        assert len(trip.uses) <= (given["capacity"] or 99) and any(low - 1e-6 <= trip.at_s <= high + 1e-6 for low, high in allowed)


def test_a_wait_no_rod_bridges_is_named() -> None:
    given, _, _ = case("trips-none-possible")
    with pytest.raises(Refused) as told:
        trips(*uses_of(given))
    assert SAY.sentence(told.value.remarks[0])


def test_thousands_of_rods_and_times_beyond_what_a_float_tells_apart_come_to_an_end() -> None:
    many = [Use(start_s=60.0 * i, end_s=60.0 * i + 60.0, open_s=14400.0) for i in range(MOST_RODS)]
    between = [(600.0 * i, 600.0 * i) for i in range(MOST_RODS // 10)]
    for capacity in (None, 1, 30, -4):
        found, _ = evened(many, between, capacity)
        assert sorted(i for trip in found for i in trip.uses) == list(range(MOST_RODS)) and all(len(t.uses) <= max(capacity or MOST_RODS, 1) for t in found)
    assert len(evened(many, between, 1)[0]) == MOST_RODS
    draw = np.random.default_rng(8)
    for scale in (1e9, 1e12, 1e15):
        ends = np.sort(draw.uniform(0.0, scale, 40)).tolist()
        far = [Use(start_s=end - 60.0, end_s=end, open_s=end - round(end - 3600.0, 6)) for end in ends]
        found, _ = evened(far, [(0.0, scale)], 3)
        assert sorted(i for trip in found for i in trip.uses) == list(range(40)), "each is fetched once"


def test_no_set_of_fewer_trips_serves_them() -> None:
    draw = np.random.default_rng(5)
    for _ in range(60):
        starts = np.sort(draw.uniform(0, 8, 6))
        uses = [Use(start_s=float(s), end_s=float(s) + 0.1, open_s=float(draw.choice([1.0, 2.0, 4.0]))) for s in starts]
        allowed = [(0.0, 8.0)]
        capacity = int(draw.integers(2, 7))
        found = trips(uses, allowed, capacity)
        for fewer in range(1, len(found)):
            assert not any(served(uses, at, capacity) for at in itertools.combinations(starts.tolist(), fewer))


def served(uses: list[Use], at: tuple[float, ...], capacity: int) -> bool:
    """True where trips at these moments (best at the start of some rod) serve all, earliest due first."""
    left = list(uses)
    for moment in sorted(at):
        may = sorted((u for u in left if u.end_s - u.open_s <= moment + 1e-9 <= u.start_s + 2e-9), key=lambda u: u.start_s)
        left = [u for u in left if u not in may[:capacity]]
    return not left


def test_what_matters_most() -> None:
    _, wanted, tol = case("spread-rank-linear")
    draw = np.random.default_rng(3)
    x = draw.standard_normal((1000, 3))
    shares, r2 = ranked(x, x @ np.array([3.0, 2.0, 1.0]))
    assert shares == pytest.approx(wanted["shares"], **tol) and r2 > 0.9 and math.isclose(sum(shares), 1.0)


def told(n: int, minutes: float, k: str, **d: object) -> Record:
    return Record(n=n, t=f"2026-11-27T{6 + int(minutes) // 60:02d}:{int(minutes) % 60:02d}:00.000Z", m=60.0 * minutes, b="b", k=k, d=d)


def test_the_rack_is_a_fold_over_what_happened() -> None:
    basic = next(rod for rod in rods_by_id().values() if class_of(rod).key == "E70 basic")
    lot = told(1, 0, "lot", rod=basic.id, lot="A", rods=10)
    happened = ((1, 10, "unseal"), (60, 4, "out"), (120, 2, "out"), (180, 3, "use"), (190, 1, "back"), (200, 1, "chipped"))
    events = [told(2 + i, minutes, "care", lot="A", count=n, what=what) for i, (minutes, n, what) in enumerate(happened)]
    rack = racked([lot], events, rods_by_id())
    (stock,) = rack.stocks
    assert (stock.count("used"), stock.count("out"), stock.count("held"), stock.count("scrap")) == (3, 1, 5, 1) and rack.refused == {}
    assert stock.longest_h(hours_of(events[-1])) == pytest.approx(80 / 60), "the ones longest out are burnt first; the one chipped was the older of those left"
    assert have_of(rack, [basic.id]) == {basic.id: 6}
    states = slot_states(rack, basic.id, 12)
    assert states[:3] == ("used",) * 3 and states[3] == "out" and states.count("held") == 5 and states[-3:] == ("",) * 3
    again = racked([lot], [*events, told(8, 210, "care", lot="A", count=9, what="out")], rods_by_id())
    assert list(again.refused) == [8] and again.stocks == rack.stocks, "what cannot have been changes nothing"


def test_an_entry_that_is_taken_back_never_was() -> None:
    basic = next(rod for rod in rods_by_id().values() if class_of(rod).key == "E70 basic")
    care = [told(2, 1, "care", lot="A", count=5, what="unseal"), told(3, 2, "care", lot="A", count=5, what="wet")]
    records = [told(1, 0, "lot", rod=basic.id, lot="A", rods=5), *care, told(4, 3, "correct", of=3, why="entered wrongly", void=True)]
    found = folded(records, "J1")
    assert racked(found.lots, found.care, rods_by_id()).stocks[0].count("held") == 5
