"""Tolerance sets of a fit-up: typical and remembered figures as open data. They never judge alone: enter your procedure's own."""

from __future__ import annotations

from functools import lru_cache

from banister.core.fitup.judged import Fit, Tolerance, ToleranceSet, judged_fit
from banister.core.joint.joint import Joint

PROCEDURE, STRUCTURAL_OPEN, STRUCTURAL_BAR, PIPE_OPEN = "procedure", "structural-open", "structural-bar", "pipe-open"


def tolerance_set(key: str, joint: Joint, own: dict[str, Tolerance] | None = None) -> ToleranceSet:
    """A set for a joint: of the procedure only what the user entered, else remembered figures with the user's own over them."""
    high_low = min(0.1 * joint.prep.welded_thickness_mm, 3.0)
    shipped = {
        PROCEDURE: {},
        STRUCTURAL_OPEN: {"gap": _off(2.0, 2.0), "face": _off(2.0, 2.0), "high_low": _off(high_low, high_low), "bevel": _off(5.0, 10.0)},
        STRUCTURAL_BAR: {"gap": _off(2.0, 6.0), "face": _off(2.0, 2.0), "high_low": _off(high_low, high_low), "bevel": _off(5.0, 10.0)},
        PIPE_OPEN: {"gap": _off(0.8, 0.8), "face": _off(0.8, 0.8), "high_low": _off(1.6, 1.6), "bevel": _off(2.5, 2.5)},
    }
    return ToleranceSet(key=key, by=shipped[key] | (own or {}))


def set_of(joint: Joint) -> ToleranceSet:
    """The set a joint's readings are held against: the one chosen, or the usual one; the procedure's own tolerance on the gap over it."""
    fitup = joint.fitup
    entered = fitup.gap_under_mm is not None or fitup.gap_over_mm is not None
    own = {"gap": Tolerance(under=fitup.gap_under_mm, over=fitup.gap_over_mm, sure=True)} if entered else {}
    return tolerance_set(fitup.tolerances or usual_set(joint), joint, own)


def fit_of(joint: Joint) -> Fit:
    """The fit-up of a joint as its own set judges it: stair, batten and panel ask at every change of anything, and few concern it."""
    return _fit_of(Joint(id="", name="", prep=joint.prep, piece=joint.piece, fitup=joint.fitup))


@lru_cache(maxsize=16)
def _fit_of(joint: Joint) -> Fit:
    return judged_fit(joint, joint.fitup, set_of(joint))


def usual_set(joint: Joint) -> str:
    """The set that goes with a joint until one is chosen."""
    if joint.piece.form == "pipe" and joint.prep.open_root:
        return PIPE_OPEN
    return STRUCTURAL_OPEN if joint.prep.open_root else STRUCTURAL_BAR


def _off(under: float, over: float) -> Tolerance:
    return Tolerance(under=under, over=over)
