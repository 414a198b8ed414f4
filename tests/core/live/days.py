"""Days on the simulated pond with somebody who does as is said: said before the limit, or said in vain?"""

import dataclasses
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from tests import samples
from tests.samples import q

from kunstflug.core.drive.schools import USUAL
from kunstflug.core.live.watch import Call, Sample, Watch
from kunstflug.core.quantity.value import Value
from kunstflug.core.thermal.heat_forecast import ceilings
from kunstflug.core.thermal.nodes import Node
from kunstflug.pond.live import LivePond
from kunstflug.pond.world import Fault

PLANNED = 4
BREAKS_S = 30.0  # of those that break on the way


def _spikes(time_s: float, celsius: float, rng: np.random.Generator) -> float:
    return float(rng.uniform(-20, 150)) if rng.random() < 0.02 else celsius


BROKEN: dict[str, Callable[[float, float, np.random.Generator], float]] = {
    "stuck from the start": lambda t, c, rng: 19.0,
    "stuck on the way": lambda t, c, rng: c if t < BREAKS_S else 33.0,
    "unplugged, reads 0": lambda t, c, rng: 0.0,
    "unplugged on the way, reads -40": lambda t, c, rng: c if t < BREAKS_S else -40.0,
    "open on the way, reads 150": lambda t, c, rng: c if t < BREAKS_S else 150.0,
    "in degF": lambda t, c, rng: 1.8 * c + 32.0,
    "spikes": _spikes,
    "came off, half the rise": lambda t, c, rng: c if t < BREAKS_S else 0.4 * c + 0.6 * 15.0,
}
"""What a taped-on sensor says instead of the truth [degC], by the time and the truth."""
CLEAR_K, CLEAR_USE = 5.0, 0.65  # a day is good that stays so far below every ceiling, and uses no more of the charge
PLACES = (Node.CASE, Node.CONTROLLER, Node.PACK, Node.CONNECTOR)  # what the pond's boats have
BOATS = (
    {},
    {"hull": {"hull_type": "catamaran", "length": q(750, "mm")}, "pack__cells": 6, "motor__kv": q(1650, "rpm/V"),
     "propeller": {"diameter": q(45, "mm"), "pitch_ratio": q(1.4, "1")}, "all_up_mass": q(3120, "g"),
     "controller": {"continuous_current": q(180, "A")}},
    {"hull": {"hull_type": "outrigger", "length": q(550, "mm")}, "motor__kv": q(3100, "rpm/V"),
     "propeller": {"diameter": q(35, "mm"), "pitch_ratio": q(1.4, "1")}, "all_up_mass": q(1080, "g"),
     "controller": {"continuous_current": q(90, "A")}},
)  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """One day.

    Parameters
    ----------
    at_pass : passes done when it was told to come in; None where it never was.
    over : the largest rise over its ceiling of any place, of the whole day [K]; negative is below.
    over_then : the same until it was told to come in.
    """

    at_pass: int | None
    over: float
    over_then: float
    used: float
    why: str = ""
    hottest: str = ""


def the_day(
    seed: int, faults: tuple[Fault, ...], *, heeds: bool = True, passes: int = 14, sensor: bool = True, broken: str = ""
) -> Told:
    """A boat, a day, and its driver."""
    rng = np.random.default_rng((seed, 77))
    setup = samples.setup(**BOATS[seed % len(BOATS)])
    water, air = float(rng.uniform(6, 26)), float(rng.uniform(8, 32))
    conditions = dataclasses.replace(
        setup.conditions, water_c=Value(value=water), air_c=Value(value=air), state_of_charge=Value(value=0.98)
    )
    setup = dataclasses.replace(setup, conditions=conditions)
    pass_s, cool_s = float(rng.uniform(4, 12)), float(rng.uniform(10, 35))
    pond = LivePond(setup, 4000 + seed, faults, passes=passes, pass_s=pass_s, cool_s=cool_s)
    watch = Watch(setup, planned_s=pass_s, places=PLACES)
    limits = {c.node: c.holds_c for c in ceilings(USUAL, setup)}
    at = np.array([limits[node] for node in PLACES])
    told, over, over_then, used = None, -np.inf, -np.inf, 0.0
    why, hottest = "", ""
    for r in pond.drive():
        case_c = BROKEN[broken](r.time_s, r.case_c, rng) if broken else r.case_c
        watch.feed(
            Sample(
                time_s=r.time_s, speed_mps=r.speed_mps, bus_a=r.bus_a, voltage_v=r.voltage_v, rpm=r.rpm,
                throttle=r.throttle, controller_c=r.controller_c, case_c=case_c if sensor else None,
            )
        )  # fmt: skip
        above = np.array(r.true_c) - at
        if float(np.max(above)) > over:
            over, hottest = float(np.max(above)), PLACES[int(np.argmax(above))].value
        used = r.true_ah
        state = watch.state()
        if told is None:
            over_then = over
            if state.advice is Call.COME_IN:
                told, why = r.passes, f"{state.because} {state.place}"
        if heeds:
            pond.told_in = pond.told_in or state.advice is Call.COME_IN
            pond.told_lift = state.advice is Call.LIFT
            pond.told_cool_s = state.seconds if state.advice is Call.COOL_DOWN else 0.0
    capacity = setup.pack.capacity_ah.value * setup.pack.parallel
    return Told(at_pass=told, over=over, over_then=over_then, used=used / capacity, why=why, hottest=hottest)


FAULTS = ((Fault.CAP,), (Fault.WEED,), (Fault.WEAK_CELL,), (Fault.NICKED,), (Fault.CAP, Fault.WEED))


def in_time(day: int, sensor: bool = True, broken: str = "") -> bool:
    """Whether no place passed its ceiling on a faulty day before it was told to come in."""
    return the_day(day, FAULTS[day % len(FAULTS)], sensor=sensor, broken=broken).over_then <= 0.0


def in_vain(day: int, sensor: bool = True, broken: str = "") -> bool | None:
    """Whether it was told to come in on a good day; None for a day that was none."""
    whole = the_day(10_000 + day, (), heeds=False, passes=PLANNED, sensor=sensor, broken=broken)
    if whole.over > -CLEAR_K or whole.used > CLEAR_USE:
        return None
    return whole.at_pass is not None and whole.at_pass < PLANNED


def judged(
    days: int, *, sensor: bool = True, broken: str = "", each: Callable[..., Iterable[Any]] = map
) -> tuple[float, float, int, int]:
    """Of faulty days, in how many no place passed its ceiling before it was told; of good ones, told in vain.

    Parameters
    ----------
    each : how a function is done for each day, where several may go at once.
    """
    before = list(each(partial(in_time, sensor=sensor, broken=broken), range(days)))
    vain = [one for one in each(partial(in_vain, sensor=sensor, broken=broken), range(days)) if one is not None]
    return float(np.mean(before)), float(np.mean(vain)) if vain else 0.0, len(before), len(vain)
