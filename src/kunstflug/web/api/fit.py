"""Fit: joints, build list, water, the tub test."""

from fastapi import Response

from kunstflug.documents.fit import FitOut
from kunstflug.documents.water import CircuitIn, SolvedOut
from kunstflug.services.fit import fit, prove
from kunstflug.services.shared import views
from kunstflug.web import schemas
from kunstflug.web.api.deps import Id, IfMatch, KeyOf, KnownOf, LessonsOf, StoreOf, TongueOf, routes_of, set_tag

router = routes_of("fit")


@router.get("/setups/{setup_id}/fit")
def get_fit(setup_id: Id, store: StoreOf, lessons: LessonsOf, tongue: TongueOf) -> FitOut:
    """Joints, drawing and build list of a setup against its parent."""
    return fit.fit(store, setup_id, lessons, tongue)


@router.post("/fit")
def try_fit(body: schemas.FitIn, known: KnownOf, tongue: TongueOf) -> FitOut:
    """The same of a document that is being tried."""
    return fit.fit_of(body.document, body.before, {}, known, body.judging(), tongue)


@router.put("/setups/{setup_id}/ticks", status_code=204)
def tick(setup_id: Id, body: schemas.TickIn, store: StoreOf) -> None:
    """Ticks a step of the build list off, or back."""
    fit.tick(store, setup_id, body.key, body.done)


@router.get("/boats/{boat_id}/circuit")
def get_circuit(boat_id: Id, store: StoreOf, response: Response) -> CircuitIn:
    """The water circuit of a boat; a usual one where nobody drew any. The tag stands in the ETag."""
    found = fit.circuit(store, boat_id)
    set_tag(response, fit.circuit_tag(found))
    return found


@router.put("/boats/{boat_id}/circuit")
def set_circuit(
    boat_id: Id, body: CircuitIn, store: StoreOf, response: Response, if_match: IfMatch = None
) -> CircuitIn:
    """Keeps a water circuit."""
    fit.set_circuit(store, boat_id, body, if_match)
    set_tag(response, fit.circuit_tag(body))
    return body


@router.post("/circuit")
def solve_circuit(body: schemas.CircuitSolveIn, known: KnownOf, tongue: TongueOf) -> SolvedOut:
    """A circuit solved over speed with a setup's heat, its cases beside it."""
    return fit.solve(body.document, body.circuit, body.duty.core(), known, tongue)


@router.post("/tub")
def tub(body: schemas.TubIn, known: KnownOf, tongue: TongueOf) -> views.TubView:
    """A tub test as it runs: curve, readings, seconds left, stop."""
    case = [(r.seconds, r.typed) for r in body.readings if r.place == "case"]
    return prove.tub(body.document, case, body.schools.core(), known, tongue)


@router.post("/setups/{setup_id}/tub-tests", status_code=201)
def keep_tub(setup_id: Id, body: schemas.KeepTubIn, store: StoreOf, key: KeyOf) -> views.TubTestView:
    """Keeps a tub test."""
    rows = [r.model_dump(mode="json", exclude_none=True) for r in body.readings]
    return prove.keep_test(store, setup_id, body.document, rows, body.schools.core(), body.end, body.note, key)


@router.get("/setups/{setup_id}/tub-tests")
def tub_tests(setup_id: Id, store: StoreOf) -> list[views.TubTestView]:
    """Tub tests of a setup."""
    return prove.tests(store, setup_id)
