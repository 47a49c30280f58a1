"""A repair: what is dug out, how, from which side, with which passes; measured once it is dug; and kept with who decided on it."""

from __future__ import annotations

import itertools
import math

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QMouseEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from banister.core.drawing.charts.repair_picture import Hold, RepairChart, RepairPicture, repair_picture
from banister.core.drawing.shapes import Drawing
from banister.core.fitup.places import Course
from banister.core.inspect.kinds import FACE
from banister.core.inspect.observed import Observation
from banister.core.inspect.of_joint import thinner_mm
from banister.core.inspect.repair import Repair, Way, defect_of, dug_stations, dug_turned, range_fault, reach_remarks, repair_of
from banister.core.inspect.repair_joint import joint_of_repair, repair_id
from banister.core.inspect.repair_said import HEADS, beside_said, pass_rows, through_said, way_said
from banister.core.inspect.repairs import REPAIR, KeptRepair, before, keeping, keeping_faults, kept_said, repairs_kept, rule_remarks
from banister.core.joint.boat import RANGES, Defect, Dig
from banister.core.remark import Figure, Refused, Remark
from banister.core.units import Units
from banister.core.value import replace
from banister.core.words import capital
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import PLAIN, SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import PLAN, Errand
from banister.desktop.fields import FigureField, NameField, UnitsField
from banister.desktop.logbook import Logbook
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.inspect.inspecting import gone_said
from banister.desktop.store import Store

KEY = "repair"
RIGHT_PX = 410
SIZE = ("top_mm", "height_mm", "length_mm")
SHAPE = {"run_out": "ratio", "side_deg": "angle", "into_sound_mm": "fine_length", "beyond_mm": "fine_length"}
NAMES = ("by", "allowed_by", "reason", "proved_by")


class RepairWidget(ChartView):
    """The picture of the way in that is shown; what shapes the boat can be dragged in it."""

    dragged = Signal(str, float)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.of: tuple[Way, Defect, str] | None = None
        """The way shown, what is dug out, and at which toe it lies."""
        self.is_dug = False
        self.chart: RepairChart | None = None
        self._held: tuple[Hold, tuple[float, float]] | None = None
        self.setToolTip(store.say("repair.picture.tip"))
        self.setMinimumSize(560, 460)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("repair.window"))

    def made(self) -> Drawing | None:
        """The picture for the present size."""
        joint, plan, shown = self.store.now.joint, self.store.now.welded_plan, self.store.inspection
        if self.of is None or joint is None or plan is None or shown is None or self.width() < 300:
            return None
        way, defect, toe = self.of
        size = float(self.width()), float(self.height())
        self.chart = repair_picture(RepairPicture(way, defect, toe, joint, plan, shown.course, thinner_mm(joint), *size, self.is_dug), self.store.say)
        return self.chart.drawing

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Take hold of what is near."""
        at = self.point(event.position())
        hold = None if self.chart is None else self.chart.near(at)
        self._held = None if hold is None else (hold, at)
        self.setFocus()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The figure follows the hand; with nothing held it is told what could be."""
        at = self.point(event.position())
        if self._held is not None:
            hold, start = self._held
            self.dragged.emit(hold.name, hold.moved(at[0] - start[0], at[1] - start[1]))
        else:
            over = None if self.chart is None else self.chart.near(at)
            self.setCursor(Qt.CursorShape.SizeAllCursor if over is not None else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Let go."""
        self._held = None


class DugField(UnitsField):
    """Depths that were dug, at their places along the weld."""

    course: Course | None = None

    def turned(self, text: str, before: Units, now: Units) -> str:
        """The depths and the places, written in other units."""
        return text if self.course is None else dug_turned(text, self.course, before, now)


class RepairColumn(Panel):
    """Beside the picture: the way in, what is dug out and how, the passes, the names."""

    def __init__(self, store: Store, theme: Theme, dialog: RepairDialog) -> None:
        super().__init__(store, theme)
        say = store.say
        self.way = self.choice("repair.way_in", {}, dialog.choose_way)
        self.left = self.remark(kind="plain")
        self.rules = self.remark(kind="warn")
        self.through = self.remark(kind="plain")
        self.fields: dict[str, FigureField] = {}
        self.heading(say("repair.size"), 14)
        for name in SIZE:
            self._field(name, say(f"repair.{name}"), "fine_length", dialog)
        self.heading(say("repair.measured"), 14)
        self.dug = DugField(say("repair.dug"))
        self.dug.setToolTip(say("repair.dug.tip"))
        self.dug.committed.connect(dialog.take_dug)
        self.column.addWidget(self.dug)
        self.heading(say("repair.shape"), 14)
        for name, kind in SHAPE.items():
            low, high = RANGES[name]
            self._field(name, say(f"repair.{name.removesuffix('_mm')}"), kind, dialog, low, high)
        self.passes = QGridLayout()
        self.passes.setHorizontalSpacing(10)
        self.column.addLayout(self.passes)
        self.beside = self.remark()
        self.names = {name: NameField(say(f"repair.{name}.field")) for name in NAMES}
        for part in self.names.values():
            self.column.addWidget(part)
        self.as_joint = self.tick("repair.as_joint", lambda _: None, tip=True)
        self.as_joint.setChecked(True)
        self.bad = self.remark(kind="bad")
        self.keep = self.button("repair.keep", dialog.keep_it)
        self.kept = self.remark(kind="plain")
        self.column.addStretch(1)

    def _field(self, name: str, title: str, kind: str, dialog: RepairDialog, low: float = 0.0, high: float = 500.0) -> None:
        field = FigureField(title, kind, lambda value: dialog.take(name, value), low=low, high=high, optional=name in SIZE)
        field.show_unit(self.say)
        self.fields[name] = field
        self.column.addWidget(field)


class RepairDialog(Beside):
    """Plans the repair of the observation that is selected, and again after every figure."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1200, 740)
        self.store, say = store, store.say
        self.logbook: Logbook = parent.logbook  # type: ignore[attr-defined]
        self.number = store.view.inspect_seen
        self.repair: Repair | None = None
        self.shown_side = ""
        self.typed: dict[str, float] = {}
        """Figures that were typed, in mm and degrees; what stands in a field beside them is only how a known one is written."""
        self.setWindowTitle(say("repair.window"))
        self.title, self.under = QLabel(), QLabel()
        self.title.setFont(font(18, QFont.Weight.DemiBold))
        for label in (self.title, self.under):
            label.setWordWrap(True)
        tint(self.under, SOFT)
        self.dug: tuple[tuple[float, float], ...] = ()
        """Depths that were measured, at their places along the weld; mm."""
        self.picture, self.side = RepairWidget(store, theme), RepairColumn(store, theme, self)
        self.picture.dragged.connect(self.drag)
        area = QScrollArea()
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidget(self.side)
        area.setWidgetResizable(True)
        area.setFixedWidth(RIGHT_PX)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        row, column = QHBoxLayout(), QVBoxLayout(self)
        row.addWidget(self.picture, 1)
        row.addWidget(area)
        column.addWidget(self.title)
        column.addWidget(self.under)
        column.addLayout(row, 1)
        store.changed.connect(self.show_job)
        self._begin()

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Begin anew when another observation is selected; plan anew after another joint or unit."""
        if new.view.inspect_seen and new.view.inspect_seen != self.number:
            self.number = new.view.inspect_seen
            self._begin()
        elif new.differs(old, "joint", "plan", "issued", "say"):
            self._show_fields()
            self.plan()
        elif new.differs(old, "records") and self.seen is None:
            self._show_none(gone_said(new, self.number))
        elif new.differs(old, "records"):
            self._show_way()

    @property
    def seen(self) -> Observation | None:
        """The observation that is repaired."""
        shown = self.store.inspection
        return None if shown is None else shown.seen(self.number)

    # --- planning -------------------------------------------------------------------------------
    def _begin(self) -> None:
        """The fields say what is known of what was seen."""
        self.shown_side, self.dug = "", ()
        self.typed.clear()
        self.side.dug.empty()
        self._show_fields()
        self.plan()

    def _show_fields(self) -> None:
        """What is known of the defect, and how boats are dug."""
        dig, known, shown = Dig(), self._known(), self.store.inspection
        self.side.dug.course = None if shown is None else shown.course
        self.side.dug.show_units(self.store.say)
        for name, field in self.side.fields.items():
            field.show_value(self.typed.get(name, known.get(name, getattr(dig, name, None))), self.store.say)

    def _known(self) -> dict[str, float]:
        """What was seen tells of the size that is dug out."""
        one = self.seen
        if one is None:
            return {}
        try:
            defect = defect_of(one)
        except Refused:
            return {} if one.length is None else {"length_mm": one.length}
        return {name: getattr(defect, name) for name in SIZE}

    def take(self, name: str, value: float) -> Remark | None:
        """A figure was typed, or taken away: plan by it, or say why it cannot be; the plan stands meanwhile."""
        refusal = range_fault(name, value) if name in RANGES and not math.isnan(value) else None
        if refusal is not None:
            return refusal
        if math.isnan(value):
            self.typed.pop(name, None)
            if name in (known := self._known()):
                self.side.fields[name].show_value(known[name], self.store.say)
        else:
            self.typed[name] = value
        self.plan()
        return None

    def drag(self, name: str, value: float) -> None:
        """A figure was dragged in the picture."""
        self.side.fields[name].show_value(value, self.store.say)
        self.take(name, value)

    def take_dug(self, text: str) -> None:
        """Depths that were dug take the place of what was planned; nothing typed gives that back. What is none is said, the plan stands."""
        shown, edit = self.store.inspection, self.side.dug.edit
        if shown is None or not edit.is_new:
            return
        try:
            self.dug = dug_stations(text, shown.course, self.store.say.units)
        except Refused as refused:
            self._refuse({"dug": self.store.say.sentence(refused.remarks[0])})
            return
        edit.keep()
        self.plan()

    def plan(self) -> None:
        """Have it planned beside the window, by what was typed and what is known."""
        one, joint, job, plan, shown = self.seen, self.store.now.joint, self.store.job, self.store.now.welded_plan, self.store.inspection
        if one is None or joint is None or job is None or plan is None or shown is None:
            self.store.stop(KEY)
            self._show_none(gone_said(self.store.now, self.number) if one is None else "")
            return
        figures = self._known() | self.typed
        try:
            defect = defect_of(one, figures.get("top_mm"), figures.get("height_mm"))
        except Refused as refused:
            self._show_none(self.store.say.sentence(refused.remarks[0]))
            return
        defect = replace(defect, length_mm=figures.get("length_mm", 0.0))
        dig = Dig(**{name: figures[name] for name in SHAPE if name in figures})
        cap = plan.cap.max if plan.cap is not None else 0.0
        request = (joint, defect, job.rods, shown.course.length_mm, shown.course.closed, cap, dig, self.dug)
        self.store.errands.run(Errand(PLAN, KEY, KEY, repair_of, request, self._arrived))

    def _arrived(self, found: Repair) -> None:
        self.repair = found
        if found.reasons:
            self._show_none("\n".join(self.store.say.sentence(remark) for remark in found.reasons))
            return
        sides = [way.side for way in found.ways]
        self.shown_side = self.shown_side if self.shown_side in sides else (sides[0] if sides else "")
        say = self.store.say
        self.side.way.set_choices({way.side: say("repair.way.short", side=say(f"inspect.side.{way.side}"), lasts=Figure(way.total_s, "duration"),
                                                 passes=say("count.passes", n=len(way.plan.passes))) for way in found.ways})  # fmt: skip
        self._show_way()

    def choose_way(self, side: str) -> None:
        """Look at another way in."""
        self.shown_side = side
        self._show_way()

    @property
    def shown_way(self) -> Way | None:
        """The way in that is shown."""
        return None if self.repair is None else next((way for way in self.repair.ways if way.side == self.shown_side), None)

    # --- showing --------------------------------------------------------------------------------
    def _show_none(self, why: str) -> None:
        """Nothing can be planned, and why."""
        self.repair, self.picture.of = None, None
        one, shown, say = self.seen, self.store.inspection, self.store.say
        self.title.setText(say("repair.window") if one is None or shown is None
                           else say("repair.title.none", kind=capital(say(f"defect.{one.kind}")), at=shown.course.figure(one.s_mm)))  # fmt: skip
        self.under.setText(why)
        for part in (self.side.left, self.side.rules, self.side.through, self.side.beside):
            part.setText("")
        self._show_passes(None)
        self.side.keep.setEnabled(False)
        self.picture.redraw()

    def _show_way(self) -> None:
        """The way in with its picture, passes, rules; what goes through beside it."""
        found, say, joint, shown, one, side = self.repair, self.store.say, self.store.joint, self.store.inspection, self.seen, self.side
        if found is None or joint is None or shown is None or one is None:
            return
        way, t = self.shown_way, thinner_mm(joint)
        self.picture.of = None if way is None else (way, found.defect, one.toe)
        self.picture.is_dug = bool(self.dug) and way is not None and way.side == FACE
        kind = say("repair.title.none", kind=capital(say(f"defect.{one.kind}")), at=shown.course.figure(one.s_mm))
        if way is None:
            self.title.setText(kind)
            self.under.setText("" if found.through else say("repair.nothing"))
        else:
            deep, long = Figure(way.boat.depth_mm, "fine_length"), Figure(way.boat.length_mm, "long_length")
            self.title.setText(say("repair.title", side=say(f"inspect.side.{way.side}"), depth=deep, length=long))
            self.under.setText(f"{kind}. {' '.join(way_said(way, shown.course, say))}")
        side.way.setVisible(way is not None)
        side.way.show_choice(self.shown_side)
        left = 0.0 if way is None else t - way.boat.depth_mm
        least = Dig().ligament_mm if way is None else way.boat.dig.ligament_mm
        side.left.setText("" if way is None else say("repair.left", left=Figure(left, "fine_length"), least=Figure(least, "fine_length")))
        side.through.setText("\n".join(line for one_ in found.through for line in through_said(one_, t, say)))
        side.dug.setVisible(way is None or way.side == FACE)
        kept = self._kept()
        stands = () if way is None else (*reach_remarks(found.defect, way, shown.course), *rule_remarks(kept, way, shown.course, t))
        side.rules.setText("\n".join(map(say.sentence, stands)))
        side.beside.setText("\n".join(beside_said(found, say)))
        side.kept.setText("\n".join(kept_said(one_, i, shown.course, say) for i, one_ in enumerate(kept, 1)))
        for part in (side.left, side.rules, side.through, side.kept):
            part.setVisible(bool(part.text()))
        side.keep.setEnabled(way is not None)
        self._refuse({})
        self._show_passes(way)
        self.picture.redraw()

    def _show_passes(self, way: Way | None) -> None:
        """The passes with the length of each, or none."""
        grid, say = self.side.passes, self.store.say
        while (item := grid.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        rows = [] if way is None else [[say(f"repair.{head}") for head in HEADS], *pass_rows(way, say)]
        for i, row in enumerate(rows):
            for j, cell in enumerate(row):
                label = QLabel(cell)
                tint(label, PLAIN if i else SOFT)
                grid.addWidget(label, i, j, Qt.AlignmentFlag.AlignLeft if j == 1 else Qt.AlignmentFlag.AlignRight)

    # --- keeping --------------------------------------------------------------------------------
    def _kept(self) -> tuple[KeptRepair, ...]:
        joint = self.store.joint
        return () if joint is None else repairs_kept(self.store.standing, joint.id)

    def _refuse(self, missing: dict[str, str]) -> None:
        self.side.bad.setText("\n".join(missing.values()))
        self.side.bad.setVisible(bool(missing))

    def keep_it(self) -> None:
        """Decided on: kept in the journal with the names there must be."""
        joint, shown, way, say = self.store.joint, self.store.inspection, self.shown_way, self.store.say
        if joint is None or shown is None or way is None:
            return
        names = {name: field.edit.text().strip() for name, field in self.side.names.items()}
        times = len(before(self._kept(), way, shown.course, thinner_mm(joint)))
        missing = {remark.place.field: say.sentence(remark) for remark in keeping_faults(times, names["by"], names["allowed_by"], names["reason"])}
        self._refuse(missing)
        if not missing:
            self._keep(way, names)

    def _keep(self, way: Way, names: dict[str, str]) -> None:
        """The decision goes into the journal, and where that is wanted the repair among the joints of the job."""
        joint, job, one, say, found = self.store.joint, self.store.job, self.seen, self.store.say, self.repair
        if joint is None or job is None or one is None or found is None:
            return
        taken = self.store.ids_taken
        nth = next(n for n in itertools.count(len(self._kept()) + 1) if repair_id(joint.id, n) not in taken)
        as_joint = repair_id(joint.id, nth) if self.side.as_joint.isChecked() else ""
        record = self.logbook.write(REPAIR, joint.id, **keeping(self.number, way, **names, joint=as_joint))
        if record is None or not as_joint:
            return
        made = joint_of_repair(joint, way, one, nth, record.n, job.rods, found.preheat_c, say)
        now = self.store.job
        if now is not None:
            self.store.edit(now.adding(made), say("edit.repair", joint=made.id))
            self.side.kept.setText(f"{self.side.kept.text()}\n{say('repair.as_joint.done', joint=made.id)}")

    def stop(self) -> None:
        """What is asked for stays unanswered."""
        self.store.stop(KEY)
