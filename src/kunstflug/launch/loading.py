"""How often the interpreter looks for garbage."""

import gc
from typing import Final

SELDOM: Final = (50_000, 10, 10)
"""Objects made before it looks. Modules and models are some hundred thousand objects that stay: looked at each 700, as
is the interpreter's own choice, loading the program takes a tenth longer."""


def seldom_collected() -> None:
    """From here on the interpreter looks for garbage seldom; to be called before the heavy modules are loaded."""
    gc.set_threshold(*SELDOM)
