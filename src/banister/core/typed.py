"""Reading what people type: figures of every kind with the unit they wrote, or the one they work in.

A bare fraction is inches (nobody writes thirds of a millimetre). A comma before three figures may be
a decimal comma or part thousands: the bounds of the field decide, or the program asks.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from fractions import Fraction

from banister.core.remark import Figure, Refused, Remark, outside
from banister.core.units import DEGREE, KG_PER_POUND, KINDS, M_PER_FOOT, MM_PER_INCH, SQUARED, Units

_SPACES = "\N{NO-BREAK SPACE}\N{NARROW NO-BREAK SPACE}\N{THIN SPACE}"
_FRACTION = re.compile(r"([+-]?)(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)(?![\d/])")
_GROUPED = re.compile(rf"[+-]?\d{{1,3}}(?:[ '{_SPACES}]\d{{3}})+(?:[.,]\d+)?(?!\d)")
_BOTH_MARKS = re.compile(r"[+-]?\d{1,3}(?:(?:,\d{3})+\.\d+|(?:\.\d{3})+,\d+)(?!\d)")
_PLAIN = re.compile(r"[+-]?(?:\d+[.,]?\d*|[.,]\d+)(?:[eE][+-]?\d+)?")
_THOUSANDS = re.compile(r"[+-]?[1-9]\d{0,2},\d{3}$")
_LENGTHS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": MM_PER_INCH, "inch": MM_PER_INCH, "inches": MM_PER_INCH, '"': MM_PER_INCH, "ft": 12 * MM_PER_INCH}
_TEMPERATURES = {"c": 1.0, "degc": 1.0, "f": 1 / 1.8, "degf": 1 / 1.8}
_SECONDS = {"s": 1.0, "sec": 1.0, "min": 60.0, "h": 3600.0}
SPELT: dict[str, dict[str, float]] = {
    "length": _LENGTHS, "fine_length": _LENGTHS, "long_length": _LENGTHS,
    "area": {"mm2": 1.0, "cm2": 100.0, "in2": MM_PER_INCH**2, "sqin": MM_PER_INCH**2},
    "energy": {"kj/mm": 1.0, "kj/in": 1 / MM_PER_INCH, "kj/cm": 0.1},
    "speed": {"mm/min": 1.0, "cm/min": 10.0, "m/min": 1000.0, "mm/s": 60.0, "in/min": MM_PER_INCH, "ipm": MM_PER_INCH},
    "temperature": _TEMPERATURES, "set_temperature": _TEMPERATURES, "temperature_difference": _TEMPERATURES | {"k": 1.0},
    "mass": {"kg": 1.0, "g": 0.001, "lb": KG_PER_POUND, "lbs": KG_PER_POUND},
    "seconds_per_length": {"s/m": 1.0, "s/ft": 1 / M_PER_FOOT, "min/m": 60.0},
    "angle": {"deg": 1.0, "degrees": 1.0}, "signed_angle": {"deg": 1.0, "degrees": 1.0},
    "current": {"a": 1.0, "amps": 1.0}, "voltage": {"v": 1.0, "volts": 1.0}, "arc_voltage": {"v": 1.0, "volts": 1.0},
    "fine_seconds": _SECONDS, "scatter": {"%": 1.0},
    "seconds": _SECONDS, "minutes": {"min": 1.0, "h": 60.0, "s": 1 / 60}, "percent": {"%": 1.0},
    "burn_off": {"g/ah": 1.0}, "hydrogen": {"ml/100g": 1.0}, "equivalent": {}, "ratio": {}, "money": {},
    "price_of_mass": {}, "mains": {"kwh": 1.0}, "count": {},
}  # fmt: skip
"""The units a kind of figure may be typed in, without spaces and capitals: what one of them is in the program's own."""
_FAHRENHEIT_ZERO_C = -32 / 1.8
_SCALES = ("temperature", "set_temperature")
_ABOUT = re.compile(r"(.+?)\s*(?:\+-|\+/-|\u00b1)\s*(.+)")
_FROM_TO = re.compile(r"(.*?)(?:\.\.+|\u2026|\s+to\s+|\u2013|(?<=[\w\"'%.])\s*-)(.*)")
"""Bounds apart: two dots, 'to', or a dash behind a figure (one in front of it is its sign)."""
METRIC = Units()
WITHIN = 1e-9


def typed(text: str, kind: str, units: Units = METRIC, low: float = -math.inf, high: float = math.inf) -> float:
    """A figure of a kind as the program keeps it; Refused says why a text is none.

    >>> typed("1/8 in", "length"), typed("2,4 mm", "length"), typed("3/32", "length"), typed("1 500", "length")
    (3.175, 2.4, 2.38125, 1500.0)
    >>> typed("1,500", "length", low=10.0, high=5000.0), typed("230 F", "temperature")
    (1500.0, 110.0)
    """
    numbers, unit, is_fraction = _read(text, kind)
    found = [_metric(number, unit, kind, units, is_fraction) for number in numbers]
    inside = [value for value in found if low <= value <= high]
    if len(found) > 1 and len(inside) != 1:
        raise Refused(outside("typed.ambiguous", text=_name(text), first=Figure(found[0], kind), second=Figure(found[1], kind)))
    return inside[0] if len(found) > 1 else found[0]


def beyond(value: float, kind: str, low: float, high: float) -> Remark | None:
    """That a figure is outside its bounds; None where it is not."""
    if low - WITHIN <= value <= high + WITHIN:
        return None
    window = Figure(tuple(end if math.isfinite(end) else None for end in (low, high)), kind)
    return outside("typed.bound", value=Figure(value, kind), window=window)


def typed_several(text: str, kind: str, units: Units = METRIC) -> tuple[float, ...]:
    """Figures one behind the other, apart by blanks, or by semicolons where a figure has blanks in it; nothing at all is none.

    >>> typed_several("10 11,5  11", "length"), typed_several("1 1/2; 3/4", "length")
    ((10.0, 11.5, 11.0), (38.1, 19.05))
    """
    return tuple(typed(part, kind, units) for part in (text.split(";") if ";" in text else text.split()) if part.strip())


def written(value: float, kind: str, units: Units) -> str:
    """A figure as it is usually written, or by decimals where that is another one: 250 mm is no 9 3/4 in.

    >>> written(250.0, "long_length", Units(inches=True)), written(254.0, "long_length", Units(inches=True))
    ('9.84', '10')
    """
    usual, k = units.text(kind, value), KINDS[kind]
    return usual if abs(typed(usual, kind, units) - value) <= 0.5 * 10.0**-k.digits else units.text(kind, value, k.inch_digits if units.inches else k.digits)


def turned(text: str, kind: str, before: Units, now: Units) -> str:
    """What was typed for several figures, written in other units; as it is where all of them name their own, or are none.

    >>> turned("10  11,5", "fine_length", Units(), Units(inches=True)), turned("1/2 in", "fine_length", Units(), Units(inches=True))
    ('0.394  0.453', '1/2 in')
    """
    try:
        figures, as_now = (typed_several(text, kind, units) for units in (before, now))
    except Refused:
        return text
    return text if figures == as_now else several_written(figures, kind, now)


def several_written(figures: Sequence[float], kind: str, units: Units) -> str:
    """Figures one behind the other, as `typed_several` reads them."""
    found = [written(figure, kind, units) for figure in figures]
    return ("; " if any(" " in one for one in found) else "  ").join(found)


def typed_window(text: str, kind: str, units: Units = METRIC, low: float = -math.inf, high: float = math.inf) -> tuple[float | None, float | None]:
    """Two bounds as people write them, None for an open one; a single figure is both, nothing at all is neither.

    A unit after the second figure is that of the first one too.

    >>> typed_window("90-125 A", "current"), typed_window("..125", "current"), typed_window("125+-10", "current")
    ((90.0, 125.0), (None, 125.0), (115.0, 135.0))
    >>> typed_window("-20 to 40", "temperature"), typed_window("80..", "temperature"), typed_window("", "temperature")
    ((-20.0, 40.0), (80.0, None), (None, None))
    """
    plain = text.strip()
    if (found := _ABOUT.match(plain)) is not None:
        middle = typed(found.group(1), kind, units, low, high)
        half = abs(typed(found.group(2), "temperature_difference" if kind in _SCALES else kind, units))
        return middle - half, middle + half
    found = _FROM_TO.fullmatch(plain)
    parts = (plain, plain) if found is None else (found.group(1), found.group(2))
    first, second = (part.strip() for part in parts)
    unit = _read(second, kind)[1] if second else ""
    if first and unit and not _read(first, kind)[1]:
        first = f"{first} {unit}"
    lower, upper = (typed(part, kind, units, low, high) if part else None for part in (first, second))
    return lower, upper


def _read(text: str, kind: str) -> tuple[list[Fraction], str, bool]:
    """The numbers a text may mean, the unit it names and whether it was a fraction."""
    plain = text.strip()
    for pattern in (_FRACTION, _GROUPED, _BOTH_MARKS, _PLAIN):
        found = pattern.match(plain)
        if found is None:
            continue
        unit = "".join(plain[found.end() :].split()).lower().replace(DEGREE, "deg").replace(SQUARED, "2")
        if unit and unit not in SPELT[kind]:
            continue
        return _numbers(found, pattern, text), unit, pattern is _FRACTION
    raise Refused(outside(f"typed.{kind}", text=_name(plain)))


def _numbers(found: re.Match[str], pattern: re.Pattern[str], text: str) -> list[Fraction]:
    if pattern is _FRACTION:
        sign, whole, top, bottom = found.groups()
        if int(bottom) == 0:
            raise Refused(outside("typed.zero", text=_name(text)))
        return [(-1 if sign == "-" else 1) * (Fraction(int(top), int(bottom)) + int(whole or 0))]
    number = found.group()
    if pattern is _GROUPED:
        return [_finite(re.sub(rf"[ '{_SPACES}]", "", number).replace(",", "."), text)]
    if pattern is _BOTH_MARKS:
        decimal = max(number.rfind("."), number.rfind(","))
        return [_finite(re.sub(r"[.,]", "", number[:decimal]) + "." + number[decimal + 1 :], text)]
    as_decimal = _finite(number.replace(",", "."), text)
    return [as_decimal, _finite(number.replace(",", ""), text)] if _THOUSANDS.match(number) else [as_decimal]


def _finite(number: str, text: str) -> Fraction:
    if not math.isfinite(float(number)):
        raise Refused(outside("typed.large", text=_name(text)))
    return Fraction(number)


def _metric(number: Fraction, unit: str, kind: str, units: Units, is_fraction: bool) -> float:
    """Exact until here, so that 3/32 in is 2.38125 mm and nothing near it."""
    if not unit and not (kind.endswith("length") and is_fraction):
        return units.metric(kind, float(number))
    value = float(number * Fraction(str(SPELT[kind][unit or "in"])))
    return value + _FAHRENHEIT_ZERO_C if kind in _SCALES and unit.endswith("f") else value


def _name(text: str) -> Figure:
    return Figure(text.strip()[:40], "name")


def typed_clock_s(text: str) -> float:
    """A time of day as seconds after midnight; Refused says how it should read.

    >>> typed_clock_s("7:30")
    27000.0
    """
    hours, colon, rest = text.strip().partition(":")
    if not colon or not hours.isdecimal() or not rest.isdecimal() or int(rest) > 59 or int(hours) > 23:
        raise Refused(outside("typed.clock", text=_name(text)))
    return int(hours) * 3600.0 + int(rest) * 60.0
