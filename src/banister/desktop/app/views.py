"""Pictures in windows of their own beside the work: which there are, and how one is opened."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt
from shiboken6 import isValid

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from banister.desktop.app.beside import Beside
    from banister.desktop.app.window import MainWindow

VIEWS = ("curves", "map", "board")
CLASSES = {
    "curves": "banister.desktop.steps.heat.curves:HeatCurves", "map": "banister.desktop.steps.heat.preheat_map:PreheatMap",
    "tables": "banister.desktop.steps.heat.preheat_tables:PreheatTables", "board": "banister.desktop.board.dialog:BoardDialog",
    "film": "banister.desktop.steps.heat.film_view:FilmDialog", "list": "banister.desktop.listing.dialog:ListDialog",
    "chooser": "banister.desktop.steps.joint.chooser:ChooserDialog", "improve": "banister.desktop.steps.joint.improve_view:ImproveDialog",
    "play": "banister.desktop.play.play_view:PlayDialog", "reckon": "banister.desktop.play.reckon_view:ReckonDialog",
    "print": "banister.desktop.steps.sheet.printing:PrintDialog",
    "stops": "banister.desktop.steps.passes.stops_view:StopsDialog", "sure": "banister.desktop.steps.passes.sure_view:SureDialog",
    "devices": "banister.desktop.weld.devices_view:DevicesDialog", "paper": "banister.desktop.weld.paper_view:PaperDialog",
    "cause": "banister.desktop.steps.inspect.cause_view:CauseDialog", "repair": "banister.desktop.steps.inspect.repair_view:RepairDialog",
    "etched": "banister.desktop.steps.inspect.etched_view:EtchedDialog", "pieces": "banister.desktop.steps.inspect.pieces_view:PiecesDialog",
    "book": "banister.desktop.steps.record.book_view:BookDialog", "turn": "banister.desktop.steps.fitup.turn_view:TurnDialog",
}  # fmt: skip
EVERYWHERE = ("undo", "redo", "save", "help", "keys", "units", "theme", "next_joint", "quit")
"""The keys of the job that work in these windows too."""


def open_view(widget: QWidget, key: str) -> None:
    """Open a view on the shown joint, in the place of an earlier one; its module is read when it is first wanted."""
    window = cast("MainWindow", widget)
    if window.store.joint is None:
        return
    if is_open(window.opened.get(key)):
        window.opened[key].close()
    module, _, name = CLASSES[key].partition(":")
    made = getattr(importlib.import_module(module), name)(window, window.store, window.theme)
    made.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    made.addActions([window.menus.actions[action] for action in EVERYWHERE])
    if key == "board":
        made.page_wanted.connect(window.write_board)
    window.opened[key] = made
    made.show()


def dress_views(window: MainWindow) -> None:
    """What is open takes the theme of the window. The page at the joint is dark whatever the theme."""
    for key, view in window.opened.items():
        if key in CLASSES and is_open(view):
            cast("Beside", view).set_theme(window.theme)


def is_open(view: QWidget | None) -> bool:
    """True while a view is on screen."""
    return view is not None and isValid(view) and view.isVisible()
