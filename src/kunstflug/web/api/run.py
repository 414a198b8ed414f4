"""Run: files taken in, the pond, notes, the log, a run moved."""

from datetime import UTC
from typing import Annotated

from fastapi import File, Form, Query, Response, UploadFile

from kunstflug.documents.columns import CsvLookOut, CsvMapping
from kunstflug.pond import Weather
from kunstflug.services.run import csv_files, photo, run, simulated
from kunstflug.services.run import tracks as run_tracks
from kunstflug.services.shared import views
from kunstflug.web import schemas
from kunstflug.web.api.deps import (
    Before,
    Id,
    IfMatch,
    KeyOf,
    StoreOf,
    Teaches,
    a_file,
    attachment,
    routes_of,
    set_tag,
)

router = routes_of("run", Teaches)

Mapping = Annotated[str | None, Form(max_length=20_000, description="of a CSV file: a CsvMapping as JSON")]


@router.post("/csv/look")
def look_at_csv(
    store: StoreOf, file: Annotated[UploadFile, File()], setup_id: Annotated[int | None, Query()] = None
) -> CsvLookOut:
    """A CSV file at a glance: its first rows, and what its columns may be for a setup; nothing is saved."""
    return csv_files.look_at(store, file.file.read(), setup_id)


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
    track: Annotated[int | None, Form(ge=0, description="which of several tracks in the file")] = None,
    mapping: Mapping = None,
) -> views.RunView:
    """A run from a track file of any known kind, or a CSV with its mapping; the same file again is the same run."""
    name = (file.filename or "track").encode("utf-8", "replace").decode()
    data = file.file.read()
    if mapping is not None:
        said = CsvMapping.of_text(mapping)
        return csv_files.import_csv(store, setup_id, data, name, said, accept_damage=accept_damage, request=key)
    return run.import_track(store, setup_id, data, name, accept_damage=accept_damage, request=key, choice=track)


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
    return simulated.simulate(store, setup_id, body.seed, body.passes, weather, key)


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
    return run_tracks.track(store, run_id)


@router.get("/runs/{run_id}/track.gpx", response_class=Response, responses=a_file("application/gpx+xml"))
def track_gpx(run_id: Id, store: StoreOf) -> Response:
    """The raw track of a run as GPX 1.1."""
    data = run_tracks.track_gpx(store, run_id)
    return Response(data, media_type="application/gpx+xml", headers=attachment(f"run-{run_id}.gpx"))


@router.post("/runs/{run_id}/controller-log")
def controller_log(
    run_id: Id,
    store: StoreOf,
    file: Annotated[UploadFile, File()],
    accept_damage: Annotated[bool, Form()] = False,
    mapping: Mapping = None,
) -> views.RunView:
    """A controller log put to a run, in place of one that was there."""
    data = file.file.read()
    if mapping is not None:
        said = CsvMapping.of_text(mapping)
        return csv_files.add_csv_log(store, run_id, data, said, accept_damage=accept_damage)
    return run.add_log(store, run_id, data, accept_damage=accept_damage)


@router.put("/runs/{run_id}/photo", status_code=204)
def put_photo(run_id: Id, store: StoreOf, file: Annotated[UploadFile, File()]) -> None:
    """A picture put to a run; it is scaled, and what the camera wrote beside it (place, time) is left out."""
    photo.put(store, run_id, file.file.read())


@router.get("/runs/{run_id}/photo.jpg", response_class=Response, responses=a_file("image/jpeg"))
def get_photo(run_id: Id, store: StoreOf) -> Response:
    """The picture of a run."""
    return Response(photo.get(store, run_id), media_type="image/jpeg")


@router.delete("/runs/{run_id}/photo", status_code=204)
def drop_photo(run_id: Id, store: StoreOf) -> None:
    """Takes the picture off a run."""
    photo.drop(store, run_id)


@router.post("/runs/{run_id}/charge-log")
def charge_log(
    run_id: Id, store: StoreOf, file: Annotated[UploadFile, File()], mapping: Annotated[str, Form(max_length=20_000)]
) -> views.RunView:
    """A charger's log: charge put back and cells at rest, written down on a run."""
    return csv_files.add_charge(store, run_id, file.file.read(), CsvMapping.of_text(mapping))


@router.get("/runs/{run_id}/track.geojson", response_class=Response, responses=a_file("application/geo+json"))
def track_geojson(run_id: Id, store: StoreOf) -> Response:
    """The raw track of a run as GeoJSON."""
    data = run_tracks.track_geojson(store, run_id)
    return Response(data, media_type="application/geo+json", headers=attachment(f"run-{run_id}.geojson"))


@router.get("/runs/{run_id}/track.csv", response_class=Response, responses=a_file("text/csv"))
def track_csv(run_id: Id, store: StoreOf) -> Response:
    """The raw track of a run as CSV."""
    data = run_tracks.track_csv(store, run_id)
    return Response(data, media_type="text/csv; charset=utf-8", headers=attachment(f"run-{run_id}.csv"))


@router.get("/runs/{run_id}/controller.csv", response_class=Response, responses=a_file("text/csv"))
def controller_csv(run_id: Id, store: StoreOf) -> Response:
    """The controller log of a run as CSV."""
    data = run_tracks.log_csv(store, run_id)
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
