"""Files of the window: open, save, recent, autosave and recovery, and what is exported."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, QSettings, QTimer, Signal

from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.desktop.store import Store
from banister.job.codec import FileFault
from banister.job.files import SUFFIX, JobFile, write_atomically
from banister.job.library import blank_joint, catalogue, demo_job, used_rods
from banister.job.recovery import Recovery, recovery_folder

AUTOSAVE_MS = 1500
RECENT = 8


class Documents(QObject):
    """Owns the open file; says in plain words what went wrong."""

    said = Signal(str, bool)
    recent_changed = Signal()

    def __init__(self, store: Store, settings: QSettings, folder: Path | None = None) -> None:
        super().__init__()
        self.store, self.settings = store, settings
        self.folder = recovery_folder() if folder is None else folder
        self.file: JobFile | None = None
        self.recovery = Recovery(self.folder, None)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(AUTOSAVE_MS)
        self._timer.timeout.connect(self.keep_recovery)
        store.changed.connect(self._edited)

    @property
    def title(self) -> str:
        """Name of the open file or job."""
        return self.file.path.name if self.file is not None else "not saved yet"

    @property
    def recent(self) -> list[str]:
        """Files that were open before and still exist."""
        value = self.settings.value("recent", [])
        paths = [value] if isinstance(value, str) else list(value or [])
        return [p for p in paths if Path(p).exists()]

    def open_path(self, path: Path) -> bool:
        """Open a job file; on a fault say it and keep what is open."""
        file = JobFile(path)
        try:
            job = file.open()
        except FileFault as fault:
            self.said.emit("\n".join(fault.lines[:6]), True)
            return False
        self._replace(file, job, True)
        self.settings.setValue("recent", [str(path.resolve()), *(p for p in self.recent if p != str(path.resolve()))][:RECENT])
        self.recent_changed.emit()
        if file.read_only:
            self.said.emit(f"{path.name}: {file.read_only}", True)
        return True

    def open_demo(self) -> None:
        """Open the demo as a job that is not saved yet."""
        self._replace(None, demo_job(), True)

    def start_from(self, pattern: Joint) -> None:
        """A new job from a worked pattern."""
        self._replace(None, Job(name="New job", joints=(pattern,), rods=used_rods(pattern, catalogue())), False)

    def start_from_nothing(self) -> None:
        """A new job with one plain joint: a V on an open root, no windows set."""
        self.start_from(blank_joint("J1"))

    def close_job(self) -> None:
        """Back to the start page."""
        self._replace(None, None, True)

    def _replace(self, file: JobFile | None, job: Job | None, saved: bool) -> None:
        self._timer.stop()
        if self.file is not None:
            self.file.close()
        if self.store.job is not None:
            self.recovery.clear()
        self.file = file
        self.recovery = Recovery(self.folder, None if file is None else file.path)
        self.store.open(job, saved)

    def save(self, ask: Callable[[], Path | None]) -> bool:
        """Save to the open file, or ask for one."""
        if self.file is None or self.file.read_only:
            return self.save_as(ask)
        return self._write(self.file)

    def save_as(self, ask: Callable[[], Path | None]) -> bool:
        """Save under another name."""
        path = ask()
        if path is None:
            return False
        path = path if path.suffix else path.with_suffix(SUFFIX)
        file = JobFile(path)
        if not file.lock():
            self.said.emit(f"{path.name} is open in another window; choose another name", True)
            return False
        if not self._write(file):
            file.close()
            return False
        if self.file is not None:
            self.file.close()
        self.recovery.clear()
        self.file, self.recovery = file, Recovery(self.folder, path)
        return True

    def _write(self, file: JobFile) -> bool:
        job = self.store.job
        if job is None:
            return False
        try:
            file.save(job)
        except FileFault as fault:
            self.said.emit("\n".join(fault.lines), True)
            return False
        self._timer.stop()
        self.recovery.clear()
        self.store.mark_saved()
        self.said.emit(f"Saved {file.path.name}", False)
        return True

    def _edited(self) -> None:
        if self.store.dirty and not self._timer.isActive():
            self._timer.start()

    def keep_recovery(self) -> None:
        """Keep a copy of unsaved work."""
        if self.store.dirty and self.store.job is not None:
            self.recovery.keep(self.store.job)

    def recovered(self) -> Job | None:
        """Work a crashed session left for the open file."""
        return self.recovery.found()

    def restore(self, job: Job) -> None:
        """Take recovered work as unsaved."""
        saved = self.store.saved
        self.store.open(job, False)
        self.store.saved = saved

    def export(self, kind: str, path: Path, joint: Joint, plan: Plan) -> None:
        """Write PDF or CSV of the shown joint."""
        job = self.store.job
        assert job is not None
        if kind.startswith("pdf"):
            from banister.export.pdf import pass_sheets

            data = pass_sheets(job, [(joint, plan)], self.store.units, "Letter" if kind == "pdf-letter" else "A4",
                               self.store.habit, {joint.id: self.store.covered})
        elif kind == "schedule":
            from banister.core.heat.schedule import schedule_of
            from banister.export.heat_json import schedule_csv

            data = schedule_csv(joint, plan, schedule_of(joint, plan)).encode()
        else:
            from banister.export.pass_csv import pass_csv

            data = pass_csv(joint, plan).encode()
        self.write(path, data)

    def write(self, path: Path, data: bytes) -> None:
        """Write an export and say so."""
        try:
            write_atomically(path, data)
        except OSError as error:
            self.said.emit(f"{path}: not written ({error.strerror})", True)
            return
        self.said.emit(f"Written {path}", False)
