"""Single changes from here: one size up or down, tried and ranked by what they bring and cost."""

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from kunstflug.core.choose.class_rules import sound_of
from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.limits import WALLS
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import Verdict, worst
from kunstflug.core.parts.pack import MOST_SERIES_CELLS, series_cells
from kunstflug.core.parts.propeller import HIGHEST_PITCH_RATIO, LOWEST_PITCH_RATIO, pitch_ratio
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.editor import Edit, typed
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.heat_forecast import STEP_S, STRIDE, heat_verdict, peaks_c
from kunstflug.core.thermal.nodes import HEAT_NODES, Node
from kunstflug.core.thermal.run import run_duty

SAMPLES: Final = 40
# What a verdict costs in the ranking, as a part of the speed (our own choice): a stop is never worth its speed.
PRICE: Final = {Verdict.HOLDS: 0.0, Verdict.SHORT: 0.03, Verdict.STOP: 10.0, Verdict.NONE: 20.0}
BURNT: Final = 40.0
REACH: Final = 1.5  # no single change makes a boat half as fast again
NOTICED_PART: Final = 0.003
NOTICED_K: Final = 1.0


def single_steps(setup: Setup) -> tuple[Edit, ...]:
    """Single changes of a size from here: KV, propeller, cells, pack, controller, mass.

    Usual steps of the trade (common practice, no source): propellers go by one or two millimetres and tenths of pitch
    ratio, motors by about a tenth of KV, packs by one cell.
    """
    kv, wheel, packs = setup.motor.kv_rpm_per_v.value, setup.propeller, setup.pack
    diameter, ratio = wheel.diameter_m.value, pitch_ratio(wheel)
    sizes: list[tuple[str, float]] = [("motor.kv", round(kv * f, -1)) for f in (0.82, 0.9, 1.1, 1.2)]
    sizes += [("propeller.diameter", diameter + mm * 1e-3) for mm in (-3, -2, -1, 1, 2, 3)]
    for change in (-0.2, -0.1, 0.1, 0.2):
        if not LOWEST_PITCH_RATIO <= ratio + change <= HIGHEST_PITCH_RATIO:
            continue
        by_pitch = wheel.pitch_m is not None
        path = "propeller.pitch" if by_pitch else "propeller.pitch_ratio"
        sizes.append((path, (ratio + change) * diameter if by_pitch else round(ratio + change, 3)))
    sizes.append(("propeller.blades", 3 if wheel.blades == 2 else 2))
    for change_cells in (-1, 1):
        if packs.cells + change_cells >= 1 and series_cells(packs) + change_cells <= MOST_SERIES_CELLS:
            sizes.append(("pack.cells", packs.cells + change_cells))
    sizes += [("pack.capacity", round(packs.capacity_ah.value * f, 1)) for f in (0.8, 1.25)]
    if packs.c_rating is not None:
        sizes.append(("pack.c_rating", round(packs.c_rating.value * 1.4)))
    rating = setup.controller.continuous_current_a.value
    sizes.append(("controller.continuous_current", round(rating * 1.25, -1)))
    sizes += [("all_up_mass", round(setup.all_up_mass_kg.value * f, 2)) for f in (0.95, 1.05)]
    return tuple(typed(path, value, setup) for path, value in sizes)


@dataclass(frozen=True, slots=True, kw_only=True)
class Trial:
    """What a setup does through a duty: speed, current, peak of the case, chance of passing any limit, sound, verdict.

    Parameters
    ----------
    sound_w : at full throttle, by the law [W].
    walled : past what a part's sheet forbids: never to be proposed.
    burnt_s : instant at which a winding burns or solder melts [s]; NaN where none does.
    """

    speed_mps: float
    current_a: float
    case_c: float
    chance: float
    verdict: Verdict
    sound_w: float
    walled: bool
    burnt_s: float

    @property
    def burns(self) -> bool:
        """Whether a winding or a plug does not live through the duty."""
        return math.isfinite(self.burnt_s)


@lru_cache(maxsize=256)  # a page that is opened again asks for the same ones, some fifty of them
def trial(setup: Setup, duty: Duty, schools: Schools, cooling: CoolingTable | None) -> Trial:
    """A setup tried: its forecast, and its heat through a duty."""
    f = forecast(setup, SAMPLES, schools, explained=False, drawn=False)
    run = run_duty(setup, duty, step_s=STEP_S, stride=STRIDE, cooling=cooling)
    peaks = peaks_c(setup, run)
    return Trial(
        speed_mps=float(f.point.speed_mps),
        current_a=float(f.point.current_a),
        case_c=float(peaks[HEAT_NODES.index(Node.CASE)]),
        chance=max((m.chance for m in f.margins), default=0.0),
        verdict=worst([f.verdict, heat_verdict(setup, run, schools)]),
        sound_w=sound_of(setup, f.point),
        walled=any(m.key in WALLS for m in f.margins),
        burnt_s=min((float(t[0]) for t in run.fails_s.values() if math.isfinite(t[0])), default=math.nan),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class StepEffect(Fact):
    """What a single change brings and costs.

    Parameters
    ----------
    warmer_k : of the case's peak [K].
    burnt_s : instant at which a winding burns or solder melts [s]; NaN where none does.
    """

    gain_mps: float
    warmer_k: float
    current_a: float
    chance: float
    verdict: Verdict
    burnt_s: float


def effect(now: Trial, then: Trial) -> StepEffect:
    """The effect of a change from one trial to another."""
    return StepEffect(
        gain_mps=then.speed_mps - now.speed_mps,
        warmer_k=then.case_c - now.case_c,
        current_a=then.current_a,
        chance=then.chance,
        verdict=then.verdict,
        burnt_s=then.burnt_s,
    )


def noticed(now: Trial, then: Trial) -> bool:
    """Whether a change runs, and a racer would notice it."""
    if then.verdict is Verdict.NONE:
        return False
    faster = abs(then.speed_mps / now.speed_mps - 1) > NOTICED_PART
    return faster or abs(then.case_c - now.case_c) > NOTICED_K or then.verdict is not now.verdict


def rank(now: Trial, then: Trial) -> float:
    """Place of a change in the ranking: the price of its verdict less its part of speed gained; smallest first.

    What burns comes last, whatever it gains: the case of a motor that died early stays cool.
    """
    return (BURNT if then.burns else PRICE[then.verdict]) - (then.speed_mps / now.speed_mps - 1)
