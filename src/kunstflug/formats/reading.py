"""What reading a track file gives: the samples, and every line that could not be read."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.errors import FileTooLarge, UnreadableFile
from kunstflug.core.tracks import TrackSamples
from kunstflug.core.tracks.samples import MOST_SAMPLES

MOST_BYTES: Final = 64 * 1024 * 1024
FEWEST_SAMPLES: Final = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Damage:
    """One place where a file broke."""

    line: int
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadTrack:
    """Samples of a track file, and what could not be read of it."""

    format: str
    samples: TrackSamples
    damages: tuple[Damage, ...]


def check_size(data: bytes) -> None:
    """Refuses a file that is empty or too large before anything parses it.

    Raises
    ------
    UnreadableFile, FileTooLarge
    """
    if not data.strip():
        raise UnreadableFile("the file is empty")
    if len(data) > MOST_BYTES:
        raise FileTooLarge(f"{len(data) / 1048576:.0f} MiB; at most {MOST_BYTES // 1048576} MiB are accepted")


class SampleCollector:
    """Grows a track sample by sample."""

    def __init__(self, format: str) -> None:
        self.format = format
        self.rows: list[tuple[float, float, float, float]] = []
        self.damages: list[Damage] = []

    def add(self, unix_s: float, latitude_deg: float, longitude_deg: float, speed_mps: float) -> None:
        """One sample; speed NaN where there is none."""
        if len(self.rows) >= MOST_SAMPLES:
            raise FileTooLarge(f"more than {MOST_SAMPLES} samples")
        self.rows.append((unix_s, latitude_deg, longitude_deg, speed_mps))

    def broke(self, line: int, reason: str) -> None:
        """Notes a place that could not be read."""
        self.damages.append(Damage(line=line, reason=reason))

    def result(self) -> ReadTrack:
        """The track.

        Raises
        ------
        UnreadableFile : too few samples to be a track, with the first line that broke.
        """
        if len(self.rows) < FEWEST_SAMPLES:
            if self.damages:
                raise UnreadableFile(self.damages[0].reason, self.damages[0].line)
            raise UnreadableFile(f"{len(self.rows)} positions with a time; a track needs at least {FEWEST_SAMPLES}")
        table = np.array(self.rows)
        start = float(table[0, 0])
        samples = TrackSamples(
            time_s=np.round(table[:, 0] - start, 6),
            latitude_deg=table[:, 1],
            longitude_deg=table[:, 2],
            receiver_speed_mps=table[:, 3],
            start_unix_s=start,
        )
        return ReadTrack(format=self.format, samples=samples, damages=tuple(self.damages))
