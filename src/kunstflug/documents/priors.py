"""Documents of a club's priors: each racer's summary, the pool of all summaries, and what the screen shows."""

from collections.abc import Mapping
from datetime import datetime
from typing import Literal

import numpy as np
from pydantic import Field

from kunstflug.core.learning.pool import Pool, Summary
from kunstflug.core.quantity.value import Array
from kunstflug.documents.base import Out, Strict


def _written(table: Array) -> list[float]:
    """The lower triangle of a symmetric table, row by row."""
    rows, columns = np.tril_indices(len(table))
    return [float(f"{value:.9g}") for value in table[rows, columns]]


def _read(values: list[float], size: int) -> Array:
    table = np.zeros((size, size))
    rows, columns = np.tril_indices(size)
    table[rows, columns] = table[columns, rows] = values
    return table


class SummaryDocument(Strict):
    """One racer's summary: means over their things of a family, in spreads. It contains no runs, places or days."""

    version: Literal[1] = 1
    numbers: list[tuple[str, str]] = Field(description="family and number")
    mean: list[float]
    covariance: list[float] = Field(description="lower triangle, row by row")
    before: list[float] = Field(description="the same before any run")

    @classmethod
    def of(cls, summary: Summary) -> "SummaryDocument":
        """The document of a summary."""
        return cls(
            numbers=list(summary.numbers),
            mean=[float(f"{value:.9g}") for value in summary.mean],
            covariance=_written(summary.covariance),
            before=_written(summary.before),
        )

    def summary(self) -> Summary:
        """The summary of a document."""
        size = len(self.numbers)
        return Summary(
            numbers=tuple(self.numbers),
            mean=np.array(self.mean),
            covariance=_read(self.covariance, size),
            before=_read(self.before, size),
        )


class PoolDocument(Strict):
    """The pool of all summaries of a club."""

    version: Literal[1] = 1
    numbers: list[tuple[str, str]]
    precision: list[float] = Field(description="lower triangle, row by row")
    pull: list[float]
    share: float
    width: float
    racers: Mapping[str, int]

    @classmethod
    def of(cls, pool: Pool) -> "PoolDocument":
        """Write a pool with all its digits, so that a racer who stops sharing leaves no remainder."""
        rows, columns = np.tril_indices(len(pool.numbers))
        return cls(
            numbers=list(pool.numbers),
            precision=pool.precision[rows, columns].tolist(),
            pull=pool.pull.tolist(),
            share=pool.share,
            width=pool.width,
            racers=dict(pool.racers),
        )

    def pool(self) -> Pool:
        """The pool of a document."""
        return Pool(
            numbers=tuple(self.numbers),
            precision=_read(self.precision, len(self.numbers)),
            pull=np.array(self.pull),
            share=self.share,
            width=self.width,
            racers=self.racers,
        )


class FamilyOut(Out):
    """A family of things and how many racers share it."""

    words: str
    racers: int = Field(description="racers who share it")
    used: bool = Field(description="whether enough racers share it for forecasts to use it")


class PriorsOut(Out):
    """Whether a racer shares, and which families the club knows."""

    agreed_at: datetime | None = Field(description="since when the racer shares; null if they do not")
    told: list[str] = Field(description="families in the racer's own summary")
    families: list[FamilyOut]
    racers: int = Field(description="racers who share")
    made_at: datetime | None
    least: int = Field(description="racers needed before a family counts")
