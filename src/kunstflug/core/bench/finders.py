"""Finders: which shim, ring, hose, wire or plug does it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from kunstflug.core.bench.instruments import CALIPER, ReadingSpec, reading
from kunstflug.core.cooling.circuit import Circuit, Line, Piece, PieceKind
from kunstflug.core.cooling.solve import solve
from kunstflug.core.laws import mechanics as m
from kunstflug.core.laws.electric import silicone_outside_m
from kunstflug.core.laws.wire import wire_current_a
from kunstflug.core.parts.wiring import PIN_RATINGS
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Fact
from kunstflug.core.quantity.units import Dimension

L, A = Dimension.LENGTH, Dimension.CURRENT
HELD_C: Final = 120.0  # a wire that one may still touch for a moment (common practice, no source)
HOSE_BORES_M: Final = (2e-3, 2.5e-3, 3e-3, 4e-3, 5e-3, 6e-3)
MOST_RINGS: Final = 8
MOST: Final = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class ShimFound(Fact):
    """A tube that fills a gap."""

    name: str
    outside_m: float
    bore_m: float
    run_out_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RingFound(Fact):
    """A ring that seals."""

    name: str
    inside_m: float
    section_m: float
    squeeze: float
    stretch: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HoseFound(Fact):
    """A bore that carries a flow."""

    bore_m: float
    flow_m3_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WireFound(Fact):
    """A gauge that holds a current for minutes at a temperature."""

    gauge_awg: int
    holds_a: float
    celsius: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PinsFound(Fact):
    """Pins that take a current in passes."""

    pin_m: float
    holds_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatFound(Fact):
    """The flat for a thread, what it takes off and how it shakes."""

    thread: str
    width_m: float
    depth_m: float
    mass_kg: float
    force_n: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WiderThanCan(Fact):
    """A jacket is wider than its can."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Finder:
    """One finder: what it asks for, and what it finds, best first; nothing where nothing does."""

    key: str
    readings: tuple[ReadingSpec, ...]
    law: Callable[[Mapping[str, float]], tuple[Fact, ...]]


def shim(r: Mapping[str, float]) -> tuple[Fact, ...]:
    """Tubes between a bore and a thinner shaft."""
    return tuple(
        ShimFound(name=s.tube.name, outside_m=s.tube.outside_m, bore_m=s.tube.bore_m, run_out_m=s.run_out_m)
        for s in m.shims(r["bore"], r["shaft"])
    )


def ring(r: Mapping[str, float]) -> tuple[Fact, ...]:
    """Rings for a groove between a jacket and a can."""
    space = (r["bore"] - r["can"]) / 2 + r["groove"]
    if space <= 0:
        raise InvalidValue("bore", Amount(value=r["bore"], dimension=L, unit="mm"), WiderThanCan())
    return tuple(
        RingFound(name=x.name, inside_m=x.inside_m, section_m=x.section_m, squeeze=x.squeeze, stretch=x.stretch)
        for x in m.rings(r["can"], space)[:MOST_RINGS]
    )


def hose(r: Mapping[str, float]) -> tuple[Fact, ...]:
    """Bores of hose that carry a flow at a speed, through one usual line."""
    found = []
    for bore in HOSE_BORES_M:
        pieces = (
            Piece(kind=PieceKind.PICKUP, bore_m=bore),
            Piece(kind=PieceKind.HOSE, bore_m=bore, length_m=r["length"], bends=2),
            Piece(kind=PieceKind.MOTOR, bore_m=bore),
            Piece(kind=PieceKind.CONTROLLER, bore_m=bore),
            Piece(kind=PieceKind.OUTLET, bore_m=bore),
        )
        flow = solve(Circuit(lines=(Line(pieces=pieces),)), r["speed"]).places[0].flow_m3_s
        if flow >= r["flow"]:
            found.append(HoseFound(bore_m=bore, flow_m3_s=flow))
    return tuple(found[:MOST])


def wire(r: Mapping[str, float]) -> tuple[Fact, ...]:
    """Gauges that hold a current for minutes in still air, thinnest first."""
    found = []
    for gauge in range(18, 3, -2):
        holds = wire_current_a(HELD_C, gauge, silicone_outside_m(gauge), r["air"])
        if holds >= r["current"]:
            found.append(WireFound(gauge_awg=gauge, holds_a=holds, celsius=HELD_C))
    return tuple(found[:MOST])


def connector(r: Mapping[str, float]) -> tuple[Fact, ...]:
    """Pins that take a current in passes, smallest first."""
    enough = [p for p in PIN_RATINGS if p.current_a >= r["current"]]
    return tuple(PinsFound(pin_m=p.pin_m, holds_a=p.current_a) for p in enough[:MOST])


def flat(r: Mapping[str, float]) -> tuple[Fact, ...]:
    """The flat for each set screw, with what it takes off and how it shakes."""
    found = []
    for thread in ("M2.5", "M3", "M4", "M5"):
        width = m.thread_diameter_m(thread)
        if width >= r["shaft"]:
            continue
        depth = m.flat_depth_m(r["shaft"], width)
        taken = m.flat_unbalance(r["shaft"], depth, 2 * width)
        force = m.unbalance_force_n(taken.unbalance_kg_m, r["rpm"])
        found.append(FlatFound(thread=thread, width_m=width, depth_m=depth, mass_kg=taken.mass_kg, force_n=force))
    return tuple(found)


FINDERS: Final = (
    Finder(
        key="shim", law=shim,
        readings=(reading("bore", L, "mm", 4.7625e-3, 1e-3, 0.02, step=CALIPER),
                  reading("shaft", L, "mm", 4e-3, 0.5e-3, 0.02, step=CALIPER)),
    ),
    Finder(
        key="ring", law=ring,
        readings=(reading("bore", L, "mm", 36.6e-3, 5e-3, 0.16), reading("can", L, "mm", 36e-3, 5e-3, 0.16),
                  reading("groove", L, "mm", 1.1e-3, 0, 6e-3)),
    ),
    Finder(
        key="flat", law=flat,
        readings=(reading("shaft", L, "mm", 5e-3, 2e-3, 0.02),
                  reading("rpm", Dimension.ROTATION, "rpm", 28000, 100, 100000)),
    ),
    Finder(
        key="hose", law=hose,
        readings=(reading("flow", Dimension.FLOW, "L/min", 1.0 / 6e4, 0.01 / 6e4, 20 / 6e4),
                  reading("speed", Dimension.SPEED, "km/h", 12.0, 0.5, 60), reading("length", L, "mm", 0.8, 0.05, 5)),
    ),
    Finder(
        key="wire", law=wire,
        readings=(reading("current", A, "A", 100, 1, 600),
                  reading("air", Dimension.TEMPERATURE, "degC", 25, -10, 60)),
    ),
    Finder(key="connector", law=connector, readings=(reading("current", A, "A", 100, 1, 600),)),
)  # fmt: skip

BY_KEY: Final = {f.key: f for f in FINDERS}


def find(finder: Finder, readings: Mapping[str, float]) -> tuple[Fact, ...]:
    """What a finder finds.

    Raises
    ------
    InvalidValue : a reading that is missing or out of range.
    """
    for r in finder.readings:
        r.check(readings.get(r.key))
    return finder.law(readings)
