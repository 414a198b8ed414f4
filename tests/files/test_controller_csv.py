"""Controller logs as CSV: what is read, named by its line, or refused."""

import numpy as np
import pytest

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.files.controller_csv import read_controller_csv, write_controller_csv
from kunstflug.files.reading import MOST_DAMAGES


def a_log(count=30):
    time = np.round(np.arange(count) * 0.1, 2)
    return ControllerLog(
        time_s=time, columns={"current_a": np.round(50 + time, 1), "rpm": np.round(20000 + 100 * time)}
    )


def test_controller_log_round_trip():
    read = read_controller_csv(write_controller_csv(a_log()))
    back = read.log
    assert not read.damages
    np.testing.assert_allclose(back.time_s, a_log().time_s)
    np.testing.assert_allclose(back.columns["rpm"], a_log().columns["rpm"])


def test_semicolons_gaps_and_columns_nobody_knows():
    text = "Time_s;note;current_a\n" + "\n".join(f"{k};x;{k * 2 if k != 3 else ''}" for k in range(8))
    read = read_controller_csv(text.encode())
    log = read.log
    assert not read.damages
    assert np.isnan(log.columns["current_a"][3])
    assert log.columns["current_a"][4] == 8


def test_a_broken_row_is_named_by_its_line():
    lines = write_controller_csv(a_log()).decode().splitlines()
    lines[7] = "0.6,lots,20000"
    read = read_controller_csv("\n".join(lines).encode())
    assert len(read.log.time_s) == 29
    assert read.damages[0].line == 8


@pytest.mark.parametrize(
    ("row", "reason"),
    [
        ("0.6,1000000,20000", "current_a is 1e+06; -200 to 2000 is possible"),
        ("0.6,60,-5", "rpm is -5"),
        ("0.2,60,20000", "the clock goes back by 0.3 s"),
        ("0.5,60,20000", "the same time twice"),
        ("nan,60,20000", "no time"),
        ("0.6,inf,20000", "current_a is inf"),
    ],
)
def test_a_row_that_cannot_be_true_is_named_and_left_out(row, reason):
    lines = write_controller_csv(a_log()).decode().splitlines()
    lines[7] = row
    read = read_controller_csv("\n".join(lines).encode())
    assert (len(read.log.time_s), read.broken) == (29, 1)
    assert reason in read.damages[0].reason


def test_decimal_commas_tabs_and_other_line_ends():
    semicolons = read_controller_csv(b"time_s;current_a\r\n" + b"".join(b"%d,5;%d,25\r\n" % (k, k) for k in range(8)))
    np.testing.assert_allclose(semicolons.log.columns["current_a"], np.arange(8) + 0.25)
    old = read_controller_csv(b"time_s\tcurrent_a\r" + b"".join(b"%d\t%d\r" % (k, k) for k in range(8)))
    np.testing.assert_allclose(old.log.time_s, np.arange(8))


def test_a_log_of_bad_lines_only_keeps_the_first_of_them():
    with pytest.raises(UnreadableFile, match="line 2"):
        read_controller_csv(b"time_s,current_a\n" + b"x\n" * 200_000)  # given up after the first ten thousand
    many = read_controller_csv(b"time_s,rpm\n" + b"".join(b"%d,1\n" % k for k in range(9)) + b"x,x\n" * 50_000)
    assert many.broken == 50_000
    assert len(many.damages) == MOST_DAMAGES


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"a,b\n1,2\n",
        b"time_s,current_a\n1,2\n",
        b"\xff\xfe\x00time_s",
        b"time_s,current_a\n" + b"x,y\n" * 9,
        b"\xef\xbb\xbf",  # a byte-order mark only
        b"\r\r\r",
        b"time_s,rpm\n" + b"1" * 140_000 + b",2\n",  # a cell longer than the csv module takes
        b"time_s,rpm\n\x00\x00",
    ],
)
def test_what_is_no_controller_log_is_refused(data):
    with pytest.raises(UnreadableFile):
        read_controller_csv(data)
