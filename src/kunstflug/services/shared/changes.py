"""Changing a setup document: single changes with what follows from them, and what differs between two."""

import copy
from dataclasses import dataclass
from typing import Any, Final

from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import QuantitySpec, field_key, fields_of
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value
from kunstflug.core.setup.editor import Edit, Loads, consequences, shifted_mass
from kunstflug.documents.names import name_by_sizes, part_name
from kunstflug.documents.quantity import Quantity, parsed_quantity, quantity_of, same, value_of
from kunstflug.documents.setup import (
    MODELS,
    PARTS,
    SetupDocument,
    dimension_of,
    parsed_part,
    parsed_setup,
    part_in,
    part_of,
    setup_of,
    spec_of,
)
from kunstflug.wording.fields import ALL_UP_MASS, FIELDS

FIRST_KINDS: Final = ("motor", "controller", "propeller", "pack", "hull")
"""Places of a setup that a new boat always fills."""
SWAPPED_KINDS: Final = (*FIRST_KINDS, "mount", "coupler", "shaft", "jacket")


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One change asked for.

    Parameters
    ----------
    path : ``motor.kv``, ``pack.cells``, ``all_up_mass``, or a part (``motor``) that is swapped whole.
    value : the new value as the document carries it: a quantity, a number, a word, a part document, or None.
    """

    path: str
    value: Any


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """One thing that differs between two setups; before and after as the documents carry them."""

    path: str
    part: str
    label: str
    before: Any
    after: Any
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Changed:
    """A document with changes made, and a fact for each thing that follows from them."""

    document: SetupDocument
    notes: tuple[Fact, ...]


def change_document(document: SetupDocument, changes: list[Change]) -> Changed:
    """A document with changes made, and all that follows from them.

    Raises
    ------
    InvalidValue : a path that does not exist.
    InvalidDocument : a value that the field cannot hold.
    """
    data = document.model_dump(mode="json")
    notes: list[Fact] = []
    for change in changes:
        _set(data, change)
        notes += _follow(data, document, change)
    changed = parsed_setup(data)
    _rename(document, changed)
    if all(c.path != "all_up_mass" for c in changes):
        notes += _shift_mass(document, changed)
    return Changed(document=changed, notes=tuple(notes))


def _rename(before: SetupDocument, after: SetupDocument) -> None:
    """A part that is called by its sizes is called by its new ones; a name that somebody gave stays."""
    for kind in FIRST_KINDS:
        old, new = part_in(before, kind), part_in(after, kind)
        if new.name == old.name and old.name == name_by_sizes(kind, old):
            new.name = name_by_sizes(kind, new)


def name_parts(document: SetupDocument) -> SetupDocument:
    """The document with every part named."""
    named = {
        kind: part_in(document, kind).model_copy(update={"name": part_name(kind, part_in(document, kind))})
        for kind in FIRST_KINDS
    }
    return document.model_copy(update=named)


def _set(data: dict[str, Any], change: Change) -> None:
    part, _, key = change.path.partition(".")
    if part not in data or (key and (part not in MODELS or key not in MODELS[part].model_fields)):
        raise InvalidValue("path", change.path, "a field of the setup document")
    value = copy.deepcopy(change.value)  # what follows from a change must not change what was handed in
    if key:
        data[part][key] = value
    elif part in MODELS:
        data[part] = parsed_part(part, value).model_dump(mode="json")
    else:
        data[part] = value


def _follow(data: dict[str, Any], before: SetupDocument, change: Change) -> list[Fact]:
    """Carries out what the editor says follows from a change of one field."""
    kind, _, key = change.path.partition(".")
    if kind not in PARTS or not key or key == "name":
        return []
    notes = []
    for found in consequences(setup_of(before), Edit(path=change.path, value=_core_value(change))):
        other = found.edit.path.partition(".")[2]
        data[kind][other] = _typed(found.edit, part_in(before, kind))
        notes += [found.reason] if found.reason else []
    return notes


def _core_value(change: Change) -> Value | int | str | None:
    spec = spec_of(change.path)
    if isinstance(spec, QuantitySpec) and change.value is not None:
        return value_of(parsed_quantity(spec.dimension, change.value, change.path), spec.dimension)
    if change.value is not None and not isinstance(change.value, int | str):
        raise InvalidValue(change.path, change.value, "a whole number or a word")
    return change.value


def _typed(edit: Edit, before: Any) -> Any:
    """A value of the editor as the document carries it, in the unit that stood there before."""
    if not isinstance(edit.value, Value):
        return edit.value
    given: Quantity | None = getattr(before, edit.path.partition(".")[2])
    spec = spec_of(edit.path)
    assert isinstance(spec, QuantitySpec)
    unit = given.unit if given is not None else spec.unit
    return quantity_of(edit.value, unit, spec.dimension).model_dump(mode="json")


def _loads(document: SetupDocument) -> Loads:
    motor, controller, pack = (part_of(kind, part_in(document, kind)) for kind in ("motor", "controller", "pack"))
    return Loads(motor=motor, controller=controller, pack=pack)


def _shift_mass(before: SetupDocument, after: SetupDocument) -> list[Fact]:
    """Moves the all-up mass by what the swapped parts weigh more or less."""
    mass = before.all_up_mass
    moved = shifted_mass(value_of(mass, Dimension.MASS), _loads(before), _loads(after))
    if moved is None or not isinstance(moved.edit.value, Value):
        return []
    after.all_up_mass = quantity_of(moved.edit.value, mass.unit, Dimension.MASS)
    return [moved.reason] if moved.reason else []


def differences(before: SetupDocument, after: SetupDocument) -> list[Difference]:
    """What differs between two setup documents, in the order of the drive line."""
    found = []
    for kind, part in PARTS.items():
        old, new = part_in(before, kind), part_in(after, kind)
        for name, spec in fields_of(part):
            key = field_key(name, spec)
            a, b = getattr(old, key), getattr(new, key)
            if a == b or (isinstance(a, Quantity) and isinstance(b, Quantity) and _same(a, b, f"{kind}.{key}")):
                continue
            label = FIELDS[kind][key].label
            found.append(Difference(path=f"{kind}.{key}", part=kind, label=label, before=_plain(a), after=_plain(b)))
    if not same(before.all_up_mass, after.all_up_mass, Dimension.MASS):
        a, b = _plain(before.all_up_mass), _plain(after.all_up_mass)
        found.append(Difference(path="all_up_mass", part="boat", label=ALL_UP_MASS.label, before=a, after=b))
    return found


SWAPPED: Final = ("motor", "controller", "propeller", "pack")
"""Parts that are swapped as a whole; of everything else a field is a knob."""


def decisions(before: SetupDocument, after: SetupDocument) -> int:
    """How many decisions lie between two setups.

    A part that was swapped is one, with all of its numbers and the boat's mass; else each knob that was turned is.
    """
    found = differences(before, after)
    parts = {one.part for one in found if one.part in SWAPPED}
    knobs = [one for one in found if one.part not in SWAPPED and not (parts and one.path == "all_up_mass")]
    return len(parts) + len(knobs)


def with_difference(document: SetupDocument, difference: Difference) -> SetupDocument:
    """A document with one field as it is after a difference, and nothing of what would follow from it.

    Raises
    ------
    InvalidDocument : the field cannot hold it beside the others.
    """
    data = document.model_dump(mode="json")
    kind, _, key = difference.path.partition(".")
    if key:
        data[kind][key] = difference.after
    else:
        data[kind] = difference.after
    return parsed_setup(data)


def _same(one: Quantity, other: Quantity, path: str) -> bool:
    return same(one, other, dimension_of(path))


def _plain(value: Any) -> Any:
    return value.model_dump(mode="json") if isinstance(value, Quantity) else value


__all__ = ["Change", "Changed", "Difference", "InvalidDocument", "change_document", "differences", "name_parts"]
