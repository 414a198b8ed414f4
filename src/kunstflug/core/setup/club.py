"""What a club knows of families of things, as a racer's own knowledge begins with it."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final, TypeAlias

import numpy as np

from kunstflug.core.quantity.value import Array

CLUB: Final = "club"
Column: TypeAlias = tuple[str, str]
"""A latent: the thing it belongs to, and the number."""
Number: TypeAlias = tuple[str, str]
"""A number of a family of things."""


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class Club:
    """What things of a family have in common in a club: how far their numbers lie from what is guessed, in spreads.

    Parameters
    ----------
    numbers : place of each.
    mean, covariance : of the standard normal number that stands for each, shapes (p,) and (p, p).
    share : part of a number's variance that a family has in common in the club.
    width : spread of a racer's things about that, over what the rest of the variance leaves them.
    racers : how many taught each family.
    """

    numbers: Mapping[Number, int]
    mean: Array
    covariance: Array
    share: float
    width: float
    racers: Mapping[str, int]
    factor: Array = field(init=False, repr=False)

    def __post_init__(self) -> None:
        jitter = 1e-9 * np.eye(len(self.mean))
        object.__setattr__(self, "factor", np.linalg.cholesky(self.covariance + jitter))

    def led_by(self, families: Collection[str]) -> "Club":
        """The same with some families first: their latents stay what they are whatever follows."""
        return self._taken(sorted(self.numbers, key=lambda number: number[0] not in families))

    def of_families(self, families: Collection[str]) -> "Club":
        """The same of some families only."""
        return self._taken([number for number in self.numbers if number[0] in families])

    def _taken(self, kept: Sequence[Number]) -> "Club":
        families = {family for family, _ in kept}
        at = [self.numbers[number] for number in kept]
        return Club(
            numbers={number: k for k, number in enumerate(kept)},
            mean=self.mean[at],
            covariance=self.covariance[np.ix_(at, at)],
            share=self.share,
            width=self.width,
            racers={family: count for family, count in self.racers.items() if family in families},
        )

    @property
    def columns(self) -> list[Column]:
        """Independent latents in place of its numbers."""
        return [(CLUB, str(k)) for k in range(len(self.mean))]

    @property
    def centre(self) -> Array:
        """Where those latents lie before any run of one's own, shape (p,)."""
        return np.asarray(np.linalg.solve(self.factor, self.mean), dtype=np.float64)
