"""Choosing in words: why a wish cannot be met, and what a single change brings and costs."""

import math
from typing import Final

from kunstflug.core.choose import backward, class_rules, steps
from kunstflug.core.choose.class_rules import RuleKey
from kunstflug.core.drive.verdict import Verdict
from kunstflug.wording.limits import TITLES
from kunstflug.wording.say import fixed, says
from kunstflug.wording.tongue import Tongue

fixed(backward.NothingPlanes, "No combination of what is free gets this hull on the plane.")


@says(backward.TooHeavy)
def _heavy(f: backward.TooHeavy, t: Tongue) -> str:
    return f"Every drive that is free makes the boat heavier than {t.mass(f.most_kg)}."


@says(class_rules.Broken)
def _not_in_class(f: class_rules.Broken, t: Tongue) -> str:
    match f.key:
        case RuleKey.CELLS:
            return f"{f.name} allows {f.limit:.0f} cells, this has {f.value:.0f}"
        case RuleKey.VOLTAGE:
            return f"{f.name} allows {t.voltage(f.limit, 1)}, this has {t.voltage(f.value, 1)} fully charged"
        case RuleKey.LENGTH:
            return f"{f.name} allows a hull of {t.length(f.limit)}, this has {t.length(f.value)}"
        case RuleKey.LIGHT:
            return f"{f.name} wants at least {t.mass(f.limit)}, this has {t.mass(f.value)}"
        case RuleKey.HEAVY:
            return f"{f.name} allows {t.mass(f.limit)}, this has {t.mass(f.value)}"


@says(class_rules.TooLoud)
def _too_loud(f: class_rules.TooLoud, t: Tongue) -> str:
    how = "" if f.measured else " by a rough estimate"
    return f"{f.name} allows {f.limit_db:.0f} dB(A) at {t.distance(f.at_m)}, this makes about {f.level_db:.0f}{how}"


@says(backward.TooShort)
def _short(f: backward.TooShort, t: Tongue) -> str:
    return (
        f"No drive runs {t.seconds(f.wanted_s)} at full throttle on this pack; the longest run is "
        f"{t.seconds(f.longest_s)}."
    )


@says(backward.OnlyPastLimit)
def _past(f: backward.OnlyPastLimit, t: Tongue) -> str:
    return f"It can be reached, but the easiest drive uses {t.part(f.use)} of its {TITLES[f.key].lower()} limit."


@says(backward.OutOfReach)
def _reach(f: backward.OutOfReach, t: Tongue) -> str:
    lasting = f" that lasts {t.seconds(f.least_s)}" if f.least_s > 0 else ""
    return f"Nothing that is free reaches it. The fastest drive tried{lasting} gives {t.speed(f.fastest_mps)}."


ENDS: Final = {
    Verdict.HOLDS: "every limit holds",
    Verdict.SHORT: "short runs only",
    Verdict.STOP: "stop: leave it",
    Verdict.NONE: "it does not run",
}
"""A verdict at the end of a sentence."""


@says(steps.StepEffect)
def _effect(f: steps.StepEffect, t: Tongue) -> str:
    gain, warmer = t.faster(f.gain_mps), t.warmer(f.warmer_k)
    if math.isfinite(f.burnt_s):
        return f"{gain}, and it burns after {t.seconds(f.burnt_s)}: do not run it; {t.current(f.current_a)}"
    chance = f"; {t.part(f.chance)} chance of passing a limit" if f.chance >= 0.005 else ""
    return f"{gain}, {warmer} on the motor case, {t.current(f.current_a)}; {ENDS[f.verdict]}{chance}"
