"""Setups that the tests share; all invented."""

import copy
import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest

from kunstflug.core.drive.forecast import Forecast, Margin
from kunstflug.core.drive.limits import LimitKey
from kunstflug.core.quantity.errors import KunstflugError
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.wording import METRIC, say, say_error

DATA = Path(__file__).parent / "data"

MONO: dict[str, Any] = {
    "name": "test mono",
    "hull": {"hull_type": "mono", "length": {"value": 620, "unit": "mm"}},
    "motor": {
        "kv": {"value": 2200, "unit": "rpm/V"},
        "can_diameter": {"value": 36, "unit": "mm"},
        "can_length": {"value": 74, "unit": "mm"},
    },
    "controller": {"continuous_current": {"value": 120, "unit": "A"}},
    "propeller": {"diameter": {"value": 42, "unit": "mm"}, "pitch_ratio": {"value": 1.4, "unit": "1"}},
    "pack": {"cells": 4, "capacity": {"value": 5000, "unit": "mAh"}, "c_rating": {"value": 50, "unit": "1"}},
    "all_up_mass": {"value": 2100, "unit": "g"},
}


def raw(**paths: Any) -> dict[str, Any]:
    """The mono as JSON, with values put in by path (``motor__kv=...``)."""
    data = copy.deepcopy(MONO)
    for path, value in paths.items():
        part, _, key = path.partition("__")
        if key:
            data[part][key] = value
        else:
            data[part] = value
    return data


def at(**changed: float) -> dict[str, Any]:
    """Usual conditions as JSON, with some in degC and percent as told (``winding=140``)."""
    usual = {"water": 16.0, "air": 18.0, "winding": 80.0, "state_of_charge": 75.0} | changed
    units = {"state_of_charge": "%"}
    return {"headwind": q(0, "m/s")} | {key: q(value, units.get(key, "degC")) for key, value in usual.items()}


def document(**paths: Any) -> SetupDocument:
    """The mono as a document."""
    return SetupDocument.model_validate(raw(**paths))


def setup(**paths: Any) -> Setup:
    """The mono as a core setup."""
    return setup_of(document(**paths))


def q(value: float, unit: str, source: str = "typed", **more: Any) -> dict[str, Any]:
    """A quantity as JSON."""
    return {"value": value, "unit": unit, "source": source, **more}


def words(fact: Fact | None) -> str:
    """What is said of a fact; empty for none."""
    return say(fact, METRIC) if fact else ""


def margin(forecast: Forecast, key: LimitKey | str) -> Margin:
    """One margin of a forecast."""
    return next(m for m in forecast.margins if m.key == key)


@contextmanager
def refused(kind: type[KunstflugError], said: str) -> Iterator[None]:
    """Expects an error whose words, as a racer reads them, match a pattern."""
    with pytest.raises(kind) as caught:
        yield
    text = say_error(caught.value, METRIC)
    assert re.search(said, text), text
