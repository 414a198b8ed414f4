import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kunstflug.core.quantity.units import UNITS, Dimension, number_in, si_from

UNIT_PAIRS = [(dimension, unit) for dimension, units in UNITS.items() for unit in units]


@pytest.mark.parametrize(
    ("number", "unit", "dimension", "expected"),
    [
        # GNU units and pint agree on all of these [units]
        (1, "hp", Dimension.POWER, 745.69987),
        (1, "kn", Dimension.SPEED, 0.514444),
        (1, "mph", Dimension.SPEED, 0.44704),
        (100, "degF", Dimension.TEMPERATURE, 37.7778),
        # exact by definition: inch 25.4 mm, pound 0.45359237 kg
        (0.1875, "in", Dimension.LENGTH, 4.7625e-3),
        (1, "lb", Dimension.MASS, 0.45359237),
        (16, "oz", Dimension.MASS, 0.45359237),
    ],
)
def test_conversion_to_si(number, unit, dimension, expected):
    assert si_from(number, unit, dimension) == pytest.approx(expected, rel=2e-6)  # six printed figures


@given(st.sampled_from(UNIT_PAIRS), st.floats(-1e6, 1e6))
def test_there_and_back(pair, number):
    dimension, unit = pair
    back = number_in(si_from(number, unit, dimension), unit, dimension)
    assert math.isclose(back, number, rel_tol=1e-12, abs_tol=1e-9)


def test_first_unit_of_each_dimension_is_the_cores_own():
    for dimension, units in UNITS.items():
        first = next(iter(units.values()))
        assert (first.factor, first.offset) == (1.0, 0.0), dimension


def test_ten_horsepower_is_about_seven_and_a_half_kilowatts():
    # common practice, no source
    assert si_from(10, "hp", Dimension.POWER) == pytest.approx(7500, rel=0.01)
