"""The larger pictures of heat, each in a window of its own beside the work."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from banister.desktop.app.window import MainWindow

VIEWS = ("curves", "map", "board")
CLASSES = {
    "curves": "banister.desktop.steps.heat.curves:HeatCurves", "map": "banister.desktop.steps.heat.preheat_map:PreheatMap",
    "tables": "banister.desktop.steps.heat.preheat_tables:PreheatTables", "board": "banister.desktop.board.dialog:BoardDialog",
    "chooser": "banister.desktop.steps.joint.chooser:ChooserDialog",
}  # fmt: skip


def open_view(widget: QWidget, key: str) -> None:
    """Open a view on the shown joint; its module is read when it is first wanted."""
    window = cast("MainWindow", widget)
    if window.store.joint is None:
        return
    module, _, name = CLASSES[key].partition(":")
    made = getattr(importlib.import_module(module), name)(window, window.store, window.theme)
    made.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    if key == "board":
        made.page_wanted.connect(window.write_board)
    window.opened[key] = made
    made.show()
