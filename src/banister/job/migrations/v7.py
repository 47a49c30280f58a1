"""Version 7 to 8: the set of ASME B31.3 is named with its service, as there are two; a welder's qualification knows the day of its test."""

from __future__ import annotations

from typing import Any

RENAMED = {"b31.3": "b31.3-normal"}


def next_version(document: dict[str, Any]) -> dict[str, Any]:
    """The same document with the set's new name, in its joints and in the sheets that were issued of them."""
    return {**document, "job": _renamed(document.get("job")), "issued": _renamed(document.get("issued", [])), "version": 8}


def _renamed(value: Any) -> Any:
    if isinstance(value, list):
        return [_renamed(one) for one in value]
    if not isinstance(value, dict):
        return value
    return {key: RENAMED.get(one, one) if key == "acceptance" and isinstance(one, str) else _renamed(one) for key, one in value.items()}
