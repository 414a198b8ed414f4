"""Standing and flying starts in time: seconds and metres to full speed, and whether the boat gets there."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.evidence.instruments import AT_SPEED
from kunstflug.core.laws.resistance import PLANING_FROUDE, volume_froude
from kunstflug.core.laws.water import water_density_kg_m3
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import COOL_LEVEL, Duty, Kind, Mode, Phase, PhaseKind
from kunstflug.core.thermal.run import DutyRun, run_duty

SAMPLES: Final = 24
LONGEST_S: Final = 15.0
CRUISE_S: Final = 10.0
STEP_S: Final = 0.05
TURNS_AT: Final = 0.5  # of its speed, at which a boat can be turned away at the end of a straight (common practice)
COASTS_S: Final = 15.0

_FULL = Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=LONGEST_S)
_COAST = Phase(kind=PhaseKind.SOAK, mode=Mode.REST, seconds=COASTS_S)
_CRUISE = Phase(kind=PhaseKind.WARM_UP, mode=Mode.HOLD, seconds=CRUISE_S, level=COOL_LEVEL)


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A number with its 80 % band; infinite where it is never reached."""

    middle: float
    low: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Start:
    """Seconds and metres from a start to 90 % of the top speed."""

    seconds: Span
    metres: Span


@dataclass(frozen=True, slots=True, kw_only=True)
class ShortOfFullSpeed(Fact):
    """Full throttle ends before the boat is at full speed; ``part`` of its top speed it reaches."""

    full_s: float
    needed_s: float
    part: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PondTooShort(Fact):
    """Run-up, pass and lifting take more water than there is."""

    needed_m: float
    pond_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MayNotPlane(Fact):
    """Part of the band that never gets over its hump."""

    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Launch:
    """How a boat gets to speed.

    Parameters
    ----------
    plane_s : from standing until the hump is behind.
    standing, flying : from rest, and from half of the top speed.
    stopping_m : after lifting at full speed until it can be turned away, by its own drag and the propeller's brake.
    stuck : part of the band that does not plane within 15 seconds [1].
    warnings : a pass or a pond that is too short, a boat that may not plane.
    """

    plane_s: Span
    standing: Start
    flying: Start
    stopping_m: Span
    stuck: float
    warnings: tuple[Fact, ...]


def launch_of(setup: Setup, full_s: float, pond_m: float | None = None, *, samples: int = SAMPLES) -> Launch:
    """Standing and flying start of a setup, stepped in time as its duty is.

    Spinning up against the propeller takes some 20 ms (half a newton metre on 3e-6 kg m2) and is left out beside the
    throttle's ramp.

    Parameters
    ----------
    full_s : full throttle of a pass [s]; infinite for a boat that is held.
    pond_m : straight water there is [m]; None where nobody said.
    """
    standing = run_duty(setup, _duty(_FULL), samples=samples, step_s=STEP_S, stride=1)
    flying = run_duty(setup, _duty(_CRUISE, _FULL, _COAST), samples=samples, step_s=STEP_S, stride=1)
    density = float(water_density_kg_m3(setup.conditions.water_c.value))
    planes = float(1.0 / volume_froude(1.0, setup.all_up_mass_kg.value, density)) * PLANING_FROUDE
    top = standing.speed_mps.max(axis=1)
    plane_s = _reached(standing, 0, np.full(len(top), planes))[0]
    from_cruise, lifts = round(CRUISE_S / STEP_S), round((CRUISE_S + LONGEST_S) / STEP_S)
    stopping = _span(_stops(flying.speed_mps[:, lifts - 1 :]))
    on, off = _start(standing, 0, top), _start(flying, from_cruise, top)
    stuck = float(np.mean(np.isinf(plane_s[1:]))) if samples else float(np.isinf(plane_s[0]))
    return Launch(
        plane_s=_span(plane_s),
        standing=on,
        flying=off,
        stopping_m=stopping,
        stuck=stuck,
        warnings=_warnings(
            off, flying.speed_mps[0, from_cruise:lifts], float(top[0]), full_s, pond_m, stuck, stopping.middle
        ),
    )


def _duty(*phases: Phase) -> Duty:
    return Duty(kind=Kind.PASSES, phases=phases)


def _stops(speed_mps: Array) -> Array:
    """Metres until speeds of shape (N, T), from lifting on, have fallen to what a boat turns at; shape (N,)."""
    slow = speed_mps < TURNS_AT * speed_mps[:, :1]
    at = np.where(slow.any(axis=1), np.argmax(slow, axis=1), speed_mps.shape[1] - 1)
    found: Array = np.take_along_axis(np.cumsum(speed_mps, axis=1), at[:, np.newaxis], axis=1)[:, 0] * STEP_S
    return found


def _reached(run: DutyRun, first: int, speed_mps: Array) -> tuple[Array, Array]:
    """Seconds and metres from a step until speeds of shape (N,) are first reached; infinite where never."""
    speeds = run.speed_mps[:, first:]
    there = speeds >= speed_mps[:, np.newaxis]
    at = np.argmax(there, axis=1)
    way = np.take_along_axis(np.cumsum(speeds, axis=1), at[:, np.newaxis], axis=1)[:, 0] * STEP_S
    never = ~there.any(axis=1)
    return np.where(never, np.inf, (at + 1) * STEP_S), np.where(never, np.inf, way)


def _start(run: DutyRun, first: int, top: Array) -> Start:
    seconds, metres = _reached(run, first, AT_SPEED * top)
    return Start(seconds=_span(seconds), metres=_span(metres))


def _span(values: Array) -> Span:
    """The nominal one, and the band of the others."""
    band = np.sort(values[1:]) if len(values) > 1 else values
    # By rank: between a finite draw and one that never gets there is no number.
    low, high = (float(band[round(part * (len(band) - 1))]) for part in (0.1, 0.9))
    return Span(middle=float(values[0]), low=low, high=high)


def _warnings(
    flying: Start,
    speed_mps: Array,
    top_mps: float,
    full_s: float,
    pond_m: float | None,
    stuck: float,
    stopping_m: float,
) -> tuple[Fact, ...]:
    found: list[Fact] = []
    if stuck >= 0.1:
        found.append(MayNotPlane(chance=stuck))
    needed_s = flying.seconds.middle
    if full_s < needed_s:
        at = min(round(full_s / STEP_S), len(speed_mps) - 1)
        found.append(ShortOfFullSpeed(full_s=full_s, needed_s=needed_s, part=float(speed_mps[at]) / top_mps))
    if pond_m is not None and math.isfinite(full_s):
        steps = min(round(full_s / STEP_S), len(speed_mps))
        way = float(np.sum(speed_mps[:steps])) * STEP_S + max(full_s - steps * STEP_S, 0.0) * float(speed_mps[-1])
        if way + stopping_m > pond_m:
            found.append(PondTooShort(needed_m=way + stopping_m, pond_m=pond_m))
    return tuple(found)
