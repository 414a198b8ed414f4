"""What was driven, by what a racer says of it."""

from typing import Final

from kunstflug.core.learning.run_evidence import DutyFrom
from kunstflug.core.thermal.duty import WARM_UP, Duty, passes_duty

# What is taken where nothing was said (common practice, no source).
USUAL_PASSES: Final = 4
USUAL_PASS_S: Final = 6.0
USUAL_COOL_S: Final = 30.0
LONGEST_PASS_S: Final = 60.0
LONGEST_COOL_S: Final = 120.0
MOST_PASSES: Final = 20


def told_duty(
    passes: int | None = None, minutes: float | None = None, pass_s: float | None = None
) -> tuple[Duty, DutyFrom]:
    """The duty by what was counted of it, the usual for the rest; and how it is known.

    Parameters
    ----------
    passes : at full throttle, 1 to ``MOST_PASSES``.
    minutes : on the water, from start to landing.
    pass_s : each pass at full throttle [s]; not more than ``LONGEST_PASS_S``.
    """
    full_s = min(max(pass_s, 1.0), LONGEST_PASS_S) if pass_s else USUAL_PASS_S
    if minutes is None:
        found = DutyFrom.GUESSED if passes is None else DutyFrom.COUNTED
        return passes_duty(passes or USUAL_PASSES, full_s, USUAL_COOL_S), found
    out_s = max(60.0 * minutes - WARM_UP.seconds, full_s)
    if passes is None:
        fit = round(out_s / (full_s + USUAL_COOL_S))
        return passes_duty(min(max(fit, 1), MOST_PASSES), full_s, USUAL_COOL_S), DutyFrom.COUNTED
    cool_s = min(max(out_s / passes - full_s, 1.0), LONGEST_COOL_S)
    return passes_duty(passes, full_s, round(cool_s, 1)), DutyFrom.TIMED
