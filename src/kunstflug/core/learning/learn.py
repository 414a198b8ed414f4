"""One posterior over all things of a racer, from all runs; what was said of each run then, and without it.

The latents are in ``core.setup.knowledge``. What belongs to a day, an instrument or a single run is a latent, too:
it is learnt with the rest and then left out, so that no thing is blamed for the wind of one Sunday.
"""

import dataclasses
import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive import MODEL_VERSION
from kunstflug.core.drive.family import parts_of
from kunstflug.core.learning.cases import Case, Memory, cases_of, latents_of, own_of, read_of
from kunstflug.core.learning.estimate import Estimate
from kunstflug.core.learning.search import DRAWS, SEED, draws_of, joined, searched
from kunstflug.core.learning.seen import Seen
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.narrowed import Narrowed
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.club import Club
from kunstflug.core.setup.knowledge import Knowledge, Latents, Owner


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What an estimate was made of; runs are judged from it when somebody asks.

    Parameters
    ----------
    centre : of all latents before any run, shape (p,).
    found : of all latents, where the search ended.
    m : how many of them belong to things.
    """

    cases: tuple[Case, ...]
    found: Array
    read: Array
    spread: Array
    weights: Array
    bought: tuple[Array, ...]
    centre: Array
    m: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Learned:
    """What all runs taught.

    Parameters
    ----------
    mean, covariance : of the things' latents, for m of them.
    draws : of them, shape (S, m).
    taught_by : keys of the runs with each thing aboard.
    steps : of the estimate's last search.
    evidence : what it was made of, see ``judged``.
    identity : of the runs and the club that taught.
    """

    latents: Latents
    parts: Mapping[tuple[Owner, Any], str]
    mean: Array
    covariance: Narrowed
    draws: Array
    taught_by: Mapping[str, tuple[str, ...]]
    steps: int
    evidence: Evidence
    identity: str
    _of_boats: dict[str, Knowledge] = field(default_factory=dict, init=False, repr=False, compare=False)

    def knowledge(self, boat: str = "") -> Knowledge:
        """What is known, as it counts in a boat; a boat that never ran has the racer's own experience.

        The same object each time: what was computed with it is found again.

        Parameters
        ----------
        boat : its key; empty for one that is not kept yet.
        """
        made = self._of_boats.get(boat)
        if made is None:
            made = Knowledge(
                boat=boat,
                latents=self.latents,
                parts=self.parts,
                mean=self.mean,
                covariance=self.covariance,
                drawn=self.draws,
                runs=len(self.evidence.cases),
                runs_here=len(self.taught_by.get(boat, ())),
                identity=self.identity,
            )
        return self._of_boats.setdefault(boat, made)


def learn(runs: Sequence[Seen], memory: Memory | None = None, club: Club | None = None) -> Learned:
    """What runs teach, in the order of their time.

    Parameters
    ----------
    memory : of an earlier call; runs that are in it are not worked out anew.
    club : what is known of families of things before any run.
    """
    memory = Memory() if memory is None else memory
    bases = [memory.base(run) for run in runs]
    latents = latents_of(runs, bases, club)
    m = len(latents.columns)
    own = own_of(runs, bases, m)
    cases = cases_of(runs, latents, own, memory)
    bought = [case.line(m)[0] for case in cases]
    read, spread = read_of(cases, bought)
    kept = np.flatnonzero(np.isfinite(read) & np.isfinite(joined(bought)))
    centre = np.append(latents.centre, np.zeros(len(own.columns)))
    found = searched(cases, read, spread, kept, [*latents.columns, *own.columns], centre, m, memory)
    return _learned(cases, found, kept, read, spread, bought, centre, latents, m, club)


def identity_of(runs: Sequence[Seen], club: Club | None) -> str:
    """Names what taught: the model, every run as it is learnt from, and what the club knows."""
    digest = hashlib.sha256(MODEL_VERSION.encode())
    for run in runs:
        digest.update(repr((run.key, run.boat, run.setup, sorted(run.things.items()), run.outing)).encode())
        digest.update(repr((run.duty, run.readings, run.duty_from, run.charge_known, run.cooling)).encode())
    if club is not None:
        digest.update(repr(club.columns).encode() + club.centre.tobytes() + club.factor.tobytes())
    return digest.hexdigest()[:16]


def newcomer(club: Club, boat: str = "") -> Knowledge:
    """What a club knows of a boat of somebody whose own never ran."""
    latents = Latents(columns={}, spread={}, anchors={})
    nothing = np.zeros(0)
    wider = _widened(latents, club, nothing, Narrowed(np.zeros((0, 0))), np.zeros((DRAWS, 0)))
    return Knowledge(
        boat=boat,
        latents=wider.latents,
        parts={},
        mean=wider.mean,
        covariance=wider.covariance,
        drawn=wider.draws,
        runs=0,
        runs_here=0,
        identity=identity_of((), club),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Widened:
    latents: Latents
    mean: Array
    covariance: Narrowed
    draws: Array


def _widened(latents: Latents, club: Club, mean: Array, covariance: Narrowed, draws: Array) -> _Widened:
    """What was learnt, and what the club knows of families that no run had aboard.

    Those that ran lead the club's table, so that their latents are the first of its factor and what was learnt of them
    tells of the others as far as they go together.
    """
    ran = {} if latents.club is None else latents.club.numbers
    whole = club.led_by({family for family, _ in ran})
    more = whole.columns[len(ran) :]
    m = len(mean)
    columns = {**latents.columns, **{column: m + k for k, column in enumerate(more)}}
    centre = whole.centre[len(ran) :]
    # drawn evenly, and in another order than those that ran
    drawn = centre + even_deviates(len(more), len(draws), SEED + 1).T if more else np.zeros((len(draws), 0))
    return _Widened(
        latents=dataclasses.replace(
            latents,
            columns=columns,
            spread={**latents.spread, **dict.fromkeys(more, 1.0)},
            club=whole,
        ),
        mean=np.append(mean, centre),
        covariance=covariance.widened(len(more)),
        draws=np.hstack([draws, drawn]),
    )


def _learned(
    cases: Sequence[Case],
    found: Estimate,
    kept: npt.NDArray[np.int64],
    read: Array,
    spread: Array,
    bought: Sequence[Array],
    centre: Array,
    latents: Latents,
    m: int,
    club: Club | None,
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
    drawn = draws_of(cases, found, m)
    known = _Widened(latents=latents, mean=drawn.mean, covariance=found.covariance.first(m), draws=drawn.draws)
    if club is not None:
        known = _widened(latents, club, known.mean, known.covariance, known.draws)
    return Learned(
        latents=known.latents,
        parts=parts,
        mean=known.mean,
        covariance=known.covariance,
        draws=known.draws,
        taught_by={thing: tuple(keys) for thing, keys in taught.items()},
        steps=found.steps,
        identity=identity_of([case.run for case in cases], club),
        evidence=Evidence(
            cases=tuple(case.bare() for case in cases),
            found=found.mean,
            read=read,
            spread=spread,
            weights=weights,
            bought=tuple(bought),
            centre=centre,
            m=m,
        ),
    )
