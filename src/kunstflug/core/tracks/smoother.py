"""A boat's motion from noisy positions or speeds: Kalman filter forward, modified Bryson-Frazier backward, compiled.

One axis has the state place, speed, acceleration, and the slow error of the receiver. Acceleration dies away by itself
(Singer's model [singer1970]), the error wanders with a spread of its own. Positions are place plus error; a receiver's
own speed is the speed. What the fastest change of motion is differs between a straight and a turn, so the spread of the
acceleration is worked out along the track, from the track [dempster1977]. The backward pass needs no inverse
[bierman1973].
"""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
import scipy

from kunstflug.core.laws.jit import jitable, kept
from kunstflug.core.tracks.samples import Array

N: Final = 4
HARDEST_MPS2: Final = 30.0
"""3 g: what a hull does in a hard turn for a moment (common practice, no source)."""
CALMEST_MPS2: Final = 0.4
"""Waves alone change a boat's speed by so much (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Noise:
    """How a receiver errs.

    Parameters
    ----------
    white : spread of one sample that the next does not share [m or m/s].
    wander : how fast its slow error moves [m/sqrt(s)]; 0 for speeds.
    slow : spread of the slow error [m].
    """

    white: float
    wander: float
    slow: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Smoothed:
    """Motion of every axis with its spread; arrays of shape (axes, K) and (K,).

    Parameters
    ----------
    place, speed : of each axis [m], [m/s].
    speed_spread : standard deviation of an axis' speed [m/s], the same for all.
    acceleration : of each axis [m/s^2].
    acceleration_spread : standard deviation of an axis' acceleration [m/s^2].
    doubted : shape (K,), by how much more than usual a sample was taken to err; 1 for one that fits.
    replays : shape (R, K), speed along the way [m/s] as it would have been found from other errors of the same kind,
        if what was found here were the truth; their spread about it is what the fastest of many windows gains by luck.
    """

    place: Array
    speed: Array
    speed_spread: Array
    acceleration: Array
    acceleration_spread: Array
    doubted: Array
    replays: Array


@jitable
def _transition(dt: float, tau: float, f: Array, q: Array) -> None:
    """Transition of place, speed and acceleration over ``dt``, and its noise for an acceleration of spread 1."""
    u = dt / tau
    rho = math.exp(-u)
    f[:, :] = 0.0
    f[0, 0] = f[1, 1] = f[3, 3] = 1.0
    f[0, 1] = dt
    f[2, 2] = rho
    q[:, :] = 0.0
    if u < 0.05:
        f[0, 2], f[1, 2] = dt * dt / 2 * (1 - u / 3), dt * (1 - u / 2)
        s = 2.0 / tau
        q[0, 0], q[0, 1], q[0, 2] = s * dt**5 / 20, s * dt**4 / 8, s * dt**3 / 6
        q[1, 1], q[1, 2], q[2, 2] = s * dt**3 / 3, s * dt**2 / 2, s * dt
    else:
        f[0, 2], f[1, 2] = tau * tau * (u - 1 + rho), tau * (1 - rho)
        r2 = rho * rho
        q[0, 0] = tau**4 * (1 - r2 + 2 * u + 2 * u**3 / 3 - 2 * u * u - 4 * u * rho)
        q[0, 1] = tau**3 * (r2 + 1 - 2 * rho + 2 * u * rho - 2 * u + u * u)
        q[0, 2] = tau**2 * (1 - r2 - 2 * u * rho)
        q[1, 1] = tau**2 * (4 * rho - 3 - r2 + 2 * u)
        q[1, 2] = tau * (r2 + 1 - 2 * rho)
        q[2, 2] = 1 - r2
    q[1, 0], q[2, 0], q[2, 1] = q[0, 1], q[0, 2], q[1, 2]


@kept
def _run(  # noqa: C901, PLR0912, PLR0915 - one kernel: what is cut apart is not inlined
    time: Array, values: Array, worse: Array, swing: Array, of_speed: bool, white: float, wander: float, slow: float,
    tau: float, gate: float, only_fit: bool,
) -> tuple[Array, Array, Array, Array, Array, Array, float]:  # fmt: skip
    """Filter and smoother. ``values`` (axes, K) with NaN where nothing was read; ``worse`` (K,) multiplies
    the variance of a sample.
    """
    axes, count = values.shape
    xs = np.empty((count, axes, N))  # predicted states
    ps = np.empty((count, N, N))
    gains = np.zeros((count, N))
    inverse = np.zeros(count)  # of the variance of what is read; 0 where nothing was
    off = np.zeros((count, axes))
    doubted = np.ones(count)
    f, q, p, step = np.empty((N, N)), np.empty((N, N)), np.zeros((N, N)), np.zeros((N, N))
    x, y = np.zeros((axes, N)), np.zeros(N)
    fade = wander * wander / (2 * slow * slow) if slow > 0 else 0.0
    for a in range(axes):
        for k in range(count):
            if values[a, k] == values[a, k]:
                x[a, 1 if of_speed else 0] = values[a, k]
                break
    # Where it starts is known to metres; how fast it goes there, hardly.
    p[0, 0], p[1, 1], p[2, 2], p[3, 3] = (1.0 if of_speed else 1e4), 2500.0, swing[0] ** 2, slow * slow
    fit = 0.0
    before = -1.0
    for k in range(count):
        if k:
            dt = time[k] - time[k - 1]
            if dt != before:
                _transition(dt, tau, f, q)
                before = dt
                f[3, 3] = math.exp(-fade * dt)
                q[3, 3] = slow * slow * (1 - f[3, 3] * f[3, 3])
            power = swing[k] * swing[k]
            for a in range(axes):
                for i in range(N):
                    y[i] = f[i, 0] * x[a, 0] + f[i, 1] * x[a, 1] + f[i, 2] * x[a, 2] + f[i, 3] * x[a, 3]
                for i in range(N):
                    x[a, i] = y[i]
            for i in range(N):
                for j in range(N):
                    step[i, j] = f[i, 0] * p[0, j] + f[i, 1] * p[1, j] + f[i, 2] * p[2, j] + f[i, 3] * p[3, j]
            for i in range(N):
                for j in range(i, N):
                    total = step[i, 0] * f[j, 0] + step[i, 1] * f[j, 1] + step[i, 2] * f[j, 2] + step[i, 3] * f[j, 3]
                    total += q[i, j] * (1.0 if i == 3 else power)
                    p[i, j] = total
                    p[j, i] = total
        for i in range(N):
            for a in range(axes):
                xs[k, a, i] = x[a, i]
            for j in range(N):
                ps[k, i, j] = p[i, j]
        if values[0, k] != values[0, k]:
            continue
        variance = white * white * worse[k]
        s = variance + (p[1, 1] if of_speed else p[0, 0] + 2 * p[0, 3] + p[3, 3])
        far = 0.0
        for a in range(axes):
            off[k, a] = values[a, k] - (x[a, 1] if of_speed else x[a, 0] + x[a, 3])
            far += off[k, a] * off[k, a]
        if far > gate * axes * s:  # count it for less, by as much as it is off
            doubted[k] = (far / (gate * axes) - s + variance) / variance
            s = far / (gate * axes)
        fit -= 0.5 * (far / s + axes * math.log(s))
        inverse[k] = 1 / s
        for i in range(N):
            gains[k, i] = (p[i, 1] if of_speed else p[i, 0] + p[i, 3]) / s
        for i in range(N):
            for j in range(i, N):
                p[i, j] -= gains[k, i] * gains[k, j] * s
                p[j, i] = p[i, j]
            for a in range(axes):
                x[a, i] += gains[k, i] * off[k, a]
    place, speed, push = np.empty((axes, count)), np.empty((axes, count)), np.empty((axes, count))
    spread, push_spread = np.empty(count), np.empty(count)
    if only_fit:
        return place, speed, spread, push, push_spread, doubted, fit
    back, curve = np.zeros((axes, N)), np.zeros((N, N))
    before = -1.0
    for k in range(count - 1, -1, -1):
        if inverse[k] > 0:
            # through the reading: curve <- h h' / s + c' curve c, with c = 1 - gain h'
            for i in range(N):
                y[i] = (
                    curve[i, 0] * gains[k, 0] + curve[i, 1] * gains[k, 1] + curve[i, 2] * gains[k, 2]
                    + curve[i, 3] * gains[k, 3]
                )  # fmt: skip
            seen = gains[k, 0] * y[0] + gains[k, 1] * y[1] + gains[k, 2] * y[2] + gains[k, 3] * y[3]
            for i in range(N):
                hi = (1.0 if i == 1 else 0.0) if of_speed else (1.0 if i == 0 or i == 3 else 0.0)
                for j in range(i, N):
                    hj = (1.0 if j == 1 else 0.0) if of_speed else (1.0 if j == 0 or j == 3 else 0.0)
                    curve[i, j] += hi * hj * (inverse[k] + seen) - hi * y[j] - y[i] * hj
                    curve[j, i] = curve[i, j]
            for a in range(axes):
                seen = 0.0
                for i in range(N):
                    seen += gains[k, i] * back[a, i]
                for i in range(N):
                    hi = (1.0 if i == 1 else 0.0) if of_speed else (1.0 if i == 0 or i == 3 else 0.0)
                    back[a, i] -= hi * (off[k, a] * inverse[k] + seen)
        for a in range(axes):
            for i in range(3):
                corrected = xs[k, a, i]
                for j in range(N):
                    corrected -= ps[k, i, j] * back[a, j]
                if i == 0:
                    place[a, k] = corrected
                elif i == 1:
                    speed[a, k] = corrected
                else:
                    push[a, k] = corrected
        for i in range(1, 3):
            total = ps[k, i, i]
            for j in range(N):
                for m in range(N):
                    total -= ps[k, i, j] * curve[j, m] * ps[k, m, i]
            if i == 1:
                spread[k] = math.sqrt(max(total, 0.0))
            else:
                push_spread[k] = math.sqrt(max(total, 0.0))
        if k:
            dt = time[k] - time[k - 1]
            if dt != before:
                _transition(dt, tau, f, q)
                before = dt
                f[3, 3] = math.exp(-fade * dt)
            for i in range(N):
                for j in range(N):
                    step[i, j] = (
                        curve[i, 0] * f[0, j] + curve[i, 1] * f[1, j] + curve[i, 2] * f[2, j] + curve[i, 3] * f[3, j]
                    )
            for i in range(N):
                for j in range(i, N):
                    curve[i, j] = (
                        f[0, i] * step[0, j] + f[1, i] * step[1, j] + f[2, i] * step[2, j] + f[3, i] * step[3, j]
                    )
                    curve[j, i] = curve[i, j]
            for a in range(axes):
                for i in range(N):
                    y[i] = f[0, i] * back[a, 0] + f[1, i] * back[a, 1] + f[2, i] * back[a, 2] + f[3, i] * back[a, 3]
                for i in range(N):
                    back[a, i] = y[i]
    return place, speed, spread, push, push_spread, doubted, fit


_WHITE_M: Final = (0.03, 0.1, 0.3, 1.0, 3.0)
_WANDER: Final = (0.02, 0.07, 0.15, 0.3, 0.6, 1.2, 2.4)
_WHITE_MPS: Final = (0.03, 0.1, 0.3, 1.0)
_SLOW_M: Final = 3.0
"""Standard deviation of a receiver's slowly wandering error on open water (common practice, no source)."""
_WORSE: Final = 1.3
"""The noise that fits best is a little too good: the same samples chose it. Held by the tests' coverage."""
_TAU_S: Final = 1.0
_FIRST_SWING_MPS2: Final = 8.0
_SWING_WINDOW_S: Final = 1.0
_DOUBT: Final = 0.3  # part of an acceleration's own variance that counts as movement
_ROUNDS: Final = 4
_CHOICE: Final = 6000  # samples that choose the noise
_PART: Final = 20_000  # samples at a time, so that memory stays bounded
_OVERLAP: Final = 300
_FIRST_GATE: Final = 9.0
_GATE: Final = 25.0


def noise_of(time: Array, values: Array, of_speed: bool, worse: Array | None = None) -> Noise:
    """The noise that the samples speak for: each likely one by its chance.

    Parameters
    ----------
    time : shape (K,), rising [s].
    values : shape (axes, K), positions [m] or one row of speeds [m/s]; NaN where nothing was read.
    worse : as for ``smoothed``.
    """
    worse = np.ones(len(time)) if worse is None else worse
    # In one piece: one kernel is compiled.
    time, values, worse = time[:_CHOICE].copy(), values[:, :_CHOICE].copy(), worse[:_CHOICE].copy()
    found = Noise(white=0.1, wander=0.0, slow=0.0) if of_speed else Noise(white=0.3, wander=0.5, slow=_SLOW_M)
    first = smoothed(time, values, of_speed, found, rounds=2, worse=worse)
    swing = _swing(time, first.acceleration, first.acceleration_spread)
    fits: list[tuple[float, float, float]] = []
    for white in _WHITE_MPS if of_speed else _WHITE_M:
        for wander in (0.0,) if of_speed else _WANDER:
            slow = 0.0 if of_speed else _SLOW_M
            fit = _run(time, values, worse, swing, of_speed, white, wander, slow, _TAU_S, _GATE, True)[-1]
            fits.append((fit, white, wander))
    fit, whites, wanders = np.array(fits).T
    chance = np.exp(fit - np.max(fit))
    white, wander = (float(np.sqrt(np.average(each**2, weights=chance))) for each in (whites, wanders))
    return Noise(white=white, wander=_WORSE * wander, slow=found.slow)


def smoothed(
    time: Array,
    values: Array,
    of_speed: bool,
    noise: Noise,
    rounds: int = _ROUNDS,
    worse: Array | None = None,
    replays: int = 0,
) -> Smoothed:
    """Motion behind the samples, with its spread.

    Parameters
    ----------
    time : shape (K,), rising [s].
    values : shape (axes, K), NaN where nothing was read but the motion is wanted.
    of_speed : whether the values are speeds; else they are positions.
    rounds : how often the spread of the acceleration is worked out anew.
    worse : shape (K,), by how much the variance of a sample is larger than usual; 1 where nobody says.
    replays : how many times the track is read again with other errors.
    """
    parts, count = [], len(time)
    worse = np.ones(count) if worse is None else worse
    start = 0
    while True:
        end = start + _PART if start + _PART + _OVERLAP < count else count
        a, b = max(start - _OVERLAP, 0), min(end + _OVERLAP, count)
        keep = slice(start - a, end - a)
        part = _part(time[a:b].copy(), values[:, a:b].copy(), worse[a:b].copy(), of_speed, noise, rounds, replays)
        parts.append([column[..., keep] for column in part])
        if end == count:
            break
        start = end
    place, speed, spread, push, push_spread, doubted, again = (
        np.concatenate(columns, axis=-1) for columns in zip(*parts, strict=True)
    )
    return Smoothed(
        place=place, speed=speed, speed_spread=spread, acceleration=push, acceleration_spread=push_spread,
        doubted=doubted, replays=again,
    )  # fmt: skip


def _part(
    time: Array, values: Array, worse: Array, of_speed: bool, noise: Noise, rounds: int, replays: int
) -> tuple[Array, ...]:
    swing = np.full(len(time), _FIRST_SWING_MPS2)
    out: tuple[Array, ...] = ()
    used = swing
    for k in range(rounds):
        used = swing
        gate = _FIRST_GATE if k == 0 else _GATE
        out = _run(time, values, worse, swing, of_speed, noise.white, noise.wander, noise.slow, _TAU_S, gate, False)[:6]
        swing = _swing(time, out[3], out[4])
    return *out, _replays(time, values, worse * out[5], used, of_speed, noise, out, replays)


def _replays(
    time: Array, values: Array, worse: Array, swing: Array, of_speed: bool, noise: Noise, found: tuple[Array, ...],
    count: int,
) -> Array:  # fmt: skip
    """Speeds found from other errors if ``found`` were the truth: a parametric bootstrap [efron1993].

    With its gains held, the smoother is linear: errors go through it by themselves, one axis for each replay. What it
    takes off a true peak comes from the found motion, put through it once more.
    """
    if not count:
        return np.empty((0, len(time)))
    motion = found[1] if of_speed else found[0]
    motion = motion - motion[:, :1]
    errors = _errors(time, worse, noise, count)
    read = np.where(np.isfinite(values[0]), np.vstack([motion, errors]), np.nan)
    again = _run(
        time, read, worse, swing, of_speed, noise.white, noise.wander, noise.slow, _TAU_S, math.inf, False
    )[1]  # fmt: skip
    axes, speed = len(values), np.hypot.reduce(found[1], axis=0) if len(found[1]) > 1 else found[1][0]
    once = again[:axes] + (found[1][:, :1] if of_speed else 0.0)
    blunted = (once[0] if of_speed else np.hypot(*once)) - speed
    return np.asarray(speed + blunted + again[axes:])


def _errors(time: Array, worse: Array, noise: Noise, count: int) -> Array:
    """Errors of a receiver, shape (count, K): white ones and one that wanders; the same for the same track.

    That it wanders back, too, in minutes, says nothing of a speed held for seconds, and is left out.
    """
    rng = np.random.default_rng(len(time))
    white = noise.white * np.sqrt(worse) * rng.standard_normal((count, len(time)))
    steps = noise.wander * np.sqrt(np.diff(time, prepend=time[0])) * rng.standard_normal((count, len(time)))
    return np.asarray(white + np.cumsum(steps, axis=1))


def _swing(time: Array, push: Array, spread: Array) -> Array:
    """Spread of the acceleration along the track [m/s^2]: what it was within half a second."""
    step = float(np.median(np.diff(time))) if len(time) > 1 else 1.0
    window = max(round(_SWING_WINDOW_S / step) | 1, 3)
    power = scipy.ndimage.uniform_filter1d(np.mean(push**2, axis=0) + _DOUBT * spread**2, window, mode="nearest")
    return np.clip(np.sqrt(power), CALMEST_MPS2, HARDEST_MPS2)
