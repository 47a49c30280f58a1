"""What is left of the work and what comes between: the stretches still to be welded, and the turns and gouges before each."""

from __future__ import annotations

from banister.core.follow.facts import Told
from banister.core.plan.plan import Phase, Plan
from banister.core.value import replace

TURN, GOUGE, PREHEAT = "turn", "gouge", "preheat"
STEPS = (TURN, GOUGE, PREHEAT)
"""What is told as done to the work between passes."""


def stretches_left(plan: Plan, facts: Told) -> tuple[tuple[tuple[Phase, ...], Phase], ...]:
    """Stretches not yet welded, each with what is to be done to the work before it and is not told as done since the last pass.

    What lies before a stretch that was begun is past, told or not.
    """
    found, waiting, done = list[tuple[tuple[Phase, ...], Phase]](), list[Phase](), list(facts.steps)
    for phase in plan.sequence:
        if not phase.passes:
            waiting.append(phase)
            continue
        rest = tuple(key for key in phase.passes if key not in facts.ended)
        if any(key in facts.passes for key in phase.passes):
            waiting = []
        if not rest:
            continue
        before = []
        for step in waiting:
            if step.action in done:
                done.remove(step.action)
            else:
                before.append(step)
        found.append((tuple(before), replace(phase, passes=rest)))
        waiting = []
    return tuple(found)


def due(plan: Plan, facts: Told, key: str) -> tuple[str, ...]:
    """What is to be done to the work before a pass is welded: turn it, gouge the side."""
    waiting: list[str] = []
    for before, phase in stretches_left(plan, facts):
        waiting += [step.action for step in before]
        if key in phase.passes:
            return tuple(waiting)
    return ()
