"""The page at the joint: dark, full screen, six keys, painted at most five times a second; nothing is pressed with the hood down."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QCloseEvent, QKeyEvent, QMouseEvent

from banister.core.drawing.charts.weld_foot import key_word
from banister.core.drawing.charts.weld_page import LOOKS, UNDER_HOOD, Page
from banister.core.drawing.charts.weld_picture import WeldPicture, weld_picture
from banister.core.follow.halves import HalfNow, half_now
from banister.core.follow.marks import Along
from banister.core.passing import ARC, ARC_OFF, BEFORE, CLEAN, LEAVE, LOOK, SPACE, TICK
from banister.desktop.canvas.dark_page import LEAST_PX, DarkPage
from banister.desktop.weld.awake import Awake
from banister.desktop.weld.bench import Bench
from banister.desktop.weld.listening import Listening
from banister.desktop.weld.metering import Metering
from banister.desktop.weld.simulated import SimulatedWelder

TICK_MS, LISTEN_MS, HOLD_S, CURSOR_S = 200, 50, 1.0, 3.0
HELD = (Qt.Key.Key_Backspace, Qt.Key.Key_Escape)
PEDALS = {"enter": Qt.Key.Key_Return, "space": Qt.Key.Key_Space, "left": Qt.Key.Key_Left, "right": Qt.Key.Key_Right, "back": Qt.Key.Key_Backspace,
          "info": Qt.Key.Key_I}  # fmt: skip
"""The keys a pedal or a big button stands for; `big` is whatever is lit."""


class WeldPage(DarkPage):
    """Shows a bench and works it by its keys; `left` is called when it is left."""

    def __init__(self, bench: Bench, metering: Metering | None = None, welder: SimulatedWelder | None = None, left: Callable[[], None] | None = None) -> None:
        super().__init__(bench.say("weld.window", joint=bench.joint.id))
        self.bench, self.metering, self.welder, self._left = bench, metering, welder, left
        self.listening: Listening | None = None
        self.picture: WeldPicture | None = None
        self._held: tuple[int, float] | None = None
        """A key that is held down, and since when."""
        self.setMouseTracking(True)
        self._moved_at, self._awake = self._seconds(), Awake()
        self._awake.hold(bench.say("weld.awake"))
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._timer.start()
        self._listening = QTimer(self)
        self._listening.setInterval(LISTEN_MS)
        self._listening.timeout.connect(self._listen)
        if metering is not None:
            self._listening.start()
        self.draw()

    def listens(self, listening: Listening) -> None:
        """What else stands at the joint is listened to from now on."""
        self.listening = listening
        self._listening.start()

    # --- time --------------------------------------------------------------------------------
    def _tick(self) -> None:
        """Five times a second: what the simulated welder does, held keys, and the picture."""
        if self.welder is not None:
            self.welder.weld(self.bench)
        if self._held is not None and self._held_for() >= HOLD_S:
            key, self._held = self._held[0], None
            self.bench.undo() if key == Qt.Key.Key_Backspace else self.leave()
        if self.metering is not None:
            self.metering.tick()
        self.bench.happens(TICK)
        self.setCursor(Qt.CursorShape.BlankCursor if self._seconds() - self._moved_at > CURSOR_S else Qt.CursorShape.ArrowCursor)
        self.draw()

    def _listen(self) -> None:
        """What the meter tells, oftener than the page is painted: an arc that is struck or goes out shows at once."""
        before = self.bench.passing.state
        if self.metering is not None:
            self.metering.tick()
        if self.listening is not None:
            self.listening.tick()
        if self.bench.passing.state != before:
            self.draw()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The pointer is seen while it is moved."""
        self._moved_at = self._seconds()

    def _held_for(self) -> float:
        return 0.0 if self._held is None else self._seconds() - self._held[1]

    def _seconds(self) -> float:
        return time.monotonic()

    # --- keys --------------------------------------------------------------------------------
    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Space, Enter, left and right, i, Backspace and Esc held; anything else does nothing."""
        if not event.isAutoRepeat():
            self._down(Qt.Key(event.key()))

    def pressed(self, name: str, is_down: bool) -> None:
        """A pedal or a big button: the same keys."""
        key = PEDALS.get(name, Qt.Key.Key_Return if key_word("enter", self.bench.passing, bool(self.bench.due)) else Qt.Key.Key_Space)
        self._down(key) if is_down else self._up(key)

    def _down(self, key: Qt.Key) -> None:
        if key in HELD:
            self._held = int(key), self._seconds()
        elif key == Qt.Key.Key_Space:
            self._space()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.bench.enter()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.bench.arrow(1 if key == Qt.Key.Key_Right else -1)
        elif key == Qt.Key.Key_I:
            self.bench.tell_likely()
        self.draw()

    def keyReleaseEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """A key held too briefly does nothing."""
        if not event.isAutoRepeat():
            self._up(Qt.Key(event.key()))

    def _up(self, key: Qt.Key) -> None:
        if key in HELD:
            self._held = None
            self.draw()

    def _space(self) -> None:
        if self.bench.passing.state == CLEAN:
            self.bench.look.tap(LOOKS[self.bench.look.tile])
        elif self.bench.passing.state == LOOK:
            self.bench.next_place()
        else:
            self.bench.happens(SPACE)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The tiles of the keys and of the look; touch anywhere else does nothing."""
        x, y = event.position().x(), self.height() - event.position().y()
        boxes = {} if self.picture is None else self.picture.keys
        found = next((name for name, (x0, y0, x1, y1) in boxes.items() if x0 <= x <= x1 and y0 <= y <= y1), "")
        if found.startswith("look:"):
            self.bench.look.tile = LOOKS.index(found.removeprefix("look:"))
            self.bench.look.tap(found.removeprefix("look:"))
        elif found == "enter":
            self.bench.enter()
        elif found == "space":
            self._space()
        elif found == "arrows":
            box = boxes[found]
            self.bench.arrow(1 if x > (box[0] + box[2]) / 2 else -1)
        elif found == "hold":
            self._held = int(Qt.Key.Key_Backspace), self._seconds()
        self.draw()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """A tile held too briefly does nothing."""
        self._held = None

    def leave(self) -> None:
        """Everything is kept; an arc that burns is taken as out."""
        if self.bench.passing.state == ARC:
            self.bench.happens(ARC_OFF)
        self.bench.happens(LEAVE)
        self.close()

    def closeEvent(self, event: QCloseEvent) -> None:  # noqa: N802
        """Nothing runs behind a page that is gone."""
        self._timer.stop()
        self._listening.stop()
        self._awake.release()
        if self.metering is not None:
            self.metering.close()
        if self.listening is not None:
            self.listening.close()
        self.hide()  # the window under it is seen again, and drawn
        if self._left is not None:
            self._left()

    # --- the picture -------------------------------------------------------------------------
    def page(self) -> Page:
        """What is shown now."""
        bench = self.bench
        lit, read, seen = bench.lit, bench.temperature(), None if self.metering is None else self.metering.seen()
        along = bench.along()
        return Page(width=float(self.width()), height=float(self.height()), passing=bench.passing, now_s=bench.clock(), plan=bench.now.plan, lit=lit,
                    welded=bench.now.welded, guide=bench.guide() if lit is not None else None, marks_mm=self._marks(along),
                    asked_mm=0.0 if lit is None else bench.asked_mark_mm(lit), left=bench.left, depth_mm=bench.look.shown_mm,
                    looked=tuple(sorted(bench.look.tapped)), at_look=bench.look.tile, deviations=len(bench.open_deviations), notice=bench.notice,
                    notice_bad=bench.notice_bad, simulated=bench.simulated,
                    volts=None if seen is None else seen.volts, amps=None if seen is None else seen.amps,
                    rod_end_mm=None if seen is None else seen.rod_end_mm,
                    place_mm=bench.place_mm, slow_mm=() if along is None else along.slow_mm,
                    ready_in=bench.ready_in() if bench.passing.state in BEFORE else None, temp_age_s=None if read is None else read[1],
                    cue=bench.cue if bench.passing.state in BEFORE else "",
                    holding=self._held_for() / HOLD_S if self._held is not None else 0.0, due=bench.due, half=self._half())  # fmt: skip

    def _marks(self, along: Along | None) -> tuple[float, ...]:
        """The stops over an uneven layer; else those laid for the pass, while they hold."""
        lit = self.bench.lit
        if along is not None:
            return along.marks_mm
        stops = None if lit is None else self.bench.stops_for(lit)
        if lit is None or stops is None:
            return ()
        if (half := self._half()) is not None:
            return half.marks_mm
        own = next((p for p in stops.passes if p.key == lit.key), None)
        return () if own is None else tuple(mark - own.start_mm for mark in own.marks)

    def _half(self) -> HalfNow | None:
        """Of a fixed pipe: the half that is welded."""
        lit, passing = self.bench.lit, self.bench.passing
        burnt = passing.rods if passing.state in UNDER_HOOD else 0
        return None if lit is None else half_now(lit, self.bench.joint.runs, burnt, self.bench.stops)

    def draw(self) -> None:
        """Make the picture anew."""
        if self.width() >= LEAST_PX:
            self.picture = weld_picture(self.bench.joint, self.page(), self.bench.say, self.picture)
            self.setAccessibleDescription(self.bench.notice)
        self.update()

    def shown(self) -> WeldPicture | None:
        """What is painted."""
        return self.picture
