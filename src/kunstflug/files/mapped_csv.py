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
from kunstflug.documents.columns import LOG_COLUMNS, MONTH_FIRST, ROLES_OF, UNITS, ColumnChoice, Role
from kunstflug.files.agreement import current_checked
from kunstflug.files.candidates import two_numbers
from kunstflug.files.columns import NAN, Option, Proposal, proposals, speed_unit_by_the_way
from kunstflug.files.controller_csv import MOST_ROWS, ReadLog, impossible
from kunstflug.files.dialect import LOOKED_AT, Dialect, dialect_of, rows_of, text_of
from kunstflug.files.headings import plain, unit_in
from kunstflug.files.moments import day_of_digits, moment_of, seconds_of, seconds_of_digits
from kunstflug.files.reading import FEWEST_SAMPLES, Damages, ReadTrack, SampleCollector

_GLANCE: Final = 20_000
"""Rows from which a glance is drawn."""
_DAY_S: Final = 86400.0
_ANGLE: Final = re.compile(
    r"\s*([NSEWnsew+-]?)\s*(\d+(?:[.,]\d+)?)\s*(?:[°º:d ]\s*(?:(\d+(?:[.,]\d+)?)\s*(?:['′’:m ]\s*)?"
    r"(?:(\d+(?:[.,]\d+)?)\s*(?:\"|″|”|''|s)?)?)?)?\s*([NSEWnsew]?)\s*$"
)
"""Degrees, then minutes and seconds where they are written, with a letter of the compass before or behind."""
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
    table = [row for row in table if row not in rows[: dialect.first]]
    headings = rows[dialect.headings] if dialect.headings is not None else [""] * dialect.width
    units = rows[dialect.units] if dialect.units is not None else [""] * dialect.width
    columns = [_numbers([row[k] for row in table], dialect.decimal_comma) for k in range(dialect.width)]
    cells = [[row[k] for row in table[:LOOKED_AT]] for k in range(dialect.width)]
    guessed = proposals(headings, units, cells, columns)
    said = [unit_in(heading, unit) for heading, unit in zip(headings, units, strict=True)]
    guessed = current_checked(_speed_checked(guessed, said, cells, columns), headings, units, columns)
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
        bare = cell.replace(comma, "") if comma in cell and _THOUSANDS[comma].match(cell) else cell
        try:
            out[k] = float(bare.replace(point, "."))
        except ValueError:
            out[k] = _angle(cell)
    return out


def _angle(cell: str) -> float:
    """An angle in degrees, or degrees with minutes and seconds, with a letter or a sign; NaN for none."""
    found = _ANGLE.match(cell)
    if found is None or not (found[1].isalpha() or found[5] or "°" in cell or "º" in cell):
        return NAN
    degrees, minutes, seconds = (float(part.replace(",", ".")) if part else 0.0 for part in found.group(2, 3, 4))
    if minutes > 60.0 or seconds > 60.0:  # 60.000 is what a device rounds to
        return NAN
    away = found[1] == "-" or (found[1] + found[5]).upper() in ("S", "W")
    return (-1.0 if away else 1.0) * (degrees + minutes / 60.0 + seconds / 3600.0)


def _speed_checked(
    guessed: list[Proposal], said: list[str], cells: list[list[str]], columns: list[Array]
) -> list[Proposal]:
    """A speed is held against the ways between the positions: they tell its unit, and doubt one that the file tells."""
    at = {p.role: k for k, p in enumerate(guessed) if p.role is not None}
    if Role.SPEED not in at or Role.TIME not in at:
        return guessed
    k, speed = at[Role.SPEED], guessed[at[Role.SPEED]]
    way = _way_mps(guessed, at, cells, columns)
    if way is None:
        return guessed
    unit, even = speed_unit_by_the_way(columns[k][1 : len(way) + 1], way)
    found = list(guessed)
    if unit and said[k] not in UNITS[Role.SPEED]:
        close = [one for one in speed.options if one.role is not Role.SPEED and one.role is not None]
        found[k] = Proposal(role=Role.SPEED, unit=unit, sure=not close, options=(*close,))
    elif unit and even and unit != said[k]:
        both = (Option(role=Role.SPEED, unit=unit), Option(role=Role.SPEED, unit=said[k]), Option(role=None))
        found[k] = Proposal(role=Role.SPEED, unit=unit, sure=False, options=both)
    return found


def _way_mps(
    guessed: list[Proposal], at: dict[Role, int], cells: list[list[str]], columns: list[Array]
) -> Array | None:
    """Way between the positions over the time between them [m/s]; None where either is not there."""
    if Role.PLACE in at:
        latitude, longitude = _places(guessed[at[Role.PLACE]].unit, cells[at[Role.PLACE]])
    elif Role.LATITUDE in at and Role.LONGITUDE in at:
        latitude, longitude = (
            converted(guessed[at[role]].unit, role, columns[at[role]]) for role in (Role.LATITUDE, Role.LONGITUDE)
        )
    else:
        return None
    when = cells[at[Role.TIME]]
    time = _times(guessed[at[Role.TIME]].unit, when, columns[at[Role.TIME]][: len(when)])
    few = min(len(time), len(latitude))
    if few < FEWEST_SAMPLES or not np.isfinite(latitude[:few]).all() or not np.isfinite(longitude[:few]).all():
        return None
    east, north = local_metres(latitude[:few], longitude[:few])
    with np.errstate(invalid="ignore", divide="ignore"):
        way: Array = np.hypot(np.diff(east), np.diff(north)) / np.diff(time[:few])
    return way


def _places(unit: str, cells: list[str]) -> tuple[Array, Array]:
    """Latitudes and longitudes of cells that hold both."""
    both = np.array([two_numbers(cell) for cell in cells]).reshape(len(cells), 2)
    first, second = both[:, 0], both[:, 1]
    return (first, second) if unit == "lat lon" else (second, first)


def converted(unit: str, role: Role, numbers: Array) -> Array:
    """A column in the core's unit."""
    if unit == "ddmm.mmmm":
        whole = np.trunc(numbers / 100)
        return np.asarray(whole + (numbers - 100 * whole) / 60)
    factor, offset = UNITS[role][unit]
    return numbers * factor + offset


def in_core_unit(role: Role, unit: str, cells: list[str], numbers: Array) -> Array:
    """A column as it is read: a time since it began or since 1970 [s], a place by its first angle [deg], an amount."""
    if role in (Role.TIME, Role.DATE):
        return _times(unit, cells, numbers) if role is Role.TIME else _moments(unit, cells)
    return _places(unit, cells)[0] if role is Role.PLACE else converted(unit, role, numbers)


def _times(unit: str, cells: list[str], numbers: Array, days: Array | None = None) -> Array:
    """Times [s]; since 1970 where the file has dates.

    Parameters
    ----------
    days : where the day of each begins [s since 1970], of a file with dates of their own.
    """
    if unit.startswith("date"):
        return _moments(unit, cells)
    if unit in ("clock", "hhmmss"):
        seconds = np.array([seconds_of(cell) if unit == "clock" else seconds_of_digits(cell) for cell in cells])
        if days is not None:
            return np.asarray(days + seconds)
        return np.asarray(seconds + _DAY_S * np.concatenate([[0], np.cumsum(np.diff(seconds) < -_DAY_S / 2)]))
    return converted(unit, Role.TIME, numbers)


def _moments(unit: str, cells: list[str]) -> Array:
    if unit in ("ddmmyy", "yymmdd"):
        days = (day_of_digits(cell, unit) for cell in cells)
        return np.array([NAN if day is None else day for day in days])
    return np.array([moment_of(cell, month_first=unit.endswith(MONTH_FIRST)) for cell in cells])


@dataclass(frozen=True, slots=True, kw_only=True)
class _Table:
    """Columns of a file by role, in the core's units, and the line of each row."""

    time: Array
    columns: dict[Role, Array]
    cells: list[Array]
    lines: Array


def _rows(text: str, dialect: Dialect) -> tuple[list[list[str]], "array[int]", Damages]:
    """Rows of the table with their lines, and what is broken; headings that a device wrote again are passed over."""
    written = rows_of(text, dialect.delimiter, MOST_ROWS + dialect.first)
    above, found = written[: dialect.first], Damages()
    rows: list[list[str]] = []
    lines = array("q")
    for number, row in enumerate(written[dialect.first :], dialect.first + 1):
        if not any(row) or row in above:
            continue
        if len(row) < dialect.width:
            found.broke(number, f"{len(row)} cells; the others have {dialect.width}")
            continue
        rows.append(row)
        lines.append(number)
    return rows, lines, found


def _read(data: bytes, choices: Sequence[ColumnChoice]) -> tuple[_Table, Damages]:
    text = text_of(data)
    dialect = dialect_of(text)
    rows, lines, found = _rows(text, dialect)
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
        if role not in (Role.TIME, Role.DATE, Role.PLACE)
    }
    if Role.PLACE in told:
        columns[Role.LATITUDE], columns[Role.LONGITUDE] = _places(told[Role.PLACE].unit, texts(Role.PLACE))
    for role, sides in _SIDES:
        if role in told:
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


def read_sure_track(data: bytes) -> ReadTrack:
    """Track of a CSV file of whose columns none has to be asked about.

    Raises
    ------
    UnreadableFile : no table of numbers in it, no track, or a column that may be several things, with what it may be.
    """
    seen = look(data)
    for heading, found in zip(seen.headings, seen.proposals, strict=True):
        may_be = [o for o in found.options if o.role in ROLES_OF["track"]]
        if may_be:
            told = " or ".join(f"{one.role} in {one.unit}" for one in may_be)
            raise UnreadableFile(f"column “{heading}” may be {told}: say which in its heading, or on the page")
    roles = [(k, found) for k, found in enumerate(seen.proposals) if found.role is not None]
    return read_mapped_track(data, [ColumnChoice(column=k, role=f.role, unit=f.unit) for k, f in roles if f.role])


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
    return Charged(mah=_put_back_mah(known) if len(known) else None, rest_v=cells)


def _put_back_mah(charge: Array) -> float:
    """The charge put back in the last cycle of a charger's log, which begins where the count falls by half."""
    begins = np.flatnonzero(charge[1:] < 0.5 * charge[:-1]) + 1
    last = charge[begins[-1] :] if len(begins) else charge
    return round(float(np.max(last) - min(last[0], 0.0)), 1)
