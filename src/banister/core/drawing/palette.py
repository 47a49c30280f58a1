"""Colours by style, for light, dark and paper. Numbers on beads keep 4.5:1 in all three.

Roles are told by letter and hatch as well: root rising strokes, hot pass falling strokes, fill
plain, cap level strokes. Selection is a double outline; outside is a hatch in words and notch.
"""

from __future__ import annotations

LIGHT = {
    "paper": "#f6f5f1", "plate": "#cdd2d6", "plate.edge": "#59636b", "bar": "#b4bbc0",
    "bead.root": "#dcb694", "bead.hot": "#e4d394", "bead.fill": "#bccbd9", "bead.cap": "#a9cfc1",
    "hatch.root": "#a5713f", "hatch.hot": "#a08a2e", "hatch.cap": "#4f9079", "hatch.outside": "#b3261e",
    "bead.edge": "#2c363d", "layer.edge": "#11181c", "number": "#12181c", "dimension": "#3c464d",
    "groove.edge": "#59636b", "melted": "#8b949a", "select.outer": "#12181c", "select.inner": "#ffffff",
    "handle": "#0b57a4", "note": "#4c565d", "outside": "#b3261e", "warning": "#8a5300",
}  # fmt: skip
DARK = {
    "paper": "#14181b", "plate": "#454d53", "plate.edge": "#aab4ba", "bar": "#363d42",
    "bead.root": "#7a4b28", "bead.hot": "#665619", "bead.fill": "#3e566d", "bead.cap": "#2a5f50",
    "hatch.root": "#b98252", "hatch.hot": "#a8933a", "hatch.cap": "#5ba088", "hatch.outside": "#ff8a80",
    "bead.edge": "#c3ccd2", "layer.edge": "#f1f4f6", "number": "#f6f8f9", "dimension": "#c3ccd2",
    "groove.edge": "#c3ccd2", "melted": "#8b949a", "select.outer": "#ffffff", "select.inner": "#12181c",
    "handle": "#7cc4ff", "note": "#b5bfc5", "outside": "#ff8a80", "warning": "#f2b457",
}  # fmt: skip
PAPER = LIGHT | {"paper": "#ffffff"}
WIDTHS = {
    "plate.edge": 1.0, "bead.edge": 0.9, "layer.edge": 2.0, "dimension": 0.8, "groove.edge": 0.7,
    "melted": 0.6, "hatch.root": 0.7, "hatch.hot": 0.7, "hatch.cap": 0.7, "hatch.outside": 1.2,
}  # fmt: skip
ROLE_LETTERS = {"root": "R", "hot": "H", "fill": "F", "cap": "C", "back": "B"}
