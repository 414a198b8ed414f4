"""Live: a boat that is being driven, kept and told as server-sent events."""

from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import Depends, Request
from starlette.concurrency import run_in_threadpool
from starlette.responses import StreamingResponse

from kunstflug.documents.live import DriveView, LiveOut, SourceIn
from kunstflug.services import drives
from kunstflug.services.live import Ear
from kunstflug.web.api.deps import Id, KeyOf, StoreOf, routes_of

router = routes_of("live")


async def _ear(request: Request) -> Ear:
    ear: Ear = request.app.state.ear
    return ear


EarOf = Annotated[Ear, Depends(_ear)]


@router.post("/setups/{setup_id}/drives", status_code=201)
def open_drive(setup_id: Id, body: SourceIn, store: StoreOf, key: KeyOf) -> DriveView:
    """A boat to be followed by its device: listening begins when somebody looks, and goes on when nobody does."""
    return drives.open_drive(store, setup_id, body, key)


@router.get("/setups/{setup_id}/drives")
def list_drives(setup_id: Id, store: StoreOf) -> list[DriveView]:
    """The last drives of a setup, newest first."""
    return drives.drives(store, setup_id)


@router.get("/runs/{run_id}/drive")
def drive_of_run(run_id: Id, store: StoreOf) -> DriveView | None:
    """The drive that a run came of, with what each place should have read after landing; null for others."""
    return drives.drive_of_run(store, run_id)


@router.get("/drives/{drive_id}")
def one_drive(drive_id: Id, store: StoreOf) -> DriveView:
    """A drive."""
    return drives.drive(store, drive_id)


@router.get(
    "/drives/{drive_id}/live",
    responses={200: {"model": LiveOut, "content": {"text/event-stream": {"schema": {"type": "string"}}}}},
    response_class=StreamingResponse,
)
async def follow_drive(drive_id: Id, store: StoreOf, ear: EarOf) -> StreamingResponse:
    """What is said of a drive: an event of ``LiveOut`` up to 25 times a second, ``over`` at its end."""
    await run_in_threadpool(drives.drive, store, drive_id)

    async def events() -> AsyncIterator[str]:
        async for state in ear.follow(drive_id):
            yield f"data: {state}\n\n"
        yield "event: over\ndata: 0\n\n"

    return StreamingResponse(
        events(), media_type="text/event-stream", headers={"x-accel-buffering": "no", "cache-control": "no-store"}
    )


@router.post("/drives/{drive_id}/end")
async def end_drive(drive_id: Id, ear: EarOf) -> DriveView:
    """The boat is out of the water: listens no more, and makes a run of what was kept."""
    return await ear.end(drive_id)
