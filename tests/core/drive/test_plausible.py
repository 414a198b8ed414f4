"""Eight invented but typical boats, looked at with an engineer's eye.

The ranges are what racers of such boats report for speed and current (common practice, no source): wide enough for a
good and a bad day, narrow enough that a slip of a factor shows.
"""

import pytest
from tests.samples import q

from kunstflug.core.drive.forecast import forecast
from kunstflug.documents.setup import SetupDocument, setup_of

# name, hull, length mm, mass g, drive, cells, mAh, C, KV, can mm, controller A, propeller mm x ratio x blades, AWG
BOATS = [
    ("pond mono", "mono", 430, 700, "surface", 2, 3000, 40, 3500, (28, 48), 60, (31, 1.4, 2), 12),
    ("club mono", "mono", 620, 1980, "surface", 3, 5000, 50, 2200, (36, 74), 120, (40, 1.4, 2), 12),
    ("fast mono", "mono", 750, 2900, "surface", 6, 5000, 70, 1650, (40, 74), 180, (44, 1.4, 2), 10),
    ("light outrigger", "outrigger", 550, 1080, "surface", 3, 3300, 60, 3100, (28, 50), 90, (35, 1.4, 2), 12),
    ("catamaran", "catamaran", 750, 3120, "surface", 6, 5000, 60, 1650, (40, 74), 180, (45, 1.4, 2), 10),
    ("long catamaran", "catamaran", 1000, 4500, "surface", 10, 5000, 80, 1000, (40, 90), 200, (52, 1.4, 2), 8),
    ("tunnel", "tunnel", 600, 1700, "surface", 4, 4000, 60, 2100, (36, 60), 100, (38, 1.4, 2), 12),
    ("record outrigger", "outrigger", 1150, 6200, "surface", 12, 6000, 100, 900, (56, 110), 300, (54, 1.6, 2), 6),
    ("scale launch", "mono", 900, 4200, "submerged", 3, 8000, 30, 700, (36, 60), 60, (45, 1.0, 3), 12),
]
# km/h and A
EXPECTED = {
    "pond mono": (42, 66, 15, 40),
    "club mono": (50, 75, 35, 75),
    "fast mono": (80, 120, 80, 170),
    "light outrigger": (70, 105, 30, 75),
    "catamaran": (80, 115, 80, 165),
    "long catamaran": (90, 130, 110, 220),
    "tunnel": (55, 90, 50, 110),
    "record outrigger": (130, 200, 150, 330),
    "scale launch": (12, 32, 4, 30),
}


def boat(row) -> SetupDocument:
    name, kind, length, mass, drive, cells, mah, c, kv, can, amps, (d, ratio, blades), gauge = row
    return SetupDocument.model_validate(
        {
            "name": name,
            "hull": {"hull_type": kind, "length": q(length, "mm"), "drive": drive},
            "motor": {"kv": q(kv, "rpm/V"), "can_diameter": q(can[0], "mm"), "can_length": q(can[1], "mm")},
            "controller": {"continuous_current": q(amps, "A")},
            "propeller": {"diameter": q(d, "mm"), "pitch_ratio": q(ratio, "1"), "blades": blades},
            "pack": {"cells": cells, "capacity": q(mah, "mAh"), "c_rating": q(c, "1")},
            "wiring": {"gauge_awg": gauge},
            "all_up_mass": q(mass, "g"),
        }
    )


@pytest.mark.parametrize("row", BOATS, ids=[b[0] for b in BOATS])
def test_typical_boats(row):
    f = forecast(setup_of(boat(row)))
    slowest, fastest, least, most = EXPECTED[row[0]]
    assert f.runs, f.refusal
    assert slowest < f.point.speed_mps * 3.6 < fastest
    assert least < f.point.current_a < most
    assert 0.75 < f.point.rpm / f.point.free_rpm < 0.98
    assert f.point.useful_power_w + f.point.losses_w == pytest.approx(f.point.chemical_power_w, rel=1e-6)
