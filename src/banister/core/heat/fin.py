"""The cooling model: a modal fin across one station of the weld, exact in time.

rho c d dT/dt = d/dx(k d dT/dx) - h (T - Tair) + heat of the passes, T averaged through the thickness d.
Cells grow geometrically from a middle one of 1 mm; the symmetric form is solved once by its modes,
and a history is carried as mode amplitudes. SI units and degC. Not for t8/5, not inside an unfilled
groove, and from max(60 s, d2/a) after the arc on.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]
    Bools = NDArray[np.bool_]

CELLS, CELLS_WITH_STEPS = 80, 120
MIDDLE_M, LEAST_CELLS = 1e-3, 4
"""Width of a cell at the weld; a piece narrower than so many of them has fewer cells, not a greater width."""
MIDDLE_AT_M = 1e-9
"""A cell whose middle is nearer to the weld's lies on both sides."""
FASTEST = 25.0
SCAN_S = np.concatenate(([0.0], np.geomspace(2.0, 1e5, 64)))
TINY = np.float32(1e-30)
"""Smaller still, arithmetic becomes slow and says nothing."""
NEWTON_STEPS, CLOSE_S = 8, 2.0
"""A Newton step this short leaves a hundredth of a second."""
STEFAN = 5.67e-8
EMISSIVITY = 0.8


class Material(Struct, frozen=True):
    """Conductivity W/mK, heat capacity J/kgK, density kg/m3; carbon and low-alloy steel unless said."""

    conductivity: float = 48.0
    capacity: float = 520.0
    density: float = 7850.0

    @property
    def diffusivity(self) -> float:
        """m2/s."""
        return self.conductivity / (self.capacity * self.density)


STEEL = Material()
AUSTENITIC = Material(conductivity=18.0, capacity=540.0, density=7900.0)
"""Typical; schedules with it are marked as not verified."""


class Stretch(Struct, frozen=True):
    """A stretch of plate outwards from the weld: its width and thickness, m.

    Several `sheets` alike that lead away from the weld together count as one: the heat flows into each the same.
    """

    width: float
    thickness: float
    sheets: int = 1


class Across(Struct, frozen=True):
    """What lies across the weld: stretches from the weld outwards, a bar under it, and its far edges."""

    left: tuple[Stretch, ...]
    right: tuple[Stretch, ...]
    bar_width: float = 0.0
    bar_thickness: float = 0.0
    edges_lose_heat: bool = True


def loss(surface_c: float, air_c: float = 20.0, inner: float = 1.0) -> float:
    """h of both faces together, W/m2K, still air: convection above and below, and radiation; `inner` is the share of the lower face that loses."""
    rise = max(surface_c - air_c, 1e-3)
    hot, cold = surface_c + 273.15, air_c + 273.15
    radiation = EMISSIVITY * STEFAN * (hot**2 + cold**2) * (hot + cold)
    return float(1.52 * rise ** (1 / 3) + radiation + inner * (0.59 * (rise / 0.3) ** 0.25 + radiation))


@lru_cache(maxsize=64)
def _faces(widths: tuple[float, ...], cells: int) -> Floats:
    """Distances of the cell faces from the weld's middle on one side, with a face on every step; not to be written into, it is remembered."""
    length = sum(widths)
    cells = max(LEAST_CELLS, min(cells, round(length / MIDDLE_M - 0.5)))
    low, high = 1.0, 2.0
    for _ in range(60):
        ratio = (low + high) / 2
        total = MIDDLE_M * (ratio**cells - 1) / (ratio - 1) if ratio > 1 + 1e-12 else MIDDLE_M * cells
        low, high = (ratio, high) if total < length - MIDDLE_M / 2 else (low, ratio)
    steps = MIDDLE_M * ((low + high) / 2) ** np.arange(cells)
    faces = MIDDLE_M / 2 + np.concatenate(([0.0], np.cumsum(steps)))
    faces[-1] = length
    for step in np.cumsum(widths)[:-1]:
        nearest = 1 + int(np.argmin(np.abs(faces[1:-1] - step)))
        faces[nearest] = step
    return distinct(faces)


def distinct(values: Floats) -> Floats:
    """Values in order, each once; NumPy's own function would import its masked arrays, a tenth of a batch command's time."""
    ordered = np.sort(values)
    return ordered[np.concatenate(([True], np.diff(ordered) > 0))]


class Fin:
    """The model of one station: modes and rates once, then every history is a vector of amplitudes.

    Where both sides are alike only the even modes are kept: heat comes and is held evenly about the weld, so
    that no temperature here ever differs from side to side.
    `loss_rates` is how fast each rate grows with a factor on h: exact for one even thickness without
    loss at the edges, of first order otherwise.
    """

    def __init__(self, across: Across, material: Material, h: float, heat_half_m: float) -> None:
        self.material, self.h = material, h
        stepped = len(across.left) + len(across.right) > 2 or across.bar_thickness > 0
        half = (CELLS_WITH_STEPS if stepped else CELLS) // 2
        sides = [list(side) for side in (across.left, across.right)]
        widths = [[s.width for s in side] for side in sides]
        if across.bar_thickness > 0:
            widths = [_with_break(w, across.bar_width / 2) for w in widths]
        left, right = (_faces(tuple(w), half) for w in widths)
        self.faces = np.concatenate((-left[::-1], right))
        self.x = (self.faces[1:] + self.faces[:-1]) / 2
        dx = np.diff(self.faces)
        thickness, sheets = _by_cell(across, self.x)
        self._solve(dx, thickness, sheets, across)
        overlap = sheets * self._within(heat_half_m)
        self.source = self.modes.T @ (overlap / overlap.sum() / np.sqrt(self.capacities))

    def _solve(self, dx: Floats, d: Floats, sheets: Floats, across: Across) -> None:
        m = self.material
        self.capacities = m.density * m.capacity * d * dx
        between = 1 / (dx[:-1] / (2 * m.conductivity * d[:-1]) + dx[1:] / (2 * m.conductivity * d[1:]))
        diagonal = self.h * sheets * dx
        grows = diagonal.copy()
        if across.edges_lose_heat and self.h > 0:
            for i in (0, -1):
                film, steel = self.h / 2 * d[i], 2 * m.conductivity * d[i] / dx[i]
                out = 1 / (1 / film + 1 / steel)
                diagonal[i] += out
                grows[i] += out**2 / film
        diagonal[:-1] += between
        diagonal[1:] += between
        root = np.sqrt(self.capacities)
        modes_of = _even_modes if across.left == across.right else _modes
        rates, vectors = modes_of(diagonal / self.capacities, -between / (root[:-1] * root[1:]))
        kept = rates * 2.0 <= FASTEST
        self.rates, self.modes = np.maximum(rates[kept], 0.0), vectors[:, kept]
        self.loss_rates = (grows / self.capacities) @ self.modes**2

    def _within(self, half_m: float) -> Floats:
        """How much of each cell lies within a distance from the weld's middle, m."""
        return np.asarray(np.maximum(np.minimum(self.faces[1:], half_m) - np.maximum(self.faces[:-1], -half_m), 0.0))

    def reading(self, x_m: float) -> Floats:
        """What reads the rise over air at a place across the weld from mode amplitudes."""
        weights = np.zeros(self.x.size)
        i = min(max(int(np.searchsorted(self.x, x_m)), 1), self.x.size - 1)
        share = min(max(float((x_m - self.x[i - 1]) / (self.x[i] - self.x[i - 1])), 0.0), 1.0)
        weights[i - 1], weights[i] = 1 - share, share
        return np.asarray((weights / np.sqrt(self.capacities)) @ self.modes)

    def profile(self, amplitudes: Floats) -> Floats:
        """Rise over air in every cell."""
        return np.asarray((self.modes @ amplitudes) / np.sqrt(self.capacities))

    def amplitudes(self, rise: Floats) -> Floats:
        """Amplitudes of a temperature rise given by cell."""
        return np.asarray(self.modes.T @ (rise * np.sqrt(self.capacities)))

    def uniform(self, rise: float) -> Floats:
        """Amplitudes of a piece that is everywhere this much over air."""
        return self.amplitudes(np.full(self.x.size, rise))

    def band(self, rise: float, half_m: float, rest: float = 0.0) -> Floats:
        """Amplitudes of a preheated band (cells partly inside count by their share)."""
        inside = self._within(half_m) / np.diff(self.faces)
        return self.amplitudes(rest + (rise - rest) * inside)

    def after(self, amplitudes: Floats, seconds: float) -> Floats:
        """The history carried on by a time."""
        return np.asarray(amplitudes * np.exp(-self.rates * seconds))

    def heated(self, amplitudes: Floats, joules_per_m: float) -> Floats:
        """The history with a pass's heat."""
        return np.asarray(amplitudes + joules_per_m * self.source)

    def last_fall_s(self, reading: Floats, amplitudes: Floats, rise: float) -> float:
        """The last time the reading falls through a rise over air: 0 if it is below for good, inf if never."""
        return float(last_falls_s((reading * amplitudes)[None, None, :], self.rates[None, :], scanned(self.rates[None, :]), rise)[0])


def _modes(diagonal: Floats, off: Floats) -> tuple[Floats, Floats]:
    """Rates and modes (columns, of length 1) of a symmetric chain of cells."""
    matrix, at = np.diag(diagonal), np.arange(off.size)
    matrix[at, at + 1] = matrix[at + 1, at] = off
    rates, vectors = np.linalg.eigh(matrix)
    return rates, vectors


def _even_modes(diagonal: Floats, off: Floats) -> tuple[Floats, Floats]:
    """Those of a chain alike on both sides of its middle cell that are alike on both sides too, found on one side of it."""
    middle = diagonal.size // 2
    off = off[middle:].copy()
    off[0] *= math.sqrt(2)
    rates, half = _modes(diagonal[middle:], off)
    outer = half[1:] / math.sqrt(2)
    return rates, np.concatenate((outer[::-1], half[:1], outer))


def scanned(rates: Floats) -> NDArray[np.float32]:
    """Every mode's decay at the scan's times, shape (variants, modes, times); single precision finds a bracket well enough."""
    decay = np.exp(-rates[:, :, None].astype(np.float32) * SCAN_S.astype(np.float32))
    decay[decay < TINY] = 0.0
    return decay


def last_falls_s(parts: Floats, rates: Floats, scan: NDArray[np.float32], rise: float) -> Floats:
    """The last time at which any station falls through a rise over air: 0 if all are below for good, inf if never.

    A rise of zero or less is never reached.
    `parts` has the shape (variants, stations, modes) and sums to the rise read now; `rates` (variants,
    modes); `scan` is `scanned(rates)`. Away from the weld the temperature first rises, so the first
    crossing would be wrong: the scan finds the last bracket, Newton the place in it.
    """
    variants, last = parts.shape[0], SCAN_S.size - 1
    if rise <= 0:
        return np.full(variants, math.inf)
    reads = parts.astype(np.float32) @ scan
    over: Bools = reads > np.float32(rise)
    anywhere = np.logical_or.reduce(over, axis=1)
    anywhere[:, 0] = True
    latest = last - anywhere[:, ::-1].argmax(axis=1)
    found = np.where(latest == last, math.inf, 0.0)
    variant, station = (over[np.arange(variants), :, latest] & (latest < last)[:, None]).nonzero()
    if variant.size:
        i = latest[variant]
        ends = reads[variant, station, i], reads[variant, station, i + 1]
        np.maximum.at(found, variant, _crossings(parts[variant, station], rates[variant], rise, SCAN_S[i], SCAN_S[i + 1], ends))
    return found


def _crossings(parts: Floats, rates: Floats, rise: float, low: Floats, high: Floats, ends: tuple[Floats, Floats]) -> Floats:
    """Newton on the logarithm, kept inside its bracket, for many falls at once; `parts` and `rates` have the shape (falls, modes).

    `ends` is what each bracket reads where it begins and ends. On the logarithm a fall is nearly
    straight inside a bracket, so that the chord and two or three steps find it to a hundredth of a second.
    """
    above, below = (np.log(np.maximum(end, 0.1 * rise)) for end in ends)
    at: Floats = low + (high - low) * ((above - math.log(rise)) / np.maximum(above - below, 1e-9))
    falling = -rates
    for _ in range(NEWTON_STEPS):
        decay = np.exp(falling * at[:, None])
        value, slope = np.maximum(np.vecdot(parts, decay), TINY), np.vecdot(parts, falling * decay)
        step = value * np.log(value / rise) / np.minimum(slope, -TINY)
        at = np.minimum(np.maximum(at - step, low), high)
        if np.abs(step).max() < CLOSE_S:
            break
    return at


def _with_break(widths: list[float], at: float) -> list[float]:
    """Stretches split where a bar ends."""
    found, start = [], 0.0
    for width in widths:
        if start < at < start + width - 1e-9 and at > start + 1e-9:
            found += [at - start, start + width - at]
        else:
            found.append(width)
        start += width
    return found


def _by_cell(across: Across, x: Floats) -> tuple[Floats, Floats]:
    """In each cell: the thickness of all sheets together, with the bar under them, and how many sheets lose heat; in the middle the mean of both sides."""
    left, right = _of_side(across.left, x), _of_side(across.right, x)
    thickness, sheets = np.where(np.abs(x) < MIDDLE_AT_M, (left + right) / 2, np.where(x < 0, left, right))
    return thickness + np.where(np.abs(x) <= across.bar_width / 2, across.bar_thickness, 0.0), sheets


def _of_side(side: Sequence[Stretch], x: Floats) -> Floats:
    """Thickness and sheets of a side at distances from the weld, shape (2, cells); beyond its last stretch as in it."""
    reach = np.cumsum([s.width for s in side])
    of_stretch = np.array([(s.thickness * s.sheets, s.sheets) for s in side]).T
    return of_stretch[:, np.minimum(np.searchsorted(reach, np.abs(x)), len(side) - 1)]
