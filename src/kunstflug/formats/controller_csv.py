"""Controller log as CSV: one header line, one line a sample.

Columns (any order, further ones are passed over): ``time_s`` and any of ``voltage_v``, ``current_a``, ``rpm``,
``throttle_percent``, ``controller_degc``, ``motor_degc``. Decimal point, comma or semicolon between columns.
"""

import csv
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.errors import UnreadableFile
from kunstflug.core.tracks.samples import Array
from kunstflug.formats.reading import Damage, check_size

COLUMNS: Final[tuple[str, ...]] = ("voltage_v", "current_a", "rpm", "throttle_percent", "controller_degc", "motor_degc")


@dataclass(frozen=True, slots=True, kw_only=True)
class ControllerLog:
    """A controller log; arrays of shape (N,), NaN where a column is missing."""

    time_s: Array
    columns: dict[str, Array]


def read_controller_csv(data: bytes) -> tuple[ControllerLog, tuple[Damage, ...]]:
    """Controller log of a CSV file, and the lines that could not be read.

    Raises
    ------
    UnreadableFile : no ``time_s`` column, or fewer than five readable lines.
    """
    check_size(data)
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as broken:
        raise UnreadableFile("not UTF-8 text", data[: broken.start].count(b"\n") + 1) from broken
    lines = text.splitlines()
    delimiter = ";" if lines[0].count(";") > lines[0].count(",") else ","
    reader = csv.reader(lines, delimiter=delimiter)
    header = [h.strip().lower() for h in next(reader)]
    if "time_s" not in header or not set(header) & set(COLUMNS):
        raise UnreadableFile(
            f"the header needs time_s and one of {', '.join(COLUMNS)}; it has {', '.join(header)[:80]}", 1
        )
    rows, damages = [], []
    wanted = [(name, header.index(name)) for name in ("time_s", *COLUMNS) if name in header]
    for row in reader:
        if not any(cell.strip() for cell in row):
            continue
        try:
            rows.append([float(row[i]) if row[i].strip() else float("nan") for _, i in wanted])
        except (ValueError, IndexError):
            damages.append(Damage(line=reader.line_num, reason=f"'{delimiter.join(row)[:40]}' is not a row of numbers"))
    if len(rows) < 5:
        first = damages[0] if damages else Damage(line=1, reason=f"{len(rows)} rows; a log needs at least 5")
        raise UnreadableFile(first.reason, first.line)
    table = np.array(rows)
    columns = {name: table[:, k] for k, (name, _) in enumerate(wanted) if name != "time_s"}
    return ControllerLog(time_s=table[:, 0], columns=columns), tuple(damages)


def write_controller_csv(log: ControllerLog) -> bytes:
    """CSV of a controller log."""
    names = list(log.columns)
    lines = [",".join(["time_s", *names])]
    for k, t in enumerate(log.time_s.tolist()):
        lines.append(",".join([f"{t:.2f}", *(f"{float(log.columns[n][k]):.6g}" for n in names)]))
    return ("\n".join(lines) + "\n").encode()
