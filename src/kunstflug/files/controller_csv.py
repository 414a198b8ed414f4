"""Controller log as CSV: one header line, one line a sample.

Columns (any order, further ones are passed over): ``time_s`` and any of ``voltage_v``, ``current_a``, ``rpm``,
``throttle_percent``, ``controller_degc``, ``motor_degc``. Comma, semicolon or tab between columns; a decimal comma is
read where the columns are not parted by commas.
"""

from array import array
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.evidence.instruments import POSSIBLE, Column
from kunstflug.core.quantity.errors import FileTooLarge, UnreadableFile
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.files.csv_table import read_table
from kunstflug.files.reading import FEWEST_SAMPLES, Damage, Damages, check_size

COLUMNS: Final[tuple[Column, ...]] = (
    Column.VOLTAGE, Column.CURRENT, Column.RPM, Column.THROTTLE, Column.CONTROLLER, Column.CASE,
)  # fmt: skip
"""What a controller's log can hold."""
MOST_ROWS: Final = 2_000_000
HOPELESS: Final = 10_000
"""After so many bad rows and not one good one it is no log."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadLog:
    """A controller log, and what could not be read of it."""

    log: ControllerLog
    damages: tuple[Damage, ...]  # the first ones
    broken: int  # how many there are


def read_controller_csv(data: bytes) -> ReadLog:
    """Controller log of a CSV file, and the lines that could not be read or cannot be true.

    Raises
    ------
    UnreadableFile : no ``time_s`` column, or fewer than five readable lines.
    """
    check_size(data)
    table = read_table(data)
    header = [h.strip().lower() for h in table.header]
    if "time_s" not in header or not set(header) & set(COLUMNS):
        raise UnreadableFile(
            f"the header needs time_s and one of {', '.join(COLUMNS)}; it has {', '.join(header)[:80]}", 1
        )
    wanted = [(name, header.index(name)) for name in ("time_s", *COLUMNS) if name in header]
    rows, found = array("d"), Damages()
    last = -np.inf
    for line, cells in table.rows():
        try:
            numbers = [_number(cells[i], table.decimal_comma) for _, i in wanted]
        except (ValueError, IndexError):
            found.broke(line, f"'{table.delimiter.join(cells)[:40]}' is not a row of numbers")
            if found.count > HOPELESS and not rows:
                break
            continue
        reason = _impossible(wanted, numbers, last)
        if reason:
            found.broke(line, reason)
            continue
        last = numbers[0]
        if len(rows) >= MOST_ROWS * len(wanted):
            raise FileTooLarge(f"more than {MOST_ROWS} rows")
        rows.extend(numbers)
    count = len(rows) // len(wanted)
    if count < FEWEST_SAMPLES:
        first = found.first() or Damage(line=1, reason=f"{count} rows; a log needs at least {FEWEST_SAMPLES}")
        raise UnreadableFile(first.reason, first.line)
    numbers_of = np.frombuffer(rows, dtype=np.float64).reshape(-1, len(wanted))
    columns = {name: numbers_of[:, k] for k, (name, _) in enumerate(wanted) if name != "time_s"}
    return ReadLog(
        log=ControllerLog(time_s=numbers_of[:, 0], columns=columns), damages=found.kept(), broken=found.count
    )


def _number(cell: str, decimal_comma: bool) -> float:
    text = cell.strip()
    if not text:
        return float("nan")
    return float(text.replace(",", ".") if decimal_comma else text)


def _impossible(wanted: list[tuple[str, int]], numbers: list[float], last: float) -> str:
    """Why a row cannot be true; empty where it can."""
    if not np.isfinite(numbers[0]):
        return "no time"
    if numbers[0] <= last:
        return f"the clock goes back by {last - numbers[0]:.4g} s" if numbers[0] < last else "the same time twice"
    for (name, _), value in zip(wanted[1:], numbers[1:], strict=True):
        if value < POSSIBLE[Column(name)].low or value > POSSIBLE[Column(name)].high:
            return impossible(name, value)
    return ""


def impossible(name: str, value: float) -> str:
    """What is said of a value that cannot be."""
    possible = POSSIBLE[Column(name)]
    return f"{name} is {value:.6g}; {possible.low:g} to {possible.high:g} is possible"


def write_controller_csv(log: ControllerLog) -> bytes:
    """CSV of a controller log."""
    names = list(log.columns)
    lines = [",".join(["time_s", *names])]
    for k, t in enumerate(log.time_s.tolist()):
        lines.append(",".join([f"{t:.2f}", *(f"{float(log.columns[n][k]):.6g}" for n in names)]))
    return ("\n".join(lines) + "\n").encode()
