"""What else changes when one number of a drive does: another winding, another pack, the same pitch ratio."""

import dataclasses

import numpy as np

from kunstflug.core import pack
from kunstflug.core.drive.parameters import DriveParameters
from kunstflug.core.drive.setup import Setup
from kunstflug.core.values import Floats, Source


def varied(
    setup: Setup,
    base: DriveParameters,
    *,
    kv_rpm_per_v: Floats | None = None,
    cells: Floats | None = None,
    diameter_m: Floats | None = None,
    pitch_ratio: Floats | None = None,
    mass_factor: Floats = 1.0,
) -> DriveParameters:
    """Nominal parameters with some numbers changed, and what follows from them; floats or arrays of one shape.

    Another KV is another winding: R with KV^-2 where it was given, KV^-1 where it was guessed (as the estimator has
    it), the no-load current with KV or KV^0.7. Other cells change the pack's voltage, resistance and mass. A propeller
    of another diameter keeps its pitch ratio unless told otherwise.
    """
    kv = setup.motor.kv_rpm_per_v.value if kv_rpm_per_v is None else kv_rpm_per_v
    series = pack.series_cells(setup.pack) if cells is None else cells
    diameter = base.diameter_m if diameter_m is None else diameter_m
    ratio = base.pitch_m / base.diameter_m if pitch_ratio is None else pitch_ratio
    winding, more_cells = kv / setup.motor.kv_rpm_per_v.value, series / pack.series_cells(setup.pack)
    given = setup.motor.resistance_ohm
    power = -1.0 if given is None or given.source is Source.GUESSED else -2.0
    idle = 0.7 if setup.motor.no_load_current_a is None else 1.0
    mass = (base.mass_kg + pack.pack_mass(setup.pack).value * (more_cells - 1)) * mass_factor
    return dataclasses.replace(
        base,
        kv_rpm_per_v=kv,
        winding_resistance_ohm=base.winding_resistance_ohm * winding**power,
        no_load_current_a=base.no_load_current_a * winding**idle,
        no_load_rpm=base.no_load_rpm * winding * more_cells,
        pack_ocv_v=base.pack_ocv_v * more_cells,
        pack_resistance_ohm=base.pack_resistance_ohm * more_cells,
        diameter_m=diameter,
        pitch_m=diameter * ratio,
        mass_kg=np.maximum(mass, 0.05),
    )
