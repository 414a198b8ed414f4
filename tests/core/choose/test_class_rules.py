"""Classes: each limit by hand at its edge, and what is free is never broken."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.choose.class_rules import ClassLimits, Raced, RuleKey, TooLoud, broken, broken_by, new_in
from kunstflug.core.laws.sound import MEASURED_DB, UNSURE_DB, Loudness, level_db, measured, sound_power_w
from kunstflug.wording import METRIC, Tongue, Units, say

BOAT = {"cells": 4, "mass_kg": 2.1, "length_m": 0.62, "sound_w": 0.0}


def raced(**limits) -> Raced:
    return Raced(limits=ClassLimits(name="Mono 4", **limits))


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
    found = broken_by(raced(**limits), **BOAT)
    assert [one.key for one in found] == keys
    assert broken(raced(**limits), samples.setup(), 0.0) == found  # the samples' mono is that boat


def test_two_packs_in_series_count_together():
    two = samples.setup(pack__second_cells=2)
    assert [b.value for b in broken(raced(most_cells=5), two, 0.0)] == [6.0]


@given(st.integers(1, 30), st.floats(0.1, 50), st.floats(0.1, 3), st.integers(1, 30), st.floats(0.1, 50))
def test_a_boat_that_is_allowed_stays_so_under_a_wider_class(cells, mass, length, most_cells, most_mass):
    tight = raced(most_cells=most_cells, most_mass_kg=most_mass)
    wide = raced(most_cells=most_cells + 1, most_mass_kg=most_mass * 1.1)
    boat = {"cells": cells, "mass_kg": mass, "length_m": length, "sound_w": 0.0}
    assert {b.key for b in broken_by(wide, **boat)} <= {b.key for b in broken_by(tight, **boat)}


def test_it_is_said_in_the_racers_units_with_the_class_by_name():
    limits = raced(most_cells=3, least_mass_kg=2.5, most_length_m=0.5)
    words = [say(b, METRIC) for b in broken_by(limits, **BOAT)]
    assert words == [
        "Mono 4 allows 3 cells, this has 4",
        "Mono 4 allows a hull of 500 mm, this has 620 mm",
        "Mono 4 wants at least 2500 g, this has 2100 g",
    ]
    assert "in" in say(broken_by(limits, **BOAT)[1], Tongue(units=Units.IMPERIAL))
    assert q(1, "g")["unit"] == "g"


def test_a_tenth_of_a_watt_over_water_is_heard_as_the_standard_says():
    """ISO 3744: over a plane that reflects, L_p = L_W - 10 lg(2 pi r^2 / 1 m^2); 0.1 W are 110 dB, by hand 74.06 there.

    Twice as far is 6.02 dB less, by the inverse square.
    """
    assert level_db(0.1, 25.0) == pytest.approx(110.0 - 35.94, abs=0.01)
    assert level_db(0.1, 50.0) == pytest.approx(level_db(0.1, 25.0) - 6.02, abs=0.01)
    assert level_db(0.2, 25.0) == pytest.approx(level_db(0.1, 25.0) + 3.01, abs=0.01)
    assert level_db(0.0, 25.0) == -float("inf")


def test_a_usual_mono_is_as_loud_as_is_said_of_them():
    """1200 W on 42 mm at 27 000 rpm: some 72 dB(A) at 25 m (common practice, no source)."""
    assert level_db(sound_power_w(1200, 27_000, 0.042), 25.0) == pytest.approx(72.0, abs=1.5)


@given(st.floats(50, 5000), st.floats(5000, 60_000), st.floats(0.02, 0.08), st.floats(1.05, 1.5))
def test_turning_faster_at_one_power_is_louder(watts, rpm, diameter, more):
    slow, fast = (level_db(sound_power_w(watts, n, diameter), 25) for n in (rpm, rpm * more))
    assert fast > slow


def test_what_was_measured_moves_with_the_boat():
    boat = BOAT | {"sound_w": sound_power_w(1200, 27_000, 0.042)}
    law = level_db(boat["sound_w"], 25.0)
    limits = ClassLimits(name="Mono 4", most_noise_db=75.0)
    quiet = Raced(limits=limits)
    assert broken_by(quiet, **boat) == ()
    loud = Raced(limits=limits, loudness=measured(law + 6.0, law))
    assert loud.loudness == Loudness(louder_db=pytest.approx(6.0), spread_db=MEASURED_DB)
    (said,) = broken_by(loud, **boat)
    assert isinstance(said, TooLoud)
    assert said.measured
    assert said.level_db == pytest.approx(law + 6.0)
    assert "Mono 4 allows 75 dB(A) at 25 m, this makes about 78" in say(said, METRIC)
    far = Raced(limits=ClassLimits(name="Mono 4", most_noise_db=75.0, noise_at_m=50.0), loudness=loud.loudness)
    assert broken_by(far, **boat) == ()
    assert "rough estimate" in say(TooLoud(name="x", level_db=80, limit_db=75, at_m=25, measured=False), METRIC)
    assert Loudness().spread_db == UNSURE_DB


def test_a_boat_that_is_too_loud_is_told_so_once_unless_it_gets_louder():
    limits = raced(most_noise_db=60.0, most_cells=3)
    now = broken_by(limits, **BOAT | {"sound_w": 0.1})
    assert len(now) == 2
    assert new_in(broken_by(limits, **BOAT | {"sound_w": 0.1}), now) == ()
    assert new_in(broken_by(limits, **BOAT | {"sound_w": 0.05}), now) == ()
    assert [type(b) for b in new_in(broken_by(limits, **BOAT | {"sound_w": 0.15}), now)] == [TooLoud]
