"""The routes: thin, one call of a use case each."""

import math
import re
from typing import Annotated, Any

from fastapi import APIRouter, Depends, File, Form, Request, Response, UploadFile
from pydantic import TypeAdapter

from kunstflug import __version__
from kunstflug.core import bench, finders
from kunstflug.core.drive import MODEL_VERSION
from kunstflug.core.errors import NotFound, UnreadableFile
from kunstflug.core.matching.shelf import Bounds
from kunstflug.formats.circuit_document import CircuitIn, SolvedOut
from kunstflug.formats.fit_document import FitOut
from kunstflug.formats.forecast_document import ForecastOut
from kunstflug.formats.instrument_document import FinderFoundOut, FinderOut, InstrumentOut, finder_out, instrument_out
from kunstflug.formats.plan_document import BackwardOut, HeatOut, JobOut, MapOut, StepOut
from kunstflug.formats.setup_document import USUAL_CONDITIONS, SetupDocument, field_table, setup_of
from kunstflug.pond import Weather
from kunstflug.services import compare, fit, match, plan, prove, run, search, shelf, views
from kunstflug.services.changes import Change
from kunstflug.services.jobs import Jobs
from kunstflug.store.database import Store
from kunstflug.web import schemas

router = APIRouter(prefix="/api")


def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


StoreOf = Annotated[Store, Depends(_store)]


def _jobs(request: Request) -> Jobs:
    jobs: Jobs = request.app.state.jobs
    return jobs


JobsOf = Annotated[Jobs, Depends(_jobs)]


@router.get("/health")
def health(store: StoreOf) -> dict[str, Any]:
    """Whether the program and its database answer."""
    return {"version": __version__, "model": MODEL_VERSION, "database": store.answers()}


@router.get("/vocabulary")
def vocabulary() -> dict[str, Any]:
    """Fields of all parts with labels, units and ranges; words for conditions and the gun's order."""
    return {
        "fields": list(field_table()),
        "conditions": USUAL_CONDITIONS,
        "gun_order": list(run.GUN_ORDER),
        "water_states": list(run.WATER_STATES),
    }


# These two follow a slider: written straight to JSON, without the framework validating once more what we made.
_DRAFT = TypeAdapter(views.DraftView)


@router.post("/forecast", response_model=ForecastOut)
def forecast(document: SetupDocument) -> Response:
    """Forecast of a setup document; nothing is saved."""
    return Response(match.forecast_of(document).model_dump_json(), media_type="application/json")


@router.post("/draft", response_model=views.DraftView)
def draft(body: schemas.DraftIn) -> Response:
    """What a setup would do with some changes; nothing is saved."""
    changes = [Change(path=c.path, value=c.value) for c in body.changes]
    made = match.draft(body.document, changes, body.schools.core())
    return Response(_DRAFT.dump_json(made), media_type="application/json")


@router.post("/heat", response_model=HeatOut)
def heat(body: schemas.CooledIn) -> Response:
    """Temperatures of a setup through a duty, each node against its ceiling."""
    made = plan.heat(body.document, body.duty.core(), body.schools.core(), body.circuit)
    return Response(made.model_dump_json(), media_type="application/json")


@router.post("/next")
def next_steps(body: schemas.CooledIn, store: StoreOf) -> list[StepOut]:
    """All single changes from here, best first."""
    return plan.next_steps(store, body.document, body.duty.core(), body.schools.core(), body.circuit)


@router.post("/map")
def sweep_map(body: schemas.PlanIn) -> MapOut:
    """KV x propeller diameter about a setup."""
    return plan.sweep_map(body.document, body.schools.core())


@router.post("/backward")
def backward(body: schemas.WishIn) -> BackwardOut:
    """From a wanted speed back to the drive it takes."""
    most = body.most_mass_kg or math.inf
    locked = frozenset(body.locked)
    return plan.wish(body.document, body.wanted_mps, locked, body.schools.core(), body.least_minutes, most)


@router.post("/searches", status_code=202)
def start_search(body: schemas.SearchIn, store: StoreOf, jobs: JobsOf) -> JobOut:
    """Starts a large search; ask for it by its id."""
    if body.over == "ranges":
        search.ranges_for(setup_of(body.document), body.ranges)  # too large is refused before it waits in line
        return jobs.start(lambda heard: search.search_ranges(body.document, body.schools.core(), body.ranges, heard))
    bounds = Bounds(most_kg=body.most_mass_kg or math.inf, room_m=body.room_m or math.inf)
    budget = math.inf if body.budget is None else body.budget
    return jobs.start(
        lambda heard: search.search_shelf(store, body.document, body.schools.core(), body.kinds, bounds, budget, heard)
    )


@router.get("/searches/{job_id}")
def get_search(job_id: str, jobs: JobsOf) -> JobOut:
    """How far a search is, and its result."""
    return jobs.get(job_id)


@router.delete("/searches/{job_id}")
def stop_search(job_id: str, jobs: JobsOf) -> JobOut:
    """Stops a search."""
    return jobs.stop(job_id)


@router.get("/boats/{boat_id}/aim")
def aim(boat_id: int, store: StoreOf) -> schemas.AimIn:
    """What a boat is for."""
    return schemas.AimIn.model_validate(match.aim(store, boat_id))


@router.put("/boats/{boat_id}/aim")
def set_aim(boat_id: int, body: schemas.AimIn, store: StoreOf) -> schemas.AimIn:
    """Keeps what a boat is for."""
    match.set_aim(store, boat_id, body.model_dump(mode="json", exclude_none=True))
    return body


@router.get("/boats")
def boats(store: StoreOf) -> list[views.BoatView]:
    """All boats."""
    return match.boats(store)


@router.post("/boats", status_code=201)
def new_boat(body: schemas.BoatIn, store: StoreOf) -> views.SetupView:
    """A new boat with its first setup."""
    return match.new_boat(store, body.name, body.document)


@router.get("/boats/{boat_id}/setups")
def setups(boat_id: int, store: StoreOf) -> list[views.SetupView]:
    """All setups of a boat."""
    return match.setups(store, boat_id)


@router.get("/boats/{boat_id}/runs")
def runs(boat_id: int, store: StoreOf) -> list[views.RunView]:
    """All runs of a boat, newest first."""
    return run.runs(store, boat_id)


@router.get("/boats/{boat_id}/trail")
def trail(boat_id: int, store: StoreOf) -> views.TrailView:
    """The trail of a boat: setups, changes, forecast against measured."""
    return compare.trail(store, boat_id)


@router.get("/setups/{setup_id}")
def setup(setup_id: int, store: StoreOf) -> views.SetupView:
    """A setup."""
    return match.setup(store, setup_id)


@router.get("/setups/{setup_id}/document")
def document(setup_id: int, store: StoreOf, response: Response) -> SetupDocument:
    """The setup's document, as a file to keep."""
    found = match.setup(store, setup_id)
    response.headers["content-disposition"] = f'attachment; filename="{_file_name(found.name)}.setup.json"'
    return found.document


@router.post("/setups/{setup_id}/adopt", status_code=201)
def adopt(setup_id: int, body: schemas.AdoptIn, store: StoreOf) -> views.SetupView:
    """A changed document as a new setup below this one."""
    return match.adopt(store, setup_id, body.document, body.name, body.shelf)


@router.get("/parts")
def parts(store: StoreOf, kind: str | None = None) -> list[views.PartView]:
    """Parts on the shelf."""
    return match.parts(store, kind)


@router.post("/parts", status_code=201)
def add_part(body: schemas.PartIn, store: StoreOf) -> views.PartView:
    """A part put on the shelf."""
    return match.add_part(store, body.kind, body.document)


@router.post("/setups/{setup_id}/runs", status_code=201)
def import_run(
    setup_id: int,
    store: StoreOf,
    file: Annotated[UploadFile, File()],
    accept_damage: Annotated[bool, Form()] = False,
) -> views.RunView:
    """A run from a GPX or NMEA file."""
    name = file.filename or "track"
    return run.import_track(store, setup_id, file.file.read(), name, accept_damage=accept_damage)


@router.post("/setups/{setup_id}/simulate", status_code=201)
def simulate(setup_id: int, body: schemas.SimulateIn, store: StoreOf) -> views.RunView:
    """A run on the simulated pond."""
    weather = Weather(water_c=body.water_c, air_c=body.air_c, wind_mps=body.wind_mps, wind_from_deg=body.wind_from_deg)
    return run.simulate(store, setup_id, body.seed, body.passes, weather)


@router.get("/runs/{run_id}")
def one_run(run_id: int, store: StoreOf) -> views.RunView:
    """A run."""
    return run.run(store, run_id)


@router.get("/runs/{run_id}/track")
def track(run_id: int, store: StoreOf) -> views.TrackView:
    """The cleaned track of a run, to draw."""
    return run.track(store, run_id)


@router.get("/runs/{run_id}/track.gpx")
def track_gpx(run_id: int, store: StoreOf) -> Response:
    """The raw track of a run as GPX 1.1."""
    headers = {"content-disposition": f'attachment; filename="run-{run_id}.gpx"'}
    return Response(run.track_gpx(store, run_id), media_type="application/gpx+xml", headers=headers)


@router.post("/runs/{run_id}/controller-log")
def controller_log(
    run_id: int,
    store: StoreOf,
    file: Annotated[UploadFile, File()],
    accept_damage: Annotated[bool, Form()] = False,
) -> views.RunView:
    """A controller log put to a run."""
    return run.add_log(store, run_id, file.file.read(), accept_damage=accept_damage)


@router.put("/runs/{run_id}/readings")
def readings(run_id: int, body: list[schemas.ReadingIn], store: StoreOf) -> views.RunView:
    """All gun readings of a run."""
    rows = [(r.place, r.typed.model_dump(mode="json", exclude_none=True), r.minutes_after) for r in body]
    return run.set_readings(store, run_id, rows)


@router.put("/runs/{run_id}/notes")
def notes(run_id: int, body: schemas.NotesIn, store: StoreOf) -> views.RunView:
    """Conditions, note and observations of a run."""
    conditions = body.conditions.model_dump(mode="json", exclude_none=True)
    return run.set_notes(store, run_id, conditions, body.note, body.observations)


@router.get("/shelf")
def get_shelf(store: StoreOf, kind: str | None = None, words: str = "") -> list[views.ShelfPartView]:
    """Parts with their lives, found by kind and by words or sizes."""
    return shelf.shelf(store, kind, words)


@router.patch("/shelf/{part_id}")
def change_part(part_id: int, body: schemas.ShelfChangeIn, store: StoreOf) -> views.ShelfPartView:
    """A part with another state, price, number of pieces, note, or other sizes."""
    return shelf.change_part(store, part_id, body.model_dump(mode="json", exclude_unset=True))


@router.delete("/shelf/{part_id}", status_code=204)
def remove_part(part_id: int, store: StoreOf) -> None:
    """Takes a part off the shelf that no setup refers to."""
    shelf.remove_part(store, part_id)


@router.post("/shelf/{part_id}/events", status_code=201)
def add_event(part_id: int, body: schemas.EventIn, store: StoreOf) -> views.ShelfPartView:
    """Something that happened to a part."""
    return shelf.add_event(store, part_id, body.kind, body.words)


@router.post("/shelf/{part_id}/measured")
def write_measure(part_id: int, body: schemas.WriteIn, store: StoreOf) -> views.ShelfPartView:
    """Puts a measured value on a part."""
    return shelf.write_measure(store, part_id, body.path, body.value, body.sd)


@router.post("/compare")
def compare_parts(body: schemas.ComparedIn, store: StoreOf) -> list[views.CandidateView]:
    """Up to six parts in this boat, side by side."""
    return shelf.compare(store, body.document, body.parts, body.duty.core(), body.schools.core(), body.circuit)


@router.get("/shelf.csv")
def shelf_csv(store: StoreOf) -> Response:
    """The shelf as CSV."""
    headers = {"content-disposition": 'attachment; filename="shelf.csv"'}
    return Response(shelf.to_csv(store), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/shelf.csv", status_code=201)
def import_shelf(store: StoreOf, file: Annotated[UploadFile, File()]) -> list[views.ShelfPartView]:
    """Parts of a CSV put on the shelf: all of them, or none."""
    try:
        text = file.file.read(4_000_000).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise UnreadableFile("no UTF-8 text", None) from error
    return shelf.from_csv(store, text)


@router.get("/setups/{setup_id}/fit")
def get_fit(setup_id: int, store: StoreOf) -> FitOut:
    """Joints, drawing and build list of a setup against its parent."""
    return fit.fit(store, setup_id)


@router.post("/fit")
def try_fit(body: schemas.FitIn) -> FitOut:
    """The same of a document that is being tried."""
    return fit.fit_of(body.document, body.before, {})


@router.put("/setups/{setup_id}/ticks", status_code=204)
def tick(setup_id: int, body: schemas.TickIn, store: StoreOf) -> None:
    """Ticks a step of the build list off, or back."""
    fit.tick(store, setup_id, body.key, body.done)


@router.get("/boats/{boat_id}/circuit")
def get_circuit(boat_id: int, store: StoreOf) -> CircuitIn:
    """The water circuit of a boat; a usual one where nobody drew any."""
    return fit.circuit(store, boat_id)


@router.put("/boats/{boat_id}/circuit")
def set_circuit(boat_id: int, body: CircuitIn, store: StoreOf) -> CircuitIn:
    """Keeps a water circuit."""
    fit.set_circuit(store, boat_id, body)
    return body


@router.post("/circuit")
def solve_circuit(body: schemas.CircuitSolveIn) -> SolvedOut:
    """A circuit solved over speed with a setup's heat, its cases beside it."""
    return fit.solve(body.document, body.circuit, body.duty.core())


@router.get("/instruments")
def instruments() -> list[InstrumentOut]:
    """The bench instruments."""
    return [instrument_out(i) for i in bench.INSTRUMENTS]


@router.post("/instruments/{key}")
def use_instrument(key: str, body: schemas.MeasureIn) -> views.MeasuredResult:
    """What an instrument says of some readings."""
    return shelf.measure(key, body.readings, body.spreads)


@router.get("/finders")
def get_finders() -> list[FinderOut]:
    """The finders."""
    return [finder_out(f) for f in finders.FINDERS]


@router.post("/finders/{key}")
def use_finder(key: str, body: schemas.MeasureIn) -> list[FinderFoundOut]:
    """What a finder finds, best first."""
    finder = finders.BY_KEY.get(key)
    if finder is None:
        raise NotFound("finder", key)
    return [FinderFoundOut(name=f.name, words=f.words) for f in finders.find(finder, body.readings)]


@router.post("/tub")
def tub(body: schemas.TubIn) -> views.TubView:
    """A held-back test as it runs: curve, readings, seconds left, stop."""
    case = [(r.seconds, r.typed) for r in body.readings if r.place == "case"]
    return prove.tub(body.document, case, body.schools.core())


@router.post("/setups/{setup_id}/tub-tests", status_code=201)
def keep_tub(setup_id: int, body: schemas.KeepTubIn, store: StoreOf) -> views.TubTestView:
    """Keeps a held-back test."""
    rows = [r.model_dump(mode="json", exclude_none=True) for r in body.readings]
    return prove.keep_test(store, setup_id, body.document, rows, body.schools.core(), body.end, body.note)


@router.get("/setups/{setup_id}/tub-tests")
def tub_tests(setup_id: int, store: StoreOf) -> list[views.TubTestView]:
    """Held-back tests of a setup."""
    return prove.tests(store, setup_id)


def _file_name(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "setup"
