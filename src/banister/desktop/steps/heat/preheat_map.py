"""The preheat map: what method B asks for over thickness and heat input, with this joint's place on it."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from banister.core.drawing.charts.preheat_map import preheat_map
from banister.core.drawing.shapes import Drawing
from banister.core.heat.preheat import SHOP_C, method_b_c
from banister.core.remark import Figure
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store


class PreheatMap(Beside):
    """A contour picture: degrees over thickness and heat input, the warmer the shade the hotter."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 940, 600)
        self.store, say = store, store.say
        self.setWindowTitle(say("preheat_map.window"))
        self.title, self.map, note = QLabel(), _Map(store, theme), QLabel(say("preheat_map.note"))
        self.title.setFont(font(15))
        for label in (self.title, note):
            label.setWordWrap(True)
        tint(note, SOFT)
        column = QVBoxLayout(self)
        column.addWidget(self.title)
        column.addWidget(self.map, 1)
        column.addWidget(note)
        store.changed.connect(self.show_job)
        self.show_job(None, store.now)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw the map of the shown joint's steel."""
        if new.differs(old, "joint", "plan", "say"):
            self.title.setText(_said(new))
            self.map.redraw()


def _place(now: Snapshot) -> tuple[float, float] | None:
    """Thickness and smallest heat input of the shown joint; None where there is no map."""
    joint, plan = now.joint, now.plan
    if joint is None or plan is None or not plan.passes or not joint.metal.steel.is_known or joint.metal.stainless:
        return None
    return joint.prep.thickest_mm, min(p.heat_input_kj_mm for p in plan.passes)


def _said(now: Snapshot) -> str:
    joint, say, here = now.joint, now.say, _place(now)
    if joint is None or here is None:
        stainless = joint is not None and joint.metal.stainless
        blocked = now.plan is not None and not now.plan.passes
        return say("preheat_map.stainless" if stainless else "preheat_map.no_plan" if blocked else "preheat_map.no_steel")
    cet, hydrogen = joint.metal.steel.cet, joint.heat.hydrogen_ml
    asks = method_b_c(cet, here[0], hydrogen, here[1])
    words = say("preheat.none") if asks <= SHOP_C else say.sized("temperature", asks)
    return say("preheat_map.said", joint=joint.id, asks=words, thickness=Figure(here[0], "length"), heat=Figure(here[1], "energy"),
               cet=Figure(cet, "equivalent"), hydrogen=Figure(hydrogen, "hydrogen"))  # fmt: skip


class _Map(ChartView):
    """The picture itself."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.setAccessibleName(store.say("preheat_map.name"))

    def made(self) -> Drawing | None:
        """The map for the present size."""
        joint, here = self.store.joint, _place(self.store.now)
        if joint is None or here is None:
            return None
        size = (float(self.width()), float(self.height()))
        return preheat_map(joint.metal.steel.cet, joint.heat.hydrogen_ml, here, size, self.store.say)
