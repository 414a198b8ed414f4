"""What a part is called that nobody named: its sizes and numbers, as they were typed."""

from typing import Any

from kunstflug.core.quantity.fields import ChoiceSpec, QuantitySpec, field_key, fields_of
from kunstflug.documents.quantity import Quantity
from kunstflug.documents.setup import ALL_PARTS, PartDocument
from kunstflug.wording.fields import KINDS


def part_name(kind: str, document: PartDocument) -> str:
    """What a part is called: as somebody named it, else by its sizes and numbers."""
    return document.name.strip() or name_by_sizes(kind, document)


def name_by_sizes(kind: str, document: PartDocument) -> str:
    """A part's name from its sizes and numbers."""
    d: Any = document
    match kind:
        case "motor":
            return f"{d.can_diameter.value:g} x {d.can_length.value:g}, {d.kv.value:g} KV"
        case "controller":
            return f"{d.continuous_current.value:g} A"
        case "propeller":
            pitch = d.pitch_ratio or d.pitch
            size = f"{d.diameter.value:g}" + (f" x {pitch.value:g}" if pitch else "")
            return size if d.blades == 2 else f"{size}, {d.blades} blades"
        case "pack":
            rating = f", {d.c_rating.value:g} C" if d.c_rating else ""
            return f"{d.cells}S {d.capacity.value:g} {d.capacity.unit}{rating}"
        case "hull":
            return f"{d.hull_type}, {d.length.value:g} {d.length.unit}"
        case _:
            return _by_fields(kind, document)


def _by_fields(kind: str, document: PartDocument) -> str:
    """The first two sizes, or the kind."""
    sizes = []
    for name, spec in fields_of(ALL_PARTS[kind]):
        key = field_key(name, spec)
        raw = getattr(document, key)
        if raw is not None and key != "mass" and not isinstance(spec, ChoiceSpec):
            typed = isinstance(spec, QuantitySpec) and isinstance(raw, Quantity)
            sizes.append(f"{raw.value:g} {raw.unit}" if typed else f"{raw}")
    return " x ".join(sizes[:2]) or KINDS[kind].lower()
