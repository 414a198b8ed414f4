"""A controller log laid beside a track: the shift that was put in is found; a stranger's log is not laid anywhere."""

import numpy as np
import pytest
from tests.core.tracks.truth import laps, logged

from kunstflug.core.tracks import analyse
from kunstflug.core.tracks.align import align, within
from kunstflug.core.tracks.log import ControllerLog


def log_of(truth, rng, begins_s, hz=10.0, seconds=None, column="rpm"):
    """What a controller logs of a boat from ``begins_s`` on, its own clock from 0."""
    stop = truth.time[-1] if seconds is None else begins_s + seconds
    at = np.arange(max(begins_s, 0.0), stop, 1 / hz)
    slip = 1 + 0.05 * rng.normal(size=len(at))
    values = np.interp(at, truth.time, truth.speed) * 900 * slip
    if column == "current_a":
        values = np.gradient(np.interp(at, truth.time, truth.speed)) * 10 + values / 900
    return ControllerLog(time_s=at - at[0], columns={column: values, "voltage_v": 16 - values / 40_000})


@pytest.mark.parametrize("begins_s", [0.0, 7.3, 31.0])
@pytest.mark.parametrize("doppler", [0.1, None])
def test_the_shift_is_found(begins_s, doppler):
    for seed in range(5):
        rng = np.random.default_rng(seed)
        truth = laps(rng, rng.uniform(15, 40))
        track = analyse(logged(rng, truth, 5, doppler=doppler)).track
        found = align(track, log_of(truth, rng, begins_s))
        assert found is not None
        assert found.begins_s == pytest.approx(begins_s, abs=0.3)
        assert found.match > 0.9


def test_a_log_that_began_before_the_receiver_and_one_of_currents():
    rng = np.random.default_rng(4)
    truth = laps(rng, 30.0)
    track = analyse(logged(rng, truth, 10, doppler=0.1).taken(np.arange(150, 500))).track
    whole = align(track, log_of(truth, rng, 0.0))
    assert whole is not None
    assert whole.begins_s == pytest.approx(0.0, abs=0.3)
    track = analyse(logged(rng, truth, 10, doppler=0.1)).track
    of_current = align(track, log_of(truth, rng, 10.0, column="current_a"))
    assert of_current is not None
    assert of_current.begins_s == pytest.approx(10.0, abs=1.5)  # a current comes before the speed it makes


def test_another_boats_log_is_laid_nowhere_and_a_still_one_neither():
    strange = 0
    for seed in range(10):
        rng = np.random.default_rng(seed)
        track = analyse(logged(rng, laps(rng, 30.0), 5, doppler=0.1)).track
        noise = np.cumsum(rng.normal(size=900))
        strange += align(track, ControllerLog(time_s=np.arange(900) / 10, columns={"rpm": noise})) is not None
        still = ControllerLog(time_s=np.arange(900) / 10, columns={"rpm": np.full(900, 5.0)})
        assert align(track, still) is None
    assert strange <= 5  # a random walk over 90 s can look like anything; a still one never
    assert align(track, ControllerLog(time_s=np.arange(900) / 10, columns={"voltage_v": np.ones(900)})) is None


def test_what_a_log_says_of_a_pass():
    log = ControllerLog(
        time_s=np.arange(100) + 50.0, columns={"current_a": np.arange(100.0), "rpm": np.full(100, np.nan)}
    )
    assert within(log, 10.0, 20.0, 30.0) == {"current_a": 15.0}  # the clock of a log begins at its first sample
    assert within(log, 10.0, 200.0, 210.0) == {}
