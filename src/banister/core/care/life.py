"""The life of a rod: sealed, held, out, used, baked, scrap; a fold over its events, so that a wrong entry is corrected by another."""

from __future__ import annotations

from collections.abc import Sequence

from banister.core.care.classes import Care
from banister.core.remark import Figure, Remark, fault
from banister.core.value import Struct, replace

SEALED, HELD, OUT, USED, MUST_BAKE, BAKING, SCRAP = "sealed", "held", "out", "used", "must bake", "baking", "scrap"
UNSEAL, TAKE_OUT, BACK, USE, BAKE, BAKED, WET, CHIPPED = "unseal", "out", "back", "use", "bake", "baked", "wet", "chipped"
EVENTS = (UNSEAL, TAKE_OUT, BACK, USE, BAKE, BAKED, WET, CHIPPED)
SLACK_H = 1e-9


class Life(Struct, frozen=True, kw_only=True):
    """Where a rod stands: its state, hours out since the last bake, since when it is where it is, bakes had."""

    state: str = SEALED
    out_h: float = 0.0
    since_h: float = 0.0
    bakes: int = 0
    refused: Remark | None = None

    def clock_h(self, now_h: float) -> float:
        """Hours out since the last bake, those running now counted."""
        return self.out_h + (now_h - self.since_h if self.state == OUT else 0.0)


def lived(care: Care, events: Sequence[tuple[float, str]], life: Life | None = None) -> Life:
    """A rod after its events, in order; the first that cannot be is refused and ends the fold."""
    life = life or Life()
    for hour, event in events:
        if hour < life.since_h - SLACK_H:
            return _refused(life, "care.order", hour, event)
        life = _after(care, life, hour, event)
        if life.refused is not None:
            return life
    return life


def _refused(life: Life, code: str, hour: float, event: str) -> Life:
    return replace(life, refused=fault(code, f"{hour:g} h", event=Figure(f"care.{event}", "word"), state=Figure(f"care.{life.state}", "word"),
                                       out=Figure(60.0 * life.clock_h(hour), "minutes")))  # fmt: skip


def _after(care: Care, life: Life, hour: float, event: str) -> Life:
    if life.state in (USED, SCRAP):
        return _refused(life, "care.gone", hour, event)
    if event in (WET, CHIPPED):
        return replace(life, state=SCRAP, out_h=life.clock_h(hour), since_h=hour)
    if event == UNSEAL and life.state == SEALED:
        return replace(life, state=HELD, since_h=hour)
    if event == TAKE_OUT and life.state == HELD:
        return _taken_out(care, life, hour)
    if event == USE and life.state == OUT:
        return replace(life, state=USED, since_h=hour) if life.clock_h(hour) <= care.open_h + SLACK_H else _refused(life, "care.open", hour, event)
    if event == BACK and life.state == OUT:
        out = life.clock_h(hour)
        return replace(life, state=HELD if out <= care.open_h + SLACK_H else MUST_BAKE, out_h=out, since_h=hour)
    if event == BAKE and life.state in (MUST_BAKE, HELD, OUT):
        return _baking(care, life, hour)
    if event == BAKED and life.state == BAKING:
        if hour - life.since_h < care.bake_h - SLACK_H:
            return _refused(life, "care.short", hour, event)
        return replace(life, state=HELD, out_h=0.0, since_h=hour, bakes=life.bakes + 1)
    return _refused(life, "care.state", hour, event)


def _taken_out(care: Care, life: Life, hour: float) -> Life:
    """Held long enough the clock starts anew; with hours on it and held too briefly it stays where it is."""
    if not life.out_h or hour - life.since_h >= care.back_h - SLACK_H:
        return replace(life, state=OUT, out_h=0.0, since_h=hour)
    return _refused(life, "care.held", hour, TAKE_OUT)


def _baking(care: Care, life: Life, hour: float) -> Life:
    if care.never_baked:
        return _refused(life, "care.never", hour, BAKE)
    if life.bakes >= care.rebakes:
        return replace(life, state=SCRAP, out_h=life.clock_h(hour), since_h=hour)
    return replace(life, state=BAKING, out_h=life.clock_h(hour), since_h=hour)
