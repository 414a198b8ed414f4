"""Which runs are of one outing."""

from datetime import datetime, timedelta
from typing import Final

APART: Final = timedelta(hours=4)
"""Runs that are farther apart are of two outings (common practice, no source)."""


def same_outing(earlier: datetime, later: datetime) -> bool:
    """Whether two runs that follow each other are of one outing.

    Examples
    --------
    >>> same_outing(datetime(2026, 5, 2, 10), datetime(2026, 5, 2, 13)), same_outing(datetime.min, datetime(2026, 5, 2))
    (True, False)
    """
    return later - earlier <= APART
