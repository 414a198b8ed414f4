"""Heat in words: nodes, phases, peaks, the tub test, the cooling water."""

import math
from typing import Final

from kunstflug.core.cooling.circuit import PieceKind
from kunstflug.core.cooling.stream import Stream, StreamLook
from kunstflug.core.cooling.whatif import Case, CaseKey
from kunstflug.core.drive.schools import Schools
from kunstflug.core.thermal import launch, tub
from kunstflug.core.thermal.duty import Phase, PhaseKind
from kunstflug.core.thermal.heat_forecast import HeatLimit
from kunstflug.core.thermal.nodes import Node
from kunstflug.wording.say import says, sentence
from kunstflug.wording.tongue import Tongue, grouped

NODES: Final = {
    Node.WINDING: "Winding",
    Node.CASE: "Motor case",
    Node.CONTROLLER: "Controller",
    Node.PACK: "Pack",
    Node.CONNECTOR: "Connector",
    Node.MAGNETS: "Magnets",
    Node.JUNCTION: "Controller, inside",
}
PHASES: Final = {
    PhaseKind.WARM_UP: "Warm-up",
    PhaseKind.PASS: "Pass",
    PhaseKind.COOL_DOWN: "Cool-down",
    PhaseKind.STRAIGHT: "Straight",
    PhaseKind.TURN: "Turn",
    PhaseKind.HELD: "Held",
    PhaseKind.SOAK: "Soak",
}
FAILS: Final = {
    Node.WINDING: "its enamel burns off after {}: the motor is gone",
    Node.CONNECTOR: "its solder melts after {}: the plug comes off its wire",
}
PIECES: Final = {
    PieceKind.PICKUP: "Pickup",
    PieceKind.HOSE: "Hose",
    PieceKind.MOTOR: "Motor jacket",
    PieceKind.CONTROLLER: "Controller block",
    PieceKind.Y: "Y-piece",
    PieceKind.OUTLET: "Outlet",
}
CAUTION: Final = "Watch the outlet: no stream means come in. Take the caps off before the boat goes in the water."


def phase(p: Phase) -> str:
    """What a phase is called."""
    return f"{PHASES[p.kind]} {p.number}" if p.number else PHASES[p.kind]


def limit(found: HeatLimit, schools: Schools, t: Tongue) -> str:
    """A node against its ceiling; the verdict stands beside it."""
    plural = found.node is Node.MAGNETS
    reach, stay = ("reach", "stay") if plural else ("reaches", "stays")
    said = f"the {NODES[found.node].lower()} {reach} {t.temperature(found.peak_c)}"
    why = "its mount softens" if found.by_mount else schools.temperature
    ceiling = f"{t.temperature(found.ceiling_c)} ({why})"
    if math.isfinite(found.crossing_s):
        passed = sentence(f"{said}, past {ceiling} after {t.seconds(found.crossing_s)}")
        failed = FAILS[found.node].format(t.seconds(found.fails_s)) if math.isfinite(found.fails_s) else ""
        return f"{passed} {sentence(failed)}" if failed else passed
    return sentence(f"{said} and {stay} below {ceiling}")


def way_to_speed(found: launch.Launch, t: Tongue) -> str:
    """How a boat gets to speed, from standing and from half of its speed."""
    if math.isinf(found.plane_s.middle):
        return f"From standing it does not get onto the plane within {t.seconds(launch.LONGEST_S)}."
    planes = f"From standing: on the plane after {grouped(found.plane_s.middle, 1)} s, {_start(found.standing, t)}."
    return f"{planes} From half speed: {_start(found.flying, t)}."


def _start(found: launch.Start, t: Tongue) -> str:
    if math.isinf(found.seconds.middle):
        return "full speed is never reached"
    high = t.distance(found.metres.high) if math.isfinite(found.metres.high) else "never"
    band = f"{t.distance(found.metres.low)} to {high}"
    return f"full speed after {grouped(found.seconds.middle, 1)} s and {t.distance(found.metres.middle)} ({band})"


@says(launch.ShortOfFullSpeed)
def _short(f: launch.ShortOfFullSpeed, t: Tongue) -> str:
    return (
        f"{grouped(f.full_s, 1)} s of full throttle is too short for full speed: the boat needs "
        f"{grouped(f.needed_s, 1)} s and reaches {t.part(f.part)} of it."
    )


@says(launch.PondTooShort)
def _pond(f: launch.PondTooShort, t: Tongue) -> str:
    return f"The pond is too short: a pass takes {t.distance(f.needed_m)} of straight water, you have {t.distance(f.pond_m)}."


@says(launch.MayNotPlane)
def _plane(f: launch.MayNotPlane, t: Tongue) -> str:
    return (
        f"It may not get onto the plane (chance {t.part(f.chance)}): the propeller draws air at the hump. "
        "Less pitch, a larger propeller or less mass helps."
    )


@says(tub.StopNow)
def _stop(f: tub.StopNow, t: Tongue) -> str:
    if f.seconds_left <= 0:
        return f"Stop: the motor case is at {t.temperature(f.ceiling_c)}."
    return f"Stop: {t.seconds(f.seconds_left)} to {t.temperature(f.ceiling_c)}."


@says(tub.LevelsOff)
def _level(f: tub.LevelsOff, t: Tongue) -> str:
    return f"It levels off at about {t.temperature(f.level_c)}, below {t.temperature(f.ceiling_c)}."


@says(tub.GoOn)
def _go_on(f: tub.GoOn, t: Tongue) -> str:
    if math.isinf(f.seconds_left):
        return f"Go on: it stays below {t.temperature(f.ceiling_c)} for the next ten minutes."
    return f"Go on: {t.seconds(f.seconds_left)} to {t.temperature(f.ceiling_c)}."


@says(tub.HarsherThanPond)
def _harsher(f: tub.HarsherThanPond, t: Tongue) -> str:
    return (
        f"The tub is harsher than the pond. Held, the propeller takes {t.current(f.held_a)} for minutes; running, it "
        f"takes {t.current(f.running_a)} for seconds, with water through the jacket. Read the tub as an upper bound."
    )


def case(c: Case, t: Tongue) -> str:
    """What happens to a circuit."""
    words = {
        CaseKey.NOW: "As drawn",
        CaseKey.CAP: "Cap left on",
        CaseKey.WEED: "Half blocked by weed",
        CaseKey.KINK: "Kinked hose",
        CaseKey.WARM: f"Warm pond, {t.temperature(c.water_c)}",
        CaseKey.CONTROLLER_FIRST: "Controller first",
        CaseKey.MOTOR_FIRST: "Motor first",
        CaseKey.TWO_LINES: "A line for each",
        CaseKey.ONE_LINE: "One line for both",
        CaseKey.BY_JET: "Water from the jet's own pressure",
        CaseKey.NO_WATER: "No cooling water",
        CaseKey.USUAL: "A line from the rudder",
    }
    return words[c.key]


DRY: Final = "cooled by air alone"


def stream(s: Stream, t: Tongue) -> str:
    """What the driver sees."""
    throw = f"{grouped(s.throw_m * 100)} cm" if t.units == "metric" else f"{grouped(s.throw_m / 0.0254)} in"
    return {
        StreamLook.NOTHING: "no stream: come in",
        StreamLook.DRIPS: "drips along the side",
        StreamLook.THIN: f"a thin stream, {throw} off the side",
        StreamLook.CLEAR: f"a clear stream, {throw} off the side",
    }[s.seen]
