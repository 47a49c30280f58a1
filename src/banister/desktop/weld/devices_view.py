"""Devices: which line each is on, tried at once with a live reading; what fails is said in words."""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.remark import Figure, Refused
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.fields import ChoiceField
from banister.desktop.snapshot import DeviceLine
from banister.desktop.store import Store
from banister.devices.driver import ABSENT, FAULTY, LIVE, Replay, SerialDevice
from banister.devices.kinds import ARC, KINDS, OVEN, THERMOMETER
from banister.devices.lines import driver_of
from banister.devices.speeds import BAUDS, DEFAULT_BAUD, DEVICES

TICK_MS = 200
DEV, PATTERNS = Path("/dev"), ("serial/by-id/*", "ttyUSB*", "ttyACM*")


class DevicesDialog(Beside):
    """Chooses the line of a device and tries it."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 600, 330)
        self.store, say = store, store.say
        self.driver: SerialDevice[Any] | Replay[Any] | None = None
        self.setWindowTitle(say("devices.window"))
        self.device = ChoiceField(say("devices.device"), {device: say(f"devices.{device}") for device in DEVICES})
        self.device.chosen.connect(lambda _: self._other_device())
        self.line, self.baud = QComboBox(), QComboBox()
        self.line.setEditable(True)
        self.line.addItems(serial_lines())
        self.baud.addItems([str(baud) for baud in BAUDS])
        self.line.setAccessibleName(say("devices.line"))
        self.baud.setAccessibleName(say("devices.baud"))
        self.reading, self.state, self.how = QLabel(), QLabel(), QLabel()
        self.reading.setFont(font(28))
        for label in (self.state, self.how):
            label.setWordWrap(True)
        tint(self.how, SOFT)
        self.use, self.none = QPushButton(say("devices.use")), QPushButton(say("devices.none"))
        self.use.clicked.connect(self.try_it)
        self.none.clicked.connect(self.give_up)
        column, row, buttons = QVBoxLayout(self), QHBoxLayout(), QHBoxLayout()
        row.addWidget(self.line, 1)
        row.addWidget(self.baud)
        buttons.addWidget(self.use)
        buttons.addWidget(self.none)
        column.addWidget(self.device)
        column.addWidget(self.how)
        column.addLayout(row)
        column.addLayout(buttons)
        column.addWidget(self.reading, 1, Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self.state)
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self.tick)
        self._timer.start()
        self._other_device()

    def _other_device(self) -> None:
        """Another kind of device is chosen: its line, tried at once."""
        self._let_go()
        line = self.store.view.line_of(self.device.key)
        self.how.setText(self.store.say(f"devices.{self.device.key}.how"))
        self.line.setCurrentText("" if line is None else line.path)
        self.baud.setCurrentText(str(DEFAULT_BAUD if line is None else line.baud))
        self.reading.setText("")
        self._begin() if line is not None else self._show("")

    def try_it(self) -> None:
        """Take this line for the device, and listen to it."""
        self._let_go()
        path = self.line.currentText().strip()
        if not path:
            self._show("")
            return
        line = DeviceLine(self.device.key, path, int(self.baud.currentText()))
        self.store.look(lines=self.store.view.lines_with(line.device, line))
        self._begin()

    def _begin(self) -> None:
        line, say = self.store.view.line_of(self.device.key), self.store.say
        if line is None:
            return
        try:
            self.driver = driver_of(KINDS[line.device], line.path, line.baud)
        except Refused as refused:
            self.state.setText(say.sentence(refused.remarks[0]))
            return
        except OSError as error:
            self.state.setText(say("devices.not_read", why=error.strerror or str(error)))
            return
        self.driver.open()
        self.tick()

    def give_up(self) -> None:
        """None of this kind: by key, by hand."""
        self._let_go()
        self.store.look(lines=self.store.view.lines_with(self.device.key, None))
        self.line.setCurrentText("")
        self._show("")

    def tick(self) -> None:
        """Read, and show it."""
        if self.driver is None:
            return
        told = self.driver.poll(time.monotonic())
        if told:
            self.reading.setText(self._read(told[-1]))
        self._show(self.driver.state)

    def _read(self, told: Any) -> str:
        """The last reading in figures."""
        say = self.store.say
        if self.device.key == ARC.device:
            return f"{say.sized('voltage', abs(told[1]))}   {say.sized('current', abs(told[2]))}"
        if self.device.key == THERMOMETER.device:
            return say.sized("temperature", told.temp_c)
        if self.device.key == OVEN.device:
            return f"{say.sized('temperature', told.temp_c)}   {say('devices.door.open' if told.is_open else 'devices.door.shut')}"
        return say(f"devices.key.{told.key}") if told.is_down else ""

    def _show(self, state: str) -> None:
        say, driver = self.store.say, self.driver
        if state != LIVE:
            self.reading.setText("")
        if driver is None or not state:
            self.state.setText(say("devices.state.none"))
        elif isinstance(driver, Replay):
            self.state.setText(say("devices.state.replay" if state != ABSENT else "devices.state.none"))
        elif state == FAULTY:
            self.state.setText(say("devices.state.faulty", device=Figure(driver.answers, "name"), wanted=say(f"devices.{self.device.key}")))
        else:
            damaged = f" {say('devices.damaged', n=driver.damaged)}" if driver.damaged else ""
            trouble = f" {say('devices.trouble', what=Figure(driver.trouble, 'name'))}" if driver.trouble else ""
            simulated = f" {say('devices.simulated')}" if driver.is_simulated else ""
            self.state.setText(say(f"devices.state.{state}") + simulated + damaged + trouble)

    def _let_go(self) -> None:
        if self.driver is not None:
            self.driver.close()
        self.driver = None

    def stop(self) -> None:
        """The line is free for the page at the joint."""
        self._timer.stop()
        self._let_go()


def serial_lines() -> list[str]:
    """Serial lines of this machine, those with a name of their own first."""
    return [str(path) for pattern in PATTERNS for path in sorted(DEV.glob(pattern))]
