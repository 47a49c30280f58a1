"""The traveller of a joint as PDF: as planned and as welded, deviations, inspection, signatures, the whole digest on the last page."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Table

from banister import __version__
from banister.core.drawing.convention import ISO
from banister.core.drawing.section import section_drawing, welded_section
from banister.core.follow.rest import Followed
from banister.core.joint.joint import Joint
from banister.core.journal import Chain
from banister.core.plan.plan import Plan
from banister.core.record.gathering import Gathered
from banister.core.record.record import Signature, empty_fields
from banister.core.record.said import grouped
from banister.core.remark import Figure
from banister.core.words import Speech
from banister.export.page import CELL, HEAD, TITLE, Page, printed
from banister.export.paper import Bookmark, Drawn

SHOWN_DIGITS = 16
BLANK = "____________"
SUBJECT, JOURNAL = "banister-record sha256:", "journal:"
"""What the PDF's own subject holds: the digest, and how many records the journal had."""


def traveller(found: Gathered, chain: Chain, say: Speech, paper: str = "A4") -> bytes:
    """The traveller as the bytes of a PDF; it tells how the journal ends: what was cut off behind that mark shows against it.

    Equal input gives equal bytes.
    """
    last = say("cli.journal.mark", n=len(chain.records), mark=chain.mark)
    title = say("record.title", joint=found.joint.id)
    foot = say("record.foot", program=__version__, digest=found.digest[:SHOWN_DIGITS])

    def story(width: float) -> list[Flowable]:
        return list(_Traveller(say, width).flowables(found, last))

    return printed(story, title, foot, say, paper, subject=f"{SUBJECT}{found.digest} {JOURNAL}{len(chain.records)}")


class _Traveller(Page):
    """The parts of the traveller."""

    def flowables(self, found: Gathered, last: str) -> Iterator[Flowable]:
        """Head, section, passes, deviations, inspection, signatures, digest."""
        say, record, joint, own = self.say, found.record, found.joint, found.digest
        yield Bookmark(joint.id, joint.id)
        yield self.line(f"{joint.id}  {joint.name}", TITLE)
        if record["simulated"]:
            yield self.line(say("record.simulated"), HEAD)
        head = [[say(f"record.head.{key}"), str(record["joint"][key]) or BLANK] for key in ("drawing", "procedure", "revision", "welder")]
        yield self.table([[say("record.head.job"), record["job"]["name"]], [say("record.head.site"), record["job"]["site"] or BLANK], *head], (25, 75))
        if missing := empty_fields(record):
            yield self.line(say("record.missing", what=", ".join(say(f"record.empty.{key}") for key in missing)))
        yield self._sections(joint, found.plan, found.welded)
        yield self.line(say("record.passes"), HEAD)
        heads = [say(f"record.column.{key}") for key in ("pass", "rod", "amps", "energy", "rods", "temp", "when")]
        yield self.table([self._pass(one) for one in record["passes"]], (7, 20, 17, 19, 10, 11, 16), heads)
        if record["deviations"]:
            yield self.line(say("record.deviations", n=len(record["deviations"])), HEAD)
            yield self.table([self._deviation(one) for one in record["deviations"]], (10, 25, 20, 45))
        yield self.line(say("record.inspection"), HEAD)
        for line in found.inspection_said(say) or [say("record.not_inspected")]:
            yield self.line(line)
        for line in found.etched_said(say):
            yield self.line(line)
        if found.repairs:
            yield self.line(say("record.repairs"), HEAD)
            for line in found.repairs_said(say):
                yield self.line(line)
        yield self.line(say("record.signatures"), HEAD)
        rows = [[one.name, one.role, one.on[:16].replace("T", " "), one.digest[:SHOWN_DIGITS], self._state(one, own)] for one in found.signed]
        yield self.table(rows or [[BLANK, BLANK, BLANK, "", ""]], (24, 20, 18, 20, 18))
        yield self.line(say("record.digest", digest=grouped(own)))
        yield self.line(last)
        yield self.line(say("record.caution"))

    def _sections(self, joint: Joint, plan: Plan, welded: Followed | None) -> Flowable:
        """As it was planned, and beside it as it is believed to lie."""
        wide, high = self.width if welded is None else self.width / 2 - 4, 56 * mm
        planned = Drawn(section_drawing(joint, plan if plan.feasible else None, self.say), wide, high, "")
        if welded is None:
            return planned
        real = Drawn(welded_section(joint, plan, welded.plan, welded.welded, self.say, ISO), wide, high, "")
        words = [self.line(self.say(f"record.{key}"), CELL) for key in ("planned", "welded")]
        return Table([words, [planned, real]], colWidths=[self.width / 2] * 2)

    def _state(self, one: Signature, own: str) -> str:
        return self.say("record.signed" if one.digest == own else "record.signed.other")

    def _pass(self, one: Mapping[str, Any]) -> list[str]:
        """Planned over welded."""
        say, p, w = self.say, one["planned"], one["welded"]

        def both(kind: str, planned: float | None, welded: float | None) -> str:
            said = "-" if planned is None else say.sized(kind, planned)
            return f"{said} | {'-' if welded is None else say.sized(kind, welded)}"

        energy = both("energy", p["arc_energy_kj_mm"], None if w is None else w["arc_energy_kj_mm"])
        temp = "-" if w is None or w["temperature_before_c"] is None else say.sized("temperature", w["temperature_before_c"])
        when = "-" if w is None or w["begun"] is None else w["begun"][:16].replace("T", " ")
        used = "-" if w is None else f"{w['rods_used']:.1f}"
        marks = "".join(say(f"record.mark.{key}") for key in ("entered_later", "simulated") if w is not None and w[key])
        return [str(one["number"]), say.figure(Figure(p["rod"], "rod")), both("current", p["amps"], None if w is None else w["amps"]), energy,
                f"{p['rods']} | {used}", temp, when + marks]  # fmt: skip

    def _deviation(self, one: Mapping[str, Any]) -> list[str]:
        say = self.say
        state = say(f"disposition.{one['as']}") + f": {one['why']}" if one["as"] else say("weld_step.open")
        number = "-" if one["pass"] is None else str(one["pass"])
        value = "-" if one["value"] is None else f"{one['value']:g}"
        return [number, say(f"deviation.{one['rule']}"), f"{value} / {one['limit']:g}" if one["limit"] is not None else value, state]
