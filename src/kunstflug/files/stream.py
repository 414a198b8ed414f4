"""Lines of a boat that is being driven: NMEA 0183 and lines of JSON, told apart line by line.

A line of JSON is one object; all of its fields may be left out but the time::

    {"t": 12.40, "speed_mps": 21.3, "bus_a": 84.0, "voltage_v": 14.1, "rpm": 24100, "throttle": 1.0,
     "controller_c": 41.5, "case_c": 38.2, "latitude_deg": 52.00012, "longitude_deg": 7.00034}

``{"end": true}`` says that the boat is out of the water. NMEA gives time, speed and position (RMC). What cannot be read
is counted and passed over. What is kept is acknowledged with ``{"kept": N}``: that many lines since the device was
reached.
"""

import json
import logging
import math
from typing import Any, Final

import pynmea2

from kunstflug.core.evidence.instruments import POSSIBLE, Column, Range
from kunstflug.core.live.watch import Sample
from kunstflug.core.quantity.units import Dimension, si_from
from kunstflug.files.nmea import angle, second_of_day

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
AHEAD_S: Final = 30.0
"""So far ahead of the line before a clock is believed at once."""
BACK_S: Final = 60.0
"""What is older by up to this is a line that was sent again."""
GAP_S: Final = 1800.0
"""The longest silence of a device that is still followed; a clock that is further ahead was set."""
AGREE: Final = 3
"""So many lines in step make a clock out of line the clock that holds."""
LATEST_S: Final = 1e15
"""Beyond it a clock has no thousandths left, nor has any device one."""

_log = logging.getLogger("kunstflug.live")


class _Clock:
    """Seconds since the first line, of a device's clock that may jump.

    A line that is far from the one before is set aside. When some lines in step with each other follow, the clock holds
    as it is now: a silence is counted as what it was, a clock that was set goes on where it stood. Decided by the lines
    alone, so that what was kept tells the same when it is read again.
    """

    def __init__(self) -> None:
        self._last: float | None = None  # as the device says it
        self._begins = 0.0
        self._aside: list[float] = []

    def seconds(self, at: float) -> float | None:
        """Of a line; None for one that is out of line."""
        if self._last is None:
            self._last = self._begins = at
        midnight = at - self._last + DAY_S
        if abs(midnight) <= BACK_S:
            self._begins -= DAY_S
        elif not -BACK_S <= at - self._last <= AHEAD_S and not self._holds(at):
            return None
        self._aside = []
        # A line that was sent again is older; it does not turn the clock back.
        self._last = at if at > self._last or self._last - at > BACK_S else self._last
        return at - self._begins

    def _holds(self, at: float) -> bool:
        assert self._last is not None
        in_step = not self._aside or 0.0 < at - self._aside[-1] <= GAP_S
        self._aside = [*self._aside, at] if in_step else [at]
        if len(self._aside) < AGREE:
            return False
        if not 0.0 < at - self._last <= GAP_S:  # it was set
            self._begins += at - self._last - (at - self._aside[-2])
        return True


class LineReader:
    """Reads lines into samples; the clock of the first line is where time begins.

    Attributes
    ----------
    unread : lines that could not be read.
    astray : lines whose clock is out of line with those around them; they are set aside.
    ended : whether the device said that the boat is out of the water.
    """

    def __init__(self) -> None:
        self.unread = self.astray = 0
        self.ended = False
        self._clock = _Clock()

    def read(self, line: bytes) -> Sample | None:
        """A sample; None for a line without one."""
        text = line[:LONGEST].decode("ascii", "replace").strip()
        if not text:
            return None
        try:
            found = self._json(text) if text.startswith("{") else self._nmea(text)
        except (ValueError, LookupError, TypeError, ArithmeticError, AttributeError, RecursionError):
            found = math.nan, {}
        except Exception:  # whatever else a line can do, it ends no more than itself
            _log.exception("a line could not be read")
            found = math.nan, {}
        if found is None:
            return None
        at, values = found
        if not abs(at) < LATEST_S:
            self.unread += 1
            return None
        seconds = self._clock.seconds(at)
        if seconds is None:
            self.astray += 1
            return None
        return Sample(time_s=seconds, **values)

    def _json(self, text: str) -> tuple[float, dict[str, float]] | None:
        given: Any = json.loads(text)
        if given == {"end": True}:
            self.ended = True
            return None
        at = float(given["t"])
        values = {}
        for name, possible in FIELDS.items():
            value = given.get(name)
            if isinstance(value, int | float) and not isinstance(value, bool) and possible.holds(value):
                values[name] = float(value)
        return at, values

    def _nmea(self, text: str) -> tuple[float, dict[str, float]] | None:
        sentence = pynmea2.parse(text, check=True)
        if getattr(sentence, "sentence_type", "") != "RMC" or sentence.data[1] != "A":
            return None  # another sentence, or no fix
        clock, _, latitude, north, longitude, east, knots = sentence.data[:7]  # the library lets odd ones pass
        if not clock or not knots:
            return None
        at = second_of_day(clock)
        values = {"speed_mps": si_from(float(knots), "kn", Dimension.SPEED)}
        if latitude and longitude:
            values |= {"latitude_deg": angle(latitude, north, "NS"), "longitude_deg": angle(longitude, east, "EW")}
        return at, {name: value for name, value in values.items() if FIELDS[name].holds(value)}


END: Final = b'{"end":true}\n'
"""Of a device whose boat is out of the water."""


def kept_line(lines: int, unread: int) -> bytes:
    """What is said to a device: so many of its lines are kept, and so many of all that came say nothing."""
    return b'{"kept":%d,"unread":%d}\n' % (lines, unread)


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
