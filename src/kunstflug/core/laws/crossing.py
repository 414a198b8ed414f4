"""Where a function of one number crosses zero."""

from collections.abc import Callable
from typing import Final

MOST_STEPS: Final = 200


def crossing(function: Callable[[float], float], low: float, high: float, within: float = 0.0) -> float:
    """Where a continuous function crosses zero between two ends at which its signs differ.

    Regula falsi in its Illinois form: an end that stays twice has its value halved (M. Dowell, P. Jarratt, A modified
    regula falsi method for computing the root of an equation, BIT 11 (1971) 168-174). scipy's own takes a third of a
    second to load, more than a whole forecast.

    Parameters
    ----------
    within : the answer's last step is a tenth of this, in the unit of the ends, or 1e-14 of the answer.

    Raises
    ------
    ValueError : the signs at the ends are the same, or the function is no number there.

    Examples
    --------
    >>> round(crossing(lambda x: x * x - 2.0, 0.0, 2.0), 12)
    1.414213562373
    """
    a, b, f_a, f_b = low, high, function(low), function(high)
    if f_a == 0.0:
        return a
    if f_b == 0.0:
        return b
    if not f_a * f_b < 0.0:
        raise ValueError((f_a, f_b))
    for _ in range(MOST_STEPS):
        middle = (a * f_b - b * f_a) / (f_b - f_a)
        if not min(a, b) < middle < max(a, b):
            middle = 0.5 * (a + b)
        f_middle = function(middle)
        if f_middle == 0.0:
            return middle
        if f_middle * f_b < 0.0:
            a, f_a = b, f_b
        else:
            f_a *= 0.5
        last, b, f_b = b, middle, f_middle
        if abs(b - last) <= max(0.1 * within, 1e-14 * abs(b)):
            return b
    return b
