"""The limits: whose windows they are, and the planner's own choices."""

from __future__ import annotations

from functools import partial

from banister.core.joint.figures import CHOICE_FIGURES, FIGURES
from banister.core.joint.joint import edited
from banister.core.limits.acceptance import ACCEPTANCE
from banister.desktop.app.theme import Theme
from banister.desktop.fields import NameField
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

NAMES = {"procedure": "procedure", "procedure_revision": "revision", "group": "base_metal"}
FLAGS = ("stringers_only", "walls_first", "start_right")


class LimitsPanel(Panel):
    """What holds the windows together: whose they are, and the planner's own rules. The windows are in the grid under the section."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.heading(say("limits.title"))
        self.names: dict[str, NameField] = {}
        for field, word in NAMES.items():
            edit = NameField(say(f"limits.{word}"))
            edit.committed.connect(partial(self._named, field, word))
            self.names[field] = edit
            self.column.addWidget(edit)
        self.explained("not_judged")
        self.state = self.remark()
        self.heading(say("limits.rules"), 14)
        self.remark(say("limits.rules.note"))
        self.acceptance = self.choice("limits.acceptance", self.words("acceptance", ACCEPTANCE), lambda key: self._choose("acceptance", key))
        self.flags = {flag: self.tick(f"limits.{flag}", partial(self._choose, flag)) for flag in FLAGS}
        self.figures = {f.key: self.figure(f) for f in CHOICE_FIGURES}
        self.column.addStretch(1)

    # --- intents -----------------------------------------------------------------------------
    def _named(self, field: str, word: str, text: str) -> None:
        joint = self.store.joint
        if joint is not None and edited(joint, **{field: text}) != joint:
            self.store.edit_joint(self.say("edit.name", what=self.say(f"limits.{word}")), **{field: text})

    def _choose(self, field: str, value: object) -> None:
        self.store.edit_joint(self.say("edit.name", what=self.say(f"limits.{field}")), **{field: value})

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show windows and rules."""
        joint, say = new.joint, new.say
        if joint is None or not new.differs(old, "joint", "say"):
            return
        for field, edit in self.names.items():
            edit.show_text(joint.metal.group if field == "group" else getattr(joint, field))
        self.state.setText("" if joint.working.windows else say("limits.none"))
        choices = joint.working.choices
        self.acceptance.set_choices(self.words("acceptance", ACCEPTANCE))
        self.acceptance.show_choice(choices.acceptance)
        for flag, box in self.flags.items():
            box.setChecked(getattr(choices, flag))
        for key, field_ in self.figures.items():
            field_.show_value(FIGURES[key].of(joint), say)
            field_.setVisible(FIGURES[key].applies(joint))
