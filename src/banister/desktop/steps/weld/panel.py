"""Weld: how far the joint is, the way to the joint, a temperature that was read, deviations and how they were disposed of."""

from __future__ import annotations

from PySide6.QtWidgets import QListWidget

from banister.core.follow.factor import Own
from banister.core.follow.facts import POSSIBLE_C, Deviation
from banister.core.follow.hands import Hand, hands_of, offered, recorded
from banister.core.follow.metered import KIND_OF_RULE
from banister.core.follow.rest import followed_said
from banister.core.remark import Figure, Refused
from banister.core.under_way import Welded
from banister.desktop.app.style import bordered
from banister.desktop.app.theme import Theme
from banister.desktop.fields import FigureField, NameField
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.desktop.weld.simulated import SPEEDS, TRIAL_FAULTS
from banister.devices.speeds import ARC_METER

DISPOSITIONS = ("accept", "ground", "rewelded", "referred")
HANDS = ("0.8", "1.0", "1.2")


class WeldPanel(Panel):
    """What was welded of the shown joint, and what is to be done about it."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.heading(say("step.weld"))
        self.state = self.remark(kind="plain")
        self.go = self.button("weld_step.go", self.to_the_joint, tip=True)
        self.changed = self.remark()
        self.hands = self.remark()
        self.keep_hands = self.button("weld_step.hands.keep", self.keep_own, tip=True)
        self.go_by = self.button("weld_step.hands.go_by", self.go_by_own, tip=True)
        self.temp = FigureField(say("weld_step.temp"), "temperature", lambda _: None, low=POSSIBLE_C[0], high=POSSIBLE_C[1])
        self.temp.edit.returnPressed.connect(self.take_temperature)
        self.column.addWidget(self.temp)
        self.take = self.button("weld_step.take", self.take_temperature)
        self.paper = self.button("weld_step.paper", self.from_paper, tip=True)
        self.meter_said = self.remark()
        self.devices = self.button("weld_step.devices", self.choose_devices)
        self.heading(say("weld_step.deviations"), 14)
        self.no_deviations = self.remark(say("weld_step.no_deviations"))
        self.list = QListWidget()
        bordered(self.list)
        self.list.setAccessibleName(say("weld_step.deviations"))
        self.list.setMinimumHeight(90)
        self.list.currentRowChanged.connect(lambda _: self._show_buttons())
        self.column.addWidget(self.list)
        self.as_ = self.choice("weld_step.as", {key: say(f"disposition.{key}") for key in DISPOSITIONS})
        self.why, self.by = NameField(say("weld_step.why")), NameField(say("rack.by"))
        self.drafts = (self.temp, self.why)
        self.column.addWidget(self.why)
        self.column.addWidget(self.by)
        self.dispose_button = self.button("weld_step.dispose", self.dispose)
        self.refused = self.refusal()
        self.heading(say("weld_step.try"), 14)
        self.remark(say("weld_step.try.how"))
        self.speed = self.choice("weld_step.speed", {str(speed): say("weld_step.times", n=str(speed)) for speed in SPEEDS})
        self.speed.show_choice("10")
        self.hand = self.choice("weld_step.hand", {hand: say(f"weld_step.hand.{hand}") for hand in HANDS})
        self.hand.show_choice("1.0")
        self.amiss = self.choice("weld_step.amiss", {fault: say(f"weld_step.amiss.{fault or 'none'}") for fault in TRIAL_FAULTS})
        self.try_button = self.button("weld_step.simulate", self.simulate)
        self.remark(say("weld_step.caution"))
        self.column.addStretch(1)
        self._deviations: list[Deviation] = []

    # --- intents -----------------------------------------------------------------------------
    def to_the_joint(self) -> None:
        """The page at the joint, full screen."""
        self.window().weld()  # type: ignore[attr-defined]

    def simulate(self) -> None:
        """A simulated welder welds the next pass in fast motion, in a trial that is kept nowhere."""
        self.window().weld(simulate=(float(self.speed.key or "10"), float(self.hand.key or "1.0"), self.amiss.key))  # type: ignore[attr-defined]

    def from_paper(self) -> None:
        """What was noted by hand is entered later."""
        self.window().open_view("paper")  # type: ignore[attr-defined]

    def keep_own(self) -> None:
        """The figures of this welder's hand are kept for the next job."""
        joint = self.store.joint
        found = self._worth_keeping()
        if joint is not None and found:
            self.keep_in_library(lambda library: library.keeping_hands(found), "hands.json", joint.welder, self.hands)

    def go_by_own(self) -> None:
        """What is known of this welder from earlier jobs is gone by from the first bead."""
        joint, known = self.store.joint, self._offered()
        if joint is not None and known:
            self.window().logbook.write("hands", joint.id, of=recorded(known))  # type: ignore[attr-defined]

    def _worth_keeping(self) -> tuple[Hand, ...]:
        """Sure figures of the joint's welder; none that a simulator told."""
        joint, welded = self.store.joint, self.store.welded
        if joint is None or welded is None or any(facts.simulated for facts in welded.told.passes.values()):
            return ()
        return hands_of(welded.known.own, joint.welder, joint.piece.position, self.store.today)

    def _offered(self) -> dict[str, Own]:
        """What may be gone by: while nothing is welded, and nothing else is gone by."""
        joint, now = self.store.joint, self.store.now
        is_begun = self.store.welded is not None or self.store.is_behind
        if joint is None or is_begun or now.issued is None or any(r.k == "hands" and r.j == joint.id for r in now.records):
            return {}
        rods = [use.rod for use in joint.working.rods]
        return offered(self.store.library.hands, joint.welder, rods, joint.piece.position, self.store.today)

    def choose_devices(self) -> None:
        """Which line each device is on, tried at once."""
        self.window().open_view("devices")  # type: ignore[attr-defined]

    def take_temperature(self) -> None:
        """A temperature that was read at the joint goes into the journal."""
        joint = self.store.joint
        if joint is None:
            return
        try:
            c = self.temp.value()
        except Refused as refused:
            self.temp.tell(self.say.sentence(refused.remarks[0]))
            return
        if self.window().logbook.write("temp", joint.id, c=round(c, 1)) is not None:  # type: ignore[attr-defined]
            self.temp.empty()

    def dispose(self) -> None:
        """How a deviation was disposed of, by whom and why."""
        row, why = self.list.currentRow(), self.why.edit.text().strip()
        joint = self.store.joint
        if joint is None or not 0 <= row < len(self._deviations):
            return
        if not why:
            self.refused.tell(self.say("weld_step.why_missing"))
            return
        of = self._deviations[row].n
        by = self.by.edit.text().strip()
        written = self.window().logbook.write("disposition", joint.id, of=of, why=why, by=by, **{"as": self.as_.key})  # type: ignore[attr-defined]
        if written is not None:
            self.why.empty()

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """How far it is, what it came to, what waits."""
        joint, say = new.joint, new.say
        if joint is None or not new.differs(old, "joint", "plan", "records", "issued", "say", "view", "followed"):
            return
        self.temp.show_unit(say)
        welded = self.store.welded
        self.go.setText(say("weld_step.go" if new.issued is not None and new.stands else "weld_step.issue_and_go"))
        self.go.setEnabled(new.feasible)
        self.paper.setEnabled(new.issued is not None)
        self.try_button.setEnabled(new.feasible)
        self.refused.tell("")
        self._show_state(new, welded)
        self._show_hands(new)
        self._deviations = list(welded.told.deviations) if welded is not None else []
        self.list.clear()
        self.list.addItems([self._deviation_said(one) for one in self._deviations])
        for part in (self.list, self.as_, self.why, self.by, self.dispose_button):
            part.setVisible(bool(self._deviations))
        self.no_deviations.setVisible(not self._deviations and not self.store.is_behind)
        told = [say("weld_step.device_at", device=say(f"devices.{line.device}"), line=Figure(line.path, "name")) for line in new.view.lines]
        self.meter_said.setText("\n".join(told) if new.view.line_of(ARC_METER) is not None else "\n".join((say("weld_step.no_meter"), *told)))
        self._show_buttons()

    def _show_state(self, new: Snapshot, welded: Welded | None) -> None:
        say = self.say
        if welded is None:
            word = "behind" if self.store.is_behind else "none" if new.issued is not None else "not_issued"
            self.state.setText(say(f"weld_step.{word}"))
            self.changed.hide()
            return
        rest = welded.now.rest
        lines = [say("weld_step.state", n=str(len(welded.now.welded)), of=str(len(welded.now.plan.passes)), rods=str(sum(p.rod_count for p in rest)))]
        if rest:
            lines.append(say("weld_step.next", number=str(rest[0].number), rod=Figure(rest[0].rod.id, "rod"), amps=Figure(rest[0].amps, "current")))
        if welded.now.taken_as:
            lines.append(say("weld_step.taken", n=len(welded.now.taken_as)))
        if any(facts.simulated for facts in welded.told.passes.values()):
            lines.append(say("weld_step.simulated"))
        self.state.setText("\n".join(lines))
        hands = [own for own in welded.known.own.values() if own.looks]
        ratio = max(hands, key=lambda own: own.looks).ratio if hands else 1.0
        said = followed_said(welded.now, ratio, len(welded.now.welded), say)
        self.changed.setText(said)
        self.changed.setVisible(bool(said))

    def _show_hands(self, new: Snapshot) -> None:
        """What is known of the welder's hand: from earlier jobs before the first bead, from this one after enough of them."""
        say, known, own = self.say, self._offered(), self._worth_keeping()
        lines = [self._hand_said(new, rod, one) for rod, one in known.items()]
        lines += [say("weld_step.hands.own", rod=Figure(hand.rod, "rod"), share=Figure(round(100 * (hand.own.ratio - 1)), "percent"),
                      sd=Figure(round(100 * hand.own.sd_f), "percent"), n=hand.own.looks) for hand in own]  # fmt: skip
        self.hands.setText("\n".join(line for line in lines if line))
        self.hands.setVisible(bool(lines))
        self.go_by.setVisible(bool(known))
        self.keep_hands.setVisible(bool(own))

    def _hand_said(self, new: Snapshot, rod: str, own: Own) -> str:
        """The welder's own run-out beside the planned one, for the first pass with the rod."""
        p = next((p for p in new.issued.plan.passes if p.rod.id == rod), None) if new.issued is not None else None
        if p is None:
            return ""
        mine = p.rod.run_out_mm(own.asked(p.area_mm2))
        planned = Figure(p.run_out_mm, "long_length")
        return self.say("weld_step.hands.known", rod=Figure(rod, "rod"), mine=Figure(mine, "long_length"), planned=planned, n=own.looks)

    def _deviation_said(self, one: Deviation) -> str:
        say, kind = self.say, KIND_OF_RULE.get(one.rule, "temperature")
        value = say.sized(kind, one.value) if one.value is not None else ""
        limit = say.sized(kind, one.limit) if one.limit is not None else ""
        state = say(f"disposition.{one.as_}") + (f": {one.why}" if one.why else "") if one.as_ in DISPOSITIONS else say("weld_step.open")
        welded = self.store.welded
        number = next((str(p.number) for p in welded.now.plan.passes if p.key == one.key), one.key) if welded is not None else one.key
        return say("weld_step.deviation", number=number, rule=say(f"deviation.{one.rule}"), value=value, limit=limit, state=state)

    def _show_buttons(self) -> None:
        row = self.list.currentRow()
        self.dispose_button.setEnabled(0 <= row < len(self._deviations))
