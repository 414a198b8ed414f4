"""FIT, the binary files of sports watches and receivers: definitions say how the messages after them are laid out.

Only what a track needs is taken out of the messages, each at its place. A general parser renders every field of every
message: a file of 5 MB took it half a minute. The tests hold the two equal. The layout is that of the protocol as
published (record headers, definitions, base types, the profile's *record* and *event*); from memory.
"""

import struct
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.reading import ReadTrack, SampleCollector, check_size

_DEGREES: Final = 180.0 / 2**31
_NAN: Final = float("nan")
_EPOCH_S: Final = 631_065_600  # 1989-12-31, where its seconds begin
_BASE: Final = dict(enumerate("BbBhHiI fdBHIBqQQ"))
"""How each base type is unpacked; a string is none of these numbers."""
_ZERO_IS_NONE: Final = (10, 11, 12, 16)
_RECORD: Final = 20
_EVENT: Final = 21
_TIME: Final = 253
_LATITUDE: Final = 0
_LONGITUDE: Final = 1
_ALTITUDE: Final = 2
_SPEED: Final = 6
_SPEED_WAY: Final = 8
_FINE_SPEED: Final = 73
_FINE_ALTITUDE: Final = 78
_EVENT_TYPE: Final = 1
_BREAKS: Final = (0, 1, 4)  # start, stop, stop_all
_WANTED: Final = {
    _RECORD: {_TIME, _LATITUDE, _LONGITUDE, _ALTITUDE, _SPEED, _SPEED_WAY, _FINE_SPEED, _FINE_ALTITUDE},
    _EVENT: {_TIME, _EVENT_TYPE},
}


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
    messages = _Messages(data)
    try:
        for kind, values in messages:
            if kind == _EVENT and values.get(_EVENT_TYPE) in _BREAKS:
                found.segment()
            elif kind == _RECORD:
                _take(values, messages.count, found)
    except (struct.error, _Broken) as broken:
        if not len(found):
            raise UnreadableFile("FIT that cannot be read: it breaks off, or is not FIT inside") from broken
        found.broke(messages.count + 1, "it breaks off here, or what follows is not FIT")
    return found.result()


def _take(values: dict[int, float], count: int, found: SampleCollector) -> None:
    if _LATITUDE not in values or _LONGITUDE not in values or _TIME not in values:
        return  # before the first fix
    speed = values.get(_FINE_SPEED, values.get(_SPEED, _NAN)) / 1000.0
    if speed != speed and _SPEED_WAY in values:
        speed = (int(values[_SPEED_WAY]) & 0xFFF) / 100.0
    height = values.get(_FINE_ALTITUDE, values.get(_ALTITUDE, _NAN)) / 5.0 - 500.0
    place = values[_LATITUDE] * _DEGREES, values[_LONGITUDE] * _DEGREES
    found.add(values[_TIME] + _EPOCH_S, *place, speed, count, height)


class _Broken(Exception):
    """What follows is not FIT."""


@dataclass(frozen=True, slots=True)
class _Field:
    """A wanted field: its number, where it stands in the message, how it is unpacked, and what stands for none."""

    number: int
    at: int
    unpack: struct.Struct
    none: float


@dataclass(frozen=True, slots=True)
class _Layout:
    """What a definition says: of which kind the messages are, how long, and where what is wanted stands."""

    kind: int
    length: int
    fields: tuple[_Field, ...]


class _Messages:
    """Messages of a file, or of several behind each other, each with its kind and the wanted values.

    Attributes
    ----------
    count : messages so far.
    """

    def __init__(self, data: bytes) -> None:
        self.count = 0
        self._data = data

    def __iter__(self) -> Iterator[tuple[int, dict[int, float]]]:
        at = 0
        while is_fit(self._data[at : at + 14]):
            begins = at + self._data[at]
            end = begins + int.from_bytes(self._data[at + 4 : at + 8], "little")
            yield from self._body(begins, end)
            at = end + 2  # its checksum
        if at < len(self._data) and self._data[at:].strip(b"\0"):
            raise _Broken

    def _body(self, at: int, end: int) -> Iterator[tuple[int, dict[int, float]]]:
        data, layouts, second = self._data, dict[int, _Layout](), 0
        while at < end:
            if at >= len(data):
                raise _Broken
            header = data[at]
            at += 1
            if header & 0xC0 == 0x40:
                layout, at = self._layout(at, own_fields=bool(header & 0x20))
                layouts[header & 0x0F] = layout
                continue
            short = header & 0x80  # the time is in the header: five bits of it
            found = layouts.get((header >> 5) & 0x03 if short else header & 0x0F)
            if found is None or at + found.length > len(data):
                raise _Broken
            self.count += 1
            values = _values(data, at, found.fields)
            at += found.length
            if _TIME in values:
                second = int(values[_TIME])
            if short:
                second += ((header & 0x1F) - second) & 0x1F
                values.setdefault(_TIME, second)
            if found.kind in _WANTED:
                yield found.kind, values

    def _layout(self, at: int, *, own_fields: bool) -> tuple[_Layout, int]:
        data = self._data
        order = ">" if data[at + 1 : at + 2] == b"\1" else "<"
        kind, many = struct.unpack_from(f"{order}HB", data, at + 2)
        if at + 5 + 3 * many > len(data):
            raise _Broken
        wanted, fields, length = _WANTED.get(kind, {_TIME}), dict[int, _Field](), 0
        for k in range(at + 5, at + 5 + 3 * many, 3):
            number, size, base = data[k : k + 3]
            if number in wanted:
                field = _field(number, length, size, base & 0x1F, order, kind)
                if field is not None:
                    fields.setdefault(number, field)
            length += size
        at += 5 + 3 * many
        if own_fields:  # of the device's maker
            many = data[at] if at < len(data) else 0
            length += sum(data[at + 2 : at + 1 + 3 * many : 3])
            at += 1 + 3 * many
        return _Layout(kind, length, tuple(fields.values())), at


def _field(number: int, at: int, size: int, base: int, order: str, kind: int) -> _Field | None:
    """Of a definition; None for what is no single number."""
    if (kind, number) == (_RECORD, _SPEED_WAY) and size == 3:
        return _Field(number, at, struct.Struct("<HB"), -1.0)  # speed and way, twelve bits each
    letter = _BASE.get(base, " ")
    if letter == " ":
        return None
    unpack = struct.Struct(order + letter)
    if unpack.size != size:
        return None
    bits = 8 * size
    signed = letter in "bhiq"
    none = _NAN if letter in "fd" else 0 if base in _ZERO_IS_NONE else 2 ** (bits - signed) - 1
    return _Field(number, at, unpack, none)


def _values(data: bytes, at: int, fields: tuple[_Field, ...]) -> dict[int, float]:
    values = {}
    for field in fields:
        value = field.unpack.unpack_from(data, at + field.at)[0]
        if value == value and value != field.none:
            values[field.number] = value
    return values
