"""Kinds of devices: what each tells, the word it answers with, and how long it may say nothing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, NamedTuple, TypeVar

from banister.core.value import Struct
from banister.devices.line import Field
from banister.devices.speeds import A_PEDAL, A_THERMOMETER, AN_OVEN, ARC_METER
from banister.devices.trace import Sample

Told = TypeVar("Told", covariant=True)


class Temperature(NamedTuple):
    """A temperature read: when (host, s), by which probe, degC, and what emissivity an infrared one is set to (None: by contact)."""

    t_s: float
    probe: str
    temp_c: float
    emissivity: float | None = None


class OvenReading(NamedTuple):
    """An oven or quiver: when (host, s), which, how warm it is and is set to, degC, and whether its door is open."""

    t_s: float
    oven: str
    temp_c: float
    set_c: float
    is_open: bool


class KeyPress(NamedTuple):
    """A pedal or a big button: when (host, s), which key it stands for, pressed or let go."""

    t_s: float
    key: str
    is_down: bool


class Kind(Struct, Generic[Told], frozen=True):
    """A kind of device: the letter of its lines, its word, how often it is asked to report (Hz), after how long it is silent (s), what a line tells."""

    letter: str
    device: str
    rate_hz: float
    silent_s: float
    made: Callable[[float, tuple[Field, ...]], Told]
    speaks_when_used: bool = False
    """True for one that says nothing until it is used: that it answers shows that it is there."""


def _sample(t: float, fields: tuple[Field, ...]) -> Sample:
    volts, amps, *watts = (float(value) for value in fields)
    return t, volts, amps, watts[0] if watts else None


def _temperature(t: float, fields: tuple[Field, ...]) -> Temperature:
    probe, temp_c, *emissivity = fields
    return Temperature(t, str(probe), float(temp_c), float(emissivity[0]) if emissivity else None)


def _oven(t: float, fields: tuple[Field, ...]) -> OvenReading:
    oven, temp_c, set_c, door = fields
    return OvenReading(t, str(oven), float(temp_c), float(set_c), bool(door))


def _key(t: float, fields: tuple[Field, ...]) -> KeyPress:
    return KeyPress(t, str(fields[0]), bool(fields[1]))


ARC = Kind("A", ARC_METER, 50.0, 2.0, _sample)
THERMOMETER = Kind("T", A_THERMOMETER, 2.0, 5.0, _temperature)
OVEN = Kind("O", AN_OVEN, 0.1, 60.0, _oven)
KEYS = Kind("K", A_PEDAL, 1.0, 5.0, _key, speaks_when_used=True)
KINDS = {kind.device: kind for kind in (ARC, THERMOMETER, OVEN, KEYS)}
