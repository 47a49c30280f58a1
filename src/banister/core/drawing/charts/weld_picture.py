"""The page at the joint, to be read from two metres: one lit bead, the figures that matter now, the rail of the rod."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.weld_figures import WeldFigures
from banister.core.drawing.charts.weld_foot import WeldFoot
from banister.core.drawing.charts.weld_page import HEAD_TEXT, Page, PagePart
from banister.core.drawing.charts.weld_section import LaidOut, WeldSection
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Box, Drawing, Rect, Shape
from banister.core.joint.joint import Joint
from banister.core.value import Struct
from banister.core.words import Speech


class WeldPicture(Struct, frozen=True):
    """The picture, where its keys lie by the key they stand for, and the section as it was laid out."""

    drawing: Drawing
    keys: Mapping[str, Box]
    laid: LaidOut


def weld_picture(joint: Joint, page: Page, say: Speech, before: WeldPicture | None = None) -> WeldPicture:
    """The page for a size; `before` is the picture that was shown last."""
    section = WeldSection(joint, page, say, None if before is None else before.laid)
    figures, foot = WeldFigures(joint, page, say), WeldFoot(joint, page, say)
    shapes = (Rect((0.0, 0.0, page.width, page.height), "ground"), *_Head(joint, page, say).shapes(), *section.shapes(), *figures.shapes(), *foot.shapes())
    return WeldPicture(Drawing(shapes, (0.0, 0.0, page.width, page.height)), figures.boxes | foot.boxes, section.laid)


class _Head(PagePart):
    """Which joint, which pass; how many deviations wait."""

    def shapes(self) -> Iterator[Shape]:
        """One line over all."""
        page, say, y = self.page, self.say, self.page.height - 46.0 * self.u
        yield self.text((self.edge, y), self.joint.id, HEAD_TEXT, "soft", face=BOLD)
        x = self.edge + advance(self.joint.id, HEAD_TEXT * self.u, BOLD) + 34.0 * self.u
        if page.lit is None:
            yield self.text((x, y), say("weld.all_done"), HEAD_TEXT, face=BOLD, name="head")
        else:
            which = say("weld.pass", number=str(page.lit.number), of=str(len(page.plan.passes)))
            yield self.text((x, y), which, HEAD_TEXT, face=BOLD, name="head")
            layer = [p for p in page.plan.passes if p.side == page.lit.side and p.layer == page.lit.layer]
            n = layer.index(page.lit) + 1 if page.lit in layer else 1
            role = say(self.joint.role_word(page.lit.role, page.lit.side))
            also = say("weld.layer", role=role, layer=str(page.lit.layer), n=str(n), of=str(len(layer)))
            begins = x + advance(which, HEAD_TEXT * self.u, BOLD) + 30.0 * self.u
            if page.half is not None:
                half = say(f"weld.half.{page.half.half}")
                centres = page.half.centres
                said = say("weld.half.from", half=half, begins=centres[0], ends=centres[1]) if centres else half
                yield self.text((begins, y), said, 44.0, "text", face=NARROW_BOLD, name="half")
                begins += advance(said, 44.0 * self.u, NARROW_BOLD) + 30.0 * self.u
            yield self.text((begins, y), also, 44.0, "soft", face=NARROW)
        right = say("weld.simulated") if page.simulated else say("weld.deviations", n=page.deviations)
        yield self.text((page.width - self.edge, y), right, 46.0, "outside" if page.simulated or page.deviations else "soft", "end", NARROW_BOLD, "right")
