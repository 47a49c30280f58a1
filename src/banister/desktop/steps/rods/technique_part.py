"""Techniques in the panel of the rods: chosen, compared on the joint, kept as one's own."""

from __future__ import annotations

from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.plan.technique import Technique, technique_of, with_technique
from banister.core.remark import Figure
from banister.core.value import replace
from banister.core.words import Speech
from banister.desktop.app.theme import Theme
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import NameField
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.desktop.work.plans import technique_plans

COMPARE = "techniques"


class TechniquePart(Panel):
    """A technique and what it buys and risks; what the joint comes to by every one of them."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.column.setContentsMargins(0, 0, 0, 0)
        self._found: list[tuple[Technique, Plan]] = []
        self._found_on: tuple[object, ...] = ()
        """The groove that was compared, for any rods and choices: a technique brings its own."""
        self.heading(say("technique.heading"), 14)
        self.explained("technique")
        self.technique = self.choice("technique.choose", {}, lambda _: self._show_technique())
        self.words_of_it = self.remark()
        self.button("technique.apply", self.apply)
        self.compare_button = self.button("technique.compare", self.compare)
        self.own_name = NameField(say("technique.own_name"))
        self.column.addWidget(self.own_name)
        self.button("technique.save", self.keep, tip=True)
        self.refused, self.kept, self.compared = self.refusal(), self.remark(), self.remark()
        self._show_techniques()

    def _chosen(self) -> Technique | None:
        return next((t for t in self.store.library.techniques if t.id == self.technique.key), None)

    # --- intents -----------------------------------------------------------------------------
    def apply(self) -> None:
        """The joint is welded by the chosen technique, as one step."""
        job, joint, found = self.store.job, self.store.joint, self._chosen()
        if job is not None and joint is not None and found is not None:
            changed, named = with_technique(joint, found, (*job.rods, *self.store.library.rods))
            self.store.edit(job.with_rods(named).with_joint(changed), found.named(self.say))

    def compare(self) -> None:
        """Plan the joint by every technique beside the window; pressed again, the rest is left."""
        job, joint = self.store.job, self.store.joint
        if any(errand.key == COMPARE for errand in self.store.errands.busy):
            self._stop()
            return
        if job is None or joint is None:
            return
        known = self.store.library.techniques

        def arrived(found: tuple[Technique, Plan]) -> None:
            self._found.append(found)
            self._say_found()
            self.compare_button.setText(self.say("technique.comparing", done=str(len(self._found)), all=str(len(known))))

        self._found, self._found_on = [], _groove(joint)
        self._say_found()
        request = (joint, known, self.store.library.rods_by_id | dict(job.rods_by_id))
        self.store.errands.run(Errand(SEARCH, COMPARE, "techniques", technique_plans, request, arrived, self._ended, lambda _: self._ended()))

    def keep(self) -> None:
        """Save the joint's rods and choices as a technique of the user's own."""
        job, joint, name = self.store.job, self.store.joint, self.own_name.edit.text().strip()
        if job is None or joint is None:
            return
        self.refused.tell("" if name else self.say("technique.unnamed"))
        if not name:
            return
        own = technique_of(joint, job.rods_by_id, name)
        self.keep_in_library(lambda library: library.keeping_technique(own), "techniques.json", name, self.kept)
        self._show_techniques()

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """What was compared on another groove is no longer said; in other units it is said anew."""
        if new.joint is not None and self._found_on not in ((), _groove(new.joint)):
            self.joint_left()
        elif new.differs(old, "say"):
            self._say_found()

    def joint_left(self) -> None:
        """Nothing is said of the joint before, nor worked out any more."""
        self._found, self._found_on = [], ()
        self._stop()
        self._say_found()
        self.kept.setText("")

    def _stop(self) -> None:
        self.store.stop(COMPARE)
        self._ended()

    def _ended(self) -> None:
        self.compare_button.setText(self.say("technique.compare"))

    def _show_techniques(self) -> None:
        self.technique.set_choices({t.id: t.named(self.say) for t in self.store.library.techniques})
        self._show_technique()

    def _show_technique(self) -> None:
        found = self._chosen()
        self.words_of_it.setText("" if found is None else self.say("technique.words", buys=found.bought(self.say), risks=found.risked(self.say)))

    def _say_found(self) -> None:
        self.compared.setText("\n".join(technique_said(*found, self.say) for found in self._found))


def _groove(joint: Joint) -> tuple[object, ...]:
    return joint.id, joint.prep, replace(joint.piece, root_progression=""), joint.working.windows  # the root's way is a technique's own


def technique_said(technique: Technique, plan: Plan, say: Speech) -> str:
    """A technique with what it comes to, or that it cannot be planned."""
    if not plan.feasible:
        return say("technique.blocked", technique=technique.named(say))
    return say("technique.compared", technique=technique.named(say), n=len(plan.passes), total=Figure(plan.total_time_s, "duration"), rods=str(plan.rods),
               peak=Figure(plan.peak_arc_energy_kj_mm, "energy"))  # fmt: skip
