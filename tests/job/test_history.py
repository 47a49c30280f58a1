"""Undo and redo as a state machine against a plain list of values."""

from __future__ import annotations

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule

from banister.core.value import replace
from banister.job.history import History
from banister.job.library import demo_job


class UndoMachine(RuleBasedStateMachine):
    def __init__(self) -> None:
        super().__init__()
        self.history = History(demo_job())
        self.values, self.at = [self.history.job], 0

    @rule(name=st.text(min_size=1, max_size=5))
    def edit(self, name: str) -> None:
        job = replace(self.history.job, name=name)
        if self.history.commit(job, "Set name"):
            self.values = [*self.values[: self.at + 1], job]
            self.at += 1

    @rule(names=st.lists(st.text(min_size=1, max_size=5), min_size=2, max_size=4))
    def type_on(self, names: list[str]) -> None:
        self.history.settle()
        start = self.history.job
        for name in names:
            self.history.commit(replace(start, notes=name), "Type", "notes")
        self.history.settle()
        if self.history.job != start:
            self.values = [*self.values[: self.at + 1], self.history.job]
            self.at += 1
        else:
            self.values, self.at = None, 0

    @rule()
    def undo(self) -> None:
        if self.values is not None and self.history.undo():
            self.at -= 1

    @rule()
    def redo(self) -> None:
        if self.values is not None and self.history.redo():
            self.at += 1

    @invariant()
    def value_is_the_models(self) -> None:
        if self.values is None:
            self.values, self.at = [self.history.job], 0
            self.history = History(self.history.job)
        assert self.history.job == self.values[self.at]


UndoMachine.TestCase.settings = settings(max_examples=40, stateful_step_count=25, deadline=None)
TestUndo = UndoMachine.TestCase
