"""The preparation and fit-up card as PDF: the groove drawn, lines to tick, stations to fill in, tacks with what to wedge to, the turn."""

from __future__ import annotations

from collections.abc import Iterator

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether

from banister import __version__
from banister.core.drawing.charts.batten import BattenView, batten
from banister.core.drawing.section import section_drawing
from banister.core.fitup.card import card_rows
from banister.core.fitup.readings import FEWEST, QUANTITIES
from banister.core.fitup.tacks import tack_remarks, tack_steps
from banister.core.fitup.tolerances import fit_of, set_of
from banister.core.fitup.turn import way_of
from banister.core.joint.joint import Joint
from banister.core.remark import SURE, Figure
from banister.core.words import Speech, capital
from banister.export.page import BODY, HEAD, TITLE, Page, printed
from banister.export.paper import Bookmark, Drawn, scale_words

BLANK = "________"
BATTEN_PX = (840.0, 240.0)
LEAST_ROWS = 4


def preparation_card(joint: Joint, job: str, say: Speech, paper: str = "A4", on: str = "") -> bytes:
    """The card of a joint as the bytes of a PDF; what was not measured is a blank to write in."""
    foot = say("card.foot", program=__version__) + (f" {say('sheet.printed', on=on)}" if on else "")
    return printed(lambda width: list(_Card(joint, job, say, width).flowables()), say("card.title", joint=joint.id), foot, say, paper)


class _Card(Page):
    """The parts of the card."""

    def __init__(self, joint: Joint, job: str, say: Speech, width: float) -> None:
        super().__init__(say, width)
        self.joint, self.job = joint, job
        self.tolerances = set_of(joint)
        self.fit = fit_of(joint)

    def flowables(self) -> Iterator[Flowable]:
        """From cutting to tacking."""
        joint, say = self.joint, self.say
        title = f"{joint.id}  {joint.name}"
        yield Bookmark(joint.id, title)
        yield self.line(title, TITLE)
        yield self.line(say("card.heading", job=self.job, set=say(f"tolerance.{self.tolerances.key}")))
        section = Drawn(section_drawing(joint, None, say), self.width, 56 * mm, "")
        section.caption = say("sheet.scale", scale=scale_words(section.scale))
        yield section
        rows = [[r.what, r.wanted, r.allowed, r.measured or BLANK, ""] for r in card_rows(joint, self.tolerances, say)]
        yield self._head("card.cut")
        yield self.table(rows, (18, 40, 16, 20, 8), [say(f"card.{key}") for key in ("what", "wanted", "allowed", "measured", "done")])
        yield self._head("card.stations")
        if joint.fitup.readings:
            chart = batten(joint, self.fit, self.tolerances, say, BattenView(*BATTEN_PX))
            yield Drawn(chart.drawing, self.width, 52 * mm, "", is_chart=True)
        yield self._stations()
        for remark in self.fit.remarks:
            yield self.line(say.sentence(remark) + ("" if remark.certainty == SURE else f" ({say('certainty.unverified')})"))
        yield from self._tacks()
        yield from self._turn()
        yield KeepTogether([self._head("card.cautions"), self.line(say("card.caution"), BODY)])

    def _head(self, key: str) -> Flowable:
        return self.line(self.say(key), HEAD)

    def _stations(self) -> Flowable:
        """What was read, and blanks up to as many stations as find the tightest place."""
        say, course = self.say, self.fit.course
        verdicts = self.fit.at_readings()
        rows = [[say.figure(course.figure(r.s_mm)), *(BLANK if (v := getattr(r, q)) is None else say.sized(kind, v) for q, (_, kind) in QUANTITIES.items()),
                 say(f"fit.{verdicts[r.s_mm]}")] for r in self.joint.fitup.readings]  # fmt: skip
        left = max(FEWEST[course.closed], LEAST_ROWS) - len(rows)
        if not rows:
            step = course.length_mm / (left if course.closed else left - 1)
            rows = [[say.figure(course.figure(i * step)), *[BLANK] * (len(QUANTITIES) + 1)] for i in range(left)]
        else:
            rows += [[BLANK] * (len(QUANTITIES) + 2) for _ in range(max(left, 0))]
        heads = [say("cli.fitup.station"), *(capital(say(f"fitup.{q}")) for q in QUANTITIES), say("cli.fitup.verdict")]
        return self.table(rows, (12, *[14] * len(QUANTITIES), 12), heads)

    def _tacks(self) -> Iterator[Flowable]:
        joint, say, course = self.joint, self.say, self.fit.course
        if not joint.fitup.tacks:
            return
        yield self._head("card.tacks")
        rows = [[str(step.tack.order), say.figure(course.figure(step.tack.middle)), say.sized("length", step.tack.length_mm),
                 say(f"tack.kind.{step.tack.kind}"), say("card.held") if step.wedge_mm is None else say.sized("fine_length", step.wedge_mm),
                 say.sized("fine_length", step.reads_mm), BLANK]
                for step in tack_steps(joint, joint.fitup)]  # fmt: skip
        yield self.table(rows, (6, 14, 12, 24, 16, 12, 12), [say(f"card.tack.{key}") for key in ("order", "at", "length", "kind", "wedge", "reads", "read")])
        yield self.line(say("card.tack.note"))
        for remark in tack_remarks(joint, joint.fitup):
            yield self.line(say.sentence(remark))

    def _turn(self) -> Iterator[Flowable]:
        turn = self.joint.fitup.turning.turn_deg
        if turn is not None and self.fit.course.closed:
            yield self.line(self.say("card.turn", turn=Figure(abs(turn), "angle"), way=self.say(f"turn.{way_of(turn)}")))
