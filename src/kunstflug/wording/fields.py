"""What fields, parts and choices are called: the field vocabulary."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.parts.hull import HullType
from kunstflug.core.parts.motor import INSULATION_LIMIT_C, MAGNET_LIMIT_C, Insulation, Magnets
from kunstflug.wording.tongue import Tongue


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldWords:
    """A label, and a line of help under it."""

    label: str
    help: str = ""


FIELDS: Final[dict[str, dict[str, FieldWords]]] = {
    "hull": {
        "hull_type": FieldWords(label="Type"),
        "drive": FieldWords(
            label="Drive",
            help="surface: half of the propeller is out of the water at speed; jet: an impeller in a duct",
        ),
        "length": FieldWords(label="Length"),
        "beam": FieldWords(label="Beam"),
        "deadrise": FieldWords(label="Deadrise", help="of the bottom, at the transom"),
        "mass_centre": FieldWords(label="Centre of mass", help="ahead of the transom; balance the boat on a finger"),
        "appendage_area": FieldWords(
            label="Hardware drag area", help="rudder, strut and fin: wetted area x drag coefficient"
        ),
        "shaft_depth": FieldWords(
            label="Shaft below the bottom",
            help="at the propeller; negative if above; 0 leaves half of the propeller in the water",
        ),
        "trim": FieldWords(label="Running trim", help="bow up at speed; measure it in a side photo"),
        "rudder_depth": FieldWords(label="Rudder depth", help="in the water at speed"),
        "rudder_chord": FieldWords(label="Rudder chord", help="front to back"),
        "fin_depth": FieldWords(label="Turn fin depth", help="in the water at speed; 0 means none"),
        "fin_chord": FieldWords(label="Turn fin chord", help="front to back"),
        "strut_angle": FieldWords(
            label="Strut angle", help="of the shaft to the bottom; sloping down aft lifts the stern"
        ),
        "rudder_offset": FieldWords(label="Rudder offset", help="from the middle to the right; negative to the left"),
        "fin_angle": FieldWords(label="Turn fin angle", help="lower edge inwards; set it in tenths of a degree"),
        "tab_angle": FieldWords(label="Trim tab angle", help="down at the rear; lifts the stern"),
        "drive_offset": FieldWords(
            label="Drive offset", help="of the shaft from the middle to the right; negative to the left"
        ),
        "rudder_setback": FieldWords(
            label="Rudder behind the transom", help="to its pivot; further back turns more gently"
        ),
        "rudder_toe": FieldWords(
            label="Rudder at rest", help="angle with the stick let go; positive turns to the right"
        ),
        "steering": FieldWords(
            label="Steering travel", help="rudder angle at full stick, set by the end point of the radio"
        ),
        "sponson_angle": FieldWords(label="Sponson angle", help="of the running surface, bow up, to the hull"),
        "air_tab": FieldWords(label="Air tab angle", help="on deck or wing; positive presses down"),
        "fin_side": FieldWords(label="Turn fin side", help="looking forward"),
        "strakes": FieldWords(label="Strakes", help="on the bottom"),
        "ride_pads": FieldWords(label="Ride pads", help="under the running surfaces"),
        "hatch_tape": FieldWords(label="Hatch tape", help="round the hatch; it seals and keeps air out"),
        "hardware": FieldWords(label="Rudder, strut and fin", help="bent or out of line they drag more"),
    },
    "motor": {
        "kind": FieldWords(label="Kind"),
        "kv": FieldWords(label="KV"),
        "can_diameter": FieldWords(label="Can diameter"),
        "can_length": FieldWords(label="Can length"),
        "poles": FieldWords(label="Poles", help="magnets in the rotor"),
        "max_current": FieldWords(label="Max. current"),
        "max_power": FieldWords(label="Max. power"),
        "resistance": FieldWords(label="Winding resistance", help="between two leads, at 20 °C"),
        "no_load_current": FieldWords(label="No-load current"),
        "no_load_voltage": FieldWords(label="No-load voltage", help="at which the no-load current was measured"),
        "magnets": FieldWords(label="Magnet grade"),
        "insulation": FieldWords(label="Insulation class"),
        "shaft": FieldWords(label="Shaft diameter"),
        "shaft_length": FieldWords(label="Shaft length", help="beyond the can"),
        "circle": FieldWords(label="Bolt circle"),
        "holes": FieldWords(label="Mounting holes"),
        "thread_depth": FieldWords(label="Thread depth", help="how deep a screw may go before it touches the winding"),
        "mass": FieldWords(label="Mass"),
    },
    "controller": {
        "continuous_current": FieldWords(label="Max. continuous current"),
        "burst_current": FieldWords(label="Burst current", help="for seconds"),
        "max_cells": FieldWords(label="Max. cells"),
        "resistance": FieldWords(label="On-resistance", help="of the two switches that conduct"),
        "electrical_rpm_limit": FieldWords(label="Max. electrical rpm", help="rpm x pole pairs"),
        "bus_limit": FieldWords(
            label="Bus current limit", help="as set in the controller; it then gives less throttle"
        ),
        "phase_limit": FieldWords(
            label="Phase current limit", help="as set in the controller; it limits the motor's current"
        ),
        "temperature_limit": FieldWords(label="Temperature limit", help="as set in the controller"),
        "hot_action": FieldWords(label="Above the temperature limit"),
        "timing": FieldWords(label="Timing", help="electrical degrees of advance; 15 is the usual middle"),
        "ramp": FieldWords(label="Throttle ramp", help="from rest to full; soft start included"),
        "full_throttle": FieldWords(
            label="Throttle at full stick", help="by the end point or the throttle curve of the radio"
        ),
        "half_throttle": FieldWords(
            label="Throttle at half stick", help="by the throttle curve; 50 % is a straight line"
        ),
        "burst": FieldWords(label="Burst time", help="printed beside the burst current"),
        "supply": FieldWords(label="Receiver supply"),
        "mass": FieldWords(label="Mass"),
    },
    "propeller": {
        "diameter": FieldWords(label="Diameter"),
        "pitch": FieldWords(label="Pitch"),
        "pitch_ratio": FieldWords(label="Pitch ratio", help="pitch / diameter"),
        "blades": FieldWords(label="Blades"),
        "bore": FieldWords(label="Bore"),
        "condition": FieldWords(label="Condition"),
        "cup": FieldWords(label="Cup", help="how far the trailing edge is bent down"),
        "rake": FieldWords(label="Rake", help="lifts the stern"),
        "area_ratio": FieldWords(label="Blade area ratio"),
        "immersion": FieldWords(label="Immersion", help="part of the turn in the water; about half on surface drives"),
    },
    "pack": {
        "cells": FieldWords(label="Cells in series", help="the S number"),
        "parallel": FieldWords(label="Parallel", help="the P number, or how many equal packs side by side"),
        "capacity": FieldWords(label="Capacity"),
        "c_rating": FieldWords(label="C rating", help="the continuous one"),
        "cell_resistance": FieldWords(label="Cell resistance", help="of one cell, from a charger or a meter"),
        "weakest_resistance": FieldWords(
            label="Weakest cell's resistance", help="the one that sags first, from the same meter"
        ),
        "second_cells": FieldWords(label="Second pack: cells", help="another pack in series with the first"),
        "second_capacity": FieldWords(label="Second pack: capacity", help="empty means the same as the first"),
        "second_c_rating": FieldWords(label="Second pack: C rating"),
        "second_resistance": FieldWords(label="Second pack: cell resistance"),
        "mass": FieldWords(label="Mass", help="of all packs together"),
    },
    "wiring": {
        "gauge_awg": FieldWords(label="Wire gauge", help="AWG"),
        "length": FieldWords(label="Wire length", help="both poles added up"),
        "extension_length": FieldWords(label="Extension length", help="both poles added up"),
        "extension_gauge_awg": FieldWords(label="Extension gauge", help="AWG; empty means the same gauge"),
        "connector_diameter": FieldWords(label="Connector pin"),
        "plugs": FieldWords(label="Motor connectors", help="three bundled together heat each other"),
        "connector_pairs": FieldWords(label="Pins in line", help="every plugged pin counts once"),
    },
    "conditions": {
        "water": FieldWords(label="Water temperature"),
        "air": FieldWords(label="Air temperature"),
        "headwind": FieldWords(label="Headwind"),
        "state_of_charge": FieldWords(label="State of charge", help="at the start of the pass"),
        "pack": FieldWords(label="Pack temperature", help="before the run"),
        "winding": FieldWords(label="Winding temperature"),
    },
    "placement": {
        "shell_mass": FieldWords(label="Bare hull", help="with hardware; without motor, controller, pack and ballast"),
        "shell": FieldWords(label="Balance point of the bare hull", help="ahead of the transom"),
        "motor": FieldWords(label="Motor position", help="its middle, ahead of the transom"),
        "controller": FieldWords(label="Controller position", help="its middle, ahead of the transom"),
        "pack": FieldWords(label="Pack position", help="its middle, ahead of the transom"),
        "ballast": FieldWords(label="Ballast"),
        "ballast_place": FieldWords(label="Ballast position", help="ahead of the transom"),
        "room_length": FieldWords(label="Motor bay length", help="from the mount's plate forward"),
        "room_width": FieldWords(label="Motor bay width"),
        "room_height": FieldWords(label="Motor bay height"),
    },
    "mount": {
        "circle": FieldWords(label="Bolt circle", help="the smallest one, if slotted"),
        "circle_to": FieldWords(label="Bolt circle, largest", help="if slotted"),
        "holes": FieldWords(label="Holes"),
        "plate": FieldWords(label="Plate thickness"),
        "screw": FieldWords(label="Screws"),
        "screw_length": FieldWords(label="Screw length", help="under the head"),
        "collar": FieldWords(label="Hole for the motor's collar"),
        "height": FieldWords(label="Shaft height", help="above the floor"),
        "material": FieldWords(label="Material", help="plastic softens under a hot motor"),
        "mass": FieldWords(label="Mass"),
    },
    "coupler": {
        "motor_bore": FieldWords(label="Bore, motor side"),
        "shaft_bore": FieldWords(label="Bore, shaft side"),
        "outside": FieldWords(label="Outside diameter"),
        "length": FieldWords(label="Length"),
        "set_screw": FieldWords(label="Set screw"),
        "grip": FieldWords(label="Grip length", help="on each shaft"),
        "mass": FieldWords(label="Mass"),
    },
    "shaft": {
        "kind": FieldWords(label="Kind"),
        "diameter": FieldWords(label="Diameter at the coupler"),
        "end": FieldWords(label="Diameter at the propeller"),
        "length": FieldWords(label="Length"),
        "span": FieldWords(label="Free span", help="the longest one between two supports"),
        "gap": FieldWords(
            label="Gap at the strut", help="between drive dog and bushing: a flex shaft shortens under load"
        ),
        "collar": FieldWords(label="Retention"),
        "tube": FieldWords(label="Tube outside diameter"),
        "mass": FieldWords(label="Mass"),
    },
    "jacket": {
        "bore": FieldWords(label="Bore"),
        "outside": FieldWords(label="Outside diameter"),
        "length": FieldWords(label="Length"),
        "groove": FieldWords(label="Groove depth", help="0 means none"),
        "ring_section": FieldWords(label="O-ring section"),
        "ring_inside": FieldWords(label="O-ring inside diameter"),
        "nipple": FieldWords(label="Nipple height"),
        "mass": FieldWords(label="Mass"),
    },
    "learnt": {
        "winding_case": FieldWords(label="Winding to motor case"),
        "case": FieldWords(label="Heat capacity of the motor case"),
        "case_still": FieldWords(label="Motor case to still water and air"),
        "water_at_rest": FieldWords(
            label="Water fraction at the propeller, boat held", help="the rest is air that it draws in"
        ),
    },
    "charger": {
        "most_cells": FieldWords(label="Max. cells"),
        "most_current": FieldWords(label="Max. current"),
        "power": FieldWords(label="Power"),
    },
    "collar": {
        "bore": FieldWords(label="Bore"),
        "outside": FieldWords(label="Outside diameter"),
        "width": FieldWords(label="Width"),
        "mass": FieldWords(label="Mass"),
    },
    "tube": {
        "outside": FieldWords(label="Outside diameter"),
        "wall": FieldWords(label="Wall"),
        "length": FieldWords(label="Length"),
    },
    "bearing": {
        "bore": FieldWords(label="Bore"),
        "outside": FieldWords(label="Outside diameter"),
        "width": FieldWords(label="Width"),
        "most": FieldWords(label="Max. rpm"),
    },
    "o-ring": {
        "inside": FieldWords(label="Inside diameter"),
        "section": FieldWords(label="Section"),
    },
    "hose": {
        "bore": FieldWords(label="Bore"),
        "outside": FieldWords(label="Outside diameter"),
        "length": FieldWords(label="Length"),
    },
    "pickup": {
        "bore": FieldWords(label="Bore"),
        "mass": FieldWords(label="Mass"),
    },
    "y-piece": {
        "bore": FieldWords(label="Bore"),
        "mass": FieldWords(label="Mass"),
    },
    "outlet": {
        "bore": FieldWords(label="Bore"),
        "mass": FieldWords(label="Mass"),
    },
    "connector": {
        "pin": FieldWords(label="Pin diameter"),
        "pins": FieldWords(label="Pins"),
        "current": FieldWords(label="Rated current"),
    },
    "wire": {
        "gauge_awg": FieldWords(label="Gauge", help="AWG"),
        "outside": FieldWords(label="Outside diameter"),
        "length": FieldWords(label="Length"),
    },
    "servo": {
        "torque": FieldWords(label="Torque"),
        "voltage": FieldWords(label="Max. voltage"),
        "mass": FieldWords(label="Mass"),
    },
    "receiver-pack": {
        "voltage": FieldWords(label="Voltage"),
        "capacity": FieldWords(label="Capacity"),
        "mass": FieldWords(label="Mass"),
    },
    "logger": {
        "rate": FieldWords(label="Fixes per second"),
        "mass": FieldWords(label="Mass"),
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
ALL_UP_MASS: Final = FieldWords(label="All-up mass", help="ready to run, with pack")
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


def named(path: str) -> FieldWords:
    """What a field is called (``motor.kv``); a path nobody has a name for is called by its own words."""
    part, _, key = path.partition(".")
    if path == "all_up_mass":
        return ALL_UP_MASS
    found = FIELDS.get(part, {}).get(key)
    return found or FieldWords(label=path.replace("_", " ").replace(".", " "))


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
