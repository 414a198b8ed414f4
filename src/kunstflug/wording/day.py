"""The pond day in words."""

import math
from typing import Final

from kunstflug.core.day import shore, weather
from kunstflug.core.day.checks import Check, Failure, Phase
from kunstflug.core.day.passes import PassPlan
from kunstflug.core.day.plan import DayPlan, WaitsFor
from kunstflug.core.day.weather import Waves
from kunstflug.wording.build import Doing
from kunstflug.wording.say import says
from kunstflug.wording.tongue import Tongue, grouped

PHASES: Final = {
    Phase.HOME: "At home",
    Phase.TUB: "In the tub",
    Phase.POND: "At the pond, before the start",
    Phase.LANDED: "After landing",
    Phase.BACK: "Back home",
}


CHECKS: Final = {
    Check.SERVICE: Doing(title="Do the service that is due", inspect="see the list under Shelf"),
    Check.CELLS_EVEN: Doing(title="Measure every cell of every pack", inspect="within 0.02 V of one another"),
    Check.PACK_SOUND: Doing(title="Look at and feel the packs", inspect="not swollen, wet, dented or warm"),
    Check.TRANSMITTER: Doing(title="Charge the transmitter and the receiver pack"),
    Check.SCREWS: Doing(title="Try every screw", inspect="mount, coupler, strut, rudder, fin"),
    Check.FLEX: Doing(title="Pull the flex and grease it", inspect="no broken strand, gap at the strut as set"),
    Check.IMPELLER: Doing(title="Turn the impeller by hand", inspect="no rub in the duct, no weed"),
    Check.PROPELLER_EDGE: Doing(title="Look along the propeller's edges", inspect="no nick, nut tight; it cuts"),
    Check.PROPELLER_MEND: Doing(
        title="Dress or change the propeller", inspect="it is written down as nicked or out of balance"
    ),
    Check.HARDWARE_MEND: Doing(title="Straighten rudder, strut and fin", inspect="they are written down as damaged"),
    Check.BELLOWS: Doing(title="Look at seals, bellows and hoses", inspect="whole, and tight on their nipples"),
    Check.TRIMS: Doing(title="Compare trims and end points with the sheet of this setup"),
    Check.TUB_WATER: Doing(title="Run it in the tub for a moment", inspect="water comes out of every outlet"),
    Check.TUB_LEAK: Doing(title="Hold it under to the deck for a minute", inspect="dry inside"),
    Check.TUB_WAY: Doing(
        title="Look which way the propeller turns", inspect="boat in a stand, hands and sleeves clear"
    ),
    Check.FAILSAFE: Doing(title="Switch the transmitter off", inspect="the motor stops and the rudder stays"),
    Check.CAP_OFF: Doing(title="Take the cap off the water intake"),
    Check.DRAIN: Doing(title="Put the drain plug in"),
    Check.HATCH: Doing(title="Tape the hatch", inspect="dry edge, pressed down all round"),
    Check.HATCH_COLD: Doing(
        title="Warm the hatch tape in your hand and dry the edge", inspect="cold or wet it lets go"
    ),
    Check.FIN: Doing(title="Look at the turn fin", inspect="straight, tight; it cuts"),
    Check.LOGGER: Doing(title="Zero the position logger", inspect="well forward, sky above it, a fix"),
    Check.RANGE: Doing(title="Walk the range", inspect="boat held, low power, no twitch"),
    Check.LINE: Doing(title="Look along the line of travel", inspect="nobody in the water, nobody on the line"),
    Check.BOAT: Doing(title="Have the rescue boat or line ready", inspect="nobody swims after a boat"),
    Check.ARM_LAST: Doing(title="Arming plug in, last of all", inspect="boat held or in its stand"),
    Check.WATER_SEEN: Doing(title="See water at the outlet within the first lap"),
    Check.ARM_OUT: Doing(title="Arming plug out, before anything else"),
    Check.GUN: Doing(title="Read the gun: controller, motor, pack, plugs", inspect="note the minutes since landing"),
    Check.RESTING: Doing(title="Measure the cells at rest", inspect="after five minutes; lowest against the others"),
    Check.INSIDE: Doing(title="Look inside", inspect="water, loose screws, a shaft that moved"),
    Check.DISPLAY: Doing(title="Write down the peak and zero the display"),
    Check.WROTE: Doing(title="Tap what the boat did"),
    Check.GREASE: Doing(title="Grease the shaft"),
    Check.DRY: Doing(title="Dry the boat and leave the hatch open"),
    Check.STORAGE: Doing(title="Bring all packs to storage charge", inspect="attended, in a fire-safe place"),
    Check.LOOK: Doing(title="Look at propeller, flex, bellows and screws", inspect="write down what is worn"),
}
ASKED: Final = {
    Failure.WATER_INSIDE: "there was water inside",
    Failure.HOT: "it ran hot",
    Failure.CAME_LOOSE: "something came loose or broke",
    Failure.NO_SIGNAL: "the signal was lost",
    Failure.BLEW_OVER: "it blew over",
    Failure.WEAK_PACK: "a cell was weak",
}
WAVES: Final = {
    Waves.GLASS: "Flat water",
    Waves.RIPPLES: "Ripples",
    Waves.CHOP: "Chop: wait for it to lie down",
    Waves.WAVES: "Waves: not for speed today",
}
WAITS: Final = {
    WaitsFor.START: "first on the water",
    WaitsFor.HANDS: "as soon as hands are free",
    WaitsFor.PACK: "waits for its pack",
    WaitsFor.COOLING: "waits for the boat to cool",
    WaitsFor.TOLD: "not before, as you said",
    WaitsFor.NEVER: "no charger can charge this pack",
}
CAUTIONS: Final = (
    "Nobody in the water and nobody on the line of travel; nobody swims after a boat. Permission, noise and wildlife: "
    "the venue's rules and local codes come first.",
    "Propellers and fins are sharp and start without warning: boat in a stand, arming plug last and out first. "
    "Hot parts burn after a run.",
)
CHARGE_CAUTION: Final = (
    "LiPo: charge attended, in a fire-safe place, balanced, at no more than the maker allows. Never a swollen, wet or "
    "crashed pack."
)


@says(shore.NoShore)
def _no_shore(fact: shore.NoShore, tongue: Tongue) -> str:
    return f"{fact.fewest} corners or more round a piece of water, in order, without crossing"


@says(weather.AgainstWind)
def _wind(f: weather.AgainstWind, t: Tongue) -> str:
    if math.isinf(f.part):
        return f"A gust of {t.speed(f.gust_mps)} alone turns this boat over"
    return (
        f"{t.speed(f.speed_mps)} into a gust of {t.speed(f.gust_mps)} is {t.part(f.part)} of the speed at which it blows "
        "over (a rough guess)"
    )


@says(weather.OnWaves)
def _waves(f: weather.OnWaves, t: Tongue) -> str:
    return WAVES[f.waves]


@says(weather.InWater)
def _water(f: weather.InWater, t: Tongue) -> str:
    where = f"In water of {t.temperature(f.water_c)}"
    if f.passes == 0:
        return f"{where} not one pass stays below the ceilings"
    if f.passes < 0:
        return f"{where} heat does not end the run"
    return f"{where} heat leaves {f.passes} {'pass' if f.passes == 1 else 'passes'}"


def asked(failure: Failure, check: Check) -> str:
    """A question about a check that was not ticked."""
    return f"“{CHECKS[check].title}” was not ticked, and {ASKED[failure]}. Was it done?"


def pass_words(plan: PassPlan, t: Tongue) -> list[str]:
    """The plan of a pass, a sentence each."""
    start = "From a standing start" if plan.standing else "Out of a turn"
    said = []
    if math.isfinite(plan.run_up_m):
        said.append(
            f"{start} it takes {t.distance(plan.run_up_m)} and {grouped(plan.run_up_s, 1)} s to full speed. Lift "
            f"{t.distance(plan.lift_m)} after the throttle opened, {grouped(plan.full_s, 1)} s."
        )
    else:
        said.append(f"{start} it does not reach full speed.")
    if plan.short_m > 0:
        longest = f" {grouped(plan.longest_s, 1)} s fit." if plan.longest_s > 0 else ""
        said.append(f"The pond is {t.distance(plan.short_m)} too short for that.{longest}")
    if math.isfinite(plan.cool_s):
        said.append(
            f"Between passes, a cool-down lap of {grouped(plan.cool_s)} s keeps four of them below all ceilings."
        )
    else:
        said.append("No cool-down lap keeps four passes below all ceilings: read the gun after each.")
    passes, why = plan.come_in_after, ""
    if plan.by_charge < plan.passes and plan.by_charge == passes:
        why = ": the charge gives no more"
    elif 0 <= plan.until_limit == passes < plan.passes:
        why = ": then a part is at its ceiling"
    word = "pass" if passes == 1 else "passes"
    said.append(
        f"Come in after {passes} {word}{why}, {t.seconds(plan.come_in_s)} after the start, with {t.part(1 - plan.used)} "
        "of the charge left."
    )
    return said


def day_words(plan: DayPlan) -> list[str]:
    """What holds a day up, what stays full, what cannot be."""
    said = []
    if any(math.isinf(run.start_s) for run in plan.runs):
        said.append("A pack that no charger can charge: look at its cells and the charger's.")
    waited = f"{grouped(plan.waited_s / 60)} min"
    if plan.bottleneck is WaitsFor.PACK:
        said.append(f"Charging holds the day up: {waited} of waiting. A pack more, or more current, shortens it.")
    elif plan.bottleneck is WaitsFor.COOLING:
        said.append(f"Cooling holds the day up: {waited} of waiting. Run another boat in between.")
    elif plan.bottleneck is WaitsFor.TOLD:
        said.append(f"The hours you set hold the day up: {waited} of waiting.")
    elif plan.runs:
        said.append("Nothing holds the day up but your hands.")
    if plan.left_full:
        said.append(f"In no run: {', '.join(plan.left_full)}. Leave it at storage charge.")
    return said
