"""What to measure next: how much each possible measurement would narrow the band of the number that matters.

The posterior is Gaussian in logarithms, so that what a measurement would leave open does not hang on what it says: one
product of matrices a measurement (the expected gain of a linear-Gaussian experiment; D. V. Lindley, Ann. Math. Statist.
27 (1956) 986-1005).
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.evidence.instruments import DAY, REPEAT, SPREADS, By
from kunstflug.core.evidence.readings import HEAT, Reading, What
from kunstflug.core.learning.predict import base_of, said
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.learning.spreads import LAWS, LAWS_K, LAWS_RISE
from kunstflug.core.quantity.value import Array


class Measure(StrEnum):
    """What a racer can measure."""

    WEIGH = "weigh"
    PITCH_GAUGE = "pitch_gauge"
    CELL_RESISTANCE = "cell_resistance"
    WINDING = "winding"
    NO_LOAD = "no_load"
    LOG_CURRENT = "log_current"
    LOG_RPM = "log_rpm"
    TWO_WAYS = "two_ways"
    GUN_CASE = "gun_case"
    GUN_CONTROLLER = "gun_controller"


DIRECT: Final = {
    Measure.WEIGH: ("mass_kg", 0.003),
    Measure.PITCH_GAUGE: ("pitch_factor", 0.015),
    Measure.CELL_RESISTANCE: ("pack_resistance_ohm", 0.10),
    Measure.WINDING: ("winding_resistance_ohm", 0.05),
    Measure.NO_LOAD: ("no_load_current_a", 0.05),
}
"""Measurements of one number on the bench, and their spread (common practice, no source)."""
RUNS: Final = {
    Measure.LOG_CURRENT: (What.CURRENT, SPREADS[By.LOG, What.CURRENT]),
    Measure.LOG_RPM: (What.RPM, SPREADS[By.LOG, What.RPM]),
    Measure.TWO_WAYS: (What.SPEED, SPREADS[By.BOTH_WAYS, What.SPEED]),
    Measure.GUN_CASE: (What.CASE, SPREADS[By.GUN, What.CASE]),
    Measure.GUN_CONTROLLER: (What.CONTROLLER, SPREADS[By.GUN, What.CONTROLLER]),
}
"""Measurements in a run, and their spread."""
MINUTES: Final = {What.CASE: 1.5, What.CONTROLLER: 1.2}
GUN_AFTER_MIN: Final = 1.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Worth:
    """What a measurement is worth for a number.

    Parameters
    ----------
    narrows : part of the number's band that it would take away [1].
    """

    measure: Measure
    narrows: float


def gain(covariance: Array, wanted: Array, measured: Array, noise: float) -> float:
    """Part of a wanted number's spread that a measurement takes away [1].

    Parameters
    ----------
    covariance : of what is unknown, shape (m, m).
    wanted, measured : how the number and the measurement go with it, shape (m,).
    noise : one standard deviation of the measurement.
    """
    before = float(wanted @ covariance @ wanted)
    shared = float(wanted @ covariance @ measured)
    told = shared**2 / (float(measured @ covariance @ measured) + noise**2)
    return 1.0 - math.sqrt(max(1.0 - told / before, 0.0)) if before > 0 else 0.0


def worth(setup_run: RunEvidence, known: Mapping[str, int], covariance: Array, wanted: What) -> tuple[Worth, ...]:
    """Measurements of a setup by what they are worth for a wanted reading, the best first.

    Parameters
    ----------
    setup_run : the setup with the conditions and duty it is asked for; its readings are not looked at.
    known : place of each number in ``covariance``.
    covariance : of the logarithms of the setup's numbers.
    """
    names = tuple(known)
    asked = [Reading(what=w, value=1.0, spread=s, minutes=MINUTES.get(w, 0.0)) for w, s in RUNS.values()]
    asked.append(Reading(what=wanted, value=1.0, spread=0.0, minutes=MINUTES.get(wanted, GUN_AFTER_MIN)))
    run = RunEvidence(
        key="asked",
        boat=setup_run.boat,
        setup=setup_run.setup,
        things=setup_run.things,
        outing="asked",
        duty=setup_run.duty,
        readings=tuple(asked),
        cooling=setup_run.cooling,
    )
    answer = said(run, base_of(run), names, np.zeros(len(names)))
    target = answer.slope[-1]
    found = []
    for measure, (name, noise) in DIRECT.items():
        if name in known:
            unit = np.zeros(len(names))
            unit[known[name]] = 1.0
            found.append(Worth(measure=measure, narrows=gain(covariance, target, unit, noise)))
    for k, (measure, (what, spread)) in enumerate(RUNS.items()):
        if not np.isfinite(answer.value[k]):
            continue
        noise = _noise(what, spread, float(np.exp(answer.value[k])))
        found.append(Worth(measure=measure, narrows=gain(covariance, target, answer.slope[k], noise)))
    return tuple(sorted(found, key=lambda w: -w.narrows))


def _noise(what: What, spread: float, rise_k: float) -> float:
    if what in HEAT:
        return math.hypot(math.hypot(spread, LAWS_K) / max(rise_k, 1.0), LAWS_RISE)
    if what is What.SPEED:
        return math.sqrt(spread**2 + DAY**2 + REPEAT**2)
    return math.hypot(spread, LAWS.get(what, 0.0))
