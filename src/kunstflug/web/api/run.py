"""Run: files taken in, the pond, notes, the log, a run moved."""

from datetime import UTC
from typing import Annotated

from fastapi import APIRouter, File, Form, Response, UploadFile

from kunstflug.pond import Weather
from kunstflug.services import run, views
from kunstflug.web import schemas
from kunstflug.web.api.deps import Before, Id, IfMatch, KeyOf, StoreOf, StrictRoute, a_file, attachment, set_tag

router = APIRouter(tags=["run"], route_class=StrictRoute)


@router.get("/boats/{boat_id}/runs")
def runs(boat_id: Id, store: StoreOf, before: Before = None) -> views.Page[views.RunItem]:
    """Runs of a boat, newest first."""
    return run.runs(store, boat_id, before)


@router.post("/setups/{setup_id}/runs", status_code=201)
def import_run(
    setup_id: Id,
    store: StoreOf,
    key: KeyOf,
    file: Annotated[UploadFile, File()],
    accept_damage: Annotated[bool, Form()] = False,
) -> views.RunView:
    """A run from a GPX or NMEA file; the same file again is the run that it already is."""
    name = (file.filename or "track").encode("utf-8", "replace").decode()
    data = file.file.read()
    return run.import_track(store, setup_id, data, name, accept_damage=accept_damage, request=key)


@router.post("/setups/{setup_id}/runs/typed", status_code=201)
def type_run(setup_id: Id, body: schemas.TypedRunIn, store: StoreOf, key: KeyOf) -> views.RunView:
    """A run that left no file, to be typed in."""
    started = body.started_at
    if started is not None and started.tzinfo is not None:
        started = started.astimezone(UTC).replace(tzinfo=None)
    return run.type_run(store, setup_id, started, key)


@router.post("/setups/{setup_id}/simulate", status_code=201)
def simulate(setup_id: Id, body: schemas.SimulateIn, store: StoreOf, key: KeyOf) -> views.RunView:
    """A run on the simulated pond."""
    weather = Weather(water_c=body.water_c, air_c=body.air_c, wind_mps=body.wind_mps, wind_from_deg=body.wind_from_deg)
    return run.simulate(store, setup_id, body.seed, body.passes, weather, key)


@router.get("/runs/{run_id}")
def one_run(run_id: Id, store: StoreOf, response: Response) -> views.RunView:
    """A run."""
    found = run.run(store, run_id)
    set_tag(response, found.tag)
    return found


@router.patch("/runs/{run_id}")
def move_run(run_id: Id, body: schemas.MoveIn, store: StoreOf) -> views.RunView:
    """A run put to another setup."""
    return run.move_run(store, run_id, body.setup_id)


@router.get("/runs/{run_id}/track")
def track(run_id: Id, store: StoreOf) -> views.TrackView:
    """The cleaned track of a run, to draw."""
    return run.track(store, run_id)


@router.get("/runs/{run_id}/track.gpx", response_class=Response, responses=a_file("application/gpx+xml"))
def track_gpx(run_id: Id, store: StoreOf) -> Response:
    """The raw track of a run as GPX 1.1."""
    data = run.track_gpx(store, run_id)
    return Response(data, media_type="application/gpx+xml", headers=attachment(f"run-{run_id}.gpx"))


@router.post("/runs/{run_id}/controller-log")
def controller_log(
    run_id: Id,
    store: StoreOf,
    file: Annotated[UploadFile, File()],
    accept_damage: Annotated[bool, Form()] = False,
) -> views.RunView:
    """A controller log put to a run, in place of one that was there."""
    return run.add_log(store, run_id, file.file.read(), accept_damage=accept_damage)


@router.get("/runs/{run_id}/controller.csv", response_class=Response, responses=a_file("text/csv"))
def controller_csv(run_id: Id, store: StoreOf) -> Response:
    """The controller log of a run as CSV."""
    data = run.log_csv(store, run_id)
    return Response(data, media_type="text/csv; charset=utf-8", headers=attachment(f"run-{run_id}-controller.csv"))


@router.put("/runs/{run_id}/notes")
def notes(
    run_id: Id, body: schemas.NotesIn, store: StoreOf, response: Response, if_match: IfMatch = None
) -> views.RunView:
    """All that is written by hand on a run: conditions, note, what the boat did, gun readings, numbers off displays."""
    conditions = body.conditions.model_dump(mode="json", exclude_none=True)
    readings = [(r.place, r.typed.model_dump(mode="json", exclude_none=True), r.minutes_after) for r in body.readings]
    found = run.set_notes(store, run_id, conditions, body.note, body.observations, readings, if_match, typed=body.typed)
    set_tag(response, found.tag)
    return found
