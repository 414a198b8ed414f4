"""What racers of a club hand out of what their boats taught, and all of it together, as they are kept and sent."""

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
    """One racer's summary: means over their things of a family, in spreads; nothing of runs, places or days."""

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
    """All summaries of a club together."""

    version: Literal[1] = 1
    numbers: list[tuple[str, str]]
    precision: list[float] = Field(description="lower triangle, row by row")
    pull: list[float]
    share: float
    width: float
    racers: Mapping[str, int]

    @classmethod
    def of(cls, pool: Pool) -> "PoolDocument":
        """The document of a pool; to the last digit, so that who goes out leaves nothing behind."""
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
    """What the club knows of a family of things."""

    words: str
    racers: int = Field(description="how many racers' boats taught it")
    used: bool = Field(description="whether they are enough for it to count in anybody's forecast")


class PriorsOut(Out):
    """Whether one's boats teach the club, and what it knows."""

    agreed_at: datetime | None = Field(description="since when; null where nothing is handed out")
    told: list[str] = Field(description="families of things of which one's own summary says something")
    families: list[FamilyOut]
    racers: int = Field(description="who hand something out")
    made_at: datetime | None
    least: int = Field(description="from so many racers on a family counts")
