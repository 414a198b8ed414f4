"""Water through the year: closed forms, a sine that is found again, bands that hold on ponds of another form."""

import math
from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from sklearn.linear_model import BayesianRidge
from tests.samples import refused

from kunstflug.core.day.pond_water import MEAN_C, MOST, SWING_K, WEATHER_K, PondReading, pond_water
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.value import Z80

NEW_YEAR = date(2026, 1, 1)


def reads(*of: tuple[int, float]) -> list[PondReading]:
    return [PondReading(on=NEW_YEAR + timedelta(days=day - 1), celsius=celsius) for day, celsius in of]


def test_without_a_reading_it_is_a_temperate_pond():
    water = pond_water([])
    top, low = water.on(210), water.on(27)
    assert top.celsius == pytest.approx(MEAN_C[0] + SWING_K[0])
    assert low.celsius == pytest.approx(MEAN_C[0] - SWING_K[0], abs=0.1)
    half = Z80 * math.sqrt(MEAN_C[1] ** 2 + SWING_K[1] ** 2 + WEATHER_K**2)  # by hand: 4, 3 and 1.8 K
    assert top.high_c - top.celsius == pytest.approx(half, abs=1e-6)
    assert low.low_c == 0.0  # it does not freeze below


def test_one_reading_moves_it_as_the_closed_form_says():
    """On the warmest day mean and swing both count: prior 21 degC with variance 16 + 9, a reading with 1.8^2."""
    told = pond_water(reads((210, 26.0))).on(210)
    gain = 25.0 / (25.0 + WEATHER_K**2)
    assert told.celsius == pytest.approx(21.0 + gain * 5.0, abs=1e-6)
    half = Z80 * math.sqrt(25.0 * (1 - gain) + WEATHER_K**2)
    assert told.high_c - told.celsius == pytest.approx(half, abs=1e-6)


def test_many_readings_are_what_a_library_makes_of_them():
    """Least squares of mean, cosine and sine (scikit-learn's Bayesian ridge, its prior next to nothing)."""
    rng = np.random.default_rng(5)
    days = rng.integers(1, 366, MOST)
    turn = 2 * np.pi * days / 365.25
    true = 11.0 - 8.0 * np.cos(turn) - 3.5 * np.sin(turn)
    read = np.clip(true + rng.normal(0, 1.2, MOST), 0, 40)
    found = pond_water(reads(*zip(days.tolist(), read.tolist(), strict=True)))
    library = BayesianRidge().fit(np.column_stack([np.cos(turn), np.sin(turn)]), read)
    assert found.mean == pytest.approx([library.intercept_, *library.coef_], abs=0.25)


def test_a_pond_of_the_south_is_told_by_two_readings():
    south = pond_water(reads((15, 23.0), (200, 6.0)))
    assert south.on(20).celsius > 18
    assert south.on(205).celsius < 9


@given(st.lists(st.tuples(st.integers(1, 365), st.floats(0, 40)), max_size=12), st.integers(1, 366))
def test_whatever_was_read_it_is_water(of, day):
    told = pond_water(reads(*of)).on(day)
    assert 0 <= told.low_c <= told.celsius <= told.high_c <= 40


def test_bands_hold_on_ponds_that_are_no_sine():
    """A summer longer than a sine's, weather that lasts for weeks, a cover of ice: 80 % bands after three readings."""
    rng, inside = np.random.default_rng(8), []
    for _ in range(400):
        mean, swing, warmest = rng.normal(12, 3), rng.normal(9, 2), rng.normal(212, 9)
        weather = np.zeros(366)
        for d in range(1, 366):
            weather[d] = 0.93 * weather[d - 1] + rng.normal(0, 0.55)  # of a week and more, 1.5 K in all

        def there(d: int, m=mean, s=swing, w=warmest, by=weather) -> float:
            turn = 2 * math.pi * (d - w) / 365.25
            return max(m + s * math.cos(turn + 0.25 * math.sin(turn)) + by[d], 0.5)

        days = rng.integers(1, 365, 4)
        told = pond_water(reads(*((int(d), max(there(int(d)) + rng.normal(0, 0.5), 0.0)) for d in days[:3]))).on(
            int(days[3])
        )
        inside.append(told.low_c <= there(int(days[3])) <= told.high_c)
    assert 0.74 <= np.mean(inside) <= 0.92


def test_rubbish_is_refused():
    with refused(InvalidValue, "0 to 40"):
        pond_water(reads((3, 60.0)))
    with refused(InvalidValue, "at most"):
        pond_water(reads(*[(3, 10.0)] * (MOST + 1)))
