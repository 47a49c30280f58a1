"""What matters most: standardised rank regression, coefficients squared, as shares (Saltelli et al., Global Sensitivity Analysis)."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray


def ranked(inputs: NDArray[np.float64], output: NDArray[np.float64]) -> tuple[tuple[float, ...], float]:
    """Shares of the inputs (columns) in the output, and R2: below 0.7 the output is a step function and the shares tell little."""
    x = np.argsort(np.argsort(inputs, axis=0), axis=0).astype(float)
    y = np.argsort(np.argsort(output)).astype(float)
    x, y = (x - x.mean(axis=0)) / np.maximum(x.std(axis=0), 1e-12), (y - y.mean()) / max(float(y.std()), 1e-12)
    solved = np.linalg.lstsq(x, y, rcond=None)[0]
    left = y - x @ solved
    shares = solved**2 / max(float((solved**2).sum()), 1e-12)
    return tuple(float(s) for s in shares), float(1 - left.var())


def binned(inputs: NDArray[np.float64], output: NDArray[np.float64], bins: int = 20) -> tuple[float, ...]:
    """Share of the output's variance that each input tells alone: variance of its means in bins, less what chance would give; for step functions."""
    whole = float(output.var())
    if whole < 1e-12:
        return (0.0,) * int(inputs.shape[1])
    found = list[float]()
    for k in range(inputs.shape[1]):
        groups = np.array_split(output[np.argsort(inputs[:, k], kind="stable")], bins)
        between = sum(len(g) * float((g.mean() - output.mean()) ** 2) for g in groups) / len(output)
        within = sum(float(((g - g.mean()) ** 2).sum()) for g in groups) / max(len(output) - bins, 1)
        found.append(max(0.0, (between - within * (bins - 1) / len(output)) / whole))
    return tuple(found)
