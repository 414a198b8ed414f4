"""A duty in words."""

import pytest

from kunstflug.core.thermal.duty import Kind
from kunstflug.wording.duty import say_duty


@pytest.mark.parametrize(
    ("kind", "passes", "words"),
    [
        (Kind.PASSES, 4, "4 passes of 6.5 s"),
        (Kind.PASSES, 1, "one pass of 6.5 s"),
        (Kind.LAP_RACE, 4, "a lap race of 6 min"),
        (Kind.TUB_TEST, 4, "a tub test of 6 min"),
    ],
)
def test_it_is_said_as_a_racer_would(kind, passes, words):
    assert say_duty(kind, passes, 6.5, 6.0) == words
