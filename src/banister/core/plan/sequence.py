"""The order of welding over both sides: which passes before a turn, which after.

A plan of several sides is one plan: passes numbered as they are welded, all in the section's
coordinates.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from banister.core.joint.kinds import SEQUENCES
from banister.core.joint.piece import OnPiece
from banister.core.joint.working import Choices
from banister.core.plan.dug import as_dug
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.plan import CapShape, Pass, Phase, Plan, SectionFigures
from banister.core.plan.sides import BACK, FRONT, Side
from banister.core.plan.timing import between_s, gouging_s, turning_s
from banister.core.remark import Figure, Remark
from banister.core.value import replace
from banister.core.words import Speech

FIRST_LAYERS = 2
"""Layers welded before the first turn where the sides take turns: root and one more."""
Chunk = tuple[str, tuple[Pass, ...]]


def in_section(plan: Plan, side: Side) -> Plan:
    """A side's plan with its outlines, aims and remarks in the section's coordinates."""
    if side.name == FRONT and not side.root_y and not side.tilt_deg:
        return plan
    passes = tuple(
        replace(p, outline_mm=tuple(side.in_section(point) for point in p.outline_mm), aim_mm=side.in_section(p.aim_mm),
                remarks=tuple(_moved(f, side) for f in p.remarks)) for p in plan.passes
    )  # fmt: skip
    remarks = tuple(_moved(f, side) for f in plan.remarks)
    return replace(plan, passes=passes, remarks=remarks, reasons=tuple(_moved(f, side) for f in plan.reasons))


def _moved(remark: Remark, side: Side) -> Remark:
    place = remark.place
    if place.x_mm is None or place.y_mm is None:
        return remark
    x, y = side.in_section((place.x_mm, place.y_mm))
    return replace(remark, place=replace(place, x_mm=x, y_mm=y))


def joined(joint: PlanInputs, sides: Sequence[Side], plans: Sequence[Plan]) -> Plan:
    """One plan in the order of welding; what blocks a side blocks the joint and names the side."""
    if len(plans) == 1:
        only = plans[0] if joint.repair is None else as_dug(plans[0], joint.repair.boat(joint.prep), joint.choices)
        phases: tuple[Phase, ...] = (Phase("weld", FRONT, tuple(p.key for p in only.passes)),) if only.passes else ()
        return replace(only, sequence=phases)
    reasons = tuple(
        replace(r, place=replace(r.place, side=side.name)) for side, plan in zip(sides, plans, strict=True) for r in plan.reasons
    )  # fmt: skip
    if any(not plan.passes for plan in plans):
        return Plan(plans[0].answer, reasons=reasons)
    chunks = ordered(plans[0].passes, plans[1].passes, joint.sequence)
    passes, new_ids = _renumbered(chunks)
    phases = _phases(chunks, new_ids, joint.prep.second_side != "seal")
    remarks = tuple(
        f.renamed(new_ids[side.name]) for side, plan in zip(sides, plans, strict=True) for f in plan.remarks
    )  # fmt: skip
    turns_s = turning_s(joint, joint.choices) * sum(phase.action == "turn" for phase in phases)
    seconds = sum(plan.total_time_s for plan in plans) + turns_s + gouging_s(joint, joint.choices)
    planned = sum(plan.cost_s / (1 + plan.cost_gap) for plan in plans)
    cost = sum(plan.cost_s for plan in plans)
    return Plan(
        plans[0].answer, passes, reasons, remarks, cost, cost / planned - 1, seconds, _both_caps(plans), figures=_both_figures(plans),
        sequence=phases,
    )  # fmt: skip


def resequenced(joint: PlanInputs, plan: Plan) -> Plan:
    """A plan of both sides in the order the joint asks for now; its beads stay."""
    front, back = ([p for p in plan.passes if p.side == side] for side in (FRONT, BACK))
    chunks = ordered(front, back, joint.sequence)
    passes, ids = _renumbered(chunks)
    return replace(plan, passes=passes, sequence=_phases(chunks, ids, joint.prep.second_side != "seal"))


def sequence_said(plan: Plan, say: Speech) -> list[str]:
    """The phases of a plan as a welder would say them."""
    numbers = plan.numbers
    return [
        say("phase.weld", side=say(f"side.{phase.side}"), passes=Figure(tuple(numbers[key] for key in phase.passes), "passes"))
        if phase.action == "weld" else say(f"phase.{phase.action}") for phase in plan.sequence
    ]  # fmt: skip


def between_said(joint: OnPiece, choices: Choices, plan: Plan, say: Speech) -> dict[str, tuple[str, ...]]:
    """What is done before a pass between the sides, and how long it takes, by the key of that pass."""
    spent, found, waiting = between_s(joint, choices), dict[str, tuple[str, ...]](), list[str]()
    for phase in plan.sequence:
        if phase.action in spent:
            word = "walk" if phase.action == "turn" and joint.stands else phase.action
            waiting.append(say("phase.spent", what=say(f"phase.{word}"), lasts=Figure(spent[phase.action], "duration")))
        elif phase.passes:
            found[phase.passes[0]] = tuple(waiting)
            waiting.clear()
    return {key: lines for key, lines in found.items() if lines}


def ordered(front: Sequence[Pass], back: Sequence[Pass], sequence: str) -> list[Chunk]:
    """Stretches of passes in the order of welding, each on one side.

    `sequence` is one of SEQUENCES: all of one side first; root and fill, turn, finish, turn back; or
    layer by layer in turn.
    """
    assert sequence in SEQUENCES
    fronts, backs = _layers(front), _layers(back)
    if sequence == "one-side":
        return [(FRONT, tuple(front)), (BACK, tuple(back))]
    begun = tuple(itertools.chain.from_iterable(fronts[:FIRST_LAYERS]))
    rest = fronts[FIRST_LAYERS:]
    if sequence == "turn-back":
        chunks = [(FRONT, begun), (BACK, tuple(back)), (FRONT, tuple(itertools.chain.from_iterable(rest)))]
    else:
        turns = itertools.zip_longest(backs, rest, fillvalue=())
        chunks = [(FRONT, begun)] + [one for b, f in turns for one in ((BACK, b), (FRONT, f))]
    return _merged([chunk for chunk in chunks if chunk[1]])


def _layers(passes: Sequence[Pass]) -> list[tuple[Pass, ...]]:
    return [tuple(group) for _, group in itertools.groupby(passes, key=lambda p: p.layer)]


def _merged(chunks: list[Chunk]) -> list[Chunk]:
    """Neighbouring stretches on one side are one."""
    found: list[Chunk] = []
    for side, passes in chunks:
        if found and found[-1][0] == side:
            found[-1] = (side, found[-1][1] + passes)
        else:
            found.append((side, passes))
    return found


def _renumbered(chunks: list[Chunk]) -> tuple[tuple[Pass, ...], dict[str, dict[str, str]]]:
    """Passes numbered through, layers too; and the new id of every old one, by side."""
    found: list[Pass] = []
    ids: dict[str, dict[str, str]] = {FRONT: {}, BACK: {}}
    layers: dict[tuple[str, int], int] = {}
    for side, passes in chunks:
        for p in passes:
            number = len(found) + 1
            layer = layers.setdefault((side, p.layer), len(layers) + 1)
            ids[side][p.key] = f"p{number}"
            own = {p.key: f"p{number}"}
            found.append(replace(p, key=f"p{number}", number=number, layer=layer, remarks=tuple(f.renamed(own) for f in p.remarks)))
    return tuple(found), ids


def _phases(chunks: list[Chunk], ids: dict[str, dict[str, str]], gouge: bool) -> tuple[Phase, ...]:
    phases: list[Phase] = []
    for i, (side, passes) in enumerate(chunks):
        if i:
            phases.append(Phase("turn", side))
        if side == BACK and gouge and not any(phase.action == "gouge" for phase in phases):
            phases.append(Phase("gouge", BACK))
        phases.append(Phase("weld", side, tuple(ids[side][p.key] for p in passes)))
    return tuple(phases)


def _both_caps(plans: Sequence[Plan]) -> CapShape | None:
    """The worse of both caps in every figure."""
    caps = [plan.cap for plan in plans if plan.cap is not None]
    if not caps:
        return None
    return CapShape(
        min(c.min for c in caps), max(c.max for c in caps), min(c.edge_min for c in caps),
        min(c.overlap_left for c in caps), min(c.overlap_right for c in caps),
        min(c.toe_left_deg for c in caps), min(c.toe_right_deg for c in caps),
    )  # fmt: skip


def _both_figures(plans: Sequence[Plan]) -> SectionFigures | None:
    found = [plan.figures for plan in plans if plan.figures is not None]
    if not found:
        return None
    depths = [f.left_before_cap for f in found]
    return SectionFigures(
        (min(d[0] for d in depths), max(d[1] for d in depths), max(d[2] for d in depths)),
        max(f.wall_left for f in found), max(f.wall_right for f in found),
    )  # fmt: skip
