"""How what is worked with is drawn: Fusion underneath; edges, grounds and marks of this window on top.

A sheet of styles would say the same in fewer lines, but Qt works one out for every widget anew in each window and for each theme:
a third of a second for a window in use. What is asked for most often, measures and hints, is left to Fusion: each answer from here costs more.
"""

from __future__ import annotations

from PySide6.QtCore import QLocale, QPointF, QRect, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPalette, QPen, QPolygonF
from PySide6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QCheckBox,
    QFrame,
    QLabel,
    QLineEdit,
    QProxyStyle,
    QPushButton,
    QStyle,
    QStyleOption,
    QStyleOptionFrame,
    QStyleOptionMenuItem,
    QToolTip,
    QWidget,
)

from banister.desktop.app.theme import Theme, font

PLAIN, SOFT, BAD, WARN = "plain", "soft", "bad", "warn"
TINTS = {PLAIN: QPalette.ColorRole.WindowText, SOFT: QPalette.ColorRole.PlaceholderText, BAD: QPalette.ColorRole.BrightText,
         WARN: QPalette.ColorRole.LinkVisited}  # fmt: skip
"""What a label says, and the colour of the palette that is: another theme is then another palette, and nothing else."""
ROUND, ABOUT_FIELD, ABOUT_WORD, ABOUT_TICK, LEAST_LINE = 3.0, QSize(14, 8), QSize(26, 12), QSize(3, 6), 20
"""Of a box: its corners; px around what stands in a field, on a button and in a tick box; the least height of a line of a field."""
TICK = ((0.24, 0.52), (0.43, 0.71), (0.77, 0.31))

GRID_DARKER = 120
"""Fusion draws the lines of a table so much darker than the window, percent."""

MENU_WORD = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextShowMnemonic | Qt.TextFlag.TextSingleLine
Primitive, Control, State = QStyle.PrimitiveElement, QStyle.ControlElement, QStyle.StateFlag


def dress(app: QApplication, theme: Theme) -> None:
    """Give the application the face and the colours of a theme, unless it has them."""
    worn = app.style()
    if isinstance(worn, BenchStyle) and worn.theme == theme:
        return
    if isinstance(worn, BenchStyle):
        worn.theme = theme
    else:
        QLocale.setDefault(QLocale.c())
        app.setStyle(BenchStyle(theme))
        app.setFont(font(13))
    app.setPalette(palette_of(theme))
    for kind, own in own_palettes(theme).items():
        app.setPalette(own, kind)  # type: ignore[arg-type]  # bytes, which the stub asks for, are refused
    QToolTip.setPalette(palette_of(theme))


def palette_of(theme: Theme) -> QPalette:
    """The colours of a theme by what Qt uses them for."""
    palette, role = QPalette(), QPalette.ColorRole
    for one, colour in (
        (role.Window, theme.window), (role.Base, theme.panel), (role.AlternateBase, theme.window), (role.Button, theme.panel),
        (role.Text, theme.text), (role.WindowText, theme.text), (role.ButtonText, theme.text), (role.Highlight, theme.accent),
        (role.HighlightedText, theme.panel), (role.ToolTipBase, theme.panel), (role.ToolTipText, theme.text),
        (role.Link, theme.accent), (role.Mid, theme.line),
        (TINTS[SOFT], theme.soft), (TINTS[BAD], theme.bad), (TINTS[WARN], theme.warn),
    ):  # fmt: skip
        palette.setColor(one, QColor(colour))
        if one in (role.Text, role.WindowText, role.ButtonText):
            palette.setColor(QPalette.ColorGroup.Disabled, one, QColor(theme.soft))
    return palette


def own_palettes(theme: Theme) -> dict[str, QPalette]:
    """Kinds of widgets with colours of their own: what is selected in a table stays readable, its lines are faint, heads are soft."""
    table, head = palette_of(theme), palette_of(theme)
    table.setColor(QPalette.ColorRole.Highlight, QColor(theme.accent_ground))
    table.setColor(QPalette.ColorRole.HighlightedText, QColor(theme.text))
    table.setColor(QPalette.ColorRole.Window, QColor(theme.line).lighter(GRID_DARKER))
    head.setColor(QPalette.ColorRole.ButtonText, QColor(theme.soft))
    return {"QTableView": table, "QHeaderView": head}


def tint(label: QLabel, kind: str) -> None:
    """Say what a label says plainly, softly, as a fault or as a warning, in whatever theme."""
    label.setForegroundRole(TINTS[kind])


def bordered(view: QAbstractItemView) -> None:
    """A table or list shows by its frame that the keys go to it."""
    view.setFrameStyle(QFrame.Shape.Box | QFrame.Shadow.Plain)
    view.setLineWidth(2)


class BenchStyle(QProxyStyle):
    """Draws fields, buttons, ticks, frames and heads in the colours of a theme."""

    def __init__(self, theme: Theme) -> None:
        super().__init__("Fusion")
        self.theme = theme

    # --- measures ----------------------------------------------------------------------------
    def sizeFromContents(self, kind: QStyle.ContentsType, option: QStyleOption, size: QSize, widget: QWidget | None = None) -> QSize:  # noqa: N802
        """Room around a text."""
        if kind == QStyle.ContentsType.CT_PushButton:
            return size + ABOUT_WORD
        if kind == QStyle.ContentsType.CT_LineEdit and _has_frame(option):
            return QSize(size.width(), max(size.height(), LEAST_LINE)) + ABOUT_FIELD
        found = super().sizeFromContents(kind, option, size, widget)  # type: ignore[arg-type]
        return found + ABOUT_TICK if kind == QStyle.ContentsType.CT_CheckBox else found

    def subElementRect(self, part: QStyle.SubElement, option: QStyleOption, widget: QWidget | None = None) -> QRect:  # noqa: N802
        """Where the text of a field lies."""
        if part == QStyle.SubElement.SE_LineEditContents and _has_frame(option):
            return option.rect.adjusted(ABOUT_FIELD.width() // 2, 1, -ABOUT_FIELD.width() // 2, -1)
        return super().subElementRect(part, option, widget)  # type: ignore[arg-type]

    # --- drawing -----------------------------------------------------------------------------
    def drawPrimitive(self, part: QStyle.PrimitiveElement, option: QStyleOption, painter: QPainter, widget: QWidget | None = None) -> None:  # noqa: N802
        """Fields, buttons and ticks; the frame of the keys is that of their box."""
        t, has_keys, is_on = self.theme, bool(option.state & State.State_HasFocus), bool(option.state & State.State_On)
        if part == Primitive.PE_PanelLineEdit and _has_frame(option):
            is_wrong = widget is not None and bool(widget.property("wrong"))
            _box(painter, option.rect, t.window, t.bad if is_wrong else t.accent if has_keys else t.edge, 2 if is_wrong or has_keys else 1)
        elif part == Primitive.PE_PanelButtonCommand:
            is_lit = has_keys or is_on or bool(option.state & State.State_MouseOver and option.state & State.State_Enabled)
            ground = t.accent_ground if is_on or option.state & State.State_Sunken else t.panel
            _box(painter, option.rect, ground, t.accent if is_lit else t.edge, 2 if has_keys else 1)
        elif part == Primitive.PE_IndicatorCheckBox:
            _box(painter, option.rect, t.accent if is_on else t.window, t.accent if is_on else t.edge, 1)
            if is_on:
                _tick(painter, option.rect, t.panel)
        elif part != Primitive.PE_FrameFocusRect or not isinstance(widget, QPushButton | QCheckBox | QLineEdit):
            super().drawPrimitive(part, option, painter, widget)

    def drawControl(self, part: QStyle.ControlElement, option: QStyleOption, painter: QPainter, widget: QWidget | None = None) -> None:  # noqa: N802
        """Heads of tables, the bar of menus, and what shows where the keys go."""
        t, has_keys = self.theme, bool(option.state & State.State_HasFocus)
        if part == Control.CE_HeaderSection:
            painter.fillRect(option.rect, QColor(t.window))
            painter.fillRect(option.rect.adjusted(0, option.rect.height() - 1, 0, 0), QColor(t.line))
        elif part == Control.CE_MenuBarEmptyArea:
            painter.fillRect(option.rect, QColor(t.window))
        elif part == Control.CE_MenuBarItem and isinstance(option, QStyleOptionMenuItem):
            painter.fillRect(option.rect, QColor(t.accent_ground if option.state & State.State_Selected else t.window))
            is_able = bool(option.state & State.State_Enabled)
            self.drawItemText(painter, option.rect, MENU_WORD, option.palette, is_able, option.text, QPalette.ColorRole.ButtonText)
        elif part == Control.CE_ShapedFrame and isinstance(widget, QAbstractItemView) and widget.lineWidth() == 2:
            painter.setPen(QPen(QColor(t.accent if has_keys else t.panel), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(option.rect.adjusted(1, 1, -1, -1))
        elif part == Control.CE_CheckBox:
            painter.translate(ABOUT_TICK.width(), 0)
            super().drawControl(part, option, painter, widget)
            painter.translate(-ABOUT_TICK.width(), 0)
            if has_keys:
                _box(painter, option.rect, None, t.accent, 2)
        else:
            super().drawControl(part, option, painter, widget)


def _has_frame(option: QStyleOption) -> bool:
    """False for a field inside something that has a frame itself."""
    return isinstance(option, QStyleOptionFrame) and option.lineWidth > 0


def _box(painter: QPainter, rect: QRect, ground: str | None, edge: str, wide: int) -> None:
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(edge), wide))
    painter.setBrush(Qt.BrushStyle.NoBrush if ground is None else QColor(ground))
    inside = wide / 2
    painter.drawRoundedRect(QRectF(rect).adjusted(inside, inside, -inside, -inside), ROUND, ROUND)
    painter.restore()


def _tick(painter: QPainter, rect: QRect, colour: str) -> None:
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(colour), 2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    painter.drawPolyline(QPolygonF([QPointF(rect.x() + x * rect.width(), rect.y() + y * rect.height()) for x, y in TICK]))
    painter.restore()
