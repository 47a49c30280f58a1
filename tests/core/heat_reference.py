"""A small 2-D non-linear finite-volume model of a plate's cross-section: the yardstick of the cooling model.

Nothing is shared with the program's own model: explicit in time, resolved through the thickness, with
losses that follow the temperature of the surface they leave.
"""

from __future__ import annotations

import numpy as np

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


def passes_with_waits(section: PlateSection, joules: float, count: int, limit_c: float, least_s: float, x: float, also: float) -> tuple[float, list[float]]:
    """Total time of passes that wait until x has fallen to the limit, the last wait included; and what `also` reads before each."""
    before = []
    for _ in range(count):
        before.append(section.reading(also))
        section.heat(joules)
        begun, ready = section.now, (section.now, section.temps)
        while section.now - begun < least_s or section.now - ready[0] < 30.0:
            section.advance()
            if section.reading(x) > limit_c or section.now - begun < least_s:
                ready = (section.now, section.temps)
        section.now, section.temps = ready
    return section.now, before
