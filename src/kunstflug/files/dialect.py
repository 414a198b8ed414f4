"""How a CSV file is written: its encoding, delimiter, decimal sign, preamble, headings."""

import csv
import io
import re
from dataclasses import dataclass
from statistics import mode
from typing import Final

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.headings import are_units
from kunstflug.files.reading import FEWEST_SAMPLES, check_size
from kunstflug.files.unpack import unpacked

_DELIMITERS: Final = (";", "\t", ",", "|")
LOOKED_AT: Final = 200
_SIGNED: Final = {sign: re.compile(rf"^[+-]?\d+{re.escape(sign)}\d+$") for sign in ",."}
_GROUPED: Final = {sign: re.compile(rf"^[+-]?[1-9]\d{{0,2}}({re.escape(sign)}\d{{3}})+$") for sign in ",."}
_READ: Final = re.compile(r"^\d+[:/.-]\d|^[NSEW]?\s*\d{1,3}\s*[°º]|^\d+([.,]\d+)?\s*[NSEW]$")
"""Dates, clocks and angles, which are no numbers to look at."""
_NUMBER: Final = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")


@dataclass(frozen=True, slots=True, kw_only=True)
class Dialect:
    """How a CSV file is written.

    Parameters
    ----------
    first : row, counted from 0, at which the numbers begin.
    headings, units : row of each, or None.
    """

    delimiter: str
    decimal_comma: bool
    first: int
    headings: int | None
    units: int | None
    width: int


def text_of(data: bytes) -> str:
    """Text of a file in any of the usual encodings, by itself or packed.

    Raises
    ------
    UnreadableFile : empty, binary, or several files in one.
    """
    check_size(data)
    members = [content for _, content in unpacked(data) if content.strip()]
    if len(members) != 1:
        raise UnreadableFile("one CSV file at a time can be read" if members else "the file is empty")
    (content,) = members
    if content[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return content[: len(content) // 2 * 2].decode("utf-16", errors="replace")
    if b"\x00" in content[:4096]:
        raise UnreadableFile("a binary file, not CSV text", 1)
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        return content.decode("cp1252", errors="replace")


def rows_of(text: str, delimiter: str, most: int) -> list[list[str]]:
    """Rows with their cells; a quote that is not closed ends them."""
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    found: list[list[str]] = []
    try:
        for cells in reader:
            found.append([cell.strip() for cell in cells])
            if len(found) >= most:
                break
    except csv.Error as broken:
        if len(found) < FEWEST_SAMPLES:
            raise UnreadableFile(f"not CSV: {broken}", reader.line_num) from broken
    return found


def dialect_of(text: str) -> Dialect:
    """How a file is written.

    Raises
    ------
    UnreadableFile : no table of numbers in it.
    """
    head = "\n".join(text.replace("\r\n", "\n").replace("\r", "\n").split("\n", LOOKED_AT)[:LOOKED_AT])
    best: tuple[float, str, list[list[str]], int] | None = None
    for delimiter in _DELIMITERS:
        rows = rows_of(head, delimiter, LOOKED_AT)
        widths = [len(row) for row in rows if any(row)]
        if not widths:
            break
        # Of a preamble the rows are narrow; the table is what most rows look like.
        usual = mode(widths)
        numeric = sum(len(row) == usual and any(map(_is_told, row)) for row in rows)
        if usual >= 2 and (best is None or numeric * usual**0.5 > best[0] * 1.2):
            best = (numeric * usual**0.5, delimiter, rows, usual)
    if best is None or best[0] == 0:
        raise UnreadableFile("no table of numbers in it", 1)
    _, delimiter, rows, width = best
    table = [(k, row) for k, row in enumerate(rows) if len(row) == width]
    numeric_rows = [_is_numbers(row) for _, row in table]
    begins = (table[at][0] for at in range(len(table)) if all(numeric_rows[at : at + 4]))
    first = next(begins, None)
    if first is None:
        raise UnreadableFile("no table of numbers in it", 1)
    above = [(k, row) for k, row in table if k < first and any(cell.strip("-_ ") for cell in row)]
    units = above[-1][0] if len(above) >= 2 and are_units(above[-1][1]) else None
    named = [k for k, _ in above if k != units]
    columns = list(zip(*(row for k, row in table if k >= first), strict=True))
    return Dialect(
        delimiter=delimiter, decimal_comma=_has_decimal_comma(columns), first=first,
        headings=named[-1] if named else None, units=units, width=width,
    )  # fmt: skip


def _is_numbers(row: list[str]) -> bool:
    told = [cell for cell in row if cell]
    return bool(told) and sum(map(_is_told, told)) >= len(told) / 2


def _is_told(cell: str) -> bool:
    return bool(_NUMBER.match(cell) or _READ.match(cell))


def _has_decimal_comma(columns: list[tuple[str, ...]]) -> bool:
    """Whether commas part decimals: by the cells of either sign that are no groups of three digits."""
    (comma, maybe_comma), (point, maybe_point) = (_decimals(columns, sign) for sign in ",.")
    return comma > point if comma or point else maybe_comma > maybe_point


def _decimals(columns: list[tuple[str, ...]], sign: str) -> tuple[int, int]:
    """How many cells have decimals behind a sign, and how many may have, or groups of three digits.

    In a column of whole numbers those below a thousand have no sign.
    """
    sure = maybe = 0
    for cells in columns:
        signed = [cell for cell in cells if _SIGNED[sign].match(cell)]
        if not all(_GROUPED[sign].match(cell) for cell in signed):
            sure += len(signed)
        elif not any(cell.isdigit() for cell in cells):
            maybe += len(signed)
    return sure, maybe
