"""Choosing in words: why a wish cannot be met, and what a single change brings and costs."""

import math
from collections.abc import Sequence
from typing import Final

from kunstflug.core.choose import backward, class_rules, outings, steps
from kunstflug.core.choose.class_rules import RuleKey
from kunstflug.core.choose.steps import Intent
from kunstflug.core.drive.limits import LimitKey
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.thermal.nodes import Node
from kunstflug.wording.heat import NODES
from kunstflug.wording.limits import TITLES
from kunstflug.wording.say import fixed, say, says
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
    what = place_word(f.key).lower()
    if f.use <= 1.0:
        return f"It can be reached, but {odds(f.chance)} that the easiest drive passes a limit; {what} is used most."
    return f"It can be reached, but the easiest drive uses {t.part(f.use)} of its {what} limit."


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


def place_word(key: LimitKey | Node) -> str:
    """A limit or a place of temperature, as titles call it."""
    return TITLES[key] if isinstance(key, LimitKey) else NODES[key]


@says(steps.Advice)
def _advice(f: steps.Advice, t: Tongue) -> str:
    what = place_word(f.tightest)
    if f.intent is Intent.WITHIN:
        if f.hot is not None and f.holds:
            now = f"The last run read the {NODES[f.hot].lower()} above its ceiling: cooler first."
        elif f.holds:
            return f"All limits hold; {what.lower()} is used most. This is what takes most off it for the least speed."
        else:
            now = f"{what} is past its limit, or may be ({odds(f.chance)}): back within limits first."
        return now if f.served else f"{now} No single change does it: these lead furthest back."
    if f.served:
        return "The first keeps every limit."
    return {
        Intent.FASTER: "No change tried here is faster within all limits.",
        Intent.LONGER: "No change tried here runs longer within all limits.",
    }[f.intent]


def breaks(found: Sequence[class_rules.Breach], tongue: Tongue) -> str:
    """What a class does not allow; empty for what it does."""
    return "; ".join(say(one, tongue) for one in found)


def odds(chance: float) -> str:
    """A chance as racers say it."""
    return f"{round(100 * chance)} in 100"


@says(outings.SettlesGuess)
def _settles(f: outings.SettlesGuess, t: Tongue) -> str:
    return (
        f"Read speed and motor temperature: so far {odds(f.chance)} that a limit is passed, and that is from guesses."
    )


@says(outings.ShowsStep)
def _shows(f: outings.ShowsStep, t: Tongue) -> str:
    limits = f"{odds(f.chance_then)} that a limit is passed, {odds(f.chance)} before"
    if f.passes is None:
        return f"About the same speed, {t.warmer(f.warmer_k)} on the motor case; {limits}. Read the temperatures."
    said = f"{t.faster(f.gain_mps)}, {t.warmer(f.warmer_k)} on the motor case"
    return (
        f"Whether it is {said}: {f.passes} passes before and {f.passes} after in one outing show the speed. {limits}."
    )


@says(steps.StepEffect)
def _effect(f: steps.StepEffect, t: Tongue) -> str:
    gain, warmer = t.faster(f.gain_mps), t.warmer(f.warmer_k)
    if math.isfinite(f.burnt_s):
        return f"{gain}, and it burns after {t.seconds(f.burnt_s)}: do not run it; {t.current(f.current_a)}"
    chance = f"; {odds(f.chance)} that a limit is passed" if f.chance >= 0.005 else ""
    return f"{gain}, {warmer} on the motor case, {t.current(f.current_a)}; {ENDS[f.verdict]}{chance}"
