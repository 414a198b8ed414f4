"""Thermal parameters of a setup: what gets hot, how slowly, and where the heat goes."""

import dataclasses
from dataclasses import dataclass

import numpy as np

from kunstflug.core import heat, motor, pack
from kunstflug.core.controller import Controller
from kunstflug.core.drive.draws import even_deviates
from kunstflug.core.drive.setup import Setup
from kunstflug.core.values import Floats, Value, guess, known
from kunstflug.core.wiring import Plugs

NODES = ("winding", "case", "controller", "pack", "connector")


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

    def sampled(self, count: int, seed: int) -> "ThermalNumbers":
        """The nominal values first, then ``count`` draws: arrays of shape (1 + count,)."""
        fields = dataclasses.fields(self)
        z = even_deviates(len(fields), count, seed)
        columns = {}
        for k, field in enumerate(fields):
            value: Value = getattr(self, field.name)
            columns[field.name] = np.append(value.value, value.value * np.exp(value.spread * z[k]))
        return ThermalNumbers(**columns)


@dataclass(frozen=True, slots=True, kw_only=True)
class ThermalNumbers:
    """The same fields as :class:`ThermalValues` as arrays."""

    winding_j_k: Floats
    case_j_k: Floats
    controller_j_k: Floats
    pack_j_k: Floats
    connector_j_k: Floats
    winding_case_w_k: Floats
    case_jacket_w_k: Floats
    case_air_w_k: Floats
    controller_jacket_w_k: Floats
    controller_air_w_k: Floats
    pack_air_w_k: Floats
    connector_air_w_k: Floats
    water_bore_m: Floats


def controller_mass(controller: Controller) -> Value:
    """Mass of a controller [kg]: 0.95 g an ampere of rating (common practice, no source)."""
    kg = 0.95e-3 * controller.continuous_current_a.value
    return known(controller.mass_kg, guess(kg, 0.2, "0.95 g for each ampere"))


def thermal_values(setup: Setup) -> ThermalValues:
    """Parameters of a setup's network; common practice, no source, but for the specific heats."""
    motor_kg, pack_kg = motor.motor_mass(setup.motor).value, pack.pack_mass(setup.pack).value
    controller_kg = controller_mass(setup.controller).value
    outside_m2 = np.pi * setup.motor.can_diameter_m.value * setup.motor.can_length_m.value
    size = outside_m2 / 8.4e-3  # over that of a 36 x 74 mm can
    cooled = 0.35 if setup.motor.kind is motor.MotorKind.OUTRUNNER else 1.0
    return ThermalValues(
        winding_j_k=guess(0.20 * motor_kg * heat.COPPER_J_KGK, 0.2, "a fifth of the motor is copper"),
        case_j_k=known(
            setup.learnt.case_j_k, guess(0.80 * motor_kg * heat.STEEL_J_KGK, 0.15, "the rest of it is steel")
        ),
        controller_j_k=guess(controller_kg * 700.0, 0.2, "700 J/(kg K)"),
        pack_j_k=guess(pack_kg * heat.CELL_J_KGK, 0.15, "1000 J/(kg K)"),
        connector_j_k=guess(6.0, 0.3, "15 g of brass and solder"),
        winding_case_w_k=known(setup.learnt.winding_case_w_k, guess(3.0 * size, 0.3, "3 W/K for a 36 x 74 mm can")),
        case_jacket_w_k=guess(2.4 * size * cooled, 0.35, "2.4 W/K for a jacket on a 36 x 74 mm can"),
        case_air_w_k=guess(0.12 * size, 0.3, "still air in the hull"),
        controller_jacket_w_k=guess(1.2 * (controller_kg / 0.12) ** 0.67, 0.35, "1.2 W/K for a plate of 120 g"),
        controller_air_w_k=guess(0.15 * (controller_kg / 0.12) ** 0.67, 0.3, "still air in the hull"),
        pack_air_w_k=guess(0.35 * (pack_kg / 0.5) ** 0.67, 0.3, "still air in the hull"),
        connector_air_w_k=guess(
            0.055 if setup.wiring.plugs is Plugs.BUNDLED else 0.10,
            0.35,
            f"a plug and the ends of its wires, {setup.wiring.plugs}",
        ),
        water_bore_m=guess(4e-3, 0.1, "a 4 mm line"),
    )
