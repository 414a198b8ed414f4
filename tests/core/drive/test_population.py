"""Five hundred random boats before any run: what is forecast of them has to be what racers report, tails included.

The boats are drawn as racers build them: a hull with the mass of its length, a motor that turns what its cells and its
size are usually turned at, the propeller that goes with it. The ranges are common practice, no source. The draws of
each boat's own band are taken as so many more boats, so that the band is looked at and not only its middle.
"""

import numpy as np
import pytest
from tests.samples import q

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.values import LOSSES_ERROR, drive_values
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.heat_forecast import peaks_c
from kunstflug.core.thermal.nodes import HEAT_NODES
from kunstflug.core.thermal.run import run_duty
from kunstflug.documents.setup import SetupDocument, setup_of

pytestmark = pytest.mark.no_cover  # many random ones: others count the lines, in a quarter of the time

BOATS = 500
DRAWS = 12
TYPES = ("mono", "catamaran", "tunnel", "outrigger")


def random_boat(rng):
    kind = TYPES[rng.integers(4)]
    length = rng.uniform(420, 1100)
    light = 0.75 if kind == "outrigger" else 1.0
    mass = 5.0 * (length / 1000) ** 2.5 * 1e3 * light * rng.lognormal(0.25, 0.18)
    cells = int(np.clip(round(length / 1000 * 9 + rng.normal(-1.5, 1.2)), 2, 12))
    can = float(np.interp(length, (420, 1100), (26, 54))) * rng.uniform(0.94, 1.06)
    free = (
        rng.uniform(0.85, 1.15) * np.interp(length, (420, 1100), (31000, 25500)) * (1.1 if kind == "outrigger" else 1)
    )
    propeller = np.interp(length, (420, 1100), (31, 56)) * rng.uniform(0.95, 1.05)
    capacity = np.interp(length, (420, 1100), (2600, 6000)) * rng.uniform(0.85, 1.2)
    power = mass / 1e3 * rng.uniform(350, 1000)
    return {
        "name": "drawn",
        "hull": {"hull_type": kind, "length": q(length, "mm")},
        "motor": {
            "kv": q(free / (3.7 * cells), "rpm/V"),
            "can_diameter": q(can, "mm"),
            "can_length": q(1.9 * can, "mm"),
        },
        "controller": {"continuous_current": q(float(np.clip(power / (3.5 * cells) * 1.3, 30, 300)), "A")},
        "propeller": {"diameter": q(propeller, "mm"), "pitch_ratio": q(rng.uniform(1.3, 1.6), "1"), "blades": 2},
        "pack": {"cells": cells, "capacity": q(capacity, "mAh"), "c_rating": q(rng.uniform(40, 90), "1")},
        "all_up_mass": q(mass, "g"),
    }


@pytest.fixture(scope="module")
def population():
    rng = np.random.default_rng(20)
    setups = [setup_of(SetupDocument.model_validate(random_boat(rng))) for _ in range(BOATS)]
    points = [solve(drive_values(s).rows(DRAWS, k), (curve_of(s),)) for k, s in enumerate(setups)]
    return setups, points


def test_speeds_currents_slips_and_efficiencies_are_what_racers_report(population):
    setups, points = population
    kmh = np.concatenate([3.6 * p.speed_mps for p in points])
    slip, wheel, motor, current = (
        np.concatenate([np.asarray(getattr(p, name)) for p in points])
        for name in ("slip", "propeller_efficiency", "motor_efficiency", "current_a")
    )
    weight = np.concatenate([np.full(1 + DRAWS, s.all_up_mass_kg.value) for s in setups])
    planes = np.concatenate([p.volume_froude for p in points]) > 3
    # nearly every boat that somebody builds planes, and a few of their draws hang at half speed, the propeller in foam
    hang = slip > 0.6
    assert planes.mean() > 0.97
    assert 0.0 < hang[planes].mean() < 0.05
    good = planes & ~hang
    for found, (low, middle_low, middle_high, high) in (
        (kmh, (20, 60, 100, 200)),
        (slip, (0.02, 0.15, 0.30, 0.60)),
        (wheel, (0.25, 0.60, 0.72, 0.87)),
        (motor, (0.70, 0.82, 0.93, 0.97)),
        (current / weight, (5, 20, 50, 110)),  # A a kilogram
    ):
        tails = np.quantile(found[good], (0.005, 0.995))
        assert low < tails[0]
        assert tails[1] < high
        assert middle_low < np.median(found[good]) < middle_high


def test_a_propeller_may_lose_more_than_computed_and_never_gives_back_more_than_it_takes(population):
    _, points = population
    assert max(p.propeller_efficiency.max() for p in points) < 0.97  # 1 is a propeller without any loss
    setup = population[0][0]
    values = drive_values(setup)
    rows = np.repeat(values.rows(), 3)
    rows["propeller_losses"] *= np.exp(np.array([-2.0, 0.0, 2.0]) * LOSSES_ERROR)
    low, middle, high = np.log(solve(rows, (curve_of(setup),)).current_a)
    # Measured 1.37 to 1.40; with a factor on all of the torque 0.97 to 0.99.
    assert high - middle > 1.15 * (middle - low) > 0.0


def test_temperatures_are_what_guns_read(population):
    """Four passes of six seconds at 18 degC, a fifth of the boats."""
    setups, _ = population
    peaks = np.array([peaks_c(s, run_duty(s, passes_duty(4, 6, 25), step_s=0.1)) for s in setups[::5]])
    case, controller, pack, plug = (peaks[:, HEAT_NODES.index(n)] for n in ("case", "controller", "pack", "connector"))
    for found, (low, high) in ((case, (19, 110)), (controller, (18, 85)), (pack, (34, 70)), (plug, (18, 205))):
        assert low < np.quantile(found, 0.01)
        assert np.quantile(found, 0.99) < high
    assert 24 < np.median(case) < 70


def test_bands_are_as_wide_as_the_model_is_unsure(population):
    """Uncalibrated one aims at 15 %: most 80 % bands reach some 9 to 28 % up and down, none is a hair."""
    setups, _ = population
    found = [forecast(s, explained=False) for s in setups[::10]]
    width = np.array([(f.high.speed_mps - f.low.speed_mps) / 2 / f.point.speed_mps for f in found if f.runs])
    assert width.min() > 0.04
    assert 0.07 < np.median(width) < 0.20
