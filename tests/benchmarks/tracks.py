"""Reading of a one-hour 10 Hz GPX and NMEA: plain parsers against reading, smoothing and cutting into passes.

Run with ``make bench``.
"""

import time

import gpxpy
import numpy as np
import pynmea2

from kunstflug.core.tracks import TrackSamples, analyse
from kunstflug.files.gpx import read_gpx, write_gpx
from kunstflug.files.nmea import read_nmea, write_nmea
from kunstflug.pond import run_outing
from tests import samples


def one_hour() -> bytes:
    """An hour of a simulated boat at 10 Hz, laps without end."""
    made = run_outing(samples.setup(), seed=1, start_unix_s=1_780_000_000.0, faults=False).track
    times = -(-36_000 // len(made))
    count = 36_000
    return write_gpx(
        TrackSamples(
            time_s=np.round(np.arange(count) * 0.1, 3),
            latitude_deg=np.tile(made.latitude_deg, times)[:count],
            longitude_deg=np.tile(made.longitude_deg, times)[:count],
            receiver_speed_mps=np.tile(made.receiver_speed_mps, times)[:count],
            start_unix_s=1_780_000_000.0,
        ),
        "an hour",
    )


def main() -> None:
    """Prints the times and their ratio."""
    data = one_hour()
    analyse(read_gpx(data[: len(data) // 50]).samples)  # warm
    start = time.perf_counter()
    gpxpy.parse(data.decode())
    plain = time.perf_counter() - start
    start = time.perf_counter()
    read = read_gpx(data)
    reading = time.perf_counter() - start
    start = time.perf_counter()
    found = analyse(read.samples)
    cutting = time.perf_counter() - start
    lines = write_nmea(read.samples)
    start = time.perf_counter()
    for line in lines.decode().split():
        told = pynmea2.parse(line)
        _ = told.timestamp, told.latitude, told.longitude  # which it works out only when asked
    reference = time.perf_counter() - start
    start = time.perf_counter()
    read_nmea(lines)
    ours_nmea = time.perf_counter() - start
    print(f"one-hour 10 Hz GPX, {len(data) / 1e6:.1f} MB, {len(read.samples):,} samples, {len(found.passes)} passes")
    print(f"general parser alone: {plain:.2f} s")
    ours = reading + cutting
    print(
        f"reading {reading:.2f} s, smoothing, passes {cutting:.2f} s: together {ours / plain:.2f} of the parser alone"
    )
    print(f"the same as NMEA: {ours_nmea:.2f} s, {ours_nmea / reference:.2f} of the reference parser alone")


if __name__ == "__main__":
    main()
