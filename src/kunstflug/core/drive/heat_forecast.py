"""What a duty does to the parts: peaks against ceilings, instants of crossing, passes, minutes, gun readings."""

import dataclasses
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt
from scipy.signal import lfilter

from kunstflug.core import controller, motor, pack
from kunstflug.core.cooling import CoolingTable
from kunstflug.core.drive.doubts import believed_controller_a
from kunstflug.core.drive.duty import (
    DUTY_SEED,
    USABLE,
    Duty,
    DutyRun,
    Kind,
    passes_duty,
    run_duty,
)
from kunstflug.core.drive.parameters import drive_values
from kunstflug.core.drive.schools import USUAL, Schools, TemperatureSchool
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.thermal import NODES, thermal_values
from kunstflug.core.drive.verdict import Verdict

Array = npt.NDArray[np.float64]

TITLES: Final = {
    "winding": "Winding",
    "case": "Motor case",
    "controller": "Controller",
    "pack": "Pack",
    "connector": "Connector",
    "magnets": "Magnets",
}
HEAT_NODES: Final = (*NODES, "magnets")
"""What is held against a ceiling: the network's nodes, and the magnets between case and winding."""
STOP_FACTOR: Final = 1.2  # of the rise over air; past it the word is stop (common practice, no source)
SAMPLES: Final = 60
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
    middle_c, low_c, high_c : nominal temperatures and their 80 % band, shape (T, 6), nodes as in ``HEAT_NODES``.
    passes_until_limit : passes before a ceiling is passed; -1 for more than twelve, only for a duty of passes.
    cool_down_s : shortest of the tried cool-downs with which four passes stay below all ceilings; NaN if none does.
    seconds_to_empty : full throttle until 80 % of the capacity is used [s].
    burst_use : highest part of its burst rating that the controller uses up [1], see ``burst_time_constant_s``.
    burst_s : instant at which it is used up [s]; NaN where it never is.
    causes : guesses by their part of the variance of the case's peak [1], largest first.
    gun_c : what a gun would read on the case so many minutes after landing [degC].
    """

    run: DutyRun
    middle_c: Array
    low_c: Array
    high_c: Array
    limits: tuple[HeatLimit, ...]
    verdict: Verdict
    passes_until_limit: int
    cool_down_s: float
    seconds_to_empty: float
    used_ah: float
    burst_use: float
    burst_s: float
    causes: tuple[tuple[str, float], ...]
    gun_c: tuple[tuple[float, float], ...]


def ceilings_c(schools: Schools, setup: Setup) -> tuple[float, ...]:
    """Ceilings of ``HEAT_NODES`` in their order [degC].

    The winding's is the school's, or its insulation class where that is lower (25 K below it when cautious); the
    magnets' is their grade's, 20 K below it when cautious.
    """
    spare = schools.temperature is TemperatureSchool.CAUTIOUS
    insulation = motor.insulation_limit_c(setup.motor)
    winding = schools.winding_ceiling_c
    if insulation is not None:
        winding = insulation - (25.0 if spare else 0.0)
    return (
        winding,
        schools.case_ceiling_c,
        schools.controller_ceiling_c,
        schools.pack_ceiling_c,
        schools.connector_ceiling_c,
        motor.magnet_limit_c(setup.motor).value - (20.0 if spare else 0.0),
    )


def with_magnets_c(setup: Setup, temperature_c: Array) -> Array:
    """Temperatures of the network's nodes [degC], shape (..., 5), with the magnets' as a sixth."""
    winding, case = temperature_c[..., 0], temperature_c[..., 1]
    magnets = case + motor.magnet_lag(setup.motor) * (winding - case)
    return np.concatenate([temperature_c, magnets[..., np.newaxis]], axis=-1)


def heat_forecast(
    setup: Setup,
    duty: Duty,
    schools: Schools = USUAL,
    samples: int = SAMPLES,
    cooling: CoolingTable | None = None,
) -> HeatForecast:
    """Drives a setup through a duty and holds every node against its ceiling."""
    run = run_duty(setup, duty, samples=samples, step_s=0.1, stride=3, cooling=cooling)
    all_c = with_magnets_c(setup, run.temperature_c)
    band = all_c[1:] if samples else all_c
    low, high = np.percentile(band, (10, 90), axis=0)
    ceilings = ceilings_c(schools, setup)
    limits = tuple(_limit(k, run.time_s, all_c[0], band, ceilings[k], schools, setup) for k in range(len(HEAT_NODES)))
    use, burst_s = _burst(setup, run)
    order = list(Verdict)
    return HeatForecast(
        run=run,
        middle_c=all_c[0],
        low_c=low,
        high_c=high,
        limits=limits,
        verdict=max((limit.verdict for limit in limits), key=order.index),
        passes_until_limit=_passes(setup, duty, schools, cooling) if duty.kind is Kind.PASSES else -1,
        cool_down_s=_cool_down(setup, duty, schools, cooling) if duty.kind is Kind.PASSES else float("nan"),
        seconds_to_empty=_seconds_to_empty(setup, run),
        used_ah=float(run.used_ah[0, -1]),
        burst_use=use,
        burst_s=burst_s,
        causes=_causes(setup, np.max(band[:, :, 1], axis=1), samples),
        gun_c=_gun(run),
    )


def _burst(setup: Setup, run: DutyRun) -> tuple[float, float]:
    """Largest use of the controller's burst rating [1] and the instant it is used up [s].

    One body with the time constant of the rating, heated by I^2: 1 is its ceiling. It starts cold and has no water.
    """
    rating = believed_controller_a(setup).value
    burst = max(controller.burst_current(setup.controller).value, rating)
    tau = controller.burst_time_constant_s(rating, burst, controller.burst_seconds(setup.controller).value)
    squares = (run.bus_current_a[0] / np.maximum(run.throttle[0], 0.05) / rating) ** 2 * (run.throttle[0] > 0)
    if np.isinf(tau):
        warm = squares
    else:
        decay = np.exp(-(run.time_s[1] - run.time_s[0]) / tau)
        warm = np.asarray(lfilter([1.0 - decay], [1.0, -decay], squares))
    over = np.flatnonzero(warm > 1.0)
    return float(np.max(warm)), float(run.time_s[over[0]]) if over.size else float("nan")


def _causes(setup: Setup, peaks: Array, samples: int) -> tuple[tuple[str, float], ...]:
    """Guesses by the variance of the case's peak that they explain; needs some draws to say anything."""
    if samples < 20 or np.ptp(peaks) == 0:
        return ()
    drawn = drive_values(setup).sampled(samples, DUTY_SEED)
    thermal = thermal_values(setup).sampled(samples, DUTY_SEED + 1)
    found = []
    for bundle, skip in ((drawn, 0), (thermal, 1)):
        for field in dataclasses.fields(bundle):
            column = np.asarray(getattr(bundle, field.name), dtype=float).reshape(-1)[skip:]
            if column.size == samples and np.ptp(column) > 0:
                share = float(np.corrcoef(np.log(np.abs(column)), np.log(peaks))[0, 1] ** 2)
                found.append((field.name, share))
    return tuple(sorted(found, key=lambda row: -row[1])[:5])


def _limit(
    k: int, time_s: Array, nominal_c: Array, band: Array, ceiling: float, schools: Schools, setup: Setup
) -> HeatLimit:
    air = setup.conditions.air_c.value
    stop = air + STOP_FACTOR * (ceiling - air)
    nominal = nominal_c[:, k]
    peak = float(np.max(nominal))
    peaks = np.max(band[:, :, k], axis=1)
    over = np.flatnonzero(nominal > ceiling)
    crossing = float(time_s[over[0]]) if over.size else float("nan")
    verdict = Verdict.STOP if peak > stop else Verdict.SHORT if peak > ceiling else Verdict.HOLDS
    where = f"passes {ceiling:.0f} °C after {crossing:.0f} s" if over.size else f"stays below {ceiling:.0f} °C"
    title = TITLES[HEAT_NODES[k]]
    return HeatLimit(
        node=HEAT_NODES[k],
        title=title,
        ceiling_c=ceiling,
        stop_c=stop,
        peak_c=peak,
        peak_low_c=float(np.percentile(peaks, 10)),
        peak_high_c=float(np.percentile(peaks, 90)),
        crossing_s=crossing,
        chance=float(np.mean(peaks > ceiling)),
        verdict=verdict,
        reason=f"{title.lower()} {'reach' if title.endswith('s') else 'reaches'} {peak:.0f} °C and "
        f"{where if not title.endswith('s') else where.replace('passes', 'pass', 1).replace('stays', 'stay', 1)} "
        f"({schools.temperature} school)",
    )


def _first_over(setup: Setup, run: DutyRun, schools: Schools) -> float:
    """Instant at which any node of the nominal drive passes its ceiling [s]; infinite where none does."""
    over = np.any(with_magnets_c(setup, run.temperature_c[0]) > np.array(ceilings_c(schools, setup)), axis=1)
    return float(run.time_s[np.argmax(over)]) if over.any() else float("inf")


def _shape(duty: Duty) -> tuple[float, float]:
    """Seconds of a pass and of a cool-down of a duty of passes."""
    full = next(p.seconds for p in duty.phases if p.name.startswith("pass"))
    cool = next((p.seconds for p in duty.phases if p.name.startswith("cool")), 0.0)
    return full, cool


def _passes(setup: Setup, duty: Duty, schools: Schools, cooling: CoolingTable | None) -> int:
    full, cool = _shape(duty)
    long = passes_duty(MOST_PASSES, full, cool)
    at = _first_over(setup, run_duty(setup, long, step_s=0.1, stride=3, cooling=cooling), schools)
    if at == float("inf"):
        return -1
    done, clock = 0, 0.0
    for phase in long.phases:
        clock += phase.seconds
        if clock >= at:
            break
        done += phase.name.startswith("pass")
    return done


def _cool_down(setup: Setup, duty: Duty, schools: Schools, cooling: CoolingTable | None) -> float:
    full, _ = _shape(duty)
    for seconds in COOL_DOWNS_S:
        tried = passes_duty(4, full, seconds)
        tried = dataclasses.replace(tried, phases=tried.phases[:-1])
        if _first_over(setup, run_duty(setup, tried, step_s=0.1, stride=3, cooling=cooling), schools) == float("inf"):
            return seconds
    return float("nan")


def _seconds_to_empty(setup: Setup, run: DutyRun) -> float:
    """80 % of the capacity over the current at full throttle held [s]."""
    full = (run.throttle[0] > 0.98) & (run.bus_current_a[0] > 0)
    if not full.any():
        return float("nan")
    current = float(np.median(run.bus_current_a[0][full]))
    return USABLE * pack.usable_ah(setup.pack) * 3600.0 / current


def _gun(run: DutyRun) -> tuple[tuple[float, float], ...]:
    """Case temperature at some minutes after landing."""
    found = []
    for minutes in GUN_MINUTES:
        at = run.duty.landing_s + 60 * minutes
        if at <= run.time_s[-1]:
            found.append((minutes, float(np.interp(at, run.time_s, run.temperature_c[0, :, 1]))))
    return tuple(found)
