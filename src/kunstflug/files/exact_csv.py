"""Tables of our own: a track and a controller log as CSV that are read back to the last digit, without a question."""

import io
from datetime import UTC, datetime

import numpy as np

from kunstflug.core.evidence.instruments import POSSIBLE, Column
from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.core.tracks.samples import TrackSamples
from kunstflug.files.controller_csv import MOST_ROWS
from kunstflug.files.reading import FEWEST_SAMPLES


def write_track_csv(samples: TrackSamples) -> bytes:
    """CSV of a track with its units in the headings, so that it is read back without a question."""
    start = 0.0 if np.isnan(samples.start_unix_s) else samples.start_unix_s
    lines = ["time,latitude deg,longitude deg,speed m/s,elevation m"]
    for t, latitude, longitude, speed, height in zip(
        samples.time_s.tolist(), samples.latitude_deg.tolist(), samples.longitude_deg.tolist(),
        samples.receiver_speed_mps.tolist(), samples.elevation_m.tolist(), strict=True,
    ):  # fmt: skip
        stamp = datetime.fromtimestamp(start + t, UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")
        told = [f"{v:.3f}" if v == v else "" for v in (speed, height)]
        lines.append(f"{stamp},{latitude:.8f},{longitude:.8f},{','.join(told)}")
    return ("\n".join(lines) + "\n").encode()


def write_exact_log(log: ControllerLog) -> bytes:
    """CSV of a controller log to the last digit."""
    names = list(log.columns)
    lines = [",".join(["time_s", *names])]
    table = np.column_stack([log.time_s, *(log.columns[name] for name in names)])
    lines += [",".join(repr(v) for v in row) for row in table.tolist()]
    return ("\n".join(lines) + "\n").encode()


def read_exact_log(data: bytes) -> ControllerLog:
    """What ``write_exact_log`` wrote.

    Raises
    ------
    UnreadableFile : it is none.
    """
    head, _, body = data.decode("utf-8", errors="replace").partition("\n")
    names = head.strip().split(",")
    if not body.strip():
        raise UnreadableFile("not a controller's log: there is nothing in it")
    known = names[:1] == ["time_s"] and set(names[1:]) <= set(POSSIBLE) and len(set(names)) == len(names)
    try:
        table = np.loadtxt(io.StringIO(body), delimiter=",", ndmin=2)
    except ValueError as broken:
        raise UnreadableFile(f"not a controller's log: {str(broken)[:80]}") from broken
    if not known or table.shape[1] != len(names) or len(table) < FEWEST_SAMPLES or len(table) > MOST_ROWS:
        raise UnreadableFile("not a controller's log as it is exported")
    if not np.all(np.diff(table[:, 0]) > 0):
        raise UnreadableFile("a controller's log whose clock goes back")
    for k, name in enumerate(names[1:], 1):
        possible = POSSIBLE[Column(name)]
        if np.any((table[:, k] < possible.low) | (table[:, k] > possible.high)):
            raise UnreadableFile(f"{name} is beyond what is possible")
    return ControllerLog(time_s=table[:, 0].copy(), columns={n: table[:, k].copy() for k, n in enumerate(names) if k})
