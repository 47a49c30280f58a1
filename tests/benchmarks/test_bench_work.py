"""Speed of the work at the bench: re-cut sections, the turn of two ends, stops, rods to take, how sure, passes by their keys; as in test_speed."""

from __future__ import annotations

import statistics
import time
from datetime import UTC, date, datetime, timedelta
from typing import Any

from banister.core.care.of_plan import needs_of
from banister.core.drawing.charts.play_picture import play_picture
from banister.core.drawing.charts.weld_page import Page
from banister.core.drawing.charts.weld_picture import weld_picture
from banister.core.fitup.recut import recut
from banister.core.fitup.turn import best_turn
from banister.core.fitup.uneven import at_station
from banister.core.heat.schedule import schedule_of
from banister.core.heat.thermal import limits_of
from banister.core.joint.joint import edited
from banister.core.journal import Record
from banister.core.limits.windows import Window
from banister.core.passing import CLEAN, LOOK, SPACE, TICK
from banister.core.plan.answers import plan_joint
from banister.core.play.hand import begun, by_hand, usual_hand
from banister.core.play.sound import sound_next
from banister.core.practice.reckon import COOL, question
from banister.core.standing import heat_of
from banister.core.stops.by_hand import moved, with_marks
from banister.core.stops.of_plan import joint_stops, with_half
from banister.core.sure.variants import planned_anew, variants
from banister.core.under_way import follower_of
from banister.core.value import replace
from banister.desktop.weld.bench import Bench
from banister.job.library import demo_job, shipped_rows
from tests.benchmarks.test_speed import held, timed
from tests.conftest import SAY

JOB = demo_job()
JOINT = JOB.joint("F2")
PLAN = plan_joint(JOINT, JOB.rods_by_id, JOINT.working.chosen)


def test_the_pointer_the_turn_and_the_rods() -> None:
    """A section re-cut at the pointer in 16 ms, the best turn in 150 ms, rods to take in 5 ms a kind."""
    places = iter(float(3 * i) for i in range(300))
    held("a section re-cut", timed(lambda: recut(JOINT, PLAN, at_station(JOINT, JOINT.fitup, next(places))), 20), 16.0)
    first, second = JOB.joint("P4").fitup.turning.ends
    held("the best turn of two ends", timed(lambda: best_turn(first, second), 5), 150.0)
    held("rods to take, three kinds", timed(lambda: needs_of(JOINT, PLAN), 5), 15.0)


def test_stops_laid_and_dragged() -> None:
    """The whole map in 2 s; one stop dragged, the others making room, in 16 ms."""
    begun = time.perf_counter()
    stops = joint_stops(JOINT, PLAN)
    held("stops laid", 1000 * (time.perf_counter() - begun), 2000.0)
    found, places = stops.maps[0], iter(float(200 + i) for i in range(400))

    def dragged() -> None:
        put = moved(found.runs[6], found.marks[6], 1, next(places))
        with_half(JOINT, PLAN, stops, "", with_marks(found, stops.touching, 6, put.marks))

    held("a stop dragged", timed(dragged, 20), 16.0)


def test_how_sure() -> None:
    """A thousand variants with the layers held in 50 ms, with those planned anew that need it in 3 s."""
    held("1,000 variants", timed(lambda: variants(JOINT, PLAN), 3), 50.0)
    begun = time.perf_counter()
    *_, last = planned_anew(JOINT, PLAN, JOB.rods)
    held("1,000 variants, some planned anew", 1000 * (time.perf_counter() - begun), 3000.0)
    assert last is not None


def test_play_and_reckon() -> None:
    """A bead by hand with its picture in 16 ms, so that the ghost follows the pointer; what a sound plan would lay in 150 ms; a question answered in 100 ms."""
    play = begun(JOINT, JOB.rods_by_id, PLAN.passes, 8)
    hand, aims = usual_hand(play, JOB.rods_by_id["E7018-3.2x350"]), iter(-4.0 + 0.02 * i for i in range(400))

    def aimed() -> None:
        play_picture(play, by_hand(play, replace(hand, aim_mm=next(aims))), None, SAY, (900.0, 640.0))

    held("a bead by hand, drawn", timed(aimed, 20), 16.0)
    held("a sound plan from there", timed(lambda: sound_next(replace(play, ahead=())), 3), 150.0)
    schedule = schedule_of(JOINT, PLAN)
    held("how long it cools", timed(lambda: question(COOL, JOINT, JOB.rods_by_id, PLAN, schedule, 1), 3), 100.0)


def test_a_pass_more_costs_no_more_after_forty() -> None:
    """A joint of some sixty passes welded by its keys: an end of a pass with its look, and the picture, while ten are welded and while fifty are."""
    joint = edited(JOINT, thickness_mm=50.0, windows=(Window(quantity="interpass", high=200.0),))
    plan, now = plan_joint(joint, JOB.rods_by_id), [1000.0]
    sheet = JOB.sheet_of(joint, plan, heat_of(JOB, joint, plan), shipped_rows(), date(2026, 11, 30))

    class Journal:
        records: tuple[Record, ...] = ()

        def write(self, kind: str, joint: str = "", key: str = "", /, **data: Any) -> Record:
            stamp = datetime(2026, 11, 30, tzinfo=UTC) + timedelta(seconds=now[0])
            record = Record(n=len(self.records) + 1, t=stamp.isoformat(), m=now[0], b="b", k=kind, j=joint, p=key, d=data)
            self.records = (*self.records, record)
            return record

        def void(self, number: int, why: str) -> None:
            raise AssertionError

    journal, follower = Journal(), follower_of(sheet, JOB.rods)
    assert follower is not None
    bench = Bench(joint, follower, limits_of(joint), journal, lambda: journal.records, lambda: now[0], SAY)
    took, picture = list[float](), None

    def shown() -> None:
        nonlocal picture
        lit = bench.lit
        page = Page(width=1280.0, height=800.0, passing=bench.passing, now_s=now[0], plan=bench.now.plan, lit=lit, welded=bench.now.welded,
                    guide=bench.guide(), ready_in=bench.ready_in())  # fmt: skip
        picture = weld_picture(joint, page, SAY, picture)

    while bench.lit is not None:
        p = bench.lit
        rods = bench.asked_mm2(p) * p.length_mm / p.rod.deposit_mm3
        while rods > 1e-6:
            bench.happens(SPACE)
            now[0] += p.rod.burn_time_s(p.amps) * min(rods, 1.0)
            bench.happens(SPACE)
            now[0] += 30.0
            bench.happens(TICK)
            rods -= 1.0
        begun = time.perf_counter()
        bench.enter()
        shown()
        while bench.passing.state in (CLEAN, LOOK):
            bench.enter()
        shown()
        took.append(1000 * (time.perf_counter() - begun))
        now[0] += 300.0
    early, late = statistics.median(took[5:15]), statistics.median(took[-15:-5])
    print(f"\n{len(took)} passes: {early:.1f} ms early, {late:.1f} ms late")
    held("a pass ended and looked at, picture and all, after forty", late, 60.0)
    assert len(took) > 50 and late <= 1.3 * early
