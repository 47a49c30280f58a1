"""Step 5, the sheet: who prepared it, the check in words, and what can be printed or saved."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton

from banister.core.judge.check import NOT_JUDGED, OUTSIDE_, tally
from banister.desktop.fields import NameField
from banister.desktop.panel import Panel
from banister.desktop.store import Store
from banister.desktop.theme import Theme

NAMES = {"name": "Name of the job", "site": "Site", "prepared_by": "Prepared by", "checked_by": "Checked by", "notes": "Notes"}
JOINT_NAMES = {"name": "Name of the joint", "drawing": "Drawing number"}
CHECKED_AT_MOST = 12


class SheetPanel(Panel):
    """Names, the check and the exports."""

    wanted = Signal(str)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.heading("Pass sheet")
        self.edits: dict[str, NameField] = {}
        self.joint_edits: dict[str, NameField] = {}
        for names, edits in ((NAMES, self.edits), (JOINT_NAMES, self.joint_edits)):
            for name, title in names.items():
                edit = NameField(title)
                edit.committed.connect(partial(self._named, name, edits is self.joint_edits))
                edits[name] = edit
                self.column.addWidget(edit)
        self.taken = self.remark()
        take = QPushButton("Take this plan")
        take.setToolTip("Store the plan in the job: the issued sheet then stays as it is")
        take.clicked.connect(store.take)
        self.column.addWidget(take)
        self.heading("Check against the procedure", 14)
        self.check = self.remark()
        self.bad = self.remark(kind="bad")
        self.heading("Print and save", 14)
        for key, text in (("pdf", "Pass sheet as PDF, A4"), ("pdf-letter", "Pass sheet as PDF, Letter"), ("print", "Print the pass sheet"),
                          ("csv", "Pass table as CSV"), ("schedule", "Schedule as CSV"), ("svg", "Section as SVG"), ("copy", "Copy the section")):  # fmt: skip
            button = QPushButton(text)
            button.clicked.connect(partial(self.wanted.emit, key))
            self.column.addWidget(button)
        self.remark("The sheet plans; it qualifies nothing. Check it against your qualified procedure.")
        self.column.addStretch(1)

    def _named(self, name: str, of_joint: bool, text: str) -> None:
        job, joint = self.store.job, self.store.joint
        owner = joint if of_joint else job
        if job is None or owner is None or getattr(owner, name) == text:
            return
        title = (JOINT_NAMES if of_joint else NAMES)[name].lower()
        if of_joint:
            self.store.edit_joint(f"Set {title}", **{name: text})
        else:
            self.store.edit(replace(job, **{name: text}), f"Set {title}")

    def render_job(self) -> None:
        """Show names and the check."""
        job, joint, plan = self.store.job, self.store.joint, self.store.plan
        if job is None or joint is None:
            return
        for edits, owner in ((self.edits, job), (self.joint_edits, joint)):
            for name, edit in edits.items():
                edit.show_text(getattr(owner, name))
        before = job.taken_before(joint)
        if before is None:
            self.taken.setText("No plan is taken yet: the sheet prints the plan as it is now.")
        elif job.taken_for(joint) is not None:
            self.taken.setText(f"Taken: {before.plan.answer}, {len(before.plan.passes)} beads, planner {before.planner_version}.")
        else:
            now = 0 if plan is None else len(plan.passes)
            self.taken.setText(f"The joint changed since its plan was taken ({len(before.plan.passes)} beads then, {now} now). "
                               "Take the plan again to issue it.")  # fmt: skip
        judged = self.store.judged
        counts = tally(judged)
        self.check.setText(f"{counts['inside']} figures inside, {counts[OUTSIDE_]} outside, {counts[NOT_JUDGED]} not judged")
        bad = [f"{line.item}. {line.remedy}" for line in judged if line.verdict == OUTSIDE_]
        more = f"\nand {len(bad) - CHECKED_AT_MOST} more" if len(bad) > CHECKED_AT_MOST else ""
        self.bad.setText("\n".join(bad[:CHECKED_AT_MOST]) + more)
        self.bad.setVisible(bool(bad))
