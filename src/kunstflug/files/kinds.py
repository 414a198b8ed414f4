"""What a table is as a whole: a track, a log of a drive, or a charger's; where columns do not tell, numbers do."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.documents.columns import Kind, Role, kind_of
from kunstflug.files.columns import Proposal

BUSY: Final = 4.0
"""A driver's current goes up and down by more than so many times its range; a charger's rises once and falls once."""
CHANGES: Final = 0.3
"""Below this part of its middle a current holds still."""
RISES: Final = 0.004
"""A pack's volts rise by more than this while it is charged; both are our own choice."""


def kind_in(proposals: Sequence[Proposal], columns: Sequence[Array]) -> tuple[Kind | None, bool]:
    """What a table is, and whether that is sure.

    Parameters
    ----------
    columns : numbers of each column over the first rows.
    """
    at = {p.role: k for k, p in enumerate(proposals) if p.role is not None}
    kind = kind_of(set(at))
    if kind != "charge":
        return kind, kind is not None
    cells = [columns[k] for k, p in enumerate(proposals) if p.role is Role.CELL]
    volts = columns[at[Role.VOLTAGE]] if Role.VOLTAGE in at else np.sum(cells, axis=0) if cells else None
    last = _last_rise(columns[at[Role.CHARGE]]) if Role.CHARGE in at else slice(None)
    current = columns[at[Role.CURRENT]][last] if Role.CURRENT in at else None
    rises = None if volts is None else _rises(volts[last], current)
    if current is not None and _is_driven(current):
        return ("charge", False) if rises else ("log", True)  # one that charges in pulses
    return "charge", rises is not False


def _last_rise(charge: Array) -> slice:
    """From where a charge was last counted anew."""
    drops = np.flatnonzero(np.diff(charge) < -0.5 * np.nanmax(np.abs(charge), initial=0.0))
    return slice(int(drops[-1]) + 1 if len(drops) else 0, None)


def _is_driven(current: Array) -> bool:
    """Whether a current goes up and down as a driver's trigger does."""
    known = np.abs(current[np.isfinite(current)])
    if len(known) < 8:
        return False
    low, middle, high = np.quantile(known, (0.05, 0.5, 0.95)).tolist()
    smooth = np.convolve(known, np.ones(3) / 3, "valid")  # noise of a digit is no driving
    return high - low > CHANGES * middle and float(np.sum(np.abs(np.diff(smooth)))) > BUSY * (high - low)


def _rises(volts: Array, current: Array | None) -> bool:
    """Whether volts rise over the table, what the current takes or gives laid aside."""
    told = np.zeros(len(volts)) if current is None else current
    known = np.isfinite(volts) & np.isfinite(told)
    if np.sum(known) < 4:
        return True
    volts, told = volts[known], told[known]
    way = np.column_stack([np.ones(len(volts)), np.linspace(0, 1, len(volts)), told])
    rise = float(np.linalg.lstsq(way, volts, rcond=None)[0][1])
    return rise > RISES * float(np.mean(np.abs(volts)))
