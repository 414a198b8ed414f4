"""Golden forecasts, keyed by the model's version: a number may move only together with the version."""

import json
from typing import Any, Final

import numpy as np
import pytest
from tests import samples
from tests.samples import DATA, q

from kunstflug.core.drive import MODEL_VERSION
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.heat_forecast import heat_forecast

GOLDEN: Final = DATA / "golden_forecasts.json"
SETUPS: Final[dict[str, dict[str, Any]]] = {
    "mono": {},
    "everything given": {
        "motor": {**samples.MONO["motor"], "resistance": q(9, "mohm", "measured"), "poles": 6,
                  "no_load_current": q(2.2, "A", "measured"), "no_load_voltage": q(10, "V"),
                  "max_current": q(110, "A")},
        "wiring": {"gauge_awg": 10, "length": q(420, "mm")},
        "controller": {"continuous_current": q(120, "A"), "burst_current": q(160, "A"), "burst": q(10, "s"),
                       "resistance": q(0.9, "mohm", "measured"), "timing": q(20, "deg")},
    },
    "catamaran, two packs": {
        "hull": {"hull_type": "catamaran", "length": q(750, "mm")},
        "pack": {"cells": 3, "capacity": q(5000, "mAh"), "c_rating": q(60, "1"), "second_cells": 3},
        "motor__kv": q(1650, "rpm/V"), "propeller": {"diameter": q(45, "mm"), "pitch_ratio": q(1.4, "1")},
        "all_up_mass": q(3120, "g"),
    },
    "outrigger, cupped and raked": {
        "hull": {"hull_type": "outrigger", "length": q(550, "mm")},
        "propeller": {"diameter": q(35, "mm"), "pitch_ratio": q(1.5, "1"), "cup": q(0.8, "mm"), "rake": q(8, "deg")},
        "all_up_mass": q(1080, "g"), "pack__cells": 3, "motor__kv": q(3100, "rpm/V"),
    },
    "submerged": {
        "hull": {"drive": "submerged", "length": q(900, "mm")}, "all_up_mass": q(2400, "g"),
        "propeller": {"diameter": q(34, "mm"), "pitch_ratio": q(1.1, "1"), "blades": 3}, "motor__kv": q(1400, "rpm/V"),
    },
    "jet": {
        "hull": {"drive": "jet", "length": q(620, "mm")},
        "propeller": {"diameter": q(30, "mm"), "pitch_ratio": q(1.2, "1"), "blades": 3},
    },
    "held by its controller": {"controller": {"continuous_current": q(120, "A"), "bus_limit": q(60, "A")}},
    "cold": {"conditions": {"water": q(4, "degC"), "air": q(2, "degC"), "headwind": q(4, "m/s"),
                            "state_of_charge": q(60, "%"), "pack": q(5, "degC"), "winding": q(40, "degC")}},
    "does not plane": {"all_up_mass": q(9000, "g"), "motor__kv": q(900, "rpm/V")},
}  # fmt: skip


def numbers(changes: dict[str, Any]) -> dict[str, float]:
    """What is compared: point, band, use of every limit, peaks of the heat."""
    setup = samples.setup(**changes)
    f = forecast(setup)
    heat = heat_forecast(setup, passes_duty(3, 6, 25), samples=0)
    found = {name: getattr(f.point, name) for name in ("speed_mps", "current_a", "rpm", "thrust_n", "weak_cell_v")}
    found |= {"low_mps": f.low.speed_mps, "high_mps": f.high.speed_mps, "endurance_s": f.point.endurance_s}
    found |= {f"use of {m.key}": m.use for m in f.margins}
    found |= {f"peak of {limit.node}": limit.peak_c for limit in heat.limits}
    return {name: float(f"{float(value):.9g}") for name, value in found.items()}


def test_numbers_move_only_with_the_version():
    kept = json.loads(GOLDEN.read_text())
    assert kept["model_version"] == MODEL_VERSION, "a new version: write them anew, see docs/model.md"
    assert set(kept["forecasts"]) == set(SETUPS)
    for name, changes in SETUPS.items():
        assert numbers(changes) == pytest.approx(kept["forecasts"][name], rel=1e-6), (
            f"{name}: numbers moved, so MODEL_VERSION has to move, too"
        )


def test_they_are_forecasts_of_different_boats():
    speeds = [f["speed_mps"] for f in json.loads(GOLDEN.read_text())["forecasts"].values()]
    assert np.min(np.diff(np.sort(speeds))) > 1e-3


if __name__ == "__main__":  # python -m tests.core.drive.test_golden
    made = {"model_version": MODEL_VERSION, "forecasts": {name: numbers(changes) for name, changes in SETUPS.items()}}
    GOLDEN.write_text(json.dumps(made, indent=1) + "\n")
