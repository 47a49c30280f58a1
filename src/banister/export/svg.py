"""SVG of a display list, in paper colours, one millimetre to `scale` user units."""

from __future__ import annotations

from html import escape

from banister.core.drawing.palette import PAPER, WIDTHS
from banister.core.drawing.shapes import Drawing, Lines, Point, Polygon, Text

ANCHORS = {"start": "start", "middle": "middle", "end": "end"}


def svg(drawing: Drawing, title: str, width: float = 900.0) -> str:
    """The drawing as one SVG document `width` units wide."""
    x0, y0, x1, y1 = drawing.box
    k = width / (x1 - x0)
    height = k * (y1 - y0)

    def at(point: Point) -> str:
        return f"{(point[0] - x0) * k:.2f},{(y1 - point[1]) * k:.2f}"

    rows = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:.0f} {height:.0f}" '
        f'width="{width:.0f}" height="{height:.0f}" font-family="IBM Plex Sans, sans-serif">',
        f"<title>{escape(title)}</title>",
        f'<rect width="100%" height="100%" fill="{PAPER["paper"]}"/>',
    ]
    for shape in drawing.shapes:
        if isinstance(shape, Polygon):
            points = " ".join(at(p) for p in shape.points)
            rows.append(f'<polygon id="{escape(shape.id)}" points="{points}" fill="{PAPER[shape.style]}"/>'
                        if shape.id.startswith("p") and shape.id != "plate"
                        else f'<polygon points="{points}" fill="{PAPER[shape.style]}"/>')  # fmt: skip
        elif isinstance(shape, Lines):
            path = " ".join(f"M{at(a)} L{at(b)}" for a, b in shape.segments)
            rows.append(f'<path d="{path}" fill="none" stroke="{PAPER[shape.style]}" '
                        f'stroke-width="{WIDTHS[shape.style]}" stroke-linecap="round"/>')  # fmt: skip
        elif isinstance(shape, Text):
            x, y = at(shape.at).split(",")
            rows.append(f'<text x="{x}" y="{float(y) - shape.lift:.2f}" font-size="{shape.size}" dominant-baseline="central" '
                        f'text-anchor="{ANCHORS[shape.anchor]}" fill="{PAPER[shape.style]}">{escape(shape.text)}</text>')  # fmt: skip
    return "\n".join([*rows, "</svg>", ""])
