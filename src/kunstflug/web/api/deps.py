"""What the routes share: the store, tags, keys of requests, JSON that is read strictly."""

import functools
import hashlib
import inspect
import json
from collections.abc import AsyncIterator, Callable, Coroutine
from typing import Annotated, Any

import pydantic_core
from fastapi import APIRouter, Depends, Header, Path, Query, Request, Response, params
from fastapi.datastructures import DefaultPlaceholder
from fastapi.routing import APIRoute
from pydantic import TypeAdapter
from starlette.concurrency import run_in_threadpool

from kunstflug.core.quantity.errors import StoreUnavailable
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.documents.water import CircuitIn
from kunstflug.services.learning import learning
from kunstflug.services.learning.learning import Lessons
from kunstflug.services.shared.aims import drawn_circuit
from kunstflug.services.shared.rows import RequestKey
from kunstflug.store.database import Store
from kunstflug.web.streams import Line
from kunstflug.wording import Tongue, Units


def _written(endpoint: Callable[..., Any], adapter: TypeAdapter[Any], status: int) -> Callable[..., Any]:
    """An endpoint whose answer is JSON already, with the headers that it set on the way."""

    def answer(made: Any, more: dict[str, Any]) -> Response:
        answered = Response(adapter.dump_json(made), status, media_type="application/json")
        beside = more.get("response")
        if isinstance(beside, Response):
            for name, value in beside.headers.items():
                if name == "set-cookie":
                    answered.headers.append(name, value)  # there may be several
                elif name != "content-length":
                    answered.headers[name] = value
        return answered

    @functools.wraps(endpoint)
    def written(*args: Any, **more: Any) -> Response:
        return answer(endpoint(*args, **more), more)

    @functools.wraps(endpoint)
    async def awaited(*args: Any, **more: Any) -> Response:
        return answer(await endpoint(*args, **more), more)

    return awaited if inspect.iscoroutinefunction(endpoint) else written


class StrictRequest(Request):
    """A request whose JSON is read by the letter: no NaN, no lone surrogates, no bottomless nesting."""

    async def json(self) -> Any:
        """The body."""
        if not hasattr(self, "_json"):
            body = await self.body()
            try:
                self._json = pydantic_core.from_json(body, allow_inf_nan=False)
            except ValueError as error:
                raise json.JSONDecodeError(str(error), body.decode("utf-8", "replace"), 0) from error
        return self._json


class StrictRoute(APIRoute):
    """A route that reads its JSON strictly, and writes what a use case gives without validating it once more.

    The framework would check our own dataclasses and models against themselves and copy them on the way, which takes
    longer than most use cases. A fuzz test holds every answer against its description instead.
    """

    def __init__(self, path: str, endpoint: Callable[..., Any], **more: Any) -> None:
        model = inspect.signature(endpoint).return_annotation
        told = more.get("response_model")
        plain = isinstance(model, type) and issubclass(model, Response)
        if model is not None and model is not inspect.Signature.empty and not plain:
            status = more.get("status_code") or 200
            endpoint = _written(endpoint, TypeAdapter(model), status)
            more["response_model"] = model if told is None or isinstance(told, DefaultPlaceholder) else told
        super().__init__(path, endpoint, **more)

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        """The handler, given requests that are read strictly."""
        handle = super().get_route_handler()

        async def strictly(request: Request) -> Response:
            return await handle(StrictRequest(request.scope, request.receive))

        return strictly


def routes_of(tag: str, *needs: params.Depends) -> APIRouter:
    """A place for the routes of one mark, as they stand in the application in the end.

    They are taken into it as they are: the framework's own way of including a router builds each route anew at the
    first request of every application.
    """
    return APIRouter(
        prefix="/api",
        tags=[tag],
        route_class=StrictRoute,
        dependencies=needs,
        generate_unique_id_function=lambda route: route.name,  # the operation ids of generated clients
    )


async def _store(request: Request) -> Store:  # not sync: that would cost a thread for a look at an attribute
    store: Store = request.app.state.store
    return store


StoreOf = Annotated[Store, Depends(_store)]


async def _line(request: Request) -> Line:
    line: Line = request.app.state.line
    return line


LineOf = Annotated[Line, Depends(_line)]


async def _tongue(
    units: Annotated[Units, Header(alias="Units", description="in which sentences are written")] = Units.METRIC,
) -> Tongue:
    return Tongue(units=units)


TongueOf = Annotated[Tongue, Depends(_tongue)]


async def _lessons(
    lessons: Annotated[
        str,
        Header(
            alias="Lessons",
            pattern=r"^(learnt|bought|first [0-9]{1,4})$",
            description="which runs count: *learnt* all, *bought* none, *first n* the racer's first n",
        ),
    ] = "learnt",
) -> Lessons:
    if lessons.startswith("first"):
        return Lessons(first=int(lessons.split()[1]))
    return Lessons(learnt=lessons != "bought")


LessonsOf = Annotated[Lessons, Depends(_lessons)]


BoatOf = Annotated[
    int | None,
    Query(
        ge=1,
        le=2**31 - 1,
        description="the boat that the document is of; left out for one that is not saved, "
        "which knows what the racer's other boats taught",
    ),
]


async def _known(
    store: StoreOf,
    lessons: LessonsOf,
    boat: BoatOf = None,
) -> Knowledge | None:
    # In memory it takes no time; else the log is read, which must not hold up all others.
    if not lessons.learnt or (learning.fresh(store) and lessons.first is None):
        return learning.knowledge_of(store, boat, lessons)
    try:
        return await run_in_threadpool(learning.knowledge_of, store, boat, lessons)
    except StoreUnavailable:
        # Nothing can be saved now, but a forecast can be made: with what was learnt last, which it names.
        return learning.knowledge_of(store, boat, lessons, remembered=True)


async def _water(store: StoreOf, boat: BoatOf = None) -> CircuitIn | None:
    return None if boat is None else await run_in_threadpool(drawn_circuit, store, boat)


WaterOf = Annotated[CircuitIn | None, Depends(_water)]
"""The water circuit that was drawn for the boat that a document is of: what cools it on every page."""

KnownOf = Annotated[Knowledge | None, Depends(_known)]
"""What runs taught of the boat that a document is of, for use cases that are given the document."""


async def _teaches(store: StoreOf) -> AsyncIterator[None]:
    yield
    learning.forget(store)


Teaches = Depends(_teaches, scope="function")
"""For routes that change what there is to learn from: the next forecast looks at the log again.

Done before the answer is sent: whoever has it may ask at once."""


def tongue_of(request: Request) -> Tongue:
    """The tongue of a request that may not have been understood."""
    asked = request.headers.get("units", "")
    return Tongue(units=Units(asked)) if asked in tuple(Units) else Tongue()


IfMatch = Annotated[
    str | None, Header(alias="If-Match", max_length=80, description="tag of the state that this changes; * for any")
]


async def _request_key(
    request: Request,
    idempotency_key: Annotated[
        str | None,
        Header(
            alias="Idempotency-Key",
            pattern=r"^[A-Za-z0-9_-]{8,80}$",
            description="sent again with the same key, a request makes nothing new and gives what it made",
        ),
    ] = None,
) -> RequestKey | None:
    if idempotency_key is None:
        return None
    digest = hashlib.sha256(f"{request.method} {request.url.path} ".encode())
    if request.headers.get("content-type", "").startswith("application/json"):
        digest.update(await request.body())
    else:
        digest.update(request.headers.get("content-length", "").encode())  # the body of an upload is read already
    return RequestKey(key=idempotency_key, digest=digest.hexdigest())


KeyOf = Annotated[RequestKey | None, Depends(_request_key)]

Id = Annotated[int, Path()]  # a number that no row has is not found, whatever it is
After = Annotated[int, Query(ge=0, le=2**31 - 1, description="the page after this id")]
Before = Annotated[str | None, Query(max_length=80, description="what the page before said as next")]


def set_tag(response: Response, tag: str) -> None:
    """Says the tag of what is answered."""
    response.headers["etag"] = f'"{tag}"'


def a_file(media_type: str) -> dict[int | str, dict[str, Any]]:
    """How a route that answers with a file is described."""
    return {200: {"content": {media_type: {"schema": {"type": "string", "format": "binary"}}}}}


def attachment(name: str) -> dict[str, str]:
    """Header for a file to keep."""
    return {"content-disposition": f'attachment; filename="{name}"'}
