"""Bench instruments and finders in words."""

from dataclasses import dataclass, field
from typing import Final

from kunstflug.core.bench import finders, pack_life
from kunstflug.wording.say import fixed, says
from kunstflug.wording.tongue import Tongue, grouped, trimmed


@dataclass(frozen=True, slots=True, kw_only=True)
class InstrumentWords:
    """What an instrument is called, how it is used, and what its readings are called."""

    title: str
    how: str
    equation: str
    readings: dict[str, str]
    caution: str = ""
    source: str = "definition"


INSTRUMENTS: Final = {
    "kv": InstrumentWords(
        title="KV on a drill",
        how="Spin the shaft with a drill. Read the AC volts between any two leads, and the rpm with a tachometer.",
        equation="KV = rpm / (√2 · U)",
        readings={"rpm": "Drill", "volts": "AC between two leads"},
        caution="A loose chuck throws the motor: clamp the can, keep sleeves clear.",
    ),
    "winding": InstrumentWords(
        title="Winding resistance",
        how="Send a steady current through two leads and read the millivolts at the leads, not at the clips.",
        equation="R20 = U / I · 255 / (235 + T)",
        readings={"volts": "Across the leads", "amps": "Current", "celsius": "Winding"},
        source="IEC 60034-1, from memory",
    ),
    "no-load": InstrumentWords(
        title="No-load current",
        how="Run the motor free on two voltages. The current at zero volts is friction; what rises is iron loss.",
        equation="I at 0 = I1 − (I2 − I1) / (U2 − U1) · U1",
        readings={
            "volts1": "Lower voltage",
            "amps1": "Current there",
            "volts2": "Higher voltage",
            "amps2": "Current there",
        },
        caution="A free motor may pass its rpm limit: no more cells than it is printed for.",
    ),
    "cell": InstrumentWords(
        title="Cell resistance",
        how="Two steady loads of ten seconds each on a warm pack. Read volts and amperes under each.",
        equation="R = (U1 − U2) / (I2 − I1) / cells",
        readings={
            "volts1": "Volts, light load",
            "amps1": "Light load",
            "volts2": "Volts, heavy load",
            "amps2": "Heavy load",
            "cells": "Cells",
        },
        caution="LiPo under load: attended, in a fire-safe place, below its printed current.",
    ),
    "pitch-rise": InstrumentWords(
        title="Pitch from rise over an angle",
        how="Propeller flat on a plate. Measure the height of the blade face at one radius, turn it by an angle, measure again.",
        equation="P = 360 / angle · rise",
        readings={"rise": "Rise of the face", "angle": "Turned by"},
    ),
    "pitch-gauge": InstrumentWords(
        title="Pitch from a blade gauge",
        how="The angle of the face against the disc, at 0.7 of the radius.",
        equation="P = 2 π r tan(angle)",
        readings={"radius": "At radius", "angle": "Blade angle"},
    ),
    "pitch-chord": InstrumentWords(
        title="Pitch from rise over chord",
        how="The length of the chord at a radius, and how much higher one edge is than the other.",
        equation="P = 2 π r · rise / √(chord² − rise²)",
        readings={"radius": "At radius", "chord": "Chord", "rise": "Rise"},
    ),
    "nick": InstrumentWords(
        title="Nick",
        how="The size of the missing piece, where it is missing, and the rpm.",
        equation="F = m r (2 π rpm / 60)²",
        readings={
            "area": "Missing area",
            "thickness": "Thickness there",
            "density": "Density, kg/m3",
            "radius": "At radius",
            "rpm": "Loaded rpm",
        },
        caution="Beryllium copper: dust is toxic. Do not file or grind it dry; send it out.",
    ),
    "balance": InstrumentWords(
        title="Balance",
        how="On knife edges, put tape on the tip of the light blade until it stays level. Weigh the tape and note its radius.",
        equation="F = m r (2 π rpm / 60)²",
        readings={"mass": "Tape", "radius": "At radius", "rpm": "Loaded rpm"},
    ),
    "centre": InstrumentWords(
        title="Mass and centre of mass",
        how="Boat ready to run: an edge under the transom on one scale, an edge near the bow on the other.",
        equation="x = bow · distance / (bow + stern)",
        readings={"stern": "Stern scale", "bow": "Bow scale", "distance": "Edge to edge"},
    ),
    "slip": InstrumentWords(
        title="Speed from rpm and slip",
        how="Loaded rpm from a log, the pitch, and a slip of 12 to 24 %.",
        equation="V = rpm / 60 · P · (1 − slip)",
        readings={"rpm": "Loaded rpm", "pitch": "Pitch", "slip": "Slip"},
    ),
    "flat-width": InstrumentWords(
        title="Flat depth from its width",
        how="The width of the flat seen from above, and the shaft.",
        equation="d = r − √(r² − w² / 4)",
        readings={"diameter": "Shaft", "width": "Width seen"},
    ),
    "flat-over": InstrumentWords(
        title="Flat width from what is left",
        how="Caliper over the flat and the back of the shaft.",
        equation="w = 2 √(D d − d²), d = D − over",
        readings={"diameter": "Shaft", "over": "Over the flat"},
    ),
    "circle": InstrumentWords(
        title="Bolt circle",
        how="Centre to centre of two neighbouring holes, and the number of holes.",
        equation="D = chord / sin(180 / n)",
        readings={"chord": "Hole to hole", "holes": "Holes"},
    ),
    "power": InstrumentWords(
        title="Shaft power",
        how="Torque and rpm.",
        equation="P = T · 2 π rpm / 60",
        readings={"torque": "Torque", "rpm": "rpm"},
    ),
}
"""Words of every instrument, by its key."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FinderWords:
    """What a finder is called, what it asks for, and what it says when nothing does."""

    title: str
    how: str
    nothing: str
    readings: dict[str, str] = field(default_factory=dict)


FINDERS: Final = {
    "shim": FinderWords(
        title="Shim between bore and shaft",
        how="The bore of coupler or propeller, and the thinner shaft.",
        nothing="No tube or reducing sleeve that is sold fills it true. Use a turned bush, or a coupler with the right bore.",
        readings={"bore": "Bore", "shaft": "Shaft"},
    ),
    "ring": FinderWords(
        title="O-ring for a jacket",
        how="The jacket bore, the can, and the depth of the groove.",
        nothing="No standard O-ring fits. Cut and glue a cord of the right section.",
        readings={"bore": "Jacket bore", "can": "Can", "groove": "Groove depth"},
    ),
    "flat": FinderWords(
        title="Flat for a set screw",
        how="The shaft, and its rpm.",
        nothing="No set screw is that small.",
        readings={"shaft": "Shaft", "rpm": "Loaded rpm"},
    ),
    "hose": FinderWords(
        title="Hose for a flow",
        how="The flow you want, at which speed, and the length of the line.",
        nothing="No usual hose does. Use two lines, or a shorter one.",
        readings={"flow": "Wanted flow", "speed": "At speed", "length": "Line"},
    ),
    "wire": FinderWords(
        title="Wire for a current",
        how="The continuous current, and the air around the wire.",
        nothing="No usual gauge does. Use two wires side by side.",
        readings={"current": "Current", "air": "Air"},
    ),
    "connector": FinderWords(
        title="Connector for a current",
        how="The current in passes.",
        nothing="No usual connector does. Use two side by side.",
        readings={"current": "Current"},
    ),
}
"""Words of every finder, by its key."""


@says(finders.ShimFound)
def _shim(f: finders.ShimFound, t: Tongue) -> str:
    return (
        f"{f.name}: {t.length(f.outside_m)} outside, {t.length(f.bore_m)} inside, at most {t.length(f.run_out_m, 2)} "
        "off its axis"
    )


@says(finders.RingFound)
def _ring(f: finders.RingFound, t: Tongue) -> str:
    size = f"{t.size(f.inside_m)} x {t.length(f.section_m)}"
    return f"{f.name}: {size}; squeezed {t.part(f.squeeze)}, stretched {t.part(f.stretch, 1)}"


@says(finders.HoseFound)
def _hose(f: finders.HoseFound, t: Tongue) -> str:
    return f"{t.length(f.bore_m)} bore: {grouped(f.flow_m3_s * 6e4, 2)} L/min at that speed"


@says(finders.WireFound)
def _wire(f: finders.WireFound, t: Tongue) -> str:
    return f"AWG {f.gauge_awg}: {t.current(f.holds_a)} continuously, at {t.temperature(f.celsius)} inside"


@says(finders.PinsFound)
def _pins(f: finders.PinsFound, t: Tongue) -> str:
    return f"{t.length(f.pin_m)} pins: {t.current(f.holds_a)} in passes (common practice, no source)"


@says(finders.FlatFound)
def _flat(f: finders.FlatFound, t: Tongue) -> str:
    return (
        f"{f.thread}: {t.length(f.width_m)} wide, {t.length(f.depth_m, 3)} deep; {trimmed(f.mass_kg * 1e3, 2)} g off "
        f"one side, {t.force(f.force_n)}"
    )


fixed(
    pack_life.PackUnread,
    "No run says how this pack is. Note the charge put back and the cells' voltage at rest, or volts and amperes under "
    "load; a controller log has both.",
)
_HEALTH: Final = {
    pack_life.Health.GOOD: "Good",
    pack_life.Health.SOON: "Near its end",
    pack_life.Health.RETIRE: "Retire it",
    pack_life.Health.UNKNOWN: "Not known",
}


@says(pack_life.PackStands)
def _stands(f: pack_life.PackStands, t: Tongue) -> str:
    found = []
    if f.capacity is not None:
        found.append(f"holds {round(100 * f.capacity)} % of its printed capacity")
    if f.resistance is not None:
        more = round(100.0 * (f.resistance - 1.0))
        found.append(f"its resistance {f'is {more} % above' if more >= 5 else 'is still'} that of its first runs")
    said = f"{_HEALTH[f.health]}: {', '.join(found)}"
    if f.health is pack_life.Health.RETIRE:
        return f"{said}. Discharge it and hand it in as its maker and your local rules say"
    if f.left is not None:
        low, high = f.left
        said += f"; {f'{low} to {high}' if high > low else low} runs left, four times out of five"
    if f.capacity is None:
        said += ". To see how much it holds, note the charge put back and the cells' voltage at rest"
    return said


@says(pack_life.CellWeak)
def _weak(f: pack_life.CellWeak, t: Tongue) -> str:
    return f"One cell is weak: at rest the cells stood {round(1000 * f.apart_v)} mV apart"
