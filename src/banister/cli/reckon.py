"""`banister reckon`: a question on a joint before its plan is shown; with a guess the plan's answer, and the guess kept in a practice book."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, UsageFault
from banister.core.practice.book import Guess
from banister.core.practice.reckon import PLACE, QUESTIONS, ROD, Question, answered_from, question, questions_for
from banister.core.practice.reckoned import answer_said, asked_said, near_said, off
from banister.core.typed import typed
from banister.core.words import Speech
from banister.job.practice import PracticeFile, shipped_drills

NAMES = {key.removeprefix("reckon_").replace("_", "-"): key for key in QUESTIONS}


def add_parser(commands: Any, say: Speech) -> None:
    """Add `reckon` to the command line."""
    p = described(commands, "reckon", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--ask", choices=tuple(NAMES), required=True, help=say("cli.reckon.ask"))
    p.add_argument("--turn", type=int, default=1, metavar="N", help=say("cli.reckon.turn"))
    p.add_argument("--guess", metavar="VALUE", help=say("cli.reckon.guess"))
    p.add_argument("--book", type=Path, metavar="FILE", help=say("cli.reckon.book"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Ask; with a guess answer, and keep it."""
    job = desk.read(a.file)
    joint = desk.joint(job, a.joint)
    plan, schedule = answered_from(joint, job.rods_by_id)
    can, key = questions_for(joint, plan, schedule), NAMES[a.ask]
    if key not in can:
        raise UsageFault("cli.fault.reckon.cannot", what=a.ask, has=", ".join(name for name, one in NAMES.items() if one in can) or "-")
    asked = question(key, joint, job.rods_by_id, plan, schedule, a.turn)
    guess = None if a.guess is None else _guess(a.guess, asked, desk)
    file = None if a.book is None else PracticeFile(a.book)
    book = None if file is None else file.open()
    if file is not None and book is not None and guess is not None:
        book = book.with_guess(guess)
        file.save(book)
    if a.json:
        print(json.dumps(_document(asked, guess, desk.say), indent=1))
    else:
        near = [] if book is None or guess is None else [near_said(book, shipped_drills().reckoning[key], desk.say)]
        told = answer_said(asked, guess, desk.say) if guess is not None else []
        print("\n".join([asked_said(asked, desk.say), *told, *near, desk.say("reckon.note")]))
    return INSIDE


def _guess(text: str, asked: Question, desk: Desk) -> Guess:
    own: float | str = text
    if asked.key != ROD:
        own = typed(text, asked.kind, desk.say.units, -1e6 if asked.key == PLACE else 0.0, 1e6)
    elif text not in asked.choices:
        raise UsageFault("cli.fault.reckon.rod", text=text, rods=", ".join(asked.choices))
    return Guess(on=desk.today.isoformat(), question=asked.key, joint=asked.joint, number=asked.number, guess=own, answer=asked.answer)


def _document(asked: Question, guess: Guess | None, say: Speech) -> dict[str, Any]:
    told = {} if guess is None else {"guess": guess.guess, "answer": guess.answer, "off": round(off(guess), 3), "says": answer_said(asked, guess, say)}
    return {"format": "banister-reckon", "version": 1, "joint": asked.joint, "question": asked.key.removeprefix("reckon_"), "pass": asked.number or None,
            "asks": asked_said(asked, say), "choices": list(asked.choices), **told, "note": say("reckon.note")}  # fmt: skip
