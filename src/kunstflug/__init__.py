"""Kunstflug: match, run and compare the electric drive of a radio-controlled racing boat."""

import os

__version__ = "0.1.0"

# Our systems of equations are small: threads of the linear algebra bring nothing, and where two processes share the
# cores they wait for each other, and learning took six times as long. Read when numpy is loaded, which is after this.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
