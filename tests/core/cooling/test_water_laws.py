"""The water circuit against what must hold in any: nothing is lost at a Y, heat is kept, more room is more water."""

import dataclasses
import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kunstflug.core.cooling.circuit import RECOVERY, Circuit, Intake, Line, Piece, PieceKind
from kunstflug.core.cooling.solve import Solved, _drop, _Water, pickup_pressure_pa, solve
from kunstflug.core.laws.heat import WATER_J_KGK
from kunstflug.core.laws.water import water_density_kg_m3

pytestmark = pytest.mark.no_cover  # many random ones: others count the lines, in a quarter of the time

BORE = st.floats(2e-3, 6e-3)
HOSE = st.builds(
    Piece, kind=st.just(PieceKind.HOSE), bore_m=BORE, length_m=st.floats(0.02, 0.8), bends=st.integers(0, 4)
)
BLOCK = st.builds(
    Piece, kind=st.sampled_from([PieceKind.MOTOR, PieceKind.CONTROLLER]), bore_m=BORE, loss=st.floats(0.5, 12)
)
ROW = st.lists(HOSE | BLOCK, min_size=1, max_size=4).map(tuple)
SPLIT = st.builds(lambda a, b: Piece(kind=PieceKind.Y, branches=(a, b)), ROW, ROW)
INSIDE = st.lists(HOSE | BLOCK | SPLIT, min_size=1, max_size=4).map(tuple)
SPEED = st.floats(2.0, 30.0)
FEW = settings(max_examples=15, deadline=None)
ENDS = (Piece(kind=PieceKind.PICKUP), Piece(kind=PieceKind.OUTLET))


def drop_pa(piece: Piece, flow_m3_s: float) -> float:
    """Pressure that a piece takes, found by a line that drives just that flow through it."""
    return _drop(piece, flow_m3_s, _Water(20.0))


def circuit(inside: tuple[Piece, ...]) -> Circuit:
    return Circuit(lines=(Line(pieces=(ENDS[0], *inside, ENDS[1])),))


def total_kg_s(solved: Solved) -> float:
    return sum(p.flow_m3_s for p in solved.places if p.kind is PieceKind.OUTLET) * float(water_density_kg_m3(20.0))


@FEW
@given(INSIDE, SPEED)
def test_nothing_is_lost_on_the_way(inside, speed):
    solved = solve(circuit(inside), speed)
    by_path = {p.path: p for p in solved.places}
    entering = by_path[(0, 0)].flow_m3_s
    assert entering > 0
    for path, place in by_path.items():
        if len(path) == 2:
            assert place.flow_m3_s == pytest.approx(entering, rel=1e-6)  # one row, one flow
            branches = [p.flow_m3_s for q, p in by_path.items() if len(q) == 4 and q[:2] == path and q[3] == 0]
            if branches:
                assert sum(branches) == pytest.approx(entering, rel=1e-6)


@FEW
@given(INSIDE, SPEED)
def test_pressure_only_falls_and_is_gone_at_the_outlet(inside, speed):
    places = [p for p in solve(circuit(inside), speed).places if len(p.path) == 2]
    for before, after in itertools.pairwise(places):
        assert after.before_pa == pytest.approx(before.after_pa, rel=1e-9)
        assert before.after_pa <= before.before_pa + 1e-6
    assert places[-1].after_pa == pytest.approx(0.0, abs=1e-3 * places[0].before_pa)


@FEW
@given(INSIDE, SPEED, st.floats(1, 400), st.floats(1, 100))
def test_all_heat_leaves_with_the_water(inside, speed, motor_w, controller_w):
    kinds = {p.kind for p in _all(inside)}
    heat = {k: w for k, w in ((PieceKind.MOTOR, motor_w), (PieceKind.CONTROLLER, controller_w)) if k in kinds}
    solved = solve(circuit(inside), speed, 20.0, heat_w=heat)
    out = next(p for p in solved.places if p.kind is PieceKind.OUTLET)
    carried = total_kg_s(solved) * WATER_J_KGK * (out.after_c - 20.0)
    assert carried == pytest.approx(sum(heat.values()), rel=1e-6, abs=1e-6)


def _all(row):
    for piece in row:
        yield piece
        for branch in piece.branches:
            yield from _all(branch)


@FEW
@given(INSIDE, SPEED)
def test_the_order_of_a_row_changes_no_flow(inside, speed):
    there = total_kg_s(solve(circuit(inside), speed))
    back = total_kg_s(solve(circuit(tuple(reversed(inside))), speed))
    assert back == pytest.approx(there, rel=1e-6)


@FEW
@given(INSIDE, SPEED, st.floats(1.05, 2.0))
def test_wider_is_more(inside, speed, factor):
    def widened(row):
        return tuple(
            dataclasses.replace(p, bore_m=p.bore_m * factor, branches=tuple(widened(b) for b in p.branches))
            for p in row
        )

    assert total_kg_s(solve(circuit(widened(inside)), speed)) >= total_kg_s(solve(circuit(inside), speed))


@FEW
@given(st.lists(BLOCK, min_size=1, max_size=4).map(tuple), st.floats(2.0, 15.0))
def test_where_only_jets_are_lost_flow_goes_with_speed(inside, speed):
    # losses and ram pressure both with the square: identity
    slow, fast = (total_kg_s(solve(circuit(inside), v)) for v in (speed, 2 * speed))
    assert fast == pytest.approx(2 * slow, rel=1e-6)


def test_slow_flow_in_a_thin_hose_goes_with_pressure():
    # Hagen and Poiseuille: q = pi d^4 dp / (128 mu L), Re 240
    hose = Piece(kind=PieceKind.HOSE, bore_m=1e-3, length_m=1.0)
    mu, flow = 1.0016e-3, 1.9e-7  # water at 20 degC [coolprop]
    assert drop_pa(hose, flow) == pytest.approx(128 * mu * 1.0 * flow / (math.pi * 1e-12), rel=2e-3)


@FEW
@given(ROW, ROW, SPEED)
def test_branches_share_one_drop(a, b, speed):
    split = Piece(kind=PieceKind.Y, branches=(a, b))
    solved = solve(circuit((split,)), speed)
    flows = {p.path[2]: p.flow_m3_s for p in solved.places if len(p.path) == 4 and p.path[3] == 0}
    drops = [sum(drop_pa(piece, flows[k]) for piece in row) for k, row in enumerate((a, b))]
    assert drops[0] == pytest.approx(drops[1], rel=1e-4)


@FEW
@given(ROW, SPEED)
def test_two_same_branches_take_half_each(row, speed):
    solved = solve(circuit((Piece(kind=PieceKind.Y, branches=(row, row)),)), speed)
    flows = [p.flow_m3_s for p in solved.places if len(p.path) == 4 and p.path[3] == 0]
    assert flows[0] == pytest.approx(flows[1], rel=1e-6)


@pytest.mark.parametrize("open_part", [0.9, 0.5, 0.25, 0.12])
def test_a_narrowed_passage_loses_the_jet(open_part):
    # Borda and Carnot: (1/a - 1)^2 heads of the free speed more, by definition
    free = Piece(kind=PieceKind.HOSE, bore_m=4e-3, length_m=0.0)
    shut = dataclasses.replace(free, open_part=open_part)
    flow = 1e-5
    head = 0.5 * float(water_density_kg_m3(20.0)) * (flow / (math.pi / 4 * 4e-3**2)) ** 2
    more = drop_pa(shut, flow) - drop_pa(free, flow)
    assert more == pytest.approx((1 / open_part - 1) ** 2 * head, rel=1e-6)


@pytest.mark.parametrize("open_part", [0.0, 5e-324, 1e-200, 1e-5])
def test_a_shut_branch_leaves_all_to_the_other(open_part):
    hose = Piece(kind=PieceKind.HOSE, length_m=0.2)
    shut = dataclasses.replace(hose, open_part=open_part)
    alone = total_kg_s(solve(circuit((Piece(kind=PieceKind.Y, branches=((hose,), (shut,))),)), 15.0))
    straight = total_kg_s(solve(circuit((hose,)), 15.0))
    assert alone == pytest.approx(straight, rel=1e-5)


@pytest.mark.parametrize("kind", list(Intake))
def test_recovery_can_be_set(kind):
    # half the recovery, half the pressure
    usual = Piece(kind=PieceKind.PICKUP, source=kind)
    half = dataclasses.replace(usual, recovery=RECOVERY[kind] / 2)
    a, b = (pickup_pressure_pa(p, 12.0, 20.0, 998.2) for p in (usual, half))
    assert b == pytest.approx(a / 2)
    # the wash is the water behind the propeller, the others the boat's speed
    v = 20.0 if kind in (Intake.WASH, Intake.JET) else 12.0
    assert a == pytest.approx(RECOVERY[kind] * 0.5 * 998.2 * v**2)
