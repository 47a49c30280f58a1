"""The photo of an etched section over the plan: corners are marked, beads traced, penetration read; what was found is kept."""

from __future__ import annotations

import json
import math
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QListWidget, QScrollArea, QVBoxLayout

from banister.core.drawing.charts.etched_overlay import Laid, etched_overlay
from banister.core.drawing.section import pass_label
from banister.core.drawing.shapes import Drawing, Point
from banister.core.inspect.etched import MOST_BEADS, Fitted, Overlay, by_faces, fit_remarks, fitted, mark_points, trace_fault
from banister.core.inspect.etched_kept import ETCHED, Compared, Etched, compared, etched_of, etched_said
from banister.core.joint.groove import groove_of
from banister.core.journal import LONGEST_BYTES
from banister.core.remark import Refused
from banister.core.value import replace
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import BAD, PLAIN, bordered, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView, paint_focus
from banister.desktop.canvas.painting import of_chart, paint
from banister.desktop.fields import NameField
from banister.desktop.logbook import Logbook
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.inspect.photo_reading import Images, PhotoReading, photo_found_again, photo_taken
from banister.desktop.store import Store
from banister.job.photos import CHANGED, MOVED
from banister.job.reading import FileFault

ROOM_MM, ROOM_SHARE = 4.0, 0.15
RIGHT_PX, NEAR_PX = 360, 14.0
CORNERS, FACES = "corners", "faces"
FACE_MARKS = ("upper.a", "upper.b", "lower.a", "lower.b", "face.left")
BOTH, PHOTO_ONLY, PLAN_ONLY = "both", "photo", "plan"
SHOWN = (BOTH, PHOTO_ONLY, PLAN_ONLY)
ARROWS = {Qt.Key.Key_Left: (-1.0, 0.0), Qt.Key.Key_Right: (1.0, 0.0), Qt.Key.Key_Up: (0.0, -1.0), Qt.Key.Key_Down: (0.0, 1.0)}


class EtchedWidget(ChartView):
    """The photo with what lies over it. A click marks the next corner, or traces; arrows move the last mark by a pixel, Space switches plan and photo."""

    changed = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.photo: QPixmap | None = None
        self.smaller: tuple[QPixmap, ...] = ()
        """The photo at a half, a quarter and so on."""
        self.marks: dict[str, Point] = {}
        self.names: tuple[str, ...] = ()
        """The marks that are asked for, in order."""
        self.tracing: list[Point] = []
        self.is_tracing = False
        self.traced: list[tuple[Point, ...]] = []
        self.selected, self.shown = -1, BOTH
        self.overlay: Overlay | None = None
        self.found: Compared | None = None
        self._held = ""
        self.is_near = True
        """True where the joint alone is shown once it is known where it lies; Z shows all of the photo."""
        self.setMinimumSize(480, 420)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("etched.window"))

    def put(self, images: Images) -> None:
        """Another photo; none."""
        found = tuple(QPixmap.fromImage(image) for image in images)
        self.photo, self.smaller = found[0] if found else None, found[1:]

    @property
    def next_mark(self) -> str:
        """The mark the next click sets; '' where all are set."""
        return next((name for name in self.names if name not in self.marks), "")

    @property
    def _fit(self) -> tuple[float, float, float]:
        """Scale and place of the photo in the widget."""
        assert self.photo is not None
        x0, y0, x1, y1 = self._joint_px() or (0.0, 0.0, float(self.photo.width()), float(self.photo.height()))
        k = min(self.width() / (x1 - x0), self.height() / (y1 - y0))
        return k, (self.width() - k * (x0 + x1)) / 2, (self.height() - k * (y0 + y1)) / 2

    def _joint_px(self) -> tuple[float, float, float, float] | None:
        """The part of the photo the joint lies in, with some room about it; None while that is not known, or all is wanted."""
        joint = self.store.joint
        if self.overlay is None or joint is None or not self.is_near or self.next_mark:
            return None
        groove, room = groove_of(joint.prep), ROOM_MM + ROOM_SHARE * joint.prep.thickness_mm
        corners = [(x, y) for x in (groove.edges_x[0] - room, groove.edges_x[1] + room) for y in (-room, groove.thickness_mm + room)]
        xs, ys = zip(*map(self.overlay.pixel, corners), strict=True)
        return min(xs), min(ys), max(xs), max(ys)

    def made(self) -> Drawing | None:
        """What lies over the photo, for the present size."""
        joint, plan = self.store.now.joint, self.store.now.welded_plan
        if self.photo is None or joint is None or plan is None or self.width() < 100:
            return None
        k, left, top = self._fit
        laid = Laid(float(self.width()), float(self.height()), k, left, top, self.marks, self.overlay, self.tracing, self.traced, self.selected,
                    self._held, self.shown != PHOTO_ONLY)  # fmt: skip
        return etched_overlay(laid, joint, plan, self.found, self.store.say)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """The photo, then what lies over it."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.palette().window())
        if self.photo is None or self.drawing is None:
            painter.setFont(font(15))
            painter.setPen(self.palette().windowText().color())
            painter.drawText(self.rect().adjusted(40, 0, -40, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.store.say("etched.how"))
        else:
            k, left, top = self._fit
            if self.shown != PLAN_ONLY:
                painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
                halved = min(max(math.floor(-math.log2(k)), 0), len(self.smaller))
                shown = (self.photo, *self.smaller)[halved]
                painter.drawPixmap(QRectF(left, top, k * self.photo.width(), k * self.photo.height()), shown, QRectF(shown.rect()))
            paint(painter, self.drawing, of_chart(self.drawing), self.theme)
        if self.hasFocus():
            paint_focus(painter, self, self.theme)

    # --- the hand -----------------------------------------------------------------------------
    def _pixel(self, event: QMouseEvent) -> Point:
        k, left, top = self._fit
        return (event.position().x() - left) / k, (event.position().y() - top) / k

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Trace a point, take hold of a mark, or set the next one."""
        if self.photo is None:
            return
        at = self._pixel(event)
        if self.is_tracing:
            self.tracing.append(at)
        else:
            near = NEAR_PX / self._fit[0]
            self._held = next((name for name, (x, y) in self.marks.items() if abs(x - at[0]) < near and abs(y - at[1]) < near), self.next_mark)
            if self._held:
                self.marks[self._held] = at
        self.changed.emit()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """A mark that is held goes along."""
        if self._held and self.photo is not None:
            self.marks[self._held] = self._pixel(event)
            self.changed.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Space: plan, photo, both. Enter closes a traced bead, Backspace takes its last point back, arrows move the last mark."""
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Space:
            self.shown = SHOWN[(SHOWN.index(self.shown) + 1) % len(SHOWN)]
        elif key == Qt.Key.Key_Z:
            self.is_near = not self.is_near
        elif self.is_tracing and key == Qt.Key.Key_Backspace and self.tracing:
            self.tracing.pop()
        elif key in ARROWS and self._held in self.marks:
            (x, y), (dx, dy) = self.marks[self._held], ARROWS[key]
            self.marks[self._held] = (x + dx, y + dy)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.tracing:
            self.window().close_trace()  # type: ignore[attr-defined]
            return
        else:
            super().keyPressEvent(event)
            return
        self.changed.emit()


class EtchedColumn(Panel):
    """Beside the photo: which one, how it is scaled, what is traced, what that comes to."""

    def __init__(self, store: Store, theme: Theme, dialog: EtchedDialog) -> None:
        super().__init__(store, theme)
        self.choose = self.button("etched.choose", dialog.choose)
        self.file = self.remark(kind="plain")
        self.by_what = self.choice("etched.by", self.words("etched.by", (CORNERS, FACES)), lambda _: dialog.mark_again())
        self.next = self.remark(kind="plain")
        self.again = self.button("etched.again", dialog.mark_again)
        self.fit = self.remark(kind="warn")
        self.trace = self.tick("etched.trace", dialog.trace, tip=True)
        self.list = QListWidget()
        bordered(self.list)
        self.list.setAccessibleName(self.say("etched.traced"))
        self.list.setMaximumHeight(120)
        self.list.currentRowChanged.connect(dialog.select)
        self.column.addWidget(self.list)
        self.is_pass = self.choice("etched.is", {}, dialog.name)
        self.drop = self.button("etched.drop", dialog.drop)
        self.said, self.bad = self.remark(kind="plain"), self.remark(kind="bad")
        self.by = NameField(self.say("rack.by"))
        self.column.addWidget(self.by)
        self.keep = self.button("etched.keep", dialog.keep_it)
        self.kept = self.remark()
        self.column.addStretch(1)


class EtchedDialog(Beside):
    """Lays a photo over the section of the shown joint."""

    def __init__(self, parent: Any, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1180, 740)
        self.store, say = store, store.say
        self.logbook: Logbook = parent.logbook
        self.files, self.dialogs = parent.files, parent.dialogs
        self.reading = PhotoReading(self)
        self._file = ("", PLAIN)
        """What is said of the photo that lies there."""
        self.photo: dict[str, Any] = {}
        self.named: dict[int, str] = {}
        self.fit: Fitted | None = None
        self.setWindowTitle(say("etched.window"))
        self.title = QLabel()
        self.title.setFont(font(18, QFont.Weight.DemiBold))
        self.title.setWordWrap(True)
        self.picture, self.side = EtchedWidget(store, theme), EtchedColumn(store, theme, self)
        self.picture.changed.connect(self.lay)
        area = QScrollArea()
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidget(self.side)
        area.setWidgetResizable(True)
        area.setFixedWidth(RIGHT_PX)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        row, column = QHBoxLayout(), QVBoxLayout(self)
        row.addWidget(self.picture, 1)
        row.addWidget(area)
        column.addWidget(self.title)
        column.addLayout(row, 1)
        store.changed.connect(self.show_job)
        self.mark_again()
        self._show_last()

    @property
    def path(self) -> Path | None:
        """The open job's file."""
        return None if self.files.file is None else self.files.file.path

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Another joint begins anew; another unit or plan is laid again."""
        if old is not None and new.joint is not None and old.joint is not None and new.joint.id != old.joint.id:
            self.photo, self.named, self.picture.traced = {}, {}, []
            self.picture.put(())
            self.mark_again()
            self._show_last()
        elif new.differs(old, "joint", "plan", "issued", "say", "records"):
            self.lay()

    def _show_last(self) -> None:
        """What was kept last of the joint, where its photo is still there."""
        joint = self.store.joint
        kept = () if joint is None else etched_of(self.store.standing, joint.id)
        self.side.kept.setText(self.store.say("etched.kept", n=len(kept)) if kept else "")
        self.reading.forget()
        self._show_file("", PLAIN)
        if kept:
            self.side.file.setText(self.store.say("etched.reading"))
            self.reading.ask(partial(photo_found_again, kept[-1].photo, self.path), partial(self._found_again, kept[-1]))

    def _found_again(self, last: Etched, found: tuple[str, Images]) -> None:
        (state, images), picture = found, self.picture
        if images:
            picture.put(images)
            picture.marks, picture.traced = dict(last.marks), list(last.traced)
            self.photo, self.named = dict(last.photo), dict(last.named)
            is_by_faces = any(name in last.marks for name in FACE_MARKS[:4])
            self.side.by_what.show_choice(FACES if is_by_faces else CORNERS)
            self._ask_marks()
        self._show_file(f"{Path(str(last.photo.get('path'))).name}: {self.store.say(f'photo.{state}')}", BAD if state in (MOVED, CHANGED) else PLAIN)
        self.lay()

    # --- the photo ----------------------------------------------------------------------------
    def choose(self) -> None:
        """Choose the photo."""
        say = self.store.say
        path = self.dialogs.document_path(self, say("etched.choose"), Path.home() if self.path is None else self.path.parent, say, "png *.jpg *.jpeg")
        if path is not None:
            self.open_photo(path)

    def open_photo(self, path: Path) -> None:
        """Take in a photo; what is none is said."""
        self.reading.ask(partial(photo_taken, path, self.path), partial(self._taken_in, path.name))
        self.side.file.setText(self.store.say("etched.reading"))

    def _taken_in(self, name: str, found: tuple[dict[str, Any], Images] | FileFault) -> None:
        if isinstance(found, FileFault) or not found[1]:
            self._show_file(*self._file)
            self._bad("\n".join(self.store.say.faults(found.remarks)) if isinstance(found, FileFault) else self.store.say("remark.photo.kind.text"))
            return
        told, images = found
        self.photo, self.named, self.picture.traced = told, {}, []
        self.picture.put(images)
        self._show_file(name, PLAIN)
        self.mark_again()

    def _show_file(self, text: str, kind: str) -> None:
        """Which photo it is."""
        self._file = text, kind
        self.side.file.setText(text)
        tint(self.side.file, kind)

    # --- marks --------------------------------------------------------------------------------
    def mark_again(self) -> None:
        """The marks are set anew."""
        self.picture.marks = {}
        self._ask_marks()
        self.lay()

    def _ask_marks(self) -> None:
        joint = self.store.joint
        corners = () if joint is None else tuple(mark_points(joint))
        self.picture.names = FACE_MARKS if self.side.by_what.key == FACES else corners

    def _overlay(self) -> Overlay | None:
        """How the photo lies, by what is marked so far; None while it is not enough."""
        joint, marks = self.store.joint, self.picture.marks
        self.fit = None
        if joint is None:
            return None
        points = mark_points(joint)
        try:
            if self.side.by_what.key == FACES:
                if not all(name in marks for name in FACE_MARKS):
                    return None
                upper, lower = [marks["upper.a"], marks["upper.b"]], [marks["lower.a"], marks["lower.b"]]
                return by_faces(upper, lower, joint.prep.thickness_mm, marks["face.left"], points["face.left"])
            names = [name for name in points if name in marks]
            if len(names) < 2:
                return None
            self.fit = fitted([marks[name] for name in names], [points[name] for name in names])
            return self.fit.overlay
        except Refused as refused:
            self._bad(self.store.say.sentence(refused.remarks[0]))
            return None

    # --- beads --------------------------------------------------------------------------------
    def trace(self, on: bool) -> None:
        """Clicks trace a bead, or mark corners."""
        self.picture.is_tracing, self.picture.tracing = on and self.picture.overlay is not None, []
        self.picture.setFocus()
        self.lay()

    def close_trace(self) -> None:
        """The points traced are a bead."""
        picture = self.picture
        if picture.overlay is None:
            return
        outline = tuple(picture.overlay.section(pixel) for pixel in picture.tracing)
        wrong = trace_fault(outline)
        if wrong is None and len(picture.traced) < MOST_BEADS:
            picture.traced.append(outline)
            picture.tracing = []
        self.lay()
        if wrong is not None:
            self._bad(self.store.say.sentence(wrong))

    def select(self, row: int) -> None:
        """A traced bead is looked at."""
        self.picture.selected = row
        self.picture.redraw()
        self._show_name()

    def name(self, key: str) -> None:
        """The traced bead selected is this pass, or the one it fits."""
        row = self.picture.selected
        self.named = {i: k for i, k in self.named.items() if i != row and k != key} | ({row: key} if key else {})
        self.lay()

    def drop(self) -> None:
        """The traced bead selected is none."""
        row = self.picture.selected
        if 0 <= row < len(self.picture.traced):
            self.picture.traced.pop(row)
            self.named = {i - (i > row): key for i, key in self.named.items() if i != row}
            self.lay()

    # --- what it comes to ---------------------------------------------------------------------
    def lay(self) -> None:
        """Lay the photo over the section by what is marked, and hold what is traced against the plan."""
        joint, plan, picture, side, say = self.store.now.joint, self.store.now.welded_plan, self.picture, self.side, self.store.say
        self._bad("")
        picture.overlay = self._overlay()
        one = self._etched()
        picture.found = compared(one, joint, plan) if one is not None and joint is not None and plan is not None else None
        wanted = picture.next_mark
        side.next.setText("" if picture.photo is None else say("etched.next", mark=say(f"etched.mark.{wanted}")) if wanted else say("etched.marked"))
        names = [] if self.fit is None or joint is None else [name for name in mark_points(joint) if name in picture.marks]
        side.fit.setText("" if self.fit is None else "\n".join(say.sentence(r) for r in fit_remarks(self.fit, names)))
        side.fit.setVisible(bool(side.fit.text()))
        side.trace.setEnabled(picture.overlay is not None)
        side.keep.setEnabled(one is not None)
        lines = [] if one is None or picture.found is None or plan is None else etched_said(one, picture.found, plan, say)
        side.said.setText("\n".join(lines))
        self.title.setText(self._title())
        self._show_list()
        picture.redraw()

    def _title(self) -> str:
        say, found = self.store.say, self.picture.found
        depths = [depth for wall in found.walls for depth in wall.depths] if found is not None and self.picture.traced else []
        if found is None or not depths:
            return say("etched.title" if self.picture.photo is not None else "etched.window")
        n, is_bare = len(found.areas), any(wall.not_fused for wall in found.walls)
        return say("etched.title.bare", n=n) if is_bare else say("etched.title.found", n=n, least=say.sized("fine_length", min(depths)))

    def _etched(self) -> Etched | None:
        picture = self.picture
        if picture.overlay is None or not self.photo:
            return None
        return Etched(self.photo, picture.overlay, dict(picture.marks), tuple(picture.traced), self.named)

    def _show_list(self) -> None:
        """A line for every traced bead."""
        plan, found, say, rows = self.store.now.welded_plan, self.picture.found, self.store.say, self.side.list
        labels = {} if plan is None else {p.key: pass_label(p) for p in plan.passes}
        by_trace = {} if found is None else {i: key for key, i in found.matched.pairs.items()}
        row = rows.currentRow()
        rows.blockSignals(True)
        rows.clear()
        rows.addItems([say("etched.row", n=str(i + 1), label=labels.get(by_trace.get(i, ""), "?")) for i in range(len(self.picture.traced))])
        rows.setCurrentRow(min(row, rows.count() - 1))
        rows.blockSignals(False)
        self.picture.selected = rows.currentRow()
        for part in (rows, self.side.is_pass, self.side.drop):
            part.setVisible(bool(self.picture.traced))
        self.side.is_pass.set_choices({"": say("etched.is.fits")} | labels)
        self._show_name()

    def _show_name(self) -> None:
        self.side.is_pass.show_choice(self.named.get(self.picture.selected, ""))

    def keep_it(self) -> None:
        """What was marked and traced goes into the journal."""
        one, joint = self._etched(), self.store.joint
        if one is None or joint is None:
            return
        told = replace(one, by=self.side.by.edit.text().strip()).recorded()
        if len(json.dumps(told)) > LONGEST_BYTES * 0.9:
            self._bad(self.store.say("etched.too_long"))
            return
        if self.logbook.write(ETCHED, joint.id, **told) is not None:
            self.side.kept.setText(self.store.say("etched.kept.now"))

    def _bad(self, text: str) -> None:
        self.side.bad.setText(text)
        self.side.bad.setVisible(bool(text))
