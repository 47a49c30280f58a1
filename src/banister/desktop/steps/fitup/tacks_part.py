"""The tacks in the panel: a way to tack, the order as a list with what to wedge to, the one selected in figures, the user's own rules."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtWidgets import QListWidget

from banister.core.fitup.places import course_of
from banister.core.fitup.tack_edits import FROM, MOVE, TO, tack_of
from banister.core.fitup.tacks import schools_of, tack_faults, tack_remarks, tack_steps
from banister.core.joint.joint import Joint
from banister.core.remark import Figure, Remark
from banister.core.value import replace
from banister.desktop.app.style import bordered
from banister.desktop.app.theme import Theme
from banister.desktop.fields import FigureField
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.fitup.tack_hand import TackHand
from banister.desktop.store import Store


class TacksPart(Panel):
    """What stands in the panel while tacks are at hand."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.column.setContentsMargins(0, 0, 0, 0)
        say = self.say
        self.hand = TackHand(store)
        self.remark(say("fitup_step.tacks.how"))
        self.school = self.choice("fitup_step.school", {})
        self.lay = self.button("fitup_step.lay", lambda: self.hand.lay(self.school.key), tip=True)
        self.bad = self.remark(kind="bad")
        self.list = QListWidget()
        bordered(self.list)
        self.list.setAccessibleName(say("fitup_step.tacks"))
        self.list.setMinimumHeight(150)
        self.list.currentRowChanged.connect(self._chosen)
        self.column.addWidget(self.list)
        self.middle = FigureField(say("fitup_step.tack.at"), "long_length", self._move, 5.0)
        self.length = FigureField(say("fitup_step.tack.length"), "length", self._lengthen, 5.0, low=5.0, high=300.0)
        for field in (self.middle, self.length):
            self.column.addWidget(field)
        self.removed = self.tick("fitup_step.tack.removed", partial(self._tick, "removed"))
        self.drop = self.button("fitup_step.tack.drop", lambda: self.hand.remove(store.view.tack))
        self.heading(say("fitup_step.tack.rules"), 14)
        self.most = FigureField(say("fitup_step.tack.most"), "count", partial(self._rule, "most"), low=1.0, high=200.0, optional=True)
        self.longest = FigureField(say("fitup_step.tack.longest"), "length", partial(self._rule, "longest_mm"), low=5.0, high=300.0, optional=True)
        self.closes = FigureField(say("fitup_step.tack.closes"), "fine_length", self._closes, low=0.0, high=3.0, optional=True)
        for field in (self.most, self.longest, self.closes):
            self.column.addWidget(field)
        self.remark(say("fitup_step.tack.note"))

    # --- intents -----------------------------------------------------------------------------
    def _chosen(self, row: int) -> None:
        if row >= 0 and row + 1 != self.store.view.tack:
            self.store.look(tack=row + 1)

    def _move(self, value: float) -> Remark | None:
        joint = self.store.joint
        if joint is not None and self.store.view.tack:
            self.hand.move(self.store.view.tack, MOVE, value - tack_of(joint.fitup, self.store.view.tack).middle)
            self.store.settle()
        return self.store.now.refusal

    def _lengthen(self, value: float) -> Remark | None:
        """Both ends alike, so that it stays where it is; at the end of a plate the other end makes up."""
        joint, order = self.store.joint, self.store.view.tack
        if joint is not None and order:
            more = value - tack_of(joint.fitup, order).length_mm
            self.hand.move(order, TO, more / 2)
            if (after := self.store.joint) is not None:
                self.hand.move(order, FROM, tack_of(after.fitup, order).length_mm - value)
            self.store.settle()
        return self.store.now.refusal

    def _tick(self, name: str, on: bool) -> None:
        joint, order = self.store.joint, self.store.view.tack
        if joint is not None and order:
            tacks = tuple(replace(t, **{name: on}) if t.order == order else t for t in joint.fitup.tacks)  # type: ignore[arg-type]
            self.store.edit_joint(self.say("edit.tack.kind", number=Figure(str(order), "name")), fitup=replace(joint.fitup, tacks=tacks))

    def _rule(self, name: str, value: float) -> Remark | None:
        joint = self.store.joint
        if joint is not None:
            entered: float | int | None = None if math.isnan(value) else round(value) if name == "most" else value
            rules = replace(joint.fitup.tack_rules, **{name: entered})  # type: ignore[arg-type]
            if rules != joint.fitup.tack_rules:
                self.store.edit_joint(self.say("edit.tack.rules"), fitup=replace(joint.fitup, tack_rules=rules))
        return None

    def _closes(self, value: float) -> Remark | None:
        joint = self.store.joint
        entered = None if math.isnan(value) else value
        if joint is not None and entered != joint.fitup.closes_mm:
            self.store.edit_joint(self.say("edit.tack.closes"), fitup=replace(joint.fitup, closes_mm=entered))
        return None

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """The list, the selected one, what is against the rules."""
        joint, say = new.joint, new.say
        if joint is None or not new.differs(old, "joint", "say", "view"):
            return
        schools = schools_of(joint)
        self.school.set_choices({key: say(f"school.{key}") for key in schools})
        self._show_list(joint, new.view.tack)
        self._show_selected(joint, new)
        rules = joint.fitup.tack_rules
        self.most.show_value(None if rules.most is None else float(rules.most), say)
        self.longest.show_value(rules.longest_mm, say)
        self.closes.show_value(joint.fitup.closes_mm, say)
        wrong = [say.sentence(r) for r in (*tack_faults(course_of(joint), joint.fitup), *tack_remarks(joint, joint.fitup))]
        self.bad.setText("\n".join(wrong))
        self.bad.setVisible(bool(wrong))

    def _show_list(self, joint: Joint, selected: int) -> None:
        say, course = self.say, course_of(joint)
        lines = []
        for step in tack_steps(joint, joint.fitup):
            wedge = say("batten.tack.held") if step.wedge_mm is None else say("batten.tack.wedge", wedge=say.sized("fine_length", step.wedge_mm))
            lines.append(say("fitup_step.tack.row", number=str(step.tack.order), at=course.figure(step.tack.middle), wedge=wedge))
        self.list.blockSignals(True)
        if lines != [self.list.item(i).text() for i in range(self.list.count())]:
            self.list.clear()
            self.list.addItems(lines)
        self.list.setCurrentRow(selected - 1)
        self.list.blockSignals(False)

    def _show_selected(self, joint: Joint, new: Snapshot) -> None:
        tack = next((t for t in joint.fitup.tacks if t.order == new.view.tack), None)
        for widget in (self.middle, self.length, self.removed, self.drop):
            widget.setEnabled(tack is not None)
        self.middle.show_value(None if tack is None else tack.middle, new.say)
        self.length.show_value(None if tack is None else tack.length_mm, new.say)
        self.removed.setChecked(tack is not None and tack.removed)
