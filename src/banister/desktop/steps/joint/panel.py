"""The joint: groove, backing, form and position."""

from __future__ import annotations

from collections.abc import Sequence

from banister.core.joint.defaults import in_place, with_backing, with_preparation
from banister.core.joint.figures import FIGURES, GROOVE_FIGURES, PIECE_FIGURES, figures_of
from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import BACKINGS, FORMS, KINDS, PROGRESSIONS, SECOND_SIDES, SEQUENCES
from banister.core.joint.positions import positions
from banister.core.plan.straightest import Order
from banister.core.remark import Figure
from banister.core.rods.usual import usual_rods
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.summary_view import SummaryView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.desktop.work.plans import balanced_orders

BALANCE = "balance"
AFTER_PREPARATION = (
    "thickness_mm", "bevel_left_deg", "bevel_right_deg", "knee_mm", "upper_bevel_deg", "root_radius_mm", "root_level_mm", "leg_left_mm", "leg_right_mm",
    "fillet_angle_deg", "root_gap_mm", "root_face_mm", "front_share", "back_bevel_deg",
)  # fmt: skip
AFTER_BACKING = ("bar_thickness_mm", "bar_width_mm", "bar_gap_mm", "ceramic_width_mm", "ceramic_depth_mm")
AFTER_SIDES = ("gouge_into_mm", "gouge_radius_mm", "gouge_angle_deg")
AT_THE_END = ("right_thickness_mm", "taper", "high_low_mm")


class JointPanel(Panel):
    """Describes the joint by typing; the drawing does it by dragging."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say, edit = self.say, store.edit_joint
        self.heading(say("step.joint"))
        self.summary = SummaryView(theme)
        self.column.addWidget(self.summary)
        self.fields = {f.key: self.figure(f) for f in (*GROOVE_FIGURES, *PIECE_FIGURES)}
        self.preparation = self.choice("joint.preparation", self.words("preparation", KINDS), self._set_preparation)
        self._place(*AFTER_PREPARATION)
        self.backing = self.choice("joint.backing", self.words("backing", BACKINGS), self._set_backing)
        self._place(*AFTER_BACKING)
        self.second = self.choice("joint.second", self.words("second", SECOND_SIDES), lambda key: edit(
            say("edit.second", second=say(f"second.{key}")), second_side=key))  # fmt: skip
        self.sequence = self.choice("joint.sequence", self.words("sequence", SEQUENCES), lambda key: edit(
            say("edit.sequence", sequence=say(f"sequence.{key}")), sequence=key))  # fmt: skip
        self.straighten = self.button("joint.balance", self.balance, tip=True)
        self._place(*AFTER_SIDES)
        self.form = self.choice("joint.form", self.words("form", FORMS), self._set_form)
        self._place(*(f.key for f in PIECE_FIGURES))
        self.position = self.choice("joint.position", {}, lambda key: edit(say("edit.position", code=key), position=key))
        self.progression = self.choice("joint.progression", self.words("progression", PROGRESSIONS), lambda key: edit(
            say("edit.progression", progression=say(f"progression.{key}")), progression=key))  # fmt: skip
        self.root_progression = self.choice("joint.root_progression", self.words("progression", ("", *PROGRESSIONS)), lambda key: edit(
            say("edit.root_progression", progression=say(f"progression.{key}")), root_progression=key))  # fmt: skip
        self._place(*AT_THE_END)
        self.note = self.remark(say("joint.note"))
        self.column.addStretch(1)

    def _place(self, *keys: str) -> None:
        """Put fields next in the column."""
        for key in keys:
            self.column.addWidget(self.fields[key])

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.summary.set_theme(theme)
        super().set_theme(theme)

    # --- intents -----------------------------------------------------------------------------
    def _set_preparation(self, key: str) -> None:
        joint = self.store.joint
        if joint is not None and joint.prep.key != key:
            self._commit(with_preparation(joint, key), self.say("edit.preparation", preparation=self.say(f"preparation.{key}")))

    def _set_backing(self, key: str) -> None:
        joint = self.store.joint
        if joint is not None and joint.prep.backing != key:
            self._commit(with_backing(joint, key), self.say("edit.backing", backing=self.say(f"backing.{key}")))

    def _set_form(self, key: str) -> None:
        joint = self.store.joint
        if joint is not None and joint.piece.form != key:
            changed = in_place(edited(joint, form=key))
            self.store.edit_joint(self.say("edit.form", form=self.say(f"form.{key}")), form=key, position=changed.piece.position)

    def _commit(self, changed: Joint, name: str) -> None:
        """A changed joint; where the root is held otherwise the usual rods come with it."""
        joint, job = self.store.joint, self.store.job
        if joint is None or job is None:
            return
        if changed.prep.backing != joint.prep.backing:
            rods = self.store.library.rods
            uses = usual_rods(rods, changed)
            wanted = {use.rod for use in uses}
            changed, job = edited(changed, rods=uses), job.with_rods(tuple(r for r in rods if r.id in wanted))
        self.store.edit(job.with_joint(changed), name)

    def balance(self) -> None:
        """Plan every share and order beside the window and take the straightest; press again to stop."""
        joint, job = self.store.joint, self.store.job
        if any(errand.key == BALANCE for errand in self.store.errands.busy):
            self.store.stop(BALANCE)
            self.straighten.setText(self.say("joint.balance"))
        elif joint is not None and job is not None:
            self.straighten.setText(self.say("joint.balance.stop"))
            errand = Errand(SEARCH, BALANCE, "balance", balanced_orders, (joint, dict(job.rods_by_id)), lambda found: self._balanced(joint, found),
                            failed=lambda _: self.straighten.setText(self.say("joint.balance")))  # fmt: skip
            self.store.errands.run(errand)

    def _balanced(self, joint: Joint, found: Sequence[Order]) -> None:
        self.straighten.setText(self.say("joint.balance"))
        if joint != self.store.joint:
            return
        if not found:
            self.note.setText(self.say("joint.balance.none"))
            return
        best = min(found, key=lambda order: order.merit)
        name = self.say("edit.balance", share=Figure(best.share, "ratio"), sequence=self.say(f"sequence.{best.sequence}"),
                        pull=Figure(best.pull.final_deg, "signed_angle"))  # fmt: skip
        self.store.edit_joint(name, front_share=best.share, sequence=best.sequence)

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show the joint's figures; hide what does not apply."""
        joint, say = new.joint, new.say
        if new.differs(old, "plan", "heat", "judgement", "say"):
            self.summary.show_plan(new)
        if joint is None or not new.differs(old, "joint", "say"):
            return
        prep, piece = joint.prep, joint.piece
        for choice, key in ((self.preparation, prep.key), (self.backing, prep.backing), (self.form, piece.form), (self.second, prep.second_side),
                            (self.sequence, joint.working.sequence), (self.progression, piece.progression),
                            (self.root_progression, piece.root_progression)):  # fmt: skip
            choice.show_choice(key)
        places = positions(joint.place_form)
        self.position.set_choices({p.code: say("joint.place", code=p.code, iso=p.iso(piece.progression), position=say(p.word)) for p in places})
        self.position.show_choice(piece.position)
        self._show_those_that_apply(joint)
        shown = {f.key for f in (*figures_of(joint), *(f for f in PIECE_FIGURES if f.applies(joint)))} | self._kept(joint)
        for key, field in self.fields.items():
            field.show_value(FIGURES[key].of(joint), say)
            field.setVisible(key in shown)

    def _kept(self, joint: Joint) -> set[str]:
        return set() if joint.prep.kind.fillet else {"right_thickness_mm", "high_low_mm"}

    def _show_those_that_apply(self, joint: Joint) -> None:
        grooved, two_ways = not joint.prep.kind.fillet, joint.place.has_progression
        for widget, is_shown in (
            (self.backing, grooved), (self.second, grooved and joint.prep.backing in ("open", "closed")), (self.sequence, joint.prep.two_sided),
            (self.straighten, joint.prep.kind.double), (self.progression, two_ways), (self.root_progression, two_ways and grooved),
        ):  # fmt: skip
            widget.setVisible(is_shown)
