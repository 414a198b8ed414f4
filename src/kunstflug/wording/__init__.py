"""Words for what the core found: facts in, sentences in the racer's units out.

The words of a subject are read when the first of its facts is said: a command that only says what is wrong with its
arguments starts in a fraction of the time.
"""

import importlib
from typing import TYPE_CHECKING, Any

from kunstflug.wording.say import SUBJECTS, say, sentence
from kunstflug.wording.tongue import METRIC, Tongue, Units

if TYPE_CHECKING:
    from kunstflug.wording import bench, build, changes, choose, day, drive, fit, guesses, heat, limits, rules, tracks
    from kunstflug.wording.errors import say_error


def __getattr__(name: str) -> Any:
    """A subject's module, or what says errors, when somebody asks for it."""
    if name == "say_error":
        return importlib.import_module("kunstflug.wording.errors").say_error
    if name in SUBJECTS:
        return importlib.import_module(f"kunstflug.wording.{name}")
    raise AttributeError(name)


__all__ = [
    "METRIC", "Tongue", "Units", "bench", "build", "changes", "choose", "day", "drive", "fit", "guesses", "heat", "limits",
    "rules", "say", "say_error", "sentence", "tracks",
]  # fmt: skip
