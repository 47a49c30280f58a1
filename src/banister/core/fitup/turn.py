"""Turning one pipe end against the other: the turn that leaves the least high-low, every half degree tried.

Radii are read at some angles and taken as a Fourier series by least squares, of the highest order the readings carry;
the first harmonic only says where the jig stood. For all turns at once: D = (b_k e^(-i k phi) - a_k) e^(i k theta).
Picking the best of 720 flatters: how much is told beside it (shop trial).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.joint.fitting import PipeEnd, Turning
from banister.core.remark import Figure, Refused, Remark, fault, outside, watch
from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]
    Complex = NDArray[np.complex128]

STEP_DEG, THETA_DEG = 0.5, 1.0
FEWEST = 6
WIDEST_GAP_DEG = 60.0
OPTIMISM_MM = ((8, 0.20), (12, 0.06), (16, 0.04))
"""How much better the best turn looks than it is, by the number of readings (shop trial)."""
MAX, RMS, STRETCH = "max", "rms", "stretch"
GOALS = (MAX, RMS, STRETCH)
LIMIT_MM = 1.6
"""High-low inside a pipe that is usually let pass (typical)."""
ALIKE_MM = 0.02
EXCHANGES, NEAR_STEPS = 60, 10


class TurnRules(Struct, frozen=True, kw_only=True):
    """What a turn has to keep: seams apart (degrees), a sector no seam may lie in, the most it may be turned; how it is centred and judged.

    The goal is the least greatest high-low, the least mean square, or the shortest stretch over `limit_mm`.
    """

    seams_apart_deg: float = 0.0
    forbidden_deg: tuple[float, float] | None = None
    most_deg: float = 180.0
    goal: str = MAX
    least_max_centring: bool = False
    limit_mm: float = LIMIT_MM


USUAL = TurnRules()


class Turn(Struct, frozen=True):
    """One turn (degrees clockwise of the second end), its greatest and rms high-low, mm."""

    turn_deg: float
    greatest_mm: float
    rms_mm: float


class Turned(Struct, frozen=True):
    """Every turn tried, which are allowed, the best three valleys, the pipes as they lie; `optimism_mm` is what the best is flattered by."""

    turns_deg: Floats
    greatest_mm: Floats
    allowed: NDArray[np.bool_]
    valleys: tuple[Turn, ...]
    as_laid: Turn
    optimism_mm: float
    remarks: tuple[Remark, ...]

    @property
    def best(self) -> Turn | None:
        """The best allowed turn; None where none is."""
        return self.valleys[0] if self.valleys else None


def harmonics(end: PipeEnd) -> Complex:
    """Coefficients c_0..c_m of a radius, r = sum of Re(c_k e^(i k theta)), order (n - 1) // 2; the first harmonic is nought."""
    theta, n = np.radians(end.angles_deg), len(end.angles_deg)
    if n < FEWEST or len(end.radii_mm) != n:
        raise Refused(fault("turn.few", "radii", n=Figure(n, "count"), least=Figure(FEWEST, "count")))
    orders = [k for k in range(1, (n - 1) // 2 + 1) if not end.diameters or k % 2 == 0]
    columns = [np.ones(n), *(f(k * theta) for k in orders for f in (np.cos, np.sin))]
    solved = np.linalg.lstsq(np.stack(columns, axis=1), np.asarray(end.radii_mm, dtype=float), rcond=None)[0]
    found = np.zeros((max(orders, default=0) + 1), dtype=complex)
    found[0] = solved[0]
    for i, k in enumerate(orders):
        found[k] = solved[1 + 2 * i] - 1j * solved[2 + 2 * i]
    if found.size > 1:
        found[1] = 0.0
    return found


def high_low(a: Complex, b: Complex, turns_deg: Floats) -> Floats:
    """Second minus first inner radius round the joint, shape (turns, places of 1 degree), centred by the mean."""
    m = max(a.size, b.size)
    a, b = (np.pad(c, (0, m - c.size)) for c in (a, b))
    k = np.arange(m)
    theta = np.radians(np.arange(0.0, 360.0, THETA_DEG))
    turned = b[None, :] * np.exp(-1j * k[None, :] * np.radians(turns_deg)[:, None]) - a[None, :]
    return np.asarray((turned @ np.exp(1j * k[:, None] * theta[None, :])).real)


def centred_least_max(h: Floats, theta_deg: Floats | None = None) -> tuple[float, float, float]:
    """Shift (dx, dy) that leaves the least greatest high-low, and what it leaves: h - dx cos - dy sin, by Chebyshev exchange."""
    theta = np.radians(np.arange(0.0, 360.0, THETA_DEG) if theta_deg is None else theta_deg)
    basis = np.stack([np.cos(theta), np.sin(theta)], axis=1)
    shift = np.zeros(2)
    active: list[int] = [int(np.argmax(h)), int(np.argmin(h))]
    for _ in range(EXCHANGES):
        shift, level = _least_on(h, basis, active)
        left = h - basis @ shift
        worst = int(np.argmax(np.abs(left)))
        if abs(left[worst]) <= level + 1e-9 or worst in active:
            break
        active.append(worst)
    left = h - basis @ shift
    return float(shift[0]), float(shift[1]), float(np.abs(left).max())


def _least_on(h: Floats, basis: Floats, active: Sequence[int]) -> tuple[Floats, float]:
    """The least greatest of few places: iteratively reweighted least squares (Lawson), which ends at the Chebyshev solution."""
    rows, values = basis[active], h[active]
    weights = np.full(len(active), 1.0 / len(active))
    shift = np.zeros(2)
    for _ in range(400):
        root = np.sqrt(weights)[:, None]
        shift = np.linalg.lstsq(root * rows, root[:, 0] * values, rcond=None)[0]
        left = np.abs(values - rows @ shift)
        total = float(weights @ left)
        if total < 1e-12:
            break
        weights = weights * left / total
    return shift, float(np.abs(values - rows @ shift).max())


def best_turn(first: PipeEnd, second: PipeEnd, rules: TurnRules = USUAL, step_deg: float = STEP_DEG) -> Turned:
    """Every turn of the second end against the first."""
    turns = np.arange(0.0, 360.0, step_deg)
    h = high_low(harmonics(first), harmonics(second), turns)
    greatest, rms = np.abs(h).max(axis=1), np.sqrt((h**2).mean(axis=1))
    if rules.least_max_centring:
        greatest = np.array([centred_least_max(row)[2] for row in h])
    allowed = _allowed(turns, first, second, rules)
    over = (np.abs(h) > rules.limit_mm).mean(axis=1) * 360.0 + 1e-3 * greatest
    merit = {MAX: greatest, RMS: rms, STRETCH: over}[rules.goal]
    valleys = tuple(Turn(float(turns[i]), float(greatest[i]), float(rms[i])) for i in _valleys(merit, allowed))
    n = min(len(first.angles_deg), len(second.angles_deg))
    optimism = float(np.interp(n, [count for count, _ in OPTIMISM_MM], [mm for _, mm in OPTIMISM_MM]))
    laid = Turn(0.0, float(greatest[0]), float(rms[0]))
    return Turned(turns, greatest, allowed, valleys, laid, optimism, tuple(_remarks(first, second, rules, turns, greatest, allowed)))


def _off(a: Floats | float, b: float) -> Floats:
    """Degrees between two angles, at most 180."""
    return np.abs((np.asarray(a) - b + 180.0) % 360.0 - 180.0)


def _allowed(turns: Floats, first: PipeEnd, second: PipeEnd, rules: TurnRules) -> NDArray[np.bool_]:
    found = _off(turns, 0.0) <= rules.most_deg + 1e-9
    if second.seam_deg is not None:
        seam = turns + second.seam_deg
        if first.seam_deg is not None:
            found &= _off(seam, first.seam_deg) >= rules.seams_apart_deg - 1e-9
        if rules.forbidden_deg is not None:
            low, high = rules.forbidden_deg
            found &= _off(seam, (low + high) / 2) > (high - low) / 2
    return np.asarray(found)


def _valleys(merit: Floats, allowed: NDArray[np.bool_], most: int = 3) -> list[int]:
    """The best allowed turns, one a valley: a turn no better neighbour lies beside."""
    open_ = np.where(allowed, merit, np.inf)
    found: list[int] = []
    for i in np.argsort(open_, kind="stable").tolist():
        if not math.isfinite(open_[i]) or len(found) == most:
            break
        beside = min(open_[i - 1], open_[(i + 1) % len(open_)])
        if open_[i] <= beside and all(min((i - j) % len(open_), (j - i) % len(open_)) > NEAR_STEPS for j in found):
            found.append(i)
    return found


def _remarks(first: PipeEnd, second: PipeEnd, rules: TurnRules, turns: Floats, greatest: Floats, allowed: NDArray[np.bool_]) -> list[Remark]:
    found = []
    for end in (first, second):
        around = sorted(angle % 360.0 for angle in end.angles_deg)
        widest = max(b - a for a, b in zip(around, [*around[1:], around[0] + 360.0], strict=True))
        if widest > WIDEST_GAP_DEG + 1e-9:
            found.append(watch("turn.gap", gap=Figure(widest, "angle"), most=Figure(WIDEST_GAP_DEG, "angle")))
        if end.diameters:
            found.append(watch("turn.diameters"))
    if not allowed.any():
        code = "turn.none.seams" if rules.seams_apart_deg > 0 and rules.most_deg >= 180.0 else "turn.none"
        found.append(outside(code, apart=Figure(rules.seams_apart_deg, "angle"), most=Figure(rules.most_deg, "angle")))
    elif float(greatest.max() - greatest.min()) < ALIKE_MM:
        found.append(watch("turn.any"))
    return found


def at_turn(first: PipeEnd, second: PipeEnd, turn_deg: float) -> Floats:
    """High-low round the joint at one turn, every degree from 12 clockwise, mm; positive: the second end's bore is larger."""
    return np.asarray(high_low(harmonics(first), harmonics(second), np.array([turn_deg]))[0])


def signed(turn_deg: float) -> float:
    """A turn as it is done: at most half a turn, clockwise positive."""
    return (turn_deg + 180.0) % 360.0 - 180.0


def way_of(turn_deg: float) -> str:
    """Which way a turn goes (the word `turn.WAY`)."""
    return "not" if abs(signed(turn_deg)) < 0.05 else "clockwise" if signed(turn_deg) > 0 else "anticlockwise"


def usual_seams_mm(thickness_mm: float) -> float:
    """How far seams are kept apart on the outside until another figure is entered: 50 mm, or five thicknesses (typical)."""
    return max(50.0, 5.0 * thickness_mm)


def rules_of(turning: Turning, od_mm: float, thickness_mm: float, goal: str = MAX, limit_mm: float = LIMIT_MM) -> TurnRules:
    """The rules of a joint's turning, seams in degrees."""
    apart = usual_seams_mm(thickness_mm) if turning.seams_apart_mm is None else turning.seams_apart_mm
    return TurnRules(seams_apart_deg=min(apart / (math.pi * od_mm) * 360.0, 180.0), most_deg=turning.most_deg, goal=goal, limit_mm=limit_mm)
