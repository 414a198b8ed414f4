"""What of a drive that was found lies on the shelf already, and what would have to be bought."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.choose.backward import Answer, Backward, FreePart, controller_serves
from kunstflug.core.drive.schools import Schools
from kunstflug.core.parts import pack, propeller
from kunstflug.core.parts.controller import Controller
from kunstflug.core.parts.motor import Motor, motor_mass
from kunstflug.core.parts.pack import Pack
from kunstflug.core.parts.propeller import Propeller
from kunstflug.core.quantity.fields import Part
from kunstflug.core.setup.setup import Setup

NEAR_KV: Final = 0.06  # printed KV is no better than half of this (common practice, no source)
NEAR_SIZE: Final = 0.025
LIGHTER: Final = 0.85  # a motor of this part of the mass asked for still does passes


class Need(StrEnum):
    """Where a part of a drive comes from."""

    KEPT = "kept"
    SHELF = "shelf"
    BUY = "buy"


@dataclass(frozen=True, slots=True, kw_only=True)
class StockPart:
    """A part that can be had: it lies on the shelf, or is for sale."""

    part: Part
    for_sale: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """One part of a drive: kept, from the shelf or to be bought; ``at`` is its place among those offered.

    What is to be bought and is none of them has no place.
    """

    kind: str
    need: Need
    at: int | None = None


def distance(part: Part, answer: Answer, schools: Schools) -> float:
    """How well a part serves a drive: the smaller the better, infinite where it does not serve at all.

    Only parts of one kind can be compared: a motor or a propeller by how far it is off, a controller by its
    rating (the smallest that will do), a pack by its capacity (the largest).

    Source: common practice, no source.
    """
    if isinstance(part, Motor):
        off = abs(math.log(part.kv_rpm_per_v.value / answer.kv_rpm_per_v))
        return off if off <= NEAR_KV and motor_mass(part).value >= LIGHTER * answer.motor_kg else math.inf
    if isinstance(part, Propeller):
        off = max(
            abs(math.log(part.diameter_m.value / answer.diameter_m)),
            abs(math.log(propeller.pitch_ratio(part) / answer.pitch_ratio)),
        )
        return off if off <= NEAR_SIZE else math.inf
    if isinstance(part, Pack):
        enough = (
            pack.series_cells(part) == answer.cells
            and pack.printed_current_a(part).value * schools.pack_trust >= answer.current_a
        )
        return -math.log(pack.usable_ah(part)) if enough else math.inf
    if isinstance(part, Controller):
        serves = controller_serves(part, answer.cells, answer.controller_class_a)
        return part.continuous_current_a.value if serves else math.inf
    return math.inf


def pieces(
    setup: Setup, answer: Answer, offers: dict[str, list[StockPart]], schools: Schools, locked: frozenset[FreePart]
) -> tuple[Piece, ...]:
    """The four parts of a drive's electric side, each kept, found on the shelf, or to be bought.

    Parameters
    ----------
    setup : today's; a part of it that serves is kept.
    offers : usable parts by kind, those on the shelf and those for sale.
    locked : what cannot be changed.
    """
    now: dict[str, tuple[bool, Part]] = {
        "motor": (FreePart.MOTOR not in answer.changed, setup.motor),
        "propeller": (FreePart.PROPELLER not in answer.changed, setup.propeller),
        # one that gives less than the drive draws is kept only where it has to be
        "pack": (FreePart.PACK in locked, setup.pack),
        "controller": (answer.controller_holds, setup.controller),
    }
    return tuple(
        Piece(kind=kind, need=Need.KEPT)
        if same or distance(part, answer, schools) < math.inf
        else _piece(kind, offers.get(kind, []), answer, schools)
        for kind, (same, part) in now.items()
    )


def _piece(kind: str, there: list[StockPart], answer: Answer, schools: Schools) -> Piece:
    """The nearest one that serves, one of the shelf before one for sale."""
    off = [(offer.for_sale, distance(offer.part, answer, schools)) for offer in there]
    serving = [one for one in off if one[1] < math.inf]
    if not serving:
        return Piece(kind=kind, need=Need.BUY)
    best = min(serving)
    return Piece(kind=kind, need=Need.BUY if best[0] else Need.SHELF, at=off.index(best))


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """A drive that was found, and where each of its parts comes from."""

    answer: Answer
    pieces: tuple[Piece, ...]

    def count(self, *needs: Need) -> int:
        """How many of its parts come from there [1]."""
        return sum(piece.need in needs for piece in self.pieces)


def ways(
    setup: Setup,
    found: Backward,
    offers: dict[str, list[StockPart]],
    schools: Schools,
    locked: frozenset[FreePart] = frozenset(),
) -> list[Way]:
    """The drives of an answer, the best first, each set of parts once.

    Where the wish can be had: what holds, the least to buy, the fewest other parts, the least power. Where it
    cannot: what holds, then the fastest.

    Parameters
    ----------
    offers : usable parts by kind.
    locked : what cannot be changed.
    """
    all_ways = [Way(answer=answer, pieces=pieces(setup, answer, offers, schools, locked)) for answer in found.answers]
    if any(answer.speed_mps >= found.wanted_mps for answer in found.answers):
        all_ways.sort(key=lambda w: (w.answer.use > 1.0, *_trouble(w)))
    else:
        all_ways.sort(key=lambda w: (w.answer.use > 1.0, -w.answer.speed_mps))
    once: dict[tuple[object, ...], Way] = {}
    for way in all_ways:
        once.setdefault(_parts_of(way), way)
    return list(once.values())


def _trouble(way: Way) -> tuple[int, int, float]:
    return way.count(Need.BUY), way.count(Need.BUY, Need.SHELF), way.answer.shaft_power_w


def _parts_of(way: Way) -> tuple[object, ...]:
    """What two drives share that come down to the same parts: what is bought counts as far as it can be told."""
    answer, same = way.answer, (way.answer.cells, *way.pieces)
    if not way.count(Need.BUY):
        return same
    return *same, *(round(v, 3) for v in (answer.kv_rpm_per_v, answer.diameter_m, answer.pitch_ratio))
