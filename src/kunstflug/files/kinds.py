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
    if Role.CURRENT in at and _is_driven(columns[at[Role.CURRENT]][last]):
        return "log", True
    rises = volts is None or _rises(volts[last])
    return "charge", rises


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


def _rises(volts: Array) -> bool:
    known = volts[np.isfinite(volts)]
    part = max(len(known) // 4, 1)
    return len(known) < 4 or float(np.mean(known[-part:])) > (1 + RISES) * float(np.mean(known[:part]))
