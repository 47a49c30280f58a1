"""Speeds of a serial line, and how often a meter can report at each."""

from __future__ import annotations

DEFAULT_BAUD = 115200
RATES_HZ = {DEFAULT_BAUD: 50.0, 57600: 50.0, 38400: 50.0, 9600: 20.0}
BAUDS = tuple(RATES_HZ)
