"""How often the interpreter looks for garbage."""

import gc
from typing import Final

SELDOM: Final = (50_000, 10, 10)
"""New objects before the collector runs. Modules and models are some hundred thousand objects that stay. With the
interpreter's default of 700, loading the program takes a tenth longer."""


def seldom_collected() -> None:
    """Makes the garbage collector run less often. Call it before the heavy modules are loaded."""
    gc.set_threshold(*SELDOM)
