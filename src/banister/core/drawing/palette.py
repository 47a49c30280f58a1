"""Colours by style, for light, dark and paper. Numbers on beads keep 4.5:1 in all three.

Roles are told by letter and hatch as well: root rising strokes, hot pass falling strokes, fill
plain, cap level strokes. Selection is a double outline; outside is a hatch in words and notch.
"""

from __future__ import annotations

LIGHT = {
    "paper": "#f6f5f1", "plate": "#cdd2d6", "plate.edge": "#59636b", "bar": "#b4bbc0",
    "bead.root": "#dcb694", "bead.hot": "#e4d394", "bead.fill": "#bccbd9", "bead.cap": "#a9cfc1",
    "hatch.root": "#7d4f22", "hatch.hot": "#75621a", "hatch.cap": "#2c6b55", "hatch.outside": "#b3261e",
    "bead.edge": "#2c363d", "layer.edge": "#11181c", "number": "#12181c", "dimension": "#3c464d",
    "groove.edge": "#59636b", "melted": "#8b949a", "select.outer": "#12181c", "select.inner": "#ffffff",
    "handle": "#0b57a4", "note": "#4c565d", "outside": "#b3261e", "warning": "#8a5300",
    "ground": "#fbfaf7", "rule": "#d5d3ca", "text": "#15191c", "soft": "#535b61", "window": "#d7e5da", "limit": "#2f6f4f",
    "spread": "#dfeaf6", "predicted": "#0b57a4", "predicted.2": "#2a2f33", "predicted.3": "#7a5a9e", "warmth": "#8a5300", "cursor": "#6a3fa0", "way": "#0b57a4",
    "way.2": "#0b57a4", "turn": "#535b61", "pause": "#e9e6da", "rail": "#15191c", "welder.2": "#2c363d", "late": "#b3261e", "later": "#eeece5",
    "contour": "#535b61", "mark": "#15191c", "bead.lit": "#d9843b",
    "warm.0": "#fbfaf7", "warm.1": "#fbeedd", "warm.2": "#f8dfc1", "warm.3": "#f3cda1", "warm.4": "#ecb880", "warm.5": "#e2a160", "warm.6": "#d58a45",
}  # fmt: skip
DARK = {
    "paper": "#14181b", "plate": "#454d53", "plate.edge": "#aab4ba", "bar": "#363d42",
    "bead.root": "#7a4b28", "bead.hot": "#665619", "bead.fill": "#3e566d", "bead.cap": "#2a5f50",
    "hatch.root": "#d9a578", "hatch.hot": "#c4ae55", "hatch.cap": "#7cc0a8", "hatch.outside": "#ff8a80",
    "bead.edge": "#c3ccd2", "layer.edge": "#f1f4f6", "number": "#f6f8f9", "dimension": "#c3ccd2",
    "groove.edge": "#c3ccd2", "melted": "#8b949a", "select.outer": "#ffffff", "select.inner": "#12181c",
    "handle": "#7cc4ff", "note": "#b5bfc5", "outside": "#ff8a80", "warning": "#f2b457",
    "ground": "#1a1f23", "rule": "#353d43", "text": "#f0f3f5", "soft": "#aab4ba", "window": "#24382d", "limit": "#7fcaa0",
    "spread": "#1c3348", "predicted": "#7cc4ff", "predicted.2": "#e6eaed", "predicted.3": "#b79be0", "warmth": "#f2b457", "cursor": "#c9a8f5", "way": "#7cc4ff",
    "way.2": "#7cc4ff", "turn": "#aab4ba", "pause": "#262c30", "rail": "#f0f3f5", "welder.2": "#c3ccd2", "late": "#ff8a80", "later": "#14181b",
    "contour": "#aab4ba", "mark": "#f0f3f5", "bead.lit": "#ecb07c",
    "warm.0": "#1a1f23", "warm.1": "#2a2520", "warm.2": "#3b2c1d", "warm.3": "#4d341b", "warm.4": "#613d1a", "warm.5": "#764719", "warm.6": "#8c5219",
}  # fmt: skip
PAPER = LIGHT | {"paper": "#ffffff", "ground": "#ffffff", "later": "#f4f4f4", "warm.0": "#ffffff"}
WIDTHS = {
    "plate.edge": 1.0, "bead.edge": 0.9, "layer.edge": 2.0, "dimension": 0.8, "groove.edge": 0.7,
    "melted": 0.6, "hatch.root": 0.7, "hatch.hot": 0.7, "hatch.cap": 0.7, "hatch.outside": 1.2,
    "rule": 1.0, "text": 1.0, "soft": 1.0, "limit": 1.5, "predicted": 1.7, "predicted.2": 1.2, "predicted.3": 2.6, "cursor": 1.5, "way": 1.4, "way.2": 1.4,
    "warmth": 1.2,
    "turn": 1.4, "rail": 3.0, "select.outer": 5.0, "select.inner": 2.0, "outside": 2.0, "ground": 2.5, "late": 2.0, "welder.2": 0.8, "contour": 1.0,
    "mark": 1.6, "handle": 1.4, "warning": 1.6,
}  # fmt: skip
DASHES = {"predicted": (6.0, 4.0), "predicted.2": (2.0, 3.0), "predicted.3": (9.0, 3.0, 2.0, 3.0), "way.2": (6.0, 4.0), "turn": (5.0, 4.0)}
"""Strokes and gaps of broken lines, px."""
ROLE_LETTERS = {"root": "R", "hot": "H", "fill": "F", "cap": "C", "back": "B"}
