"""Setups that the tests share; all invented."""

import copy
from typing import Any

from kunstflug.core.drive.setup import Setup
from kunstflug.formats.setup_document import SetupDocument, setup_of

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


def document(**paths: Any) -> SetupDocument:
    """The mono as a document."""
    return SetupDocument.model_validate(raw(**paths))


def setup(**paths: Any) -> Setup:
    """The mono as a core setup."""
    return setup_of(document(**paths))


def q(value: float, unit: str, source: str = "typed", **more: Any) -> dict[str, Any]:
    """A quantity as JSON."""
    return {"value": value, "unit": unit, "source": source, **more}
