"""How long work says how far it is, and how it is told to stop."""

from collections.abc import Callable
from typing import TypeAlias

Progress: TypeAlias = Callable[[int, int], None]
"""Called with what is done and what there is to do; may raise :class:`kunstflug.core.quantity.errors.Stopped`."""


def unheard(done: int, total: int) -> None:
    """Nobody listens."""
