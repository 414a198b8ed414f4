"""Search ranges of any size piece by piece, keeping only what may still be on a front of the whole.

The front of all drives is the front of the pieces' fronts. So pieces are independent, and memory grows with the front
instead of the number of drives.
"""

import dataclasses
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any, Final

import numpy as np

from kunstflug.core.choose.fronts import Drives, Index, easy_front, lasting_front
from kunstflug.core.choose.sweep import AXES, Ranges, SweepResult, sweep
from kunstflug.core.drive.forecast import doubts_of_uses
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import ORDER, Verdict
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup

PIECE: Final = 100_000
"""Drives in a piece: a second of work, and some 50 MB while it lasts."""
CLOUD: Final = 1500
HOLDS: Final = ORDER.index(Verdict.HOLDS)
NONE: Final = ORDER.index(Verdict.NONE)
_ROWS: Final = tuple(f.name for f in dataclasses.fields(SweepResult) if f.name != "ranges")


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class Shortlist:
    """What is left of drives that were tried.

    Parameters
    ----------
    first : place of the first of them among all drives of the search; later pieces go after.
    rows : those that nobody of them beats, by margin or by run time.
    cloud : some of all that run, evenly picked.
    tried, holding : how many.
    """

    first: int
    rows: SweepResult
    cloud: SweepResult
    tried: int
    holding: int


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class Piece:
    """A part of a search for any machine."""

    first: int
    setup: Setup
    ranges: Ranges
    schools: Schools
    doubts: Array


def pieces_of(setup: Setup, ranges: Ranges, schools: Schools, most: int = PIECE) -> Iterator[Piece]:
    """A search cut along its slowest axis, and along the next where that is not enough."""
    first, doubts = 0, doubts_of_uses(setup, schools)
    for part in _cut(ranges, most, 0):
        yield Piece(first=first, setup=setup, ranges=part, schools=schools, doubts=doubts)
        first += part.count


def _cut(ranges: Ranges, most: int, axis: int) -> Iterator[Ranges]:
    if ranges.count <= most or axis == len(AXES):
        yield ranges
        return
    name = AXES[axis]
    values: Array = getattr(ranges, name)
    of_each = ranges.count // len(values)
    step = max(most // of_each, 1)
    for begin in range(0, len(values), step):
        part = dataclasses.replace(ranges, **{name: values[begin : begin + step]})
        yield from _cut(part, most, axis + 1)


def narrowed(piece: Piece) -> Shortlist:
    """Tries all drives of a piece, and keeps what nobody of them beats."""
    found = sweep(piece.setup, piece.ranges, piece.schools, doubts=piece.doubts)
    runs = np.flatnonzero(found.verdict != NONE)
    return Shortlist(
        first=piece.first,
        rows=_taken(found, fronts_of(found)),
        cloud=_taken(found, even(runs)),
        tried=piece.ranges.count,
        holding=int(np.sum(found.verdict == HOLDS)),
    )


def fronts_of(found: Drives) -> Index:
    """Those that nobody beats, by margin or by run time, in their order."""
    easy = easy_front(found.speed_mps, found.use, found.verdict)
    lasting = lasting_front(found.speed_mps, found.run_s, found.verdict)
    return np.union1d(easy, lasting)


def merged(parts: Iterable[Shortlist]) -> Shortlist:
    """What is left of all pieces; the same in whatever order they were done."""
    every = sorted(parts, key=lambda part: part.first)
    rows = _joined([part.rows for part in every])
    cloud = _joined([part.cloud for part in every])
    return Shortlist(
        first=every[0].first,
        rows=_taken(rows, fronts_of(rows)),
        cloud=_taken(cloud, even(np.arange(len(cloud.speed_mps)))),
        tried=sum(part.tried for part in every),
        holding=sum(part.holding for part in every),
    )


def even(index: Index) -> Index:
    """Picks evenly, as many as a map can show."""
    if len(index) <= CLOUD:
        return index
    picked: Index = index[np.linspace(0, len(index) - 1, CLOUD).astype(np.int64)]
    return picked


def _taken(found: SweepResult, index: Index) -> SweepResult:
    return dataclasses.replace(found, **{name: getattr(found, name)[index] for name in _ROWS})


def _joined(parts: list[SweepResult]) -> SweepResult:
    columns: dict[str, Any] = {name: np.concatenate([getattr(part, name) for part in parts]) for name in _ROWS}
    return dataclasses.replace(parts[0], **columns)
