"""The screen stays on while the page is open: asked of the desktop over a connection of its own to the session bus.

What is held is given back by closing that connection, which a desktop takes for the end of whoever asked; without a bus
nothing is asked.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtDBus import QDBusConnection, QDBusMessage

SERVICE, PATH, INTERFACE = "org.freedesktop.ScreenSaver", "/org/freedesktop/ScreenSaver", "org.freedesktop.ScreenSaver"
NAME, TIMEOUT_MS = "banister at the joint", 500


def connected() -> QDBusConnection:
    """A connection of its own to the session bus, which may not be there."""
    return QDBusConnection.connectToBus(QDBusConnection.BusType.SessionBus, NAME)


def disconnected() -> None:
    """It is closed."""
    QDBusConnection.disconnectFromBus(NAME)


class Awake:
    """Keeps the screen on from `hold` to `release`."""

    def __init__(self, connect: Callable[[], QDBusConnection] = connected, disconnect: Callable[[], None] = disconnected) -> None:
        self._connect, self._disconnect, self._holds = connect, disconnect, False

    def hold(self, why: str) -> None:
        """Ask for it; a desktop that cannot is left alone."""
        if self._holds:
            return
        self._holds, bus = True, self._connect()
        if bus.isConnected():
            call = QDBusMessage.createMethodCall(SERVICE, PATH, INTERFACE, "Inhibit")
            call.setArguments(["banister", why])
            bus.call(call, timeout=TIMEOUT_MS)

    def release(self) -> None:
        """Give it back."""
        if self._holds:
            self._disconnect()
        self._holds = False
