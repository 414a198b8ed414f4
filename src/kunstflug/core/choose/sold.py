"""Sizes that are sold: what is proposed is snapped to them (common practice, no source)."""

from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array

CONTROLLERS_A: Final = (30, 45, 60, 80, 100, 120, 150, 180, 200, 240, 300, 400, 500, 600, 800, 1000)
"""Continuous ratings of controllers [A]."""
KV_STEP: Final = 50.0
DIAMETER_STEP_M: Final = 1e-3


def sold_diameters_m(low: float, high: float) -> Array:
    """Diameters of propellers from one bound up to, not with, the other [m], rising: whole millimetres."""
    return _whole(low, high, DIAMETER_STEP_M)


def sold_kv(low: float, high: float) -> Array:
    """KV of motors from one bound up to, not with, the other [rpm/V], rising: in fifties."""
    return _whole(low, high, KV_STEP)


def sold(value: float, step: float) -> float:
    """The size sold that is nearest to one."""
    return max(round(value / step), 1) * step


def next_class_a(rating_a: float) -> float:
    """The next larger rating of controllers [A]; past the largest that is sold by hundreds."""
    return float(next((a for a in CONTROLLERS_A if a > rating_a), rating_a + 100.0))


def _whole(low: float, high: float, step: float) -> Array:
    steps: Array = np.arange(np.ceil(low / step - 1e-9), np.ceil(high / step - 1e-9), dtype=np.float64)
    return steps * step
