"""What fields, parts and choices are called: the field vocabulary."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.parts.hull import HullType
from kunstflug.core.parts.motor import INSULATION_LIMIT_C, MAGNET_LIMIT_C, Insulation, Magnets
from kunstflug.wording.tongue import Tongue


@dataclass(frozen=True, slots=True, kw_only=True)
class Named:
    """A label, and a line of help under it."""

    label: str
    help: str = ""


FIELDS: Final[dict[str, dict[str, Named]]] = {
    "hull": {
        "hull_type": Named(label="Type"),
        "drive": Named(
            label="Drive",
            help="surface: half of the propeller is out of the water at speed; jet: an impeller in a duct",
        ),
        "length": Named(label="Length"),
        "beam": Named(label="Beam"),
        "deadrise": Named(label="Deadrise", help="of the bottom, at the transom"),
        "mass_centre": Named(label="Centre of mass", help="ahead of the transom; balance the boat on a finger"),
        "appendage_area": Named(
            label="Hardware drag area", help="rudder, strut and fin: wetted area x drag coefficient"
        ),
        "shaft_depth": Named(
            label="Shaft below the bottom",
            help="at the propeller; negative if above; 0 leaves half of the propeller in the water",
        ),
        "trim": Named(label="Running trim", help="bow up at speed; measure it in a side photo"),
        "rudder_depth": Named(label="Rudder depth", help="in the water at speed"),
        "rudder_chord": Named(label="Rudder chord", help="front to back"),
        "fin_depth": Named(label="Turn fin depth", help="in the water at speed; 0 means none"),
        "fin_chord": Named(label="Turn fin chord", help="front to back"),
        "strut_angle": Named(label="Strut angle", help="of the shaft to the bottom; sloping down aft lifts the stern"),
        "rudder_offset": Named(label="Rudder offset", help="from the middle to the right; negative to the left"),
        "fin_angle": Named(label="Turn fin angle", help="lower edge inwards; set it in tenths of a degree"),
        "tab_angle": Named(label="Trim tab angle", help="down at the rear; lifts the stern"),
        "drive_offset": Named(
            label="Drive offset", help="of the shaft from the middle to the right; negative to the left"
        ),
        "rudder_setback": Named(label="Rudder behind the transom", help="to its pivot; further back turns more gently"),
        "rudder_toe": Named(label="Rudder at rest", help="angle with the stick let go; positive turns to the right"),
        "steering": Named(
            label="Steering travel", help="rudder angle at full stick, set by the end point of the radio"
        ),
        "sponson_angle": Named(label="Sponson angle", help="of the running surface, bow up, to the hull"),
        "air_tab": Named(label="Air tab angle", help="on deck or wing; positive presses down"),
        "fin_side": Named(label="Turn fin side", help="looking forward"),
        "strakes": Named(label="Strakes", help="on the bottom"),
        "ride_pads": Named(label="Ride pads", help="under the running surfaces"),
        "hatch_tape": Named(label="Hatch tape", help="round the hatch; it seals and keeps air out"),
        "hardware": Named(label="Rudder, strut and fin", help="bent or out of line they drag more"),
    },
    "motor": {
        "kind": Named(label="Kind"),
        "kv": Named(label="KV"),
        "can_diameter": Named(label="Can diameter"),
        "can_length": Named(label="Can length"),
        "poles": Named(label="Poles", help="magnets in the rotor"),
        "max_current": Named(label="Max. current"),
        "max_power": Named(label="Max. power"),
        "resistance": Named(label="Winding resistance", help="between two leads, at 20 °C"),
        "no_load_current": Named(label="No-load current"),
        "no_load_voltage": Named(label="No-load voltage", help="at which the no-load current was measured"),
        "magnets": Named(label="Magnet grade"),
        "insulation": Named(label="Insulation class"),
        "shaft": Named(label="Shaft diameter"),
        "shaft_length": Named(label="Shaft length", help="beyond the can"),
        "circle": Named(label="Bolt circle"),
        "holes": Named(label="Mounting holes"),
        "thread_depth": Named(label="Thread depth", help="how deep a screw may go before it touches the winding"),
        "mass": Named(label="Mass"),
    },
    "controller": {
        "continuous_current": Named(label="Max. continuous current"),
        "burst_current": Named(label="Burst current", help="for seconds"),
        "max_cells": Named(label="Max. cells"),
        "resistance": Named(label="On-resistance", help="of the two switches that conduct"),
        "electrical_rpm_limit": Named(label="Max. electrical rpm", help="rpm x pole pairs"),
        "bus_limit": Named(label="Bus current limit", help="as set in the controller; it then gives less throttle"),
        "phase_limit": Named(
            label="Phase current limit", help="as set in the controller; it limits the motor's current"
        ),
        "temperature_limit": Named(label="Temperature limit", help="as set in the controller"),
        "hot_action": Named(label="Above the temperature limit"),
        "timing": Named(label="Timing", help="electrical degrees of advance; 15 is the usual middle"),
        "ramp": Named(label="Throttle ramp", help="from rest to full; soft start included"),
        "full_throttle": Named(
            label="Throttle at full stick", help="by the end point or the throttle curve of the radio"
        ),
        "half_throttle": Named(label="Throttle at half stick", help="by the throttle curve; 50 % is a straight line"),
        "burst": Named(label="Burst time", help="printed beside the burst current"),
        "supply": Named(label="Receiver supply"),
        "mass": Named(label="Mass"),
    },
    "propeller": {
        "diameter": Named(label="Diameter"),
        "pitch": Named(label="Pitch"),
        "pitch_ratio": Named(label="Pitch ratio", help="pitch / diameter"),
        "blades": Named(label="Blades"),
        "bore": Named(label="Bore"),
        "condition": Named(label="Condition"),
        "cup": Named(label="Cup", help="how far the trailing edge is bent down"),
        "rake": Named(label="Rake", help="lifts the stern"),
        "area_ratio": Named(label="Blade area ratio"),
        "immersion": Named(label="Immersion", help="part of the turn in the water; about half on surface drives"),
    },
    "pack": {
        "cells": Named(label="Cells in series", help="the S number"),
        "parallel": Named(label="Parallel", help="the P number, or how many equal packs side by side"),
        "capacity": Named(label="Capacity"),
        "c_rating": Named(label="C rating", help="the continuous one"),
        "cell_resistance": Named(label="Cell resistance", help="of one cell, from a charger or a meter"),
        "weakest_resistance": Named(
            label="Weakest cell's resistance", help="the one that sags first, from the same meter"
        ),
        "second_cells": Named(label="Second pack: cells", help="another pack in series with the first"),
        "second_capacity": Named(label="Second pack: capacity", help="empty means the same as the first"),
        "second_c_rating": Named(label="Second pack: C rating"),
        "second_resistance": Named(label="Second pack: cell resistance"),
        "mass": Named(label="Mass", help="of all packs together"),
    },
    "wiring": {
        "gauge_awg": Named(label="Wire gauge", help="AWG"),
        "length": Named(label="Wire length", help="both poles added up"),
        "extension_length": Named(label="Extension length", help="both poles added up"),
        "extension_gauge_awg": Named(label="Extension gauge", help="AWG; empty means the same gauge"),
        "connector_diameter": Named(label="Connector pin"),
        "plugs": Named(label="Motor connectors", help="three bundled together heat each other"),
        "connector_pairs": Named(label="Pins in line", help="every plugged pin counts once"),
    },
    "conditions": {
        "water": Named(label="Water temperature"),
        "air": Named(label="Air temperature"),
        "headwind": Named(label="Headwind"),
        "state_of_charge": Named(label="State of charge", help="at the start of the pass"),
        "pack": Named(label="Pack temperature", help="before the run"),
        "winding": Named(label="Winding temperature"),
    },
    "placement": {
        "shell_mass": Named(label="Bare hull", help="with hardware; without motor, controller, pack and ballast"),
        "shell": Named(label="Balance point of the bare hull", help="ahead of the transom"),
        "motor": Named(label="Motor position", help="its middle, ahead of the transom"),
        "controller": Named(label="Controller position", help="its middle, ahead of the transom"),
        "pack": Named(label="Pack position", help="its middle, ahead of the transom"),
        "ballast": Named(label="Ballast"),
        "ballast_place": Named(label="Ballast position", help="ahead of the transom"),
        "room_length": Named(label="Motor bay length", help="from the mount's plate forward"),
        "room_width": Named(label="Motor bay width"),
        "room_height": Named(label="Motor bay height"),
    },
    "mount": {
        "circle": Named(label="Bolt circle", help="the smallest one, if slotted"),
        "circle_to": Named(label="Bolt circle, largest", help="if slotted"),
        "holes": Named(label="Holes"),
        "plate": Named(label="Plate thickness"),
        "screw": Named(label="Screws"),
        "screw_length": Named(label="Screw length", help="under the head"),
        "collar": Named(label="Hole for the motor's collar"),
        "height": Named(label="Shaft height", help="above the floor"),
        "material": Named(label="Material", help="plastic softens under a hot motor"),
        "mass": Named(label="Mass"),
    },
    "coupler": {
        "motor_bore": Named(label="Bore, motor side"),
        "shaft_bore": Named(label="Bore, shaft side"),
        "outside": Named(label="Outside diameter"),
        "length": Named(label="Length"),
        "set_screw": Named(label="Set screw"),
        "grip": Named(label="Grip length", help="on each shaft"),
        "mass": Named(label="Mass"),
    },
    "shaft": {
        "kind": Named(label="Kind"),
        "diameter": Named(label="Diameter at the coupler"),
        "end": Named(label="Diameter at the propeller"),
        "length": Named(label="Length"),
        "span": Named(label="Free span", help="the longest one between two supports"),
        "gap": Named(label="Gap at the strut", help="between drive dog and bushing: a flex shaft shortens under load"),
        "collar": Named(label="Retention"),
        "tube": Named(label="Tube outside diameter"),
        "mass": Named(label="Mass"),
    },
    "jacket": {
        "bore": Named(label="Bore"),
        "outside": Named(label="Outside diameter"),
        "length": Named(label="Length"),
        "groove": Named(label="Groove depth", help="0 means none"),
        "ring_section": Named(label="O-ring section"),
        "ring_inside": Named(label="O-ring inside diameter"),
        "nipple": Named(label="Nipple height"),
        "mass": Named(label="Mass"),
    },
    "learnt": {
        "winding_case": Named(label="Winding to motor case"),
        "case": Named(label="Heat capacity of the motor case"),
        "case_still": Named(label="Motor case to still water and air"),
        "water_at_rest": Named(
            label="Water fraction at the propeller, boat held", help="the rest is air that it draws in"
        ),
    },
    "charger": {
        "most_cells": Named(label="Max. cells"),
        "most_current": Named(label="Max. current"),
        "power": Named(label="Power"),
    },
    "collar": {
        "bore": Named(label="Bore"),
        "outside": Named(label="Outside diameter"),
        "width": Named(label="Width"),
        "mass": Named(label="Mass"),
    },
    "tube": {
        "outside": Named(label="Outside diameter"),
        "wall": Named(label="Wall"),
        "length": Named(label="Length"),
    },
    "bearing": {
        "bore": Named(label="Bore"),
        "outside": Named(label="Outside diameter"),
        "width": Named(label="Width"),
        "most": Named(label="Max. rpm"),
    },
    "o-ring": {
        "inside": Named(label="Inside diameter"),
        "section": Named(label="Section"),
    },
    "hose": {
        "bore": Named(label="Bore"),
        "outside": Named(label="Outside diameter"),
        "length": Named(label="Length"),
    },
    "pickup": {
        "bore": Named(label="Bore"),
        "mass": Named(label="Mass"),
    },
    "y-piece": {
        "bore": Named(label="Bore"),
        "mass": Named(label="Mass"),
    },
    "outlet": {
        "bore": Named(label="Bore"),
        "mass": Named(label="Mass"),
    },
    "connector": {
        "pin": Named(label="Pin diameter"),
        "pins": Named(label="Pins"),
        "current": Named(label="Rated current"),
    },
    "wire": {
        "gauge_awg": Named(label="Gauge", help="AWG"),
        "outside": Named(label="Outside diameter"),
        "length": Named(label="Length"),
    },
    "servo": {
        "torque": Named(label="Torque"),
        "voltage": Named(label="Max. voltage"),
        "mass": Named(label="Mass"),
    },
    "receiver-pack": {
        "voltage": Named(label="Voltage"),
        "capacity": Named(label="Capacity"),
        "mass": Named(label="Mass"),
    },
    "logger": {
        "rate": Named(label="Fixes per second"),
        "mass": Named(label="Mass"),
    },
}
"""Labels of the fields of every kind of part."""

KINDS: Final = {
    "hull": "Hull",
    "motor": "Motor",
    "controller": "Controller",
    "propeller": "Propeller",
    "pack": "Pack",
    "wiring": "Wiring",
    "conditions": "Conditions",
    "placement": "Placement",
    "mount": "Motor mount",
    "coupler": "Coupler",
    "shaft": "Propeller shaft",
    "jacket": "Water jacket",
    "learnt": "Learnt",
    "charger": "Charger",
    "collar": "Collar",
    "tube": "Tube",
    "bearing": "Bearing",
    "o-ring": "O-ring",
    "hose": "Hose",
    "pickup": "Water pickup",
    "y-piece": "Y-piece",
    "outlet": "Water outlet",
    "connector": "Connector",
    "wire": "Wire",
    "servo": "Servo",
    "receiver-pack": "Receiver pack",
    "logger": "Logger",
}
"""What the kinds of parts are called."""
ALL_UP_MASS: Final = Named(label="All-up mass", help="ready to run, with pack")
OPTIONS: Final = {
    "mono": "Mono",
    "catamaran": "Catamaran",
    "tunnel": "Tunnel",
    "outrigger": "Outrigger",
    "surface": "Surface drive",
    "submerged": "Submerged",
    "jet": "Water-jet",
    "inrunner": "Inrunner",
    "outrunner": "Outrunner",
    "half": "Half power",
    "off": "Off",
    "switching": "Switching BEC",
    "linear": "Linear BEC",
    "separate": "Separate receiver pack",
    "prepared": "Sharpened and balanced",
    "as_cast": "As it came",
    "sound": "Sound",
    "damaged": "Damaged",
    "unsaid": "Not said",
    "right": "Right",
    "left": "Left",
    "both": "Both",
    "on": "On",
    "dull": "Dull",
    "nicked": "Nicked",
    "unbalanced": "Out of balance",
    "spaced": "Spaced",
    "bundled": "Bundled",
    "flex": "Flex",
    "solid": "Solid",
    "collar": "Collar",
    "nothing": "Nothing",
    "metal": "Metal",
    "nylon": "Glass-filled nylon",
    "pla": "Printed PLA",
    "petg": "Printed PETG",
    "abs": "Printed ABS",
    "unknown": "Unknown",
}
"""What the words of a choice are called; threads are called as they are."""
HULLS: Final = {
    HullType.MONO: "a mono",
    HullType.CATAMARAN: "a catamaran",
    HullType.TUNNEL: "a tunnel hull",
    HullType.OUTRIGGER: "an outrigger",
}
"""A hull of a type, in a sentence."""


def option(choice: StrEnum, tongue: Tongue) -> str:
    """What a word of a choice is called; grades and classes with the temperature they are made for."""
    if isinstance(choice, Magnets) and choice in MAGNET_LIMIT_C:
        letter = "No letter" if choice is Magnets.N else choice.upper()
        return f"{letter}, {tongue.temperature(MAGNET_LIMIT_C[choice])}"
    if isinstance(choice, Insulation) and choice in INSULATION_LIMIT_C:
        return f"{choice.upper()}, {tongue.temperature(INSULATION_LIMIT_C[choice])}"
    return OPTIONS.get(choice, choice)


def named(path: str) -> Named:
    """What a field is called (``motor.kv``); a path nobody has a name for is called by its own words."""
    part, _, key = path.partition(".")
    if path == "all_up_mass":
        return ALL_UP_MASS
    found = FIELDS.get(part, {}).get(key)
    return found or Named(label=path.replace("_", " ").replace(".", " "))


_OF_A_QUANTITY: Final = ("unit", "value", "source", "spread")


def in_words(path: str) -> str:
    """A field in a sentence ("the coupler's bore, motor side")."""
    whole, _, last = path.rpartition(".")
    if last in _OF_A_QUANTITY and whole:
        return f"the {last} of {in_words(whole)}"
    part = path.partition(".")[0]
    label = named(path).label
    low = label if label[:2].isupper() else label[:1].lower() + label[1:]
    return f"the {KINDS[part].lower()}'s {low}" if part in KINDS and "." in path else low
