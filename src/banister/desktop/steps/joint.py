"""Step 1, the joint: groove, backing, form and position."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial

from PySide6.QtWidgets import QPushButton

from banister.core.joint.defaults import in_place, with_backing, with_preparation
from banister.core.joint.joint import Joint, edited
from banister.core.joint.faults import joint_faults, range_faults
from banister.core.joint.figures import LIMITS
from banister.core.joint.figures import figures_of
from banister.core.joint.kinds import BACKINGS, PREPARATIONS, SECOND_SIDES, SEQUENCES
from banister.core.joint.positions import positions
from banister.core.plan.straightest import Order, orders_of, shares_of
from banister.core.units import parsed_number
from banister.desktop.fields import ChoiceField, ValueField
from banister.desktop.panel import Panel
from banister.desktop.store import Store
from banister.desktop.theme import Theme
from banister.job.library import catalogue, usual_rods

NUDGES = {
    "thickness_mm": 1.0, "right_thickness_mm": 1.0, "taper": 1.0, "high_low_mm": 0.5, "bevel_left_deg": 1.0, "bevel_right_deg": 1.0,
    "knee_mm": 1.0, "upper_bevel_deg": 1.0, "root_radius_mm": 0.5, "root_level_mm": 0.5, "front_share": 0.05, "back_bevel_deg": 1.0,
    "leg_left_mm": 0.5, "leg_right_mm": 0.5, "fillet_angle_deg": 5.0, "root_gap_mm": 0.5, "root_face_mm": 0.5, "bar_thickness_mm": 1.0,
    "bar_width_mm": 5.0, "bar_gap_mm": 0.5, "ceramic_width_mm": 1.0, "ceramic_depth_mm": 0.5, "gouge_into_mm": 0.5,
    "gouge_radius_mm": 0.5, "gouge_angle_deg": 5.0, "length_mm": 50.0, "pipe_od_mm": 1.0,
}  # fmt: skip
"""Every figure of the panel, in its order, with the step of its arrow keys."""
BALANCE = "Balance for least pull"


class JointPanel(Panel):
    """Describes the joint by typing; the drawing does it by dragging."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.heading("Joint")
        self.preparation = ChoiceField("Preparation", PREPARATIONS)
        self.backing = ChoiceField("Behind the root", BACKINGS)
        self.second = ChoiceField("Second side", SECOND_SIDES)
        self.sequence = ChoiceField("Order of the sides", SEQUENCES)
        self.straighten = QPushButton(BALANCE)
        self._stop: Callable[[], None] | None = None
        self.straighten.setToolTip("Plan shares and orders and take the straightest; a ranking, not a prediction")
        self.fields = {name: self._made(name) for name in NUDGES}
        self.column.addWidget(self.preparation)
        self._add("thickness_mm", "bevel_left_deg", "bevel_right_deg", "knee_mm", "upper_bevel_deg", "root_radius_mm", "root_level_mm",
                  "leg_left_mm", "leg_right_mm", "fillet_angle_deg", "root_gap_mm", "root_face_mm", "front_share", "back_bevel_deg")  # fmt: skip
        self.column.addWidget(self.backing)
        self._add("bar_thickness_mm", "bar_width_mm", "bar_gap_mm", "ceramic_width_mm", "ceramic_depth_mm")
        for widget in (self.second, self.sequence, self.straighten):
            self.column.addWidget(widget)
        self._add("gouge_into_mm", "gouge_radius_mm", "gouge_angle_deg")
        self.form = ChoiceField("Piece", {"plate": "plate", "pipe": "pipe"})
        self.position = ChoiceField("Position", {})
        self.progression = ChoiceField("Progression", {"up": "upward", "down": "downward"})
        self.root_progression = ChoiceField("Root", {"": "as the rest", "up": "upward", "down": "downward"})
        self.column.addWidget(self.form)
        self._add("length_mm", "pipe_od_mm")
        for widget in (self.position, self.progression, self.root_progression):
            self.column.addWidget(widget)
        self._add("right_thickness_mm", "taper", "high_low_mm")
        self.note = self.remark("Angles are per side, from the vertical. Drag the blue diamonds in the "
                                "drawing, or press H there and use the arrows. Right thickness 0: as the left.")  # fmt: skip
        self.column.addStretch(1)
        self.preparation.chosen.connect(self._set_preparation)
        self.backing.chosen.connect(self._set_backing)
        self.form.chosen.connect(self._set_form)
        self.position.chosen.connect(lambda key: self.store.edit_joint("Set position", position=key))
        self.progression.chosen.connect(lambda key: self.store.edit_joint("Set progression", progression=key))

        self.second.chosen.connect(lambda key: self.store.edit_joint(f"Second side {SECOND_SIDES[key]}", second_side=key))
        self.sequence.chosen.connect(lambda key: self.store.edit_joint(f"Order: {SEQUENCES[key]}", sequence=key))
        self.root_progression.chosen.connect(lambda key: self.store.edit_joint("Set root progression", root_progression=key))
        self.straighten.clicked.connect(self.balance)

    def _made(self, name: str) -> ValueField:
        parse = self.length if name.endswith("_mm") else parsed_number
        label = LIMITS[name][0]
        field = ValueField(label[0].upper() + label[1:], parse, NUDGES[name])
        field.committed.connect(partial(self.set_value, name))
        return field

    def _add(self, *names: str) -> None:
        for name in names:
            self.column.addWidget(self.fields[name])

    def balance(self) -> None:
        """Plan every share and order beside the window and take the straightest; press again to stop."""
        joint, job = self.store.joint, self.store.job
        if self._stop is not None:
            self._stop()
            self._balanced(None)
        elif joint is not None and job is not None:
            shares, found = shares_of(joint), list[Order]()
            self._stop = lambda: None

            def arrived(i: int, orders: list[Order] | None) -> None:
                found.extend(orders or [])
                self.straighten.setText(f"Stop ({i + 1} of {len(shares)} shares planned)")

            items = [(one, job.rods_by_id) for one in shares]
            stop = self.store.each(orders_of, items, arrived, lambda: self._balanced(joint, found))
            self._stop = None if self._stop is None else stop

    def _balanced(self, joint: Joint | None, found: Sequence[Order] = ()) -> None:
        self._stop = None
        self.straighten.setText(BALANCE)
        if joint is None or joint != self.store.joint:
            return
        if not found:
            self.note.setText("No share and order of this groove can be planned; see the reasons over the drawing.")
            return
        best = min(found, key=lambda order: order.merit)
        self.store.edit_joint(            f"Balance: front {best.share:g}, {SEQUENCES[best.sequence]}, pull index {best.pull.final_deg:+.1f}\N{DEGREE SIGN}",
            front_share=best.share, sequence=best.sequence,
        )  # fmt: skip

    def set_value(self, name: str, value: float, merge: str = "") -> None:
        """Set one figure of the joint, or say at its field why it cannot be and what would fit."""
        joint = self.store.joint
        if joint is None:
            return
        fields = {name: value}
        if name == "bevel_right_deg" and joint.prep.kind.left == joint.prep.kind.right and joint.prep.bevel_left_deg == joint.prep.bevel_right_deg:
            fields["bevel_left_deg"] = value
        changed = edited(joint, **fields)
        faults = [] if joint_faults(joint) else joint_faults(changed)
        if faults or (out_of_range := range_faults(changed, name)):
            first = faults[0] if faults else out_of_range[0]
            self.fields[name].say(self.store.units.sentence(f"{first.text}. {first.remedy}"))
            return
        title = LIMITS[name][0]
        shown = self.store.units.with_unit(value, 2) if name.endswith("_mm") else f"{value:g}" + ("\N{DEGREE SIGN}" if name.endswith("_deg") else "")
        self.store.edit_joint(f"Set {title} {shown}", merge, **fields)

    def _set_preparation(self, key: str) -> None:
        joint = self.store.joint
        if joint is not None and joint.prep.key != key:
            self._commit(with_preparation(joint, key), f"Set preparation {PREPARATIONS[key]}")

    def _set_backing(self, key: str) -> None:
        joint = self.store.joint
        if joint is not None and joint.prep.backing != key:
            self._commit(with_backing(joint, key), f"Set {BACKINGS[key]}, gap, face and rods to go with it")

    def _commit(self, changed: Joint, name: str) -> None:
        """A changed joint; where the root is held otherwise the usual rods come with it."""
        joint, job = self.store.joint, self.store.job
        if joint is None or job is None:
            return
        if changed.prep.backing != joint.prep.backing:
            rods = catalogue()
            uses = usual_rods(rods, changed.prep.backing)
            wanted = {use.rod for use in uses}
            changed, job = edited(changed, rods=uses), job.with_rods(tuple(r for r in rods if r.id in wanted))
        self.store.edit(job.with_joint(changed), name)

    def _set_form(self, key: str) -> None:
        joint = self.store.joint
        if joint is not None and joint.piece.form != key:
            self.store.edit_joint(f"Set {key}", form=key, position=in_place(edited(joint, form=key)).position)

    def render_job(self) -> None:
        """Show the joint's figures; hide what does not apply."""
        joint = self.store.joint
        if joint is None:
            return
        u = self.store.units
        self.preparation.show_choice(joint.prep.key)
        self.backing.show_choice(joint.prep.backing)
        self.form.show_choice(joint.piece.form)
        places = positions("fillet" if joint.prep.kind.fillet else joint.piece.form)
        self.position.set_choices({p.code: f"{p.code} / {p.iso(joint.piece.progression)}  {p.title}" for p in places})
        self.position.show_choice(joint.piece.position)
        two_ways = any(p.code == joint.piece.position and p.has_progression for p in places)
        self.progression.show_choice(joint.piece.progression)
        self.progression.setVisible(two_ways)
        self.root_progression.show_choice(joint.piece.root_progression)
        self.root_progression.setVisible(two_ways and not joint.prep.kind.fillet)
        self._render_sides(joint)
        shown = {*figures_of(joint), "pipe_od_mm" if joint.piece.form == "pipe" else "length_mm"}
        for name, field in self.fields.items():
            value = getattr(joint, name)
            is_length = name.endswith("_mm")
            unit = u.length_unit if is_length else "\N{DEGREE SIGN}" if name.endswith("_deg") else ""
            field.show_value(u.length(value, 2) if is_length else f"{value:g}", unit)
            field.setVisible(name in shown)

    def _render_sides(self, joint: Joint) -> None:
        grooved = not joint.prep.kind.fillet
        two_sided = joint.prep.kind.double or joint.prep.second_side != "none"
        self.second.show_choice(joint.prep.second_side)
        self.sequence.show_choice(joint.working.sequence)
        for widget, visible in ((self.backing, grooved), (self.second, grooved and joint.prep.backing in ("open", "closed")),
                                (self.sequence, two_sided), (self.straighten, joint.prep.kind.double)):  # fmt: skip
            widget.setVisible(visible)
