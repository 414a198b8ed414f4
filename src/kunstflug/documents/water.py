"""The water circuit as JSON: lines of pieces, as typed in millimetres, and its solution."""

from typing import Any, Literal

import numpy as np
from pydantic import Field, model_validator

from kunstflug.core.cooling.circuit import Circuit, Intake, Line, Piece, PieceKind
from kunstflug.core.cooling.solve import Solved
from kunstflug.core.cooling.stream import Stream, StreamLook
from kunstflug.core.cooling.whatif import CaseKey, cools
from kunstflug.core.thermal.boat_water import WALKING_MPS, BoatWater, CaseResult
from kunstflug.documents.base import Out, Strict
from kunstflug.documents.heat import finite
from kunstflug.documents.versions import CIRCUIT_VERSION, circuit_today
from kunstflug.wording import Tongue, heat

L_MIN = 6e4


class PieceIn(Strict):
    """One piece of a line; branches make it a split."""

    kind: PieceKind
    bore_mm: float = Field(default=4.0, gt=0, le=20)
    length_mm: float = Field(default=0.0, ge=0, le=5000)
    bends: int = Field(default=0, ge=0, le=20)
    loss: float | None = Field(default=None, ge=0, le=1000)
    open_part: float = Field(default=1.0, ge=0, le=1)
    source: Intake = Intake.RUDDER
    recovery: float | None = Field(default=None, ge=0, le=1)
    branches: list[list["PieceIn"]] = Field(default_factory=list, max_length=4)
    joins: bool = True


class CircuitIn(Strict):
    """All lines of a boat's cooling water."""

    format: Literal["kunstflug-circuit"] = "kunstflug-circuit"
    version: Literal[2] = CIRCUIT_VERSION
    lines: list[list[PieceIn]] = Field(min_length=1, max_length=4)

    @model_validator(mode="before")
    @classmethod
    def _today(cls, raw: Any) -> Any:
        return circuit_today(raw)

    def core(self) -> Circuit:
        """The core's circuit."""
        return Circuit(lines=tuple(Line(pieces=tuple(_piece(p) for p in line)) for line in self.lines))


def _piece(p: PieceIn) -> Piece:
    return Piece(
        kind=p.kind,
        bore_m=p.bore_mm * 1e-3,
        length_m=p.length_mm * 1e-3,
        bends=p.bends,
        loss=p.loss,
        open_part=p.open_part,
        source=p.source,
        recovery=p.recovery,
        branches=tuple(tuple(_piece(x) for x in row) for row in p.branches),
        joins=p.joins,
    )


def _piece_in(p: Piece) -> PieceIn:
    return PieceIn(
        kind=p.kind,
        bore_mm=round(p.bore_m * 1e3, 4),
        length_mm=round(p.length_m * 1e3, 3),
        bends=p.bends,
        loss=p.loss,
        open_part=p.open_part,
        source=p.source,
        recovery=p.recovery,
        branches=[[_piece_in(x) for x in row] for row in p.branches],
        joins=p.joins,
    )


def circuit_in(circuit: Circuit) -> CircuitIn:
    """Document of a circuit."""
    return CircuitIn(lines=[[_piece_in(p) for p in line.pieces] for line in circuit.lines])


class PlaceOut(Out):
    """What runs through one piece."""

    path: list[int]
    kind: PieceKind
    flow_l_min: float
    before_kpa: float
    after_kpa: float
    before_c: float
    after_c: float


class StreamOut(Out):
    """What the driver sees at the outlet."""

    speed_mps: float
    flow_l_min: float
    throw_m: float
    seen: StreamLook
    words: str


class CaseOut(Out):
    """One case of the circuit at full speed, beside the present one."""

    key: CaseKey
    title: str
    motor_l_min: float
    controller_l_min: float
    motor_inlet_c: float | None
    controller_inlet_c: float | None
    motor_c: float = Field(description="peak of the motor's case through the duty")
    controller_c: float
    seen: str
    circuit: CircuitIn


class SolvedOut(Out):
    """A circuit solved over speed."""

    circuit: CircuitIn
    full_mps: float
    places: list[PlaceOut] = Field(description="at full speed")
    speed_mps: list[float]
    motor_l_min: list[float]
    controller_l_min: list[float]
    walking: StreamOut
    full: StreamOut
    jacket_w_k: float | None = Field(
        description="a smooth gap round the can at full speed; null: no jacket is measured"
    )
    cases: list[CaseOut]
    caution: str


def _places(solved: Solved) -> list[PlaceOut]:
    return [
        PlaceOut(
            path=list(p.path),
            kind=p.kind,
            flow_l_min=round(p.flow_m3_s * L_MIN, 4),
            before_kpa=round(p.before_pa / 1e3, 3),
            after_kpa=round(p.after_pa / 1e3, 3),
            before_c=round(p.before_c, 2),
            after_c=round(p.after_c, 2),
        )
        for p in solved.places
    ]


def _stream(speed_mps: float, s: Stream, tongue: Tongue) -> StreamOut:
    return StreamOut(
        speed_mps=round(speed_mps, 2),
        flow_l_min=round(s.flow_m3_s * L_MIN, 3),
        throw_m=round(s.throw_m, 3),
        seen=s.seen,
        words=heat.stream(s, tongue),
    )


def _case(c: CaseResult, tongue: Tongue) -> CaseOut:
    return CaseOut(
        key=c.case.key,
        title=heat.case(c.case, tongue),
        motor_l_min=round(c.solved.flow_of(PieceKind.MOTOR) * L_MIN, 2),
        controller_l_min=round(c.solved.flow_of(PieceKind.CONTROLLER) * L_MIN, 2),
        motor_inlet_c=finite(c.solved.inlet_c(PieceKind.MOTOR), 1),
        controller_inlet_c=finite(c.solved.inlet_c(PieceKind.CONTROLLER), 1),
        motor_c=round(c.motor_c, 1),
        controller_c=round(c.controller_c, 1),
        seen=heat.stream(c.stream, tongue) if cools(c.case.circuit) else heat.DRY,
        circuit=circuit_in(c.case.circuit),
    )


def solved_out(drawn: CircuitIn, found: BoatWater, tongue: Tongue) -> SolvedOut:
    """Document of a circuit in a boat."""
    return SolvedOut(
        circuit=drawn,
        full_mps=round(found.full_mps, 3),
        places=_places(found.at_full),
        speed_mps=np.round(found.speed_mps, 3).tolist(),
        motor_l_min=np.round(found.motor_m3_s * L_MIN, 3).tolist(),
        controller_l_min=np.round(found.controller_m3_s * L_MIN, 3).tolist(),
        walking=_stream(WALKING_MPS, found.walking, tongue),
        full=_stream(found.full_mps, found.full, tongue),
        jacket_w_k=finite(found.jacket_w_k, 2),
        cases=[_case(c, tongue) for c in found.cases],
        caution=heat.CAUTION,
    )
