"""Live: what is said of a boat that is being driven, as server-sent events."""

from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Query
from starlette.concurrency import run_in_threadpool
from starlette.responses import StreamingResponse

from kunstflug.documents.live import LiveOut
from kunstflug.services import live
from kunstflug.web.api.deps import Id, Knows, StoreOf, StrictRoute

router = APIRouter(tags=["live"], route_class=StrictRoute, dependencies=[Knows])


@router.get(
    "/setups/{setup_id}/live",
    responses={200: {"model": LiveOut, "content": {"text/event-stream": {"schema": {"type": "string"}}}}},
    response_class=StreamingResponse,
)
async def follow_live(
    setup_id: Id, store: StoreOf, port: Annotated[int, Query(ge=1024, le=65535)] = 10110
) -> StreamingResponse:
    """Follows a device on loopback: an event of ``LiveOut`` ten times a second; ``gone`` where nobody answers."""
    begun = await run_in_threadpool(live.begin, store, setup_id)

    async def events() -> AsyncIterator[str]:
        try:
            async for state in live.follow(begun, port):
                yield f"data: {state.model_dump_json()}\n\n"
        except OSError:
            yield f"event: gone\ndata: {port}\n\n"

    return StreamingResponse(events(), media_type="text/event-stream", headers={"x-accel-buffering": "no"})
