"""A boat's log that counts its charge is no charger's; what numbers do not tell is asked."""

import numpy as np
import pytest

from kunstflug.documents.columns import Role
from kunstflug.files.columns import Proposal
from kunstflug.files.kinds import kind_in
from kunstflug.files.mapped_csv import look

RNG = np.random.default_rng(4)
TIME = np.arange(300.0)
PASSES = 60 + 50 * np.sign(np.sin(TIME / 9)) + RNG.normal(0, 1, 300)
TAPER = np.minimum(5.0, 5.0 * np.exp(-(TIME - 200) / 40)) + RNG.normal(0, 0.02, 300)


def table(**columns: np.ndarray):
    proposals = [Proposal(role=Role(name), unit="", sure=True) for name in columns]
    return kind_in(proposals, list(columns.values()))


@pytest.mark.parametrize(
    ("current", "volts", "kind", "sure"),
    [
        (PASSES, 16.4 - TIME / 200, "log", True),
        (PASSES, None, "log", True),
        (TAPER, 15.0 + TIME / 200, "charge", True),
        (np.full(300, 5.0), 15.0 + TIME / 200, "charge", True),
        (PASSES * (TIME < 200), 16.4 - TIME / 600 - PASSES * 0.01 * (TIME < 200), "log", True),  # at rest at its end
        (5.0 * (TIME % 20 < 15), 15.0 + TIME / 200 + 0.2 * (TIME % 20 < 15), "charge", False),  # in pulses
        (np.full(300, 5.0), 16.4 - TIME / 200, "charge", False),  # a charger that empties a pack, or a boat held
        (None, 15.0 + TIME / 200, "charge", True),
        (None, 16.4 - TIME / 200, "charge", False),
    ],
)
def test_volts_and_amperes_tell_a_drive_from_a_charge(current, volts, kind, sure):
    told = {"time": TIME, "charge": np.cumsum(np.abs(PASSES))}
    told |= {"current": current} if current is not None else {}
    told |= {"voltage": volts} if volts is not None else {}
    assert table(**told) == (kind, sure)


def test_the_last_cycle_of_a_charger_counts():
    charge = np.concatenate([np.linspace(0, 4000, 100), np.linspace(0, 3900, 200)])
    volts = np.concatenate([np.linspace(16.5, 14.0, 100), np.linspace(14.2, 16.8, 200)])
    assert table(time=TIME, charge=charge, voltage=volts, current=np.full(300, 4.0)) == ("charge", True)


def test_a_column_of_a_drives_meter_was_taken_for_a_chargers():
    rows = [f"{t:.1f}\t{16.4 - t / 200:.2f}\t{a:.1f}\t{t * 5:.0f}" for t, a in zip(TIME, PASSES, strict=True)]
    seen = look("\n".join(["t\tV\tA\tmAh", *rows]).encode())
    assert kind_in(seen.proposals, seen.columns) == ("log", True)
