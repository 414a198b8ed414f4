"""How a pack ages, by packs that age by laws of their own."""

import math

import numpy as np
import pytest
from tests.pond.pack_worlds import Aged, aged

from kunstflug.core.bench.pack_life import (
    DOUBLED,
    LOST,
    Health,
    PackRun,
    Quantity,
    pack_life,
)
from kunstflug.core.bench.pack_readings import (
    capacity_read,
    charges_logged,
    resistance_logged,
    resistance_typed,
    state_of_charge,
)
from kunstflug.core.laws.cell import cell_ocv_v
from kunstflug.core.laws.electric import cold_factor
from kunstflug.core.parts.pack import Pack, resistance
from kunstflug.core.quantity.value import exact

NEW = Pack(cells=6, capacity_ah=exact(5.0), c_rating=exact(70.0))
PACKS = 60


def straight(count: int, rise: float, loss: float) -> list[PackRun]:
    return [
        PackRun(
            number=n,
            ratio={Quantity.RESISTANCE: (1.0 + rise * n, 0.15), Quantity.CAPACITY: (1.0 - loss * n, 0.06)},
        )
        for n in range(1, count + 1)
    ]


def test_nothing_read_is_nothing_known() -> None:
    assert pack_life([PackRun(number=1, ratio={})]).health is Health.UNKNOWN
    assert pack_life([]).health is Health.UNKNOWN


def test_one_reading_retires_no_pack() -> None:
    life = pack_life([PackRun(number=1, ratio={Quantity.RESISTANCE: (2.5, 0.2)})])
    assert life.health is Health.GOOD


def test_a_pack_that_lost_a_third_is_retired() -> None:
    life = pack_life(straight(60, 0.0, 0.006))
    assert life.health is Health.RETIRE
    assert life.left == (0, 0)
    assert life.courses[Quantity.CAPACITY].value[-1] == pytest.approx(0.64, rel=0.05)


def test_a_pack_near_its_limit_says_how_many_runs_are_left() -> None:
    life = pack_life(straight(100, 0.009, 0.0))
    assert life.health is Health.SOON
    assert life.left is not None
    assert life.left[0] <= 1.0 / 0.009 - 100 + 10 <= life.left[1] + 10


def test_a_fresh_pack_is_good() -> None:
    assert pack_life(straight(30, 0.001, 0.0005)).health is Health.GOOD


def test_one_wrong_number_turns_nothing() -> None:
    runs = straight(30, 0.001, 0.0005)
    wrong = PackRun(number=30, ratio={Quantity.CAPACITY: (0.1, 0.06), Quantity.RESISTANCE: (9.0, 0.15)})
    life = pack_life([*runs[:-1], wrong])
    assert life.health is Health.GOOD
    assert life.courses[Quantity.CAPACITY].value[-1] > 0.93


def test_a_weak_cell_retires_a_pack_when_it_is_read_again() -> None:
    def read(*apart: float) -> Health:
        return pack_life([PackRun(number=n, ratio={}, apart_v=v) for n, v in enumerate(apart, start=1)]).health

    assert read(0.01, 0.01, 0.09) is Health.UNKNOWN
    assert read(0.01, 0.085, 0.09) is Health.RETIRE


def test_state_of_charge_is_the_inverse_of_the_cells_curve() -> None:
    for soc in np.linspace(0.05, 1.0, 20):
        assert state_of_charge(float(cell_ocv_v(soc)))[0] == pytest.approx(soc, abs=0.003)


def test_capacity_is_what_went_out_over_the_part_of_the_charge() -> None:
    read = capacity_read(NEW, 2.0, (1.0, 0.0), (0.5, 0.0))
    assert read is not None
    assert read[0] == pytest.approx(4.0 / 5.0)
    assert capacity_read(NEW, 0.5, (1.0, 0.0), (0.9, 0.0)) is None


def test_a_typed_voltage_gives_the_resistance_it_was_made_with() -> None:
    ohm = 1.4 * resistance(NEW).value * float(cold_factor(40.0))
    volts = 6 * float(cell_ocv_v(0.7)) - ohm * 180.0
    read = resistance_typed(NEW, volts, 180.0, (0.7, 0.1), (40.0, 5.0))
    assert read is not None
    assert read[0] == pytest.approx(1.4, rel=1e-3)
    assert resistance_typed(NEW, 26.0, 180.0, (0.7, 0.1), (40.0, 5.0)) is None


def test_a_log_gives_the_resistance_and_the_capacity_it_was_made_with() -> None:
    time = np.arange(0.0, 240.0, 0.2)
    amps = np.where(
        (time > 20) & (time < 200) & (time % 30 < 8), 160.0, np.where((time > 20) & (time < 200), 20.0, 0.5)
    )
    out = np.concatenate([[0.0], np.cumsum(np.diff(time) * (amps[1:] + amps[:-1]) / 2.0)]) / 3600.0
    ohm = 1.3 * resistance(NEW).value * float(cold_factor(40.0))
    volts = 6 * np.asarray(cell_ocv_v(1.0 - out / 5.0)) - ohm * amps
    read = resistance_logged(NEW, time, volts, amps, 1.0, (40.0, 5.0))
    assert read is not None
    assert read[0] == pytest.approx(1.3, rel=0.01)
    charges = charges_logged(NEW, time, volts, amps)
    assert charges is not None
    capacity = capacity_read(NEW, *charges)
    assert capacity is not None
    assert capacity[0] == pytest.approx(1.0, rel=0.03)
    assert charges_logged(NEW, time, volts, np.where(amps < 1.0, 20.0, amps)) is None


def gone(pack: Aged) -> float:
    """How far a pack is past the nearer of its two limits [1]; 1 is at it."""
    return max(pack.resistance / pack.first_resistance / DOUBLED, LOST / pack.capacity)


@pytest.mark.parametrize("world", ["first", "second", "third", "fourth"])
def test_packs_of_other_laws(world: str) -> None:
    """The fourth world was asked once, at the end: the figures stand in docs/model.md."""
    inside: dict[Quantity, list[bool]] = {what: [] for what in Quantity}
    ours, last, right = [], [], []
    for seed in range(PACKS):
        pack = aged(world, seed)
        life = pack_life(pack.runs)
        for what, true in ((Quantity.RESISTANCE, pack.resistance), (Quantity.CAPACITY, pack.capacity)):
            course = life.courses.get(what)
            if course is None:
                continue
            inside[what].append(bool(course.low[-1] <= true <= course.high[-1]))
            ours.append(abs(math.log(course.value[-1] / true)))
            by_hand = [run.ratio[what][0] for run in pack.runs if what in run.ratio][-1]
            last.append(abs(math.log(by_hand / true)))
        if abs(gone(pack) - 1.0) > 0.1:
            right.append((life.health is Health.RETIRE) == (gone(pack) > 1.0))
    assert all(0.6 <= np.mean(kept) <= 0.97 for kept in inside.values()), inside
    assert np.mean(right) >= 0.9
    assert np.mean(ours) < 0.8 * np.mean(last)
