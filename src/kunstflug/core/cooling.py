"""The water circuit: pickups, hoses, blocks, Y pieces and outlets, in series and parallel, solved for its flow.

A line is a row of pieces from a pickup to an outlet; a piece may be a split into branches that join again, or, at the
end, leave through outlets of their own. Pressure at a pickup is ram pressure or the propeller's wash; each piece takes
friction (Darcy and Weisbach with Churchill's factor [churchill1977]) and minor losses; nothing is left in the open air.
"""

import dataclasses
import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

from scipy.optimize import brentq

from kunstflug.core.errors import InvalidValue
from kunstflug.core.water import water_density_kg_m3, water_viscosity_pa_s

WATER_W_MK: Final = 0.598  # at 20 degC [coolprop]
WATER_J_KGK: Final = 4184.0
ROUGHNESS_M: Final = 0.0  # a drawn hose is hydraulically smooth at these sizes
BEND_K: Final = 0.4  # a wide bend of a hose (handbook value, from memory)
LEAST_M3_S: Final = 1e-10


class PieceKind(StrEnum):
    """Kinds of pieces."""

    PICKUP = "pickup"
    HOSE = "hose"
    MOTOR = "motor jacket"
    CONTROLLER = "controller block"
    Y = "Y piece"
    OUTLET = "outlet"


class Intake(StrEnum):
    """Where a pickup stands."""

    RUDDER = "rudder"
    BOTTOM = "bottom"
    WASH = "propeller wash"


RECOVERY: Final = {Intake.RUDDER: 0.80, Intake.BOTTOM: 0.65, Intake.WASH: 0.45}
"""Part of the dynamic pressure that is had (common practice, no source)."""
LOSS_K: Final = {
    PieceKind.PICKUP: 0.5,  # sharp entry (handbook value, from memory)
    PieceKind.HOSE: 0.0,
    PieceKind.MOTOR: 4.0,  # in, round the can, out (common practice, no source)
    PieceKind.CONTROLLER: 3.0,
    PieceKind.Y: 1.0,
    PieceKind.OUTLET: 1.0,  # all of the speed is lost in the open
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """One piece of a line, or a split.

    Parameters
    ----------
    bore_m, length_m, bends : of a hose; other pieces have a bore and a loss.
    loss : loss factor on the piece's own bore [1]; None for the usual one.
    open_part : part of the passage that is open [1]: 1 clear, 0 shut (a cap, weed, a kink).
    source, recovery : of a pickup; recovery None for the usual one of its place.
    branches : of a split; every branch a row of pieces. Where ``joins`` is false each branch has its own outlet.
    """

    kind: PieceKind
    bore_m: float = 4e-3
    length_m: float = 0.0
    bends: int = 0
    loss: float | None = None
    open_part: float = 1.0
    source: Intake = Intake.RUDDER
    recovery: float | None = None
    branches: "tuple[tuple[Piece, ...], ...]" = ()
    joins: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A row of pieces from its pickup to its outlet."""

    pieces: tuple[Piece, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Circuit:
    """All lines of a boat."""

    lines: tuple[Line, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """What runs through one piece: flow [m3/s], pressure before and after [Pa], water before and after [degC]."""

    path: tuple[int, ...]
    kind: PieceKind
    bore_m: float
    flow_m3_s: float
    before_pa: float
    after_pa: float
    before_c: float
    after_c: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Solved:
    """A circuit at one speed: every piece, and what the blocks get."""

    speed_mps: float
    places: tuple[Place, ...]

    def flow_of(self, kind: PieceKind) -> float:
        """Flow through the blocks of a kind together [m3/s]."""
        return sum(p.flow_m3_s for p in self.places if p.kind is kind)

    def inlet_c(self, kind: PieceKind) -> float:
        """Warmest water that enters a block of a kind [degC]; NaN where there is none."""
        return max((p.before_c for p in self.places if p.kind is kind), default=math.nan)


def friction_churchill(reynolds: float, roughness: float) -> float:
    """Darcy friction factor for any Reynolds number and relative roughness [churchill1977].

    Examples
    --------
    >>> round(friction_churchill(1e4, 0.001), 6)
    0.03269
    """
    a = (2.457 * math.log(1 / ((7 / reynolds) ** 0.9 + 0.27 * roughness))) ** 16
    b = (37530.0 / reynolds) ** 16
    return 8 * ((8 / reynolds) ** 12 + (a + b) ** -1.5) ** (1 / 12)


def ram_pressure_pa(speed_mps: float, density: float, recovery: float = 1.0) -> float:
    """Dynamic pressure [Pa]: half rho V^2, as much of it as a pickup recovers."""
    return 0.5 * density * speed_mps**2 * recovery


def wash_speed_mps(speed_mps: float, thrust_n: float, diameter_m: float, density: float) -> float:
    """Speed of the water behind a propeller [m/s], momentum theory: sqrt(V^2 + 2 T / (rho A))."""
    disc = math.pi / 4 * diameter_m**2
    return math.sqrt(speed_mps**2 + 2 * max(thrust_n, 0.0) / (density * disc))


def _velocity(flow: float, bore: float) -> float:
    return flow / (math.pi / 4 * bore**2)


class _Water:
    """Properties of the water once for a solution."""

    def __init__(self, celsius: float) -> None:
        self.density = float(water_density_kg_m3(celsius))
        self.viscosity = float(water_viscosity_pa_s(celsius))


def piece_drop_pa(piece: Piece, flow_m3_s: float, water_c: float = 20.0) -> float:
    """Pressure that a piece takes at a flow [Pa]; infinite where it is shut."""
    return _drop(piece, flow_m3_s, _Water(water_c))


def _drop(piece: Piece, flow: float, water: _Water) -> float:
    if flow <= 0:
        return 0.0
    if piece.branches:
        return _parallel_drop(piece, flow, water)
    if piece.open_part <= 0:
        return math.inf
    velocity = _velocity(flow, piece.bore_m)
    loss = LOSS_K[piece.kind] if piece.loss is None else piece.loss
    loss += piece.bends * BEND_K
    if piece.length_m > 0:
        reynolds = water.density * velocity * piece.bore_m / water.viscosity
        loss += friction_churchill(max(reynolds, 1e-6), ROUGHNESS_M / piece.bore_m) * piece.length_m / piece.bore_m
    # A narrowed passage loses the jet that shoots through it: (1/a - 1)^2 on the free speed (Borda and Carnot).
    loss += (1 / piece.open_part - 1) ** 2 if piece.open_part < 1 else 0.0
    return loss * 0.5 * water.density * velocity**2


def _row_drop(row: tuple[Piece, ...], flow: float, water: _Water) -> float:
    return sum(_drop(piece, flow, water) for piece in row)


def _flow_at(row: tuple[Piece, ...], pressure: float, water: _Water) -> float:
    """Flow that a pressure drives through a row [m3/s]; zero where it is shut or there is no pressure."""
    if pressure <= 0 or math.isinf(_row_drop(row, LEAST_M3_S, water)):
        return 0.0
    high = 1e-6
    while _row_drop(row, high, water) < pressure:
        high *= 4
        if high > 1.0:  # nothing in the way at all
            return high
    return float(brentq(lambda q: _row_drop(row, q, water) - pressure, 0.0, high, xtol=1e-14, rtol=1e-10))


def _parallel_drop(split: Piece, flow: float, water: _Water) -> float:
    """Drop of a split: the pressure at which its branches take the flow together."""

    def total(pressure: float) -> float:
        return sum(_flow_at(row, pressure, water) for row in split.branches)

    high = 10.0
    while total(high) < flow:
        high *= 4
        if high > 1e9:
            return math.inf
    return float(brentq(lambda p: total(p) - flow, 0.0, high, xtol=1e-6, rtol=1e-10))


def check(circuit: Circuit) -> None:
    """Refuses what is no circuit.

    Raises
    ------
    InvalidValue : a line without pickup or outlet, a size out of range, or more than 60 pieces.
    """
    if not circuit.lines:
        raise InvalidValue("circuit.lines", "none", "at least one line")
    count = 0
    for number, line in enumerate(circuit.lines, 1):
        where = f"circuit.line {number}"
        pieces = line.pieces
        if not pieces or pieces[0].kind is not PieceKind.PICKUP:
            raise InvalidValue(where, "no pickup first", "a line begins with a pickup")
        if not _ends_open(pieces):
            raise InvalidValue(where, "no outlet last", "a line ends in an outlet")
        count += _checked(pieces, where)
    if count > 60:
        raise InvalidValue("circuit", f"{count} pieces", "at most 60")


def _ends_open(row: tuple[Piece, ...]) -> bool:
    last = row[-1]
    if last.branches and not last.joins:
        return all(branch and _ends_open(branch) for branch in last.branches)
    return last.kind is PieceKind.OUTLET


def _checked(row: tuple[Piece, ...], where: str) -> int:
    count = 0
    for piece in row:
        count += 1
        if piece.branches:
            if len(piece.branches) < 2:
                raise InvalidValue(where, f"{len(piece.branches)} branch", "a split has two branches or more")
            count += sum(_checked(branch, where) for branch in piece.branches)
            continue
        for name, value, low, high in (
            ("bore", piece.bore_m * 1e3, 0.5, 20.0), ("length", piece.length_m * 1e3, 0.0, 5000.0),
            ("open part", piece.open_part * 100, 0.0, 100.0),
        ):  # fmt: skip
            if not low <= value <= high:
                raise InvalidValue(f"{where} {piece.kind} {name}", f"{value:g}", f"{low:g} to {high:g}")
    return count


def pickup_pressure_pa(piece: Piece, speed_mps: float, wash_mps: float, density: float) -> float:
    """Pressure at a pickup at a speed [Pa]."""
    recovery = RECOVERY[piece.source] if piece.recovery is None else piece.recovery
    return ram_pressure_pa(wash_mps if piece.source is Intake.WASH else speed_mps, density, recovery)


def solve(
    circuit: Circuit,
    speed_mps: float,
    water_c: float = 20.0,
    wash_mps: float | None = None,
    heat_w: Mapping[PieceKind, float] | None = None,
) -> Solved:
    """Flow, pressure and temperature at every place of a circuit at one speed.

    Parameters
    ----------
    wash_mps : speed of the water behind the propeller; None for the boat's own.
    heat_w : heat that all blocks of a kind together put into the water [W].
    """
    check(circuit)
    water = _Water(water_c)
    heat = dict(heat_w or {})
    flows: list[tuple[tuple[int, ...], Piece, float, float, float]] = []
    for number, line in enumerate(circuit.lines):
        pressure = pickup_pressure_pa(
            line.pieces[0], speed_mps, speed_mps if wash_mps is None else wash_mps, water.density
        )
        flow = _flow_at(line.pieces, pressure, water)
        _walk(line.pieces, (number,), flow, pressure, water, flows)
    shares = _heat_shares(flows, heat)
    return Solved(speed_mps=speed_mps, places=_warmed(flows, shares, water_c, water))


def _walk(
    row: tuple[Piece, ...],
    path: tuple[int, ...],
    flow: float,
    pressure: float,
    water: _Water,
    out: list[tuple[tuple[int, ...], Piece, float, float, float]],
) -> float:
    """Pressure along a row, into ``out``; returns what is left at its end."""
    for k, piece in enumerate(row):
        drop = _drop(piece, flow, water)
        after = pressure - drop if math.isfinite(drop) and flow > 0 else (pressure if flow <= 0 and k == 0 else 0.0)
        out.append(((*path, k), piece, flow, pressure, after))
        if piece.branches:
            for b, branch in enumerate(piece.branches):
                across = pressure if not piece.joins else drop if math.isfinite(drop) else 0.0
                inside = _flow_at(branch, across, water) if flow > 0 else 0.0
                _walk(branch, (*path, k, b), inside, pressure, water, out)
        pressure = after
    return pressure


def _heat_shares(
    flows: list[tuple[tuple[int, ...], Piece, float, float, float]], heat: Mapping[PieceKind, float]
) -> dict[tuple[int, ...], float]:
    """Heat of each block [W]: what a kind gives off, shared by the flow through its blocks."""
    shares: dict[tuple[int, ...], float] = {}
    for kind, watts in heat.items():
        blocks = [(path, flow) for path, piece, flow, _, _ in flows if piece.kind is kind and not piece.branches]
        total = sum(flow for _, flow in blocks)
        for path, flow in blocks:
            shares[path] = watts * flow / total if total > 0 else 0.0
    return shares


def _warmed(
    flows: list[tuple[tuple[int, ...], Piece, float, float, float]],
    shares: Mapping[tuple[int, ...], float],
    water_c: float,
    water: _Water,
) -> tuple[Place, ...]:
    """Temperatures along every row; branches start with the water of their split and mix where they join."""
    found: list[Place] = []
    at: dict[tuple[int, ...], float] = {}  # temperature after a place
    by_path = {path: (piece, flow) for path, piece, flow, _, _ in flows}

    def before(path: tuple[int, ...]) -> float:
        if path[-1] > 0:
            return at[(*path[:-1], path[-1] - 1)]
        return before(path[:-2]) if len(path) > 2 else water_c

    def warmed(path: tuple[int, ...]) -> float:
        piece, flow = by_path[path]
        start = before(path)
        if not piece.branches:
            rise = shares.get(path, 0.0) / (flow * water.density * WATER_J_KGK) if flow > 0 else 0.0
            return start + rise
        mixed, total = 0.0, 0.0
        for b, branch in enumerate(piece.branches):
            for k in range(len(branch)):
                at[(*path, b, k)] = warmed((*path, b, k))
            end = (*path, b, len(branch) - 1)
            mixed, total = mixed + at[end] * by_path[end][1], total + by_path[end][1]
        return mixed / total if total > 0 else start

    for path, piece, flow, pressure, after in flows:
        if path not in at:
            at[path] = warmed(path)
        found.append(
            Place(
                path=path, kind=PieceKind.Y if piece.branches else piece.kind, bore_m=piece.bore_m, flow_m3_s=flow,
                before_pa=pressure, after_pa=after, before_c=before(path), after_c=at[path],
            )
        )  # fmt: skip
    return tuple(found)


def nusselt(reynolds: float, prandtl: float, diameter_over_length: float = 0.0) -> float:
    """Nusselt number in a passage: Hausen's laminar entry, Gnielinski above Re 4000, straight between 2300 and 4000.

    [hausen1943, gnielinski1976]
    """
    laminar = laminar_nusselt(min(reynolds, 2300.0), prandtl, diameter_over_length)
    if reynolds <= 2300:
        return laminar
    turbulent = gnielinski_nusselt(max(reynolds, 4000.0), prandtl)
    if reynolds >= 4000:
        return turbulent
    part = (reynolds - 2300) / 1700
    return laminar * (1 - part) + turbulent * part


def laminar_nusselt(reynolds: float, prandtl: float, diameter_over_length: float) -> float:
    """Hausen's Nusselt number of a laminar entry at constant wall temperature; 3.66 far down [hausen1943]."""
    graetz = diameter_over_length * reynolds * prandtl
    return 3.66 + 0.0668 * graetz / (1 + 0.04 * graetz ** (2 / 3))


def gnielinski_nusselt(reynolds: float, prandtl: float) -> float:
    """Gnielinski's turbulent Nusselt number with Petukhov's friction, (0.79 ln Re - 1.64)^-2."""
    friction = (0.79 * math.log(reynolds) - 1.64) ** -2 / 8
    return friction * (reynolds - 1000) * prandtl / (1 + 12.7 * math.sqrt(friction) * (prandtl ** (2 / 3) - 1))


@dataclass(frozen=True, slots=True, kw_only=True)
class CoolingTable:
    """What a circuit gives the blocks against speed; tuples of one length.

    Parameters
    ----------
    motor_kg_s, controller_kg_s : flow through the blocks [kg/s].
    behind : which block stands behind the other in the same water: "motor", "controller" or "".
    """

    speed_mps: tuple[float, ...]
    motor_kg_s: tuple[float, ...]
    controller_kg_s: tuple[float, ...]
    behind: str


def cooling_table(
    circuit: Circuit, top_mps: float, water_c: float, wash_mps: float = 0.0, points: int = 9
) -> CoolingTable:
    """A circuit solved at some speeds from rest to the top.

    Parameters
    ----------
    wash_mps : speed that the propeller adds to the water behind it at full throttle, see ``wash_speed_mps``.
    """
    density = float(water_density_kg_m3(water_c))
    speeds = [top_mps * k / (points - 1) for k in range(points)]
    solved = [solve(circuit, v, water_c, v + wash_mps) for v in speeds]
    return CoolingTable(
        speed_mps=tuple(speeds),
        motor_kg_s=tuple(s.flow_of(PieceKind.MOTOR) * density for s in solved),
        controller_kg_s=tuple(s.flow_of(PieceKind.CONTROLLER) * density for s in solved),
        behind=_behind(circuit),
    )


def _behind(circuit: Circuit) -> str:
    """The block that gets the other's warm water; only in one row without splits between them."""
    for line in circuit.lines:
        kinds = [p.kind for p in line.pieces if p.kind in (PieceKind.MOTOR, PieceKind.CONTROLLER)]
        if len(kinds) == 2 and kinds[0] is not kinds[1]:
            return "controller" if kinds[1] is PieceKind.CONTROLLER else "motor"
    return ""


def jacket_w_k(flow_m3_s: float, can_m: float, length_m: float, gap_m: float, water_c: float = 20.0) -> float:
    """Conductance from a can to the water that enters its jacket [W/K]: a thin gap round the can, twice as wide
    hydraulically; m c (1 - exp(-h A / (m c))).
    """
    if flow_m3_s <= 0:
        return 0.0
    water = _Water(water_c)
    hydraulic = 2 * gap_m
    # Water enters at one side and leaves at the other: half the circumference is the passage's width, twice over.
    velocity = flow_m3_s / (2 * length_m * gap_m)
    path = math.pi * can_m / 2
    reynolds = water.density * velocity * hydraulic / water.viscosity
    prandtl = water.viscosity * WATER_J_KGK / WATER_W_MK
    h = nusselt(reynolds, prandtl, hydraulic / path) * WATER_W_MK / hydraulic
    capacity = flow_m3_s * water.density * WATER_J_KGK
    return capacity * (1 - math.exp(-h * math.pi * can_m * length_m / capacity))


@dataclass(frozen=True, slots=True, kw_only=True)
class Stream:
    """What the driver sees at an outlet: speed of the jet [m/s], its throw sideways and its height straight up [m]."""

    flow_m3_s: float
    jet_mps: float
    throw_m: float
    height_m: float
    words: str


def stream(flow_m3_s: float, bore_m: float, above_water_m: float = 0.05) -> Stream:
    """The stream out of an outlet, level, a few centimetres above the water; free fall without air."""
    jet = _velocity(flow_m3_s, bore_m)
    throw = jet * math.sqrt(2 * above_water_m / 9.80665)
    height = jet**2 / (2 * 9.80665)
    litres = flow_m3_s * 6e4
    if litres < 0.03:
        words = "nothing to be seen: come in"
    elif jet < 0.4:
        words = "drips along the side"
    elif throw < 0.15:
        words = f"a thin stream, {throw * 100:.0f} cm off the side"
    else:
        words = f"a clear stream, {throw * 100:.0f} cm off the side"
    return Stream(flow_m3_s=flow_m3_s, jet_mps=jet, throw_m=throw, height_m=height, words=words)


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """One thing that happens to a circuit."""

    key: str
    title: str
    circuit: Circuit
    water_c: float
    field_note: str = field(default="")


def _first(circuit: Circuit, kind: PieceKind, **changes: float) -> Circuit:
    """The circuit with one change on the first piece of a kind in each line."""
    lines = []
    for line in circuit.lines:
        pieces, done = [], False
        for piece in line.pieces:
            if piece.kind is kind and not piece.branches and not done:
                piece = dataclasses.replace(piece, **changes)  # type: ignore[arg-type]  # numbers of the piece
                done = True
            pieces.append(piece)
        lines.append(Line(pieces=tuple(pieces)))
    return Circuit(lines=tuple(lines))


def cases(circuit: Circuit, water_c: float) -> tuple[Case, ...]:
    """What goes wrong at the pond, and what might be done instead."""
    found = [
        Case(key="now", title="as it is", circuit=circuit, water_c=water_c),
        Case(key="cap", title="cap left on", circuit=_first(circuit, PieceKind.PICKUP, open_part=0.0), water_c=water_c),
        Case(key="weed", title="half blocked by weed", water_c=water_c,
             circuit=_first(circuit, PieceKind.PICKUP, open_part=0.12),
             field_note="half the flow, more or less: an eighth of the opening is left"),
        Case(key="kink", title="kinked hose", circuit=_first(circuit, PieceKind.HOSE, open_part=0.2), water_c=water_c),
        Case(key="warm", title="warm pond, 28 °C", circuit=circuit, water_c=28.0),
    ]  # fmt: skip
    swapped = swap_order(circuit)
    if swapped is not None:
        first = _blocks(swapped)[0]
        found.append(Case(key="order", title=f"{first} first", circuit=swapped, water_c=water_c))
    two = two_lines(circuit)
    if two is not None:
        found.append(Case(key="two", title="a line each", circuit=two, water_c=water_c))
    one = one_line(circuit)
    if one is not None:
        found.append(Case(key="one", title="one line", circuit=one, water_c=water_c))
    return tuple(found)


def _blocks(circuit: Circuit) -> list[PieceKind]:
    kinds = (PieceKind.MOTOR, PieceKind.CONTROLLER)
    return [p.kind for line in circuit.lines for p in line.pieces if p.kind in kinds]


def swap_order(circuit: Circuit) -> Circuit | None:
    """Motor and controller in the other order; None where they are not in one line."""
    for number, line in enumerate(circuit.lines):
        places = [k for k, p in enumerate(line.pieces) if p.kind in (PieceKind.MOTOR, PieceKind.CONTROLLER)]
        if len(places) == 2:
            pieces = list(line.pieces)
            a, b = places
            pieces[a], pieces[b] = pieces[b], pieces[a]
            lines = list(circuit.lines)
            lines[number] = Line(pieces=tuple(pieces))
            return Circuit(lines=tuple(lines))
    return None


def two_lines(circuit: Circuit) -> Circuit | None:
    """A line each for motor and controller with the hoses of the one there was; None where it cannot be made."""
    if len(circuit.lines) != 1 or len(_blocks(circuit)) != 2:
        return None
    pieces = circuit.lines[0].pieces
    rest = [p for p in pieces if p.kind in (PieceKind.MOTOR, PieceKind.CONTROLLER)]
    hoses = [p for p in pieces if p.kind is PieceKind.HOSE]
    made = []
    for block in rest:
        own = hoses[:1] + [block] + (hoses[-1:] if len(hoses) > 1 else [])
        made.append(Line(pieces=(pieces[0], *own, pieces[-1])))
    return Circuit(lines=tuple(made))


def one_line(circuit: Circuit) -> Circuit | None:
    """Both blocks in one line, motor first; None where there are not two lines."""
    if len(circuit.lines) != 2 or any(p.branches for line in circuit.lines for p in line.pieces):
        return None
    first, second = circuit.lines
    blocks = [p for line in (first, second) for p in line.pieces if p.kind in (PieceKind.MOTOR, PieceKind.CONTROLLER)]
    if len(blocks) != 2:
        return None
    blocks.sort(key=lambda p: p.kind is not PieceKind.MOTOR)
    hoses = [p for p in first.pieces if p.kind is PieceKind.HOSE] or [Piece(kind=PieceKind.HOSE, length_m=0.2)]
    row = (first.pieces[0], hoses[0], blocks[0], hoses[-1], blocks[1], hoses[-1], first.pieces[-1])
    return Circuit(lines=(Line(pieces=row),))


def usual_circuit() -> Circuit:
    """One line, motor first, 4 mm throughout: where nobody drew one."""
    hose = Piece(kind=PieceKind.HOSE, length_m=0.25, bends=1)
    return Circuit(
        lines=(
            Line(
                pieces=(
                    Piece(kind=PieceKind.PICKUP),
                    hose,
                    Piece(kind=PieceKind.MOTOR),
                    hose,
                    Piece(kind=PieceKind.CONTROLLER),
                    hose,
                    Piece(kind=PieceKind.OUTLET),
                )
            ),
        )
    )
