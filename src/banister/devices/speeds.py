"""Speeds of a serial line, how often a meter can report at each, and the words devices answer with."""

from __future__ import annotations

DEFAULT_BAUD = 115200
RATES_HZ = {DEFAULT_BAUD: 50.0, 57600: 50.0, 38400: 50.0, 9600: 20.0}
BAUDS = tuple(RATES_HZ)
ARC_METER, A_THERMOMETER, AN_OVEN, A_PEDAL = DEVICES = ("arc", "thermometer", "oven", "keys")
