"""Draws of what is known of one boat, each on the laws: what a draw says of the setups that ran is what it stands for.

A draw of the normal posterior keeps to the readings only as far as the laws are straight. Each is moved until the laws
themselves say of every setup that ran what it said along the line, by the least move as the prior counts it
(randomised maximum likelihood; D. S. Oliver, A. C. Reynolds, N. Liu, Inverse Theory (2008), ch. 10): so the middle lies
in its own band. They are drawn boat by boat, in an order that no name, file or other boat changes.
"""

from collections.abc import Mapping, Sequence
from typing import Any, Final

import numpy as np

from kunstflug.core.learning.cases import Case
from kunstflug.core.learning.estimate import Indices, root_of
from kunstflug.core.learning.predict import steady_many
from kunstflug.core.learning.spreads import spread_of
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.narrowed import NarrowedCovariance
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.club import CLUB, Column
from kunstflug.core.setup.knowledge import RACER, Owner

DRAWS: Final = 128
SEED: Final = 907
MOST_SETUPS: Final = 40
MOVES: Final = 6
LONGEST: Final = 1.0  # in spreads before any run: no draw is moved farther at once
BEHIND: Final = 1e3
CLOSE: Final = 0.3  # of a reading's spread: how near the laws are brought to what a draw stands for
MOST_OFF: Final = 0.3  # of a logarithm, by which a draw is moved at once


def own_columns(
    boat: str, cases: Sequence[Case], columns: Mapping[Column, int], parts: Mapping[tuple[Owner, Any], str]
) -> Indices:
    """Places of the latents that bear on a boat, in an order that goes by what things are, not by what they are called.

    Parameters
    ----------
    columns : place of each latent.
    parts : key of each part that ran, by owner and description.
    """
    aboard = {thing for case in cases if case.run.boat == boat for thing in case.run.things.values()}
    rank: dict[str, tuple[int, str]] = {RACER: (0, ""), CLUB: (1, ""), boat: (2, "")}
    for (owner, part), thing in parts.items():
        if thing in aboard:
            rank[thing] = (3 + list(Owner).index(owner), repr(part))
    found = [(*rank[thing], thing, name, k) for (thing, name), k in columns.items() if thing in rank]
    return np.array([k for *_, k in sorted(found)], dtype=np.int64)


def drawn_of(
    boat: str, cases: Sequence[Case], within: Indices, latents: Array, covariance: NarrowedCovariance, m: int
) -> Array:
    """Draws of the things' latents less their mean, shape (DRAWS, m); 0 where they do not bear on the boat.

    Parameters
    ----------
    within : see ``own_columns``.
    latents : where the search ended, all of them.
    m : how many belong to things, those of a club that never ran included.
    """
    found = np.zeros((DRAWS, m))
    root = root_of(covariance.among(within, within))
    off = (root @ even_deviates(len(within), DRAWS, SEED)).T
    mine = _one_of_each_setup([case for case in cases if case.run.boat == boat and case.steady()])
    if mine:
        off = _on_the_laws(mine, within, latents, off)
    found[:, within] = off
    return found


def _one_of_each_setup(cases: Sequence[Case]) -> list[Case]:
    """One run of each setup, those that ran most often first."""
    groups: dict[int, list[Case]] = {}
    for case in cases:
        groups.setdefault(id(case.mixed), []).append(case)
    each = [(-len(group), min((repr((c.run.setup, c.run.readings)), k) for k, c in enumerate(group)), group)
            for group in groups.values()]  # fmt: skip
    return [group[first[1]] for _, first, group in sorted(each, key=lambda one: one[:2])[:MOST_SETUPS]]


def _on_the_laws(cases: Sequence[Case], within: Indices, latents: Array, off: Array) -> Array:
    m = len(latents) - cases[0].own.shape[1]
    ran = within < m
    slopes, spreads = [], []
    for case in cases:
        rows = case.steady()
        slope = np.zeros((len(rows), len(within)))
        slope[:, ran] = case.line(m)[1][np.ix_(rows, within[ran])]
        slopes.append(slope)
        spreads += [CLOSE * spread_of(case.run.readings[i], 1.0, case.run.setup.conditions) for i in rows]
    table = np.concatenate(slopes)
    gain = np.linalg.solve(table @ table.T + np.diag(np.square(spreads)), table).T
    stands_for = off @ table.T

    def left_of(tried: Array) -> tuple[Array, Array]:
        """What the laws lack of what draws stand for, and how bad that is."""
        z = np.repeat(latents[np.newaxis], 1 + len(tried), axis=0)
        z[1:, within[ran]] += tried[:, ran]
        logs = steady_many([c.base for c in cases], [c.mixed.names for c in cases], [c.at(z) for c in cases])
        said = np.concatenate([log[:, c.columns()] for log, c in zip(logs, cases, strict=True)], axis=1)
        lack = stands_for - (said[1:] - said[0])
        return np.nan_to_num(lack), np.sum(np.nan_to_num(lack / spreads, nan=BEHIND) ** 2, axis=1)

    moved, part = off, np.ones((len(off), 1))
    left, bad = left_of(moved)
    for _ in range(MOVES):
        step = np.clip(left, -MOST_OFF, MOST_OFF) @ gain.T
        step /= np.maximum(np.linalg.norm(step, axis=1, keepdims=True) / LONGEST, 1.0)
        tried = moved + part * step
        there, worse = left_of(tried)
        better = (worse < bad)[:, np.newaxis]
        moved, left, bad = np.where(better, tried, moved), np.where(better, there, left), np.minimum(worse, bad)
        part = np.where(better, 1.0, 0.5 * part)
    return moved
