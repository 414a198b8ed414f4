"""Laws of water in pipes: friction, ram pressure, the propeller's wash."""

import math


def friction_churchill(reynolds: float, roughness: float) -> float:
    """Darcy friction factor for any Reynolds number and relative roughness [churchill1977].

    Examples
    --------
    >>> round(friction_churchill(1e4, 0.001), 6)
    0.03269
    """
    a = (2.457 * math.log(1 / ((7 / reynolds) ** 0.9 + 0.27 * roughness))) ** 16
    b = (37530.0 / reynolds) ** 16
    return 8 * ((8 / reynolds) ** 12 + (a + b) ** -1.5) ** (1 / 12)


def ram_pressure_pa(speed_mps: float, density: float, recovery: float = 1.0) -> float:
    """Dynamic pressure [Pa]: half rho V^2, as much of it as a pickup recovers."""
    return 0.5 * density * speed_mps**2 * recovery


def wash_speed_mps(speed_mps: float, thrust_n: float, diameter_m: float, density: float) -> float:
    """Speed of the water behind a propeller [m/s], momentum theory: sqrt(V^2 + 2 T / (rho A))."""
    disc = math.pi / 4 * diameter_m**2
    return math.sqrt(speed_mps**2 + 2 * max(thrust_n, 0.0) / (density * disc))


def velocity_mps(flow_m3_s: float, bore_m: float) -> float:
    """Mean velocity in a bore [m/s]."""
    return flow_m3_s / (math.pi / 4 * bore_m**2)
