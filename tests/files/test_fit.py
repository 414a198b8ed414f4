"""FIT: what is read is what the general parser reads; what is built to take long takes no longer than another file."""

import contextlib
import io
import struct
import time
import warnings
from datetime import datetime

import fitdecode
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files import fit
from kunstflug.files.fit import read_fit

SIZES = {0x00: 1, 0x01: 1, 0x02: 1, 0x83: 2, 0x84: 2, 0x85: 4, 0x86: 4, 0x07: 8, 0x88: 4, 0x0A: 1, 0x8B: 2, 0x8C: 4}
USUAL = {253: 0x86, 0: 0x85, 1: 0x85, 2: 0x84, 6: 0x84, 73: 0x86, 78: 0x86, 3: 0x02, 5: 0x86, 13: 0x01}


def packed(body, size=12):
    return struct.pack("<BBHI4s", size, 0x20, 2100, len(body), b".FIT") + b"\0" * (size - 12) + body + b"\0\0"


def definition(local, kind, fields, order="<", own=()):
    out = bytes((0x40 | local | (0x20 if own else 0), 0, order == ">")) + struct.pack(f"{order}HB", kind, len(fields))
    out += b"".join(bytes(f) for f in fields)
    return out + (bytes((len(own),)) + b"".join(bytes((k, size, 0)) for k, size in enumerate(own)) if own else b"")


def by_the_library(data):
    """Time, place, speed and height of each record, as the general parser gives them."""
    rows = []
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with fitdecode.FitReader(
            io.BytesIO(data), check_crc=fitdecode.CrcCheck.DISABLED, error_handling=fitdecode.ErrorHandling.IGNORE
        ) as reader:
            for frame in reader:
                if not isinstance(frame, fitdecode.FitDataMessage) or frame.name != "record":
                    continue
                told = [frame.get_value(name, fallback=None) for name in ("timestamp", "position_lat", "position_long")]
                if None in told or not isinstance(told[0], datetime):
                    continue
                number = [
                    next((v for n in names if (v := frame.get_value(n, fallback=None)) is not None), None)
                    for names in (("enhanced_speed", "speed"), ("enhanced_altitude", "altitude"))
                ]
                rows.append((told[0].timestamp(), told[1] * 180 / 2**31, told[2] * 180 / 2**31, *number))
    return rows


def by_us(data):
    rows = []
    for kind, values in fit._Messages(data):
        if kind == 20:
            fit._take(values, 1, _Rows(rows))
    return rows


class _Rows:
    def __init__(self, rows):
        self.rows = rows

    def add(self, when, latitude, longitude, speed, line, height):
        self.rows.append((when, latitude, longitude, *(None if v != v else v for v in (speed, height))))


@st.composite
def files(draw):
    body, order = b"", draw(st.sampled_from("<>"))
    numbers = draw(st.lists(st.sampled_from(sorted(USUAL)), min_size=1, max_size=9, unique=True))
    fields = [(n, SIZES[USUAL[n]], USUAL[n]) for n in numbers]
    own = draw(st.sampled_from([(), (2,), (1, 4)]))
    other = [(n, SIZES[b], b) for n, b in draw(st.dictionaries(st.integers(0, 252), st.sampled_from(sorted(SIZES)), max_size=4)).items()]  # fmt: skip  # noqa: E501
    body += definition(0, 20, fields, order, own)
    body += definition(1, 9999, [(253, 4, 0x86), *other], order)
    long = sum(size for _, size, _ in fields) + sum(own)
    for _ in range(draw(st.integers(0, 12))):
        which = draw(st.sampled_from([0, 0, 0, 1, 0x80]))
        if which == 1:
            body += b"\1" + struct.pack(f"{order}I", draw(st.integers(10**9, 2**31))) + bytes(sum(f[1] for f in other))
        else:
            header = which | draw(st.integers(0, 31)) if which else 0
            body += bytes((header,)) + draw(st.binary(min_size=long, max_size=long))
    return packed(body, draw(st.sampled_from([12, 14])))


@given(files())
def test_what_is_read_is_what_the_general_parser_reads(data):
    """fitdecode 0.11, a reader of FIT by others."""
    ours, theirs = by_us(data), by_the_library(data)
    assert len(ours) == len(theirs)
    for mine, other in zip(ours, theirs, strict=True):
        assert mine == pytest.approx(other, abs=1e-9)


@given(files(), st.integers(0, 400), st.integers(0, 255))
def test_a_damaged_file_is_read_in_part_or_refused(data, at, byte):
    damaged = data[: at % len(data)] + bytes((byte,)) + data[at % len(data) + 1 :]
    for one in (damaged, data[: at % len(data)]):
        with contextlib.suppress(UnreadableFile):
            assert len(read_fit(one).samples)


def test_a_file_built_to_take_long_costs_no_more_than_its_size():
    """255 fields a message, then zeros: 5 MB once took half a minute. Beside as many bytes of plain records."""

    def took(fields):
        body = definition(0, 20, fields)
        size = sum(f[1] for f in fields)
        data = packed(body + bytes((1 + size) * (1_000_000 // (1 + size))))
        begun = time.process_time()
        with pytest.raises(UnreadableFile):
            read_fit(data)
        return time.process_time() - begun

    plain = took([(253, 4, 0x86), (0, 4, 0x85), (3, 4, 0x86), (6, 2, 0x84)])
    assert took([(k, 1, 2) for k in range(255)]) < 3 * plain + 0.2
