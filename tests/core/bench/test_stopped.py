"""Fault finding by swaps: what is asked next, and that it gets there on boats whose fault is known."""

import random

import pytest

from kunstflug.core.bench.stopped import CURED, PRIOR, SEEN, Sign, Suspect, next_swap, suspects


def test_chances_are_chances():
    assert sum(PRIOR.values()) == pytest.approx(1.0)
    found = suspects([Sign.SMELLS], {Suspect.PACK: False})
    assert sum(c.chance for c in found) == pytest.approx(1.0)
    assert [c.suspect for c in found if c.swapped] == [Suspect.PACK]
    assert {s for row in SEEN.values() for s in row} <= set(Suspect)


@pytest.mark.parametrize(
    ("signs", "first"),
    [
        ([], Suspect.LEADS),
        ([Sign.MOTOR_SCREAMS], Suspect.DRIVE_LINE),
        ([Sign.BEEPS, Sign.FAR_AWAY], Suspect.RADIO),
        ([Sign.SMELLS, Sign.RUNS_AGAIN], Suspect.CONTROLLER),
        ([Sign.DEAD], Suspect.LEADS),
    ],
)
def test_what_was_seen_points_at_the_usual_cause(signs, first):
    assert suspects(signs, {})[0].suspect is first


def test_a_part_that_cures_it_is_found_and_one_that_does_not_is_cleared():
    found = suspects([], {Suspect.CONTROLLER: True})
    assert found[0].suspect is Suspect.CONTROLLER
    assert next_swap(suspects([Sign.SMELLS], {Suspect.CONTROLLER: True})) is None
    cleared = suspects([], {Suspect.LEADS: False})
    assert next(c.chance for c in cleared if c.suspect is Suspect.LEADS) < 0.05


def swaps_needed(guilty, seed=1, boats=200):
    """Swaps until a known fault is found, on average; one that is found wrongly counts nine."""
    rng, counts = random.Random(seed), []
    for _ in range(boats):
        signs = [s for s in Sign if rng.random() < 0.5 * SEEN[s].get(guilty, 0.02)]
        swaps: dict[Suspect, bool] = {}
        while (part := next_swap(suspects(signs, swaps))) is not None:
            swaps[part] = rng.random() < (CURED if part is guilty else 0.02)
        found = suspects(signs, swaps)
        counts.append(len(swaps) if found[0].suspect is guilty else 9)
    return sum(counts) / boats


def test_one_part_at_a_time_gets_there():
    """Swapping in a fixed order needs four swaps on average, whatever was seen."""
    needed = {guilty: swaps_needed(guilty) for guilty in Suspect}
    assert sum(PRIOR[guilty] * n for guilty, n in needed.items()) < 3.0
    assert max(needed.values()) < 5.5
