"""The water circuit against fluids and ht, loop cases, limits and cases."""

import itertools
import math

import fluids
import ht
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples

from kunstflug.core.cooling import solve as solving
from kunstflug.core.cooling.circuit import Circuit, Intake, Line, Piece, PieceKind, check, no_water, usual_circuit
from kunstflug.core.cooling.solve import BEND_K, pickup_pressure_pa, solve
from kunstflug.core.cooling.stream import StreamLook, stream
from kunstflug.core.cooling.table import cooling_table, jacket_w_k
from kunstflug.core.cooling.whatif import cases, one_line, swap_order, two_lines
from kunstflug.core.laws.heat import WATER_J_KGK, gnielinski_nusselt, laminar_nusselt, nusselt
from kunstflug.core.laws.pipes import friction_churchill, ram_pressure_pa, wash_speed_mps
from kunstflug.core.laws.water import water_density_kg_m3, water_viscosity_pa_s
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.heat_forecast import heat_forecast

LPM = 6e4


def drop_pa(piece, flow_m3_s):
    return solving._drop(piece, flow_m3_s, solving._Water(20.0))


@pytest.mark.parametrize("reynolds", [50, 500, 2000, 3000, 5000, 1e4, 1e5, 1e6])
@pytest.mark.parametrize("roughness", [0.0, 1e-4, 1e-3, 1e-2])
def test_friction_is_churchills(reynolds, roughness):
    # fluids 1.3, live
    assert friction_churchill(reynolds, roughness) == pytest.approx(
        fluids.friction.Churchill_1977(reynolds, roughness), rel=1e-9
    )


def test_friction_at_one_point():
    # Re 1e4, e/D 0.001: Churchill .0326902 (fluids); laminar 64 / Re
    assert friction_churchill(1e4, 0.001) == pytest.approx(0.0326902, rel=1e-5)
    assert friction_churchill(800, 0.0) == pytest.approx(64 / 800, rel=1e-3)


@pytest.mark.parametrize(("litres", "pascal"), [(0.5, 2112), (1.0, 8176)])
def test_a_metre_of_4_mm_hose(litres, pascal):
    # fluids, Churchill, 20 degC
    hose = Piece(kind=PieceKind.HOSE, length_m=1.0)
    assert drop_pa(hose, litres / LPM) == pytest.approx(pascal, rel=0.002)


@pytest.mark.parametrize(("speed", "pascal"), [(10, 49910), (15, 112298), (20, 199641)])
def test_ram_pressure(speed, pascal):
    # half rho V^2 at 20 degC, identity
    assert ram_pressure_pa(speed, float(water_density_kg_m3(20.0))) == pytest.approx(pascal, rel=1e-4)


@pytest.mark.parametrize(
    ("bore", "litres", "length", "bends", "loss"),
    [(3e-3, 0.8, 0.4, 2, 1.0), (4e-3, 2.0, 0.7, 0, 0.0), (5e-3, 3.0, 0.2, 4, 3.0)],
)
def test_a_hose_with_bends_is_darcy_weisbach(bore, litres, length, bends, loss):
    # fluids: dP_from_K with Churchill's factor, live
    density, viscosity = float(water_density_kg_m3(20.0)), float(water_viscosity_pa_s(20.0))
    velocity = litres / LPM / (math.pi / 4 * bore**2)
    reynolds = fluids.Reynolds(V=velocity, D=bore, rho=density, mu=viscosity)
    k = fluids.K_from_f(fd=fluids.friction.Churchill_1977(reynolds, 0.0), L=length, D=bore) + loss + bends * BEND_K
    hose = Piece(kind=PieceKind.HOSE, bore_m=bore, length_m=length, bends=bends, loss=loss)
    assert drop_pa(hose, litres / LPM) == pytest.approx(fluids.dP_from_K(k, rho=density, V=velocity), rel=1e-6)


PICKUP = Piece(kind=PieceKind.PICKUP, loss=0.0, recovery=0.8)
OUT = Piece(kind=PieceKind.OUTLET, loss=0.0)
FIRST = Piece(kind=PieceKind.HOSE, bore_m=4e-3, length_m=0.5, loss=2.0)
THIN = Piece(kind=PieceKind.HOSE, bore_m=3e-3, length_m=0.4, loss=4.0)
LAST = Piece(kind=PieceKind.HOSE, bore_m=4e-3, length_m=0.4, loss=1.0)


@pytest.mark.parametrize(
    ("speed", "series", "parallel"), [(8, 0.85841, 1.40922), (12, 1.33744, 2.19904), (18, 2.07447, 3.41609)]
)
def test_loop_cases(speed, series, parallel):
    # a solver of our own on fluids' laws: recovery .8, 4 mm .5 m K2 + 3 mm .4 m K4 + 4 mm .4 m K1; and with a second
    # 3 mm branch and outlet in parallel after the common inlet
    one = Circuit(lines=(Line(pieces=(PICKUP, FIRST, THIN, LAST, OUT)),))
    assert solve(one, speed).places[0].flow_m3_s * LPM == pytest.approx(series, rel=1e-3)
    split = Piece(kind=PieceKind.Y, branches=((THIN, LAST, OUT), (THIN, LAST, OUT)), joins=False)
    two = Circuit(lines=(Line(pieces=(PICKUP, FIRST, split)),))
    solved = solve(two, speed)
    assert solved.places[0].flow_m3_s * LPM == pytest.approx(parallel, rel=1e-3)
    branches = [p.flow_m3_s for p in solved.places if len(p.path) == 4 and p.path[-1] == 0]
    assert sum(branches) == pytest.approx(solved.places[0].flow_m3_s, rel=1e-6)  # no water is lost


@pytest.mark.parametrize(("reynolds", "prandtl", "ratio"), [(1000, 7, 0.04), (500, 6, 0.01), (2000, 7, 0.1)])
def test_laminar_entry_is_hausens(reynolds, prandtl, ratio):
    # ht 1.2, live; Re 1000 Pr 7 D/L .04 gives 10.5568
    theirs = ht.conv_internal.laminar_entry_thermal_Hausen(Re=reynolds, Pr=prandtl, L=1.0, Di=ratio)
    assert laminar_nusselt(reynolds, prandtl, ratio) == pytest.approx(theirs, rel=1e-9)
    assert laminar_nusselt(1000, 7, 0.0) == pytest.approx(3.66)


@pytest.mark.parametrize(("reynolds", "number"), [(1e4, 79.493), (3000, 22.467)])
def test_turbulent_is_gnielinskis(reynolds, number):
    # ht, Gnielinski with Petukhov's friction
    assert gnielinski_nusselt(reynolds, 7) == pytest.approx(number, rel=1e-4)
    friction = (0.79 * math.log(reynolds) - 1.64) ** -2
    assert gnielinski_nusselt(reynolds, 7) == pytest.approx(
        ht.conv_internal.turbulent_Gnielinski(Re=reynolds, Pr=7, fd=friction), rel=1e-9
    )


@given(st.floats(10, 30000), st.floats(4, 12))
def test_nusselt_rises_without_a_jump(reynolds, prandtl):
    here, further = nusselt(reynolds, prandtl), nusselt(reynolds * 1.001, prandtl)
    assert here <= further * (1 + 1e-9)
    assert further - here < 0.02 * here + 1e-6


def test_water_warms_by_its_heat():
    # 150 W into 0.5 L/min: 4.31 K, identity
    one = Circuit(lines=(Line(pieces=(PICKUP, Piece(kind=PieceKind.MOTOR), OUT)),))
    speed = 6.0
    flow = solve(one, speed).flow_of(PieceKind.MOTOR)
    solved = solve(one, speed, heat_w={PieceKind.MOTOR: 150 * flow * LPM / 0.5})
    block = next(p for p in solved.places if p.kind is PieceKind.MOTOR)
    assert block.after_c - block.before_c == pytest.approx(4.31, rel=0.002)


def test_pressure_adds_up_to_the_pickups():
    solved = solve(usual_circuit(), 15.0)
    places = solved.places
    assert places[-1].after_pa == pytest.approx(0.0, abs=1.0)
    for one, other in itertools.pairwise(places):
        assert one.after_pa == pytest.approx(other.before_pa)
        assert one.after_pa <= one.before_pa


def test_a_join_mixes_the_water_and_keeps_it():
    split = Piece(
        kind=PieceKind.Y, joins=True,
        branches=((FIRST, Piece(kind=PieceKind.MOTOR)), (THIN, Piece(kind=PieceKind.CONTROLLER))),
    )  # fmt: skip
    ring = Circuit(lines=(Line(pieces=(PICKUP, split, LAST, OUT)),))
    solved = solve(ring, 12.0, heat_w={PieceKind.MOTOR: 200.0, PieceKind.CONTROLLER: 50.0})
    total = solved.places[0].flow_m3_s
    assert solved.flow_of(PieceKind.MOTOR) + solved.flow_of(PieceKind.CONTROLLER) == pytest.approx(total, rel=1e-6)
    out = next(p for p in solved.places if p.kind is PieceKind.OUTLET)
    density = float(water_density_kg_m3(20.0))
    assert (out.after_c - 20.0) * total * density * WATER_J_KGK == pytest.approx(250.0, rel=1e-6)


@given(st.floats(1, 40), st.floats(1, 40))
def test_faster_means_more_water(a, b):
    slow, fast = sorted((a, b))
    usual = usual_circuit()
    assert solve(usual, fast).places[0].flow_m3_s >= solve(usual, slow).places[0].flow_m3_s * (1 - 1e-9)


def test_wash_pumps_at_rest_and_ram_does_not():
    # momentum theory: 20 N on a 42 mm disc at rest push the water to sqrt(2 T / rho A)
    wash = wash_speed_mps(0.0, 20.0, 0.042, 998.2)
    assert wash == pytest.approx(math.sqrt(40 / (998.2 * math.pi / 4 * 0.042**2)))
    behind = Piece(kind=PieceKind.PICKUP, source=Intake.WASH)
    washed = Circuit(lines=(Line(pieces=(behind, *usual_circuit().lines[0].pieces[1:])),))
    assert solve(washed, 0.0, wash_mps=wash).places[0].flow_m3_s * LPM > 0.3
    assert solve(usual_circuit(), 0.0).places[0].flow_m3_s == 0


def test_cases_hurt_as_they_should():
    flows = {k.key: solve(k.circuit, 15.0, k.water_c).flow_of(PieceKind.MOTOR) for k in cases(usual_circuit(), 18.0)}
    assert flows["cap"] == 0
    assert flows["weed"] == pytest.approx(0.5 * flows["now"], rel=0.15)
    assert flows["kink"] < flows["now"]
    assert flows["two_lines"] > flows["now"]  # a line each: less in the way of each
    assert flows["controller_first"] == pytest.approx(flows["now"], rel=1e-9)
    hot = next(k for k in cases(usual_circuit(), 18.0) if k.key == "warm")
    assert hot.water_c == 28


def test_without_water_nothing_flows_and_the_usual_line_is_offered():
    none = next(k.circuit for k in cases(usual_circuit(), 18.0) if k.key == "no_water")
    check(none)
    table = cooling_table(none, 20.0, 18.0, wash_mps=6.0)
    assert set(table.motor_kg_s) == set(table.controller_kg_s) == {0.0}
    assert [k.key for k in cases(none, 18.0)] == ["now", "usual"]
    back = cases(none, 18.0)[1].circuit
    assert solve(back, 15.0).flow_of(PieceKind.MOTOR) == solve(usual_circuit(), 15.0).flow_of(PieceKind.MOTOR)


def test_a_jet_takes_its_water_from_its_own_pressure_at_rest_too():
    """Nine tenths of the dynamic pressure of the water that it drives, boat at rest or not."""
    keys = [k.key for k in cases(usual_circuit(), 18.0)]
    assert "by_jet" not in keys
    by_jet = next(k.circuit for k in cases(usual_circuit(), 18.0, jet=True) if k.key == "by_jet")
    pickup = by_jet.lines[0].pieces[0]
    assert pickup_pressure_pa(pickup, 0.0, 12.0, 998.0) == pytest.approx(0.9 * 998.0 * 12.0**2 / 2)
    assert solve(by_jet, 0.0, wash_mps=12.0).flow_of(PieceKind.MOTOR) > 0
    assert "by_jet" not in [k.key for k in cases(by_jet, 18.0, jet=True)]
    assert [k.key for k in cases(no_water(), 18.0, jet=True)] == ["now", "by_jet"]


def test_order_decides_who_gets_warm_water():
    heat = {PieceKind.MOTOR: 250.0, PieceKind.CONTROLLER: 20.0}
    usual = usual_circuit()
    swapped = swap_order(usual)
    assert swapped is not None
    motor_first, controller_first = (solve(x, 12.0, heat_w=heat) for x in (usual, swapped))
    assert motor_first.inlet_c(PieceKind.CONTROLLER) > controller_first.inlet_c(PieceKind.CONTROLLER)
    two = two_lines(usual)
    assert two is not None
    back = one_line(two)
    assert back is not None
    assert [p.kind for p in back.lines[0].pieces].count(PieceKind.MOTOR) == 1


def test_what_is_no_circuit_is_refused():
    for pieces in ((), (OUT,), (PICKUP, FIRST), (PICKUP, Piece(kind=PieceKind.HOSE, bore_m=0.1), OUT)):
        with pytest.raises(InvalidValue):
            solve(Circuit(lines=(Line(pieces=pieces),)), 10.0)
    with pytest.raises(InvalidValue):
        solve(Circuit(lines=()), 10.0)


def test_what_the_driver_sees():
    fast = stream(2.0 / LPM, 4e-3)
    # 2 L/min out of 4 mm: 2.65 m/s, from 5 cm up it flies 0.101 s, by hand
    assert fast.jet_mps == pytest.approx(2.653, rel=1e-3)
    assert fast.throw_m == pytest.approx(2.653 * math.sqrt(0.1 / 9.80665), rel=1e-3)
    assert stream(0.0, 4e-3).seen is StreamLook.NOTHING
    assert stream(0.2 / LPM, 4e-3).seen is StreamLook.DRIPS
    assert fast.seen is StreamLook.CLEAR


def test_a_jacket_cools_better_with_more_water_and_a_thinner_gap():
    some, more = (jacket_w_k(q / LPM, 36e-3, 45e-3, 1e-3) for q in (0.5, 2.0))
    assert more > some > 0
    assert jacket_w_k(0.5 / LPM, 36e-3, 45e-3, 0.5e-3) > some
    assert jacket_w_k(0.0, 36e-3, 45e-3, 1e-3) == 0
    # never more than what the water can carry
    assert some < 0.5 / LPM * 998.2 * WATER_J_KGK


def test_the_circuit_feeds_the_heat_of_a_duty():
    setup, duty = samples.setup(), passes_duty(3, 8, 15)
    plain = cooling_table(usual_circuit(), 30.0, 16.0)
    blocked = cooling_table(next(k.circuit for k in cases(usual_circuit(), 16.0) if k.key == "cap"), 30.0, 16.0)
    cool, hot = (heat_forecast(setup, duty, samples=0, cooling=t) for t in (plain, blocked))
    assert hot.limits[1].peak_c > cool.limits[1].peak_c + 3
    for found in (cool, hot):
        assert found.run.heat_in_j[0] == pytest.approx(found.run.heat_out_j[0] + found.run.heat_kept_j[0], rel=1e-3)
    behind = heat_forecast(setup, duty, samples=0, cooling=plain).middle_c[:, 2]
    swapped = swap_order(usual_circuit())
    assert swapped is not None
    ahead = heat_forecast(setup, duty, samples=0, cooling=cooling_table(swapped, 30.0, 16.0)).middle_c[:, 2]
    assert np.max(behind) > np.max(ahead)
