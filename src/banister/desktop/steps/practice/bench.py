"""The practice bench: dark, full page, six keys; the pacer starts with the arc and is timed from there; a meter tells the arc by itself."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QCloseEvent, QKeyEvent, QMouseEvent

from banister.core.arc.analysis import ArcAnalysis, Setting
from banister.core.drawing.charts.bench_picture import RULER, BenchPage, BenchPicture, bench_picture, off_said, ruler_mm
from banister.core.practice.book import ArcRead, Session
from banister.core.practice.bout import BURNING, EDGES, MARKS, READING, READY, Bout
from banister.core.practice.figures import arc_read
from banister.core.practice.pacer import NONE, Pacer
from banister.core.practice.said import KINDS
from banister.core.words import Speech
from banister.desktop.canvas.dark_page import LEAST_PX, DarkPage
from banister.desktop.steps.practice.click import Click
from banister.desktop.steps.practice.desk import PracticeDesk
from banister.devices.driver import LIVE, Driver
from banister.devices.trace import Sample

TICK_MS = 33
ARROWS = {Qt.Key.Key_Left: "less", Qt.Key.Key_Right: "more", Qt.Key.Key_Down: "less10", Qt.Key.Key_Up: "more10"}
SIZE = (1280, 800)


class PracticeBench(DarkPage):
    """Practises the session a desk looks at; every rod that is kept goes into its book at once."""

    def __init__(self, desk: PracticeDesk, say: Speech, pacer: Pacer | None, click: Click, meter: Driver[Sample] | None = None,
                 clock: Callable[[], float] = time.monotonic) -> None:  # fmt: skip
        super().__init__(say("practice.bench.window"))
        session = desk.session
        assert session is not None
        self.desk, self.say, self.pacer, self.click, self.meter, self.clock = desk, say, pacer, click, meter, clock
        self.bout = Bout(taps_are=MARKS if "pace_spread" in desk.drills.drills[session.drill].measure else EDGES)
        self._index, self._of = desk.index, (session.on, session.series)
        desk.changed.connect(self._look_behind)
        self.picture: BenchPicture | None = None
        self.said, self.sound = "", False
        self._beats, self._simulated = 0, False
        self._analysis = ArcAnalysis(Setting(amps=session.amps or 100.0, volts=23.0, rod_amp_s=60.0 * (session.amps or 100.0)))
        self._volts: list[tuple[float, float]] = []
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(*SIZE)
        if meter is not None:
            meter.open()
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self.tick)
        self._timer.start()
        self.draw()

    @property
    def session(self) -> Session:
        """What is practised."""
        assert self.desk.book is not None and self._index is not None
        return self.desk.book.sessions[self._index]

    def _look_behind(self) -> None:
        """A book that was closed behind the page, or a session taken out of it, has no bench."""
        book = self.desk.book
        known = book is not None and self._index is not None and self._index < len(book.sessions)
        if not known or (self.session.on, self.session.series) != self._of:
            self._index = None
            self.close()

    # --- time --------------------------------------------------------------------------------
    def tick(self) -> None:
        """What the meter tells, the beat, and the picture while something moves."""
        self._listen()
        if self.bout.state != BURNING:
            return
        if self.pacer is not None and self.pacer.kind != NONE:
            beats = self.pacer.beats(self.clock() - self.bout.begun_s)
            if beats != self._beats:
                self._beats = beats
                if self.sound:
                    self.click.play()
        self.draw()

    def _listen(self) -> None:
        if self.meter is None:
            return
        for t, volts, amps, watts in self.meter.poll(self.clock()):
            self._simulated = self._simulated or self.meter.is_simulated
            was = self._analysis.is_burning
            self._analysis.take(t, volts, amps, watts)
            if self._analysis.is_burning and not was and self.bout.state != BURNING:
                self._volts.clear()
                self._begin()
            if self.bout.state == BURNING:
                self._volts.append((t, abs(volts)))
            if was and not self._analysis.is_burning:
                self._end()

    # --- the rod -----------------------------------------------------------------------------
    def _begin(self) -> None:
        self.bout, self._beats = self.bout.on(self.clock()), 0
        self.draw()

    def _end(self) -> None:
        self.bout = self.bout.off(self.clock(), self.session.target_mm)
        self.draw()

    def space(self) -> None:
        """The arc by key: on, then out."""
        if self.bout.state == BURNING:
            self._end()
        elif self.bout.state == READY:
            self._volts.clear()
            self._begin()

    def enter(self) -> None:
        """Under the arc a tap of edge or mark; after it the rod is kept."""
        if self.bout.state == BURNING:
            self.bout = self.bout.tap(self.clock())
        elif self.bout.state == READING:
            before, arc = self.bout, arc_read(self._volts, self._simulated)
            self.bout, rod = self.bout.kept(arc)
            self.desk.look(index=self._index)  # whatever was looked at behind this page meanwhile
            if not self.desk.put_rod(rod):
                self.bout, self.said = before, self.desk.fault
            else:
                self._volts, self.said = [], self._line(before, arc)
        self.draw()

    def let_go(self) -> None:
        """The rod that was burnt is not kept."""
        if self.bout.state == READING:
            self.bout, self.said = Bout(taps_are=self.bout.taps_are), ""
            self._volts = []
            self.draw()

    def _line(self, bout: Bout, arc: ArcRead | None) -> str:
        """One line after a rod."""
        parts = [off_said(bout.run_out_mm, self.session.target_mm, self.say)] if bout.run_out_mm is not None else []
        if arc is not None:
            parts.append(self.say("practice.bench.wandered", by=self.say.sized(KINDS["V"], arc.wander_v)))
        return self.say("practice.bench.kept", what="; ".join(part for part in parts if part))

    # --- keys --------------------------------------------------------------------------------
    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Space, Enter, arrows, s, Backspace, Esc."""
        key = Qt.Key(event.key())
        if event.isAutoRepeat() and key not in ARROWS:
            return
        if key == Qt.Key.Key_Space:
            self.space()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.enter()
        elif key in ARROWS:
            self._move_ruler(ARROWS[key])
        elif key == Qt.Key.Key_S:
            self.switch_sound()
        elif key == Qt.Key.Key_Backspace:
            self.let_go()
        elif key == Qt.Key.Key_Escape and self.bout.state == READY:
            self.close()

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The tiles of the keys."""
        x, y = event.position().x(), self.height() - event.position().y()
        boxes = {} if self.picture is None else self.picture.keys
        name = next((name for name, (x0, y0, x1, y1) in boxes.items() if x0 <= x <= x1 and y0 <= y <= y1), "")
        acts: dict[str, Callable[[], object]] = {"space": self.space, "tap": self.enter, "enter": self.enter, "back": self.let_go, "leave": self.close,
                                                 "sound": self.switch_sound}  # fmt: skip
        if name in RULER:
            self._move_ruler(name)
        elif name in acts:
            acts[name]()

    def _move_ruler(self, name: str) -> None:
        self.bout = self.bout.ruler(RULER[name] * ruler_mm(self.say))
        self.draw()

    def switch_sound(self) -> None:
        """The click on or off; that nothing can be heard here is said, and the light stays."""
        self.sound = not self.sound and self.click.is_there
        self.draw()

    # --- the picture -------------------------------------------------------------------------
    def page(self) -> BenchPage:
        """What is shown now."""
        burning = self.bout.state == BURNING
        meter = "" if self.meter is None else self.say("practice.bench.meter" if self.meter.state == LIVE else "practice.bench.meter_lost")
        sound = self.say("practice.bench.sound_on" if self.sound else "practice.bench.sound_off" if self.click.is_there else "practice.bench.no_sound")
        return BenchPage(width=float(self.width()), height=float(self.height()), session=self.session, bout=self.bout, pacer=self.pacer,
                         arc_s=self.clock() - self.bout.begun_s if burning else 0.0, said=self.said, meter=meter, simulated=self._simulated,
                         sound=sound)  # fmt: skip

    def draw(self) -> None:
        """Make the picture anew."""
        if self.width() >= LEAST_PX and self._index is not None:
            self.picture = bench_picture(self.page(), self.say)
            self.setAccessibleDescription(self.said)
        self.update()

    def shown(self) -> BenchPicture | None:
        """What is painted."""
        return self.picture

    def closeEvent(self, event: QCloseEvent) -> None:  # noqa: N802
        """Nothing runs behind a page that is gone."""
        self._timer.stop()
        if self.meter is not None:
            self.meter.close()
        event.accept()
