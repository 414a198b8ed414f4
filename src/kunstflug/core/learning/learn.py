"""One posterior over all things of a racer, from all runs; what was said of each run then, and without it.

The latents are in ``core.setup.knowledge``. What belongs to a day, an instrument or a single run is a latent, too:
it is learnt with the rest and then left out, so that no thing is blamed for the wind of one Sunday.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive.values import parts_of
from kunstflug.core.learning.cases import Case, Memory, cases_of, latents_of, own_of, read_of
from kunstflug.core.learning.estimate import Estimate
from kunstflug.core.learning.search import draws_of, joined, searched
from kunstflug.core.learning.seen import Seen
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.knowledge import Knowledge, Latents, Owner


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What an estimate was made of; runs are judged from it when somebody asks."""

    cases: tuple[Case, ...]
    found: Estimate
    read: Array
    spread: Array
    weights: Array
    bought: tuple[Array, ...]
    m: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Learned:
    """What all runs taught.

    Parameters
    ----------
    mean, covariance : of the things' latents, shapes (m,) and (m, m).
    draws : of them, shape (S, m).
    taught_by : keys of the runs with each thing aboard.
    steps : of the estimate's last search.
    evidence : what it was made of, see ``judged``.
    """

    latents: Latents
    parts: Mapping[tuple[Owner, Any], str]
    mean: Array
    covariance: Array
    draws: Array
    taught_by: Mapping[str, tuple[str, ...]]
    steps: int
    evidence: Evidence

    def knowledge(self, boat: str) -> Knowledge:
        """What is known, as it counts in a boat; a boat that never ran has the racer's own experience."""
        return Knowledge(
            boat=boat,
            latents=self.latents,
            parts=self.parts,
            mean=self.mean,
            covariance=self.covariance,
            drawn=self.draws,
            runs=len(self.evidence.cases),
        )


def learn(runs: Sequence[Seen], memory: Memory | None = None) -> Learned:
    """What runs teach, in the order of their time.

    Parameters
    ----------
    memory : of an earlier call; runs that are in it are not worked out anew.
    """
    memory = Memory() if memory is None else memory
    bases = [memory.base(run) for run in runs]
    latents = latents_of(runs, bases)
    m = len(latents.columns)
    own = own_of(runs, m)
    width = m + len(own.columns)
    cases = cases_of(runs, latents, own, width, m, memory)
    bought = [case.line(m)[0] for case in cases]
    read, spread = read_of(cases, bought)
    kept = np.flatnonzero(np.isfinite(read) & np.isfinite(joined(bought)))
    found = searched(cases, read, spread, kept, [*latents.columns, *own.columns], m, memory)
    return _learned(cases, found, kept, read, spread, bought, latents, m)


def _learned(
    cases: Sequence[Case],
    found: Estimate,
    kept: npt.NDArray[np.int64],
    read: Array,
    spread: Array,
    bought: Sequence[Array],
    latents: Latents,
    m: int,
) -> Learned:
    weights = np.ones(len(read))
    weights[kept] = found.weights
    parts: dict[tuple[Owner, Any], str] = {}
    taught: dict[str, list[str]] = {}
    for case in cases:
        for owner, part in parts_of(case.run.setup).items():
            if owner in case.run.things:
                parts[owner, part] = case.run.things[owner]
        for thing in (case.run.boat, *case.run.things.values()):
            taught.setdefault(thing, []).append(case.run.key)
    return Learned(
        latents=latents,
        parts=parts,
        mean=found.mean[:m],
        covariance=found.covariance[:m, :m],
        draws=draws_of(cases, found, m),
        taught_by={thing: tuple(keys) for thing, keys in taught.items()},
        steps=found.steps,
        evidence=Evidence(
            cases=tuple(cases), found=found, read=read, spread=spread, weights=weights, bought=tuple(bought), m=m
        ),
    )
