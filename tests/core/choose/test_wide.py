"""A search in pieces is the search in one, in whatever order they are done and wherever that is."""

import numpy as np
import pytest
from tests.samples import setup

from kunstflug.core.choose.sweep import AXES, ranges_about, sweep
from kunstflug.core.choose.wide import fronts_of, merged, narrowed, pieces_of
from kunstflug.core.drive.forecast import doubts_of_uses
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.drive.verdict import ORDER, Verdict

RANGES = ranges_about(
    setup(), kv=np.linspace(1500, 3200, 9), diameter=np.linspace(0.036, 0.05, 7), cells=np.arange(3.0, 7.0),
    mass_factor=np.array([0.9, 1.0, 1.1]),
)  # fmt: skip


@pytest.fixture(scope="module")
def whole():
    return sweep(setup(), RANGES, doubts=doubts_of_uses(setup(), USUAL))


@pytest.mark.parametrize("most", [1, 5, 40, 10_000])
def test_pieces_make_the_whole_and_no_drive_twice(most):
    pieces = list(pieces_of(setup(), RANGES, USUAL, most))
    assert [p.first for p in pieces] == np.cumsum([0, *(p.ranges.count for p in pieces)])[:-1].tolist()
    assert sum(p.ranges.count for p in pieces) == RANGES.count
    assert all(p.ranges.count <= most for p in pieces)
    if most == 5:
        seen = {
            key
            for p in pieces
            for key in np.stack(np.meshgrid(*[getattr(p.ranges, a) for a in AXES]), -1).reshape(-1, len(AXES)).tobytes()
            .hex(" ", 8 * len(AXES)).split()
        }  # fmt: skip
        assert len(seen) == RANGES.count


@pytest.mark.parametrize("most", [30, 200, 10_000])
def test_what_is_left_of_pieces_is_what_nobody_beats_in_the_whole(whole, most):
    parts = [narrowed(piece) for piece in pieces_of(setup(), RANGES, USUAL, most)]
    np.random.default_rng(most).shuffle(parts)
    found, front = merged(parts), fronts_of(whole)
    for name in ("speed_mps", "use", "run_s", "kv_rpm_per_v", "cells", "mass_kg"):
        np.testing.assert_array_equal(getattr(found.rows, name), getattr(whole, name)[front])
    assert found.tried == RANGES.count
    assert found.holding == np.sum(whole.verdict == ORDER.index(Verdict.HOLDS))
    assert len(found.cloud.speed_mps) == np.sum(whole.verdict != ORDER.index(Verdict.NONE))
