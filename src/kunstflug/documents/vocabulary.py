"""The field vocabulary as JSON: what forms are made from."""

import dataclasses
from functools import cache
from typing import Literal

from pydantic import Field

from kunstflug.core.quantity.fields import CountSpec, Part, QuantitySpec, Spec, field_key, fields_of
from kunstflug.core.quantity.units import UNITS, Dimension, number_in
from kunstflug.documents.base import Out
from kunstflug.documents.setup import ALL_PARTS, PARTS, SHELF_PARTS
from kunstflug.wording.fields import FIELDS, KINDS, option
from kunstflug.wording.tongue import METRIC, SYMBOLS, Tongue


class OptionOut(Out):
    """One word of a choice."""

    value: str
    label: str


class FieldRow(Out):
    """One field of a part: what it is called, measured in, and may be; low and high in its usual unit."""

    part: str
    key: str
    label: str
    help: str
    type: Literal["quantity", "count", "choice"]
    required: bool
    estimated: bool = Field(description="whether something stands in where it is empty; else there is none")
    dimension: str | None = None
    unit: str | None = None
    low: float | None = None
    high: float | None = None
    default: str | int | None = None
    options: list[OptionOut] | None = None


class KindOut(Out):
    """One kind of part."""

    kind: str
    label: str
    shelf: bool
    place: bool


class Vocabulary(Out):
    """Everything that forms are made from."""

    kinds: list[KindOut]
    fields: list[FieldRow]


class UnitOut(Out):
    """One unit: ``si = (number + offset) * factor``."""

    unit: str
    symbol: str
    factor: float
    offset: float


def units() -> dict[str, list[UnitOut]]:
    """Units of every dimension, the core's own first: the front end's table is generated from this."""
    return {
        dimension.value: [
            UnitOut(unit=name, symbol=SYMBOLS.get(name, name), factor=u.factor, offset=u.offset)
            for name, u in UNITS[dimension].items()
        ]
        for dimension in Dimension
    }


@cache
def vocabulary(tongue: Tongue = METRIC) -> Vocabulary:
    """Every kind of part and every field."""
    kinds = [
        KindOut(kind=kind, label=KINDS[kind], shelf=kind in SHELF_PARTS, place=kind in PARTS) for kind in ALL_PARTS
    ]
    rows = [_row(kind, part, name, spec, tongue) for kind, part in ALL_PARTS.items() for name, spec in fields_of(part)]
    return Vocabulary(kinds=kinds, fields=rows)


def _empty(spec: QuantitySpec | CountSpec, kind: str) -> dict[str, bool]:
    """What an empty field means: whether it may be, and whether something stands in for it."""
    return {"required": spec.required, "estimated": spec.estimated and kind in PARTS}


def _row(kind: str, part: type[Part], name: str, spec: Spec, tongue: Tongue) -> FieldRow:
    key = field_key(name, spec)
    words, default = FIELDS[kind][key], {f.name: f.default for f in dataclasses.fields(part)}[name]
    row = FieldRow(
        part=kind, key=key, label=words.label, help=words.help, type="choice", required=False, estimated=True
    )
    if isinstance(spec, QuantitySpec):
        low, high = (float(f"{number_in(v, spec.unit, spec.dimension):.6g}") for v in (spec.low, spec.high))
        update = {"type": "quantity", "dimension": spec.dimension.value, "unit": spec.unit, "low": low, "high": high}
        return row.model_copy(update={**update, **_empty(spec, kind)})
    if isinstance(spec, CountSpec):
        given = None if spec.required else default
        whole = {"type": "count", "low": spec.low, "high": spec.high, "default": given}
        return row.model_copy(update={**whole, **_empty(spec, kind)})
    options = [OptionOut(value=word, label=option(word, tongue)) for word in spec.words]
    return row.model_copy(update={"options": options, "default": str(default)})
