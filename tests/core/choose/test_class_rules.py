"""Classes: each limit by hand at its edge, and what is free is never broken."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.choose.class_rules import ClassLimits, RuleKey, broken, broken_by
from kunstflug.wording import METRIC, Tongue, Units, say

BOAT = {"cells": 4, "mass_kg": 2.1, "length_m": 0.62}


@pytest.mark.parametrize(
    ("limits", "keys"),
    [
        ({}, []),
        ({"most_cells": 4}, []),
        ({"most_cells": 3}, [RuleKey.CELLS]),
        ({"most_voltage_v": 16.8}, []),  # 4 x 4.2 V, by hand
        ({"most_voltage_v": 16.7}, [RuleKey.VOLTAGE]),
        ({"most_length_m": 0.62}, []),
        ({"most_length_m": 0.6}, [RuleKey.LENGTH]),
        ({"least_mass_kg": 2.1, "most_mass_kg": 2.1}, []),
        ({"least_mass_kg": 2.2}, [RuleKey.LIGHT]),
        ({"most_mass_kg": 2.0, "most_cells": 2}, [RuleKey.CELLS, RuleKey.HEAVY]),
    ],
)
def test_each_limit_at_its_edge(limits, keys):
    found = broken_by(ClassLimits(name="Mono 4", **limits), **BOAT)
    assert [one.key for one in found] == keys
    assert broken(ClassLimits(name="Mono 4", **limits), samples.setup()) == found  # the samples' mono is that boat


def test_two_packs_in_series_count_together():
    two = samples.setup(pack__second_cells=2)
    assert [b.value for b in broken(ClassLimits(name="x", most_cells=5), two)] == [6.0]


@given(st.integers(1, 30), st.floats(0.1, 50), st.floats(0.1, 3), st.integers(1, 30), st.floats(0.1, 50))
def test_a_boat_that_is_allowed_stays_so_under_a_wider_class(cells, mass, length, most_cells, most_mass):
    tight = ClassLimits(name="x", most_cells=most_cells, most_mass_kg=most_mass)
    wide = ClassLimits(name="x", most_cells=most_cells + 1, most_mass_kg=most_mass * 1.1)
    boat = {"cells": cells, "mass_kg": mass, "length_m": length}
    assert {b.key for b in broken_by(wide, **boat)} <= {b.key for b in broken_by(tight, **boat)}


def test_it_is_said_in_the_racers_units_with_the_class_by_name():
    limits = ClassLimits(name="Mono 4", most_cells=3, least_mass_kg=2.5, most_length_m=0.5)
    words = [say(b, METRIC) for b in broken_by(limits, **BOAT)]
    assert words == [
        "Mono 4 allows 3 cells, this has 4",
        "Mono 4 allows a hull of 500 mm, this has 620 mm",
        "Mono 4 wants at least 2500 g, this has 2100 g",
    ]
    assert "in" in say(broken_by(limits, **BOAT)[1], Tongue(units=Units.IMPERIAL))
    assert q(1, "g")["unit"] == "g"
