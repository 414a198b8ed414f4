"""Plan: heat through a duty, the sweep map, backward from a wish."""

from typing import Final

import numpy as np

from kunstflug.core.choose.backward import Answer, Wish, backward
from kunstflug.core.choose.class_rules import Breach, Raced, broken, broken_by, new_in, sound_of
from kunstflug.core.choose.fronts import best_of_steps, easy_front, lasting_front
from kunstflug.core.choose.stock import Piece, ways
from kunstflug.core.choose.sweep import ranges_about, sweep
from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.forecast import doubts_of_uses, forecast
from kunstflug.core.drive.schools import Schools
from kunstflug.core.laws.sound import sound_power_w
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.boat_water import boat_cooling
from kunstflug.core.thermal.charging import charge_back
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.heat_forecast import heat_forecast
from kunstflug.core.thermal.launch import launch_of
from kunstflug.documents.heat import HeatOut, heat_out
from kunstflug.documents.plan import BackwardOut, MapOut, PieceOut, backward_out, map_out, noise_out
from kunstflug.documents.setup import SetupDocument, part_of, setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.parts import ShelfPart, shelf_parts
from kunstflug.store.database import Store
from kunstflug.wording import METRIC, Tongue, say

SWAPPED: Final = ("motor", "controller", "propeller", "pack")
MAP_KV: Final = 30
MAP_DIAMETER: Final = 26


def cooling_of(setup: Setup, drawn: CircuitIn | None, reach: float = 1.0) -> CoolingTable | None:
    """What a drawn circuit gives the blocks of a boat; None for none drawn.

    Parameters
    ----------
    reach : how far past the top speed the table goes [1], where faster drives are to be cooled by it.
    """
    if drawn is None:
        return None
    return boat_cooling(setup, drawn.core(), forecast(setup, 0).point, reach)


def heat(
    document: SetupDocument,
    duty: Duty,
    schools: Schools,
    known: Knowledge | None,
    circuit: CircuitIn | None = None,
    tongue: Tongue = METRIC,
    pond_m: float | None = None,
) -> HeatOut:
    """Temperatures of a setup through a duty, with the boat's own water where it is drawn; and its way to speed."""
    setup = setup_of(document, known)
    found = heat_forecast(setup, duty, schools, cooling=cooling_of(setup, circuit))
    launch = launch_of(setup, duty.full_s, pond_m)
    return heat_out(found, charge_back(setup, found.used_ah), launch, schools, tongue)


def sweep_map(document: SetupDocument, schools: Schools, known: Knowledge | None) -> MapOut:
    """KV x diameter about a setup, with the front of speed against the tightest margin."""
    setup = setup_of(document, known)
    kv, diameter = setup.motor.kv_rpm_per_v.value, setup.propeller.diameter_m.value
    windings, sizes = np.linspace(0.5, 1.7, MAP_KV) * kv, np.linspace(0.7, 1.5, MAP_DIAMETER) * diameter
    found = sweep(
        setup, ranges_about(setup, kv=windings, diameter=sizes), schools, doubts=doubts_of_uses(setup, schools)
    )
    lasting = lasting_front(found.speed_mps, found.run_s, found.verdict)
    easy = best_of_steps(easy_front(found.speed_mps, found.use, found.verdict), found.speed_mps, -found.use)
    return map_out(found, easy, best_of_steps(lasting, found.speed_mps, found.run_s))


def wish(
    store: Store,
    document: SetupDocument,
    wanted: Wish,
    schools: Schools,
    known: Knowledge | None,
    tongue: Tongue = METRIC,
    raced: Raced | None = None,
) -> BackwardOut:
    """Drives for this hull that reach a wanted speed: the least to buy first, then the least to change.

    What the boat's class does not allow comes last, and says so.
    """
    setup = setup_of(document, known)
    found = backward(setup, wanted, schools)
    there: dict[str, list[ShelfPart]] = {}
    for part in shelf_parts(store):
        if part.kind in SWAPPED and part.usable:
            there.setdefault(part.kind, []).append(part)
    cores = {kind: [part_of(kind, one.document) for one in parts] for kind, parts in there.items()}
    sound_w = sound_of(setup, forecast(setup, 0, schools).point)
    now = broken(raced, setup, sound_w) if raced else ()
    rows = [
        (way.answer, [_piece(one, there) for one in way.pieces], _beyond(setup, way.answer, raced, now, tongue))
        for way in ways(setup, found, cores, schools, wanted.locked)
    ]
    rows.sort(key=lambda row: bool(row[2]))
    return backward_out(found, rows, breaks(now, tongue), tongue, noise_out(raced, sound_w) if raced else None)


def breaks(found: tuple[Breach, ...], tongue: Tongue) -> str:
    """What a class does not allow, in words."""
    return "; ".join(say(one, tongue) for one in found)


def _beyond(setup: Setup, answer: Answer, raced: Raced | None, already: tuple[Breach, ...], tongue: Tongue) -> str:
    """What a class does not allow of a drive for this hull."""
    if raced is None:
        return ""
    sound_w = sound_power_w(answer.shaft_power_w, answer.rpm, answer.diameter_m)
    length = setup.hull.length_m.value
    found = broken_by(raced, cells=answer.cells, mass_kg=answer.boat_kg, length_m=length, sound_w=sound_w)
    return breaks(new_in(found, already), tongue)


def _piece(piece: Piece, there: dict[str, list[ShelfPart]]) -> PieceOut:
    part = there[piece.kind][piece.at] if piece.at is not None else None
    return PieceOut(
        kind=piece.kind,
        need=piece.need,
        name=part.name if part else "",
        shelf_id=part.id if part else None,
        value=part.raw if part else None,
    )
