"""How long a boat cools after a run before it may run again."""

import dataclasses
from typing import Final

import numpy as np

from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import SOAK, Duty
from kunstflug.core.thermal.nodes import NODES, Node
from kunstflug.core.thermal.run import MOST_SECONDS, run_duty

COOL_ENOUGH_K: Final = 15.0
"""Above the air, of motor and controller, from which the next run begins (common practice, no source)."""
LONGEST_S: Final = 2400.0
STEP_S: Final = 0.1
STRIDE: Final = 20
WATCHED: Final = (Node.CASE, Node.CONTROLLER)


def cool_again_s(setup: Setup, duty: Duty) -> tuple[float, float]:
    """Seconds after landing until motor and controller are cool again, at most forty minutes [s]; charge used [Ah]."""
    resting = dataclasses.replace(SOAK, seconds=min(LONGEST_S, MOST_SECONDS - duty.landing_s))
    whole = dataclasses.replace(duty, phases=(*duty.phases[:-1], resting))
    run = run_duty(setup, whole, step_s=STEP_S, stride=STRIDE)
    watched = [k for k, node in enumerate(NODES) if node in WATCHED]
    hottest = np.max(run.temperature_c[0][:, watched], axis=1)
    after = run.time_s >= whole.landing_s
    hot = after & (hottest > setup.conditions.air_c.value + COOL_ENOUGH_K)
    last = float(run.time_s[hot][-1]) if hot.any() else whole.landing_s
    return min(last - whole.landing_s, LONGEST_S), float(run.used_ah[0][-1])
