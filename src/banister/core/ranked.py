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
    x, y = (x - x.mean(axis=0)) / x.std(axis=0), (y - y.mean()) / y.std()
    solved = np.linalg.lstsq(x, y, rcond=None)[0]
    left = y - x @ solved
    shares = solved**2 / max(float((solved**2).sum()), 1e-12)
    return tuple(float(s) for s in shares), float(1 - left.var())
