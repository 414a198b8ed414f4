"""Lines of a boat that is being driven: NMEA 0183 and lines of JSON, told apart line by line.

A line of JSON is one object; all of its fields may be left out but the time::

    {"t": 12.40, "speed_mps": 21.3, "bus_a": 84.0, "voltage_v": 14.1, "rpm": 24100, "throttle": 1.0,
     "controller_c": 41.5, "case_c": 38.2, "latitude_deg": 52.00012, "longitude_deg": 7.00034}

``{"end": true}`` says that the boat is out of the water. NMEA gives time, speed and position (RMC). What cannot be read
is counted and passed over. What is kept is acknowledged with ``{"kept": N}``: that many lines since the device was
reached.
"""

import json
import math
from typing import Any, Final

import pynmea2

from kunstflug.core.evidence.instruments import POSSIBLE, Column, Range
from kunstflug.core.live.watch import Sample
from kunstflug.core.quantity.units import Dimension, si_from

_THROTTLE: Final = POSSIBLE[Column.THROTTLE]
FIELDS: Final = {
    "speed_mps": POSSIBLE[Column.SPEED],
    "bus_a": POSSIBLE[Column.CURRENT],
    "voltage_v": POSSIBLE[Column.VOLTAGE],
    "rpm": POSSIBLE[Column.RPM],
    "throttle": Range(low=_THROTTLE.low / 100.0, high=_THROTTLE.high / 100.0),
    "controller_c": POSSIBLE[Column.CONTROLLER],
    "case_c": POSSIBLE[Column.CASE],
    "latitude_deg": Range(low=-90.0, high=90.0),
    "longitude_deg": Range(low=-180.0, high=180.0),
}
"""Of a line of JSON, and between what it can be believed: what a log read after landing may hold, a line may hold."""
LONGEST: Final = 1000
DAY_S: Final = 86400.0


class LineReader:
    """Reads lines into samples; the clock of the first line is where time begins.

    Attributes
    ----------
    unread : lines that could not be read.
    ended : whether the device said that the boat is out of the water.
    """

    def __init__(self) -> None:
        self.unread = 0
        self.ended = False
        self._first: float | None = None
        self._last = 0.0

    def read(self, line: bytes) -> Sample | None:
        """A sample; None for a line without one."""
        text = line[:LONGEST].decode("ascii", "replace").strip()
        if not text:
            return None
        found = self._json(text) if text.startswith("{") else self._nmea(text)
        if found is None:
            return None
        at, values = found
        if not math.isfinite(at):
            self.unread += 1
            return None
        self._first = at if self._first is None else self._first
        seconds = at - self._first
        if seconds < self._last - DAY_S / 2:  # a clock that passed midnight
            self._first -= DAY_S
            seconds += DAY_S
        self._last = seconds
        return Sample(time_s=seconds, **values)

    def _json(self, text: str) -> tuple[float, dict[str, float]] | None:
        try:
            given: Any = json.loads(text)
            if given == {"end": True}:
                self.ended = True
                return None
            at = float(given["t"])
        except (ValueError, KeyError, TypeError):
            self.unread += 1
            return None
        values = {}
        for name, possible in FIELDS.items():
            value = given.get(name)
            if isinstance(value, int | float) and not isinstance(value, bool) and possible.holds(value):
                values[name] = float(value)
        return at, values

    def _nmea(self, text: str) -> tuple[float, dict[str, float]] | None:
        try:
            sentence = pynmea2.parse(text, check=True)
        except (pynmea2.ParseError, ValueError):
            self.unread += 1
            return None
        if sentence.sentence_type != "RMC" or getattr(sentence, "status", "V") != "A":
            return None  # another sentence, or no fix
        clock, knots = sentence.timestamp, sentence.spd_over_grnd
        if clock is None or knots is None:
            return None
        at = clock.hour * 3600.0 + clock.minute * 60.0 + clock.second + clock.microsecond * 1e-6
        values = {"speed_mps": si_from(float(knots), "kn", Dimension.SPEED)}
        if sentence.lat and sentence.lon:
            values |= {"latitude_deg": float(sentence.latitude), "longitude_deg": float(sentence.longitude)}
        return at, values


END: Final = b'{"end":true}\n'
"""Of a device whose boat is out of the water."""


def kept_line(lines: int) -> bytes:
    """What is said to a device: so many of its lines are kept."""
    return b'{"kept":%d}\n' % lines


def kept_of(line: bytes) -> int | None:
    """How many lines are kept, as a device is told; None for a line that does not say."""
    try:
        told: Any = json.loads(line)
        return int(told["kept"])
    except (ValueError, KeyError, TypeError):
        return None


def json_line(sample: Sample) -> bytes:
    """A sample as a line of JSON."""
    values = {name: getattr(sample, name) for name in FIELDS}
    told = {"t": round(sample.time_s, 3)} | {
        k: round(v, 7 if k.endswith("deg") else 4) for k, v in values.items() if v is not None
    }
    return json.dumps(told, separators=(",", ":")).encode() + b"\n"
