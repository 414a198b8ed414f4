"""When something that died is started again."""

import time
from dataclasses import dataclass
from typing import Final

WAITS_S: Final = (0.0, 0.5, 2.0, 5.0)
"""How long to wait, the more often it died (common practice, no source)."""


STEADY_S: Final = 10.0
"""Whatever lived for so long did not die of how it was started."""


@dataclass(slots=True)
class Again:
    """When to start something again: the later, the more often it died.

    Parameters
    ----------
    deaths : how many there were, one after the other.
    at : when, by the monotonic clock [s]; None while it lives.
    lives_s : since when it lives.
    """

    deaths: int = 0
    at: float | None = None
    lives_s: float = 0.0

    def died(self) -> bool:
        """Notes that it is dead; whether that is news."""
        if self.at is not None:
            return False
        if time.monotonic() - self.lives_s > STEADY_S:
            self.deaths = 0  # it was well for a while: this is another story
        self.at = time.monotonic() + WAITS_S[min(self.deaths, len(WAITS_S) - 1)]
        self.deaths += 1
        return True

    def due(self) -> bool:
        """Whether it was waited for long enough."""
        return self.at is not None and time.monotonic() >= self.at

    def started(self) -> None:
        """Notes that it lives again."""
        self.at, self.lives_s = None, time.monotonic()
