"""What a duty does to the parts: peaks against ceilings, instants of crossing, passes, minutes, gun readings."""

import dataclasses
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive.duty import (
    USABLE,
    Duty,
    DutyRun,
    Kind,
    passes_duty,
    run_duty,
)
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.thermal import NODES
from kunstflug.core.drive.verdict import Verdict

Array = npt.NDArray[np.float64]

TITLES: Final = {
    "winding": "Winding",
    "case": "Motor case",
    "controller": "Controller",
    "pack": "Pack",
    "connector": "Connector",
}
STOP_FACTOR: Final = 1.2  # of the rise over air; past it the word is stop (common practice, no source)
SAMPLES: Final = 24
MOST_PASSES: Final = 12
COOL_DOWNS_S: Final = (10.0, 20.0, 30.0, 45.0, 60.0, 90.0, 120.0, 180.0)
GUN_MINUTES: Final = (0.5, 1.0, 2.0, 3.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatLimit:
    """One node against its ceiling.

    Parameters
    ----------
    crossing_s : instant at which the nominal drive passes the ceiling [s]; NaN where it never does.
    chance : part of the band that passes it during the duty [1].
    """

    node: str
    title: str
    ceiling_c: float
    stop_c: float
    peak_c: float
    peak_low_c: float
    peak_high_c: float
    crossing_s: float
    chance: float
    verdict: Verdict
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatForecast:
    """Temperatures of a setup through a duty.

    Parameters
    ----------
    low_c, high_c : 80 % band of the temperatures, shape (T, 5).
    passes_until_limit : passes before a ceiling is passed; -1 for more than twelve, only for a duty of passes.
    cool_down_s : shortest of the tried cool-downs with which four passes stay below all ceilings; NaN if none does.
    seconds_to_empty : full throttle until 80 % of the capacity is used [s].
    gun_c : what a gun would read on the case so many minutes after landing [degC].
    """

    run: DutyRun
    low_c: Array
    high_c: Array
    limits: tuple[HeatLimit, ...]
    verdict: Verdict
    passes_until_limit: int
    cool_down_s: float
    seconds_to_empty: float
    used_ah: float
    gun_c: tuple[tuple[float, float], ...]


def ceilings_c(schools: Schools) -> tuple[float, ...]:
    """Ceilings of the nodes in their order [degC]."""
    return (
        schools.winding_ceiling_c,
        schools.case_ceiling_c,
        schools.controller_ceiling_c,
        schools.pack_ceiling_c,
        schools.connector_ceiling_c,
    )


def heat_forecast(setup: Setup, duty: Duty, schools: Schools = USUAL, samples: int = SAMPLES) -> HeatForecast:
    """Drives a setup through a duty and holds every node against its ceiling."""
    run = run_duty(setup, duty, samples=samples, step_s=0.1, stride=3)
    band = run.temperature_c[1:] if samples else run.temperature_c
    low, high = np.percentile(band, (10, 90), axis=0)
    limits = tuple(_limit(k, run, band, schools, setup) for k in range(len(NODES)))
    order = list(Verdict)
    return HeatForecast(
        run=run,
        low_c=low,
        high_c=high,
        limits=limits,
        verdict=max((limit.verdict for limit in limits), key=order.index),
        passes_until_limit=_passes(setup, duty, schools) if duty.kind is Kind.PASSES else -1,
        cool_down_s=_cool_down(setup, duty, schools) if duty.kind is Kind.PASSES else float("nan"),
        seconds_to_empty=_seconds_to_empty(setup, run),
        used_ah=float(run.used_ah[0, -1]),
        gun_c=_gun(run),
    )


def _limit(k: int, run: DutyRun, band: Array, schools: Schools, setup: Setup) -> HeatLimit:
    ceiling = ceilings_c(schools)[k]
    air = setup.conditions.air_c.value
    stop = air + STOP_FACTOR * (ceiling - air)
    nominal = run.temperature_c[0, :, k]
    peak = float(np.max(nominal))
    peaks = np.max(band[:, :, k], axis=1)
    over = np.flatnonzero(nominal > ceiling)
    crossing = float(run.time_s[over[0]]) if over.size else float("nan")
    verdict = Verdict.STOP if peak > stop else Verdict.SHORT if peak > ceiling else Verdict.HOLDS
    where = f"passes {ceiling:.0f} degC after {crossing:.0f} s" if over.size else f"stays below {ceiling:.0f} degC"
    return HeatLimit(
        node=NODES[k],
        title=TITLES[NODES[k]],
        ceiling_c=ceiling,
        stop_c=stop,
        peak_c=peak,
        peak_low_c=float(np.percentile(peaks, 10)),
        peak_high_c=float(np.percentile(peaks, 90)),
        crossing_s=crossing,
        chance=float(np.mean(peaks > ceiling)),
        verdict=verdict,
        reason=f"{TITLES[NODES[k]].lower()} reaches {peak:.0f} degC and {where} ({schools.temperature} school)",
    )


def _first_over(run: DutyRun, schools: Schools) -> float:
    """Instant at which any node of the nominal drive passes its ceiling [s]; infinite where none does."""
    over = np.any(run.temperature_c[0] > np.array(ceilings_c(schools)), axis=1)
    return float(run.time_s[np.argmax(over)]) if over.any() else float("inf")


def _shape(duty: Duty) -> tuple[float, float]:
    """Seconds of a pass and of a cool-down of a duty of passes."""
    full = next(p.seconds for p in duty.phases if p.name.startswith("pass"))
    cool = next((p.seconds for p in duty.phases if p.name.startswith("cool")), 0.0)
    return full, cool


def _passes(setup: Setup, duty: Duty, schools: Schools) -> int:
    full, cool = _shape(duty)
    long = passes_duty(MOST_PASSES, full, cool)
    at = _first_over(run_duty(setup, long, step_s=0.1, stride=3), schools)
    if at == float("inf"):
        return -1
    done, clock = 0, 0.0
    for phase in long.phases:
        clock += phase.seconds
        if clock >= at:
            break
        done += phase.name.startswith("pass")
    return done


def _cool_down(setup: Setup, duty: Duty, schools: Schools) -> float:
    full, _ = _shape(duty)
    for seconds in COOL_DOWNS_S:
        tried = passes_duty(4, full, seconds)
        tried = dataclasses.replace(tried, phases=tried.phases[:-1])
        if _first_over(run_duty(setup, tried, step_s=0.1, stride=3), schools) == float("inf"):
            return seconds
    return float("nan")


def _seconds_to_empty(setup: Setup, run: DutyRun) -> float:
    """80 % of the capacity over the current at full throttle held [s]."""
    full = (run.throttle[0] > 0.98) & (run.bus_current_a[0] > 0)
    if not full.any():
        return float("nan")
    current = float(np.median(run.bus_current_a[0][full]))
    return USABLE * setup.pack.capacity_ah.value * setup.pack.parallel * 3600.0 / current


def _gun(run: DutyRun) -> tuple[tuple[float, float], ...]:
    """Case temperature at some minutes after landing."""
    found = []
    for minutes in GUN_MINUTES:
        at = run.duty.landing_s + 60 * minutes
        if at <= run.time_s[-1]:
            found.append((minutes, float(np.interp(at, run.time_s, run.temperature_c[0, :, 1]))))
    return tuple(found)
