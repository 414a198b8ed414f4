"""FIT, the binary files of sports watches and receivers, read with fitdecode."""

import io
import warnings
from datetime import datetime
from typing import Any, Final

import fitdecode

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.reading import ReadTrack, SampleCollector, check_size

_DEGREES: Final = 180.0 / 2**31
_NAN: Final = float("nan")
BROKEN: Final = (
    fitdecode.FitError, ValueError, TypeError, KeyError, IndexError, AttributeError, OverflowError, ArithmeticError,
    MemoryError, AssertionError, UnicodeError,
)  # fmt: skip
"""What the library raises on a file of rubbish; found by feeding it some."""


def is_fit(data: bytes) -> bool:
    """Whether a file says that it is FIT."""
    return len(data) >= 14 and data[8:12] == b".FIT" and data[0] in (12, 14)


def read_fit(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of the record messages of a FIT file: time, place, height, speed; a pause begins a new piece.

    Raises
    ------
    UnreadableFile : not FIT, or too little of it readable.
    """
    check_size(data)
    found = SampleCollector("FIT", choice)
    count = 0
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with fitdecode.FitReader(
                io.BytesIO(data), check_crc=fitdecode.CrcCheck.DISABLED, error_handling=fitdecode.ErrorHandling.IGNORE
            ) as reader:
                for frame in reader:
                    if isinstance(frame, fitdecode.FitDataMessage):
                        count += 1
                        _take(frame, count, found)
    except BROKEN as broken:
        if not len(found):
            raise UnreadableFile(f"FIT that cannot be read: {type(broken).__name__}") from broken
        found.broke(count + 1, "it breaks off here, or what follows is not FIT")
    return found.result()


def _take(frame: Any, count: int, found: SampleCollector) -> None:
    if frame.name == "event" and frame.get_value("event_type", fallback=None) in ("stop", "stop_all", "start"):
        found.segment()
    if frame.name != "record":
        return
    when = frame.get_value("timestamp", fallback=None)
    latitude, longitude = (frame.get_value(f"position_{axis}", fallback=None) for axis in ("lat", "long"))
    if latitude is None or longitude is None or when is None:
        return  # before the first fix
    if not isinstance(when, datetime):
        found.broke(count, "a sample without a date")
        return
    second = when.timestamp()
    fraction = _number(frame, "fractional_timestamp")
    second += fraction if fraction == fraction else 0.0
    speed = _number(frame, "enhanced_speed")
    speed = speed if speed == speed else _number(frame, "speed")
    height = _number(frame, "enhanced_altitude")
    height = height if height == height else _number(frame, "altitude")
    found.add(second, float(latitude) * _DEGREES, float(longitude) * _DEGREES, speed, count, height)


def _number(frame: Any, name: str) -> float:
    value = frame.get_value(name, fallback=None)
    return float(value) if isinstance(value, (int, float)) else _NAN
