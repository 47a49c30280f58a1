"""Observations as CSV: what was written down along a weld, taken in whole or not at all."""

from __future__ import annotations

from pathlib import Path

from banister.core.fitup.places import Course
from banister.core.inspect.kinds import FACE, MEASURES, SIDES
from banister.core.inspect.observed import Observation, observation_faults
from banister.core.remark import Figure, Refused, Remark, fault
from banister.job.acceptance import kinds
from banister.job.columns import Row, read_columns
from banister.job.reading import FileFault

WORDS = ("clock", "note", "kind", "side", "toe", "gauge", "aid", "by")
COUNTS = ("number", "readings")
COLUMNS = ("station", *WORDS, *MEASURES, "readings")


def read_seen(path: Path, course: Course, t_mm: float, is_fillet: bool) -> tuple[Observation, ...]:
    """The observations of a file; FileFault names line, column, value and remedy of every fault."""
    faults, found, known = list[Remark](), list[Observation](), kinds()
    for row in read_columns(path, COLUMNS, WORDS, COUNTS).rows:
        try:
            one = _observation(row, course)
        except Refused as refused:
            faults += [fault(r.code, f"line {row.line}", **r.figures) for r in refused.remarks]
            continue
        wrong = list(observation_faults(one, known, course.length_mm, t_mm, course.closed, is_fillet))
        faults += [fault(r.code, f"line {row.line}, {r.place.field}", **r.figures) for r in wrong]
        found.append(one)
    if faults:
        raise FileFault(*faults, file=str(path))
    return tuple(found)


def _observation(row: Row, course: Course) -> Observation:
    clock, station = row.texts.get("clock", ""), row.texts.get("station", "")
    if course.closed != bool(clock) or (not clock and not station):
        raise Refused(fault("fitup.kind.pipe" if course.closed else "fitup.kind.plate", ""))
    side = row.texts.get("side") or FACE
    if side not in SIDES:
        raise Refused(fault("seen.no_side", "", value=Figure(side[:20], "name")))
    figures = {name: value for name in MEASURES if (value := row.values.get(name)) is not None}
    number, readings = figures.pop("number", None), row.values.get("readings")
    words = {name: row.texts[name] for name in ("toe", "gauge", "aid", "by", "note") if row.texts.get(name)}
    whole = None if number is None else int(number) if number == int(number) else number
    return Observation(
        kind=row.texts.get("kind", ""),
        side=side,
        s_mm=course.place(clock or f"{row.values['station']:g} mm"),
        number=whole,  # type: ignore[arg-type]
        readings=int(readings or 1),
        **figures,  # type: ignore[arg-type]
        **words,  # type: ignore[arg-type]
    )
