"""Reckon first: answers are the plan's own and what physics gives for them, the same turn asks the same, how far off is kept over the weeks."""

from __future__ import annotations

import json

import numpy as np
import pytest

from banister.core.drawing.charts.reckon_picture import reckon_picture
from banister.core.heat.history import curve_c
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.play.hand import begun
from banister.core.practice.book import Book, Guess
from banister.core.practice.reckon import BEADS, COOL, PLACE, QUESTIONS, ROD, RUN_OUT, question, questions_for
from banister.core.practice.reckoned import answer_said, asked_said, near_said, off, weeks_of_guesses
from banister.core.value import replace
from banister.job.practice import practice_bytes, practice_in, shipped_drills
from banister.job.reading import FileFault
from tests.conftest import SAY, SAY_INCH, make_joint, rods_by_id, texts_of
from tests.sample.practised import example

RODS, RECKONING = rods_by_id(), shipped_drills().reckoning


@pytest.fixture(scope="module")
def known() -> tuple[Joint, Plan, Schedule]:
    joint = make_joint(thickness_mm=18.0)
    plan = plan_joint(joint, RODS)
    return joint, plan, schedule_of(joint, plan)


def test_every_answer_is_the_plans_own(known: tuple[Joint, Plan, Schedule]) -> None:
    joint, plan, schedule = known
    assert questions_for(*known) == QUESTIONS == tuple(RECKONING)
    for turn in range(6):
        asked = {key: question(key, joint, RODS, plan, schedule, turn) for key in QUESTIONS}
        assert asked == {key: question(key, joint, RODS, plan, schedule, turn) for key in QUESTIONS}, "the same turn asks the same"
        assert asked[BEADS].answer == len(plan.passes)
        p = plan.passes[asked[RUN_OUT].number - 1]
        grams = 7.85e-3 * np.pi / 4 * p.rod.diameter_mm**2 * (p.rod.length_mm - p.rod.stub_mm) * p.rod.recovery
        assert asked[RUN_OUT].answer == pytest.approx(grams / 7.85e-3 / p.area_mm2)
        p = plan.passes[asked[PLACE].number - 1]
        assert min(x for x, _ in p.outline_mm) < asked[PLACE].answer < max(x for x, _ in p.outline_mm) and asked[PLACE].number > 1
        assert asked[ROD].answer == plan.passes[asked[ROD].number - 1].rod.id and asked[ROD].answer in asked[ROD].choices
    assert len({question(RUN_OUT, joint, RODS, plan, schedule, turn).number for turn in range(12)}) > 3


def test_cooling_is_asked_to_a_temperature_it_comes_to_and_takes_as_long_as_the_model_does(known: tuple[Joint, Plan, Schedule]) -> None:
    joint, plan, schedule = known
    for turn in range(4):
        asked = question(COOL, joint, RODS, plan, schedule, turn)
        to, peak = asked.figures["to"].value, asked.because["peak"].value
        assert isinstance(to, float) and joint.heat.air_c < to < peak - 10 and asked.answer > 0
        upto = replace(schedule, passes=schedule.passes[: asked.number])
        at = upto.passes[-1].end_s + 60 * np.array([asked.answer - 0.2, asked.answer, asked.answer + 0.2])
        before, there, after = curve_c(joint, plan, upto, at, joint.heat.measure_at_mm).max(axis=0)
        assert there == pytest.approx(to, abs=0.6) and before > there > after


def test_what_cannot_be_asked_is_not() -> None:
    joint = make_joint(thickness_mm=18.0)
    plan = plan_joint(joint, RODS)
    assert COOL not in questions_for(joint, plan, None) and questions_for(joint, Plan("balanced"), None) == ()
    one = replace(plan, passes=plan.passes[:1])
    assert questions_for(joint, one, None) == (BEADS, RUN_OUT)


def guess(question: str, own: float | str, answer: float | str, on: str = "2026-11-01") -> Guess:
    return Guess(on=on, question=question, joint="F2", guess=own, answer=answer)


def test_how_far_off_and_over_the_weeks() -> None:
    assert off(guess(BEADS, 12.0, 16.0)) == 25.0 and off(guess(RUN_OUT, 220.0, 200.0)) == pytest.approx(10.0)
    assert off(guess(PLACE, -1.0, 2.5)) == 3.5 and (off(guess(ROD, "a", "a")), off(guess(ROD, "a", "b"))) == (0.0, 100.0)
    book = Book(trainee="K7")
    assert "not asked yet" in near_said(book, RECKONING[BEADS], SAY)
    for day in range(8):
        for share in (0.8, 1.0, 1.25):
            book = book.with_guess(guess(BEADS, 100.0 + 40.0 * 0.75**day * share, 100.0, f"2026-11-{3 * day + 1:02d}"))
    weeks = weeks_of_guesses(book, RECKONING[BEADS])
    assert [day.median for day in weeks.last] == pytest.approx([40.0 * 0.75**day for day in range(8)]) and weeks.line is not None
    low, high = weeks.a_week() or (0.0, 0.0)
    assert (low, high) == pytest.approx((0.75 ** (7 / 3) - 1,) * 2) and "Better by" in near_said(book, RECKONING[BEADS], SAY)
    mixed = Book(trainee="K7", guesses=(guess(ROD, "a", "a"), guess(ROD, "a", "b"), guess(ROD, "b", "b"), guess(ROD, "b", "b")))
    assert weeks_of_guesses(mixed, RECKONING[ROD]).last[0].median == 25.0


def test_question_and_answer_read_as_sentences_and_the_picture_hides_what_is_asked(known: tuple[Joint, Plan, Schedule]) -> None:
    joint, plan, schedule = known
    for say in (SAY, SAY_INCH):
        for key in QUESTIONS:
            asked = question(key, joint, RODS, plan, schedule, 3)
            own = asked.answer if isinstance(asked.answer, str) else asked.answer * 1.2 + 1
            told = answer_said(asked, guess(key, own, asked.answer), say)
            assert "{" not in asked_said(asked, say) + " ".join(told) and asked_said(asked, say).endswith("?") and len(told) >= 2
            assert (" mm" in asked_said(asked, say) + " ".join(told)) is False or say is SAY
    asked = question(PLACE, joint, RODS, plan, schedule, 3)
    play = begun(joint, RODS, plan.passes, asked.number - 1)
    before = reckon_picture(play, 1.0, None, SAY, (900.0, 600.0)).drawing
    after = reckon_picture(play, 1.0, play.ahead[0], SAY, (900.0, 600.0)).drawing
    numbers = [t for t in texts_of(before) if t[1:].isdigit()]
    assert len(numbers) == asked.number - 1 and "the plan" not in texts_of(before) and {"the plan", "you"} <= set(texts_of(after))


def test_a_book_of_before_opens_and_guesses_that_are_none_are_refused() -> None:
    book = example()
    assert practice_in(practice_bytes(book)) == book and book.guesses
    old = json.loads(practice_bytes(replace(book, guesses=())))
    old["version"] = 1
    del old["book"]["guesses"]
    assert practice_in(json.dumps(old).encode()) == replace(book, guesses=())
    for wrong in ({"question": "luck"}, {"guess": "x"}, {"answer": 1e9}, {"on": "then"}, {"question": "reckon_rod"}):
        document = json.loads(practice_bytes(book))
        document["book"]["guesses"][0] |= wrong
        with pytest.raises(FileFault) as told:
            practice_in(json.dumps(document).encode())
        assert told.value.remarks[0].place.field.startswith("$.book.guesses[0].")
