"""A water circuit solved for its flow, pressure and temperature at every place.

Pressure at a pickup is ram pressure, the propeller's wash or a water-jet's own; each piece takes friction (Darcy and
Weisbach with Churchill's factor [churchill1977]) and minor losses; nothing is left in the open air.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from kunstflug.core.cooling.circuit import LOSS_K, RECOVERY, Circuit, Intake, Piece, PieceKind, check
from kunstflug.core.laws.crossing import crossing
from kunstflug.core.laws.heat import WATER_J_KGK
from kunstflug.core.laws.pipes import friction_churchill, ram_pressure_pa, velocity_mps
from kunstflug.core.laws.water import water_density_kg_m3, water_viscosity_pa_s

ROUGHNESS_M: Final = 0.0  # a drawn hose is hydraulically smooth at these sizes
BEND_K: Final = 0.4  # a wide bend of a hose (handbook value, from memory)
LEAST_M3_S: Final = 1e-10
SHUT: Final = 1e-6  # of a passage: less lets nothing through, and its square is no number any more

Path = tuple[int, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """What runs through one piece: flow [m3/s], pressure before and after [Pa], water before and after [degC]."""

    path: Path
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


class _Water:
    """Properties of the water once for a solution."""

    def __init__(self, celsius: float) -> None:
        self.density = float(water_density_kg_m3(celsius))
        self.viscosity = float(water_viscosity_pa_s(celsius))


def _drop(piece: Piece, flow: float, water: _Water) -> float:
    """Pressure that a piece takes at a flow [Pa]; infinite where it is shut."""
    if flow <= 0:
        return 0.0
    if piece.branches:
        return _parallel_drop(piece, flow, water)
    if piece.open_part < SHUT:
        return math.inf
    velocity = velocity_mps(flow, piece.bore_m)
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
    return crossing(lambda q: _row_drop(row, q, water) - pressure, 0.0, high, within=1e-14)


def _parallel_drop(split: Piece, flow: float, water: _Water) -> float:
    """Drop of a split: the pressure at which its branches take the flow together."""

    def total(pressure: float) -> float:
        return sum(_flow_at(row, pressure, water) for row in split.branches)

    high = 10.0
    while total(high) < flow:
        high *= 4
        if high > 1e9:
            return math.inf
    return crossing(lambda p: total(p) - flow, 0.0, high, within=1e-6)


def pickup_pressure_pa(piece: Piece, speed_mps: float, wash_mps: float, density: float) -> float:
    """Pressure at a pickup at a speed [Pa]."""
    recovery = RECOVERY[piece.source] if piece.recovery is None else piece.recovery
    return ram_pressure_pa(wash_mps if piece.source in (Intake.WASH, Intake.JET) else speed_mps, density, recovery)


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
    reaches: list[_Reach] = []
    for number, line in enumerate(circuit.lines):
        wash = speed_mps if wash_mps is None else wash_mps
        pressure = pickup_pressure_pa(line.pieces[0], speed_mps, wash, water.density)
        _walk(line.pieces, (number,), _flow_at(line.pieces, pressure, water), pressure, water, reaches)
    return Solved(speed_mps=speed_mps, places=_Warmth(reaches, heat_w or {}, water_c, water).places())


@dataclass(frozen=True, slots=True, kw_only=True)
class _Reach:
    """A piece on its path with what runs through it."""

    path: Path
    piece: Piece
    flow_m3_s: float
    before_pa: float
    after_pa: float


def _walk(row: tuple[Piece, ...], path: Path, flow: float, pressure: float, water: _Water, out: list[_Reach]) -> None:
    """Pressure along a row, into ``out``."""
    for k, piece in enumerate(row):
        drop = _drop(piece, flow, water)
        shut = pressure if flow <= 0 and k == 0 else 0.0
        after = pressure - drop if math.isfinite(drop) and flow > 0 else shut
        out.append(_Reach(path=(*path, k), piece=piece, flow_m3_s=flow, before_pa=pressure, after_pa=after))
        for b, branch in enumerate(piece.branches):
            across = pressure if not piece.joins else drop if math.isfinite(drop) else 0.0
            inside = _flow_at(branch, across, water) if flow > 0 else 0.0
            _walk(branch, (*path, k, b), inside, pressure, water, out)
        pressure = after


class _Warmth:
    """Temperatures along every row; branches start with the water of their split and mix where they join."""

    def __init__(self, reaches: list[_Reach], heat_w: Mapping[PieceKind, float], water_c: float, water: _Water) -> None:
        self._reaches, self._water, self._water_c = reaches, water, water_c
        self._by_path = {r.path: r for r in reaches}
        self._after: dict[Path, float] = {}
        self._heat_w = self._shares(heat_w)

    def _shares(self, heat_w: Mapping[PieceKind, float]) -> dict[Path, float]:
        """Heat of each block [W]: what a kind gives off, shared by the flow through its blocks."""
        shares: dict[Path, float] = {}
        for kind, watts in heat_w.items():
            blocks = [r for r in self._reaches if r.piece.kind is kind and not r.piece.branches]
            total = sum(r.flow_m3_s for r in blocks)
            shares |= {r.path: watts * r.flow_m3_s / total if total > 0 else 0.0 for r in blocks}
        return shares

    def places(self) -> tuple[Place, ...]:
        """Every piece, in the order in which it was walked."""
        return tuple(
            Place(
                path=r.path,
                kind=PieceKind.Y if r.piece.branches else r.piece.kind,
                bore_m=r.piece.bore_m,
                flow_m3_s=r.flow_m3_s,
                before_pa=r.before_pa,
                after_pa=r.after_pa,
                before_c=self._before(r.path),
                after_c=self._warmed(r.path),
            )
            for r in self._reaches
        )

    def _before(self, path: Path) -> float:
        if path[-1] > 0:
            return self._warmed((*path[:-1], path[-1] - 1))
        return self._before(path[:-2]) if len(path) > 2 else self._water_c

    def _warmed(self, path: Path) -> float:
        if path not in self._after:
            r = self._by_path[path]
            self._after[path] = self._mixed(r) if r.piece.branches else self._before(path) + self._rise(r)
        return self._after[path]

    def _rise(self, r: _Reach) -> float:
        if r.flow_m3_s <= 0:
            return 0.0
        return self._heat_w.get(r.path, 0.0) / (r.flow_m3_s * self._water.density * WATER_J_KGK)

    def _mixed(self, r: _Reach) -> float:
        ends = [(*r.path, b, len(branch) - 1) for b, branch in enumerate(r.piece.branches)]
        total = sum(self._by_path[end].flow_m3_s for end in ends)
        if total <= 0:
            return self._before(r.path)
        return sum(self._warmed(end) * self._by_path[end].flow_m3_s for end in ends) / total
