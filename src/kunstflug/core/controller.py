"""The speed controller at full throttle: conduction and ratings."""

from dataclasses import dataclass

from kunstflug.core.units import Dimension
from kunstflug.core.values import Floats, Part, Value, count, guess, known, quantity


@dataclass(frozen=True, slots=True, kw_only=True)
class Controller(Part):
    """A speed controller by what is printed on it."""

    continuous_current_a: Value = quantity("Continuous current", Dimension.CURRENT, "A", 5, 1000, required=True)
    burst_current_a: Value | None = quantity("Burst current", Dimension.CURRENT, "A", 5, 2000, help="lasts seconds")
    max_cells: int | None = count("Most cells", 1, 24)
    resistance_ohm: Value | None = quantity("Conduction resistance", Dimension.RESISTANCE, "mohm", 0.05, 50)
    electrical_rpm_limit_rpm: Value | None = quantity(
        "Electrical rpm limit", Dimension.ROTATION, "rpm", 20000, 1000000, help="rpm x pole pairs"
    )
    bus_limit_a: Value | None = quantity(
        "Bus current limit", Dimension.CURRENT, "A", 5, 1000, help="as set in it; it then gives less throttle"
    )
    temperature_limit_c: Value | None = quantity(
        "Temperature limit", Dimension.TEMPERATURE, "degC", 50, 130, help="as set in it; it then cuts to half power"
    )
    mass_kg: Value | None = quantity("Mass", Dimension.MASS, "g", 5, 2000)


def conduction_resistance(controller: Controller) -> Value:
    """Resistance of two conducting switches [ohm].

    0.75 mohm for a 120 A controller, falling with the root of its rating: common practice, no source.
    """
    rating = controller.continuous_current_a.value
    return known(
        controller.resistance_ohm,
        guess(0.75e-3 * (120.0 / rating) ** 0.5, 0.3, f"from the {rating:g} A rating: 0.75 mohm at 120 A"),
    )


def burst_current(controller: Controller) -> Value:
    """Burst current [A]; 1.3 x continuous where none is printed (common practice, no source)."""
    rating = controller.continuous_current_a.value
    return known(controller.burst_current_a, guess(1.3 * rating, 0.15, "no burst rating printed: 1.3 x continuous"))


def electrical_rpm(rpm: Floats, poles: Floats) -> Floats:
    """Electrical rpm: shaft rpm x pole pairs.

    Examples
    --------
    >>> electrical_rpm(30000, 12)
    180000.0
    """
    return rpm * poles / 2


def electrical_rpm_limit(controller: Controller) -> Value:
    """Largest electrical rpm; 240 000 where none is printed (common practice, no source)."""
    return known(
        controller.electrical_rpm_limit_rpm, guess(240000.0, 0.2, "no limit printed: 240 000 electrical rpm assumed")
    )
