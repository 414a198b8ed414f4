"""The speed controller as a part: ratings, what can be set in it, and how it feeds the receiver."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import Part, choice, count, mass, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value, exact, guess, known


class HotAction(StrEnum):
    """What a controller does above its temperature limit."""

    HALF = "half"
    OFF = "off"


class Supply(StrEnum):
    """Where receiver and servo get their power."""

    SWITCHING = "switching"
    LINEAR = "linear"
    SEPARATE = "separate"


@dataclass(frozen=True, slots=True, kw_only=True)
class Controller(Part):
    """A speed controller by what is printed on it."""

    continuous_current_a: Value = quantity(Dimension.CURRENT, "A", 5, 1000, required=True)
    burst_current_a: Value | None = quantity(Dimension.CURRENT, "A", 5, 2000)
    max_cells: int | None = count(1, 24, estimated=False)
    resistance_ohm: Value | None = quantity(Dimension.RESISTANCE, "mohm", 0.05, 50)
    electrical_rpm_limit_rpm: Value | None = quantity(Dimension.ROTATION, "rpm", 20000, 1000000)
    bus_limit_a: Value | None = quantity(Dimension.CURRENT, "A", 5, 1000, estimated=False)
    phase_limit_a: Value | None = quantity(Dimension.CURRENT, "A", 5, 2000, estimated=False)
    temperature_limit_c: Value | None = quantity(Dimension.TEMPERATURE, "degC", 50, 130, estimated=False)
    hot_action: HotAction = choice(HotAction, HotAction.HALF)
    timing_deg: Value | None = quantity(Dimension.ANGLE, "deg", 0, 35, estimated=False)
    ramp_s: Value | None = quantity(Dimension.TIME, "s", 0.05, 10, estimated=False)
    full_throttle: Value | None = quantity(Dimension.RATIO, "%", 40, 100, estimated=False)
    half_throttle: Value | None = quantity(Dimension.RATIO, "%", 10, 90, estimated=False)
    burst_s: Value | None = quantity(Dimension.TIME, "s", 0.5, 120)
    supply: Supply = choice(Supply, Supply.SWITCHING)
    mass_kg: Value | None = mass(5, 2000)


@dataclass(frozen=True, slots=True, kw_only=True)
class ConductionFromRating(Fact):
    """A controller's resistance scaled from that of a known rating."""

    ohm: float
    rating_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BurstFromRating(Fact):
    """No burst rating: some times the continuous one."""

    factor: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BurstTimeAssumed(Fact):
    """No burst time: a usual one."""

    seconds: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ElectricalRpmAssumed(Fact):
    """No electrical rpm limit: a usual one."""

    rpm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MassFromRating(Fact):
    """A controller's mass from its rating."""

    kg_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TimingShift(Fact):
    """A timing that is set, against the usual one."""

    timing_deg: float
    usual_deg: float


# All of these are common practice, no source.
RECEIVER_W: Final = 4.0  # receiver and a working servo, on average
RECEIVER_V: Final = 6.0
BEC_EFFICIENCY: Final = 0.85
ANCHOR_OHM: Final = 0.75e-3
ANCHOR_A: Final = 120.0
BURST_FACTOR: Final = 1.3
BURST_S: Final = 10.0
ELECTRICAL_RPM: Final = 240000.0
KG_PER_A: Final = 0.95e-3
USUAL_TIMING_DEG: Final = 15.0
KV_PER_DEG: Final = 0.004
NO_LOAD_PER_DEG: Final = 0.02


def conduction_resistance(controller: Controller) -> Value:
    """Resistance of two conducting switches [ohm].

    0.75 mohm for a 120 A controller, falling with the root of its rating: common practice, no source.
    """
    ohm = ANCHOR_OHM * (ANCHOR_A / controller.continuous_current_a.value) ** 0.5
    return known(controller.resistance_ohm, guess(ohm, 0.3, ConductionFromRating(ohm=ANCHOR_OHM, rating_a=ANCHOR_A)))


RIPPLE: Final = 0.35  # ripple in the capacitors over the current, at full throttle
CAPACITOR_OHM: Final = 3.0e-3  # of a 120 A controller's capacitors together
LOSS_SPREAD: Final = 0.4


@dataclass(frozen=True, slots=True, kw_only=True)
class ControllerLosses(Fact):
    """What a controller loses as a resistance: conduction, commutation, ripple."""

    conduction_ohm: float
    commutation_ohm: float
    ripple_ohm: float


def loss_resistance(controller: Controller, commutation_ohm: float) -> Value:
    """All that goes with the current squared in a controller at full throttle, as a resistance [ohm].

    Conduction of two switches, commutation and freewheel (see ``laws.electric``), and the ripple current in the
    capacitors' own resistance, which falls with the rating. In all 1.5 to 3 % of the power (common practice, no
    source), hence the wide spread.
    """
    conduction = conduction_resistance(controller)
    ripple = RIPPLE**2 * CAPACITOR_OHM * ANCHOR_A / controller.continuous_current_a.value
    whole = conduction.value + commutation_ohm + ripple
    uncertain = (commutation_ohm + ripple) * LOSS_SPREAD
    spread = ((conduction.value * conduction.spread) ** 2 + uncertain**2) ** 0.5 / whole
    why = ControllerLosses(conduction_ohm=conduction.value, commutation_ohm=commutation_ohm, ripple_ohm=ripple)
    return guess(whole, spread, why)


def burst_current(controller: Controller) -> Value:
    """Burst current [A]; 1.3 x continuous where none is printed (common practice, no source)."""
    amps = BURST_FACTOR * controller.continuous_current_a.value
    return known(controller.burst_current_a, guess(amps, 0.15, BurstFromRating(factor=BURST_FACTOR)))


def burst_seconds(controller: Controller) -> Value:
    """Seconds that the burst rating lasts [s]; 10 where none are printed (common practice, no source)."""
    return known(controller.burst_s, guess(BURST_S, 0.5, BurstTimeAssumed(seconds=BURST_S)))


def electrical_rpm_limit(controller: Controller) -> Value:
    """Largest electrical rpm [rpm]; 240 000 where none is printed (common practice, no source)."""
    otherwise = guess(ELECTRICAL_RPM, 0.2, ElectricalRpmAssumed(rpm=ELECTRICAL_RPM))
    return known(controller.electrical_rpm_limit_rpm, otherwise)


def controller_mass(controller: Controller) -> Value:
    """Mass of a controller [kg]: 0.95 g an ampere of rating (common practice, no source)."""
    kg = KG_PER_A * controller.continuous_current_a.value
    return known(controller.mass_kg, guess(kg, 0.2, MassFromRating(kg_a=KG_PER_A)))


@dataclass(frozen=True, slots=True, kw_only=True)
class TimingEffect:
    """Factors of a timing on KV and on the no-load current [1]."""

    kv: Value
    no_load: Value


def timing_effect(controller: Controller) -> TimingEffect:
    """What a timing does to KV and no-load current; nothing where none is set.

    A printed KV is taken to hold at 15 deg; each degree more gives 0.4 % of KV and 2 % of no-load current (common
    practice, no source).
    """
    if controller.timing_deg is None:
        return TimingEffect(kv=exact(1.0), no_load=exact(1.0))
    ahead = controller.timing_deg.value - USUAL_TIMING_DEG
    why = TimingShift(timing_deg=controller.timing_deg.value, usual_deg=USUAL_TIMING_DEG)
    return TimingEffect(
        kv=guess(1.0 + KV_PER_DEG * ahead, 0.01, why), no_load=guess(1.0 + NO_LOAD_PER_DEG * ahead, 0.1, why)
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class ReceiverLoad:
    """What receiver and servo take: current out of the pack [A], heat in the controller [W]."""

    current_a: float
    heat_w: float


def receiver_load(controller: Controller, pack_v: float) -> ReceiverLoad:
    """Load of receiver and servo at a pack's voltage [V].

    A linear BEC burns what it takes off the voltage; a switching one is taken to 85 % (common practice, no source).
    """
    if controller.supply is Supply.SEPARATE:
        return ReceiverLoad(current_a=0.0, heat_w=0.0)
    if controller.supply is Supply.LINEAR:
        amps = RECEIVER_W / RECEIVER_V
        return ReceiverLoad(current_a=amps, heat_w=amps * max(pack_v - RECEIVER_V, 0.0))
    return ReceiverLoad(current_a=RECEIVER_W / BEC_EFFICIENCY / pack_v, heat_w=RECEIVER_W * (1 / BEC_EFFICIENCY - 1))
