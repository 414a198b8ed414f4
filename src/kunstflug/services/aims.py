"""What a boat is for, read into duty and schools, and its own water: one reading for all who judge by them."""

from typing import Any

from pydantic import ValidationError

from kunstflug.core.drive.schools import Schools
from kunstflug.documents.schools import DutyIn, SchoolsIn, judging
from kunstflug.documents.versions import aim_today
from kunstflug.documents.water import CircuitIn
from kunstflug.services.rows import owned, racer_of
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat


def duty_of(boat: Boat) -> DutyIn:
    """The duty of a boat; the usual one where nobody said."""
    return _duty_in(boat.aim)


def schools_of(boat: Boat) -> SchoolsIn:
    """The schools of a boat; the usual ones where nobody said."""
    return _schools_in(boat.aim)


def judging_of(boat: Boat) -> Schools:
    """What a boat is judged by, wherever: its schools, and the stint of its duty."""
    return judging_in(boat.aim)


def judging_in(aim: dict[str, Any] | None) -> Schools:
    """The same, of what a boat is for, as it is kept and as it stands in a boat document."""
    return judging(_schools_in(aim), _duty_in(aim))


def _duty_in(aim: dict[str, Any] | None) -> DutyIn:
    try:
        return DutyIn.model_validate(aim_today(aim or {}).get("duty") or {})
    except ValidationError:
        return DutyIn()


def _schools_in(aim: dict[str, Any] | None) -> SchoolsIn:
    try:
        return SchoolsIn.model_validate((aim or {}).get("schools") or {})
    except ValidationError:
        return SchoolsIn()


def circuit_of(boat: Boat) -> CircuitIn | None:
    """The water circuit that was drawn for a boat; None for none."""
    return CircuitIn.model_validate(boat.circuit) if boat.circuit else None


def drawn_circuit(store: Store, boat_id: int) -> CircuitIn | None:
    """The water circuit that was drawn for a boat; None for none.

    Raises
    ------
    NotFound : no such boat.
    """
    with store.transaction() as session:
        return circuit_of(owned(session, Boat, boat_id, racer_of(session)))
