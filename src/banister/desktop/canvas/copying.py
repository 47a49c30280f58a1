"""Ctrl+C on a picture: as SVG, as pixels and as what it says in words; the reader's program takes what it can."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from PySide6.QtCore import QMimeData
from PySide6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QWidget

from banister.core.drawing.shapes import Clip, Drawing, Shape, Text


def copies(event: QKeyEvent, widget: QWidget, drawing: Drawing | None) -> bool:
    """Copy a widget's drawing where the key asks for it; False for any other key."""
    if not event.matches(QKeySequence.StandardKey.Copy) or drawing is None:
        return False
    from banister.export.svg import svg

    data = QMimeData()
    data.setImageData(widget.grab().toImage())
    data.setData("image/svg+xml", svg(drawing, widget.accessibleName()).encode())
    data.setText("\n".join([widget.accessibleName(), *_said(drawing.shapes)]))
    QGuiApplication.clipboard().setMimeData(data)
    event.accept()
    return True


def _said(shapes: Iterable[Shape]) -> Iterator[str]:
    for shape in shapes:
        if isinstance(shape, Clip):
            yield from _said(shape.shapes)
        elif isinstance(shape, Text):
            yield shape.text
