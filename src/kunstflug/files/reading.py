"""What reading a track file gives: the samples, and every line that could not be read."""

from array import array
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.quantity.errors import FileTooLarge, InvalidValue, UnreadableFile
from kunstflug.core.tracks import TrackSamples
from kunstflug.core.tracks.plausible import FASTEST_MPS, FIRST_UNIX_S, LAST_UNIX_S, Odd, Trouble, sift
from kunstflug.core.tracks.samples import MOST_SAMPLES
from kunstflug.wording.errors import allowed, given

MOST_BYTES: Final = 64 * 1024 * 1024
FEWEST_SAMPLES: Final = 5
MOST_DAMAGES: Final = 200
_WIDTH: Final = 8
DILUTED_M: Final = 2.5
"""Accuracy of a fix whose dilution of precision is 1 (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Damage:
    """One place where a file broke."""

    line: int
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TrackChoice:
    """One of the tracks in a file: its name, its samples, how long it lasts [s], when it began (NaN: no date)."""

    name: str
    samples: int
    seconds: float
    start_unix_s: float


class SeveralTracks(UnreadableFile):
    """A file with several tracks: somebody has to say which.

    Parameters
    ----------
    choices : the tracks in the order of the file.
    """

    def __init__(self, choices: tuple[TrackChoice, ...]) -> None:
        super().__init__(f"there are {len(choices)} tracks in it")
        self.choices = choices


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
    """Grows the tracks of a file sample by sample.

    Parameters
    ----------
    format : of the file, as it is shown.
    choice : which of several tracks is wanted; None where nobody has said.
    """

    def __init__(self, format: str, choice: int | None = None) -> None:
        self.format = format
        self.damages = Damages()
        self._choice = choice
        # Eight numbers a sample: time, latitude, longitude, speed, height, segment, line, accuracy.
        self._tracks: list[tuple[str, array[float]]] = [("", array("d"))]
        self._rows = self._tracks[0][1]
        self._segment = 0.0
        self._total = 0

    def __len__(self) -> int:
        return self._total

    def begin(self, name: str = "") -> None:
        """A new track; one that got no sample is forgotten."""
        if not self._rows:
            self._tracks.pop()
        self._rows = array("d")
        self._tracks.append((name, self._rows))
        self._segment = 0.0

    def name(self, name: str) -> None:
        """The name of the track that is being read."""
        self._tracks[-1] = (name[:200], self._rows)

    def segment(self) -> None:
        """A new piece of the same track."""
        self._segment += 1.0

    def add(
        self, unix_s: float, latitude_deg: float, longitude_deg: float, speed_mps: float, line: int = 0,
        elevation_m: float = float("nan"), accuracy_m: float = float("nan"),
    ) -> None:  # fmt: skip
        """One sample; speed NaN where there is none, the line of the file where it stands."""
        if self._total >= MOST_SAMPLES:
            raise FileTooLarge(f"more than {MOST_SAMPLES} samples")
        self._total += 1
        where = (unix_s, latitude_deg, longitude_deg, speed_mps, elevation_m)
        self._rows.extend((*where, self._segment, line, accuracy_m))

    def broke(self, line: int, reason: str) -> None:
        """Notes a place that could not be read."""
        self.damages.broke(line, reason)

    def result(self) -> ReadTrack:
        """The track: what of it is physically possible, and every place that is not.

        Raises
        ------
        SeveralTracks : more than one, and nobody said which.
        UnreadableFile : too few samples to be a track, with the first line that broke.
        """
        name, rows = self._chosen()
        self._enough(len(rows) // _WIDTH)
        table = np.frombuffer(rows, dtype=np.float64).reshape(-1, _WIDTH)
        first = float(table[0, 0]) if np.isfinite(table[0, 0]) else 0.0
        raw = TrackSamples(
            time_s=table[:, 0] - first,
            latitude_deg=table[:, 1],
            longitude_deg=table[:, 2],
            receiver_speed_mps=table[:, 3],
            start_unix_s=first,
            elevation_m=table[:, 4],
            segment=table[:, 5],
            accuracy_m=np.where(table[:, 7] > 0, table[:, 7], np.nan),
            name=name,
        )
        try:
            sifted = sift(raw)
        except InvalidValue as impossible:
            raise UnreadableFile(f"{given(impossible)}; {allowed(impossible)} can be read") from impossible
        for odd in sifted.odd:
            self.broke(int(table[odd.index, 6]), _reason(odd))
        self._enough(len(sifted.samples))
        return ReadTrack(
            format=self.format, samples=sifted.samples, damages=self.damages.kept(), broken=self.damages.count
        )

    def _chosen(self) -> tuple[str, "array[float]"]:
        """The track that was asked for; of several without a wish only the one that is long enough."""
        if self._choice is not None:
            if not 0 <= self._choice < len(self._tracks):
                raise UnreadableFile(f"there is no track {self._choice + 1} in it")
            return self._tracks[self._choice]
        long = [track for track in self._tracks if len(track[1]) >= FEWEST_SAMPLES * _WIDTH]
        if len(long) > 1:
            raise SeveralTracks(tuple(_choice(*track) for track in self._tracks))
        return long[0] if long else self._tracks[0]

    def _enough(self, count: int) -> None:
        if count >= FEWEST_SAMPLES:
            return
        damage = self.damages.first()
        if damage is not None:
            raise UnreadableFile(damage.reason, damage.line or None)
        raise UnreadableFile(f"{count} positions with a time; a track needs at least {FEWEST_SAMPLES}")


def _choice(name: str, rows: "array[float]") -> TrackChoice:
    times = np.frombuffer(rows, dtype=np.float64)[::_WIDTH] if rows else np.empty(0)
    times = times[np.isfinite(times)]
    start = float(times[0]) if len(times) and FIRST_UNIX_S <= times[0] <= LAST_UNIX_S else float("nan")
    seconds = float(np.ptp(times)) if len(times) else 0.0
    return TrackChoice(name=name, samples=len(rows) // _WIDTH, seconds=seconds, start_unix_s=start)


def _reason(odd: Odd) -> str:  # noqa: C901, PLR0911 - one sentence for each trouble
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
        case Trouble.SHUFFLED:
            return (
                f"the samples stood out of order in {odd.value:.0f} places; they were put in the order of their times"
            )
        case Trouble.WHOLE:
            return f"times were cut to whole seconds; {odd.value:.3g} samples were spread over each"
        case Trouble.BREAK:
            return f"a break of {odd.value / 3600:.1f} h: the other side of it is another run"
        case Trouble.UNLIKE:
            return f"its speeds are {odd.value:.3g} times those of its positions, and were not used"
        case Trouble.JUMP:
            return f"the position jumps by {odd.value:.4g} m, farther than any boat gets in that time"
