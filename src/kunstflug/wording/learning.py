"""What is said of what runs taught."""

from typing import Final

from kunstflug.core.drive.family import MOTOR_SIZES_MM
from kunstflug.core.evidence.readings import What
from kunstflug.core.learning.attribution import Ruling
from kunstflug.core.learning.causes import Cause
from kunstflug.core.learning.measure_next import Measure
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.setup.knowledge import Owner

READINGS: Final = {
    What.SPEED: ("Top speed", Dimension.SPEED),
    What.CURRENT: ("Current", Dimension.CURRENT),
    What.RPM: ("Loaded rpm", Dimension.ROTATION),
    What.VOLTAGE: ("Pack under load", Dimension.VOLTAGE),
    What.CHARGE: ("Charge used", Dimension.CHARGE),
    What.CASE: ("Motor", Dimension.TEMPERATURE),
    What.CONTROLLER: ("Controller", Dimension.TEMPERATURE),
    What.PACK: ("Pack", Dimension.TEMPERATURE),
    What.CONNECTOR: ("Connector", Dimension.TEMPERATURE),
}

MEASURES: Final = {
    Measure.WEIGH: "Weigh the boat ready to run",
    Measure.PITCH_GAUGE: "Put the propeller on a pitch gauge",
    Measure.CELL_RESISTANCE: "Measure the cells' resistance",
    Measure.WINDING: "Measure the winding's resistance",
    Measure.NO_LOAD: "Measure the no-load current",
    Measure.LOG_CURRENT: "Log or read the current once",
    Measure.LOG_RPM: "Log the rpm once",
    Measure.TWO_WAYS: "Two passes, one each way",
    Measure.GUN_CASE: "Gun on the motor after a run",
    Measure.GUN_CONTROLLER: "Gun on the controller after a run",
}

CAUSES: Final = {
    Cause.CAP: "the cap was left on the intake, or the water did not run",
    Cause.WEED: "weed on the propeller or the rudder",
    Cause.WEAK_CELL: "a weak cell, or less charge than usual",
    Cause.OTHER_PROPELLER: "another propeller than written, or a bent one",
    Cause.WIND: "wind",
    Cause.INSTRUMENT: "a false reading",
    Cause.NOT_FULL: "the trigger was not held at full",
    Cause.PEAK: "a peak in place of what was held",
    Cause.UNIT: "another unit",
    Cause.DIGIT: "a digit moved",
    Cause.OTHER_SETUP: "it ran with another setup",
}

NO_RUNS: Final = "no runs to compare"


def effect_words(ruling: Ruling, chance: float | None) -> str:
    """How likely a decision helped, as a racer says it."""
    if chance is None or ruling is Ruling.NO_RUNS:
        return NO_RUNS
    slower = chance < 0.5
    hundred = min(max(round(100 * (1 - chance if slower else chance)), 50), 99)
    words = f"{hundred} in 100 that it is {'slower' if slower else 'faster'}"
    return f"{words}, by several decisions at once" if ruling is Ruling.TOO_MANY else words


HULLS: Final = {"mono": "Monos", "catamaran": "Catamarans", "tunnel": "Tunnels", "outrigger": "Outriggers"}
MOTORS: Final = {"inrunner": "Inrunners", "outrunner": "Outrunners"}
WHEELS: Final = {
    "surface": "surface-piercing propellers",
    "submerged": "propellers under water",
    "jet": "impellers of jets",
}


def family_words(family: str) -> str:
    """A family of things that a club pools, in a racer's words."""
    match family.split("/"):
        case ["hull", kind]:
            return HULLS[kind]
        case ["motor", kind, size]:
            bounds = ("", *(f"{bound:g}" for bound in MOTOR_SIZES_MM), "")
            low, high = bounds[int(size)], bounds[int(size) + 1]
            between = f"{low} to {high}" if low and high else f"up to {high}" if high else f"over {low}"
            return f"{MOTORS[kind]}, {between} mm"
        case ["propeller", drive, blades]:
            return f"{BLADES.get(blades, blades)}-bladed {WHEELS[drive]}"
        case _:
            return {"controller": "Controllers", "pack": "Packs"}[family]


BLADES: Final = {"2": "Two", "3": "Three", "4": "Four", "5": "Five", "6": "Six"}
OWNERS: Final = {
    Owner.HULL: "Hull and installation",
    Owner.MOTOR: "Motor",
    Owner.CONTROLLER: "Controller",
    Owner.PACK: "Pack",
    Owner.PROPELLER: "Propeller",
    Owner.MODEL: "The model",
}
