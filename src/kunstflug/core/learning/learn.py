"""One posterior over all things of a racer, from all runs; what was said of each run then, and without it.

The latents are in ``core.setup.knowledge``. What belongs to a day, an instrument or a single run is a latent, too:
it is learnt with the rest and then left out, so that no thing is blamed for the wind of one Sunday.
"""

import dataclasses
import hashlib
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive import MODEL_VERSION
from kunstflug.core.drive.family import parts_of
from kunstflug.core.evidence.instruments import DAY, REPEAT
from kunstflug.core.evidence.readings import What
from kunstflug.core.learning.cases import Case, Memory, cases_of, latents_of, own_of, read_of
from kunstflug.core.learning.drawn import drawn_of, own_columns
from kunstflug.core.learning.estimate import OUT, Estimate
from kunstflug.core.learning.predict import Base
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.learning.search import found_of, joined, searched
from kunstflug.core.quantity.narrowed import NarrowedCovariance
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.club import Club
from kunstflug.core.setup.knowledge import Knowledge, Latents, Owner

LEAST_AGREEING: Final = 3
MOST_APART: Final = 2.0  # spreads of the mean of runs that agree, past which the laws do not meet them
COMMON: Final = 0.006  # what instrument and day leave open of that mean, however many runs there are


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
class Posterior:
    """What all runs taught.

    Parameters
    ----------
    mean, covariance : of the things' latents, for m of them.
    taught_by : keys of the runs with each thing aboard.
    steps : of the estimate's last search.
    evidence : what it was made of, see ``judged``.
    identity : of the runs and the club that taught.
    """

    latents: Latents
    parts: Mapping[tuple[Owner, Any], str]
    mean: Array
    covariance: NarrowedCovariance
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
            cases, found = self.evidence.cases, self.evidence.found
            # Of two parts that are described alike, the one that ran in this boat is meant.
            parts = {**self.parts, **_parts_of([case for case in cases if case.run.boat == boat])}
            within = own_columns(boat, cases, self.latents.columns, parts)
            made = Knowledge(
                boat=boat,
                latents=self.latents,
                parts=parts,
                mean=self.mean,
                covariance=self.covariance,
                drawn=drawn_of(boat, cases, within, found, self.covariance, len(self.mean)),
                within=within,
                runs=len(self.evidence.cases),
                runs_here=len(self.taught_by.get(boat, ())),
                identity=self.identity,
            )
        return self._of_boats.setdefault(boat, made)


def learn(runs: Sequence[RunEvidence], memory: Memory | None = None, club: Club | None = None) -> Posterior:
    """What runs teach, in the order of their time.

    Parameters
    ----------
    memory : of an earlier call; runs that are in it are not worked out anew.
    club : what is known of families of things before any run.
    """
    memory = Memory() if memory is None else memory
    bases = [memory.base(run) for run in runs]
    latents = latents_of(runs, bases, club)
    learned = _learn(runs, bases, latents, memory, club)
    if denied := denied_by(learned.evidence):
        learned = _learn(runs, bases, latents_of(runs, bases, club, denied), memory, club)
    return learned


def denied_by(evidence: Evidence) -> frozenset[str]:
    """Boats of which some setup has three and more runs that agree, and that the laws cannot meet."""
    e, found = evidence, set()
    offs: dict[int, list[tuple[float, float]]] = {}
    boats = {}
    for case in e.cases:
        value, slope = case.line(e.m)
        off = e.read[case.rows] - value - slope[:, : e.m] @ e.found[: e.m]
        for i, reading in enumerate(case.run.readings):
            if reading.what is What.SPEED and e.weights[case.rows][i] > OUT:
                boats[id(case.mixed)] = case.run.boat
                offs.setdefault(id(case.mixed), []).append((float(off[i]), float(e.spread[case.rows][i])))
    for key, each in offs.items():
        values = np.array([off for off, _ in each])
        spread = math.hypot(max(s for _, s in each), DAY, REPEAT) / math.sqrt(len(each))
        agree = len(each) >= LEAST_AGREEING and float(np.std(values)) < 2.0 * spread * math.sqrt(len(each))
        if agree and abs(float(np.mean(values))) > MOST_APART * math.hypot(spread, COMMON):
            found.add(boats[key])
    return frozenset(found)


def _learn(
    runs: Sequence[RunEvidence], bases: Sequence[Base], latents: Latents, memory: Memory, club: Club | None
) -> Posterior:
    m = len(latents.columns)
    own = own_of(runs, bases, m)
    cases = cases_of(runs, latents, own, memory)
    bought = [case.line(m)[0] for case in cases]
    read, spread = read_of(cases, bought)
    kept = np.flatnonzero(np.isfinite(read) & np.isfinite(joined(bought)))
    centre = np.append(latents.centre, np.zeros(len(own.columns)))
    found = searched(cases, read, spread, kept, latents.centre)
    return _learned(cases, found, kept, read, spread, bought, centre, latents, m, club)


def _parts_of(cases: Iterable[Case]) -> dict[tuple[Owner, Any], str]:
    """Key of each part that ran, by owner and description."""
    found: dict[tuple[Owner, Any], str] = {}
    for case in cases:
        for owner, part in parts_of(case.run.setup).items():
            thing = case.run.things.get(owner)
            if thing is not None:
                found[owner, part] = min(thing, found.get((owner, part), thing))
    return found


def identity_of(runs: Sequence[RunEvidence], club: Club | None) -> str:
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
    wider = _widened(latents, club, nothing, NarrowedCovariance(np.zeros((0, 0))))
    within = own_columns(boat, (), wider.latents.columns, {})
    return Knowledge(
        boat=boat,
        latents=wider.latents,
        parts={},
        mean=wider.mean,
        covariance=wider.covariance,
        drawn=drawn_of(boat, (), within, wider.mean, wider.covariance, len(wider.mean)),
        within=within,
        runs=0,
        runs_here=0,
        identity=identity_of((), club),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Widened:
    latents: Latents
    mean: Array
    covariance: NarrowedCovariance


def _widened(latents: Latents, club: Club, mean: Array, covariance: NarrowedCovariance) -> _Widened:
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
    return _Widened(
        latents=dataclasses.replace(
            latents,
            columns=columns,
            spread={**latents.spread, **dict.fromkeys(more, 1.0)},
            club=whole,
        ),
        mean=np.append(mean, centre),
        covariance=covariance.widened(len(more)),
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
) -> Posterior:
    weights = np.ones(len(read))
    weights[kept] = found.weights
    taught: dict[str, list[str]] = {}
    for case in cases:
        for thing in (case.run.boat, *case.run.things.values()):
            taught.setdefault(thing, []).append(case.run.key)
    known = _Widened(latents=latents, mean=found.mean, covariance=found.covariance.first(m))
    if club is not None:
        known = _widened(latents, club, known.mean, known.covariance)
    return Posterior(
        latents=known.latents,
        parts=_parts_of(cases),
        mean=known.mean,
        covariance=known.covariance,
        taught_by={thing: tuple(keys) for thing, keys in taught.items()},
        steps=found.steps,
        identity=identity_of([case.run for case in cases], club),
        evidence=Evidence(
            cases=tuple(case.bare() for case in cases),
            found=found_of(found),
            read=read,
            spread=spread,
            weights=weights,
            bought=tuple(bought),
            centre=centre,
            m=m,
        ),
    )
