"""Thousands of damaged files over all readers: read in part or refused in words, no crash, memory within bounds."""

import io
import json
import random
import time
import tracemalloc
import zipfile
from collections.abc import Callable
from contextlib import suppress
from typing import Any

import numpy as np
import pytest
from PIL import Image

from kunstflug.core.evidence.instruments import POSSIBLE, Column
from kunstflug.core.quantity.errors import KunstflugError, UnreadableFile
from kunstflug.core.tracks import TrackSamples, analyse
from kunstflug.core.tracks.plausible import FASTEST_MPS
from kunstflug.documents.boat import parsed_boat
from kunstflug.documents.columns import ColumnChoice
from kunstflug.files.controller_csv import read_controller_csv, write_controller_csv
from kunstflug.files.exact_csv import write_track_csv
from kunstflug.files.gpx import write_gpx
from kunstflug.files.mapped_csv import look, read_mapped_charge, read_mapped_log, read_mapped_track
from kunstflug.files.nmea import write_nmea
from kunstflug.files.track_file import read_track
from kunstflug.pond import run_outing
from kunstflug.services.boats import boats
from kunstflug.services.boats.boat_file import export_boat
from kunstflug.services.run.photo import scaled
from kunstflug.services.shelf import shelf
from kunstflug.services.shelf import table as shelf_csv
from kunstflug.store.backup import check_backup, write_backup
from tests import samples
from tests.amount import SEEDS, amount, rarely
from tests.files.makers import KINDS
from tests.samples import q

FILES = amount(600, 1_500, 20_000)
"""With each seed; ten seeds in the slow run."""
SAMPLES = 40
BYTES_EACH, BYTES_ROOM = 20, 100 * 1024 * 1024


def some_of(track: TrackSamples, count: int) -> TrackSamples:
    return TrackSamples(
        time_s=track.time_s[:count],
        latitude_deg=track.latitude_deg[:count],
        longitude_deg=track.longitude_deg[:count],
        receiver_speed_mps=track.receiver_speed_mps[:count],
        start_unix_s=track.start_unix_s,
    )


def track_is_possible(read: Any) -> None:
    found = analyse(read.samples)
    for value in (found.peak_mps, found.best_1s_mps, found.both_ways_mps):
        assert np.isnan(value) or 0 <= value <= FASTEST_MPS
    assert found.duration_s >= 0
    assert found.distance_m <= FASTEST_MPS * found.duration_s + 1


def log_is_possible(read: Any) -> None:
    assert np.all(np.diff(read.log.time_s) > 0)
    for name, values in read.log.columns.items():
        known = values[np.isfinite(values)]
        assert all(POSSIBLE[Column(name)].holds(value) for value in known.tolist())


@pytest.fixture(scope="module")
def readers(store, tmp_path_factory) -> dict[str, tuple[bytes, Callable[[bytes], Any], Callable[[Any], None]]]:
    """Of each kind of file: a good one, its reader, and what holds of whatever it gives."""
    boats.new_boat(store, "Filed", samples.document())
    shelf.add_part(store, "hose", {"bore": q(4, "mm"), "name": "=a 'hose'"})
    outing = run_outing(samples.setup(), seed=1, start_unix_s=1.78e9, passes=1)
    log = outing.controller
    short = type(log)(time_s=log.time_s[:SAMPLES], columns={k: v[:SAMPLES] for k, v in log.columns.items()})
    folder = tmp_path_factory.mktemp("files")
    write_backup(store.engine, folder / "good.zip")

    def backup(data: bytes) -> Any:
        (folder / "bad.zip").write_bytes(data)
        return check_backup(folder / "bad.zip")

    def nothing(_: Any) -> None: ...

    def as_json(data: bytes) -> Any:
        try:
            return json.loads(data)
        except (ValueError, RecursionError) as broken:
            raise UnreadableFile("not JSON") from broken

    def as_proposed(data: bytes) -> Any:
        """A table read as it is proposed: as a track, a log and a charge, whatever it may be."""
        choices = tuple(
            ColumnChoice(column=k, role=p.role, unit=p.unit)
            for k, p in enumerate(look(data).proposals)
            if p.role is not None
        )
        for read in (read_mapped_track, read_mapped_log, read_mapped_charge):
            with suppress(UnreadableFile):
                read(data, choices)

    log_like = write_track_csv(some_of(outing.track, SAMPLES))
    made = boats.boats(store).items[0]
    boat = export_boat(store, made.id, tracks=False).model_dump_json(exclude_defaults=True).encode()
    out = io.BytesIO()
    Image.new("RGB", (64, 48), (20, 90, 130)).save(out, "JPEG")
    picture = out.getvalue()

    return {
        "gpx": (write_gpx(some_of(outing.track, SAMPLES), "x"), read_track, track_is_possible),
        "nmea": (write_nmea(some_of(outing.track, SAMPLES)), read_track, track_is_possible),
        "log": (write_controller_csv(short), read_controller_csv, log_is_possible),
        **{kind: (make(some_of(outing.track, SAMPLES)), read_track, track_is_possible) for kind, make in KINDS.items()},
        "csv": (log_like, as_proposed, nothing),
        "boat": (boat, lambda data: parsed_boat(as_json(data)), nothing),
        "picture": (picture, scaled, nothing),
        "shelf": (shelf_csv.to_csv(store).encode(), shelf_csv._parts, nothing),
        "backup": ((folder / "good.zip").read_bytes(), backup, nothing),
    }


SHARES = {
    "gpx": 0.2,
    "nmea": 0.1,
    "log": 0.15,
    "csv": 0.1,
    "boat": 0.02,
    "picture": 0.05,
    "shelf": 0.03,
    "backup": 0.01,
}
SHARES |= dict.fromkeys(KINDS, 0.34 / len(KINDS))
ODD = (
    b"", b"\x00", b"\xff\xfe", b"\xef\xbb\xbf", b"nan", b"inf", b"-1", b"1e999", b"9" * 400, b"<", b"&a;", b"$GPRMC,",
    b"*00", b'"', b",,,,", b"\r", b"0000-00-00T00:00:00Z", b"9999-12-31T23:59:59-14:00", b"<!DOCTYPE x>",
    b"\xf0\x9f\x9a\xa4",
)  # fmt: skip


def damaged(data: bytes, rng: random.Random) -> bytes:
    """A file with one to four things done to it."""
    for _ in range(rng.randint(1, 4)):
        at, length = rng.randrange(len(data) + 1), rng.choice([1, 2, 8, 40, 300])
        lines = data.split(b"\n")
        match rng.randrange(8):
            case 0:
                data = data[:at] + rng.choice(ODD) + data[at:]
            case 1:
                data = data[:at] + data[at + length :]
            case 2:
                data = data[:at] + bytes(rng.randrange(256) for _ in range(min(length, 8))) + data[at + length :]
            case 3:
                data = data[:at]
            case 4:
                rng.shuffle(lines)
                data = b"\n".join(lines)
            case 5:
                data = b"\n".join([*lines, *lines[: rng.randrange(len(lines))]])
            case 6:
                digits = [k for k, byte in enumerate(data) if 48 <= byte <= 57]
                for k in rng.sample(digits, min(len(digits), rng.choice([1, 5, 50]))):
                    data = data[:k] + bytes([rng.randrange(48, 58)]) + data[k + 1 :]
            case _:
                data = data.replace(rng.choice([b"Z", b",", b".", b"\n", b"<", b"47", b"0"]), rng.choice(ODD), 3)
        if not data:
            break
    return data


@pytest.mark.parametrize("seed", SEEDS)
def test_damaged_files_are_read_in_part_or_refused(readers, seed):
    rng = random.Random(seed)
    kinds = rng.choices(list(SHARES), list(SHARES.values()), k=FILES)
    refused = 0
    for kind in kinds:
        good, read, holds = readers[kind]
        data = damaged(good, rng)
        start = time.process_time()
        try:
            found = read(data)
        except KunstflugError as error:
            refused += bool(str(error))
            continue
        finally:
            assert time.process_time() - start < 2.0, (kind, data[:300])
        if rng.random() < 0.2:
            holds(found)
    assert 0.05 * FILES < refused < 0.95 * FILES  # else nothing was tried


LARGE = {
    "a million bad lines": lambda: b"$\n" * 300_000,
    "endless commas": lambda: b"time_s,rpm\n" + b"," * 1_000_000,
    "a million rows of nothing": lambda: b"time_s,rpm\n" + b"x\n" * 300_000,
    "points without a time": lambda: b"<gpx>" + b'<trkpt lat="1" lon="2"/>' * 60_000 + b"</gpx>",
    "nested beyond reason": lambda: b"<gpx>" + b"<a>" * 200_000,
    "one long line": lambda: b"$GPRMC," + b"1" * 1_000_000,
    "attributes without end": lambda: b"<gpx " + b" ".join(b'a%d="1"' % k for k in range(30_000)) + b"/>",
    "samples far apart": lambda: (
        b"<gpx>"
        + b"".join(
            b'<trkpt lat="1" lon="2"><time>2%03d-01-01T00:00:%02d.%03dZ</time></trkpt>' % (k % 900, k % 60, k % 1000)
            for k in range(20_000)
        )
        + b"</gpx>"
    ),
}


@pytest.mark.parametrize("name", rarely(LARGE, but=LARGE.keys() - {"points without a time", "samples far apart"}))
def test_large_nonsense_costs_no_more_than_its_size(name):
    data = LARGE[name]()
    for read in (read_track, read_controller_csv, shelf_csv._parts):
        tracemalloc.start()
        with suppress(KunstflugError):
            read(data)
        peak = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
        assert peak < BYTES_EACH * len(data) + BYTES_ROOM, f"{read.__name__}: {peak / 1e6:.0f} MB"


@pytest.mark.long
def test_a_zip_that_unpacks_without_end_is_no_backup(tmp_path):
    path = tmp_path / "bomb.zip"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("manifest.json", b" " * 200_000_000)
    tracemalloc.start()
    with pytest.raises(KunstflugError):
        check_backup(path)
    assert tracemalloc.get_traced_memory()[1] < BYTES_ROOM
    tracemalloc.stop()
