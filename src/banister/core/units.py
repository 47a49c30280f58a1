"""Kinds of figures and their units: inside everything is mm, mm2, kJ/mm, s, degC; people read what they work in.

1 in = 25.4 mm exactly; 1 kJ/mm = 25.4 kJ/in; 1 lb = 0.45359237 kg; degF = 1.8 degC + 32.
"""

from __future__ import annotations

import math
from fractions import Fraction

from banister.core.value import Struct

MM_PER_INCH = 25.4
KG_PER_POUND = 0.45359237
M_PER_FOOT = 0.3048
DEGREE = "\N{DEGREE SIGN}"
SQUARED = "\N{SUPERSCRIPT TWO}"
NEAR_FRACTION_MM = 0.1
"""A length this near to a fraction of an inch is written as that fraction."""


class Kind(Struct, frozen=True):
    """A kind of figure: its unit in millimetres or inches, and how it is written.

    `factor` is the size of one inch unit in metric ones, `zero` where the inch scale starts on the
    metric one; `trimmed` figures lose the noughts behind their point.
    """

    metric: str = ""
    inch: str = ""
    factor: float = 1.0
    zero: float = 0.0
    digits: int = 1
    inch_digits: int = 1
    trimmed: bool = False
    fraction: int = 0
    closed_up: bool = False

    def to_inch(self, value: float) -> float:
        """A metric value on the inch scale."""
        return (value - self.zero) / self.factor

    def to_metric(self, value: float) -> float:
        """An inch value on the metric scale."""
        return value * self.factor + self.zero


def _alike(unit: str, digits: int = 1, trimmed: bool = True, closed_up: bool = False) -> Kind:
    """A kind whose unit is one and the same everywhere."""
    return Kind(unit, unit, 1.0, 0.0, digits, digits, trimmed, closed_up=closed_up)


KINDS = {
    "length": Kind("mm", "in", MM_PER_INCH, 0.0, 1, 3, True, fraction=16),
    "fine_length": Kind("mm", "in", MM_PER_INCH, 0.0, 2, 3, True, fraction=16),
    "long_length": Kind("mm", "in", MM_PER_INCH, 0.0, 0, 2, True, fraction=4),
    "area": Kind(f"mm{SQUARED}", f"in{SQUARED}", MM_PER_INCH**2, 0.0, 1, 4),
    "energy": Kind("kJ/mm", "kJ/in", 1 / MM_PER_INCH, 0.0, 2, 1),
    "speed": Kind("mm/min", "in/min", MM_PER_INCH, 0.0, 0, 1),
    "temperature": Kind(f"{DEGREE}C", f"{DEGREE}F", 1 / 1.8, -32 / 1.8, 0, 0, True),
    "set_temperature": Kind(f"{DEGREE}C", f"{DEGREE}F", 1 / 1.8, -32 / 1.8, 1, 1, True),
    "temperature_difference": Kind(f"{DEGREE}C", f"{DEGREE}F", 1 / 1.8, 0.0, 0, 0, True),
    "mass": Kind("kg", "lb", KG_PER_POUND, 0.0, 2, 2),
    "seconds_per_length": Kind("s/m", "s/ft", 1 / M_PER_FOOT, 0.0, 0, 0, True),
    "angle": _alike(DEGREE, closed_up=True),
    "signed_angle": _alike(DEGREE, trimmed=False, closed_up=True),
    "current": _alike("A", 0),
    "voltage": _alike("V", 1),
    "arc_voltage": _alike("V", 2),
    "seconds": _alike("s", 1),
    "fine_seconds": _alike("s", 2),
    "minutes": _alike("min", 0),
    "percent": _alike("%", 2),
    "scatter": _alike("%", 1),
    "burn_off": _alike("g/Ah", 1),
    "hydrogen": _alike("ml/100 g", 1),
    "equivalent": _alike("", 3, trimmed=False),
    "ratio": _alike("", 2),
    "money": _alike("", 2, trimmed=False),
    "price_of_mass": Kind("", "", 1 / KG_PER_POUND, 0.0, 2, 2),
    "mains": _alike("kWh", 1),
    "count": _alike("", 0),
}
"""Every kind of figure that is measured; the unit word of each in either system is read from here only."""


def inch_fraction(mm: float, parts: int = 16) -> str:
    """Inches with the nearest fraction (of twice as many parts) where it is within 0.1 mm, else three decimals.

    >>> inch_fraction(3.2), inch_fraction(350.0), inch_fraction(2.5)
    ('1/8', '13 25/32', '0.098')
    """
    nearest = Fraction(round(mm / MM_PER_INCH * parts * 2), parts * 2)
    if abs(float(nearest) * MM_PER_INCH - mm) > NEAR_FRACTION_MM:
        return f"{mm / MM_PER_INCH:.3f}"
    return _mixed(nearest)


def _mixed(value: Fraction) -> str:
    whole, rest = divmod(abs(value.numerator), value.denominator)
    sign = "-" if value < 0 else ""
    if not rest:
        return f"{sign}{whole}"
    return f"{sign}{whole} {rest}/{value.denominator}" if whole else f"{sign}{rest}/{value.denominator}"


class Units(Struct, frozen=True):
    """How figures are written: in millimetres, or throughout in inches with fractions, kJ/in, in/min, degF and lb."""

    inches: bool = False

    def unit(self, kind: str) -> str:
        """The unit word of a kind of figure, '' where it has none."""
        return KINDS[kind].inch if self.inches else KINDS[kind].metric

    def text(self, kind: str, value: float, digits: int | None = None) -> str:
        """A figure of a kind without its unit; with a number of digits inches have no fractions.

        >>> Units().text("length", 3.2), Units(inches=True).text("length", 3.2), Units(inches=True).text("energy", 1.0)
        ('3.2', '1/8', '25.4')
        """
        k = KINDS[kind]
        if self.inches and k.fraction and digits is None:
            return inch_fraction(value) if k.fraction > 4 else _mixed(Fraction(round(value / MM_PER_INCH * k.fraction), k.fraction))
        shown = k.to_inch(value) if self.inches else value
        places = (k.inch_digits if self.inches else k.digits) if digits is None else digits
        written = f"{shown:+.{places}f}" if kind.startswith("signed") else f"{shown:.{places}f}"
        if float(written) == 0.0:
            written = written.replace("-", "")
        return written.rstrip("0").rstrip(".") if k.trimmed and "." in written else written

    def shown(self, kind: str, value: float, digits: int | None = None) -> str:
        """A figure with its unit."""
        unit = self.unit(kind)
        return self.text(kind, value, digits) + (unit if KINDS[kind].closed_up or not unit else f" {unit}")

    def plain(self, kind: str, value: float, places: int) -> str:
        """A figure of a kind as a bare decimal for other programs, with more places where the inch figure is the smaller.

        >>> Units().plain("length", 12.5, 1), Units(inches=True).plain("length", 12.7, 1)
        ('12.5', '0.50')
        """
        if not self.inches or KINDS[kind].metric == KINDS[kind].inch:
            return f"{value:.{places}f}"
        k = KINDS[kind]
        return f"{k.to_inch(value):.{max(places + round(math.log10(k.factor)), 0) if k.zero == 0 else places}f}"

    def heading(self, kind: str) -> str:
        """The unit of a kind as part of a heading: letters and figures only.

        >>> Units().heading("area"), Units(inches=True).heading("energy")
        ('mm2', 'kJ_in')
        """
        return self.unit(kind).replace(SQUARED, "2").replace("/", "_").replace(DEGREE, "deg").replace(" ", "")

    def metric(self, kind: str, value: float) -> float:
        """A figure typed in the unit that is worked in, as the program keeps it."""
        return KINDS[kind].to_metric(value) if self.inches else value

    def rod(self, rod_id: str) -> str:
        """A rod's name as it is asked for over the counter.

        >>> Units(inches=True).rod("E7018-4.0x450"), Units().rod("E7018-4.0x450")
        ('E7018-5/32x17 3/4', 'E7018-4.0x450')
        """
        head, _, size = rod_id.rpartition("-")
        core, cross, length = size.partition("x")
        if not self.inches or not cross or not _is_plain(length):
            return rod_id
        shown = inch_fraction(float(core)) if _is_plain(core) else core
        return f"{head}-{shown}x{self.text('long_length', float(length))}"


def _is_plain(text: str) -> bool:
    return text.replace(".", "", 1).isdecimal()


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
