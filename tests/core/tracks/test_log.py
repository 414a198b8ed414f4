"""What a controller's log says of full throttle, by hand."""

import math

import numpy as np
import pytest

from kunstflug.core.tracks.log import ControllerLog, log_numbers


def log(**columns):
    return ControllerLog(
        time_s=np.arange(40) * 0.5, columns={k: np.asarray(v, dtype=float) for k, v in columns.items()}
    )


def halves(a, b):
    return np.repeat([a, b], 20)


@pytest.mark.parametrize(("throttle", "counts"), [(100.0, True), (96.0, True), (94.0, False), (60.0, False)])
def test_full_throttle_is_what_a_radio_gives_with_its_end_points(throttle, counts):
    """From 95 % on (common practice, no source)."""
    found = log_numbers(log(throttle_percent=halves(throttle, 100.0), current_a=halves(50.0, 100.0)))
    assert found.current_a == pytest.approx(75.0 if counts else 100.0)


def test_without_a_throttle_most_of_the_highest_current_counts():
    assert log_numbers(log(current_a=halves(70.0, 100.0))).current_a == pytest.approx(100.0)
    assert log_numbers(log(current_a=halves(85.0, 100.0))).current_a == pytest.approx(92.5)


def test_of_the_turning_the_fastest_is_held():
    found = log_numbers(log(throttle_percent=halves(100, 100), rpm=halves(20_000, 28_000), current_a=halves(140, 100)))
    assert (found.rpm, found.current_a) == (28_000, 100.0), "while it comes up it draws more and turns less"


def test_charge_is_current_by_time_and_a_log_with_a_hole_has_none():
    """36 A for 19.5 s are 195 mAh."""
    assert log_numbers(log(current_a=np.full(40, 36.0))).mah == pytest.approx(195.0)
    broken = ControllerLog(time_s=np.append(np.arange(39) * 0.5, 60.0), columns={"current_a": np.full(40, 36.0)})
    assert math.isnan(log_numbers(broken).mah)
