"""The practice bench from two metres: before the rod its mark, under the arc only the pacer's bar, after it the ruler and one line."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.drawing.advances import advance, elided
from banister.core.drawing.shapes import BOLD, NARROW, PLAIN, Box, Dot, Drawing, Lines, Rect, Shape, Text
from banister.core.practice.book import Session
from banister.core.practice.bout import BURNING, READING, READY, Bout
from banister.core.practice.pacer import NONE, STRAIGHT, Pacer
from banister.core.units import MM_PER_INCH
from banister.core.value import Struct
from banister.core.words import Speech

LINES, EDGE = 1080.0, 60.0
PRIMARY, SECOND, KEY_TEXT, HEAD_TEXT, KEY = 150.0, 60.0, 42.0, 50.0, 120.0
RULER = {"less10": -10.0, "less": -1.0, "more": 1.0, "more10": 10.0}
"""How many of the ruler's least steps a key moves the reading."""


class BenchPage(Struct, frozen=True, kw_only=True):
    """What is shown: size, the session, the rod in hand, the pacer and how long its arc burns; the line after the last rod, what a meter sees."""

    width: float
    height: float
    session: Session
    bout: Bout
    pacer: Pacer | None
    arc_s: float
    said: str = ""
    meter: str = ""
    simulated: bool = False
    sound: str = ""


class BenchPicture(Struct, frozen=True):
    """The page and where its keys are."""

    drawing: Drawing
    keys: dict[str, Box]


def bench_picture(page: BenchPage, say: Speech) -> BenchPicture:
    """The page as it stands."""
    scale = min(page.height / LINES, page.width / 1500.0)
    keys, shapes = _keys(page, scale, say)
    box = (0.0, 0.0, page.width, page.height)
    body = {READY: _ready, BURNING: _burning, READING: _reading}[page.bout.state]
    return BenchPicture(Drawing((Rect(box, "ground"), *_head(page, scale, say), *body(page, scale, say), *shapes), box), keys)


def _head(page: BenchPage, scale: float, say: Speech) -> Iterator[Shape]:
    y, edge = page.height - 60 * scale, EDGE * scale
    title = say("practice.title", drill=say(f"practice.drill.{page.session.drill}.title"), position=page.session.position, rod=page.session.rod,
                rods=say("practice.rods", n=len(page.session.rods)))  # fmt: skip
    right = page.width - edge
    if page.simulated:
        word, size = say("practice.simulated"), HEAD_TEXT * scale
        yield Text((right, y), word, "warning", size, "end", "simulated", face=BOLD)
        right -= advance(word, size, BOLD) + 30 * scale
    yield Text((edge, y), elided(title, right - edge, HEAD_TEXT * scale, BOLD), "text", HEAD_TEXT * scale, "start", "title", face=BOLD)
    if page.meter and page.bout.state != BURNING:
        meter = elided(page.meter, page.width - 2 * edge, KEY_TEXT * scale, NARROW)
        yield Text((edge, y - 66 * scale), meter, "soft", KEY_TEXT * scale, "start", "meter", face=NARROW)


def _ready(page: BenchPage, scale: float, say: Speech) -> Iterator[Shape]:
    """The mark, the amps, and one line of the rod before."""
    session, middle = page.session, page.width / 2
    target = say("practice.bench.free") if session.target_mm is None else say("practice.bench.target", mark=say.sized("long_length", session.target_mm))
    yield Text((middle, 0.60 * page.height), target, "text", _fitting(target, PRIMARY * scale, 0.9 * page.width), id="target", face=BOLD)
    amps = "" if session.amps is None else say.sized("current", session.amps)
    second = "   ".join(part for part in (amps, _beat_said(page.pacer, say)) if part)
    yield Text((middle, 0.44 * page.height), second, "text", _fitting(second, SECOND * scale, 0.9 * page.width), id="second")
    if page.said:
        yield Text((middle, 0.31 * page.height), page.said, "text", _fitting(page.said, SECOND * scale, 0.92 * page.width), id="said")
    if page.sound:
        sound = elided(page.sound, 0.9 * page.width, KEY_TEXT * scale, NARROW)
        yield Text((middle, 0.22 * page.height), sound, "soft", KEY_TEXT * scale, id="sound", face=NARROW)


def _beat_said(pacer: Pacer | None, say: Speech) -> str:
    if pacer is None:
        return ""
    if pacer.kind == NONE:
        return say("practice.bench.no_beat", beat=say.sized("fine_seconds", pacer.edge_s))
    return say(f"practice.bench.{pacer.kind}", beat=say.sized("fine_seconds", pacer.edge_s))


def _burning(page: BenchPage, scale: float, say: Speech) -> Iterator[Shape]:
    """The pacer's bar and nothing that must be read."""
    low, high, half = 0.2 * page.width, 0.8 * page.width, 0.09 * page.height
    middle = 0.52 * page.height
    pacer = page.pacer
    if pacer is not None and pacer.kind != NONE:
        yield Lines((((low, middle - 1.6 * half), (low, middle + 1.6 * half)), ((high, middle - 1.6 * half), (high, middle + 1.6 * half))), "soft", "edges")
        x = low + (high - low) * pacer.light(page.arc_s)
        if pacer.kind == STRAIGHT:
            x = low + (high - low) * ((page.arc_s / pacer.edge_s) % 1.0)
        yield Rect((x - 0.02 * page.width, middle - half, x + 0.02 * page.width, middle + half), "bead.lit", id="bar")
    else:
        yield Dot((page.width / 2, middle), half / 2, "bead.lit", id="burning")
    seconds = say.sized("seconds", page.arc_s, 0)
    yield Text((page.width / 2, 0.27 * page.height), seconds, "soft", SECOND * scale, id="seconds")


def _reading(page: BenchPage, scale: float, say: Speech) -> Iterator[Shape]:
    """The ruler: the reading as it stands, and what it is off the mark."""
    bout, middle = page.bout, page.width / 2
    if bout.run_out_mm is None:
        text = say("practice.bench.burnt", seconds=say.sized("seconds", bout.arc_s, 0))
        yield Text((middle, 0.55 * page.height), text, "text", _fitting(text, PRIMARY * scale, 0.9 * page.width), id="burnt", face=BOLD)
        return
    yield Text((middle, 0.72 * page.height), say("practice.bench.measure"), "text", SECOND * scale, id="measure")
    yield Text((middle, 0.53 * page.height), say.sized("long_length", bout.run_out_mm), "text", PRIMARY * scale, id="ruler", face=BOLD)
    yield Text((middle, 0.38 * page.height), off_said(bout.run_out_mm, page.session.target_mm, say), "text", SECOND * scale, id="off", face=PLAIN)


def off_said(run_out_mm: float, target_mm: float | None, say: Speech) -> str:
    """Long or short of the mark."""
    if target_mm is None:
        return ""
    off = run_out_mm - target_mm
    if abs(off) < 0.5:
        return say("practice.bench.on_mark")
    return say(f"practice.bench.{'long' if off > 0 else 'short'}", by=say.sized("long_length", abs(off)))


def _keys(page: BenchPage, scale: float, say: Speech) -> tuple[dict[str, Box], list[Shape]]:
    """The keys that live now, each a tile that can be touched."""
    names = {READY: ("space", "sound", "leave"), BURNING: ("tap", "space"), READING: ("less10", "less", "more", "more10", "enter", "back")}[page.bout.state]
    if page.bout.state == READING and page.bout.run_out_mm is None:
        names = ("enter", "back")
    gap, edge = 20 * scale, EDGE * scale
    width = (page.width - 2 * edge - (len(names) - 1) * gap) / len(names)
    boxes, shapes = dict[str, Box](), list[Shape]()
    words = [_key_word(name, page.bout.state, say) for name in names]
    size = min(_fitting(word, KEY_TEXT * scale, width - 12 * scale) for word in words)
    for i, (name, word) in enumerate(zip(names, words, strict=True)):
        x = edge + i * (width + gap)
        box = boxes[name] = (x, 30 * scale, x + width, (30 + KEY) * scale)
        shapes.append(Rect(box, "later", "soft", f"key:{name}"))
        shapes.append(Text(((box[0] + box[2]) / 2, (box[1] + box[3]) / 2), word, "text", size, face=NARROW))
    return boxes, shapes


def _key_word(name: str, state: str, say: Speech) -> str:
    if name in RULER:
        step = RULER[name] * ruler_mm(say)
        return f"{'+' if step > 0 else '-'} {say.sized('length', abs(step))}"
    return say(f"practice.key.{name}.{state}" if name == "space" else f"practice.key.{name}")


def ruler_mm(say: Speech) -> float:
    """The least step of the ruler: a millimetre, or a sixteenth of an inch."""
    return MM_PER_INCH / 16 if say.units.inches else 1.0


def _fitting(text: str, size: float, room: float) -> float:
    """A size of type at which a text fits."""
    wide = advance(text, size, BOLD)
    return size if wide <= room else size * room / wide
