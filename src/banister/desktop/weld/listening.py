"""What stands beside the meter at the joint: a thermometer, a pedal or big button, an oven; each told in words where it fails."""

from __future__ import annotations

from collections.abc import Callable

from banister.core.follow.marks import emissivity_of
from banister.core.follow.steady import Steady
from banister.core.passing import ARC
from banister.core.remark import Figure
from banister.desktop.weld.bench import Bench
from banister.devices.driver import Driver
from banister.devices.kinds import KeyPress, OvenReading, Temperature

PAIRED_S = 60.0
"""An infrared reading and one by contact so near in time are of one place."""
EMISSIVITY, TOO_FAR_OFF = (0.05, 1.0), 0.05
OVEN_UNDER_K, DOOR_S = 15.0, 60.0
"""An oven so far under what it is set to does not keep rods dry (typical); a door open so long is said."""


class Listening:
    """Feeds a bench from its thermometer, its keys and its oven."""

    def __init__(self, bench: Bench, thermometer: Driver[Temperature] | None, keys: Driver[KeyPress] | None, oven: Driver[OvenReading] | None,
                 pressed: Callable[[str, bool], None]) -> None:  # fmt: skip
        self.bench, self.thermometer, self.keys, self.oven, self.pressed = bench, thermometer, keys, oven, pressed
        self._probes: dict[str, Steady] = {}
        self._last: dict[bool, Temperature] = {}
        """The last reading kept by contact (False) and by infrared (True)."""
        self._open_since: float | None = None
        self._oven_told = ""
        for device in self._devices():
            device.open()

    def _devices(self) -> tuple[Driver[object], ...]:
        return tuple(device for device in (self.thermometer, self.keys, self.oven) if device is not None)

    def close(self) -> None:
        """All are let go."""
        for device in self._devices():
            device.close()

    def tick(self) -> None:
        """Whatever has come since the last time."""
        now = self.bench.clock()
        if self.thermometer is not None:
            for reading in self.thermometer.poll(now):
                self._read(reading, self.thermometer.is_simulated)
        if self.keys is not None:
            for press in self.keys.poll(now):
                self.pressed(press.key, press.is_down)
        if self.oven is not None:
            for told in self.oven.poll(now):
                self._oven_says(told)

    def _read(self, reading: Temperature, is_simulated: bool) -> None:
        """A temperature that is held is kept; under the arc the probe is where nobody looks."""
        if self.bench.passing.state == ARC:
            return
        kept = self._probes.setdefault(reading.probe, Steady()).take(reading.t_s, reading.temp_c)
        if kept is None:
            return
        data: dict[str, object] = {"c": kept, "probe": reading.probe}
        if reading.emissivity is not None:
            data["emissivity"] = reading.emissivity
        self.bench.temp(data | ({"simulated": True} if is_simulated else {}))
        self._last[reading.emissivity is not None] = reading._replace(temp_c=kept)
        self._pair(reading.t_s)

    def _pair(self, now_s: float) -> None:
        """Infrared beside contact: what emissivity the surface has, where the set one is off."""
        contact, infrared = self._last.get(False), self._last.get(True)
        if contact is None or infrared is None or infrared.emissivity is None or abs(contact.t_s - infrared.t_s) > PAIRED_S:
            return
        air_c = self.bench.joint.heat.air_c
        if contact.temp_c - air_c < OVEN_UNDER_K:
            return
        found = emissivity_of(infrared.temp_c, infrared.emissivity, contact.temp_c, air_c)
        low, high = EMISSIVITY
        if low <= found <= high and abs(found - infrared.emissivity) > TOO_FAR_OFF:
            self.bench.tell(self.bench.say("weld.emissivity", e=f"{found:.2f}", set=f"{infrared.emissivity:.2f}"), bad=True)

    def _oven_says(self, told: OvenReading) -> None:
        """Below what it is set to, or a door left open: said once, and again once it was right between."""
        self._open_since = (told.t_s if self._open_since is None else self._open_since) if told.is_open else None
        word = "cold" if told.temp_c < told.set_c - OVEN_UNDER_K else ""
        if self._open_since is not None and told.t_s - self._open_since > DOOR_S:
            word = "open"
        if word and word != self._oven_told:
            self.bench.tell(self.bench.say(f"weld.oven.{word}", oven=Figure(told.oven, "name"), temp=Figure(told.temp_c, "temperature")), bad=True)
        self._oven_told = word
