"""Preheat by three methods side by side; they disagree, and are never averaged.

Method B of EN 1011-2 (CET), the hydrogen-control annex of AWS D1.1 (susceptibility index), and the
D1.1 prequalified table. Table cells are written from memory: unverified, enter from your copy. A cell
that was entered takes the remembered one's place.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence

from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import INSIDE, Figure, Remark, fault, watch
from banister.core.value import Struct
from banister.core.words import Speech

GROUPS = "ABCDEFG"
_GROUPS = ((3.0, "A"), (3.5, "B"), (4.0, "C"), (4.5, "D"), (5.0, "E"), (5.5, "F"), (7.0, "G"))
ANNEX_ROWS_MM = (10.0, 20.0, 38.0, 75.0, math.inf)
ANNEX_F = {
    "low": ((65, 65, 65, 65, 140, 280, 300), (65, 65, 65, 140, 210, 280, 300), (65, 65, 65, 175, 230, 280, 300),
            (65, 65, 100, 200, 250, 280, 300), (65, 65, 100, 200, 250, 280, 300)),
    "medium": ((65, 65, 65, 65, 160, 280, 320), (65, 65, 65, 175, 240, 290, 320), (65, 65, 165, 230, 280, 300, 320),
               (65, 175, 230, 265, 300, 300, 320), (200, 250, 280, 300, 320, 320, 320)),
    "high": ((65, 65, 65, 100, 230, 300, 320), (65, 65, 150, 220, 280, 320, 320), (65, 185, 240, 280, 300, 320, 320),
             (240, 265, 300, 300, 320, 320, 320), (240, 265, 300, 300, 320, 320, 320)),
}  # fmt: skip
"""Least preheat, degF, by restraint, thickness row and group A to G; 65 is no more than shop temperature."""
CATEGORY_ROWS_MM = (20.0, 38.0, 65.0, math.inf)
CATEGORY_C = {"A": (0, 65, 110, 150), "B": (0, 10, 65, 110), "C": (10, 65, 110, 150), "D": (0, 0, 0, 0)}
MAP_THICKNESSES_MM = (10.0, 15.0, 20.0, 30.0, 40.0, 50.0, 60.0, 75.0, 90.0)
MAP_HEAT_INPUTS = (0.5, 0.75, 1.0, 1.5, 2.0, 2.5, 3.0, 4.0)
SHOP_C = (65 - 32) / 1.8
AGREE_K = 10.0


METHOD_B, ANNEX, TABLE = "method_b", "annex", "table"
COLDEST_CELL_C, HOTTEST_CELL_C = -50.0, 400.0
VALID_B = {"equivalent": (0.2, 0.5), "length": (10.0, 90.0), "hydrogen": (1.0, 20.0), "energy": (0.5, 4.0)}
"""What method B was made for: CET, thickness, hydrogen and heat input, by the kind of the figure."""


class OwnCell(Struct, frozen=True, kw_only=True):
    """A figure of a preheat table as it stands in the user's own copy: the cell's key, degC."""

    cell: str
    least_c: float


class Preheat(Struct, frozen=True):
    """What a method asks for: `least_c` None where it gives nothing, with its inputs and what to know of it.

    The name of a method is the word `method.KEY`; `inputs` and `notes` are remarks.
    """

    method: str
    least_c: float | None
    inputs: Remark
    notes: tuple[Remark, ...] = ()
    verified: bool = True

    def said(self, say: Speech) -> str:
        """The figure as a check shows it."""
        if self.least_c is None:
            return say("preheat.not_given")
        return say("preheat.none") if self.least_c <= SHOP_C + 0.5 else say.sized("temperature", self.least_c)


def cell_faults(cells: Iterable[OwnCell]) -> tuple[Remark, ...]:
    """Cells that no table has, and figures no table can hold."""
    window = Figure((COLDEST_CELL_C, HOTTEST_CELL_C), "temperature")
    return tuple(
        fault("preheat.cell", f"own_cells[{i}]", cell=Figure(own.cell[:40], "name"), window=window) for i, own in enumerate(cells)
        if own.cell not in REMEMBERED_C or not (math.isfinite(own.least_c) and COLDEST_CELL_C <= own.least_c <= HOTTEST_CELL_C)
    )  # fmt: skip


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


def annex_cell(pcm: float, hydrogen_ml: float, thickness_mm: float, restraint: str) -> str:
    """The key of the annex's cell, '' beyond group G."""
    group = annex_group(susceptibility_index(pcm, hydrogen_ml))
    row = next(i for i, most in enumerate(ANNEX_ROWS_MM) if thickness_mm < most or most == math.inf)
    return annex_key(restraint, row, group) if group else ""


def annex_key(restraint: str, row: int, group: str) -> str:
    """The key of a cell of the annex."""
    return f"annex {restraint} {row + 1} {group}"


def category_cell(category: str, thickness_mm: float) -> str:
    """The key of the prequalified table's cell, by category and thickest part."""
    return category_key(category, next(i for i, most in enumerate(CATEGORY_ROWS_MM) if thickness_mm <= most))


def category_key(category: str, row: int) -> str:
    """The key of a cell of the prequalified table."""
    return f"table {category} {row + 1}"


def remembered_cells() -> dict[str, float]:
    """Least preheat of every cell of both tables, degC, by key."""
    annex = {annex_key(restraint, i, group): (cell - 32) / 1.8 for restraint, rows in ANNEX_F.items()
             for i, row in enumerate(rows) for group, cell in zip(GROUPS, row, strict=True)}  # fmt: skip
    return annex | {category_key(category, i): float(cell) for category, row in CATEGORY_C.items() for i, cell in enumerate(row)}


REMEMBERED_C = remembered_cells()


def is_sure(cell: str) -> bool:
    """False for the whole annex and category D: fairly sure at best, unverified until entered."""
    return cell.startswith("table ") and not cell.startswith(category_key("D", 0)[:-1])


def by_method(
    cet: float,
    pcm: float,
    thickness_mm: float,
    hydrogen_ml: float,
    heat_input_kj_mm: float,
    restraint: str,
    category: str,
    own: Mapping[str, float] | None = None,
) -> tuple[Preheat, Preheat, Preheat]:
    """All three methods for one set of inputs; `own` holds cells from the user's copy, degC by key."""
    used = {
        "cet": Figure(cet, "equivalent"), "thickness": Figure(thickness_mm, "length"), "hydrogen": Figure(hydrogen_ml, "hydrogen"),
        "heat_input": Figure(heat_input_kj_mm, "energy"),
    }  # fmt: skip
    beyond = tuple(
        watch(f"method_b.{name}", value=figure, window=Figure(VALID_B[figure.kind], figure.kind)) for name, figure in used.items()
        if isinstance(figure.value, float) and not VALID_B[figure.kind][0] <= round(figure.value, 3) <= VALID_B[figure.kind][1]
    )  # fmt: skip
    index = susceptibility_index(pcm, hydrogen_ml)
    group = annex_group(index)
    annexed = {"pcm": Figure(pcm, "equivalent"), "index": Figure(index, "ratio"), "restraint": Figure(f"restraint.{restraint}", "word")}
    annexed["group"] = Figure(group, "name") if group else Figure("annex.beyond", "word")
    listed = {"category": Figure(category, "name"), "thickness": used["thickness"]}
    return (
        Preheat(METHOD_B, method_b_c(cet, thickness_mm, hydrogen_ml, heat_input_kj_mm), Remark("method_b.inputs", INSIDE, used), beyond),
        _from_table(ANNEX, annex_cell(pcm, hydrogen_ml, thickness_mm, restraint), own or {}, Remark("annex.inputs", INSIDE, annexed)),
        _from_table(TABLE, category_cell(category, thickness_mm), own or {}, Remark("table.inputs", INSIDE, listed),
                    (watch("table.lower"), watch("table.frost"))),
    )  # fmt: skip


def _from_table(method: str, cell: str, own: Mapping[str, float], inputs: Remark, notes: tuple[Remark, ...] = ()) -> Preheat:
    """A method that reads a cell, from the user's copy where it was entered."""
    if not cell:
        return Preheat(method, None, inputs, (watch("annex.nothing"),), verified=False)
    if cell in own:
        return Preheat(method, own[cell], inputs, (*notes, watch("cell.own")))
    sure = is_sure(cell)
    return Preheat(method, REMEMBERED_C[cell], inputs, notes if sure else (*notes, watch("cell.unverified")), verified=sure)


def preheat_methods(joint: Joint, plan: Plan, own_cells: Iterable[OwnCell] = ()) -> tuple[Preheat, ...]:
    """The three methods for this joint; empty where no composition is known, or for stainless, which takes none."""
    if not joint.metal.steel.is_known or joint.metal.stainless or not plan.passes:
        return ()
    coldest = min(p.heat_input_kj_mm for p in plan.passes)
    thick = joint.prep.thickest_mm
    heat = joint.heat
    own = {c.cell: c.least_c for c in own_cells}
    return by_method(joint.metal.steel.cet, joint.metal.steel.pcm, thick, heat.hydrogen_ml, coldest, heat.restraint, heat.category, own)


def disagreement_k(methods: Sequence[Preheat]) -> tuple[float, Preheat] | None:
    """How far the methods lie apart and which asks for the most; None where fewer than two give a figure, or they agree within 10 K."""
    given = [m for m in methods if m.least_c is not None]
    figures = [max(m.least_c or 0.0, SHOP_C) for m in given]
    apart = max(figures) - min(figures) if len(figures) > 1 else 0.0
    return (apart, max(given, key=lambda m: m.least_c or 0.0)) if apart > AGREE_K else None


def disagreement_said(methods: Sequence[Preheat], say: Speech) -> str:
    """How far the methods lie apart, in words; '' where they agree."""
    found = disagreement_k(methods)
    if found is None:
        return ""
    return say("preheat.apart", apart=Figure(found[0], "temperature_difference"), method=say(f"method.{found[1].method}"))
