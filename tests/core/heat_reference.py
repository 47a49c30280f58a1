"""A small 2-D non-linear finite-volume model of a plate's cross-section: the yardstick of the cooling model.

Nothing is shared with the program's own model: explicit in time, resolved through the thickness, with
losses that follow the temperature of the surface they leave. It takes half a minute for all runs, so what it comes to is
kept in `tests/cases/heat-reference.json` (written anew by `python -m tests.core.heat_reference`; a test walks one pass again).
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

import numpy as np

KEPT = Path(__file__).parents[1] / "cases" / "heat-reference.json"

STEFAN, EMISSIVITY = 5.67e-8, 0.8
DX, LAYERS = 4e-3, 4


class PlateSection:
    """A plate of even thickness, metres and degC, cut across the weld."""

    def __init__(self, thickness: float, half_width: float, strip_half: float, start_c: float, air_c: float = 20.0,
                 k: float = 48.0, c: float = 520.0, rho: float = 7850.0) -> None:  # fmt: skip
        cells = 2 * round(half_width / DX)
        self.faces = np.linspace(-half_width, half_width, cells + 1)
        self.x = (self.faces[1:] + self.faces[:-1]) / 2
        self.dx, self.dy = self.faces[1] - self.faces[0], thickness / LAYERS
        self.k, self.heat_capacity, self.air_c = k, rho * c * self.dx * self.dy, air_c
        self.temps = np.full((cells, LAYERS), start_c)
        self.step = 0.4 * min(self.dx, self.dy) ** 2 * rho * c / (2 * k)
        share = np.clip(np.minimum(self.faces[1:], strip_half) - np.maximum(self.faces[:-1], -strip_half), 0.0, None)
        self.share = share / share.sum()
        self.now = 0.0

    def heat(self, joules_per_m: float) -> None:
        """A pass's heat over the strip, evenly through the thickness."""
        self.temps = self.temps + (joules_per_m * self.share)[:, None] / LAYERS / self.heat_capacity

    def advance(self) -> None:
        """One step in time."""
        flow = np.zeros_like(self.temps)
        across = self.k * self.dy / self.dx * np.diff(self.temps, axis=0)
        flow[:-1] += across
        flow[1:] -= across
        through = self.k * self.dx / self.dy * np.diff(self.temps, axis=1)
        flow[:, :-1] += through
        flow[:, 1:] -= through
        for face, convection in ((-1, lambda r: 1.52 * r ** (1 / 3)), (0, lambda r: 0.59 * (r / 0.3) ** 0.25)):
            flow[:, face] -= self.dx * self._film(self.temps[:, face], convection) * (self.temps[:, face] - self.air_c)
        for end in (0, -1):
            flow[end] -= self.dy * self._film(self.temps[end], lambda r: 1.31 * r ** (1 / 3)) * (self.temps[end] - self.air_c)
        self.temps = self.temps + self.step * flow / self.heat_capacity
        self.now += self.step

    def _film(self, surface: np.ndarray, convection: object) -> np.ndarray:
        hot, cold = surface + 273.15, self.air_c + 273.15
        return convection(np.maximum(surface - self.air_c, 1e-3)) + EMISSIVITY * STEFAN * (hot**2 + cold**2) * (hot + cold)

    def reading(self, x: float) -> float:
        """Surface temperature, mean of both faces, between the cells either side of x."""
        surface = (self.temps[:, 0] + self.temps[:, -1]) / 2
        return float(np.interp(x, self.x, surface))


@dataclass(frozen=True)
class Run:
    """Passes on a plate: metres, J/m, degC and seconds; waits until `at` has fallen to the limit, `also` read before each pass."""

    thickness: float
    half_width: float
    joules: float
    count: int
    limit_c: float
    start_c: float
    strip_half: float
    least_s: float
    at: float
    also: float

    def walked(self, count: int | None = None) -> tuple[list[float], list[float]]:
        """The time after each pass and its wait, the last one included; and what `also` reads before each."""
        section = PlateSection(self.thickness, self.half_width, self.strip_half, self.start_c)
        after, before = [], []
        for _ in range(self.count if count is None else count):
            before.append(section.reading(self.also))
            section.heat(self.joules)
            begun, ready = section.now, (section.now, section.temps)
            while section.now - begun < self.least_s or section.now - ready[0] < 30.0:
                section.advance()
                if section.reading(self.at) > self.limit_c or section.now - begun < self.least_s:
                    ready = (section.now, section.temps)
            section.now, section.temps = ready
            after.append(section.now)
        return after, before

    def kept(self) -> tuple[list[float], list[float]]:
        """The same as it was walked once and kept."""
        found = json.loads(KEPT.read_text(encoding="utf-8"))[RUNS.index(self)]
        return found["after_s"], found["before_c"]


PLATES = (Run(0.020, 0.150, 0.96e6, 10, 200.0, 100.0, 0.005, 60.0, 0.025, 0.015), Run(0.012, 0.120, 0.6e6, 8, 180.0, 20.0, 0.004, 60.0, 0.025, 0.014),
          Run(0.030, 0.150, 1.2e6, 8, 200.0, 100.0, 0.008, 90.0, 0.025, 0.018))  # fmt: skip
COUPONS = tuple(Run(d, half, q, 6, 180.0, 20.0, 0.004, 60.0, 0.016, 0.016)
                for d, half, q in ((0.012, 0.030, 0.8e6), (0.012, 0.060, 0.5e6), (0.020, 0.050, 1.2e6)))  # fmt: skip
RUNS = (*PLATES, *COUPONS)


def main() -> None:
    """Walk every run and keep what it comes to."""
    found = [dict(zip(("after_s", "before_c"), run.walked(), strict=True)) for run in RUNS]
    KEPT.write_text(json.dumps(found, indent=1) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
