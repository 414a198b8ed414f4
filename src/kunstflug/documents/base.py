"""What all documents share."""

import math
from collections.abc import Sequence
from typing import Annotated, Any, Final, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, ValidationError

from kunstflug.core.quantity.errors import FieldProblem, InvalidDocument

MOST_PROBLEMS: Final = 20
_NO_FIELDS: Final = ("body", "document", "value", "query", "path")


class Strict(BaseModel):
    """Base of what is read: unknown fields and NaN are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Out(BaseModel):
    """Base of what is only written."""

    model_config = ConfigDict(extra="forbid")


class LongAnswer(Out):
    """One line of a long answer: how far the work is. Each work's own has its ``result``, on the last line."""

    state: Literal["waiting", "running", "done", "failed"]
    done: int
    total: int
    problem: str = ""


def _finite(value: float | None) -> float | None:
    return value if value is not None and math.isfinite(value) else None


Maybe = Annotated[float | None, AfterValidator(_finite)]
"""A number; null where there is none."""


def field_problems(errors: Sequence[Any], root: str = "") -> list[FieldProblem]:
    """Validation errors with the fields named as the documents name them."""
    found = []
    for error in errors[:MOST_PROBLEMS]:
        words = [root, *(str(p) for p in error["loc"] if p not in _NO_FIELDS and not isinstance(p, int))]
        given = error.get("input")
        found.append(
            FieldProblem(
                field=".".join(w for w in words if w) or "request",
                value=given if isinstance(given, str | int | float | bool) else None,
                allowed=_plain(str(error["msg"])),
            )
        )
    return found


def _plain(message: str) -> str:
    """A validator's message as a clause."""
    text = message.removeprefix("Value error, ").removeprefix("Input ")
    if text.startswith("JSON decode error"):
        return "this is not JSON"
    return text if text[:2].isupper() else text[:1].lower() + text[1:]


def parsed(model: type[BaseModel], raw: object, root: str) -> Any:
    """A document of raw JSON that somebody sent.

    Raises
    ------
    InvalidDocument : it is none.
    """
    try:
        return model.model_validate(raw)
    except ValidationError as error:
        raise InvalidDocument(field_problems(error.errors(), root)) from error


def rounded(value: float, figures: int = 6) -> float | None:
    """A number of some figures for JSON; None for NaN."""
    return float(f"{value:.{figures}g}") if math.isfinite(value) else None


def sure(value: float, figures: int = 6) -> float:
    """A number of some figures for JSON; 0 for NaN."""
    return float(f"{value:.{figures}g}") if math.isfinite(value) else 0.0
