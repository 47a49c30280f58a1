"""Shipped fonts and the two themes."""

from __future__ import annotations

from functools import cache

from PySide6.QtGui import QFont, QFontDatabase, QFontMetricsF

from banister.core.drawing.palette import DARK, LIGHT
from banister.core.value import Struct
from banister.job.library import data_file

FAMILY, CONDENSED = "IBM Plex Sans", "IBM Plex Sans Condensed"
FONTS = (
    "IBMPlexSans-Regular", "IBMPlexSans-Medium", "IBMPlexSans-SemiBold",
    "IBMPlexSansCondensed-Regular", "IBMPlexSansCondensed-Medium",
)  # fmt: skip


class Theme(Struct, frozen=True):
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
