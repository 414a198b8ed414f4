"""The numbers that a drive is solved with, each with its spread, and as rows for the kernels."""

import dataclasses
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Final, TypeAlias

import numpy as np
import numpy.typing as npt

from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.value import Array, Value
from kunstflug.core.setup.knowledge import TOGETHER, KnownNumbers

Rows: TypeAlias = npt.NDArray[np.void]
"""Drives as a structured array, one field for each of :class:`DriveValues`; see ``ROW``."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveValues:
    """What the operating point needs, each a :class:`Value`."""

    pack_ocv_v: Value
    pack_resistance_ohm: Value
    wiring_resistance_ohm: Value
    controller_resistance_ohm: Value
    bus_limit_a: Value  # infinite where none is set
    phase_limit_a: Value
    kv_rpm_per_v: Value  # as printed
    kv_factor: Value  # effective over printed KV: timing, hot magnets
    winding_resistance_ohm: Value  # at 20 degC
    winding_c: Value
    no_load_current_a: Value
    no_load_rpm: Value
    shaft_efficiency: Value
    diameter_m: Value
    pitch_m: Value
    pitch_factor: Value  # effective over given pitch
    blade_area: Value  # blade area ratio that the force goes with when ventilated, else 1
    immersion: Value  # immersed part of the turn on the plane
    rise_froude: Value  # volume Froude number over which it comes up
    blade_friction: Value
    water_at_rest: Value  # part of water that the blades work in when held
    thrust_part: Value  # of the blades' push, by rake
    torque_part: Value  # of the blades' torque, by cup
    propeller_losses: Value  # power the propeller really loses over what is computed, when all else is known
    lift_ratio: Value  # the propeller's lift over its thrust
    mass_kg: Value
    planing_drag_ratio: Value  # before the stern is lifted
    hump_drag_ratio: Value
    wetted_factor: Value  # of the hull that runs wet
    wetted_exponent: Value
    appendage_area_m2: Value
    air_drag_area_m2: Value
    air_lift_area_m2: Value
    headwind_mps: Value
    water_kg_m3: Value
    air_kg_m3: Value
    cells: Value  # in series
    weak_cell: Value  # sag of the weaker pack's cells over the mean
    poles: Value
    pack_ah: Value  # charge of the weaker pack
    discrepancy: Value  # of the real resistance over the computed one, when all else is known
    pressure_share: Value  # part of the planing drag that is pressure
    trims_freely: Value  # 1 where a lift at the stern turns the bow down, 0 where the trim was measured
    full_throttle: Value  # part of the voltage that full stick gives

    def __iter__(self) -> Iterator[tuple[str, Value]]:
        return ((name, getattr(self, name)) for name in NAMES)

    def rows(self, samples: int = 0, seed: int = 0, known: KnownNumbers | None = None) -> Rows:
        """The nominal drive, then draws of all uncertain parameters; shape (1 + samples,).

        Log-normal about the nominal value with each Value's spread, independent but for ``TOGETHER``; together as they
        were learnt where runs taught. The same seed gives the same draws, and one guess less moves no other.
        """
        rows = np.empty(1 + samples, ROW)
        z = _deviates(samples, seed)
        learnt = known.draws(samples, seed) if known and samples else {}
        for k, (name, value) in enumerate(self):
            rows[name] = value.value
            if value.spread and samples:
                rows[name][1:] *= np.exp(learnt.get(name, value.spread * z[k]))
        return rows


NAMES: Final = tuple(field.name for field in dataclasses.fields(DriveValues))
ROW: Final = np.dtype([(name, np.float64) for name in NAMES])


@lru_cache(maxsize=16)  # the same draws are asked for at every step of a slider
def _deviates(count: int, seed: int) -> Array:
    """Standard normal deviates of all fields, shape (fields, count), those of ``TOGETHER`` correlated."""
    z = even_deviates(len(NAMES), count, seed)
    for first, second, rho in TOGETHER:
        a, b = NAMES.index(first), NAMES.index(second)
        z[b] = rho * z[a] + np.sqrt(1.0 - rho**2) * z[b]
    z.flags.writeable = False
    return z
