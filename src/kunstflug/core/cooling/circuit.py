"""Pieces of a water circuit: pickups, hoses, blocks, Y pieces and outlets, in series and parallel.

A line is a row of pieces from a pickup to an outlet; a piece may be a split into branches that join again, or, at the
end, leave through outlets of their own.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, AtMost, Between, Fact, NumberBetween
from kunstflug.core.quantity.units import Dimension


class PieceKind(StrEnum):
    """Kinds of pieces."""

    PICKUP = "pickup"
    HOSE = "hose"
    MOTOR = "motor"
    CONTROLLER = "controller"
    Y = "y"
    OUTLET = "outlet"


class Intake(StrEnum):
    """Where a pickup stands."""

    RUDDER = "rudder"
    BOTTOM = "bottom"
    WASH = "wash"
    JET = "jet"  # in a water-jet's own pressure, ahead of its nozzle


RECOVERY: Final = {Intake.RUDDER: 0.80, Intake.BOTTOM: 0.65, Intake.WASH: 0.45, Intake.JET: 0.90}
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


MOST_PIECES: Final = 60
BORE_M: Final = (0.5e-3, 20e-3)
LENGTH_M: Final = (0.0, 5.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class BeginsWithPickup(Fact):
    """A line begins with a pickup."""


@dataclass(frozen=True, slots=True, kw_only=True)
class EndsInOutlet(Fact):
    """A line ends in an outlet."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TwoBranches(Fact):
    """A split has two branches or more."""


@dataclass(frozen=True, slots=True, kw_only=True)
class OneLine(Fact):
    """A circuit has one line or more."""


def check(circuit: Circuit) -> None:
    """Refuses what is no circuit.

    Raises
    ------
    InvalidValue : a line without pickup or outlet, a size out of range, or more than 60 pieces.
    """
    if not circuit.lines:
        raise InvalidValue("circuit.lines", 0, OneLine())
    count = 0
    for number, line in enumerate(circuit.lines, 1):
        where, pieces = f"circuit.lines.{number}", line.pieces
        if not pieces or pieces[0].kind is not PieceKind.PICKUP:
            raise InvalidValue(where, pieces[0].kind if pieces else 0, BeginsWithPickup())
        if not _ends_open(pieces):
            raise InvalidValue(where, pieces[-1].kind, EndsInOutlet())
        count += _checked(pieces, where)
    if count > MOST_PIECES:
        raise InvalidValue("circuit", count, AtMost(most=MOST_PIECES))


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
                raise InvalidValue(where, len(piece.branches), TwoBranches())
            count += sum(_checked(branch, where) for branch in piece.branches)
            continue
        for name, value, (low, high) in (("bore", piece.bore_m, BORE_M), ("length", piece.length_m, LENGTH_M)):
            if not low <= value <= high:
                given = Amount(value=value, dimension=Dimension.LENGTH, unit="mm")
                allowed = Between(low=low, high=high, dimension=Dimension.LENGTH, unit="mm")
                raise InvalidValue(f"{where}.{piece.kind}.{name}", given, allowed)
        if not 0 <= piece.open_part <= 1:
            allowed_part = NumberBetween(low=0.0, high=1.0)
            raise InvalidValue(f"{where}.{piece.kind}.open_part", piece.open_part, allowed_part)
    return count


def usual_circuit() -> Circuit:
    """One line, motor first, 4 mm throughout: where nobody drew one."""
    return _row(Piece(kind=PieceKind.PICKUP), PieceKind.MOTOR, PieceKind.CONTROLLER)


def no_water() -> Circuit:
    """A pickup that is shut and no block behind it: the boat is cooled by air alone."""
    return _row(Piece(kind=PieceKind.PICKUP, open_part=0.0))


def _row(pickup: Piece, *blocks: PieceKind) -> Circuit:
    hose = Piece(kind=PieceKind.HOSE, length_m=0.25, bends=1)
    pieces = [pickup, hose]
    for kind in (*blocks, PieceKind.OUTLET):
        pieces += [Piece(kind=kind), hose]
    return Circuit(lines=(Line(pieces=tuple(pieces[:-1])),))
