"""Live: a boat that is being driven, kept and told as server-sent events."""

import time
from collections.abc import AsyncIterator
from typing import Annotated, Final

from fastapi import Depends, Request
from starlette.concurrency import run_in_threadpool
from starlette.responses import StreamingResponse

from kunstflug.core.quantity.errors import KunstflugError, StoreUnavailable
from kunstflug.documents.live import DriveView, LiveOut, SourceIn
from kunstflug.services.live import drives
from kunstflug.services.live.listening import Ear
from kunstflug.web.api.deps import Id, KeyOf, StoreOf, routes_of
from kunstflug.web.who import STILL

router = routes_of("live")
STILL_EVERY_S: Final = 0.5


async def _ear(request: Request) -> Ear:
    ear: Ear = request.app.state.ear
    return ear


EarOf = Annotated[Ear, Depends(_ear)]


@router.post("/setups/{setup_id}/drives", status_code=201)
async def open_drive(setup_id: Id, body: SourceIn, store: StoreOf, key: KeyOf, ear: EarOf) -> DriveView:
    """A boat to be followed by its device: it is listened to from now on, whether somebody looks or not.

    What the same device told of before is ended.
    """
    opened = await run_in_threadpool(drives.open_drive, store, setup_id, body, key)
    for before in await run_in_threadpool(drives.of_device, store, SourceIn.model_validate(opened.source)):
        if before != opened.id:
            await ear.end(before)
    if opened.ended_at is None:
        await ear.begin(opened.id)
    return opened


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
async def follow_drive(drive_id: Id, request: Request, store: StoreOf, ear: EarOf) -> StreamingResponse:
    """What is said of a drive: an event of ``LiveOut`` up to 25 times a second, ``over`` at its end.

    A link that is taken back, a phone that is forgotten, a login that ends: the stream breaks off within a second.
    """
    await run_in_threadpool(drives.drive, store, drive_id)
    still = request.scope.get(STILL)

    async def events() -> AsyncIterator[str]:
        asked = time.monotonic()
        async for state in ear.follow(drive_id):
            if still is not None and time.monotonic() - asked > STILL_EVERY_S:
                try:
                    await run_in_threadpool(still)
                except StoreUnavailable:
                    pass  # nobody knows for now; it is asked again
                except KunstflugError:
                    return
                asked = time.monotonic()
            yield f"data: {state}\n\n"
        yield "event: over\ndata: 0\n\n"

    return StreamingResponse(
        events(), media_type="text/event-stream", headers={"x-accel-buffering": "no", "cache-control": "no-store"}
    )


@router.post("/drives/{drive_id}/end")
async def end_drive(drive_id: Id, ear: EarOf) -> DriveView:
    """The boat is out of the water: listens no more, and makes a run of what was kept."""
    return await ear.end(drive_id)
