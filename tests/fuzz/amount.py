"""How much is tried: a tenth in each run, all of it in the slow one (``make test-slow``), each part with its seed."""

import os

SLOW = os.environ.get("KUNSTFLUG_SLOW") == "1"
SEEDS = range(1, 11) if SLOW else range(1, 2)
