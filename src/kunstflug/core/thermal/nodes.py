"""Thermal parameters of a setup: what gets hot, how slowly, and where the heat goes."""

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.drive.rows import Rows
from kunstflug.core.drive.values import ModelItself, known_of, known_with
from kunstflug.core.laws.heat import CELL_J_KGK, COPPER_J_KGK, STEEL_J_KGK, jacket_conductance_w_k, water_flow_kg_s
from kunstflug.core.parts import controller, hull, motor, pack
from kunstflug.core.parts.wiring import Plugs
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.last import of_the_last
from kunstflug.core.quantity.value import Array, Floats, Value, guess, known
from kunstflug.core.setup.knowledge import KnownNumbers
from kunstflug.core.setup.setup import Setup


class Node(StrEnum):
    """What gets hot. Magnets sit between case and winding, the transistors' junctions on the controller: both follow
    so quickly that they are no nodes of the network.
    """

    WINDING = "winding"
    CASE = "case"
    CONTROLLER = "controller"
    PACK = "pack"
    CONNECTOR = "connector"
    MAGNETS = "magnets"
    JUNCTION = "junction"


NODES: Final = (Node.WINDING, Node.CASE, Node.CONTROLLER, Node.PACK, Node.CONNECTOR)
"""Nodes of the network in the order of its arrays."""
HEAT_NODES: Final = (*NODES, Node.MAGNETS, Node.JUNCTION)
"""What is held against a ceiling."""


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatCapacityFrom(Fact):
    """A heat capacity from a part of a mass and a specific heat."""

    part: float
    j_kgk: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ConductanceFromCan(Fact):
    """A conductance scaled with the can's outside from that of a known can."""

    w_k: float
    diameter_m: float
    length_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ConductanceFromMass(Fact):
    """A conductance scaled with a part's surface from that of a known mass."""

    w_k: float
    mass_kg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PlugsAir(Fact):
    """What a plug and the ends of its wires give to the air."""

    plugs: Plugs


@dataclass(frozen=True, slots=True, kw_only=True)
class UsualLine(Fact):
    """A water line of a usual bore."""

    bore_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ClosedHull(Fact):
    """The air in a closed hull, of a length and beam."""

    length_m: float
    beam_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ThermalValues:
    """Capacities [J/K] and conductances [W/K] of the network; all guesses until a tub test or runs teach them."""

    winding_j_k: Value
    case_j_k: Value
    controller_j_k: Value
    pack_j_k: Value
    connector_j_k: Value
    winding_case_w_k: Value
    case_jacket_w_k: Value  # wall to water at 0.02 kg/s
    case_air_w_k: Value
    controller_jacket_w_k: Value
    controller_air_w_k: Value
    pack_air_w_k: Value
    connector_air_w_k: Value
    water_bore_m: Value
    junction_w_k: Value  # junctions to the controller's case
    inside_j_k: Value  # the air in the hull, with what of the parts' skin follows it
    inside_w_k: Value  # from there through deck and bottom
    charge_error: Value  # of the charge that a duty really takes over the computed one, when all else is known

    def __iter__(self) -> Iterator[tuple[str, Value]]:
        return ((name, getattr(self, name)) for name in NAMES)

    def rows(self, samples: int = 0, seed: int = 0, known: KnownNumbers | None = None) -> Rows:
        """The nominal values, then draws: a structured array of shape (1 + samples,).

        The same seed as the drive's draws: what runs taught of both is drawn together, all else apart.
        """
        rows = np.empty(1 + samples, ROW)
        z = even_deviates(len(NAMES), samples, seed + 1)
        learnt = known.draws(samples, seed) if known and samples else {}
        for k, (name, value) in enumerate(self):
            rows[name] = value.value
            if samples:
                rows[name][1:] *= np.exp(learnt.get(name, value.spread * z[k]))
        return rows


NAMES: Final = tuple(field.name for field in dataclasses.fields(ThermalValues))
ROW: Final = np.dtype([(name, np.float64) for name in NAMES])

# Common practice, no source, but for the specific heats.
CAN_M2: Final = math.pi * motor.ANCHOR_DIAMETER_M * motor.ANCHOR_LENGTH_M
COPPER_PART: Final = 0.20
CONTROLLER_J_KGK: Final = 700.0
CONNECTOR_J_K: Final = 6.0  # 15 g of brass and solder
WINDING_CASE_W_K: Final = 3.0
JACKET_W_K: Final = 2.4
OUTRUNNER_MOUNT: Final = 0.7  # of a jacket: its stator sits on the mount, which the water cools
OUTRUNNER_AIR: Final = 4.0  # a bell that turns throws the air about
CAN_AIR_W_K: Final = 0.12
PLATE_W_K: Final = 0.6  # with its contact; nobody measured one, hence the spread
CONTROLLER_AIR_W_K: Final = 0.15
CONTROLLER_KG: Final = 0.12
PACK_AIR_W_K: Final = 0.35
PACK_KG: Final = 0.5
PLUG_AIR_W_K: Final = {Plugs.SPACED: 0.10, Plugs.BUNDLED: 0.055}
LINE_BORE_M: Final = 4e-3
JUNCTION_W_K: Final = 3.0  # for a controller of ``CONTROLLER_KG``
SKIN_W_M2K: Final = 4.0  # air inside to deck and bottom, which wind and water keep cool
SKIN_PER_PLAN: Final = 2.2  # deck and bottom over length x beam
ROOM_PART: Final = 0.25  # height inside over beam, less what fills it
AIR_J_M3K: Final = 1206.0  # of air at 20 degC [coolprop]
CHARGE_ERROR: Final = 0.12  # starts from rest, what is driven between passes: each racer has a hand of their own
AIR_WITH_SKIN: Final = 3.0  # lids, tapes and wires follow the air


def _by_can(w_k: float, size: float, spread: float) -> Value:
    why = ConductanceFromCan(w_k=w_k, diameter_m=motor.ANCHOR_DIAMETER_M, length_m=motor.ANCHOR_LENGTH_M)
    return guess(w_k * size, spread, why)


def _by_mass(w_k: float, kg: float, of_kg: float, spread: float) -> Value:
    return guess(w_k * (kg / of_kg) ** 0.67, spread, ConductanceFromMass(w_k=w_k, mass_kg=of_kg))


def _capacity(kg: float, part: float, j_kgk: float, spread: float) -> Value:
    return guess(part * kg * j_kgk, spread, HeatCapacityFrom(part=part, j_kgk=j_kgk))


@of_the_last
def known_with_heat(setup: Setup) -> KnownNumbers | None:
    """What is known of a setup's numbers, those of its heat among them; None for a setup as bought."""
    club = setup.knowledge is not None and setup.knowledge.latents.club is not None
    return known_with(setup, as_bought(setup)) if club else known_of(setup)


@of_the_last
def thermal_values(setup: Setup) -> ThermalValues:
    """Parameters of a setup's network: what was learnt, and guesses for the rest."""
    bought, learnt = as_bought(setup), known_with_heat(setup)
    if learnt is None:
        return bought
    return ThermalValues(**{name: learnt.of(name, value) for name, value in bought})


@of_the_last
def as_bought(setup: Setup) -> ThermalValues:
    """Parameters before any run; common practice, no source, but for the specific heats."""
    motor_kg, pack_kg = motor.motor_mass(setup.motor).value, pack.pack_mass(setup.pack).value
    controller_kg = controller.controller_mass(setup.controller).value
    size = math.pi * setup.motor.can_diameter_m.value * setup.motor.can_length_m.value / CAN_M2
    outrunner = setup.motor.kind is motor.MotorKind.OUTRUNNER
    cooled, blown = (OUTRUNNER_MOUNT, OUTRUNNER_AIR) if outrunner else (1.0, 1.0)
    learnt, plugs = setup.learnt, setup.wiring.plugs
    long, width = setup.hull.length_m.value, hull.beam(setup.hull).value
    plan, closed = long * width, ClosedHull(length_m=long, beam_m=width)
    return ThermalValues(
        winding_j_k=_capacity(motor_kg, COPPER_PART, COPPER_J_KGK, 0.2),
        case_j_k=known(learnt.case_j_k, _capacity(motor_kg, 1 - COPPER_PART, STEEL_J_KGK, 0.15)),
        controller_j_k=_capacity(controller_kg, 1.0, CONTROLLER_J_KGK, 0.3),
        pack_j_k=_capacity(pack_kg, 1.0, CELL_J_KGK, 0.15),
        connector_j_k=guess(CONNECTOR_J_K, 0.3, PlugsAir(plugs=plugs)),
        winding_case_w_k=known(learnt.winding_case_w_k, _by_can(WINDING_CASE_W_K, size, 0.3)),
        case_jacket_w_k=_by_can(JACKET_W_K * cooled, size, 0.35),
        case_air_w_k=_by_can(CAN_AIR_W_K * blown, size, 0.3),
        controller_jacket_w_k=_by_mass(PLATE_W_K, controller_kg, CONTROLLER_KG, 0.75),
        controller_air_w_k=_by_mass(CONTROLLER_AIR_W_K, controller_kg, CONTROLLER_KG, 0.4),
        pack_air_w_k=_by_mass(PACK_AIR_W_K, pack_kg, PACK_KG, 0.3),
        connector_air_w_k=guess(PLUG_AIR_W_K[plugs], 0.35, PlugsAir(plugs=plugs)),
        water_bore_m=guess(LINE_BORE_M, 0.1, UsualLine(bore_m=LINE_BORE_M)),
        junction_w_k=_by_mass(JUNCTION_W_K, controller_kg, CONTROLLER_KG, 0.5),
        inside_j_k=guess(AIR_WITH_SKIN * AIR_J_M3K * ROOM_PART * plan * width, 0.3, closed),
        inside_w_k=guess(SKIN_W_M2K * SKIN_PER_PLAN * plan, 0.5, closed),
        charge_error=guess(1.0, CHARGE_ERROR, ModelItself()),
    )


STILL: Final = 0.12  # in a tub only the propeller's stir moves water (common practice, no source)
STILL_SPEED_MPS: Final = 12.0  # of which speed's conductance that is a part


def still_w_k(bore_m: Floats, wall_w_k: Floats) -> Floats:
    """What a block gives to the water of a boat that is held [W/K]: a part of what it gives at speed.

    Parameters
    ----------
    bore_m : of the water line [m].
    wall_w_k : wall to water at 0.02 kg/s [W/K].
    """
    return STILL * jacket_conductance_w_k(water_flow_kg_s(STILL_SPEED_MPS, bore_m), wall_w_k)


def followers_c(setup: Setup, temperature_c: Array, controller_w: Array, junction_w_k: Array) -> Array:
    """Temperatures of ``HEAT_NODES`` [degC]: the network's nodes, shape (..., 5), then magnets and junctions.

    Parameters
    ----------
    controller_w : what the controller loses [W], shape (...).
    junction_w_k : from its junctions to its case [W/K], broadcast with it.
    """
    winding, case = temperature_c[..., 0], temperature_c[..., 1]
    magnets = case + motor.magnet_lag(setup.motor) * (winding - case)
    junction = temperature_c[..., NODES.index(Node.CONTROLLER)] + controller_w / junction_w_k
    return np.concatenate([temperature_c, magnets[..., np.newaxis], junction[..., np.newaxis]], axis=-1)
