"""Units at the edges: inside everything is mm, mm2, kJ/mm, s; people type and read what they like.

1 in = 25.4 mm exactly; 1 kJ/mm = 25.4 kJ/in.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

MM_PER_INCH = 25.4
_NUMBER = r"(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)|([+-]?\d*[.,]?\d+(?:[eE][+-]?\d+)?)"
_LENGTH = re.compile(rf"^\s*(?:{_NUMBER})\s*(mm|cm|m|in|inch|inches|\"|)\s*$")
_WORDED = re.compile(r"(\d+(?:\.\d+)?)(?: to (\d+(?:\.\d+)?))? mm(\N{SUPERSCRIPT TWO}?)(?![\w/])")
_FACTORS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "inch": 25.4, "inches": 25.4, '"': 25.4}


def parsed_number(text: str) -> float:
    """A plain number with a point or a comma; ValueError with a plain word otherwise."""
    try:
        return float(text.strip().replace(",", "."))
    except ValueError:
        raise ValueError(f"'{text.strip()}' is not a number") from None


def parsed_length_mm(text: str, inches: bool = False) -> float:
    """A length in mm from '2.4', '2,4 mm', '3/32', '1/8 in', '1 1/4'.

    A bare fraction is inches (nobody writes thirds of a millimetre); a bare decimal is in the unit
    that is being worked in.

    >>> parsed_length_mm("1/8 in"), parsed_length_mm("2,4"), parsed_length_mm("3/32")
    (3.175, 2.4, 2.38125)
    """
    match = _LENGTH.match(text)
    if match is None:
        raise ValueError(f"'{text.strip()}' is not a length: write 2.4, 2,4 mm, 3/32 or 1/8 in")
    whole, top, bottom, decimal, unit = match.groups()
    if decimal is not None:
        return float(decimal.replace(",", ".")) * _FACTORS[unit or ("in" if inches else "mm")]
    if int(bottom) == 0:
        raise ValueError(f"'{text.strip()}' divides by zero")
    value = Fraction(int(top), int(bottom)) + int(whole or 0)
    return float(value * Fraction(str(_FACTORS[unit or "in"])))


def inch_fraction(mm: float, parts: int = 16) -> str:
    """Inches with the nearest fraction where it is within 0.1 mm, else three decimals."""
    nearest = Fraction(round(mm / MM_PER_INCH * parts * 2), parts * 2)
    if abs(float(nearest) * MM_PER_INCH - mm) > 0.1:
        return f"{mm / MM_PER_INCH:.3f}"
    whole, rest = divmod(nearest.numerator, nearest.denominator)
    if not rest:
        return str(whole)
    return (f"{whole} " if whole else "") + f"{rest}/{nearest.denominator}"


@dataclass(frozen=True, slots=True)
class Units:
    """How figures are shown: millimetres, or inches with fractions."""

    inches: bool = False

    @property
    def length_unit(self) -> str:
        """Unit word of lengths."""
        return "in" if self.inches else "mm"

    def length(self, mm: float, digits: int = 1) -> str:
        """A length without its unit."""
        return inch_fraction(mm) if self.inches else f"{mm:.{digits}f}".rstrip("0").rstrip(".") if digits else f"{mm:.0f}"

    def long_length(self, mm: float) -> str:
        """A weld length or run-out: whole millimetres, or inches to a quarter."""
        return inch_fraction(round(mm / 6.35) * 6.35, 4) if self.inches else f"{mm:.0f}"

    def with_unit(self, mm: float, digits: int = 1) -> str:
        """A length with its unit."""
        return f"{self.length(mm, digits)} {self.length_unit}"

    def sentence(self, text: str) -> str:
        """A sentence worded in mm, its lengths and areas put into the unit that is being worked in.

        >>> Units(inches=True).sentence("set the gap to 3.2 to 6.35 mm")
        'set the gap to 1/8 to 1/4 in'
        """
        if not self.inches:
            return text

        def put(found: re.Match[str]) -> str:
            low, high, square = found.groups()
            shown = self.area if square else self.length
            said = shown(float(low)) + (f" to {shown(float(high))}" if high else "")
            return f"{said} {self.area_unit if square else self.length_unit}"

        return _WORDED.sub(put, text)

    def energy(self, kj_mm: float) -> str:
        """Arc energy or heat input without its unit."""
        return f"{kj_mm * MM_PER_INCH:.1f}" if self.inches else f"{kj_mm:.2f}"

    @property
    def energy_unit(self) -> str:
        """Unit word of energies per length."""
        return "kJ/in" if self.inches else "kJ/mm"

    def speed(self, mm_min: float) -> str:
        """Travel speed without its unit."""
        return f"{mm_min / MM_PER_INCH:.1f}" if self.inches else f"{mm_min:.0f}"

    @property
    def speed_unit(self) -> str:
        """Unit word of travel speeds."""
        return "in/min" if self.inches else "mm/min"

    def area(self, mm2: float) -> str:
        """A bead area without its unit."""
        return f"{mm2 / MM_PER_INCH**2:.4f}" if self.inches else f"{mm2:.1f}"

    @property
    def area_unit(self) -> str:
        """Unit word of areas."""
        return "in\N{SUPERSCRIPT TWO}" if self.inches else "mm\N{SUPERSCRIPT TWO}"

    def quantity(self, name: str, value: float) -> str:
        """A procedure quantity without its unit, by its name."""
        if name in ("arc_energy", "heat_input"):
            return self.energy(value)
        if name == "travel":
            return self.speed(value)
        if name in ("run_out",):
            return self.long_length(value)
        if name == "weave":
            return self.length(value)
        return f"{value:g}" if name in ("preheat", "interpass") else f"{value:.1f}".removesuffix(".0")

    def quantity_unit(self, name: str) -> str:
        """The unit word of a procedure quantity."""
        units = {"amps": "A", "volts": "V", "travel": self.speed_unit, "preheat": "\N{DEGREE SIGN}C", "t85": "s"}
        units |= {"interpass": "\N{DEGREE SIGN}C", "run_out": self.length_unit, "weave": self.length_unit}
        return units.get(name, self.energy_unit)


def parsed_clock_s(text: str) -> float:
    """A time of day as seconds after midnight; a ValueError says how it should read.

    >>> parsed_clock_s("7:30")
    27000.0
    """
    hours, colon, rest = text.strip().partition(":")
    if not colon or not hours.isdecimal() or not rest.isdecimal() or int(rest) > 59 or int(hours) > 23:
        raise ValueError(f"'{text}' should read like 7:30")
    return int(hours) * 3600.0 + int(rest) * 60.0


def minutes(seconds: float) -> str:
    """A time as hours and minutes, or minutes and seconds when short.

    >>> minutes(75), minutes(3720)
    ('1 min 15 s', '1 h 02 min')
    """
    whole = round(seconds)
    if whole < 60:
        return f"{whole} s"
    if whole < 600:
        return f"{whole // 60} min {whole % 60:02d} s"
    total = round(seconds / 60)
    return f"{total // 60} h {total % 60:02d} min" if total >= 60 else f"{total} min"


def clock(seconds: float) -> str:
    """A time of a schedule in hours and minutes, to the nearest minute.

    >>> clock(4500), clock(3599)
    ('1:15', '1:00')
    """
    hours, rest = divmod(round(seconds / 60), 60)
    return f"{hours}:{rest:02d}"


def time_of_day(seconds: float) -> str:
    """A time of day, days after the first counted.

    >>> time_of_day(27000), time_of_day(90000)
    ('7:30', '1:00 +1 day')
    """
    days, rest = divmod(round(seconds / 60), 24 * 60)
    return clock(60.0 * rest) + (f" +{days} day{'s' if days > 1 else ''}" if days else "")


def parsed_celsius(text: str) -> float:
    """A temperature in degC, or in degF if it says so; a ValueError says how it should read.

    >>> parsed_celsius("110"), parsed_celsius("230 F"), parsed_celsius("65,5 \N{DEGREE SIGN}C")
    (110.0, 110.0, 65.5)
    """
    plain = text.strip().replace("\N{DEGREE SIGN}", "").strip()
    if plain[-1:] in ("F", "f"):
        return (parsed_number(plain[:-1]) - 32) / 1.8
    return parsed_number(plain[:-1] if plain[-1:] in ("C", "c") else plain)
