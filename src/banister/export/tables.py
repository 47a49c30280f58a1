"""Tables as CSV: one row a pass, the unit in every heading, figures in the units worked in, the k of heat input named.

How a reader's spreadsheet wants them is a habit: comma and point, or semicolon and decimal comma with a mark of UTF-8.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from banister.core.heat.schedule import Schedule
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.timing import between_s
from banister.core.units import Units
from banister.core.value import Struct

Cell = object
METRIC = Units()


class Habit(Struct, frozen=True):
    """What stands between cells and before decimals, and whether the file says that it is UTF-8."""

    separator: str = ","
    point: str = "."
    marked: bool = False


HABITS = {"point": Habit(), "comma": Habit(";", ",", True)}
"""By the decimal sign."""


class Number(str):
    """A cell that is a figure: written with the reader's decimal sign."""

    __slots__ = ()


def pass_csv(joint: Joint, plan: Plan, units: Units = METRIC, habit: Habit = HABITS["point"]) -> str:
    """The pass table of a joint; turning and gouging are rows of their own, without a pass number."""
    between, rows, heads = between_s(joint, joint.working.choices), list[Sequence[Cell]](), _pass_heads(units)
    passes = {p.key: p for p in plan.passes}
    for phase in plan.sequence:
        if phase.action in between:
            rows.append((joint.id, "", phase.action, phase.side, *[""] * (len(heads) - 5), Number(f"{between[phase.action]:.0f}")))
        rows += [(*_pass_row(joint, passes[key], units), "") for key in phase.passes]
    return _written(heads, rows, habit)


def _pass_heads(units: Units) -> tuple[str, ...]:
    area, length, long_length, speed, energy = (units.heading(kind) for kind in ("area", "length", "long_length", "speed", "energy"))
    return (
        "joint", "pass", "role", "side", "layer", "consumable", "amps_A", "volts_V", "polarity", "technique", f"bead_area_{area}", f"run_out_{long_length}",
        f"travel_{speed}", f"arc_energy_{energy}_k1", f"heat_input_{energy}", "heat_input_k", "rods", "arc_time_s", f"width_{length}", "state", "between_s",
    )  # fmt: skip


def _pass_row(joint: Joint, p: Pass, units: Units) -> tuple[Cell, ...]:
    def figure(kind: str, value: float, places: int) -> Number:
        return Number(units.plain(kind, value, places))

    return (joint.id, Number(p.number), p.role, p.side, Number(p.layer), p.rod.id, Number(f"{p.amps:g}"), Number(f"{p.volts:g}"), p.rod.polarity, p.technique,
            figure("area", p.area_mm2, 2), figure("long_length", p.run_out_mm, 0), figure("speed", p.travel_mm_min, 0), figure("energy", p.arc_energy_kj_mm, 3),
            figure("energy", p.heat_input_kj_mm, 3), Number(f"{p.efficiency:g}"), Number(p.rod_count), Number(f"{p.arc_time_s:.0f}"),
            figure("length", p.width_mm, 1), p.state)  # fmt: skip


def schedule_csv(joint: Joint, plan: Plan, schedule: Schedule, units: Units = METRIC, habit: Habit = HABITS["point"]) -> str:
    """The schedule of a joint."""
    passes = {p.key: p for p in plan.passes}
    heads = ("joint", "pass", "role", "start_s", "wait_s", "reheat_s", "end_s", f"temperature_{units.heading('temperature')[-1].lower()}", "t85_s")
    return _written(heads, (
        (joint.id, Number(passes[s.key].number), passes[s.key].role, *(Number(f"{v:.0f}") for v in (s.start_s, s.wait_s, s.reheat_s, s.end_s)),
         Number(units.plain("temperature", s.temp_c, 0)), "" if s.t85 is None else Number(f"{s.t85.seconds:.1f}")) for s in schedule.passes
    ), habit)  # fmt: skip


def joined(tables: Sequence[str]) -> str:
    """Several tables of one kind under one head."""
    return tables[0] + "".join(table.split("\n", 1)[1] for table in tables[1:])


def in_bytes(table: str, habit: Habit = HABITS["point"]) -> bytes:
    """A table as the bytes of a file."""
    return table.encode("utf-8-sig" if habit.marked else "utf-8")


def _written(headings: Sequence[str], rows: Iterable[Sequence[Cell]], habit: Habit) -> str:
    out = io.StringIO()
    writer = csv.writer(out, delimiter=habit.separator, lineterminator="\n")
    writer.writerow(headings)
    writer.writerows([_plain(cell, habit) for cell in row] for row in rows)
    return out.getvalue()


def _plain(cell: Cell, habit: Habit) -> object:
    """A figure with its decimal sign; a text no spreadsheet takes for a formula: one that begins like one gets an apostrophe."""
    if isinstance(cell, Number):
        return cell.replace(".", habit.point)
    if not isinstance(cell, str) or not cell or cell[0] not in "=+-@\t\r":
        return cell
    try:
        float(cell)
    except ValueError:
        return f"'{cell}"
    return cell
