"""Test pieces asked of a weld: cut by a rule or a list, moved by hand, and what that comes to in words."""

from __future__ import annotations

from collections.abc import Sequence

from banister.core.fitup.places import Course
from banister.core.follow.facts import told
from banister.core.follow.stopped import stops_as_welded
from banister.core.inspect.observed import inspected
from banister.core.inspect.pieces import ANY, AS_LISTED, DISCARD_MM, KERF_MM, Cut, CutPlan, Short, Zone, cut_plan, cuts_of, kept_clear, round_pipe
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.plan.plan import Plan
from banister.core.remark import Figure
from banister.core.stops.of_plan import marks_along
from banister.core.value import Struct, replace
from banister.core.words import Speech

SURE = "S"


class Asked(Struct, frozen=True):
    """What is to be cut: the pieces in their order with their widths (mm) and how sure each width is, where round a pipe, and by what rule.

    `certainty` is the rule's ('' for a list of one's own), `wants_restart` true where it wants the restart of root and cap examined.
    """

    pieces: tuple[str, ...]
    widths_mm: tuple[float, ...]
    sure: tuple[str, ...]
    angles_deg: tuple[float, ...] = ()
    order: str = ANY
    discard_mm: float = DISCARD_MM
    kerf_mm: float = KERF_MM
    certainty: str = ""
    wants_restart: bool = False
    by_rule: bool = False


def zones_of(joint: Joint, plan: Plan, records: Sequence[Record]) -> tuple[Zone, ...]:
    """What is kept clear of: the stops of every pass, the tacks, and what was seen (records after corrections)."""
    stops = stops_as_welded(joint, plan, told(records, joint.id))
    marks = [] if stops is None else [mark for own in marks_along(joint, stops).values() for mark in own]
    return kept_clear(marks, [(t.from_s, t.to_s) for t in joint.fitup.tacks], [one.interval for one in inspected(records, joint.id).seen])


def cut_as_asked(asked: Asked, course: Course, zones: Sequence[Zone]) -> CutPlan | Short:
    """The best places for the pieces."""
    if course.closed:
        angles = asked.angles_deg or tuple(360.0 * i / len(asked.pieces) for i in range(len(asked.pieces)))
        return round_pipe(asked.widths_mm, angles, course.length_mm, zones, asked.kerf_mm)
    return cut_plan(asked.widths_mm, course.length_mm, zones, asked.discard_mm, asked.kerf_mm, ANY if asked.order == ANY else AS_LISTED)


def cuts_asked(asked: Asked, found: CutPlan) -> tuple[Cut, ...]:
    """The pieces as they are cut."""
    return cuts_of(found, asked.pieces, asked.widths_mm)


def moved(cuts: Sequence[Cut], number: int, from_mm: float, course: Course, kerf_mm: float) -> tuple[Cut, ...]:
    """The pieces with one moved to begin elsewhere, no nearer to its neighbours than a cut is wide, nor off the end of a plate."""
    one = next(cut for cut in cuts if cut.number == number)
    others = [cut for cut in cuts if cut.number != number]
    if course.closed:
        at = from_mm % course.length_mm
        clear = all((at - o.from_mm) % course.length_mm >= o.width_mm + kerf_mm - 1e-9
                    and (o.from_mm - at) % course.length_mm >= one.width_mm + kerf_mm - 1e-9 for o in others)  # fmt: skip
        at = at if clear else one.from_mm
    else:
        low = max((o.from_mm + o.width_mm + kerf_mm for o in others if o.from_mm < one.from_mm), default=0.0)
        high = min((o.from_mm - kerf_mm for o in others if o.from_mm > one.from_mm), default=course.length_mm) - one.width_mm
        at = min(max(from_mm, low), max(high, low))
    return tuple(replace(cut, from_mm=at) if cut is one else cut for cut in cuts)


def taken(cut: Cut, zones: Sequence[Zone], course: Course) -> dict[str, float]:
    """How much a piece takes of what it should be clear of, mm, by what that is."""
    laps = (-course.length_mm, 0.0, course.length_mm) if course.closed else (0.0,)
    found: dict[str, float] = {}
    for zone in zones:
        for lap in laps:
            shared = min(cut.from_mm + cut.width_mm, zone.to_mm + lap) - max(cut.from_mm, zone.from_mm + lap)
            if shared > 0 and zone.why:
                found[zone.why] = found.get(zone.why, 0.0) + shared
    return found


def piece_word(piece: str, say: Speech) -> str:
    """What a piece is called."""
    return say(f"piece.{piece.replace(' ', '_')}")


def taken_said(cut: Cut, zones: Sequence[Zone], course: Course, say: Speech) -> str:
    """A piece with its place, and what it takes of stops, tacks, or what was seen."""
    begin, end = (say.figure(course.figure(s % course.length_mm if course.closed else s)) for s in (cut.from_mm, cut.from_mm + cut.width_mm))
    what = [say("pieces.takes", mm=Figure(mm, "fine_length"), what=say(f"pieces.of.{why}")) for why, mm in taken(cut, zones, course).items()]
    takes = ", ".join(what) or say("pieces.clear")
    return say("pieces.row", n=str(cut.number), piece=piece_word(cut.piece, say), begin=begin, end=end, takes=takes)


def notes_said(asked: Asked, say: Speech) -> list[str]:
    """What to know of the rule and the widths."""
    lines = []
    unsure = sorted({piece for piece, sure in zip(asked.pieces, asked.sure, strict=True) if sure != SURE})
    if asked.by_rule and asked.certainty != SURE:
        lines.append(say("testpieces.memory.rule"))
    if unsure:
        lines.append(say("testpieces.memory.widths", pieces=", ".join(piece_word(piece, say) for piece in unsure)))
    if asked.wants_restart:
        lines.append(say("testpieces.restart"))
    return [*lines, say("testpieces.caution")]
