"""Errors as problem details (RFC 9457); one map for the whole tree."""

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import ValidationError

from kunstflug.core.errors import (
    FileTooLarge,
    InvalidValue,
    KunstflugError,
    NotFound,
    StartupProblem,
    Stopped,
    StoreUnavailable,
    UnreadableFile,
)
from kunstflug.services.run import PartlyReadable

STATUS: dict[type[KunstflugError], tuple[int, str]] = {
    InvalidValue: (422, "impossible value"),
    PartlyReadable: (422, "partly readable"),
    FileTooLarge: (413, "too large"),
    UnreadableFile: (422, "unreadable file"),
    NotFound: (404, "not found"),
    StoreUnavailable: (503, "database away"),
    Stopped: (409, "stopped"),
    StartupProblem: (500, "cannot start"),
    KunstflugError: (500, "error"),
}


def problem(error: KunstflugError) -> JSONResponse:
    """Response of an error of our own tree."""
    status, title = next(STATUS[cls] for cls in type(error).__mro__ if cls in STATUS)
    body: dict[str, Any] = {"type": "about:blank", "title": title, "status": status, "detail": str(error)}
    if isinstance(error, InvalidValue):
        body |= {"field": error.field, "value": str(error.value), "allowed": error.allowed}
    if isinstance(error, UnreadableFile):
        body |= {"line": error.line, "reason": error.reason}
    if isinstance(error, PartlyReadable):
        body |= {
            "readable": error.readable,
            "seconds": error.seconds,
            "broken": error.broken,
            "damages": [{"line": d.line, "reason": d.reason} for d in error.damages[:20]],
        }
    return JSONResponse(body, status, media_type="application/problem+json")


def _field(location: tuple[Any, ...]) -> str:
    """Dotted field of a validation error, as the documents name it."""
    words = [
        str(p) for p in location if p not in ("body", "document", "value", "query", "path") and not isinstance(p, int)
    ]
    return ".".join(words) or "request"


def _invalid(errors: list[Any]) -> JSONResponse:
    first = errors[0]
    fields = [{"field": _field(e["loc"]), "message": e["msg"]} for e in errors[:20]]
    given = first.get("input")
    body = {
        "type": "about:blank",
        "title": "impossible value",
        "status": 422,
        "detail": f"{fields[0]['field']}: {first['msg']}",
        "field": fields[0]["field"],
        "value": given if isinstance(given, str | int | float | bool) else None,
        "allowed": first["msg"],
        "fields": fields,
    }
    return JSONResponse(body, 422, media_type="application/problem+json")


def install(app: FastAPI) -> None:
    """Sets the handlers."""

    @app.exception_handler(KunstflugError)
    def own(_: Request, error: KunstflugError) -> JSONResponse:
        return problem(error)

    @app.exception_handler(RequestValidationError)
    def request(_: Request, error: RequestValidationError) -> JSONResponse:
        return _invalid(list(error.errors()))

    @app.exception_handler(ValidationError)
    def document(_: Request, error: ValidationError) -> JSONResponse:
        return _invalid(error.errors())
