"""Preheat by three methods side by side; they disagree, and are never averaged.

Method B of EN 1011-2 (CET), the hydrogen-control annex of AWS D1.1 (susceptibility index), and the
D1.1 prequalified table. Table cells are written from memory: unverified, enter from your copy.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

UNVERIFIED = "unverified, enter from your copy"
RESTRAINTS = ("low", "medium", "high")
HYDROGEN_LEVELS = ((5.0, "H1"), (10.0, "H2"), (math.inf, "H3"))
_GROUPS = ((3.0, "A"), (3.5, "B"), (4.0, "C"), (4.5, "D"), (5.0, "E"), (5.5, "F"), (7.0, "G"))
_ROWS_MM = (10.0, 20.0, 38.0, 75.0, math.inf)
ANNEX_F = {
    "low": ((65, 65, 65, 65, 140, 280, 300), (65, 65, 65, 140, 210, 280, 300), (65, 65, 65, 175, 230, 280, 300),
            (65, 65, 100, 200, 250, 280, 300), (65, 65, 100, 200, 250, 280, 300)),
    "medium": ((65, 65, 65, 65, 160, 280, 320), (65, 65, 65, 175, 240, 290, 320), (65, 65, 165, 230, 280, 300, 320),
               (65, 175, 230, 265, 300, 300, 320), (200, 250, 280, 300, 320, 320, 320)),
    "high": ((65, 65, 65, 100, 230, 300, 320), (65, 65, 150, 220, 280, 320, 320), (65, 185, 240, 280, 300, 320, 320),
             (240, 265, 300, 300, 320, 320, 320), (240, 265, 300, 300, 320, 320, 320)),
}  # fmt: skip
"""Least preheat, degF, by restraint, thickness row and group A to G; 65 is no more than shop temperature."""
_CATEGORY_MM = (20.0, 38.0, 65.0, math.inf)
CATEGORY_C = {"A": (0, 65, 110, 150), "B": (0, 10, 65, 110), "C": (10, 65, 110, 150), "D": (0, 0, 0, 0)}
MAP_THICKNESSES_MM = (10.0, 15.0, 20.0, 30.0, 40.0, 50.0, 60.0, 75.0, 90.0)
MAP_HEAT_INPUTS = (0.5, 0.75, 1.0, 1.5, 2.0, 2.5, 3.0, 4.0)
SHOP_C = (65 - 32) / 1.8


@dataclass(frozen=True, slots=True)
class Preheat:
    """What a method asks for: `least_c` None where it gives nothing, with its inputs and what to know of it."""

    method: str
    least_c: float | None
    inputs: str
    notes: tuple[str, ...] = ()
    verified: bool = True

    @property
    def in_words(self) -> str:
        """The figure as a check shows it."""
        if self.least_c is None:
            return "not given"
        return "none beyond shop temperature" if self.least_c <= SHOP_C + 0.5 else f"{self.least_c:.0f} \N{DEGREE SIGN}C"


def method_b_c(cet: float, thickness_mm: float, hydrogen_ml: float, heat_input_kj_mm: float) -> float:
    """Tp = 697 CET + 160 tanh(d/35) + 62 HD^0.35 + (53 CET - 32) Q - 328, degC (EN 1011-2 method B).

    d is the thicker plate's thickness, mm, not the combined one; HD in ml/100 g; Q in kJ/mm, k included.
    """
    hydrogen: float = 62 * hydrogen_ml**0.35
    return 697 * cet + 160 * math.tanh(thickness_mm / 35) + hydrogen + (53 * cet - 32) * heat_input_kj_mm - 328


def method_b_map(cet: float, hydrogen_ml: float) -> tuple[tuple[float, ...], ...]:
    """Method B over `MAP_HEAT_INPUTS` (rows) and `MAP_THICKNESSES_MM` (columns), degC; all inside the method's validity."""
    return tuple(tuple(method_b_c(cet, d, hydrogen_ml, q) for d in MAP_THICKNESSES_MM) for q in MAP_HEAT_INPUTS)


def susceptibility_index(pcm: float, hydrogen_ml: float) -> float:
    """SI = 12 Pcm + log10 H (AWS D1.1, hydrogen-control annex)."""
    return 12 * pcm + math.log10(hydrogen_ml)


def annex_group(index: float) -> str:
    """Group A to G, '' beyond G."""
    return next((name for most, name in _GROUPS if round(index, 1) <= most), "")


def annex_c(pcm: float, hydrogen_ml: float, thickness_mm: float, restraint: str) -> float | None:
    """Least preheat of the annex, degC; None beyond group G."""
    group = annex_group(susceptibility_index(pcm, hydrogen_ml))
    if not group:
        return None
    row = next(i for i, most in enumerate(_ROWS_MM) if thickness_mm < most or most == math.inf)
    return (ANNEX_F[restraint][row]["ABCDEFG".index(group)] - 32) / 1.8


def category_c(category: str, thickness_mm: float) -> float:
    """Least preheat of the prequalified table, degC, by category and thickest part."""
    row = next(i for i, most in enumerate(_CATEGORY_MM) if thickness_mm <= most)
    return float(CATEGORY_C[category][row])


def from_own_copy(method: Preheat, own_c: float) -> Preheat:
    """The method with the figure its user read in the standard; 0 leaves it as remembered."""
    return replace(method, least_c=own_c, notes=("entered from your copy",), verified=True) if own_c > 0 else method


def compared(
    cet: float, pcm: float, thickness_mm: float, hydrogen_ml: float, heat_input_kj_mm: float, restraint: str, category: str
) -> tuple[Preheat, Preheat, Preheat]:
    """All three methods for one set of inputs."""
    outside = [
        f"{name} {value:g} is outside {low:g} to {high:g}" for name, value, low, high in (
            ("CET", round(cet, 3), 0.2, 0.5), ("thickness", thickness_mm, 10.0, 90.0), ("hydrogen", hydrogen_ml, 1.0, 20.0),
            ("heat input", round(heat_input_kj_mm, 2), 0.5, 4.0)) if not low <= value <= high
    ]  # fmt: skip
    least = method_b_c(cet, thickness_mm, hydrogen_ml, heat_input_kj_mm)
    index = susceptibility_index(pcm, hydrogen_ml)
    annex = annex_c(pcm, hydrogen_ml, thickness_mm, restraint)
    group = annex_group(index)
    return (
        Preheat("EN 1011-2 method B", least, f"CET {cet:.3f}, {thickness_mm:g} mm, {hydrogen_ml:g} ml/100 g, {heat_input_kj_mm:.2f} kJ/mm", tuple(outside)),
        Preheat("AWS D1.1 annex", annex, f"Pcm {pcm:.3f}, index {index:.2f}, group {group or 'beyond G'}, restraint {restraint}",
                (f"table {UNVERIFIED}",) if group else ("beyond group G: the annex gives nothing",), verified=False),
        Preheat("AWS D1.1 prequalified table", category_c(category, thickness_mm), f"category {category}, {thickness_mm:g} mm",
                ("usually lower than the other two for steels of middling hardenability", f"category D {UNVERIFIED}" if category == "D" else
                 "base metal below 0 \N{DEGREE SIGN}C is warmed to 20 \N{DEGREE SIGN}C first"), verified=category != "D"),
    )  # fmt: skip
