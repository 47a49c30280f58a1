"""A session on screen, in the place of the section: left and right go through the rods, up and down through the figures; a click does both."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.practice_picture import PracticeView, practice_picture
from banister.core.drawing.shapes import Dot, Drawing, Rect, Text
from banister.core.practice.said import sentences
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.practice.desk import PracticeDesk
from banister.desktop.store import Store

NEAR_PX = 12.0


class PracticeBoard(ChartView):
    """Shows the session a desk looks at."""

    def __init__(self, store: Store, theme: Theme, desk: PracticeDesk) -> None:
        super().__init__(theme)
        self.store, self.desk = store, desk
        self.setMinimumHeight(240)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(store.say("practice.name"))
        desk.changed.connect(self.redraw)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw anew where units or the step changed: nothing of it is the job's."""
        if new.view.step == "practice" and (old is None or new.differs(old, "say", "view")):
            self.redraw()

    def made(self) -> Drawing | None:
        """The session for the present size; where there is none, what to do."""
        desk, say = self.desk, self.store.say
        if self.width() < 200:
            return None
        box = (0.0, 0.0, float(self.width()), float(self.height()))
        if desk.book is None or desk.index is None:
            text = say("practice.nobody" if desk.book is None else "practice.none")
            self.setAccessibleDescription(text)
            return Drawing((Rect(box, "ground"), *_wrapped(text, box[2], box[3])), box)
        self.setAccessibleDescription(" ".join(sentences(desk.standings, say)))
        chosen = desk.chosen
        view = PracticeView(box[2], box[3], desk.rod, chosen.metric.id if chosen is not None else "")
        return practice_picture(desk.book, desk.index, desk.standings, desk.weeks, view, say)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The rod under the pointer, and the figure whose row it is."""
        x, y = self.point(event.position())
        self.setFocus()
        shapes = () if self.drawing is None else self.drawing.shapes
        rows = [(abs(shape.at[1] - y), shape.id.partition(":")[2]) for shape in shapes if isinstance(shape, Text) and shape.id.startswith("metric:")]
        dots = [(abs(shape.at[0] - x) + abs(shape.at[1] - y), int(shape.id.partition(":")[2])) for shape in shapes
                if isinstance(shape, Dot) and shape.id.startswith("rod:")]  # fmt: skip
        near, rod = min(dots, default=(NEAR_PX + 1, 0))
        apart, metric = min(rows, default=(1e9, ""))
        self.desk.look(rod=rod if near <= NEAR_PX else None, metric=metric if apart < 40 else "")

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Arrows."""
        desk, key = self.desk, Qt.Key(event.key())
        found, session = desk.standings, desk.session
        if session is None or key not in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down):
            super().keyPressEvent(event)
            return
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            if session.rods:
                step = 1 if key == Qt.Key.Key_Right else -1
                desk.look(rod=(0 if step > 0 else len(session.rods) - 1) if desk.rod is None else (desk.rod + step) % len(session.rods))
            return
        chosen = desk.chosen
        here = next((i for i, s in enumerate(found) if s is chosen), 0)
        desk.look(metric=found[(here + (1 if key == Qt.Key.Key_Down else -1)) % len(found)].metric.id)


def _wrapped(text: str, width: float, height: float) -> list[Text]:
    """A few lines in the middle."""
    lines, line = list[str](), ""
    for word in text.split():
        if line and len(line) + len(word) > width / 9.5:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}".strip()
    lines.append(line)
    return [Text((width / 2, height / 2 - 24 * i), one, "soft", 16) for i, one in enumerate(lines)]
