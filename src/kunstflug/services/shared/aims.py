"""What a boat is for, read into duty and schools, and its own water: one reading for all who judge by them."""

from kunstflug.core.drive.schools import Schools
from kunstflug.documents.schools import DutyIn, duty_in, judging_in
from kunstflug.documents.water import CircuitIn
from kunstflug.services.shared.rows import owned, racer_of
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat


def duty_of(boat: Boat) -> DutyIn:
    """The duty of a boat; the usual one where nobody said."""
    return duty_in(boat.aim)


def judging_of(boat: Boat) -> Schools:
    """What a boat is judged by, wherever: its schools, and the stint of its duty."""
    return judging_in(boat.aim)


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
