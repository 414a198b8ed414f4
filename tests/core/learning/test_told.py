"""What is not known of an outing that was driven: against outings at random."""

import numpy as np
import pytest
from tests import samples

from kunstflug.core.learning.run_evidence import DutyFrom
from kunstflug.core.learning.spreads import DUTY_CHARGE, DUTY_RISE
from kunstflug.core.learning.told import told_duty
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.nodes import NODES, Node
from kunstflug.core.thermal.run import run_duty

READ = ((Node.CONTROLLER, 1.3), (Node.CASE, 1.6), (Node.PACK, 2.0))  # minutes after landing
BOATS = (
    samples.setup(),
    samples.setup(propeller__diameter={"value": 44, "unit": "mm"}),
    samples.setup(motor__kv={"value": 1500, "unit": "rpm/V"}),
)


def logs(setup, duty):
    """Logarithms of the rises over the water, and of the charge used."""
    run = run_duty(setup, duty, step_s=0.2, stride=3)
    places = [min(np.searchsorted(run.time_s, duty.landing_s + 60 * m), len(run.time_s) - 1) for _, m in READ]
    rises = [run.temperature_c[0, k, NODES.index(node)] for (node, _), k in zip(READ, places, strict=True)]
    return np.log([*(np.array(rises) - setup.conditions.water_c.value + 2.0), run.used_ah[0, -1]])


@pytest.fixture(scope="module")
def off():
    """Of what each kind of knowledge says, less what was: rises and charge of forty outings."""
    rng, found = np.random.default_rng(4), {told: [] for told in DutyFrom}
    for k in range(42):
        setup, passes = BOATS[k % len(BOATS)], int(rng.integers(3, 8))
        full, cool = round(rng.uniform(4, 8), 1), round(rng.uniform(20, 40), 1)
        was = passes_duty(passes, full, cool)
        minutes = round(was.landing_s / 30.0) / 2.0  # looked at to half a minute
        told = [told_duty(), told_duty(passes), told_duty(passes, minutes), (was, DutyFrom.TRACKED)]
        said = {duty_from: duty for duty, duty_from in told}
        assert list(said) == list(DutyFrom)
        real = logs(setup, was)
        for told, duty in said.items():
            found[told].append(logs(setup, duty) - real)
    return {told: np.sqrt(np.mean(np.square(rows), axis=0)) for told, rows in found.items()}


@pytest.mark.parametrize("told", DutyFrom)
def test_what_is_left_open_is_no_less_than_outings_differ_and_not_much_more(off, told):
    rise, charge = np.max(off[told][:3]), off[told][3]
    assert rise < DUTY_RISE[told]
    assert charge < DUTY_CHARGE[told]
    if told is not DutyFrom.TRACKED:  # of which the laws of the warm-up and the turns are left
        assert rise > 0.4 * DUTY_RISE[told]
        assert charge > 0.4 * DUTY_CHARGE[told]


def test_who_writes_down_more_leaves_less_open():
    for table in (DUTY_RISE, DUTY_CHARGE):
        assert list(table) == list(DutyFrom)
        assert sorted(table.values(), reverse=True) == list(table.values())


@pytest.mark.parametrize(
    ("said", "full_s", "cool_s", "passes", "duty_from"),
    [
        ({}, 6.0, 30.0, 4, DutyFrom.GUESSED),
        ({"pass_s": 9}, 9.0, 30.0, 4, DutyFrom.GUESSED),
        ({"passes": 6}, 6.0, 30.0, 6, DutyFrom.COUNTED),
        ({"minutes": 4}, 6.0, 30.0, 6, DutyFrom.COUNTED),  # (240 - 15) / 36 is 6.25
        ({"passes": 5, "minutes": 4}, 6.0, 39.0, 5, DutyFrom.TIMED),  # (240 - 15) / 5 - 6
        ({"passes": 20, "minutes": 0.5}, 6.0, 1.0, 20, DutyFrom.TIMED),  # nobody does; it is no fault
        ({"minutes": 0.1}, 6.0, 30.0, 1, DutyFrom.COUNTED),
        ({"minutes": 60}, 6.0, 30.0, 20, DutyFrom.COUNTED),
    ],
)
def test_the_duty_is_what_was_said_of_it(said, full_s, cool_s, passes, duty_from):
    assert told_duty(**said) == (passes_duty(passes, full_s, cool_s), duty_from)
