"""How a CSV file of somebody's is to be read: what was found in it, and what the racer says of its columns."""

from enum import StrEnum
from typing import Final, Literal

from pydantic import Field, ValidationError, model_validator

from kunstflug.core.quantity.errors import InvalidDocument
from kunstflug.documents.base import Out, Strict, field_problems

Kind = Literal["track", "log", "charge"]


class Role(StrEnum):
    """What a column holds."""

    TIME = "time"
    DATE = "date"
    LATITUDE = "latitude"
    LONGITUDE = "longitude"
    PLACE = "place"
    SPEED = "speed"
    ELEVATION = "elevation"
    VOLTAGE = "voltage"
    CURRENT = "current"
    RPM = "rpm"
    THROTTLE = "throttle"
    CONTROLLER_TEMPERATURE = "controller temperature"
    MOTOR_TEMPERATURE = "motor temperature"
    CHARGE = "charge"
    CELL = "cell voltage"


UNITS: Final[dict[Role, dict[str, tuple[float, float]]]] = {
    Role.TIME: {
        "s": (1.0, 0.0), "ms": (1e-3, 0.0), "us": (1e-6, 0.0), "min": (60.0, 0.0), "clock": (1.0, 0.0),
        "date and time": (1.0, 0.0), "date and time, month first": (1.0, 0.0), "unix s": (1.0, 0.0),
        "unix ms": (1e-3, 0.0), "hhmmss": (1.0, 0.0),
    },
    Role.DATE: {
        "date": (1.0, 0.0), "date, month first": (1.0, 0.0), "ddmmyy": (1.0, 0.0), "yymmdd": (1.0, 0.0),
    },
    Role.LATITUDE: {"deg": (1.0, 0.0), "1e-7 deg": (1e-7, 0.0), "ddmm.mmmm": (1.0, 0.0)},
    Role.LONGITUDE: {"deg": (1.0, 0.0), "1e-7 deg": (1e-7, 0.0), "ddmm.mmmm": (1.0, 0.0)},
    Role.PLACE: {"lat lon": (1.0, 0.0), "lon lat": (1.0, 0.0)},
    Role.SPEED: {
        "m/s": (1.0, 0.0), "km/h": (1 / 3.6, 0.0), "kn": (1852 / 3600, 0.0), "mph": (0.44704, 0.0),
        "cm/s": (0.01, 0.0), "mm/s": (0.001, 0.0),
    },
    Role.ELEVATION: {"m": (1.0, 0.0), "ft": (0.3048, 0.0), "mm": (0.001, 0.0)},
    Role.VOLTAGE: {"V": (1.0, 0.0), "mV": (1e-3, 0.0), "cV": (1e-2, 0.0), "dV": (0.1, 0.0)},
    Role.CURRENT: {"A": (1.0, 0.0), "mA": (1e-3, 0.0), "cA": (1e-2, 0.0), "dA": (0.1, 0.0)},
    Role.RPM: {
        "rpm": (1.0, 0.0), "100 rpm": (100.0, 0.0), "1/s": (60.0, 0.0),
        **{f"field, {poles} poles": (2.0 / poles, 0.0) for poles in range(2, 16, 2)},
    },
    Role.THROTTLE: {"%": (1.0, 0.0), "0 to 1": (100.0, 0.0), "us": (0.1, -100.0)},
    Role.CONTROLLER_TEMPERATURE: {"degC": (1.0, 0.0), "degF": (5 / 9, -160 / 9), "K": (1.0, -273.15)},
    Role.MOTOR_TEMPERATURE: {"degC": (1.0, 0.0), "degF": (5 / 9, -160 / 9), "K": (1.0, -273.15)},
    Role.CHARGE: {"mAh": (1.0, 0.0), "Ah": (1000.0, 0.0)},
    Role.CELL: {"V": (1.0, 0.0), "mV": (1e-3, 0.0)},
}  # fmt: skip
"""Of each role the units it may stand in: factor and offset to the core's unit (a pulse of 1000 to 2000 us is 0 to
100 %, common practice, no source)."""

MONTH_FIRST: Final = ", month first"
"""End of the unit of a date whose month stands before its day."""

LOG_COLUMNS: Final[dict[Role, str]] = {
    Role.VOLTAGE: "voltage_v",
    Role.CURRENT: "current_a",
    Role.RPM: "rpm",
    Role.THROTTLE: "throttle_percent",
    Role.CONTROLLER_TEMPERATURE: "controller_degc",
    Role.MOTOR_TEMPERATURE: "motor_degc",
}
"""Roles of a controller log and the core's columns."""


class ColumnChoice(Strict):
    """One column: what it holds and in which unit."""

    column: int = Field(ge=0, le=500)
    role: Role
    unit: str = Field(max_length=40)

    @model_validator(mode="after")
    def _known(self) -> "ColumnChoice":
        if self.unit not in UNITS[self.role]:
            raise ValueError(f"{self.role.value} is not read in {self.unit}")
        return self


class CsvMapping(Strict):
    """What is in a CSV file: a track, a controller log, or a charger's log; and its columns."""

    kind: Kind
    columns: list[ColumnChoice] = Field(min_length=1, max_length=60)

    @model_validator(mode="after")
    def _once(self) -> "CsvMapping":
        roles = [c.role for c in self.columns if c.role is not Role.CELL]
        twice = next((r for r in roles if roles.count(r) > 1), None)
        if twice is not None:
            raise ValueError(f"two columns are {twice.value}")
        return self

    @classmethod
    def of_text(cls, text: str) -> "CsvMapping":
        """A mapping as JSON.

        Raises
        ------
        InvalidDocument : it is none.
        """
        try:
            return cls.model_validate_json(text)
        except ValidationError as error:
            raise InvalidDocument(field_problems(error.errors(include_url=False), "mapping")) from error


class ColumnOptionOut(Out):
    """One way to read a column; no role where it is passed over."""

    role: Role | None
    unit: str
    reads: str = Field(description="what its numbers are then, in words")


class ColumnOut(Out):
    """One column as it was found."""

    heading: str
    role: Role | None
    unit: str
    sure: bool = Field(description="no other reading comes near")
    options: list[ColumnOptionOut] = Field(description="where it is not sure, what it may be, the likeliest first")
    plot: list[float | None] = Field(description="its numbers, thinned")


class RoleOut(Out):
    """What a column may be, and in which units."""

    role: Role
    units: list[str]


class CsvLookOut(Out):
    """A CSV file at a glance."""

    kind: Kind | None = Field(description="what it is taken to be")
    delimiter: str
    decimal_comma: bool
    columns: list[ColumnOut]
    rows: list[list[str]]
    roles: list[RoleOut]
    remembered: bool = Field(description="as the last file of this shape was read")
    sure: bool = Field(description="nothing has to be asked")


ROLES_OF: Final[dict[Kind, frozenset[Role]]] = {
    "track": frozenset({
        Role.TIME, Role.DATE, Role.LATITUDE, Role.LONGITUDE, Role.PLACE, Role.SPEED, Role.ELEVATION,
    }),
    "log": frozenset({Role.TIME, Role.DATE, *LOG_COLUMNS}),
    "charge": frozenset({Role.TIME, Role.CHARGE, Role.CELL}),
}  # fmt: skip
"""What counts of the columns of each kind of file."""


def kind_of(roles: set[Role]) -> Kind | None:
    """What a file with such columns is."""
    if Role.TIME not in roles:
        return None
    if {Role.LATITUDE, Role.LONGITUDE} <= roles or Role.PLACE in roles:
        return "track"
    if roles & {Role.CHARGE, Role.CELL} and not roles & {Role.RPM, Role.THROTTLE}:
        return "charge"
    return "log" if roles & set(LOG_COLUMNS) else None
