"""Hood down: how a pass goes, from the choice of it to the look at it, as a pure function of state, event and time.

Events come from a meter or from a key; with the hood down no key ends a pass. What happened is a fact: an arc on a joint
that is too hot is recorded with a deviation, never refused. Every event has an outcome in every state.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from banister.core.value import Struct, field, replace

IDLE, COLD, HOT, READY, ARC, GAP, CHANGE, STOPPED, CLEAN, LOOK, DONE = (
    "idle", "cold", "hot", "ready", "arc", "gap", "change", "stopped", "clean", "look", "done",
)  # fmt: skip
STATES = (IDLE, COLD, HOT, READY, ARC, GAP, CHANGE, STOPPED, CLEAN, LOOK, DONE)
BEGIN, TEMP, TICK, ARC_ON, ARC_OFF, ENTER, SPACE, OTHER, STEP, FLAG, LEAVE, UNDO, METER_LOST, METER_BACK = (
    "begin", "temp", "tick", "arc-on", "arc-off", "enter", "space", "other-pass", "step", "flag", "leave", "undo", "meter-lost", "meter-back",
)  # fmt: skip
EVENTS = (BEGIN, TEMP, TICK, ARC_ON, ARC_OFF, ENTER, SPACE, OTHER, STEP, FLAG, LEAVE, UNDO, METER_LOST, METER_BACK)
CHANGE_S, STOPPED_S = 6.0, 90.0
"""The arc off so long is a change of rods, so long a stop."""
LEFT = "left"
"""The note that keeps the rod in hand of a pass that was left."""
BEFORE, UNDER = (COLD, HOT, READY), (GAP, CHANGE, STOPPED)


class Event(Struct, frozen=True, kw_only=True):
    """What happened: its name, when (s of any clock), and what it brings."""

    name: str
    t: float
    data: Any = None


class Entry(Struct, frozen=True, kw_only=True):
    """A record to be kept: its kind and its data; `of_pass` names the pass it belongs to."""

    kind: str
    of_pass: str = ""
    data: Mapping[str, Any] = field(default_factory=dict)


class Passing(Struct, frozen=True, kw_only=True):
    """How a pass stands: which one, its temperatures, the arc; `arc_s` and `arcs` of the rod in hand, `off_since` since the arc went out."""

    state: str = IDLE
    has_meter: bool = False
    key: str = ""
    low_c: float | None = None
    high_c: float | None = None
    temp_c: float | None = None
    t: float = 0.0
    arc_since: float = 0.0
    off_since: float = 0.0
    arc_s: float = 0.0
    arcs: int = 0
    rods: int = 0
    arc_again: bool = False
    """The arc burnt again after the pass was ended: asked at the look."""

    @property
    def gate(self) -> str:
        """What the temperature says: too cold, too hot, ready (also where none is known)."""
        if self.temp_c is None:
            return READY
        if self.low_c is not None and self.temp_c < self.low_c:
            return COLD
        return HOT if self.high_c is not None and self.temp_c > self.high_c else READY

    def arc_now_s(self, now: float) -> float:
        """Arc time of the rod in hand, the arc that burns counted."""
        return self.arc_s + (max(now - self.arc_since, 0.0) if self.state == ARC else 0.0)


Outcome = tuple[Passing, tuple[Entry, ...]]


def after(p: Passing, event: Event) -> Outcome:
    """The state after an event, and what is to be kept of it; time never goes back."""
    now = replace(p, t=max(p.t, event.t))
    return _ON[event.name](now, event.data)


def replayed(p: Passing, events: list[Event]) -> Outcome:
    """The state after several events, with all that is to be kept."""
    entries: tuple[Entry, ...] = ()
    for event in events:
        p, more = after(p, event)
        entries += more
    return p, entries


def _begin(p: Passing, data: Any) -> Outcome:
    if p.state not in (IDLE, DONE, *BEFORE):
        return p, ()
    chosen = data if isinstance(data, Mapping) else {}
    fresh = Passing(has_meter=p.has_meter, key=str(chosen.get("id", "")), low_c=chosen.get("low"), high_c=chosen.get("high"), temp_c=chosen.get("temp"), t=p.t)
    return replace(fresh, state=fresh.gate), ()


def _temperature(p: Passing, data: Any) -> Outcome:
    """A temperature: degC alone, or `c` with the probe it was read by."""
    told = dict(data) if isinstance(data, Mapping) else {"c": data}
    c = told.get("c")
    if not isinstance(c, int | float):
        return p, ()
    read = replace(p, temp_c=float(c))
    return (replace(read, state=read.gate) if p.state in BEFORE else read), (Entry(kind="temp", of_pass=p.key, data=told | {"c": float(c)}),)


def _tick(p: Passing, data: Any) -> Outcome:
    """Time passes: the gate follows the model's figure, a gap becomes a change of rods, a change a stop."""
    if p.state in BEFORE and isinstance(data, int | float):
        modelled = replace(p, temp_c=float(data))
        return replace(modelled, state=modelled.gate), ()
    if p.state == GAP and p.t - p.off_since > CHANGE_S:
        return replace(p, state=CHANGE), ()
    if p.state == CHANGE and p.t - p.off_since > STOPPED_S:
        return replace(p, state=STOPPED), ()
    return p, ()


def _arc_on(p: Passing, data: Any) -> Outcome:
    burning = replace(p, state=ARC, arc_since=p.t, arcs=p.arcs + 1)
    if p.state == IDLE:
        return p, (Entry(kind="note", data={"text": "arc with no pass chosen"}),)
    if p.state in (*BEFORE, DONE):
        entries = [Entry(kind="pass-begun", of_pass=p.key, data={"temp": p.temp_c})]
        if p.state in (COLD, HOT):
            limit = p.low_c if p.state == COLD else p.high_c
            rule = "preheat" if p.state == COLD else "interpass"
            entries.append(Entry(kind="deviation", of_pass=p.key, data={"rule": rule, "value": p.temp_c, "limit": limit}))
        return replace(burning, arc_s=0.0, arcs=1, rods=0), tuple(entries)
    if p.state == ARC:
        return p, ()
    if p.state in (CLEAN, LOOK):
        return replace(burning, arc_s=0.0, arcs=1, arc_again=True), (Entry(kind="note", of_pass=p.key, data={"text": "arc again after the pass was ended"}),)
    is_seen = p.has_meter and data is not None
    is_change = bool(data) if is_seen else p.t - p.off_since > CHANGE_S
    if p.state == STOPPED:
        paused = Entry(kind="note", of_pass=p.key, data={"text": "paused", "s": round(p.t - p.off_since, 1)})
        lit, entries_ = _new_rod(burning, p)
        return lit, (*entries_, paused)
    return _new_rod(burning, p) if is_change or (p.state == CHANGE and not is_seen) else (burning, ())


def _new_rod(burning: Passing, before: Passing) -> Outcome:
    """Another rod: the one before is kept."""
    return replace(burning, arc_s=0.0, arcs=1, rods=before.rods + 1), (_rod(before),)


def _rod(p: Passing) -> Entry:
    return Entry(kind="rod", of_pass=p.key, data={"n": p.rods + 1, "arc_s": round(p.arc_s, 2), "arcs": p.arcs})


def _arc_off(p: Passing, data: Any) -> Outcome:
    if p.state != ARC:
        return p, ()
    return replace(p, state=GAP, off_since=p.t, arc_s=p.arc_s + p.t - p.arc_since), ()


def _space(p: Passing, data: Any) -> Outcome:
    """Without a meter the key is the arc; with one it is nothing."""
    if p.has_meter:
        return p, ()
    return _arc_off(p, data) if p.state == ARC else _arc_on(p, None)


def _enter(p: Passing, data: Any) -> Outcome:
    if p.state in UNDER:
        left = float(data) if isinstance(data, int | float) else None
        ended = Entry(kind="pass-ended", of_pass=p.key, data={"left": left, "rods": p.rods + 1})
        return replace(p, state=CLEAN, rods=p.rods + 1), (_rod(p), ended)
    if p.state == CLEAN:
        return replace(p, state=LOOK), (Entry(kind="clean", of_pass=p.key, data=dict(data) if isinstance(data, Mapping) else {}),)
    if p.state == LOOK:
        measured = dict(data) if isinstance(data, Mapping) else {}
        return replace(p, state=DONE), ((Entry(kind="measure", of_pass=p.key, data=measured),) if measured else ())
    return p, ()


def _other(p: Passing, data: Any) -> Outcome:
    """Another pass: before the arc a note, after it a correction; the records move with it."""
    key = str(data or "")
    if not key or key == p.key or p.state in (IDLE, DONE):
        return replace(p, key=key or p.key) if p.state == DONE else p, ()
    changed = replace(p, key=key)
    if p.state in BEFORE:
        return changed, (Entry(kind="note", of_pass=key, data={"text": "other pass", "for": p.key}),)
    return changed, (Entry(kind="correct", of_pass=key, data={"from": p.key, "p": key}),)


def _step(p: Passing, data: Any) -> Outcome:
    """A turn, gouging or preheat by torch is done."""
    return p, ((Entry(kind="step", data={"what": str(data)}),) if data and p.state in (IDLE, DONE, *BEFORE) else ())


def _flag(p: Passing, data: Any) -> Outcome:
    return p, (Entry(kind="flag", of_pass=p.key, data=dict(data) if isinstance(data, Mapping) else {}),)


def _leave(p: Passing, data: Any) -> Outcome:
    """The view is left: an arc that burns is taken as out, the time of the rod in hand kept."""
    if p.state not in (ARC, *UNDER):
        return p, ()
    out = _arc_off(p, None)[0] if p.state == ARC else p
    return replace(out, state=STOPPED), (Entry(kind="note", of_pass=p.key, data={"text": LEFT, "arc_s": round(out.arc_s, 2), "arcs": out.arcs}),)


def _undo(p: Passing, data: Any) -> Outcome:
    """The last record counts no more: the view says which."""
    return p, ((Entry(kind="void", data={"of": data}),) if isinstance(data, int) else ())


def _meter_lost(p: Passing, data: Any) -> Outcome:
    return replace(p, has_meter=False), ()


def _meter_back(p: Passing, data: Any) -> Outcome:
    return replace(p, has_meter=True), ()


_ON: dict[str, Callable[[Passing, Any], Outcome]] = {
    BEGIN: _begin, TEMP: _temperature, TICK: _tick, ARC_ON: _arc_on, ARC_OFF: _arc_off, ENTER: _enter, SPACE: _space, OTHER: _other,
    STEP: _step, FLAG: _flag, LEAVE: _leave, UNDO: _undo, METER_LOST: _meter_lost, METER_BACK: _meter_back,
}  # fmt: skip
