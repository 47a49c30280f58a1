"""Fit-up readings and radii of pipe ends as CSV, read and written; what is written reads back the same."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from banister.core.fitup.places import Course
from banister.core.fitup.readings import QUANTITIES, fitup_faults
from banister.core.joint.fitting import FitUp, GapReading, PipeEnd
from banister.core.remark import Refused, Remark, fault
from banister.job.columns import Row, read_columns
from banister.job.reading import FileFault

COLUMNS = ("station", "clock", "gap", "root_face", "high_low", "bevel_left", "bevel_right", "note")
FIELDS = {"gap": "gap", "face": "root_face", "high_low": "high_low", "bevel_left": "bevel_left", "bevel_right": "bevel_right"}
RADIUS_COLUMNS = ("angle", "radius", "diameter", "clock")


def read_fitup(path: Path, course: Course) -> FitUp:
    """The readings of a file, sorted by place; FileFault names line, column, value and remedy of every fault."""
    faults, found = list[Remark](), list[tuple[int, GapReading]]()
    for row in read_columns(path, COLUMNS).rows:
        try:
            found.append((row.line, _reading(row, course)))
        except Refused as refused:
            faults += [fault(r.code, f"line {row.line}, {_place_column(row)}", **r.figures) for r in refused.remarks]
    readings = [reading for _, reading in found]
    for wrong in fitup_faults(FitUp(readings=tuple(readings)), course):
        index, _, column = wrong.place.field.removeprefix("readings[").partition("]")
        column = column.replace(".s_mm", "")
        faults.append(fault(wrong.code, f"line {found[int(index)][0]}, {FIELDS.get(column.removeprefix('.'), _place_column(None, course))}", **wrong.figures))
    if faults:
        raise FileFault(*faults, file=str(path))
    return FitUp(readings=tuple(sorted(readings, key=lambda r: r.s_mm)))


def _place_column(row: Row | None, course: Course | None = None) -> str:
    if row is not None:
        return "clock" if row.texts.get("clock") else "station"
    return "clock" if course is not None and course.closed else "station"


def _reading(row: Row, course: Course) -> GapReading:
    clock, station = row.texts.get("clock", ""), row.texts.get("station", "")
    if course.closed != bool(clock) or (not clock and not station):
        raise Refused(fault("fitup.kind.pipe" if course.closed else "fitup.kind.plate", ""))
    typed_at = clock or f"{row.values['station']:g} mm"
    fields = {name: row.values.get(column) for name, column in FIELDS.items()}
    return GapReading(at=clock or station, s_mm=course.place(typed_at), note=row.texts.get("note", ""), **fields)


def fitup_csv(fitup: FitUp, course: Course) -> str:
    """The readings as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    first = "clock" if course.closed else "station_mm"
    writer.writerow([first, *(f"{FIELDS[name]}_{'deg' if QUANTITIES[name][1] == 'angle' else 'mm'}" for name in FIELDS), "note"])
    for r in fitup.readings:
        values = (getattr(r, name) for name in FIELDS)
        writer.writerow([r.at if course.closed else f"{r.s_mm:g}", *("" if v is None else f"{v:g}" for v in values), r.note])
    return out.getvalue()


def read_pipe_end(path: Path) -> PipeEnd:
    """The radii, or diameters, of a pipe end by their angles."""
    rows = read_columns(path, RADIUS_COLUMNS).rows
    faults = [fault("turn.cell", f"line {row.line}") for row in rows
              if row.values.get("angle") is None or (row.values.get("radius") is None) == (row.values.get("diameter") is None)]  # fmt: skip
    if faults:
        raise FileFault(*faults, file=str(path))
    is_wide = rows[0].values.get("diameter") is not None
    radii = tuple((row.values["diameter"] or 0.0) / 2 if is_wide else (row.values["radius"] or 0.0) for row in rows)
    return PipeEnd(angles_deg=tuple(row.values["angle"] or 0.0 for row in rows), radii_mm=radii, diameters=is_wide)
