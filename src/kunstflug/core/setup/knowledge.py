"""What runs taught about a racer's things: factors on what was given or guessed, with what they leave open.

Everything is linear in independent standard normal numbers, the *latents*: the logarithm of a number of a setup over
what was given is a row of coefficients times the latents of the things aboard. A thing that never ran has none, and
its numbers stay as bought.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from functools import lru_cache
from types import MappingProxyType
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.narrowed import NarrowedCovariance
from kunstflug.core.quantity.value import Array, Source, Value
from kunstflug.core.setup.club import Club, Column


class Owner(StrEnum):
    """The thing that a number belongs to, and that takes along what is known of it into another boat."""

    HULL = "hull"  # with its installation: strut, shaft, wires, water line
    MOTOR = "motor"
    CONTROLLER = "controller"
    PACK = "pack"
    PROPELLER = "propeller"
    MODEL = "model"  # what the laws themselves leave open


OWNED: Final[dict[Owner, tuple[str, ...]]] = {
    Owner.HULL: (
        "shaft_efficiency", "immersion", "rise_froude", "water_at_rest", "mass_kg", "planing_drag_ratio",
        "hump_drag_ratio", "wetted_factor", "wetted_exponent", "appendage_area_m2", "air_drag_area_m2",
        "air_lift_area_m2", "wiring_resistance_ohm", "connector_j_k", "connector_air_w_k", "case_jacket_w_k",
        "controller_jacket_w_k", "water_bore_m", "inside_j_k", "inside_w_k",
        "charge_error",
    ),
    Owner.MOTOR: (
        "kv_rpm_per_v", "kv_factor", "winding_resistance_ohm", "no_load_current_a", "winding_j_k", "case_j_k",
        "winding_case_w_k", "case_air_w_k",
    ),
    Owner.CONTROLLER: ("controller_resistance_ohm", "controller_j_k", "controller_air_w_k", "junction_w_k"),
    Owner.PACK: ("pack_ocv_v", "pack_resistance_ohm", "pack_ah", "pack_j_k", "pack_air_w_k"),
    Owner.PROPELLER: ("diameter_m", "pitch_factor", "blade_area", "blade_friction", "propeller_losses", "lift_ratio"),
    Owner.MODEL: ("discrepancy",),
}  # fmt: skip
"""Numbers of the drive and of its heat by the thing they belong to."""
OWNER: Final = {name: owner for owner, names in OWNED.items() for name in names}
_PLACES: Final = {name: k for k, name in enumerate(OWNER)}
TAUGHT: Final = 0.9
"""A number was taught something where its spread fell below this part of what it was before."""


RACER: Final = "racer"
SHARED: Final = 0.6
"""Part of a number's variance that all things of their kind have in common with one racer: how boats are built, trimmed
and driven, how parts are printed and chosen, what a guess is wrong by (common practice, no source)."""
OF_SETUP: Final = 0.03
"""Spread of the laws' error from one setup to another that is not alike, of the resistance [1]; the rest of the
discrepancy is the boat's own (common practice, no source)."""
DENIED: Final = 10.0
"""Times as much, where runs that agree among themselves deny the laws (common practice, no source)."""
LENGTHS: Final[Array] = np.array([0.25, 0.25, 0.20, 0.15])
"""Logarithms over which free rpm, pitch, diameter and mass make two setups unlike (common practice, no source)."""
TOGETHER: Final = (
    ("winding_resistance_ohm", "no_load_current_a", -0.4),
    ("planing_drag_ratio", "hump_drag_ratio", 0.5),
    ("appendage_area_m2", "air_drag_area_m2", 0.3),
    ("planing_drag_ratio", "wetted_factor", 0.3),
)
"""Guesses that err together, with their correlation (common practice, no source): a motor with more copper has the
larger iron, what runs wet at speed runs wet at the hump, a boat with much hardware below has much above."""

NOTHING: Final[Mapping[Any, Any]] = MappingProxyType({})
MOST_KEPT: Final = 64
ROUNDED: Final = 1e-9  # added to each variance against rounding
FOREIGN_SEED: Final = 911


def likeness(a: Array, b: Array) -> Array:
    """How alike setups are, 0 to 1, by features of shape (..., 4) and (B, 4): the Matern 3/2 kernel, shape (..., B).

    C. E. Rasmussen, C. K. I. Williams, Gaussian Processes for Machine Learning (2006), eq. 4.17.
    """
    apart = (a[..., np.newaxis, :] - b) / LENGTHS
    r = np.sqrt(3.0 * np.sum(apart**2, axis=-1))
    found: Array = (1.0 + r) * np.exp(-r)
    return found


Indices = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True, kw_only=True)
class Aboard:
    """The things of a setup by their keys, and what it is alike to.

    Parameters
    ----------
    features : logarithms of free rpm, pitch, diameter and mass, shape (4,).
    families : what kind of thing each is, as a club pools them.
    bought : spread of numbers as bought; of those that no run of the racer's had aboard.
    """

    boat: str
    things: Mapping[Owner, str]
    features: Array
    families: Mapping[Owner, str] = field(default_factory=dict)
    bought: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Anchors:
    """Setups of a boat that ran, and how alike they are.

    Parameters
    ----------
    features : shape (A, 4).
    factor : lower factor of their likeness, shape (A, A).
    """

    features: Array
    factor: Array

    def coefficients(self, features: Array) -> Array:
        """Of the anchors' latents for setups with features of shape (..., 4), before ``OF_SETUP``: shape (..., A)."""
        like = likeness(features, self.features)
        found = np.linalg.solve(self.factor, like.reshape(-1, like.shape[-1]).T).T
        return np.asarray(found, dtype=np.float64).reshape(like.shape)


@dataclass(frozen=True, slots=True, kw_only=True)
class Latents:
    """The independent normal numbers that runs teach, each with a spread of 1.

    Parameters
    ----------
    columns : place of each.
    spread : of each thing's number before any run, one standard deviation of its logarithm.
    anchors : of each boat.
    club : what a club knows of families of things, if there is one.
    denied : boats whose runs deny the laws: their error is left open so far that it meets the runs.
    """

    columns: Mapping[Column, int]
    spread: Mapping[Column, float]
    anchors: Mapping[str, Anchors]
    club: Club | None = None
    denied: frozenset[str] = frozenset()

    def of_setup(self, boat: str) -> float:
        """Spread of the laws' error from one setup of a boat to another, see ``OF_SETUP``."""
        return OF_SETUP * (DENIED if boat in self.denied else 1.0)

    @property
    def centre(self) -> Array:
        """Of the latents before any run, shape (m,): 0 but for what a club knows."""
        found = np.zeros(len(self.columns))
        if self.club is not None:
            found[[self.columns[column] for column in self.club.columns]] = self.club.centre
        return found

    def rows(self, aboard: Aboard) -> "Mixture":
        """The numbers of a setup as mixtures of the latents."""
        of_things = self.of_things(aboard)
        return of_things if (error := self.error(aboard)) is None else of_things.with_error(*error)

    def of_things(self, aboard: Aboard) -> "Mixture":
        """The same of its things alone, whatever it is alike to."""
        table = np.zeros((len(OWNER), len(self.columns)))
        names: list[str] = []
        fresh: list[float] = []
        spreads: list[float] = []
        for owner, owned in OWNED.items():
            if owner is Owner.MODEL:
                continue
            thing = aboard.boat if owner is Owner.HULL else aboard.things.get(owner, "")
            family = aboard.families.get(owner, "")
            for name in owned:
                spread = self._spread(aboard, thing, name)
                common, pooled = self.columns.get((RACER, name)), self.pooled(family, name)
                if not spread or (common is None and pooled is None):
                    continue
                table[len(names)], open_ = self.row(thing, name, pooled)
                names.append(name)
                fresh.append(open_)
                spreads.append(spread)
        for first, second, rho in TOGETHER:
            if first in names and second in names:
                a, b = names.index(first), names.index(second)
                table[b] = rho * table[a] + math.sqrt(1.0 - rho**2) * table[b]
        of_each = np.array(spreads)
        mixed, open_of_each = table[: len(names)] * of_each[:, np.newaxis], np.array(fresh) * of_each**2
        before = np.sqrt(np.sum(mixed**2, axis=1) + open_of_each)
        columns = np.flatnonzero(mixed.any(axis=0))
        return Mixture(names=tuple(names), columns=columns, table=mixed[:, columns], fresh=open_of_each, before=before)

    def pooled(self, family: str, name: str) -> Array | None:
        """Coefficients of a number by the club's latents, shape (p,); None for what the club does not know."""
        k = None if self.club is None else self.club.numbers.get((family, name))
        return None if k is None or self.club is None else math.sqrt(self.club.share) * self.club.factor[k]

    def _spread(self, aboard: Aboard, thing: str, name: str) -> float:
        """Of a number before any run; 0 for one of which nothing can be said."""
        for column in ((thing, name), (RACER, name)):
            if column in self.columns:
                return self.spread[column]
        return aboard.bought.get(name, 0.0)

    def row(self, thing: str, name: str, pooled: Array | None = None) -> tuple[Array, float]:
        """A number by the latents, in spreads, and the variance that none of them has."""
        row, rest = np.zeros(len(self.columns)), 1.0
        if pooled is not None and self.club is not None:
            row[[self.columns[column] for column in self.club.columns]] = pooled
            rest = (1.0 - self.club.share) * self.club.width**2
        open_ = rest
        for column, part in (((RACER, name), SHARED), ((thing, name), 1.0 - SHARED)):
            if column in self.columns:
                row[self.columns[column]] = math.sqrt(rest * part)
                open_ -= rest * part
        return row, max(open_, 0.0)

    def error(self, aboard: Aboard) -> tuple[Array, float, float] | None:
        """The laws' error at a setup: its row, its variance that no latent has, its spread; None where nothing ran."""
        name, pooled = "discrepancy", self.pooled(aboard.families.get(Owner.MODEL, ""), "discrepancy")
        whole = self._spread(aboard, aboard.boat, name)
        if not whole or ((RACER, name) not in self.columns and pooled is None):
            return None
        of_setup = self.of_setup(aboard.boat)
        whole *= of_setup / OF_SETUP
        of_boat = math.sqrt(max(whole**2 - of_setup**2, 0.0))
        row, open_ = self.row(aboard.boat, name, pooled)
        row = of_boat * row
        open_ = of_setup**2 + open_ * of_boat**2
        anchors = self.anchors.get(aboard.boat)
        if anchors is not None:
            part = anchors.coefficients(aboard.features)
            row[[self.columns[aboard.boat, f"setup_{k}"] for k in range(len(part))]] = of_setup * part
            open_ -= of_setup**2 * min(float(part @ part), 1.0)
        return row, open_, math.sqrt(float(row @ row) + open_)


@dataclass(frozen=True, slots=True, kw_only=True)
class Mixture:
    """Numbers of a setup as mixtures of latents.

    Parameters
    ----------
    columns : places of the latents that take part, shape (c,): of a racer's thousands some dozens.
    table : shape (n, c).
    fresh : variance of each that no latent has, shape (n,).
    before : spread of each before any run of one's own, shape (n,).
    """

    names: tuple[str, ...]
    columns: Indices
    table: Array
    fresh: Array
    before: Array

    def at(self, latents: Array) -> Array:
        """The numbers at some latents of shape (..., p): shape (..., n)."""
        found: Array = latents[..., self.columns] @ self.table.T
        return found

    def with_error(self, row: Array, fresh: float, before: float) -> "Mixture":
        """The same with the laws' error as the last number."""
        columns = np.union1d(self.columns, np.flatnonzero(row))
        table = np.zeros((len(self.names) + 1, len(columns)))
        table[:-1, np.searchsorted(columns, self.columns)] = self.table
        table[-1] = row[columns]
        return Mixture(
            names=(*self.names, "discrepancy"),
            columns=columns,
            table=table,
            fresh=np.append(self.fresh, fresh),
            before=np.append(self.before, before),
        )


@lru_cache(maxsize=16)  # the same draws are asked for at every step of a slider
def _deviates(fields: int, count: int, seed: int) -> Array:
    z = even_deviates(fields, count, seed)
    z.flags.writeable = False
    return z


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class KnownNumbers:
    """What is known of the numbers of one setup.

    Parameters
    ----------
    shift : mean of each one's logarithm over what was given or guessed, shape (n,).
    spread : of each, shape (n,).
    mixed : the numbers as mixtures of latents.
    drawn : draws of the latents less their means, shape (S, m).
    """

    shift: Array
    spread: Array
    mixed: Mixture
    drawn: Array
    _places: dict[str, int] = field(init=False, repr=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "_places", {name: k for k, name in enumerate(self.mixed.names)})

    @property
    def names(self) -> tuple[str, ...]:
        """The numbers that something is known of."""
        return self.mixed.names

    @property
    def off(self) -> Array:
        """Draws of the logarithms less their means, together, shape (S, n), without what no latent has."""
        return self.mixed.at(self.drawn)

    @property
    def covariance(self) -> Array:
        """Of the logarithms, by their draws, shape (n, n)."""
        found: Array = np.cov(self.off.T) + np.diag(self.mixed.fresh)
        return found

    def of(self, name: str, given: Value) -> Value:
        """A number with what was learnt of it; *learnt* where runs narrowed it."""
        k = self._places.get(name)
        if k is None or given.spread == 0:
            return given
        spread = float(self.spread[k])
        source = Source.LEARNT if spread < TAUGHT * self.mixed.before[k] else given.source
        return Value(value=given.value * math.exp(self.shift[k]), source=source, spread=spread, reason=given.reason)

    def draws(self, count: int, seed: int) -> dict[str, Array]:
        """Draws of each number's logarithm about its mean, together, shape (count,) each."""
        off = self.off[np.arange(count) % len(self.drawn)].T
        if self.mixed.fresh.any():
            # by the number, not by its place: the drive and its heat are drawn apart
            z = _deviates(len(OWNER), count, seed)[[_PLACES[name] for name in self.names]]
            off = off + np.sqrt(self.mixed.fresh)[:, np.newaxis] * z
        return {name: off[k] for k, name in enumerate(self.names)}


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class Knowledge:
    """What is known of all things of a racer, as it counts in one boat.

    Parameters
    ----------
    boat : key of the boat it is asked for.
    parts : key of each part that ran, by owner and description.
    mean, covariance : of the latents, for m of them.
    drawn : draws of them that agree with what was read, less their means, shape (S, m).
    within : places of the latents that these draws are of: those that bear on the boat.
    runs : how many runs taught.
    runs_here : how many of them were the boat's own.
    identity : of all that taught; two forecasts with the same one knew the same.
    """

    boat: str
    latents: Latents
    parts: Mapping[tuple[Owner, Any], str]
    mean: Array
    covariance: NarrowedCovariance
    drawn: Array
    within: Indices
    runs: int
    runs_here: int
    identity: str
    _kept: dict[tuple[Any, ...], "KnownNumbers"] = field(default_factory=dict, repr=False)

    @property
    def denied(self) -> bool:
        """Whether the boat's runs deny the laws, so that what is known of it stands on the runs alone."""
        return self.boat in self.latents.denied

    def aboard(
        self,
        parts: Mapping[Owner, Any],
        features: Array,
        families: Mapping[Owner, str] = NOTHING,
        bought: Mapping[str, float] = NOTHING,
    ) -> Aboard:
        """The things of a setup that ran before; families and spreads as bought count where a club knows something."""
        found = {owner: self.parts[owner, part] for owner, part in parts.items() if (owner, part) in self.parts}
        if self.latents.club is None:
            return Aboard(boat=self.boat, things=found, features=features)
        return Aboard(boat=self.boat, things=found, features=features, families=families, bought=bought)

    def at(self, aboard: Aboard) -> KnownNumbers:
        """What is known of the numbers of a setup.

        What is known of its things is kept for those that were asked for last: only the laws' error goes with what the
        setup is alike to.
        """
        key = (aboard.boat, *sorted(aboard.things.items()), *aboard.families.items(), *aboard.bought.items())
        things = self._kept.get(key)
        if things is None:
            if len(self._kept) >= MOST_KEPT:
                self._kept.clear()
            things = self._kept[key] = self._known(self.latents.of_things(aboard))
        error = self.latents.error(aboard)
        if error is None:
            return things
        row, fresh, before = error
        columns = np.flatnonzero(row)
        spread = math.sqrt(float(self.covariance.variance(row[np.newaxis, columns], columns)[0]) + fresh)
        return KnownNumbers(
            shift=np.append(things.shift, row @ self.mean),
            spread=np.append(things.spread, spread),
            mixed=things.mixed.with_error(row, fresh, before),
            drawn=things.drawn,
        )

    def _known(self, mixed: Mixture) -> KnownNumbers:
        variance = self.covariance.variance(mixed.table, mixed.columns) + mixed.fresh
        return KnownNumbers(shift=mixed.at(self.mean), spread=np.sqrt(variance), mixed=mixed, drawn=self._drawn(mixed))

    def _drawn(self, mixed: Mixture) -> Array:
        """Draws, with those of what ran in other boats only, given what is drawn of this one."""
        foreign = np.setdiff1d(mixed.columns, self.within)
        if not len(foreign):
            return self.drawn
        own = self.covariance.among(self.within, self.within) + ROUNDED * np.eye(len(self.within))
        across = self.covariance.among(foreign, self.within)
        follows = np.linalg.solve(own, across.T).T
        rest = self.covariance.among(foreign, foreign) - follows @ across.T
        values, vectors = np.linalg.eigh(0.5 * (rest + rest.T))
        root = vectors * np.sqrt(np.maximum(values, 0.0))
        found = self.drawn.copy()
        deviates = _deviates(len(foreign), len(found), FOREIGN_SEED)
        found[:, foreign] = self.drawn[:, self.within] @ follows.T + (root @ deviates).T
        return found

    def error_of_laws(self, aboard: Aboard, features: Array) -> Array:
        """Mean of the logarithm of the laws' error at setups of the boat with features of shape (..., 4)."""
        found = np.zeros(features.shape[:-1])
        error = self.latents.error(aboard)
        if error is None:
            return found
        row, columns = error[0].copy(), self.latents.columns
        anchors = self.latents.anchors.get(self.boat)
        if anchors is not None:
            of_setups = [columns[self.boat, f"setup_{k}"] for k in range(len(anchors.features))]
            row[of_setups] = 0.0
            of_setup = self.latents.of_setup(self.boat)
            found += of_setup * anchors.coefficients(features) @ self.mean[of_setups]
        found += float(row @ self.mean)
        return found
