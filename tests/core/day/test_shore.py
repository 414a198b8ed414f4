"""The longest straight on a pond, against geometry and against trying all."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon

from kunstflug.core.day.shore import MOST, checked, driven_shore, longest_straight
from kunstflug.core.quantity.errors import InvalidValue

RECTANGLE = [(0, 0), (120, 0), (120, 50), (0, 50)]


def test_of_a_rectangle_it_is_the_diagonal():
    """Pythagoras: 110 and 40 m within, the usual 5 m kept off each bank."""
    found = longest_straight(RECTANGLE)
    assert found.length_m == pytest.approx(math.hypot(110, 40), abs=1e-3)
    assert min(found.bearing_deg, 360 - found.bearing_deg) == pytest.approx(math.degrees(math.atan2(110, 40)), abs=0.01)


def test_of_an_angled_pond_it_stays_on_the_water():
    """An L of 100 m arms, 40 m wide: the chord that just touches the inner corner, not the one across the land."""
    corner = [(0, 0), (100, 0), (100, 40), (40, 40), (40, 100), (0, 100)]
    found = longest_straight(corner, 0.0)
    water = Polygon(corner).buffer(0.01)
    assert water.contains(LineString([found.begin, found.end]))
    assert found.length_m < math.hypot(100, 100) - 1
    assert found.length_m >= math.hypot(100, 40) - 1e-3


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.floats(20, 100), st.floats(0.3, 1.0)), min_size=3, max_size=8))
def test_no_straight_that_is_tried_is_longer(shape):
    """All chords between 90 points along the bank, those that stay on the water."""
    corners = [
        (r * math.cos(2 * math.pi * k / len(shape)), r * math.sin(2 * math.pi * k / len(shape)))
        for k, (r, _) in enumerate(shape)
    ]
    water = Polygon(corners)
    found = longest_straight(corners, 0.0)
    grown = water.buffer(1e-4)
    assert grown.contains(LineString([found.begin, found.end]))
    along = [water.exterior.interpolate(k / 90, normalized=True) for k in range(90)]
    for k, a in enumerate(along):
        for b in along[k + 1 :]:
            if a.distance(b) > found.length_m + 1e-6:
                assert not grown.contains(LineString([a, b]))


def test_too_narrow_has_none():
    assert longest_straight([(0, 0), (100, 0), (100, 8), (0, 8)], 5.0) is None


@pytest.mark.parametrize(
    "corners",
    [[], [(0, 0), (1, 1)], [(0, 0), (10, 10), (10, 0), (0, 10)], [(0, 0), (0, 0), (0, 0)],
     [(0, 0), (math.nan, 1), (1, 1)], [(0, 0), (9e9, 1), (1, 1)], [(0, 0)] * (MOST + 1)],
)  # fmt: skip
def test_what_is_no_shore_is_refused(corners):
    with pytest.raises(InvalidValue):
        checked(corners)


def test_a_shore_round_where_it_was_driven():
    oval = [(100 * math.cos(t / 50), 40 * math.sin(t / 50)) for t in range(315)]
    shore = driven_shore(oval)
    assert 3 <= len(shore) <= MOST
    found = longest_straight(shore)
    assert found.length_m == pytest.approx(200, rel=0.05)
    with pytest.raises(InvalidValue):
        driven_shore([])
