"""The journal of the open job in the window: read when a job is opened, written one record at a time, each on disk before the next key."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject

from banister.core.inspect.arc_there import Traces, no_traces
from banister.core.journal import Chain, Record, differs_from_known, known_of
from banister.desktop.app.files import Files
from banister.desktop.notices import Notice, Notices
from banister.desktop.store import Store
from banister.job.files import SUFFIX as JOB_SUFFIX
from banister.job.journal import Journal, journal_path, read_journal
from banister.job.library import data_file, own_folder
from banister.job.reading import FileFault
from banister.job.traces import keep_trace, traces_folder, traces_of

DEMO = "demo"


class Logbook(QObject):
    """Writes what happened beside the job; a job that was never saved is saved first."""

    def __init__(self, store: Store, files: Files, notices: Notices, save: Callable[[], bool], folder: Path | None = None) -> None:
        super().__init__()
        self.store, self.files, self.notices, self._save = store, files, notices, save
        self.folder = folder
        self.chain = Chain()
        """The journal as it was read or written last."""
        self._journal: Journal | None = None
        self._path: Path | None = None
        files.opened.connect(self.read)
        files.renamed.connect(self.begin_anew)

    def read(self) -> None:
        """Another job is open: show what its journal tells."""
        self.close()
        path = None if self.files.file is None else journal_path(self.files.file.path)
        if path is None and self.files.is_demo:
            path = data_file("demo.banister").with_suffix(".banister-journal")
        records: tuple[Record, ...] = ()
        self._path, self.chain = path, Chain()
        if path is not None and path.exists():
            try:
                chain = read_journal(path)
                records, self.chain = chain.records, chain
                if chain.fault is not None:
                    self.files.tell(FileFault(chain.fault, file=path.name))
            except FileFault as broken:
                self.files.tell(broken)
        lost = None if self.files.file is None or self.chain.fault is not None else differs_from_known(self.chain, self.files.file.journal)
        if lost is not None:
            self.notices.add(Notice(self.store.say.sentence(lost)))
        self.store.take_records(records, as_it_was=self.files.file is None)

    def begin_anew(self) -> None:
        """Under another name a new journal begins, and names the one before; what that tells is not of this file, which is said."""
        path = None if self.files.file is None else journal_path(self.files.file.path)
        if path is None or path == self._path:
            return
        told, before = len(self.chain.records), self._path
        self._let_go()
        self.chain = read_journal(path) if path.exists() else Chain()
        self.store.take_records(self.chain.records)
        if before is not None and told > len(self.chain.records):
            self.notices.add(Notice(self.store.say("logbook.new_journal", name=before.stem), bad=False))

    def write(self, kind: str, joint: str = "", key: str = "", /, **data: Any) -> Record | None:
        """One record, on disk when this returns; None where it could not be kept, which is said."""
        if not self._ready():
            return None
        assert self._journal is not None
        try:
            record = self._journal.write(kind, joint, key, **data)
        except (OSError, ValueError) as error:  # no disk; or a note too long for a record
            why = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
            self.notices.add(Notice(self.store.say("logbook.not_kept", why=why)))
            return None
        self.chain = self._journal.chain
        if self.files.file is not None:
            self.files.file.journal = known_of(self.chain)
        self.store.take_records(self.chain.records)
        return record

    def keep_trace(self, raw: bytes) -> dict[str, str] | None:
        """The samples of a rod beside the journal; what its record tells of them, None where they could not be kept, which is said."""
        if not self._ready() or self.files.file is None:
            return None
        try:
            return keep_trace(self.files.file.path, raw)
        except OSError as error:
            self.notices.add(Notice(self.store.say("logbook.trace_not_kept", why=error.strerror or str(error))))
            return None

    def traces(self) -> Traces:
        """Finds the recorded arcs of the open job."""
        return no_traces if self._path is None else traces_of(self._path)

    def void(self, number: int, why: str) -> Record | None:
        """An entry that was wrong counts no more; it stays in the journal."""
        return self.write("correct", of=number, why=why, void=True)

    def _ready(self) -> bool:
        """A journal open for writing beside a saved job."""
        if self.files.file is None and not (self._save_demo() if self.files.is_demo else self._save()):
            return False
        if self.files.file is None:
            return False
        path = journal_path(self.files.file.path)
        if self._journal is not None and self._path == path:
            return True
        self._let_go()
        try:
            before = None if self._path is None or self._path == path else read_journal(self._path)
            self._journal, self._path = Journal(path, self.store.job.name if self.store.job is not None else "", before), path
        except FileFault as broken:
            self.files.tell(broken)
            return False
        return True

    def _save_demo(self) -> bool:
        """The demo is kept as a copy in the data folder, with what its journal tells."""
        folder = (own_folder() if self.folder is None else self.folder) / DEMO
        names = (folder / f"{DEMO}-{n}{JOB_SUFFIX}" for n in range(1, 10_000))
        path = next(p for p in names if not any(one.exists() for one in (p, journal_path(p), traces_folder(p))))  # what is left of another is not written over
        try:
            folder.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(data_file("demo.banister").with_suffix(".banister-journal"), journal_path(path))
            shutil.copytree(traces_folder(data_file("demo.banister")), traces_folder(path))
        except OSError as error:
            self.files.notices.add(Notice(self.files.store.say("file.not_written", path=str(path), why=error.strerror or str(error))))
            kept = False
        else:
            kept = self.files.save_as(lambda: path, with_journal=True)
        if not kept:
            journal_path(path).unlink(missing_ok=True)
            shutil.rmtree(traces_folder(path), ignore_errors=True)
        return kept

    def close(self) -> None:
        """Let go of the journal: another job comes, or none."""
        self._let_go()
        self._path = None

    def _let_go(self) -> None:
        if self._journal is not None:
            self._journal.close()
            self._journal = None
