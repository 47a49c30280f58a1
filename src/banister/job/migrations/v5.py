"""Version 5 to 6: a joint holds the readings of its fit-up. Version 5 knew none."""

from __future__ import annotations

from typing import Any


def next_version(document: dict[str, Any]) -> dict[str, Any]:
    """The same document: what was never measured is left out."""
    return {**document, "version": 6}
