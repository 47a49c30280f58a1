"""What a search for a better preparation says: the figures of one, what it saves, what each step of the present joint costs a metre."""

from __future__ import annotations

from banister.core.plan.improve import Improving, StepCost, Tried
from banister.core.remark import Figure
from banister.core.units import minutes
from banister.core.words import Speech, capital


def values_said(state: Improving, tried: Tried, say: Speech) -> str:
    """The figures of a preparation, one after the other."""
    return ", ".join(f"{say(f'improve.{bound.key}')} {say.sized(bound.kind, tried.of(bound.key))}" for bound in state.bounds)


def takes_said(tried: Tried, say: Speech) -> str:
    """What a preparation takes a metre and how far it pulls; why it is none where it is none."""
    if not tried.is_one:
        return say.sentence(tried.reasons[0])
    return say("improve.takes", time=minutes(tried.time_s_m), rods=f"{tried.rods_m:.0f}", metal=Figure(tried.metal_kg_m, "mass"),
               pull=Figure(tried.pull_deg, "angle"))  # fmt: skip


def gain_said(state: Improving, say: Speech) -> str:
    """What the best saves against the present joint."""
    present, best = state.present, state.best
    if not best.is_one:
        return say("improve.none")
    if not present.is_one:
        return say("improve.mended")
    if best is present:
        return say("improve.is_best")
    parts = [(say("improve.saves.time", time=minutes(abs(present.time_s_m - best.time_s_m))), present.time_s_m - best.time_s_m),
             (say("improve.saves.rods", n=round(abs(present.rods_m - best.rods_m))), present.rods_m - best.rods_m),
             (say("improve.saves.pull", pull=Figure(abs(present.pull_deg - best.pull_deg), "angle")), present.pull_deg - best.pull_deg)]  # fmt: skip
    return say("improve.gain", what=", ".join(say("improve.less" if by > 0 else "improve.more", what=text) for text, by in parts if abs(by) > 1e-6))


def step_said(state: Improving, step: StepCost, say: Speech) -> str:
    """One step of one figure: "2.5 degrees less: 11 min and 7 rods a metre less", or why it cannot be."""
    bound = next(b for b in state.bounds if b.key == step.key)
    head = say("improve.step.less" if step.change < 0 else "improve.step.more", figure=capital(say(f"improve.{step.key}")),
               change=Figure(abs(step.change), bound.kind))  # fmt: skip
    if not step.tried.is_one:
        return f"{head} {say.sentence(step.tried.reasons[0])}"
    if not state.present.is_one:
        return f"{head} {takes_said(step.tried, say)}"
    seconds, rods = step.tried.time_s_m - state.present.time_s_m, round(step.tried.rods_m - state.present.rods_m)
    time = say("improve.less" if seconds < 0 else "improve.more", what=minutes(abs(seconds)))
    return f"{head} {say('improve.step.costs', time=time, rods=say('improve.rods.less' if rods < 0 else 'improve.rods.more', n=abs(rods)))}"


def risk_said(state: Improving, say: Speech) -> str:
    """A word on walls that are steeper than usual."""
    return say("improve.risk") if state.best.is_one and state.best.risk == "medium" else ""
