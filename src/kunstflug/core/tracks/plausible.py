"""What of a logged track can be true: a boat has a top speed, and time only goes forward.

A reader hands over whatever a file says; what leaves here is physically possible, so that no later step has to doubt
it. Everything that is left out is named with its sample, never dropped in silence. All limits are wide (common
practice, no source): they take out what cannot be, not what is unlikely.
"""

import dataclasses
import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.evidence.instruments import POSSIBLE, Column
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import AtMost, Fact
from kunstflug.core.tracks.samples import Array, TrackSamples, local_metres

FASTEST_MPS: Final = POSSIBLE[Column.SPEED].high
POSITION_SLACK_M: Final = 30.0
"""How far a fix may be off on top of what the speed explains."""
FASTEST_RATE_HZ: Final = 200.0
LONGEST_BREAK_S: Final = 2 * 3600.0
"""After such a break it is another run."""
MOST_STRETCHES: Final = 2000
"""A log that breaks off more often is no continuous track."""
GAP_S: Final = 1.0
GAP_STEPS: Final = 4.5
"""Samples further apart than ``GAP_S`` and than so many usual steps have a gap between them."""
FIRST_UNIX_S: Final = 315_964_800.0  # 1980-01-06, when the time of satellite navigation begins
LAST_UNIX_S: Final = 4_102_444_800.0  # 2100
WIDE_STEPS: Final = 2.0
LONGEST_GAPLESS_S: Final = 15.0
"""A logger that writes when it likes is believed over so much, where a tenth of its steps are as long."""
SHUFFLED_PART: Final = 0.01
MOST_SPEEDS: Final = 0.8
HELD_OVER_S: Final = 2.0
LEAST_WAY_M: Final = 50.0
FAST_PART: Final = 0.5
SLOW_PART: Final = 0.2
STRAIGHT: Final = 0.97
LEAST_STRAIGHT: Final = 5
UNLIKE: Final = 0.08
UNLIKE_IN_TURNS: Final = 0.4
STILL: Final = 0.02
"""All of what two seconds of a straight and a file's speed may differ by: common practice, no source."""
_CHAINS: Final = 8

Mask = npt.NDArray[np.bool_]


class Trouble(StrEnum):
    """Why a sample cannot be used as it stands."""

    PLACE = "place"  # not on the globe
    SPEED = "speed"  # faster than any boat; the position is kept
    TIME = "time"  # no number
    BACK = "back"  # earlier than the sample before; value: seconds
    AHEAD = "ahead"  # later than the samples that follow; value: seconds after the one before
    SAME = "same"  # the time of the sample before
    REVERSED = "reversed"  # the whole file ran backwards and was put in order
    SHUFFLED = "shuffled"  # samples stood in another order than their times; value: how many
    WHOLE = "whole"  # times were cut to whole seconds, and are spread over them; value: samples a second
    BREAK = "break"  # on the far side of a long break; value: seconds
    JUMP = "jump"  # cannot have been reached; value: metres
    UNLIKE = "unlike"  # the file's speeds are not those of the way, and are not used; value: how many times it they are


@dataclass(frozen=True, slots=True, kw_only=True)
class TooManyJumps(Fact):
    """Positions that no boat can have reached from one another."""

    jumps: int


@dataclass(frozen=True, slots=True, kw_only=True)
class TooFastRate(Fact):
    """More samples a second than any receiver gives."""

    rate_hz: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TooManyPieces(Fact):
    """A track in pieces with gaps between them."""

    pieces: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Odd:
    """One sample that is impossible.

    Parameters
    ----------
    index : of the sample in what was handed over.
    value : size of the trouble, in the unit its kind says.
    """

    index: int
    trouble: Trouble
    value: float = float("nan")


@dataclass(frozen=True, slots=True, kw_only=True)
class Sifted:
    """The possible part of a track, and what was left out of it, in the order of the file."""

    samples: TrackSamples
    odd: tuple[Odd, ...]


def sift(samples: TrackSamples) -> Sifted:
    """Takes out of a track what cannot be.

    Parameters
    ----------
    samples : as read; any numbers, NaN and infinity included.

    Returns
    -------
    Samples whose times rise strictly, whose positions can be reached from one another at ``FASTEST_MPS``, and whose
    speeds are below it. Of a track that falls apart into pieces that cannot belong together, the piece with most
    samples.

    Raises
    ------
    InvalidValue : what is left is no track of a boat: too fast a rate, too many breaks.
    """
    odd: list[Odd] = []
    speed = _possible_speeds(samples.receiver_speed_mps, odd)
    samples = _whole_seconds(samples, odd)
    order = np.arange(len(samples))
    order = order[_on_the_globe(samples, order, odd)]
    order = _in_time(samples.time_s, order, odd)
    order = _without_breaks(samples.time_s, order, odd)
    order = _reachable(samples, order, odd)
    time = samples.time_s[order]
    _check_rate(time)
    start = float(time[0]) if len(time) else 0.0
    kept = dataclasses.replace(
        samples.taken(order),
        time_s=np.round(time - start, 6),
        receiver_speed_mps=speed[order],
        start_unix_s=samples.start_unix_s + start,
    )
    if not math.isnan(times := times_the_way(kept)):
        odd.append(Odd(index=0, trouble=Trouble.UNLIKE, value=times))
    return Sifted(samples=_dated(kept), odd=tuple(sorted(odd, key=lambda o: o.index)))


def _dated(samples: TrackSamples) -> TrackSamples:
    """A clock that was never set tells no date."""
    if FIRST_UNIX_S <= samples.start_unix_s <= LAST_UNIX_S:
        return samples
    return dataclasses.replace(samples, start_unix_s=float("nan"))


def _whole_seconds(samples: TrackSamples, odd: list[Odd]) -> TrackSamples:
    """Times of a fast receiver that were cut to whole seconds, spread evenly over the time to the next stamp."""
    time = samples.time_s
    if len(time) < 5 or not np.isfinite(time).all():
        return samples
    steps = np.diff(time)
    if np.mean(steps == 0) < 0.5 or np.any(steps < 0) or not np.any(steps > 0):  # a clock that stands says nothing
        return samples
    first = np.concatenate([[0], np.flatnonzero(steps > 0) + 1])
    lasts = np.diff(np.concatenate([time[first], [time[-1] + 1.0]]))
    counts = np.diff(np.concatenate([first, [len(time)]]))
    usual = float(np.median(counts))
    # A second that was begun or left within has fewer samples: they lie at its end, or at its beginning.
    within = np.arange(len(time)) - np.repeat(first, counts)
    shares = np.repeat(np.maximum(counts, usual), counts)
    late = np.where(np.arange(len(first)) == 0, np.maximum(usual - counts, 0), 0)
    spread = (within + np.repeat(late, counts)) / shares * np.repeat(np.minimum(lasts, 1.0), counts)
    odd.append(Odd(index=0, trouble=Trouble.WHOLE, value=usual))
    return dataclasses.replace(samples, time_s=time + spread)


def _possible_speeds(speed: Array, odd: list[Odd]) -> Array:
    """A negative speed is how receivers say that they do not know it: NaN without a word."""
    wrong = speed > FASTEST_MPS
    odd += [Odd(index=int(k), trouble=Trouble.SPEED, value=float(speed[k])) for k in np.flatnonzero(wrong)]
    return np.where(wrong | (speed < 0), np.nan, speed)


def _on_the_globe(samples: TrackSamples, order: npt.NDArray[np.intp], odd: list[Odd]) -> Mask:
    latitude, longitude = samples.latitude_deg[order], samples.longitude_deg[order]
    good = (np.abs(latitude) <= 90) & (np.abs(longitude) <= 180)  # false for NaN
    odd += [Odd(index=int(k), trouble=Trouble.PLACE) for k in order[~good]]
    return good


def _in_time(time_s: Array, order: npt.NDArray[np.intp], odd: list[Odd]) -> npt.NDArray[np.intp]:
    """The samples whose times rise; a file that runs backwards from end to end is turned round."""
    known = np.isfinite(time_s[order])
    odd += [Odd(index=int(k), trouble=Trouble.TIME) for k in order[~known]]
    order = order[known]
    time = time_s[order]
    steps = np.diff(time)
    if len(steps) and np.all(steps <= 0) and np.any(steps < 0):
        odd.append(Odd(index=int(order[0]), trouble=Trouble.REVERSED))
        order, time = order[::-1], time[::-1]
    elif np.sum(steps < 0) > max(SHUFFLED_PART * len(time), 3) and len(time) == len(np.unique(time)):
        # So many steps back, and no time twice: the lines lie in another order than they were written in.
        odd.append(Odd(index=int(order[0]), trouble=Trouble.SHUFFLED, value=float(np.sum(steps < 0))))
        order = order[np.argsort(time, kind="stable")]
        time = time_s[order]
    good = _rising(time)
    # The first one has none before it: it is held against the first that is kept.
    first = time[good][:1]
    before = np.concatenate([first, np.maximum.accumulate(time)[:-1]]) if len(time) else time
    for k in np.flatnonzero(~good):
        back = float(before[k] - time[k])
        kind = Trouble.SAME if back == 0 else Trouble.BACK if back > 0 else Trouble.AHEAD
        odd.append(Odd(index=int(order[k]), trouble=kind, value=abs(back)))
    return order[good]


def _rising(time: Array) -> Mask:
    """Which samples to keep for strictly rising times: those not before an earlier one, or those not after a later
    one, whichever loses fewer (one stamp far in the future must not cost all that follow).
    """
    if not len(time):
        return np.ones(0, dtype=bool)
    highest = np.concatenate([[-np.inf], np.maximum.accumulate(time)[:-1]])
    lowest = np.concatenate([np.minimum.accumulate(time[::-1])[::-1][1:], [np.inf]])
    forward, backward = time > highest, time < lowest
    return forward if np.sum(forward) >= np.sum(backward) else backward


def _without_breaks(time_s: Array, order: npt.NDArray[np.intp], odd: list[Odd]) -> npt.NDArray[np.intp]:
    """The longest piece between breaks of hours."""
    steps = np.diff(time_s[order])
    edges = np.concatenate([[0], np.flatnonzero(steps > LONGEST_BREAK_S) + 1, [len(order)]])
    if len(edges) == 2:
        return order
    best = int(np.argmax(np.diff(edges)))
    keep = slice(int(edges[best]), int(edges[best + 1]))
    for k in range(len(edges) - 1):
        if k != best:
            near = int(edges[k]) - 1 if k > best else int(edges[k + 1]) - 1
            odd.append(Odd(index=int(order[edges[k]]), trouble=Trouble.BREAK, value=float(steps[near])))
    return order[keep]


def _reachable(samples: TrackSamples, order: npt.NDArray[np.intp], odd: list[Odd]) -> npt.NDArray[np.intp]:
    """The chain of samples, each reachable from the one before, that holds most of them."""
    if len(order) < 2:
        return order
    east, north = local_metres(samples.latitude_deg[order], samples.longitude_deg[order])
    time = samples.time_s[order]
    way, steps = np.hypot(np.diff(east), np.diff(north)), np.diff(time)
    jumps = np.flatnonzero(way > FASTEST_MPS * steps + POSITION_SLACK_M)
    if not len(jumps):
        return order
    if len(jumps) > MOST_STRETCHES:
        raise InvalidValue("track", TooManyJumps(jumps=len(jumps)), AtMost(most=MOST_STRETCHES))
    edges = np.concatenate([[0], jumps + 1, [len(order)]])
    chains: list[list[tuple[int, int]]] = []
    for a, b in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
        home = next((c for c in chains if _follows(c[-1][1] - 1, a, east, north, time)), None)
        if home is not None:
            home.append((a, b))
        else:
            chains.append([(a, b)])
        chains.sort(key=_length, reverse=True)
        del chains[_CHAINS:]
    kept = np.zeros(len(order), dtype=bool)
    for a, b in chains[0]:
        kept[a:b] = True
    for a, b in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
        if not kept[a]:
            far = float(way[a - 1]) if a else float(way[b - 1])
            odd.append(Odd(index=int(order[a]), trouble=Trouble.JUMP, value=far))
    return order[kept]


def _length(chain: list[tuple[int, int]]) -> int:
    return sum(b - a for a, b in chain)


def _follows(one: int, other: int, east: Array, north: Array, time: Array) -> bool:
    way = np.hypot(east[other] - east[one], north[other] - north[one])
    return bool(way <= FASTEST_MPS * (time[other] - time[one]) + POSITION_SLACK_M)


def has_speeds(samples: TrackSamples) -> bool:
    """Whether a file's own speeds are there for most samples, so that they may be used in place of its positions."""
    return len(samples) > 2 and bool(np.mean(np.isfinite(samples.receiver_speed_mps)) >= MOST_SPEEDS)


def times_the_way(samples: TrackSamples) -> float:
    """By what factor a file's speeds are off those of its positions, where they are; NaN where they agree or none are.

    Held against each other over two seconds of a straight where the boat is fast: there the noise of a position says
    little. Where it never runs straight, a chord is shorter than the way, and more is allowed.
    """
    if not has_speeds(samples):
        return math.nan
    time, told = samples.time_s, samples.receiver_speed_mps
    lag = max(round(HELD_OVER_S / 2 / max(float(np.median(np.diff(time))), 1e-3)), 1)
    if len(time) <= 2 * lag:
        return math.nan
    known = np.isfinite(told)
    even = np.interp(time, time[known], told[known])
    run = np.concatenate([[0.0], np.cumsum((even[1:] + even[:-1]) / 2 * np.diff(time))])
    east, north = local_metres(samples.latitude_deg, samples.longitude_deg)
    half = np.hypot(east[lag:] - east[:-lag], north[lag:] - north[:-lag])
    chord = np.hypot(east[2 * lag :] - east[: -2 * lag], north[2 * lag :] - north[: -2 * lag])
    span, said = time[2 * lag :] - time[: -2 * lag], run[2 * lag :] - run[: -2 * lag]
    whole = span <= 2 * max(HELD_OVER_S, gap_s(time))
    speed = chord / span
    if not np.any(whole) or np.sum(half) / lag < LEAST_WAY_M:
        return math.nan
    top = float(np.quantile(speed[whole], 0.95))
    line = whole & (speed >= max(SLOW_PART * top, 1.0)) & (chord >= STRAIGHT * (half[:-lag] + half[lag:]))
    straight = line & (speed >= FAST_PART * top)
    if np.sum(straight) >= LEAST_STRAIGHT:
        times, slack = float(np.median(said[straight] / chord[straight])), UNLIKE
    else:
        hop = max(lag // 3, 1)
        way = float(np.sum(np.hypot(east[hop:] - east[:-hop], north[hop:] - north[:-hop]))) / hop
        times, slack = float(run[-1]) / way, UNLIKE_IN_TURNS
    stuck = np.any(line) and _swing(told[known]) < STILL and _swing(speed[line]) > 10 * STILL
    return times if stuck or not 1 / (1 + slack) < times < 1 + slack else math.nan


def _swing(speed: Array) -> float:
    """From the slow tenth to the fast tenth, as a part of the middle."""
    slow, middle, fast = np.quantile(speed, (0.1, 0.5, 0.9)).tolist()
    return float((fast - slow) / max(middle, 1e-9))


def _check_rate(time: Array) -> None:
    if len(time) < 3:
        return
    steps = np.diff(time)
    step = float(np.median(steps))
    if step < 1 / FASTEST_RATE_HZ:
        raise InvalidValue("track", TooFastRate(rate_hz=1 / step), AtMost(most=round(FASTEST_RATE_HZ)))
    pieces = int(np.sum(steps > gap_s(time))) + 1
    if pieces > MOST_STRETCHES:
        raise InvalidValue("track", TooManyPieces(pieces=pieces), AtMost(most=MOST_STRETCHES))


def gap_s(time_s: Array) -> float:
    """How far apart two samples of a track must be for a gap between them [s].

    Parameters
    ----------
    time_s : shape (N,), rising [s].
    """
    if len(time_s) < 2:
        return GAP_S
    usual, long = np.quantile(np.diff(time_s), (0.5, 0.9)).tolist()
    return max(GAP_S, GAP_STEPS * usual, min(WIDE_STEPS * long, LONGEST_GAPLESS_S))
