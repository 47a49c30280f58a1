"""Version 1 to 2: procedures, welders and most preparations came; what was there keeps its meaning."""

from __future__ import annotations

from typing import Any


def next_version(document: dict[str, Any]) -> dict[str, Any]:
    """The document as version 2 holds it: every key of version 1 means the same there."""
    return document
