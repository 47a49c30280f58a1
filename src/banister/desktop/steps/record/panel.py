"""Record: how far the joint is, what is empty, who signed which state; the traveller and the record written out."""

from __future__ import annotations

from typing import TYPE_CHECKING

from banister.core.canonical import canonical
from banister.core.record.gathering import Gathered, gathered
from banister.core.record.record import SIGN, signing
from banister.core.record.said import grouped, signed_said, state_said
from banister.core.value import asdict, replace
from banister.desktop.app.theme import Theme
from banister.desktop.fields import NameField
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.sheet.actions import plain_name, put_on_paper
from banister.desktop.store import Store
from banister.desktop.work.paper import record_pages
from banister.job.acceptance import acceptance_sets

if TYPE_CHECKING:
    from pathlib import Path


class RecordPanel(Panel):
    """The record of the shown joint."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self._gathered: tuple[tuple[object, ...], Gathered] | None = None
        """The record gathered last, and of what."""
        self.heading(say("step.record"))
        self.state = self.remark(kind="plain")
        self.heading(say("record.inspection"), 14)
        self.inspection = self.remark(kind="plain")
        self.heading(say("record.signatures"), 14)
        self.signed = self.remark(kind="plain")
        self.name, self.role = NameField(say("record.name")), NameField(say("record.role"))
        self.column.addWidget(self.name)
        self.column.addWidget(self.role)
        self.refused = self.refusal()
        self.sign_button = self.button("record.sign", self.sign, tip=True)
        self.heading(say("record.write"), 14)
        self.button("record.write.pdf", self.write_traveller)
        self.button("record.write.json", self.write_record)
        self.remark(say("record.write.how"))
        self.button("record.book", lambda: self.window().open_view("book"), tip=True)  # type: ignore[attr-defined]
        self.remark(say("record.caution"))
        self.column.addStretch(1)

    # --- intents -----------------------------------------------------------------------------
    def gathered(self) -> Gathered | None:
        """The record as it stands; gathered anew where anything of it is another."""
        job, joint, now = self.store.job, self.store.joint, self.store.now
        plan = now.issued.plan if now.issued is not None else now.plan
        if job is None or joint is None or plan is None:
            return None
        key = (job, joint, plan, now.records)
        if self._gathered is None or any(a is not b for a, b in zip(self._gathered[0], key, strict=True)):
            chain = self.window().logbook.chain  # type: ignore[attr-defined]
            self._gathered = key, gathered(job, joint, plan, chain, acceptance_sets())
        return self._gathered[1]

    def sign(self) -> None:
        """A name under the record as it stands."""
        name, role = (field.edit.text().strip() for field in (self.name, self.role))
        found, joint = self.gathered(), self.store.joint
        self.refused.tell("" if name and role else self.say("cli.fault.record.sign"))
        if found is None or joint is None or not name or not role:
            return
        logbook = self.window().logbook  # type: ignore[attr-defined]
        if logbook.write(SIGN, joint.id, **signing(name, role, found.record, found.digest, logbook.chain.mark)) is not None:
            self.name.empty()
            self.role.empty()

    def write_traveller(self) -> None:
        """The traveller as PDF, once what was welded is followed."""
        self.store.when_followed(self._write_traveller)

    def _write_traveller(self) -> None:
        found, path, welded = self.gathered(), self._path("pdf"), self.store.welded
        if found is not None and path is not None:
            whole = replace(found, welded=None if welded is None else welded.now)
            chain = self.window().logbook.chain  # type: ignore[attr-defined]
            put_on_paper(self.window(), path, record_pages, whole, chain, self.say)

    def write_record(self) -> None:
        """The record as canonical JSON."""
        found, path = self.gathered(), self._path("json")
        if found is not None and path is not None:
            whole = {**found.record, "signatures": [asdict(one) for one in found.signed]}
            self.window().files.write(path, canonical(whole).encode())  # type: ignore[attr-defined]

    def _path(self, suffix: str) -> Path | None:
        joint = self.store.joint
        name = f"{plain_name('' if joint is None else joint.id)}-record.{suffix}"
        path: Path | None = self.window().dialogs.save_path(self.window(), self.say("export.write"), name, f"*.{suffix}")  # type: ignore[attr-defined]
        return path

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """What the record says now."""
        if new.joint is None or not new.differs(old, "joint", "job", "plan", "issued", "records", "say"):
            return
        found, say = self.gathered(), self.say
        if found is None:
            return
        self.state.setText("\n".join(state_said(found, say)))
        self.inspection.setText("\n".join(found.inspection_said(say)) or say("record.not_inspected"))
        self.signed.setText("\n".join([*(signed_said(found, say) or [say("record.nobody")]), say("record.digest", digest=grouped(found.digest))]))
