"""Canonical JSON and its digest: one text for one value, whatever wrote it (RFC 8785)."""

from __future__ import annotations

import hashlib
import json
import math
import unicodedata
from collections.abc import Mapping, Sequence
from typing import Any

MOST_WHOLE = 2**53
EXPONENT_FROM, EXPONENT_BELOW = 21, -6
"""Decimal exponents from which, and below which, a number is printed with one."""
_quoted = json.JSONEncoder(ensure_ascii=False).encode
"""A text in quotes; made once, as a journal is many thousand of them."""


def canonical(value: Any) -> str:
    """A value as canonical JSON: strings in NFC, keys by UTF-16 code unit, numbers as RFC 8785 prints them.

    Raises ValueError for what has no such text: NaN, infinity, a whole number over 2**53, a key twice, another kind of value.

    >>> canonical({"b": 2.0, "a": [1, 1e-7, None]})
    '{"a":[1,1e-7,null],"b":2}'
    """
    if value is None or isinstance(value, bool):
        return {None: "null", True: "true", False: "false"}[value]
    if isinstance(value, str):
        return _quoted(unicodedata.normalize("NFC", value))
    if isinstance(value, int | float):
        return number(value)
    if isinstance(value, Mapping):
        return _mapping(value)
    if isinstance(value, Sequence):
        return f"[{','.join(map(canonical, value))}]"
    raise ValueError(f"a {type(value).__name__} has no canonical text")


def _mapping(value: Mapping[Any, Any]) -> str:
    if not all(isinstance(key, str) for key in value):
        raise ValueError("a key that is no text")
    keys = {unicodedata.normalize("NFC", key): key for key in value}
    if len(keys) != len(value):
        raise ValueError("a key twice")
    parts = (f"{_quoted(key)}:{canonical(value[keys[key]])}" for key in sorted(keys, key=lambda key: key.encode("utf-16-be")))
    return f"{{{','.join(parts)}}}"


def number(value: float) -> str:
    """A number as it is printed: the shortest digits that read back the same.

    >>> [number(v) for v in (2.0, -0.0, 1e21, 1e-6, 0.1)]
    ['2', '0', '1e+21', '0.000001', '0.1']
    """
    if isinstance(value, int):
        if abs(value) > MOST_WHOLE:
            raise ValueError("a whole number over 2**53")
        return str(value)
    if not math.isfinite(value):
        raise ValueError("a number that is none")
    if value == 0:
        return "0"
    sign, (digits, exponent) = "-" if value < 0 else "", _shortest(abs(value))
    point = exponent + 1
    if EXPONENT_BELOW <= exponent < 0:
        return f"{sign}0.{'0' * -point}{digits}"
    if 0 <= exponent < EXPONENT_FROM:
        return sign + (digits + "0" * (point - len(digits)) if point >= len(digits) else f"{digits[:point]}.{digits[point:]}")
    mantissa = digits if len(digits) == 1 else f"{digits[0]}.{digits[1:]}"
    return f"{sign}{mantissa}e{exponent:+d}"


def _shortest(value: float) -> tuple[str, int]:
    """The shortest digits of a number and the decimal exponent of the first."""
    mantissa, _, exponent = f"{value!r}".partition("e")
    whole, _, fraction = mantissa.partition(".")
    digits = (whole + fraction).lstrip("0")
    leading = len(whole) - 1 if whole.strip("0") else -(len(fraction) - len(fraction.lstrip("0"))) - 1
    return digits.rstrip("0") or "0", leading + int(exponent or 0)


def digest(value: Any) -> str:
    """SHA-256 of the canonical text, 64 hex digits."""
    return hashlib.sha256(canonical(value).encode("utf-8")).hexdigest()
