"""Whether a reading lies in the band of what was forecast of it: the one rule."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Prediction:
    """What was forecast of a reading, with what the reading itself leaves open.

    Parameters
    ----------
    value : in the reading's unit.
    spread : one standard deviation with the reading's own; of the logarithm, or in K.
    low, high : the 80 % band, with the reading's own spread.
    """

    value: float
    spread: float
    low: float
    high: float

    def holds(self, read: float) -> bool:
        """Whether what was read lies in the band; false where there is none (NaN)."""
        return self.low <= read <= self.high
