"""Practice as CSV: a line a rod, a column a figure, the plain figures as they are kept."""

from __future__ import annotations

from banister.core.practice.book import Book, Drills
from banister.core.practice.figures import FIGURES
from banister.export.record_csv import written

HEAD = ("on", "drill", "rod", "position", "machine", "amps_a", "number", "simulated")
UNITS = {"V": "_v", "%": "_percent", "mm": "_mm", "": ""}


def practice_csv(book: Book, drills: Drills) -> str:
    """Every rod of every session."""
    rows: list[list[str]] = []
    for session in book.sessions:
        for number, rod in enumerate(session.rods, 1):
            amps = "" if session.amps is None else f"{session.amps:g}"
            figures = [FIGURES[key](session, rod) for key in drills.metrics]
            simulated = "yes" if rod.arc is not None and rod.arc.is_simulated else ""
            rows.append([session.on, session.drill, session.rod, session.position, session.machine, amps, str(number), simulated,
                         *("" if v is None else f"{v:.4g}" for v in figures)])  # fmt: skip
    return written([*HEAD, *(f"{key}{UNITS[m.unit]}" for key, m in drills.metrics.items())], rows)
