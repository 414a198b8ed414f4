"""The pond's boats have a best place for the pack that nobody is told."""

import numpy as np
from tests.samples import q, setup

from kunstflug.pond.world import World, out_of_trim


def test_there_is_one_best_place_for_the_pack():
    places = np.arange(100, 300, 5)
    speeds = [World(setup(placement={"pack": q(float(mm), "mm")}), 7).steady().speed_mps for mm in places]
    best = int(np.argmax(speeds))
    assert 0 < best < len(places) - 1
    assert np.all(np.diff(speeds[: best + 1]) > 0)
    assert np.all(np.diff(speeds[best:]) < 0)


def test_it_is_hidden_and_belongs_to_the_boat():
    one = setup(placement={"pack": q(180, "mm")})
    assert out_of_trim(one, 7) == out_of_trim(one, 7)
    assert len({round(out_of_trim(one, seed), 6) for seed in range(20)}) == 20
    assert out_of_trim(setup(), 7) == 1.0
