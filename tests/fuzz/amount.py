"""How many cases are tried: one seed in each run, ten in the slow one (``make test-slow``)."""

import os

SLOW = os.environ.get("KUNSTFLUG_SLOW") == "1"
SEEDS = range(1, 11) if SLOW else range(1, 2)
