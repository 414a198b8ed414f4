"""What goes wrong with a circuit at the pond, and how else it could be laid."""

import dataclasses
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.cooling.circuit import Circuit, Intake, Line, Piece, PieceKind, no_water, usual_circuit

WARM_POND_C: Final = 28.0
WEED_OPEN: Final = 0.12  # an eighth of the opening: about half of the flow (common practice, no source)
KINK_OPEN: Final = 0.2


class CaseKey(StrEnum):
    """What may happen to a circuit."""

    NOW = "now"
    CAP = "cap"
    WEED = "weed"
    KINK = "kink"
    WARM = "warm"
    CONTROLLER_FIRST = "controller_first"
    MOTOR_FIRST = "motor_first"
    TWO_LINES = "two_lines"
    ONE_LINE = "one_line"
    BY_JET = "by_jet"
    NO_WATER = "no_water"
    USUAL = "usual"


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """One thing that happens to a circuit, with the water's temperature [degC]."""

    key: CaseKey
    circuit: Circuit
    water_c: float


def _first(circuit: Circuit, kind: PieceKind, **changes: float | Intake) -> Circuit:
    """The circuit with one change on the first piece of a kind in each line."""
    lines = []
    for line in circuit.lines:
        pieces, done = [], False
        for piece in line.pieces:
            if piece.kind is kind and not piece.branches and not done:
                piece = dataclasses.replace(piece, **changes)  # type: ignore[arg-type]  # fields of the piece
                done = True
            pieces.append(piece)
        lines.append(Line(pieces=tuple(pieces)))
    return Circuit(lines=tuple(lines))


def cases(circuit: Circuit, water_c: float, *, jet: bool = False) -> tuple[Case, ...]:
    """What goes wrong at the pond, and what might be done instead.

    Parameters
    ----------
    jet : whether the boat has a water-jet, from which its cooling water can be taken.
    """
    if not cools(circuit):
        line = _first(usual_circuit(), PieceKind.PICKUP, source=Intake.JET if jet else Intake.RUDDER)
        dry = Case(key=CaseKey.NOW, circuit=circuit, water_c=water_c)
        return (dry, Case(key=CaseKey.BY_JET if jet else CaseKey.USUAL, circuit=line, water_c=water_c))
    return (*_with_water(circuit, water_c, jet=jet), Case(key=CaseKey.NO_WATER, circuit=no_water(), water_c=water_c))


def _with_water(circuit: Circuit, water_c: float, *, jet: bool) -> tuple[Case, ...]:
    found = [
        (CaseKey.NOW, circuit, water_c),
        (CaseKey.CAP, _first(circuit, PieceKind.PICKUP, open_part=0.0), water_c),
        (CaseKey.WEED, _first(circuit, PieceKind.PICKUP, open_part=WEED_OPEN), water_c),
        (CaseKey.KINK, _first(circuit, PieceKind.HOSE, open_part=KINK_OPEN), water_c),
        (CaseKey.WARM, circuit, WARM_POND_C),
    ]
    swapped, two, one = swap_order(circuit), two_lines(circuit), one_line(circuit)
    if swapped is not None:
        controller = _blocks(swapped)[0] is PieceKind.CONTROLLER
        found.append((CaseKey.CONTROLLER_FIRST if controller else CaseKey.MOTOR_FIRST, swapped, water_c))
    if two is not None:
        found.append((CaseKey.TWO_LINES, two, water_c))
    if one is not None:
        found.append((CaseKey.ONE_LINE, one, water_c))
    sources = {line.pieces[0].source for line in circuit.lines}
    if jet and sources != {Intake.JET}:
        found.append((CaseKey.BY_JET, _first(circuit, PieceKind.PICKUP, source=Intake.JET), water_c))
    return tuple(Case(key=key, circuit=changed, water_c=celsius) for key, changed, celsius in found)


def _blocks(circuit: Circuit) -> list[PieceKind]:
    kinds = (PieceKind.MOTOR, PieceKind.CONTROLLER)
    return [p.kind for line in circuit.lines for p in line.pieces if p.kind in kinds]


def cools(circuit: Circuit) -> bool:
    """Whether its water goes through any block."""
    return bool(_blocks(circuit))


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
