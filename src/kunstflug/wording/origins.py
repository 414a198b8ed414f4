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
    narrow : what would narrow it.
    dimension : of its unit.
    marks : the screens it stands on; none for a number of the forecast, which stands on many.
    """

    title: str
    how: str
    sources: tuple[str, ...] = ()
    weak: str = ""
    narrow: str = ""
    dimension: str = "number"
    marks: tuple[str, ...] = ()


_BALANCE: Final = "the whole drive is solved at once: pack, wires, controller, motor, propeller and hull have to agree"

POINT: Final[dict[str, Origin]] = {
    "speed_mps": Origin(title="Speed", dimension="speed", how=f"Where the propeller's thrust meets the hull's resistance; {_BALANCE}.", sources=("drela2007", "oosterveld1975", "savitsky1964", "ittc1957"), weak="A surface-piercing propeller and a hull that hops are known worst; a boat's own runs narrow it most."),
    "rpm": Origin(title="Rpm, loaded", dimension="rotation", how="Where the motor's torque is the propeller's. It falls below free rpm by what current times resistance takes from the voltage.", sources=("drela2007",), weak="The motor's resistance, where it was estimated from its size."),
    "free_rpm": Origin(title="Free rpm", dimension="rotation", how="KV times the voltage at the motor without a load, less what the no-load current takes.", sources=("drela2007",), weak="The KV printed on a motor; makers' numbers scatter by some percent."),
    "slip": Origin(title="Slip", dimension="percent", how="How much slower the boat is than its propeller would screw itself through wood: one less speed over rpm times pitch.", weak="The pitch that is cut into a blade is seldom the one printed on it."),
    "current_a": Origin(title="Pack current", dimension="current", how="Motor current times the controller's duty, with what the controller itself takes.", sources=("drela2007",), weak="It goes with the cube of the speed: a few percent of rpm are many of current. What a propeller loses is known only to within a quarter."),
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
    LimitKey.CELLS: Origin(title="Cells of the controller", how="The cells in series that are printed on it. With more its transistors break down at once.", weak="Common practice, no source: what is printed is taken as it stands."),
    LimitKey.LOADED_RPM: Origin(title="Loaded rpm", how="The printed highest rpm, or what a rotor of this thickness usually bears: 30 000 for a 40 mm can.", weak="Common practice, no source."),
}  # fmt: skip

_HEAT: Final = (
    "A network of bodies of heat, stepped through the duty: copper, case, water, controller, pack, the hull's air"
)
_GUN: Final = "One reading with a gun after landing, typed on Run with its minutes."
_HOT: Final = ("match", "run", "compare", "live", "launch")

OTHERS: Final[dict[str, Origin]] = {
    "aim.power": Origin(title="Shaft power at each speed", marks=("aim",), how="What this hull resists at each speed, over the propeller's efficiency and what the shaft loses.", sources=("savitsky1964", "ittc1957"), weak="The hull, before its first run.", narrow="A run: its speed and current move the hull's drag most."),
    "aim.answer": Origin(title="Drives for a speed", marks=("aim",), how="Many drives are worked out whole. For each number of cells the one with the least current that gets there within its limits stays.", weak="Parts still to be bought are taken at usual values.", narrow="The real numbers of a part, once it lies on the shelf."),
    "aim.noise": Origin(title="Noise", marks=("aim",), how="A small part of the shaft's power is heard; it grows with the cube of the blade tips' speed, and halves its pressure with each doubling of the distance.", sources=("curle1955", "iso3744"), weak="Common practice: drive lines differ by 5 dB and more.", narrow="The club's meter, once: type what it showed on Aim."),
    "heat.case": Origin(title="Motor case", dimension="temperature", marks=_HOT, how=f"{_HEAT}.", sources=("iec60034-1",), weak="How much water comes through, and how long a pass is really held.", narrow=_GUN),
    "heat.controller": Origin(title="Controller", dimension="temperature", marks=_HOT, how="What its transistors lose, into its block, the water through it and the hull's air.", weak="Its block and its own losses are guessed; makers print neither.", narrow=_GUN),
    "heat.pack": Origin(title="Pack", dimension="temperature", marks=_HOT, how="Current squared times its resistance, kept in its mass; it cools slowly.", sources=("ai2020",), weak="Cells' resistance by age.", narrow="The cells' resistance, from the charger."),
    "heat.connector": Origin(title="Plugs", dimension="temperature", marks=_HOT, how="The hottest plug of the line, with twice a usual one's resistance.", weak="Common practice, no source: a worn plug has five times as much.", narrow=_GUN),
    "fit.joint": Origin(title="Joints", marks=("fit",), how="Sizes of both parts against each other, with clearances of fits, threads and clamps; what a joint holds against the motor's torque.", sources=("vdi2230", "iso4762"), weak="Friction of a clamp varies by half.", narrow="A caliper on both parts."),
    "fit.water": Origin(title="Cooling water", marks=("fit",), how="Pressure at the pickup drives water through every piece of hose, jacket and outlet; flow and losses agree in each branch.", sources=("churchill1977",), weak="Recovery at the pickup is common practice.", narrow="A jug and a watch at the outlet, on the stand or at a steady speed."),
    "fit.tub": Origin(title="Tub test", marks=("fit",), how="The boat is held, so the propeller is loaded hard; heat is stepped until it levels off or must stop. Readings move the curve.", sources=("iec60034-1",), weak="How much air the propeller draws in a tub.", narrow="Two readings of current and temperature in the first ten seconds."),
    "launch.word": Origin(title="Go, wait or no", marks=("launch",), how="Wind with its gusts, waves, water and the boat's own temperatures against what a boat of this kind takes.", weak="Common practice, no source. The venue's rules come first.", narrow="Look at the water once more before the start."),
    "launch.pass": Origin(title="The pass", marks=("launch",), how="Thrust less resistance over the mass, stepped from the start until the top speed; then the seconds that are held, and the room to turn.", sources=("savitsky1964",), weak="How the throttle is fed in.", narrow="A track of one pass."),
    "launch.day": Origin(title="The day's plan", marks=("launch",), how="Charging by current and by the charger's power, cooling between runs, one pack after the other.", weak="Constant-voltage ends differ from charger to charger.", narrow="A charger's log, on Run."),
    "live.heat": Origin(title="Temperatures while it runs", marks=("live",), how="The same network of heat, driven by what the boat sends, for many boats that might be this one; a sensor's reading weighs them.", weak="Places without a sensor.", narrow="A sensor on the motor."),
    "live.advice": Origin(title="Come in now", marks=("live",), how="One more pass is worked out ahead for each of those boats. Said when a place is likely to pass its ceiling, or charge or a cell runs out.", weak="It cannot see weed before its heat.", narrow="A sensor on the motor."),
    "run.best": Origin(title="Best second", dimension="speed", marks=("run", "compare"), how="The fastest second of the smoothed track: positions and the receiver's own speed, each weighed by how far it scatters.", sources=("gum",), weak="Positions alone jump: a metre within a second is 3.6 km/h.", narrow="A receiver that writes its own speed, five times a second or more."),
    "run.passes": Origin(title="Passes and turns", marks=("run", "compare"), how="Where the track runs straight near its full speed, and where it turns; each with its speed, direction and what the log says there.", weak="A pass of two seconds is hardly steady.", narrow="Longer passes, both ways along one line."),
    "run.typed": Origin(title="Off a display", marks=("run", "compare"), how="Typed by you. A display keeps its highest number; how far it overstates is learnt beside your boats. Passes and minutes say what warmed the boat and took the charge; where they are empty, four usual passes are taken.", weak="One jump of the receiver makes a peak.", narrow="Count the passes and look at the clock. One run with a track and the display side by side."),
    "run.gun": Origin(title="Temperatures read", dimension="temperature", marks=("run", "compare"), how="Typed by you, with the minutes since landing: places cool meanwhile, and the forecast beside it is of the same minute.", weak="Shiny metal reads too cold.", narrow="A dab of matt paint or tape where the gun points."),
    "run.log": Origin(title="Current, rpm and volts", marks=("run", "compare"), how="From the controller's log, laid on the track's time; the mean over the passes counts.", weak="Many controllers show current within a tenth only.", narrow="What the charger put back, against the log's own mAh."),
    "compare.effect": Origin(title="What a change brought", dimension="speed", marks=("compare",), how="Runs after it less runs before it; charge, wind, water and the day are taken out by the forecast. Chance and interval are one law. Of a hundred decisions that do nothing five are called a change.", sources=("iso5725", "student1908"), weak="What always changed together cannot be told apart.", narrow="Passes before, after, after, before: it takes drift out."),
    "compare.then": Origin(title="Known then, and without this run", marks=("compare",), how="The forecast from the runs before it; and from all runs but this one.", sources=("kalman1960", "cook1982"), weak="Both in closed form about the last estimate."),
    "compare.taught": Origin(title="What the runs taught", marks=("compare",), how="The numbers of hull, motor, pack and propeller that are likeliest under all runs of all your boats, with how sure that is.", sources=("huber1964", "oliver2008"), weak="Numbers that always act together share what was learnt.", narrow="See Measure next."),
    "compare.next": Origin(title="Measure next", marks=("compare",), how="How much each measurement would narrow the band of the number that matters now, worked out for each.", sources=("lindley1956",), weak="It trusts the spreads of the instruments."),
    "trim.cause": Origin(title="Likely causes", marks=("trim",), how="Each sign makes some causes likelier; they are weighed together with the boat's own sizes.", sources=("pearl1988",), weak="Rules of thumb: common practice, no source; yours to change.", narrow="One small step, and what the boat did then."),
    "trim.curve": Origin(title="Next setting", marks=("trim",), how="Speed over the knob as the runs show it, smooth between them; the setting where a run teaches most, as far as the margin allows.", sources=("rasmussen2006", "frazier2009"), weak="Few runs, other weather.", narrow="One run at each side of the best setting."),
    "shelf.pack": Origin(title="Health of a pack", marks=("shelf",), how="Charge put back over the part of the charge used, by the cells at rest; volts lost over amperes at 25 °C; a smooth curve through all runs. Retired below 80 % or at twice the first resistance.", sources=("wahba1990", "ai2020"), weak="The pack's temperature in the run; 80 % and twice are common practice, no source.", narrow="A log with a minute of rest at both ends."),
    "ponds.water": Origin(title="Water through the year", dimension="temperature", marks=("ponds", "launch"), how="A sine through the year, moved by what was read; the week's weather stays open.", sources=("ward1963",), weak="Very shallow or spring-fed ponds.", narrow="A reading in spring and one in summer."),
    "ponds.straight": Origin(title="Longest straight", dimension="distance", marks=("ponds", "launch"), how="The longest line within the shore that keeps off the bank.", weak="A shore drawn by eye.", narrow="Drive once round it: the shore is taken from the track."),
}  # fmt: skip
"""Numbers beside the forecast's, by screen and name."""

SOURCES: Final[dict[str, str]] = {
    "wahba1990": "G. Wahba, Spline Models for Observational Data (1990)",
    "drela2007": "M. Drela, First-order DC electric motor model (2007)",
    "oosterveld1975": "M. Oosterveld, P. van Oossanen, Wageningen B-screw series (1975)",
    "savitsky1964": "D. Savitsky, Hydrodynamic design of planing hulls (1964)",
    "ittc1957": "ITTC 1957 friction line",
    "ai2020": "W. Ai et al., J. Electrochem. Soc. 167 (2020)",
    "iec60028": "IEC 60028, resistance of copper",
    "astm-b258": "ASTM B258, wire sizes",
    "huber1964": "P. J. Huber (1964), robust estimates",
    "oliver2008": "D. S. Oliver et al. (2008), randomised maximum likelihood",
    "student1908": "Student (1908), the mean of few readings",
    "iec60034-1": "IEC 60034-1, rotating machines",
    "johnson1957": "V. Johnson, NACA (1957), supercavitating sections",
    "rayleigh1876": "Lord Rayleigh (1876), plate with a cavity",
    "blount1978": "D. Blount, D. Fox (1978), cavitation",
    "hoerner1965": "S. Hoerner, Fluid-dynamic drag (1965)",
    "iec60949": "IEC 60949, short-circuit heating",
    "churchill1975": "S. Churchill, H. Chu (1975), convection round a wire",
    "iec60085": "IEC 60085, insulation classes",
    "curle1955": "N. Curle, Proc. R. Soc. A (1955), sound of forces on a surface",
    "iso3744": "ISO 3744, sound over a reflecting plane",
    "vdi2230": "VDI 2230, bolted joints",
    "iso4762": "ISO 4762, socket head screws",
    "churchill1977": "S. Churchill (1977), friction in a pipe",
    "gum": "JCGM 100, uncertainty in measurement",
    "iso5725": "ISO 5725, repeatability",
    "kalman1960": "R. Kalman (1960), one observation more",
    "cook1982": "R. Cook, S. Weisberg (1982), one run left out",
    "lindley1956": "D. Lindley (1956), worth of a measurement",
    "pearl1988": "J. Pearl (1988), causes and signs",
    "rasmussen2006": "C. Rasmussen, C. Williams (2006), Gaussian processes",
    "frazier2009": "P. Frazier et al. (2009), knowledge gradient",
    "ward1963": "J. Ward (1963), water temperature through the year",
}
"""What the keys stand for, in a line."""
