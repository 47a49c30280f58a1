"""What the program says: a table of words by key, and the figures put into them in the units that are worked in.

A second language is a second table. No other place writes a sentence.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping, Sequence

from banister.core.remark import INSIDE, Figure, Remark
from banister.core.units import DEGREE, KINDS, Units, clock, minutes
from banister.core.value import Struct

Entry = str | Mapping[str, str]
NOT_SET = "window.none"
ROUND_FIGURE = re.compile(r"\{=([^|{}]*)\|([^|{}]*)\}")
"""A round figure of experience stands in a sentence as people of either unit say it: {=15 to 25 mm|5/8 to 1 in}."""


class Words:
    """All text by key. An entry may have two forms, `one` and `other`, told by the figure `n`."""

    def __init__(self, entries: Mapping[str, Entry]) -> None:
        self.entries = entries

    def form(self, key: str, n: object = None) -> str:
        """The entry of a key; KeyError names a key that has none."""
        entry = self.entries[key]
        return entry if isinstance(entry, str) else entry["one" if n == 1 else "other"]

    def __contains__(self, key: str) -> bool:
        return key in self.entries


class Speech(Struct, frozen=True):
    """Words and units together: how the program talks to one user."""

    words: Words
    units: Units = Units()

    def __call__(self, key: str, /, **figures: Figure | str | int | float) -> str:
        """The words of a key with its figures; numbers without a kind are written as they are."""
        n = figures.get("n")
        form = self.words.form(key, n.value if isinstance(n, Figure) else n)
        if "{=" in form:
            form = ROUND_FIGURE.sub(lambda both: both[2 if self.units.inches else 1], form)
        return form.format(**{name: self.figure(f) if isinstance(f, Figure) else f for name, f in figures.items()}) if figures else form

    def sized(self, kind: str, value: float, digits: int | None = None) -> str:
        """A figure of a measured kind with its unit."""
        return self.units.shown(kind, value, digits)

    def figure(self, figure: Figure) -> str:
        """A figure as it stands in a sentence."""
        value, kind = figure
        if isinstance(value, tuple):
            return self._several(value, kind)
        if isinstance(value, str):
            return self(value) if kind == "word" else self.units.rod(value) if kind == "rod" else value
        if kind == "duration":
            return minutes(value) if math.isfinite(value) else self("time.never")
        if kind == "clock":
            return clock(value) if math.isfinite(value) else self("time.never")
        return self.units.shown(kind, value)

    def _several(self, values: tuple[float | str | None, ...], kind: str) -> str:
        if kind == "passes":
            return self.passes([int(v) for v in values if isinstance(v, float | int)])
        if kind in ("words", "names", "rods"):
            one = {"words": "word", "names": "name", "rods": "rod"}[kind]
            return ", ".join(self.figure(Figure(v, one)) for v in values if isinstance(v, str))
        low, high = (v if isinstance(v, float | int) else None for v in values)
        return self.window(low, high, kind)

    def window(self, low: float | None, high: float | None, kind: str) -> str:
        """A window: from one bound to the other, from one on, up to one, or not set."""
        low, high = (None if v is None or math.isinf(v) else v for v in (low, high))
        if low is not None and high is not None:
            first = self._bare(low, kind)
            return self("window.both", low=first, high=self.figure(Figure(high, kind)))
        if low is not None:
            return self("window.low", low=self.figure(Figure(low, kind)))
        return self(NOT_SET) if high is None else self("window.high", high=self.figure(Figure(high, kind)))

    def _bare(self, value: float, kind: str) -> str:
        return self.units.text(kind, value) if kind in KINDS and not KINDS[kind].closed_up else self.figure(Figure(value, kind))

    # --- remarks ------------------------------------------------------------------------------
    def text(self, remark: Remark) -> str:
        """What a remark states, without a full stop; the side first, where a joint is welded from two."""
        text = self(f"remark.{remark.code}.text", **remark.figures)
        return self("side.remark", side=self(f"side.{remark.place.side}"), text=text) if remark.place.side else text

    def remedy(self, remark: Remark) -> str:
        """What would mend it, '' where there is nothing to mend."""
        if remark.verdict == INSIDE:
            return ""
        key = f"remark.{remark.code}.remedy"
        plain = self(key, **remark.figures) if key in self.words else ""
        if remark.mends is None:
            return plain
        freed = self("freed.by", changes="; ".join(self.text(r) for r in remark.mends)) if remark.mends else self("freed.none")
        return f"{plain} {freed}".strip()

    def title(self, remark: Remark) -> str:
        """What a remark is about, for the head of a line."""
        return self(f"remark.{remark.code}.title", **remark.figures)

    def why(self, remark: Remark) -> str:
        """Why it matters, '' where that is not said."""
        key = f"remark.{remark.code}.why"
        return self(key, **remark.figures) if key in self.words else ""

    def basis(self, remark: Remark) -> str:
        """Where the window of a remark comes from, '' where it has none."""
        return self(f"basis.{remark.basis}") if remark.basis else ""

    def source(self, remark: Remark) -> str:
        """The rule or clause behind a remark: that of a shipped rule by its words, one of the user's own as it is."""
        if f"clause.{remark.source}" in self.words:
            return self(f"clause.{remark.source}")
        head, _, reason = remark.source.partition(": ")
        if f"rule.{head}" in self.words:
            return self(f"rule.{head}") + (f": {reason}" if reason else "")
        return remark.source

    def sentence(self, remark: Remark) -> str:
        """A remark in full: what it states, and what would mend it."""
        return " ".join(part for part in (stopped(self.text(remark)), self.remedy(remark)) if part)

    def faults(self, remarks: Iterable[Remark]) -> list[str]:
        """Faults line by line, each behind the path of its field."""
        return [f"{r.place.field}: {self.sentence(r)}" if r.place.field else self.sentence(r) for r in remarks]

    # --- lists and times ------------------------------------------------------------------------
    def passes(self, numbers: Sequence[int]) -> str:
        """Pass numbers in words, runs drawn together: pass 3; passes 3 to 5, 9."""
        runs: list[list[int]] = []
        for n in numbers:
            if runs and n == runs[-1][-1] + 1:
                runs[-1].append(n)
            else:
                runs.append([n])
        said = [self("window.both", low=str(run[0]), high=str(run[-1])) if len(run) > 2 else ", ".join(map(str, run)) for run in runs]
        return self("passes.listed", n=len(numbers), passes=", ".join(said))

    def time_of_day(self, seconds: float) -> str:
        """A time of day, s from the midnight before the shift; later days are counted."""
        days, rest = divmod(round(seconds / 60), 24 * 60)
        return clock(60.0 * rest) + (" " + self("time.days_on", n=days) if days else "")

    @property
    def degree(self) -> str:
        """The unit of temperatures."""
        return self.units.unit("temperature")


def capital(text: str) -> str:
    """A text that begins with a capital."""
    return text[:1].upper() + text[1:]


def stopped(text: str) -> str:
    """A sentence: its first letter large, a full stop at its end.

    >>> stopped("no rod fits"), stopped("t8/5 is long")
    ('No rod fits.', 't8/5 is long.')
    """
    head = text[:1].upper() if text[1:2].islower() or text[1:2] == " " else text[:1]
    return f"{head}{text[1:]}" + ("" if text.endswith((".", "?", ":")) else ".")


def in_degrees(degrees: float) -> str:
    """An angle, without noughts behind its point."""
    return f"{degrees:g}{DEGREE}"
