"""The continuity book of the folder the open job stands in, in a window of its own: until when every mark is in force."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from banister.core.drawing.charts.continuity_chart import BookChart, BookRow, BookView, continuity_chart
from banister.core.drawing.shapes import Drawing
from banister.core.record.book import Mark, Read, book_of
from banister.desktop.app.beside import Beside
from banister.desktop.app.files import Files
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.job.folder import jobs_in
from banister.job.reading import FileFault


class BookWidget(ChartView):
    """The picture; a click on a disc tells where that day was welded."""

    picked = Signal(str)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.marks: tuple[Mark, ...] = ()
        self.chart: BookChart | None = None
        self.setMinimumSize(560, 260)
        self.setAccessibleName(store.say("continuity.window"))

    def made(self) -> Drawing | None:
        """The picture for the present size."""
        self.chart = None
        if not self.marks or self.width() < 320:
            return None
        rows = [BookRow(m.welder.mark, m.welder.process, m.welder.family, m.state) for m in self.marks]
        self.chart = continuity_chart(rows, self.store.say, BookView(float(self.width()), float(self.height()), self.store.today))
        return self.chart.drawing

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Tell of the day under the hand."""
        found = None if self.chart is None else self.chart.at(self.point(event.position()))
        if found is None:
            return
        mark, on, say = self.marks[found[0]], found[1], self.store.say
        where = "; ".join(" ".join(part for part in (one.job, one.joint) if part) for one in mark.used if one.on == on)
        self.picked.emit(say("continuity.day", mark=mark.welder.mark, on=on.isoformat(), where=where or say("continuity.test_or_entered")))


class BookDialog(Beside):
    """Reads the folder once, and anew whenever the open job or its journal changes."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 980, 460)
        self.store, say = store, store.say
        self.files: Files = parent.files  # type: ignore[attr-defined]
        self.setWindowTitle(say("continuity.window"))
        self.title, self.said, self.unread, caution = QLabel(), QLabel(), QLabel(), QLabel(say("continuity.caution"))
        self.title.setFont(font(16))
        self.picture = BookWidget(store, theme)
        self.picture.picked.connect(self.said.setText)
        for label in (self.unread, caution):
            tint(label, SOFT)
        column = QVBoxLayout(self)
        for label in (self.title, self.said, self.unread, caution):
            label.setWordWrap(True)
        for part in (self.title, self.picture, self.said, self.unread, caution):
            column.addWidget(part, 1 if part is self.picture else 0)
        store.changed.connect(self.show_job)
        self.read()

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Read anew where the open job has changed."""
        if new.differs(old, "job", "records", "say"):
            self.read()

    def read(self) -> None:
        """The jobs of the folder, the open one as it stands."""
        job, say = self.store.job, self.store.say
        if job is None:
            return
        jobs, unread = self._beside()
        own = Read(job.name if self.files.file is None else self.files.file.path.name, job, self.store.standing)
        self.picture.marks = book_of((*(one for one in jobs if one.name != own.name), own), self.store.today)
        self.title.setText(say("continuity.title", n=len(jobs) or 1) if self.picture.marks else say("continuity.nobody"))
        self.unread.setText("\n".join(f"{name}: {say.sentence(broken.remarks[0])}" for name, broken in unread))
        self.unread.setVisible(bool(unread))
        self.said.setText(say("continuity.how") if self.picture.marks else "")
        self.picture.redraw()

    def _beside(self) -> tuple[tuple[Read, ...], tuple[tuple[str, FileFault], ...]]:
        """The jobs that stand beside the open one; none for a job that was never saved."""
        return ((), ()) if self.files.file is None else jobs_in(self.files.file.path.parent)
