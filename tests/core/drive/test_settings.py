"""What can be set in a controller, two unlike packs, magnets and insulation, leads, placed parts."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import margin, q

from kunstflug.core.cooling.circuit import usual_circuit
from kunstflug.core.cooling.table import cooling_table
from kunstflug.core.cooling.whatif import cases
from kunstflug.core.drive.dangers import Shake, dangers_of
from kunstflug.core.drive.forecast import LinearSupplyBurns, forecast
from kunstflug.core.drive.limits import LimitKey
from kunstflug.core.drive.schools import ControllerSchool, Schools, TemperatureSchool
from kunstflug.core.drive.values import drive_values
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.laws import electric
from kunstflug.core.parts import controller, motor, pack, placement, wiring
from kunstflug.core.setup.knowledge import TOGETHER
from kunstflug.core.setup.setup import centre_of_mass, placed_parts, thinnest_awg
from kunstflug.core.thermal.duty import Duty, Kind, Mode, Phase, PhaseKind, lap_race_duty, passes_duty
from kunstflug.core.thermal.heat_forecast import ceilings, heat_forecast
from kunstflug.core.thermal.nodes import HEAT_NODES
from kunstflug.core.thermal.run import run_duty

PASS = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=10.0),))


def with_controller(**more):
    return samples.setup(controller={"continuous_current": q(120, "A"), **more})


def test_burst_rating_is_a_time_constant():
    # Ic^2 = Ib^2 (1 - exp(-t/tau)); 120 A and 160 A for 10 s: tau = 10 / ln(16/7), by hand
    tau = electric.burst_time_constant_s(120, 160, 10)
    assert tau == pytest.approx(10 / math.log(16 / 7), rel=1e-9)
    assert electric.current_for_seconds_a(120, tau, 10) == pytest.approx(160)
    assert electric.current_for_seconds_a(120, tau, 1e6) == pytest.approx(120)
    assert math.isinf(electric.burst_time_constant_s(120, 100, 10))


@given(st.floats(30, 300), st.floats(1.05, 2.5), st.floats(1, 60), st.floats(0.5, 50))
def test_shorter_bursts_may_be_larger(rating, factor, seconds, other):
    tau = electric.burst_time_constant_s(rating, rating * factor, seconds)
    assert electric.current_for_seconds_a(rating, tau, seconds) == pytest.approx(rating * factor, rel=1e-9)
    shorter, longer = sorted((seconds, other))
    a, b = (electric.current_for_seconds_a(rating, tau, t) for t in (shorter, longer))
    assert a >= b >= rating


def test_a_longer_burst_rating_helps_in_a_long_pass():
    long_pass = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=30.0),))
    soft, tough = (
        heat_forecast(
            with_controller(continuous_current=q(60, "A"), burst_current=q(90, "A"), burst=q(s, "s")),
            long_pass,
            samples=0,
        ).burst
        for s in (2, 30)
    )
    assert soft.use > tough.use
    assert soft.used_up_s < (tough.used_up_s if math.isfinite(tough.used_up_s) else math.inf)


def test_the_school_of_bursts_asks_for_the_pass_not_for_the_label():
    brief = with_controller(burst_current=q(160, "A"), burst=q(1, "s"))
    lasting = with_controller(burst_current=q(160, "A"), burst=q(20, "s"))
    school = Schools(controller=ControllerSchool.BURST)
    limit = [margin(forecast(s, 0, school), LimitKey.CONTROLLER_CURRENT).limit.holds for s in (brief, lasting)]
    assert limit[0] < limit[1] == pytest.approx(0.9 * 160)


def test_a_phase_limit_holds_the_motor_at_part_throttle_too():
    free = forecast(samples.setup(), 0).point
    held = forecast(with_controller(phase_limit=q(60, "A")), 0).point
    assert free.motor_current_a > 60
    assert held.motor_current_a == pytest.approx(60, rel=1e-3)
    assert held.current_a == pytest.approx(60 * held.throttle, rel=1e-3)
    assert held.speed_mps < free.speed_mps
    assert held.useful_power_w + held.losses_w == pytest.approx(held.chemical_power_w, rel=1e-6)
    run = run_duty(with_controller(phase_limit=q(60, "A")), PASS)
    late = run.time_s > 5
    assert np.mean(run.bus_current_a[0, late]) < 60


def test_timing_gives_rpm_and_costs_current():
    usual, ahead = (forecast(with_controller(timing=q(t, "deg")), 0).point for t in (15, 25))
    assert ahead.rpm > usual.rpm
    assert ahead.current_a > usual.current_a
    assert usual.rpm == pytest.approx(forecast(samples.setup(), 0).point.rpm)


def test_a_ramp_spares_the_start():
    sharp, soft = (run_duty(with_controller(ramp=q(s, "s")), PASS) for s in (0.2, 4.0))
    early = sharp.time_s < 1.0
    assert soft.bus_current_a[0, early].max() < 0.8 * sharp.bus_current_a[0, early].max()
    late = sharp.time_s > 8
    assert soft.speed_mps[0, late].mean() == pytest.approx(sharp.speed_mps[0, late].mean(), rel=0.03)


def test_off_is_colder_than_half_power():
    hot = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=120.0),))
    limit = q(50, "degC")
    half, off = (
        run_duty(
            samples.setup(
                controller={"continuous_current": q(20, "A"), "temperature_limit": limit, "hot_action": a},
                conditions={
                    "water": q(38, "degC"),
                    "air": q(40, "degC"),
                    "headwind": q(0, "m/s"),
                    "state_of_charge": q(95, "%"),
                    "winding": q(80, "degC"),
                },
            ),
            hot,
        )
        for a in ("half", "off")
    )
    assert off.used_ah[0, -1] < half.used_ah[0, -1]


def test_receiver_feeds():
    # linear: 4 W at 6 V is 0.667 A, and it burns the rest of 22.2 V, by hand
    linear = with_controller(supply="linear").controller
    load = controller.receiver_load(linear, 22.2)
    assert load.current_a == pytest.approx(4 / 6)
    assert load.heat_w == pytest.approx(4 / 6 * 16.2)
    separate = with_controller(supply="separate").controller
    assert controller.receiver_load(separate, 22.2) == controller.ReceiverLoad(current_a=0.0, heat_w=0.0)
    many = samples.setup(
        controller={"continuous_current": q(120, "A"), "supply": "linear"},
        pack={**samples.MONO["pack"], "cells": 6}, motor__kv=q(1500, "rpm/V"),
    )  # fmt: skip
    assert any(isinstance(c, LinearSupplyBurns) and c.cells == 6 for c in forecast(many, 0).caveats)


def test_books_balance_with_receiver_and_limits():
    setup = with_controller(supply="linear", phase_limit=q(70, "A"), ramp=q(1, "s"))
    run = run_duty(setup, passes_duty(2, 8, 20))
    assert run.heat_in_j[0] == pytest.approx(run.heat_out_j[0] + run.heat_kept_j[0], rel=1e-3)


# two packs in series


def test_two_equal_packs_are_one_of_both():
    one = {**samples.MONO["pack"], "cells": 4, "mass": q(500, "g")}
    two = {**one, "cells": 2, "second_cells": 2}
    a, b = (forecast(samples.setup(pack=p), 0).point for p in (one, two))
    assert a.speed_mps == pytest.approx(b.speed_mps, rel=1e-9)
    assert a.pack_voltage_v == pytest.approx(b.pack_voltage_v, rel=1e-9)


def test_the_weaker_of_two_packs_rules():
    weak = {**samples.MONO["pack"], "cells": 2, "second_cells": 2, "second_capacity": q(2200, "mAh"),
            "second_c_rating": q(25, "1")}  # fmt: skip
    lukewarm = {**samples.document().conditions.model_dump(mode="json"), "pack": q(25, "degC")}
    setup = samples.setup(pack=weak, conditions=lukewarm)
    assert pack.usable_ah(setup.pack) == pytest.approx(2.2)
    assert pack.printed_current_a(setup.pack).value == pytest.approx(55)  # 2.2 Ah x 25 C by hand
    f = forecast(setup, 0)
    like = {**weak, "second_capacity": q(5000, "mAh"), "second_c_rating": q(50, "1")}
    strong = forecast(samples.setup(pack=like, conditions=lukewarm), 0)
    cell = {g.point.speed_mps: margin(g, LimitKey.CELL_VOLTAGE).load for g in (f, strong)}
    assert cell[f.point.speed_mps] < cell[strong.point.speed_mps]
    # the sag of the weaker cell, from its own resistance
    other = pack.second_pack(setup.pack)
    assert other is not None
    own = f.point.chemical_power_w / f.point.current_a / 4 - f.point.current_a * pack.cell_resistance(other).value
    assert cell[f.point.speed_mps] == pytest.approx(own, rel=1e-6)


def test_the_weaker_pack_is_empty_first():
    first = {**samples.MONO["pack"], "cells": 2, "second_cells": 2, "second_capacity": q(1500, "mAh")}
    both = run_duty(samples.setup(pack=first), lap_race_duty(0.5))
    equal = run_duty(samples.setup(pack={**first, "second_capacity": q(5000, "mAh")}), lap_race_duty(0.5))
    assert both.pack_voltage_v[0, -1] < equal.pack_voltage_v[0, -1]


# motor


def test_hot_magnets_turn_faster_and_pull_less():
    # NdFeB loses 0.12 % a kelvin [iec60404-8-1, from memory]: 80 K are 9.6 %
    assert electric.magnet_factor(100.0) == pytest.approx(1 / (1 - 0.096))
    assert electric.magnet_factor(20.0) == 1.0
    conditions = {"water": q(16, "degC"), "air": q(18, "degC"), "headwind": q(0, "m/s"),
                  "state_of_charge": q(75, "%")}  # fmt: skip
    cold, hot = (
        drive_values(samples.setup(conditions={**conditions, "winding": q(w, "degC")})).rows() for w in (20, 140)
    )
    assert hot["kv_factor"][0] > cold["kv_factor"][0]


@pytest.mark.parametrize(
    ("letter", "celsius"),
    [("n", 80), ("m", 100), ("h", 120), ("sh", 150),
     ("uh", 180), ("eh", 200)],
)  # fmt: skip
def test_magnet_grades(letter, celsius):
    # trade letters, from memory
    found = samples.setup(motor={**samples.MONO["motor"], "magnets": letter})
    assert motor.magnet_limit_c(found.motor).value == celsius
    at = HEAT_NODES.index("magnets")
    assert ceilings(Schools(temperature=TemperatureSchool.HOT), found)[at].holds_c == celsius
    assert ceilings(Schools(), found)[at].holds_c == celsius - 20


@pytest.mark.parametrize(
    ("word", "celsius"),
    [("a", 105), ("e", 120), ("b", 130), ("f", 155), ("h", 180)],
)
def test_insulation_classes(word, celsius):
    # IEC 60085, from memory
    found = samples.setup(motor={**samples.MONO["motor"], "insulation": word})
    assert ceilings(Schools(temperature=TemperatureSchool.HOT), found)[0].holds_c == celsius


def test_magnets_lie_between_case_and_winding():
    found = heat_forecast(samples.setup(), passes_duty(3, 8, 10), samples=0)
    winding, case = found.middle_c[:, 0], found.middle_c[:, 1]
    magnets = found.middle_c[:, HEAT_NODES.index("magnets")]
    assert np.all(magnets <= np.maximum(winding, case) + 1e-9)
    assert np.all(magnets >= np.minimum(winding, case) - 1e-9)


# wires


PLAIN = {"gauge_awg": 10, "length": q(500, "mm")}
LONGER = {**PLAIN, "extension_length": q(600, "mm"), "extension_gauge_awg": 14}


def test_extension_leads_add_their_own_copper():
    plain, longer = (samples.setup(wiring=w).wiring for w in (PLAIN, LONGER))
    # ASTM B258: AWG 14 has 8.286 mohm a metre, and 3 % for stranding
    added = wiring.wiring_resistance(longer, 10).value - wiring.wiring_resistance(plain, 10).value
    assert added == pytest.approx(0.6 * 8.286e-3 * 1.03, rel=0.002)
    assert thinnest_awg(samples.setup(wiring=LONGER)) == 14
    assert thinnest_awg(samples.setup(wiring=PLAIN)) == 10


# placed parts

PLACES = {"shell": q(200, "mm"), "motor": q(260, "mm"), "controller": q(330, "mm"), "pack": q(180, "mm")}


def test_centre_of_mass_from_placed_parts():
    setup = samples.setup(placement=PLACES, motor__mass=q(285, "g"), pack__mass=q(508, "g"))
    parts = placed_parts(setup)
    assert {p.name for p in parts} == {"hull", "motor", "controller", "pack"}
    assert sum(p.mass_kg for p in parts) == pytest.approx(2.1)  # the hull is what is left of the all-up mass
    centre = centre_of_mass(setup)
    by_hand = sum(p.mass_kg * p.place_m for p in parts) / 2.1
    assert centre.value == pytest.approx(by_hand)
    assert centre_of_mass(samples.setup()).value == pytest.approx(0.30 * 0.62)  # nothing placed: the usual guess


@given(st.floats(0.1, 0.4), st.floats(0.1, 0.4), st.floats(0.2, 0.8))
def test_moving_a_part_restores_the_centre(hull_at, pack_at, wanted_share):
    parts = (placement.PlacedPart(name="hull", mass_kg=1.4, place_m=hull_at),
             placement.PlacedPart(name="pack", mass_kg=0.6, place_m=pack_at))  # fmt: skip
    now, wanted = (1.4 * hull_at + 0.6 * pack_at) / 2.0, 0.1 + 0.3 * wanted_share
    shift = placement.shift_to_restore_m(2.0, 0.6, now, wanted)
    moved = (parts[0], placement.PlacedPart(name="pack", mass_kg=0.6, place_m=pack_at + shift))
    assert sum(p.mass_kg * p.place_m for p in moved) / 2.0 == pytest.approx(wanted)


def test_guesses_that_err_together_are_drawn_together():
    drawn = drive_values(samples.setup()).rows(4000, 5)
    for first, second, rho in TOGETHER:
        a, b = (np.log(drawn[name][1:]) for name in (first, second))
        assert np.corrcoef(a, b)[0, 1] == pytest.approx(rho, abs=0.05)


# switching


@pytest.mark.parametrize(("volts", "amps", "watts"), [(22.2, 100.0, 1.776), (44.4, 150.0, 5.328), (11.1, 40.0, 0.3552)])
def test_switching_is_half_u_i_t_f(volts, amps, watts):
    # 0.5 U I x 100 ns x 16 kHz, by hand
    assert electric.switching_loss_w(volts, amps, 0.6) == pytest.approx(watts)
    assert electric.switching_loss_w(volts, amps, 1.0) == 0.0  # only the commutation switches


def test_a_stage_that_switches_warms_at_part_throttle():
    """No water: at part throttle it warms more than its current squared, because a stage switches."""
    setup = with_controller(resistance=q(0.05, "mohm"), supply="separate")
    capped = next(c.circuit for c in cases(usual_circuit(), 16.0) if c.key == "cap")
    dry = cooling_table(capped, 20.0, 16.0)
    warm, amps, phase = [], [], []
    for mode, level in ((Mode.FULL, 0.0), (Mode.HOLD, 0.7)):
        duty = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=mode, seconds=20.0, level=level),))
        found = run_duty(setup, duty, cooling=dry)
        warm.append(found.temperature_c[0, -1, 2] - setup.conditions.air_c.value)
        amps.append(found.bus_current_a[0, -1])
        phase.append(amps[-1] / found.throttle[0, -1])
    assert amps[1] < amps[0]
    assert warm[1] / warm[0] > 1.15 * (phase[1] / phase[0]) ** 2


# a propeller out of balance


def shaking(condition):
    return samples.setup(propeller={**samples.MONO["propeller"], "condition": condition})


def test_what_one_blade_lacks_turns_with_its_force():
    # m r omega^2 by hand: 0.1 g at 0.7 R of 42 mm, at the forecast's rpm
    f = forecast(shaking("unbalanced"))
    said = next(d.finding for d in dangers_of(shaking("unbalanced"), f.point, f.curves) if isinstance(d.finding, Shake))
    force = 1e-4 * 0.7 * 0.021 * (f.point.rpm * 2 * math.pi / 60) ** 2
    assert said.force_n == pytest.approx(force, rel=1e-9)


@pytest.mark.parametrize(
    ("condition", "shakes"),
    [
        ("prepared", False),
        ("as_cast", False),
        ("dull", False),
        ("nicked", True),
        ("unbalanced", True),
    ],
)
def test_only_what_is_out_of_balance_is_a_danger(condition, shakes):
    setup = shaking(condition)
    f = forecast(setup)
    said = [d for d in dangers_of(setup, f.point, f.curves) if isinstance(d.finding, Shake)]
    assert bool(said) is shakes
    if said:
        assert said[0].verdict is not Verdict.HOLDS  # 14 N on a boat of 21 N


def test_out_of_balance_costs_a_little_and_a_nick_more():
    speeds = [forecast(shaking(c), 0).point.speed_mps for c in ("as_cast", "unbalanced", "nicked")]
    assert speeds[0] > speeds[1] > speeds[2]
    assert speeds[1] > 0.98 * speeds[0]
