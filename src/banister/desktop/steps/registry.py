"""The steps of the work, each with its panel, its state on the stair and its actions: stair, window, menus and keys read them here.

The title of a step is the word `step.KEY`, its help the part KEY of the help file.
"""

from __future__ import annotations

import importlib
from collections.abc import Callable
from typing import TYPE_CHECKING

from banister.core.fitup.judged import ADJUST, REWORK
from banister.core.fitup.readings import fitup_faults
from banister.core.fitup.tolerances import fit_of
from banister.core.joint.faults import joint_faults
from banister.core.joint.figures import FIGURES
from banister.core.remark import NOT_JUDGED, OUTSIDE, Figure
from banister.core.value import Struct, replace
from banister.desktop.snapshot import Snapshot

if TYPE_CHECKING:
    from banister.desktop.app.theme import Theme
    from banister.desktop.panel import Panel
    from banister.desktop.store import Store


class StepState(Struct, frozen=True):
    """Where a step stands, in words; `bad` where something in it is outside."""

    text: str
    bad: bool = False


class Step(Struct, frozen=True):
    """One step: `panel` is "module:Class", read when it is first shown, so that the window comes at once."""

    key: str
    panel: str
    state: Callable[[Snapshot], StepState]

    @property
    def title(self) -> str:
        """The key of its title."""
        return f"step.{self.key}"

    def read(self) -> Callable[[Store, Theme], Panel]:
        """What makes its panel."""
        module, _, name = self.panel.partition(":")
        made: Callable[[Store, Theme], Panel] = getattr(importlib.import_module(module), name)
        return made

    def made(self, store: Store, theme: Theme) -> Panel:
        """Its panel."""
        return self.read()(store, theme)


def _joint(now: Snapshot) -> StepState:
    joint, say = now.joint, now.say
    assert joint is not None
    thickness = FIGURES["thickness_mm"]
    return StepState(say("stair.joint", preparation=say(f"preparation_short.{joint.prep.key}"), position=joint.piece.position,
                         thickness=Figure(thickness.of(joint), thickness.kind)))  # fmt: skip


def _counted(now: Snapshot, documents: bool) -> StepState:
    """How the windows, or the documents, judge the plan; heat that is not computed yet is never taken for inside."""
    say, judgement = now.say, now.judgement
    if judgement is None:
        return StepState(say("stair.planning"))
    found = [r.verdict for r in judgement.remarks if r.code.startswith("cover.") == documents]
    outside, left = found.count(OUTSIDE), found.count(NOT_JUDGED)
    if outside:
        return StepState(say("stair.outside", n=outside), True)
    if not judgement.is_whole and not documents and now.feasible:
        return StepState(say("heat.open"))
    return StepState(say("stair.left", n=left) if left else say("stair.inside"))


def _limits(now: Snapshot) -> StepState:
    return _counted(now, documents=False)


def _procedure(now: Snapshot) -> StepState:
    joint, job = now.joint, now.job
    assert joint is not None and job is not None
    if job.procedure_of(joint) is None and job.welder_of(joint) is None:
        named = joint.procedure
        return StepState(now.say("stair.document.missing", procedure=named) if named else now.say("stair.document.none"))
    return _counted(now, documents=True)


def _fitup(now: Snapshot) -> StepState:
    joint, say = now.joint, now.say
    assert joint is not None
    if not joint.fitup.readings or joint_faults(joint):
        return StepState(say("stair.fitup.none"))
    fit = fit_of(joint)
    verdicts = list(fit.at_readings().values())
    bad = sum(v in (ADJUST, REWORK) for v in verdicts)
    text = say("stair.fitup.bad", n=len(verdicts), bad=str(bad)) if bad else say("stair.fitup", n=len(verdicts))
    wrong = next(fitup_faults(joint.fitup, fit.course), None) is not None
    return StepState(text, wrong or any(r.verdict == OUTSIDE for r in fit.remarks))


def _rods(now: Snapshot) -> StepState:
    rods = now.plan.rods if now.plan is not None and now.feasible else 0
    return StepState(now.say("stair.rods", n=rods) if rods else now.say("stair.rods.none"))


def _passes(now: Snapshot) -> StepState:
    if now.plan is None:
        return StepState(now.say("stair.planning"))
    if not now.feasible:
        return StepState(now.say("stair.no_plan"), True)
    if now.issued is not None:
        return StepState(now.say("stair.passes.issued" if now.stands else "stair.passes.changed", n=len(now.plan.passes)), not now.stands)
    return StepState(now.say("stair.passes", n=len(now.plan.passes), layers=now.say("count.layers", n=now.plan.layers)))


def _heat(now: Snapshot) -> StepState:
    say, heat = now.say, now.heat
    if heat is None:
        return StepState(say("heat.open") if now.feasible else say("stair.no_schedule"))
    if not heat.schedule.feasible:
        return StepState(say("stair.no_schedule"), True)
    bad = now.judgement is not None and any(r.code.startswith("heat.") for r in now.judgement.of(OUTSIDE))
    waits = Figure(round(heat.schedule.waiting_s / 60), "minutes")
    return StepState(say("stair.heat", ends=Figure(heat.schedule.end_s, "duration"), waits=waits), bad)


def _weld(now: Snapshot) -> StepState:
    say, joint = now.say, now.joint
    assert joint is not None
    if now.issued is None:
        return StepState(say("stair.weld.none"))
    facts = now.told
    if facts is None:
        return StepState(say("stair.weld.none"))
    if facts.open:
        return StepState(say("stair.weld.open", n=len(facts.open)), True)
    return StepState(say("stair.weld", n=len(facts.ended)))


def _inspect(now: Snapshot) -> StepState:
    """Where the inspection stands, by the contract's own set; not read at all before the first record of one."""
    say, joint = now.say, now.joint
    assert joint is not None
    if not any(r.k in INSPECTION and r.j == joint.id for r in now.records):
        return StepState(say("stair.inspect.none"))
    from banister.desktop.steps.inspect.inspecting import Inspecting  # the first window does without

    shown = Inspecting().of(replace(now, view=replace(now.view, inspect_set="", inspect_guarded=False)))
    assert shown is not None
    if not shown.judgement.set.id:
        return StepState(say("stair.inspect.no_set"))
    result = shown.judgement.result
    return StepState(say(f"stair.inspect.{result}"), result in BAD_RESULTS)


def _record(now: Snapshot) -> StepState:
    """How many names stand under the record; whether they stand for this state is told in it."""
    joint = now.joint
    assert joint is not None
    signed = sum(r.k == "sign" and r.j == joint.id for r in now.records)
    return StepState(now.say("stair.record", n=signed) if signed else now.say("stair.record.none"))


def _practice(now: Snapshot) -> StepState:
    """Whose book is open; nothing of it is ever bad."""
    trainee, sessions = now.view.practised
    return StepState(now.say("stair.practice", trainee=trainee, n=sessions) if trainee else now.say("stair.practice.none"))


INSPECTION, BAD_RESULTS = ("observation", "looked", "no-access"), ("reject", "outside_memory")
_PANELS = "banister.desktop.steps"
STEPS = (
    Step("joint", f"{_PANELS}.joint.panel:JointPanel", _joint), Step("limits", f"{_PANELS}.limits.panel:LimitsPanel", _limits),
    Step("procedure", f"{_PANELS}.procedure.panel:ProcedurePanel", _procedure),
    Step("fitup", f"{_PANELS}.fitup.panel:FitUpPanel", _fitup), Step("passes", f"{_PANELS}.passes.panel:PassesPanel", _passes),
    Step("rods", f"{_PANELS}.rods.panel:RodsPanel", _rods), Step("heat", f"{_PANELS}.heat.panel:HeatPanel", _heat),
    Step("weld", f"{_PANELS}.weld.panel:WeldPanel", _weld), Step("inspect", f"{_PANELS}.inspect.panel:InspectPanel", _inspect),
    Step("record", f"{_PANELS}.record.panel:RecordPanel", _record), Step("practice", f"{_PANELS}.practice.panel:PracticePanel", _practice),
)  # fmt: skip
STEPS_BY_KEY = {step.key: step for step in STEPS}
