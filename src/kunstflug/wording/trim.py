"""Trim in words: what a boat did, why, and what to turn."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.trim.measures import Measure
from kunstflug.core.trim.next_setting import Advice, Proposal
from kunstflug.core.trim.reasons import Reason
from kunstflug.core.trim.signs import Behaviour, Step

BEHAVIOURS: Final = {
    Behaviour.WET: "runs wet",
    Behaviour.BOUNCES: "bounces",
    Behaviour.PORPOISES: "porpoises",
    Behaviour.HOPS: "hops at the stern",
    Behaviour.CHINE_WALKS: "walks on the chines",
    Behaviour.LIGHT_BOW: "light bow",
    Behaviour.BLEW_OVER: "blew over",
    Behaviour.PULLS: "pulls to one side",
    Behaviour.HOOKS: "hooks in turns",
    Behaviour.WASHES_OUT: "washes out in turns",
    Behaviour.WATER_INSIDE: "water inside",
    Behaviour.TAIL_PULSES: "rooster tail pulses",
    Behaviour.PLUME_HIGH: "rooster tail high",
    Behaviour.PLUME_LOW: "rooster tail low",
}
TAPPED: Final = {words: sign for sign, words in BEHAVIOURS.items()} | {
    "pulls left": Behaviour.PULLS,
    "pulls right": Behaviour.PULLS,
    "sank": Behaviour.WATER_INSIDE,
}
"""What is tapped on a run, and what it means here."""

REASONS: Final = {
    Reason.MASS_FORWARD: "too much weight forward",
    Reason.MASS_AFT: "too much weight aft",
    Reason.STERN_LIFT: "too much lift at the stern",
    Reason.STERN_PRESSED: "too little lift at the stern",
    Reason.DRIVE_DEEP: "propeller too deep",
    Reason.DRIVE_SHALLOW: "propeller too high",
    Reason.RUDDER_CENTRED: "rudder in the propeller's wash",
    Reason.RUDDER_CROOKED: "rudder not straight",
    Reason.RUDDER_SMALL: "too little rudder in the water",
    Reason.FIN_SMALL: "turn fin holds too little",
    Reason.FIN_BIG: "turn fin holds too much",
    Reason.STRAKES: "strakes catch in the turn",
    Reason.TORQUE: "torque rolls the boat",
    Reason.AIR_LIFT: "too much air under the hull",
    Reason.LEAK: "a leak",
    Reason.PROPELLER: "propeller nicked, bent or out of balance",
    Reason.ROUGH_WATER: "rough water",
    Reason.PLAY: "play in rudder, strut or linkage",
    Reason.TOO_FAST: "faster than this hull holds as it stands",
    Reason.TRIGGER: "the trigger was feathered",
    Reason.ONCE: "nothing: a gust, a wake or chance",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class StepWords:
    """A step: what to do, how, what it costs elsewhere, and which sign would prove it wrong."""

    do: str
    how: str
    costs: str
    wrong_if: str


STEPS: Final = {
    Step.PACK_AFT: StepWords(
        do="Move the pack aft",
        how="One small step, 5 mm or so. Mark where it was.",
        costs="A lighter bow: less margin against blowing over.",
        wrong_if="The bow goes light or the boat porpoises.",
    ),
    Step.PACK_FORWARD: StepWords(
        do="Move the pack forward",
        how="One small step, 5 mm or so. Mark where it was.",
        costs="More wetted hull, a little speed.",
        wrong_if="It runs wet or hooks in the turn.",
    ),
    Step.LESS_LIFT: StepWords(
        do="Take some lift off the stern",
        how="Half a degree less strut angle, a tab up a little, or a propeller with less rake.",
        costs="The bow comes up: look at the margin against blowing over. Set the turn fin anew after a propeller change.",
        wrong_if="It porpoises or the bow goes light.",
    ),
    Step.MORE_LIFT: StepWords(
        do="Give the stern more lift",
        how="Half a degree more strut angle, a tab down a little, or a propeller with more rake.",
        costs="The bow is pressed down. Set the turn fin anew after a propeller change.",
        wrong_if="It runs wet, or hops at the stern.",
    ),
    Step.DRIVE_UP: StepWords(
        do="Raise the propeller",
        how="One millimetre at the strut, with a shim.",
        costs="Less grip from standing, more slip.",
        wrong_if="The rooster tail pulses or the stern hops.",
    ),
    Step.DRIVE_DOWN: StepWords(
        do="Lower the propeller",
        how="One millimetre at the strut, with a shim.",
        costs="More current and heat, more pull to the side. Read the temperatures after the next pass.",
        wrong_if="It pulls harder to the side, or runs hotter without being faster.",
    ),
    Step.RUDDER_ASIDE: StepWords(
        do="Set the rudder off to one side",
        how="Out of the propeller's wash, on the inside of the turns.",
        costs="A little pull to that side going straight.",
        wrong_if="It porpoises as before.",
    ),
    Step.RUDDER_STRAIGHT: StepWords(
        do="Set the rudder straight",
        how="Lay a straight edge along the rudder and the strut; take out play; check the trim at the transmitter.",
        costs="Nothing.",
        wrong_if="It pulls to the same side as before.",
    ),
    Step.RUDDER_DEEPER: StepWords(
        do="Lower the rudder",
        how="Five millimetres deeper.",
        costs="More drag: a little speed.",
        wrong_if="It slides as wide as before.",
    ),
    Step.FIN_MORE: StepWords(
        do="Let the turn fin hold more",
        how="A few tenths of a degree more angle, or three millimetres deeper.",
        costs="More drag, and a pull to its side going straight.",
        wrong_if="It hooks, or rides on the fin.",
    ),
    Step.FIN_LESS: StepWords(
        do="Let the turn fin hold less",
        how="A few tenths of a degree less angle, or three millimetres higher.",
        costs="Wider turns.",
        wrong_if="It washes out in the turn.",
    ),
    Step.STRAKES_OFF: StepWords(
        do="Take the inner strakes off",
        how="The inner ones first, both sides.",
        costs="Less lift: it may run a little wetter.",
        wrong_if="It slides as wide as before, or runs wet.",
    ),
    Step.MASS_ACROSS: StepWords(
        do="Move weight against the torque",
        how="Pack or ballast a few millimetres to the side that comes up.",
        costs="The boat lists at rest.",
        wrong_if="It leans to the other side at full throttle.",
    ),
    Step.LET_AIR_OUT: StepWords(
        do="Let air out from under the hull",
        how="Move weight forward a step, lower the nose, or open the deck's edge as your class allows. Slower passes first.",
        costs="More wetted hull, a little speed.",
        wrong_if="The bow is as light as before at the same speed.",
    ),
    Step.SEAL: StepWords(
        do="Find the leak and seal it",
        how="Fill the boat with water and look where it comes out; new tape on the hatch; grease in the stuffing tube.",
        costs="Nothing.",
        wrong_if="There is water inside after one pass.",
    ),
    Step.MEND_PROPELLER: StepWords(
        do="Look at the propeller",
        how="Off the boat: dress nicks, balance it, roll the shaft on glass.",
        costs="Nothing.",
        wrong_if="The tail pulses with a propeller that is known to be good.",
    ),
    Step.WAIT: StepWords(
        do="Wait for calmer water",
        how="Change nothing that was good in calm water.",
        costs="Nothing.",
        wrong_if="It does the same on flat water.",
    ),
    Step.TAKE_OUT_PLAY: StepWords(
        do="Take the play out of rudder and strut",
        how="Hold the servo still and wiggle each: pivot, horn, linkage, strut bolts, shaft in its bearing.",
        costs="Nothing.",
        wrong_if="Nothing has play, and it does the same.",
    ),
    Step.SLOWER: StepWords(
        do="Run it slower",
        how="Ease the trigger until it stops, or set less full throttle; then trim for more.",
        costs="Speed, until the trim is right.",
        wrong_if="It does the same a tenth slower.",
    ),
    Step.STEADY_TRIGGER: StepWords(
        do="Hold the trigger steady",
        how="One pass at one throttle, full or not.",
        costs="Nothing.",
        wrong_if="The tail pulses with the trigger held.",
    ),
    Step.LEAVE: StepWords(
        do="Change nothing and run it again",
        how="It happened in one run of several.",
        costs="One more run.",
        wrong_if="It does it again.",
    ),
}
FURTHER: Final = "The last one went the right way: two small steps at once. Mark where it was."
CAUTION: Final = (
    "Power off before hands go near the propeller. Turn fins and propellers cut. One change at a time, then a slow pass, "
    "with nobody on the line of travel: parts fly off at speed. The maker's and the venue's rules come first."
)
HELD_BACK: Final = {
    "blow_over": "it runs at {part} of the speed at which a gust turns it over",
    "torque": "torque takes {part} of what keeps it upright",
}
PRACTICE: Final = "Chances and steps are common practice, no source. What helped on this boat counts for more."
ADVICE: Final = {
    Advice.TRY: "Worth trying next:",
    Advice.AGAIN: "Run this one again:",
    Advice.BACK: "Go back to the best one so far: the last change made it worse.",
    Advice.HELD: "Not further that way: it may go past a margin.",
    Advice.ENOUGH: "Enough with these knobs.",
}


def why(found: Proposal, runs: int, repeats: float, unwritten: str) -> str:
    """Why a next setting is named, with its chance and its risk.

    Parameters
    ----------
    repeats : scatter of the racer's runs [1].
    unwritten : the next knob by practice that nobody wrote down; empty for none.
    """
    then = f" Next by practice: {unwritten.lower()}. Measure where it stands and write it down." if unwritten else ""
    match found.advice:
        case Advice.TRY:
            return (
                f"A run there tells most of where the best setting lies. By {_runs(runs)} the chance is "
                f"{_percent(found.better)} that it is faster, {_percent(found.worse)} that it is slower by more than "
                f"2 %, and {_percent(found.past)} that it goes past a margin. "
                "Watch for a light bow; make the first pass a slow one."
            )
        case Advice.AGAIN:
            return f"Your runs scatter by {100 * repeats:.1f} %: another of this one tells more than a new setting."
        case Advice.BACK:
            return "Start again from what is known to run well."
        case Advice.HELD:
            return "Win margin first, with weight forward or a calmer bow; then look again." + then
        case Advice.ENOUGH:
            return f"What is left to win is less than one run shows: they scatter by {100 * repeats:.1f} %." + then


def _runs(count: int) -> str:
    return "one run" if count == 1 else f"{count} runs"


def _percent(chance: float) -> str:
    return f"{100 * chance:.0f} %"


def grip(radius_m: float, low_m: float, high_m: float, lateral_g: float) -> str:
    """How tight a turn fin and rudder hold."""
    return (
        f"Fin and rudder hold a turn of about {radius_m:.0f} m ({low_m:.0f} to {high_m:.0f} m), {lateral_g:.0f} g at "
        "full speed. Tighter than that it slides. The hull's sides hold some more; nobody has measured how much."
    )


BY_PRACTICE: Final = {
    "chine_walk": "Chine walk: torque on this V",
    "hook": "Hook in a turn: fin against rudder, bow as it stands",
    "washout": "Washout: a turn of twelve boat lengths at full speed",
}


def practice(key: str, part: float) -> str:
    """A margin whose form is practice only."""
    low, high = f"{50 * part:.0f}", f"{200 * part:.0f}"
    return f"{BY_PRACTICE[key]} takes {100 * part:.0f} % of what is usual to hold ({low} to {high} %)."


MEASURES: Final = {
    Measure.SPEED: "speed",
    Measure.HEAT: "motor temperature",
    Measure.TURN_LOSS: "speed lost in turns",
    Measure.SPEED_SWING: "swing of the speed",
    Measure.COURSE_SWING: "swing of the course, a second",
}
UNIT_WORDS: Final = {"deg": "°", "1": ""}
BOUND_TO: Final = {
    "propeller.rake": "Set the turn fin and the tabs anew: another rake lifts the stern otherwise.",
    "hull.strut_angle": "Look at the propeller's depth: the strut turns about its bolt.",
    "hull.shaft_depth": "Look at the strut's angle, and read the temperatures after the next pass.",
    "propeller.cup": "Read the current: cup works like pitch.",
    "hull.drive_offset": "Set the rudder at rest anew.",
    "hull.fin_depth": "Set its angle anew.",
    "controller.full_throttle": "A controller at part throttle runs hotter than its current says.",
}
MEASURED_BY: Final = {
    "placement.pack": "Ruler from the transom to the middle of the pack.",
    "placement.ballast_place": "Ruler from the transom to the middle of the ballast.",
    "hull.strut_angle": "Angle gauge on the strut against the bottom; 0 is along the bottom.",
    "hull.tab_angle": "Angle gauge against the bottom; 0 is in line with it.",
    "propeller.rake": "As printed, or with a rake gauge.",
    "hull.shaft_depth": "Calliper from the bottom to the middle of the shaft at the propeller.",
    "hull.rudder_offset": "Ruler from the middle line.",
    "hull.rudder_depth": "Ruler from the bottom to the rudder's tip.",
    "hull.fin_angle": "Angle gauge, in tenths of a degree; count the turns of its screw.",
    "hull.fin_depth": "Ruler from the bottom to the fin's tip.",
    "hull.drive_offset": "Ruler from the middle line to the shaft at the transom.",
    "hull.rudder_setback": "Ruler from the transom to the rudder's pivot.",
    "hull.rudder_toe": "Straight edge along rudder and strut, stick let go.",
    "hull.steering": "Angle gauge on the rudder at full stick.",
    "hull.sponson_angle": "Angle gauge on the running surface; count its shims.",
    "hull.air_tab": "Angle gauge against the deck; 0 lies flat.",
    "propeller.cup": "Cup gauge, or a straight edge across the blade's rear edge.",
    "controller.full_throttle": "End point of the radio; look at the logger's throttle, or count rpm.",
    "controller.half_throttle": "Curve of the radio, at half stick.",
}
