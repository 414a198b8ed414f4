"""Errors as problem details (RFC 9457); one map for the whole tree."""

import json
import logging
import math
import uuid
from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import Response
from pydantic import BaseModel, ConfigDict
from starlette.exceptions import HTTPException

from kunstflug.core.quantity.errors import (
    AlreadyThere,
    Changed,
    FieldProblem,
    FileTooLarge,
    InUse,
    InvalidDocument,
    InvalidValue,
    KunstflugError,
    MissingPackages,
    NoRoom,
    NotAllowed,
    NotFound,
    NotSignedIn,
    OnlyToLookAt,
    OwnersAlone,
    RestoreProblem,
    RunsAlready,
    StartupProblem,
    Stopped,
    StoreBusy,
    StoreUnavailable,
    TagMissing,
    TooOften,
    Unreachable,
    UnreadableFile,
)
from kunstflug.documents.base import field_problems
from kunstflug.files.reading import SeveralTracks, TrackChoice
from kunstflug.services.run.run import PartlyReadable
from kunstflug.web.api.deps import tongue_of
from kunstflug.web.guard import TOLD
from kunstflug.wording import METRIC, Tongue, say_error
from kunstflug.wording.errors import field_problems as field_problems_of

STATUS: dict[type[KunstflugError], tuple[int, str]] = {
    InvalidValue: (422, "impossible value"),
    InvalidDocument: (422, "impossible value"),
    PartlyReadable: (422, "partly readable"),
    SeveralTracks: (422, "several tracks"),
    FileTooLarge: (413, "too large"),
    UnreadableFile: (422, "unreadable file"),
    NotFound: (404, "not found"),
    Changed: (412, "changed elsewhere"),
    TagMissing: (428, "which state"),
    AlreadyThere: (409, "there already"),
    InUse: (409, "in use"),
    StoreBusy: (503, "database busy"),
    StoreUnavailable: (503, "database away"),
    Stopped: (409, "stopped"),
    Unreachable: (503, "nobody to compute"),
    MissingPackages: (503, "packages missing"),
    NotSignedIn: (401, "not signed in"),
    OnlyToLookAt: (403, "only to look at"),
    OwnersAlone: (403, "the owner's alone"),
    NotAllowed: (403, "not allowed"),
    TooOften: (429, "too often"),
    NoRoom: (413, "no room"),
    RestoreProblem: (422, "no backup"),
    RunsAlready: (500, "cannot start"),
    StartupProblem: (500, "cannot start"),
    KunstflugError: (500, "error"),
}
RETRY_S = 1

_log = logging.getLogger("kunstflug.web")


class FieldOut(BaseModel):
    """One field that is wrong."""

    field: str
    message: str


class DamageOut(BaseModel):
    """One place of a file that cannot be read."""

    line: int
    reason: str


class ProblemOut(BaseModel):
    """What went wrong (RFC 9457), with what each kind of problem says beside."""

    model_config = ConfigDict(extra="allow")

    type: str
    title: str
    status: int
    detail: str
    field: str | None = None
    value: str | float | bool | None = None
    allowed: str | None = None
    fields: list[FieldOut] | None = None
    line: int | None = None
    reason: str | None = None
    readable: int | None = None
    seconds: float | None = None
    broken: int | None = None
    damages: list[DamageOut] | None = None
    run_id: int | None = None
    tag: str | None = None
    current: dict[str, Any] | None = None


_DECLARED = {
    400: "Bad request",
    401: "Not signed in",
    403: "Not from here, or not allowed",
    404: "Not found",
    405: "Method not allowed",
    409: "There already, or in use",
    412: "Changed elsewhere",
    413: "Too large",
    415: "Unsupported",
    422: "Impossible value or unreadable file",
    428: "Which state is changed is not said",
    429: "Too often",
    500: "Fault of the program",
    503: "Database away",
}


def describe(description: dict[str, Any]) -> None:
    """Says in a description of the API what problems look like, each of them once; any operation may have them.

    Parameters
    ----------
    description : by OpenAPI, as the framework makes it; changed.
    """
    components = description["components"]
    schemas = components["schemas"]
    for framework in ("HTTPValidationError", "ValidationError"):  # what would be answered without ``install``
        schemas.pop(framework, None)
    made = ProblemOut.model_json_schema(ref_template="#/components/schemas/{model}")
    for told in made["properties"].values():
        told.pop("default", None)  # what a problem does not say is left out
    schemas |= made.pop("$defs") | {ProblemOut.__name__: made}
    components["schemas"] = dict(sorted(schemas.items()))
    looks = {"application/problem+json": {"schema": {"$ref": f"#/components/schemas/{ProblemOut.__name__}"}}}
    components["responses"] = {
        f"Problem{status}": {"description": words, "content": looks} for status, words in _DECLARED.items()
    }
    for path in description["paths"].values():
        for operation in path.values():
            operation["responses"] |= {
                str(status): {"$ref": f"#/components/responses/Problem{status}"} for status in _DECLARED
            }


class ProblemResponse(Response):
    """Problem details as ASCII JSON: whatever somebody sent can be told back."""

    media_type = "application/problem+json"

    def render(self, content: Any) -> bytes:
        """ASCII JSON."""
        return json.dumps(content, allow_nan=False).encode("ascii")


def _told(value: object) -> str | int | float | bool | None:
    """What was given, as it can be told in JSON."""
    if isinstance(value, bool | str) or value is None:
        return value
    if isinstance(value, int):
        return value if abs(value) < 2**53 else f"{value:.6g}" if abs(value) < 10**300 else "a very large number"
    if isinstance(value, float):
        return value if math.isfinite(value) else str(value)
    return str(value)[:200]


def _answer(status: int, title: str, detail: str, **more: Any) -> ProblemResponse:
    headers = {"retry-after": str(RETRY_S)} if status == 503 else None
    body = {"type": "about:blank", "title": title, "status": status, "detail": detail, **more}
    return ProblemResponse(body, status, headers=headers)


def problem(error: KunstflugError, tongue: Tongue = METRIC) -> ProblemResponse:
    """Response of an error of our own tree."""
    status, title = next(STATUS[cls] for cls in type(error).__mro__ if cls in STATUS)
    return _answer(status, title, say_error(error, tongue), **_beside(error, tongue))


def _beside(error: KunstflugError, tongue: Tongue) -> dict[str, Any]:
    match error:
        case InvalidValue() | InvalidDocument():
            return _fields(field_problems_of(error, tongue))
        case PartlyReadable():
            return {
                "line": error.line,
                "reason": error.reason,
                "readable": error.readable,
                "seconds": error.seconds,
                "broken": error.broken,
                "damages": [{"line": d.line, "reason": d.reason} for d in error.damages[:20]],
            }
        case SeveralTracks():
            return {"tracks": [_track(choice) for choice in error.choices]}
        case UnreadableFile():
            return {"line": error.line, "reason": error.reason}
        case Changed():
            return {"current": error.current, "tag": error.tag}
        case AlreadyThere():
            return {"run_id": error.run_id}
        case _:
            return {}


def _track(choice: TrackChoice) -> dict[str, Any]:
    known = math.isfinite(choice.start_unix_s)
    return {
        "name": choice.name,
        "samples": choice.samples,
        "seconds": round(choice.seconds, 1),
        "started_at": datetime.fromtimestamp(choice.start_unix_s, UTC).isoformat() if known else None,
    }


def _fields(fields: Sequence[FieldProblem]) -> dict[str, Any]:
    first = fields[0]
    return {
        "field": first.field,
        "value": _told(first.value),
        "allowed": first.allowed,
        "fields": [{"field": f.field, "message": f.allowed} for f in fields],
    }


def install(app: FastAPI) -> None:
    """Sets the handlers; a fault of our own is answered as one, never dressed up as something the racer did."""

    @app.exception_handler(Exception)
    def fault(request: Request, error: Exception) -> ProblemResponse:
        number = uuid.uuid4().hex[:12]
        _log.error("fault %s in %s %s", number, request.method, request.url.path, exc_info=error)
        request.scope[TOLD] = True
        detail = f"Something broke in the program. What you typed is kept; the log has it under {number}."
        return _answer(500, "fault of the program", detail)

    @app.exception_handler(KunstflugError)
    def own(request: Request, error: KunstflugError) -> ProblemResponse:
        return problem(error, tongue_of(request))

    @app.exception_handler(RequestValidationError)
    def invalid(request: Request, error: RequestValidationError) -> ProblemResponse:
        found = InvalidDocument(field_problems(list(error.errors())))
        return problem(found, tongue_of(request))

    @app.exception_handler(HTTPException)
    def http(_: Request, error: HTTPException) -> ProblemResponse:
        titles = {400: "bad request", 404: "not found", 405: "not allowed", 413: "too large"}
        title = titles.get(error.status_code, "refused")
        detail = "There is nothing at this address." if error.status_code == 404 else str(error.detail)
        answer = _answer(error.status_code, title, detail)
        answer.headers.update(error.headers or {})
        return answer
