"""Laws of the electric line: motor, copper, magnets, controller, wire, pack."""

import math
from typing import Final

import numpy as np

from kunstflug.core.laws.jit import jitable
from kunstflug.core.quantity.value import Floats

COPPER_OHM_M: Final = 1 / 58.0e6  # at 20 degC, 100 % IACS [iec60028, from memory]
COPPER_ZERO_C: Final = 235.0  # copper's resistance is proportional to 235 + T [iec60034-1, from memory]
REMANENCE_PER_K: Final = 0.0012  # NdFeB loses 0.11 to 0.13 % a kelvin [iec60404-8-1, from memory]
SWITCHING_S: Final = 100e-9  # rise and fall of a stage together (common practice, no source)
SWITCHED_HZ: Final = 16e3  # at part throttle (common practice, no source)


@jitable
def torque_constant_nm_per_a(kv_rpm_per_v: Floats) -> Floats:
    """Torque constant Kt = 60 / (2 pi KV).

    Parameters
    ----------
    kv_rpm_per_v : motor constant [rpm/V].

    Returns
    -------
    Torque for each ampere [Nm/A].

    Examples
    --------
    >>> round(torque_constant_nm_per_a(1000.0), 8)
    0.0095493
    """
    return 60.0 / (2.0 * math.pi * kv_rpm_per_v)


@jitable
def copper_resistance_ohm(resistance_20_ohm: Floats, copper_c: Floats) -> Floats:
    """Resistance of copper at a temperature, R20 (235 + T) / 255 [iec60034-1, from memory].

    Parameters
    ----------
    resistance_20_ohm : at 20 degC [ohm].
    copper_c : temperature [degC].

    Examples
    --------
    >>> round(copper_resistance_ohm(1.0, 100.0), 5)
    1.31373
    """
    return resistance_20_ohm * (COPPER_ZERO_C + copper_c) / (COPPER_ZERO_C + 20.0)


@jitable
def no_load_current_a(rpm: Floats, current_a: Floats, reference_rpm: Floats) -> Floats:
    """No-load current at a speed: half of it friction, half rising with rpm (common practice, no source).

    Parameters
    ----------
    rpm : shaft speed [rpm].
    current_a : measured at ``reference_rpm`` [A].
    reference_rpm : speed of the measurement [rpm].
    """
    return current_a * (0.5 + 0.5 * rpm / reference_rpm)


def magnet_factor(magnet_c: Floats) -> Floats:
    """KV over that at 20 degC [1]: hot magnets give less field, so more KV and less torque for each ampere.

    1 / (1 - 0.0012 (T - 20)), reversible below the grade's limit [iec60404-8-1, from memory].

    Parameters
    ----------
    magnet_c : temperature of the magnets [degC].

    Examples
    --------
    >>> round(float(magnet_factor(100.0)), 4)
    1.1062
    """
    return 1.0 / (1.0 - REMANENCE_PER_K * (magnet_c - 20.0))


@jitable
def electrical_rpm(rpm: Floats, poles: Floats) -> Floats:
    """Electrical rpm: shaft speed [rpm] x pole pairs.

    Examples
    --------
    >>> electrical_rpm(30000, 12)
    180000.0
    """
    return rpm * poles / 2


@jitable
def switching_loss_w(bus_v: float, phase_a: float, throttle: float) -> float:
    """Loss of the stage that is switched at part throttle [W], hard switching: U I (t_r + t_f) f / 2.

    None at full throttle, where only the commutation switches. Textbook law; its two times are guesses.

    Parameters
    ----------
    bus_v, phase_a : voltage before the stage [V] and current through the motor [A].
    throttle : part of the time that the stage is on [1].
    """
    return 0.5 * bus_v * phase_a * SWITCHING_S * SWITCHED_HZ * (throttle < 0.995)


DIODE_V: Final = 0.8  # of the diode, or the switch in its place, through which a phase runs down (textbook value)


def commutation_ohm(inductance_h: Floats, pole_pairs: Floats, kv_rpm_per_v: Floats, turning_part: Floats) -> Floats:
    """What commutation and freewheeling cost at full throttle, as a resistance in the line [ohm].

    Six times an electrical turn the phase that is left runs down from I through a diode of ``DIODE_V`` while the bus
    voltage U works against it: for L I / U seconds, the current falling evenly, so that each time DIODE_V I^2 L / (2 U)
    is lost. At f electrical turns a second that is 3 f DIODE_V L I^2 / U; with f = p KV U part / 60 the voltage falls
    out, and what is left goes with I^2. Textbook law of a six-step stage.

    Parameters
    ----------
    inductance_h : of two phases in series [H].
    turning_part : loaded over free rpm [1].

    Examples
    --------
    >>> round(commutation_ohm(10e-6, 2, 2200.0, 0.85) * 1e3, 3)  # 3 x 0.8 V x 10 uH x 2 x 2200 x 0.85 / 60
    1.496
    """
    return 3.0 * DIODE_V * inductance_h * pole_pairs * kv_rpm_per_v * turning_part / 60.0


def burst_time_constant_s(continuous_a: float, burst_a: float, seconds: float) -> float:
    """Time constant of the one-body heating that a burst rating describes [s].

    The rise goes with I^2; held at the continuous current it settles at the ceiling, at the burst current it is there
    after ``seconds`` from cold: Ic^2 = Ib^2 (1 - exp(-t / tau)), solved for tau. Infinite for a burst that is no
    larger than the continuous rating.

    Parameters
    ----------
    continuous_a, burst_a : ratings [A].
    seconds : how long the burst lasts [s].

    Examples
    --------
    >>> round(burst_time_constant_s(120.0, 160.0, 10.0), 2)
    12.1
    """
    if burst_a <= continuous_a:
        return math.inf
    return -seconds / math.log(1.0 - (continuous_a / burst_a) ** 2)


def current_for_seconds_a(continuous_a: float, tau_s: float, seconds: float) -> float:
    """Current that brings a cold controller to its ceiling in some seconds [A]; see ``burst_time_constant_s``."""
    if math.isinf(tau_s):
        return continuous_a
    return continuous_a / math.sqrt(1.0 - math.exp(-seconds / tau_s))


def awg_diameter_m(gauge: Floats) -> Floats:
    """Diameter of a solid conductor, 0.127 mm x 92^((36 - n) / 39) [astm-b258].

    Parameters
    ----------
    gauge : AWG number [1].

    Examples
    --------
    >>> round(awg_diameter_m(10) * 1e3, 4)
    2.5882
    """
    return 0.127e-3 * 92.0 ** ((36.0 - gauge) / 39.0)


def awg_resistance_ohm_per_m(gauge: Floats) -> Floats:
    """Resistance of solid copper at 20 degC [ohm/m] of an AWG number [astm-b258, iec60028]."""
    return COPPER_OHM_M / (math.pi / 4 * awg_diameter_m(gauge) ** 2)


def pin_resistance_ohm(diameter_m: Floats) -> Floats:
    """Resistance of one plugged pin with its solder joints [ohm].

    0.15 mohm at 5.5 mm, inversely with the section: common practice, no source.

    Parameters
    ----------
    diameter_m : of the pin [m].
    """
    return 0.15e-3 * (5.5e-3 / diameter_m) ** 2


def silicone_outside_m(gauge: int) -> float:
    """Outer diameter of a silicone wire [m]: 5.5 mm for AWG 10, 6.6 for AWG 8, in between and beyond with the core.

    2.1 x the conductor and no less than 0.6 mm of wall (common practice, no source).

    Parameters
    ----------
    gauge : AWG number [1].
    """
    inside = float(awg_diameter_m(gauge))
    return max(2.08 * inside, inside + 1.2e-3)


COLD_PER_K: Final = math.log(2.0) / 20.0  # of a pack's resistance, for each kelvin colder


@jitable
def cold_factor(pack_c: Floats) -> Floats:
    """Resistance of a LiPo over that at 25 degC [1]: doubles for each 20 K down (common practice, no source).

    Parameters
    ----------
    pack_c : temperature of the cells [degC].
    """
    return np.exp(COLD_PER_K * (25.0 - pack_c))
