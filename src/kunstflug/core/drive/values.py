"""The numbers a drive is solved with, each with its source and spread; as rows for the kernels, drawn or varied."""

import dataclasses
import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Final, TypeAlias

import numpy as np
import numpy.typing as npt

from kunstflug.core.laws.blade import immersion_of_depth
from kunstflug.core.laws.cell import NOMINAL_CELL_V, cell_ocv_v
from kunstflug.core.laws.electric import COLD_PER_K, cold_factor, commutation_ohm, magnet_factor
from kunstflug.core.laws.water import air_density_kg_m3, water_density_kg_m3, water_viscosity_pa_s
from kunstflug.core.parts import conditions as conditions_of
from kunstflug.core.parts import controller, hull, motor, pack, wiring
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.propeller.seam import REFERENCE_TURNS
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import Part
from kunstflug.core.quantity.last import of_the_last
from kunstflug.core.quantity.value import Array, Floats, Value, exact, guess, honest, known, scaled
from kunstflug.core.setup.knowledge import OWNER, TOGETHER, Aboard, Knowledge, Known, Owner
from kunstflug.core.setup.setup import LIGHTEST_KG, Setup, centre_of_mass, centre_with, wire_gauge

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

    def rows(self, samples: int = 0, seed: int = 0, known: Known | None = None) -> Rows:
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


@dataclass(frozen=True, slots=True, kw_only=True)
class GreasedShaft(Fact):
    """A greased flex or straight shaft; one that a propeller out of balance shakes loses more."""

    shaken: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargeOfPass(Fact):
    """The voltage at rest for the charge of the pass."""

    state_of_charge: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WarmMagnets(Fact):
    """Magnets with a winding of a temperature, and a timing that is set."""

    winding_c: float
    timing: controller.TimingShift | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ModelItself(Fact):
    """The model's own error, beside those of the numbers it is given."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RatedVoltage(Fact):
    """The rpm at which a no-load current counts: KV times the voltage it is taken to be printed for."""

    voltage_v: float


DISCREPANCY: Final = 0.06  # some 3 % of speed (common practice, no source)
LOSSES_ERROR: Final = 0.25  # of what a propeller loses, some 9 % of the current (common practice, no source)
# Of a printed or typed number, one standard deviation of its logarithm (common practice, no source).
PRINTED_KV: Final = 0.025
PRINTED_DIAMETER: Final = 0.01
PRINTED_CAPACITY: Final = 0.05
SCALE: Final = 0.005  # a kitchen scale
OCV_SPREAD: Final = 0.008  # 20 to 30 mV a cell between one LiPo and the next, and the charge at the pass
MOTOR_SIZES_MM: Final = (24.0, 30.0, 37.0, 42.0, 50.0)
"""Can diameters between which motors are of one size to a club (common practice, no source)."""
MAGNET_LAG: Final = 0.3  # of the way from air to winding; over passes of seconds a rotor follows slowly


def _shaft_efficiency(setup: Setup) -> Value:
    """Shaft and bearings; what shakes rubs (both common practice, no source)."""
    shaken = setup.propeller.condition in propellers.SHAKES
    return guess(0.96 if shaken else 0.97, 0.015 if shaken else 0.01, GreasedShaft(shaken=shaken))


def _kv_factor(setup: Setup, timing: controller.TimingEffect) -> Value:
    """Effective over printed KV [1]: magnets between air and winding, and the timing."""
    air, winding = setup.conditions.air_c.value, setup.conditions.winding_c.value
    hot = float(magnet_factor(air + MAGNET_LAG * (winding - air)))
    why = timing.kv.reason
    set_timing = why if isinstance(why, controller.TimingShift) else None
    reason = WarmMagnets(winding_c=winding, timing=set_timing)
    return guess(timing.kv.value * hot, max(timing.kv.spread, 0.01), reason)


def _commutation_ohm(setup: Setup, kv_rpm_per_v: float) -> float:
    """Of the motor as it is, at the speed it turns when loaded [ohm]."""
    pairs = motor.pole_count(setup.motor) / 2
    return float(commutation_ohm(motor.inductance_h(setup.motor), pairs, kv_rpm_per_v, REFERENCE_TURNS))


def _at_temperature(resistance: Value, warm: Value) -> Value:
    """A pack's resistance with what its temperature leaves open."""
    open_ = COLD_PER_K * warm.spread * warm.value
    return dataclasses.replace(resistance, spread=math.hypot(resistance.spread, open_))


def _usual_rps(kv_rpm_per_v: Floats, ocv_v: Floats) -> Floats:
    """Turns on the plane [1/s] by which a blade's Reynolds number is taken: loaded over free, as racers find it."""
    return REFERENCE_TURNS * kv_rpm_per_v * ocv_v / 60


def _viscosity_m2_s(setup: Setup) -> float:
    water_c = setup.conditions.water_c.value
    return float(water_viscosity_pa_s(water_c) / water_density_kg_m3(water_c))


def _friction(setup: Setup, ocv_v: float) -> Value:
    rps = float(_usual_rps(setup.motor.kv_rpm_per_v.value, ocv_v))
    return propellers.friction(setup.propeller, rps, _viscosity_m2_s(setup))


def no_load_voltage_v(setup: Setup, cells: Floats) -> Floats:
    """Voltage at which the no-load current counts [V]: as printed, else the pack's nominal one."""
    given = setup.motor.no_load_voltage_v
    return given.value + 0.0 * cells if given else cells * NOMINAL_CELL_V


@of_the_last
def drive_values(setup: Setup) -> DriveValues:
    """All parameters of a setup: what was learnt, what was given, and a marked guess for the rest."""
    bought, known = as_bought(setup), known_of(setup)
    if known is None:
        return bought
    return DriveValues(**{name: known.of(name, value) for name, value in bought})


def parts_of(setup: Setup) -> dict[Owner, Part]:
    """The parts of a setup that can go into another boat, by what stays when they wear.

    A propeller with a nick is the one that ran before: what was learnt of its pitch holds on.
    """
    return {
        Owner.MOTOR: setup.motor,
        Owner.CONTROLLER: setup.controller,
        Owner.PACK: setup.pack,
        Owner.PROPELLER: dataclasses.replace(setup.propeller, condition=propellers.Condition.AS_CAST),
    }


def features_of(free_rpm: Floats, pitch_m: Floats, diameter_m: Floats, mass_kg: Floats) -> Array:
    """What makes two setups of a boat alike, shape (..., 4)."""
    found: Array = np.log(np.stack(np.broadcast_arrays(free_rpm, pitch_m, diameter_m, mass_kg), axis=-1))
    return found


def features(setup: Setup) -> Array:
    """What makes a setup like others of its boat, shape (4,)."""
    series = pack.series_cells(setup.pack)
    ocv = float(cell_ocv_v(setup.conditions.state_of_charge.value)) * series
    wheel = setup.propeller
    return features_of(
        setup.motor.kv_rpm_per_v.value * ocv,
        propellers.pitch(wheel).value,
        wheel.diameter_m.value,
        setup.all_up_mass_kg.value,
    )


def families_of(setup: Setup) -> dict[Owner, str]:
    """What kind of thing each is, as a club pools them: hull type, motor size, propeller family.

    None of them goes with what a sweep changes: another winding, diameter or pitch is of the same family.
    """
    diameter_mm = 1e3 * setup.motor.can_diameter_m.value
    size = sum(diameter_mm > bound for bound in MOTOR_SIZES_MM)
    return {
        Owner.HULL: f"hull/{setup.hull.hull_type}",
        Owner.MOTOR: f"motor/{setup.motor.kind}/{size}",
        Owner.CONTROLLER: "controller",
        Owner.PACK: "pack",
        Owner.PROPELLER: f"propeller/{setup.hull.drive}/{setup.propeller.blades}",
        Owner.MODEL: f"hull/{setup.hull.hull_type}",
    }


def taught_by_racers(setup: Setup) -> int:
    """How many racers of a club taught what is known of a setup's families; 0 where no club knows any."""
    club = None if setup.knowledge is None else setup.knowledge.latents.club
    return 0 if club is None else max((club.racers.get(f, 0) for f in families_of(setup).values()), default=0)


@of_the_last
def known_of(setup: Setup) -> Known | None:
    """What is known of a setup's numbers; None for a setup as bought."""
    return known_with(setup, ())


def known_with(setup: Setup, more: Iterable[tuple[str, Value]]) -> Known | None:
    """The same; a club's knowledge, which is in spreads, asks for those of numbers beside the drive's, too."""
    return None if setup.knowledge is None else setup.knowledge.at(_aboard(setup, setup.knowledge, more))


def _aboard(
    setup: Setup, knowledge: Knowledge, more: Iterable[tuple[str, Value]] = (), *, with_parts: bool = True
) -> Aboard:
    spreads = {}
    if knowledge.latents.club is not None:
        spreads = {name: value.spread for name, value in (*as_bought(setup), *more)}
    parts = parts_of(setup) if with_parts else {}
    return knowledge.aboard(parts, features(setup), families_of(setup), spreads)


@of_the_last
def as_bought(setup: Setup) -> DriveValues:
    """All parameters of a setup before any run: what was given, and a marked guess for the rest."""
    conditions, wheel = setup.conditions, setup.propeller
    submerged = setup.hull.drive is not hull.Drive.SURFACE  # or a jet: all of the impeller works
    cells = pack.series_cells(setup.pack)
    warm = conditions_of.pack_temperature_c(conditions)
    cold = float(cold_factor(warm.value))
    timing = controller.timing_effect(setup.controller)
    volts = float(no_load_voltage_v(setup, cells))
    series = guess(1.0, 0.10 if setup.hull.drive is hull.Drive.JET else 0.05, None)
    ocv = float(cell_ocv_v(conditions.state_of_charge.value)) * cells
    kv, trim = setup.motor.kv_rpm_per_v, hull.running_trim(setup.hull, centre_of_mass(setup))
    return DriveValues(
        pack_ocv_v=Value(
            value=ocv,
            source=conditions.state_of_charge.source,
            spread=OCV_SPREAD,
            reason=ChargeOfPass(state_of_charge=conditions.state_of_charge.value),
        ),
        pack_resistance_ohm=_at_temperature(scaled(pack.resistance(setup.pack), cold), warm),
        wiring_resistance_ohm=wiring.wiring_resistance(setup.wiring, int(wire_gauge(setup).value)),
        controller_resistance_ohm=controller.loss_resistance(setup.controller, _commutation_ohm(setup, kv.value)),
        bus_limit_a=setup.controller.bus_limit_a or exact(float("inf")),
        phase_limit_a=setup.controller.phase_limit_a or exact(float("inf")),
        full_throttle=setup.controller.full_throttle or exact(1.0),
        kv_factor=_kv_factor(setup, timing),
        kv_rpm_per_v=honest(kv, PRINTED_KV),
        winding_resistance_ohm=motor.winding_resistance(setup.motor),
        winding_c=conditions.winding_c,
        no_load_current_a=scaled(motor.no_load_current(setup.motor), timing.no_load.value),
        no_load_rpm=Value(value=kv.value * volts, reason=RatedVoltage(voltage_v=volts)),
        shaft_efficiency=_shaft_efficiency(setup),
        diameter_m=honest(wheel.diameter_m, PRINTED_DIAMETER),
        pitch_m=dataclasses.replace(propellers.pitch(wheel), spread=0.0),  # in the factor
        pitch_factor=propellers.pitch_factor(wheel),
        blade_area=series if submerged else propellers.working_area(wheel),
        immersion=propellers.immersion(wheel, setup.hull.shaft_depth_m, submerged=submerged),
        rise_froude=hull.rise_froude(setup.hull),
        # The B-series has its own friction in it.
        blade_friction=exact(0.0) if submerged else _friction(setup, ocv),
        water_at_rest=known(setup.learnt.water_at_rest, propellers.water_at_rest(submerged=submerged)),
        thrust_part=exact(propellers.thrust_part(wheel, hull.shaft_angle_deg(setup.hull))),
        torque_part=exact(float(propellers.torque_part(wheel, wheel.diameter_m.value))),
        propeller_losses=guess(1.0, LOSSES_ERROR, ModelItself()),
        lift_ratio=propellers.lift_ratio(wheel, hull.shaft_angle_deg(setup.hull)),
        mass_kg=honest(setup.all_up_mass_kg, SCALE),
        planing_drag_ratio=hull.planing_drag(setup.hull, trim),
        pressure_share=exact(float(hull.by_trim(setup.hull, trim.value)[1])),
        trims_freely=exact(0.0 if setup.hull.trim_deg else 1.0),
        hump_drag_ratio=hull.hump_drag(setup.hull),
        wetted_factor=hull.wetted_factor(setup.hull, trim),
        wetted_exponent=hull.wetted_exponent(setup.hull),
        appendage_area_m2=hull.appendage_area(setup.hull),
        air_drag_area_m2=hull.air_drag_area(setup.hull),
        air_lift_area_m2=hull.air_lift_area(setup.hull),
        headwind_mps=conditions.headwind_mps,
        water_kg_m3=exact(float(water_density_kg_m3(conditions.water_c.value))),
        air_kg_m3=exact(float(air_density_kg_m3(conditions.air_c.value))),
        cells=exact(float(cells)),
        weak_cell=exact(float(pack.weakest_cell_factor(setup.pack, setup.pack.cells))),
        poles=exact(float(motor.pole_count(setup.motor))),
        discrepancy=guess(1.0, DISCREPANCY, ModelItself()),
        pack_ah=honest(exact(pack.usable_ah(setup.pack)), PRINTED_CAPACITY),
    )


def varied(
    setup: Setup,
    *,
    kv_rpm_per_v: Floats | None = None,
    cells: Floats | None = None,
    diameter_m: Floats | None = None,
    pitch_ratio: Floats | None = None,
    mass_factor: Floats = 1.0,
) -> Rows:
    """The nominal drive with some numbers changed and what follows from them, as the editor has it.

    Parameters
    ----------
    cells : in series, of all packs; only the first pack changes.
    diameter_m : a propeller of another diameter keeps its pitch ratio unless told otherwise.

    Returns
    -------
    Shape (N,), N the common size of what was given.
    """
    bought = as_bought(setup)
    base = bought.rows()[0]
    kv = base["kv_rpm_per_v"] if kv_rpm_per_v is None else kv_rpm_per_v
    series = base["cells"] if cells is None else cells
    diameter = base["diameter_m"] if diameter_m is None else diameter_m
    ratio = base["pitch_m"] / base["diameter_m"] if pitch_ratio is None else pitch_ratio
    size = np.broadcast(kv, series, diameter, ratio, mass_factor).size
    rows: Rows = np.empty(size, ROW)
    # all fields at once: as a record each, this takes several times as long
    rows.view(np.float64).reshape(size, len(NAMES))[:] = np.array([base], ROW).view(np.float64)
    winding, powers = kv / base["kv_rpm_per_v"], motor.rewinding(setup.motor)
    first = series - (setup.pack.second_cells or 0)
    # The commutation's part goes with inductance x KV, the inductance with the winding's resistance.
    commutation = _commutation_ohm(setup, float(base["kv_rpm_per_v"]))
    more_loss = commutation * (winding ** (powers.resistance + 1.0) - 1.0)
    cold = base["pack_resistance_ohm"] / pack.resistance(setup.pack).value
    more_ohm = pack.first_ohm(setup.pack, first) - pack.first_ohm(setup.pack, setup.pack.cells)
    packs_kg = pack.mass_with_cells_kg(setup.pack, first) - pack.pack_mass(setup.pack).value
    ocv = base["pack_ocv_v"] / base["cells"] * series
    edges = base["blade_friction"]
    if edges > 0:
        edges = propellers.friction_at(setup.propeller, _usual_rps(kv, ocv), _viscosity_m2_s(setup), diameter)
    depth, immersed = setup.hull.shaft_depth_m, base["immersion"]
    if depth is not None and setup.propeller.immersion is None and setup.hull.drive is hull.Drive.SURFACE:
        immersed = immersion_of_depth(depth.value / diameter)
    changed: dict[str, Any] = {
        "kv_rpm_per_v": kv,
        "winding_resistance_ohm": base["winding_resistance_ohm"] * winding**powers.resistance,
        "controller_resistance_ohm": base["controller_resistance_ohm"] + more_loss,
        "no_load_current_a": base["no_load_current_a"] * winding**powers.no_load,
        "no_load_rpm": kv * no_load_voltage_v(setup, series),
        "cells": series,
        "weak_cell": pack.weakest_cell_factor(setup.pack, first),
        "pack_ocv_v": ocv,
        "pack_resistance_ohm": base["pack_resistance_ohm"] + more_ohm * cold,
        "diameter_m": diameter,
        "pitch_m": diameter * ratio,
        # A cup counts by its part of the diameter.
        "pitch_factor": 1.0 + (base["pitch_factor"] - 1.0) * base["diameter_m"] / diameter,
        "torque_part": propellers.torque_part(setup.propeller, diameter),
        "blade_friction": edges,
        "immersion": immersed,
        "mass_kg": np.maximum((base["mass_kg"] + packs_kg) * mass_factor, LIGHTEST_KG),
    }
    if setup.hull.trim_deg is None:
        centre = centre_with(setup, changed["mass_kg"], packs_kg)
        trim = hull.trims_of(centre / (hull.CENTRE_PART * setup.hull.length_m.value))
        changed["planing_drag_ratio"], changed["pressure_share"], changed["wetted_factor"] = hull.by_trim(
            setup.hull, trim
        )
    for name, values in changed.items():
        rows[name] = values
    if setup.knowledge is not None:
        _learn(setup, setup.knowledge, rows, base, bought)
    return rows


def _learn(setup: Setup, knowledge: Knowledge, rows: Rows, base: Any, bought: DriveValues) -> None:
    """Puts what was learnt onto drives as bought: a part that is not the one that ran is like the others."""
    here = _aboard(setup, knowledge)
    known, others = knowledge.at(here), knowledge.at(_aboard(setup, knowledge, with_parts=False))
    unlike = dict(zip(others.names, others.shift, strict=True))
    same = {
        Owner.HULL: np.ones(len(rows), dtype=bool),
        Owner.MOTOR: rows["kv_rpm_per_v"] == base["kv_rpm_per_v"],
        Owner.CONTROLLER: np.ones(len(rows), dtype=bool),
        Owner.PACK: rows["cells"] == base["cells"],
        Owner.PROPELLER: (rows["diameter_m"] == base["diameter_m"]) & (rows["pitch_m"] == base["pitch_m"]),
    }
    if "discrepancy" in known.names:
        free = rows["kv_rpm_per_v"] * rows["pack_ocv_v"]
        alike = features_of(free, rows["pitch_m"], rows["diameter_m"], rows["mass_kg"])
        rows["discrepancy"] *= np.exp(knowledge.error_of_laws(here, alike))
    for name, shift in zip(known.names, known.shift, strict=True):
        # What is exact in this boat stays so, whatever others of the racer have taught.
        if name in NAMES and OWNER[name] is not Owner.MODEL and getattr(bought, name).spread:
            rows[name] *= np.where(same[OWNER[name]], math.exp(shift), math.exp(unlike[name]))
