"""What a boat is for, read into duty and schools, and its own water: one reading for all who judge by them."""

from pydantic import ValidationError

from kunstflug.documents.schools import DutyIn, SchoolsIn
from kunstflug.documents.versions import aim_today
from kunstflug.documents.water import CircuitIn
from kunstflug.store.tables import Boat


def duty_of(boat: Boat) -> DutyIn:
    """The duty of a boat; the usual one where nobody said."""
    try:
        return DutyIn.model_validate(aim_today(boat.aim or {}).get("duty") or {})
    except ValidationError:
        return DutyIn()


def schools_of(boat: Boat) -> SchoolsIn:
    """The schools of a boat; the usual ones where nobody said."""
    try:
        return SchoolsIn.model_validate((boat.aim or {}).get("schools") or {})
    except ValidationError:
        return SchoolsIn()


def circuit_of(boat: Boat) -> CircuitIn | None:
    """The water circuit that was drawn for a boat; None for none."""
    return CircuitIn.model_validate(boat.circuit) if boat.circuit else None
