"""Instruments, the speed that counts, and the judgement of a reading: once, for all who read, learn and compare."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kunstflug.core.evidence.instruments import POSSIBLE, SPREADS, By, Column
from kunstflug.core.evidence.judgement import Prediction
from kunstflug.core.evidence.readings import HEAT, STEADY, What
from kunstflug.core.evidence.speed import Peaks, TrackSpeeds, speed_held
from kunstflug.documents.columns import LOG_COLUMNS
from kunstflug.documents.run import TypedRun
from kunstflug.files.controller_csv import COLUMNS
from kunstflug.files.stream import FIELDS, LineReader


def test_every_column_has_a_range_and_every_reading_an_instrument():
    assert set(POSSIBLE) == set(Column)
    assert {what for _, what in SPREADS} | {What.SPEED} == set(What)
    assert set(STEADY) | set(HEAT) | {What.CHARGE} == set(What)
    for what in HEAT:
        assert SPREADS[By.GUN, what] > 0
    assert set(LOG_COLUMNS.values()) == {str(name) for name in COLUMNS}


def test_what_is_possible_takes_in_what_was_ever_run_and_leaves_out_what_cannot_be():
    """Common practice, no source: 125 m/s were run, 15 cells of 4.35 V, 1500 A, ten pole pairs at 25 000 rpm."""
    there = {Column.SPEED: 125.0, Column.VOLTAGE: 66.0, Column.CURRENT: 1500.0, Column.RPM: 250_000.0}
    never = {Column.SPEED: 150.0, Column.VOLTAGE: 200.0, Column.CURRENT: 4000.0, Column.RPM: 1e6}
    for column in there:
        assert POSSIBLE[column].holds(there[column])
        assert not POSSIBLE[column].holds(never[column])
        assert not POSSIBLE[column].holds(math.nan)
        assert POSSIBLE[column].holds(0.0)


def test_a_log_is_better_than_a_display_and_a_display_than_a_guess():
    """A clamp or a display is good to some percent, a log to a few in a thousand or a hundred (common practice)."""
    for what in (What.CURRENT, What.RPM, What.VOLTAGE, What.CHARGE):
        assert SPREADS[By.LOG, what] < SPREADS[By.TYPED, what] <= 0.10
    assert SPREADS[By.TYPED, What.CURRENT] > SPREADS[By.TYPED, What.RPM]


def test_a_gun_is_as_good_as_its_spot():
    """2 K of the gun's own, up to 5 K by the spot on a shiny can (common practice, no source)."""
    for what in HEAT:
        assert 2.0 < SPREADS[By.GUN, what] <= math.hypot(2.0, 5.0)


@pytest.mark.parametrize(
    ("line", "column", "typed"),
    [("voltage_v", Column.VOLTAGE, "voltage_v"), ("bus_a", Column.CURRENT, "current_a"), ("rpm", Column.RPM, "rpm")],
)
def test_what_may_be_typed_may_be_sent_and_may_stand_in_a_log(line, column, typed):
    """A log that is read after landing was dropped live without a word."""
    most = POSSIBLE[column].high
    assert FIELDS[line] == POSSIBLE[column]
    for value, good in ((most, True), (most * 1.01, False)):
        sample = LineReader().read(b'{"t": 1, "speed_mps": 20, "%s": %f}' % (line.encode(), value))
        assert (getattr(sample, line) is not None) is good
        if good:
            assert getattr(TypedRun.model_validate({typed: value}), typed) == value
        else:
            with pytest.raises(ValueError, match="less than or equal"):
                TypedRun.model_validate({typed: value})


def test_which_speed_counts():
    track = TrackSpeeds(both_ways=20.0, best_2s=22.0, best_2s_spread=0.2)
    peaks = Peaks(best=(24.6,), instrument="wrist")
    assert speed_held(track, peaks).by is By.BOTH_WAYS
    one_way = speed_held(TrackSpeeds(best_2s=22.0, best_2s_spread=0.22), peaks, wind_mps=0.0)
    assert (one_way.reading.value, one_way.both_ways) == (22.0, False)
    assert one_way.reading.spread == pytest.approx(math.hypot(0.010, 0.22 / 22.0))
    display = speed_held(None, peaks, wind_mps=0.0)
    # a display's peak is 2.5 % above what was held (common practice, no source)
    assert (display.reading.value, display.reading.instrument) == (pytest.approx(24.6 / 1.025), "wrist")
    assert speed_held(None, Peaks()) is None


def test_wind_and_a_lifted_trigger_leave_a_pass_open():
    """Of 5 m/s of wind a fifth, 1 m/s of 20, is the error of one pass (common practice, no source)."""
    track = TrackSpeeds(best_2s=20.0)
    calm, windy = (speed_held(track, Peaks(), wind_mps=wind).reading.spread for wind in (0.0, 5.0))
    assert calm == pytest.approx(0.010)
    assert windy == pytest.approx(math.hypot(0.010, 0.05))
    assert speed_held(track, Peaks()).reading.spread == pytest.approx(math.hypot(0.010, 0.010)), "nobody wrote it down"
    lifted = speed_held(track, Peaks(), wind_mps=0.0, feathered=True).reading.spread
    assert lifted == pytest.approx(math.hypot(0.010, 0.06))
    both = TrackSpeeds(both_ways=20.0)
    assert speed_held(both, Peaks(), wind_mps=9.0).reading.spread == pytest.approx(0.006), "both ways take it out"
    ways = speed_held(None, Peaks(ways=(20.0, 21.0)), wind_mps=9.0)
    assert ways.reading.spread < 0.02


@given(low=st.floats(-50, 50), wide=st.floats(0.1, 50), part=st.floats(-1, 2))
def test_a_reading_lies_in_a_band_or_not(low, wide, part):
    told = Prediction(value=low + wide / 2, spread=wide, low=low, high=low + wide)
    read = low + part * wide
    assert told.holds(read) is (low <= read <= low + wide)
    assert not Prediction(value=math.nan, spread=1.0, low=math.nan, high=math.nan).holds(read)
