"""Anybody's CSV: how it is written is found, what its columns are is proposed, and with a mapping it is read."""

import hashlib
import re
from array import array
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.evidence.instruments import POSSIBLE, Column
from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.quantity.value import Array, Mask
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.core.tracks.samples import local_metres
from kunstflug.documents.columns import LOG_COLUMNS, MONTH_FIRST, UNITS, ColumnChoice, Role
from kunstflug.files.columns import NAN, Proposal, plain, proposals, speed_unit_by_the_way, unit_in
from kunstflug.files.controller_csv import MOST_ROWS, ReadLog, impossible
from kunstflug.files.dialect import LOOKED_AT, Dialect, dialect_of, rows_of, text_of
from kunstflug.files.moments import moment_of, seconds_of
from kunstflug.files.reading import FEWEST_SAMPLES, Damages, ReadTrack, SampleCollector

_GLANCE: Final = 20_000
"""Rows from which a glance is drawn."""
_DAY_S: Final = 86400.0
_SIDE: Final = re.compile(r"\s*([\d.,]+)\s*°?\s*([NSEWnsew])\s*$")
_THOUSANDS: Final = {
    ".": re.compile(r"\s*[+-]?\d{1,3}(\.\d{3})+(,\d*)?\s*$"),
    ",": re.compile(r"\s*[+-]?\d{1,3}(,\d{3})+(\.\d*)?\s*$"),
}
_SIDES: Final = ((Role.LATITUDE, ("N", "S")), (Role.LONGITUDE, ("E", "W")))


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """A CSV file at a glance.

    Parameters
    ----------
    shape : the same for all files that are written alike.
    rows : first rows of its numbers, as text.
    columns : numbers of each column over the first rows, NaN where a cell is none.
    """

    dialect: Dialect
    shape: str
    headings: list[str]
    rows: list[list[str]]
    columns: list[Array]
    proposals: list[Proposal]


def look(data: bytes) -> Look:
    """A CSV file at a glance: how it is written, its first rows, what its columns may be.

    Raises
    ------
    UnreadableFile : no table of numbers.
    """
    text = text_of(data)
    dialect = dialect_of(text)
    rows = rows_of(text, dialect.delimiter, dialect.first + _GLANCE)
    table = [row for row in rows[dialect.first :] if len(row) == dialect.width]
    headings = rows[dialect.headings] if dialect.headings is not None else [""] * dialect.width
    units = rows[dialect.units] if dialect.units is not None else [""] * dialect.width
    columns = [_numbers([row[k] for row in table], dialect.decimal_comma) for k in range(dialect.width)]
    cells = [[row[k] for row in table[:LOOKED_AT]] for k in range(dialect.width)]
    guessed = proposals(headings, units, cells, columns)
    said = [unit_in(heading, unit) for heading, unit in zip(headings, units, strict=True)]
    guessed = _speed_checked(guessed, said, cells, columns)
    return Look(
        dialect=dialect, shape=_shape(dialect, [*headings, *units]), headings=headings, rows=table[:8], columns=columns,
        proposals=guessed,
    )  # fmt: skip


def _shape(dialect: Dialect, headings: list[str]) -> str:
    """The same for files whose headings and row of units say the same."""
    told = "|".join([dialect.delimiter, str(dialect.decimal_comma), str(dialect.width), *map(plain, headings)])
    return hashlib.sha256(told.encode()).hexdigest()[:32]


def _numbers(cells: list[str], decimal_comma: bool) -> Array:
    """Cells as numbers, NaN for none: with points or commas between thousands, and with a letter of the compass."""
    out = np.full(len(cells), NAN)
    point, comma = (",", ".") if decimal_comma else (".", ",")
    for k, cell in enumerate(cells):
        bare, sign = cell, 1.0
        if (side := _SIDE.match(cell)) is not None:
            bare, sign = side[1], -1.0 if side[2] in "SWsw" else 1.0
        if comma in bare and _THOUSANDS[comma].match(bare):
            bare = bare.replace(comma, "")
        try:
            out[k] = sign * float(bare.replace(point, "."))
        except ValueError:
            continue
    return out


def _speed_checked(
    guessed: list[Proposal], said: list[str], cells: list[list[str]], columns: list[Array]
) -> list[Proposal]:
    """A speed is held against the ways between the positions: they tell its unit, and doubt one that the file tells."""
    at = {p.role: k for k, p in enumerate(guessed) if p.role is not None}
    needed = (Role.SPEED, Role.LATITUDE, Role.LONGITUDE, Role.TIME)
    if not all(role in at for role in needed):
        return guessed
    count = min(len(column) for column in columns)
    latitude, longitude = (
        converted(guessed[at[role]].unit, role, columns[at[role]][:count]) for role in (Role.LATITUDE, Role.LONGITUDE)
    )
    clock = guessed[at[Role.TIME]]
    time = _times(clock.unit, cells[at[Role.TIME]], columns[at[Role.TIME]][: len(cells[at[Role.TIME]])])
    few = min(len(time), count)
    if few < FEWEST_SAMPLES or not np.isfinite(latitude[:few]).all() or not np.isfinite(longitude[:few]).all():
        return guessed
    east, north = local_metres(latitude[:few], longitude[:few])
    with np.errstate(invalid="ignore", divide="ignore"):
        way = np.hypot(np.diff(east), np.diff(north)) / np.diff(time[:few])
    unit, even = speed_unit_by_the_way(columns[at[Role.SPEED]][1:few], way)
    found = list(guessed)
    told = said[at[Role.SPEED]]
    if unit and told not in UNITS[Role.SPEED]:
        found[at[Role.SPEED]] = Proposal(role=Role.SPEED, unit=unit, sure=True)
    elif unit and even and unit != told:
        found[at[Role.SPEED]] = Proposal(role=Role.SPEED, unit=unit, sure=False)
    return found


def converted(unit: str, role: Role, numbers: Array) -> Array:
    """A column in the core's unit."""
    if unit == "ddmm.mmmm":
        whole = np.trunc(numbers / 100)
        return np.asarray(whole + (numbers - 100 * whole) / 60)
    factor, offset = UNITS[role][unit]
    return numbers * factor + offset


def _times(unit: str, cells: list[str], numbers: Array, days: Array | None = None) -> Array:
    """Times [s]; since 1970 where the file has dates.

    Parameters
    ----------
    days : where the day of each begins [s since 1970], of a file with dates of their own.
    """
    if unit.startswith("date"):
        return _moments(unit, cells)
    if unit == "clock":
        seconds = np.array([seconds_of(cell) for cell in cells])
        if days is not None:
            return np.asarray(days + seconds)
        return np.asarray(seconds + _DAY_S * np.concatenate([[0], np.cumsum(np.diff(seconds) < -_DAY_S / 2)]))
    return converted(unit, Role.TIME, numbers)


def _moments(unit: str, cells: list[str]) -> Array:
    return np.array([moment_of(cell, month_first=unit.endswith(MONTH_FIRST)) for cell in cells])


@dataclass(frozen=True, slots=True, kw_only=True)
class _Table:
    """Columns of a file by role, in the core's units, and the line of each row."""

    time: Array
    columns: dict[Role, Array]
    cells: list[Array]
    lines: Array


def _read(data: bytes, choices: Sequence[ColumnChoice]) -> tuple[_Table, Damages]:
    text = text_of(data)
    dialect = dialect_of(text)
    found, lines = Damages(), array("q")
    rows: list[list[str]] = []
    for number, row in enumerate(rows_of(text, dialect.delimiter, MOST_ROWS + dialect.first)):
        if number < dialect.first or not any(row):
            continue
        if len(row) < dialect.width:
            found.broke(number + 1, f"{len(row)} cells; the others have {dialect.width}")
            continue
        rows.append(row)
        lines.append(number + 1)
    for choice in choices:
        if choice.column >= dialect.width:
            raise UnreadableFile(f"there is no column {choice.column + 1} in it")
    told: dict[Role, ColumnChoice] = {choice.role: choice for choice in choices if choice.role != Role.CELL}
    if Role.TIME not in told:
        raise UnreadableFile("no column says the time")

    def texts(role: Role) -> list[str]:
        return [row[told[role].column] for row in rows]

    numbers = {role: _numbers(texts(role), dialect.decimal_comma) for role in told}
    days = _moments(told[Role.DATE].unit, texts(Role.DATE)) if Role.DATE in told else None
    time = _times(told[Role.TIME].unit, texts(Role.TIME), numbers[Role.TIME], days)
    columns: dict[Role, Array] = {
        role: converted(choice.unit, role, numbers[role])
        for role, choice in told.items()
        if role not in (Role.TIME, Role.DATE)
    }
    for role, sides in _SIDES:
        if role in columns:
            other = _on_the_other_side(rows, told[role].column, sides)
            columns[role] = np.where(other, -np.abs(columns[role]), columns[role])
    cells = [
        converted(c.unit, Role.CELL, _numbers([row[c.column] for row in rows], dialect.decimal_comma))
        for c in choices
        if c.role is Role.CELL
    ]
    return _Table(time=time, columns=columns, cells=cells, lines=np.array(lines, dtype=np.float64)), found


def _on_the_other_side(rows: list[list[str]], column: int, sides: tuple[str, str]) -> Mask:
    """Which angles lie south or west, where a column beside them says it."""
    for beside in (column + 1, column - 1):
        if not 0 <= beside < min(map(len, rows), default=0):
            continue
        letters = [row[beside].strip().upper()[:1] for row in rows]
        if set(letters) <= set(sides):
            return np.array([letter == sides[1] for letter in letters])
    return np.zeros(len(rows), dtype=bool)


def read_mapped_track(data: bytes, choices: Sequence[ColumnChoice]) -> ReadTrack:
    """Track of a CSV file.

    Raises
    ------
    UnreadableFile : no time, no place, or too little of it readable.
    """
    table, damages = _read(data, choices)
    if Role.LATITUDE not in table.columns or Role.LONGITUDE not in table.columns:
        raise UnreadableFile("a track needs latitude and longitude")
    found = SampleCollector("CSV")
    found.damages = damages
    nothing = np.full(len(table.time), NAN)
    latitude, longitude = table.columns[Role.LATITUDE], table.columns[Role.LONGITUDE]
    speed, height = (table.columns.get(role, nothing) for role in (Role.SPEED, Role.ELEVATION))
    for k in range(len(table.time)):
        if not np.isfinite(latitude[k]) or not np.isfinite(longitude[k]):
            found.broke(int(table.lines[k]), "no place in it")
            continue
        found.add(
            float(table.time[k]), float(latitude[k]), float(longitude[k]), float(speed[k]), int(table.lines[k]),
            float(height[k]),
        )  # fmt: skip
    return found.result()


def read_mapped_log(data: bytes, choices: Sequence[ColumnChoice]) -> ReadLog:
    """Controller log of a CSV file; times from its first row.

    Raises
    ------
    UnreadableFile : no time, nothing of a controller, or too little of it readable.
    """
    table, found = _read(data, choices)
    columns = {name: table.columns[role] for role, name in LOG_COLUMNS.items() if role in table.columns}
    if not columns:
        raise UnreadableFile("nothing in it that a controller logs: voltage, current, rpm, throttle, temperature")
    good = np.isfinite(table.time)
    before = np.maximum.accumulate(np.where(good, table.time, -np.inf))
    good &= np.concatenate([[True], table.time[1:] > before[:-1]]) if len(good) else good
    for k in np.flatnonzero(~good):
        found.broke(int(table.lines[k]), "the clock stands or goes back" if np.isfinite(table.time[k]) else "no time")
    for name, values in columns.items():
        possible = POSSIBLE[Column(name)]
        with np.errstate(invalid="ignore"):
            wrong = good & ((values < possible.low) | (values > possible.high))
        for k in np.flatnonzero(wrong):
            found.broke(int(table.lines[k]), impossible(name, float(values[k])))
        good &= ~wrong
    if np.sum(good) < FEWEST_SAMPLES:
        first = found.first()
        reason = first.reason if first else f"{int(np.sum(good))} rows; a log needs at least {FEWEST_SAMPLES}"
        raise UnreadableFile(reason, first.line if first else 1)
    time = table.time[good]
    log = ControllerLog(time_s=time - time[0], columns={name: values[good] for name, values in columns.items()})
    return ReadLog(log=log, damages=found.kept(), broken=found.count)


@dataclass(frozen=True, slots=True, kw_only=True)
class Charged:
    """What a charger's log says: charge put back [mAh], cells at rest before it began [V]."""

    mah: float | None
    rest_v: list[float]


def read_mapped_charge(data: bytes, choices: Sequence[ColumnChoice]) -> Charged:
    """What a charger's log says.

    Raises
    ------
    UnreadableFile : neither charge nor cells in it.
    """
    table, _ = _read(data, choices)
    charge = table.columns.get(Role.CHARGE, np.empty(0))
    known = charge[np.isfinite(charge)]
    cells = [float(values[np.isfinite(values)][0]) for values in table.cells if np.isfinite(values).any()]
    cells = [round(v, 3) for v in cells if 0 < v <= 5]
    if not len(known) and not cells:
        raise UnreadableFile("neither a charge nor cells in it")
    return Charged(mah=round(float(np.max(known) - min(known[0], 0.0)), 1) if len(known) else None, rest_v=cells)
