"""Heat through a duty, and the map of KV and diameter."""

from typing import Final

import numpy as np

from kunstflug.core.choose.fronts import best_of_steps, easy_front, lasting_front
from kunstflug.core.choose.sweep import ranges_about, sweep
from kunstflug.core.drive.forecast import doubts_of_uses
from kunstflug.core.drive.schools import Schools
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.thermal.charging import charge_back
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.heat_forecast import heat_forecast
from kunstflug.core.thermal.launch import launch_of
from kunstflug.documents.heat import HeatOut, heat_out
from kunstflug.documents.plan import MapOut, map_out
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.shared.water import cooling_of
from kunstflug.wording import METRIC, Tongue

MAP_KV: Final = 30
MAP_DIAMETER: Final = 26


def heat(
    document: SetupDocument,
    duty: Duty,
    schools: Schools,
    known: Knowledge | None,
    circuit: CircuitIn | None = None,
    tongue: Tongue = METRIC,
    pond_m: float | None = None,
) -> HeatOut:
    """Temperatures of a setup through a duty, with the boat's own water where it is drawn; and its way to speed."""
    setup = setup_of(document, known)
    found = heat_forecast(setup, duty, schools, cooling=cooling_of(setup, circuit))
    launch = launch_of(setup, duty.full_s, pond_m)
    return heat_out(found, charge_back(setup, found.used_ah), launch, schools, tongue)


def sweep_map(document: SetupDocument, schools: Schools, known: Knowledge | None) -> MapOut:
    """KV x diameter about a setup, with the front of speed against the tightest margin."""
    setup = setup_of(document, known)
    kv, diameter = setup.motor.kv_rpm_per_v.value, setup.propeller.diameter_m.value
    windings, sizes = np.linspace(0.5, 1.7, MAP_KV) * kv, np.linspace(0.7, 1.5, MAP_DIAMETER) * diameter
    found = sweep(
        setup, ranges_about(setup, kv=windings, diameter=sizes), schools, doubts=doubts_of_uses(setup, schools)
    )
    lasting = lasting_front(found.speed_mps, found.run_s, found.verdict)
    easy = best_of_steps(easy_front(found.speed_mps, found.use, found.verdict), found.speed_mps, -found.use)
    return map_out(found, easy, best_of_steps(lasting, found.speed_mps, found.run_s))
