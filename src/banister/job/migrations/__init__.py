"""Older job files, brought to the newest version one step at a time.

Each step is a pure function from the document as one version's file holds it (plain dicts and lists) to the next
version's, with its tables and formulas frozen inside: what an old file meant does not change because the program
learnt. What a step does not understand it leaves as it is; the strict reading that follows says where and why.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from banister.job.migrations import v1, v2, v3, v4, v5, v6, v7, v8

STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: v1.next_version, 2: v2.next_version, 3: v3.next_version, 4: v4.next_version, 5: v5.next_version, 6: v6.next_version, 7: v7.next_version,
    8: v8.next_version,
}  # fmt: skip
"""By the version a step starts from."""


def newest(document: dict[str, Any], version: int) -> dict[str, Any]:
    """An older version's document as the newest one writes it; the document itself is not changed."""
    for at in range(version, max(STEPS) + 1):
        document = STEPS[at](document)
    return document
