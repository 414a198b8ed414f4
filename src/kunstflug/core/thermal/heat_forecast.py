"""What a duty does to the parts: peaks against ceilings, instants of crossing, passes, minutes, gun readings."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.balance import USABLE
from kunstflug.core.drive.limits import believed_ratings
from kunstflug.core.drive.rows import NAMES as DRIVE_NAMES
from kunstflug.core.drive.schools import USUAL, Schools, TemperatureSchool
from kunstflug.core.drive.values import drive_values
from kunstflug.core.drive.verdict import Verdict, held, worst
from kunstflug.core.parts import motor, pack
from kunstflug.core.parts.joining import SOFT_C
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty, Kind, PhaseKind, passes_duty
from kunstflug.core.thermal.network import followed
from kunstflug.core.thermal.nodes import HEAT_NODES, Node, followers_c, known_with_heat, thermal_values
from kunstflug.core.thermal.nodes import NAMES as THERMAL_NAMES
from kunstflug.core.thermal.run import DUTY_SEED, DutyRun, run_duty

STOP_FACTOR: Final = 1.2  # of the rise over air; past it the word is stop (common practice, no source)
SPARE_INSULATION_K: Final = 25.0  # what the cautious stay below a class, and below a grade
SPARE_MAGNETS_K: Final = 20.0
JUNCTION_C: Final = 150.0  # silicon is printed for 150 to 175 degC
SPARE_JUNCTION_K: Final = 25.0
SPARE_MOUNT_K: Final = 10.0
SAMPLES: Final = 60
STEP_S: Final = 0.1
STRIDE: Final = 3
MOST_PASSES: Final = 12
COOL_DOWN_PASSES: Final = 4
COOL_DOWNS_S: Final = (10.0, 20.0, 30.0, 45.0, 60.0, 90.0, 120.0, 180.0)
GUN_MINUTES: Final = (0.5, 1.0, 2.0, 3.0)
MOST_CAUSES: Final = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatLimit:
    """One node against its ceiling.

    Parameters
    ----------
    by_mount : whether the ceiling is that of the motor's mount.
    peak_c : of the nominal drive; ``peak_low_c``, ``peak_high_c`` its 80 % band.
    crossing_s : instant at which the nominal drive passes the ceiling [s]; NaN where it never does.
    use : rise over air at its peak, over the one that its ceiling allows [1]; ``at_risk`` the one that the band passes
        with the chance that the schools take.
    fails_s : instant at which it fails, enamel gone or solder molten [s]; NaN where it does not.
    chance : part of the band that passes it during the duty [1].
    """

    node: Node
    by_mount: bool
    ceiling_c: float
    stop_c: float
    peak_c: float
    peak_low_c: float
    peak_high_c: float
    use: float
    at_risk: float
    crossing_s: float
    fails_s: float
    chance: float
    verdict: Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """A guess, and its part of the variance of the case's peak [1]."""

    parameter: str
    share: float


@dataclass(frozen=True, slots=True, kw_only=True)
class GunReading:
    """What a gun would read on the case so many minutes after landing [degC]."""

    minutes: float
    celsius: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Burst:
    """Highest part of its burst rating that the controller uses up [1], and the instant it is used up [s], or NaN."""

    use: float
    used_up_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatForecast:
    """Temperatures of a setup through a duty.

    Parameters
    ----------
    middle_c, low_c, high_c : nominal temperatures and their 80 % band, shape (T, 7), nodes as in ``HEAT_NODES``.
    chance : part of the band that passes any ceiling [1].
    passes_until_limit : passes before a ceiling is passed; -1 for more than twelve, only for a duty of passes.
    cool_down_s : shortest of the tried cool-downs with which four passes stay below all ceilings; NaN if none does.
    seconds_to_empty : full throttle until 80 % of the capacity is used [s].
    causes : largest first.
    """

    run: DutyRun
    middle_c: Array
    low_c: Array
    high_c: Array
    limits: tuple[HeatLimit, ...]
    chance: float
    verdict: Verdict
    passes_until_limit: int
    cool_down_s: float
    seconds_to_empty: float
    used_ah: float
    burst: Burst
    causes: tuple[Cause, ...]
    gun: tuple[GunReading, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Ceiling:
    """Where *holds* ends and *stop* begins for a node [degC]; ``by_mount`` where the motor's mount softens first."""

    node: Node
    holds_c: float
    stop_c: float
    by_mount: bool = False

    def verdict(self, celsius: float) -> Verdict:
        """Verdict on a temperature [degC]."""
        return Verdict.STOP if celsius > self.stop_c else Verdict.SHORT if celsius > self.holds_c else Verdict.HOLDS


def ceilings(schools: Schools, setup: Setup) -> tuple[Ceiling, ...]:
    """Ceilings of ``HEAT_NODES`` in their order.

    The winding's is the school's, or its insulation class where that is known (25 K below it when cautious); the
    magnets' is their grade's, 20 K below it when cautious.
    """
    cautious = schools.temperature is TemperatureSchool.CAUTIOUS
    insulation = motor.insulation_limit_c(setup.motor)
    winding = schools.winding_ceiling_c
    if insulation is not None:
        winding = insulation - (SPARE_INSULATION_K if cautious else 0.0)
    magnets = motor.magnet_limit_c(setup.motor).value - (SPARE_MAGNETS_K if cautious else 0.0)
    air = setup.conditions.air_c.value
    holds = {
        Node.WINDING: winding,
        Node.CASE: schools.case_ceiling_c,
        Node.CONTROLLER: schools.controller_ceiling_c,
        Node.PACK: schools.pack_ceiling_c,
        Node.CONNECTOR: schools.connector_ceiling_c,
        Node.MAGNETS: magnets,
        Node.JUNCTION: JUNCTION_C - (SPARE_JUNCTION_K if cautious else 0.0),
    }
    return tuple(
        _mounted(setup, Ceiling(node=node, holds_c=holds[node], stop_c=air + STOP_FACTOR * (holds[node] - air)))
        for node in HEAT_NODES
    )


def _mounted(setup: Setup, ceiling: Ceiling) -> Ceiling:
    """The case's ceiling where its mount softens first: with a spare below, and *stop* where it gives way."""
    soft = SOFT_C.get(setup.mount.material)
    if ceiling.node is not Node.CASE or soft is None or soft - SPARE_MOUNT_K >= ceiling.holds_c:
        return ceiling
    return Ceiling(node=Node.CASE, holds_c=soft - SPARE_MOUNT_K, stop_c=min(soft, ceiling.stop_c), by_mount=True)


def nominal_c(setup: Setup, run: DutyRun) -> Array:
    """Temperatures of the nominal drive's ``HEAT_NODES`` [degC], shape (T, 7)."""
    return followers_c(setup, run.temperature_c[0], run.controller_w[0], run.junction_w_k[0])


def peaks_c(setup: Setup, run: DutyRun) -> Array:
    """Peaks of the nominal drive's ``HEAT_NODES`` [degC], shape (7,)."""
    peaks: Array = nominal_c(setup, run).max(axis=0)
    return peaks


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatJudged:
    """Temperatures of a duty against all ceilings.

    Parameters
    ----------
    all_c : shape (1 + N, T, 7), nodes as in ``HEAT_NODES``, the nominal drive first.
    chance : part of the band that passes any ceiling [1].
    """

    all_c: Array
    limits: tuple[HeatLimit, ...]
    chance: float
    verdict: Verdict


def heat_judged(setup: Setup, run: DutyRun, schools: Schools) -> HeatJudged:
    """Holds every node of a duty against its ceiling: the one judgement, wherever heat is judged."""
    all_c = followers_c(setup, run.temperature_c, run.controller_w, run.junction_w_k[:, np.newaxis])
    tops, holds = ceilings(schools, setup), np.array([c.holds_c for c in ceilings(schools, setup)])
    peaks = all_c.max(axis=1)
    drawn, air = peaks[1:], setup.conditions.air_c.value
    quantiles = np.quantile(drawn, (0.1, 0.9, 1.0 - schools.risk), axis=0) if len(drawn) else peaks[[0, 0, 0]]
    past = drawn > holds
    shares = past.mean(axis=0) if len(drawn) else np.zeros(len(tops))
    limits = tuple(
        _limit(c, run, all_c[0, :, k], quantiles[:, k].tolist(), float(shares[k]), air, schools.risk)
        for k, c in enumerate(tops)
    )
    chance = float(np.mean(past.any(axis=1))) if len(drawn) else 0.0
    return HeatJudged(
        all_c=all_c,
        limits=limits,
        chance=chance,
        verdict=held(worst([limit.verdict for limit in limits]), chance, schools.risk),
    )


FAR_BELOW: Final = 0.85
"""Use at risk of every ceiling, by the doubts of a boat like this, up to which its own band is not asked."""


def heat_tried(
    setup: Setup, duty: Duty, schools: Schools, cooling: CoolingTable | None, doubts: tuple[float, ...] | None = None
) -> tuple[HeatJudged, DutyRun]:
    """A duty driven and judged as ``heat_forecast`` judges it, with a band where it can matter.

    Parameters
    ----------
    doubts : use at risk over use of each ceiling, of a boat like this; None for a band in any case. Whoever tries fifty
        changes has no time for fifty bands: one that is far below all ceilings by these is driven once.
    """
    if doubts is not None:
        run = run_duty(setup, duty, step_s=STEP_S, stride=STRIDE, cooling=cooling)
        found = heat_judged(setup, run, schools)
        limits = tuple(
            dataclasses.replace(limit, at_risk=doubt * limit.use)
            for limit, doubt in zip(found.limits, doubts, strict=True)
        )
        if max(limit.at_risk for limit in limits) < FAR_BELOW:
            return dataclasses.replace(found, limits=limits), run
    drawn = run_duty(setup, duty, samples=SAMPLES, step_s=STEP_S, stride=STRIDE, cooling=cooling)
    return heat_judged(setup, drawn, schools), drawn


def heat_forecast(
    setup: Setup,
    duty: Duty,
    schools: Schools = USUAL,
    samples: int = SAMPLES,
    cooling: CoolingTable | None = None,
) -> HeatForecast:
    """Drives a setup through a duty and holds every node against its ceiling."""
    run = run_duty(setup, duty, samples=samples, step_s=STEP_S, stride=STRIDE, cooling=cooling)
    judged = heat_judged(setup, run, schools)
    band = judged.all_c[1:] if samples else judged.all_c
    low, high = np.percentile(band, (10, 90), axis=0)
    passes = duty.kind is Kind.PASSES
    return HeatForecast(
        run=run,
        middle_c=judged.all_c[0],
        low_c=low,
        high_c=high,
        limits=judged.limits,
        chance=judged.chance,
        verdict=judged.verdict,
        passes_until_limit=_passes(setup, duty, schools, cooling) if passes else -1,
        cool_down_s=_cool_down(setup, duty, schools, cooling) if passes else math.nan,
        seconds_to_empty=_seconds_to_empty(setup, run),
        used_ah=float(run.used_ah[0, -1]),
        burst=_burst(setup, run),
        causes=_causes(setup, np.max(band[:, :, HEAT_NODES.index(Node.CASE)], axis=1), samples),
        gun=_gun(run),
    )


def _burst(setup: Setup, run: DutyRun) -> Burst:
    """Largest use of the controller's burst rating.

    One body with the time constant of the rating, heated by I^2: 1 is its ceiling. It starts cold and has no water.
    """
    ratings = believed_ratings(setup)
    rating, tau = ratings.continuous.value, ratings.time_constant_s
    squares = (run.bus_current_a[0] / np.maximum(run.throttle[0], 0.05) / rating) ** 2 * (run.throttle[0] > 0)
    decay = math.exp(-(run.time_s[1] - run.time_s[0]) / tau) if math.isfinite(tau) else 0.0
    warm = followed(squares, decay)
    over = np.flatnonzero(warm > 1.0)
    return Burst(use=float(np.max(warm)), used_up_s=float(run.time_s[over[0]]) if over.size else math.nan)


def _causes(setup: Setup, peaks: Array, samples: int) -> tuple[Cause, ...]:
    """Guesses by the variance of the case's peak that they explain; needs some draws to say anything."""
    if samples < 20 or np.ptp(peaks) == 0:
        return ()
    known = known_with_heat(setup)
    drives = drive_values(setup).rows(samples, DUTY_SEED, known)[1:]
    heat = thermal_values(setup).rows(samples, DUTY_SEED, known)[1:]
    found = []
    for rows, names in ((drives, DRIVE_NAMES), (heat, THERMAL_NAMES)):
        for name in names:
            column = np.abs(rows[name])
            if np.isfinite(column).all() and np.ptp(column) > 0:
                share = float(np.corrcoef(np.log(column), np.log(peaks))[0, 1] ** 2)
                found.append(Cause(parameter=name, share=share))
    return tuple(sorted(found, key=lambda c: -c.share)[:MOST_CAUSES])


def _limit(
    ceiling: Ceiling, run: DutyRun, nominal_c: Array, peaks_c: list[float], chance: float, air_c: float, risk: float
) -> HeatLimit:
    peak, (low, high, at_risk) = float(np.max(nominal_c)), peaks_c
    over, allowed = np.flatnonzero(nominal_c > ceiling.holds_c), max(ceiling.holds_c - air_c, 1.0)
    return HeatLimit(
        node=ceiling.node,
        by_mount=ceiling.by_mount,
        ceiling_c=ceiling.holds_c,
        stop_c=ceiling.stop_c,
        peak_c=peak,
        peak_low_c=low,
        peak_high_c=high,
        use=(peak - air_c) / allowed,
        at_risk=(at_risk - air_c) / allowed,
        crossing_s=float(run.time_s[over[0]]) if over.size else math.nan,
        fails_s=float(run.fails_s[ceiling.node][0]) if ceiling.node in run.fails_s else math.nan,
        chance=chance,
        verdict=held(ceiling.verdict(peak), chance, risk),
    )


def _first_over(setup: Setup, run: DutyRun, schools: Schools) -> float:
    """Instant at which any node of the nominal drive passes its ceiling [s]; infinite where none does."""
    holds = np.array([c.holds_c for c in ceilings(schools, setup)])
    over = np.any(nominal_c(setup, run) > holds, axis=1)
    return float(run.time_s[np.argmax(over)]) if over.any() else math.inf


def _seconds_of(duty: Duty, kind: PhaseKind) -> float:
    """Seconds of the first phase of a kind; 0 where there is none."""
    return next((p.seconds for p in duty.phases if p.kind is kind), 0.0)


def _passes(setup: Setup, duty: Duty, schools: Schools, cooling: CoolingTable | None) -> int:
    full, cool = _seconds_of(duty, PhaseKind.PASS), _seconds_of(duty, PhaseKind.COOL_DOWN)
    long = passes_duty(MOST_PASSES, full, cool)
    at = _first_over(setup, run_duty(setup, long, step_s=STEP_S, stride=STRIDE, cooling=cooling), schools)
    if math.isinf(at):
        return -1
    done, clock = 0, 0.0
    for phase in long.phases:
        clock += phase.seconds
        if clock >= at - 1e-6:
            break
        done += phase.kind is PhaseKind.PASS
    return done


def _cool_down(setup: Setup, duty: Duty, schools: Schools, cooling: CoolingTable | None) -> float:
    full = _seconds_of(duty, PhaseKind.PASS)
    for seconds in COOL_DOWNS_S:
        tried = passes_duty(COOL_DOWN_PASSES, full, seconds)
        tried = dataclasses.replace(tried, phases=tried.phases[:-1])
        run = run_duty(setup, tried, step_s=STEP_S, stride=STRIDE, cooling=cooling)
        if math.isinf(_first_over(setup, run, schools)):
            return seconds
    return math.nan


def _seconds_to_empty(setup: Setup, run: DutyRun) -> float:
    """The usable charge over the current at full throttle held [s]."""
    full = (run.throttle[0] > 0.98 * np.max(run.throttle[0])) & (run.bus_current_a[0] > 0)
    if not full.any():
        return math.nan
    current = float(np.median(run.bus_current_a[0][full]))
    return USABLE * pack.usable_ah(setup.pack) * 3600.0 / current


def _gun(run: DutyRun) -> tuple[GunReading, ...]:
    """Case temperature at some minutes after landing."""
    found = []
    for minutes in GUN_MINUTES:
        at = run.duty.landing_s + 60 * minutes
        if at <= run.time_s[-1]:
            celsius = float(np.interp(at, run.time_s, run.temperature_c[0, :, 1]))
            found.append(GunReading(minutes=minutes, celsius=celsius))
    return tuple(found)
