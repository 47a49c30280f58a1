"""Kinds of figures: written, read and turned round against an independent library of units."""

from __future__ import annotations

import math
import re
from functools import cache
from typing import TYPE_CHECKING

import pytest
from hypothesis import given
from hypothesis import strategies as st

from banister.core.remark import Refused
from banister.core.typed import SPELT, typed, written
from banister.core.units import KINDS, Units, inch_fraction
from tests.conftest import SAY

if TYPE_CHECKING:
    import pint

NAMES = {"mm2": "mm**2", "in2": "in**2", "cm2": "cm**2", "sqin": "in**2", "c": "degC", "f": "degF", '"': "in", "inches": "inch", "ipm": "in/min", "amps": "A",
         "volts": "V", "sec": "s", "lbs": "lb", "min": "minute", "h": "hour", "min/m": "minute/m", "m/min": "m/minute", "mm/min": "mm/minute",
         "in/min": "in/minute", "cm/min": "cm/minute", "kj/mm": "kJ/mm", "kj/in": "kJ/in", "kj/cm": "kJ/cm", "degc": "degC", "degf": "degF", "a": "A",
         "v": "V", "kwh": "kWh", "degrees": "degree", "deg": "degree"}  # fmt: skip
OWN = {"burn_off", "hydrogen", "percent", "equivalent", "ratio", "money", "count"}
BOTH = [kind for kind in KINDS if KINDS[kind].inch != KINDS[kind].metric]
SPELT_PAIRS = [(kind, unit) for kind in SPELT if kind not in OWN for unit in SPELT[kind]]


@cache
def registry() -> pint.UnitRegistry:
    """Read by whoever asks first: it takes a second."""
    import pint

    return pint.UnitRegistry()


def by_pint(value: float, source: str, target: str, is_difference: bool) -> float:
    def named(unit: str) -> str:
        name = NAMES.get(unit, unit)
        return f"delta_{name}" if is_difference and name.startswith("deg") else name

    return float(registry().Quantity(value, named(source)).to(named(target)).magnitude)


def plain(unit: str) -> str:
    return "".join(unit.lower().replace("\N{DEGREE SIGN}", "deg").replace("\N{SUPERSCRIPT TWO}", "2").split())


@pytest.mark.parametrize("kind", BOTH)
def test_every_kind_turns_into_inches_and_back_as_it_must(kind: str) -> None:
    k, is_difference = KINDS[kind], kind == "temperature_difference"
    assert BOTH and any(unit.strip() for unit in (k.metric, k.inch))
    for value in (0.37, 12.0, 211.5):
        assert k.to_inch(value) == pytest.approx(by_pint(value, plain(k.metric), plain(k.inch), is_difference), rel=1e-9)
        assert k.to_metric(value) == pytest.approx(by_pint(value, plain(k.inch), plain(k.metric), is_difference), rel=1e-9)
        assert Units(inches=True).metric(kind, k.to_inch(value)) == pytest.approx(value) and Units().metric(kind, value) == value


@pytest.mark.parametrize(("kind", "unit"), SPELT_PAIRS)
def test_every_unit_that_may_be_typed_is_read_as_it_must(kind: str, unit: str) -> None:
    if unit == "k":
        assert typed("30 K", kind) == 30.0
        return
    expected = by_pint(12.5, unit, plain(KINDS[kind].metric), kind == "temperature_difference")
    assert typed(f"12.5 {unit}", kind) == typed(f"12,5{unit.upper()}", kind, Units(inches=True)) == pytest.approx(expected, rel=1e-9)


@pytest.mark.parametrize("kind", list(KINDS))
@pytest.mark.parametrize("units", [Units(), Units(inches=True)], ids=["mm", "inch"])
def test_what_is_shown_can_be_typed_again(kind: str, units: Units) -> None:
    for value in (1.0, 7.3, 42.0, 250.0):
        shown = units.shown(kind, value)
        coarse = 10 ** -(KINDS[kind].inch_digits if units.inches else KINDS[kind].digits) * (KINDS[kind].factor if units.inches else 1.0)
        tolerance = max(0.51 * coarse, 3.3 if units.inches and kind == "long_length" else 0.11)
        assert typed(shown, kind, units) == pytest.approx(value, abs=tolerance), shown
        assert typed(units.text(kind, value), kind, units) == pytest.approx(typed(shown, kind, units), abs=1e-9)


@pytest.mark.parametrize(
    ("text", "mm"),
    [("2.4", 2.4), ("2,4 mm", 2.4), ("3/32", 2.38125), ("1/8 in", 3.175), ("1 1/4", 31.75), ('5/8"', 15.875), ("1.2 m", 1200.0), ("4 cm", 40.0),
     ("1 500", 1500.0), ("1'500.5", 1500.5), ("1.500,5", 1500.5), (".5", 0.5), ("2e2", 200.0)],
)  # fmt: skip
def test_lengths_as_people_write_them(text: str, mm: float) -> None:
    assert typed(text, "length") == pytest.approx(mm)


def test_a_comma_is_read_by_what_the_field_can_hold_and_asked_about_where_both_fit() -> None:
    assert typed("1,500", "length", low=10.0, high=5000.0) == 1500.0 and typed("1,500", "length", low=0.0, high=25.0) == 1.5
    with pytest.raises(Refused) as asked:
        typed("1,500", "length")
    assert SAY.text(asked.value.remarks[0]) == "'1,500' can be 1.5 mm or 1500 mm"
    assert typed("2", "length", Units(inches=True)) == 50.8


@pytest.mark.parametrize("text", ["", "abc", "3/0", "1..2", "1/2/3", "--3", "5 furlongs", "1e999", "12 A"])
def test_what_is_no_length_is_refused_with_words(text: str) -> None:
    with pytest.raises(Refused) as refused:
        typed(text, "length")
    assert re.search(r"length|zero|large", SAY.text(refused.value.remarks[0]))


@given(st.floats(0.5, 80.0))
def test_inch_fractions_read_back_within_a_tenth(mm: float) -> None:
    assert typed(inch_fraction(mm), "length", Units(inches=True)) == pytest.approx(mm, abs=0.1 + 1e-9)
    assert math.isfinite(typed(inch_fraction(mm) + " in", "length"))


@pytest.mark.parametrize("kind", sorted(set(KINDS) & set(SPELT)))
@pytest.mark.parametrize("inches", [False, True])
def test_what_is_shown_reads_back_whatever_its_sign(kind: str, inches: bool) -> None:
    units, k = Units(inches), KINDS[kind]
    step = max(10.0**-k.digits, abs(k.to_metric(10.0**-k.inch_digits) - k.to_metric(0.0)) if inches else 0.0)
    for value in (0.0, 0.04, 1.5, 2.38125, 12.7, 100.0, 250.0, 1234.5, 1e6):
        for figure in (value, -value):
            assert math.isfinite(typed(units.text(kind, figure), kind, units)), (figure, units.text(kind, figure))
            assert typed(written(figure, kind, units), kind, units) == pytest.approx(figure, abs=0.51 * step)
