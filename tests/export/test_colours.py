"""Roles told apart by eyes of all kinds and in a grey print: simulated colour vision, severity 1.

Matrices on linear RGB: G. M. Machado and others, IEEE Trans. Vis. Comput. Graph. 15 (2009).
"""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest

from banister.core.drawing.palette import DARK, LIGHT, PAPER, ROLE_LETTERS
from banister.core.drawing.section import HATCHES

KINDS = {
    "protan": [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]],
    "deutan": [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]],
    "tritan": [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602], [0.004733, 0.691367, 0.303900]],
    "grey": [[0.2126, 0.7152, 0.0722]] * 3,
}  # fmt: skip
ROLES = ("root", "hot", "fill", "cap")
PALETTES = {"light": LIGHT, "dark": DARK, "paper": PAPER}


def linear(colour: str) -> np.ndarray:
    c = np.array([int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)])
    return np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)


def seen(colour: str, kind: str) -> np.ndarray:
    return np.clip(np.array(KINDS[kind]) @ linear(colour), 0.0, 1.0)


def contrast(a: np.ndarray, b: np.ndarray) -> float:
    low, high = sorted(float(np.array([0.2126, 0.7152, 0.0722]) @ c) for c in (a, b))
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("kind", list(KINDS))
@pytest.mark.parametrize("palette", list(PALETTES))
def test_numbers_stay_readable_on_every_bead(palette: str, kind: str) -> None:
    colours = PALETTES[palette]
    for role in ROLES:
        assert contrast(seen(colours["number"], kind), seen(colours[f"bead.{role}"], kind)) >= 4.5


@pytest.mark.parametrize("kind", list(KINDS))
@pytest.mark.parametrize("palette", list(PALETTES))
def test_hatches_show_on_their_beads(palette: str, kind: str) -> None:
    colours = PALETTES[palette]
    for role in HATCHES:
        assert contrast(seen(colours[f"hatch.{role}"], kind), seen(colours[f"bead.{role}"], kind)) >= 1.5


@pytest.mark.parametrize("kind", ["protan", "deutan", "tritan"])
@pytest.mark.parametrize("palette", list(PALETTES))
def test_colours_or_hatches_differ_between_any_two_roles(palette: str, kind: str) -> None:
    colours = PALETTES[palette]
    for a, b in combinations(ROLES, 2):
        apart = float(np.abs(seen(colours[f"bead.{a}"], kind) - seen(colours[f"bead.{b}"], kind)).max())
        assert apart > 0.02 or HATCHES.get(a) != HATCHES.get(b)
        assert ROLE_LETTERS[a] != ROLE_LETTERS[b]
        assert HATCHES.get(a) != HATCHES.get(b)


def test_an_edge_stands_out_from_every_bead_and_the_plate() -> None:
    for colours in PALETTES.values():
        for ground in (*(f"bead.{role}" for role in ROLES), "plate"):
            assert contrast(linear(colours["layer.edge"]), linear(colours[ground])) >= 4.5
        assert contrast(linear(colours["select.outer"]), linear(colours["select.inner"])) >= 12
