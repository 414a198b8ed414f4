"""Dates and times of day as files write them; by the calendar."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.files.makers import rows
from tests.files.test_readers import pond

from kunstflug.documents.columns import ColumnChoice, Role
from kunstflug.files.mapped_csv import look, read_mapped_track
from kunstflug.files.moments import Order, moment_of, order_of, seconds_of

INSTANTS = st.datetimes(datetime(2001, 1, 1), datetime(2060, 1, 1)).map(lambda t: t.replace(microsecond=0))


@pytest.mark.parametrize(
    ("cell", "seconds"),
    [
        ("1:05:00 PM", 47100.0), ("12:00:00 AM", 0.0), ("12:30:00 pm", 45000.0), ("1:05:00.3 p.m.", 47100.3),
        ("13:05:00", 47100.0), ("13:05:00,25", 47100.25), ("5:10", 310.0), ("1:05 PM", 47100.0),
        ("13:05:00:250", 47100.25),
    ],
)  # fmt: skip
def test_times_of_day(cell, seconds):
    """13:05 became 01:05, and tenths were lost."""
    assert seconds_of(cell) == pytest.approx(seconds)


@pytest.mark.parametrize("cell", ["13:05:00 PM", "noon", "", "1:2:3:4:5", "0:30 AM"])
def test_what_is_no_time_of_day(cell):
    assert seconds_of(cell) != seconds_of(cell)


@pytest.mark.parametrize(
    ("cells", "order"),
    [
        (["07/03/2026"], Order.EITHER), (["07/25/2026"], Order.MONTH_FIRST), (["25/07/2026"], Order.DAY_FIRST),
        (["07/03/2026", "07/14/2026"], Order.MONTH_FIRST), (["07.03.2026"], Order.DAY_FIRST),
        (["2026/07/03"], Order.DAY_FIRST),
    ],
)  # fmt: skip
def test_which_number_is_the_day(cells, order):
    assert order_of(cells) is order


@given(INSTANTS)
def test_every_way_to_write_an_instant_is_that_instant(at):
    true = at.replace(tzinfo=UTC).timestamp()
    for form in (
        "%Y-%m-%d %H:%M:%S",
        "%d.%m.%Y %H:%M:%S",
        "%d/%m/%Y %H:%M:%S",
        "%d.%m.%y, %H:%M:%S",
        "%Y/%m/%dT%H:%M:%S",
    ):
        assert moment_of(at.strftime(form)) == true, form
    for form in ("%m/%d/%Y %H:%M:%S", "%m/%d/%Y %I:%M:%S %p"):
        assert moment_of(at.strftime(form), month_first=True) == true, form
    assert moment_of(at.strftime("%d.%m.%Y %H:%M:%S") + ",3") == pytest.approx(true + 0.3)


@pytest.mark.parametrize("cell", ["31/02/2026 10:00:00", "", "hello", "99/99/9999", "07/25/2026 10:00:00"])
def test_what_is_no_date(cell):
    assert moment_of(cell) != moment_of(cell)


def evening(when: datetime, day: int) -> datetime:
    """An instant of the track, which runs past midnight, some hours before and on another day."""
    return (when - timedelta(hours=5)).replace(month=7, day=day)


def american(day: int) -> bytes:
    """A track in American dates; all on one day."""
    lines = ["Date,Time,Latitude,Longitude"]
    for when, a, o, _ in rows(pond()):
        at = evening(when, day)
        lines.append(f"{at:%m/%d/%Y},{at:%I:%M:%S}.{at.microsecond // 100000} {at:%p},{a:.7f},{o:.7f}")
    return "\n".join(lines).encode()


def test_a_date_that_may_be_read_twice_is_asked_about():
    """07/03 was read as 7 March, marked sure; 07/25 was refused without a choice."""
    by_role = {p.role: p for p in look(american(3)).proposals}
    assert not by_role[Role.DATE].sure
    told = {p.role: p for p in look(american(25)).proposals}
    assert (told[Role.DATE].unit, told[Role.DATE].sure) == ("date, month first", True)


@pytest.mark.parametrize("day", [3, 25])
def test_an_american_track_is_of_its_day(day):
    units = {Role.DATE: "date, month first", Role.TIME: "clock", Role.LATITUDE: "deg", Role.LONGITUDE: "deg"}
    choices = [ColumnChoice(column=k, role=role, unit=unit) for k, (role, unit) in enumerate(units.items())]
    found = read_mapped_track(american(day), choices).samples
    first = evening(next(rows(pond()))[0], day)
    assert found.start_unix_s == pytest.approx(first.timestamp(), abs=0.11)
