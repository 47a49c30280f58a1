"""A meter behind the page: its samples become arcs, rods and notices of the pass in hand; a meter that is lost leaves the key."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from banister.core.arc.amiss import HOLE, UNSEEN, UNSURE
from banister.core.arc.analysis import ArcAnalysis, RodBurnt, Setting
from banister.core.follow.metered import rod_end_mm
from banister.core.judge.passes import window_on
from banister.core.passing import ARC, ARC_OFF, ARC_ON, METER_BACK, METER_LOST
from banister.core.plan.plan import Pass
from banister.core.value import Struct
from banister.desktop.weld.bench import LEAST_LEFT, Bench
from banister.devices.driver import LIVE, Driver
from banister.devices.trace import Sample, written

QUIET = (HOLE, UNSEEN, UNSURE)
"""Notices about the meter, not about the weld: they are in the record of the rod."""
POSITIVE = "DCEP"
MOST_SAMPLES = 60_000
"""Of one rod; twenty minutes at 50 Hz. What comes later is analysed, not kept."""
Keep = Callable[[bytes], dict[str, str] | None]
"""Keeps the samples of a rod; tells what its record says of them, None where they could not be kept."""
LOST_S = 1.5
"""A meter that tells nothing for so long is said to be lost."""
SHOWN_S = 1.0
"""Volts and amps are shown as their mean over so long."""
OTHER_ROD, OTHER_ROD_S = 0.25, 5.0
"""Amps so far off what the lit rod is set to, over so long an arc: another rod may be in the holder."""


class Seen(Struct, frozen=True):
    """What the meter shows now: volts, amps, and between which lengths this rod must end for its heat input (None: no such end)."""

    volts: float
    amps: float
    rod_end_mm: tuple[float | None, float | None] | None


class Metering:
    """Feeds a bench from a meter."""

    def __init__(self, meter: Driver[Sample], bench: Bench, keep: Keep | None = None) -> None:
        self.meter, self.bench, self.keep = meter, bench, keep
        self._samples, self._ended_samples = list[Sample](), list[Sample]()
        """Of the rod in hand, and of the one before it until its record is written."""
        self.analysis: ArcAnalysis | None = None
        self._key, self._rod_id, self._whole = "", "", dict[str, float]()
        """The pass and the rod it was begun for; ampere seconds of a whole rod as they were learnt, by rod."""
        self._ended: RodBurnt | None = None
        self._asked_rod = ""
        """The pass whose rod was asked about."""
        self._is_striking = False
        """While an arc is struck a record speaks of the rod before it (none where no meter saw that), else of the one in hand."""
        self._lost_at, self._is_lost_told = math.inf, False
        self._volts = self._amps = self._last_t = 0.0
        bench.rod_figures = self.rod_figures
        meter.open()
        if self.is_live:
            bench.happens(METER_BACK)

    def close(self) -> None:
        """The meter is let go."""
        self.meter.close()

    @property
    def is_live(self) -> bool:
        """True while it tells."""
        return self.meter.state == LIVE

    def tick(self) -> None:
        """Whatever has come since the last time."""
        now = self.bench.clock()
        samples = self.meter.poll(now)
        if self.meter.is_simulated:
            self.bench.simulated = True
        if self.is_live != self.bench.passing.has_meter:
            self.bench.happens(METER_BACK if self.is_live else METER_LOST)
        self._say_state(now)
        for sample in samples:
            self._take(sample)

    def _say_state(self, now: float) -> None:
        """That it tells nothing is said once it lasts, that it is back at once."""
        if self.is_live:
            if self._is_lost_told:
                self.bench.tell(self.bench.say("weld.meter.back"))
            self._lost_at, self._is_lost_told = math.inf, False
            return
        self._lost_at = min(self._lost_at, now)
        if now - self._lost_at >= LOST_S and not self._is_lost_told:
            self._is_lost_told = True
            self.bench.tell(self.bench.say("weld.meter.lost"), bad=True)

    def seen(self) -> Seen | None:
        """What is to be shown; None while it tells nothing."""
        if not self.is_live or self.analysis is None:
            return None
        p, rod = self.bench.lit, self.analysis.rod
        end = None if p is None or rod is None else rod_end_mm(self.bench.joint, p, rod.kj, rod.burnt(self.analysis.rod_amp_s))
        return Seen(self._volts, self._amps, end)

    def rod_figures(self) -> dict[str, Any]:
        """What the meter knows of the rod that a record speaks of; nothing where it saw none."""
        analysis = self.analysis
        if analysis is None:
            return {}
        rod = self._ended if self._is_striking else analysis.rod
        if rod is None or rod.arc_s <= 0:
            return {}
        trace = self._trace()
        return {
            **({} if trace is None else {"trace": trace}),
            "arc_s": round(rod.arc_s, 2), "arcs": rod.arcs, "v": round(rod.v_s / rod.arc_s, 2), "a": round(rod.amp_s / rod.arc_s, 1), "kj": round(rod.kj, 2),
            "amp_s": round(rod.amp_s, 1), "burnt": round(rod.burnt(analysis.rod_amp_s), 3), "filled_s": round(rod.filled_s, 2), "sure": not rod.is_unsure,
        }  # fmt: skip

    def _trace(self) -> dict[str, str] | None:
        """The samples of the rod a record speaks of, kept beside the journal before the record is."""
        samples = self._ended_samples if self._is_striking else self._samples
        return None if self.keep is None or not samples else self.keep(written(samples, self.bench.simulated))

    # --- samples -----------------------------------------------------------------------------
    def _take(self, sample: Sample) -> None:
        p = self.bench.lit
        if p is None:
            return
        if self.analysis is None or (self.bench.passing.key != self._key and self.bench.passing.state != ARC):
            self._begin(p)
        analysis = self.analysis
        assert analysis is not None
        was_burning, rods, told = analysis.is_burning, len(analysis.rods), len(analysis.notices)
        analysis.take(*sample)
        self._shown(sample)
        if (analysis.rod is not None or analysis.is_burning) and len(self._samples) < MOST_SAMPLES:
            self._samples.append(sample)
        if analysis.is_burning and not was_burning:
            self._struck(analysis, rods, sample[0])
        elif was_burning and not analysis.is_burning:
            self._went_out(analysis, sample[0])
        for notice in analysis.notices[told:]:
            if notice.kind not in QUIET:
                self.bench.noticed(notice.kind, notice.value)

    def _begin(self, p: Pass) -> None:
        """A pass is begun: a new analysis, which knows what was learnt of the rod."""
        if self.analysis is not None:
            self._whole[self._rod_id] = self.analysis.rod_amp_s
        amps = window_on(self.bench.joint, p, "amps")
        self._key, self._rod_id, self._ended, self._samples = self.bench.passing.key, p.rod.id, None, []
        self.analysis = ArcAnalysis(Setting(
            amps=p.amps, volts=p.volts, rod_amp_s=self._whole.get(p.rod.id, p.rod.burn_time_s(p.amps) * p.amps), family=p.rod.family,
            electrode_positive=p.rod.polarity == POSITIVE,
            window=(amps.low, amps.high) if amps.is_set else (None, None),
        ))  # fmt: skip

    def _struck(self, analysis: ArcAnalysis, rods: int, t: float) -> None:
        is_new = len(analysis.rods) > rods
        self._ended, self._is_striking = analysis.rods[-1] if is_new else None, True
        if is_new:
            self._ended_samples, self._samples = self._samples[:-1], self._samples[-1:]
        self.bench.happens(ARC_ON, is_new, at=t)
        self._is_striking, self._ended_samples = False, []

    def _went_out(self, analysis: ArcAnalysis, t: float) -> None:
        """The part left of the rod is what its charge leaves."""
        self.bench.happens(ARC_OFF, at=t)
        if analysis.rod is not None:
            self._ask_which_rod(analysis.rod)
            left = 1.0 - analysis.rod.burnt(analysis.rod_amp_s)
            self.bench.left = round(min(left, 0.9), 1) if left > LEAST_LEFT else 0.0

    def _ask_which_rod(self, rod: RodBurnt) -> None:
        """Amps that go with another rod than the lit one are asked about, once a pass."""
        p = self.bench.lit
        if p is None or rod.arc_s < OTHER_ROD_S or self._asked_rod == p.key:
            return
        amps = rod.amp_s / rod.arc_s
        if abs(amps / p.amps - 1.0) > OTHER_ROD:
            self._asked_rod = p.key
            self.bench.noticed("other_rod", amps)

    def _shown(self, sample: Sample) -> None:
        t, volts, amps, _ = sample
        share = min(max(t - self._last_t, 0.0) / SHOWN_S, 1.0)
        self._volts += share * (abs(volts) - self._volts)
        self._amps += share * (abs(amps) - self._amps)
        self._last_t = t
