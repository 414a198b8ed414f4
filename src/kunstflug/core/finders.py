"""Finders: which shim, ring, hose, wire or plug does it."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from kunstflug.core import cooling
from kunstflug.core.bench import CALIPER, Reading, reading
from kunstflug.core.errors import InvalidValue
from kunstflug.core.fit import mechanics as m
from kunstflug.core.units import Dimension
from kunstflug.core.wiring import PINS_A, silicone_outside_m, wire_current_a

L, A = Dimension.LENGTH, Dimension.CURRENT
HELD_C: Final = 120.0  # a wire that one may still touch for a moment (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """One thing that does it, and why."""

    name: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Finder:
    """One finder: what it asks for, and what it finds, best first; nothing where nothing does."""

    key: str
    title: str
    how: str
    readings: tuple[Reading, ...]
    law: Callable[[Mapping[str, float]], tuple[Found, ...]]
    nothing: str


def _mm(metres: float, digits: int = 2) -> str:
    return f"{metres * 1e3:.{digits}f} mm"


def shim(r: Mapping[str, float]) -> tuple[Found, ...]:
    """Tubes between a bore and a thinner shaft."""
    return tuple(
        Found(name=tube.name, words=f"{_mm(tube.outside_m, 3)} outside, bore {_mm(tube.bore_m, 3)}; off its axis by "
              f"{_mm(play, 3)} at the most")
        for tube, play in m.shims(r["bore"], r["shaft"])
    )  # fmt: skip


def ring(r: Mapping[str, float]) -> tuple[Found, ...]:
    """Rings for a groove between a jacket and a can."""
    space = (r["bore"] - r["can"]) / 2 + r["groove"]
    if space <= 0:
        raise InvalidValue("bore", _mm(r["bore"]), "more than the can")
    return tuple(
        Found(
            name=x.name,
            words=f"{_mm(x.inside_m)} x {_mm(x.section_m)}: pressed {x.squeeze:.0%}, stretched {x.stretch:.1%}",
        )
        for x in m.rings(r["can"], space)[:8]
    )


def hose(r: Mapping[str, float]) -> tuple[Found, ...]:
    """Bores of hose that carry a flow at a speed, through one usual line."""
    found = []
    for bore in (2e-3, 2.5e-3, 3e-3, 4e-3, 5e-3, 6e-3):
        hoses = cooling.Piece(kind=cooling.PieceKind.HOSE, bore_m=bore, length_m=r["length"], bends=2)
        pieces = (
            cooling.Piece(kind=cooling.PieceKind.PICKUP, bore_m=bore), hoses,
            cooling.Piece(kind=cooling.PieceKind.MOTOR, bore_m=bore),
            cooling.Piece(kind=cooling.PieceKind.CONTROLLER, bore_m=bore),
            cooling.Piece(kind=cooling.PieceKind.OUTLET, bore_m=bore),
        )  # fmt: skip
        flow = cooling.solve(cooling.Circuit(lines=(cooling.Line(pieces=pieces),)), r["speed"]).places[0].flow_m3_s
        if flow >= r["flow"]:
            found.append(Found(name=f"{bore * 1e3:g} mm bore", words=f"{flow * 6e4:.2f} L/min at that speed"))
    return tuple(found[:3])


def wire(r: Mapping[str, float]) -> tuple[Found, ...]:
    """Gauges that hold a current for minutes in still air, thinnest first."""
    found = []
    for gauge in range(18, 3, -2):
        holds = wire_current_a(HELD_C, gauge, silicone_outside_m(gauge), r["air"])
        if holds >= r["current"]:
            found.append(Found(name=f"AWG {gauge}", words=f"holds {holds:.0f} A for minutes at {HELD_C:.0f} °C inside"))
    return tuple(found[:3])


def connector(r: Mapping[str, float]) -> tuple[Found, ...]:
    """Pins that take a current in passes, smallest first."""
    return tuple(
        Found(name=f"{mm:g} mm pins", words=f"{amps:.0f} A in passes (common practice, no source)")
        for mm, amps in PINS_A
        if amps >= r["current"]
    )[:3]


def flat(r: Mapping[str, float]) -> tuple[Found, ...]:
    """The flat for each set screw, with what it takes off and how it shakes."""
    found = []
    for thread in ("M2.5", "M3", "M4", "M5"):
        width = m.thread_diameter_m(thread)
        if width >= r["shaft"]:
            continue
        depth = m.flat_depth_m(r["shaft"], width)
        mass, unbalance = m.flat_unbalance(r["shaft"], depth, 2 * width)
        force = m.unbalance_force_n(unbalance, r["rpm"])
        found.append(
            Found(name=thread, words=f"{_mm(width, 1)} wide, {_mm(depth)} deep; {mass * 1e3:.2f} g off, {force:.1f} N")
        )
    return tuple(found)


FINDERS: Final = (
    Finder(
        key="shim", title="Shim between bore and shaft", how="Coupler or propeller bore, and the thinner shaft.", law=shim,
        readings=(reading("bore", "Bore", L, "mm", 4.7625e-3, 1e-3, 0.02, step=CALIPER),
                  reading("shaft", "Shaft", L, "mm", 4e-3, 0.5e-3, 0.02, step=CALIPER)),
        nothing="No tube that is sold fills it true: a turned bush, or a coupler with the right bore.",
    ),
    Finder(
        key="ring", title="Ring for a jacket", how="Jacket bore, can, and the depth of the groove.", law=ring,
        readings=(reading("bore", "Jacket bore", L, "mm", 36.6e-3, 5e-3, 0.16), reading("can", "Can", L, "mm", 36e-3, 5e-3, 0.16),
                  reading("groove", "Groove depth", L, "mm", 1.1e-3, 0, 6e-3)),
        nothing="No standard ring: a cord of the right section, cut and glued.",
    ),
    Finder(
        key="flat", title="Flat for a set screw", how="Shaft, and how fast it turns.", law=flat,
        readings=(reading("shaft", "Shaft", L, "mm", 5e-3, 2e-3, 0.02),
                  reading("rpm", "Loaded rpm", Dimension.ROTATION, "rpm", 28000, 100, 100000)),
        nothing="No set screw is that small.",
    ),
    Finder(
        key="hose", title="Hose for a flow", how="Wanted flow, at which speed, and how long the line is.", law=hose,
        readings=(reading("flow", "Wanted flow", Dimension.FLOW, "L/min", 1.0 / 6e4, 0.01 / 6e4, 20 / 6e4),
                  reading("speed", "At speed", Dimension.SPEED, "km/h", 12.0, 0.5, 60), reading("length", "Line", L, "mm", 0.8, 0.05, 5)),
        nothing="No usual hose: two lines, or less length.",
    ),
    Finder(
        key="wire", title="Wire for a current", how="Current held for minutes, and the air round it.", law=wire,
        readings=(reading("current", "Current", A, "A", 100, 1, 600),
                  reading("air", "Air", Dimension.TEMPERATURE, "degC", 25, -10, 60)),
        nothing="No usual gauge: two wires side by side.",
    ),
    Finder(
        key="connector", title="Plug for a current", how="Current in passes.", law=connector,
        readings=(reading("current", "Current", A, "A", 100, 1, 600),), nothing="No usual plug: two side by side.",
    ),
)  # fmt: skip

BY_KEY: Final = {f.key: f for f in FINDERS}


def find(finder: Finder, readings: Mapping[str, float]) -> tuple[Found, ...]:
    """What a finder finds.

    Raises
    ------
    InvalidValue : a reading that is missing or out of range.
    """
    for r in finder.readings:
        value = readings.get(r.key)
        if value is None or not math.isfinite(value) or not r.low - 1e-12 <= value <= r.high + 1e-12:
            raise InvalidValue(r.key, "missing" if value is None else f"{value:g}", f"{r.low:g} to {r.high:g} (SI)")
    return finder.law(readings)
