"""How much is tried: the usual (`make test`), all (`make test-all`), ten times as many cases (`make test-slow`)."""

import os
from collections.abc import Collection, Iterable
from typing import Any, Final

import pytest

SLOW: Final = os.environ.get("KUNSTFLUG_SLOW") == "1"
ALL: Final = SLOW or os.environ.get("KUNSTFLUG_ALL") == "1"
SEEDS: Final = range(1, 11) if SLOW else range(1, 2)


def amount(some: int, all_: int, many: int) -> int:
    """A number of cases, by how much is tried."""
    return many if SLOW else all_ if ALL else some


def rarely(each: Iterable[str], *, but: Collection[str]) -> list[Any]:
    """Parameters of which only some are tried every time, the others with the long tests."""
    return [one if one in but else pytest.param(one, marks=pytest.mark.long) for one in each]
