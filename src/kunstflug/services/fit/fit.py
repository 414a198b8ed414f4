"""Fit: joints, section, build list with its ticks, and the water circuit of a boat."""

from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert

from kunstflug.core.cooling.circuit import check, usual_circuit
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.fit.build import build_list, first_power
from kunstflug.core.fit.joint import Fit
from kunstflug.core.fit.joints import joints
from kunstflug.core.fit.section import section
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.thermal.boat_water import boat_water
from kunstflug.core.thermal.duty import Duty
from kunstflug.documents.fit import FitOut, joint_out, section_out, step_out
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.documents.water import CircuitIn, SolvedOut, circuit_in, solved_out
from kunstflug.services.learning.learning import ALL, Lessons, knowledge_of
from kunstflug.services.shared.aims import judging_of
from kunstflug.services.shared.changes import differences
from kunstflug.services.shared.rows import check_tag, document_of, owned, racer_of, tag_of
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, SetupRow, SetupTick
from kunstflug.wording import METRIC, Tongue


def fit_of(
    document: SetupDocument,
    before: SetupDocument | None,
    ticks: dict[str, bool],
    known: Knowledge | None,
    schools: Schools = USUAL,
    tongue: Tongue = METRIC,
) -> FitOut:
    """Joints, drawing and lists of a setup document.

    Parameters
    ----------
    before : the document it came from, None for the first of a boat.
    known : what runs taught of the boat.
    schools : what it is judged by, with the stint of its duty.
    """
    setup = setup_of(document, known)
    point = forecast(setup, 0).point
    rpm, amps = (float(v) if np.isfinite(v) else 0.0 for v in (point.rpm, point.current_a))
    found = joints(setup, rpm, amps, schools.stint, setup_of(before) if before is not None else None)
    changed = frozenset(d.part for d in differences(before, document)) if before is not None else frozenset[str]()
    return FitOut(
        joints=[joint_out(j, tongue) for j in found],
        section=section_out(section(setup, found), tongue),
        build=[step_out(s, ticks, tongue) for s in build_list(setup, found)],
        swap=[step_out(s, ticks, tongue) for s in build_list(setup, found, changed)] if changed else [],
        changed=sorted(changed),
        first_power=[step_out(s, ticks, tongue) for s in first_power(setup)],
        clashes=sum(j.fit is Fit.CLASHES for j in found),
        needs=sum(j.fit is Fit.NEEDS for j in found),
        unknown=sum(j.fit is Fit.UNKNOWN for j in found),
    )


def fit(store: Store, setup_id: int, lessons: Lessons = ALL, tongue: Tongue = METRIC) -> FitOut:
    """Fit of a saved setup against its parent."""
    with store.transaction() as session:
        row = owned(session, SetupRow, setup_id, racer_of(session))
        document, boat = document_of(row), owned(session, Boat, row.boat_id, racer_of(session))
        boat_id, schools = boat.id, judging_of(boat)
        marks = select(SetupTick.step, SetupTick.done).where(SetupTick.setup_id == row.id)
        ticks = dict(session.execute(marks).all())
        parent = session.get(SetupRow, row.parent_id) if row.parent_id else None
        before = document_of(parent) if parent else None
    return fit_of(document, before, ticks, knowledge_of(store, boat_id, lessons), schools, tongue)


@retried
def tick(store: Store, setup_id: int, step: str, done: bool) -> None:
    """Ticks a step off, or back; ticks of several people at once add up."""
    with store.transaction() as session:
        owner = racer_of(session)
        row = owned(session, SetupRow, setup_id, owner)
        mark = insert(SetupTick).values(setup_id=row.id, step=step[:60], owner_id=owner, done=done)
        session.execute(mark.on_duplicate_key_update(done=done))


def circuit(store: Store, boat_id: int) -> CircuitIn:
    """The circuit of a boat; a usual one where nobody drew any."""
    with store.transaction() as session:
        return _circuit_of(owned(session, Boat, boat_id, racer_of(session)).circuit)


def _circuit_of(raw: dict[str, Any] | None) -> CircuitIn:
    return CircuitIn.model_validate(raw) if raw else circuit_in(usual_circuit())


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
    check(drawn.core())
    with store.transaction() as session:
        row = owned(session, Boat, boat_id, racer_of(session), lock=True)
        check_tag(expected, _circuit_of(row.circuit).model_dump(mode="json"), "the water circuit")
        row.circuit = drawn.model_dump(mode="json")


def solve(
    document: SetupDocument, drawn: CircuitIn, duty: Duty, known: Knowledge | None, tongue: Tongue = METRIC
) -> SolvedOut:
    """A circuit solved over speed with the setup's heat, its cases beside it."""
    setup = setup_of(document, known)
    return solved_out(drawn, boat_water(setup, drawn.core(), duty, forecast(setup, 0).point), tongue)
