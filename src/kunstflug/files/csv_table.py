"""A CSV file as rows of cells: encoding, delimiter and decimal sign found, cells of any size refused in words."""

import csv
import io
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from kunstflug.core.quantity.errors import UnreadableFile

_DELIMITERS: Final = (",", ";", "\t")


@dataclass(frozen=True, slots=True, kw_only=True)
class CsvTable:
    """The first row of a CSV file, and the rest of it."""

    header: list[str]
    delimiter: str
    text: str

    @property
    def decimal_comma(self) -> bool:
        """Whether a comma in a number is its decimal sign: it parts no columns."""
        return self.delimiter != ","

    def rows(self) -> Iterator[tuple[int, list[str]]]:
        """Line and cells of every row below the header that is not blank.

        Raises
        ------
        UnreadableFile : a row that is no CSV (a cell of endless length, a quote that is not closed).
        """
        reader = csv.reader(io.StringIO(self.text, newline=""), delimiter=self.delimiter, strict=True)
        try:
            next(reader)
            for cells in reader:
                if any(cell.strip() for cell in cells):
                    yield reader.line_num, cells
        except csv.Error as broken:
            raise UnreadableFile(f"not CSV: {broken}", reader.line_num) from broken


def read_table(data: bytes) -> CsvTable:
    """The table of a CSV file in UTF-8 (with or without a mark) or UTF-16 with a mark; lines may end in any way.

    Raises
    ------
    UnreadableFile : not text, or nothing in it.
    """
    text = _decoded(data)
    if not text.strip():
        raise UnreadableFile("the file is empty")
    first = text.lstrip().splitlines()[0]
    delimiter = max(_DELIMITERS, key=first.count)
    text = text.replace("\r\n", "\n").replace("\r", "\n").lstrip("\n")
    try:
        header = next(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True))
    except csv.Error as broken:
        raise UnreadableFile(f"not CSV: {broken}", 1) from broken
    return CsvTable(header=header, delimiter=delimiter, text=text)


def _decoded(data: bytes) -> str:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        try:
            return data.decode("utf-16")
        except UnicodeDecodeError as broken:
            raise UnreadableFile("not UTF-16 text") from broken
    if b"\x00" in data[:4096]:
        raise UnreadableFile("a binary file, not CSV text", 1)
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as broken:
        raise UnreadableFile("not UTF-8 text", data[: broken.start].count(b"\n") + 1) from broken
