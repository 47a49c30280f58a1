"""The arc meter: which line it is on, tried at once with a live reading; what fails is said in words."""

from __future__ import annotations

import time
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.remark import Figure
from banister.desktop.app.beside import Beside
from banister.desktop.app.theme import Theme, font
from banister.desktop.store import Store
from banister.devices.meter import FAULTY, LIVE, SerialMeter
from banister.devices.speeds import BAUDS

TICK_MS = 200
DEVICES, PATTERNS = Path("/dev"), ("serial/by-id/*", "ttyUSB*", "ttyACM*")


class MeterDialog(Beside):
    """Chooses the line of the arc meter and tries it."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 560, 260)
        self.store, say = store, store.say
        self.meter: SerialMeter | None = None
        self.setWindowTitle(say("meter.window"))
        self.line, self.baud = QComboBox(), QComboBox()
        self.line.setEditable(True)
        self.line.addItems(serial_lines())
        self.baud.addItems([str(baud) for baud in BAUDS])
        self.line.setAccessibleName(say("meter.line"))
        self.baud.setAccessibleName(say("meter.baud"))
        self.line.setCurrentText(store.view.meter)
        self.baud.setCurrentText(str(store.view.meter_baud))
        self.reading, self.state, how = QLabel(), QLabel(), QLabel(say("meter.how"))
        self.reading.setFont(font(28))
        for label in (self.state, how):
            label.setWordWrap(True)
        how.setProperty("soft", True)
        self.use, self.none = QPushButton(say("meter.use")), QPushButton(say("meter.none"))
        self.use.clicked.connect(self.try_it)
        self.none.clicked.connect(self.give_up)
        column, row, buttons = QVBoxLayout(self), QHBoxLayout(), QHBoxLayout()
        row.addWidget(self.line, 1)
        row.addWidget(self.baud)
        buttons.addWidget(self.use)
        buttons.addWidget(self.none)
        column.addWidget(how)
        column.addLayout(row)
        column.addLayout(buttons)
        column.addWidget(self.reading, 1, Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self.state)
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self.tick)
        self._timer.start()
        self.try_it() if store.view.meter else self._show("")

    def try_it(self) -> None:
        """Take this line for the meter, and listen to it."""
        self._let_go()
        path = self.line.currentText().strip()
        if not path:
            self._show("")
            return
        self.store.look(meter=path, meter_baud=int(self.baud.currentText()))
        self.meter = SerialMeter(Path(path), int(self.baud.currentText()))
        self.meter.open()
        self.tick()

    def give_up(self) -> None:
        """No meter: times by key."""
        self._let_go()
        self.store.look(meter="")
        self.line.setCurrentText("")
        self._show("")

    def tick(self) -> None:
        """Read, and show it."""
        if self.meter is None:
            return
        samples = self.meter.poll(time.monotonic())
        say = self.store.say
        if samples:
            _, volts, amps, _ = samples[-1]
            self.reading.setText(f"{say.sized('voltage', abs(volts))}   {say.sized('current', abs(amps))}")
        self._show(self.meter.state)

    def _show(self, state: str) -> None:
        say, meter = self.store.say, self.meter
        if state != LIVE:
            self.reading.setText("")
        if meter is None or not state:
            self.state.setText(say("meter.state.none"))
        elif state == FAULTY:
            self.state.setText(say("meter.state.faulty", device=Figure(meter.answers, "name")))
        else:
            damaged = f" {say('meter.damaged', n=meter.damaged)}" if meter.damaged else ""
            trouble = f" {say('meter.trouble', what=Figure(meter.trouble, 'name'))}" if meter.trouble else ""
            simulated = f" {say('meter.simulated')}" if meter.is_simulated else ""
            self.state.setText(say(f"meter.state.{state}") + simulated + damaged + trouble)

    def _let_go(self) -> None:
        if self.meter is not None:
            self.meter.close()
        self.meter = None

    def closeEvent(self, event: QCloseEvent) -> None:  # noqa: N802
        """The line is free for the page at the joint."""
        self._timer.stop()
        self._let_go()
        super().closeEvent(event)


def serial_lines() -> list[str]:
    """Serial lines of this machine, those with a name of their own first."""
    return [str(path) for pattern in PATTERNS for path in sorted(DEVICES.glob(pattern))]
