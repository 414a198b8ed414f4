"""Changing a setup document: single changes with what follows from them, and what differs between two."""

import copy
from dataclasses import dataclass
from typing import Any

from kunstflug.core.controller import Controller
from kunstflug.core.errors import InvalidValue
from kunstflug.core.motor import motor_mass
from kunstflug.core.pack import pack_mass
from kunstflug.core.units import Dimension, si_from
from kunstflug.core.values import Source
from kunstflug.formats.setup_document import (
    MODELS,
    QUANTITIES,
    Quantity,
    field_table,
    parsed_part,
    parsed_quantity,
    parsed_setup,
    part_of,
    quantity_for,
)

SHELF_KINDS = ("motor", "controller", "propeller", "pack", "hull")  # places of a setup that a new boat always fills
SWAPPED_KINDS = (*SHELF_KINDS, "mount", "coupler", "shaft", "jacket")


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


def change_document(document: Any, changes: list[Change]) -> tuple[Any, list[str]]:
    """A document with changes made, and a note for each thing that follows from them.

    Raises
    ------
    InvalidValue : a path that does not exist.
    InvalidDocument : a value that is none of its field.
    """
    data = document.model_dump(mode="json")
    notes: list[str] = []
    swapped_mass = any(c.path == "all_up_mass" for c in changes)
    for change in changes:
        _set(data, change)
        notes += _follow(data, document, change)
    changed = parsed_setup(data)
    _rename(document, changed)
    if not swapped_mass:
        notes += _shift_mass(document, changed)
    return changed, notes


def _rename(before: Any, after: Any) -> None:
    """A part that is called by its sizes is called by its new ones; a name that somebody gave stays."""
    for kind in SHELF_KINDS:
        old, new = getattr(before, kind), getattr(after, kind)
        if new.name == old.name and old.name == name_by_sizes(kind, old):
            new.name = name_by_sizes(kind, new)


def name_parts(document: Any) -> Any:
    """The document with every part named."""
    named = {
        kind: getattr(document, kind).model_copy(update={"name": part_name(kind, getattr(document, kind))})
        for kind in SHELF_KINDS
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


def _follow(data: dict[str, Any], before: Any, change: Change) -> list[str]:
    """What a change makes untrue: a rewound motor's resistance, the other way of giving the pitch."""
    if change.path == "motor.kv":
        kv = parsed_quantity(Dimension.KV, change.value, "motor.kv")
        return _rewound(data["motor"], before.motor, kv.value)
    if change.path == "propeller.pitch":
        data["propeller"]["pitch_ratio"] = None
    if change.path == "propeller.pitch_ratio":
        data["propeller"]["pitch"] = None
    if change.path in ("pack.cells", "pack.capacity", "pack.parallel") and data["pack"].get("mass"):
        data["pack"]["mass"] = None
        return ["another pack: its mass is a guess until it is weighed"]
    return []


def _rewound(motor: dict[str, Any], before: Any, kv_rpm_per_v: float) -> list[str]:
    """The same can with another KV is another winding: R follows KV^-2, the no-load current KV."""
    ratio = kv_rpm_per_v / before.kv.value if before.kv.value and kv_rpm_per_v > 0 else 1.0
    notes = []
    for key, power, name in (("resistance", -2.0, "resistance"), ("no_load_current", 1.0, "no-load current")):
        given: Quantity | None = getattr(before, key)
        if given is not None and ratio != 1.0:
            number = float(f"{given.value * ratio**power:.4g}")
            motor[key] = {"value": number, "unit": given.unit, "source": "guessed", "spread": 0.2}
            notes.append(f"another winding in the same can: its {name} is a guess from the old one")
    return notes


def _mass(kind: str, document: Any) -> float:
    """Mass of a part that may be swapped [kg]; 0 where nothing is known of a controller's."""
    part = part_of(kind, document)
    if kind == "motor":
        return motor_mass(part).value
    if kind == "pack":
        return pack_mass(part).value
    controller: Controller = part
    return controller.mass_kg.value if controller.mass_kg else 0.0


def _shift_mass(before: Any, after: Any) -> list[str]:
    """Moves the all-up mass by what the swapped parts weigh more or less."""
    shift = 0.0
    for kind in ("motor", "pack", "controller"):
        one, other = getattr(before, kind), getattr(after, kind)
        if one == other:
            continue
        old, new = _mass(kind, one), _mass(kind, other)
        # A controller that has no mass on one side tells nothing about the difference.
        shift += new - old if old and new else 0.0
    if abs(shift) < 0.5e-3:
        return []
    mass: Quantity = before.all_up_mass
    si = si_from(mass.value, mass.unit, Dimension.MASS) + shift
    after.all_up_mass = quantity_for(si, mass.unit, Dimension.MASS, Source.GUESSED, 0.02)
    return [f"the boat is {abs(shift) * 1e3:.0f} g {'heavier' if shift > 0 else 'lighter'} with these parts"]


def same_quantity(one: Any, other: Any, dimension: Dimension) -> bool:
    """Whether two quantities are the same amount, whatever unit they were typed in."""
    a, b = (si_from(float(q["value"]), q["unit"], dimension) for q in (one, other))
    return abs(a - b) <= 1e-9 * max(abs(a), abs(b), 1e-12)


def differences(before: Any, after: Any) -> list[Difference]:
    """What differs between two setup documents, in the order of the drive line."""
    old, new = before.model_dump(mode="json"), after.model_dump(mode="json")
    found = []
    for row in field_table():
        if row["part"] not in old:
            continue
        a, b = old[row["part"]].get(row["key"]), new[row["part"]].get(row["key"])
        if a == b or (a and b and row["type"] == "quantity" and same_quantity(a, b, Dimension(row["dimension"]))):
            continue
        path = f"{row['part']}.{row['key']}"
        found.append(Difference(path=path, part=row["part"], label=row["label"], before=a, after=b))
    if not same_quantity(old["all_up_mass"], new["all_up_mass"], Dimension.MASS):
        found.append(
            Difference(
                path="all_up_mass",
                part="boat",
                label="All-up mass",
                before=old["all_up_mass"],
                after=new["all_up_mass"],
            )
        )
    return found


def part_name(kind: str, document: Any) -> str:
    """What a part is called: as somebody named it, else by its sizes and numbers."""
    return str(document.name.strip()) or name_by_sizes(kind, document)


def name_by_sizes(kind: str, document: Any) -> str:
    """A part's name from its sizes and numbers."""
    match kind:
        case "motor":
            return f"{document.can_diameter.value:g} x {document.can_length.value:g}, {document.kv.value:g} KV"
        case "controller":
            return f"{document.continuous_current.value:g} A"
        case "propeller":
            pitch = document.pitch_ratio or document.pitch
            size = f"{document.diameter.value:g}" + (f" x {pitch.value:g}" if pitch else "")
            return size if document.blades == 2 else f"{size}, {document.blades} blades"
        case "pack":
            rating = f", {document.c_rating.value:g} C" if document.c_rating else ""
            return f"{document.cells}S {document.capacity.value:g} {document.capacity.unit}{rating}"
        case "hull":
            return f"{document.hull_type}, {document.length.value:g} {document.length.unit}"
        case _:
            return _by_fields(kind, document)


def _by_fields(kind: str, document: Any) -> str:
    """The kind and its first two sizes."""
    sizes = []
    for row in field_table():
        raw = getattr(document, row["key"], None) if row["part"] == kind else None
        if raw is not None and row["key"] != "mass" and row["type"] != "choice":
            sizes.append(f"{raw.value:g} {raw.unit}" if isinstance(raw, Quantity) else f"{raw}")
    return " x ".join(sizes[:2]) or kind


__all__ = ["QUANTITIES", "SHELF_KINDS", "Change", "Difference", "change_document", "differences", "part_name"]
