"""Step 1, the joint: groove, backing, form and position."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from banister.core.joint.joint import LIMITS, Joint
from banister.core.joint.kinds import BACKINGS, PREPARATIONS
from banister.core.joint.positions import positions
from banister.core.units import parsed_number
from banister.desktop.fields import ChoiceField, ValueField
from banister.desktop.panel import Panel
from banister.desktop.store import Store
from banister.desktop.theme import Theme
from banister.job.library import catalogue, usual_rods

LENGTHS = {
    "thickness_mm": ("Thickness", 1.0), "root_gap_mm": ("Root gap", 0.5), "root_face_mm": ("Root face", 0.5),
    "length_mm": ("Weld length", 50.0), "pipe_od_mm": ("Pipe outside diameter", 1.0),
    "bar_thickness_mm": ("Bar thickness", 1.0), "bar_width_mm": ("Bar width", 5.0),
}  # fmt: skip
ANGLES = {"bevel_left_deg": "Bevel angle, left", "bevel_right_deg": "Bevel angle, right"}


class JointPanel(Panel):
    """Describes the joint by typing; the drawing does it by dragging."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.heading("Joint")
        self.preparation = ChoiceField("Preparation", PREPARATIONS)
        self.backing = ChoiceField("Behind the root", BACKINGS)
        self.fields: dict[str, ValueField] = {}
        self.column.addWidget(self.preparation)
        self._field("thickness_mm")
        for name, title in ANGLES.items():
            self.fields[name] = ValueField(title, parsed_number, 1.0)
            self.fields[name].committed.connect(partial(self._set, name))
            self.column.addWidget(self.fields[name])
        self._field("root_gap_mm")
        self._field("root_face_mm")
        self.column.addWidget(self.backing)
        self._field("bar_thickness_mm")
        self._field("bar_width_mm")
        self.form = ChoiceField("Piece", {"plate": "plate", "pipe": "pipe"})
        self.position = ChoiceField("Position", {})
        self.progression = ChoiceField("Progression", {"up": "upward", "down": "downward"})
        self.column.addWidget(self.form)
        self._field("length_mm")
        self._field("pipe_od_mm")
        self.column.addWidget(self.position)
        self.column.addWidget(self.progression)
        self.note = self.remark("Angles are per side, from the vertical. Drag bevel, gap, face and thickness in the "
                                "drawing, or press H there and use the arrows.")  # fmt: skip
        self.column.addStretch(1)
        self.preparation.chosen.connect(self._set_preparation)
        self.backing.chosen.connect(self._set_backing)
        self.form.chosen.connect(self._set_form)
        self.position.chosen.connect(lambda key: self.store.edit_joint("Set position", position=key))
        self.progression.chosen.connect(lambda key: self.store.edit_joint("Set progression", progression=key))

    def _field(self, name: str) -> None:
        title, nudge = LENGTHS[name]
        self.fields[name] = ValueField(title, self.length, nudge)
        self.fields[name].committed.connect(partial(self._set, name))
        self.column.addWidget(self.fields[name])

    def set_value(self, name: str, value: float, merge: str = "") -> None:
        """Set one figure of the joint, or say at its field why it cannot be."""
        joint = self.store.joint
        if joint is None:
            return
        title, low, high = LIMITS[name]
        if not low <= value <= high:
            self.fields[name].say(f"{title}: enter {low:g} to {high:g}" + ("" if name in ANGLES else " mm"))
            return
        fault = _contradiction(joint, name, value)
        if fault:
            self.fields[name].say(fault)
            return
        fields = {name: value}
        alike = joint.preparation == "single-v" and joint.bevel_left_deg == joint.bevel_right_deg
        if name == "bevel_right_deg" and alike:
            fields["bevel_left_deg"] = value
        shown = f"{value:g}\N{DEGREE SIGN}" if name in ANGLES else self.store.units.with_unit(value, 2)
        self.store.edit_joint(f"Set {title} {shown}", merge, **fields)

    def _set(self, name: str, value: float) -> None:
        self.set_value(name, value)

    def _set_preparation(self, key: str) -> None:
        joint = self.store.joint
        if joint is None:
            return
        left = joint.bevel_right_deg if key == "single-v" else 0.0
        face = 0.0 if key == "square" else joint.root_face_mm
        self.store.edit_joint(f"Set preparation {PREPARATIONS[key]}", preparation=key, bevel_left_deg=left, root_face_mm=face)

    def _set_backing(self, key: str) -> None:
        joint, job = self.store.joint, self.store.job
        if joint is None or job is None or joint.backing == key:
            return
        rods = catalogue()
        uses = usual_rods(rods, key)
        wanted = {use.rod for use in uses}
        gap, face = (8.0, 0.0) if key == "bar" else (3.0, 1.5)
        changed = replace(joint, backing=key, root_gap_mm=gap, root_face_mm=face, rods=uses)
        job = job.with_rods(tuple(r for r in rods if r.id in wanted)).with_joint(changed)
        self.store.edit(job, f"Set {BACKINGS[key]}, gap, face and rods to go with it")

    def _set_form(self, key: str) -> None:
        codes = [p.code for p in positions(key)]
        joint = self.store.joint
        if joint is not None and joint.form != key:
            code = joint.position if joint.position in codes else {"3G": "5G", "4G": "5G", "5G": "3G", "6G": "3G"}.get(joint.position, "1G")
            self.store.edit_joint(f"Set {key}", form=key, position=code)

    def render_job(self) -> None:
        """Show the joint's figures; hide what does not apply."""
        joint = self.store.joint
        if joint is None:
            return
        u = self.store.units
        self.preparation.show_choice(joint.preparation)
        self.backing.show_choice(joint.backing)
        self.form.show_choice(joint.form)
        places = positions(joint.form)
        self.position.set_choices({p.code: f"{p.code} / {p.iso(joint.progression)}  {p.title}" for p in places})
        self.position.show_choice(joint.position)
        self.progression.show_choice(joint.progression)
        self.progression.setVisible(any(p.code == joint.position and p.has_progression for p in places))
        for name, field in self.fields.items():
            value = getattr(joint, name)
            field.show_value(f"{value:g}" if name in ANGLES else u.length(value, 2), "\N{DEGREE SIGN}" if name in ANGLES else u.length_unit)
            field.setVisible(_applies(joint, name))


def _contradiction(joint: Joint, name: str, value: float) -> str:
    if joint.preparation != "square":
        if name == "root_face_mm" and value > joint.thickness_mm:
            return f"the root face is thicker than the plate: {joint.thickness_mm:g} mm at most"
        if name == "thickness_mm" and value < joint.root_face_mm:
            return f"thinner than the root face: {joint.root_face_mm:g} mm at least"
    if joint.form == "pipe" and name == "thickness_mm" and value >= joint.pipe_od_mm / 2:
        return f"thicker than the pipe's radius: less than {joint.pipe_od_mm / 2:g} mm"
    if name == "pipe_od_mm" and joint.thickness_mm >= value / 2:
        return f"the wall would fill the pipe: more than {2 * joint.thickness_mm:g} mm"
    return ""


def _applies(joint: Joint, name: str) -> bool:
    if name.startswith("bar_"):
        return joint.backing == "bar"
    if name == "bevel_left_deg":
        return joint.preparation == "single-v"
    if name in ("bevel_right_deg", "root_face_mm"):
        return joint.preparation != "square"
    if name in ("length_mm", "pipe_od_mm"):
        return (joint.form == "pipe") == (name == "pipe_od_mm")
    return True
