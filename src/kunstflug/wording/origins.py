"""Where each number of a forecast comes from: by what law, after whom, and how far that carries."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.drive.limits import LimitKey


@dataclass(frozen=True, slots=True, kw_only=True)
class Origin:
    """Where a number comes from.

    Parameters
    ----------
    title : what it is called.
    how : how it is worked out, in one or two sentences.
    sources : keys of docs/references.md; empty where racers do so and nobody has published it.
    weak : where it carries least.
    dimension : of its unit.
    """

    title: str
    how: str
    sources: tuple[str, ...] = ()
    weak: str = ""
    dimension: str = "number"


_BALANCE: Final = "the whole drive is solved at once: pack, wires, controller, motor, propeller and hull have to agree"

POINT: Final[dict[str, Origin]] = {
    "speed_mps": Origin(title="Speed", dimension="speed", how=f"Where the propeller's thrust meets the hull's resistance; {_BALANCE}.", sources=("drela2007", "oosterveld1975", "savitsky1964", "ittc1957"), weak="A surface-piercing propeller and a hull that hops are known worst; a boat's own runs narrow it most."),
    "rpm": Origin(title="Rpm, loaded", dimension="rotation", how="Where the motor's torque is the propeller's. It falls below free rpm by what current times resistance takes from the voltage.", sources=("drela2007",), weak="The motor's resistance, where it was estimated from its size."),
    "free_rpm": Origin(title="Free rpm", dimension="rotation", how="KV times the voltage at the motor without a load, less what the no-load current takes.", sources=("drela2007",), weak="The KV printed on a motor; makers' numbers scatter by some percent."),
    "slip": Origin(title="Slip", dimension="percent", how="How much slower the boat is than its propeller would screw itself through wood: one less speed over rpm times pitch.", weak="The pitch that is cut into a blade is seldom the one printed on it."),
    "current_a": Origin(title="Pack current", dimension="current", how="Motor current times the controller's duty, with what the controller itself takes.", sources=("drela2007",), weak="It goes with the cube of the speed: a few percent of rpm are many of current."),
    "motor_current_a": Origin(title="Motor current", dimension="current", how="Torque over the motor's torque constant, which is one over KV, and the no-load current.", sources=("drela2007",)),
    "throttle": Origin(title="Throttle", dimension="percent", how="Full, but where the driver holds back."),
    "pack_voltage_v": Origin(title="Pack under load", dimension="voltage", how="The cells' open-circuit voltage at this charge, less current times the pack's resistance.", sources=("ai2020",), weak="Cold or old cells have far more resistance than their label lets expect."),
    "motor_voltage_v": Origin(title="Voltage at the motor", dimension="voltage", how="What is left of the pack's voltage after wires, connectors and controller.", sources=("iec60028", "astm-b258")),
    "electrical_power_w": Origin(title="Electrical power", dimension="power", how="Voltage times current at the pack.", weak="As the current."),
    "shaft_power_w": Origin(title="Shaft power", dimension="power", how="What the motor takes less copper, iron and bearings; each loss is named and summed.", sources=("drela2007", "iec60034-1")),
    "thrust_n": Origin(title="Thrust", dimension="force", how="From the pressure on the blades in the water they meet: full screws by a published series, surface-piercing blades as foils with a cavity behind.", sources=("oosterveld1975", "johnson1957", "rayleigh1876", "blount1978"), weak="How deep a surface-piercing propeller runs; half a diameter is assumed where nobody said."),
    "resistance_n": Origin(title="Resistance", dimension="force", how="Friction of the wetted bottom, what planing costs, appendages, air and spray.", sources=("savitsky1964", "ittc1957", "hoerner1965"), weak="The wetted length of a light hull that runs on its last third."),
    "torque_nm": Origin(title="Torque at the propeller", dimension="N·m", how="From the same pressures on the blades as the thrust.", sources=("oosterveld1975",)),
    "immersed": Origin(title="Part of the propeller under water", dimension="percent", how="From the shaft's height below the bottom, the trim and the hollow behind the transom.", weak="Seldom measured; a photograph of the running boat says more than any law."),
    "side_force_n": Origin(title="Side force of the propeller", dimension="force", how="A surface-piercing blade pushes to the side it turns to; part of its torque over its radius.", weak="Common practice, no source."),
    "propeller_efficiency": Origin(title="Propeller, efficiency", dimension="percent", how="Thrust times speed over torque times rotation.", sources=("oosterveld1975",)),
    "motor_efficiency": Origin(title="Motor, efficiency", dimension="percent", how="Shaft power over what the motor takes.", sources=("drela2007", "iec60034-1"), weak="Iron losses, where the no-load current was estimated."),
    "volume_froude": Origin(title="Froude number by volume", dimension="number", how="Speed over the root of gravity times the cube root of the displaced volume; above about 3 a hull planes.", sources=("savitsky1964",)),
    "endurance_s": Origin(title="Full throttle, how long", dimension="s", how="80 % of the capacity over the current.", weak="Common practice, no source."),
    "useful_power_w": Origin(title="Useful power", dimension="power", how="Thrust times speed: what is left for the boat."),
    "chemical_power_w": Origin(title="Power out of the cells", dimension="power", how="Open-circuit voltage times current; the pack's own loss is in it.", sources=("ai2020",)),
}  # fmt: skip

LIMITS: Final[dict[LimitKey, Origin]] = {
    LimitKey.PACK_CURRENT: Origin(title="Pack current", how="Printed C times capacity, of which a share is trusted: 60 % by cautious racers, 85 % by bold ones.", weak="Common practice, no source. What is printed is seldom what a cell gives for long."),
    LimitKey.CELL_VOLTAGE: Origin(title="Cell under load", how="The weakest cell at half charge under this current.", weak="Common practice, no source: 3.3 V under load; the maker's sheet comes first."),
    LimitKey.WIRE_CURRENT: Origin(title="Wire current", how="What warms the wire to 80 °C through the duty: its resistance against the air around it.", sources=("astm-b258", "iec60949", "churchill1975")),
    LimitKey.CONTROLLER_CURRENT: Origin(title="Controller current", how="The printed continuous current, of which 90 % are used.", weak="Common practice, no source. Nobody tests these ratings alike."),
    LimitKey.ELECTRICAL_RPM: Origin(title="Electrical rpm", how="Rpm times pole pairs, against what the controller follows.", weak="240 000 is usual where none is printed."),
    LimitKey.MOTOR_CURRENT: Origin(title="Motor current", how="The printed current, or what warms the winding to its class through the duty.", sources=("iec60085",)),
    LimitKey.MOTOR_POWER: Origin(title="Motor power", how="The printed power, or 5 W for each gram of motor, longer or shorter by the duty.", weak="Common practice, no source."),
    LimitKey.LOADED_RPM: Origin(title="Loaded rpm", how="The printed highest rpm, or what a rotor of this thickness usually bears: 30 000 for a 40 mm can.", weak="Common practice, no source."),
}  # fmt: skip

SOURCES: Final[dict[str, str]] = {
    "drela2007": "M. Drela, First-order DC electric motor model (2007)",
    "oosterveld1975": "M. Oosterveld, P. van Oossanen, Wageningen B-screw series (1975)",
    "savitsky1964": "D. Savitsky, Hydrodynamic design of planing hulls (1964)",
    "ittc1957": "ITTC 1957 friction line",
    "ai2020": "W. Ai et al., J. Electrochem. Soc. 167 (2020)",
    "iec60028": "IEC 60028, resistance of copper",
    "astm-b258": "ASTM B258, wire sizes",
    "iec60034-1": "IEC 60034-1, rotating machines",
    "johnson1957": "V. Johnson, NACA (1957), supercavitating sections",
    "rayleigh1876": "Lord Rayleigh (1876), plate with a cavity",
    "blount1978": "D. Blount, D. Fox (1978), cavitation",
    "hoerner1965": "S. Hoerner, Fluid-dynamic drag (1965)",
    "iec60949": "IEC 60949, short-circuit heating",
    "churchill1975": "S. Churchill, H. Chu (1975), convection round a wire",
    "iec60085": "IEC 60085, insulation classes",
}
"""What the keys stand for, in a line."""
