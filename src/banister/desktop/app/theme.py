"""Shipped fonts, the two themes and one short style sheet."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from PySide6.QtCore import QLocale
from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QPalette
from PySide6.QtWidgets import QApplication

from banister.core.drawing.palette import DARK, LIGHT
from banister.job.library import data_file

FAMILY, CONDENSED = "IBM Plex Sans", "IBM Plex Sans Condensed"
WORN = "banister theme"
"""What the application remembers of the theme it wears: dark or not."""
FONTS = (
    "IBMPlexSans-Regular", "IBMPlexSans-Medium", "IBMPlexSans-SemiBold",
    "IBMPlexSansCondensed-Regular", "IBMPlexSansCondensed-Medium",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Theme:
    """Colours of the window; `line` parts, `edge` bounds what can be worked (3:1); `drawing` is the palette of display lists."""

    dark: bool
    window: str
    panel: str
    line: str
    edge: str
    text: str
    soft: str
    accent: str
    accent_ground: str
    good: str
    band: str
    bad: str
    warn: str
    changed: str
    drawing: dict[str, str]


LIGHT_THEME = Theme(
    False, "#f1f0eb", "#fbfaf7", "#d5d3ca", "#7f8588", "#15191c", "#535b61", "#0b57a4", "#dfeaf6",
    "#2f6f4f", "#d7e5da", "#b3261e", "#8a5300", "#6a3fa0", LIGHT,
)  # fmt: skip
DARK_THEME = Theme(
    True, "#101315", "#1a1f23", "#353d43", "#6f7980", "#f0f3f5", "#aab4ba", "#7cc4ff", "#1c3348",
    "#7fcaa0", "#24382d", "#ff8a80", "#f2b457", "#c9a8f5", DARK,
)  # fmt: skip


@cache
def load_fonts() -> None:
    """Register the shipped fonts with Qt, once: each time they are, it forgets every text it has laid out."""
    for name in FONTS:
        if QFontDatabase.addApplicationFont(str(data_file(f"fonts/{name}.ttf"))) < 0:
            raise RuntimeError(f"the shipped font {name} cannot be read")


def font(pixels: float, weight: QFont.Weight = QFont.Weight.Normal, family: str = FAMILY) -> QFont:
    """A shipped font at a pixel size, drawn the same everywhere."""
    return _measured(max(1, round(pixels)), weight, family)[0]


def width_px(text: str, pixels: float, weight: QFont.Weight = QFont.Weight.Normal, family: str = FAMILY) -> float:
    """How wide a text is in a shipped font."""
    return _measured(max(1, round(pixels)), weight, family)[1].horizontalAdvance(text)


@cache
def _measured(pixels: int, weight: QFont.Weight, family: str) -> tuple[QFont, QFontMetricsF]:
    """A font and what measures it, made once: Qt looks a new one up among all fonts there are."""
    made = QFont(family)
    made.setPixelSize(pixels)
    made.setWeight(weight)
    made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return made, QFontMetricsF(made)


def font_within(text: str, pixels: int, width: float, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """The condensed font at the size, or as much smaller as the text needs (10 px at least)."""
    while pixels > 10 and width_px(text, pixels, weight, CONDENSED) > width:
        pixels -= 1
    return font(pixels, weight, CONDENSED)


def dress(app: QApplication, theme: Theme) -> None:
    """Give the application the face and the colours of a theme, unless it has them. The sheet of styles is each window's own (`sheet_of`):
    one of the application would be worked out for every widget once for each it stands in."""
    if app.property(WORN) == theme.dark:
        return
    QLocale.setDefault(QLocale.c())
    if app.property(WORN) is None:
        app.setStyle("Fusion")
        app.setFont(font(13))
    app.setProperty(WORN, theme.dark)
    palette = QPalette()
    for role, colour in (
        (QPalette.ColorRole.Window, theme.window), (QPalette.ColorRole.Base, theme.panel),
        (QPalette.ColorRole.AlternateBase, theme.window), (QPalette.ColorRole.Button, theme.panel),
        (QPalette.ColorRole.Text, theme.text), (QPalette.ColorRole.WindowText, theme.text),
        (QPalette.ColorRole.ButtonText, theme.text), (QPalette.ColorRole.Highlight, theme.accent),
        (QPalette.ColorRole.HighlightedText, theme.panel), (QPalette.ColorRole.ToolTipBase, theme.panel),
        (QPalette.ColorRole.ToolTipText, theme.text), (QPalette.ColorRole.PlaceholderText, theme.soft),
        (QPalette.ColorRole.Link, theme.accent), (QPalette.ColorRole.Mid, theme.line),
    ):  # fmt: skip
        palette.setColor(role, QColor(colour))
        if role in (QPalette.ColorRole.Text, QPalette.ColorRole.WindowText, QPalette.ColorRole.ButtonText):
            palette.setColor(QPalette.ColorGroup.Disabled, role, QColor(theme.soft))
    app.setPalette(palette)


def sheet_of(t: Theme) -> str:
    """The sheet of styles of a window in a theme; windows beside it take it from the one they belong to."""
    tick = data_file(f"icons/tick-{'dark' if t.dark else 'light'}.svg")
    return f"""
    QToolTip {{ color: {t.text}; background: {t.panel}; border: 1px solid {t.line}; padding: 4px; }}
    QLineEdit {{ background: {t.window}; border: 1px solid {t.edge}; border-radius: 3px; padding: 3px 6px; min-height: 20px; }}
    QLineEdit:focus {{ border: 2px solid {t.accent}; padding: 2px 5px; }}
    QLineEdit[wrong="true"] {{ border: 2px solid {t.bad}; padding: 2px 5px; }}
    QPushButton {{ background: {t.panel}; border: 1px solid {t.edge}; border-radius: 3px; padding: 5px 12px; }}
    QPushButton:hover {{ border-color: {t.accent}; }}
    QPushButton:focus {{ border: 2px solid {t.accent}; padding: 4px 11px; }}
    QPushButton:checked {{ background: {t.accent_ground}; border-color: {t.accent}; }}
    QPushButton:disabled {{ color: {t.soft}; }}
    QCheckBox {{ border: 2px solid transparent; border-radius: 3px; padding: 1px; }}
    QCheckBox:focus {{ border-color: {t.accent}; }}
    QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {t.edge}; border-radius: 2px; background: {t.window}; }}
    QCheckBox::indicator:checked {{ border: 1px solid {t.accent}; background: {t.accent}; image: url("{tick}"); }}
    QMenuBar {{ background: {t.window}; }}
    QTableWidget {{ background: {t.panel}; border: 2px solid {t.panel}; gridline-color: {t.line}; selection-background-color: {t.accent_ground};
        selection-color: {t.text}; }}
    QTableWidget:focus, QListWidget:focus {{ border: 2px solid {t.accent}; }}
    QTableWidget::item {{ padding: 0 3px; }}
    QHeaderView::section {{ background: {t.window}; color: {t.soft}; border: 0; border-bottom: 1px solid {t.line}; padding: 2px 3px; }}
    QScrollArea {{ border: 0; background: transparent; }}
    QLabel[soft="true"] {{ color: {t.soft}; }}
    QLabel[bad="true"] {{ color: {t.bad}; }}
    QLabel[warn="true"] {{ color: {t.warn}; }}
    QFrame[panel="true"] {{ background: {t.panel}; border: 0; border-left: 1px solid {t.line}; }}
    """
