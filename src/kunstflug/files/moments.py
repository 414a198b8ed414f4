"""Dates and times of day as somebody's file writes them."""

import re
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from typing import Final

NAN: Final = float("nan")
_DAY: Final = re.compile(r"\s*(\d{1,4})([./-])(\d{1,2})\2(\d{1,4})[ T,;]*(.*)$")
_HALF: Final = re.compile(r"\s*([ap])\.?\s?m\.?\s*$", re.IGNORECASE)
_MONTHS: Final = 12
_CENTURY: Final = 100


class Order(StrEnum):
    """Which number of a date with strokes is the day."""

    DAY_FIRST = "day first"
    MONTH_FIRST = "month first"
    EITHER = "either"


def order_of(cells: Sequence[str]) -> Order:
    """Which number is the day: where no number of any date is above 12, strokes leave it open, points do not."""
    strokes = [found for cell in cells if (found := _DAY.match(cell)) and found[2] == "/" and len(found[1]) < 3]
    if any(int(found[3]) > _MONTHS for found in strokes):
        return Order.MONTH_FIRST
    if not strokes or any(int(found[1]) > _MONTHS for found in strokes):
        return Order.DAY_FIRST
    return Order.EITHER


def seconds_of(cell: str) -> float:
    """Seconds of hh:mm:ss, mm:ss or hh:mm:ss,mmm, with AM or PM where it is written; NaN for none."""
    half = _HALF.search(cell)
    try:
        parts = [float(part.replace(",", ".")) for part in cell[: half.start() if half else None].split(":")]
    except ValueError:
        return NAN
    if len(parts) == 4:  # parts of a second behind a colon
        parts = [*parts[:2], parts[2] + parts[3] / 1000]
    if half:
        if not 1 <= parts[0] <= _MONTHS or len(parts) not in (2, 3):
            return NAN
        hour = parts[0] % 12 + (12 if half[1].lower() == "p" else 0)
        return sum(part * unit for part, unit in zip((hour, *parts[1:]), (3600.0, 60.0, 1.0), strict=False))
    return sum(part * 60.0**k for k, part in enumerate(reversed(parts))) if len(parts) in (2, 3) else NAN


def moment_of(cell: str, *, month_first: bool = False) -> float:
    """Seconds since 1970 of a date with or without a time of day, UTC where no zone is written; NaN for none."""
    try:
        stamp = datetime.fromisoformat(cell.strip())
        return (stamp if stamp.tzinfo else stamp.replace(tzinfo=UTC)).timestamp()
    except (ValueError, OverflowError):
        pass
    found = _DAY.match(cell)
    if found is None:
        return NAN
    first, second, third = (int(found[k]) for k in (1, 3, 4))
    if len(found[1]) == 4:
        year, month, day = first, second, third
    else:
        day, month, year = (second, first, third) if month_first and found[2] == "/" else (first, second, third)
        year += 2000 if year < _CENTURY else 0
    clock = found[5].strip()
    seconds = seconds_of(clock if clock.count(":") != 1 or _HALF.search(clock) else f"{clock}:00") if clock else 0.0
    try:
        return (datetime(year, month, day, tzinfo=UTC) + timedelta(seconds=seconds)).timestamp()
    except (ValueError, OverflowError):
        return NAN


DIGITS_CLOCK: Final = re.compile(r"\s*\d{5,6}([.,]\d+)?\s*$")


def seconds_of_digits(cell: str) -> float:
    """Seconds of hhmmss or hhmmss.ss, as a receiver's sentences have it; NaN for none."""
    whole, _, part = cell.strip().replace(",", ".").partition(".")
    if not DIGITS_CLOCK.match(cell):
        return NAN
    hours, minutes, seconds = (int(two) for two in (whole[:-4], whole[-4:-2], whole[-2:]))
    if hours > 23 or minutes > 59 or seconds > 60:  # 60: a leap second
        return NAN
    return 3600.0 * hours + 60.0 * minutes + seconds + (float(f"0.{part}") if part else 0.0)


def day_of_digits(cell: str, order: str) -> float | None:
    """Seconds since 1970 at which a day of six digits begins.

    Parameters
    ----------
    order : ``ddmmyy`` or ``yymmdd``.
    """
    digits = cell.strip().zfill(6)
    if len(digits) != 6 or not digits.isdigit():
        return None
    pairs = {order[k]: int(digits[k : k + 2]) for k in (0, 2, 4)}
    try:
        return datetime(2000 + pairs["y"], pairs["m"], pairs["d"], tzinfo=UTC).timestamp()
    except ValueError:
        return None
