"""What a boat's own drawn water gives its motor and controller."""

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.boat_water import boat_cooling
from kunstflug.documents.water import CircuitIn


def cooling_of(setup: Setup, drawn: CircuitIn | None, reach: float = 1.0) -> CoolingTable | None:
    """What a drawn circuit gives the blocks of a boat; None for none drawn.

    Parameters
    ----------
    reach : how far past the top speed the table goes [1], where faster drives are to be cooled by it.
    """
    if drawn is None:
        return None
    return boat_cooling(setup, drawn.core(), forecast(setup, 0).point, reach)
