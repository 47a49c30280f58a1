"""The handrail: every pass a baluster, its height heat between the limits, its width arc time."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QBrush, QColor, QFont, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QWheelEvent,
)  # fmt: skip
from PySide6.QtWidgets import QWidget

from banister.core.drawing.section import pass_label
from banister.core.plan.plan import Pass, Plan
from banister.core.limits.windows import Bounds, bounds
from banister.core.plan.timing import before_s, pause_s
from banister.core.units import MM_PER_INCH, clock, minutes
from banister.desktop.section_view import bead_words
from banister.desktop.store import Store
from banister.desktop.theme import CONDENSED, Theme, font

if TYPE_CHECKING:
    from banister.core.heat.schedule import Schedule

LONG_WAIT_S, INSIDE_PX = 60.0, 23.0
LEFT_PX, RIGHT_PX, TOP_PX, FOOT_PX = 64.0, 20.0, 44.0, 38.0
NARROWEST_PX, WIDEST_PX, HIT_PX = 26.0, 160.0, 24.0
STEPS, CLOCK = "steps", "clock"
STEPS_HEIGHT_PX = 140
HOTTER_K = 45.0


@dataclass(frozen=True, slots=True)
class Post:
    """A baluster or a folded layer in pixels."""

    x0: float
    x1: float
    passes: tuple[Pass, ...]

    @property
    def middle(self) -> float:
        """Where its number stands."""
        return (self.x0 + self.x1) / 2


class Rail(QWidget):
    """Draws the handrail and selects by it."""

    scale_changed = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.scale = STEPS
        self.zoom, self.offset = 1.0, 0.0
        self.posts: tuple[Post, ...] = ()
        self.cursor_x: float | None = None
        self._still: QPixmap | None = None
        self.setMinimumHeight(STEPS_HEIGHT_PX)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Handrail: passes in time")
        store.selection_changed.connect(self.update)

    def sizeHint(self) -> QSize:  # noqa: N802
        """A strip along the bottom."""
        return QSize(900, 178)

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme = theme
        self.update()

    def set_scale(self, scale: str) -> None:
        """Even steps, or true time."""
        self.scale, self.zoom, self.offset = scale, 1.0, 0.0
        self.store.changed.emit()
        self.scale_changed.emit()
        self.update()

    # --- layout ------------------------------------------------------------------------------
    def _plan(self) -> Plan | None:
        plan = self.store.plan
        return plan if plan is not None and plan.feasible else None

    def layout_posts(self) -> tuple[Post, ...]:
        """Balusters in pixels for the scale that is set."""
        plan = self._plan()
        if plan is None:
            return ()
        room = self.width() - LEFT_PX - RIGHT_PX
        return self._clock(plan, room) if self.scale == CLOCK else self._steps(plan, room)

    def _steps(self, plan: Plan, room: float) -> tuple[Post, ...]:
        """Even pitch; where beads do not fit, all layers but the selected one fold to one post."""
        passes = plan.passes
        if room / len(passes) >= NARROWEST_PX:
            groups = [(p,) for p in passes]
        else:
            chosen = self.store.selected
            opened = chosen.layer if chosen is not None else passes[-1].layer
            groups = []
            for layer in range(1, plan.layers + 1):
                beads = tuple(p for p in passes if p.layer == layer)
                groups += [(p,) for p in beads] if layer == opened or len(beads) == 1 else [beads]
        pitch = min(room / len(groups), WIDEST_PX)
        longest = max(max(p.arc_time_s for p in g) for g in groups)
        posts = []
        for i, group in enumerate(groups):
            share = max(p.arc_time_s for p in group) / longest
            width = pitch * (0.30 + 0.45 * share) if len(group) == 1 else pitch * 0.9
            middle = LEFT_PX + (i + 0.5) * pitch
            posts.append(Post(middle - width / 2, middle + width / 2, group))
        return tuple(posts)

    def _clock(self, plan: Plan, room: float) -> tuple[Post, ...]:
        """True time; gaps are rod changes inside the pass's end and cleaning after it."""
        k = room * self.zoom / max(self._total_s(plan), 1.0)
        schedule = self._schedule()
        if schedule is not None:
            starts = {s.pass_id: s for s in schedule.passes}
            return tuple(
                Post(LEFT_PX + starts[p.id].start_s * k - self.offset, LEFT_PX + starts[p.id].end_s * k - self.offset, (p,)) for p in plan.passes
            )  # fmt: skip
        joint = self.store.joint
        assert joint is not None
        posts, at, before = [], 0.0, before_s(joint, plan)
        for p in plan.passes:
            at += before.get(p.id, 0.0)
            start = LEFT_PX + at * k - self.offset
            posts.append(Post(start, start + p.arc_time_s * k, (p,)))
            at += p.arc_time_s + pause_s(joint.working.choices, p)
        return tuple(posts)

    @property
    def temperature_px(self) -> float:
        """Height of the temperature line above the balusters."""
        return 40.0 if self.height() < 190 else 62.0

    def _schedule(self) -> Schedule | None:
        """The schedule, on the clock's scale and once it is there."""
        heat = self.store.heat if self.scale == CLOCK else None
        return heat.schedule if heat is not None and heat.schedule.feasible else None

    def _total_s(self, plan: Plan) -> float:
        schedule = self._schedule()
        return plan.total_time_s if schedule is None else schedule.end_s

    def _window(self, p: Pass) -> tuple[str, Bounds]:
        joint = self.store.joint
        assert joint is not None
        for quantity in ("arc_energy", "heat_input"):
            found = bounds(joint.working.windows, quantity, p.role, p.rod.id)
            if found.is_set:
                return quantity, found
        return "arc_energy", Bounds()

    def _span(self, plan: Plan) -> tuple[float, float, str, list[Bounds]]:
        """The height axis: from 20 % under the lowest limit or bead to 20 % over the highest."""
        windows = [self._window(p) for p in plan.passes]
        heat = any(q == "heat_input" for q, b in windows if b.is_set) and not any(q == "arc_energy" for q, b in windows if b.is_set)
        quantity = "heat_input" if heat else "arc_energy"
        values = [self._value(p, quantity) for p in plan.passes]
        set_ = [b for q, b in windows if b.is_set and q == quantity]
        finite = [v for b in set_ for v in (b.low, b.high) if math.isfinite(v)]
        return 0.8 * min(values + finite), 1.2 * max(values + finite), quantity, set_

    @staticmethod
    def _value(p: Pass, quantity: str) -> float:
        return p.heat_input_kj_mm if quantity == "heat_input" else p.arc_energy_kj_mm

    # --- painting ----------------------------------------------------------------------------
    def update(self) -> None:
        """Paint all of it anew; the cursor alone moves over what was painted."""
        self._still = None
        super().update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """The rail as it was painted last, and the cursor."""
        if self._still is None or self._still.size() != self.size() * self.devicePixelRatio():
            self._still = QPixmap(self.size() * self.devicePixelRatio())
            self._still.setDevicePixelRatio(self.devicePixelRatio())
            still = QPainter(self._still)
            self._paint(still)
            still.end()
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._still)
        if self.cursor_x is not None:
            self._paint_cursor(painter, self.cursor_x)

    def _paint_cursor(self, painter: QPainter, x: float) -> None:
        """An upright where the pointer is, with time and temperature there."""
        read = self.read(x)
        if read is None:
            return
        seconds, likely, low, high = read
        painter.setPen(QPen(QColor(self.theme.text), 1))
        painter.drawLine(QPointF(x, TOP_PX - 14), QPointF(x, self.height() - FOOT_PX))
        painter.setFont(font(13, QFont.Weight.DemiBold, CONDENSED))
        text = f"{clock(seconds)}  {likely:.0f} \N{DEGREE SIGN}C ({low:.0f} to {high:.0f})"
        width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 12
        box = QRectF(min(max(x - width / 2, LEFT_PX), self.width() - width - 4), TOP_PX - 6 + self.temperature_px, width, 19)
        painter.fillRect(box, QColor(self.theme.panel))
        painter.drawRect(box)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.theme.panel))
        plan = self._plan()
        base = self.height() - FOOT_PX
        if plan is None:
            self._say(painter, "Nothing to show on the rail: there is no plan yet.")
            self._rail_line(painter, base)
            return
        self.posts = self.layout_posts()
        low, high, quantity, _ = self._span(plan)
        painter.setClipRect(QRectF(LEFT_PX - 2, 0, self.width() - LEFT_PX, self.height()))
        for post in self.posts:
            self._paint_limits(painter, post, base, low, high, quantity)
        for post in self.posts:
            self._paint_post(painter, post, base, low, high, quantity)
        self._paint_turns(painter, plan, base)
        self._paint_gaps(painter, base)
        self._paint_temperature(painter)
        painter.setClipping(False)
        self._axis(painter, base, low, high, quantity)
        self._temperature_axis(painter)
        self._rail_line(painter, base)
        self._foot(painter, plan, base)
        if self.scale == CLOCK and self.zoom > 1.01:
            self._overview(painter)

    def _y(self, value: float, base: float, low: float, high: float) -> float:
        foot, top = 10.0, TOP_PX + (self.temperature_px if self._schedule() is not None else 0.0)
        return base - foot - (value - low) / (high - low) * (base - foot - top)

    def _paint_limits(self, painter: QPainter, post: Post, base: float, low: float, high: float, quantity: str) -> None:
        found, window = self._window(post.passes[0])
        if not window.is_set or found != quantity:
            return
        top = self._y(min(window.high, high), base, low, high)
        bottom = self._y(max(window.low, low), base, low, high)
        i = self.posts.index(post)
        left = self.posts[i - 1].x1 if i else post.x0 - 8
        right = self.posts[i + 1].x0 if i + 1 < len(self.posts) else post.x1 + 8
        x0, x1 = (post.x0 + left) / 2, (post.x1 + right) / 2
        painter.fillRect(QRectF(x0, top, x1 - x0, bottom - top), QColor(self.theme.band))
        painter.setPen(QPen(QColor(self.theme.good), 1.5))
        for value, y in ((window.high, top), (window.low, bottom)):
            if math.isfinite(value):
                painter.drawLine(QPointF(x0, y), QPointF(x1, y))

    def _paint_post(self, painter: QPainter, post: Post, base: float, low: float, high: float, quantity: str) -> None:
        p = max(post.passes, key=lambda one: self._value(one, quantity))
        top = self._y(self._value(p, quantity), base, low, high)
        outside = any(one.id in self.store.outside for one in post.passes)
        shape = QRectF(post.x0, top, max(post.x1 - post.x0, 2.0), base - top)
        colours = self.theme.drawing
        painter.setPen(QPen(QColor(colours["bead.edge"]), 1))
        painter.setBrush(QColor(colours[f"bead.{p.role}"]))
        painter.drawRect(shape)
        if p.role != "fill":
            pattern = {"root": Qt.BrushStyle.BDiagPattern, "hot": Qt.BrushStyle.FDiagPattern, "cap": Qt.BrushStyle.HorPattern}
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QBrush(QColor(colours[f"hatch.{p.role}"]), pattern[p.role]))
            painter.drawRect(shape)
        self._broken_foot(painter, shape, base)
        if outside:
            painter.setPen(QPen(QColor(self.theme.bad), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(QPolygonF([QPointF(post.middle - 5, top - 2), QPointF(post.middle, top + 8), QPointF(post.middle + 5, top - 2)]))
        chosen = self.store.selected
        if chosen is not None and any(one.id == chosen.id for one in post.passes):
            for width, style in ((5.0, "select.outer"), (2.0, "select.inner")):
                painter.setPen(QPen(QColor(colours[style]), width))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(shape)
        _, window = self._window(post.passes[0])
        limits = [self._y(v, base, low, high) for v in (window.low, window.high) if math.isfinite(v)]
        crossed = any(top - 20 < y < top - 2 for y in limits)
        inside = crossed and base - top > INSIDE_PX
        self._label(painter, post, top + 20 if inside else top, ground=crossed and not inside)

    def _paint_turns(self, painter: QPainter, plan: Plan, base: float) -> None:
        """A broken upright where the work is turned, named where there is room."""
        after = {step.passes[0] for step in plan.sequence[1:] if step.passes}
        painter.setPen(QPen(QColor(self.theme.soft), 1.5, Qt.PenStyle.DashLine))
        painter.setFont(font(11, family=CONDENSED))
        for i, post in enumerate(self.posts):
            if i and any(p.id in after for p in post.passes):
                x = (self.posts[i - 1].x1 + post.x0) / 2
                painter.drawLine(QPointF(x, TOP_PX - 14), QPointF(x, base))
                painter.drawText(QRectF(x - 44, TOP_PX - 16, 40, 14), Qt.AlignmentFlag.AlignRight, "turn")

    def _paint_gaps(self, painter: QPainter, base: float) -> None:
        """What a gap is for beside cleaning, where there is room to say it: reheating, or a wait of a minute or more."""
        schedule = self._schedule()
        if schedule is None:
            return
        begun = {s.pass_id: s for s in schedule.passes}
        painter.setFont(font(11, family=CONDENSED))
        for before, post in itertools.pairwise(self.posts):
            found = begun.get(post.passes[0].id)
            word = "" if found is None else "reheat" if found.reheat_s > 0 else "wait" if found.wait_s >= LONG_WAIT_S else ""
            room = QRectF(before.x1 + 1, base - 17, post.x0 - before.x1 - 2, 14)
            if word and painter.fontMetrics().horizontalAdvance(word) <= room.width():
                painter.setPen(QColor(self.theme.warn))
                painter.drawText(room, Qt.AlignmentFlag.AlignCenter, word)

    def _paint_temperature(self, painter: QPainter) -> None:
        """The predicted line at the measuring point with its band, the limits across, measured points as full dots."""
        heat, joint, schedule = self.store.heat, self.store.joint, self._schedule()
        if heat is None or joint is None or schedule is None:
            return
        limits, colours = schedule.limits, self.theme.drawing
        low = min(joint.heat.air_c, limits.preheat_c if limits.preheat_c > -270 else joint.heat.air_c) - 10
        high = limits.interpass_c + HOTTER_K
        top, foot = TOP_PX - 8.0, TOP_PX - 8.0 + self.temperature_px
        k = (self.width() - LEFT_PX - RIGHT_PX) * self.zoom / max(schedule.end_s, 1.0)

        def at(seconds: float, temp: float) -> QPointF:
            return QPointF(LEFT_PX + seconds * k - self.offset, foot - (min(max(temp, low), high) - low) / (high - low) * (foot - top))

        upper = [at(float(t), float(v)) for t, v in zip(heat.times, heat.high, strict=True)]
        lower = [at(float(t), float(v)) for t, v in zip(heat.times, heat.low, strict=True)]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self.theme.accent_ground))
        painter.drawPolygon(QPolygonF([*upper, *reversed(lower)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(colours["handle"]), 1.6, Qt.PenStyle.DashLine))
        painter.drawPolyline(QPolygonF([at(float(t), float(v)) for t, v in zip(heat.times, heat.likely, strict=True)]))
        painter.setPen(QPen(QColor(self.theme.good), 1.4))
        for value in (limits.preheat_c, limits.interpass_c):
            if value > -270:
                y = at(0.0, value).y()
                painter.drawLine(QPointF(LEFT_PX, y), QPointF(self.width() - RIGHT_PX, y))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self.theme.text))
        for r in joint.readings:
            painter.drawEllipse(at(r.at_s, r.temp_c), 3.2, 3.2)

    def _temperature_axis(self, painter: QPainter) -> None:
        """Preheat and interpass in figures beside their lines."""
        joint, schedule = self.store.joint, self._schedule()
        if joint is None or schedule is None:
            return
        limits = schedule.limits
        low = min(joint.heat.air_c, limits.preheat_c if limits.preheat_c > -270 else joint.heat.air_c) - 10
        top, foot, high = TOP_PX - 8.0, TOP_PX - 8.0 + self.temperature_px, limits.interpass_c + HOTTER_K
        painter.setFont(font(11, family=CONDENSED))
        painter.setPen(QColor(self.theme.soft))
        for value, mark in ((limits.preheat_c, ""), (limits.interpass_c, "" if limits.set_ else "?")):
            if value > -270:
                y = foot - (value - low) / (high - low) * (foot - top)
                room = QRectF(4, y - 8, LEFT_PX - 12, 16)
                painter.drawText(room, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{value:.0f} \N{DEGREE SIGN}C{mark}")

    def _broken_foot(self, painter: QPainter, shape: QRectF, base: float) -> None:
        painter.setPen(QPen(QColor(self.theme.panel), 2.5))
        y = base - 6
        painter.drawLine(QPointF(shape.left() - 1, y + 1.5), QPointF(shape.right() + 1, y - 1.5))

    def _label(self, painter: QPainter, post: Post, top: float, ground: bool) -> None:
        single = len(post.passes) == 1
        text = pass_label(post.passes[0]) if single else f"L{post.passes[0].layer}, {len(post.passes)} beads"
        if single and self.scale == CLOCK:
            room = self._room(post)
            text = text if room > 24 else text[1:] if room > 14 else ""
        painter.setFont(font(12, QFont.Weight.DemiBold, CONDENSED))
        width = QFontMetricsF(painter.font()).horizontalAdvance(text)
        if not single and width > self._room(post):
            text = f"L{post.passes[0].layer}"
        if ground and text:  # a limit line behind the words is broken there
            painter.fillRect(QRectF(post.middle - width / 2 - 2, top - 18, width + 4, 14), QColor(self.theme.panel))
        painter.setPen(QColor(self.theme.text))
        painter.drawText(QRectF(post.middle - 60, top - 19, 120, 16), Qt.AlignmentFlag.AlignCenter, text)

    def _room(self, post: Post) -> float:
        i = self.posts.index(post)
        ahead = self.posts[i + 1].x0 if i + 1 < len(self.posts) else post.x1 + 30
        return ahead - post.x0

    def _axis(self, painter: QPainter, base: float, low: float, high: float, quantity: str) -> None:
        u = self.store.units
        painter.setFont(font(11, family=CONDENSED))
        painter.setPen(QColor(self.theme.soft))
        shown = MM_PER_INCH if u.inches else 1.0
        step = _round_step((high - low) * shown / 3) / shown
        value = math.ceil(low / step) * step
        while value <= high:
            y = self._y(value, base, low, high)
            painter.drawText(QRectF(4, y - 8, LEFT_PX - 14, 16), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, u.energy(value))
            painter.drawLine(QPointF(LEFT_PX - 8, y), QPointF(LEFT_PX - 4, y))
            value += step
        title = "heat input, k = 0.8" if quantity == "heat_input" else "arc energy, k = 1"
        joint = self.store.joint
        limits = joint is not None and any(w.quantity == quantity for w in joint.working.windows)
        text = f"{title}, {u.energy_unit}" + ("; band: the procedure's window" if limits else "; no window set, not judged")
        painter.setFont(font(12))
        painter.drawText(QRectF(10, 4, 460, 18), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, text)

    def _rail_line(self, painter: QPainter, base: float) -> None:
        painter.setPen(QPen(QColor(self.theme.text), 3))
        painter.drawLine(QPointF(LEFT_PX - 8, base), QPointF(self.width() - RIGHT_PX + 8, base))

    def _foot(self, painter: QPainter, plan: Plan, base: float) -> None:
        painter.setFont(font(12))
        painter.setPen(QColor(self.theme.soft))
        rect = QRectF(LEFT_PX - 8, base + 18, self.width() - LEFT_PX - RIGHT_PX + 16, 18)
        painter.drawText(rect, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                         self._foot_words())  # fmt: skip
        painter.setPen(QColor(self.theme.text))
        painter.setFont(font(13, QFont.Weight.DemiBold))
        painter.drawText(rect, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                         f"{len(plan.passes)} beads, {minutes(self._total_s(plan))}")  # fmt: skip
        if self.scale == CLOCK:
            self._ticks(painter, plan, base)

    def _foot_words(self) -> str:
        schedule = self._schedule()
        if schedule is None:
            return "gaps: rod changes and cleaning; waits for cooling are on the clock" if self.scale != CLOCK else "gaps: rod changes and cleaning"
        where = self.store.units.with_unit(self.store.joint.heat.measure_at_mm)
        return f"broken line: predicted {where} from the groove, band: nine of ten; dots: measured; waits {minutes(schedule.waiting_s)}"

    def _ticks(self, painter: QPainter, plan: Plan, base: float) -> None:
        total = self._total_s(plan)
        k = (self.width() - LEFT_PX - RIGHT_PX) * self.zoom / max(total, 1.0)
        step = next((s for s in (60, 300, 600, 900, 1800, 3600, 7200, 14400) if s * k >= 70), 28800)
        painter.setFont(font(11, family=CONDENSED))
        painter.setPen(QColor(self.theme.soft))
        for i in range(int(total // step) + 1):
            x = LEFT_PX + i * step * k - self.offset
            if LEFT_PX - 1 <= x <= self.width() - 30:
                painter.drawLine(QPointF(x, base), QPointF(x, base + 5))
                text = f"{i * step // 3600}:{i * step % 3600 // 60:02d}"
                painter.drawText(QRectF(x - 20, base + 4, 40, 14), Qt.AlignmentFlag.AlignCenter, text)

    def _overview(self, painter: QPainter) -> None:
        room = self.width() - LEFT_PX - RIGHT_PX
        painter.fillRect(QRectF(LEFT_PX, 26, room, 4), QColor(self.theme.line))
        painter.fillRect(QRectF(LEFT_PX + self.offset / self.zoom, 25, room / self.zoom, 6), QColor(self.theme.accent))

    def _say(self, painter: QPainter, text: str) -> None:
        painter.setPen(QColor(self.theme.soft))
        painter.setFont(font(13))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)

    # --- touching ----------------------------------------------------------------------------
    def post_at(self, x: float) -> Post | None:
        """The nearest post within half a hit width."""
        best = min(self.posts, key=lambda post: max(post.x0 - x, x - post.x1, 0.0), default=None)
        if best is None or max(best.x0 - x, x - best.x1, 0.0) > HIT_PX / 2:
            return None
        return best

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Select the bead of a post."""
        post = self.post_at(event.position().x())
        self.store.select(None if post is None else post.passes[0])

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Show the figures of the post under the pointer; on the clock, time and temperature anywhere."""
        self.cursor_x = event.position().x()
        post = self.post_at(self.cursor_x)
        self.setToolTip("" if post is None else bead_words(post.passes[0], self.store))
        super().update()

    def leaveEvent(self, event: QEvent) -> None:  # noqa: N802
        """No cursor without a pointer."""
        self.cursor_x = None
        super().update()

    def read(self, x: float) -> tuple[float, float, float, float] | None:
        """Seconds after the first arc at a place along the rail, and the likely, low and high temperature; None off the clock."""
        heat, schedule = self.store.heat, self._schedule()
        if heat is None or schedule is None:
            return None
        seconds = (x - LEFT_PX + self.offset) / ((self.width() - LEFT_PX - RIGHT_PX) * self.zoom) * schedule.end_s
        return (seconds, *heat.at(seconds)) if 0 <= seconds <= schedule.end_s else None

    def wheelEvent(self, event: QWheelEvent) -> None:  # noqa: N802
        """Zoom true time about the pointer."""
        if self.scale != CLOCK:
            return
        room = self.width() - LEFT_PX - RIGHT_PX
        x = event.position().x() - LEFT_PX + self.offset
        factor = 1.25 if event.angleDelta().y() > 0 else 0.8
        zoom = min(max(self.zoom * factor, 1.0), 40.0)
        self.offset = min(max(x * zoom / self.zoom - (event.position().x() - LEFT_PX), 0.0), room * (zoom - 1))
        self.zoom = zoom
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Arrows walk along the rail."""
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.store.select_step(step)


def _round_step(rough: float) -> float:
    power = 10 ** math.floor(math.log10(rough))
    return next(m * power for m in (1, 2, 5, 10) if m * power >= rough)
