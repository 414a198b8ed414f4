"""The forecast in words: why a drive does not run, what would, dangers, doubts and caveats."""

from typing import Final

from kunstflug.core.drive import dangers, forecast, nearest
from kunstflug.core.drive.point import Loss
from kunstflug.core.propeller.curve import BeyondSeries
from kunstflug.core.propeller.jet import JetIsRough
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup import doubts
from kunstflug.wording.say import fixed, says
from kunstflug.wording.tongue import Tongue, trimmed

fixed(nearest.PushedBackwards, "The boat is pushed backwards: thrust never exceeds the drag of hull and headwind.")


@says(nearest.PropellerTooBig)
def _too_big(f: nearest.PropellerTooBig, t: Tongue) -> str:
    return (
        f"Propeller too big: it holds the motor at {t.part(f.rpm_part)} of its free rpm, at {t.current(f.current_a)} "
        f"and {t.voltage(f.cell_v)} a cell. Something burns before the boat gets there."
    )


@says(nearest.StaysBelowPlaning)
def _below(f: nearest.StaysBelowPlaning, t: Tongue) -> str:
    return (
        f"Not enough thrust: {t.force(f.thrust_n)} does not carry this hull over the hump. "
        f"It stays off the plane at {t.speed(f.speed_mps)}."
    )


def remedy(r: nearest.Remedy, t: Tongue) -> str:
    """A single change that would run."""
    match r.path:
        case "propeller.diameter":
            return f"A {t.length(r.value, 3)} propeller would run"
        case "motor.kv":
            return f"{trimmed(round(r.value))} KV would run"
        case "all_up_mass":
            return f"A boat of {t.mass(r.value)} would run"
        case _:
            return f"{r.value:.0f} {'cell' if r.value == 1 else 'cells'} would run"


DANGERS: Final[dict[type[Fact], str]] = {
    dangers.AtTheHump: "Hump",
    dangers.BlowOver: "Blow-over",
    dangers.TorqueRoll: "Torque roll",
    dangers.Shake: "Vibration",
    dangers.Porpoising: "Porpoising",
    dangers.Hop: "Hop at the stern",
    dangers.Cavitation: "Cavitation",
}


@says(dangers.AtTheHump)
def _hump(f: dangers.AtTheHump, t: Tongue) -> str:
    return (
        f"At the hump, thrust is {trimmed(f.thrust_part, 2)} x the drag; {trimmed(f.wanted)} x is needed for waves and "
        "weed."
    )


@says(dangers.BlowOver)
def _blow_over(f: dangers.BlowOver, t: Tongue) -> str:
    return (
        f"From about {t.speed(f.critical_mps)}, a gust under a bow 5° up turns the boat over. It runs at "
        f"{t.part(f.part)} of that. This is a rough guess: the deck's lift may be half or double."
    )


@says(dangers.TorqueRoll)
def _torque(f: dangers.TorqueRoll, t: Tongue) -> str:
    return (
        f"The propeller's {trimmed(f.torque_nm, 2)} Nm take {t.part(f.part)} of what keeps the boat upright, and its "
        f"lower blades push the stern sideways with {t.force(f.side_force_n)} ({t.part(f.side_part)} of the thrust): "
        "expect it to lean and pull."
    )


@says(dangers.Shake)
def _shake(f: dangers.Shake, t: Tongue) -> str:
    return (
        f"{trimmed(f.missing_kg * 1e3)} g missing from one blade pull with {t.force(f.force_n)} at {t.rpm(f.rpm)} rpm, "
        f"{t.part(f.weight_part)} of the boat's weight. Balance it before bearings, flex and strut pay for it."
    )


@says(dangers.Porpoising)
def _porpoising(f: dangers.Porpoising, t: Tongue) -> str:
    beyond = " Above that speed the method does not apply." if f.slower_than_top else ""
    beyond += " Each of the two hulls is taken to carry half." if f.hulls > 1 else ""
    return (
        f"At {t.speed(f.speed_mps)} it trims {trimmed(f.trim_deg, 2)}°; it would porpoise above "
        f"{trimmed(f.boundary_deg, 2)}° (Savitsky 1964).{beyond}"
    )


@says(dangers.Hop)
def _hop(f: dangers.Hop, t: Tongue) -> str:
    return (
        f"The propeller lifts {t.force(f.lift_n)}, {t.part(f.part)} of the weight that rests on the stern. "
        "A wave does the rest: past about 60 % expect the propeller to leave the water."
    )


@says(dangers.Cavitation)
def _cavitation(f: dangers.Cavitation, t: Tongue) -> str:
    lost = f"about {t.part(f.lost)} of the thrust is lost" if f.lost > 0 else "no thrust is lost"
    return f"Blade loading is {trimmed(f.loading, 2)}; at {trimmed(f.limit, 2)} a tenth of the back cavitates; {lost}."


@says(doubts.TooMuchEnergy)
def _energy(f: doubts.TooMuchEnergy, t: Tongue) -> str:
    return (
        f"{trimmed(f.energy_wh, 3)} Wh in {t.mass(f.mass_kg)} would be {trimmed(f.energy_wh / f.mass_kg, 3)} Wh/kg; a "
        f"high-rate pack has 130 to {trimmed(f.most_wh_kg)}. Weigh it, or count what the charger puts back."
    )


@says(doubts.FarFromUsual)
def _far(f: doubts.FarFromUsual, t: Tongue) -> str:
    return (
        f"{t.resistance(f.given_ohm)} is {trimmed(f.given_ohm / f.usual_ohm, 2)} x what such a part usually has "
        f"({t.resistance(f.usual_ohm)}). It is used as given; measure it again."
    )


@says(doubts.TwoPitches)
def _pitches(f: doubts.TwoPitches, t: Tongue) -> str:
    return (
        f"A pitch ratio of {trimmed(f.pitch_ratio)} and a pitch of {t.length(f.pitch_m)} do not agree. The pitch is "
        f"used, a ratio of {trimmed(f.ratio_of_pitch, 3)}."
    )


@says(doubts.BurstBelowContinuous)
def _burst(f: doubts.BurstBelowContinuous, t: Tongue) -> str:
    return (
        f"A burst current of {t.current(f.burst_a)} is below the continuous {t.current(f.continuous_a)}. The latter "
        "is used."
    )


@says(BeyondSeries)
def _series(f: BeyondSeries, t: Tongue) -> str:
    what = "pitch ratio" if f.of_pitch else "blade area ratio"
    return (
        f"Wetted propeller: {what} {trimmed(f.ratio, 3)}; the propeller series covers {trimmed(f.low)} to "
        f"{trimmed(f.high)}."
    )


@says(JetIsRough)
def _jet(f: JetIsRough, t: Tongue) -> str:
    return f"Water-jet: a momentum model with usual numbers; thrust may be {t.part(f.part)} more or less."


@says(forecast.MuchSlip)
def _slip(f: forecast.MuchSlip, t: Tongue) -> str:
    return f"Surface propeller: slip {t.part(f.slip)}; the model is meant for less than {t.part(f.most)}."


@says(forecast.VeryFast)
def _fast(f: forecast.VeryFast, t: Tongue) -> str:
    return f"Hull drag: volume Froude number {trimmed(f.volume_froude, 2)}; lift of the air is not computed."


@says(forecast.NotPlaning)
def _not_planing(f: forecast.NotPlaning, t: Tongue) -> str:
    return f"Hull drag: volume Froude number {trimmed(f.volume_froude, 2)}; below planing the drag is a rough guess."


@says(forecast.MayHang)
def _may_hang(f: forecast.MayHang, t: Tongue) -> str:
    if f.chance < 0.95:
        return f"It comes over its hump in {round(10 * f.chance)} of 10 starts; the speed lies between both."
    return "Thrust is hardly more than resistance on the way up: gust and trim decide; the speed is a mean over both."


@says(forecast.RunsDenyLaws)
def _deny(f: forecast.RunsDenyLaws, t: Tongue) -> str:
    return "These runs deny the laws: the forecast stands on the runs alone. Look at KV, pitch and units once more."


@says(forecast.HighVoltage)
def _volts(f: forecast.HighVoltage, t: Tongue) -> str:
    return f"Over {trimmed(f.limit_v)} V: shock hazard and arcs. This is work for licensed practice."


@says(forecast.LinearSupplyBurns)
def _linear(f: forecast.LinearSupplyBurns, t: Tongue) -> str:
    return f"A linear BEC on {f.cells} cells turns {t.power(f.heat_w)} into heat."


LOSSES: Final = {
    Loss.PACK: "Pack",
    Loss.WIRING: "Wires and connectors",
    Loss.CONTROLLER: "Controller",
    Loss.COPPER: "Copper",
    Loss.NO_LOAD: "Iron and bearings",
    Loss.SHAFT: "Shaft",
    Loss.PROPELLER: "Propeller",
}
