"""The rack in the panel: what to take along, lots, what happens to rods as events in the journal, and taking a wrong one back."""

from __future__ import annotations

import math
from datetime import datetime
from functools import partial

from PySide6.QtWidgets import QListWidget

from banister.core.care.classes import class_of
from banister.core.care.life import BACK, BAKE, BAKED, CHIPPED, HELD, OUT, SEALED, TAKE_OUT, UNSEAL, USE, WET
from banister.core.care.of_plan import needs_of
from banister.core.care.rack import Rack, have_of
from banister.core.journal import folded
from banister.core.remark import Figure, Refused, Remark
from banister.desktop.app.style import bordered
from banister.desktop.app.theme import Theme
from banister.desktop.fields import FigureField, NameField
from banister.desktop.logbook import Logbook
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.rods.rack_view import RackWidget, rack_of
from banister.desktop.store import Store

ALL_EVENTS = (UNSEAL, TAKE_OUT, BACK, USE, BAKE, BAKED, WET, CHIPPED)
SURE = 0.95
MOST_SHOWN = 60


class RackPart(Panel):
    """What stands in the panel while the rack is at hand."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.column.setContentsMargins(0, 0, 0, 0)
        say = self.say
        self.remark(say("rack.how"))
        self.take_words = self.remark(kind="plain")
        self.quiver = FigureField(say("rack.quiver"), "count", self._set_quiver, low=1.0, high=500.0, optional=True)
        self.column.addWidget(self.quiver)
        self.bad = self.remark(kind="bad")
        self.heading(say("rack.event"), 14)
        self.lot = self.choice("rack.lot", {})
        self.count = FigureField(say("rack.count"), "count", lambda _: None, low=1.0, high=2000.0)
        self.count.edit.setText("1")
        self.column.addWidget(self.count)
        self.by = NameField(say("rack.by"))
        self.column.addWidget(self.by)
        self.acts = {what: self.button(f"rack.do.{what}", partial(self.happened, what)) for what in ALL_EVENTS}
        self.heading(say("rack.new_lot"), 14)
        self.rod = self.choice("rods.rod", {})
        self.name = NameField(say("rack.lot_name"))
        self.column.addWidget(self.name)
        self.rods = FigureField(say("rack.rods"), "count", lambda _: None, low=1.0, high=2000.0)
        self.column.addWidget(self.rods)
        self.button("rack.add_lot", self.add_lot)
        self.heading(say("rack.events"), 14)
        self.list = QListWidget()
        bordered(self.list)
        self.list.setMinimumHeight(140)
        self.list.setAccessibleName(say("rack.events"))
        self.column.addWidget(self.list)
        self.undo_button = self.button("rack.void", self.void)
        self.remark(say("rack.caution"))

    @property
    def view(self) -> RackWidget:
        """The picture it belongs to."""
        picture: RackWidget = self.window().work.rack  # type: ignore[attr-defined]
        return picture

    # --- intents -----------------------------------------------------------------------------
    def _set_quiver(self, value: float) -> Remark | None:
        self.view.quiver = 0 if math.isnan(value) else round(value)
        self.view.redraw()
        self._show(self.store.now)
        return None

    def happened(self, what: str) -> None:
        """Write an event of care; what cannot have been is said, and stands as refused in the list."""
        joint, count = self.store.joint, self._number(self.count)
        if joint is None or count is None or not self.lot.key:
            return
        self._logbook().write("care", joint.id, lot=self.lot.key, count=count, what=what, by=self.by.edit.text().strip())

    def add_lot(self) -> None:
        """A lot came: which rod, its name, how many."""
        name, size = self.name.edit.text().strip(), self._number(self.rods)
        if not name or size is None:
            self.bad.setText(self.say("rack.lot_missing"))
            self.bad.show()
            return
        if self._logbook().write("lot", rod=self.rod.key, lot=name, rods=size) is not None:
            self.lot.show_choice(name)

    def void(self) -> None:
        """The event that is marked counts no more."""
        row = self.list.currentRow()
        if row >= 0:
            self._logbook().void(self._numbers[row], self.say("rack.void.why"))

    def _logbook(self) -> Logbook:
        found: Logbook = self.window().logbook  # type: ignore[attr-defined]
        return found

    def _number(self, field: FigureField) -> int | None:
        try:
            return round(field.value())
        except Refused as refused:
            field.tell(self.say.sentence(refused.remarks[0]))
            return None

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """What to take, lots, events."""
        if new.joint is not None and new.differs(old, "joint", "plan", "records", "say", "heat", "view"):
            self._show(new)

    def _show(self, now: Snapshot) -> None:
        rack, say = rack_of(now), self.say
        self.quiver.show_value(float(self.view.quiver) if self.view.quiver else None, say)
        for field in (self.count, self.rods):
            field.show_unit(say)
        self._show_needs(now, rack)
        self.lot.set_choices({stock.lot: say("rack.lot_said", lot=stock.lot, rod=Figure(stock.rod, "rod")) for stock in rack.stocks})
        rods = {p.rod.id: say.figure(Figure(p.rod.id, "rod")) for p in now.plan.passes} if now.plan is not None else {}
        self.rod.set_choices(rods)
        self._show_events(now, rack)
        wrong = [*rack.remarks(self.store.now_h), *self.view.refused]
        self.bad.setText("\n".join(say.sentence(r) for r in wrong))
        self.bad.setVisible(bool(wrong))
        self._show_acts(rack)

    def _show_acts(self, rack: Rack) -> None:
        """Only what can happen to the lot can be pressed."""
        stock = next((s for s in rack.stocks if s.lot == self.lot.key), None)
        able = {UNSEAL: (SEALED,), TAKE_OUT: (HELD,), BACK: (OUT,), USE: (OUT,), WET: (OUT, HELD, SEALED), CHIPPED: (OUT, HELD)}
        for what, button in self.acts.items():
            is_baking = what in (BAKE, BAKED)
            button.setVisible(not is_baking or (stock is not None and stock.care.clocked))
            button.setEnabled(stock is not None and (is_baking or stock.count(*able.get(what, ())) > 0))

    def _show_needs(self, now: Snapshot, rack: Rack) -> None:
        if now.plan is None or now.joint is None or not now.feasible:
            self.take_words.setText("")
            return
        needs = needs_of(now.joint, now.plan)
        have = have_of(rack, list(needs))
        kept = {p.rod.id: class_of(p.rod).key for p in now.plan.passes}
        self.take_words.setText("\n".join(self.say("rack.take", rod=Figure(rod, "rod"), planned=str(need.planned), take=str(need.at(SURE)), have=str(have[rod]),
                                                   kept=self.say(f"care_class.{kept[rod]}")) for rod, need in needs.items()))  # fmt: skip

    def _show_events(self, now: Snapshot, rack: Rack) -> None:
        joint = now.joint
        assert joint is not None
        found = folded(now.records, joint.id)
        events = sorted((*found.lots, *found.care), key=lambda r: r.n)[-MOST_SHOWN:]
        self._numbers = [r.n for r in events]
        lines = []
        for r in events:
            when = datetime.fromisoformat(r.at or r.t).astimezone().strftime("%Y-%m-%d %H:%M")
            if r.k == "lot":
                line = self.say("rack.row.lot", when=when, lot=str(r.d.get("lot", "")), n=str(r.d.get("rods", "")), rod=Figure(str(r.d.get("rod", "")), "rod"))
            else:
                what = self.say(f"care.{r.d.get('what')}") if r.d.get("what") in ALL_EVENTS else str(r.d.get("what"))
                by = str(r.d.get("by", ""))
                line = self.say("rack.row.care", when=when, n=str(r.d.get("count", "")), what=what, lot=str(r.d.get("lot", ""))) + (f", {by}" if by else "")
            if r.n in rack.refused:
                line += f". {self.say('rack.refused')}: {self.say.sentence(rack.refused[r.n])}"
            lines.append(line)
        self.list.clear()
        self.list.addItems(lines)
        self.list.scrollToBottom()
        self.undo_button.setEnabled(bool(lines))
