"""Files of the window: open, save, recent, autosave and recovery, and what is exported."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from banister.core.job import Job
from banister.core.joint.joint import Joint, edited
from banister.desktop.app.preferences import Preferences
from banister.desktop.errands import HEAT, Errand
from banister.desktop.notices import Action, Notice, Notices
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.job.codec import different_fields
from banister.job.files import SUFFIX, JobFile, read, write_atomically
from banister.job.journal import journal_path
from banister.job.library import blank_joint, demo_job, used_rods
from banister.job.reading import FileFault
from banister.job.recovery import LeftWork, Recovery, left_work

AUTOSAVE_MS = 1500
PAPER, PRINT = "paper", "print"
MOST_LINES = 6


class Files(QObject):
    """Owns the open file; says in plain words what went wrong."""

    said = Signal(str)
    recent_changed = Signal()
    opened = Signal()
    """Another job is open, or none."""
    renamed = Signal()
    """The job is kept under another name."""

    def __init__(self, store: Store, preferences: Preferences, notices: Notices, folder: Path) -> None:
        super().__init__()
        self.store, self.preferences, self.notices, self.folder = store, preferences, notices, folder
        self.file: JobFile | None = None
        self.is_demo = False
        """True while the demo is open and not yet kept anywhere."""
        self.recovery = Recovery(folder, None)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(AUTOSAVE_MS)
        self._timer.timeout.connect(self.keep_recovery)
        store.changed.connect(self._edited)

    @property
    def title(self) -> str:
        """Name of the open file."""
        return self.file.path.name if self.file is not None else self.store.say("file.unnamed")

    def tell(self, fault: FileFault) -> None:
        """Say what is wrong with a file, each fault with its place."""
        lines = self.store.say.faults(fault.remarks)
        name = f"{fault.file}: " if fault.file else ""
        more = [self.store.say("file.more", n=len(lines) - MOST_LINES)] if len(lines) > MOST_LINES else []
        self.notices.add(Notice("\n".join([*(f"{name}{line}" for line in lines[:MOST_LINES]), *more])))

    # --- opening ------------------------------------------------------------------------------
    def open_path(self, path: Path) -> bool:
        """Open a job file; on a fault say it and keep what is open."""
        file = JobFile(path)
        try:
            job = file.open()
        except FileFault as fault:
            self.tell(fault)
            return False
        self._replace(file, job, job)
        self.preferences.opened(path)
        self.recent_changed.emit()
        if file.read_only:
            self.notices.add(Notice(f"{path.name}: {self.store.say(f'remark.file.readonly.{file.read_only}.text')}"))
        return True

    def open_demo(self) -> None:
        """Open the demo as a job that is not saved yet, on its passes."""
        job = demo_job()
        self._replace(None, job, job, is_demo=True, step="passes")

    def start_from(self, pattern: Joint) -> None:
        """A new job from a worked pattern."""
        say = self.store.say
        joint = edited(pattern, name=pattern.name or say(f"pattern.{pattern.id}"))
        self._replace(None, Job(name=say("job.new"), joints=(joint,), rods=used_rods(joint, self.store.library.rods)), None)

    def start_from_nothing(self) -> None:
        """A new job with one plain joint: a V on an open root, no windows set."""
        self.start_from(blank_joint("J1", self.store.say("joint.new")))

    def close_job(self) -> None:
        """Back to the start page."""
        self._replace(None, None, None)

    def _replace(self, file: JobFile | None, job: Job | None, saved: Job | None, is_demo: bool = False, step: str = "") -> None:
        self._timer.stop()
        self.release()
        if self.store.job is not None:
            self.recovery.clear()
        self.file = file
        self.recovery = Recovery(self.folder, None if file is None else file.path)
        self.is_demo = is_demo
        with self.store.together():
            self.store.open(job, saved, step)
            self.opened.emit()

    def leave(self) -> None:
        """Nothing of it is to be kept any more: the window closes."""
        self._timer.stop()
        self.recovery.clear()
        self.release()

    def release(self) -> None:
        """Let go of the open file."""
        if self.file is not None:
            self.file.close()
            self.file = None

    # --- saving -------------------------------------------------------------------------------
    def save(self, ask: Callable[[], Path | None]) -> bool:
        """Save to the open file, or ask for one."""
        if self.file is None or self.file.read_only:
            return self.save_as(ask)
        return self._write(self.file)

    def save_as(self, ask: Callable[[], Path | None], with_journal: bool = False) -> bool:
        """Save under another name; beside it no journal may stand, but one that was brought there for this job."""
        path = ask()
        if path is None:
            return False
        path = path if path.suffix else path.with_suffix(SUFFIX)
        if self.file is not None and not self.file.read_only and self.file.path.resolve() == path.resolve():
            return self._write(self.file)
        if not with_journal and journal_path(path).exists():
            self.notices.add(Notice(self.store.say("file.journal_there", name=path.name)))
            return False
        file = JobFile(path)
        if not file.lock():
            self.notices.add(Notice(self.store.say("file.locked", name=path.name)))
            return False
        if not self._write(file):
            file.close()
            return False
        self.release()
        self.recovery.clear()
        self.file, self.recovery, self.is_demo = file, Recovery(self.folder, path), False
        self.preferences.opened(path)
        self.recent_changed.emit()
        self.store.mark_saved()
        self.renamed.emit()
        return True

    def _write(self, file: JobFile) -> bool:
        job, say = self.store.job, self.store.say
        if job is None:
            return False
        try:
            is_kept = file.save(job)
        except FileFault as fault:
            if any(r.code == "file.changed" for r in fault.remarks):
                self._say_changed(file)
            else:
                self.tell(fault)
            return False
        self._timer.stop()
        self.recovery.clear()
        self.store.mark_saved()
        self.said.emit(say("file.saved" if is_kept else "file.saved.unflushed", name=file.path.name))
        return True

    def _say_changed(self, file: JobFile) -> None:
        """Another program changed the file: nothing is overwritten; mine can be kept beside it, theirs taken, or both compared."""
        say = self.store.say
        acts = (("file.keep_mine", self.keep_mine), ("file.take_theirs", self.take_theirs), ("file.compare", self.compare))
        self.notices.add(Notice(say("file.changed_by_another", name=file.path.name), actions=tuple(Action(say(word), run) for word, run in acts)))

    def keep_mine(self) -> None:
        """The work goes into a copy beside the file; the file on disk stays as it is."""
        if self.file is None:
            return
        path = self.file.path
        names = (path.with_name(f"{path.stem}-mine-{n}{path.suffix}") for n in range(1, 10_000))
        copy = next(one for one in names if not (one.exists() or journal_path(one).exists()))
        self.save_as(lambda: copy)

    def take_theirs(self) -> None:
        """What is on disk, as an edit: mine is an undo step away, and saving goes on from theirs."""
        if self.file is None:
            return
        try:
            theirs = self.file.open_again()
        except FileFault as fault:
            self.tell(fault)
            return
        self.store.edit(theirs, self.store.say("file.take_theirs.edit"))

    def compare(self) -> None:
        """Where mine and theirs differ, field by field."""
        job, say = self.store.job, self.store.say
        if self.file is None or job is None:
            return
        try:
            found = list(different_fields(job, read(self.file.path).job))
        except FileFault as fault:
            self.tell(fault)
            return
        more = [say("file.more", n=len(found) - MOST_LINES)] if len(found) > MOST_LINES else []
        self._say_changed(self.file)
        self.notices.add(Notice("\n".join([say("file.differs", n=len(found)), *found[:MOST_LINES], *more]), bad=False))

    def _edited(self, old: Snapshot, new: Snapshot) -> None:
        if new.job is not old.job and not self._timer.isActive():
            self._timer.start()

    # --- recovery -----------------------------------------------------------------------------
    def keep_recovery(self) -> None:
        """Keep a copy of unsaved work; none of what is saved."""
        if self.store.session.dirty and self.store.job is not None:
            self.recovery.keep(self.store.job)
        else:
            self.recovery.clear()

    def left_work(self) -> tuple[LeftWork, ...]:
        """Work that sessions left behind: of the open file, and of jobs that were never saved; with nothing open, of every job."""
        found = left_work(self.folder)
        if self.store.job is None:
            return found
        own = None if self.file is None else self.file.path.resolve()
        return tuple(one for one in found if one.of is None or one.of == own)

    def restore(self, left: LeftWork, job: Job) -> None:
        """Take work that was left as unsaved: what was typed since is an undo step away. The copy goes once it is kept as this window's own."""
        if left.of is not None and left.of.exists() and (self.file is None or self.file.path.resolve() != left.of) and self.store.job is None:
            self.open_path(left.of)
        if self.store.job is None:
            self._replace(None, job, None)
        else:
            self.store.edit(job, self.store.say("recovery.edit"))
        self.keep_recovery()
        left.discard()

    # --- exports ------------------------------------------------------------------------------
    def have_written(self, path: Path, work: Callable[..., bytes], *request: object) -> None:
        """Have an export made beside the window, and write it once it is there."""
        self.store.errands.run(Errand(HEAT, f"{PAPER} {path}", PAPER, work, request, partial(self.write, path)))

    @property
    def is_writing(self) -> bool:
        """True while something is being made to be written, or goes to the printer."""
        return any(errand.word == PAPER or errand.key == PRINT for errand in self.store.errands.busy)

    def write(self, path: Path, data: bytes) -> None:
        """Write an export and say so."""
        say = self.store.say
        own = None if self.file is None else self.file.path
        if own is not None and path.exists() and any(one.exists() and path.samefile(one) for one in (own, journal_path(own))):
            self.notices.add(Notice(say("file.own", path=str(path))))
            return
        try:
            write_atomically(path, data)
        except OSError as error:
            self.notices.add(Notice(say("file.not_written", path=str(path), why=error.strerror or str(error))))
            return
        self.said.emit(say("file.written", path=str(path)))
