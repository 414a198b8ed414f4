"""From a wanted speed back to the drive it takes: what to buy, what lies on the shelf, what Match will say of it."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, Final

from kunstflug.core.choose.backward import Answer, OnlyPastLimit, Wish, backward
from kunstflug.core.choose.class_rules import Breach, Raced, broken, new_in, sound_of
from kunstflug.core.choose.sold import next_class_a
from kunstflug.core.choose.steps import REACH, Trial, trial
from kunstflug.core.choose.stock import Need, Piece, StockPart, Way, ways
from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.limits import LimitKey
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import ORDER, Verdict
from kunstflug.core.parts.motor import can_length_for_m
from kunstflug.core.parts.placement import WALL_BEHIND_M
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.nodes import Node
from kunstflug.documents.plan import BackwardOut, ChangeOut, PieceOut, backward_out, noise_out
from kunstflug.documents.quantity import Quantity, quantity_of
from kunstflug.documents.setup import SetupDocument, part_in, part_of, setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.shared.changes import SWAPPED, Change, change_document
from kunstflug.services.shared.stock import ShelfPart, shelf_parts
from kunstflug.services.shared.water import cooling_of
from kunstflug.store.database import Store
from kunstflug.wording import METRIC, Tongue, say
from kunstflug.wording.choose import breaks

NEAR: Final = 0.98
"""Part of a wanted speed with which it counts as reached."""
MOST_C: Final = 100.0


@dataclass(frozen=True, slots=True, kw_only=True)
class MadeAnswer:
    """An answer as the boat that it makes: its changes, what Match says of it, and the gravest danger."""

    way: Way
    changes: tuple[ChangeOut, ...]
    setup: Setup
    then: Trial
    danger: Fact | None
    broken: tuple[Breach, ...]

    def reaches(self, wanted_mps: float) -> bool:
        """Whether it reaches a speed by its own forecast."""
        return self.then.speed_mps >= NEAR * wanted_mps

    def place(self, wanted_mps: float) -> tuple[float, ...]:
        """What is allowed, reaches, holds and is not dangerous first; then the least to buy and to change."""
        way, reaches = self.way, self.reaches(wanted_mps)
        if not reaches:
            return bool(self.broken), True, not self.then.holds, -self.then.speed_mps
        less = ORDER.index(self.then.verdict), way.count(Need.BUY), way.count(Need.BUY, Need.SHELF)
        return bool(self.broken), False, bool(self.danger), *less, way.answer.shaft_power_w


def wish(
    store: Store,
    document: SetupDocument,
    wanted: Wish,
    duty: Duty,
    schools: Schools,
    known: Knowledge | None,
    circuit: CircuitIn | None = None,
    tongue: Tongue = METRIC,
    raced: Raced | None = None,
) -> BackwardOut:
    """Drives for this hull that reach a wanted speed, each made, weighed and forecast in full: the least to buy first.

    What the boat's class does not allow comes last, and says so.
    """
    setup = setup_of(document, known)
    found = backward(setup, wanted, schools)
    there: dict[str, list[ShelfPart]] = {}
    for part in shelf_parts(store):
        if part.kind in SWAPPED and part.usable:
            there.setdefault(part.kind, []).append(part)
    offers = {
        kind: [StockPart(part=part_of(kind, one.document), for_sale=one.for_sale) for one in parts]
        for kind, parts in there.items()
    }
    sound_w = sound_of(setup, forecast(setup, 0, schools).point)
    now = broken(raced, setup, sound_w) if raced else ()
    water = cooling_of(setup, circuit, REACH)
    bench = _Bench(
        document=document, setup=setup, known=known, duty=duty, schools=schools, water=water, raced=raced, already=now,
        now=trial(setup, duty, schools, water), there=there,
    )  # fmt: skip
    every = (bench.made(way) for way in ways(setup, found, offers, schools, wanted.locked))
    made = [one for one in every if one is not None]
    made.sort(key=lambda one: one.place(wanted.speed_mps))
    reached = [one for one in made if one.reaches(wanted.speed_mps)]
    reason = found.reason
    if any(one.then.holds for one in reached):
        reason = None
    elif found.possible:
        best = min(reached or made, key=lambda one: max(one.then.at_risk), default=None)
        reason = None if best is None else _past(best.then)
    rows = [
        (
            one.way.answer,
            [_piece(piece, there) for piece in one.way.pieces],
            breaks(one.broken, tongue),
            list(one.changes),
            "" if one.danger is None else say(one.danger, tongue),
            one.then.chance,
            one.then.speed_mps - bench.now.speed_mps,
        )
        for one in reached or made
    ]
    noise = noise_out(raced, sound_w) if raced else None
    return backward_out(replace(found, reason=reason), rows, breaks(now, tongue), tongue, noise)


MOTOR_HEAT: Final = frozenset({Node.CASE, Node.WINDING, Node.MAGNETS, LimitKey.MOTOR_POWER, LimitKey.MOTOR_CURRENT})
CONTROLLER_LOAD: Final = frozenset({Node.CONTROLLER, Node.JUNCTION, LimitKey.CONTROLLER_CURRENT})
PACK_LOAD: Final = frozenset({Node.PACK, LimitKey.PACK_CURRENT, LimitKey.CELL_VOLTAGE})
WIRE_LOAD: Final = frozenset({Node.CONNECTOR, LimitKey.WIRE_CURRENT})
MOST_SIZES: Final = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class _Bench:
    """A boat that answers are made on."""

    document: SetupDocument
    setup: Setup
    known: Knowledge | None
    duty: Duty
    schools: Schools
    water: CoolingTable | None
    raced: Raced | None
    already: tuple[Breach, ...]
    now: Trial
    there: dict[str, list[ShelfPart]]

    def made(self, way: Way) -> MadeAnswer | None:
        """An answer made, what is to be bought in the size that the duty allows; None where it cannot be made."""
        found = self._tried(way)
        for _ in range(MOST_SIZES):
            if found is None or found.then.holds:
                break
            larger = _larger(found.way, found.then.tightest)
            tried = None if larger is None else self._tried(larger)
            if tried is None or (tried.then.over >= found.then.over and tried.then.tightest is found.then.tightest):
                break
            found = tried
        return found

    def _tried(self, way: Way) -> MadeAnswer | None:
        changes = tuple(_changes(self.document, self.setup, way, self.there))
        asked = [Change(path=c.path, value=c.value) for c in changes]
        try:
            boat = setup_of(change_document(self.document, asked).document, self.known)
        except (InvalidValue, InvalidDocument):
            return None
        then = trial(boat, self.duty, self.schools, self.water, self.now)
        if then.walled or then.verdict is Verdict.NONE:
            return None
        beyond = new_in(broken(self.raced, boat, then.sound_w), self.already) if self.raced else ()
        danger = _danger(boat, self.schools)
        return MadeAnswer(
            way=_judged(way, boat, then), changes=changes, setup=boat, then=then, danger=danger, broken=beyond
        )


def _larger(way: Way, tightest: LimitKey | Node) -> Way | None:
    """The answer with the part one size larger that its tightest limit is of; None where that is not bought."""
    bought = {piece.kind for piece in way.pieces if piece.need is Need.BUY and piece.at is None}
    answer = way.answer
    if tightest in MOTOR_HEAT and "motor" in bought:
        return replace(way, answer=replace(answer, motor_kg=1.3 * answer.motor_kg))
    if tightest in CONTROLLER_LOAD and "controller" in bought:
        return replace(way, answer=replace(answer, controller_class_a=next_class_a(answer.controller_class_a)))
    if tightest in PACK_LOAD and "pack" in bought:
        return replace(way, answer=replace(answer, pack_c=1.25 * answer.pack_c))
    if tightest in WIRE_LOAD and bought & {"pack", "controller"} and answer.wire_awg > 2:
        return replace(way, answer=replace(answer, wire_awg=answer.wire_awg - 2))
    return None


def _judged(way: Way, boat: Setup, then: Trial) -> Way:
    """The answer with the numbers of the boat that it makes."""
    judged = replace(
        way.answer,
        speed_mps=then.speed_mps,
        current_a=then.current_a,
        use=max(then.at_risk),
        tightest=then.tightest,
        verdict=Verdict.STOP if then.burns else then.verdict,
        run_s=then.run_s,
        motor_room_m=can_length_for_m(way.answer.motor_kg, boat.motor.can_diameter_m.value) + WALL_BEHIND_M,
        boat_kg=boat.all_up_mass_kg.value,
    )
    return replace(way, answer=judged)


def _past(then: Trial) -> OnlyPastLimit:
    return OnlyPastLimit(use=max(then.at_risk), key=then.tightest, chance=then.chance)


def _danger(setup: Setup, schools: Schools) -> Fact | None:
    """The gravest danger past which a boat is to be stopped; None for none."""
    f = forecast(setup, 0, schools)
    found = [one for one in dangers_of(setup, f.point, f.curves) if one.verdict is Verdict.STOP]
    return found[0].finding if found else None


def _changes(document: SetupDocument, setup: Setup, way: Way, there: dict[str, list[ShelfPart]]) -> Iterator[ChangeOut]:
    """What makes today's boat the answer: parts of the shelf as they lie, and what is bought as a whole new part."""
    answer, wire = way.answer, False
    for piece in way.pieces:
        if piece.at is not None:
            yield ChangeOut(path=piece.kind, value=there[piece.kind][piece.at].raw)
        elif piece.need is Need.BUY:
            yield ChangeOut(path=piece.kind, value=_bought(document, setup, piece.kind, answer))
        wire = wire or (piece.need is Need.BUY and piece.kind in ("controller", "pack"))
    gauge = setup.wiring.gauge_awg
    if wire and (gauge is None or gauge > answer.wire_awg):
        yield ChangeOut(path="wiring.gauge_awg", value=answer.wire_awg)


def _bought(document: SetupDocument, setup: Setup, kind: str, answer: Answer) -> dict[str, object]:
    """A part of which only is known what the answer takes; what it is made like stays."""
    match kind:
        case "motor":
            can_mm = setup.motor.can_diameter_m.value * 1e3
            length_mm = can_length_for_m(answer.motor_kg, setup.motor.can_diameter_m.value) * 1e3
            return {
                "kind": setup.motor.kind.value,
                "kv": _typed(answer.kv_rpm_per_v, "rpm/V"),
                "can_diameter": _typed(can_mm, "mm"),
                "can_length": _typed(math.ceil(length_mm), "mm"),
                "mass": _typed(math.ceil(answer.motor_kg * 1e3), "g"),
            }
        case "propeller":
            return {
                "diameter": _like(part_in(document, "propeller"), answer.diameter_m),
                "pitch_ratio": _typed(round(answer.pitch_ratio, 2), "1"),
                "blades": setup.propeller.blades,
            }
        case "pack":
            return {
                "cells": answer.cells,
                "capacity": _typed(setup.pack.capacity_ah.value * setup.pack.parallel, "Ah"),
                "c_rating": _typed(min(max(math.ceil(answer.pack_c / 5.0) * 5.0, 20.0), MOST_C), "1"),
            }
    return {"continuous_current": _typed(answer.controller_class_a, "A"), "max_cells": answer.cells}


def _like(wheel: Any, metres: float) -> dict[str, object]:
    """A diameter in the unit that today's was typed in."""
    today: Quantity = wheel.diameter
    return _typed(quantity_of(Value(value=metres), today.unit, Dimension.LENGTH).value, today.unit)


def _typed(value: float, unit: str) -> dict[str, object]:
    return {"value": float(f"{value:.5g}"), "unit": unit, "source": "typed"}


def _piece(piece: Piece, there: dict[str, list[ShelfPart]]) -> PieceOut:
    part = there[piece.kind][piece.at] if piece.at is not None else None
    if part is None:
        return PieceOut(kind=piece.kind, need=piece.need, name="", shelf_id=None, price=None)
    price = part.price if part.for_sale else 0.0
    return PieceOut(kind=piece.kind, need=piece.need, name=part.name, shelf_id=part.id, price=price)
