"""The inspected weld on screen: the cursor walks along it, a click takes up what was seen, a drag along a line says that it was looked for there."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.cap_picture import NEAR_MM, Cap, cap_picture
from banister.core.drawing.charts.inspect_ring import InspectRing, inspect_ring
from banister.core.drawing.charts.inspect_strip import InspectStrip, StripView, inspect_strip
from banister.core.drawing.shapes import Drawing
from banister.core.inspect.kinds import FACE, LINES, ROOT
from banister.core.inspect.repairs import repairs_kept
from banister.core.joint.faults import joint_faults
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

STEP_MM, FAR_MM, LEAST_DRAG_MM = 1.0, 10.0, 2.0
HEIGHT, LEAST_SECTION_PX, LEAST_RING_PX, LEAST_RING_WIDE = 480, 90.0, 330, 480
VIEW_KEYS = {Qt.Key.Key_W: "cause", Qt.Key.Key_R: "repair"}


class StripWidget(ChartView):
    """Shows a side of the inspected weld."""

    new_wanted = Signal()
    asked = Signal(str)
    """A view of the observation selected: 'cause' or 'repair'."""
    ended = Signal(bool, float)
    """Whether it is the beginning, and where, mm."""
    looked = Signal(str, float, float)
    """A line ('' for all of the side) and from where to where it was looked for, mm."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.chart: InspectStrip | None = None
        self.round: InspectRing | None = None
        """The ring, while the weld of a pipe is shown as one."""
        self._dragged: tuple[str, float] | None = None
        """A line that is dragged along, and where that began."""
        self.setMinimumHeight(190)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(store.say("inspect.strip"))

    def sizeHint(self) -> QSize:  # noqa: N802
        """A strip with its lines under it."""
        return QSize(700, HEIGHT)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs, on its step only."""
        if new.view.step == "inspect" and new.differs(old, "joint", "plan", "issued", "records", "say", "view"):
            self.redraw()

    def made(self) -> Drawing | None:
        """The strip for the present size."""
        joint, shown, view = self.store.now.joint, self.store.inspection, self.store.now.view
        self.chart = self.round = None
        if joint is None or shown is None or self.width() < 260 or joint_faults(joint):
            return None
        at = StripView(float(self.width()), float(self.height()), view.inspect_side, self.cursor_mm, view.inspect_seen,
                       repairs=repairs_kept(self.store.standing, joint.id))  # fmt: skip
        if self.is_ring:
            plan, cap = self.store.now.welded_plan, self._cap(at)
            self.round = inspect_ring(shown.found, shown.judgement, shown.kinds, shown.course, joint, plan, cap, self.store.say, at)
            return self.round.drawing
        self.chart = inspect_strip(shown.found, shown.judgement, shown.kinds, shown.course, self.store.say, at)
        if at.section_top < LEAST_SECTION_PX:
            return self.chart.drawing
        drawing = self.chart.drawing
        return Drawing((*drawing.shapes, *cap_picture(joint, self.store.now.welded_plan, self._cap(at), self.store.say)), drawing.box)

    @property
    def is_ring(self) -> bool:
        """True while the weld of a pipe is shown as a ring."""
        shown = self.store.inspection
        return self.store.view.ring and shown is not None and shown.course.closed and self.width() >= LEAST_RING_WIDE and self.height() >= LEAST_RING_PX

    def _cap(self, at: StripView) -> Cap:
        """The section at the cursor, with what was seen near it."""
        shown, here = self.store.inspection, self.cursor_mm
        assert shown is not None
        near = tuple(one for one in shown.found.seen if one.side == at.side and one.interval[0] - NEAR_MM <= here <= one.interval[1] + NEAR_MM)
        return Cap((0.0, 0.0, at.width, at.section_top), at.side, self.store.say.figure(shown.course.figure(here)), near)

    @property
    def length_mm(self) -> float:
        """The length of the weld."""
        shown = self.store.inspection
        return 0.0 if shown is None else shown.course.length_mm

    @property
    def cursor_mm(self) -> float:
        """Where the cursor stands."""
        return min(self.store.view.inspect_mm, self.length_mm)

    def _along(self, at: QPointF) -> float:
        assert self.chart is not None
        return min(max(self.chart.along.value(at.x()), 0.0), self.length_mm)

    # --- touching ----------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Take up what was seen here, or put the cursor here; on a line, begin to look along it."""
        if self.round is not None:
            point = self.point(event.position())
            self._take_up(self.round.near(point), self.round.place_at(point))
            return
        if self.chart is None:
            return
        x, y = self.point(event.position())
        row = self.chart.row_at(y)
        if row:
            self._dragged = row, self._along(event.position())
            return
        self._take_up(self.chart.near(x), self._along(event.position()))

    def _take_up(self, seen: int, along_mm: float) -> None:
        """What was seen is selected; where nothing was, the cursor goes there."""
        shown = self.store.inspection
        one = None if shown is None or not seen else shown.seen(seen)
        self.store.look(inspect_seen=seen, inspect_mm=min(max(along_mm, 0.0), self.length_mm) if one is None else one.s_mm)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """What was dragged along was looked for."""
        if self._dragged is None or self.chart is None:
            return
        line, begun = self._dragged
        self._dragged = None
        low, high = sorted((begun, self._along(event.position())))
        if high - low >= LEAST_DRAG_MM:
            self.looked.emit(line, low, high)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Arrows walk, N is new here, [ and ] end a length, A none seen, B the other side, O a pipe's ring, down the next seen, W why, R repair."""
        key, text = Qt.Key(event.key()), event.text()
        step = {Qt.Key.Key_Right: 1.0, Qt.Key.Key_Left: -1.0}.get(key)
        if step is not None:
            far = FAR_MM if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else STEP_MM
            sign = -1.0 if self.store.view.inspect_side == ROOT else 1.0
            to_mm = self.cursor_mm + sign * step * far
            shown = self.store.inspection
            closed = shown is not None and shown.course.closed
            self.store.look(inspect_mm=to_mm % self.length_mm if closed else min(max(to_mm, 0.0), self.length_mm), inspect_seen=0)
        elif key == Qt.Key.Key_N:
            self.new_wanted.emit()
        elif text in ("[", "]"):
            self.ended.emit(text == "[", self.cursor_mm)
        elif key == Qt.Key.Key_O:
            self.store.look(ring=not self.store.view.ring)
        elif key in VIEW_KEYS:
            self.asked.emit(VIEW_KEYS[key])
        elif key == Qt.Key.Key_A:
            self.looked.emit("", 0.0, self.length_mm)
        elif key == Qt.Key.Key_B:
            self.other_side()
        elif key == Qt.Key.Key_Down:
            self.next_seen()
        else:
            super().keyPressEvent(event)

    def other_side(self) -> None:
        """Face or root."""
        shown = self.store.inspection
        if shown is not None and shown.weld.has_root:
            self.store.look(inspect_side=ROOT if self.store.view.inspect_side == FACE else FACE, inspect_seen=0)

    def next_seen(self) -> None:
        """The next that was seen along the weld."""
        shown = self.store.inspection
        own = [] if shown is None else sorted((o for o in shown.found.seen if o.side == self.store.view.inspect_side), key=lambda o: (o.s_mm, o.id))
        numbers = [o.id for o in own]
        at = numbers.index(self.store.view.inspect_seen) + 1 if self.store.view.inspect_seen in numbers else 0
        if own:
            one = own[at % len(own)]
            self.store.look(inspect_seen=one.id, inspect_mm=one.s_mm)


def lines_of(side: str, line: str) -> list[str]:
    """The lines meant by one, or by all of a side."""
    return [line] if line else list(LINES[side])
