"""Fit: joints, section, build list with its ticks, and the water circuit of a boat."""

import dataclasses
from typing import Any, Final

import numpy as np
from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert

from kunstflug.core import cooling
from kunstflug.core.cooling import PieceKind
from kunstflug.core.drive.duty import Duty, run_duty
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.operating_point import OperatingPoint
from kunstflug.core.drive.setup import Setup
from kunstflug.core.fit.build import build_list, first_power
from kunstflug.core.fit.joints import Fit, joints
from kunstflug.core.fit.section import section
from kunstflug.core.water import water_density_kg_m3
from kunstflug.formats.circuit_document import CircuitIn, SolvedOut, case_out, circuit_in, places_out, stream_out
from kunstflug.formats.fit_document import FitOut, joint_out, section_out, step_out
from kunstflug.formats.setup_document import setup_of
from kunstflug.services.changes import differences
from kunstflug.services.rows import check_tag, document_of, local_racer, owned, tag_of
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, SetupRow, SetupTick

WALKING_MPS: Final = 1.4
CAUTION: Final = (
    "What the driver sees at the outlet is the check that counts: no stream, come in. Caps off, before the water."
)


def fit_of(document: Any, before: Any | None, ticks: dict[str, bool]) -> FitOut:
    """Joints, drawing and lists of a setup document.

    Parameters
    ----------
    before : the document it came from, None for the first of a boat.
    """
    setup = setup_of(document)
    point = forecast(setup, 0).point
    rpm, amps = (float(v) if np.isfinite(v) else 0.0 for v in (point.rpm, point.current_a))
    found = joints(setup, rpm, amps, setup_of(before) if before is not None else None)
    changed = frozenset(d.part for d in differences(before, document)) if before is not None else frozenset[str]()
    return FitOut(
        joints=[joint_out(j) for j in found],
        section=section_out(section(setup, found)),
        build=[step_out(s, ticks) for s in build_list(setup, found)],
        swap=[step_out(s, ticks) for s in build_list(setup, found, changed)] if changed else [],
        changed=sorted(changed),
        first_power=[step_out(s, ticks) for s in first_power(setup)],
        clashes=sum(j.fit is Fit.CLASHES for j in found),
        needs=sum(j.fit is Fit.NEEDS for j in found),
        unknown=sum(j.fit is Fit.UNKNOWN for j in found),
    )


def fit(store: Store, setup_id: int) -> FitOut:
    """Fit of a saved setup against its parent."""
    with store.transaction() as session:
        row = owned(session, SetupRow, setup_id, local_racer(session))
        document = document_of(row)
        marks = select(SetupTick.step, SetupTick.done).where(SetupTick.setup_id == row.id)
        ticks = dict(session.execute(marks).all())
        parent = session.get(SetupRow, row.parent_id) if row.parent_id else None
        before = document_of(parent) if parent else None
    return fit_of(document, before, ticks)


@retried
def tick(store: Store, setup_id: int, step: str, done: bool) -> None:
    """Ticks a step off, or back; ticks of several people at once add up."""
    with store.transaction() as session:
        owner = local_racer(session)
        row = owned(session, SetupRow, setup_id, owner)
        mark = insert(SetupTick).values(setup_id=row.id, step=step[:60], owner_id=owner, done=done)
        session.execute(mark.on_duplicate_key_update(done=done))


def circuit(store: Store, boat_id: int) -> CircuitIn:
    """The circuit of a boat; a usual one where nobody drew any."""
    with store.transaction() as session:
        return _circuit_of(owned(session, Boat, boat_id, local_racer(session)).circuit)


def _circuit_of(raw: dict[str, Any] | None) -> CircuitIn:
    return CircuitIn.model_validate(raw) if raw else circuit_in(cooling.usual_circuit())


def circuit_tag(drawn: CircuitIn) -> str:
    """The tag of a circuit."""
    return tag_of(drawn.model_dump(mode="json"))


@retried
def set_circuit(store: Store, boat_id: int, drawn: CircuitIn, expected: str | None) -> None:
    """Keeps a circuit.

    Parameters
    ----------
    expected : tag of the circuit that this changes.

    Raises
    ------
    InvalidValue : what is drawn is no circuit.
    Changed, TagMissing : it is another by now, or nobody said which.
    """
    cooling.check(drawn.core())
    with store.transaction() as session:
        row = owned(session, Boat, boat_id, local_racer(session), lock=True)
        check_tag(expected, _circuit_of(row.circuit).model_dump(mode="json"), "the water circuit")
        row.circuit = drawn.model_dump(mode="json")


def cooling_of(
    setup: Setup, drawn: CircuitIn | None, point: OperatingPoint, reach: float = 1.0
) -> cooling.CoolingTable | None:
    """What a drawn circuit gives the blocks, for the heat through a duty; None for none drawn.

    Parameters
    ----------
    reach : how far past the point's speed the table goes [1], where faster drives are to be cooled by it.
    """
    if drawn is None:
        return None
    top = reach * (float(point.speed_mps) if np.isfinite(point.speed_mps) else 15.0)
    return cooling.cooling_table(drawn.core(), top, setup.conditions.water_c.value, _wash_gain(setup, point))


def _wash_gain(setup: Setup, point: OperatingPoint) -> float:
    """How much faster the water behind the propeller is than the boat, at full speed [m/s]."""
    if not np.isfinite(point.speed_mps):
        return 0.0
    density = float(water_density_kg_m3(setup.conditions.water_c.value))
    speed = float(point.speed_mps)
    return cooling.wash_speed_mps(speed, float(point.thrust_n), setup.propeller.diameter_m.value, density) - speed


def solve(document: Any, drawn: CircuitIn, duty: Duty) -> SolvedOut:
    """A circuit solved over speed with the setup's heat, its cases beside it."""
    setup = setup_of(document)
    point = forecast(setup, 0).point
    full = float(point.speed_mps) if np.isfinite(point.speed_mps) else 15.0
    wash = _wash_gain(setup, point)
    water_c = setup.conditions.water_c.value
    own = drawn.core()
    heat = {
        PieceKind.MOTOR: float(point.copper_loss_w) + float(point.no_load_loss_w),
        PieceKind.CONTROLLER: float(point.controller_loss_w),
    }
    heat = {k: v if np.isfinite(v) else 0.0 for k, v in heat.items()}
    speeds = np.linspace(0.0, full, 13)
    over = [cooling.solve(own, float(v), water_c, float(v) + wash) for v in speeds]
    at_full = cooling.solve(own, full, water_c, full + wash, heat)
    walking = cooling.solve(own, WALKING_MPS, water_c, WALKING_MPS + 0.3 * wash)
    rows = []
    for case in cooling.cases(own, water_c):
        solved = cooling.solve(case.circuit, full, case.water_c, full + wash, heat)
        warm = _with_water(setup, case.water_c)
        table = cooling.cooling_table(case.circuit, full, case.water_c, wash, 7)
        peaks = run_duty(warm, duty, step_s=0.1, stride=3, cooling=table).temperature_c[0].max(axis=0)
        seen = _stream(solved)
        rows.append(case_out(case, solved, float(peaks[1]), float(peaks[2]), seen.words))
    jacket = setup.jacket
    gap = (jacket.bore_m.value - setup.motor.can_diameter_m.value) / 2 if jacket.bore_m else 0.0
    return SolvedOut(
        circuit=drawn,
        full_mps=round(full, 3),
        places=places_out(at_full),
        speed_mps=np.round(speeds, 3).tolist(),
        motor_l_min=[round(s.flow_of(PieceKind.MOTOR) * 6e4, 3) for s in over],
        controller_l_min=[round(s.flow_of(PieceKind.CONTROLLER) * 6e4, 3) for s in over],
        walking=stream_out(WALKING_MPS, _stream(walking)),
        full=stream_out(full, _stream(at_full)),
        jacket_w_k=round(_jacket_w_k(setup, at_full, gap), 2) if gap > 0.05e-3 else None,
        cases=rows,
        caution=CAUTION,
    )


def _jacket_w_k(setup: Setup, solved: cooling.Solved, gap: float) -> float:
    long = setup.jacket.length_m.value if setup.jacket.length_m else 0.6 * setup.motor.can_length_m.value
    flow = solved.flow_of(PieceKind.MOTOR)
    return cooling.jacket_w_k(flow, setup.motor.can_diameter_m.value, long, gap, setup.conditions.water_c.value)


def _with_water(setup: Setup, celsius: float) -> Setup:
    water = dataclasses.replace(setup.conditions.water_c, value=celsius)
    return dataclasses.replace(setup, conditions=dataclasses.replace(setup.conditions, water_c=water))


def _stream(solved: cooling.Solved) -> cooling.Stream:
    """The weakest stream of all outlets: the one that tells of trouble."""
    outlets = [p for p in solved.places if p.kind is PieceKind.OUTLET]
    return min((cooling.stream(p.flow_m3_s, p.bore_m) for p in outlets), key=lambda s: s.jet_mps)
