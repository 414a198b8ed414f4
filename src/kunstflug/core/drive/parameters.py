"""The numbers a drive is solved with, each with its source and spread."""

import dataclasses
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core import controller, hull, motor, pack, wiring
from kunstflug.core.drive.draws import even_deviates
from kunstflug.core.drive.setup import Setup
from kunstflug.core.propeller import part as propeller
from kunstflug.core.values import Floats, Source, Value, guess
from kunstflug.core.water import air_density_kg_m3, water_density_kg_m3


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveParameters:
    """What the operating point needs; every field a float, or arrays that broadcast together."""

    pack_ocv_v: Floats
    pack_resistance_ohm: Floats
    wiring_resistance_ohm: Floats
    controller_resistance_ohm: Floats
    bus_limit_a: Floats  # infinite where none is set
    phase_limit_a: Floats
    kv_rpm_per_v: Floats  # as printed
    kv_factor: Floats  # effective over printed KV: timing, hot magnets
    winding_resistance_ohm: Floats  # at 20 degC
    winding_c: Floats
    no_load_current_a: Floats
    no_load_rpm: Floats
    shaft_efficiency: Floats
    diameter_m: Floats
    pitch_m: Floats
    pitch_factor: Floats  # effective over nominal pitch
    blade_area: Floats  # blade area ratio when ventilated, else 1
    immersion: Floats  # immersed part of the turn on the plane
    blade_friction: Floats
    lift_ratio: Floats  # the propeller's lift over its thrust
    mass_kg: Floats
    planing_drag_ratio: Floats
    hump_drag_ratio: Floats
    appendage_area_m2: Floats
    air_drag_area_m2: Floats
    headwind_mps: Floats
    water_kg_m3: Floats
    air_kg_m3: Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveValues:
    """The same fields as :class:`DriveParameters`, each a :class:`Value`."""

    pack_ocv_v: Value
    pack_resistance_ohm: Value
    wiring_resistance_ohm: Value
    controller_resistance_ohm: Value
    bus_limit_a: Value
    phase_limit_a: Value
    kv_rpm_per_v: Value
    kv_factor: Value
    winding_resistance_ohm: Value
    winding_c: Value
    no_load_current_a: Value
    no_load_rpm: Value
    shaft_efficiency: Value
    diameter_m: Value
    pitch_m: Value
    pitch_factor: Value
    blade_area: Value
    immersion: Value
    blade_friction: Value
    lift_ratio: Value
    mass_kg: Value
    planing_drag_ratio: Value
    hump_drag_ratio: Value
    appendage_area_m2: Value
    air_drag_area_m2: Value
    headwind_mps: Value
    water_kg_m3: Value
    air_kg_m3: Value

    def __iter__(self):  # type: ignore[no-untyped-def]  # an iterator over (name, Value), spelt by dataclasses
        return ((field.name, getattr(self, field.name)) for field in dataclasses.fields(self))

    def nominal(self) -> DriveParameters:
        """Every parameter at its nominal value."""
        return DriveParameters(**{name: value.value for name, value in self})

    def sampled(self, count: int, seed: int) -> DriveParameters:
        """``count`` draws of all uncertain parameters as arrays of shape (count, 1).

        Log-normal about the nominal value with each Value's spread, independent but for ``TOGETHER``; a parameter
        taken as exact stays a float. The same seed gives the same draws.
        """
        # Drawn for every field, so that one guess less moves no other.
        z = _deviates(count, seed)
        drawn: dict[str, Floats] = {}
        for k, (name, value) in enumerate(self):
            drawn[name] = value.value * np.exp(value.spread * z[k]) if value.spread else value.value
        return DriveParameters(**drawn)


TOGETHER: Final = (
    ("winding_resistance_ohm", "no_load_current_a", -0.4),
    ("planing_drag_ratio", "hump_drag_ratio", 0.5),
    ("appendage_area_m2", "air_drag_area_m2", 0.3),
)
"""Guesses that err together, with their correlation (common practice, no source): a motor with more copper has the
larger iron, what runs wet at speed runs wet at the hump, a boat with much hardware below has much above."""


@lru_cache(maxsize=16)  # the same draws are asked for at every step of a slider
def _deviates(count: int, seed: int) -> npt.NDArray[np.float64]:
    """Standard normal deviates of all fields, shape (fields, count, 1), those of ``TOGETHER`` correlated."""
    names = [field.name for field in dataclasses.fields(DriveValues)]
    z = even_deviates(len(names), count, seed)[:, :, np.newaxis]
    for first, second, rho in TOGETHER:
        a, b = names.index(first), names.index(second)
        z[b] = rho * z[a] + np.sqrt(1.0 - rho**2) * z[b]
    z.flags.writeable = False
    return z


def _shaft_efficiency(setup: Setup) -> Value:
    """Shaft and bearings; what shakes rubs (both common practice, no source)."""
    if setup.propeller.condition in propeller.SHAKES:
        return guess(0.96, 0.015, "a greased shaft that a propeller out of balance shakes")
    return guess(0.97, 0.01, "a greased flex or straight shaft")


def _scaled(value: Value, factor: float) -> Value:
    return dataclasses.replace(value, value=value.value * factor)


def _magnets_c(setup: Setup) -> float:
    """Temperature of the magnets where the forecast is made [degC]: between the air and the winding. Over passes of
    seconds a rotor follows slowly, so the same 0.3 is taken as between case and winding."""
    air, winding = setup.conditions.air_c.value, setup.conditions.winding_c.value
    return air + 0.3 * (winding - air)


def drive_values(setup: Setup) -> DriveValues:
    """All parameters of a setup: what was given, and a marked guess for the rest."""
    conditions = setup.conditions
    submerged = setup.hull.drive is not hull.Drive.SURFACE  # or a jet: all of the impeller works
    cells = pack.series_cells(setup.pack)
    cold = float(pack.cold_factor(conditions.pack_c.value)) if conditions.pack_c else 1.0
    ocv = Value(
        value=float(pack.cell_ocv_v(conditions.state_of_charge.value)) * cells,
        source=conditions.state_of_charge.source,
        spread=0.008,  # 20 to 30 mV a cell between one LiPo and the next, and the charge at the pass
        reason="open-circuit voltage at the charge of the pass",
    )
    wetted = Value(value=1.0, source=Source.GUESSED, spread=0.10 if setup.hull.drive is hull.Drive.JET else 0.05)
    timing, idling = controller.timing_factors(setup.controller)
    hot = motor.magnet_factor(_magnets_c(setup))
    stirred = setup.conditions.winding_c.value
    kv_factor = guess(
        timing.value * float(hot), max(timing.spread, 0.01), f"magnets with a winding of {stirred:.0f} °C"
    )
    if timing.reason:
        kv_factor = dataclasses.replace(kv_factor, reason=f"{kv_factor.reason}, {timing.reason}")
    no_load = _scaled(motor.no_load_current(setup.motor), idling.value)
    no_load_v = setup.motor.no_load_voltage_v.value if setup.motor.no_load_voltage_v else cells * pack.NOMINAL_CELL_V
    return DriveValues(
        pack_ocv_v=ocv,
        pack_resistance_ohm=_scaled(pack.resistance(setup.pack), cold),
        wiring_resistance_ohm=wiring.wiring_resistance(setup.wiring),
        controller_resistance_ohm=controller.conduction_resistance(setup.controller),
        bus_limit_a=setup.controller.bus_limit_a or Value(value=float("inf")),
        phase_limit_a=setup.controller.phase_limit_a or Value(value=float("inf")),
        kv_factor=kv_factor,
        kv_rpm_per_v=dataclasses.replace(setup.motor.kv_rpm_per_v, spread=max(setup.motor.kv_rpm_per_v.spread, 0.02)),
        winding_resistance_ohm=motor.winding_resistance(setup.motor),
        winding_c=conditions.winding_c,
        no_load_current_a=no_load,
        no_load_rpm=Value(value=setup.motor.kv_rpm_per_v.value * no_load_v),
        shaft_efficiency=_shaft_efficiency(setup),
        diameter_m=setup.propeller.diameter_m,
        pitch_m=propeller.pitch(setup.propeller),
        pitch_factor=propeller.pitch_factor(setup.propeller),
        blade_area=wetted if submerged else propeller.area_ratio(setup.propeller),
        immersion=propeller.immersion(setup.propeller, submerged),
        # The B-series has its own friction in it.
        blade_friction=Value(value=0.0) if submerged else propeller.edge_friction(setup.propeller),
        lift_ratio=propeller.lift_ratio(setup.propeller),
        mass_kg=setup.all_up_mass_kg,
        planing_drag_ratio=hull.planing_drag(setup.hull),
        hump_drag_ratio=hull.hump_drag(setup.hull),
        appendage_area_m2=hull.appendage_area(setup.hull),
        air_drag_area_m2=hull.air_drag_area(setup.hull),
        headwind_mps=conditions.headwind_mps,
        water_kg_m3=Value(value=float(water_density_kg_m3(conditions.water_c.value))),
        air_kg_m3=Value(value=float(air_density_kg_m3(conditions.air_c.value))),
    )
