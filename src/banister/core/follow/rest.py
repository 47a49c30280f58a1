"""What was welded as facts in the section, and the rest planned anew from the surface it left.

A welded bead is laid by the same rules with the area it is known by; it never moves, and keeps its key. Layers that are not
begun are planned anew, the same answer, the same pins; those begun go on with as many beads.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping

from banister.core.plan.answers import Study
from banister.core.plan.identity import keyed
from banister.core.plan.one_side import Lying, SideStudy, Welded, as_welded, closed_early, side_plan, stretched
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.sequence import in_section, joined
from banister.core.plan.state import DONE, SectionState
from banister.core.plan.timing import welding_s
from banister.core.remark import Figure, outside
from banister.core.value import Struct, replace
from banister.core.words import Speech

WELDED = "welded"
RATHER_S = 30.0


class Followed(Struct, frozen=True):
    """The plan as it stands: welded beads as they lie, the rest as it is planned now, and how much that differs from the plan before."""

    plan: Plan
    welded: tuple[str, ...]
    passes_more: int = 0
    rods_more: int = 0
    time_more_s: float = 0.0
    taken_as: tuple[tuple[str, str], ...] = ()
    """Keys of welded passes that the plan does not know, and the passes they are taken as."""

    @property
    def rest(self) -> tuple[Pass, ...]:
        """What is still to be welded, in order."""
        return tuple(p for p in self.plan.passes if p.key not in self.welded)


def followed(study: Study, plan: Plan, areas_mm2: Mapping[str, float], last_key: int = 0, lying: Lying | None = None) -> Followed:
    """The rest of a plan from welded passes (key to area, mm2); the plan itself where nothing is welded.

    Passes count in the order of the plan on their side: one that was left out ends what is taken as welded there. `lying` is what is known
    of welded metal from following the same study before; what is laid now is added to it.
    """
    if not areas_mm2:
        return Followed(plan, ())
    plans = []
    for side in study.sides:
        own = [p for p in plan.passes if p.side == side.side.name]
        plans.append(_of_side(side, plan.answer, own, areas_mm2, {} if lying is None else lying))
    whole = joined(study.joint, [side.side for side in study.sides], [in_section(p, s.side) for p, s in zip(plans, study.sides, strict=True)])
    welded = _kept(plan, whole, areas_mm2)
    if not whole.passes:
        return Followed(replace(plan, remarks=(*plan.remarks, *whole.reasons)), tuple(p.key for p in plan.passes if p.key in areas_mm2))
    now = keyed(whole, plan, last_key)
    now = _with_welded_keys(now, welded)
    keys = tuple(p.key for p in now.passes if p.state == WELDED)
    ahead, planned = ([p for p in one.passes if p.key not in keys] for one in (now, plan))
    more_s = welding_s(study.joint.choices, ahead) - welding_s(study.joint.choices, planned)
    now = replace(now, reasons=(), remarks=(*now.remarks, *whole.reasons), total_time_s=plan.total_time_s + more_s, cost_s=plan.cost_s)
    return Followed(now, keys, len(now.passes) - len(plan.passes), sum(p.rod_count for p in ahead) - sum(p.rod_count for p in planned), more_s)


def _of_side(study: SideStudy, answer: str, own: list[Pass], areas_mm2: Mapping[str, float], lying: Lying) -> Plan:
    """One side: welded beads laid, the rest planned; in the side's own coordinates."""
    done = tuple(_layers(own, areas_mm2))
    if not done:
        return side_plan(study, answer)
    state, welded = as_welded(study, answer, done, lying)
    if state.stage == DONE:
        return Plan(answer, welded)
    rest = rest_of_side(study, answer, state)
    if not rest.passes:
        return Plan(answer, welded, (outside("follow.blocked"),))
    return replace(rest, passes=(*welded, *rest.passes))


def rest_of_side(study: SideStudy, answer: str, state: SectionState) -> Plan:
    """What is left of a side: as it was to be; with beads harder to hold where no others fit; with the layer that is begun taken as done."""
    found: Plan | None = None
    for one, begin in _ways(study, state):
        tried = side_plan(one, answer, begin)
        if found is None or tried.feasible or (tried.passes and not found.passes):
            found = tried
        if found.feasible:
            break
    assert found is not None
    return found


def _ways(study: SideStudy, state: SectionState) -> Iterator[tuple[SideStudy, SectionState]]:
    """What the rest may be planned from, the likeliest first; each is worked out only when the one before it was of no use."""
    yield study, state
    states = (state,) if state.begun is None or state.begun.layer.role == "cap" else (state, closed_early(study, state))
    yield from ((study, begin) for begin in states[1:])
    wider = replace(study, program=stretched(study.side))
    yield from ((wider, begin) for begin in states)


def _layers(own: list[Pass], areas_mm2: Mapping[str, float]) -> Iterator[Welded]:
    """The welded beads layer by layer, up to the first that is not welded."""
    for _, group in itertools.groupby(own, key=lambda p: p.layer):
        passes = tuple(group)
        known = list(itertools.takewhile(lambda p: p.key in areas_mm2, passes))
        if known:
            yield Welded(passes, tuple(areas_mm2[p.key] for p in known))
        if len(known) < len(passes):
            return


def _kept(before: Plan, whole: Plan, areas_mm2: Mapping[str, float]) -> list[str]:
    """Keys of the welded beads, in the order they lie in the new plan."""
    found = []
    for name in dict.fromkeys(p.side for p in before.passes):
        own = [p for p in before.passes if p.side == name]
        found += [p.key for one in _layers(own, areas_mm2) for p in one.passes[: len(one.areas)]]
    return found


def _with_welded_keys(plan: Plan, welded: list[str]) -> Plan:
    """Welded beads keep their keys whatever they look like now; a planned one that took such a key gives it up for a fresh one."""
    facts = iter(sorted((p for p in plan.passes if p.state == WELDED), key=lambda p: (p.side != plan.passes[0].side, p.number)))
    names = {p.key: key for p, key in zip(facts, welded, strict=False)}
    taken = set(names.values())
    fresh = itertools.count(1 + max((int(key[1:]) for key in (*taken, *(p.key for p in plan.passes)) if key[1:].isdigit()), default=0))
    for p in plan.passes:
        if p.key not in names:
            names[p.key] = p.key if p.key not in taken else f"p{next(fresh)}"
    passes = tuple(replace(p, key=names[p.key]) for p in plan.passes)
    sequence = tuple(replace(phase, passes=tuple(names[key] for key in phase.passes)) for phase in plan.sequence)
    return replace(plan, passes=passes, sequence=sequence)


def followed_said(found: Followed, ratio: float, n: int, say: Speech) -> str:
    """What following changed, in one line; '' where neither counts nor rods nor much time change."""
    said = []
    if found.passes_more:
        said.append(say("follow.more" if found.passes_more > 0 else "follow.fewer", n=abs(found.passes_more)))
    if found.rods_more:
        said.append(say("follow.rods", rods=f"{found.rods_more:+d}"))
    if not said and abs(found.time_more_s) < RATHER_S:
        return ""
    percent = round(100 * (ratio - 1))
    head = say("follow.bigger" if percent > 0 else "follow.smaller", share=Figure(abs(percent), "percent"), n=n) if percent else say("follow.as_planned", n=n)
    return f"{head}: {', '.join(said)}." if said else f"{head}."
