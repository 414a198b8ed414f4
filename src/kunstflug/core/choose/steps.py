"""Changes from here: one size up or down, or two that belong together, tried and ranked by what a racer wants."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from typing import Final

import numpy as np

from kunstflug.core.choose.class_rules import sound_of
from kunstflug.core.choose.sold import CONTROLLERS_A, sold_diameters_m, sold_kv
from kunstflug.core.choose.sweep import ranges_about, sweep
from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.forecast import doubts_of_uses, forecast
from kunstflug.core.drive.limits import KEYS, WALLS, LimitKey, wall_of
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import ORDER, Verdict, held, worst
from kunstflug.core.parts.pack import MOST_SERIES_CELLS, series_cells
from kunstflug.core.parts.propeller import HIGHEST_PITCH_RATIO, LOWEST_PITCH_RATIO, pitch_ratio
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.editor import Edit, typed
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.heat_forecast import heat_tried
from kunstflug.core.thermal.nodes import HEAT_NODES, Node

REACH: Final = 1.5  # no single change makes a boat half as fast again
NOTICED_PART: Final = 0.003
NOTICED_K: Final = 1.0
NOTICED_USE: Final = 0.02


class Intent(StrEnum):
    """What a racer wants of the next change."""

    FASTER = "faster"
    WITHIN = "within"
    LONGER = "longer"


EFFORT: Final = {
    "propeller": 0.0,
    "propeller.blades": 0.005,
    "pack": 0.0,
    "pack.cells": 0.01,
    "pack.capacity": 0.01,
    "pack.c_rating": 0.01,
    "controller": 0.005,
    "controller.continuous_current": 0.02,
    "controller.max_cells": 0.02,
    "motor": 0.005,
    "motor.kv": 0.02,
    "all_up_mass": 0.03,
}
"""What a change costs to make, as a part of the speed: a propeller is swapped first, a motor is bought last, mass is
hardest to lose (common practice, no source). A whole part is one that lies on the shelf."""


def effort(path: str) -> float:
    """What a change of a path costs to make [1]."""
    return EFFORT.get(path, EFFORT.get(path.partition(".")[0], 0.0))


def single_steps(setup: Setup) -> tuple[Edit, ...]:
    """Single changes of a size from here: KV, propeller, cells, pack, controller, mass.

    Usual steps of the trade (common practice, no source): propellers go by one or two millimetres and tenths of pitch
    ratio, motors by about a tenth of KV, packs by one cell.
    """
    kv, wheel, packs = setup.motor.kv_rpm_per_v.value, setup.propeller, setup.pack
    diameter, ratio = wheel.diameter_m.value, pitch_ratio(wheel)
    sizes: list[tuple[str, float]] = [("motor.kv", round(kv * f, -1)) for f in (0.82, 0.9, 1.1, 1.2)]
    sizes += [("propeller.diameter", diameter + mm * 1e-3) for mm in (-3, -2, -1, 1, 2, 3)]
    sizes += [_pitched(setup, ratio + change) for change in (-0.2, -0.1, 0.1, 0.2) if _is_pitch(ratio + change)]
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


def _is_pitch(ratio: float) -> bool:
    return LOWEST_PITCH_RATIO <= ratio <= HIGHEST_PITCH_RATIO


def _pitched(setup: Setup, ratio: float) -> tuple[str, float]:
    """A pitch ratio as the propeller's own number, a pitch [m] or a ratio [1]."""
    if setup.propeller.pitch_m is not None:
        return "propeller.pitch", ratio * setup.propeller.diameter_m.value
    return "propeller.pitch_ratio", round(ratio, 3)


def steps_back(setup: Setup, schools: Schools) -> Iterator[tuple[Edit, ...]]:
    """For each number that can lead back within limits the sizes sold that do by the limits of the drive, best first.

    The heat of a duty may want a smaller one: whoever tries them goes on until one holds.
    """
    kv, diameter, ratio = setup.motor.kv_rpm_per_v.value, setup.propeller.diameter_m.value, pitch_ratio(setup.propeller)
    other, cells = setup.pack.second_cells or 0, series_cells(setup.pack)
    down = {
        "diameter": sold_diameters_m(0.6 * diameter, diameter)[::-1],
        "pitch_ratio": np.round(np.arange(ratio - 0.1, LOWEST_PITCH_RATIO, -0.1), 3),
        "kv": sold_kv(0.4 * kv, kv)[::-1],
        "cells": np.arange(cells - 1.0, max(cells / 2, other), -1.0),
    }
    paths: dict[str, Callable[[float], tuple[str, float]]] = {
        "diameter": lambda v: ("propeller.diameter", v),
        "pitch_ratio": lambda v: _pitched(setup, v),
        "kv": lambda v: ("motor.kv", v),
        "cells": lambda v: ("pack.cells", round(v) - other),
    }
    doubts = doubts_of_uses(setup, schools)
    for name, values in down.items():
        if not len(values):
            continue
        found = sweep(setup, ranges_about(setup, **{name: values}), schools, doubts=doubts)
        good = values[found.verdict == ORDER.index(Verdict.HOLDS)].tolist()
        yield tuple(typed(*paths[name](v), setup) for v in good)
    rating = setup.controller.continuous_current_a.value
    larger = [a for a in CONTROLLERS_A if a > rating]
    yield tuple(typed("controller.continuous_current", float(a), setup) for a in larger)
    if wall_of(setup) is not None:
        yield (typed("controller.max_cells", cells, setup),)


def belong_together(one: str, other: str) -> bool:
    """Whether two changes, of these parts, are ones that racers make together: more of one thing for less of another.

    Common practice, no source: a cell or KV more goes with a smaller propeller, a larger controller with what needs it.
    """
    return {one, other} in _TOGETHER


_TOGETHER: Final = (
    {"pack", "propeller"}, {"motor", "propeller"}, {"controller", "propeller"}, {"controller", "pack"},
    {"controller", "motor"},
)  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Trial:
    """What a setup does through a duty: speed, current, peak of the case, chance of passing any limit, sound, verdict.

    Parameters
    ----------
    use : of the limit of the drive that is used most, by the likeliest drive [1].
    at_risk : use of every limit, then of every ceiling, that the band passes with the chance that is taken [1]; shape
        (K + 7,), 0 where there is no such limit.
    heat_doubts : of every ceiling, use at risk over the likeliest use [1].
    run_s : full throttle until the usable charge is used [s].
    sound_w : at full throttle, by the law [W].
    walled : past what a part's sheet forbids: never to be proposed.
    burnt_s : instant at which a winding burns or solder melts [s]; NaN where none does.
    """

    speed_mps: float
    current_a: float
    run_s: float
    case_c: float
    use: float
    at_risk: tuple[float, ...]
    heat_doubts: tuple[float, ...]
    chance: float
    verdict: Verdict
    sound_w: float
    walled: bool
    burnt_s: float

    @property
    def burns(self) -> bool:
        """Whether a winding or a plug does not live through the duty."""
        return math.isfinite(self.burnt_s)

    @property
    def holds(self) -> bool:
        """Whether every limit holds."""
        return self.verdict is Verdict.HOLDS

    @property
    def tightest(self) -> LimitKey | Node:
        """The limit, or the place, that is used most."""
        return PLACES[int(np.argmax(self.at_risk))]

    @property
    def over(self) -> float:
        """By how much all limits are passed together [1]; 0 where all hold."""
        return sum(max(use - 1.0, 0.0) for use in self.at_risk)


PLACES: Final[tuple[LimitKey | Node, ...]] = (*KEYS, *HEAT_NODES)
"""All that is held against a limit: loads of the drive, then temperatures."""


@lru_cache(maxsize=256)  # a page that is opened again asks for the same ones, some fifty of them
def trial(setup: Setup, duty: Duty, schools: Schools, cooling: CoolingTable | None, like: Trial | None = None) -> Trial:
    """A setup tried: its forecast, and its heat through a duty, each with the band that their pages show.

    Parameters
    ----------
    like : a trial of a setup near this one; what is far below all ceilings by its doubts is driven without a band.
    """
    f = forecast(setup, schools=schools, explained=False, drawn=False)
    heat, run = heat_tried(setup, duty, schools, cooling, like.heat_doubts if like else None)
    drive = {m.key: m.at_risk for m in f.margins}
    return Trial(
        speed_mps=float(f.point.speed_mps),
        current_a=float(f.point.current_a),
        run_s=float(f.point.endurance_s),
        case_c=heat.limits[HEAT_NODES.index(Node.CASE)].peak_c,
        use=max((m.use for m in f.margins), default=math.inf),
        at_risk=(*(drive.get(key, 0.0) for key in KEYS), *(limit.at_risk for limit in heat.limits)),
        heat_doubts=tuple(limit.at_risk / max(limit.use, 0.01) for limit in heat.limits),
        chance=max(f.chance, heat.chance),
        verdict=held(worst([f.verdict, heat.verdict]), max(f.chance, heat.chance), schools.risk),
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
    hotter = abs(then.case_c - now.case_c) > NOTICED_K or abs(max(then.at_risk) - max(now.at_risk)) > NOTICED_USE
    return faster or hotter or then.verdict is not now.verdict


def wanted_first(now: Trial, *, was_hot: bool = False) -> Intent:
    """What comes first unasked: back within limits where one is passed or a reading was hot, else faster."""
    return Intent.FASTER if now.holds and not was_hot else Intent.WITHIN


def place(now: Trial, then: Trial, intent: Intent, made: float, hot: Node | None = None) -> tuple[int, float]:
    """Place of a change in the ranking of an intent, smallest first: what it is, then what it brings for its price.

    What burns comes last of all, whatever it gains: the case of a motor that died early stays cool. A drive that has to
    be stopped comes before that; then what does not serve the intent.

    Parameters
    ----------
    made : what it costs to make, a part of the speed; see ``effort``.
    hot : the place that the last run read above its ceiling: that is what has to become cooler.
    """
    gain = then.speed_mps / now.speed_mps - 1.0
    if then.burns:
        return 9, then.over
    match intent:
        case Intent.WITHIN:
            return _place_within(now, then, made - gain, hot)
        case Intent.FASTER:
            return _place_faster(now, then, gain, made)
        case Intent.LONGER:
            longer = math.log(then.run_s / now.run_s)
            serves = longer > 0.0 and _no_worse(now, then)
            return (0 if serves else 8 if then.verdict is Verdict.STOP else 5), made - gain - 0.5 * longer


def _no_worse(now: Trial, then: Trial) -> bool:
    """Whether every limit holds, or what is passed is passed by less."""
    return then.holds or then.over < now.over


def _place_within(now: Trial, then: Trial, price: float, hot: Node | None) -> tuple[int, float]:
    """Least lost until all holds; where nothing does, by how far it leads back."""
    at = PLACES.index(now.tightest if hot is None else hot)
    relief = now.at_risk[at] - then.at_risk[at]
    if then.holds and relief > 0.0:
        # Where all holds already, cooler is what is wanted.
        return 0, price - (relief if now.holds else 0.0)
    if relief > 0.0 and then.over < now.over:
        return 1, then.over + price
    return (8 if then.verdict is Verdict.STOP else 5), then.over + price


def _place_faster(now: Trial, then: Trial, gain: float, made: float) -> tuple[int, float]:
    """Most gained within limits; then what is past one by little; then what is slower."""
    if gain > 0.0 and then.holds:
        return 0, made - gain
    if gain > 0.0 and then.verdict is Verdict.SHORT and then.chance < 0.5:
        return 2, then.over + made - gain
    if gain <= 0.0 and _no_worse(now, then):
        return 4, -gain
    return (8 if then.verdict is Verdict.STOP else 6), then.over + made - gain


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice(Fact):
    """What is to be said above a list of changes.

    Parameters
    ----------
    tightest : what is passed now, or most used; ``hot`` the place that the last run read above its ceiling.
    chance : of passing any limit now.
    holds : whether all limits hold now.
    served : whether the first of the list does what is wanted, within all limits.
    """

    intent: Intent
    tightest: LimitKey | Node
    hot: Node | None
    chance: float
    holds: bool
    served: bool


def advice(now: Trial, first: Trial | None, intent: Intent, hot: Node | None = None) -> Advice:
    """What is to be said above the changes of an intent, of which the first is this one."""
    served = first is not None and first.holds and place(now, first, intent, 0.0, hot)[0] == 0
    return Advice(
        intent=intent, tightest=now.tightest, hot=hot, chance=now.chance, holds=now.holds, served=served
    )  # fmt: skip
