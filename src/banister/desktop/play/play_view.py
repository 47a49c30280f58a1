"""A section to play with: the mouse aims and lays, two uprights set amps and speed; the plan's own next bead is shown beside where it is wanted."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLabel, QPushButton, QSlider, QVBoxLayout, QWidget

from banister.core.drawing.charts.play_picture import Staged, play_picture
from banister.core.drawing.charts.window_bar import Gauge
from banister.core.drawing.shapes import Drawing
from banister.core.job import Job
from banister.core.joint.faults import joint_faults
from banister.core.judge.passes import energy_window
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Pass
from banister.core.play.hand import MOST_BEADS, WIDEST_CORES, ByHand, Hand, Play, begun, by_hand, usual_hand
from banister.core.play.said import bead_said, stands_said
from banister.core.play.sound import SoundNext, sound_next
from banister.core.remark import Remark
from banister.core.value import replace
from banister.core.words import capital
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import BAD, SOFT, WARN, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView, WindowBar
from banister.desktop.errands import PLAN, Errand
from banister.desktop.fields import ChoiceField, FigureField
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

PLAY = "play"
AMPS_STEP, SPEED_STEP, AIM_STEP_MM = 5, 1.05, 0.5
AMPS_BEYOND, SLOWEST, FASTEST = 0.6, 30, 600
"""Amps go so far beside what the rod wants; speeds in mm/min."""
MOST_SAID = 4


class PlaySection(ChartView):
    """The section; the pointer aims, a release lays."""

    aimed = Signal(float)
    released = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.play: Play | None = None
        self.ghost: ByHand | None = None
        self.sound: Pass | None = None
        self.picture: Staged | None = None
        self.setMinimumSize(420, 320)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("play.picture"))

    def made(self) -> Drawing | None:
        """The picture for the present size."""
        if self.play is None or self.width() < 200:
            return None
        say = self.store.say
        self.picture = play_picture(self.play, self.ghost, self.sound, say, (float(self.width()), float(self.height())))
        self.setAccessibleDescription(" ".join((bead_said(self.ghost, say) if self.ghost is not None else "", stands_said(self.play, say))))
        return self.picture.drawing

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The aim follows the pointer."""
        if self.picture is not None:
            self.aimed.emit(self.picture.stage.aim_mm(*self.point(event.position())))

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """The aim, where there is no pointer that hovers."""
        self.setFocus()
        self.mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Let go, and the bead lies."""
        if event.button() == Qt.MouseButton.LeftButton and self.rect().contains(event.position().toPoint()):
            self.released.emit()


class PlayDialog(Beside):
    """The section large, hand and figures at its right. Nothing of it goes into the job."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1240, 760)
        self.store, say = store, store.say
        self.play: Play | None = None
        self.hand: Hand | None = None
        self._of: tuple[object, ...] = ()
        """The joint that is played with, and what of it makes its section: a name typed elsewhere takes no bead off."""
        self.setWindowTitle(say("play.window"))
        self.section = PlaySection(store, theme)
        self.section.aimed.connect(self.aim)
        self.section.released.connect(self.lay)
        self.title, self.wrong, self.keys = QLabel(), QLabel(), QLabel(say("play.keys"))
        self.title.setFont(font(15))
        for label in (self.title, self.wrong, self.keys):
            label.setWordWrap(True)
        tint(self.wrong, WARN)
        self.cannot = QLabel()
        self.cannot.setWordWrap(True)
        self.cannot.setFont(font(15))
        tint(self.cannot, BAD)
        tint(self.keys, SOFT)
        self.start = ChoiceField(say("play.start"), {})
        self.start.chosen.connect(lambda key: self.begin(int(key)))
        self.rod = ChoiceField(say("play.rod"), {})
        self.rod.chosen.connect(self.take_rod)
        self.width_field = FigureField(say("play.width"), "length", self._carry, low=0.0, high=60.0)
        self.width_field.setToolTip(say("play.width.tip"))
        self.amps, self.amps_said = self._upright(say("play.amps"), self._set_amps)
        self.speed, self.speed_said = self._upright(say("play.speed"), self._set_speed)
        self.energy = WindowBar(theme)
        self.sound = QCheckBox(say("play.show_plan"))
        self.sound.setToolTip(say("play.show_plan.tip"))
        self.sound.toggled.connect(lambda _: self._ask_plan())
        self.lay_button, self.off_button, self.anew_button = (self._button(key, run) for key, run in (
            ("play.lay", self.lay), ("play.off", self.take_off), ("play.anew", self.anew)))  # fmt: skip
        self._place()
        store.changed.connect(self.show_job)
        self.show_job(None, store.now)
        self.section.setFocus()

    # --- what it is made of ------------------------------------------------------------------
    def _upright(self, title: str, moved: Callable[[int], None]) -> tuple[QSlider, QLabel]:
        slider, said = QSlider(Qt.Orientation.Vertical), QLabel()
        slider.setAccessibleName(title)
        slider.setMinimumHeight(120)
        slider.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        slider.valueChanged.connect(moved)
        said.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        said.setFont(font(17))
        return slider, said

    def _button(self, key: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(self.store.say(key))
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.clicked.connect(lambda _checked=False: run())
        return button

    def _place(self) -> None:
        say, column, uprights, row = self.store.say, QVBoxLayout(), QGridLayout(), QHBoxLayout(self)
        self.side = QWidget()
        upper: tuple[QWidget, ...] = (self.title, self.start, self.rod, self.width_field)
        lower: tuple[QWidget, ...] = (self.energy, self.wrong, self.sound, self.lay_button, self.off_button, self.anew_button, self.keys)
        for widget in upper:
            column.addWidget(widget)
        for i, (word, slider, said) in enumerate((("play.amps", self.amps, self.amps_said), ("play.speed", self.speed, self.speed_said))):
            name = QLabel(say(word))
            name.setAlignment(Qt.AlignmentFlag.AlignHCenter)
            uprights.addWidget(name, 0, i)
            uprights.addWidget(slider, 1, i, Qt.AlignmentFlag.AlignHCenter)
            uprights.addWidget(said, 2, i)
        column.addLayout(uprights, 1)
        for widget in lower:
            column.addWidget(widget)
        self.side.setLayout(column)
        self.side.setFixedWidth(290)
        row.addWidget(self.section, 1)
        row.addWidget(self.cannot, 1)
        row.addWidget(self.side)

    # --- the joint ---------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Another joint, section or plan is begun anew; other units are shown."""
        joint = new.joint
        if joint is None:
            return
        say, of = new.say, (joint.id, inputs_of(joint), new.plan if new.feasible else None)
        self.title.setText(say("play.title", joint=joint.id, name=joint.name))
        if of != self._of:
            self._of, faults = of, joint_faults(joint)
            passes = new.plan.passes if new.plan is not None and new.feasible else ()
            starts = {"0": say("play.start.bare"), **{str(p.number): say("play.start.after", n=str(p.number)) for p in passes[:-1]}}
            self.start.set_choices(starts)
            self.side.setEnabled(not faults)
            self.section.setVisible(not faults)
            self.cannot.setVisible(bool(faults))
            self.cannot.setText("\n".join(say.faults(faults)))
            if not faults:
                self.begin(0)
        elif new.differs(old, "say"):
            self._show_rods(new.job)
            self._show()

    def begin(self, count: int) -> None:
        """Begin on the joint with so many passes of its plan welded, from the side that comes next."""
        joint, job, plan = self.store.now.joint, self.store.job, self.store.now.plan
        if joint is None or job is None:
            return
        passes = plan.passes if plan is not None else ()
        self.start.show_choice(str(count))
        self.play = begun(joint, job.rods_by_id, passes, count)
        self._show_rods(job)
        named = passes[count].rod.id if count < len(passes) else next(iter(job.rods_by_id), "")
        self.rod.show_choice(named)
        self.hand = None
        self.take_rod(named)
        self._ask_plan()

    def _show_rods(self, job: Job | None) -> None:
        self.rod.set_choices({} if job is None else {rod.id: self.store.say.units.rod(rod.id) for rod in job.rods})

    def take_rod(self, key: str) -> None:
        """Another rod, at its usual current and in the middle of what a hand can hold; the aim stays."""
        job = self.store.job
        rod = None if job is None else job.rods_by_id.get(key)
        if rod is None or self.play is None:
            return
        aim, width = (self._middle(), 0.0) if self.hand is None else (self.hand.aim_mm, self.hand.width_mm)
        self._takes(replace(usual_hand(self.play, rod, aim), width_mm=min(width, WIDEST_CORES * rod.diameter_mm)))

    def _middle(self) -> float:
        assert self.play is not None
        left, right = self.play.side.groove.edges_x
        return (left + right) / 2 if not self.play.gap_is_open else 0.0

    # --- the hand ----------------------------------------------------------------------------
    def _takes(self, hand: Hand) -> None:
        self.hand = hand
        self._show()

    def aim(self, across_mm: float) -> None:
        """Aim elsewhere."""
        if self.hand is not None and self.play is not None:
            low, high = self.play.reach_mm
            self._takes(replace(self.hand, aim_mm=min(max(across_mm, low), high)))

    def _set_amps(self, amps: int) -> None:
        if self.hand is not None and round(self.hand.amps) != amps:
            self._takes(replace(self.hand, amps=float(amps)))

    def _set_speed(self, speed: int) -> None:
        if self.hand is not None and round(self.hand.travel_mm_min) != speed:
            self._takes(replace(self.hand, travel_mm_min=float(speed)))

    def _carry(self, width_mm: float) -> Remark | None:
        if self.hand is not None:
            self._takes(replace(self.hand, width_mm=min(width_mm, WIDEST_CORES * self.hand.rod.diameter_mm)))
        return None

    # --- beads -------------------------------------------------------------------------------
    def lay(self) -> None:
        """Lay the bead that is shown, if it can lie so."""
        ghost = self.section.ghost
        if self.play is not None and ghost is not None and ghost.refusal is None and len(self.play.laid) < MOST_BEADS:
            self._stands(self.play.with_bead(ghost))

    def take_off(self) -> None:
        """Take the last bead off."""
        if self.play is not None and self.play.laid:
            self._stands(self.play.without_last())

    def anew(self) -> None:
        """As it was begun."""
        if self.play is not None and self.play.laid:
            self._stands(self.play.bare())

    def _stands(self, play: Play) -> None:
        self.play = play
        self._show()
        self._ask_plan()

    def _ask_plan(self) -> None:
        """What a sound plan would lay here, beside the window."""
        self.section.sound = None
        if self.play is None or not self.sound.isChecked():
            self.section.redraw()
            return
        self.store.errands.run(Errand(PLAN, PLAY, PLAY, sound_next, (self.play,), self._arrived))

    def _arrived(self, found: SoundNext) -> None:
        self.section.sound = found.next
        self.sound.setText(self.store.say("play.show_plan") if found.next is not None else self.store.say("play.show_plan.none"))
        self.section.redraw()

    # --- showing -----------------------------------------------------------------------------
    def _show(self) -> None:
        play, hand, say = self.play, self.hand, self.store.say
        if play is None or hand is None:
            return
        ghost = by_hand(play, hand)
        self.section.play, self.section.ghost = play, ghost
        self.section.redraw()
        rod = hand.rod
        for slider, low, high, value in ((self.amps, AMPS_BEYOND * rod.amps_low, rod.amps_high / AMPS_BEYOND, hand.amps),
                                         (self.speed, SLOWEST, FASTEST, hand.travel_mm_min)):  # fmt: skip
            slider.blockSignals(True)
            slider.setRange(round(low), round(high))
            slider.setValue(round(value))
            slider.blockSignals(False)
        self.amps_said.setText(say.sized("current", hand.amps))
        self.speed_said.setText(say.sized("speed", hand.travel_mm_min))
        self.width_field.show_value(hand.width_mm, say)
        wrong = [] if ghost.refusal is not None else [capital(say.sentence(remark)) for remark in ghost.remarks]
        more = [say("play.more", n=len(wrong) - MOST_SAID)] if len(wrong) > MOST_SAID else []
        self.wrong.setText("\n".join([*wrong[:MOST_SAID], *more]))
        self.energy.setVisible(ghost.found is not None)
        if ghost.found is not None:
            quantity, window = energy_window(play.joint, ghost.found)
            value = ghost.found.arc_energy_kj_mm if quantity == "arc_energy" else ghost.found.heat_input_kj_mm
            self.energy.show_gauge(Gauge(capital(say(f"quantity.{quantity}")), value, "energy", window), say)
        self.lay_button.setEnabled(ghost.refusal is None and len(play.laid) < MOST_BEADS)
        self.off_button.setEnabled(bool(play.laid))
        self.anew_button.setEnabled(bool(play.laid))

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down: amps; left and right: speed; comma and full stop: the aim; Enter lays, Backspace takes off, Space shows the plan."""
        hand, key = self.hand, Qt.Key(event.key())
        if hand is None or not self.section.hasFocus():
            super().keyPressEvent(event)
            return
        steps: dict[Qt.Key, Callable[[], object]] = {
            Qt.Key.Key_Up: lambda: self.amps.setValue(self.amps.value() + AMPS_STEP),
            Qt.Key.Key_Down: lambda: self.amps.setValue(self.amps.value() - AMPS_STEP),
            Qt.Key.Key_Right: lambda: self.speed.setValue(round(hand.travel_mm_min * SPEED_STEP + 0.5)),
            Qt.Key.Key_Left: lambda: self.speed.setValue(round(hand.travel_mm_min / SPEED_STEP - 0.5)),
            Qt.Key.Key_Comma: lambda: self.aim(hand.aim_mm - AIM_STEP_MM), Qt.Key.Key_Period: lambda: self.aim(hand.aim_mm + AIM_STEP_MM),
            Qt.Key.Key_Return: self.lay, Qt.Key.Key_Enter: self.lay, Qt.Key.Key_Backspace: self.take_off, Qt.Key.Key_Space: self.sound.toggle,
        }  # fmt: skip
        if key in steps:
            steps[key]()
        else:
            super().keyPressEvent(event)

    def stop(self) -> None:
        """Leave it unplanned."""
        self.store.stop(PLAY)
