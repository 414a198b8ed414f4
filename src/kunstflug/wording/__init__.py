"""Words for what the core found: facts in, sentences in the racer's units out."""

from kunstflug.wording import (
    bench,
    build,
    changes,
    choose,
    drive,
    fit,
    guesses,
    heat,
    limits,
    rules,
    tracks,
)
from kunstflug.wording.errors import say_error
from kunstflug.wording.say import say, sentence
from kunstflug.wording.tongue import METRIC, Tongue, Units

__all__ = [
    "METRIC", "Tongue", "Units", "bench", "build", "changes", "choose", "drive", "fit", "guesses", "heat", "limits",
    "rules", "say", "say_error", "sentence", "tracks",
]  # fmt: skip
