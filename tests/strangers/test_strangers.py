"""Strangers' files are read right, or asked about; none comes in wrong without a word."""

import numpy as np
import pytest

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.documents.columns import ROLES_OF, Role
from kunstflug.files.columns import proposals
from kunstflug.files.mapped_csv import look, read_sure_track
from tests.strangers.files import DEVICES, strangers
from tests.strangers.judge import Outcome, counted


@pytest.mark.parametrize(("seed", "sealed", "unasked"), [(1, False, 0.9), (777, True, 0.85)])
def test_none_is_silently_wrong(seed, sealed, unasked):
    """144 files in all, a third of them with words that were kept back; answers are among the options."""
    files = strangers(96 if not sealed else 48, seed, sealed=sealed)
    count, told = counted(files)
    assert count[Outcome.WRONG] == 0, told
    assert count[Outcome.UNASKED] >= unasked * len(files), told
    assert count[Outcome.UNASKED] + count[Outcome.ONE] >= 0.95 * len(files), told
    assert count[Outcome.REFUSED] + count[Outcome.UNREADABLE] == 0, told


def test_the_judge_sees_what_is_wrong(monkeypatch):
    """A reading engine that takes every speed for metres a second is found out."""
    monkeypatch.setattr("kunstflug.files.columns.unit_in", lambda heading, unit="": "")
    monkeypatch.setattr("kunstflug.files.mapped_csv.speed_unit_by_the_way", lambda speed, way: ("m/s", True))
    count, _ = counted([one for one in strangers(32, 1) if one.device == "phone"])
    assert count[Outcome.WRONG] > 0


@pytest.mark.parametrize("device", DEVICES)
def test_what_is_not_sure_names_its_options(device):
    for stranger in strangers(48, 9):
        if stranger.device != device:
            continue
        for found in look(stranger.data).proposals:
            assert found.sure == (not found.options)
            assert found.sure or found.options[0].role is found.role
            assert found.sure or len(set(found.options)) == len(found.options) > 1


def column(heading: str, cells: list[str]):
    numbers = np.array([float(cell) for cell in cells])
    clock = [f"{k / 10}" for k in range(len(cells))]
    return proposals(["time (s)", heading], ["", ""], [clock, cells], [np.arange(len(cells)) / 10, numbers])[1]


@pytest.mark.parametrize(
    ("heading", "cells", "units"),
    [
        ("Current", ["12", "140", "420"], ["A", "dA"]),  # 420 A, or 42.0 A in tenths
        ("Current", ["1.25", "14.31", "42.10"], []),
        ("Voltage", ["1620", "1580", "1490"], []),  # only hundredths can be a pack's volts
        ("Voltage (V)", ["16200", "15800", "14900"], ["mV"]),  # what is told cannot be
        ("eRPM", ["30000", "90000", "120000"], ["field, 4 poles", "field, 6 poles"]),
        ("Motor temp", ["50", "55", "61"], ["degF", "degC"]),  # warm from a run before, or a cold day
        ("Motor temp", ["21", "35", "61"], []),
    ],
)
def test_units_that_values_leave_open_are_asked(heading, cells, units):
    found = column(heading, [cell for cell in cells for _ in range(12)])
    assert found.sure == (not units)
    assert {option.unit for option in found.options} >= set(units)


def test_a_word_that_nobody_knows_is_asked_about_and_not_dropped():
    found = column("Zorble", [str(20 + k) for k in range(36)])
    assert not found.sure
    assert found.role is None
    assert {option.role for option in found.options} & ROLES_OF["log"]
    assert column("Satellites", [str(6 + k % 3) for k in range(36)]).sure


@pytest.mark.parametrize(
    ("cell", "degrees"),
    [
        ("47°21'12.6\"N", 47.3535), ("8°32.5'W", -8.541667), ("N 47° 21.21'", 47.3535), ("33.5°S", -33.5),
        ("47°59'60.000\"N", 48.0),
    ],
)  # fmt: skip
def test_angles_as_people_write_them(cell, degrees):
    lines = ["time;lat;lon", *(f"{k};{cell};8°0'{k / 10:.2f}\"E" for k in range(30))]
    seen = look("\n".join(lines).encode())
    assert seen.proposals[1].role is Role.LATITUDE
    np.testing.assert_allclose(seen.columns[1], degrees, atol=1e-6)


def test_a_track_is_read_without_a_page_only_where_nothing_is_open():
    """The plainest file is not asked about; one whose height may be anything is named."""
    lines = ["time,lat,lon,speed (m/s)", *(f"{k},47.{310000 + 90 * k},8.5,10.0" for k in range(60))]
    data = "\n".join(lines).encode()
    assert all(found.sure for found in look(data).proposals)
    assert read_sure_track(data).samples.receiver_speed_mps[5] == pytest.approx(10.0)
    odd = "\n".join(f"{line},{'Zorble' if k == 0 else k % 7}" for k, line in enumerate(lines)).encode()
    with pytest.raises(UnreadableFile, match="Zorble"):
        read_sure_track(odd)
