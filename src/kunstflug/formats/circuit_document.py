"""The water circuit as JSON: lines of pieces, as typed in millimetres, and its solution."""

import math
from typing import Literal

from pydantic import Field

from kunstflug.core.cooling import Case, Circuit, Intake, Line, Piece, PieceKind, Solved, Stream
from kunstflug.formats.forecast_document import Out
from kunstflug.formats.setup_document import Strict


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
    version: Literal[1] = 1
    lines: list[list[PieceIn]] = Field(min_length=1, max_length=4)

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


def circuit_in(circuit: Circuit) -> CircuitIn:
    """Document of a circuit."""

    def one(p: Piece) -> PieceIn:
        return PieceIn(
            kind=p.kind,
            bore_mm=round(p.bore_m * 1e3, 4),
            length_mm=round(p.length_m * 1e3, 3),
            bends=p.bends,
            loss=p.loss,
            open_part=p.open_part,
            source=p.source,
            recovery=p.recovery,
            branches=[[one(x) for x in row] for row in p.branches],
            joins=p.joins,
        )

    return CircuitIn(lines=[[one(p) for p in line.pieces] for line in circuit.lines])


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
    words: str


class CaseOut(Out):
    """One case of the circuit at full speed, beside the present one."""

    key: str
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


def places_out(solved: Solved) -> list[PlaceOut]:
    """Every piece of a solution."""
    return [
        PlaceOut(
            path=list(p.path),
            kind=p.kind,
            flow_l_min=round(p.flow_m3_s * 6e4, 4),
            before_kpa=round(p.before_pa / 1e3, 3),
            after_kpa=round(p.after_pa / 1e3, 3),
            before_c=round(p.before_c, 2),
            after_c=round(p.after_c, 2),
        )
        for p in solved.places
    ]


def stream_out(speed_mps: float, s: Stream) -> StreamOut:
    """A stream at a speed."""
    return StreamOut(
        speed_mps=round(speed_mps, 2),
        flow_l_min=round(s.flow_m3_s * 6e4, 3),
        throw_m=round(s.throw_m, 3),
        words=s.words,
    )


def case_out(case: Case, solved: Solved, motor_c: float, controller_c: float, seen: str) -> CaseOut:
    """A case with what it does to the blocks."""

    def inlet(kind: PieceKind) -> float | None:
        value = solved.inlet_c(kind)
        return round(value, 1) if math.isfinite(value) else None

    return CaseOut(
        key=case.key,
        title=case.title,
        motor_l_min=round(solved.flow_of(PieceKind.MOTOR) * 6e4, 2),
        controller_l_min=round(solved.flow_of(PieceKind.CONTROLLER) * 6e4, 2),
        motor_inlet_c=inlet(PieceKind.MOTOR),
        controller_inlet_c=inlet(PieceKind.CONTROLLER),
        motor_c=round(motor_c, 1),
        controller_c=round(controller_c, 1),
        seen=seen,
        circuit=circuit_in(case.circuit),
    )
