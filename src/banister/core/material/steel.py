"""The steel: composition, carbon equivalents with their validity, hydrogen of rods, combined thickness."""

from __future__ import annotations

from collections.abc import Sequence

from banister.core.remark import NO_PLACE, UNVERIFIED, Figure, Remark, fault, watch
from banister.core.value import Struct, replace

AVERAGED_OVER_MM = 75.0
HYDROGEN_CLASSES = ("H4", "H5", "H8", "H10", "H15", "H16")


class Steel(Struct, frozen=True, kw_only=True):
    """Composition in mass per cent; what is not stated is nought. `name` is that of a preset, or the user's own."""

    name: str = ""
    c: float = 0.0
    si: float = 0.0
    mn: float = 0.0
    cr: float = 0.0
    mo: float = 0.0
    v: float = 0.0
    ni: float = 0.0
    cu: float = 0.0
    b: float = 0.0

    @property
    def cev(self) -> float:
        """CEV = C + Mn/6 + (Cr + Mo + V)/5 + (Ni + Cu)/15 (IIW)."""
        return self.c + self.mn / 6 + (self.cr + self.mo + self.v) / 5 + (self.ni + self.cu) / 15

    @property
    def cet(self) -> float:
        """CET = C + (Mn + Mo)/10 + (Cr + Cu)/20 + Ni/40 (EN 1011-2 method B)."""
        return self.c + (self.mn + self.mo) / 10 + (self.cr + self.cu) / 20 + self.ni / 40

    @property
    def pcm(self) -> float:
        """Pcm = C + Si/30 + (Mn + Cu + Cr)/20 + Ni/60 + Mo/15 + V/10 + 5 B (Ito-Bessyo; AWS D1.1)."""
        return self.c + self.si / 30 + (self.mn + self.cu + self.cr) / 20 + self.ni / 60 + self.mo / 15 + self.v / 10 + 5 * self.b

    @property
    def is_known(self) -> bool:
        """True if any element was stated."""
        return self.c > 0.0


class BaseMetal(Struct, frozen=True, kw_only=True):
    """What is welded: the group the procedure names, the composition, and whether it is austenitic."""

    group: str = ""
    steel: Steel = Steel()
    stainless: bool = False


# Generic compositions near the middle of their kind, typical; the mill certificate governs. A name is the word `steel.NAME`.
PRESETS = (
    Steel(name="mild-275", c=0.16, si=0.20, mn=0.90),
    Steel(name="structural-355", c=0.17, si=0.40, mn=1.45, cr=0.05, ni=0.05, cu=0.10),
    Steel(name="vessel-260", c=0.20, si=0.30, mn=1.10, cr=0.05, ni=0.10, cu=0.10),
    Steel(name="fine-grain-460", c=0.16, si=0.35, mn=1.55, v=0.10, ni=0.30),
    Steel(name="quenched-690", c=0.17, si=0.30, mn=1.30, cr=0.40, mo=0.30, ni=0.20, b=0.002),
    Steel(name="line-pipe-450", c=0.07, si=0.25, mn=1.50, mo=0.10, v=0.04),
    Steel(name="chrome-moly-1", c=0.30, si=0.25, mn=0.50, cr=0.95, mo=0.20),
)  # fmt: skip
MOST_PERCENT = {"c": 1.0, "si": 3.0, "mn": 3.0, "cr": 12.0, "mo": 3.0, "v": 1.0, "ni": 10.0, "cu": 2.0, "b": 0.05}
_CET_VALID = {
    "c": (0.05, 0.32), "si": (0.0, 0.8), "mn": (0.5, 1.9), "cr": (0.0, 1.5), "cu": (0.0, 0.7), "mo": (0.0, 0.75),
    "ni": (0.0, 2.5), "v": (0.0, 0.18), "b": (0.0, 0.005),
}  # fmt: skip
"""EN 1011-2 method B, from memory: unverified, enter from your copy."""


def elements() -> tuple[str, ...]:
    """Field names of the elements, in the usual order."""
    return tuple(name for name in Steel.__struct_fields__ if name != "name")


def steel_faults(steel: Steel) -> tuple[Remark, ...]:
    """Percentages that cannot be right."""
    return tuple(
        fault("steel.percent", f"steel.{e}", element=Figure(e.capitalize(), "name"), value=Figure(getattr(steel, e), "percent"),
              window=Figure((0.0, most), "percent"))
        for e, most in MOST_PERCENT.items() if not 0.0 <= getattr(steel, e) <= most
    )  # fmt: skip


def validity_remarks(steel: Steel) -> tuple[Remark, ...]:
    """Elements outside the range for which CET was made."""
    found = []
    for element, (low, high) in _CET_VALID.items():
        value = getattr(steel, element)
        if not low <= value <= high:
            remark = watch("steel.cet", NO_PLACE, "en1011-2", element=Figure(element.capitalize(), "name"),
                           value=Figure(value, "percent"), window=Figure((low, high), "percent"))  # fmt: skip
            found.append(replace(remark, certainty=UNVERIFIED))
    return tuple(found)


class Part(Struct, frozen=True, kw_only=True):
    """A part that carries heat away: its thickness at the weld, and a change further off.

    From `change_at_mm` on the thickness goes to `thickness_far_mm` at 1 in `slope` (0: a step).
    """

    thickness_mm: float
    thickness_far_mm: float | None = None
    slope: float = 0.0
    change_at_mm: float = 0.0

    @property
    def mean_mm(self) -> float:
        """Thickness averaged over 75 mm from the weld line, in closed form."""
        if self.thickness_far_mm is None or self.change_at_mm >= AVERAGED_OVER_MM:
            return self.thickness_mm
        rise = self.thickness_far_mm - self.thickness_mm
        run = abs(rise) * self.slope
        left = AVERAGED_OVER_MM - self.change_at_mm
        extra = rise * (left - run / 2) if run <= left else rise * left**2 / (2 * run)
        return self.thickness_mm + extra / AVERAGED_OVER_MM


def combined_thickness_mm(parts: Sequence[Part], both_fillets_at_once: bool = False) -> float:
    """Sum of the parts' mean thicknesses (EN 1011-2); half for opposed fillets welded at once."""
    total = sum(part.mean_mm for part in parts)
    return total / 2 if both_fillets_at_once else total


def hydrogen_class_ml(name: str) -> float | None:
    """Most diffusible hydrogen of a class, ml/100 g: H5, H10, H15 (ISO), H4, H8, H16 (AWS)."""
    return float(name[1:]) if name in HYDROGEN_CLASSES else None
