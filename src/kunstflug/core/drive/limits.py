"""The limits of a setup's parts under the chosen schools: where *holds* ends and *stop* begins."""

import math
from dataclasses import dataclass

from kunstflug.core import controller, motor, pack, wiring
from kunstflug.core.drive import doubts
from kunstflug.core.drive.schools import ControllerSchool, Schools
from kunstflug.core.drive.setup import Setup

RATING_MARGIN = 0.9  # part of a rating that is used, with margin (common practice, no source)
PASS_S = 3.0  # full throttle of a pass by the school of burst ratings (common practice, no source)
CELL_FLOOR_V = 3.3  # a cell under load that holds (common practice, no source)
CELL_STOP_V = 3.0
# Silicone is printed for 180 to 200 degC. Held for minutes a wire may pass that and still carry passes of seconds: what
# a duty does to plugs and wire is computed in time, so only what would burn at once stops here.
WIRE_HOLDS_C = 180.0
WIRE_STOP_C = 450.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """Limits in SI; ``*_stop_*`` is where *stop* begins."""

    pack_a: float
    pack_stop_a: float
    wire_a: float
    wire_stop_a: float
    controller_a: float
    controller_stop_a: float
    controller_tau_s: float  # of the heating that its burst rating describes
    motor_a: float  # infinite where none is printed
    motor_w: float
    motor_stop_w: float
    rpm: float
    rpm_stop: float
    electrical_rpm: float


def limits_of(setup: Setup, schools: Schools) -> Limits:
    """Limits of a setup."""
    printed = pack.printed_current_a(setup.pack).value
    rating = doubts.believed_controller_a(setup).value
    doubted = rating / setup.controller.continuous_current_a.value
    burst = max(controller.burst_current(setup.controller).value * doubted, rating)
    by_burst = schools.controller is ControllerSchool.BURST
    tau = controller.burst_time_constant_s(rating, burst, controller.burst_seconds(setup.controller).value)
    # What brings it from cold to its ceiling in a pass; never more than is printed.
    brief = min(controller.current_for_seconds_a(rating, tau, PASS_S), burst)
    power = doubts.believed_motor_w(setup).value
    most = doubts.believed_motor_a(setup)
    ceiling = motor.rpm_ceiling(setup.motor).value * schools.rpm_factor
    gauge, air = wiring.thinnest_awg(setup.wiring), setup.conditions.air_c.value
    outside = wiring.silicone_outside_m(gauge)
    return Limits(
        wire_a=wiring.wire_current_a(WIRE_HOLDS_C, gauge, outside, air),
        wire_stop_a=wiring.wire_current_a(WIRE_STOP_C, gauge, outside, air),
        pack_a=printed * schools.pack_trust,
        pack_stop_a=printed,
        controller_a=(brief if by_burst else rating) * RATING_MARGIN,
        controller_stop_a=burst,
        controller_tau_s=tau,
        motor_a=most.value if most is not None else math.inf,
        motor_w=power,
        motor_stop_w=2.0 * power,
        rpm=ceiling,
        rpm_stop=1.25 * ceiling,
        electrical_rpm=controller.electrical_rpm_limit(setup.controller).value,
    )
