"""Windows that stand beside the work: Enter is the field's, Esc closes and stops what they compute, the keys of the job work in them too."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QCloseEvent, QGuiApplication, QKeyEvent, QShowEvent
from PySide6.QtWidgets import QDialog, QPushButton, QWidget

from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.fields import take_typed
from banister.desktop.panel import Panel

ROOM = 0.94
"""So much of the screen a window beside the work takes at most."""


class Beside(QDialog):
    """A window beside the main one, as large as asked for and never larger than the screen."""

    def __init__(self, parent: QWidget, width: int, height: int) -> None:
        super().__init__(parent)
        screen = (parent.screen() or QGuiApplication.primaryScreen()).availableGeometry()
        self.resize(min(width, int(ROOM * screen.width())), min(height, int(ROOM * screen.height())))

    def showEvent(self, event: QShowEvent) -> None:  # noqa: N802
        """No button is pressed by an Enter that was meant for a field."""
        for button in self.findChildren(QPushButton):
            button.setAutoDefault(False)
        super().showEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Enter on a button presses it; anywhere else it is nobody's."""
        if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            super().keyPressEvent(event)
            return
        button = self.focusWidget()
        if isinstance(button, QPushButton):
            button.click()

    def closeEvent(self, event: QCloseEvent) -> None:  # noqa: N802
        """Closed is closed, and nothing goes on behind it: a dialog's own way would reject, and so close, once more, and stay."""
        take_typed(self.focusWidget())
        self.stop()
        event.accept()

    def changeEvent(self, event: QEvent) -> None:  # noqa: N802
        """Left for another window: what is being typed is taken."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and not self.isActiveWindow():
            take_typed(self.focusWidget())

    def set_theme(self, theme: Theme) -> None:
        """Another theme: its pictures and columns take it; what was typed, searched and picked in it stays."""
        for one in self.findChildren(QWidget):
            if isinstance(one, ChartView | Panel):
                one.set_theme(theme)

    def stop(self) -> None:
        """Stop what is computed for the window; those that have something computed say what."""

    def reject(self) -> None:
        """Esc closes it as its close button does, so that nothing goes on behind it."""
        self.close()
