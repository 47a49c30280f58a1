"""`banister practice`: a session of a trainee's book, what it says and what shows over weeks; of several books how many rods tell hands apart."""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, UsageFault
from banister.core.practice.book import Book, Drills, Metric
from banister.core.practice.reckoned import near_said, weeks_of_guesses
from banister.core.practice.said import KINDS, name_of, sentences, shown, state_said, target_said, weeks_said
from banister.core.practice.standing import Standing, Weeks, standings, values_of, weeks_of
from banister.core.practice.weeks import Apart, apart
from banister.core.words import Speech, capital
from banister.job.practice import practice_bytes, read_practice, shipped_drills

FEWEST_BOOKS = 3


def add_parser(commands: Any, say: Speech) -> None:
    """Add `practice` to the command line."""
    p = described(commands, "practice", say)
    p.add_argument("files", type=Path, nargs="+", metavar="FILE")
    p.add_argument("--session", type=int, metavar="N", help=say("cli.practice.session"))
    p.add_argument("--new", metavar="MARK", help=say("cli.practice.new"))
    p.add_argument("--csv", type=Path, metavar="FILE", help=say("cli.practice.csv"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print it."""
    if 1 < len(a.files) < FEWEST_BOOKS:
        raise UsageFault("cli.fault.practice.two")
    if a.new is not None:
        return _begin(a, desk)
    books, drills = [read_practice(path) for path in a.files], shipped_drills()
    if len(books) > 1:
        return _apart(books, drills, a, desk)
    (book,) = books
    if a.csv:
        from banister.export.practice_csv import practice_csv

        desk.write(a.csv, practice_csv(book, drills).encode())
    index = _index(a.session, book)
    shown_figures = () if index is None else standings(book, index, drills)
    weeks = [] if index is None else [weeks_of(book, s.metric, index) for s in shown_figures]
    if a.json:
        print(json.dumps(_document(book, index, shown_figures, weeks, desk.say), indent=1))
    else:
        print("\n".join(_lines(book, index, shown_figures, weeks, desk.say)))
    return INSIDE


def _begin(a: argparse.Namespace, desk: Desk) -> int:
    (path,) = a.files if len(a.files) == 1 else (None,)
    if path is None:
        raise UsageFault("cli.fault.practice.two")
    if path.exists():
        raise UsageFault("cli.fault.practice.exists", file=str(path))
    desk.write(path, practice_bytes(Book(trainee=a.new)))
    return INSIDE


def _index(session: int | None, book: Book) -> int | None:
    if session is None:
        return len(book.sessions) - 1 if book.sessions else None
    if not 1 <= session <= len(book.sessions):
        raise UsageFault("cli.fault.practice.session", text=str(session), n=str(len(book.sessions)))
    return session - 1


def _lines(book: Book, index: int | None, found: tuple[Standing, ...], weeks: list[Weeks], say: Speech) -> list[str]:
    if index is None:
        return [say("cli.practice.empty", trainee=book.trainee), *_homework(book, say), *_reckoned(book, say), say("practice.caution")]
    session = book.sessions[index]
    head = ("figure", "median", "spread", "target", "state", "each")
    rows = [[say(f"cli.practice.{key}") for key in head]]
    for s in found:
        each = ", ".join("-" if v is None else say.units.text(KINDS[s.metric.unit], v) for v in s.values)
        both = ("-" if v is None else shown(s.metric, v, say) for v in (s.median, s.spread))
        rows.append([name_of(s.metric, say), *both, target_said(s, say), state_said(s, say), each])
    simulated = [say("practice.simulated")] if session.is_simulated else []
    lines = [say("cli.practice.sessions", trainee=book.trainee, n=len(book.sessions)), *simulated, session_said(book, index, say), ""]
    lines += [*columns(rows, left=(0, 3, 4, 5)), "", *sentences(found, say)]
    lines += [f"{capital(name_of(w.metric, say))}: {weeks_said(w, say)}" for w in weeks if w.last]
    lines += [f"\u201c{note.text}\u201d {note.by}, {note.on}" for note in session.notes]
    return [*lines, *_homework(book, say), *_reckoned(book, say), "", say("practice.caution")]


def session_said(book: Book, index: int, say: Speech) -> str:
    """Which drill, with what, how many rods, on which day."""
    session = book.sessions[index]
    title = say("practice.title", drill=say(f"practice.drill.{session.drill}.title"), position=session.position, rod=session.rod,
                rods=say("practice.rods", n=len(session.rods)))  # fmt: skip
    return f"{session.on}  {title}"


def _homework(book: Book, say: Speech) -> list[str]:
    return [say("cli.practice.homework", drill=say(f"practice.drill.{one.drill}.title"), rods=say("practice.rods", n=one.rods), by=one.by or "-",
                on=one.on or "-") for one in book.homework]  # fmt: skip


def _reckoned(book: Book, say: Speech) -> list[str]:
    """How near the trainee reckons, a line a question that was asked."""
    asked = [m for m in shipped_drills().reckoning.values() if any(guess.question == m.id for guess in book.guesses)]
    return [say("cli.practice.reckoned", n=len(book.guesses)), *(near_said(book, m, say) for m in asked)] if asked else []


def _document(book: Book, index: int | None, found: tuple[Standing, ...], weeks: list[Weeks], say: Speech) -> dict[str, Any]:
    session = None if index is None else book.sessions[index]
    return {
        "format": "banister-practice-report", "version": 1, "trainee": book.trainee, "sessions": len(book.sessions),
        "session": None if session is None or index is None else {"number": index + 1, "on": session.on, "drill": session.drill, "rod": session.rod,
                                                                  "position": session.position, "rods": len(session.rods), "simulated": session.is_simulated},
        "figures": [_figure(s, w, say) for s, w in zip(found, weeks, strict=True)],
        "says": sentences(found, say) if found else [],
        "reckoned": [_question(book, m, say) for m in shipped_drills().reckoning.values()],
    }  # fmt: skip


def _figure(s: Standing, w: Weeks, say: Speech) -> dict[str, Any]:
    week = w.a_week()
    return {
        "id": s.metric.id, "unit": s.metric.unit, "values": [_rounded(v) for v in s.values], "median": _rounded(s.median), "spread": _rounded(s.spread),
        "target": list(s.target), "certainty": s.metric.certainty, "rods_wanted": s.wanted_rods, "says_something": s.says_something,
        "outside_by": _rounded(s.over), "before": [_rounded(v) for v in s.earlier], "least_change": _rounded(s.least_change),
        "weeks": {"sessions": len(w.last), "shown": week is not None, "a_week": None if week is None else [_rounded(v) for v in week],
                  "text": weeks_said(w, say)},
    }  # fmt: skip


def _question(book: Book, metric: Metric, say: Speech) -> dict[str, Any]:
    weeks = weeks_of_guesses(book, metric)
    days = [{"on": day.on.isoformat(), "off": _rounded(day.median), "guesses": len(day.values)} for day in weeks.last]
    return {"id": metric.id, "unit": metric.unit, "target": list(book.target_of(metric)), "days": days, "text": near_said(book, metric, say)}


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 4)


def _apart(books: list[Book], drills: Drills, a: argparse.Namespace, desk: Desk) -> int:
    """How many rods of a figure tell these hands apart: an analysis of variance on square roots, never who is better."""
    say, found = desk.say, dict[str, Apart | None]()
    for key, metric in drills.metrics.items():
        hands = [[v for s in book.sessions for v in values_of(s, key) if v is not None] for book in books]
        hands = [hand for hand in hands if len(hand) > 1]
        if len(hands) < FEWEST_BOOKS:
            found[key] = None
            continue
        rods = min(map(len, hands))
        scaled = [[v if metric.signed else math.sqrt(max(v, 0.0)) for v in hand[-rods:]] for hand in hands]
        found[key] = apart(scaled)
    if a.json:
        figures = {key: None if one is None else _apart_figures(one) for key, one in found.items()}
        print(json.dumps({"format": "banister-practice-apart", "version": 1, "books": len(books), "figures": figures}, indent=1))
        return INSIDE
    rows = [[name_of(drills.metrics[key], say), say("cli.practice.apart.few") if one is None else
             say("cli.practice.apart.none") if one.rods_needed is None else say("practice.rods", n=one.rods_needed)] for key, one in found.items()]  # fmt: skip
    print("\n".join([say("cli.practice.apart", n=str(len(books))), *columns(rows, left=(0, 1)), say("practice.caution")]))
    return INSIDE


def _apart_figures(one: Apart) -> dict[str, float | int | None]:
    return {"icc": _rounded(one.icc), "rods_needed": one.rods_needed, "within_sd": _rounded(one.within_sd),
            "least_change_of_six": _rounded(one.least_change_of_six)}  # fmt: skip
