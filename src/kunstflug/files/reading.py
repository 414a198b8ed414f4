"""What reading a track file gives: the samples, and every line that could not be read."""

from array import array
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.quantity.errors import FileTooLarge, InvalidValue, UnreadableFile
from kunstflug.core.tracks import TrackSamples
from kunstflug.core.tracks.plausible import FASTEST_MPS, Odd, Trouble, sift
from kunstflug.core.tracks.samples import MOST_SAMPLES
from kunstflug.wording.errors import allowed, given

MOST_BYTES: Final = 64 * 1024 * 1024
FEWEST_SAMPLES: Final = 5
MOST_DAMAGES: Final = 200
_WIDTH: Final = 5


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
    damages: tuple[Damage, ...]  # the first ones
    broken: int  # how many there are


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


class Damages:
    """Places that could not be read: all are counted, the first ones kept."""

    def __init__(self) -> None:
        self._kept: list[Damage] = []
        self.count = 0

    def broke(self, line: int, reason: str) -> None:
        """Notes a place."""
        self.count += 1
        if len(self._kept) < MOST_DAMAGES:
            self._kept.append(Damage(line=line, reason=reason))

    def first(self) -> Damage | None:
        """The first place noted."""
        return self._kept[0] if self._kept else None

    def kept(self) -> tuple[Damage, ...]:
        """The first places in the order of their lines."""
        return tuple(sorted(self._kept, key=lambda d: d.line))


class SampleCollector:
    """Grows a track sample by sample."""

    def __init__(self, format: str) -> None:
        self.format = format
        self._rows = array("d")  # five numbers a sample: time, latitude, longitude, speed, line
        self.damages = Damages()

    def __len__(self) -> int:
        return len(self._rows) // _WIDTH

    def add(self, unix_s: float, latitude_deg: float, longitude_deg: float, speed_mps: float, line: int = 0) -> None:
        """One sample; speed NaN where there is none, the line of the file where it stands."""
        if len(self._rows) >= _WIDTH * MOST_SAMPLES:
            raise FileTooLarge(f"more than {MOST_SAMPLES} samples")
        self._rows.extend((unix_s, latitude_deg, longitude_deg, speed_mps, line))

    def broke(self, line: int, reason: str) -> None:
        """Notes a place that could not be read."""
        self.damages.broke(line, reason)

    def result(self) -> ReadTrack:
        """The track: what of it is physically possible, and every place that is not.

        Raises
        ------
        UnreadableFile : too few samples to be a track, with the first line that broke.
        """
        self._enough(len(self))
        table = np.frombuffer(self._rows, dtype=np.float64).reshape(-1, _WIDTH)
        first = float(table[0, 0]) if np.isfinite(table[0, 0]) else 0.0
        raw = TrackSamples(
            time_s=table[:, 0] - first,
            latitude_deg=table[:, 1],
            longitude_deg=table[:, 2],
            receiver_speed_mps=table[:, 3],
            start_unix_s=first,
        )
        try:
            sifted = sift(raw)
        except InvalidValue as impossible:
            raise UnreadableFile(f"{given(impossible)}; {allowed(impossible)} can be read") from impossible
        for odd in sifted.odd:
            self.broke(int(table[odd.index, 4]), _reason(odd))
        self._enough(len(sifted.samples))
        return ReadTrack(
            format=self.format, samples=sifted.samples, damages=self.damages.kept(), broken=self.damages.count
        )

    def _enough(self, count: int) -> None:
        if count >= FEWEST_SAMPLES:
            return
        damage = self.damages.first()
        if damage is not None:
            raise UnreadableFile(damage.reason, damage.line or None)
        raise UnreadableFile(f"{count} positions with a time; a track needs at least {FEWEST_SAMPLES}")


def _reason(odd: Odd) -> str:  # noqa: PLR0911 - one sentence for each trouble
    """An impossible sample in words."""
    match odd.trouble:
        case Trouble.PLACE:
            return "this place is not on the globe"
        case Trouble.SPEED:
            return f"a speed of {odd.value:.4g} m/s; a boat does 0 to {FASTEST_MPS:.0f}"
        case Trouble.TIME:
            return "the time is not a number"
        case Trouble.BACK:
            return f"the clock goes back by {odd.value:.4g} s"
        case Trouble.AHEAD:
            return f"the clock runs ahead by {odd.value:.4g} s, and back again"
        case Trouble.SAME:
            return "the same time as the sample before"
        case Trouble.REVERSED:
            return "the file ran backwards in time; it was turned round"
        case Trouble.BREAK:
            return f"a break of {odd.value / 3600:.1f} h: the other side of it is another run"
        case Trouble.JUMP:
            return f"the position jumps by {odd.value:.4g} m, farther than any boat gets in that time"
