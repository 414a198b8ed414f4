"""How guesses were made, and what the numbers of a forecast are called."""

from typing import Final

from kunstflug.core.drive import values
from kunstflug.core.parts import conditions, controller, hull, motor, pack, propeller, wiring
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.setup.doubts import TooMuchForMass
from kunstflug.core.setup.setup import FromPlaces
from kunstflug.core.thermal import nodes
from kunstflug.wording.fields import HULLS, OPTIONS
from kunstflug.wording.say import fixed, one, say, says
from kunstflug.wording.tongue import Tongue, trimmed

PARAMETERS: Final = {
    "pack_ocv_v": ("Pack voltage at rest", Dimension.VOLTAGE, "V"),
    "pack_resistance_ohm": ("Pack internal resistance", Dimension.RESISTANCE, "mohm"),
    "wiring_resistance_ohm": ("Wires and connectors", Dimension.RESISTANCE, "mohm"),
    "controller_resistance_ohm": ("Controller losses", Dimension.RESISTANCE, "mohm"),
    "bus_limit_a": ("Bus current limit", Dimension.CURRENT, "A"),
    "phase_limit_a": ("Phase current limit", Dimension.CURRENT, "A"),
    "kv_rpm_per_v": ("KV", Dimension.KV, "rpm/V"),
    "kv_factor": ("Effective / printed KV", Dimension.RATIO, "%"),
    "winding_resistance_ohm": ("Winding resistance", Dimension.RESISTANCE, "mohm"),
    "winding_c": ("Winding temperature", Dimension.TEMPERATURE, "degC"),
    "no_load_current_a": ("No-load current", Dimension.CURRENT, "A"),
    "no_load_rpm": ("Speed of the no-load current", Dimension.ROTATION, "rpm"),
    "shaft_efficiency": ("Shaft and bearings", Dimension.RATIO, "%"),
    "diameter_m": ("Propeller diameter", Dimension.LENGTH, "mm"),
    "pitch_m": ("Propeller pitch", Dimension.LENGTH, "mm"),
    "pitch_factor": ("Effective / printed pitch", Dimension.RATIO, "%"),
    "blade_area": ("Blade area ratio", Dimension.RATIO, "%"),
    "immersion": ("Propeller immersion", Dimension.RATIO, "%"),
    "blade_friction": ("Blade friction", Dimension.RATIO, "1"),
    "lift_ratio": ("Propeller lift / thrust", Dimension.RATIO, "%"),
    "mass_kg": ("All-up mass", Dimension.MASS, "g"),
    "planing_drag_ratio": ("Planing drag / weight", Dimension.RATIO, "%"),
    "pressure_share": ("Part of the planing drag that is pressure", Dimension.RATIO, "%"),
    "trims_freely": ("Whether stern lift turns the bow down", Dimension.RATIO, "1"),
    "full_throttle": ("Throttle at full stick", Dimension.RATIO, "%"),
    "hump_drag_ratio": ("Hump drag / weight", Dimension.RATIO, "%"),
    "wetted_factor": ("Wetted hull", Dimension.RATIO, "1"),
    "wetted_exponent": ("Wetted hull: how fast it falls with speed", Dimension.RATIO, "1"),
    "discrepancy": ("Error of the model itself", Dimension.RATIO, "%"),
    "rise_froude": ("Speed at which the hull rises", Dimension.RATIO, "1"),
    "water_at_rest": ("Water fraction at the propeller, boat held", Dimension.RATIO, "%"),
    "thrust_part": ("Thrust with the rake / without", Dimension.RATIO, "%"),
    "torque_part": ("Torque with the cup / without", Dimension.RATIO, "%"),
    "propeller_losses": ("Propeller losses / computed", Dimension.RATIO, "%"),
    "appendage_area_m2": ("Drag area of rudder, strut and fin", Dimension.AREA, "cm2"),
    "air_drag_area_m2": ("Drag area in air", Dimension.AREA, "cm2"),
    "air_lift_area_m2": ("Lift of the air under deck and tunnel", Dimension.AREA, "cm2"),
    "headwind_mps": ("Headwind", Dimension.SPEED, "m/s"),
    "water_kg_m3": ("Density of the water", Dimension.RATIO, "1"),
    "air_kg_m3": ("Density of the air", Dimension.RATIO, "1"),
    "cells": ("Cells in series", Dimension.RATIO, "1"),
    "weak_cell": ("Sag of the weaker pack", Dimension.RATIO, "%"),
    "poles": ("Poles", Dimension.RATIO, "1"),
    "pack_ah": ("Capacity", Dimension.CHARGE, "mAh"),
    "charge_error": ("Charge used / computed", Dimension.RATIO, "%"),
    "winding_j_k": ("Heat capacity of the winding", Dimension.HEAT_CAPACITY, "J/K"),
    "case_j_k": ("Heat capacity of the motor case", Dimension.HEAT_CAPACITY, "J/K"),
    "controller_j_k": ("Heat capacity of the controller", Dimension.HEAT_CAPACITY, "J/K"),
    "pack_j_k": ("Heat capacity of the pack", Dimension.HEAT_CAPACITY, "J/K"),
    "connector_j_k": ("Heat capacity of a connector", Dimension.HEAT_CAPACITY, "J/K"),
    "winding_case_w_k": ("Winding to motor case", Dimension.CONDUCTANCE, "W/K"),
    "case_jacket_w_k": ("Motor case to water", Dimension.CONDUCTANCE, "W/K"),
    "case_air_w_k": ("Motor case to air", Dimension.CONDUCTANCE, "W/K"),
    "controller_jacket_w_k": ("Controller to water", Dimension.CONDUCTANCE, "W/K"),
    "controller_air_w_k": ("Controller to air", Dimension.CONDUCTANCE, "W/K"),
    "pack_air_w_k": ("Pack to air", Dimension.CONDUCTANCE, "W/K"),
    "connector_air_w_k": ("Connector to air", Dimension.CONDUCTANCE, "W/K"),
    "water_bore_m": ("Bore of the water line", Dimension.LENGTH, "mm"),
    "junction_w_k": ("Controller chips to controller case", Dimension.CONDUCTANCE, "W/K"),
    "inside_j_k": ("Heat capacity of the air in the hull", Dimension.HEAT_CAPACITY, "J/K"),
    "inside_w_k": ("Air in the hull to the hull's skin", Dimension.CONDUCTANCE, "W/K"),
    "case_still_w_k": ("Motor case to still water and air", Dimension.CONDUCTANCE, "W/K"),
}
"""Label, dimension and usual unit of everything that is computed with."""


def moved(before: str, by_runs: bool, reason: str) -> str:
    """How a number was guessed that was moved since: what it was, and before what."""
    was = f"{before} before {'the runs' if by_runs else 'what the club showed'}"
    return f"{was}: {reason}" if reason else was


def label(parameter: str) -> str:
    """What a parameter is called."""
    return PARAMETERS[parameter][0]


def _can(diameter_m: float, length_m: float, t: Tongue) -> str:
    return one(f"{t.size(diameter_m)} x {t.length(length_m)} can")


@says(motor.ResistanceFromCan)
def _resistance(f: motor.ResistanceFromCan, t: Tongue) -> str:
    can = _can(f.diameter_m, f.length_m, t)
    return f"estimated from can and KV: {t.resistance(f.ohm)} for {can} of {trimmed(f.kv_rpm_per_v)} KV"


@says(motor.NoLoadFromCan)
def _no_load(f: motor.NoLoadFromCan, t: Tongue) -> str:
    can = _can(f.diameter_m, f.length_m, t)
    return f"estimated from can and KV: {t.current(f.current_a)} for {can} of {trimmed(f.kv_rpm_per_v)} KV"


@says(motor.MassFromCan)
def _motor_mass(f: motor.MassFromCan, t: Tongue) -> str:
    return f"estimated from the can: {trimmed(f.kg_cm3 * 1e3)} g per cm³"


@says(motor.CeilingFromCan)
def _ceiling(f: motor.CeilingFromCan, t: Tongue) -> str:
    return f"usual: {t.rpm(f.rpm)} rpm for {one(t.length(f.diameter_m))} can, less for a thicker one"


@says(motor.HoopOfBell)
def _hoop(f: motor.HoopOfBell, t: Tongue) -> str:
    return f"usual: hoop stress of {f.stress_pa / 1e6:.0f} MPa in a {t.length(f.diameter_m)} bell with its magnets"


@says(motor.PowerFromMass)
def _power(f: motor.PowerFromMass, t: Tongue) -> str:
    return f"estimated from the motor's mass: {trimmed(f.w_kg / 1e3)} W per gram"


@says(motor.GradeAssumed)
def _grade(f: motor.GradeAssumed, t: Tongue) -> str:
    return f"grade unknown: {f.grade.upper()}, {t.temperature(f.limit_c)}, is assumed"


@says(controller.ConductionFromRating)
def _conduction(f: controller.ConductionFromRating, t: Tongue) -> str:
    return f"estimated from its rating: {t.resistance(f.ohm)} at {t.current(f.rating_a)}"


@says(controller.ControllerLosses)
def _losses(f: controller.ControllerLosses, t: Tongue) -> str:
    parts = (("conduction", f.conduction_ohm), ("commutation", f.commutation_ohm), ("ripple", f.ripple_ohm))
    return "its losses as a resistance: " + ", ".join(f"{name} {t.resistance(ohm)}" for name, ohm in parts)


@says(conditions.PackKeptWarm)
def _kept_warm(f: conditions.PackKeptWarm, t: Tongue) -> str:
    return f"not measured: a pack kept warm, {t.temperature(f.celsius)}"


@says(controller.BurstFromRating)
def _burst(f: controller.BurstFromRating, t: Tongue) -> str:
    return f"no burst rating printed: {trimmed(f.factor)} x the continuous one"


@says(controller.BurstTimeAssumed)
def _burst_time(f: controller.BurstTimeAssumed, t: Tongue) -> str:
    return f"no burst time printed: {t.seconds(f.seconds)} is assumed"


@says(controller.ElectricalRpmAssumed)
def _electrical(f: controller.ElectricalRpmAssumed, t: Tongue) -> str:
    return f"no limit printed: {t.rpm(f.rpm)} electrical rpm is assumed"


@says(controller.MassFromRating)
def _controller_mass(f: controller.MassFromRating, t: Tongue) -> str:
    return f"estimated from its rating: {trimmed(f.kg_a * 1e3)} g per ampere"


@says(controller.TimingShift)
def _timing(f: controller.TimingShift, t: Tongue) -> str:
    return f"timing of {trimmed(f.timing_deg)}° against the usual {trimmed(f.usual_deg)}°"


@says(pack.RatingNotBelieved)
def _not_believed(f: pack.RatingNotBelieved, t: Tongue) -> str:
    return f"{trimmed(f.printed)} C is printed, more than any pack holds: {trimmed(f.believed)} C is used"


@says(pack.RatingAssumed)
def _rating(f: pack.RatingAssumed, t: Tongue) -> str:
    return f"no C rating printed: {trimmed(f.c_rating)} C is assumed"


@says(pack.CellFromCapacity)
def _cell(f: pack.CellFromCapacity, t: Tongue) -> str:
    sag = f"at that current a cell sags by about {t.voltage(f.sag_v)} over a pass"
    return f"estimated from {trimmed(f.capacity_ah * 1e3)} mAh and {trimmed(f.c_rating)} C: {sag}"


@says(pack.PacksAdded)
def _packs(f: pack.PacksAdded, t: Tongue) -> str:
    return f"two packs in series: {t.resistance(f.first_ohm)} and {t.resistance(f.second_ohm)}"


@says(pack.MassFromCells)
def _pack_mass(f: pack.MassFromCells, t: Tongue) -> str:
    return f"estimated: {trimmed(f.kg_cell_ah * 1e3)} g per cell and Ah, {trimmed(f.wires_kg * 1e3)} g of wire"


@says(wiring.GaugeFromRating)
def _gauge(f: wiring.GaugeFromRating, t: Tongue) -> str:
    return f"gauge not given: AWG {f.gauge_awg} is usual on a {t.current(f.rating_a)} controller"


@says(wiring.WiresAdded)
def _wires(f: wiring.WiresAdded, t: Tongue) -> str:
    return f"AWG {f.gauge_awg}, {t.length(f.length_m)} of conductor, {f.pins} pins"


@says(hull.UsualForType)
def _usual(f: hull.UsualForType, t: Tongue) -> str:
    return f"usual for {HULLS[f.hull_type]}"


@says(hull.PartOfLength)
def _part_of_length(f: hull.PartOfLength, t: Tongue) -> str:
    return f"{t.part(f.part)} of the length, usual for {HULLS[f.hull_type]}"


@says(hull.AreaFromLength)
def _area(f: hull.AreaFromLength, t: Tongue) -> str:
    return f"estimated from the length, usual for {HULLS[f.hull_type]}"


@says(propeller.EdgesOf)
def _edges(f: propeller.EdgesOf, t: Tongue) -> str:
    return f"friction of the faces and drag of the edges, {OPTIONS[f.condition].lower()}"


@says(propeller.PrintedPitch)
def _pitch(f: propeller.PrintedPitch, t: Tongue) -> str:
    cup = f", {t.part(f.cup_gain, 1)} more for the cup" if f.cup_gain else ""
    return f"effective pitch against the printed one{cup}"


@says(propeller.LiftFromRake)
def _rake(f: propeller.LiftFromRake, t: Tongue) -> str:
    return f"{trimmed(f.rake_deg)}° of rake lift the stern"


@says(propeller.LiftFromShaft)
def _sloping(f: propeller.LiftFromShaft, t: Tongue) -> str:
    raked = f" and {trimmed(f.rake_deg)}° of rake" if f.rake_deg else ""
    return f"a shaft that slopes {trimmed(f.shaft_deg)}°{raked} lifts the stern"


@says(propeller.UsualForBlades)
def _blades(f: propeller.UsualForBlades, t: Tongue) -> str:
    return f"usual for {f.blades} blades"


fixed(propeller.HalfTheTurn, "half of the turn in the water, usual for a surface drive")
fixed(FromPlaces, "from the places of the parts")


@says(values.GreasedShaft)
def _shaft(f: values.GreasedShaft, t: Tongue) -> str:
    return "a greased shaft, shaken by the propeller" if f.shaken else "a greased flex or straight shaft"


@says(values.ChargeOfPass)
def _charge(f: values.ChargeOfPass, t: Tongue) -> str:
    return f"voltage at rest with {t.part(f.state_of_charge)} charge"


@says(values.WarmMagnets)
def _magnets(f: values.WarmMagnets, t: Tongue) -> str:
    timing = f", {say(f.timing, t)}" if f.timing else ""
    return f"magnets with the winding at {t.temperature(f.winding_c)}{timing}"


@says(values.RatedVoltage)
def _rated(f: values.RatedVoltage, t: Tongue) -> str:
    return f"KV times {t.voltage(f.voltage_v, 1)}"


@says(nodes.HeatCapacityFrom)
def _capacity(f: nodes.HeatCapacityFrom, t: Tongue) -> str:
    return f"{t.part(f.part)} of the mass at {trimmed(f.j_kgk)} J/(kg K)"


@says(nodes.ConductanceFromCan)
def _by_can(f: nodes.ConductanceFromCan, t: Tongue) -> str:
    return f"estimated from the can: {trimmed(f.w_k, 3)} W/K for {_can(f.diameter_m, f.length_m, t)}"


@says(nodes.ConductanceFromMass)
def _by_mass(f: nodes.ConductanceFromMass, t: Tongue) -> str:
    return f"estimated from the mass: {trimmed(f.w_k, 3)} W/K for {t.mass(f.mass_kg)}"


@says(nodes.PlugsAir)
def _plugs(f: nodes.PlugsAir, t: Tongue) -> str:
    return f"a connector and its wire ends, {f.plugs}"


@says(nodes.ClosedHull)
def _closed(f: nodes.ClosedHull, t: Tongue) -> str:
    return f"a closed hull of {t.length(f.length_m)} by {t.length(f.beam_m)}"


@says(values.ModelItself)
def _itself(f: values.ModelItself, t: Tongue) -> str:
    return "the model is simpler than a real boat"


@says(hull.TrimOfCentre)
def _trim_of_centre(f: hull.TrimOfCentre, t: Tongue) -> str:
    where = f"the centre of mass at {t.part(f.centre_part)} of the length"
    return f"it should run {trimmed(f.trim_deg, 2)}° bow up with {where}"


@says(hull.AtTrim)
def _at_trim(f: hull.AtTrim, t: Tongue) -> str:
    return f"it runs {trimmed(f.trim_deg)}° bow up"


@says(hull.HardwareBySize)
def _hardware(f: hull.HardwareBySize, t: Tongue) -> str:
    given = " and ".join(name for name, there in (("rudder", f.rudder), ("fin", f.fin)) if there)
    return f"{given} by size, the other hardware as usual"


@says(propeller.ByShaftHeight)
def _shaft_height(f: propeller.ByShaftHeight, t: Tongue) -> str:
    side = "below" if f.depth_m >= 0 else "above"
    return f"the shaft is {t.length(abs(f.depth_m))} {side} the bottom"


@says(propeller.AirDrawn)
def _air(f: propeller.AirDrawn, t: Tongue) -> str:
    return "held at full throttle, a surface propeller draws air"


@says(nodes.UsualLine)
def _line(f: nodes.UsualLine, t: Tongue) -> str:
    return f"a usual water line of {t.length(f.bore_m)}"


@says(TooMuchForMass)
def _too_much(f: TooMuchForMass, t: Tongue) -> str:
    printed, believed = (t.quantity(v, f.dimension, figures=3) for v in (f.printed, f.believed))
    return f"{printed} is printed on {t.mass(f.mass_kg)}, which is too much: {believed} is used"
