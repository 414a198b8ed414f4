"""What the numbers of somebody's CSV column are when they are read one way, in words."""

import datetime as dt
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.documents.columns import Role
from kunstflug.wording.tongue import trimmed

_LONG_AGO_S: Final = 1e8
_MINUTE_S: Final = 60.0
_UNITS: Final[tuple[tuple[Role, float, str], ...]] = (
    (Role.SPEED, 3.6, "km/h"),
    (Role.ELEVATION, 1.0, "m"),
    (Role.VOLTAGE, 1.0, "V"),
    (Role.CURRENT, 1.0, "A"),
    (Role.RPM, 1.0, "rpm"),
    (Role.THROTTLE, 1.0, "%"),
    (Role.CONTROLLER_TEMPERATURE, 1.0, "°C"),
    (Role.MOTOR_TEMPERATURE, 1.0, "°C"),
    (Role.CHARGE, 1.0, "mAh"),
    (Role.CELL, 1.0, "V"),
)


def reads(role: Role, values: Array) -> str:
    """What a column's numbers are, in the core's unit: how high they go, how long they last, when they begin."""
    known = values[np.isfinite(values)]
    if not len(known):
        return "no numbers"
    if role in (Role.TIME, Role.DATE):
        return _moment(float(known[0]), float(known[-1] - known[0]))
    if role in (Role.LATITUDE, Role.LONGITUDE, Role.PLACE):
        return f"begins at {trimmed(float(known[0]), 6)}°"
    factor, unit = next((factor, unit) for one, factor, unit in _UNITS if one is role)
    return f"up to {trimmed(float(np.max(known)) * factor, 3)} {unit}"


def _moment(first_s: float, seconds: float) -> str:
    if first_s > _LONG_AGO_S:
        return f"{dt.datetime.fromtimestamp(first_s, dt.UTC):%-d %B %Y}"
    return f"lasts {trimmed(seconds / _MINUTE_S, 3)} min" if seconds > _MINUTE_S else f"lasts {trimmed(seconds, 3)} s"
