"""Watch it weld: the plan played on a clock of its own, at any moment that is dragged to."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.drawing.charts.film_picture import FilmPicture, film_picture
from banister.core.drawing.shapes import Drawing, Text
from banister.core.heat.film import Film, film_of
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import HEAT, Errand
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.sheet.actions import plain_name, put_on_paper
from banister.desktop.store import Store
from banister.desktop.work.paper import frame_pages

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow

FILM = "film"
FRAME_MS, KEY_STEPS = 33, 50


class FilmWidget(ChartView):
    """The picture at the film's time; drag along it for another."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.film: Film | None = None
        self.own_s = 0.0
        self.picture: FilmPicture | None = None
        self.setMinimumSize(520, 320)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("film.picture"))

    def made(self) -> Drawing | None:
        """The picture for the present size and time."""
        joint, now = self.store.now.joint, self.store.now
        if self.film is None or joint is None or now.plan is None or now.heat is None:
            return None
        size = (float(self.width()), float(self.height()))
        self.picture = film_picture(joint, now.plan, now.heat.schedule, self.film, self.own_s, self.store.say, size)
        said = {s.id: s.text for s in self.picture.drawing.shapes if isinstance(s, Text) and s.id}
        self.setAccessibleDescription(self.store.say("film.described", doing=said["doing"], reads=said["reads"], clock=said["clock"]))
        return self.picture.drawing

    def to(self, own_s: float) -> None:
        """Another time of the film, kept inside it."""
        self.own_s = min(max(own_s, 0.0), 0.0 if self.film is None else self.film.length_s)
        self.redraw()

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The time that was pressed on."""
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The time that was dragged to."""
        if self.picture is not None and self.film is not None:
            self.to(self.picture.own_s(event.position().x(), self.film))


class FilmDialog(Beside):
    """The film with its one button; Space does the same."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1240, 760)
        self.store, say = store, store.say
        self.setWindowTitle(say("film.window"))
        self.picture = FilmWidget(store, theme)
        self.none, keys = QLabel(say("film.none")), QLabel(say("film.keys"))
        tint(keys, SOFT)
        self.play = QPushButton(say("film.play"))
        self.play.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.play.clicked.connect(self.toggle)
        row, column = QHBoxLayout(), QVBoxLayout(self)
        row.addWidget(self.play)
        row.addWidget(keys, 1)
        self.strip = QPushButton(say("film.strip"))
        self.strip.setToolTip(say("film.strip.tip"))
        self.strip.clicked.connect(self.write_strip)
        row.addWidget(self.strip)
        column.addWidget(self.none)
        column.addWidget(self.picture, 1)
        column.addLayout(row)
        self.timer = QTimer(self)
        self.timer.setInterval(FRAME_MS)
        self.timer.timeout.connect(self._tick)
        self._before = 0.0
        store.changed.connect(self.show_job)
        self.show_job(None, store.now)
        self.picture.setFocus()

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Have the film of what is shown made beside the window."""
        if not new.differs(old, "joint", "plan", "heat", "say"):
            return
        joint, plan, heat = new.joint, new.plan, new.heat
        self.pause()
        self.picture.film = None
        can = joint is not None and plan is not None and heat is not None and heat.schedule.feasible
        self.none.setVisible(not can)
        self.play.setEnabled(False)
        self.strip.setEnabled(False)
        self.picture.redraw()
        if joint is not None and plan is not None and heat is not None and can:
            self.store.errands.run(Errand(HEAT, FILM, FILM, film_of, (joint, plan, heat.schedule), self._arrived))
        else:
            self.store.stop(FILM)

    def _arrived(self, film: Film) -> None:
        self.picture.film = film
        self.play.setEnabled(True)
        self.strip.setEnabled(True)
        self.picture.to(0.0)

    def write_strip(self) -> None:
        """Six frames on a page."""
        joint, now, film = self.store.now.joint, self.store.now, self.picture.film
        if joint is None or now.plan is None or now.heat is None or film is None:
            return
        window = cast("MainWindow", self.parent())
        path = window.dialogs.save_path(self, self.store.say("film.strip"), f"{plain_name(joint.id)}-film.pdf", "*.pdf")
        if path is not None:
            put_on_paper(window, path, frame_pages, joint, now.plan, now.heat.schedule, film, self.store.say)

    # --- playing ------------------------------------------------------------------------------
    def toggle(self) -> None:
        """Play, or pause; at the end from the beginning."""
        if self.timer.isActive():
            self.pause()
        elif self.picture.film is not None:
            if self.picture.own_s >= self.picture.film.length_s:
                self.picture.to(0.0)
            self._before = time.monotonic()
            self.timer.start()
            self.play.setText(self.store.say("film.pause"))

    def pause(self) -> None:
        """Stand still."""
        self.timer.stop()
        self.play.setText(self.store.say("film.play"))

    def _tick(self) -> None:
        now = time.monotonic()
        self.picture.to(self.picture.own_s + now - self._before)
        self._before = now
        if self.picture.film is None or self.picture.own_s >= self.picture.film.length_s:
            self.pause()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Space plays, the arrows step, Home and End."""
        film = self.picture.film
        if film is None:
            super().keyPressEvent(event)
            return
        step = film.length_s / KEY_STEPS
        to = {Qt.Key.Key_Left: self.picture.own_s - step, Qt.Key.Key_Right: self.picture.own_s + step, Qt.Key.Key_Home: 0.0, Qt.Key.Key_End: film.length_s}
        if event.key() == Qt.Key.Key_Space:
            self.toggle()
        elif (key := Qt.Key(event.key())) in to:
            self.pause()
            self.picture.to(to[key])
        else:
            super().keyPressEvent(event)

    def stop(self) -> None:
        """It stands still, and no film is made."""
        self.pause()
        self.store.stop(FILM)
