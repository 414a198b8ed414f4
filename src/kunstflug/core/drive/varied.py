"""Many drives at once: one setup with some of its numbers changed, and what follows from that."""

import math
from typing import Any

import numpy as np

from kunstflug.core.drive.family import features_of
from kunstflug.core.drive.rows import NAMES, ROW, DriveValues, Rows
from kunstflug.core.drive.values import aboard, as_bought, commutation_of, no_load_voltage_v, usual_rps, viscosity_m2_s
from kunstflug.core.laws.blade import immersion_of_depth
from kunstflug.core.parts import hull, motor, pack
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.quantity.value import Floats
from kunstflug.core.setup.knowledge import OWNER, Knowledge, Owner
from kunstflug.core.setup.setup import LIGHTEST_KG, Setup, centre_with


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
    commutation = commutation_of(setup, float(base["kv_rpm_per_v"]))
    more_loss = commutation * (winding ** (powers.resistance + 1.0) - 1.0)
    cold = base["pack_resistance_ohm"] / pack.resistance(setup.pack).value
    more_ohm = pack.first_ohm(setup.pack, first) - pack.first_ohm(setup.pack, setup.pack.cells)
    packs_kg = pack.mass_with_cells_kg(setup.pack, first) - pack.pack_mass(setup.pack).value
    ocv = base["pack_ocv_v"] / base["cells"] * series
    edges = base["blade_friction"]
    if edges > 0:
        edges = propellers.friction_at(setup.propeller, usual_rps(kv, ocv), viscosity_m2_s(setup), diameter)
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
    here = aboard(setup, knowledge)
    known, others = knowledge.at(here), knowledge.at(aboard(setup, knowledge, with_parts=False))
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
