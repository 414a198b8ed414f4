"""Ponds: kept, looked at, taken from a run."""

import math
from datetime import date

import pytest
from tests import samples

from kunstflug.core.day.pond_water import PondReading, pond_water
from kunstflug.core.quantity.errors import InvalidValue, NotFound
from kunstflug.documents.pond import PondIn
from kunstflug.pond import Weather
from kunstflug.services.boats import boats
from kunstflug.services.ponds import ponds
from kunstflug.services.run import run, simulated


def shore(*corners):
    return PondIn(corners=[list(c) for c in corners])


QUARRY = shore((0, 0), (120, 0), (120, 50), (0, 50))


def test_its_water_is_kept_with_it_and_told_for_a_day(fresh_store):
    bare = ponds.keep_pond(fresh_store, "the quarry", QUARRY)
    assert bare.water == []
    assert [bare.year[0].day, bare.year[-1].day, len(bare.year)] == [1, 366, 25]
    read = [{"on": "2026-07-30", "celsius": 25.0}, {"on": "2026-02-01", "celsius": 5.0}]
    told = ponds.keep_pond(fresh_store, "the quarry", PondIn(corners=QUARRY.corners, water=read))
    assert [one.celsius for one in told.water] == [5.0, 25.0]  # oldest first
    summer, before = ponds.ponds(fresh_store, date(2026, 7, 28))[0].asked, bare.year[14]
    assert summer.celsius > before.celsius + 2
    assert summer.high_c - summer.low_c < 0.7 * (before.high_c - before.low_c)
    assert (
        summer.low_c <= pond_water([PondReading(on=one.on, celsius=one.celsius) for one in told.water]).on(209).celsius
    )
    again = ponds.keep_pond(fresh_store, "the quarry", shore((0, 0), (80, 0), (80, 50), (0, 50)))
    assert again.water == told.water  # another shore, the same water
    assert ponds.keep_pond(fresh_store, "the quarry", PondIn(corners=QUARRY.corners, water=[])).water == []


def test_a_pond_is_kept_under_its_name_and_forgotten(fresh_store):
    made = ponds.keep_pond(fresh_store, "the quarry", QUARRY)
    assert made.straight.length_m == pytest.approx(math.hypot(120 - 2 * 5, 50 - 2 * 5), abs=0.01)
    assert ponds.ponds(fresh_store) == [made]
    ponds.keep_pond(fresh_store, "the quarry", shore((0, 0), (80, 0), (80, 50), (0, 50)))
    assert [p.straight.length_m < 90 for p in ponds.ponds(fresh_store)] == [True]
    ponds.drop_pond(fresh_store, "the quarry")
    assert ponds.ponds(fresh_store) == []
    with pytest.raises(NotFound):
        ponds.drop_pond(fresh_store, "the quarry")


def test_no_shore_is_refused_and_a_narrow_one_has_no_straight(fresh_store):
    with pytest.raises(InvalidValue):
        ponds.look(shore((0, 0), (10, 10), (10, 0), (0, 10)))
    assert ponds.look(shore((0, 0), (100, 0), (100, 6), (0, 6))).straight is None


def test_a_run_has_been_round_its_pond(fresh_store):
    setup = boats.new_boat(fresh_store, "Round", samples.document())
    driven = simulated.simulate(fresh_store, setup.id, 1, 2, Weather())
    found = ponds.shore_of_run(fresh_store, driven.id)
    longest = max(p.distance_m for p in driven.summary.passes)
    assert longest - 15 < found.straight.length_m < 260
    typed = run.type_run(fresh_store, setup.id)
    with pytest.raises(NotFound):
        ponds.shore_of_run(fresh_store, typed.id)
