"""Packs that age by laws of their own: straight, with a knee, by a square root with a hard day; as racers read them.

The third world was written before the estimator was run on any and looked at once; then two spreads were changed, and
the fourth was written and looked at once.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kunstflug.core.bench.pack_life import PackRun, Quantity
from kunstflug.core.bench.pack_readings import capacity_read, resistance_typed, state_of_charge
from kunstflug.core.laws.cell import cell_ocv_v
from kunstflug.core.laws.electric import cold_factor
from kunstflug.core.parts.pack import Pack, resistance, usable_ah
from kunstflug.core.quantity.value import exact

Rng = np.random.Generator
Law = Callable[[int], float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Aged:
    """One pack: what its runs said, and what was true after the last of them, over a new one."""

    runs: list[PackRun]
    resistance: float
    capacity: float
    first_resistance: float


def aged(world: str, seed: int) -> Aged:
    """One pack of a world."""
    rng = np.random.default_rng(seed)
    new = Pack(
        cells=int(rng.integers(2, 13)), capacity_ah=exact(rng.uniform(2.0, 8.0)), c_rating=exact(rng.uniform(30, 90))
    )
    count = int(rng.integers(4, 160))
    as_built = math.exp(rng.normal(0.0, 0.3)), rng.uniform(0.93, 1.03)
    rise, loss = _law(world, rng)
    shifted_v = rng.normal(0.0, 0.012)  # of this cell's curve from the usual one
    runs, true = [], (1.0, 1.0)
    for number in range(1, count + 1):
        true = as_built[0] * rise(number), as_built[1] * loss(number)
        runs.append(_read(new, number, true, shifted_v, rng))
    return Aged(runs=runs, resistance=true[0], capacity=true[1], first_resistance=as_built[0] * rise(1))


def _law(world: str, rng: Rng) -> tuple[Law, Law]:
    life = rng.uniform(80.0, 500.0)
    if world == "first":  # straight
        return (lambda n: 1.0 + n / life), (lambda n: 1.0 - 0.2 * n / life)
    if world == "second":  # slow, then a knee
        return (
            lambda n: 1.0 + 0.4 * n / life + math.exp((n / life - 1.0) * 6.0),
            lambda n: max(1.0 - 0.08 * n / life - 0.12 * (n / life) ** 6, 0.4),
        )
    if world == "fourth":  # by the exponential, with a winter of lying full after which it goes faster
        winter = rng.uniform(0.3, 0.8) * life
        return (
            lambda n: math.exp(0.6 * n / life) * (1.12 + 0.4 * (n - winter) / life if n > winter else 1.0),
            lambda n: math.exp(-0.15 * n / life) - (0.05 + 0.1 * (n - winter) / life if n > winter else 0.0),
        )
    # by the square root, with one hard day that takes a tenth at once
    day = rng.uniform(0.2, 0.9) * life
    hurt = rng.uniform() < 0.5
    return (
        lambda n: (1.0 + 0.8 * math.sqrt(n / life)) * (1.15 if hurt and n > day else 1.0),
        lambda n: (1.0 - 0.17 * math.sqrt(n / life)) * (0.93 if hurt and n > day else 1.0),
    )


def _read(new: Pack, number: int, true: tuple[float, float], shifted_v: float, rng: Rng) -> PackRun:
    """What a racer writes down, not in every run, and once in thirty wrong."""
    ratio = {}
    capacity, cells = usable_ah(new) * true[1], new.cells
    used = rng.uniform(0.3, 0.8)
    rest_v = float(cell_ocv_v(1.0 - used)) + shifted_v + rng.normal(0.0, 0.008)
    if rng.uniform() < 0.5:
        back = used * capacity * math.exp(rng.normal(0.0, 0.015)) * (0.1 if rng.uniform() < 0.03 else 1.0)
        ratio[Quantity.CAPACITY] = capacity_read(new, back, (1.0, 0.01), state_of_charge(rest_v))
    if rng.uniform() < 0.6:
        amps, warm = rng.uniform(15.0, 40.0) * usable_ah(new), rng.normal(42.0, 5.0)
        ohm = resistance(new).value * true[0] * float(cold_factor(warm))
        soc = 1.0 - used * rng.uniform(0.3, 0.6)
        volts = cells * (float(cell_ocv_v(soc)) + shifted_v) - ohm * amps
        volts, amps = volts * math.exp(rng.normal(0, 0.005)), amps * math.exp(rng.normal(0, 0.05))
        read = resistance_typed(new, volts, amps, (1.0 - used / 2.0, used / 4.0), (42.0, 5.0))
        if read is not None:
            ratio[Quantity.RESISTANCE] = read
    return PackRun(number=number, ratio={k: v for k, v in ratio.items() if v is not None})
