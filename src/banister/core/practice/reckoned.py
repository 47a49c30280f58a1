"""How near one reckons: a guess against the plan's answer, and the days and weeks of a question as those of any figure."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable
from datetime import date
from statistics import fmean, median

from banister.core.practice.book import Book, Guess, Metric
from banister.core.practice.reckon import BEADS, PLACE, ROD, Question
from banister.core.practice.said import name_of, shown, weeks_said
from banister.core.practice.standing import Day, Weeks, scaled
from banister.core.practice.weeks import DAY_SD, ROD_SD, least_change, trend
from banister.core.remark import Figure
from banister.core.words import Speech, capital


def off(guess: Guess) -> float:
    """How far off a guess is: per cent of the answer, mm for a place, 100 % or none for a rod."""
    if isinstance(guess.guess, str) or isinstance(guess.answer, str):
        return 0.0 if guess.guess == guess.answer else 100.0
    apart = abs(guess.guess - guess.answer)
    return apart if guess.question == PLACE else 100.0 * apart / max(abs(guess.answer), 1e-9)


def weeks_of_guesses(book: Book, metric: Metric) -> Weeks:
    """A question over the days it was asked on: a day's median, the share of wrong rods; the line as for any figure."""
    mine = [guess for guess in book.guesses if guess.question == metric.id]
    days = [_day(on, list(group), metric) for on, group in itertools.groupby(mine, key=lambda guess: guess.on)]
    line = trend([float(day.on.toordinal()) for day in days], [scaled(metric, day.median) for day in days])
    each = round(fmean(len(day.values) for day in days)) if days else 1
    return Weeks(metric, (tuple(days),) if days else (), line, math.expm1(least_change(ROD_SD, max(each, 1), DAY_SD)))


def _day(on: str, guesses: Iterable[Guess], metric: Metric) -> Day:
    values = tuple(off(guess) for guess in guesses)
    return Day(date.fromisoformat(on), fmean(values) if metric.id == ROD else median(values), values)


def asked_said(question: Question, say: Speech) -> str:
    """The question."""
    return say(f"reckon.ask.{question.key}", joint=question.joint, **question.figures)


def answer_said(question: Question, guess: Guess, say: Speech) -> list[str]:
    """The plan's answer beside the guess, how far off that is, and the reason."""
    plan, own = (value_said(question, value, say) for value in (question.answer, guess.guess))
    if question.key == ROD:
        near = say("reckon.rod.right") if off(guess) == 0.0 else say("reckon.rod.other")
    elif question.key == PLACE:
        near = say("reckon.off.place", by=shown_off(guess, say))
    else:
        assert not isinstance(guess.guess, str) and not isinstance(guess.answer, str)
        way = "right" if off(guess) < 0.5 else "over" if guess.guess > guess.answer else "under"
        near = say(f"reckon.off.{way}", by=shown_off(guess, say))
    why = say(f"reckon.why.{question.key}", **question.because)
    return [say("reckon.plan_says", plan=plan, own=own, near=near), why, *([capital(say.sentence(question.why))] if question.why is not None else [])]


def value_said(question: Question, value: float | str, say: Speech) -> str:
    """A guess or an answer with its unit."""
    if isinstance(value, str):
        return say.units.rod(value)
    if question.key == PLACE:
        way = "middle" if abs(value) < 0.05 else "left" if value < 0 else "right"
        return say(f"reckon.place.{way}", at=Figure(abs(value), "length"))
    return say("reckon.beads", n=round(value)) if question.key == BEADS else say.sized(question.kind, value)


def shown_off(guess: Guess, say: Speech) -> str:
    """How far off, with its unit."""
    return say.sized("fine_length", off(guess)) if guess.question == PLACE else say.sized("percent", round(off(guess)))


def near_said(book: Book, metric: Metric, say: Speech) -> str:
    """How near one comes at a question: the last day's figure, and what the days say."""
    weeks = weeks_of_guesses(book, metric)
    if not weeks.last:
        return say("reckon.never", figure=capital(name_of(metric, say)))
    last, n = weeks.last[-1], sum(len(day.values) for day in weeks.last)
    return say("reckon.near", figure=capital(name_of(metric, say)), value=shown(metric, last.median, say), n=n, on=last.on.isoformat(),
               weeks=weeks_said(weeks, say))  # fmt: skip
