"""A current is held against the power and the charge beside it: they settle its unit, or doubt it."""

import numpy as np
import pytest

from kunstflug.documents.columns import UNITS, Role
from kunstflug.files.columns import Option, Proposal
from kunstflug.files.mapped_csv import look

TIME = np.arange(0.0, 60.0, 0.2)
AMPS = 45 + 35 * np.sin(TIME / 4) + 3 * np.sin(TIME * 3)
VOLTS = 15.6 - AMPS / 90
USED = np.cumsum(AMPS) * 0.2 / 3.6
SAID = {"watts": "Power (W)", "mah": "Used (mAh)", "left": "Used (mAh)"}


def table(heading: str, factor: float, *beside: str, clock: float = 1.0):
    """What is made of a current that is written ``factor`` times its amperes."""
    more = {"watts": AMPS * VOLTS, "mah": USED, "left": 5000 - USED}
    headings = ["Time (s)", "Voltage (V)", heading, *(SAID[name] for name in beside)]
    columns = [TIME * clock, VOLTS, AMPS * factor, *(more[name] for name in beside)]
    rows = [",".join(f"{value:.3f}" for value in row) for row in zip(*columns, strict=True)]
    return look("\n".join([",".join(headings), *rows]).encode()).proposals[2]


@pytest.mark.parametrize("beside", ["watts", "mah"])
@pytest.mark.parametrize("unit", UNITS[Role.CURRENT])
def test_a_current_without_a_unit_has_the_one_that_agrees(beside, unit):
    factor = UNITS[Role.CURRENT][unit][0]
    assert table("Current", 1 / factor, beside) == Proposal(role=Role.CURRENT, unit=unit, sure=True)


@pytest.mark.parametrize("beside", ["watts", "mah"])
def test_a_current_whose_unit_is_denied_is_asked_about(beside):
    found = table("Current (A)", 10.0, beside)
    assert not found.sure
    assert found.options[:2] == (Option(role=Role.CURRENT, unit="dA"), Option(role=Role.CURRENT, unit="A"))


def test_what_is_left_of_a_pack_and_a_power_that_is_none_say_nothing():
    assert table("Current (A)", 1.0, "left").sure
    assert table("Current (A)", 1.0).sure
    assert table("Current (A)", 1.0, "watts", "mah").sure


def test_instruments_that_differ_by_a_fifth_are_no_question():
    assert table("Current (A)", 1.2, "watts").sure
    assert table("Current (A)", 0.8, "mah").sure
