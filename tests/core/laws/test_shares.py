"""Rows worked on in shares and pieces: every row once, in order, on threads that do not wait for each other."""

import threading

import numpy as np
import pytest

from kunstflug.core.laws import shares


@pytest.fixture(params=[1, 2, 5])
def cores(request, monkeypatch):
    monkeypatch.setattr(shares, "cores", lambda: request.param)
    return request.param


@pytest.mark.parametrize("rows", [0, 1, 9, 10, 11, 100, 101])
def test_every_row_is_in_one_share(cores, rows):
    seen = np.zeros(rows, int)

    def run(at):
        seen[at] += 1

    shares.in_shares(rows, 10, run)
    assert np.all(seen == 1)


def test_few_rows_stay_in_the_thread_that_asked(cores):
    threads = []
    shares.in_shares(19, 10, lambda at: threads.append(threading.current_thread()))
    assert threads == [threading.current_thread()]


@pytest.mark.parametrize("rows", [1, 24, 25, 26, 260])
def test_pieces_come_in_order(cores, rows):
    made = list(shares.pieces(lambda at: np.arange(at.start, at.stop), rows, 25))
    assert max(len(one) for one in made) <= 25
    assert np.array_equal(np.concatenate(made), np.arange(rows))


def test_no_more_pieces_are_begun_than_there_are_cores(cores):
    begun = []
    got = shares.pieces(lambda at: begun.append(at.start), 1000, 10)
    next(got)
    assert len(begun) <= cores


def test_a_share_within_a_piece_waits_for_nobody(cores):
    def piece(at):
        seen = np.zeros(100, int)

        def run(share):
            seen[share] += 1

        shares.in_shares(100, 10, run)
        return int(seen.sum())

    assert list(shares.pieces(piece, 400, 10)) == [100] * 40


def test_what_fails_in_a_share_fails_where_it_was_asked(cores):
    def run(at):
        if at.stop == 100:
            raise ValueError("the last row")

    with pytest.raises(ValueError, match="the last row"):
        shares.in_shares(100, 10, run)
    with pytest.raises(ValueError, match="the last row"):
        list(shares.pieces(run, 100, 10))


@pytest.mark.parametrize("count", [0, 3, shares.LEAST_THINGS, 40])
def test_things_side_by_side_come_in_order_and_share_out_no_further(cores, count):
    def run(k):
        inside = []
        shares.in_shares(100, 10, inside.append)
        return k, len(inside)

    found = list(shares.side_by_side(run, list(range(count))))
    assert [k for k, _ in found] == list(range(count))
    if count >= shares.LEAST_THINGS:
        assert {parts for _, parts in found} == {1}  # a helper waits for no other
